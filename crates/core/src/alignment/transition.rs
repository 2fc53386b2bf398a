//! Transition curves: how their curvature grows from one end to the other.

use std::f64::consts::{PI, TAU};

/// How the curvature of a transition curve grows along it.
///
/// With $u$ the share of its length, the curvature is $k_0 + (k_1 - k_0) f(u)$. The laws and their integrals are those of the usual
/// textbooks on alignment; see `docs/methods.md`, "Alignments".
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Growth {
    /// Evenly: a clothoid. $f = u$.
    Even,
    /// After Bloss: $f = 3u^2 - 2u^3$.
    Bloss,
    /// By a cosine: $f = (1 - \cos \pi u) / 2$.
    Cosine,
    /// By a sine: $f = u - \sin(2 \pi u) / 2 \pi$.
    Sine,
}

impl Growth {
    /// The share of the change of curvature that is done at a share of the length.
    pub(super) fn done(self, u: f64) -> f64 {
        match self {
            Growth::Even => u,
            Growth::Bloss => u * u * (3.0 - 2.0 * u),
            Growth::Cosine => (1.0 - libm::cos(PI * u)) / 2.0,
            Growth::Sine => u - libm::sin(TAU * u) / TAU,
        }
    }

    /// The integral of that from the start.
    pub(super) fn sum(self, u: f64) -> f64 {
        match self {
            Growth::Even => u * u / 2.0,
            Growth::Bloss => u * u * u * (1.0 - u / 2.0),
            Growth::Cosine => u / 2.0 - libm::sin(PI * u) / TAU,
            Growth::Sine => u * u / 2.0 + (libm::cos(TAU * u) - 1.0) / (TAU * TAU),
        }
    }

    /// What such a curve is called.
    pub(super) fn name(self) -> &'static str {
        match self {
            Growth::Even => "spiral",
            Growth::Bloss => "Bloss curve",
            Growth::Cosine => "cosine curve",
            Growth::Sine => "sine curve",
        }
    }
}

/// A cubic parabola, y = m x³ from its straight end along the tangent there.
#[derive(Debug, Clone, Copy, PartialEq)]
pub(super) struct Cubic {
    /// m; positive where it turns left on the way out of its straight end.
    pub(super) factor: f64,
    /// Where it ends along that tangent.
    pub(super) reach: f64,
    /// True where the straight end is its start.
    pub(super) is_out: bool,
}

impl Cubic {
    /// The length along the curve from its straight end to a place on the tangent.
    ///
    /// The integral of the root of 1 + 9 m² x⁴, in parts over which that hardly changes (Gauss's rule with three places).
    pub(super) fn length(&self, x: f64) -> f64 {
        const PLACES: [(f64, f64); 3] = [
            (-0.774_596_669_241_483_4, 5.0 / 9.0),
            (0.0, 8.0 / 9.0),
            (0.774_596_669_241_483_4, 5.0 / 9.0),
        ];
        const PARTS: u32 = 32;
        let half = x / f64::from(PARTS) / 2.0;
        let mut length = 0.0;
        for part in 0..PARTS {
            let middle = half * f64::from(2 * part + 1);
            for (place, weight) in PLACES {
                length += weight * half * libm::hypot(1.0, self.slope(middle + half * place));
            }
        }
        length
    }

    /// The slope against the tangent.
    fn slope(&self, x: f64) -> f64 {
        3.0 * self.factor * x * x
    }

    /// The place on the tangent, and the one beside it, at a length along the curve from its straight end; and the angle there.
    pub(super) fn at(&self, length: f64) -> ([f64; 2], f64) {
        // The curve is a little longer than the tangent: Newton's rule from there comes to rest in a few steps.
        let mut x = length.min(self.reach);
        for _ in 0..8 {
            let off = self.length(x) - length;
            x -= off / libm::hypot(1.0, self.slope(x));
            if off.abs() <= 1e-13 * self.reach {
                break;
            }
        }
        ([x, self.factor * x * x * x], libm::atan(self.slope(x)))
    }

    /// One over the radius at a place on the tangent.
    pub(super) fn curvature(&self, x: f64) -> f64 {
        let stretched = libm::hypot(1.0, self.slope(x));
        6.0 * self.factor * x / (stretched * stretched * stretched)
    }
}

#[cfg(test)]
mod tests {
    use crate::alignment::{Element, Growth};
    use crate::plan::Place;
    use proptest::prelude::*;

