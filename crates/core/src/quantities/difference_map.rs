//! The difference on a raster of square pixels: for looking at, never for a figure.

use crate::overlay::{Both, Fold, Overlay, OverlayError, Piece};
use crate::plan::{Extent, Place};
use crate::quantities::bands::{Band, BandEdges, BandFold};
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

/// Pixels along the longer side of an extent that fills some room, which is so many pixels wide and high.
pub fn pixels_in_room(extent: &Extent, [wide, high]: [f64; 2]) -> usize {
    let (width, height) = (extent.width(), extent.height());
    let scale = (wide / width).min(high / height);
    let pixels = (scale * width.max(height)).ceil();
    if pixels >= 1.0 { pixels as usize } else { 1 }
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
    let pictured = Pictured::over(extent, pixels);
    let found = overlay.fold(&pictured)?;
    Ok(pictured.map(found))
}

/// The same, and the bands of the difference zone by zone, in one walk over the overlay.
///
/// # Errors
///
/// When it is stopped by who watches.
pub fn difference_map_with_bands(
    overlay: &Overlay<'_>,
    extent: Extent,
    pixels: usize,
    edges: &BandEdges,
) -> Result<(DifferenceMap, Vec<Vec<Band>>), OverlayError> {
    let both = Both(Pictured::over(extent, pixels), BandFold::of(overlay, edges));
    let (pictured, banded) = overlay.fold(&both)?;
    Ok((both.0.map(pictured), both.1.told(banded)))
}

struct Pictured(Raster);

impl Pictured {
    fn over(extent: Extent, pixels: usize) -> Self {
        let cell = extent.width().max(extent.height()) / pixels as f64;
        let count = |length: f64| ((length / cell).ceil() as usize).clamp(1, pixels);
        Pictured(Raster {
            columns: count(extent.width()),
            rows: count(extent.height()),
            cell,
            corner: Place::new(extent.min.east, extent.max.north),
        })
    }

    /// The pixels that were found, each at its place.
    fn map(&self, found: Vec<Vec<(u32, Pixel)>>) -> DifferenceMap {
        let Raster {
            columns,
            rows,
            cell,
            corner,
        } = self.0;
        let mut pixels = vec![None; columns * rows];
        for (index, pixel) in found.into_iter().flatten() {
            pixels[index as usize] = Some(pixel);
        }
        DifferenceMap {
            columns,
            rows,
            cell,
            corner,
            pixels,
        }
    }
}

impl Fold for Pictured {
    /// Many, so that joining two of these moves no pixel.
    type Part = Vec<Vec<(u32, Pixel)>>;

    fn part(&self) -> Self::Part {
        vec![Vec::new()]
    }

    fn piece(&self, part: &mut Self::Part, piece: &Piece<'_>) {
        let Some(last) = part.last_mut() else { return };
        self.0.middles(piece.outline, |index, at| {
            let pixel = Pixel {
                difference: (piece.surveyed.at(at) - piece.reference.at(at)) as f32,
                slope: [
                    piece.surveyed.slope_east as f32,
                    piece.surveyed.slope_north as f32,
                ],
            };
            last.push((index, pixel));
        });
    }

    fn join(&self, part: &mut Self::Part, mut next: Self::Part) {
        part.append(&mut next);
    }
}
