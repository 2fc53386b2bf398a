//! Pieces of the plan, each with heights at its corners, put together as a surface.

use std::collections::HashMap;

use crate::plan::RESOLUTION;
use crate::{Frame, Tin, TinError, Vertex};

/// Makes a surface of convex pieces in local coordinates, each parted from its first corner.
///
/// Corners that are told apart by less than coordinates resolve are one. Pieces side by side at different
/// heights stay so: what stands between them is a vertical step.
///
/// # Errors
///
/// When no piece has a plan area.
pub(crate) fn collect(
    frame: Frame,
    pieces: impl IntoIterator<Item = Vec<Vertex>>,
) -> Result<Tin, TinError> {
    let mut numbers = HashMap::new();
    let mut vertices = Vec::new();
    let mut number = |v: Vertex| {
        let key = [v.east, v.north, v.height].map(|value| (value / RESOLUTION).round() as i64);
        *numbers.entry(key).or_insert_with(|| {
            let grid = frame.to_grid(v.place());
            vertices.push(Vertex::new(grid.east, grid.north, v.height));
            vertices.len() as u32 - 1
        })
    };
    let mut facets = Vec::new();
    for piece in pieces {
        let piece: Vec<u32> = piece.into_iter().map(&mut number).collect();
        let fan = (2..piece.len()).map(|i| [piece[0], piece[i - 1], piece[i]]);
        facets.extend(fan.filter(|[a, b, c]| a != b && b != c && c != a));
    }
    Tin::from_facets(frame, vertices, facets)
}
