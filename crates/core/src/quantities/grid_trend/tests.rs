//! Grids against volumes that are known: what they state of themselves holds, and they stray as they should.

use super::*;
use crate::plan::Frame;
use crate::quantities::volume;
use crate::surface::{Grid, Level, Surface, Tin, Vertex};
use crate::units::LengthUnit;
use crate::zones::{Zone, Zones};

fn frame() -> Frame {
    Frame::new(LengthUnit::Metre, [500_000.0, 6_000_000.0])
}

fn level(height: f64) -> Surface {
    Surface::Level(Level::new(frame(), height))
}

/// Nodes three metres apart over 60 by 48 m.
fn ground(height: impl Fn(f64, f64) -> f64) -> Surface {
    let size = [21, 17];
    let nodes = (0..size[0] * size[1])
        .map(|node| height((node % size[0]) as f64 * 3.0, (node / size[0]) as f64 * 3.0));
    let corner = Place::new(500_000.0, 6_000_000.0);
    Surface::Grid(Grid::new(frame(), corner, [3.0; 2], size, nodes.collect()).unwrap())
}

/// A zone with five corners somewhere on it.
fn zone(turn: f64) -> Zones {
    let corners = (0..5).map(|corner| {
        let angle = turn + std::f64::consts::TAU * f64::from(corner) / 5.0;
        let reach = 15.0 + 5.0 * (3.0 * angle + turn).sin();
        Place::new(
            500_030.0 + reach * angle.cos(),
            6_000_024.0 + reach * angle.sin(),
        )
    });
    let mut ring: Vec<Place> = corners.collect();
    ring.push(ring[0]);
    Zones::new(
        frame(),
        vec![Zone::new("zone", frame(), vec![vec![ring]]).unwrap()],
    )
}

/// By how many of its own standard uncertainties each figure of a grid is off.
fn off(from: &Surface, to: &Surface, zones: &Zones, cell: f64) -> [f64; 3] {
    let overlay = Overlay::new(from, to, Some(zones)).unwrap();
    let exact = volume(from, to, Some(zones), Tolerance::ZERO).unwrap()[0].volume;
    let found = grid_trend(&overlay, cell, Tolerance::ZERO)
        .unwrap()
        .unwrap();
    let figures = [
        (found.cut, exact.cut),
        (found.fill, exact.fill),
        (found.net, exact.net),
    ];
    figures.map(|(found, exact)| match found.standard > 0.0 {
        true => (found.value - exact) / found.standard,
        false => (found.value - exact) / 1e-6,
    })
}

#[test]
fn a_grid_agrees_with_the_volume_within_what_it_states() {
    // Smooth ground, ground with steps, and both, in forty zones each; cells that have nothing to do with the nodes.
    let smooth = ground(|e, n| (e / 9.0).sin() + (n / 7.0).cos());
    let pits = ground(|e, n| {
        if (e / 9.0).floor() as i64 % 2 == 0 && n > 20.0 {
            -1.5
        } else {
            0.4
        }
    });
    let mixed = ground(|e, n| 0.05 * e - 0.03 * n + if e > 30.0 { 1.0 } else { -0.2 });
    let mut all: Vec<f64> = Vec::new();
    for to in [&smooth, &pits, &mixed] {
        for turn in 0..40 {
            all.extend(off(&level(0.1), to, &zone(f64::from(turn) * 0.17), 0.37));
        }
    }
    all.retain(|off| off.is_finite());
    let within = all.iter().filter(|off| off.abs() <= 2.0).count() as f64 / all.len() as f64;
    let mean_square = all.iter().map(|off| off * off).sum::<f64>() / all.len() as f64;
    // It states 95 of 100. The trend of one grid is known to some tens of percent only, and is taken on the careful side.
    assert!(within >= 0.93, "{within} of {}", all.len());
    assert!((0.2..1.0).contains(&mean_square), "{mean_square}");
    let most = all.iter().fold(0.0, |most: f64, off| most.max(off.abs()));
    // What it states comes from a few grids, so its tails are heavier than normal ones.
    assert!(most < 5.0, "{most}");
}

