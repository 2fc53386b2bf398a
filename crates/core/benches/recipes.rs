//! Times a recipe of ten steps on a design of 200 000 facets, and a balance against two overlays.
//!
//! `cargo bench -p dapedon-core --bench recipes [-- POINTS]`; see `docs/performance.md`.

use std::time::Instant;

use dapedon_core::derived::{
    Choice, SideSlope, Slopes, Top, Treatment, combined, run_out, zonewise,
};
use dapedon_core::plan::{Frame, Place};
use dapedon_core::points::{PickUp, Rules, triangulate};
use dapedon_core::quantities::{Search, Tolerance, balance, volume};
use dapedon_core::surface::{Surface, Vertex};
use dapedon_core::units::LengthUnit;
use dapedon_core::zones::{Zone, Zones};

const ORIGIN: [f64; 2] = [500_000.0, 6_000_000.0];

fn main() {
    let points = std::env::args().filter_map(|arg| arg.parse().ok()).next();
    recipe();
    balancing(points.unwrap_or(1_000_000));
}

fn frame() -> Frame {
    Frame::new(LengthUnit::Metre, ORIGIN)
}

/// Scattered points over a square of 1000, joined.
fn sheet(points: usize, start: usize, height: impl Fn(f64, f64) -> f64) -> Surface {
    let corners = [(0.0, 0.0), (1000.0, 0.0), (1000.0, 1000.0), (0.0, 1000.0)];
    let scattered = (start..start + points).map(|i| {
        let at = |factor: f64| (i as f64 * factor).fract() * 1000.0;
        (at(0.754_877_666_246_69), at(0.569_840_290_998_05))
    });
    let vertex = |(e, n): (f64, f64)| Vertex::new(ORIGIN[0] + e, ORIGIN[1] + n, height(e, n));
    let points: Vec<Vertex> = corners.into_iter().chain(scattered).map(vertex).collect();
    let made = triangulate(frame(), &PickUp::from(points), &Rules::default());
    Surface::Tin(made.unwrap_or_else(|error| panic!("{error}")).tin)
}

fn zones(rects: &[[f64; 4]]) -> Zones {
    let zone = |&[e, n, width, length]: &[f64; 4]| {
        let ring = [
            (e, n),
            (e + width, n),
            (e + width, n + length),
            (e, n + length),
            (e, n),
        ];
        let ring = ring.map(|(e, n)| Place::new(ORIGIN[0] + e, ORIGIN[1] + n));
        let zone = Zone::new("zone", frame(), vec![vec![ring.to_vec()]]);
        zone.unwrap_or_else(|error| panic!("{error}"))
    };
    Zones::new(frame(), rects.iter().map(zone).collect())
}

fn recipe() {
    let design = sheet(100_000, 3, |e, n| 20.0 + (e / 80.0).sin() + 0.01 * n);
    let ground = sheet(100_000, 500_003, |e, n| {
        20.0 + 2.0 * (n / 90.0).cos() + 0.01 * e
    });
    let pad = sheet(500, 900_003, |_, _| 26.0);
    let yards = zones(&[[100.0, 100.0, 300.0, 200.0], [400.0, 100.0, 200.0, 200.0]]);
    let site = zones(&[[20.0, 20.0, 960.0, 960.0]]);
    let layers = [0.55, 0.3];
    let inside = |zones: &[u32], to: Treatment| match zones {
        [] => Treatment::Keep,
        _ => to,
    };
    let square = zones(&[[600.0, 600.0, 80.0, 60.0]]);
    type Step<'s> = (&'static str, Box<dyn Fn(&Surface) -> Surface + 's>);
    let done = |made: Result<Surface, dapedon_core::overlay::OverlayError>| {
        made.unwrap_or_else(|e| panic!("{e}"))
    };
    let steps: Vec<Step<'_>> = vec![
        ("raised", Box::new(|s| s.raised(0.25))),
        (
            "keep inside",
            Box::new(|s| {
                done(zonewise(s, &site, |z| match z {
                    [] => Treatment::Drop,
                    _ => Treatment::Keep,
                }))
            }),
        ),
        (
            "raised in a zone",
            Box::new(|s| done(zonewise(s, &yards, |z| inside(z, Treatment::Raise(0.5))))),
        ),
        (
            "level in a zone",
            Box::new(|s| done(zonewise(s, &square, |z| inside(z, Treatment::Level(23.0))))),
        ),
        (
            "highest",
            Box::new(|s| done(combined(s, &ground, Choice::Highest))),
        ),
        (
            "lowest",
            Box::new(|s| done(combined(s, &ground.raised(1.0), Choice::Lowest))),
        ),
        (
            "another where it is",
            Box::new(|s| done(combined(s, &pad.moved([900.0, 900.0]), Choice::Other))),
        ),
        (
            "platform",
            Box::new(|s| {
                let top = Top::platform(frame(), &square.zones()[0], |_| 24.0);
                let slopes = Slopes {
                    cut: SideSlope::plain(1.5),
                    fill: SideSlope::plain(2.0),
                    chord: 0.01,
                };
                let body = run_out(&top.unwrap_or_else(|e| panic!("{e}")), s, slopes);
                let body = Surface::Tin(body.unwrap_or_else(|e| panic!("{e}")).surface);
                done(combined(s, &body, Choice::Other))
            }),
        ),
        (
            "build-up",
            Box::new(|s| {
                done(zonewise(s, &yards, |z| match z {
                    [] => Treatment::Keep,
                    [zone, ..] => Treatment::Raise(-layers[*zone as usize]),
                }))
            }),
        ),
        ("moved", Box::new(|s| s.moved([0.5, -0.25]))),
    ];
    println!(
        "a recipe on a design of {} facets, ground of {}",
        design.facets(),
        ground.facets()
    );
    let mut surface = design;
    let whole = Instant::now();
    for (name, step) in steps {
        let start = Instant::now();
        surface = step(&surface);
        println!(
            "{name:<20} {:.3} s  {} facets",
            start.elapsed().as_secs_f64(),
            surface.facets()
        );
    }
    println!(
        "ten steps            {:.3} s",
        whole.elapsed().as_secs_f64()
    );
}

fn balancing(points: usize) {
    let ground = sheet(points, 7, |e, n| 20.0 + 2.0 * (n / 90.0).cos() + 0.01 * e);
    let design = sheet(points, 77_777, |e, n| 22.0 + (e / 80.0).sin() + 0.01 * n);
    let seconds = |run: &dyn Fn()| {
        let mut runs: Vec<f64> = (0..3)
            .map(|_| {
                let start = Instant::now();
                run();
                start.elapsed().as_secs_f64()
            })
            .collect();
        runs.sort_by(f64::total_cmp);
        runs[1]
    };
    let overlay = seconds(&|| {
        let _ = volume(&ground, &design, None, Tolerance::ZERO);
    });
    let search = Search {
        yielded: 0.9,
        range: [-3.0, 3.0],
        amount: 0.0,
    };
    let balanced = seconds(&|| {
        let _ = balance(&ground, &design, None, None, &search, None);
    });
    println!(
        "balance of two surfaces of {points} points  {balanced:.3} s, {:.2} overlays of {overlay:.3} s",
        balanced / overlay
    );
}
