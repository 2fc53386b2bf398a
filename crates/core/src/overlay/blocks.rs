//! The plan split into blocks, and which facets reach into each.

use rayon::prelude::*;

use super::side::{Facet, Side};
use crate::plan::curve;
use crate::plan::{Extent, Place};
use crate::surface::Plane;
use crate::surface::{Grid, Tin, Vertex};

/// Facets of the denser side that a block holds on average.
const FACETS_A_BLOCK: usize = 24;
/// Listings a facet may need on average before blocks are made coarser.
const LISTINGS_A_FACET: usize = 4;

/// A grid of blocks over an extent; the outermost reach out without end.
#[derive(Debug)]
pub(super) struct Blocks {
    extent: Extent,
    east: Steps,
    north: Steps,
}

/// Ascending bounds of the columns or rows of blocks.
#[derive(Debug)]
struct Steps {
    bounds: Vec<f64>,
    start: f64,
    per_unit: f64,
}

/// First and last column and row of blocks that a facet's extent reaches.
#[derive(Debug, Clone, Copy)]
pub(super) struct Span {
    east: [u16; 2],
    north: [u16; 2],
}

/// The spans of all facets of one side. Those of a grid follow from its steps: only how many there are
/// and how many blocks a cell reaches across is kept. Of a side without end there is nothing to say.
#[derive(Debug)]
pub(super) enum Spans<'s> {
    Listed(&'s Tin, Vec<Option<Span>>),
    Cells {
        grid: &'s Grid,
        facets: usize,
        reach: [f64; 2],
    },
    Everywhere(Plane),
}

/// For each block, the facets that reach into it, ascending; those of a grid are reckoned.
#[derive(Debug)]
pub(super) enum Index<'s> {
    Listed {
        tin: &'s Tin,
        /// Counted beyond 32 bits: long facets are listed in many blocks.
        starts: Vec<usize>,
        facets: Vec<u32>,
    },
    Cells(&'s Grid),
    Everywhere(Plane),
}

impl Steps {
    fn new(from: f64, to: f64, count: usize) -> Self {
        let width = (to - from) / count as f64;
        let inner = (1..count).map(|i| from + width * i as f64);
        let mut bounds = vec![f64::NEG_INFINITY];
        bounds.extend(inner);
        bounds.push(f64::INFINITY);
        Steps {
            bounds,
            start: from,
            per_unit: width.recip(),
        }
    }

    fn len(&self) -> usize {
        self.bounds.len() - 1
    }

    /// The step that holds `value`, lower bound included.
    fn of(&self, value: f64) -> u16 {
        let guess = (value - self.start) * self.per_unit;
        // A step without width, or an endless value: the cast saturates, the walk settles it.
        let mut step = (guess as usize).min(self.len() - 1);
        while value < self.bounds[step] {
            step -= 1;
        }
        while value >= self.bounds[step + 1] && step + 1 < self.len() {
            step += 1;
        }
        step as u16
    }

    fn halve(&mut self) {
        let last = self.bounds.len() - 1;
        let mut index = 0;
        self.bounds.retain(|_| {
            let keep = index % 2 == 0 || index == last;
            index += 1;
            keep
        });
        self.per_unit /= 2.0;
    }
}

impl Blocks {
    pub(super) fn new(extent: Extent, facets: usize) -> Self {
        let wanted = facets.div_ceil(FACETS_A_BLOCK).max(1) as f64;
        let (width, height) = (extent.width(), extent.height());
        let most = f64::from(u16::MAX);
        let columns = (wanted * width / height)
            .sqrt()
            .clamp(1.0, most.min(wanted));
        let columns = if columns.is_finite() { columns } else { 1.0 };
        let rows = (wanted / columns).clamp(1.0, most);
        Blocks {
            extent,
            east: Steps::new(extent.min.east, extent.max.east, columns.round() as usize),
            north: Steps::new(extent.min.north, extent.max.north, rows.round() as usize),
        }
    }

    fn len(&self) -> usize {
        self.east.len() * self.north.len()
    }

    /// The bounds of a block: south-west included, north-east not.
    pub(super) fn bounds(&self, block: u32) -> Extent {
        let columns = self.east.len();
        let (i, j) = (block as usize % columns, block as usize / columns);
        Extent {
            min: Place::new(self.east.bounds[i], self.north.bounds[j]),
            max: Place::new(self.east.bounds[i + 1], self.north.bounds[j + 1]),
        }
    }

    /// What of a block lies within the extent overlaid.
    pub(super) fn within(&self, block: u32) -> Extent {
        self.bounds(block).intersection(&self.extent)
    }

    pub(super) fn halve(&mut self) {
        self.east.halve();
        self.north.halve();
    }

    /// All blocks along a curve that keeps neighbours close.
    pub(super) fn curve(&self) -> Vec<u32> {
        let columns = self.east.len() as u32;
        let mut order: Vec<u32> = (0..self.len() as u32).collect();
        order.sort_by_key(|block| curve::cell(block % columns, block / columns));
        order
    }