    /// The end of a curve by adding up very small steps of its direction, the second method: Simpson's rule with 4000 parts.
    fn summed(direction: impl Fn(f64) -> f64, length: f64) -> Place {
        let parts = 4000;
        let step = length / f64::from(parts);
        let (mut east, mut north) = (0.0, 0.0);
        for part in 0..=parts {
            let weight = match part {
                0 => 1.0,
                part if part == parts => 1.0,
                part if part % 2 == 1 => 4.0,
                _ => 2.0,
            };
            let angle = direction(step * f64::from(part));
            east += weight * angle.cos() * step / 3.0;
            north += weight * angle.sin() * step / 3.0;
        }
        Place::new(east, north)
    }

    proptest! {
        /// Places against sums of small steps, to far below a tenth of a millimetre, over radii of 50 to 5000; the direction is that of
        /// the textbook formula, and at the end the curve has turned by half its length over the radius.
        #[test]
        fn transitions_end_where_small_steps_lead(radius in 50.0..5000.0f64, share in 0.02..1.0f64, at in 0.05..1.0f64, which in 0..4usize, left in any::<bool>()) {
            let growth = [Growth::Even, Growth::Bloss, Growth::Cosine, Growth::Sine][which];
            let sign = if left { 1.0 } else { -1.0 };
            let (length, curvature) = (radius * share, sign / radius);
            let from = Place::new(0.0, 0.0);
            let curve = Element::transition(from, from, 0.0, [0.0, curvature], length, growth);
            let pi = std::f64::consts::PI;
            // Integrals of the laws, as textbooks have them.
            let angle = |s: f64| {
                let u = s / length;
                curvature * length * match growth {
                    Growth::Even => u.powi(2) / 2.0,
                    Growth::Bloss => u.powi(3) - u.powi(4) / 2.0,
                    Growth::Cosine => u / 2.0 - (pi * u).sin() / (2.0 * pi),
                    Growth::Sine => u.powi(2) / 2.0 - (1.0 - (2.0 * pi * u).cos()) / (4.0 * pi * pi),
                }
            };
            let course = curve.at(at * length);
            let expected = summed(angle, at * length);
            prop_assert!((course.place.east - expected.east).hypot(course.place.north - expected.north) < 1e-7);
            prop_assert!((course.direction - angle(at * length)).abs() < 1e-12);
            prop_assert!((curve.at(length).direction - curvature * length / 2.0).abs() < 1e-12);
            prop_assert!((curve.curvature(length) - curvature).abs() < 1e-12 * curvature.abs().max(1e-3));
        }

        /// A cubic parabola has its end, its length and its directions, out of the straight and back into it.
        #[test]
        fn a_cubic_parabola_is_one(radius in 50.0..5000.0f64, share in 0.02..0.6f64, at in 0.0..1.0f64, left in any::<bool>(), turned in -3.0..3.0f64) {
            let sign = if left { 1.0 } else { -1.0 };
            let reach = radius * share;
            let factor = sign / (6.0 * radius * reach);
            let (sin, cos) = turned.sin_cos();
            let place = |x: f64| {
                let y = factor * x.powi(3);
                Place::new(100.0 + x * cos - y * sin, 200.0 + x * sin + y * cos)
            };
            let (start, end) = (place(0.0), place(reach));
            let out = Element::cubic_parabola(start, end, turned, true);
            let back = Element::cubic_parabola(end, start, turned, false);
            // Its length by chords.
            let steps = 20_000;
            let chord = |index: i32| place(reach * f64::from(index) / f64::from(steps));
            let length: f64 = (0..steps).map(|i| {
                let (a, b) = (chord(i), chord(i + 1));
                (b.east - a.east).hypot(b.north - a.north)
            }).sum();
            prop_assert!((out.length() - length).abs() < 1e-6 && (back.length() - out.length()).abs() < 1e-12);
            let course = out.at(at * out.length());
            let [x, y] = {
                let (e, n) = (course.place.east - 100.0, course.place.north - 200.0);
                [e * cos + n * sin, n * cos - e * sin]
            };
            prop_assert!((y - factor * x.powi(3)).abs() < 1e-9);
            prop_assert!((course.direction - turned - (3.0 * factor * x * x).atan()).abs() < 1e-9);
            let other = back.at((1.0 - at) * back.length());
            prop_assert!((other.place.east - course.place.east).hypot(other.place.north - course.place.north) < 1e-7);
            let half_turn = (other.direction - course.direction).rem_euclid(std::f64::consts::TAU) - std::f64::consts::PI;
            prop_assert!(half_turn.abs() < 1e-9);
        }
    }
}
