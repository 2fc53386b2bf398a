//! Extents by the strips of the plan that they reach into, to tell quickly which of many hold a place.

use crate::plan::cells::Rows;
use crate::plan::{Extent, Place};

/// Extents by strips that run across the plan, in the direction in which the extents reach less far.
pub(crate) struct Strips<'e> {
    extents: &'e [Extent],
    axis: usize,
    strips: Rows,
    /// Strip by strip, those that reach into it, by their numbers in ascending order.
    reaching: Vec<Vec<u32>>,
}

/// How many strips an extent reaches into, about, at most.
const REACH: f64 = 8.0;

fn along(place: Place, axis: usize) -> f64 {
    [place.east, place.north][axis]
}

impl<'e> Strips<'e> {
    /// By so many strips that few extents share one, and extents do not reach into too many.
    pub(crate) fn of(extents: &'e [Extent]) -> Self {
        let bounded = || (0u32..).zip(extents).filter(|(_, own)| !own.is_empty());
        let all = bounded().fold(Extent::EMPTY, |all, (_, own)| all.union(own));
        let length = |extent: &Extent, axis| along(extent.max, axis) - along(extent.min, axis);
        // The mean share of the whole that an extent reaches over, each way.
        let shares = [0, 1].map(|axis| {
            let sum: f64 = bounded().map(|(_, own)| length(own, axis)).sum();
            sum / length(&all, axis).max(f64::MIN_POSITIVE) / extents.len().max(1) as f64
        });
        let axis = if shares[0] < shares[1] { 0 } else { 1 };
        let wanted = 4.0 * libm::sqrt(extents.len() as f64);
        let count = wanted.min(REACH / shares[axis]).clamp(1.0, 4096.0) as usize;
        let strips = Rows::new([along(all.min, axis), along(all.max, axis)], count);
        let mut reaching = vec![Vec::new(); count];
        for (number, own) in bounded() {
            for strip in strips.between(along(own.min, axis), along(own.max, axis)) {
                reaching[strip].push(number);
            }
        }
        Strips {
            extents,
            axis,
            strips,
            reaching,
        }
    }

    /// The extents that hold a place, in ascending order.
    pub(crate) fn holding(&self, place: Place) -> impl Iterator<Item = u32> + '_ {
        let own = self.reaching[self.strips.of(along(place, self.axis))]
            .iter()
            .copied();
        let at = Extent::of([place]);
        own.filter(move |&number| self.extents[number as usize].holds(&at))
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    proptest! {
        /// The same as when all are asked, for extents that overlap, are lines, places or nothing.
        #[test]
        fn the_same_as_all_of_them(
            corners in prop::collection::vec(prop::array::uniform4(-9i8..9), 0..60),
            at in prop::array::uniform2(-10i8..10),
        ) {
            let place = |east: i8, north: i8| Place::new(f64::from(east), f64::from(north));
            let extents: Vec<Extent> = (corners.iter())
                .map(|&[a, b, c, d]| match a == d {
                    true => Extent::EMPTY,
                    false => Extent::of([place(a, b), place(c, d)]),
                })
                .collect();
            let [east, north] = at;
            let place = place(east, north);
            let asked = (0u32..).zip(&extents).filter(|(_, own)| own.holds(&Extent::of([place])));
            let asked: Vec<u32> = asked.map(|(number, _)| number).collect();
            let found: Vec<u32> = Strips::of(&extents).holding(place).collect();
            prop_assert_eq!(found, asked);
        }
    }

    /// Long lanes side by side, and extents that all lie over each other: the strips name each a few times.
    #[test]
    fn what_reaches_far_is_not_named_without_end() {
        let lane = |turn: bool| {
            let lanes = (0..20_000).map(move |number| {
                let (low, high) = (f64::from(number), f64::from(number) + 0.9);
                match turn {
                    false => Extent::of([Place::new(low, 0.0), Place::new(high, 20_000.0)]),
                    true => Extent::of([Place::new(0.0, low), Place::new(20_000.0, high)]),
                }
            });
            lanes.collect::<Vec<_>>()
        };
        let all_over = vec![Extent::of([Place::new(0.0, 0.0), Place::new(9.0, 9.0)]); 20_000];
        for extents in [lane(false), lane(true), all_over] {
            let strips = Strips::of(&extents);
            let named: usize = strips.reaching.iter().map(Vec::len).sum();
            assert!(named <= 10 * extents.len(), "{named}");
        }
        let lanes = lane(false);
        let strips = Strips::of(&lanes);
        assert!(strips.reaching.iter().map(Vec::len).max().unwrap() < 100);
        assert_eq!(
            strips.holding(Place::new(70.5, 3.0)).collect::<Vec<_>>(),
            [70]
        );
    }
}
