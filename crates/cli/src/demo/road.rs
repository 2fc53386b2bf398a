//! The formation of the haul road as it was dug and rolled: a pick-up of a finished stretch, with one spot too high and one too low.

use super::terrain::{Point, reading};

/// Ends of the stretch, with the height of the road there.
const FROM: (f64, f64, f64) = (304.0, 108.0, 24.4);
const TO: (f64, f64, f64) = (128.0, 106.0, 24.5);
/// The layers of the running lane.
const LAYERS: f64 = 0.55;
/// Rows of points are so far apart, and begin and end clear of the bend and the end of the line.
const STEP: f64 = 4.0;
const CLEAR: f64 = 10.0;
/// Points of a row, to the right of the line, clear of both edges of the lane.
const ACROSS: [f64; 4] = [-1.6, 0.5, 2.5, 4.6];

/// What the grader left: a spot too high and a spot too low, by the distance along the stretch and to the right of it.
fn off(along: f64, right: f64) -> f64 {
    let spot = |at: (f64, f64), high: f64| {
        let square = ((along - at.0) / 7.0).powi(2) + ((right - at.1) / 2.0).powi(2);
        high * libm::exp(-square)
    };
    spot((58.0, 3.0), 0.042) + spot((122.0, 0.0), -0.055)
}

/// The points that were taken.
pub(super) fn pick_up() -> Vec<Point> {
    let (run, across) = (TO.0 - FROM.0, TO.1 - FROM.1);
    let length = libm::hypot(run, across);
    let (east, north) = (run / length, across / length);
    let rows = ((length - 2.0 * CLEAR) / STEP) as usize;
    let mut points = Vec::new();
    for row in 0..=rows {
        let along = CLEAR + STEP * row as f64;
        for right in ACROSS {
            let to_the_millimetre = |value: f64| (value * 1000.0).round() / 1000.0;
            // To the right of the way: a quarter turn clockwise.
            let e = to_the_millimetre(FROM.0 + along * east + right * north);
            let n = to_the_millimetre(FROM.1 + along * north - right * east);
            let design = FROM.2 + (TO.2 - FROM.2) * along / length - LAYERS;
            points.push(Point {
                east: e,
                north: n,
                height: design + off(along, right) + 0.6 * reading(e, n),
                code: "formation",
            });
        }
    }
    points
}
