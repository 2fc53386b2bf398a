//! Bands of difference: against closed forms, against depth slices, and against the volumes they are bands of.

use crate::shapes::{cone, frame, near, ring, sheet, solid, zones};
use dapedon_core::overlay::Overlay;
use dapedon_core::quantities::{
    Band, BandEdges, BandEdgesError, Tolerance, bands, depths, volumes,
};
use dapedon_core::surface::{Level, Surface};
use dapedon_core::zones::Zones;
use proptest::prelude::*;
use std::f64::consts::PI;

fn banded(
    reference: &Surface,
    surveyed: &Surface,
    zones: Option<&Zones>,
    edges: &BandEdges,
) -> Vec<Vec<Band>> {
    bands(&Overlay::new(reference, surveyed, zones).unwrap(), edges).unwrap()
}

fn edges(edges: &[f64], middle: f64) -> BandEdges {
    BandEdges::new(edges, Tolerance::new(middle).unwrap()).unwrap()
}

fn level(height: f64) -> Surface {
    Surface::Level(Level::new(frame(), height))
}

/// A pyramid of 12 by 12 and 6 high: above a band's lower edge stands a pyramid with a square foot, and what is left of
/// it without the one above the upper edge is the frustum, with the block below it.
#[test]
fn a_pyramid_in_bands() {
    let corners = [
        (0.0, 0.0, 7.0),
        (12.0, 0.0, 7.0),
        (12.0, 12.0, 7.0),
        (0.0, 12.0, 7.0),
        (6.0, 6.0, 13.0),
    ];
    let pile = solid(&corners, &[[0, 1, 4], [1, 2, 4], [2, 3, 4], [3, 0, 4]]);
    let at = [1.5, 3.0, 4.5];
    let filled = &banded(&level(7.0), &pile, None, &edges(&at, 0.0))[0];
    let turned: Vec<f64> = at.iter().rev().map(|edge| -edge).collect();
    let cut = &banded(&pile, &level(7.0), None, &edges(&turned, 0.0))[0];
    assert_eq!(filled.len(), 6);
    let depths = [0.0, 1.5, 3.0, 4.5, 6.0];
    for (index, pair) in depths.windows(2).enumerate() {
        // Over the ground where the height is more than h: a square of side 12 - 2h, and on average two thirds of h and
        // a third of 6.
        let beyond = |h: f64| {
            let area = (12.0 - 2.0 * h).powi(2);
            [area, area * (h + (6.0 - h) / 3.0)]
        };
        let [from, to] = [beyond(pair[0]), beyond(pair[1])];
        let (fill, mirrored) = (&filled[2 + index], &cut[3 - index]);
        near(fill.area, from[0] - to[0], 1e-9);
        near(fill.fill, from[1] - to[1], 1e-9);
        near(mirrored.area, fill.area, 1e-9);
        near(mirrored.cut, fill.fill, 1e-9);
        assert!(fill.cut == 0.0 && mirrored.fill == 0.0);
        assert_eq!(mirrored.from, fill.to.map(|edge| -edge));
    }
}

/// A plane tilted across zero, with a middle band: 20 by 10, from -1 in the west to 1 in the east.
#[test]
fn a_tilted_plane_has_a_middle_band() {
    let corners = [
        (0.0, 0.0, 4.0),
        (20.0, 0.0, 6.0),
        (20.0, 10.0, 6.0),
        (0.0, 10.0, 4.0),
    ];
    let plane = solid(&corners, &[[0, 1, 2], [0, 2, 3]]);
    let found = &banded(&level(5.0), &plane, None, &edges(&[-0.5, 0.5], 0.1))[0];
    // A metre of the way is a tenth of height: from a to b it is 100 (b² - a²) / 2 by 10 wide, in tenths.
    let between = |a: f64, b: f64| [(b - a) * 100.0, 50.0 * (b * b - a * a)];
    let expected = [
        (None, Some(-0.5), between(0.5, 1.0), -1.0),
        (Some(-0.5), Some(-0.1), between(0.1, 0.5), -1.0),
        (Some(-0.1), Some(0.1), [20.0, 0.5], 0.0),
        (Some(0.1), Some(0.5), between(0.1, 0.5), 1.0),
        (Some(0.5), None, between(0.5, 1.0), 1.0),
    ];
    assert_eq!(found.len(), expected.len());
    for (band, (from, to, [area, volume], way)) in found.iter().zip(expected) {
        assert_eq!((band.from, band.to), (from, to));
        near(band.area, area, 1e-9);
        near(band.cut, if way > 0.0 { 0.0 } else { volume }, 1e-9);
        near(band.fill, if way < 0.0 { 0.0 } else { volume }, 1e-9);
    }
}

