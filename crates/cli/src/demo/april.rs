//! The survey at the end of April. The pit is dug deeper, and all heights are too high: the benchmark was wrong.

use super::terrain::{
    BENCH_WIDTH, Basin, LENGTH, PIT, PIT_BENCH, PIT_FLOOR, PIT_SLOPE, Point, reading, stripped,
    surveyed,
};

/// By how much all its heights are too high.
const TOO_HIGH: f64 = 0.038;
/// The floor that is dug in April, with the slope of the pit down to it.
pub(super) const FLOOR: f64 = 20.9;
const DOWN: f64 = (PIT_FLOOR - FLOOR) * PIT_SLOPE;
pub(super) const LOWER: Basin = Basin {
    middle: PIT.middle,
    half: (PIT.half.0 - DOWN, PIT.half.1 - DOWN),
};
/// It reaches so far to the north, clear of the bank.
const NORTH: f64 = 112.0;

fn ground(e: f64, n: f64) -> f64 {
    let dug = FLOOR + LOWER.distance(e, n) / PIT_SLOPE;
    surveyed(e, n).min(dug)
}

/// The points that were taken.
pub(super) fn pick_up() -> Vec<Point> {
    let mut places: Vec<(f64, f64, &'static str)> = Vec::new();
    let rise = (PIT_BENCH - PIT_FLOOR) * PIT_SLOPE;
    let top =
        |e: f64, n: f64| rise + BENCH_WIDTH + (stripped(e, n) - PIT_BENCH).max(0.0) * PIT_SLOPE;
    let mut ring = |places_of: Vec<(f64, f64)>, code: &'static str| {
        places.extend(places_of.into_iter().map(|(e, n)| (e, n, code)));
    };
    ring(LOWER.contour(|_, _| 0.0, 4.0), "lower floor");
    ring(PIT.contour(|_, _| 0.0, 4.0), "floor");
    ring(PIT.contour(|_, _| rise, 3.0), "bench1");
    ring(PIT.contour(|_, _| rise + BENCH_WIDTH, 3.0), "bench2");
    ring(PIT.contour(top, 3.0), "pit top");
    for row in 0..12 {
        for column in 0..44 {
            let shift = if row % 2 == 0 { 3.0 } else { 7.0 };
            let e = 6.0 + 8.0 * f64::from(column) + shift;
            let n = 12.0 + 9.0 * f64::from(row) + 2.0 * libm::cos(e / 27.0);
            if n < NORTH && e < LENGTH - 4.0 {
                places.push((e, n, "ground"));
            }
        }
    }
    let to_the_millimetre = |value: f64| (value * 1000.0).round() / 1000.0;
    let mut points: Vec<Point> = Vec::new();
    for (e, n, code) in places {
        let (east, north) = (to_the_millimetre(e), to_the_millimetre(n));
        let apart = |p: &Point| libm::hypot(p.east - east, p.north - north) > 0.15;
        if points.iter().all(apart) {
            points.push(Point {
                east,
                north,
                height: ground(east, north) + TOO_HIGH + reading(east, north),
                code,
            });
        }
    }
    points
}
