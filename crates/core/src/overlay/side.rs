//! One side of an overlay, facet by facet.

use rayon::prelude::*;

use crate::plan::{Extent, Place};
use crate::surface::Plane;
use crate::surface::{Grid, Surface, Tin, Vertex};

/// Where the facets of one side come from.
#[derive(Debug, Clone, Copy)]
pub(super) enum Side<'s> {
    Tin(&'s Tin),
    Grid(&'s Grid),
    Level(Plane),
}

/// A facet as the pairing needs it.
#[derive(Debug, Clone, Copy)]
pub(super) struct Facet {
    /// Its corners, counter-clockwise; `None` when it has no end.
    pub(super) corners: Option<[Place; 3]>,
    pub(super) extent: Extent,
    pub(super) plane: Plane,
    /// Which facet of its side it is.
    pub(super) index: u32,
}

impl Facet {
    pub(super) fn of((index, [a, b, c]): (u32, [Vertex; 3])) -> Self {
        let corners = [a, b, c].map(Vertex::place);
        Facet {
            corners: Some(corners),
            extent: Extent::of(corners),
            plane: Plane::through(a, b, c),
            index,
        }
    }

    pub(super) fn everywhere(plane: Plane) -> Self {
        Facet {
            corners: None,
            extent: Extent::EVERYWHERE,
            plane,
            index: 0,
        }
    }
}

impl<'s> Side<'s> {
    pub(super) fn of(surface: &'s Surface) -> Self {
        match surface {
            Surface::Tin(tin) => Side::Tin(tin),
            Surface::Grid(grid) => Side::Grid(grid),
            Surface::Level(level) => Side::Level(Plane::level(level.height())),
        }
    }

    pub(super) fn is_bounded(&self) -> bool {
        !matches!(self, Side::Level(_))
    }

    /// About how many facets reach into `extent`: of scattered ones a sample is enough to size the
    /// blocks.
    pub(super) fn count_in(&self, extent: &Extent) -> usize {
        const SAMPLE: usize = 4096;
        match self {
            Side::Tin(tin) => {
                let step = tin.facets().len().div_ceil(SAMPLE);
                let sample = (0..tin.facets().len()).into_par_iter().step_by(step);
                let reaches = |&facet: &usize| {
                    Extent::of(tin.corners(facet).map(Vertex::place)).meets(extent)
                };
                sample.filter(reaches).count() * step
            }
            Side::Grid(grid) => {
                let [columns, rows] = grid.cells_in(extent);
                2 * columns.len() * rows.len()
            }
            Side::Level(_) => 1,
        }
    }
}
