//! Lines made ready for a triangulation: single pieces between points, split where they cross.

use std::collections::HashMap;

use crate::plan::crossing::{self, End, Meeting};
use crate::plan::{Edge, Frame, Place};
use crate::surface::Vertex;

/// Where two lines cross, or a point of one stands on the other.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Crossing {
    /// The place, in grid coordinates.
    pub at: Place,
    /// The heights of the two lines there; of the line and the point that stands on it.
    pub heights: [f64; 2],
}

/// Pieces of lines, none of which crosses another.
pub(crate) struct Pieces {
    pub(crate) pieces: Vec<[usize; 2]>,
    pub(crate) crossings: Vec<Crossing>,
}

/// Splits `pieces` where they cross. New points, with the mean of the two heights, are added to
/// `points` (in grid coordinates) and `places` (in local ones).
pub(crate) fn split(
    frame: Frame,
    points: &mut Vec<Vertex>,
    places: &mut Vec<Place>,
    mut pieces: Vec<[usize; 2]>,
) -> Pieces {
    let resolution = frame.precision().length();
    for piece in &mut pieces {
        piece.sort_unstable();
    }
    pieces.retain(|[from, to]| from != to);
    pieces.sort_unstable();
    pieces.dedup();

    let edges: Vec<Edge> = (pieces.iter())
        .map(|&[from, to]| Edge {
            from: places[from],
            to: places[to],
        })
        .collect();
    let mut crossings = Vec::new();
    let mut known = HashMap::new();
    // For each piece that is crossed: how far along, and at which point.
    let mut cuts: Vec<(usize, f64, usize)> = Vec::new();
    crossing::each(&edges, |a, b, meeting| {
        let at = match meeting {
            Meeting::Cross(at) => at,
            Meeting::Touch(end) => {
                // The point of the one line holds in the other.
                let [from, to] = pieces[b];
                let point = if end == End::From { from } else { to };
                let share = along(&edges[a], places[point]);
                if heights_differ(points, pieces[a], share, point, resolution) {
                    let grid = points[point].place();
                    let heights = [height_along(points, pieces[a], share), points[point].height];
                    crossings.push(Crossing { at: grid, heights });
                }
                cuts.push((a, share, point));
                return true;
            }
        };
        let ends = [pieces[a], pieces[b]].concat();
        let near = |point: &usize| distance(places[*point], at) <= resolution;
        let point = match ends.into_iter().find(near) {
            Some(point) => point,
            None => {
                let heights = [a, b]
                    .map(|piece| height_along(points, pieces[piece], along(&edges[piece], at)));
                let cell = [at.east, at.north].map(|v| (v / (10.0 * resolution)).round() as i64);
                *known.entry(cell).or_insert_with(|| {
                    let grid = frame.to_grid(at);
                    crossings.push(Crossing { at: grid, heights });
                    let height = (heights[0] + heights[1]) / 2.0;
                    points.push(Vertex::new(grid.east, grid.north, height));
                    places.push(frame.to_local(grid.east, grid.north));
                    points.len() - 1
                })
            }
        };
        for piece in [a, b] {
            if !pieces[piece].contains(&point) {
                cuts.push((piece, along(&edges[piece], at), point));
            }
        }
        true
    });

    cuts.sort_unstable_by(|a, b| a.0.cmp(&b.0).then(a.1.total_cmp(&b.1)));
    for run in cuts.chunk_by(|a, b| a.0 == b.0) {
        let piece = run[0].0;
        let end = pieces[piece][1];
        let mut from = pieces[piece][0];
        for (index, &(_, _, point)) in run.iter().enumerate() {
            let part = [from, point];
            match index {
                0 => pieces[piece] = part,
                _ => pieces.push(part),
            }
            from = point;
        }
        pieces.push([from, end]);
    }
    pieces.retain(|[from, to]| from != to);
    Pieces { pieces, crossings }
}

fn height_along(points: &[Vertex], [from, to]: [usize; 2], share: f64) -> f64 {
    points[from].height + share * (points[to].height - points[from].height)
}

fn heights_differ(
    points: &[Vertex],
    piece: [usize; 2],
    share: f64,
    point: usize,
    resolution: f64,
) -> bool {
    (height_along(points, piece, share) - points[point].height).abs() > resolution
}

fn distance(a: Place, b: Place) -> f64 {
    libm::hypot(b.east - a.east, b.north - a.north)
}

/// How far along an edge a place on it lies, from zero to one.
pub(crate) fn along(edge: &Edge, at: Place) -> f64 {
    let (east, north) = (
        edge.to.east - edge.from.east,
        edge.to.north - edge.from.north,
    );
    let share = (at.east - edge.from.east) * east + (at.north - edge.from.north) * north;
    share / (east * east + north * north)
}
