//! The middles of what is cut and filled: where a body's volume balances in plan.

use crate::overlay::{Fold, Overlay, OverlayError, Piece};
use crate::plan::clip::Polygon;
use crate::plan::{Place, Sum};
use crate::surface::Surface;
use crate::zones::Zones;

/// A body of cut or fill.
#[derive(Debug, Clone, Copy, PartialEq, Default)]
pub struct Body {
    /// Its volume.
    pub volume: f64,
    /// The middle of its volume in plan, in grid coordinates; none of nothing.
    pub middle: Option<Place>,
}

/// What is cut and filled in a zone.
#[derive(Debug, Clone, Copy, PartialEq, Default)]
pub struct Bodies {
    /// Below the reference.
    pub cut: Body,
    /// Above the reference.
    pub fill: Body,
}

/// The volumes and the middles of cut and fill from `reference` to `surveyed`, zone by zone, or everywhere where there are none.
///
/// Each piece of the overlay is split where the difference is zero. Over a triangle the integral of a coordinate times the difference, both
/// linear, is its area over twelve times the product of their sums over its corners plus the sum of their products.
///
/// ```
/// use dapedon_core::plan::{Frame, Place};
/// use dapedon_core::quantities::bodies;
/// use dapedon_core::surface::{Level, Surface, Tin, Vertex};
/// use dapedon_core::units::LengthUnit;
/// let frame = Frame::new(LengthUnit::Metre, [0.0, 0.0]);
/// let corners = [(0.0, 0.0, 3.0), (4.0, 0.0, 0.0), (0.0, 8.0, 0.0)].map(|(e, n, h)| Vertex::new(e, n, h));
/// let heap = Surface::Tin(Tin::from_facets(frame, corners.to_vec(), vec![[0, 1, 2]]).unwrap());
/// let found = bodies(&Surface::Level(Level::new(frame, 0.0)), &heap, None).unwrap()[0];
/// assert_eq!((found.fill.volume, found.fill.middle), (16.0, Some(Place::new(1.0, 2.0))));
/// ```
///
/// # Errors
///
/// When the surfaces cannot be overlaid.
pub fn bodies(
    reference: &Surface,
    surveyed: &Surface,
    zones: Option<&Zones>,
) -> Result<Vec<Bodies>, OverlayError> {
    bodies_over(&Overlay::new(reference, surveyed, zones)?)
}

/// The same over an overlay.
///
/// # Errors
///
/// When it is stopped by who watches.
pub fn bodies_over(overlay: &Overlay<'_>) -> Result<Vec<Bodies>, OverlayError> {
    let frame = overlay.frame();
    let sums = overlay.fold(&Moments {
        zones: overlay.zone_count(),
        still: frame.precision().length(),
    })?;
    let body = |sum: &Moment| {
        let volume = sum.volume.value();
        let at = Place::new(sum.east.value() / volume, sum.north.value() / volume);
        match volume > 0.0 {
            true => Body {
                volume,
                middle: Some(frame.to_grid(at)),
            },
            false => Body::default(),
        }
    };
    let told = sums.iter().map(|[cut, fill]| Bodies {
        cut: body(cut),
        fill: body(fill),
    });
    Ok(told.collect())
}

/// A volume and its first moments.
#[derive(Debug, Clone, Copy)]
struct Moment {
    volume: Sum,
    east: Sum,
    north: Sum,
}

impl Moment {
    const ZERO: Moment = Moment {
        volume: Sum::ZERO,
        east: Sum::ZERO,
        north: Sum::ZERO,
    };

    /// Adds the part of a piece where a height, linear over it, is above zero.
    fn add(&mut self, part: &Polygon, height: impl Fn(Place) -> f64) {
        let corners = part.corners();
        let Some((&first, rest)) = corners.split_first() else {
            return;
        };
        for pair in rest.windows(2) {
            let three = [first, pair[0], pair[1]];
            let area = crate::plan::cross(three[0], three[1], three[2]) / 2.0;
            let heights = three.map(|at| height(at).max(0.0));
            let sum: f64 = heights.iter().sum();
            self.volume += area * sum / 3.0;
            let moment = |of: [f64; 3]| {
                let products: f64 = of.iter().zip(heights).map(|(a, b)| a * b).sum();
                area / 12.0 * (of.iter().sum::<f64>() * sum + products)
            };
            self.east += moment(three.map(|at| at.east));
            self.north += moment(three.map(|at| at.north));
        }
    }
}

/// Cut and fill of each zone.
struct Moments {
    zones: usize,
    /// Differences up to this are none.
    still: f64,
}

impl Fold for Moments {
    type Part = Vec<[Moment; 2]>;

    fn part(&self) -> Self::Part {
        vec![[Moment::ZERO; 2]; self.zones]
    }

    fn piece(&self, part: &mut Self::Part, piece: &Piece<'_>) {
        let fill = |at: Place| piece.surveyed.at(at) - piece.reference.at(at);
        let cut = |at: Place| -fill(at);
        let (values, least, greatest) = piece.outline.values(fill);
        if greatest > self.still {
            let above = piece.outline.part_above(&values, 0.0);
            for &zone in piece.zones {
                part[zone as usize][1].add(&above, fill);
            }
        }
        if least < -self.still {
            let below = piece.outline.part_above(&values.map(|v| -v), 0.0);
            for &zone in piece.zones {
                part[zone as usize][0].add(&below, cut);
            }
        }
    }

    fn join(&self, part: &mut Self::Part, next: Self::Part) {
        for (own, next) in part.iter_mut().flatten().zip(next.into_iter().flatten()) {
            own.volume += next.volume;
            own.east += next.east;
            own.north += next.north;
        }
    }
}
