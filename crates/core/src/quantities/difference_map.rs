//! The difference on a raster of square pixels: for looking at, never for a figure.

use crate::overlay::{Fold, Overlay, OverlayError, Piece};
use crate::plan::{Extent, Place};
use crate::quantities::raster::Raster;

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
///
/// # Errors
///
/// When it is stopped by who watches.
pub fn difference_map(
    overlay: &Overlay<'_>,
    extent: Extent,
    pixels: usize,
) -> Result<DifferenceMap, OverlayError> {
    let cell = extent.width().max(extent.height()) / pixels as f64;
    let count = |length: f64| ((length / cell).ceil() as usize).clamp(1, pixels);
    let raster = Raster {
        columns: count(extent.width()),
        rows: count(extent.height()),
        cell,
        corner: Place::new(extent.min.east, extent.max.north),
    };
    let mut pixels = vec![None; raster.columns * raster.rows];
    let pictured = Pictured(raster);
    for (index, pixel) in overlay.fold(&pictured)? {
        pixels[index as usize] = Some(pixel);
    }
    let Pictured(Raster {
        columns,
        rows,
        cell,
        corner,
    }) = pictured;
    Ok(DifferenceMap {
        columns,
        rows,
        cell,
        corner,
        pixels,
    })
}

struct Pictured(Raster);

impl Fold for Pictured {
    type Part = Vec<(u32, Pixel)>;

    fn part(&self) -> Self::Part {
        Vec::new()
    }

    fn piece(&self, part: &mut Self::Part, piece: &Piece<'_>) {
        self.0.middles(piece.outline, |index, at| {
            let pixel = Pixel {
                difference: (piece.surveyed.at(at) - piece.reference.at(at)) as f32,
                slope: [
                    piece.surveyed.slope_east as f32,
                    piece.surveyed.slope_north as f32,
                ],
            };
            part.push((index, pixel));
        });
    }

    fn join(&self, part: &mut Self::Part, next: Self::Part) {
        part.extend(next);
    }
}
