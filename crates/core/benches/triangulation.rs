//! Times a surface from points and lines against what the triangulation crate takes alone, and a long site against the same one turned, as
//! ratios within one run.
//!
//! `cargo bench -p dapedon-core --bench triangulation [-- POINTS]`; see `docs/performance.md`.

use std::time::Instant;

use dapedon_core::plan::Frame;
use dapedon_core::points::{Line, LineKind, PickUp, Rules, triangulate};
use dapedon_core::surface::Vertex;
use dapedon_core::units::LengthUnit;
use spade::{ConstrainedDelaunayTriangulation, Point2, Triangulation};

const RUNS: usize = 7;

fn main() {
    let points = std::env::args()
        .filter_map(|arg| arg.parse().ok())
        .next()
        .unwrap_or(1_000_000);
    let frame = Frame::new(LengthUnit::Metre, [500_000.0, 6_000_000.0]);
    let pick_up = survey(points);
    let on_lines: usize = pick_up.lines.iter().map(|line| line.points.len()).sum();
    println!(
        "{points} points, {on_lines} of them on {} lines",
        pick_up.lines.len()
    );

    let places: Vec<Point2<f64>> = (pick_up.points.iter())
        .map(|v| frame.to_local(v.east, v.north))
        .map(|p| Point2::new(p.east, p.north))
        .collect();
    let pieces: Vec<[usize; 2]> = (pick_up.lines.iter())
        .flat_map(|line| line.points.windows(2))
        .map(|pair| [pair[0] as usize, pair[1] as usize])
        .collect();
    let (mut alone, mut ours) = (Vec::new(), Vec::new());
    for _ in 0..RUNS {
        let (places, pieces) = (places.clone(), pieces.clone());
        let start = Instant::now();
        match ConstrainedDelaunayTriangulation::<Point2<f64>>::bulk_load_cdt(places, pieces) {
            Ok(net) => assert!(net.num_inner_faces() > points),
            Err(error) => panic!("{error}"),
        }
        alone.push(start.elapsed().as_secs_f64());
        let start = Instant::now();
        match triangulate(frame, &pick_up, &Rules::default()) {
            Ok(made) => assert!(made.tin.facets().len() > points && made.crossings.is_empty()),
            Err(error) => panic!("{error}"),
        }
        ours.push(start.elapsed().as_secs_f64());
    }
    let (alone, ours) = (median(alone), median(ours));
    println!("crate alone      {alone:.3} s");
    println!(
        "surface          {ours:.3} s, {:.2} times that",
        ours / alone
    );

    // Contours of a long site, which lies from west to east, or from south to north.
    let (mut west_east, mut south_north) = (Vec::new(), Vec::new());
    for _ in 0..RUNS {
        for (turned, times) in [(false, &mut west_east), (true, &mut south_north)] {
            let pick_up = corridor(points / 20, turned);
            let start = Instant::now();
            match triangulate(frame, &pick_up, &Rules::default()) {
                Ok(made) => assert!(made.tin.facets().len() > points),
                Err(error) => panic!("{error}"),
            }
            times.push(start.elapsed().as_secs_f64());
        }
    }
    let (west_east, south_north) = (median(west_east), median(south_north));
    println!("west to east     {west_east:.3} s");
    println!(
        "south to north   {south_north:.3} s, {:.2} times that",
        south_north / west_east
    );
}

/// Lines of twenty points across a site that is long in one direction.
fn corridor(lines: usize, turned: bool) -> PickUp {
    let mut all = PickUp::default();
    for line in 0..lines {
        let first = all.points.len() as u32;
        for point in 0..20 {
            let (along, across) = (0.5 * line as f64, f64::from(point));
            let (e, n) = if turned {
                (across, along)
            } else {
                (along, across)
            };
            let height = (line % 50) as f64;
            all.points
                .push(Vertex::new(500_000.0 + e, 6_000_000.0 + n, height));
        }
        all.lines.push(Line {
            kind: LineKind::Breakline,
            points: (first..first + 20).collect(),
        });
    }
    all
}

fn median(mut values: Vec<f64>) -> f64 {
    values.sort_by(f64::total_cmp);
    values[values.len() / 2]
}

/// Scattered points, a tenth of them along lines that wind side by side from west to east.
fn survey(points: usize) -> PickUp {
    let side = (points as f64).sqrt();
    let (rows, along) = (100, points / 1000);
    let mut all = PickUp::default();
    let mut state = 7u64;
    let mut next = move || {
        // SplitMix64 (Steele, Lea and Flood, 2014).
        state = state.wrapping_add(0x9e37_79b9_7f4a_7c15);
        let mut z = state;
        z = (z ^ (z >> 30)).wrapping_mul(0xbf58_476d_1ce4_e5b9);
        z = (z ^ (z >> 27)).wrapping_mul(0x94d0_49bb_1331_11eb);
        ((z ^ (z >> 31)) >> 11) as f64 / (1u64 << 53) as f64
    };
    let at = |e: f64, n: f64| Vertex::new(500_000.0 + e, 6_000_000.0 + n, (e / 40.0).sin());
    for row in 0..rows {
        let first = all.points.len() as u32;
        for i in 0..along {
            let e = side * (i as f64 + 0.5) / along as f64;
            let n = side * (f64::from(row) + 0.5 + 0.3 * (e / 25.0).sin()) / f64::from(rows);
            all.points.push(at(e, n));
        }
        all.lines.push(Line {
            kind: LineKind::Breakline,
            points: (first..all.points.len() as u32).collect(),
        });
    }
    while all.points.len() < points {
        let (e, n) = (side * next(), side * next());
        all.points.push(at(e, n));
    }
    all
}