/// A cone of many sides against the round one: the share of area and volume that a polygon leaves out is known.
#[test]
fn a_cone_in_bands() {
    let sides = 720;
    let pile = cone(sides, 9.0, 3.0);
    let found = &banded(&level(0.0), &pile, None, &edges(&[1.0, 2.0], 0.0))[0];
    let share = f64::from(sides) * (2.0 * PI / f64::from(sides)).sin() / (2.0 * PI);
    let beyond = |h: f64| {
        let area = PI * (3.0 * (3.0 - h)).powi(2) * share;
        [area, area * (h + (3.0 - h) / 3.0)]
    };
    for (index, h) in [0.0, 1.0, 2.0].into_iter().enumerate() {
        let [from, to] = [beyond(h), beyond(h + 1.0)];
        near(found[2 + index].area, from[0] - to[0], 1e-8);
        near(found[2 + index].fill, from[1] - to[1], 1e-8);
    }
}

/// Ground lowered by the very depth of an edge is in one band, the one nearer to zero, whatever rounding does to it.
#[test]
fn ground_on_an_edge_is_in_one_band() {
    let ground = sheet(20.0, 16.0, 60, 5, |e, n| (e / 3.0).sin() + 0.1 * n);
    let whole = banded(&ground, &ground.raised(-0.3), None, &edges(&[-0.3], 0.0));
    let area: f64 = whole[0].iter().map(|band| band.area).sum();
    near(whole[0][1].area, area, 1e-9);
    near(whole[0][1].cut, 0.3 * area, 1e-6);
    let filled = banded(&ground.raised(-0.3), &ground, None, &edges(&[0.3], 0.0));
    near(filled[0][2].area, area, 1e-9);
    // What does not differ, and what differs by the tolerance, is in the middle.
    for (raised, middle) in [(0.0, 0.0), (0.05, 0.05), (-0.05, 0.05)] {
        let still = &banded(
            &ground,
            &ground.raised(raised),
            None,
            &edges(&[0.3], middle),
        )[0];
        near(still[1].area, area, 1e-9);
    }
    let found = edges(&[-0.3, 0.3], 0.05);
    let of = |difference: f64| found.of(difference, 1e-8);
    assert_eq!(
        [-0.31, -0.3, -0.05, 0.0, 0.05, 0.3, 0.31].map(of),
        [0, 1, 2, 2, 2, 3, 4]
    );
    assert_eq!(found.middle(), 2);
}

