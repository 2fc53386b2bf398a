//! A surface given by heights on a regular grid.

use crate::{Edge, Extent, FARTHEST, Frame, Place, Tin, TinError, Vertex};

/// Heights at the nodes of a regular grid, row by row from the south-west.
///
/// Each cell of four nodes is two facets, parted along the diagonal from its south-west to its
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
pub enum GridError {
    /// A surface wants two nodes each way.
    #[error("{columns} columns and {rows} rows of heights; a surface needs two of each")]
    TooFew {
        /// Columns of nodes.
        columns: usize,
        /// Rows of nodes.
        rows: usize,
    },
    /// More nodes than can be told apart.
    #[error("{columns} columns and {rows} rows of heights are more than can be measured")]
    TooMany {
        /// Columns of nodes.
        columns: usize,
        /// Rows of nodes.
        rows: usize,
    },
    /// Heights that do not fill the grid.
    #[error("{found} heights, and the grid has {expected} nodes")]
    Count {
        /// How many there are.
        found: usize,
        /// How many there should be.
        expected: usize,
    },
    /// A step that is none.
    #[error("a cell of {} by {} is none", .step[0], .step[1])]
    Step {
        /// To the east and north.
        step: [f64; 2],
    },
    /// A coordinate or height beyond [`FARTHEST`](crate::FARTHEST).
    #[error("a coordinate or height that no survey has, beyond a thousand million")]
    OutOfRange,
    /// No cell has three heights.
    #[error("no cell has the three heights that a facet needs")]
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
    /// use dapedon_core::{Frame, Grid, LengthUnit, Place};
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
        let nodes = columns.checked_mul(rows).filter(|&nodes| nodes < 1 << 30);
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
        let (mut extent, mut facets) = (Extent::EMPTY, 0);
        for facet in 0..grid.facet_slots() {
            if let Some(nodes) = grid.nodes(facet) {
                extent = extent.union(&Extent::of(nodes.map(|node| grid.vertex(node).place())));
                facets += 1;
            }
        }
        (grid.extent, grid.facets) = (extent, facets);
        match facets {
            0 => Err(GridError::NoFacets),
            _ => Ok(grid),
        }
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

    /// Two for each cell, whether there is a facet or not.
    pub(crate) fn facet_slots(&self) -> usize {
        2 * (self.columns - 1) * (self.rows - 1)
    }

    fn vertex(&self, node: usize) -> Vertex {
        let (column, row) = (node % self.columns, node / self.columns);
        Vertex::new(
            self.corner.east + column as f64 * self.step[0],
            self.corner.north + row as f64 * self.step[1],
            self.heights[node],
        )
    }

    /// The nodes of one facet, counter-clockwise; `None` where the cell lacks heights for it.
    fn nodes(&self, facet: usize) -> Option<[usize; 3]> {
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

    /// The corners of one facet, if there is one.
    pub(crate) fn corners(&self, facet: usize) -> Option<[Vertex; 3]> {
        self.nodes(facet)
            .map(|nodes| nodes.map(|node| self.vertex(node)))
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

    /// The edges that no other facet walks the other way.
    ///
    /// Edges are met within a row of cells; those along its north side wait for the next row.
    pub(crate) fn outline(&self) -> Vec<Edge> {
        let across = 2 * (self.columns - 1);
        let mut outline = Vec::new();
        let mut waiting: Vec<[usize; 2]> = Vec::new();
        for row in 0..self.rows - 1 {
            let mut edges = std::mem::take(&mut waiting);
            for facet in row * across..(row + 1) * across {
                if let Some([a, b, c]) = self.nodes(facet) {
                    edges.extend([[a, b], [b, c], [c, a]]);
                }
            }
            let upright = |&[from, to]: &[usize; 2]| [from.min(to), from.max(to)];
            edges.sort_unstable_by_key(|edge| (upright(edge), *edge));
            let north = (row + 1) * self.columns;
            for run in edges.chunk_by(|a, b| upright(a) == upright(b)) {
                if let [edge] = run {
                    match edge.iter().all(|&node| node >= north) && row + 2 < self.rows {
                        true => waiting.push(*edge),
                        false => outline.push(edge.map(|node| self.vertex(node).place())),
                    }
                }
            }
        }
        outline
            .into_iter()
            .map(|[from, to]| Edge { from, to })
            .collect()
    }
}
