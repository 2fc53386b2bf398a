//! Ground that stands clear of its surroundings: piles, found without an outline.

use std::cmp::{Ordering, Reverse};
use std::collections::BinaryHeap;

use rustc_hash::FxHashMap;

use crate::level_area::{kept, sorted_parts};
use crate::neighbours::{Neighbours, bits};
use crate::rings::holds;
use crate::zone::twice_area;
use crate::{Extent, Place, Plane, Tin, Vertex};

/// What counts as standing clear.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Clear {
    /// The height by which the top is to rise above the toe.
    pub by: f64,
    /// The plan area that it is to have at least.
    pub area: f64,
    /// The steepest rise, per unit of length, that still counts as the ground around.
    pub ground_slope: f64,
}

/// Ground that stands clear.
#[derive(Debug, Clone, PartialEq)]
pub struct Standing {
    /// Its outline along the toe, and the holes in it, closed, in grid coordinates.
    pub rings: Vec<Vec<Place>>,
    /// By how much its top rises above the plane through its toe.
    pub clear: f64,
    /// Its plan area.
    pub area: f64,
}

/// Shares of the height that is asked for: noise up to here is ground.
const LEAST_NOISE: f64 = 0.02;
/// Noise is this many times the middle one of what rises from the ground.
const NOISE: f64 = 3.0;

/// What stands clear of its surroundings, from west to east.
///
/// The ground around is taken to be the highest surface below this one that nowhere rises more steeply than ground
/// does: from each corner it may rise by that slope along the edges of facets, and it lies nowhere above a corner.
/// What rises from it by more than the noise of the heights is what stands on it; its outline is where that begins. Of
/// holes in it those are closed whose edge stands as high as the top must, or that are smaller than what is sought.
/// See `docs/methods.md`, "Piles without an outline".
pub fn standing(tin: &Tin, clear: &Clear) -> Vec<Standing> {
    let mut over = ground_below(tin, clear.ground_slope);
    for (value, vertex) in over.iter_mut().zip(tin.vertices()) {
        *value = vertex.height - *value;
    }
    let noise = noise(&over, clear.by);
    over.iter_mut().for_each(|value| *value -= noise);
    // Where nothing rises there is nothing to be found.
    let Ok(risen) = kept(tin, &over) else {
        return Vec::new();
    };
    let heights: FxHashMap<[u64; 2], f64> = risen
        .vertices()
        .iter()
        .map(|vertex| (bits(vertex.place()), vertex.height))
        .collect();
    let sorted = by_east(&risen);
    let frame = tin.frame();
    let mut found: Vec<(f64, Standing)> = Vec::new();
    for mut part in sorted_parts(&risen) {
        let ring = part[0].clone();
        if twice_area(&ring) / 2.0 < clear.area {
            // The largest come first.
            break;
        }
        let lines = |ring: &[Place]| -> Vec<[Vertex; 2]> {
            let lifted = |at: &Place| {
                let height = heights.get(&bits(*at)).copied().unwrap_or_default();
                Vertex::new(at.east, at.north, height)
            };
            let next = ring.iter().cycle().skip(1);
            ring.iter()
                .zip(next)
                .map(|(a, b)| [lifted(a), lifted(b)])
                .collect()
        };
        let Some(plane) = Plane::fitted(&lines(&ring)) else {
            continue;
        };
        let extent = Extent::of(ring.iter().copied());
        let first = sorted.partition_point(|vertex| vertex.east < extent.min.east);
        let own = sorted[first..].iter();
        let own = own.take_while(|vertex| vertex.east <= extent.max.east);
        let own = own.filter(|vertex| holds(&ring, vertex.place()));
        let above = |vertex: &Vertex| vertex.height - plane.at(vertex.place());
        let top = own.map(above).fold(f64::NEG_INFINITY, f64::max);
        if top < clear.by {
            continue;
        }
        let mut index = 0;
        part.retain(|ring| {
            index += 1;
            let edge = lines(ring);
            let rim = edge.iter().map(|[from, _]| above(from)).sum::<f64>() / edge.len() as f64;
            index == 1 || (-twice_area(ring) / 2.0 >= clear.area && rim < clear.by)
        });
        let area = part.iter().map(|ring| twice_area(ring)).sum::<f64>() / 2.0;
        let closed = |ring: Vec<Place>| {
            let closed = ring.iter().chain(ring.first());
            closed.map(|&place| frame.to_grid(place)).collect()
        };
        found.push((
            extent.middle().east,
            Standing {
                rings: part.into_iter().map(closed).collect(),
                clear: top,
                area,
            },
        ));
    }
    found.sort_by(|a, b| a.0.total_cmp(&b.0));
    found.into_iter().map(|(_, standing)| standing).collect()
}

fn by_east(tin: &Tin) -> Vec<Vertex> {
    let mut vertices = tin.vertices().to_vec();
    vertices.sort_by(|a, b| a.east.total_cmp(&b.east));
    vertices
}

/// How much heights scatter about the ground: what rises less than half of what is sought is ground for the most part.
fn noise(over: &[f64], by: f64) -> f64 {
    let mut low: Vec<f64> = over.iter().copied().filter(|&v| v < by / 2.0).collect();
    let middle = match low.len() {
        0 => 0.0,
        count => *low.select_nth_unstable_by(count / 2, f64::total_cmp).1,
    };
    (NOISE * middle).max(LEAST_NOISE * by)
}

/// The ground at a corner, by how low it is.
#[derive(PartialEq)]
struct Ground {
    height: f64,
    vertex: u32,
}

impl Eq for Ground {}

impl Ord for Ground {
    fn cmp(&self, other: &Self) -> Ordering {
        let by_height = self.height.total_cmp(&other.height);
        by_height.then(self.vertex.cmp(&other.vertex))
    }
}

impl PartialOrd for Ground {
    fn partial_cmp(&self, other: &Self) -> Option<Ordering> {
        Some(self.cmp(other))
    }
}

/// At each vertex the least, over all vertices, of a height and the rise by a slope along the shortest way from there:
/// lowest first, as E. W. Dijkstra finds shortest ways (Numerische Mathematik 1, 1959).
fn ground_below(tin: &Tin, slope: f64) -> Vec<f64> {
    let vertices = tin.vertices();
    let near = Neighbours::of(tin);
    let mut ground: Vec<f64> = vertices.iter().map(|vertex| vertex.height).collect();
    let all = (0u32..).zip(&ground);
    let all = all.map(|(vertex, &height)| Reverse(Ground { height, vertex }));
    let mut ahead: BinaryHeap<_> = all.collect();
    while let Some(Reverse(Ground { height, vertex })) = ahead.pop() {
        if height > ground[vertex as usize] {
            continue;
        }
        let here = vertices[vertex as usize];
        for &next in near.of_vertex(vertex) {
            let there = vertices[next as usize];
            let length = (there.east - here.east).hypot(there.north - here.north);
            let risen = height + slope * length;
            if risen < ground[next as usize] {
                ground[next as usize] = risen;
                ahead.push(Reverse(Ground {
                    height: risen,
                    vertex: next,
                }));
            }
        }
    }
    ground
}
