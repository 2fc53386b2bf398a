//! Where a grid ends.

use std::ops::Range;

use rayon::prelude::*;

use super::Grid;
use crate::plan::Edge;
use crate::plan::sum::total;

/// Cells that are looked at together.
const STRETCH: usize = 32;

impl Grid {
    /// True where no height is missing in a stretch of some rows.
    fn has_all(&self, rows: Range<usize>, from: isize) -> bool {
        from >= 0
            && from as usize + STRETCH < self.columns
            && rows.into_iter().all(|row| {
                let heights = &self.row(row)[from as usize..=from as usize + STRETCH];
                !total(heights).is_nan()
            })
    }

    /// The edges that no other facet walks the other way: sides of a cell beyond which there is none, and
    /// the diagonals of cells that lack a height.
    pub(crate) fn outline(&self) -> Vec<Edge> {
        let along = |row: usize| {
            let mut edges = Vec::new();
            let around = row.saturating_sub(1)..(row + 3).min(self.rows);
            let row = row as isize;
            let mut column = 0;
            while column < self.columns as isize - 1 {
                // Most cells have all their heights, and so have all around them.
                if around.len() == 4 && self.has_all(around.clone(), column - 1) {
                    column += STRETCH as isize - 2;
                    continue;
                }
                column += 1;
                let column = column - 1;
                let Some(has) = self.cell(column, row) else {
                    continue;
                };
                let sw = row as usize * self.columns + column as usize;
                let nodes = [sw, sw + 1, sw + self.columns + 1, sw + self.columns];
                let beyond = [
                    (column, row - 1),
                    (column + 1, row),
                    (column, row + 1),
                    (column - 1, row),
                ];
                for (side, (east, north)) in beyond.into_iter().enumerate() {
                    let next = (side + 1) % 4;
                    if has[side] && has[next] && self.cell(east, north).is_none() {
                        edges.push([nodes[side], nodes[next]]);
                    }
                }
                if let Some(lacks) = has.iter().position(|has| !has) {
                    edges.push([nodes[(lacks + 3) % 4], nodes[(lacks + 1) % 4]]);
                }
            }
            edges
        };
        let rows: Vec<_> = (0..self.rows - 1).into_par_iter().map(along).collect();
        let place = |node: usize| self.vertex(node).place();
        let edge = |[from, to]: [usize; 2]| Edge {
            from: place(from),
            to: place(to),
        };
        rows.into_iter().flatten().map(edge).collect()
    }
}
