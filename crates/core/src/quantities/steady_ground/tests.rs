//! Ground that was made to be steady, found again.

use super::*;
use crate::plan::Frame;
use crate::quantities::spread;
use crate::surface::{Grid, Surface};
use crate::units::LengthUnit;
use crate::zones::{Zone, Zones};

fn frame() -> Frame {
    Frame::new(LengthUnit::Metre, [500_000.0, 6_000_000.0])
}

/// Nodes a metre apart over 120 by 80 m.
fn ground(height: impl Fn(f64, f64) -> f64) -> Surface {
    let (columns, rows) = (121, 81);
    let heights =
        (0..columns * rows).map(|node| height((node % columns) as f64, (node / columns) as f64));
    let corner = Place::new(500_000.0, 6_000_000.0);
    let heights = heights.collect();
    Surface::Grid(Grid::new(frame(), corner, [1.0; 2], [columns, rows], heights).unwrap())
}

fn terrain(e: f64, n: f64) -> f64 {
    30.0 + 3.0 * (e / 40.0).sin() + 0.05 * n
}

/// Noise of some millimetres without a pattern, the same each time.
fn noise(e: f64, n: f64, seed: f64) -> f64 {
    let mixed = (12.9898 * (e + seed) + 78.233 * (n - seed)).sin() * 43_758.545_3;
    // The sum of three even ones is nearly normal: a standard deviation of half the width.
    let even = |of: f64| (mixed * of).rem_euclid(1.0) - 0.5;
    0.008 * (even(1.0) + even(7.13) + even(31.7))
}

fn found(from: &Surface, to: &Surface) -> Option<SteadyGround> {
    let overlay = Overlay::new(from, to, None).unwrap();
    steady_ground(&overlay, overlay.extent(), &[], 0.0005).unwrap()
}

#[test]
fn a_shift_is_found_beside_a_pit() {
    // A pit of 60 by 60 m with ragged depth in the west; all else was only surveyed 31 mm too high.
    let before = ground(|e, n| terrain(e, n) + noise(e, n, 1.0));
    let pit = |e: f64, n: f64| {
        if e < 60.0 && n < 60.0 {
            2.0 + (e / 7.0).sin()
        } else {
            0.0
        }
    };
    let after = ground(|e, n| terrain(e, n) + 0.031 + noise(e, n, 2.0) - pit(e, n));
    let steady = found(&before, &after).unwrap();
    assert!(
        (steady.difference - 0.031).abs() < 0.001,
        "{}",
        steady.difference
    );
    // Measured analytically within its outline the mean is the shift as well, and the pit is outside.
    let rings = steady
        .outline
        .iter()
        .map(|ring| ring.iter().map(|&at| frame().to_grid(at)).collect());
    let zone = Zone::new("steady", frame(), vec![rings.collect()]).unwrap();
    let zones = Zones::new(frame(), vec![zone]);
    let overlay = Overlay::new(&before, &after, Some(&zones)).unwrap();
    let own = spread(&overlay).unwrap()[0].unwrap();
    assert!((own.mean - 0.031).abs() < 0.001 && own.robust < 0.006 && own.min.difference > -0.01);
    assert!(
        own.area > 0.8 * (9600.0 - 3600.0) && own.area < 6000.0,
        "{}",
        own.area
    );
    // What is measured anyhow is left out.
    let corners = [
        (90.0, -1.0),
        (121.0, -1.0),
        (121.0, 81.0),
        (90.0, 81.0),
        (90.0, -1.0),
    ];
    let ring = corners.map(|(e, n)| Place::new(500_000.0 + e, 6_000_000.0 + n));
    let measured = Zone::new("measured", frame(), vec![vec![ring.to_vec()]]).unwrap();
    let overlay = Overlay::new(&before, &after, None).unwrap();
    let rest = steady_ground(&overlay, overlay.extent(), &[measured], 0.0005)
        .unwrap()
        .unwrap();
    let ends = rest
        .outline
        .iter()
        .flatten()
        .map(|&at| frame().to_grid(at).east);
    assert!(ends.fold(0.0, f64::max) < 500_090.5);
    // The other way round it is the same ground.
    let back = found(&after, &before).unwrap();
    assert!((back.difference + steady.difference).abs() < 1e-6);
}

#[test]
fn without_noise_it_is_found_as_well_and_holes_stay_out() {
    let before = ground(terrain);
    let heap = |e: f64, n: f64| {
        let reach = libm::hypot(e - 60.0, n - 40.0);
        (3.0 - 0.3 * reach).max(0.0)
    };
    let after = ground(|e, n| terrain(e, n) - 0.02 + heap(e, n));
    let steady = found(&before, &after).unwrap();
    assert!((steady.difference + 0.02).abs() < 1e-6 && steady.outline.len() == 2);
}

#[test]
fn where_all_is_moved_nothing_is_steady() {
    let before = ground(terrain);
    let after = ground(|e, n| terrain(e, n) + 0.05 * e + 0.3 * (n / 5.0).sin());
    assert!(found(&before, &after).is_none());
}
