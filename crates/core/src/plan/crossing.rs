//! Where edges meet.

use crate::plan::cells::Rows;
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

/// Edges that are swept together, about.
const ABREAST: usize = 32;

/// Visits the pairs of edges that meet other than at their ends, decided exactly, until `visit` says
/// stop. Edges are known by their index.
///
/// Rows from south to north are swept one by one from west to east, so that it does not matter which way a site stretches. A pair that
/// shares several rows is looked at in the first of them.
pub(crate) fn each(edges: &[Edge], mut visit: impl FnMut(usize, usize, Meeting) -> bool) {
    let extents: Vec<Extent> = edges.iter().map(|e| Extent::of([e.from, e.to])).collect();
    let rows = rows(&extents);
    let reach = |index: u32| {
        let Extent { min, max } = &extents[index as usize];
        rows.between(min.north, max.north)
    };
    let mut starts = vec![0_usize; rows.count() + 1];
    for index in 0..edges.len() as u32 {
        reach(index).for_each(|row| starts[row + 1] += 1);
    }
    for row in 0..rows.count() {
        starts[row + 1] += starts[row];
    }
    let mut within = vec![0_u32; starts[rows.count()]];
    let mut ends = starts.clone();
    for index in 0..edges.len() as u32 {
        for row in reach(index) {
            within[ends[row]] = index;
            ends[row] += 1;
        }
    }
    let extent = |index: u32| &extents[index as usize];
    let east = |index: u32| extent(index).min.east;
    for row in 0..rows.count() {
        let order = &mut within[starts[row]..starts[row + 1]];
        order.sort_unstable_by(|&a, &b| east(a).total_cmp(&east(b)).then(a.cmp(&b)));
        for (position, &index) in order.iter().enumerate() {
            let own = extent(index);
            let first = *reach(index).start();
            let reached = (order[position + 1..].iter()).take_while(|&&e| east(e) <= own.max.east);
            for &other in reached.filter(|&&e| extent(e).meets(own)) {
                let is_first = first.max(*reach(other).start()) == row;
                if is_first && !meet(edges, index as usize, other as usize, &mut visit) {
                    return;
                }
            }
        }
    }
}

/// Rows that are as high as edges are on the whole, and not so many that they are empty.
fn rows(extents: &[Extent]) -> Rows {
    let all = extents
        .iter()
        .fold(Extent::EMPTY, |all, own| all.union(own));
    let height = all.max.north - all.min.north;
    let most = extents.len() / ABREAST + 1;
    let whole: f64 = extents.iter().map(Extent::height).sum();
    let fitting = (height * extents.len() as f64 / whole).min(most as f64);
    // Edges in one line from west to east make no rows.
    match height > 0.0 && fitting >= 1.0 {
        true => Rows::new([all.min.north, all.max.north], fitting as usize),
        false => Rows::new([0.0, 1.0], 1),
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

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    fn sorted(mut found: Vec<(usize, usize, String)>) -> Vec<(usize, usize, String)> {
        found.sort();
        found
    }

    proptest! {
        /// The same pairs as where each is held against each, whichever way the edges stretch, each once.
        #[test]
        fn every_pair_is_found_once(
            ends in prop::collection::vec((-9..9_i32, -9..9_i32, -3..4_i32, -3..4_i32), 2..150),
            stretch in prop::sample::select(vec![[1.0, 1.0], [1.0, 400.0], [400.0, 1.0], [0.0, 1.0], [1.0, 0.0]]),
            long in 1..4_i32,
        ) {
            let place = |e: i32, n: i32| Place::new(f64::from(e) * stretch[0], f64::from(n) * stretch[1]);
            let edges: Vec<Edge> = (ends.iter())
                .map(|&(e, n, de, dn)| Edge { from: place(e, n), to: place(e + long * de, n + dn) })
                .collect();
            let (mut swept, mut all) = (Vec::new(), Vec::new());
            let named = |a: usize, b: usize, meeting: Meeting| match meeting {
                Meeting::Cross(_) => (a.min(b), a.max(b), "cross".to_owned()),
                Meeting::Touch(end) => (a, b, format!("{end:?}")),
            };
            each(&edges, |a, b, meeting| {
                swept.push(named(a, b, meeting));
                true
            });
            for a in 0..edges.len() {
                for b in a + 1..edges.len() {
                    meet(&edges, a, b, &mut |a, b, meeting| {
                        all.push(named(a, b, meeting));
                        true
                    });
                }
            }
            prop_assert_eq!(sorted(swept), sorted(all));
        }
    }
}
