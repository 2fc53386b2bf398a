//! A surface given by heights on a regular grid.

mod outline;

use std::ops::Range;

use rayon::prelude::*;

use crate::plan::{Extent, Frame, Place};
use crate::surface::tin::MOST;
use crate::surface::{FARTHEST, Tin, TinError, Vertex};

/// Heights at the nodes of a regular grid, row by row from the south-west.
///
/// Each cell of four nodes is two facets, split along the diagonal from its south-west to its
/// north-east node; a cell that lacks one node is the facet of the other three. Facets are made as they
/// are asked for and never kept.
#[derive(Debug, Clone)]
pub struct Grid {
    frame: Frame,
    /// The south-west node, in local coordinates.
    corner: Place,
    step: [f64; 2],
    columns: usize,
    rows: usize,
    /// Not a number where there is none.
    heights: Vec<f64>,
    extent: Extent,
    facets: usize,
}

/// Why heights make no grid.
#[derive(Debug, Clone, PartialEq, thiserror::Error)]
#[non_exhaustive]
pub enum GridError {
    /// A surface wants two nodes each way.
    #[error(
        "the grid has {columns} columns and {rows} rows, and a surface needs at least two of each"
    )]
    TooFew {
        /// Columns of nodes.
        columns: usize,
        /// Rows of nodes.
        rows: usize,
    },
    /// More nodes than can be distinguished.
    #[error("a grid of {columns} columns and {rows} rows is too large")]
    TooMany {
        /// Columns of nodes.
        columns: usize,
        /// Rows of nodes.
        rows: usize,
    },
    /// Heights that do not fill the grid.
    #[error("{found} heights for {expected} grid nodes")]
    Count {
        /// How many there are.
        found: usize,
        /// How many there should be.
        expected: usize,
    },
    /// A step that is none.
    #[error("{} by {} is not a cell size", .step[0], .step[1])]
    Step {
        /// To the east and north.
        step: [f64; 2],
    },
    /// A coordinate or height beyond [`FARTHEST`](crate::surface::FARTHEST).
    #[error("a coordinate or height is beyond ±1 000 000 000")]
    OutOfRange,
    /// No cell has three heights.
    #[error("no grid cell has three heights, the least that a triangle needs")]
    NoFacets,
}

impl Grid {
    /// A grid whose south-west node stands at `corner` in grid coordinates, with `step` from node to
    /// node towards east and north. A height that is not a number is none.
    ///
    /// # Errors
    ///
    /// When the heights do not fill the grid, or make no facet.
    ///
    /// ```
    /// use dapedon_core::plan::{Frame, Place};
    /// use dapedon_core::surface::{Grid};
    /// use dapedon_core::units::{LengthUnit};
    /// let frame = Frame::new(LengthUnit::Metre, [0.0, 0.0]);
    /// let heights = vec![1.0, 1.0, 1.0, 2.0, 2.0, f64::NAN];
    /// let grid = Grid::new(frame, Place::new(0.0, 0.0), [5.0, 5.0], [3, 2], heights).unwrap();
    /// assert_eq!((grid.facets(), grid.area()), (3, 37.5));
    /// ```
    pub fn new(
        frame: Frame,
        corner: Place,
        step: [f64; 2],
        [columns, rows]: [usize; 2],
        heights: Vec<f64>,
    ) -> Result<Self, GridError> {
        if columns < 2 || rows < 2 {
            return Err(GridError::TooFew { columns, rows });
        }
        let nodes = columns.checked_mul(rows).filter(|&nodes| nodes < MOST);
        let nodes = nodes.ok_or(GridError::TooMany { columns, rows })?;
        if heights.len() != nodes {
            return Err(GridError::Count {
                found: heights.len(),
                expected: nodes,
            });
        }
        if !step.iter().all(|&step| step > 0.0 && step.is_finite()) {
            return Err(GridError::Step { step });
        }
        let far = [
            corner.east + step[0] * columns as f64,
            corner.north + step[1] * rows as f64,
        ];
        let within = |value: f64| value.abs() <= FARTHEST;
        let placed = within(corner.east) && within(corner.north) && far.into_iter().all(within);
        if !placed || heights.iter().any(|&h| h.abs() > FARTHEST) {
            return Err(GridError::OutOfRange);
        }
        let mut grid = Grid {
            frame,
            corner: frame.to_local(corner.east, corner.north),
            step,
            columns,
            rows,
            heights,
            extent: Extent::EMPTY,
            facets: 0,
        };
        let (facets, reach) = grid.reach();
        let Some([west, south, east, north]) = reach else {
            return Err(GridError::NoFacets);
        };
        grid.facets = facets;
        grid.extent = Extent {
            min: Place::new(grid.east_of(west), grid.north_of(south)),
            max: Place::new(grid.east_of(east), grid.north_of(north)),
        };
        Ok(grid)
    }

