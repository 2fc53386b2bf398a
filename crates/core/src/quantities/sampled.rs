//! A surface read at the middles of square cells.

use crate::overlay::{Fold, Overlay, OverlayError, Piece};
use crate::plan::Place;
use crate::quantities::raster::Raster;
use crate::surface::{Level, Surface};

/// Cells that are read at most.
const MOST: f64 = 1e9;

/// Heights at the middles of square cells.
#[derive(Debug, Clone)]
pub struct Sampled {
    /// The middle of the south-west cell, in grid coordinates.
    pub corner: Place,
    /// The side of a cell.
    pub cell: f64,
    /// Columns and rows.
    pub size: [usize; 2],
    /// Row by row from the south-west; not a number where the surface does not lie.
    pub heights: Vec<f64>,
}

/// Reads a surface at the middles of cells whose sides stand at multiples of `cell` in the grid, so
/// that the cells of two surfaces meet. `None` when that would be more than `most` cells.
///
/// # Errors
///
/// When the surface has no end.
pub fn sampled(surface: &Surface, cell: f64, most: u64) -> Result<Option<Sampled>, OverlayError> {
    let frame = surface.frame();
    let level = Surface::Level(Level::new(frame, 0.0));
    let overlay = Overlay::new(surface, &level, None)?;
    let extent = surface.extent();
    let (min, max) = (frame.to_grid(extent.min), frame.to_grid(extent.max));
    let west = (min.east / cell).floor() * cell;
    let south = (min.north / cell).floor() * cell;
    let count = |from: f64, to: f64| ((to - from) / cell).ceil().max(1.0);
    let (columns, rows) = (count(west, max.east), count(south, max.north));
    let cells = columns * rows;
    if cells.is_nan() || cells > MOST.min(most as f64) {
        return Ok(None);
    }
    let (columns, rows) = (columns as usize, rows as usize);
    let north = south + rows as f64 * cell;
    let raster = Raster {
        columns,
        rows,
        cell,
        corner: frame.to_local(west, north),
    };
    let mut heights = vec![f64::NAN; columns * rows];
    let near = frame.precision().length();
    for (index, height) in overlay.fold(&Heights { raster, near })? {
        // From the north as pixels, from the south as heights.
        let (row, column) = (index as usize / columns, index as usize % columns);
        heights[(rows - 1 - row) * columns + column] = height;
    }
    Ok(Some(Sampled {
        corner: Place::new(west + cell / 2.0, south + cell / 2.0),
        cell,
        size: [columns, rows],
        heights,
    }))
}

struct Heights {
    raster: Raster,
    /// What lies so near to a piece is in it: no cell is lost on an edge.
    near: f64,
}

impl Fold for Heights {
    type Part = Vec<(u32, f64)>;

    fn part(&self) -> Self::Part {
        Vec::new()
    }

    fn piece(&self, part: &mut Self::Part, piece: &Piece<'_>) {
        self.raster
            .middles_near(piece.outline, self.near, |index, at| {
                part.push((index, piece.reference.at(at)));
            });
    }

    fn join(&self, part: &mut Self::Part, next: Self::Part) {
        part.extend(next);
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::plan::Frame;
    use crate::points::triangulate;
    use crate::surface::{Grid, Vertex};
    use crate::units::LengthUnit;

    #[test]
    fn a_plane_is_read_where_cells_have_their_middles() {
        let frame = Frame::new(LengthUnit::Metre, [500_000.0, 6_000_000.0]);
        let plane = |e: f64, n: f64| 7.0 + 0.25 * e - 0.5 * n;
        let corners = [(1.0, 2.0), (21.0, 2.0), (21.0, 12.0), (1.0, 12.0)];
        let points = corners.map(|(e, n)| Vertex::new(500_000.0 + e, 6_000_000.0 + n, plane(e, n)));
        let made = triangulate(
            frame,
            &points.to_vec().into(),
            &crate::points::Rules::default(),
        )
        .unwrap();
        let surface = Surface::Tin(made.tin);
        let read = sampled(&surface, 4.0, u64::MAX).unwrap().unwrap();
        // Cells from 0 to 24 and from 0 to 12; middles from 2 to 22 and 2 to 10.
        assert_eq!(
            (read.size, read.corner),
            ([6, 3], Place::new(500_002.0, 6_000_002.0))
        );
        for (index, &height) in read.heights.iter().enumerate() {
            let (e, n) = (
                2.0 + 4.0 * (index % 6) as f64,
                2.0 + 4.0 * (index / 6) as f64,
            );
            match e < 21.0 && n > 2.0 {
                true => assert!((height - plane(e, n)).abs() < 1e-9, "{e} {n} {height}"),
                false => assert!(height.is_nan() || n == 2.0),
            }
        }
        assert!(sampled(&surface, 1e-6, u64::MAX).unwrap().is_none());
        // What is read from a grid at its own cells is that grid.
        let heights: Vec<f64> = (0..30).map(|i| f64::from(i * 7 % 5)).collect();
        let grid = Grid::new(
            frame,
            Place::new(500_001.0, 6_000_001.0),
            [2.0; 2],
            [6, 5],
            heights.clone(),
        )
        .unwrap();
        let again = sampled(&Surface::Grid(grid), 2.0, u64::MAX)
            .unwrap()
            .unwrap();
        assert_eq!(again.corner, Place::new(500_001.0, 6_000_001.0));
        let inner = |i: usize| (1..5).contains(&(i % 6)) && (1..4).contains(&(i / 6));
        for i in (0..30).filter(|&i| inner(i)) {
            let (row, column) = (i / 6, i % 6);
            let found = again.heights[row * again.size[0] + column];
            assert!((found - heights[i]).abs() < 1e-9);
        }
    }
}
