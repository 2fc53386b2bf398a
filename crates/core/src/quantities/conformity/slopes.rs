//! Whether a built surface is neither too flat nor too steep.

use crate::overlay::{Fold, Overlay, OverlayError, Piece};
use crate::plan::{Place, Sum};
use crate::surface::{Plane, Surface, Vertex};

/// Slopes no farther apart are the same: the rounding of coordinates.
const SAME: f64 = 1e-9;

/// Between which slopes, as rise over run, a built surface is to be.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct SlopeLimits {
    flattest: f64,
    steepest: f64,
}

impl SlopeLimits {
    /// From the flattest to the steepest, each as far as there is one. None where they are not finite or below zero, or the flattest is above
    /// the steepest, or there is neither.
    pub fn new(flattest: Option<f64>, steepest: Option<f64>) -> Option<Self> {
        let given = flattest.iter().chain(&steepest);
        let sound = |slope: &f64| slope.is_finite() && *slope >= 0.0;
        let limits = SlopeLimits {
            flattest: flattest.unwrap_or(0.0),
            steepest: steepest.unwrap_or(f64::INFINITY),
        };
        let ordered = limits.flattest <= limits.steepest;
        (given.clone().count() > 0 && given.clone().all(sound) && ordered).then_some(limits)
    }

    /// The flattest, if there is one.
    pub fn flattest(&self) -> Option<f64> {
        Some(self.flattest).filter(|&slope| slope > 0.0)
    }

    /// The steepest, if there is one.
    pub fn steepest(&self) -> Option<f64> {
        Some(self.steepest).filter(|slope| slope.is_finite())
    }
}

/// A slope, and where it is.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct SlopeAt {
    /// Rise over run.
    pub slope: f64,
    /// The middle of the corners of a piece of it, in local coordinates.
    pub at: Place,
}

/// How the slopes of the built ground of a zone lie within limits.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct SlopeConformity {
    /// The plan area that was compared.
    pub area: f64,
    /// The area shown to lie within the limits: by more than the uncertainty of its slope.
    pub proven: f64,
    /// What is flatter than the flattest.
    pub flatter: SlopeBeyond,
    /// What is steeper than the steepest.
    pub steeper: SlopeBeyond,
    /// The flattest and the steepest facet.
    pub extremes: [SlopeAt; 2],
}

/// What is beyond a limit of slope.
#[derive(Debug, Clone, Copy, PartialEq, Default)]
pub struct SlopeBeyond {
    /// The plan area that is, as measured.
    pub area: f64,
    /// The plan area that is by more than the uncertainty.
    pub proven: f64,
}

/// How the facets of the built surface, the surveyed one, lie within limits of slope, zone by zone, or everywhere where there are none; none
/// where nothing is compared.
///
/// `heights` is the expanded uncertainty of the height of each of its points by itself. Of the slope of a facet it makes as much as the rises
/// of the three shares of its corners in the direction of the slope (JCGM 100:2008, 5.1.2): a facet with short edges has an uncertain slope.
///
/// # Errors
///
/// When it is stopped by who watches.
pub fn slope_conformity(
    overlay: &Overlay<'_>,
    built: &Surface,
    limits: &SlopeLimits,
    heights: f64,
) -> Result<Vec<Option<SlopeConformity>>, OverlayError> {
    let precision = overlay.frame().precision();
    let fold = SlopeFold {
        built,
        limits,
        heights,
        zones: overlay.zone_count(),
        sliver: precision.area(&overlay.extent()),
    };
    let told = |sums: SlopeSums| {
        let [flattest, steepest] = sums.extremes;
        let beyond = |[area, proven]: [Sum; 2]| SlopeBeyond {
            area: area.value(),
            proven: proven.value(),
        };
        Some(SlopeConformity {
            area: sums.area.value(),
            proven: sums.proven.value(),
            flatter: beyond(sums.flatter),
            steeper: beyond(sums.steeper),
            extremes: [flattest?, steepest?],
        })
    };
    Ok(overlay.fold(&fold)?.into_iter().map(told).collect())
}

