//! Times the overlay against a plain prototype, as ratios within one run, and weighs its memory.
//!
//! `cargo bench -p dapedon-core --bench overlay [-- POINTS]`; see `docs/performance.md`.

use std::time::Instant;

use dapedon_core::overlay::Overlay;
use dapedon_core::plan::{Frame, Place};
use dapedon_core::points::triangulate;
use dapedon_core::quantities::{Accuracy, Tolerance, coverage, volume, weighed_volumes};
use dapedon_core::surface::{Outline, Surface, Tin, Vertex};
use dapedon_core::units::LengthUnit;
use peak_alloc::PeakAlloc;
use rayon::prelude::*;

#[global_allocator]
static MEMORY: PeakAlloc = PeakAlloc;

const RUNS: usize = 5;

fn main() {
    let points = std::env::args()
        .filter_map(|arg| arg.parse().ok())
        .next()
        .unwrap_or(1_000_000);
    let side = (points as f64).sqrt();
    let frame = Frame::new(LengthUnit::Metre, [500_000.0, 6_000_000.0]);
    let before = MEMORY.current_usage();
    let reference = random(frame, points, side, 1);
    let surveyed = random(frame, points, side, 2);
    let surfaces = MEMORY.current_usage() - before;
    let facets = reference.facets().len() + surveyed.facets().len();
    println!(
        "two random triangulations of {points} points, {facets} facets, {}",
        mb(surfaces)
    );

    let mut plain = Vec::new();
    let mut ours = Vec::new();
    let (reference, surveyed) = (Surface::Tin(reference), Surface::Tin(surveyed));
    let mut pieces = (0, 0);
    for _ in 0..RUNS {
        let start = Instant::now();
        pieces.0 = plain_overlay(&reference, &surveyed).1;
        plain.push(start.elapsed().as_secs_f64());
        let start = Instant::now();
        pieces.1 = measured(&reference, &surveyed).pieces;
        ours.push(start.elapsed().as_secs_f64());
    }
    let rate = |pieces: u64, seconds: f64| pieces as f64 / seconds / 1e6;
    let (plain, ours) = (median(plain), median(ours));
    println!(
        "plain prototype  {plain:.3} s  {:.1} million pieces/s",
        rate(pieces.0, plain)
    );
    println!(
        "overlay          {ours:.3} s  {:.1} million pieces/s",
        rate(pieces.1, ours)
    );
    println!(
        "ratio            {:.2} times the plain rate",
        rate(pieces.1, ours) / rate(pieces.0, plain)
    );

    MEMORY.reset_peak_usage();
    let held = MEMORY.current_usage();
    let whole = measured(&reference, &surveyed);
    let beyond = MEMORY.peak_usage() - held;
    println!(
        "memory beyond    {}, {:.2} of the surfaces",
        mb(beyond),
        beyond as f64 / surfaces as f64
    );

    MEMORY.reset_peak_usage();
    let held = MEMORY.current_usage();
    let mut times = Vec::new();
    let mut found = (0.0, 0.0);
    for _ in 0..RUNS {
        let start = Instant::now();
        found = uncertain(&reference, &surveyed);
        times.push(start.elapsed().as_secs_f64());
    }
    let (seconds, (weighed, sure)) = (median(times), found);
    println!(
        "with uncertainty {seconds:.3} s  {:.2} times the overlay, of which weighing {weighed:.3} s, {} beyond; net ±{:.3}",
        seconds / ours,
        mb(MEMORY.peak_usage() - held),
        2.0 * sure
    );

    MEMORY.reset_peak_usage();
    let held = MEMORY.current_usage();
    let start = Instant::now();
    let (a, b) = rayon::join(|| Outline::of(&reference), || Outline::of(&surveyed));
    let domain = coverage(&a, &b, None)[0];
    println!(
        "closure          {:.3} s, {} beyond",
        start.elapsed().as_secs_f64(),
        mb(MEMORY.peak_usage() - held)
    );
    println!(
        "pieces' area     {:.9} against {:.9}: {:.1e} relative",
        whole.area.compared,
        domain.pieces,
        (whole.area.compared / domain.pieces - 1.0).abs()
    );
}

fn measured(reference: &Surface, surveyed: &Surface) -> dapedon_core::quantities::ZoneVolume {
    match volume(reference, surveyed, None, Tolerance::ZERO) {
        Ok(measured) => measured[0],
        Err(error) => panic!("{error}"),
    }
}

/// The time until all points are weighed, and the standard uncertainty of the net volume, where each point is accurate to 20 mm.
fn uncertain(reference: &Surface, surveyed: &Surface) -> (f64, f64) {
    let start = Instant::now();
    let own = Accuracy {
        height: 0.02,
        plan: 0.02,
        ..Accuracy::EXACT
    };
    let sides = [reference, surveyed];
    let overlay = Overlay::new(reference, surveyed, None);
    let found =
        overlay.and_then(|overlay| weighed_volumes(&overlay, Tolerance::ZERO, sides, [own; 2]));
    match found {
        Ok(found) => {
            let weighed = start.elapsed().as_secs_f64();
            (weighed, found.uncertainty(&[0]).net.standard())
        }
        Err(error) => panic!("{error}"),
    }
}

fn mb(bytes: usize) -> String {
    format!("{:.0} MB", bytes as f64 / 1e6)
}

fn median(mut values: Vec<f64>) -> f64 {
    values.sort_by(f64::total_cmp);
    values[values.len() / 2]
}

