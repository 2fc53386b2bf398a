//! Data that fall into separate patches, and what bridges them.

use crate::plan::Extent;
use crate::surface::{Tin, Vertex};

/// A gap is this many times as wide as the widest way that joins points within a patch.
const WIDE: f64 = 2.5;
/// Edges up to this many times as long as the middle one join points in any order.
const NEAR: f64 = 1.5;
/// Fewer points than this are strays, not a patch.
const FEW: usize = 3;
/// Strays of so many points, and a few in any case, do not hide a gap.
const STRAYS_IN: usize = 200;

/// The patches that the points of a triangulation fall into.
#[derive(Debug, Clone, PartialEq)]
pub struct Patches {
    /// The patches, the one with the most points first; a single one when nothing parts the points.
    pub patches: Vec<Patch>,
    /// Points that stand alone, farther from all others than the points of a patch from each other.
    pub strays: usize,
    /// The middle length of an edge.
    pub spacing: f64,
    /// The narrowest gap between two patches.
    pub gap: Option<f64>,
    /// Facets that reach from one patch to another.
    pub bridges: usize,
    /// The plan area of those.
    pub bridged: f64,
}

/// Points that stand close together.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Patch {
    /// How many.
    pub points: usize,
    /// Where, in local coordinates.
    pub extent: Extent,
}

impl Patches {
    /// A longest edge that would part the patches: a little shorter than the narrowest gap, since a
    /// facet that bridges it has an edge that does.
    pub fn parting_edge(&self) -> Option<f64> {
        let gap = self.gap?;
        // Two digits, rounded down, are easy to type and to remember.
        let digit = libm::pow(10f64, libm::log10(gap).floor() - 1.0);
        let edge = (gap / digit * 0.95).floor() * digit;
        let decimals = (1.0 - libm::log10(gap).floor()).max(0.0) as i32;
        let scale = 10f64.powi(decimals);
        Some((edge * scale).round() / scale)
    }
}

/// Finds the patches of a surface that was triangulated from points.
///
/// Points are joined along ever longer edges, shortest first, as in a spanning tree (J. B. Kruskal,
/// Proc. AMS 7, 1956; the edges of a Delaunay triangulation hold the shortest one). When the next edge
/// that joins two groups is two and a half times as long as all that joined before, it spans a gap, and
/// the groups are patches. A few points that were joined late, as strays, do not count.
pub fn patches(tin: &Tin) -> Patches {
    let vertices = tin.vertices();
    let sides = |&[a, b, c]: &[u32; 3]| [[a, b], [b, c], [c, a]];
    let length = |[from, to]: [u32; 2]| {
        let (a, b) = (vertices[from as usize], vertices[to as usize]);
        libm::hypot(b.east - a.east, b.north - a.north)
    };
    let edges = || tin.facets().iter().flat_map(sides);
    let mut lengths: Vec<f64> = edges().map(length).collect();
    let middle = lengths.len() / 2;
    let spacing = *lengths.select_nth_unstable_by(middle, f64::total_cmp).1;
    drop(lengths);

    let mut groups = Groups::new(vertices.len());
    let mut far: Vec<(f64, [u32; 2])> = Vec::new();
    for edge in edges() {
        match length(edge) {
            near if near <= NEAR * spacing => groups.join(edge),
            length if groups.of(edge[0]) != groups.of(edge[1]) => far.push((length, edge)),
            _ => {}
        }
    }
    far.sort_unstable_by(|a, b| a.0.total_cmp(&b.0).then(a.1.cmp(&b.1)));

    let hidden = FEW + vertices.len() / STRAYS_IN;
    let (mut joined, mut strays, mut gap) = (NEAR * spacing, Vec::new(), None);
    for (length, edge) in far {
        let ends = edge.map(|end| groups.of(end));
        if ends[0] == ends[1] {
            continue;
        }
        if ends.iter().any(|&end| groups.size(end) < FEW) {
            strays.push(length);
        } else {
            let late = strays.len().checked_sub(hidden + 1);
            let before = late.map_or(joined, |at| joined.max(strays[at]));
            if length >= WIDE * before {
                gap = Some(length);
                break;
            }
            joined = joined.max(length);
        }
        groups.join(edge);
    }
    let strays = strays
        .iter()
        .filter(|&&length| length >= WIDE * joined)
        .count();

    let mut extents = vec![Extent::EMPTY; vertices.len()];
    for (vertex, at) in vertices.iter().enumerate() {
        let group = groups.of(vertex as u32) as usize;
        extents[group] = extents[group].union(&Extent::of([at.place()]));
    }
    let mut patches = Vec::new();
    for (vertex, extent) in extents.into_iter().enumerate() {
        let points = groups.size(vertex as u32);
        if groups.of(vertex as u32) as usize == vertex && points >= FEW {
            patches.push(Patch { points, extent });
        }
    }
    patches.sort_by_key(|patch| std::cmp::Reverse(patch.points));
    let (mut bridges, mut bridged) = (0, 0.0);
    if gap.is_some() {
        for (index, facet) in tin.facets().iter().enumerate() {
            let [a, b, c] = facet.map(|corner| groups.of(corner));
            if a != b || b != c {
                bridges += 1;
                let [a, b, c] = tin.corners(index).map(Vertex::place);
                bridged += crate::plan::cross(a, b, c) / 2.0;
            }
        }
    }
    Patches {
        patches,
        strays,
        spacing,
        gap,
        bridges,
        bridged,
    }
}

