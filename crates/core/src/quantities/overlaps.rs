//! Which zones share ground.

use crate::plan::{Extent, Precision};
use crate::quantities::shared_area;
use crate::zones::Zone;

/// Visits the pairs of zones that share ground, with the area they share, until `visit` says false. Pairs that are not
/// `wanted` are not looked at. A sweep over the extents finds those that may: pairs that do not overlap along the better one
/// of the two axes cost nothing.
///
/// ```
/// use dapedon_core::plan::{Frame, Place};
/// use dapedon_core::units::{LengthUnit};
/// use dapedon_core::quantities::each_overlap;
/// use dapedon_core::zones::{Zone};
/// let frame = Frame::new(LengthUnit::Metre, [0.0, 0.0]);
/// let square = |e: f64| {
///     let ring = [(e, 0.0), (e + 4.0, 0.0), (e + 4.0, 4.0), (e, 4.0), (e, 0.0)];
///     Zone::new("plot", frame, vec![vec![ring.map(|(e, n)| Place::new(e, n)).to_vec()]]).unwrap()
/// };
/// let mut found = Vec::new();
/// each_overlap(&[square(0.0), square(9.0), square(3.0)], frame.precision(), |_| true, |pair, area| {
///     found.push((pair, area));
///     true
/// });
/// assert_eq!(found, [([0, 2], 4.0)]);
/// ```
pub fn each_overlap(
    zones: &[Zone],
    precision: Precision,
    wanted: impl Fn([usize; 2]) -> bool,
    mut visit: impl FnMut([usize; 2], f64) -> bool,
) {
    let axis = better_axis(zones);
    let mut order: Vec<usize> = (0..zones.len()).collect();
    order.sort_by(|&a, &b| {
        let [a, b] = [a, b].map(|zone| axis(&zones[zone].extent())[0]);
        a.total_cmp(&b)
    });
    for (position, &one) in order.iter().enumerate() {
        let extent = zones[one].extent();
        let end = axis(&extent)[1];
        for &other in &order[position + 1..] {
            if axis(&zones[other].extent())[0] > end {
                break;
            }
            let pair = [one.min(other), one.max(other)];
            if !extent.meets(&zones[other].extent()) || !wanted(pair) {
                continue;
            }
            // Along edges that nearly meet rounding leaves no more than along the smaller of the two.
            let negligible = precision.area(&extent.intersection(&zones[other].extent()));
            let area = shared_area(&zones[pair[0]], &zones[pair[1]]);
            if area > negligible && !visit(pair, area) {
                return;
            }
        }
    }
}

/// From where to where an extent reaches along an axis.
type Along = fn(&Extent) -> [f64; 2];

/// The axis along which zones are shorter, as a share of all of them.
fn better_axis(zones: &[Zone]) -> Along {
    let axes: [Along; 2] = [
        |extent| [extent.min.east, extent.max.east],
        |extent| [extent.min.north, extent.max.north],
    ];
    let share = |axis: Along| {
        let ends = || zones.iter().map(|zone| axis(&zone.extent()));
        let low = ends().map(|[low, _]| low).fold(f64::INFINITY, f64::min);
        let high = ends()
            .map(|[_, high]| high)
            .fold(f64::NEG_INFINITY, f64::max);
        ends().map(|[low, high]| high - low).sum::<f64>() / (high - low)
    };
    match share(axes[0]) <= share(axes[1]) {
        true => axes[0],
        false => axes[1],
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::plan::{Frame, Place};
    use crate::units::LengthUnit;
    use proptest::prelude::*;

    proptest! {
        /// The pairs that a comparison of all of them finds.
        #[test]
        fn the_sweep_misses_no_pair(rects in prop::collection::vec((0i32..40, 0i32..40, 1i32..12, 1i32..12), 0..20)) {
            let frame = Frame::new(LengthUnit::Metre, [0.0, 0.0]);
            let zone = |&(e, n, w, h): &(i32, i32, i32, i32)| {
                let corners = [(e, n), (e + w, n), (e + w, n + h), (e, n + h), (e, n)];
                let ring = corners.map(|(e, n)| Place::new(f64::from(e), f64::from(n)));
                Zone::new("z", frame, vec![vec![ring.to_vec()]]).unwrap()
            };
            let zones: Vec<Zone> = rects.iter().map(zone).collect();
            let mut found = Vec::new();
            each_overlap(&zones, frame.precision(), |_| true, |pair, area| {
                found.push((pair, area));
                true
            });
            found.sort_by_key(|(pair, _)| *pair);
            let mut expected = Vec::new();
            for one in 0..zones.len() {
                for other in one + 1..zones.len() {
                    // Rectangles: the shared sides, multiplied.
                    let (a, b) = (rects[one], rects[other]);
                    let east = (a.0 + a.2).min(b.0 + b.2) - a.0.max(b.0);
                    let north = (a.1 + a.3).min(b.1 + b.3) - a.1.max(b.1);
                    if east > 0 && north > 0 {
                        expected.push(([one, other], f64::from(east * north)));
                    }
                }
            }
            prop_assert_eq!(found.len(), expected.len());
            for (found, expected) in found.iter().zip(&expected) {
                prop_assert_eq!(found.0, expected.0);
                prop_assert!((found.1 - expected.1).abs() < 1e-9);
            }
        }
    }
}