    /// The frame its coordinates are held in.
    pub fn frame(&self) -> Frame {
        self.frame
    }

    /// Columns and rows of nodes.
    pub fn size(&self) -> [usize; 2] {
        [self.columns, self.rows]
    }

    /// From node to node, towards east and north.
    pub fn step(&self) -> [f64; 2] {
        self.step
    }

    /// How many facets it has.
    pub fn facets(&self) -> usize {
        self.facets
    }

    /// Where its facets lie, in local coordinates.
    pub fn extent(&self) -> Extent {
        self.extent
    }

    /// The heights of its nodes, row by row from the south-west; not a number where there is none.
    pub fn heights(&self) -> &[f64] {
        &self.heights
    }

    /// The lowest and highest height of its nodes.
    pub fn range(&self) -> (f64, f64) {
        let heights = self.heights.iter().copied();
        heights.fold((f64::INFINITY, f64::NEG_INFINITY), |(low, high), h| {
            (low.min(h), high.max(h))
        })
    }

    /// The plan area of its facets.
    pub fn area(&self) -> f64 {
        self.facets as f64 * self.step[0] * self.step[1] / 2.0
    }

    /// The area of its facets as they slope, along the ground.
    pub fn true_area(&self) -> f64 {
        let facets = self.facets_of([0..self.columns - 1, 0..self.rows - 1]);
        crate::surface::tin::true_area(facets.map(|(_, corners)| corners))
    }

    /// The south-west node, in local coordinates.
    pub fn corner(&self) -> Place {
        self.corner
    }

    /// The heights of one row of nodes.
    pub(crate) fn row(&self, row: usize) -> &[f64] {
        &self.heights[row * self.columns..(row + 1) * self.columns]
    }

    pub(crate) fn east_of(&self, column: usize) -> f64 {
        self.corner.east + column as f64 * self.step[0]
    }

    pub(crate) fn north_of(&self, row: usize) -> f64 {
        self.corner.north + row as f64 * self.step[1]
    }

    /// The same grid elsewhere: so far to the east, to the north and up.
    pub(crate) fn shifted(&self, [east, north, up]: [f64; 3]) -> Grid {
        let place = |at: Place| Place::new(at.east + east, at.north + north);
        Grid {
            corner: place(self.corner),
            extent: Extent {
                min: place(self.extent.min),
                max: place(self.extent.max),
            },
            heights: self.heights.iter().map(|height| height + up).collect(),
            ..*self
        }
    }

    /// The same grid with each node higher by what is so at its place.
    pub(crate) fn raised_by(&self, up: impl Fn(Place) -> f64) -> Grid {
        let nodes = self.heights.iter().enumerate();
        Grid {
            heights: nodes
                .map(|(node, height)| height + up(self.vertex(node).place()))
                .collect(),
            ..*self
        }
    }

    /// Two for each cell, whether there is a facet or not.
    pub(crate) fn facet_slots(&self) -> usize {
        2 * (self.columns - 1) * (self.rows - 1)
    }

    /// Columns and rows of the cells that meet an extent.
    pub(crate) fn cells_in(&self, extent: &Extent) -> [Range<usize>; 2] {
        let reach = |[low, high]: [f64; 2], corner: f64, step: f64, cells: usize| {
            let line = |index: usize| corner + index as f64 * step;
            // A guess that rounding may have put one off, settled by the lines themselves.
            let guess = |value: f64| (((value - corner) / step) as usize).min(cells);
            let (mut first, mut end) = (guess(low), guess(high));
            while first > 0 && line(first) >= low {
                first -= 1;
            }
            while first < cells && line(first + 1) < low {
                first += 1;
            }
            while end > 0 && line(end - 1) > high {
                end -= 1;
            }
            while end < cells && line(end) <= high {
                end += 1;
            }
            first..end.max(first)
        };
        let Extent { min, max } = *extent;
        [
            reach(
                [min.east, max.east],
                self.corner.east,
                self.step[0],
                self.columns - 1,
            ),
            reach(
                [min.north, max.north],
                self.corner.north,
                self.step[1],
                self.rows - 1,
            ),
        ]
    }