/// A square of random points with its corners, rolling and rough.
fn random(frame: Frame, points: usize, side: f64, seed: u64) -> Tin {
    let mut state = seed.wrapping_mul(0x9e37_79b9_7f4a_7c15);
    let mut next = move || {
        // SplitMix64 (Steele, Lea and Flood, 2014).
        state = state.wrapping_add(0x9e37_79b9_7f4a_7c15);
        let mut z = state;
        z = (z ^ (z >> 30)).wrapping_mul(0xbf58_476d_1ce4_e5b9);
        z = (z ^ (z >> 27)).wrapping_mul(0x94d0_49bb_1331_11eb);
        ((z ^ (z >> 31)) >> 11) as f64 / (1u64 << 53) as f64
    };
    let [east, north] = frame.origin();
    let at = |e: f64, n: f64, h: f64| Vertex::new(east + e, north + n, h);
    let mut places = [(0.0, 0.0), (side, 0.0), (side, side), (0.0, side)]
        .map(|(e, n)| at(e, n, 20.0))
        .to_vec();
    places.extend((4..points).map(|_| {
        let (e, n) = (side * next(), side * next());
        at(e, n, 20.0 + (e / 40.0).sin() + (n / 60.0).cos() + next())
    }));
    match triangulate(
        frame,
        &places.into(),
        &dapedon_core::points::Rules::default(),
    ) {
        Ok(made) => made.tin,
        Err(error) => panic!("{error}"),
    }
}

/// What anyone would write first: a grid of facets, and every candidate clipped, edge by edge.
fn plain_overlay(reference: &Surface, surveyed: &Surface) -> (f64, u64) {
    let (Surface::Tin(reference), Surface::Tin(surveyed)) = (reference, surveyed) else {
        return (0.0, 0);
    };
    let extent = surveyed.extent();
    let count = ((surveyed.facets().len() / 2) as f64).sqrt().ceil() as usize;
    let cell = |p: Place| {
        let of = |v: f64, from: f64, length: f64| {
            ((v - from) / length * count as f64).clamp(0.0, count as f64 - 1.0) as usize
        };
        [
            of(p.east, extent.min.east, extent.width()),
            of(p.north, extent.min.north, extent.height()),
        ]
    };
    let range = |corners: [Vertex; 3]| {
        let extent = dapedon_core::plan::Extent::of(corners.map(Vertex::place));
        (cell(extent.min), cell(extent.max))
    };
    let mut starts = vec![0u32; count * count + 1];
    let each = |facet: usize, visit: &mut dyn FnMut(usize)| {
        let (min, max) = range(surveyed.corners(facet));
        for j in min[1]..=max[1] {
            for i in min[0]..=max[0] {
                visit(j * count + i);
            }
        }
    };
    for facet in 0..surveyed.facets().len() {
        each(facet, &mut |cell| starts[cell + 1] += 1);
    }
    for cell in 0..count * count {
        starts[cell + 1] += starts[cell];
    }
    let mut next = starts.clone();
    let mut listed = vec![0u32; starts[count * count] as usize];
    for facet in 0..surveyed.facets().len() {
        each(facet, &mut |cell| {
            listed[next[cell] as usize] = facet as u32;
            next[cell] += 1;
        });
    }
    (0..reference.facets().len())
        .into_par_iter()
        .map_init(Vec::new, |candidates: &mut Vec<u32>, facet| {
            let a = reference.corners(facet);
            let (min, max) = range(a);
            candidates.clear();
            for j in min[1]..=max[1] {
                for i in min[0]..=max[0] {
                    let cell = j * count + i;
                    candidates.extend(&listed[starts[cell] as usize..starts[cell + 1] as usize]);
                }
            }
            candidates.sort_unstable();
            candidates.dedup();
            let mut total = (0.0, 0);
            for &candidate in candidates.iter() {
                let b = surveyed.corners(candidate as usize);
                let volume = plain_piece(a, b);
                total.0 += volume.unwrap_or(0.0);
                total.1 += u64::from(volume.is_some());
            }
            total
        })
        .reduce(|| (0.0, 0), |a, b| (a.0 + b.0, a.1 + b.1))
}

fn plain_piece(a: [Vertex; 3], b: [Vertex; 3]) -> Option<f64> {
    let cross = |a: Place, b: Place, c: Place| {
        (b.east - a.east) * (c.north - a.north) - (b.north - a.north) * (c.east - a.east)
    };
    let (mut piece, mut other) = ([Place::default(); 9], [Place::default(); 9]);
    let mut len = 3;
    for (place, corner) in piece.iter_mut().zip(a) {
        *place = corner.place();
    }
    for k in 0..3 {
        let (from, to) = (b[k].place(), b[(k + 1) % 3].place());
        let mut kept = 0;
        for i in 0..len {
            let (p, q) = (piece[i], piece[(i + 1) % len]);
            let (s, t) = (cross(from, to, p), cross(from, to, q));
            if s >= 0.0 {
                other[kept] = p;
                kept += 1;
            }
            if (s > 0.0 && t < 0.0) || (s < 0.0 && t > 0.0) {
                let share = s / (s - t);
                other[kept] = Place::new(
                    p.east + share * (q.east - p.east),
                    p.north + share * (q.north - p.north),
                );
                kept += 1;
            }
        }
        std::mem::swap(&mut piece, &mut other);
        len = kept;
        if len < 3 {
            return None;
        }
    }
    let plane = |v: [Vertex; 3]| dapedon_core::surface::Plane::through(v[0], v[1], v[2]);
    let (lower, upper) = (plane(a), plane(b));
    let difference = |p: Place| upper.at(p) - lower.at(p);
    let mut volume = 0.0;
    let mut area = 0.0;
    for i in 2..len {
        let twice = cross(piece[0], piece[i - 1], piece[i]);
        area += twice;
        volume +=
            twice * (difference(piece[0]) + difference(piece[i - 1]) + difference(piece[i])) / 6.0;
    }
    (area > 0.0).then_some(volume)
}
