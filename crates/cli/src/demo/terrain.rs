//! The made-up site: a river reach, its flood plain, and the works on it.
//!
//! East runs along the river, north across it. Everything is a smooth function of the place, so the
//! files are the same each time, and points are taken where a surveyor would take them: along the
//! edges where the ground breaks, and on a loose grid between.

use dapedon_core::surface::Vertex;

/// From west to east.
pub(super) const LENGTH: f64 = 360.0;
/// From south to north.
pub(super) const WIDTH: f64 = 240.0;

const BANK_CREST: f64 = 26.9;
const BANK_HALF_WIDTH: f64 = 2.0;
const BANK_SLOPE: f64 = 2.5;
const BANK_FROM: f64 = 18.0;
const BANK_TO: f64 = 262.0;
const STRIP_TO: f64 = 338.0;
const STRIP_HALF_WIDTH: f64 = 15.0;
const STRIP: f64 = 0.25;

/// A rounded box: half its length and width, within the rounding.
pub(super) struct Basin {
    pub(super) middle: (f64, f64),
    pub(super) half: (f64, f64),
}

pub(super) const PIT: Basin = Basin {
    middle: (236.0, 62.0),
    half: (44.0, 21.0),
};
pub(super) const PIT_FLOOR: f64 = 21.6;
pub(super) const PIT_BENCH: f64 = 23.4;
pub(super) const PIT_SLOPE: f64 = 1.5;
pub(super) const BENCH_WIDTH: f64 = 4.0;

const BUND: Basin = Basin {
    middle: (76.0, 58.0),
    half: (26.0, 1.5),
};
const BUND_CREST: f64 = 27.9;
const BUND_SLOPE: f64 = 1.5;

/// A limit of work: an outer ring and its holes.
pub(super) struct Limit {
    pub(super) name: &'static str,
    pub(super) rings: Vec<Vec<(f64, f64)>>,
}

/// A surveyed point.
pub(super) struct Point {
    pub(super) east: f64,
    pub(super) north: f64,
    pub(super) height: f64,
    pub(super) code: &'static str,
}

impl Basin {
    /// How far a place lies outside the box; zero inside.
    pub(super) fn distance(&self, e: f64, n: f64) -> f64 {
        let east = ((e - self.middle.0).abs() - self.half.0).max(0.0);
        let north = ((n - self.middle.1).abs() - self.half.1).max(0.0);
        libm::hypot(east, north)
    }

    /// Places about `step` apart along the line at a distance from the box.
    pub(super) fn contour(&self, distance: impl Fn(f64, f64) -> f64, step: f64) -> Vec<(f64, f64)> {
        let (a, b) = self.half;
        // Walk the box; at corners turn through a quarter circle.
        let sides = [
            ((-a, -b), (a, -b), (0.0, -1.0)),
            ((a, -b), (a, b), (1.0, 0.0)),
            ((a, b), (-a, b), (0.0, 1.0)),
            ((-a, b), (-a, -b), (-1.0, 0.0)),
        ];
        let mut places = Vec::new();
        for (from, to, out) in sides {
            let length = (to.0 - from.0).abs() + (to.1 - from.1).abs();
            let count = (length / step).ceil() as usize;
            let on = |t: f64, out: (f64, f64)| {
                let foot = (
                    self.middle.0 + from.0 + t * (to.0 - from.0),
                    self.middle.1 + from.1 + t * (to.1 - from.1),
                );
                let away = distance_along(foot, out, &distance);
                (foot.0 + away * out.0, foot.1 + away * out.1)
            };
            places.extend((0..=count).map(|i| on(i as f64 / count as f64, out)));
            let turn = |i: usize| {
                let (sin, cos) = libm::sincos(f64::from(i as u32) * std::f64::consts::FRAC_PI_8);
                on(1.0, (out.0 * cos - out.1 * sin, out.0 * sin + out.1 * cos))
            };
            places.extend((1..4).map(turn));
        }
        places
    }
}

/// How far out a line from `foot` reaches, where the reach depends on the place reached.
fn distance_along(foot: (f64, f64), out: (f64, f64), distance: impl Fn(f64, f64) -> f64) -> f64 {
    let mut away = 0.0;
    for _ in 0..40 {
        away = distance(foot.0 + away * out.0, foot.1 + away * out.1);
    }
    away
}

