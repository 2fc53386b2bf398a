//! One side of an overlay, facet by facet.

use rayon::prelude::*;

use crate::{Extent, Grid, Place, Plane, Surface, Tin, Vertex};

/// Where the facets of one side come from.
#[derive(Debug)]
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
}

impl Facet {
    fn of([a, b, c]: [Vertex; 3]) -> Self {
        let corners = [a, b, c].map(Vertex::place);
        Facet {
            corners: Some(corners),
            extent: Extent::of(corners),
            plane: Plane::through(a, b, c),
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

    pub(super) fn len(&self) -> usize {
        match self {
            Side::Tin(tin) => tin.facets().len(),
            Side::Grid(grid) => grid.facet_slots(),
            Side::Level(_) => 1,
        }
    }

    pub(super) fn facet(&self, facet: u32) -> Facet {
        match self {
            Side::Tin(tin) => Facet::of(tin.corners(facet as usize)),
            // A slot without a facet reaches nowhere and is never listed.
            Side::Grid(grid) => Facet::of(grid.corners(facet as usize).unwrap_or_default()),
            Side::Level(plane) => Facet {
                corners: None,
                extent: Extent::EVERYWHERE,
                plane: *plane,
            },
        }
    }

    pub(super) fn extent_of(&self, facet: u32) -> Extent {
        match self {
            Side::Tin(tin) => Extent::of(tin.corners(facet as usize).map(Vertex::place)),
            Side::Grid(grid) => {
                let corners = grid.corners(facet as usize);
                corners.map_or(Extent::EMPTY, |corners| {
                    Extent::of(corners.map(Vertex::place))
                })
            }
            Side::Level(_) => Extent::EVERYWHERE,
        }
    }

    /// About how many facets reach into `extent`: a sample is enough to size the blocks.
    pub(super) fn count_in(&self, extent: &Extent) -> usize {
        const SAMPLE: usize = 4096;
        let step = self.len().div_ceil(SAMPLE);
        let sample = (0..self.len()).into_par_iter().step_by(step);
        let inside = sample
            .filter(|&f| self.extent_of(f as u32).meets(extent))
            .count();
        inside * step
    }
}
