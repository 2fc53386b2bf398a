//! Where edges cross.

use robust::{Coord, orient2d};

use crate::plan::cross;
use crate::{Edge, Extent, Place};

/// Visits the pairs of edges that cross, decided exactly, until `visit` says stop; touching is not
/// crossing. Edges are told by their index.
pub(crate) fn each(edges: &[Edge], mut visit: impl FnMut(usize, usize, Place) -> bool) {
    let extents: Vec<Extent> = edges.iter().map(|e| Extent::of([e.from, e.to])).collect();
    let mut order: Vec<u32> = (0..edges.len() as u32).collect();
    let extent = |index: u32| &extents[index as usize];
    let east = |index: u32| extent(index).min.east;
    order.sort_unstable_by(|&a, &b| east(a).total_cmp(&east(b)).then(a.cmp(&b)));
    for (position, &index) in order.iter().enumerate() {
        let reach = extent(index);
        let reached = (order[position + 1..].iter()).take_while(|&&e| east(e) <= reach.max.east);
        for &other in reached.filter(|&&e| extent(e).meets(reach)) {
            let (a, b) = (&edges[index as usize], &edges[other as usize]);
            let again =
                !cross_each_other(a, b) || visit(index as usize, other as usize, meeting(a, b));
            if !again {
                return;
            }
        }
    }
}

fn cross_each_other(a: &Edge, b: &Edge) -> bool {
    let side = |e: &Edge, p: Place| {
        let at = |p: Place| Coord {
            x: p.east,
            y: p.north,
        };
        orient2d(at(e.from), at(e.to), at(p))
    };
    let apart = |s: f64, t: f64| (s > 0.0 && t < 0.0) || (s < 0.0 && t > 0.0);
    apart(side(a, b.from), side(a, b.to)) && apart(side(b, a.from), side(b, a.to))
}

fn meeting(a: &Edge, b: &Edge) -> Place {
    let (from, to) = (cross(b.from, b.to, a.from), cross(b.from, b.to, a.to));
    let t = from / (from - to);
    Place::new(
        a.from.east + t * (a.to.east - a.from.east),
        a.from.north + t * (a.to.north - a.from.north),
    )
}
