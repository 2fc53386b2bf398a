//! On which side of a line a place stands, decided exactly.

use robust::{Coord, orient2d};

use crate::plan::Place;

/// Above zero where `at` stands on the left of the line through `from` and `to`, below on its right, zero on the line
/// itself. The sign is right for any coordinates (Shewchuk, "Adaptive Precision Floating-Point Arithmetic and Fast Robust
/// Geometric Predicates", 1997): where two edges share a line, or two zones an edge, no place falls between them.
pub(crate) fn side(from: Place, to: Place, at: Place) -> f64 {
    let [from, to, at] = [from, to, at].map(|place| Coord {
        x: place.east,
        y: place.north,
    });
    orient2d(from, to, at)
}
