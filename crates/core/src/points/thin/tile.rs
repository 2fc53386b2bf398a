//! Square groups of cells, each made when its first point comes.

use super::packed::{self, PackedHeight};

/// The points of 32 by 32 cells, or what is kept of them.
#[derive(Debug)]
pub(super) struct Tile {
    pub(super) counts: Vec<u32>,
    pub(super) heights: Heights,
}

/// What is kept of the heights of a tile.
#[derive(Debug)]
pub(super) enum Heights {
    /// The lowest or highest so far, and where it stands within its cell.
    One {
        heights: Vec<f64>,
        places: Vec<[f64; 2]>,
    },
    /// Sums of what heights are above the first of the tile, and of their places within their cells.
    Sums {
        first: f64,
        sums: Vec<f64>,
        places: Vec<[f64; 2]>,
    },
    /// All, as what they are above the first of the tile, with their cells and their places within them.
    All {
        first: f64,
        cells: Vec<u16>,
        shots: Vec<PackedHeight>,
    },
}

impl Tile {
    /// Visits the cells that hold a point: the kept height, and where it stands within the cell of side `side`.
    pub(super) fn each(self, side: f64, mut visit: impl FnMut(usize, f64, [f64; 2])) {
        let Tile { counts, heights } = self;
        let held = counts.iter().enumerate().filter(|(_, count)| **count > 0);
        match heights {
            Heights::One { heights, places } => {
                held.for_each(|(cell, _)| visit(cell, heights[cell], places[cell]));
            }
            Heights::Sums {
                first,
                sums,
                places,
            } => held.for_each(|(cell, &count)| {
                let count = f64::from(count);
                let mean = first + sums[cell] / count;
                visit(cell, mean, places[cell].map(|sum| sum / count));
            }),
            Heights::All {
                first,
                cells,
                shots,
            } => {
                let mut ends: Vec<usize> = (counts.iter())
                    .scan(0, |start, &count| {
                        *start += count as usize;
                        Some(*start - count as usize)
                    })
                    .collect();
                let mut sorted = vec![PackedHeight::default(); shots.len()];
                // Each start is moved to its end while filling.
                for (&cell, shot) in cells.iter().zip(shots) {
                    let end = &mut ends[usize::from(cell)];
                    sorted[*end] = shot;
                    *end += 1;
                }
                for (cell, &count) in held {
                    let end = ends[cell];
                    let own = &mut sorted[end - count as usize..end];
                    let (above, within) = packed::median(own, side);
                    visit(cell, first + above, within);
                }
            }
        }
    }
}
