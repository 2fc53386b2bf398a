//! Highest, lowest, another surface where it is, differences: against sums, closed forms and each other.

use crate::shapes::{frame, integral, measure, near, ring, sheet, zones};
use dapedon_core::derived::{Choice, combined, difference, within};
use dapedon_core::overlay::OverlayError;
use dapedon_core::quantities::{Tolerance, coverage, volume};
use dapedon_core::surface::{Level, Outline, Surface, Tin, Vertex};
use proptest::prelude::*;

fn area(surface: &Surface) -> f64 {
    let level = Surface::Level(Level::new(frame(), 0.0));
    coverage(&Outline::of(surface), &Outline::of(&level), None)[0].both
}

/// Edges along which a surface ends: few where its facets meet corner to corner.
fn edges(surface: &Surface) -> usize {
    match Outline::of(surface) {
        Outline::Edges(edges) => edges.len(),
        Outline::Endless => 0,
    }
}

fn waves() -> [Surface; 2] {
    [
        sheet(60.0, 40.0, 700, 3, |e, n| 10.0 + (e / 5.0).sin() + 0.02 * n),
        sheet(60.0, 40.0, 500, 9, |e, n| 10.0 + (n / 4.0).cos() + 0.01 * e),
    ]
}

/// Over ground that both cover the higher and the lower add up to the two; each is nowhere beyond either.
#[test]
fn highest_and_lowest_are_the_two() {
    let [a, b] = waves();
    let highest = combined(&a, &b, Choice::Highest).unwrap();
    let lowest = combined(&a, &b, Choice::Lowest).unwrap();
    near(
        integral(&highest) + integral(&lowest),
        integral(&a) + integral(&b),
        1e-9,
    );
    for side in [&a, &b] {
        near(measure(side, &highest).volume.cut, 0.0, 1e-9);
        near(measure(side, &lowest).volume.fill, 0.0, 1e-9);
    }
    let between = measure(&a, &b);
    near(measure(&a, &highest).volume.fill, between.volume.fill, 1e-9);
    near(measure(&a, &lowest).volume.cut, between.volume.cut, 1e-9);
    for made in [&highest, &lowest] {
        near(area(made), 2400.0, 1e-9);
        // Facets meet corner to corner: the surface ends where the sheets do, and nowhere within.
        assert!(
            edges(made) <= edges(&a) + edges(&b),
            "{} edges",
            edges(made)
        );
    }
    // Made once more of what it was made of, nothing changes.
    let again = combined(&highest, &a, Choice::Highest).unwrap();
    let again = measure(&highest, &again);
    near(again.volume.cut + again.volume.fill, 0.0, 1e-9);
}

/// A shelf that covers part of the ground, reaching beyond it.
#[test]
fn another_surface_holds_where_it_is() {
    let [ground, _] = waves();
    let corners = [(50.0, 10.0), (80.0, 10.0), (80.0, 30.0), (50.0, 30.0)];
    let [e0, n0] = crate::shapes::ORIGIN;
    let corners = corners
        .map(|(e, n)| Vertex::new(e0 + e, n0 + n, 25.0))
        .to_vec();
    let shelf = Tin::from_facets(frame(), corners, vec![[0, 1, 2], [0, 2, 3]]).unwrap();
    let shelf = Surface::Tin(shelf);
    let made = combined(&ground, &shelf, Choice::Other).unwrap();
    near(area(&made), 2400.0 + 20.0 * 20.0, 1e-9);
    let site = zones(vec![vec![ring(&[
        (50.0, 10.0),
        (60.0, 10.0),
        (60.0, 30.0),
        (50.0, 30.0),
    ])]]);
    let covered = volume(&ground, &made, Some(&site), Tolerance::ZERO).unwrap()[0];
    let whole = measure(&ground, &made);
    near(whole.volume.fill, covered.volume.fill, 1e-9);
    near(whole.area.fill, 200.0, 1e-9);
    let expected = integral(&ground) + covered.volume.net + 25.0 * 400.0;
    near(integral(&made), expected, 1e-9);
    // The higher of the two is the same here, and so is the lower of them with the sides turned.
    let higher = combined(&ground, &shelf, Choice::Highest).unwrap();
    near(integral(&higher), integral(&made), 1e-9);
    near(measure(&made, &higher).volume.net, 0.0, 1e-9);
}

