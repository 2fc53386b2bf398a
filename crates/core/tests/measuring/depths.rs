//! Amounts by depth: against closed forms, and against the volume to a surface that is lowered by the depth.

use crate::shapes::{frame, measure, near, ring, sheet, solid, zones};
use dapedon_core::overlay::Overlay;
use dapedon_core::quantities::{DeeperThan, depths};
use dapedon_core::surface::{Level, Surface};
use dapedon_core::zones::Zones;
use proptest::prelude::*;

fn beyond(
    reference: &Surface,
    surveyed: &Surface,
    zones: Option<&Zones>,
    steps: &[f64],
) -> Vec<Vec<DeeperThan>> {
    depths(&Overlay::new(reference, surveyed, zones).unwrap(), steps).unwrap()
}

/// A pyramid of 12 by 12 and 6 high, on a level through its foot: beyond a depth d what is left is a pyramid too.
#[test]
fn a_pyramid_in_lifts() {
    let corners = [
        (0.0, 0.0, 7.0),
        (12.0, 0.0, 7.0),
        (12.0, 12.0, 7.0),
        (0.0, 12.0, 7.0),
        (6.0, 6.0, 13.0),
    ];
    let pile = solid(&corners, &[[0, 1, 4], [1, 2, 4], [2, 3, 4], [3, 0, 4]]);
    let level = Surface::Level(Level::new(frame(), 7.0));
    let steps = [0.0, 1.5, 3.0, 4.5, 6.0, 7.5];
    let filled = beyond(&level, &pile, None, &steps);
    let cut = beyond(&pile, &level, None, &steps);
    for ((filled, cut), depth) in filled[0].iter().zip(&cut[0]).zip(steps) {
        let side = (2.0 * (6.0 - depth)).max(0.0);
        let volume = side * side * (side / 2.0) / 3.0;
        for (area, found) in [(filled.fill_area, filled.fill), (cut.cut_area, cut.cut)] {
            assert!((area - side * side).abs() < 1e-9, "{filled:?} {cut:?}");
            assert!((found - volume).abs() < 1e-9, "{filled:?} {cut:?}");
        }
        assert!(filled.cut == 0.0 && cut.fill == 0.0);
    }
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(24))]

    /// What is deeper than a depth is what is cut to a surface lowered by it, and filled from one raised by it: a second
    /// way, by one overlay for each depth.
    #[test]
    fn beyond_a_depth_is_below_a_lowered_surface(
        seed in 0usize..1000,
        first in 0u32..40,
        step in 1u32..30,
    ) {
        let reference = sheet(20.0, 16.0, 40, seed, |e, n| (e / 3.0).sin() + 0.1 * n);
        let surveyed = sheet(20.0, 16.0, 50, seed + 77, |e, n| 0.8 + (n / 4.0).cos() - 0.05 * e);
        let steps = [0, 1, 2].map(|index| f64::from(first + index * step) / 32.0);
        let found = &beyond(&reference, &surveyed, None, &steps)[0];
        for found in found {
            let lowered = measure(&reference.raised(-found.depth), &surveyed);
            let raised = measure(&reference.raised(found.depth), &surveyed);
            let close = |a: f64, b: f64| (a - b).abs() < 1e-8 * (1.0 + b);
            prop_assert!(close(found.cut, lowered.volume.cut), "{found:?} {lowered:?}");
            prop_assert!(close(found.cut_area, lowered.area.cut), "{found:?} {lowered:?}");
            prop_assert!(close(found.fill, raised.volume.fill), "{found:?} {raised:?}");
            prop_assert!(close(found.fill_area, raised.area.fill), "{found:?} {raised:?}");
        }
    }
}

/// In zones that share the ground between them the depth slices add up, and swapping the sides swaps cut and fill.
#[test]
fn zones_add_up_and_sides_swap() {
    let reference = sheet(20.0, 16.0, 60, 3, |e, n| (e / 3.0).sin() + 0.1 * n);
    let surveyed = sheet(20.0, 16.0, 60, 91, |e, n| 0.8 + (n / 4.0).cos() - 0.05 * e);
    let band = |from: f64, to: f64| vec![ring(&[(from, 0.0), (to, 0.0), (to, 16.0), (from, 16.0)])];
    let zones = zones(vec![band(0.0, 7.0), band(7.0, 20.0)]);
    let steps = [0.0, 0.25, 0.5, 1.0];
    let whole = beyond(&reference, &surveyed, None, &steps);
    let parts = beyond(&reference, &surveyed, Some(&zones), &steps);
    let swapped = beyond(&surveyed, &reference, None, &steps);
    for index in 0..steps.len() {
        let (whole, swapped) = (whole[0][index], swapped[0][index]);
        near(parts[0][index].cut + parts[1][index].cut, whole.cut, 1e-9);
        near(
            parts[0][index].fill + parts[1][index].fill,
            whole.fill,
            1e-9,
        );
        near(swapped.cut, whole.fill, 1e-9);
        near(swapped.fill_area, whole.cut_area, 1e-9);
    }
}
