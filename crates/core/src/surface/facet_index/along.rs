//! The facets along a straight line, in order.

use super::{FacetIndex, FacetsByCell};
use crate::plan::side::side;
use crate::plan::{Edge, Extent, Place};
use crate::surface::{Grid, Plane, Surface, Vertex};

/// A stretch of a straight line over one facet.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct FacetOnLine {
    /// The facet.
    pub facet: u32,
    /// Where the stretch starts and ends, as distances from the start of the line.
    pub between: [f64; 2],
    /// The heights there.
    pub heights: [f64; 2],
}

impl FacetOnLine {
    /// The height at a distance from the start of the line.
    pub fn height(&self, at: f64) -> f64 {
        let ([from, to], [start, end]) = (self.between, self.heights);
        start + (end - start) * ((at - from) / (to - from))
    }
}

impl FacetIndex<'_> {
    /// The facets along a straight line, by where the line enters them, in the coordinates of the surface's frame. Facets that it only
    /// touches are not among them. Along an edge that two facets share it is on the first of them, unless their heights differ
    /// there; where the surface steps or lies over itself stretches overlap.
    pub fn along(&self, from: Place, to: Place) -> Vec<FacetOnLine> {
        let line = Edge { from, to };
        let near = self.surface.frame().precision().length();
        let mut found: Vec<FacetOnLine> = Vec::new();
        match self.surface {
            Surface::Level(level) => found.push(FacetOnLine {
                facet: 0,
                between: [0.0, line.length()],
                heights: [level.height(); 2],
            }),
            Surface::Grid(grid) => passed(grid, line, |facet, corners| {
                found.extend(stretch(line, near, facet, corners));
            }),
            Surface::Tin(tin) => {
                let facets = self.facets.as_ref().map(|facets| facets.passed(line));
                for facet in facets.unwrap_or_default() {
                    found.extend(stretch(line, near, facet, tin.corners(facet as usize)));
                }
            }
        }
        found.retain(|stretch| stretch.between[1] > stretch.between[0]);
        found.sort_by(|a, b| {
            let starts = a.between[0].total_cmp(&b.between[0]);
            starts.then(a.facet.cmp(&b.facet))
        });
        let same = self.surface.frame().precision().worked_out();
        let alike = |a: [f64; 2], b: [f64; 2]| (0..2).all(|end| (a[end] - b[end]).abs() <= same);
        found.dedup_by(|next, kept| {
            alike(next.between, kept.between) && alike(next.heights, kept.heights)
        });
        found
    }
}

/// The stretch of a line over a facet; none where the line passes beside it.
fn stretch(line: Edge, near: f64, facet: u32, corners: [Vertex; 3]) -> Option<FacetOnLine> {
    let [a, b, c] = corners.map(|corner| corner.place());
    let (mut enters, mut leaves) = (0.0f64, 1.0f64);
    for (one, other) in [(a, b), (b, c), (c, a)] {
        // A line along an edge, but for rounding, is on it.
        let edge = Edge {
            from: one,
            to: other,
        };
        let least = near * edge.length();
        let [start, end] = [line.from, line.to].map(|end| match side(one, other, end) {
            side if side.abs() <= least => 0.0,
            side => side,
        });
        match (start < 0.0, end < 0.0) {
            (true, true) => return None,
            (true, false) => enters = enters.max(start / (start - end)),
            (false, true) => leaves = leaves.min(start / (start - end)),
            (false, false) => {}
        }
    }
    if enters >= leaves {
        return None;
    }
    let [a, b, c] = corners;
    let plane = Plane::through(a, b, c);
    let at = |share: f64| {
        Place::new(
            line.from.east + share * (line.to.east - line.from.east),
            line.from.north + share * (line.to.north - line.from.north),
        )
    };
    let length = line.length();
    Some(FacetOnLine {
        facet,
        between: [enters * length, leaves * length],
        heights: [plane.at(at(enters)), plane.at(at(leaves))],
    })
}

impl FacetsByCell {
    /// The facets that a line may pass, ascending.
    fn passed(&self, line: Edge) -> Vec<u32> {
        let Some(line) = within(line, &self.extent) else {
            return Vec::new();
        };
        let mut facets = Vec::new();
        for (row, columns) in self.cells.passed(line) {
            for column in columns {
                facets.extend_from_slice(self.facets.get(self.cells.number(column, row)));
            }
        }
        facets.sort_unstable();
        facets.dedup();
        facets
    }
}

/// The part of a line that may be within an extent, widened by a little.
fn within(line: Edge, extent: &Extent) -> Option<Edge> {
    let slack = 1e-6 * extent.width().max(extent.height());
    let (mut enters, mut leaves) = (0.0f64, 1.0f64);
    let ranges = [
        (
            line.from.east,
            line.to.east,
            extent.min.east,
            extent.max.east,
        ),
        (
            line.from.north,
            line.to.north,
            extent.min.north,
            extent.max.north,
        ),
    ];
    for (from, to, low, high) in ranges {
        let (low, high) = (low - slack, high + slack);
        if from == to {
            if !(low..=high).contains(&from) {
                return None;
            }
            continue;
        }
        let (one, other) = ((low - from) / (to - from), (high - from) / (to - from));
        enters = enters.max(one.min(other));
        leaves = leaves.min(one.max(other));
    }
    let at = |share: f64| {
        Place::new(
            line.from.east + share * (line.to.east - line.from.east),
            line.from.north + share * (line.to.north - line.from.north),
        )
    };
    (enters <= leaves).then(|| Edge {
        from: at(enters),
        to: at(leaves),
    })
}

/// Visits the facets of a grid whose cells a line passes: row by row, from its westernmost to its easternmost place there.
fn passed(grid: &Grid, line: Edge, mut visit: impl FnMut(u32, [Vertex; 3])) {
    let Some(line) = within(line, &grid.extent()) else {
        return;
    };
    let [_, rows] = grid.cells_in(&Extent::of([line.from, line.to]));
    let [_, step] = grid.step();
    for row in rows {
        let south = grid.corner().north + row as f64 * step;
        let strip = Extent {
            min: Place::new(f64::NEG_INFINITY, south),
            max: Place::new(f64::INFINITY, south + step),
        };
        let Some(part) = within_rows(line, &strip) else {
            continue;
        };
        let [columns, _] = grid.cells_in(&Extent::of([part.from, part.to]));
        for (facet, corners) in grid.facets_of([columns, row..row + 1]) {
            visit(facet, corners);
        }
    }
}

/// The part of a line between two northings, widened by a little.
fn within_rows(line: Edge, strip: &Extent) -> Option<Edge> {
    let height = strip.height();
    let wide = Extent {
        min: Place::new(
            line.from.east.min(line.to.east),
            strip.min.north - 1e-6 * height,
        ),
        max: Place::new(
            line.from.east.max(line.to.east),
            strip.max.north + 1e-6 * height,
        ),
    };
    within(line, &wide)
}
