//! Spreads against closed forms, against each other, and against many single places.

use super::*;
use crate::plan::Frame;
use crate::surface::{Grid, Level, Surface};
use crate::units::LengthUnit;
use crate::zones::{Zone, Zones, without_overlaps};
use proptest::prelude::*;

fn frame() -> Frame {
    Frame::new(LengthUnit::Metre, [500_000.0, 6_000_000.0])
}

/// Heights at nodes two metres apart.
fn grid(columns: usize, rows: usize, height: impl Fn(f64, f64) -> f64) -> Surface {
    let heights = (0..columns * rows).map(|node| {
        let (column, row) = (node % columns, node / columns);
        height(2.0 * column as f64, 2.0 * row as f64)
    });
    let corner = Place::new(500_000.0, 6_000_000.0);
    let heights = heights.collect();
    Surface::Grid(Grid::new(frame(), corner, [2.0; 2], [columns, rows], heights).unwrap())
}

fn between(from: &Surface, to: &Surface, zones: Option<&Zones>) -> Vec<Option<Spread>> {
    spread(&Overlay::new(from, to, zones).unwrap()).unwrap()
}

fn level(height: f64) -> Surface {
    Surface::Level(Level::new(frame(), height))
}

#[test]
fn a_plane_is_spread_evenly() {
    // Rising by 0.05 a metre over 40 m to the east: from 0 to 2 with a mean of 1, a standard deviation of 2/√12, and half of the middle
    // 68.27 % is that share of half the range.
    let found = between(&level(3.0), &grid(21, 11, |e, _| 3.0 + 0.05 * e), None)[0].unwrap();
    assert!((found.area - 800.0).abs() < 1e-9);
    assert!((found.mean - 1.0).abs() < 1e-12 && (found.median - 1.0).abs() < 1e-7);
    assert!((found.deviation - 2.0 / 12f64.sqrt()).abs() < 1e-9);
    assert!((found.robust - WITHIN_ONE).abs() < 1e-6);
    let plane = found.plane.unwrap();
    assert!((plane.rise[0] - 0.05).abs() < 1e-12 && plane.rise[1].abs() < 1e-12);
    assert!((plane.lean - found.deviation).abs() < 1e-9 && plane.deviation < 1e-7);
    let middle = frame().to_grid(plane.middle);
    assert!((middle.east - 500_020.0).abs() < 1e-7 && (middle.north - 6_000_010.0).abs() < 1e-7);
}

#[test]
fn a_few_places_move_the_mean_and_not_the_median() {
    // A hundred cells a hair above the level, and a heap of 4 m over one node: six triangles of 2 m² rise to it.
    let heap = |e: f64, n: f64| if (e, n) == (10.0, 10.0) { 4.0 } else { 0.03 };
    let found = between(&level(0.0), &grid(11, 11, heap), None)[0].unwrap();
    // Its volume is a third of base times height: 12 m² by 3.97 m.
    assert!((found.mean - (0.03 + 12.0 * 3.97 / 3.0 / 400.0)).abs() < 1e-12);
    assert!((found.median - 0.03).abs() < 1e-6, "{}", found.median);
    assert!(found.robust < 1e-6 && found.deviation > 0.2, "{found:?}");
    assert_eq!(found.max.difference, 4.0);
}

#[test]
fn a_line_has_no_plane_and_an_empty_zone_has_nothing() {
    let zone = |name: &str, east: [f64; 2], north: [f64; 2]| {
        let corners = [(0, 0), (1, 0), (1, 1), (0, 1), (0, 0)];
        let ring = corners
            .map(|(e, n)| Place::new(500_000.0 + east[e], 6_000_000.0 + north[n]))
            .to_vec();
        Zone::new(name, frame(), vec![vec![ring]]).unwrap()
    };
    let zones = vec![
        zone("kerb", [0.0, 40.0], [5.0, 5.001]),
        zone("away", [500.0, 510.0], [0.0, 10.0]),
    ];
    let zones = Zones::new(frame(), zones);
    let found = between(
        &level(0.0),
        &grid(21, 11, |e, n| 0.01 * e + n),
        Some(&zones),
    );
    let kerb = found[0].unwrap();
    assert!((kerb.mean - 5.2005).abs() < 1e-9 && kerb.plane.is_none());
    assert!(found[1].is_none());
}

