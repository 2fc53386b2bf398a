//! How much is deeper, or higher, than each of some depths.

use crate::overlay::{Fold, Overlay, OverlayError, Piece};
use crate::plan::cross;
use crate::quantities::water::{BasinFacet, Rising};

/// What of a cut and of a fill is deeper than a depth.
#[derive(Debug, Clone, Copy, PartialEq, Default)]
pub struct DeeperThan {
    /// The depth below the reference, or the height above it.
    pub depth: f64,
    /// The area where the cut is deeper than that.
    pub cut_area: f64,
    /// The volume of the cut that lies deeper than that.
    pub cut: f64,
    /// The area where the fill is higher than that.
    pub fill_area: f64,
    /// The volume of the fill that lies higher than that.
    pub fill: f64,
}

/// What of cut and fill is outside each of some ascending depths, zone by zone, in one pass over the overlay.
///
/// The volume between two depths, as dug in one lift, is what is outside the first less what is outside the second.
/// Cut is water of which the difference is the bed, with its level as far below zero as the depth; fill is the same
/// upside down.
///
/// # Errors
///
/// When it is stopped by who watches.
///
/// ```
/// use dapedon_core::derived::*;
/// use dapedon_core::overlay::Overlay;
/// use dapedon_core::plan::*;
/// use dapedon_core::quantities::*;
/// use dapedon_core::surface::*;
/// use dapedon_core::units::*;
/// use dapedon_core::zones::*;
/// let frame = Frame::new(LengthUnit::Metre, [0.0, 0.0]);
/// // A wedge of 10 by 4 that rises from 0 to 2.
/// let corners = [(0.0, 0.0, 0.0), (10.0, 0.0, 2.0), (10.0, 4.0, 2.0), (0.0, 4.0, 0.0)];
/// let vertices = corners.map(|(e, n, h)| Vertex::new(e, n, h)).to_vec();
/// let wedge = Surface::Tin(Tin::from_facets(frame, vertices, vec![[0, 1, 2], [0, 2, 3]]).unwrap());
/// let level = Surface::Level(Level::new(frame, 0.0));
/// let overlay = Overlay::new(&level, &wedge, None).unwrap();
/// let found = &depths(&overlay, &[0.0, 1.0]).unwrap()[0];
/// assert_eq!((found[0].fill_area, found[0].fill), (40.0, 40.0));
/// assert!((found[1].fill_area - 20.0).abs() < 1e-9 && (found[1].fill - 10.0).abs() < 1e-9);
/// ```
pub fn depths(overlay: &Overlay<'_>, depths: &[f64]) -> Result<Vec<Vec<DeeperThan>>, OverlayError> {
    let levels: Vec<f64> = depths.iter().rev().map(|depth| -depth).collect();
    let found = overlay.fold(&Deeper {
        levels: &levels,
        zones: overlay.zone_count(),
    })?;
    let beyond = |[cut, fill]: [Rising<'_>; 2]| {
        let both = cut.storages().into_iter().zip(fill.storages()).rev();
        let beyond = both.zip(depths).map(|((cut, fill), &depth)| DeeperThan {
            depth,
            cut_area: cut.area,
            cut: cut.volume,
            fill_area: fill.area,
            fill: fill.volume,
        });
        beyond.collect()
    };
    Ok(found.into_iter().map(beyond).collect())
}

struct Deeper<'l> {
    levels: &'l [f64],
    zones: usize,
}

impl<'l> Fold for Deeper<'l> {
    type Part = Vec<[Rising<'l>; 2]>;

    fn part(&self) -> Self::Part {
        let empty = || [Rising::over(self.levels), Rising::over(self.levels)];
        (0..self.zones).map(|_| empty()).collect()
    }

    fn piece(&self, part: &mut Self::Part, piece: &Piece<'_>) {
        let [first, rest @ ..] = piece.outline.corners() else {
            return;
        };
        let difference = |at| piece.surveyed.at(at) - piece.reference.at(at);
        for pair in rest.windows(2) {
            let corners = [*first, pair[0], pair[1]];
            let area = cross(corners[0], corners[1], corners[2]) / 2.0;
            let mut heights = corners.map(difference);
            heights.sort_by(f64::total_cmp);
            let upside_down = [-heights[2], -heights[1], -heights[0]];
            let beds = [heights, upside_down].map(|heights| BasinFacet {
                heights,
                area,
                from: f64::NEG_INFINITY,
            });
            for &zone in piece.zones {
                let both = part[zone as usize].iter_mut().zip(&beds);
                both.for_each(|(rising, bed)| rising.add(bed));
            }
        }
    }

    fn join(&self, part: &mut Self::Part, next: Self::Part) {
        for (own, next) in part.iter_mut().zip(next) {
            own.iter_mut()
                .zip(next)
                .for_each(|(rising, next)| rising.join(next));
        }
    }
}
