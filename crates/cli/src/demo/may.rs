//! The survey at the end of May: only the floor of the pit. Its east is dug on, and in the west a part that was dug too deep is filled again.

use super::april::{FLOOR, LOWER};
use super::terrain::{Basin, PIT_SLOPE, Point, reading};

/// The floor that is dug in the east, and how far its upper edge reaches.
const LAST: f64 = 20.3;
const EAST: Basin = Basin {
    middle: (258.0, 62.0),
    half: (19.5, 17.5),
};
/// What is filled again, by how much, and its top.
const FILL: f64 = 0.12;
const SOFT: Basin = Basin {
    middle: (212.0, 58.0),
    half: (9.0, 8.0),
};

fn ground(e: f64, n: f64) -> f64 {
    let dug = LAST + EAST.distance(e, n) / PIT_SLOPE;
    let filled = FLOOR + FILL - SOFT.distance(e, n) / PIT_SLOPE;
    FLOOR.min(dug).max(filled)
}

/// The points that were taken.
pub(super) fn pick_up() -> Vec<Point> {
    let mut places: Vec<(f64, f64, &'static str)> = Vec::new();
    let mut ring = |basin: &Basin, rise: f64, code: &'static str| {
        let places_of = basin.contour(|_, _| rise * PIT_SLOPE, 4.0);
        places.extend(places_of.into_iter().map(|(e, n)| (e, n, code)));
    };
    ring(&LOWER, 0.0, "lower floor");
    ring(&EAST, 0.0, "floor1");
    ring(&EAST, FLOOR - LAST, "top1");
    ring(&SOFT, 0.0, "fill1");
    ring(&SOFT, FILL, "fill2");
    let to_the_millimetre = |value: f64| (value * 1000.0).round() / 1000.0;
    let mut points: Vec<Point> = Vec::new();
    for (e, n, code) in places {
        let (east, north) = (to_the_millimetre(e), to_the_millimetre(n));
        let apart = |p: &Point| libm::hypot(p.east - east, p.north - north) > 0.05;
        if points.iter().all(apart) {
            points.push(Point {
                east,
                north,
                height: ground(east, north) + reading(east, north),
                code,
            });
        }
    }
    points
}
