//! Places so far from nearly all others that they cannot belong to one survey.

use crate::plan::{Extent, Place};

/// So many sizes of the ground that nearly all places lie on, a place must be away from it.
const AWAY: f64 = 5.0;
/// One in so many may be far off.
const SHARE: u64 = 1000;
/// Fewer places have no middle to be far from.
const LEAST: u64 = 20;

/// Which of some places, each with the number of points at it, lie far from nearly all others: outside the ground that is left
/// without the few outermost points on each side, by five times its size. None where they are more than a few: then it is a
/// survey in two parts. The points of a place may be `spread` apart.
///
/// ```
/// use dapedon_core::plan::Place;
/// use dapedon_core::points::far_off;
/// let mut places: Vec<_> = (0..100).map(|i| (Place::new(5000.0 + f64::from(i % 10), f64::from(i / 10)), 1)).collect();
/// places.push((Place::new(0.0, 0.0), 1));
/// assert_eq!(far_off(&places, 0.0), [100]);
/// ```
pub fn far_off(places: &[(Place, u64)], spread: f64) -> Vec<usize> {
    let all: u64 = places.iter().map(|(_, points)| points).sum();
    if all < LEAST {
        return Vec::new();
    }
    let few = (all / SHARE).max(2);
    let ends = |along: fn(&Place) -> f64| {
        let of = |sign: f64| {
            places
                .iter()
                .map(move |(place, points)| (sign * along(place), *points))
        };
        [
            after_few(of(1.0).collect(), few),
            -after_few(of(-1.0).collect(), few),
        ]
    };
    let [west, east] = ends(|place| place.east);
    let [south, north] = ends(|place| place.north);
    let size = (east - west).max(north - south).max(spread);
    // Nearly all points on one spot: there is no size to compare with.
    if size.is_nan() || size <= 0.0 {
        return Vec::new();
    }
    let near = Extent {
        min: Place::new(west - AWAY * size, south - AWAY * size),
        max: Place::new(east + AWAY * size, north + AWAY * size),
    };
    let is_far = |(place, _): &(Place, u64)| !near.meets(&Extent::of([*place]));
    let far: Vec<usize> = (0..places.len())
        .filter(|&index| is_far(&places[index]))
        .collect();
    let points: u64 = far.iter().map(|&index| places[index].1).sum();
    match points <= few {
        true => far,
        false => Vec::new(),
    }
}

/// The lowest value but for that of a few points.
fn after_few(mut values: Vec<(f64, u64)>, few: u64) -> f64 {
    // Each has a point at least, so that what is looked for is among so many lowest ones.
    let many = usize::try_from(few).unwrap_or(usize::MAX).saturating_add(1);
    if many < values.len() {
        values.select_nth_unstable_by(many - 1, |a, b| a.0.total_cmp(&b.0));
        values.truncate(many);
    }
    values.sort_unstable_by(|a, b| a.0.total_cmp(&b.0));
    let mut passed = 0;
    let found = values.iter().find(|(_, points)| {
        passed += points;
        passed > few
    });
    found.or(values.last()).map_or(0.0, |(value, _)| *value)
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    fn square(count: i32, at: f64) -> Vec<(Place, u64)> {
        (0..count)
            .map(|i| {
                (
                    Place::new(at + f64::from(i % 10), at + f64::from(i / 10)),
                    1,
                )
            })
            .collect()
    }

    #[test]
    fn two_sites_are_not_one_with_strays() {
        let mut places = square(50, 0.0);
        places.extend(square(50, 10_000.0));
        assert_eq!(far_off(&places, 0.0), [0usize; 0]);
        assert_eq!(far_off(&square(19, 0.0), 0.0), [0usize; 0]);
        let spot = vec![(Place::new(1.0, 1.0), 100), (Place::new(500.0, 1.0), 1)];
        assert_eq!(far_off(&spot, 0.0), [0usize; 0]);
        assert_eq!(far_off(&spot, 10.0), [1]);
    }

    proptest! {
        /// Two strays are found wherever they are far away, in any order and at any place; none is without them.
        #[test]
        fn strays_are_found(shift in -1e6..1e6f64, angle in 0.0..6.0f64, away in 120.0..1e6f64, at in 0usize..100) {
            let mut places = square(100, shift);
            prop_assert!(far_off(&places, 0.0).is_empty());
            let stray = Place::new(shift + 4.5 + away * angle.cos(), shift + 4.5 + away * angle.sin());
            places.insert(at, (stray, 2));
            prop_assert_eq!(far_off(&places, 0.0), [at]);
        }
    }
}
