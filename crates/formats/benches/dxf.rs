//! Times reading the faces of a drawing against walking its lines, and weighs its memory.
//!
//! `cargo bench -p dapedon-formats --bench dxf [-- FACES]`; see `docs/performance.md`.

use std::time::Instant;

use dapedon_core::surface::Vertex;
use dapedon_core::units::LengthUnit;
use dapedon_formats::{CodeUses, dxf};
use peak_alloc::PeakAlloc;

#[global_allocator]
static MEMORY: PeakAlloc = PeakAlloc;

const RUNS: usize = 7;

fn main() {
    let faces = std::env::args()
        .filter_map(|arg| arg.parse().ok())
        .next()
        .unwrap_or(500_000usize);
    let side = (faces as f64 / 2.0).sqrt() as usize + 1;
    let vertices: Vec<Vertex> = (0..side * side)
        .map(|k| {
            let (i, j) = ((k % side) as f64, (k / side) as f64);
            let height = 20.0 + (i / 40.0).sin() + (j / 60.0).cos();
            Vertex::new(500_000.0 + 1.25 * i, 6_000_000.0 + 1.25 * j, height)
        })
        .collect();
    let corner = |i: usize, j: usize| (j * side + i) as u32;
    let facets: Vec<[u32; 3]> = (0..(side - 1) * (side - 1))
        .map(|k| (k % (side - 1), k / (side - 1)))
        .flat_map(|(i, j)| {
            let [a, b, c, d] =
                [(i, j), (i + 1, j), (i + 1, j + 1), (i, j + 1)].map(|(i, j)| corner(i, j));
            [[a, b, c], [a, c, d]]
        })
        .collect();
    let mut bytes = Vec::new();
    let written = dxf::write(
        &mut bytes,
        "ground",
        LengthUnit::Metre,
        &vertices,
        &facets,
        3,
    );
    written.expect("writing to memory does not fail");
    println!("{} faces, {:.0} MB", facets.len(), bytes.len() as f64 / 1e6);

    let read = || {
        let drawing = dxf::read(bytes.as_slice());
        let surface = drawing.and_then(|drawing| dxf::surface(drawing, None, &CodeUses::default()));
        surface.unwrap_or_else(|error| panic!("{error}"))
    };
    let (mut lines, mut ours) = (Vec::new(), Vec::new());
    for _ in 0..RUNS {
        let start = Instant::now();
        let found = bytes
            .split(|&b| b == b'\n')
            .filter(|line| !line.is_empty())
            .count();
        assert!(found > 26 * facets.len());
        lines.push(start.elapsed().as_secs_f64());
        let start = Instant::now();
        let surface = read();
        assert_eq!(
            surface.facets.map(|facets| facets.len()),
            Some(facets.len())
        );
        ours.push(start.elapsed().as_secs_f64());
    }
    let (lines, ours) = (median(lines), median(ours));
    println!("parting lines    {lines:.3} s");
    println!(
        "reading faces    {ours:.3} s, {:.0} MB/s, {:.1} times that",
        bytes.len() as f64 / 1e6 / ours,
        ours / lines
    );

    let held = MEMORY.current_usage();
    MEMORY.reset_peak_usage();
    let surface = read();
    let (peak, kept) = (MEMORY.peak_usage() - held, MEMORY.current_usage() - held);
    drop(surface);
    println!(
        "memory           {:.0} MB at most, {:.0} MB kept: {:.1} times that",
        peak as f64 / 1e6,
        kept as f64 / 1e6,
        peak as f64 / kept as f64
    );
}

fn median(mut values: Vec<f64>) -> f64 {
    values.sort_by(f64::total_cmp);
    values[values.len() / 2]
}
