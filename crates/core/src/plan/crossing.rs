//! Where edges meet.

use crate::plan::cross;
use crate::plan::side::side;
use crate::plan::{Edge, Extent, Place};

/// How two edges meet.
#[derive(Debug, Clone, Copy, PartialEq)]
pub(crate) enum Meeting {
    /// They cross within both.
    Cross(Place),
    /// An end of the second stands within the first.
    Touch(End),
}

/// An end of an edge.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(crate) enum End {
    From,
    To,
}

/// Visits the pairs of edges that meet other than at their ends, decided exactly, until `visit` says
/// stop. Edges are known by their index.
pub(crate) fn each(edges: &[Edge], mut visit: impl FnMut(usize, usize, Meeting) -> bool) {
    let extents: Vec<Extent> = edges.iter().map(|e| Extent::of([e.from, e.to])).collect();
    let mut order: Vec<u32> = (0..edges.len() as u32).collect();
    let extent = |index: u32| &extents[index as usize];
    let east = |index: u32| extent(index).min.east;
    order.sort_unstable_by(|&a, &b| east(a).total_cmp(&east(b)).then(a.cmp(&b)));
    for (position, &index) in order.iter().enumerate() {
        let reach = extent(index);
        let reached = (order[position + 1..].iter()).take_while(|&&e| east(e) <= reach.max.east);
        for &other in reached.filter(|&&e| extent(e).meets(reach)) {
            let (a, b) = (index as usize, other as usize);
            if !meet(edges, a, b, &mut visit) {
                return;
            }
        }
    }
}

/// Visits how two edges meet; false when `visit` says stop.
fn meet(
    edges: &[Edge],
    a: usize,
    b: usize,
    visit: &mut impl FnMut(usize, usize, Meeting) -> bool,
) -> bool {
    let (first, second) = (&edges[a], &edges[b]);
    let [from, to] = [second.from, second.to].map(|p| side(first.from, first.to, p));
    let [own_from, own_to] = [first.from, first.to].map(|p| side(second.from, second.to, p));
    let apart = |s: f64, t: f64| (s > 0.0 && t < 0.0) || (s < 0.0 && t > 0.0);
    if apart(from, to) && apart(own_from, own_to) {
        return visit(a, b, Meeting::Cross(meeting(first, second)));
    }
    let ends = [
        (from, a, b, second.from, End::From),
        (to, a, b, second.to, End::To),
        (own_from, b, a, first.from, End::From),
        (own_to, b, a, first.to, End::To),
    ];
    ends.into_iter()
        .filter(|&(side, line, _, place, _)| side == 0.0 && is_between(&edges[line], place))
        .all(|(_, line, other, _, end)| visit(line, other, Meeting::Touch(end)))
}

/// True when a place in line with an edge lies between its ends.
fn is_between(edge: &Edge, place: Place) -> bool {
    let along = |p: Place| {
        (p.east - edge.from.east) * (edge.to.east - edge.from.east)
            + (p.north - edge.from.north) * (edge.to.north - edge.from.north)
    };
    let at = along(place);
    place != edge.from && place != edge.to && 0.0 < at && at < along(edge.to)
}

fn meeting(a: &Edge, b: &Edge) -> Place {
    let (from, to) = (cross(b.from, b.to, a.from), cross(b.from, b.to, a.to));
    let t = from / (from - to);
    Place::new(
        a.from.east + t * (a.to.east - a.from.east),
        a.from.north + t * (a.to.north - a.from.north),
    )
}
