//! Contours: lines of one height on a surface.
//!
//! They are exact: each corner stands where a level meets an edge of a facet, and between corners a line lies on one facet. A corner of a
//! surface at the very height of a level counts as above it, so that a level part is gone around, and no line branches.

use rayon::prelude::*;

use crate::plan::Place;
use crate::plan::groups::Groups;
use crate::surface::{Tin, across::Across};

/// A line of one height.
#[derive(Debug, Clone, PartialEq)]
pub struct Contour {
    /// Its height.
    pub level: f64,
    /// Its corners in grid coordinates, with higher ground to the left. The last is the first where it is closed.
    pub corners: Vec<Place>,
    /// True where it comes back to its start; otherwise both ends are on the edge of the surface, or at a vertical step.
    pub is_closed: bool,
}

/// The contours of a surface at some levels, level by level as they are given, and within a level in the order of the facets.
///
/// All levels are sorted out in one pass over the facets; each line is then followed from facet to facet. Time goes with the facets and
/// with the crossings, not with facets times levels.
///
/// ```
/// use dapedon_core::plan::*;
/// use dapedon_core::quantities::*;
/// use dapedon_core::surface::*;
/// use dapedon_core::units::*;
/// let frame = Frame::new(LengthUnit::Metre, [0.0, 0.0]);
/// // A heap of 6 by 6, 3 high.
/// let corners = [(0.0, 0.0, 0.0), (6.0, 0.0, 0.0), (6.0, 6.0, 0.0), (0.0, 6.0, 0.0), (3.0, 3.0, 3.0)];
/// let vertices = corners.map(|(e, n, h)| Vertex::new(e, n, h)).to_vec();
/// let heap = Tin::from_facets(frame, vertices, vec![[0, 1, 4], [1, 2, 4], [2, 3, 4], [3, 0, 4]]).unwrap();
/// let found = contours(&heap, &[1.0, 2.0, 7.0]);
/// assert_eq!(found.len(), 2);
/// assert!(found[0].is_closed && found[0].corners.len() == 5);
/// ```
pub fn contours(tin: &Tin, levels: &[f64]) -> Vec<Contour> {
    let mut order: Vec<usize> = (0..levels.len())
        .filter(|&at| levels[at].is_finite())
        .collect();
    order.sort_by(|&a, &b| levels[a].total_cmp(&levels[b]));
    let rising: Vec<f64> = order.iter().map(|&at| levels[at]).collect();
    let crossed = crossed(tin, &rising);
    let across = Across::of(tin);
    let follow = |seen: &mut Vec<u32>, level: usize| {
        let mark = level as u32;
        let mut lines = Vec::new();
        for &facet in crossed.get(level) {
            if seen[facet as usize] != mark {
                let walk = Walk {
                    tin,
                    across: &across,
                    level: rising[level],
                };
                lines.extend(walk.line(facet, seen, mark));
            }
        }
        lines
    };
    let unseen = || vec![u32::MAX; tin.facets().len()];
    let by_level: Vec<Vec<Contour>> = (0..rising.len())
        .into_par_iter()
        .map_init(unseen, follow)
        .collect();
    let mut lines: Vec<(usize, Vec<Contour>)> = order.into_iter().zip(by_level).collect();
    lines.sort_by_key(|(at, _)| *at);
    lines.into_iter().flat_map(|(_, lines)| lines).collect()
}

/// How many facets some rising levels cross, all together: what contours at them take to draw.
pub fn crossings(tin: &Tin, levels: &[f64]) -> u64 {
    let facets = tin.facets().par_iter();
    facets
        .map(|corners| {
            let (from, to) = crossing(tin, levels, corners);
            u64::from(to - from)
        })
        .sum()
}

