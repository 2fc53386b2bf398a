//! The planes that slopes are made of, each where it may hold.

use std::f64::consts::TAU;

use super::distance;
use crate::outline::unshared;
use crate::{Edge, Place, Plane, Top, Vertex};

/// The edges that slopes start from, with the top on their left.
pub(super) struct Rim {
    edges: Vec<[Vertex; 2]>,
}

/// A plane, and the convex part of the plan where it may hold.
pub(super) struct Patch {
    pub(super) corners: Vec<Place>,
    pub(super) plane: Plane,
}

impl Rim {
    /// The rim of a top, its heights times `sign`.
    pub(super) fn of(top: &Top, sign: f64) -> Self {
        let tin = top.surface();
        let sloping = unshared(tin)
            .into_iter()
            .filter(|edge| !top.is_upright(*edge));
        let vertex = |index: u32| {
            let v = tin.vertices()[index as usize];
            Vertex::new(v.east, v.north, sign * v.height)
        };
        Rim {
            edges: sloping.map(|edge| edge.map(vertex)).collect(),
        }
    }

    /// How far a place is from the rim.
    pub(super) fn distance(&self, place: Place) -> f64 {
        let distances = self.edges.iter().map(|[from, to]| {
            let edge = Edge {
                from: from.place(),
                to: to.place(),
            };
            distance(&edge, place)
        });
        distances.fold(f64::INFINITY, f64::min)
    }
}

/// The planes that fall from the rim, `run` in plan for each unit of height, so far as `length` in plan:
/// one beside each edge, and at outer corners as many as keep the cone within `chord`.
pub(super) fn patches(rim: &Rim, run: f64, length: f64, chord: f64) -> Vec<Patch> {
    let mut patches = Vec::new();
    for [from, to] in &rim.edges {
        let out = outwards(from, to);
        let beyond = |v: &Vertex| {
            Vertex::new(
                v.east + out[0] * length,
                v.north + out[1] * length,
                v.height - length / run,
            )
        };
        let corners = [*from, beyond(from), beyond(to), *to];
        patches.push(Patch {
            corners: corners.map(Vertex::place).to_vec(),
            plane: Plane::through(*from, beyond(from), *to),
        });
    }
    // As many parts of a full turn as keep chords close to the circle.
    let part = 2.0 * (1.0 - (chord / length).min(0.25)).acos();
    for [before, at] in &rim.edges {
        for [_, after] in rim
            .edges
            .iter()
            .filter(|[from, _]| from.place() == at.place())
        {
            let [from, to] = [outwards(before, at), outwards(at, after)];
            let turn = (from[0] * to[1] - from[1] * to[0]).atan2(from[0] * to[0] + from[1] * to[1]);
            if turn <= 1e-9 || turn >= TAU / 2.0 {
                continue;
            }
            let parts = (turn / part).ceil().max(1.0);
            let ray = |index: f64| {
                let (sin, cos) = (turn * index / parts).sin_cos();
                let way = match index {
                    0.0 => from,
                    last if last == parts => to,
                    _ => [from[0] * cos - from[1] * sin, from[0] * sin + from[1] * cos],
                };
                Vertex::new(
                    at.east + way[0] * length,
                    at.north + way[1] * length,
                    at.height - length / run,
                )
            };
            for index in 0..parts as u32 {
                let corners = [*at, ray(f64::from(index)), ray(f64::from(index + 1))];
                patches.push(Patch {
                    corners: corners.map(Vertex::place).to_vec(),
                    plane: Plane::through(corners[0], corners[1], corners[2]),
                });
            }
        }
    }
    patches
}

/// The unit vector square to an edge, on its right.
fn outwards(from: &Vertex, to: &Vertex) -> [f64; 2] {
    let (e, n) = (to.east - from.east, to.north - from.north);
    let length = e.hypot(n);
    [n / length, -e / length]
}
