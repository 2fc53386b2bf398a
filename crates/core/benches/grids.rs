//! Times two aligned grids, cell by cell, and weighs what is held beyond them.
//!
//! `cargo bench -p dapedon-core --bench grids [-- SIDE]`; see `docs/performance.md`.

use std::time::Instant;

use dapedon_core::plan::{Frame, Place};
use dapedon_core::quantities::{Tolerance, coverage, volume};
use dapedon_core::surface::{Grid, Outline, Surface};
use dapedon_core::units::LengthUnit;
use peak_alloc::PeakAlloc;

#[global_allocator]
static MEMORY: PeakAlloc = PeakAlloc;

const RUNS: usize = 5;

fn main() {
    let side = std::env::args().filter_map(|arg| arg.parse().ok()).next();
    let side: usize = side.unwrap_or(5001);
    let frame = Frame::new(LengthUnit::Metre, [500_000.0, 6_000_000.0]);
    let grid = |east: f64, heights: &dyn Fn(f64, f64) -> f64| {
        let nodes =
            (0..side * side).map(|node| heights((node % side) as f64, (node / side) as f64));
        let corner = Place::new(500_000.0 + east, 6_000_000.0);
        let grid = Grid::new(frame, corner, [0.5; 2], [side; 2], nodes.collect());
        Surface::Grid(grid.unwrap_or_else(|error| panic!("{error}")))
    };
    // Every tenth cell or so is split where the difference changes sign.
    let ground = |e: f64, n: f64| 100.0 + 3.0 * (e / 90.0).sin() + 2.0 * (n / 70.0).cos();
    let moved = |e: f64, n: f64| ground(e, n) + 0.8 * (e / 21.0).sin() * (n / 17.0).cos();
    let reference = grid(0.0, &ground);
    let surveyed = grid(0.0, &moved);
    // The same heights a third of a cell further: no node stands on a node.
    let shifted = grid(0.167, &moved);
    let cells = ((side - 1) * (side - 1)) as f64;
    println!("two grids of {:.1} million cells", cells / 1e6);

    let timed = |surveyed: &Surface| {
        let start = Instant::now();
        let found = volume(&reference, surveyed, None, Tolerance::ZERO);
        let pieces = found.map_or(0, |zones| zones[0].pieces);
        (start.elapsed().as_secs_f64(), pieces)
    };
    MEMORY.reset_peak_usage();
    let held = MEMORY.current_usage();
    let mut runs: Vec<f64> = (0..RUNS).map(|_| timed(&surveyed).0).collect();
    let beyond = MEMORY.peak_usage() - held;
    runs.sort_by(f64::total_cmp);
    let middle = runs[RUNS / 2];
    println!(
        "aligned          {middle:.3} s  {:.1} million cells/s  {:.1} MB beyond the grids",
        cells / middle / 1e6,
        beyond as f64 / 1e6
    );
    let start = Instant::now();
    let outlines = [Outline::of(&reference), Outline::of(&surveyed)];
    let areas = coverage(&outlines[0], &outlines[1], None);
    println!(
        "their coverage   {:.3} s  {} zone",
        start.elapsed().as_secs_f64(),
        areas.len()
    );
    MEMORY.reset_peak_usage();
    let (seconds, pieces) = timed(&shifted);
    let beyond = MEMORY.peak_usage() - held;
    println!(
        "a third off      {seconds:.3} s  {:.1} million pieces/s  {:.1} MB beyond the grids",
        pieces as f64 / seconds / 1e6,
        beyond as f64 / 1e6
    );
}