/// From which to which of some rising levels a facet is crossed: above its lowest corner, up to its highest.
fn crossing(tin: &Tin, levels: &[f64], corners: &[u32; 3]) -> (u32, u32) {
    let [a, b, c] = corners.map(|corner| tin.vertices()[corner as usize].height);
    let (low, high) = (a.min(b).min(c), a.max(b).max(c));
    let from = levels.partition_point(|&level| level <= low);
    let to = from + levels[from..].partition_point(|&level| level <= high);
    (from as u32, to as u32)
}

/// The facets that each of some rising levels crosses: those whose lowest corner is below it, and whose highest is not.
fn crossed(tin: &Tin, levels: &[f64]) -> Groups<u32> {
    let ranges: Vec<(u32, u32)> = tin
        .facets()
        .par_iter()
        .map(|corners| crossing(tin, levels, corners))
        .collect();
    Groups::of(levels.len(), |put| {
        for (facet, &(from, to)) in (0u32..).zip(&ranges) {
            (from..to).for_each(|level| put(level as usize, facet));
        }
    })
}

/// What it takes to follow a level.
struct Walk<'t> {
    tin: &'t Tin,
    across: &'t Across,
    level: f64,
}

/// How a level passes a facet: in by an edge that goes down, out by one that goes up.
struct Pass {
    enters: usize,
    leaves: usize,
}

impl Walk<'_> {
    /// Follows the line through a facet both ways, and marks what it passes; none where it is a single place.
    fn line(&self, start: u32, seen: &mut [u32], mark: u32) -> Option<Contour> {
        let mut ahead = Vec::new();
        let mut facet = start;
        let mut is_closed = false;
        ahead.push(self.place(facet, self.pass(facet).enters));
        loop {
            seen[facet as usize] = mark;
            let side = self.pass(facet).leaves;
            ahead.push(self.place(facet, side));
            match self.across.edge(facet, side) {
                Some(next) if next == start => {
                    is_closed = true;
                    break;
                }
                Some(next) => facet = next,
                None => break,
            }
        }
        let mut corners = Vec::new();
        if !is_closed {
            facet = start;
            while let Some(before) = self.across.edge(facet, self.pass(facet).enters) {
                seen[before as usize] = mark;
                corners.push(self.place(before, self.pass(before).enters));
                facet = before;
            }
            corners.reverse();
        }
        corners.extend(ahead);
        corners.dedup();
        let frame = self.tin.frame();
        corners.iter_mut().for_each(|at| *at = frame.to_grid(*at));
        // One that starts and ends at the same corner of the surface's edge is closed as well.
        let is_closed = is_closed || corners.first() == corners.last();
        (corners.len() > 1).then_some(Contour {
            level: self.level,
            corners,
            is_closed,
        })
    }

    fn is_above(&self, facet: u32, corner: usize) -> bool {
        let vertex = self.tin.facets()[facet as usize][corner % 3];
        self.tin.vertices()[vertex as usize].height >= self.level
    }

    fn pass(&self, facet: u32) -> Pass {
        let above = [0, 1, 2].map(|corner| self.is_above(facet, corner));
        // One corner is apart from the other two: the edges on both sides of it are crossed.
        let apart = match above {
            [a, b, c] if a == b && b != c => 2,
            [a, b, c] if a == c && b != c => 1,
            _ => 0,
        };
        let (from, to) = (apart, (apart + 2) % 3);
        match above[apart] {
            true => Pass {
                enters: from,
                leaves: to,
            },
            false => Pass {
                enters: to,
                leaves: from,
            },
        }
    }

    /// Where the level meets an edge of a facet: worked out upwards, so that it is the same from both sides.
    fn place(&self, facet: u32, side: usize) -> Place {
        let corners = self.tin.corners(facet as usize);
        let (one, other) = (corners[side], corners[(side + 1) % 3]);
        let (low, high) = match one.height < other.height {
            true => (one, other),
            false => (other, one),
        };
        if high.height == self.level {
            return high.place();
        }
        let share = (self.level - low.height) / (high.height - low.height);
        let (from, to) = (low.place(), high.place());
        Place::new(
            from.east + share * (to.east - from.east),
            from.north + share * (to.north - from.north),
        )
    }
}