/// Disjoint sets, joined along the shorter way (R. E. Tarjan, JACM 22, 1975, with halved paths).
struct Groups {
    parents: Vec<u32>,
    /// How many are in the group of each that names one.
    sizes: Vec<u32>,
}

impl Groups {
    fn new(count: usize) -> Self {
        Groups {
            parents: (0..count as u32).collect(),
            sizes: vec![1; count],
        }
    }

    fn of(&mut self, mut one: u32) -> u32 {
        while self.parents[one as usize] != one {
            let parent = self.parents[one as usize];
            self.parents[one as usize] = self.parents[parent as usize];
            one = self.parents[one as usize];
        }
        one
    }

    fn join(&mut self, [one, other]: [u32; 2]) {
        let (one, other) = (self.of(one), self.of(other));
        if one == other {
            return;
        }
        // The lower becomes the name of both: groups are named the same whatever the order.
        let (kept, lost) = (one.min(other), one.max(other));
        self.parents[lost as usize] = kept;
        self.sizes[kept as usize] += self.sizes[lost as usize];
    }

    fn size(&self, name: u32) -> usize {
        self.sizes[name as usize] as usize
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::plan::Frame;
    use crate::points::{PickUp, Rules, triangulate};
    use crate::units::LengthUnit;

    fn grid(east: f64, columns: i32, rows: i32) -> impl Iterator<Item = Vertex> {
        (0..columns * rows).map(move |i| {
            let (e, n) = (f64::from(i % columns), f64::from(i / columns));
            Vertex::new(east + e, n + 0.01 * e * e, 0.0)
        })
    }

    fn found(points: Vec<Vertex>) -> Patches {
        let frame = Frame::new(LengthUnit::Metre, [0.0, 0.0]);
        let made = triangulate(frame, &PickUp::from(points), &Rules::default()).unwrap();
        patches(&made.tin)
    }

    #[test]
    fn one_field_is_one_patch() {
        let found = found(grid(0.0, 9, 7).collect());
        assert_eq!((found.patches.len(), found.strays), (1, 0));
        assert_eq!((found.gap, found.bridges), (None, 0));
    }

    #[test]
    fn fields_apart_are_patches_with_a_gap() {
        // The last column of the one stands at 8, the first of the other at 38.
        let points = grid(0.0, 9, 7).chain(grid(38.0, 5, 7));
        let stray = Vertex::new(20.0, 25.0, 0.0);
        let found = found(points.chain([stray]).collect());
        let sizes: Vec<_> = found.patches.iter().map(|patch| patch.points).collect();
        // The stray has gone to the nearer one.
        assert_eq!((sizes, found.strays), (vec![64, 35], 1));
        let gap = found.gap.unwrap();
        assert!(gap > 25.0 && gap < 30.1, "{gap}");
        let edge = found.parting_edge().unwrap();
        assert!(edge < gap && edge > 0.85 * gap);
        assert!(found.bridges > 5 && found.bridged > 29.0 * 6.0);
    }

    #[test]
    fn a_sparse_field_around_dense_ones_is_one_patch() {
        // Two banks with points a metre apart, and the ground between them surveyed every twelve.
        let banks = grid(0.0, 20, 5).chain(grid(90.0, 20, 5));
        let ground = (0..60).map(|i| {
            let (e, n) = (f64::from(i % 10) * 12.0, -30.0 + f64::from(i / 10) * 12.0);
            Vertex::new(e + 0.3, n + 0.02 * e, 0.0)
        });
        let found = found(banks.chain(ground).collect());
        assert_eq!((found.patches.len(), found.gap), (1, None));
    }

    #[test]
    fn sections_far_apart_are_one_patch() {
        // Points a metre apart on sections twenty metres apart.
        let sections =
            (0..8).flat_map(|s| (0..30).map(move |i| (20.0 * f64::from(s), f64::from(i))));
        let points = sections
            .map(|(e, n)| Vertex::new(e, n + 0.001 * e, 0.0))
            .collect();
        assert_eq!(found(points).patches.len(), 1);
    }
}
