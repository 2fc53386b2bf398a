//! Two grids whose nodes stand at the same places: cell by cell, nothing is looked for.

use std::ops::Range;

use super::{Fold, Piece, Strip};
use crate::plan::Place;
use crate::plan::clip::{Polygon, Room};
use crate::surface::Plane;
use crate::surface::{Grid, Vertex};

/// Cells that one task walks before its part is joined to the others.
const CELLS: usize = 1 << 16;

/// Cells that a fold is handed at once.
const STRIP: usize = 16;

/// The cells that two grids share.
#[derive(Debug)]
pub(super) struct Aligned<'g> {
    reference: &'g Grid,
    surveyed: &'g Grid,
    /// Columns and rows of cells, counted in the reference grid.
    shared: [Range<usize>; 2],
    /// What is added to a column and row of the reference grid for those of the surveyed one.
    offset: [i64; 2],
}

impl<'g> Aligned<'g> {
    /// `None` where the nodes do not stand at the same places.
    pub(super) fn of(reference: &'g Grid, surveyed: &'g Grid) -> Option<Self> {
        let resolution = reference.frame().precision().length();
        if reference.step() != surveyed.step() {
            return None;
        }
        let from = reference.corner();
        let to = surveyed.corner();
        let apart = [from.east - to.east, from.north - to.north];
        let mut offset = [0; 2];
        let mut shared = [0..0, 0..0];
        for axis in 0..2 {
            let step = reference.step()[axis];
            let nodes = (apart[axis] / step).round();
            if (apart[axis] - nodes * step).abs() > resolution || nodes.abs() > 1e9 {
                return None;
            }
            offset[axis] = nodes as i64;
            let cells = |grid: &Grid| grid.size()[axis] as i64 - 1;
            let first = (-offset[axis]).max(0);
            let end = cells(reference).min(cells(surveyed) - offset[axis]);
            shared[axis] = first as usize..end.max(first) as usize;
        }
        Some(Aligned {
            reference,
            surveyed,
            shared,
            offset,
        })
    }

    /// Bands of rows, one a task.
    pub(super) fn bands(&self) -> Vec<[usize; 2]> {
        let [columns, rows] = &self.shared;
        let high = (CELLS / columns.len().max(1)).max(1);
        let bands = rows.clone().step_by(high);
        bands.map(|row| [row, (row + high).min(rows.end)]).collect()
    }

    /// Takes the cells of some rows through a fold.
    pub(super) fn band<F: Fold>(&self, fold: &F, [first, end]: [usize; 2], part: &mut F::Part) {
        let mut room = Room::default();
        let columns = &self.shared[0];
        for row in first..end {
            for start in columns.clone().step_by(STRIP) {
                let strip = self.strip(start..(start + STRIP).min(columns.end), row);
                if strip.is_whole() {
                    fold.strip(part, &strip);
                    continue;
                }
                for column in start..start + strip.cells() {
                    let cell = self.strip(column..column + 1, row);
                    match cell.is_whole() {
                        true => fold.strip(part, &cell),
                        false => self.uneven(fold, [column, row], &mut room, part),
                    }
                }
            }
        }
    }

    fn strip(&self, columns: Range<usize>, row: usize) -> Strip<'g> {
        let there = self.there(columns.start, row);
        let nodes = columns.start..=columns.end;
        let nodes_there = there[0]..=there[0] + columns.len();
        Strip {
            corner: Place::new(
                self.reference.east_of(columns.start),
                self.reference.north_of(row),
            ),
            step: self.reference.step(),
            reference: [row, row + 1].map(|row| &self.reference.row(row)[nodes.clone()]),
            surveyed: [there[1], there[1] + 1]
                .map(|row| &self.surveyed.row(row)[nodes_there.clone()]),
            facets: [
                self.reference.first_facet([columns.start, row]),
                self.surveyed.first_facet(there),
            ],
        }
    }

    /// The column and row of the surveyed grid for those of the reference.
    fn there(&self, column: usize, row: usize) -> [usize; 2] {
        let other = |index: usize, axis: usize| (index as i64 + self.offset[axis]) as usize;
        [other(column, 0), other(row, 1)]
    }

    /// A cell in which one of the grids lacks a height: its facets are met one by one.
    #[cold]
    fn uneven<F: Fold>(
        &self,
        fold: &F,
        [column, row]: [usize; 2],
        room: &mut Room,
        part: &mut F::Part,
    ) {
        let [there, up] = self.there(column, row);
        let one = |index: usize| index..index + 1;
        for (index, facet) in self.reference.facets_of([one(column), one(row)]) {
            let polygon = Polygon::triangle(facet.map(Vertex::place));
            for (there, counterpart) in self.surveyed.facets_of([one(there), one(up)]) {
                let [a, b, c] = counterpart;
                let corners = counterpart.map(Vertex::place);
                if let Some(outline) = polygon.within(&corners, room) {
                    let piece = Piece {
                        zones: &[0],
                        outline,
                        reference: Plane::through(facet[0], facet[1], facet[2]),
                        surveyed: Plane::through(a, b, c),
                        facets: [index, there],
                    };
                    fold.piece(part, &piece);
                }
            }
        }
    }
}
