//! Whether a shift in plan explains the difference of two surfaces: one was measured in a place that is off.

use crate::overlay::{Fold, Overlay, OverlayError, Piece};
use crate::plan::Sum;

/// The shift of the surveyed surface that explains most of its difference from the reference.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct PlanShift {
    /// By so much it lies too far to the east.
    pub east: f64,
    /// By so much it lies too far to the north.
    pub north: f64,
    /// And so much too high.
    pub up: f64,
    /// The share of the variance of the difference that this explains.
    pub explains: f64,
    /// The standard deviation of the difference from its mean.
    pub deviation: f64,
}

/// The shift in plan and height that explains most of the difference over all zones of an overlay together; none where the ground does not slope in all
/// directions, or does not differ.
///
/// Moved by $(e, n)$, a surface with the gradient $g$ differs from itself by $-g \cdot (e, n)$: least squares over the ground, with the gradient of the
/// reference on each piece.
///
/// # Errors
///
/// When it is stopped by who watches.
///
/// ```
/// use dapedon_core::overlay::Overlay;
/// use dapedon_core::plan::Frame;
/// use dapedon_core::quantities::plan_shift;
/// use dapedon_core::surface::{Grid, Surface};
/// use dapedon_core::units::LengthUnit;
/// // Rolling ground, and the same again 300 mm farther to the east.
/// let frame = Frame::new(LengthUnit::Metre, [0.0, 0.0]);
/// let ground = |shift: f64| {
///     let heights = (0..60 * 60).map(|node| {
///         let (e, n) = (f64::from(node % 60), f64::from(node / 60));
///         ((e - shift) / 5.0).sin() + (n / 6.0).cos()
///     });
///     let heights = heights.collect();
///     Surface::Grid(Grid::new(frame, frame.to_local(0.0, 0.0), [1.0, 1.0], [60, 60], heights).unwrap())
/// };
/// let (before, after) = (ground(0.0), ground(0.3));
/// let found = plan_shift(&Overlay::new(&before, &after, None).unwrap()).unwrap().unwrap();
/// assert!((found.east - 0.3).abs() < 0.01 && found.north.abs() < 0.01);
/// assert!(found.explains > 0.98);
/// ```
pub fn plan_shift(overlay: &Overlay<'_>) -> Result<Option<PlanShift>, OverlayError> {
    let found = overlay.fold(&ShiftFold)?;
    Ok(found.solved())
}

/// Integrals of the difference and of the gradient, of their squares and products.
#[derive(Debug, Clone, Copy, Default)]
struct Sums {
    area: Sum,
    /// Of the difference, and of the gradient to the east and to the north.
    first: [Sum; 3],
    /// Of the difference by itself, by both gradients; of the gradients by themselves and by each other.
    second: [Sum; 6],
}

impl Sums {
    fn solved(&self) -> Option<PlanShift> {
        let area = self.area.value();
        if area <= 0.0 {
            return None;
        }
        let [d, e, n] = self.first.map(|sum| sum.value() / area);
        let [dd, de, dn, ee, en, nn] = self.second.map(|sum| sum.value() / area);
        let (dd, de, dn) = (dd - d * d, de - d * e, dn - d * n);
        let (ee, en, nn) = (ee - e * e, en - e * n, nn - n * n);
        let determinant = ee * nn - en * en;
        // On a plane no shift is told from a height.
        let flat = determinant <= 1e-9 * (ee + nn) * (ee + nn);
        if flat || dd <= 0.0 {
            return None;
        }
        // The difference is minus the gradient times the shift.
        let east = -(de * nn - dn * en) / determinant;
        let north = -(dn * ee - de * en) / determinant;
        let explained = -(east * de + north * dn);
        Some(PlanShift {
            east,
            north,
            up: d + east * e + north * n,
            explains: (explained / dd).clamp(0.0, 1.0),
            deviation: dd.sqrt(),
        })
    }
}

struct ShiftFold;

impl Fold for ShiftFold {
    type Part = Sums;

    fn part(&self) -> Sums {
        Sums::default()
    }