/// Northing of the river's middle.
fn river(e: f64) -> f64 {
    196.0 + 11.0 * libm::sin(e / 58.0) + 4.0 * libm::cos(e / 23.0 + 1.0)
}

/// Northing of the flood bank's middle.
fn bank_line(e: f64) -> f64 {
    138.0 + 9.0 * libm::sin(e / 64.0)
}

/// Height of the ground across the river, by the distance from its middle: bed, sides, natural
/// levee, flood plain, and the terrace the site is entered from.
fn profile(offset: f64) -> f64 {
    let across = offset.abs();
    let breaks = [
        (0.0, 20.6),
        (6.5, 20.8),
        (13.5, 24.1),
        (17.0, 24.55),
        (24.0, 24.35),
        (40.0, 24.1),
        (90.0, 24.3),
        (150.0, 25.0),
        (200.0, 26.4),
        (260.0, 27.2),
    ];
    let beyond = breaks.windows(2).find(|pair| across <= pair[1].0);
    let [from, to] = beyond.map_or([breaks[8], breaks[9]], |pair| [pair[0], pair[1]]);
    from.1 + (across - from.0) / (to.0 - from.0) * (to.1 - from.1)
}

pub(super) fn ground(e: f64, n: f64) -> f64 {
    let fall = -0.0012 * e;
    let old_channel = -0.45 * libm::exp(-((n - 96.0 - 16.0 * libm::cos(e / 75.0)) / 9.0).powi(2));
    let swell = 0.12 * libm::sin(e / 37.0) * libm::cos(n / 29.0);
    let off_river = 1.0 - libm::exp(-(((n - river(e)) / 22.0).powi(2)));
    profile(n - river(e)) + fall + (old_channel + swell) * off_river
}

/// The crest's height along the bank: ramps at both ends, the eastern one still being raised.
fn crest(e: f64) -> f64 {
    let west = BANK_CREST - ((BANK_FROM + 16.0 - e) / 6.0).max(0.0);
    let east = BANK_CREST - ((e - (BANK_TO - 60.0)) / 24.0).max(0.0);
    west.min(east)
}

fn bank(e: f64, n: f64) -> f64 {
    let across = ((n - bank_line(e)).abs() - BANK_HALF_WIDTH).max(0.0);
    crest(e) - across / BANK_SLOPE
}

pub(super) fn stripped(e: f64, n: f64) -> f64 {
    let across = (n - bank_line(e)).abs() <= STRIP_HALF_WIDTH;
    let along = (BANK_FROM - 6.0..=STRIP_TO).contains(&e);
    ground(e, n) - if across && along { STRIP } else { 0.0 }
}

/// The pit's sides: up from the floor to the bench, across it, and up again.
fn pit(e: f64, n: f64) -> f64 {
    let out = PIT.distance(e, n);
    let rise = (PIT_BENCH - PIT_FLOOR) * PIT_SLOPE;
    let upper = PIT_BENCH + (out - rise - BENCH_WIDTH).max(0.0) / PIT_SLOPE;
    (PIT_FLOOR + out / PIT_SLOPE).min(upper)
}

fn bund(e: f64, n: f64) -> f64 {
    BUND_CREST - BUND.distance(e, n) / BUND_SLOPE
}

pub(super) fn surveyed(e: f64, n: f64) -> f64 {
    let built = stripped(e, n).max(if (BANK_FROM..=BANK_TO).contains(&e) {
        bank(e, n)
    } else {
        f64::MIN
    });
    built.max(bund(e, n)).min(pit(e, n))
}

/// What a pole and a reading are off by, some millimetres either way without a pattern.
pub(super) fn reading(e: f64, n: f64) -> f64 {
    let mixed = libm::sin(12.9898 * e + 78.233 * n) * 43_758.545_3;
    0.012 * (mixed.rem_euclid(1.0) - 0.5)
}

