//! The planes that slopes are made of, each where it may hold.

use std::f64::consts::TAU;

use libm::{acos, atan2, hypot, sincos};
use rustc_hash::{FxHashMap, FxHashSet};

use super::distance;
use crate::derived::Top;
use crate::plan::{Edge, Place, RELATIVE};
use crate::surface::Plane;
use crate::surface::Vertex;
use crate::surface::neighbours::bits;
use crate::surface::outline::unshared;

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

/// Planes that slopes are made of, at most.
pub(super) const MOST: usize = 10_000;

/// An edge of the rim, and the slope beside it.
struct EdgeSlope {
    from: Vertex,
    to: Vertex,
    /// Square to it, away from the top.
    out: [f64; 2],
    /// The way in which the slope is steepest, and how steep it is there.
    down: [f64; 2],
    steepest: f64,
    /// Whether another edge follows on its start, and on its end.
    joined: [bool; 2],
}

impl EdgeSlope {
    fn of(from: Vertex, to: Vertex, run: f64, joined: [bool; 2]) -> Self {
        let out = outwards(&from, &to);
        let length = hypot(to.east - from.east, to.north - from.north);
        // The fall along the edge, of a unit of length; its way is the one on the left of the way out.
        let along = [-out[1], out[0]];
        let fall = (from.height - to.height) / length;
        let square = 1.0 / run;
        let steepest = hypot(square, fall);
        let down = [0, 1].map(|axis| (out[axis] * square + along[axis] * fall) / steepest);
        EdgeSlope {
            from,
            to,
            out,
            down,
            steepest,
            joined,
        }
    }

    /// The plane beside it: bounded at its ends by the way down, where another edge follows, so that the two meet there;
    /// square to it where none does.
    fn strip(&self, run: f64, length: f64) -> Patch {
        let square = self.out[0] * self.down[0] + self.out[1] * self.down[1];
        let beyond = |v: &Vertex, joined: bool| {
            let (way, far) = match joined {
                true => (self.down, length / square),
                false => (self.out, length),
            };
            Place::new(v.east + way[0] * far, v.north + way[1] * far)
        };
        let (from, to) = (&self.from, &self.to);
        let third = Vertex::new(
            from.east + self.out[0] * length,
            from.north + self.out[1] * length,
            from.height - length / run,
        );
        Patch {
            corners: vec![
                from.place(),
                beyond(from, self.joined[0]),
                beyond(to, self.joined[1]),
                to.place(),
            ],
            plane: Plane::through(*from, third, *to),
        }
    }
}

/// The planes that fall from the rim, `run` in plan for each unit of height, so far as `length` in plan: one beside each
/// edge, which falls by that square to the edge; and at corners those of a cone, as many as keep it within `chord`. None
/// where that would be too many.
///
/// What is seen is the highest of all. Beside an edge that falls itself the plane is steeper than the slope, and steepest
/// aslant. As if a cone of that steepness stood at each place of the edge, the plane goes over into one at its ends: so
/// the whole is continuous, however edges bend and fall. Of two cones at one corner the flatter one is seen: between the
/// ways down of its two edges, and past that of the steeper one as far as it stands above its plane.
pub(super) fn patches(rim: &Rim, run: f64, length: f64, chord: f64) -> Option<Vec<Patch>> {
    let key = |v: &Vertex| bits(v.place());
    let mut starts: FxHashMap<[u64; 2], Vec<usize>> = FxHashMap::default();
    let mut ends: FxHashSet<[u64; 2]> = FxHashSet::default();
    for (index, [from, to]) in rim.edges.iter().enumerate() {
        starts.entry(key(from)).or_default().push(index);
        ends.insert(key(to));
    }
    let beside: Vec<EdgeSlope> = (rim.edges.iter())
        .map(|[from, to]| {
            let joined = [ends.contains(&key(from)), starts.contains_key(&key(to))];
            EdgeSlope::of(*from, *to, run, joined)
        })
        .collect();
    let mut patches: Vec<Patch> = beside.iter().map(|edge| edge.strip(run, length)).collect();
    // As many parts of a full turn as keep chords close to the circle.
    let part = 2.0 * acos(1.0 - (chord / length).min(0.25));
    for before in &beside {
        for &after in starts.get(&key(&before.to)).into_iter().flatten() {
            let after = &beside[after];
            let flatter = if before.steepest <= after.steepest {
                before
            } else {
                after
            };
            let steeper = before.steepest.max(after.steepest);
            let past = acos((flatter.steepest / steeper).min(1.0));
            let turn = turn(before.down, after.down) + past;
            if turn <= RELATIVE || turn >= TAU / 2.0 {
                continue;
            }
            let parts = (turn / part).ceil().max(1.0);
            let count = parts + patches.len() as f64;
            if count.is_nan() || count > MOST as f64 {
                return None;
            }
            // From the way down of the one edge on, or back from that of the other.
            let first = std::ptr::eq(flatter, before);
            let fan = Fan {
                at: before.to,
                start: if first { before.down } else { after.down },
                turn: if first { turn } else { -turn },
                // Where both are as steep the fan ends at the way down of the other one to the bit.
                end: (past == 0.0).then_some(if first { after.down } else { before.down }),
                parts,
                length,
                steepest: flatter.steepest,
            };
            for index in 0..parts as u32 {
                let [one, other] = [index, index + 1].map(|index| fan.ray(f64::from(index)));
                let corners = if first {
                    [before.to, one, other]
                } else {
                    [before.to, other, one]
                };
                patches.push(Patch {
                    corners: corners.map(Vertex::place).to_vec(),
                    plane: Plane::through(corners[0], corners[1], corners[2]),
                });
            }
        }
    }
    (patches.len() <= MOST).then_some(patches)
}

/// The rays of a part of a cone.
struct Fan {
    at: Vertex,
    start: [f64; 2],
    turn: f64,
    end: Option<[f64; 2]>,
    parts: f64,
    length: f64,
    steepest: f64,
}

impl Fan {
    fn ray(&self, index: f64) -> Vertex {
        let (sin, cos) = sincos(self.turn * index / self.parts);
        let [e, n] = self.start;
        let way = match self.end {
            Some(end) if index == self.parts => end,
            _ if index == 0.0 => self.start,
            _ => [e * cos - n * sin, e * sin + n * cos],
        };
        Vertex::new(
            self.at.east + way[0] * self.length,
            self.at.north + way[1] * self.length,
            self.at.height - self.length * self.steepest,
        )
    }
}

/// The turn from one way to another, to the left where it is positive.
fn turn(from: [f64; 2], to: [f64; 2]) -> f64 {
    let (sin, cos) = (
        from[0] * to[1] - from[1] * to[0],
        from[0] * to[0] + from[1] * to[1],
    );
    atan2(sin, cos)
}

/// The unit vector square to an edge, on its right.
fn outwards(from: &Vertex, to: &Vertex) -> [f64; 2] {
    let (e, n) = (to.east - from.east, to.north - from.north);
    let length = hypot(e, n);
    [n / length, -e / length]
}