#[test]
fn zones_together_are_one_ground() {
    let rises = grid(21, 11, |e, _| 0.05 * e);
    let strip = |name: &str, from: f64, to: f64| {
        let corners = [
            (from, 0.0),
            (to, 0.0),
            (to, 20.0),
            (from, 20.0),
            (from, 0.0),
        ];
        let ring = corners.map(|(e, n)| Place::new(500_000.0 + e, 6_000_000.0 + n));
        Zone::new(name, frame(), vec![vec![ring.to_vec()]]).unwrap()
    };
    // Two that share ground are as all of it.
    let zones = Zones::new(
        frame(),
        vec![strip("west", 0.0, 25.0), strip("east", 10.0, 40.0)],
    );
    let flat = level(0.0);
    let apart = without_overlaps(&zones);
    let overlay = Overlay::new(&flat, &rises, Some(&apart)).unwrap();
    let both = spread_together(&overlay).unwrap().unwrap();
    let whole = between(&flat, &rises, None)[0].unwrap();
    assert!(
        (both.area - whole.area).abs() < 1e-9 && (both.deviation - whole.deviation).abs() < 1e-9
    );
    assert!(
        (both.robust - whole.robust).abs() < 1e-6
            && both.max.difference == 2.0
            && both.min.difference == 0.0
    );
    // Nodes every two metres, those on the edge among them.
    let zones = zones.zones();
    assert_eq!(points_within(&rises, &zones[..1]), 13 * 11);
    assert_eq!(points_within(&rises, &zones[1..]), 16 * 11);
    assert_eq!(points_within(&rises, zones), 21 * 11);
    assert_eq!(points_within(&flat, zones), 0);
}

/// Rough ground without a pattern.
fn rough(seed: f64) -> impl Fn(f64, f64) -> f64 {
    move |e, n| (seed + 1.7 * e + 0.3 * n).sin() + (0.9 * n * seed + 0.1 * e).cos()
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(24))]

    /// Sides swapped, one raised, one leaned: means and planes follow, spreads stay.
    #[test]
    fn what_is_done_to_a_side_is_found(seed in 0.1..9.0f64, by in -3.0..3.0f64, east in -0.1..0.1f64, north in -0.1..0.1f64) {
        let (from, to) = (grid(9, 7, rough(seed)), grid(9, 7, rough(seed + 1.0)));
        let own = between(&from, &to, None)[0].unwrap();
        let swapped = between(&to, &from, None)[0].unwrap();
        prop_assert!((own.mean + swapped.mean).abs() < 1e-12 && (own.median + swapped.median).abs() < 1e-6);
        prop_assert!((own.robust - swapped.robust).abs() < 1e-6 && (own.deviation - swapped.deviation).abs() < 1e-9);
        let plane = own.plane.unwrap();
        let leaned = to.leaned(plane.middle, by, [east, north]).unwrap();
        let leaned = between(&from, &leaned, None)[0].unwrap();
        let other = leaned.plane.unwrap();
        prop_assert!((leaned.mean - own.mean - by).abs() < 1e-9);
        prop_assert!((other.rise[0] - plane.rise[0] - east).abs() < 1e-9 && (other.rise[1] - plane.rise[1] - north).abs() < 1e-9);
        prop_assert!((other.deviation - plane.deviation).abs() < 1e-7);
        // What deviates in all is what leans and what is left of it.
        let both = libm::hypot(other.lean, other.deviation);
        prop_assert!((both - leaned.deviation).abs() < 1e-9);
        let raised = between(&from, &to.raised(by), None)[0].unwrap();
        prop_assert!((raised.median - own.median - by).abs() < 1e-6 && (raised.robust - own.robust).abs() < 1e-6);
    }

    /// Against the values at many single places: 160 000 of them leave a hundredth of the spread.
    #[test]
    fn single_places_say_the_same(seed in 0.1..9.0f64) {
        let (from, to) = (grid(6, 6, rough(seed)), grid(6, 6, rough(seed + 1.0)));
        let own = between(&from, &to, None)[0].unwrap();
        let cell = 10.0 / 400.0;
        let read = |surface: &Surface| crate::quantities::sampled(surface, cell, u64::MAX).unwrap().unwrap().heights;
        let mut values: Vec<f64> = read(&to).iter().zip(read(&from)).map(|(to, from)| to - from).filter(|d| d.is_finite()).collect();
        values.sort_by(f64::total_cmp);
        let count = values.len() as f64;
        let mean = values.iter().sum::<f64>() / count;
        let deviation = (values.iter().map(|d| (d - mean).powi(2)).sum::<f64>() / count).sqrt();
        let at = |share: f64| values[(share * count) as usize];
        let near = 0.01 * own.deviation;
        prop_assert!(count > 159_000.0 && (mean - own.mean).abs() < near && (deviation - own.deviation).abs() < near);
        prop_assert!((at(0.5) - own.median).abs() < near);
        let half = WITHIN_ONE / 2.0;
        prop_assert!(((at(0.5 + half) - at(0.5 - half)) / 2.0 - own.robust).abs() < near);
    }
}
