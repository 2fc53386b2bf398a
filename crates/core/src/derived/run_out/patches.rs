//! The planes that slopes are made of, each where it may hold.

use std::f64::consts::TAU;

use libm::{acos, atan2, hypot, sincos};
use rustc_hash::{FxHashMap, FxHashSet};

use super::SideSlope;
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
            edge.distance(place)
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

    /// How far one comes square to it for a unit of distance on the steepest way.
    fn square(&self) -> f64 {
        self.out[0] * self.down[0] + self.out[1] * self.down[1]
    }

    /// The planes beside it, one for each part of the slope: bounded at its ends by the way down, where another edge follows, so
    /// that the two meet there; square to it where none does.
    fn strips(&self, parts: &[[f64; 2]]) -> Vec<Patch> {
        let square = self.square();
        let aside = |v: &Vertex, joined: bool, far: f64| {
            let (way, far) = match joined {
                true => (self.down, far / square),
                false => (self.out, far),
            };
            Place::new(v.east + way[0] * far, v.north + way[1] * far)
        };
        let (from, to) = (&self.from, &self.to);
        let out = |v: &Vertex, [far, drop]: [f64; 2]| {
            Vertex::new(
                v.east + self.out[0] * far,
                v.north + self.out[1] * far,
                v.height - drop,
            )
        };
        let patch = |pair: &[[f64; 2]]| {
            let [near, far] = [pair[0], pair[1]];
            Patch {
                corners: vec![
                    aside(from, self.joined[0], near[0]),
                    aside(from, self.joined[0], far[0]),
                    aside(to, self.joined[1], far[0]),
                    aside(to, self.joined[1], near[0]),
                ],
                plane: Plane::through(out(from, near), out(from, far), out(to, near)),
            }
        };
        parts.windows(2).map(patch).collect()
    }
}

impl EdgeSlope {
    /// How far out on its steepest way, and how far down, the parts of the slope end, as far as `length`.
    fn down_steps(&self, side: &SideSlope, length: f64) -> Option<Vec<[f64; 2]>> {
        let square = self.square();
        // Along the edge it falls too, by as much as the steepest way goes along it.
        let along = self.steepest - square / side.run;
        let rows = parts(side, length * square)?;
        let step = |&[far, drop]: &[f64; 2]| [far / square, drop + along * far / square];
        Some(rows.iter().skip(1).map(step).collect())
    }
}

/// How far out, and how far down, the parts of a slope end, from its start on, as far as `length`; `None` where they would be more than
/// anybody needs.
fn parts(side: &SideSlope, length: f64) -> Option<Vec<[f64; 2]>> {
    let mut parts = vec![[0.0, 0.0]];
    let mut at = [0.0, 0.0];
    while let Some(bench) = side.bench {
        for [far, drop] in [
            [side.run * bench.every, bench.every],
            [bench.width, bench.width * bench.fall],
        ] {
            let next = [at[0] + far, at[1] + drop];
            if next[0] >= length {
                let share = (length - at[0]) / far;
                parts.push([length, at[1] + share * drop]);
                return Some(parts);
            }
            at = next;
            parts.push(at);
        }
        if parts.len() > MOST {
            return None;
        }
    }
    parts.push([length, length / side.run]);
    Some(parts)
}

/// The planes that fall from the rim as a slope does, so far as `length` in plan: those beside each edge, which fall so square to
/// the edge; and at corners those of a cone, as many as keep it within `chord`. None where that would be too many.
///
/// What is seen is the highest of all. Beside an edge that falls itself the plane is steeper than the slope, and steepest
/// aslant. As if a cone of that steepness stood at each place of the edge, the plane goes over into one at its ends: so
/// the whole is continuous, however edges bend and fall. Of two cones at one corner the flatter one is seen: between the
/// ways down of its two edges, and past that of the steeper one as far as it stands above its plane.
pub(super) fn patches(rim: &Rim, side: &SideSlope, length: f64, chord: f64) -> Option<Vec<Patch>> {
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
            EdgeSlope::of(*from, *to, side.run, joined)
        })
        .collect();
    let rows = parts(side, length)?;
    if beside.len().saturating_mul(rows.len()) > MOST {
        return None;
    }
    let mut patches: Vec<Patch> = (beside.iter())
        .flat_map(|edge| edge.strips(&rows))
        .collect();
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
            let turned = (turn / part).ceil().max(1.0);
            let count = turned * rows.len() as f64 + patches.len() as f64;
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
                parts: turned,
                steps: flatter.down_steps(side, length)?,
            };
            for index in 0..turned as u32 {
                let [mut one, mut other] =
                    [index, index + 1].map(|index| fan.ray(f64::from(index)));
                if !first {
                    std::mem::swap(&mut one, &mut other);
                }
                let [mut near, mut near_other] = [before.to; 2];
                for (far, far_other) in one.into_iter().zip(other) {
                    // The first part is a triangle, the others are strips.
                    let mut corners = vec![near.place(), far.place(), far_other.place()];
                    if near != near_other {
                        corners.push(near_other.place());
                    }
                    patches.push(Patch {
                        corners,
                        plane: Plane::through(near, far, far_other),
                    });
                    (near, near_other) = (far, far_other);
                }
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
    /// How far out on a ray, and how far down, the parts of the slope end.
    steps: Vec<[f64; 2]>,
}

impl Fan {
    fn ray(&self, index: f64) -> Vec<Vertex> {
        let (sin, cos) = sincos(self.turn * index / self.parts);
        let [e, n] = self.start;
        let way = match self.end {
            Some(end) if index == self.parts => end,
            _ if index == 0.0 => self.start,
            _ => [e * cos - n * sin, e * sin + n * cos],
        };
        let vertex = |&[far, drop]: &[f64; 2]| {
            Vertex::new(
                self.at.east + way[0] * far,
                self.at.north + way[1] * far,
                self.at.height - drop,
            )
        };
        self.steps.iter().map(vertex).collect()
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
