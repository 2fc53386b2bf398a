//! Points that stand in one line, all of them or those in the middle, where a net is begun.

use crate::plan::Place;
use crate::plan::side::side;

/// So many in the middle are looked at.
const LOOKED_AT: usize = 1000;

/// True where the points nearest to the middle of all stand in one line, so that a net begun with them is none for long.
pub(super) fn begins_in_one_line(places: &[Place]) -> bool {
    if places.len() <= LOOKED_AT {
        return false;
    }
    let count = places.len() as f64;
    let mean = |of: fn(&Place) -> f64| places.iter().map(of).sum::<f64>() / count;
    let (east, north) = (mean(|p| p.east), mean(|p| p.north));
    let far = |p: &Place| (p.east - east) * (p.east - east) + (p.north - north) * (p.north - north);
    let mut near = places.to_vec();
    near.select_nth_unstable_by(LOOKED_AT, |a, b| far(a).total_cmp(&far(b)));
    first_off(&near[..LOOKED_AT]).is_none()
}

/// The first place that is off the line through the first two: exactly, not by a tolerance.
pub(super) fn first_off(places: &[Place]) -> Option<usize> {
    let &[a, b, ..] = places else { return None };
    (2..places.len()).find(|&index| side(a, b, places[index]) != 0.0)
}
