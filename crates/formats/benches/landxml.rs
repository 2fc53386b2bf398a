//! Times reading a LandXML surface against what `quick-xml` alone takes to walk the same bytes.
//!
//! `cargo bench -p dapedon-formats --bench landxml [-- POINTS]`; see `docs/performance.md`.

use std::time::Instant;

use dapedon_core::surface::Vertex;
use dapedon_core::units::LengthUnit;
use dapedon_formats::{CodeUses, landxml};
use quick_xml::Reader;
use quick_xml::events::Event;

fn main() {
    let points = std::env::args()
        .filter_map(|arg| arg.parse().ok())
        .next()
        .unwrap_or(1_000_000usize);
    let side = (points as f64).sqrt() as usize;
    let height = |i: usize, j: usize| 20.0 + (i as f64 / 40.0).sin() + (j as f64 / 60.0).cos();
    let at = |k: usize| (k % side, k / side);
    let vertices: Vec<Vertex> = (0..side * side)
        .map(|k| {
            let (i, j) = at(k);
            Vertex::new(
                500_000.0 + i as f64 * 1.25,
                6_000_000.0 + j as f64 * 1.25,
                height(i, j),
            )
        })
        .collect();
    let corner = |i: usize, j: usize| (j * side + i) as u32;
    let facets: Vec<[u32; 3]> = (0..(side - 1) * (side - 1))
        .flat_map(|k| {
            let (i, j) = (k % (side - 1), k / (side - 1));
            [
                [corner(i, j), corner(i + 1, j), corner(i + 1, j + 1)],
                [corner(i, j), corner(i + 1, j + 1), corner(i, j + 1)],
            ]
        })
        .collect();
    let mut bytes = Vec::new();
    if let Err(error) = landxml::write(
        &mut bytes,
        &landxml::Head {
            name: "ground",
            unit: LengthUnit::Metre,
            crs: None,
            height_system: None,
            date: "2031-01-01",
        },
        &vertices,
        &facets,
        4,
    ) {
        panic!("{error}");
    }
    println!(
        "{} points, {} faces, {:.0} MB of LandXML",
        vertices.len(),
        facets.len(),
        bytes.len() as f64 / 1e6
    );

    let (mut walks, mut reads) = (Vec::new(), Vec::new());
    for _ in 0..7 {
        let start = Instant::now();
        let events = walk(&bytes);
        walks.push(start.elapsed().as_secs_f64());
        let start = Instant::now();
        let surface = landxml::read(bytes.as_slice(), None, &CodeUses::default());
        reads.push(start.elapsed().as_secs_f64());
        assert!(events > 0 && surface.is_ok_and(|s| s.vertices.len() == vertices.len()));
    }
    let median = |times: &mut Vec<f64>| {
        times.sort_by(f64::total_cmp);
        times[times.len() / 2]
    };
    let (walk, read) = (median(&mut walks), median(&mut reads));
    println!("quick-xml walks in   {walk:.3} s");
    println!(
        "the surface reads in {read:.3} s, {:.2} times that",
        read / walk
    );
}

fn walk(bytes: &[u8]) -> usize {
    let mut reader = Reader::from_reader(bytes);
    let mut buffer = Vec::new();
    let mut events = 0;
    loop {
        buffer.clear();
        match reader.read_event_into(&mut buffer) {
            Ok(Event::Eof) => return events,
            Ok(_) => events += 1,
            Err(error) => panic!("{error}"),
        }
    }
}
