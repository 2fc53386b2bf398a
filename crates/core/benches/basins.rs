//! Times the table of a basin against a single integral, and the other things that are done to a yard in one pass.
//!
//! `cargo bench -p dapedon-core --bench basins [-- FACETS]`; see `docs/performance.md`.

use std::hint::black_box;
use std::time::Instant;

use dapedon_core::overlay::Overlay;
use dapedon_core::plan::{Frame, Place};
use dapedon_core::points::{PickUp, Rules, triangulate};
use dapedon_core::quantities::{
    BandEdges, Basin, PileRules, SideOfLevel, Tolerance, bands, contours, depths, level_area,
    standing, volume,
};
use dapedon_core::surface::{FacetIndex, HeightAt, Level, Surface, Tin, Vertex, heights_at};
use dapedon_core::units::LengthUnit;
use rayon::prelude::*;

const RUNS: usize = 5;
const LEVELS: usize = 1000;
const PLACES: usize = 1_000_000;

fn main() {
    let facets = std::env::args().filter_map(|arg| arg.parse().ok()).next();
    let facets: usize = facets.unwrap_or(1_000_000);
    let tin = basin(facets);
    let (low, high) = tin.heights();
    let levels = |count: usize| -> Vec<f64> {
        let share = |index: usize| (index as f64 + 0.5) / count as f64;
        (0..count)
            .map(|index| low + share(index) * (high - low))
            .collect()
    };
    let (one, many) = (levels(1), levels(LEVELS));
    let ground = Surface::Tin(tin.clone());
    let water = Surface::Level(Level::new(tin.frame(), one[0]));
    // Over the extent, as R2 spreads them (M. Roberts).
    let extent = tin.extent();
    let places: Vec<Place> = (1..=PLACES)
        .map(|i| {
            let share = |factor: f64| (i as f64 * factor).fract();
            Place::new(
                extent.min.east + share(0.754_877_666_246_69) * extent.width(),
                extent.min.north + share(0.569_840_290_998_05) * extent.height(),
            )
        })
        .collect();
    let steps: Vec<f64> = (0..20).map(|index| f64::from(index) * 0.5).collect();
    let clear = PileRules {
        by: 1.0,
        area: 10.0,
        ground_slope: 0.2,
    };
    let bands_of =
        BandEdges::new(&steps[1..], Tolerance::ZERO).unwrap_or_else(|error| panic!("{error}"));
    let ways: [(&str, &dyn Fn()); 10] = [
        ("bed, and one level", &|| {
            drop(black_box(Basin::of(&tin).at(&one)));
        }),
        ("bed, and 1000 levels", &|| {
            drop(black_box(Basin::of(&tin).at(&many)));
        }),
        ("overlay with a level", &|| {
            drop(black_box(volume(&ground, &water, None, Tolerance::ZERO)));
        }),
        ("contours at 100 levels", &|| {
            drop(black_box(contours(&tin, &levels(100))));
        }),
        ("heights at 1 000 000", &|| {
            let index = FacetIndex::of(&ground);
            let reached = places
                .par_iter()
                .filter(|at| index.at(**at) != HeightAt::None);
            assert!(black_box(reached.count()) > PLACES / 2);
        }),
        ("the same, all together", &|| {
            let found = heights_at(&ground, &places);
            let reached = found.iter().filter(|found| **found != HeightAt::None);
            assert!(black_box(reached.count()) > PLACES / 2);
        }),
        ("20 bands to a level", &|| {
            let overlay = Overlay::new(&ground, &water, None);
            drop(black_box(overlay.and_then(|both| bands(&both, &bands_of))));
        }),
        ("20 lifts to a level", &|| {
            let overlay = Overlay::new(&ground, &water, None);
            drop(black_box(overlay.and_then(|both| depths(&both, &steps))));
        }),
        ("outline at a level", &|| {
            drop(black_box(level_area(&tin, one[0], SideOfLevel::Below)));
        }),
        ("piles found", &|| {
            drop(black_box(standing(&tin, SideOfLevel::Above, &clear)));
        }),
    ];
    // In turns, so that a machine that is busy now and then is busy for all.
    let mut runs = vec![Vec::new(); ways.len()];
    for _ in 0..RUNS {
        for ((_, way), runs) in ways.iter().zip(&mut runs) {
            let start = Instant::now();
            way();
            runs.push(start.elapsed().as_secs_f64());
        }
    }
    println!(
        "{} facets, {LEVELS} levels, medians of {RUNS} runs in turns",
        tin.facets().len()
    );
    let medians = runs.into_iter().map(|mut runs| {
        runs.sort_by(f64::total_cmp);
        runs[RUNS / 2]
    });
    let medians: Vec<f64> = medians.collect();
    for ((name, _), median) in ways.iter().zip(&medians) {
        println!(
            "{name:<24} {median:.3} s  {:.2} of one level",
            median / medians[0]
        );
    }
}

/// A basin with waves, its points scattered.
fn basin(facets: usize) -> Tin {
    let side = ((facets / 2) as f64).sqrt();
    let points = (0..facets / 2).map(|index| {
        let index = index as f64;
        let e = (index * 0.754_877_666_246_69).fract() * side;
        let n = (index * 0.569_840_290_998_05).fract() * side;
        let bowl = 12.0 * ((e / side - 0.5).powi(2) + (n / side - 0.5).powi(2));
        let waves = 0.3 * (e / 7.0).sin() * (n / 9.0).cos();
        Vertex::new(500_000.0 + e, 6_000_000.0 + n, 100.0 + bowl + waves)
    });
    let pick_up = PickUp::from(points.collect::<Vec<_>>());
    let frame = Frame::new(LengthUnit::Metre, [500_000.0, 6_000_000.0]);
    let made = triangulate(frame, &pick_up, &Rules::default());
    made.unwrap_or_else(|error| panic!("{error}")).tin
}