/// The ground before the works, as strings along the river joined into facets.
pub(super) fn ground_facets() -> (Vec<Vertex>, Vec<[u32; 3]>) {
    const STEP: f64 = 6.0;
    let offsets = [
        -150.0, -120.0, -105.0, -92.0, -80.0, -68.0, -56.0, -45.0, -35.0, -27.0, -20.5, -17.0,
        -13.5, -6.5, 0.0, 6.5, 13.5, 17.0, 24.0,
    ];
    let columns = (LENGTH / STEP) as usize + 1;
    let mut vertices = Vec::new();
    for i in 0..columns {
        let e = i as f64 * STEP;
        // South of the strings that follow the river, straight ones that fan out to the border.
        let first = river(e) + offsets[0];
        let straight = (0..4).map(|k| first * f64::from(k) / 4.0);
        let follow = offsets.iter().map(|offset| river(e) + offset);
        vertices.extend(
            straight
                .chain(follow)
                .chain([WIDTH])
                .map(|n| Vertex::new(e, n, ground(e, n))),
        );
    }
    let rows = vertices.len() / columns;
    let at = |i: usize, j: usize| (i * rows + j) as u32;
    let mut facets = Vec::new();
    for i in 0..columns - 1 {
        for j in 0..rows - 1 {
            let [a, b, c, d] = [at(i, j), at(i + 1, j), at(i + 1, j + 1), at(i, j + 1)];
            // The shorter diagonal, as a triangulation would take it.
            let length = |p: u32, q: u32| {
                let (p, q) = (vertices[p as usize], vertices[q as usize]);
                libm::hypot(p.east - q.east, p.north - q.north)
            };
            if length(a, c) <= length(b, d) {
                facets.extend([[a, b, c], [a, c, d]]);
            } else {
                facets.extend([[a, b, d], [b, c, d]]);
            }
        }
    }
    (vertices, facets)
}

/// How far from the bank's middle its side meets the stripped ground, to the south or north.
fn toe(e: f64, side: f64, crest: fn(f64) -> f64) -> f64 {
    let reach = |_: f64, n: f64| {
        ((crest(e) - stripped(e, n)) * BANK_SLOPE + BANK_HALF_WIDTH).max(BANK_HALF_WIDTH)
    };
    distance_along((e, bank_line(e)), (0.0, side), reach)
}

/// The crest as it will be: the eastern ramp runs out at the end of the strip.
fn finished_crest(e: f64) -> f64 {
    let west = BANK_CREST - ((BANK_FROM + 16.0 - e) / 6.0).max(0.0);
    let east = BANK_CREST - ((e - (STRIP_TO - 18.0)) / 6.0).max(0.0);
    west.min(east)
}

/// The finished bank within the strip: edge, toe, crest, crest, toe, edge, section by section.
pub(super) fn finished_facets() -> (Vec<Vertex>, Vec<[u32; 3]>) {
    const STEP: f64 = 2.0;
    const EDGE: f64 = STRIP_HALF_WIDTH + 2.0;
    let sections = ((STRIP_TO + 4.0 - (BANK_FROM - 8.0)) / STEP) as usize + 1;
    let mut vertices = Vec::new();
    for i in 0..sections {
        let e = BANK_FROM - 8.0 + STEP * i as f64;
        let feet = [-1.0, 1.0].map(|side| side * toe(e, side, finished_crest));
        // A foot that has run out under the crest stands beside it, not on it.
        let [south, north] = [feet[0] - 0.01, feet[1] + 0.01];
        let across = [-EDGE, south, -BANK_HALF_WIDTH, BANK_HALF_WIDTH, north, EDGE];
        vertices.extend(across.map(|offset| {
            let n = bank_line(e) + offset;
            let side = (offset.abs() - BANK_HALF_WIDTH).max(0.0) / BANK_SLOPE;
            let built = finished_crest(e) - side;
            Vertex::new(e, n, stripped(e, n).max(built))
        }));
    }
    let at = |i: usize, j: usize| (6 * i + j) as u32;
    let facets = (0..sections - 1).flat_map(|i| {
        (0..5).flat_map(move |j| {
            let [a, b, c, d] = [at(i, j), at(i + 1, j), at(i + 1, j + 1), at(i, j + 1)];
            [[a, b, c], [a, c, d]]
        })
    });
    (vertices, facets.collect())
}

