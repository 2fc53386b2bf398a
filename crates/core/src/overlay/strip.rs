//! Cells side by side in which two grids have all their heights.

use super::Piece;
use crate::plan::Place;
use crate::plan::clip::Polygon;
use crate::plan::sum::total;
use crate::surface::Plane;
use crate::surface::Vertex;

/// Cells of two aligned grids, from west to east, with all their heights.
#[derive(Debug, Clone, Copy)]
pub struct Strip<'s> {
    /// The south-west node, in local coordinates.
    pub corner: Place,
    /// From node to node, towards east and north.
    pub step: [f64; 2],
    /// Heights of the reference surface along the south and the north side.
    pub reference: [&'s [f64]; 2],
    /// Heights of the surveyed surface along the south and the north side.
    pub surveyed: [&'s [f64]; 2],
    /// The first facet of the reference and of the surveyed surface.
    pub facets: [u32; 2],
}

/// A triangle of the plan over which both surfaces are planes through heights at its corners.
#[derive(Debug, Clone, Copy)]
pub struct Triangle {
    /// Its corners, counter-clockwise, in local coordinates.
    pub corners: [Place; 3],
    /// Heights of the reference surface.
    pub reference: [f64; 3],
    /// Heights of the surveyed surface.
    pub surveyed: [f64; 3],
    /// The facets of the reference and the surveyed surface.
    pub facets: [u32; 2],
}

impl Strip<'_> {
    /// How many cells it has.
    pub fn cells(&self) -> usize {
        self.reference[0].len() - 1
    }

    /// True when no height is missing: a sum tells them all at once.
    pub(super) fn is_whole(&self) -> bool {
        let sides = [self.reference, self.surveyed];
        let sum: f64 = sides.as_flattened().iter().map(|row| total(row)).sum();
        !sum.is_nan()
    }

    /// The place of a node, counted from the west, along the south or the north side.
    pub fn place(&self, node: usize, north: bool) -> Place {
        Place::new(
            self.corner.east + node as f64 * self.step[0],
            self.corner.north + if north { self.step[1] } else { 0.0 },
        )
    }

    /// The two triangles of a cell, split along its diagonal from south-west to north-east.
    pub fn triangles(&self, cell: usize) -> [Triangle; 2] {
        let [sw, se, ne, nw] = [(cell, 0), (cell + 1, 0), (cell + 1, 1), (cell, 1)];
        let first = 2 * cell as u32;
        [([sw, se, ne], first), ([sw, ne, nw], first + 1)].map(|(nodes, facet)| Triangle {
            corners: nodes.map(|(node, side)| self.place(node, side == 1)),
            reference: nodes.map(|(node, side)| self.reference[side][node]),
            surveyed: nodes.map(|(node, side)| self.surveyed[side][node]),
            facets: self.facets.map(|from| from + facet),
        })
    }
}

impl Triangle {
    /// The same as a piece of any overlay, in no zone.
    pub fn as_piece<R>(&self, take: impl FnOnce(&Piece<'_>) -> R) -> R {
        let plane = |heights: [f64; 3]| {
            let [a, b, c] = [0, 1, 2].map(|corner| {
                let at = self.corners[corner];
                Vertex::new(at.east, at.north, heights[corner])
            });
            Plane::through(a, b, c)
        };
        take(&Piece {
            zones: &[0],
            outline: &Polygon::triangle(self.corners),
            reference: plane(self.reference),
            surveyed: plane(self.surveyed),
            facets: self.facets,
        })
    }
}
