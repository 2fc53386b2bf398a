//! What cut and fill gain by chance, where two surfaces are closer to each other than they are accurate.
//!
//! An error of the difference always adds to one of the two and takes nothing off the other, so both are too large on average. See
//! `docs/methods.md`, "Where surfaces are closer than their accuracy".

use super::Accuracy;
use crate::overlay::{Fold, Overlay, Piece};
use crate::plan::clip::{Polygon, Values};
use crate::plan::cross;
use crate::surface::Plane;

/// What cut and fill gain by chance.
#[derive(Debug, Clone, Copy, PartialEq, Default)]
pub struct GainByChance {
    /// What the cut gains on average, where the difference that was measured is the true one; a little is lost where a tolerance hides true cut.
    pub cut: f64,
    /// The same of the fill.
    pub fill: f64,
    /// The ground on which the surfaces are closer than two standard uncertainties of their difference.
    pub area: f64,
}

impl GainByChance {
    /// By how much more both may have gained: where nothing was moved at all, the difference that was measured is itself an error, and
    /// what follows from it is so many times too small (the mean of the positive part of an error against that of two, `1 / (√2 - 1)`).
    pub const AT_MOST: f64 = std::f64::consts::SQRT_2 + 1.0;

    fn add(&mut self, other: &GainByChance) {
        self.cut += other.cut;
        self.fill += other.fill;
        self.area += other.area;
    }

    /// The sum of several.
    pub(super) fn sum<'g>(all: impl Iterator<Item = &'g GainByChance>) -> Self {
        all.fold(GainByChance::default(), |mut sum, own| {
            sum.add(own);
            sum
        })
    }
}

/// How far the difference of two surfaces errs at a place, as a variance: of level ground, and more with the square of each side's slope.
#[derive(Debug, Clone, Copy)]
pub(super) struct Spread {
    level: f64,
    sloping: [f64; 2],
}

impl Spread {
    pub(super) fn of(accuracies: &[Accuracy; 2]) -> Self {
        // Within a triangle the errors of its corners partly cancel: the mean of the squares of their shares adds up to a half.
        let single = |own: f64, accuracy: &Accuracy| match accuracy.correlation > 0.0 {
            true => own * own,
            false => own * own / 2.0,
        };
        let height =
            |own: &Accuracy| single(own.height, own) + own.common_height * own.common_height;
        let plan = |own: &Accuracy| single(own.plan, own) + own.common_plan * own.common_plan;
        Spread {
            level: accuracies.iter().map(height).sum(),
            sloping: [plan(&accuracies[0]), plan(&accuracies[1])],
        }
    }

    pub(super) fn standard(&self, planes: [&Plane; 2]) -> f64 {
        let slope = |plane: &Plane| {
            plane.slope_east * plane.slope_east + plane.slope_north * plane.slope_north
        };
        let [from, to] = self.sloping;
        (self.level + from * slope(planes[0]) + to * slope(planes[1])).sqrt()
    }
}

/// Sums what is gained by chance over the pieces of an overlay, zone by zone.
pub(super) struct ByChance {
    spread: Spread,
    tolerance: f64,
    /// Differences up to this are none.
    same: f64,
    zones: usize,
}

impl ByChance {
    pub(super) fn of(overlay: &Overlay<'_>, accuracies: &[Accuracy; 2], tolerance: f64) -> Self {
        ByChance {
            spread: Spread::of(accuracies),
            tolerance,
            same: overlay.frame().precision().length(),
            zones: overlay.zone_count(),
        }
    }

    #[cold]
    fn gained(
        &self,
        outline: &Polygon,
        values: &Values,
        [least, greatest]: [f64; 2],
        standard: f64,
    ) -> GainByChance {
        let corners = outline.corners();
        let tolerance = self.tolerance / standard;
        let (mut gained, mut area, mut twice_near) = (GainByChance::default(), 0.0, 0.0);
        let near_level = greatest - least <= EVEN * standard;
        for index in 2..corners.len() {
            let (Some(&a), Some(&b), Some(&c)) =
                (corners.first(), corners.get(index - 1), corners.get(index))
            else {
                continue;
            };
            let own = cross(a, b, c) / 2.0;
            let three = [values[0], values[index - 1], values[index]];
            area += own;
            if near_level {
                twice_near += own * (three[0] + three[1] + three[2]) / 3.0;
                continue;
            }
            let passes = |sign: f64| three.map(|value| (sign * value - self.tolerance) / standard);
            gained.fill += own * over_a_triangle(passes(1.0), tolerance);
            gained.cut += own * over_a_triangle(passes(-1.0), tolerance);
            let middle = (three[0] + three[1] + three[2]) / 3.0;
            if middle.abs() < CLOSE * standard {
                gained.area += own;
            }
        }
        if near_level && area > 0.0 {
            let middle = twice_near / area;
            let passes = |sign: f64| (sign * middle - self.tolerance) / standard;
            gained.fill = area * at(passes(1.0), tolerance);
            gained.cut = area * at(passes(-1.0), tolerance);
            gained.area = if middle.abs() < CLOSE * standard {
                area
            } else {
                0.0
            };
        }
        gained.fill *= standard;
        gained.cut *= standard;
        gained
    }
}