/// The survey at the end of March.
pub(super) fn pick_up() -> Vec<Point> {
    let mut points: Vec<Point> = Vec::new();
    let take = |points: &mut Vec<Point>, e: f64, n: f64, code: &'static str| {
        let (east, north) = ((e * 1000.0).round() / 1000.0, (n * 1000.0).round() / 1000.0);
        // A pole is not set up twice within a hand's breadth.
        if points
            .iter()
            .rev()
            .take(4000)
            .all(|p| libm::hypot(p.east - east, p.north - north) > 0.15)
        {
            points.push(Point {
                east,
                north,
                height: surveyed(east, north),
                code,
            });
        }
    };

    // Along the bank: crest edges, toes, and the edges of the strip.
    for i in 0..=((BANK_TO - BANK_FROM) / 3.0) as usize {
        let e = BANK_FROM + 3.0 * i as f64;
        for (side, edge, foot) in [(-1.0, "crest1", "toe1"), (1.0, "crest2", "toe2")] {
            take(&mut points, e, bank_line(e) + side * BANK_HALF_WIDTH, edge);
            take(
                &mut points,
                e,
                bank_line(e) + side * toe(e, side, crest),
                foot,
            );
        }
    }
    for i in 0..=((STRIP_TO - BANK_FROM) / 4.0) as usize {
        let e = BANK_FROM + 4.0 * i as f64;
        for (side, edge) in [(-1.0, "strip1"), (1.0, "strip2")] {
            take(
                &mut points,
                e,
                bank_line(e) + side * (STRIP_HALF_WIDTH - 0.1),
                edge,
            );
            take(
                &mut points,
                e,
                bank_line(e) + side * (STRIP_HALF_WIDTH + 0.3),
                "ground",
            );
        }
    }
    // Round the pit: floor, foot and back of the bench, top.
    let rise = (PIT_BENCH - PIT_FLOOR) * PIT_SLOPE;
    let top =
        |e: f64, n: f64| rise + BENCH_WIDTH + (stripped(e, n) - PIT_BENCH).max(0.0) * PIT_SLOPE;
    for (e, n) in PIT.contour(|_, _| 0.0, 4.0) {
        take(&mut points, e, n, "floor");
    }
    for (e, n) in PIT.contour(|_, _| rise, 3.0) {
        take(&mut points, e, n, "bench1");
    }
    for (e, n) in PIT.contour(|_, _| rise + BENCH_WIDTH, 3.0) {
        take(&mut points, e, n, "bench2");
    }
    for (e, n) in PIT.contour(top, 3.0) {
        take(&mut points, e, n, "pit top");
    }
    // Round the bund.
    for (e, n) in BUND.contour(|_, _| 0.0, 3.0) {
        take(&mut points, e, n, "bund top");
    }
    for (e, n) in BUND.contour(|e, n| (BUND_CREST - stripped(e, n)) * BUND_SLOPE, 3.0) {
        take(&mut points, e, n, "bund toe");
    }
    // Between them a loose grid, its rows offset, over what is accessible.
    for row in 0..17 {
        for column in 0..44 {
            let e = 6.0 + 8.0 * column as f64 + if row % 2 == 0 { 0.0 } else { 4.0 };
            let n = 14.0 + 9.0 * row as f64 + 2.0 * libm::sin(e / 31.0);
            if n < river(e) - 15.0 && e < LENGTH - 4.0 {
                take(&mut points, e, n, "ground");
            }
        }
    }
    points
}

/// The limits of work.
pub(super) fn zones() -> [Limit; 3] {
    let along = |offset: f64| {
        let count = 33;
        (0..=count).map(move |i| {
            let e = 14.0 + 322.0 * f64::from(i) / f64::from(count);
            (e, bank_line(e) + offset)
        })
    };
    let south: Vec<_> = along(-14.0).collect();
    let north: Vec<_> = along(14.0).collect();
    let bank = south.into_iter().chain(north.into_iter().rev()).collect();
    // An old headwall in the strip, left standing and not part of the work.
    let n = bank_line(300.0);
    let headwall = vec![
        (296.0, n - 3.0),
        (304.0, n - 3.0),
        (304.0, n + 5.0),
        (296.0, n + 5.0),
    ];
    let pit = vec![
        (176.0, 28.0),
        (292.0, 26.0),
        (296.0, 92.0),
        (282.0, 99.0),
        (180.0, 100.0),
    ];
    let bund = vec![(40.0, 46.0), (112.0, 46.0), (112.0, 70.0), (40.0, 70.0)];
    let limit = |name, rings| Limit { name, rings };
    [
        limit("flood bank", vec![bank, headwall]),
        limit("borrow pit", vec![pit]),
        limit("topsoil bund", vec![bund]),
    ]
}
