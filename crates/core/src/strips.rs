//! Extents by the strips of the plan that they reach into, to tell quickly which of many hold a place.

use crate::{Extent, Place};

/// Extents by strips that run from west to east.
pub(crate) struct Strips {
    from: f64,
    per_unit: f64,
    /// Strip by strip, those that reach into it, by their numbers in ascending order.
    strips: Vec<Vec<(u32, Extent)>>,
}

impl Strips {
    /// By so many strips that few extents share one, and one extent does not reach into too many.
    pub(crate) fn of(extents: &[Extent]) -> Self {
        let bounded = || (0u32..).zip(extents).filter(|(_, own)| !own.is_empty());
        let all = bounded().fold(Extent::EMPTY, |all, (_, own)| all.union(own));
        let count = (4.0 * libm::sqrt(extents.len() as f64)).clamp(1.0, 4096.0) as usize;
        let mut strips = Strips {
            from: all.min.north,
            per_unit: count as f64 / all.height(),
            strips: vec![Vec::new(); count],
        };
        for (number, own) in bounded() {
            for strip in strips.strip(own.min.north)..=strips.strip(own.max.north) {
                strips.strips[strip].push((number, *own));
            }
        }
        strips
    }

    fn strip(&self, north: f64) -> usize {
        (((north - self.from) * self.per_unit) as usize).min(self.strips.len() - 1)
    }

    /// The extents that hold a place, in ascending order.
    pub(crate) fn holding(&self, place: Place) -> impl Iterator<Item = u32> + '_ {
        let own = &self.strips[self.strip(place.north)];
        let at = Extent::of([place]);
        own.iter()
            .filter(move |(_, extent)| extent.holds(&at))
            .map(|(number, _)| *number)
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
}