/// The expanded uncertainty of the slope of a facet whose corners are so uncertain in height.
fn of_slope(corners: [Vertex; 3], plane: &Plane, slope: f64, heights: f64) -> f64 {
    let squares = [0, 1, 2].map(|corner| {
        let share = |at: usize| {
            let height = if at == corner { 1.0 } else { 0.0 };
            Vertex::new(corners[at].east, corners[at].north, height)
        };
        // How the share of one corner rises over the facet.
        let rise = Plane::through(share(0), share(1), share(2));
        let [east, north] = [rise.slope_east, rise.slope_north];
        match slope > 0.0 {
            true => {
                let along = (east * plane.slope_east + north * plane.slope_north) / slope;
                along * along
            }
            // Level ground may rise in any direction.
            false => east * east + north * north,
        }
    });
    heights * squares.iter().sum::<f64>().sqrt()
}

#[derive(Debug, Clone, Copy, Default)]
struct SlopeSums {
    area: Sum,
    proven: Sum,
    /// As measured, and by more than the uncertainty.
    flatter: [Sum; 2],
    steeper: [Sum; 2],
    extremes: [Option<SlopeAt>; 2],
}

impl SlopeSums {
    fn reach(&mut self, [flattest, steepest]: [Option<SlopeAt>; 2]) {
        let [own_flattest, own_steepest] = &mut self.extremes;
        if let Some(next) = flattest
            && own_flattest.is_none_or(|own| next.slope < own.slope)
        {
            *own_flattest = Some(next);
        }
        if let Some(next) = steepest
            && own_steepest.is_none_or(|own| next.slope > own.slope)
        {
            *own_steepest = Some(next);
        }
    }
}

struct SlopeFold<'f> {
    built: &'f Surface,
    limits: &'f SlopeLimits,
    heights: f64,
    zones: usize,
    /// Pieces no larger are what rounding leaves: they are no place for an extreme.
    sliver: f64,
}

impl Fold for SlopeFold<'_> {
    type Part = Vec<SlopeSums>;

    fn part(&self) -> Self::Part {
        vec![SlopeSums::default(); self.zones]
    }

    fn piece(&self, part: &mut Self::Part, piece: &Piece<'_>) {
        let area = piece.outline.area();
        if area <= 0.0 {
            return;
        }
        let plane = &piece.surveyed;
        let slope = libm::hypot(plane.slope_east, plane.slope_north);
        let facet = match self.heights > 0.0 {
            true => self.built.facet(piece.facets[1] as usize),
            false => None,
        };
        let guard = facet.map_or(0.0, |corners| of_slope(corners, plane, slope, self.heights));
        let (flattest, steepest) = (self.limits.flattest, self.limits.steepest);
        let corners = piece.outline.corners();
        let count = corners.len() as f64;
        let at = Place::new(
            corners.iter().map(|corner| corner.east).sum::<f64>() / count,
            corners.iter().map(|corner| corner.north).sum::<f64>() / count,
        );
        // Without a flattest slope there is none to come near to.
        let proven = slope <= steepest - guard + SAME
            && (flattest == 0.0 || slope >= flattest + guard - SAME);
        for &zone in piece.zones {
            let sums = &mut part[zone as usize];
            sums.area += area;
            if proven {
                sums.proven += area;
            }
            for (level, sum) in [0.0, guard].into_iter().zip(&mut sums.flatter) {
                if slope < flattest - level - SAME {
                    *sum += area;
                }
            }
            for (level, sum) in [0.0, guard].into_iter().zip(&mut sums.steeper) {
                if slope > steepest + level + SAME {
                    *sum += area;
                }
            }
            if area > self.sliver {
                sums.reach([Some(SlopeAt { slope, at }); 2]);
            }
        }
    }

    fn join(&self, part: &mut Self::Part, next: Self::Part) {
        for (own, next) in part.iter_mut().zip(next) {
            own.area += next.area;
            own.proven += next.proven;
            let sums = own.flatter.iter_mut().chain(&mut own.steeper);
            let others = next.flatter.iter().chain(&next.steeper);
            sums.zip(others).for_each(|(own, next)| *own += *next);
            own.reach(next.extremes);
        }
    }
}