    pub(super) fn spans<'s>(&self, side: &Side<'s>) -> Spans<'s> {
        let tin = match *side {
            Side::Tin(tin) => tin,
            Side::Grid(grid) => {
                let [east, north] = grid.step();
                return Spans::Cells {
                    grid,
                    facets: side.count_in(&self.extent),
                    reach: [east * self.east.per_unit, north * self.north.per_unit],
                };
            }
            Side::Level(plane) => return Spans::Everywhere(plane),
        };
        let span = |facet: usize| {
            let extent = Extent::of(tin.corners(facet).map(Vertex::place));
            extent.meets(&self.extent).then(|| Span {
                east: [self.east.of(extent.min.east), self.east.of(extent.max.east)],
                north: [
                    self.north.of(extent.min.north),
                    self.north.of(extent.max.north),
                ],
            })
        };
        let facets = 0..tin.facets().len();
        Spans::Listed(tin, facets.into_par_iter().map(span).collect())
    }

    /// True when facets are so much longer than a block that listing them would cost more than it
    /// saves.
    pub(super) fn are_crowded(&self, spans: [&Spans<'_>; 2]) -> bool {
        let listings: usize = spans.iter().map(|side| side.listings()).sum();
        let facets: usize = spans.iter().map(|side| side.len()).sum();
        self.len() > 1 && listings > LISTINGS_A_FACET * facets + FACETS_A_BLOCK
    }

    pub(super) fn index<'s>(&self, spans: &Spans<'s>) -> Index<'s> {
        let (tin, spans) = match spans {
            Spans::Listed(tin, spans) => (*tin, spans),
            Spans::Cells { grid, .. } => return Index::Cells(grid),
            Spans::Everywhere(plane) => return Index::Everywhere(*plane),
        };
        let columns = self.east.len();
        let mut starts = vec![0usize; self.len() + 1];
        for block in spans.iter().flatten().flat_map(|span| span.blocks(columns)) {
            starts[block + 1] += 1;
        }
        for block in 0..self.len() {
            starts[block + 1] += starts[block];
        }
        let mut facets = vec![0u32; starts[self.len()]];
        // Each start is moved to its end while filling, which is where the next one starts.
        for (facet, span) in spans.iter().enumerate() {
            for block in span.iter().flat_map(|span| span.blocks(columns)) {
                facets[starts[block]] = facet as u32;
                starts[block] += 1;
            }
        }
        starts.rotate_right(1);
        starts[0] = 0;
        Index::Listed {
            tin,
            starts,
            facets,
        }
    }
}

impl Span {
    fn blocks(&self, columns: usize) -> impl Iterator<Item = usize> + use<> {
        let east = self.east.map(usize::from);
        let north = self.north.map(usize::from);
        (north[0]..=north[1]).flat_map(move |j| (east[0]..=east[1]).map(move |i| j * columns + i))
    }
}

impl Spans<'_> {
    fn len(&self) -> usize {
        match self {
            Spans::Listed(_, spans) => spans.len(),
            Spans::Cells { facets, .. } => *facets,
            Spans::Everywhere(_) => 0,
        }
    }

    fn listings(&self) -> usize {
        let reach = |[from, to]: [u16; 2]| usize::from(to - from) + 1;
        match self {
            Spans::Listed(_, spans) => (spans.par_iter().flatten())
                .map(|span| reach(span.east) * reach(span.north))
                .sum(),
            Spans::Cells { facets, reach, .. } => {
                (*facets as f64 * (1.0 + reach[0]) * (1.0 + reach[1])) as usize
            }
            Spans::Everywhere(_) => 0,
        }
    }

    pub(super) fn halve(&mut self) {
        match self {
            Spans::Listed(_, spans) => spans.par_iter_mut().flatten().for_each(|span| {
                span.east = span.east.map(|i| i / 2);
                span.north = span.north.map(|i| i / 2);
            }),
            Spans::Cells { reach, .. } => *reach = reach.map(|blocks| blocks / 2.0),
            Spans::Everywhere(_) => {}
        }
    }
}

impl Index<'_> {
    /// The facets that reach into a block, which has these bounds within the extent overlaid.
    pub(super) fn load(&self, block: u32, within: &Extent, facets: &mut Vec<Facet>) {
        facets.clear();
        match self {
            Index::Listed {
                tin,
                starts,
                facets: all,
            } => {
                let block = block as usize;
                let listed = &all[starts[block]..starts[block + 1]];
                facets.extend(
                    listed
                        .iter()
                        .map(|&facet| Facet::of((facet, tin.corners(facet as usize)))),
                );
            }
            Index::Cells(grid) => {
                let cells = grid.cells_in(within);
                facets.extend(grid.facets_of(cells).map(Facet::of));
            }
            Index::Everywhere(plane) => facets.push(Facet::everywhere(*plane)),
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn every_place_lies_in_the_step_that_says_so() {
        let mut steps = Steps::new(-3.0, 7.1, 13);
        for _ in 0..3 {
            for i in 0..2000 {
                let value = -4.0 + 0.006 * f64::from(i);
                let step = usize::from(steps.of(value));
                assert!(steps.bounds[step] <= value && value < steps.bounds[step + 1]);
            }
            steps.halve();
        }
        assert_eq!(usize::from(steps.of(f64::INFINITY)), steps.len() - 1);
        assert_eq!(steps.of(f64::NEG_INFINITY), 0);
    }

    #[test]
    fn the_curve_visits_each_block_once() {
        let extent = Extent::of([Place::new(0.0, 0.0), Place::new(30.0, 10.0)]);
        let blocks = Blocks::new(extent, FACETS_A_BLOCK * 300);
        let mut order = blocks.curve();
        assert_eq!((blocks.east.len(), blocks.north.len()), (30, 10));
        order.sort_unstable();
        assert!(order.into_iter().eq(0..300));
    }
}