    fn piece(&self, part: &mut Sums, piece: &Piece<'_>) {
        let difference = |at| piece.surveyed.at(at) - piece.reference.at(at);
        let (values, ..) = piece.outline.values(difference);
        let whole = piece.outline.integrate(&values);
        if whole.area <= 0.0 {
            return;
        }
        let corners = piece.outline.corners();
        // Over a triangle the square of a linear function is its area by the mean of the squares and products of its corners.
        let square: f64 = (2..corners.len())
            .map(|last| {
                let area = crate::plan::cross(corners[0], corners[last - 1], corners[last]) / 2.0;
                let [a, b, c] = [values[0], values[last - 1], values[last]];
                area / 6.0 * (a * a + b * b + c * c + a * b + b * c + c * a)
            })
            .sum();
        let (e, n) = (piece.reference.slope_east, piece.reference.slope_north);
        part.area += whole.area;
        let first = [whole.integral, whole.area * e, whole.area * n];
        let second = [
            square,
            whole.integral * e,
            whole.integral * n,
            whole.area * e * e,
            whole.area * e * n,
            whole.area * n * n,
        ];
        let sums = part.first.iter_mut().chain(&mut part.second);
        sums.zip(first.into_iter().chain(second))
            .for_each(|(sum, more)| *sum += more);
    }

    fn join(&self, part: &mut Sums, next: Sums) {
        part.area += next.area;
        let sums = part.first.iter_mut().chain(&mut part.second);
        let others = next.first.iter().chain(&next.second);
        sums.zip(others).for_each(|(sum, other)| *sum += *other);
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::plan::Frame;
    use crate::surface::{Grid, Surface};
    use crate::units::LengthUnit;
    use proptest::prelude::*;

    fn ground(height: impl Fn(f64, f64) -> f64) -> Surface {
        let frame = Frame::new(LengthUnit::Metre, [500_000.0, 6_000_000.0]);
        let heights = (0..81 * 81).map(|node| height(f64::from(node % 81), f64::from(node / 81)));
        let corner = frame.to_grid(crate::plan::Place::new(0.0, 0.0));
        let heights = heights.collect();
        Surface::Grid(Grid::new(frame, corner, [1.0; 2], [81, 81], heights).unwrap())
    }

    fn rolling(e: f64, n: f64) -> f64 {
        2.0 * libm::sin(e / 8.0) + 1.5 * libm::cos(n / 7.0) + libm::sin((e + n) / 13.0)
    }

    fn found(from: &Surface, to: &Surface) -> Option<PlanShift> {
        plan_shift(&Overlay::new(from, to, None).unwrap()).unwrap()
    }

    #[test]
    fn a_plane_has_no_shift_of_its_own() {
        let plane = ground(|e, n| 0.1 * e + 0.2 * n);
        let moved = ground(|e, n| 0.1 * (e - 0.5) + 0.2 * n);
        assert!(found(&plane, &moved).is_none());
        assert!(found(&plane, &plane).is_none());
    }

    #[test]
    fn works_are_no_shift() {
        let dug = ground(|e, n| {
            let inside = (20.0..50.0).contains(&e) && (30.0..60.0).contains(&n);
            rolling(e, n) - if inside { 1.5 } else { 0.0 }
        });
        let own = found(&ground(rolling), &dug).unwrap();
        assert!(own.explains < 0.3, "{own:?}");
    }

    proptest! {
        #![proptest_config(ProptestConfig::with_cases(24))]

        /// A made shift is found to a few hundredths of it: squares of the shift are left out, and facets are not smooth.
        #[test]
        fn a_made_shift_is_found(east in -0.5f64..0.5, north in -0.5f64..0.5, up in -0.2f64..0.2) {
            prop_assume!(libm::hypot(east, north) > 0.1);
            let before = ground(rolling);
            let after = ground(|e, n| rolling(e - east, n - north) + up);
            let own = found(&before, &after).unwrap();
            let size = libm::hypot(east, north);
            prop_assert!((own.east - east).abs() < 0.05 * size, "{own:?}");
            prop_assert!((own.north - north).abs() < 0.05 * size, "{own:?}");
            prop_assert!((own.up - up).abs() < 0.02, "{own:?}");
            prop_assert!(own.explains > 0.95);
            // The other way round it is the other way.
            let back = found(&after, &before).unwrap();
            prop_assert!((back.east + own.east).abs() < 0.05 * size);
        }
    }
}
