//! Edges chained to closed rings, and rings put into each other.

use rustc_hash::FxHashMap;

use crate::plan::membership::holds;
use crate::plan::{Edge, Extent, Place, RELATIVE};
use crate::surface::neighbours::bits;
use crate::zones::{ring_edges, twice_area};

/// An outer ring and the holes in it, not closed by their first corner.
pub(crate) type Part = Vec<Vec<Place>>;

/// The parts that some edges bound, which have the ground on their left and form closed chains. Where several rings
/// meet at a corner, each stays a ring of its own.
pub(crate) fn parts(edges: &[Edge]) -> Vec<Part> {
    let rings = rings(edges);
    let (outer, holes): (Vec<_>, Vec<_>) =
        rings.into_iter().partition(|ring| twice_area(ring) > 0.0);
    let mut parts: Vec<Part> = outer.into_iter().map(|ring| vec![ring]).collect();
    let extents: Vec<Extent> = parts.iter().map(|part| extent(&part[0])).collect();
    for hole in holes.into_iter().filter(|hole| twice_area(hole) < 0.0) {
        let own = extent(&hole);
        // A place within the hole, just beside an edge, is within what the hole is in.
        let inside = beside(&hole);
        let within =
            |&part: &usize| extents[part].holds(&own) && holds(ring_edges(&parts[part][0]), inside);
        let least = |part: &usize| twice_area(&parts[*part][0]);
        let part = (0..parts.len())
            .filter(within)
            .min_by(|a, b| least(a).total_cmp(&least(b)));
        if let Some(part) = part {
            parts[part].push(hole);
        }
    }
    parts
}

fn extent(ring: &[Place]) -> Extent {
    Extent::of(ring.iter().copied())
}

/// A place on the right of the longest edge of a ring, so near that nothing else is.
fn beside(ring: &[Place]) -> Place {
    let length = |(a, b): &(&Place, &Place)| libm::hypot(b.east - a.east, b.north - a.north);
    let edges = ring.iter().zip(ring.iter().cycle().skip(1));
    let longest = edges.max_by(|a, b| length(a).total_cmp(&length(b)));
    longest.map_or(Place::default(), |(a, b)| {
        let (east, north) = (b.east - a.east, b.north - a.north);
        Place::new(
            (a.east + b.east) / 2.0 + RELATIVE * north,
            (a.north + b.north) / 2.0 - RELATIVE * east,
        )
    })
}

/// Rings that visit no corner twice.
fn rings(edges: &[Edge]) -> Vec<Vec<Place>> {
    let mut from: FxHashMap<[u64; 2], Vec<usize>> = FxHashMap::default();
    for (index, edge) in edges.iter().enumerate() {
        from.entry(bits(edge.from)).or_default().push(index);
    }
    let mut walked = vec![false; edges.len()];
    let mut rings = Vec::new();
    for first in 0..edges.len() {
        let mut path: Vec<Place> = Vec::new();
        let mut at: FxHashMap<[u64; 2], usize> = FxHashMap::default();
        let mut next = Some(first);
        while let Some(edge) = next.filter(|&edge| !walked[edge]) {
            walked[edge] = true;
            let Edge { from: here, to } = edges[edge];
            at.insert(bits(here), path.len());
            path.push(here);
            if let Some(&start) = at.get(&bits(to)) {
                let ring = path.split_off(start);
                ring.iter().for_each(|&place| {
                    at.remove(&bits(place));
                });
                rings.push(ring);
            }
            let ahead = from.get(&bits(to)).into_iter().flatten();
            let open = ahead.copied().filter(|&edge| !walked[edge]);
            // The ground on the left goes on at the edge that is met first, turning clockwise from where one came.
            let turn = |&edge: &usize| clockwise(to, here, edges[edge].to);
            next = open.min_by(|a, b| turn(a).total_cmp(&turn(b)));
        }
    }
    rings
}

/// The angle at a place from the direction to one place, clockwise to that to another.
fn clockwise(at: Place, from: Place, to: Place) -> f64 {
    let angle = |place: Place| libm::atan2(place.north - at.north, place.east - at.east);
    (angle(from) - angle(to)).rem_euclid(std::f64::consts::TAU)
}

#[cfg(test)]
mod tests {
    use super::*;

    fn ring(corners: &[(f64, f64)]) -> impl Iterator<Item = Edge> + '_ {
        let next = corners.iter().cycle().skip(1);
        corners.iter().zip(next).map(|(a, b)| Edge {
            from: Place::new(a.0, a.1),
            to: Place::new(b.0, b.1),
        })
    }

    #[test]
    fn rings_that_touch_stay_apart() {
        // Two squares that meet at a corner, one of them with a hole that touches its side, in no order.
        let west = [(0.0, 0.0), (4.0, 0.0), (4.0, 4.0), (0.0, 4.0)];
        let east = [(4.0, 4.0), (8.0, 4.0), (8.0, 8.0), (4.0, 8.0)];
        let hole = [(0.0, 0.0), (1.0, 2.0), (2.0, 1.0)];
        let mut edges: Vec<Edge> = ring(&west).chain(ring(&east)).chain(ring(&hole)).collect();
        edges.sort_by(|a, b| a.to.north.total_cmp(&b.to.north));
        let mut parts = parts(&edges);
        parts.sort_by_key(Vec::len);
        let areas = |part: &Part| part.iter().map(|ring| twice_area(ring)).collect::<Vec<_>>();
        assert_eq!(areas(&parts[0]), [32.0]);
        assert_eq!(areas(&parts[1]), [32.0, -3.0]);
    }

    #[test]
    fn an_island_in_a_hole_has_its_own_hole() {
        let square = |half: f64, left: bool| {
            let mut corners = vec![(-half, -half), (half, -half), (half, half), (-half, half)];
            if !left {
                corners.reverse();
            }
            corners
        };
        let squares = [(8.0, true), (6.0, false), (4.0, true), (2.0, false)];
        let edges: Vec<Edge> = squares
            .iter()
            .flat_map(|&(half, left)| ring(&square(half, left)).collect::<Vec<_>>())
            .collect();
        let parts = parts(&edges);
        let areas: Vec<f64> = parts
            .iter()
            .flatten()
            .map(|ring| twice_area(ring))
            .collect();
        assert_eq!(areas, [512.0, -288.0, 128.0, -32.0]);
    }
}