#[test]
fn apart_is_side_by_side() {
    let ground = sheet(10.0, 10.0, 60, 4, |e, _| e);
    let beside = ground.moved([30.0, 0.0]).raised(2.0);
    let both = combined(&ground, &beside, Choice::Lowest).unwrap();
    near(integral(&both), 2.0 * integral(&ground) + 200.0, 1e-9);
    assert_eq!(
        difference(&ground, &beside).unwrap_err(),
        OverlayError::Apart
    );
    let level = Surface::Level(Level::new(frame(), 1.0));
    let both = combined(&level, &level, Choice::Highest);
    assert_eq!(both.unwrap_err(), OverlayError::Unbounded);
}

#[test]
fn the_difference_surface_holds_the_net() {
    let [a, b] = waves();
    let between = difference(&a, &b).unwrap();
    let measured = measure(&a, &b);
    near(integral(&between), measured.volume.net, 1e-9);
    // Above nothing it is the fill.
    let zero = Surface::Level(Level::new(frame(), 0.0));
    let above = measure(&zero, &between);
    near(above.volume.fill, measured.volume.fill, 1e-9);
    near(above.volume.cut, measured.volume.cut, 1e-9);
    let found = measured.difference.unwrap();
    near(between.heights().0, found.min.difference, 1e-9);
    near(between.heights().1, found.max.difference, 1e-9);
}

/// The one surface within zones, the other around them, with a step in between.
#[test]
fn a_step_limited_to_zones() {
    let [ground, _] = waves();
    let yard = zones(vec![vec![
        ring(&[(5.0, 5.0), (30.0, 5.0), (30.0, 25.0), (5.0, 25.0)]),
        ring(&[(10.0, 10.0), (14.0, 10.0), (14.0, 14.0), (10.0, 14.0)]),
    ]]);
    let made = within(&ground.raised(0.75), &ground, &yard).unwrap();
    let measured = measure(&ground, &made);
    near(measured.volume.fill, (500.0 - 16.0) * 0.75, 1e-9);
    near(measured.area.fill, 484.0, 1e-9);
    near(area(&made), 2400.0, 1e-9);
    let level = Surface::Level(Level::new(frame(), 3.0));
    let made = within(&level, &ground, &yard).unwrap();
    near(
        volume(&level, &made, Some(&yard), Tolerance::ZERO).unwrap()[0]
            .area
            .unchanged,
        484.0,
        1e-9,
    );
    near(area(&made), 2400.0, 1e-9);
    assert_eq!(
        within(&ground, &level, &yard).unwrap_err(),
        OverlayError::Unbounded
    );
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(32))]

    /// Whatever the two, wherever they lie: the higher and the lower hold what both hold, and every place
    /// that one of them covers is covered once.
    #[test]
    fn nothing_is_lost_or_covered_twice(
        seeds in (0usize..50, 50usize..99),
        counts in (5usize..80, 5usize..80),
        by in (-6i32..6, -4i32..4, -10i32..10),
    ) {
        let a = sheet(12.0, 9.0, counts.0, seeds.0, |e, n| (e / 2.0).sin() + (n / 3.0).cos());
        let b = sheet(12.0, 9.0, counts.1, seeds.1, |e, n| (e / 3.0).cos() * (n / 2.0).sin())
            .moved([f64::from(by.0), f64::from(by.1)])
            .raised(f64::from(by.2) / 8.0);
        let covered = coverage(&Outline::of(&a), &Outline::of(&b), None)[0];
        let [highest, lowest, other] = [Choice::Highest, Choice::Lowest, Choice::Other]
            .map(|choice| combined(&a, &b, choice).unwrap());
        let all = covered.both + covered.reference_only + covered.surveyed_only;
        for made in [&highest, &lowest, &other] {
            let folds = coverage(&Outline::of(made), &Outline::of(made), None)[0];
            prop_assert!((folds.both - all).abs() < 1e-7, "{} of {all}", folds.both);
            prop_assert!((folds.pieces - all).abs() < 1e-7, "{} of {all}", folds.pieces);
        }
        // Where both are the two are in the one and the other; what one holds alone is in both.
        let turned = combined(&b, &a, Choice::Other).unwrap();
        let (found, expected) = (
            integral(&highest) + integral(&lowest),
            integral(&other) + integral(&turned),
        );
        prop_assert!((found - expected).abs() < 1e-7, "{found} {expected}");
    }
}