/// Beyond so many standard uncertainties hardly anything is gained: less than a ten-thousandth of what is at zero.
const REACH: f64 = 4.0;
/// Surfaces are close within so many.
const CLOSE: f64 = 2.0;
/// A difference that varies by less than this, in standard uncertainties, counts with its middle.
const EVEN: f64 = 0.5;

impl Fold for ByChance {
    type Part = Vec<GainByChance>;

    fn part(&self) -> Self::Part {
        vec![GainByChance::default(); self.zones]
    }

    #[inline(always)]
    fn piece(&self, part: &mut Self::Part, piece: &Piece<'_>) {
        let standard = self.spread.standard([&piece.reference, &piece.surveyed]);
        let reach = self.tolerance + REACH * standard;
        let difference = |at| piece.surveyed.at(at) - piece.reference.at(at);
        let (values, least, greatest) = piece.outline.values(difference);
        // Two surfaces that are the same there are made from each other: no two surveys are.
        let same = greatest <= self.same && least >= -self.same;
        if same || least > reach || greatest < -reach || standard <= 0.0 {
            return;
        }
        let gained = self.gained(piece.outline, &values, [least, greatest], standard);
        for &zone in piece.zones {
            if let Some(own) = part.get_mut(zone as usize) {
                own.add(&gained);
            }
        }
    }

    fn join(&self, part: &mut Self::Part, next: Self::Part) {
        part.iter_mut()
            .zip(&next)
            .for_each(|(own, next)| own.add(next));
    }
}

/// The density of the normal distribution, and its part above a value that is not below zero.
fn normal(x: f64) -> [f64; 2] {
    const ROOT_OF_TWO_PI: f64 = 2.506_628_274_631_000_5;
    [
        libm::exp(-x * x / 2.0) / ROOT_OF_TWO_PI,
        libm::erfc(x * std::f64::consts::FRAC_1_SQRT_2) / 2.0,
    ]
}

/// What the mean of a difference that counts above a tolerance `t` is more than what counts of its middle. All in standard uncertainties:
/// the difference is normal about `y + t`, and counts wholly where it is above `t`.
fn at(y: f64, t: f64) -> f64 {
    let [density, beyond] = normal(y.abs());
    match y > 0.0 {
        true => density - (y + t) * beyond,
        false => density + (y + t) * beyond,
    }
}

/// The same integrated twice over `y`, from far below.
fn twice_integrated(y: f64, t: f64) -> f64 {
    let x = y.abs();
    let [density, beyond] = normal(x);
    let (cubic, square) = (x * (x * x + 3.0) * beyond, (x * x + 2.0) * density);
    let (flat, linear) = ((x * x + 1.0) * beyond, x * density);
    match y > 0.0 {
        true => (3.0 * x - cubic + square) / 6.0 + t * (1.0 - flat + linear) / 2.0,
        false => (square - cubic) / 6.0 + t * (flat - linear) / 2.0,
    }
}

/// The mean of [`at`] over a triangle on which `y` is linear, from its values at the corners: twice the second divided difference of what is
/// integrated twice (Hermite and Genocchi).
fn over_a_triangle(corners: [f64; 3], t: f64) -> f64 {
    let mut y = corners;
    y.sort_by(f64::total_cmp);
    let range = y[2] - y[0];
    if range <= EVEN {
        return at((y[0] + y[1] + y[2]) / 3.0, t);
    }
    // Values too close to each other to be divided by their difference are taken a little apart.
    let apart = 1e-3 * range;
    y[1] = y[1].clamp(y[0] + apart, y[2] - apart);
    let values = y.map(|y| twice_integrated(y, t));
    let between = |one: usize, other: usize| (values[other] - values[one]) / (y[other] - y[one]);
    2.0 * (between(1, 2) - between(0, 1)) / range
}

#[cfg(test)]
mod tests {
    use super::*;

    /// The closed forms against sums over small steps.
    #[test]
    fn the_mean_over_a_triangle_is_that_of_its_places() {
        for t in [0.0, 0.7, 3.0] {
            for corners in [
                [-1.0, 0.4, 2.0],
                [0.5, -3.0, 6.0],
                [-9.0, 30.0, 1.0],
                [0.0, 1.0, 1.0],
                [-0.2, -0.2, 4.0],
            ] {
                let steps = 600;
                let (mut sum, mut count) = (0.0, 0.0);
                for i in 0..steps {
                    for j in 0..steps - i {
                        let [a, b] =
                            [i, j].map(|step| (f64::from(step) + 1.0 / 3.0) / f64::from(steps));
                        let y = corners[0] * a + corners[1] * b + corners[2] * (1.0 - a - b);
                        sum += at(y, t);
                        count += 1.0;
                    }
                }
                let mean = sum / count;
                let found = over_a_triangle(corners, t);
                // A kink, or a jump of a tolerance, falls between steps.
                assert!(
                    (found - mean).abs() < 2e-3 * (1.0 + t),
                    "{corners:?} {t}: {found} {mean}"
                );
            }
        }
        // Even ground, and all that is far away.
        assert!((over_a_triangle([0.0; 3], 0.0) - 0.398_942_280_401_432_7).abs() < 1e-15);
        assert!(over_a_triangle([50.0, 60.0, 71.0], 0.0).abs() < 1e-12);
        assert!(over_a_triangle([-50.0, -60.0, -71.0], 0.0).abs() < 1e-12);
    }
}
