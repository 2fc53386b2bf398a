//! Data that fall into separate patches, and what bridges them.

use crate::{Extent, Tin, Vertex};

/// An edge this many times as long as the middle one may part patches.
const FAR: f64 = 4.0;
/// Fewer points than this are strays, not a patch.
const FEW: usize = 3;

/// The patches that the points of a triangulation fall into.
#[derive(Debug, Clone, PartialEq)]
pub struct Patches {
    /// The patches, the one with the most points first; a single one when nothing parts the points.
    pub patches: Vec<Patch>,
    /// Points that stand alone, or two of them, far from all others.
    pub strays: usize,
    /// The middle length of an edge.
    pub spacing: f64,
    /// The narrowest gap between two patches.
    pub gap: Option<f64>,
    /// Facets that reach from one patch or stray to another.
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
        let digit = 10f64.powf(gap.log10().floor() - 1.0);
        let edge = (gap / digit * 0.95).floor() * digit;
        let decimals = (1.0 - gap.log10().floor()).max(0.0) as i32;
        let scale = 10f64.powi(decimals);
        Some((edge * scale).round() / scale)
    }
}

/// Finds the patches of a surface that was triangulated from points.
///
/// Points are joined along edges up to four times as long as the middle one; what is then still
/// apart are patches. The shortest way between two points of a Delaunay triangulation is one of its
/// edges, so its edges are enough.
pub fn patches(tin: &Tin) -> Patches {
    let vertices = tin.vertices();
    let sides = |&[a, b, c]: &[u32; 3]| [[a, b], [b, c], [c, a]];
    let length = |[from, to]: [u32; 2]| {
        let (a, b) = (vertices[from as usize], vertices[to as usize]);
        (b.east - a.east).hypot(b.north - a.north)
    };
    // Inner edges are walked twice, both ways: once is enough, and outer edges matter little.
    let edges = || {
        let all = tin.facets().iter().flat_map(sides);
        all.filter(|[from, to]| from < to)
    };
    let mut lengths: Vec<f64> = edges().map(length).collect();
    if lengths.is_empty() {
        lengths = tin.facets().iter().flat_map(sides).map(length).collect();
    }
    let middle = lengths.len() / 2;
    let spacing = *lengths.select_nth_unstable_by(middle, f64::total_cmp).1;

    let mut groups = Groups::new(vertices.len());
    let mut far = Vec::new();
    for edge in tin.facets().iter().flat_map(sides) {
        if length(edge) <= FAR * spacing {
            groups.join(edge);
        } else {
            far.push(edge);
        }
    }
    let mut sizes = vec![0usize; vertices.len()];
    let mut extents = vec![Extent::EMPTY; vertices.len()];
    for (vertex, at) in vertices.iter().enumerate() {
        let group = groups.of(vertex as u32) as usize;
        sizes[group] += 1;
        extents[group] = extents[group].union(&Extent::of([at.place()]));
    }
    let mut patches: Vec<Patch> = (sizes.iter().zip(extents))
        .filter(|&(&points, _)| points >= FEW)
        .map(|(&points, extent)| Patch { points, extent })
        .collect();
    patches.sort_by_key(|patch| std::cmp::Reverse(patch.points));

    let mut gap: Option<f64> = None;
    for edge in far {
        let ends = edge.map(|end| groups.of(end));
        let between = ends[0] != ends[1] && ends.iter().all(|&g| sizes[g as usize] >= FEW);
        if between {
            let length = length(edge);
            gap = Some(gap.map_or(length, |gap| gap.min(length)));
        }
    }
    let (mut bridges, mut bridged) = (0, 0.0);
    if patches.len() > 1 || patches.iter().any(|patch| patch.points < vertices.len()) {
        for (index, facet) in tin.facets().iter().enumerate() {
            let [a, b, c] = facet.map(|corner| groups.of(corner));
            if a != b || b != c {
                bridges += 1;
                let [a, b, c] = tin.corners(index).map(Vertex::place);
                bridged += crate::plan::cross(a, b, c) / 2.0;
            }
        }
    }
    let strays = vertices.len() - patches.iter().map(|patch| patch.points).sum::<usize>();
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
}

impl Groups {
    fn new(count: usize) -> Self {
        Groups {
            parents: (0..count as u32).collect(),
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
        // The lower becomes the name of both: groups are named the same whatever the order.
        self.parents[one.max(other) as usize] = one.min(other);
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::{Frame, LengthUnit, PickUp, Rules, triangulate};

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
        let stray = Vertex::new(20.0, 90.0, 0.0);
        let found = found(points.chain([stray]).collect());
        let sizes: Vec<_> = found.patches.iter().map(|patch| patch.points).collect();
        assert_eq!((sizes, found.strays), (vec![63, 35], 1));
        let gap = found.gap.unwrap();
        assert!((29.9..30.1).contains(&gap), "{gap}");
        let edge = found.parting_edge().unwrap();
        assert_eq!(edge, 28.0);
        assert!(found.bridges > 10 && found.bridged > 30.0 * 6.0);
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
