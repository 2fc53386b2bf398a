//! Times 2000 sections through two surfaces of a million facets each, index included.
//!
//! `cargo bench -p dapedon-core --bench sections [-- POINTS]`; see `docs/performance.md`.

use std::time::Instant;

use dapedon_core::alignment::{Alignment, Chainage, Element};
use dapedon_core::plan::{Frame, Place};
use dapedon_core::points::{PickUp, Rules, triangulate};
use dapedon_core::quantities::{Cut, Tolerance, cut_through, volume};
use dapedon_core::surface::{FacetIndex, Surface, Vertex};
use dapedon_core::units::LengthUnit;

fn main() {
    let points = std::env::args().filter_map(|arg| arg.parse().ok()).next();
    let points = points.unwrap_or(500_000);
    let ground = sheet(points, 3, |e, n| 20.0 + (e / 80.0).sin() + 0.01 * n);
    let built = sheet(points, 900_003, |e, n| 20.0 + (n / 90.0).cos() + 0.01 * e);
    let ends = [(10.0, 500.0), (990.0, 505.0)].map(|(e, n)| Place::new(e, n));
    let line = Alignment::new(
        "line",
        vec![Element::straight(ends[0], ends[1])],
        Chainage::from(0.0),
        None,
    );
    let distances = (0..2000).map(|i| line.length() * f64::from(i) / 1999.0);
    let cuts = distances.filter_map(|distance| {
        Some(Cut {
            course: line.at(distance)?,
            spans: vec![[-40.0, 40.0]],
        })
    });
    let cuts: Vec<Cut> = cuts.collect();
    let start = Instant::now();
    let indexes = [&ground, &built].map(FacetIndex::of);
    let indexed = start.elapsed();
    let lines = cut_through(&indexes, &cuts);
    let areas: f64 = (lines.iter().zip(&cuts))
        .map(|(lines, cut)| lines[0].areas(&lines[1], cut).fill.area)
        .sum();
    let all = start.elapsed();
    let start = Instant::now();
    let measured = volume(&ground, &built, None, Tolerance::ZERO);
    let overlaid = start.elapsed();
    println!(
        "{} facets a side, {} sections: {:.3} s, of which the index {:.3} s; {:.2} of one overlay ({areas:.1}, {})",
        ground.facets(),
        cuts.len(),
        all.as_secs_f64(),
        indexed.as_secs_f64(),
        all.as_secs_f64() / overlaid.as_secs_f64(),
        measured.is_ok()
    );
}

/// Scattered points over a square of 1000, joined.
fn sheet(points: usize, start: usize, height: impl Fn(f64, f64) -> f64) -> Surface {
    let corners = [(0.0, 0.0), (1000.0, 0.0), (1000.0, 1000.0), (0.0, 1000.0)];
    let scattered = (start..start + points).map(|i| {
        let at = |factor: f64| (i as f64 * factor).fract() * 1000.0;
        (at(0.754_877_666_246_69), at(0.569_840_290_998_05))
    });
    let vertex = |(e, n): (f64, f64)| Vertex::new(e, n, height(e, n));
    let points: Vec<Vertex> = corners.into_iter().chain(scattered).map(vertex).collect();
    let frame = Frame::new(LengthUnit::Metre, [0.0, 0.0]);
    let made = triangulate(frame, &PickUp::from(points), &Rules::default());
    Surface::Tin(made.unwrap_or_else(|error| panic!("{error}")).tin)
}