#[test]
fn edges_that_make_no_bands_are_refused() {
    let new = |edges: &[f64], middle: f64| BandEdges::new(edges, Tolerance::new(middle).unwrap());
    assert_eq!(new(&[f64::NAN], 0.0), Err(BandEdgesError::NotFinite));
    assert!(matches!(
        new(&[1.0, 1.0], 0.0),
        Err(BandEdgesError::NotRising { .. })
    ));
    assert!(matches!(
        new(&[-0.02, 1.0], 0.05),
        Err(BandEdgesError::WithinMiddle { edge: -0.02, .. })
    ));
    // An edge at zero is the middle band, and so are its own edges.
    assert_eq!(new(&[-0.05, 0.0, 0.05], 0.05).unwrap().count(), 3);
    assert_eq!(new(&[0.0, 1.0], 0.0).unwrap(), new(&[1.0], 0.0).unwrap());
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(24))]

    /// Bands add up to what was measured, swap with the sides, are the same from depth slices, and add up over zones that
    /// share the ground.
    #[test]
    fn bands_are_bands_of_the_volume(
        seed in 0usize..1000,
        steps in prop::collection::btree_set(-40i32..40, 0..6),
        middle in 0u32..8,
    ) {
        let reference = sheet(20.0, 16.0, 40, seed, |e, n| (e / 3.0).sin() + 0.1 * n);
        let surveyed = sheet(20.0, 16.0, 50, seed + 77, |e, n| 0.8 + (n / 4.0).cos() - 0.05 * e);
        let middle = f64::from(middle) / 64.0;
        let at: Vec<f64> = steps.iter().map(|&step| f64::from(step) / 16.0).filter(|edge| edge.abs() > middle).collect();
        let edges_of = edges(&at, middle);
        let overlay = Overlay::new(&reference, &surveyed, None).unwrap();
        let found = &bands(&overlay, &edges_of).unwrap()[0];
        let whole = volumes(&overlay, &[Tolerance::new(middle).unwrap()]).unwrap()[0][0];
        let sum = |bands: &[Band], of: fn(&Band) -> f64| -> f64 { bands.iter().map(of).sum() };
        // Sums of some 500 pieces of up to 30 cubic units, each to the last digits.
        let close = |a: f64, b: f64| (a - b).abs() < 1e-9 * (1.0 + b.abs());
        let at_middle = edges_of.middle();
        let (below, above) = (&found[..at_middle], &found[at_middle + 1..]);
        prop_assert!(close(sum(below, |b| b.cut), whole.volume.cut));
        prop_assert!(close(sum(above, |b| b.fill), whole.volume.fill));
        prop_assert!(close(sum(below, |b| b.area), whole.area.cut));
        prop_assert!(close(found[at_middle].area, whole.area.unchanged));
        prop_assert!(close(found[at_middle].cut + found[at_middle].fill, whole.volume.unchanged));
        prop_assert!(close(sum(found, |b| b.area), whole.area.compared));

        let turned: Vec<f64> = at.iter().rev().map(|edge| -edge).collect();
        let swapped = &banded(&surveyed, &reference, None, &edges(&turned, middle))[0];
        for (band, other) in found.iter().zip(swapped.iter().rev()) {
            prop_assert!(close(band.area, other.area) && close(band.cut, other.fill) && close(band.fill, other.cut));
        }

        // Beyond each edge, by depth slices: what is deeper, and the block up to it.
        for (number, band) in found.iter().enumerate().skip(at_middle + 1) {
            let rising: Vec<f64> = edges_of.between(number).into_iter().flatten().collect();
            let beyond = &depths(&overlay, &rising).unwrap()[0];
            let upto = beyond.iter().map(|d| [d.fill_area, d.fill + d.depth * d.fill_area]);
            let upto: Vec<[f64; 2]> = upto.collect();
            let next = upto.get(1).copied().unwrap_or_default();
            // Depth slices reach their volume by another order of sums.
            let near = |a: f64, b: f64| (a - b).abs() < 1e-8 * (1.0 + b.abs());
            prop_assert!(near(band.area, upto[0][0] - next[0]), "{band:?} {upto:?}");
            prop_assert!(near(band.fill, upto[0][1] - next[1]), "{band:?} {upto:?}");
        }

        let part = |from: f64, to: f64| vec![ring(&[(from, 0.0), (to, 0.0), (to, 16.0), (from, 16.0)])];
        let parts = banded(&reference, &surveyed, Some(&zones(vec![part(0.0, 7.0), part(7.0, 20.0)])), &edges_of);
        for (number, band) in found.iter().enumerate() {
            let both = [parts[0][number], parts[1][number]];
            prop_assert!(close(sum(&both, |b| b.area), band.area) && close(sum(&both, |b| b.cut), band.cut));
        }
    }
}
