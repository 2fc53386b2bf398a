//! What can stand on either side of a measurement.

pub(crate) mod across;
pub(crate) mod facet_index;
pub(crate) mod grid;
pub(crate) mod heights_at;
pub(crate) mod near;
pub(crate) mod neighbours;
pub(crate) mod outline;
pub(crate) mod plane;
pub(crate) mod tin;

pub use facet_index::{FacetIndex, FacetOnLine, HeightAt};
pub use grid::{Grid, GridError};
pub use heights_at::heights_at;
pub use outline::Outline;
pub use plane::Plane;
pub use tin::{FARTHEST, Tidied, Tin, TinError, Vertex};

use crate::plan::{Extent, Frame};

/// A ground model.
#[derive(Debug, Clone)]
pub enum Surface {
    /// Planar triangular facets.
    Tin(Tin),
    /// Heights on a regular grid.
    Grid(Grid),
    /// One height everywhere.
    Level(Level),
}

/// A horizontal plane without end.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Level {
    frame: Frame,
    height: f64,
}

impl Level {
    /// The level at `height`.
    pub fn new(frame: Frame, height: f64) -> Self {
        Level { frame, height }
    }

    /// Its height.
    pub fn height(&self) -> f64 {
        self.height
    }
}

impl Surface {
    /// The frame its coordinates are held in.
    pub fn frame(&self) -> Frame {
        match self {
            Surface::Tin(tin) => tin.frame(),
            Surface::Grid(grid) => grid.frame(),
            Surface::Level(level) => level.frame,
        }
    }

    /// How many facets it has; a level is one without end.
    pub fn facets(&self) -> usize {
        match self {
            Surface::Tin(tin) => tin.facets().len(),
            Surface::Grid(grid) => grid.facets(),
            Surface::Level(_) => 1,
        }
    }

    /// The lowest and highest height.
    pub fn heights(&self) -> (f64, f64) {
        match self {
            Surface::Tin(tin) => tin.heights(),
            Surface::Grid(grid) => grid.range(),
            Surface::Level(level) => (level.height, level.height),
        }
    }

    /// Where it lies, in local coordinates; a level lies everywhere.
    pub fn extent(&self) -> Extent {
        match self {
            Surface::Tin(tin) => tin.extent(),
            Surface::Grid(grid) => grid.extent(),
            Surface::Level(_) => Extent::EVERYWHERE,
        }
    }

    /// How many facets are counted, of a grid whether they are there or not; none of a level.
    pub(crate) fn slots(&self) -> usize {
        match self {
            Surface::Tin(tin) => tin.facets().len(),
            Surface::Grid(grid) => grid.facet_slots(),
            Surface::Level(_) => 0,
        }
    }

    /// The corners of a facet, where it is there and has any.
    pub(crate) fn facet(&self, facet: usize) -> Option<[Vertex; 3]> {
        match self {
            Surface::Tin(tin) => Some(tin.corners(facet)),
            Surface::Grid(grid) => Some(grid.nodes(facet)?.map(|node| grid.vertex(node))),
            Surface::Level(_) => None,
        }
    }
}
