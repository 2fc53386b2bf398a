//! Conformity: whether a built surface lies within limits of its design.
//!
//! The reference is the design, the surveyed surface what was built. What the measurement itself is uncertain by makes a guard band on
//! each limit (JCGM 106:2012, 8.3.2, with the expanded uncertainty as the guard band, after ISO 14253-1): ground is shown to conform
//! where it lies within the limits by more than that, and shown not to where it lies beyond them by more. See `docs/methods.md`, "Conformity".

mod patches;
mod slopes;

use crate::overlay::volume::{Tolerance, ZoneVolume, volumes_with};
use crate::overlay::{Fold, Overlay, OverlayError, Piece};
use crate::plan::Sum;
use crate::plan::clip::{Integral, Polygon, Values};
use crate::surface::Plane;
pub use patches::{PatchBeyond, patches_beyond};
pub use slopes::{SlopeAt, SlopeBeyond, SlopeConformity, SlopeLimits, slope_conformity};

/// Between which differences, built less design, a built surface is to lie.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct HeightLimits {
    lowest: f64,
    highest: f64,
}

impl HeightLimits {
    /// From the lowest to the highest difference, each as far as there is one. None where they are not finite, or the lowest is above the
    /// highest, or there is neither.
    pub fn new(lowest: Option<f64>, highest: Option<f64>) -> Option<Self> {
        let given = lowest.iter().chain(&highest);
        let sound = given.clone().count() > 0 && given.copied().all(f64::is_finite);
        let limits = HeightLimits {
            lowest: lowest.unwrap_or(f64::NEG_INFINITY),
            highest: highest.unwrap_or(f64::INFINITY),
        };
        (sound && limits.lowest <= limits.highest).then_some(limits)
    }

    /// The lowest difference, if there is one.
    pub fn lowest(&self) -> Option<f64> {
        Some(self.lowest).filter(|limit| limit.is_finite())
    }

    /// The highest difference, if there is one.
    pub fn highest(&self) -> Option<f64> {
        Some(self.highest).filter(|limit| limit.is_finite())
    }

    /// From one limit to the other; without an end where there is one only.
    pub fn width(&self) -> f64 {
        self.highest - self.lowest
    }

    /// By how much a difference lies above the highest, and by how much below the lowest: less than nothing where it does not.
    pub fn beyond(&self, difference: f64) -> [f64; 2] {
        [difference - self.highest, self.lowest - difference]
    }
}

/// The expanded uncertainty of a difference of heights at a place.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct PlaceUncertainty {
    /// From the heights of both surfaces.
    pub height: f64,
    /// From the places of points, of the reference and of the surveyed surface: where the ground slopes it counts by so much.
    pub plan: [f64; 2],
}

impl PlaceUncertainty {
    /// Of surfaces about which nothing is uncertain, or nothing is known.
    pub const NONE: PlaceUncertainty = PlaceUncertainty {
        height: 0.0,
        plan: [0.0; 2],
    };

    /// Over facets of the reference and the surveyed surface: the law of propagation with their slopes (JCGM 100:2008, 5.1.2).
    pub fn over(&self, facets: [&Plane; 2]) -> f64 {
        let of_slopes = facets.into_iter().zip(self.plan).map(|(facet, plan)| {
            let square =
                facet.slope_east * facet.slope_east + facet.slope_north * facet.slope_north;
            plan * plan * square
        });
        (self.height * self.height + of_slopes.sum::<f64>()).sqrt()
    }
}

/// How the ground of a zone lies within limits.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Conformity {
    /// What was measured there: areas, volumes and differences from the design to what was built.
    pub measured: ZoneVolume,
    /// The area shown to lie within the limits: by more than the uncertainty.
    pub proven: f64,
    /// What lies above the highest difference.
    pub above: BeyondLimit,
    /// What lies below the lowest difference.
    pub below: BeyondLimit,
    /// The least and the greatest expanded uncertainty of a difference; none where nothing was compared.
    pub uncertainty: Option<[f64; 2]>,
}

/// What lies beyond a limit.
#[derive(Debug, Clone, Copy, PartialEq, Default)]
pub struct BeyondLimit {
    /// The plan area that lies beyond it as measured.
    pub area: f64,
    /// The volume between the limit and the built surface there.
    pub volume: f64,
    /// The plan area that lies beyond it by more than the uncertainty.
    pub proven: f64,
}