    /// The facets of some cells, row by row, with their corners.
    pub(crate) fn facets_of(
        &self,
        [columns, rows]: [Range<usize>; 2],
    ) -> impl Iterator<Item = (u32, [Vertex; 3])> + '_ {
        let slots = rows.flat_map(move |row| {
            let first = 2 * row * (self.columns - 1);
            first + 2 * columns.start..first + 2 * columns.end
        });
        let facets = slots.filter_map(|slot| Some((slot as u32, self.nodes(slot)?)));
        facets.map(|(slot, nodes)| (slot, nodes.map(|node| self.vertex(node))))
    }

    /// The first of the two facets of a cell.
    pub(crate) fn first_facet(&self, [column, row]: [usize; 2]) -> u32 {
        2 * (row * (self.columns - 1) + column) as u32
    }

    pub(crate) fn vertex(&self, node: usize) -> Vertex {
        let (column, row) = (node % self.columns, node / self.columns);
        Vertex::new(self.east_of(column), self.north_of(row), self.heights[node])
    }

    /// The nodes of one facet, counter-clockwise; `None` where the cell lacks heights for it.
    pub(crate) fn nodes(&self, facet: usize) -> Option<[usize; 3]> {
        let (cell, second) = (facet / 2, facet % 2 == 1);
        let (column, row) = (cell % (self.columns - 1), cell / (self.columns - 1));
        let sw = row * self.columns + column;
        let [se, nw, ne] = [sw + 1, sw + self.columns, sw + self.columns + 1];
        let has = |node: usize| !self.heights[node].is_nan();
        match ([sw, se, ne, nw].map(has), second) {
            ([true, true, true, _], false) => Some([sw, se, ne]),
            ([true, _, true, true], true) => Some([sw, ne, nw]),
            ([false, true, true, true], false) => Some([se, ne, nw]),
            ([true, true, false, true], false) => Some([sw, se, nw]),
            _ => None,
        }
    }

    /// The same facets, indexed: for what needs them written out.
    ///
    /// # Errors
    ///
    /// Never for a grid that was made; the type is that of any surface of facets.
    pub fn to_tin(&self) -> Result<Tin, TinError> {
        let mut numbers = vec![u32::MAX; self.heights.len()];
        let mut vertices = Vec::new();
        let mut facets = Vec::with_capacity(self.facets);
        for facet in (0..self.facet_slots()).filter_map(|facet| self.nodes(facet)) {
            facets.push(facet.map(|node| {
                if numbers[node] == u32::MAX {
                    numbers[node] = vertices.len() as u32;
                    let v = self.vertex(node);
                    let grid = self.frame.to_grid(v.place());
                    vertices.push(Vertex::new(grid.east, grid.north, v.height));
                }
                numbers[node]
            }));
        }
        Tin::from_facets(self.frame, vertices, facets)
    }

    /// How many facets there are, and the first and last column and row of nodes they reach.
    fn reach(&self) -> (usize, Option<[usize; 4]>) {
        let along = |row: usize| {
            let (mut facets, mut columns) = (0, None);
            for column in 0..self.columns - 1 {
                if let Some(has) = self.cell(column as isize, row as isize) {
                    facets += has.iter().filter(|&&has| has).count() - 2;
                    let first = columns.map_or(column, |[first, _]: [usize; 2]| first);
                    columns = Some([first, column + 1]);
                }
            }
            let reach = columns.map(|[first, last]| [first, row, last, row + 1]);
            (facets, reach)
        };
        type Reach = (usize, Option<[usize; 4]>);
        let join = |(facets, reach): Reach, (more, next): Reach| {
            let both = match (reach, next) {
                (Some([a, b, c, d]), Some([e, f, g, h])) => {
                    Some([a.min(e), b.min(f), c.max(g), d.max(h)])
                }
                (one, other) => one.or(other),
            };
            (facets + more, both)
        };
        let rows = (0..self.rows - 1).into_par_iter().map(along);
        rows.reduce(|| (0, None), join)
    }

    /// Which nodes of a cell have a height: south-west, south-east, north-east, north-west. `None` where
    /// they are too few for a facet, or there is no such cell.
    fn cell(&self, column: isize, row: isize) -> Option<[bool; 4]> {
        let within = |index: isize, nodes: usize| index >= 0 && (index as usize) + 1 < nodes;
        if !within(column, self.columns) || !within(row, self.rows) {
            return None;
        }
        let sw = row as usize * self.columns + column as usize;
        let nodes = [sw, sw + 1, sw + self.columns + 1, sw + self.columns];
        let has = nodes.map(|node| !self.heights[node].is_nan());
        (has.iter().filter(|&&has| has).count() >= 3).then_some(has)
    }
}
