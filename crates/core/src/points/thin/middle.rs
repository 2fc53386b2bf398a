//! Heights carried from where their points stand to the middles of their cells.

use rayon::prelude::*;

use crate::plan::precision::{CANCELLED, IN_LINE};

/// One height a cell where its point stands, of a grid of cells.
pub(super) struct Kept {
    pub(super) columns: usize,
    /// Row by row; not a number where there is none.
    pub(super) heights: Vec<f64>,
    /// How far east and north of the middle of its cell it stands, in sides of a cell.
    pub(super) places: Vec<[f32; 2]>,
}

impl Kept {
    /// The heights at the middles of the cells: each carried along the plane that fits the heights of its own cell
    /// and of the eight around it best (least squares, at the places where they stand).
    ///
    /// A plane stays the same plane, wherever in their cells its points stand. Where the heights around stand in one
    /// line the slope across it is not known and taken as none; a height without neighbours stays as it is.
    pub(super) fn at_middles(&self) -> Vec<f64> {
        let mut carried = vec![f64::NAN; self.heights.len()];
        let rows = carried.par_chunks_mut(self.columns.max(1)).enumerate();
        rows.for_each(|(row, carried)| {
            for (column, carried) in carried.iter_mut().enumerate() {
                let index = row * self.columns + column;
                let height = self.heights[index];
                if !height.is_nan() {
                    let [east, north] = self.places[index].map(f64::from);
                    let [rise_east, rise_north] = self.slope([column, row]);
                    *carried = height - rise_east * east - rise_north * north;
                }
            }
        });
        carried
    }

    /// The rise over the side of a cell, to the east and to the north, of the plane that fits the heights around.
    fn slope(&self, [column, row]: [usize; 2]) -> [f64; 2] {
        let own = self.heights[row * self.columns + column];
        let rows = self.heights.len() / self.columns;
        // Places as seen from the middle of the own cell, heights above the own one: small numbers.
        let mut near: [[f64; 3]; 9] = [[0.0; 3]; 9];
        let mut count = 0;
        for north in row.saturating_sub(1)..(row + 2).min(rows) {
            for east in column.saturating_sub(1)..(column + 2).min(self.columns) {
                let index = north * self.columns + east;
                let height = self.heights[index];
                if !height.is_nan() {
                    let [e, n] = self.places[index].map(f64::from);
                    let (across, along) = (east as f64 - column as f64, north as f64 - row as f64);
                    near[count] = [across + e, along + n, height - own];
                    count += 1;
                }
            }
        }
        fitted(&near[..count])
    }
}

/// The rise to the east and to the north of the plane that fits some heights best; of those in one line along it alone.
fn fitted(near: &[[f64; 3]]) -> [f64; 2] {
    let mean = |of: usize| near.iter().map(|at| at[of]).sum::<f64>() / near.len() as f64;
    let middle = [0, 1, 2].map(mean);
    let mut sums = [0.0; 5];
    for at in near {
        let [e, n, h] = [0, 1, 2].map(|of| at[of] - middle[of]);
        for (sum, product) in sums.iter_mut().zip([e * e, e * n, n * n, e * h, n * h]) {
            *sum += product;
        }
    }
    let [ee, en, nn, eh, nh] = sums;
    let (spread, determinant) = (ee + nn, ee * nn - en * en);
    if determinant > IN_LINE * spread * spread {
        return [
            (nn * eh - en * nh) / determinant,
            (ee * nh - en * eh) / determinant,
        ];
    }
    if spread <= CANCELLED {
        return [0.0, 0.0];
    }
    // The direction of the line: the longer column of the sums.
    let [e, n] = if ee > nn { [ee, en] } else { [en, nn] };
    let along = (e * eh + n * nh) / ((e * e + n * n) * spread);
    [e * along, n * along]
}
