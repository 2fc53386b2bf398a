//! The difference on a raster of square pixels: for looking at, never for a figure.

use crate::{Extent, Fold, Overlay, Piece, Place};

/// Difference and slope at the middles of square pixels, row by row from the north-west corner.
#[derive(Debug, Clone)]
pub struct DifferenceMap {
    /// Pixels from west to east.
    pub columns: usize,
    /// Pixels from north to south.
    pub rows: usize,
    /// The side of a pixel.
    pub cell: f64,
    /// The north-west corner, in local coordinates.
    pub corner: Place,
    /// The pixels; `None` where nothing was compared.
    pub pixels: Vec<Option<Pixel>>,
}

/// One pixel of a [`DifferenceMap`].
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Pixel {
    /// Surveyed height less reference height.
    pub difference: f32,
    /// Rise of the surveyed surface per unit towards east and north.
    pub slope: [f32; 2],
}

/// Reads the difference at the middle of each of `pixels` square pixels along the longer side of
/// `extent` (in local coordinates).
pub fn difference_map(overlay: &Overlay<'_>, extent: Extent, pixels: usize) -> DifferenceMap {
    let cell = extent.width().max(extent.height()) / pixels as f64;
    let count = |length: f64| ((length / cell).ceil() as usize).clamp(1, pixels);
    let raster = Raster {
        columns: count(extent.width()),
        rows: count(extent.height()),
        cell,
        corner: Place::new(extent.min.east, extent.max.north),
    };
    let mut pixels = vec![None; raster.columns * raster.rows];
    for (index, pixel) in overlay.fold(&raster) {
        pixels[index as usize] = Some(pixel);
    }
    let Raster {
        columns,
        rows,
        cell,
        corner,
    } = raster;
    DifferenceMap {
        columns,
        rows,
        cell,
        corner,
        pixels,
    }
}

struct Raster {
    columns: usize,
    rows: usize,
    cell: f64,
    corner: Place,
}

impl Raster {
    fn middle_of(&self, column: usize) -> f64 {
        self.corner.east + (column as f64 + 0.5) * self.cell
    }

    /// Pixels whose middles lie between two distances from the raster's border.
    fn between(&self, from: f64, to: f64, count: usize) -> std::ops::Range<usize> {
        let first = (from / self.cell - 0.5).ceil().max(0.0) as usize;
        let last = (to / self.cell - 0.5).floor();
        let end = if last < 0.0 {
            0
        } else {
            (last as usize + 1).min(count)
        };
        first..end.max(first)
    }
}

impl Fold for Raster {
    type Part = Vec<(u32, Pixel)>;

    fn part(&self) -> Self::Part {
        Vec::new()
    }

    fn piece(&self, part: &mut Self::Part, piece: &Piece<'_>) {
        let corners = piece.outline.corners();
        let extent = Extent::of(corners.iter().copied());
        let from = self.corner.north - extent.max.north;
        for row in self.between(from, from + extent.height(), self.rows) {
            let north = self.corner.north - (row as f64 + 0.5) * self.cell;
            let Some([west, east]) = span(corners, north) else {
                continue;
            };
            let (from, to) = (west - self.corner.east, east - self.corner.east);
            for column in self.between(from, to, self.columns) {
                let at = Place::new(self.middle_of(column), north);
                let pixel = Pixel {
                    difference: (piece.surveyed.at(at) - piece.reference.at(at)) as f32,
                    slope: [
                        piece.surveyed.slope_east as f32,
                        piece.surveyed.slope_north as f32,
                    ],
                };
                part.push(((row * self.columns + column) as u32, pixel));
            }
        }
    }

    fn join(&self, part: &mut Self::Part, next: Self::Part) {
        part.extend(next);
    }
}

/// From where to where a convex outline reaches along a northing.
fn span(corners: &[Place], north: f64) -> Option<[f64; 2]> {
    let (mut west, mut east) = (f64::INFINITY, f64::NEG_INFINITY);
    let mut before = *corners.last()?;
    for &here in corners {
        if (before.north <= north) != (here.north <= north) {
            let share = (north - before.north) / (here.north - before.north);
            let at = before.east + share * (here.east - before.east);
            (west, east) = (west.min(at), east.max(at));
        }
        before = here;
    }
    (west <= east).then_some([west, east])
}