impl Conformity {
    /// The plan area that lies within the limits as measured.
    pub fn within(&self) -> f64 {
        (self.measured.area.compared - self.above.area - self.below.area).max(0.0)
    }

    /// The plan area that is shown to lie beyond a limit.
    pub fn refuted(&self) -> f64 {
        self.above.proven + self.below.proven
    }
}

/// How a built surface lies within limits of its design, the reference: zone by zone, or everywhere where there are none.
///
/// Each piece of the overlay is split at the limits, and where the uncertainty ends on both sides of them. Ground on a limit is within.
///
/// # Errors
///
/// When it is stopped by who watches.
///
/// ```
/// use dapedon_core::overlay::Overlay;
/// use dapedon_core::plan::Frame;
/// use dapedon_core::quantities::{HeightLimits, PlaceUncertainty, conformity};
/// use dapedon_core::surface::{Level, Surface, Tin, Vertex};
/// use dapedon_core::units::LengthUnit;
/// // Ten by ten metres that rise from 50 mm below the design to 50 mm above it.
/// let frame = Frame::new(LengthUnit::Metre, [0.0, 0.0]);
/// let corners = [(0.0, 0.0, -0.05), (10.0, 0.0, 0.05), (10.0, 10.0, 0.05), (0.0, 10.0, -0.05)];
/// let corners = corners.map(|(e, n, h)| Vertex::new(e, n, h)).to_vec();
/// let built = Surface::Tin(Tin::from_facets(frame, corners, vec![[0, 1, 2], [0, 2, 3]]).unwrap());
/// let design = Surface::Level(Level::new(frame, 0.0));
/// let overlay = Overlay::new(&design, &built, None).unwrap();
/// let limits = HeightLimits::new(Some(-0.03), Some(0.02)).unwrap();
/// let sure = PlaceUncertainty { height: 0.01, plan: [0.0; 2] };
/// let found = &conformity(&overlay, &limits, &sure).unwrap()[0];
/// // 30 mm of 100 are above, 20 mm below; of each 10 mm are in doubt, and so are 10 mm on the inner side.
/// assert!((found.above.area - 30.0).abs() < 1e-9 && (found.below.area - 20.0).abs() < 1e-9);
/// assert!((found.above.proven - 20.0).abs() < 1e-9 && (found.proven - 30.0).abs() < 1e-9);
/// assert!((found.above.volume - 30.0 * 0.03 / 2.0).abs() < 1e-9);
/// ```
pub fn conformity(
    overlay: &Overlay<'_>,
    limits: &HeightLimits,
    uncertainty: &PlaceUncertainty,
) -> Result<Vec<Conformity>, OverlayError> {
    let fold = LimitFold {
        zones: overlay.zone_count(),
        limits,
        uncertainty,
        same: overlay.frame().precision().length(),
    };
    let (volumes, found) = volumes_with(overlay, Tolerance::ZERO, fold)?;
    let told = volumes
        .into_iter()
        .zip(found)
        .map(|(measured, sums)| Conformity {
            measured,
            proven: sums.proven.value().max(0.0),
            above: sums.above.told(),
            below: sums.below.told(),
            uncertainty: Some(sums.uncertainty).filter(|[least, greatest]| least <= greatest),
        });
    Ok(told.collect())
}

/// Sums over the pieces of a zone.
#[derive(Debug, Clone, Copy)]
struct LimitSums {
    proven: Sum,
    above: BeyondSums,
    below: BeyondSums,
    uncertainty: [f64; 2],
}

#[derive(Debug, Clone, Copy, Default)]
struct BeyondSums {
    area: Sum,
    volume: Sum,
    proven: Sum,
}

impl BeyondSums {
    fn told(&self) -> BeyondLimit {
        // Rounding may leave a little less than nothing.
        let [area, volume, proven] =
            [self.area, self.volume, self.proven].map(|sum| sum.value().max(0.0));
        BeyondLimit {
            area,
            volume,
            proven,
        }
    }

    fn add(&mut self, part: &Beyond) {
        self.area += part.as_measured.area;
        self.volume += part.as_measured.integral;
        self.proven += part.proven;
    }

    fn join(&mut self, next: &BeyondSums) {
        self.area += next.area;
        self.volume += next.volume;
        self.proven += next.proven;
    }
}

