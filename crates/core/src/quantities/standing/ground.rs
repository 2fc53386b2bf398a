//! The ground around what stands on it.

use std::cmp::{Ordering, Reverse};
use std::collections::BinaryHeap;

use super::length;
use crate::surface::Tin;
use crate::surface::neighbours::Neighbours;

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
pub(super) fn ground_below(tin: &Tin, near: &Neighbours, slope: f64) -> Vec<f64> {
    let vertices = tin.vertices();
    let mut ground: Vec<f64> = vertices.iter().map(|vertex| vertex.height).collect();
    let all = (0u32..).zip(&ground);
    let all = all.map(|(vertex, &height)| Reverse(Ground { height, vertex }));
    let mut ahead: BinaryHeap<_> = all.collect();
    while let Some(Reverse(Ground { height, vertex })) = ahead.pop() {
        if height > ground[vertex as usize] {
            continue;
        }
        for &next in near.of_vertex(vertex) {
            let risen = height + slope * length(tin, vertex, next);
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