#[test]
fn coarse_grids_are_shown_straying() {
    // A trench a metre wide and a metre deep, 40 m long and a little askew: a grid of 8 m may miss it or find it twice.
    let corners = [(5.0, 20.0), (45.0, 22.0), (45.0, 23.0), (5.0, 21.0)];
    let floor = corners.map(|(e, n)| Vertex::new(500_000.0 + e, 6_000_000.0 + n, -1.0));
    let trench = Surface::Tin(
        Tin::from_facets(frame(), floor.to_vec(), vec![[0, 1, 2], [0, 2, 3]]).unwrap(),
    );
    let overlay_level = level(0.0);
    let overlay = Overlay::new(&overlay_level, &trench, None).unwrap();
    let found = grid_trend(&overlay, 0.5, Tolerance::ZERO).unwrap().unwrap();
    let coarsest = found.levels[0];
    assert_eq!(coarsest.cell, 8.0);
    assert!(
        coarsest.cut.least < 20.0 && coarsest.cut.greatest > 60.0,
        "{coarsest:?}"
    );
    assert!(
        (found.cut.value - 40.0).abs() < 2.5 * found.cut.standard + 1e-9,
        "{found:?}"
    );
    // Smaller cells stray less, down to the width of the trench.
    let stray: Vec<f64> = found.levels.iter().map(|own| own.cut.deviation).collect();
    assert!(
        stray[3] < 0.3 * stray[0] && stray[3] < stray[1],
        "{stray:?}"
    );
    // Half a metre of it counts as unchanged.
    let wide = Tolerance::new(1.5).unwrap();
    assert_eq!(
        grid_trend(&overlay, 0.5, wide).unwrap().unwrap().cut.value,
        0.0
    );
}

#[test]
fn a_sample_on_an_edge_counts_once() {
    // Middles of cells of half a metre lie on the diagonals of a grid of three metres.
    let flat = ground(|_, _| 2.0);
    let base = level(0.0);
    let overlay = Overlay::new(&base, &flat, None).unwrap();
    let found = grid_trend(&overlay, 0.5, Tolerance::ZERO).unwrap().unwrap();
    assert_eq!(found.samples, 120 * 96);
    assert!((found.fill.value - 60.0 * 48.0 * 2.0).abs() < 1e-6);
    // Cells too many to be numbered are not tried.
    assert!(
        grid_trend(&overlay, 1e-4, Tolerance::ZERO)
            .unwrap()
            .is_none()
    );
}

#[test]
fn no_sample_is_lost_on_an_edge_between_zones() {
    // Two zones of a square share an edge that passes through middles of cells, in frames whose origins round them this way and that.
    for shift in 0..40 {
        let shift = f64::from(shift);
        let frame = Frame::new(
            LengthUnit::Metre,
            [500_000.0 + 0.1 * shift, 6_000_000.0 + 0.37 * shift],
        );
        let ring = |corners: &[(f64, f64)]| -> Vec<Place> {
            let closed = corners.iter().chain(corners.first());
            closed
                .map(|(e, n)| Place::new(500_000.0 + e, 6_000_000.0 + n))
                .collect()
        };
        // From (0, 1/6) to (10, 3.5): through (0.25, 0.25), (1.75, 0.75) and so on.
        let (west, east) = (0.5 / 3.0, 3.5);
        let lower = ring(&[(0.0, 0.0), (10.0, 0.0), (10.0, east), (0.0, west)]);
        let upper = ring(&[(0.0, west), (10.0, east), (10.0, 10.0), (0.0, 10.0)]);
        let zones = [("lower", lower), ("upper", upper)];
        let zones = zones.map(|(name, ring)| Zone::new(name, frame, vec![vec![ring]]).unwrap());
        let zones = Zones::new(frame, zones.to_vec());
        let heights = vec![1.0; 9];
        let corner = Place::new(499_995.0, 5_999_995.0);
        let over = Grid::new(frame, corner, [10.0; 2], [3, 3], heights).unwrap();
        let (base, over) = (Surface::Level(Level::new(frame, 0.0)), Surface::Grid(over));
        let overlay = Overlay::new(&base, &over, Some(&zones)).unwrap();
        let found = grid_trend(&overlay, 0.5, Tolerance::ZERO).unwrap().unwrap();
        assert_eq!(found.samples, 400, "{shift}");
    }
}