impl Default for LimitSums {
    fn default() -> Self {
        LimitSums {
            proven: Sum::ZERO,
            above: BeyondSums::default(),
            below: BeyondSums::default(),
            // Of nothing.
            uncertainty: [f64::INFINITY, 0.0],
        }
    }
}

/// What of a piece lies beyond one of the limits.
#[derive(Debug, Clone, Copy, Default)]
struct Beyond {
    as_measured: Integral,
    /// The area that does by more than the uncertainty.
    proven: f64,
    /// The area that does, or comes so near that it may.
    possible: f64,
}

struct LimitFold<'f> {
    zones: usize,
    limits: &'f HeightLimits,
    uncertainty: &'f PlaceUncertainty,
    /// Differences no farther apart are the same: the rounding of a number.
    same: f64,
}

impl LimitFold<'_> {
    /// What lies beyond a limit, of a piece with the excess over it at its corners.
    fn beyond(&self, outline: &Polygon, excess: &Excess, guard: f64) -> Beyond {
        let over = |level: f64| {
            if excess.greatest <= level + self.same {
                Integral::default()
            } else if excess.least >= level {
                excess.whole
            } else {
                outline.integrate_above(&excess.values, level)
            }
        };
        if excess.greatest <= self.same - guard {
            return Beyond::default();
        }
        let as_measured = over(0.0);
        if guard == 0.0 {
            let area = as_measured.area;
            return Beyond {
                as_measured,
                proven: area,
                possible: area,
            };
        }
        Beyond {
            as_measured,
            proven: over(guard).area,
            possible: over(-guard).area,
        }
    }
}

/// By how much a piece lies beyond a limit, at its corners.
struct Excess {
    values: Values,
    least: f64,
    greatest: f64,
    /// Area and integral over the piece.
    whole: Integral,
}

impl Excess {
    /// From the differences at the corners and their integral: `sign` and `limit` make the excess `sign * (difference - limit)`.
    fn of(
        values: &Values,
        [least, greatest]: [f64; 2],
        whole: Integral,
        (sign, limit): (f64, f64),
    ) -> Self {
        let excess = |value: f64| sign * (value - limit);
        let ends = [excess(least), excess(greatest)];
        Excess {
            values: values.map(excess),
            least: ends[0].min(ends[1]),
            greatest: ends[0].max(ends[1]),
            whole: Integral {
                integral: sign * (whole.integral - limit * whole.area),
                ..whole
            },
        }
    }
}

impl Fold for LimitFold<'_> {
    type Part = Vec<LimitSums>;

    fn part(&self) -> Self::Part {
        vec![LimitSums::default(); self.zones]
    }

    fn piece(&self, part: &mut Self::Part, piece: &Piece<'_>) {
        let outline = piece.outline;
        let (values, least, greatest) =
            outline.values(|at| piece.surveyed.at(at) - piece.reference.at(at));
        let whole = outline.integrate(&values);
        if whole.area <= 0.0 {
            return;
        }
        let guard = self.uncertainty.over([&piece.reference, &piece.surveyed]);
        let side = |sign: f64, limit: f64| {
            if limit.is_infinite() {
                return Beyond::default();
            }
            let excess = Excess::of(&values, [least, greatest], whole, (sign, limit));
            self.beyond(outline, &excess, guard)
        };
        let above = side(1.0, self.limits.highest);
        let below = side(-1.0, self.limits.lowest);
        let proven = match self.limits.width() < 2.0 * guard {
            true => 0.0,
            false => whole.area - above.possible - below.possible,
        };
        for &zone in piece.zones {
            let sums = &mut part[zone as usize];
            sums.proven += proven;
            sums.above.add(&above);
            sums.below.add(&below);
            let [least, greatest] = sums.uncertainty;
            sums.uncertainty = [least.min(guard), greatest.max(guard)];
        }
    }

    fn join(&self, part: &mut Self::Part, next: Self::Part) {
        for (own, next) in part.iter_mut().zip(&next) {
            own.proven += next.proven;
            own.above.join(&next.above);
            own.below.join(&next.below);
            own.uncertainty = [
                own.uncertainty[0].min(next.uncertainty[0]),
                own.uncertainty[1].max(next.uncertainty[1]),
            ];
        }
    }
}

#[cfg(test)]
mod tests;
