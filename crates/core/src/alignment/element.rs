//! Straights, arcs and spirals.

use std::f64::consts::TAU;

use super::transition::{Cubic, Growth};
use crate::plan::Place;

/// Where a line is, and which way it runs there.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Course {
    /// The place.
    pub place: Place,
    /// The direction, as an angle from east towards north.
    pub direction: f64,
}

/// Which way a curve turns.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Turn {
    /// Counter-clockwise.
    Left,
    /// Clockwise.
    Right,
}

impl Turn {
    /// The sign of its curvature: left is positive.
    pub const fn sign(self) -> f64 {
        match self {
            Turn::Left => 1.0,
            Turn::Right => -1.0,
        }
    }
}

/// A part of a line over which its curvature is none, constant, or grows: a straight, an arc, or a transition curve.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Element {
    pub(super) kind: Kind,
    pub(super) from: Place,
    pub(super) to: Place,
    /// The direction at its start.
    pub(super) direction: f64,
    pub(super) length: f64,
}

#[derive(Debug, Clone, Copy, PartialEq)]
pub(super) enum Kind {
    Straight,
    Arc {
        centre: Place,
        radius: f64,
        turn: Turn,
    },
    /// Curvature at its start and end, and how it grows between.
    Spiral([f64; 2], Growth),
    Cubic(Cubic),
}

impl Element {
    /// A straight.
    pub fn straight(from: Place, to: Place) -> Self {
        let (east, north) = (to.east - from.east, to.north - from.north);
        Element {
            kind: Kind::Straight,
            from,
            to,
            direction: libm::atan2(north, east),
            length: libm::hypot(east, north),
        }
    }

    /// A circular arc about `centre`; its radius is the distance of its start from there.
    pub fn arc(from: Place, to: Place, centre: Place, turn: Turn) -> Self {
        let angle = |p: Place| libm::atan2(p.north - centre.north, p.east - centre.east);
        let radius = libm::hypot(from.east - centre.east, from.north - centre.north);
        let sweep = (turn.sign() * (angle(to) - angle(from))).rem_euclid(TAU);
        Element {
            kind: Kind::Arc {
                centre,
                radius,
                turn,
            },
            from,
            to,
            direction: angle(from) + turn.sign() * TAU / 4.0,
            length: radius * sweep,
        }
    }

    /// A clothoid that starts in `direction` and whose curvature grows evenly over `length`; left is
    /// positive. `to` is its end point in the file.
    pub fn spiral(
        from: Place,
        to: Place,
        direction: f64,
        curvature: [f64; 2],
        length: f64,
    ) -> Self {
        Element::transition(from, to, direction, curvature, length, Growth::Even)
    }

    /// The same for another transition curve, whose curvature grows by some law.
    pub fn transition(
        from: Place,
        to: Place,
        direction: f64,
        curvature: [f64; 2],
        length: f64,
        growth: Growth,
    ) -> Self {
        Element {
            kind: Kind::Spiral(curvature, growth),
            from,
            to,
            direction,
            length,
        }
    }

    /// A cubic parabola: beside the tangent at its straight end, which runs in `tangent` into the curve, by the cube of the distance along it,
    /// so that it has both its ends. The straight end is its start where `is_out`, and its end otherwise.
    pub fn cubic_parabola(from: Place, to: Place, tangent: f64, is_out: bool) -> Self {
        let (straight, curved) = if is_out { (from, to) } else { (to, from) };
        let (east, north) = (curved.east - straight.east, curved.north - straight.north);
        let (sin, cos) = libm::sincos(tangent);
        let (reach, aside) = (east * cos + north * sin, north * cos - east * sin);
        let cubic = Cubic {
            factor: aside / (reach * reach * reach),
            reach,
            is_out,
        };
        let length = cubic.length(reach);
        let direction = match is_out {
            true => tangent,
            false => tangent + cubic.at(length).1 + TAU / 2.0,
        };
        Element {
            kind: Kind::Cubic(cubic),
            from,
            to,
            direction,
            length,
        }
    }

    /// What it is called.
    pub fn name(&self) -> &'static str {
        match self.kind {
            Kind::Straight => "straight",
            Kind::Arc { .. } => "arc",
            Kind::Spiral(_, growth) => growth.name(),
            Kind::Cubic(_) => "cubic parabola",
        }
    }

    /// Where it starts.
    pub fn from(&self) -> Place {
        self.from
    }

    /// Its end point in the file.
    pub fn to(&self) -> Place {
        self.to
    }

    /// The distance along it.
    pub fn length(&self) -> f64 {
        self.length
    }

    /// The place and direction at a distance from its start.
    pub fn at(&self, distance: f64) -> Course {
        match self.kind {
            Kind::Straight => {
                let share = if self.length > 0.0 {
                    distance / self.length
                } else {
                    0.0
                };
                Course {
                    place: Place::new(
                        self.from.east + share * (self.to.east - self.from.east),
                        self.from.north + share * (self.to.north - self.from.north),
                    ),
                    direction: self.direction,
                }
            }
            Kind::Arc {
                centre,
                radius,
                turn,
            } => {
                let direction = self.direction + turn.sign() * distance / radius;
                let (sin, cos) = libm::sincos(direction - turn.sign() * TAU / 4.0);
                Course {
                    place: Place::new(centre.east + radius * cos, centre.north + radius * sin),
                    direction,
                }
            }
            Kind::Spiral(..) => self.along_spiral(distance),
            Kind::Cubic(cubic) => self.along_cubic(cubic, distance),
        }
    }

    /// The integral of the unit vector whose angle is the direction, in parts over which it turns by
    /// less than half a radian (C. F. Gauss's rule with six places, exact to 1e-15 of a part there).
    fn along_spiral(&self, distance: f64) -> Course {
        const PLACES: [(f64, f64); 3] = [
            (0.932_469_514_203_152, 0.171_324_492_379_170_35),
            (0.661_209_386_466_264_5, 0.360_761_573_048_138_6),
            (0.238_619_186_083_196_9, 0.467_913_934_572_691_04),
        ];
        let angle = |s: f64| self.direction_at(s);
        let turned = distance
            * self
                .curvature(0.0)
                .abs()
                .max(self.curvature(distance).abs());
        // Laws that are no polynomials want more parts than their turn.
        let least = 8.0 * distance / self.length;
        let parts = (turned / 0.25).max(least).ceil().clamp(1.0, 1e3);
        let half = distance / parts / 2.0;
        let (mut east, mut north) = (0.0, 0.0);
        for part in 0..parts as u32 {
            let middle = half * f64::from(2 * part + 1);
            for (place, weight) in PLACES {
                for s in [middle - half * place, middle + half * place] {
                    let (sin, cos) = libm::sincos(angle(s));
                    east += weight * half * cos;
                    north += weight * half * sin;
                }
            }
        }
        Course {
            place: Place::new(self.from.east + east, self.from.north + north),
            direction: angle(distance),
        }
    }

    /// The place and direction on a cubic parabola.
    fn along_cubic(&self, cubic: Cubic, distance: f64) -> Course {
        let (straight, along, back) = match cubic.is_out {
            true => (self.from, distance, 0.0),
            false => (self.to, self.length - distance, TAU / 2.0),
        };
        let ([x, y], angle) = cubic.at(along);
        let tangent = self.tangent(cubic);
        let (sin, cos) = libm::sincos(tangent);
        Course {
            place: Place::new(
                straight.east + x * cos - y * sin,
                straight.north + x * sin + y * cos,
            ),
            direction: tangent + angle + back,
        }
    }

    /// The direction of the tangent at the straight end of a cubic parabola, into the curve.
    fn tangent(&self, cubic: Cubic) -> f64 {
        match cubic.is_out {
            true => self.direction,
            false => self.direction - TAU / 2.0 - cubic.at(self.length).1,
        }
    }

    /// The direction at a distance from its start.
    pub(super) fn direction_at(&self, distance: f64) -> f64 {
        match self.kind {
            Kind::Straight => self.direction,
            Kind::Arc { radius, turn, .. } => self.direction + turn.sign() * distance / radius,
            Kind::Spiral([start, end], growth) => {
                let grown = self.length * growth.sum(distance / self.length);
                self.direction + start * distance + (end - start) * grown
            }
            Kind::Cubic(cubic) => self.along_cubic(cubic, distance).direction,
        }
    }

    /// One over the radius at a distance from its start; positive where it turns left.
    pub fn curvature(&self, distance: f64) -> f64 {
        match self.kind {
            Kind::Straight => 0.0,
            Kind::Arc { radius, turn, .. } => turn.sign() / radius,
            Kind::Spiral([start, end], growth) => {
                start + (end - start) * growth.done(distance / self.length)
            }
            Kind::Cubic(cubic) => {
                let (along, sign) = match cubic.is_out {
                    true => (distance, 1.0),
                    // Driven into its straight end it turns the other way.
                    false => (self.length - distance, -1.0),
                };
                sign * cubic.curvature(cubic.at(along).0[0])
            }
        }
    }

    /// How many chords keep within `chord` of it.
    pub(super) fn steps(&self, chord: f64) -> u32 {
        let curvature = match self.kind {
            Kind::Straight => return 1,
            Kind::Arc { radius, .. } => radius.recip(),
            Kind::Spiral([start, end], _) => start.abs().max(end.abs()),
            Kind::Cubic(_) => {
                let ends = [0.0, self.length].map(|at| self.curvature(at).abs());
                ends[0].max(ends[1])
            }
        };
        // A chord of length c lies c²/8 times the curvature from its arc.
        let longest = (8.0 * chord / curvature).sqrt();
        (self.length / longest).ceil().clamp(1.0, 1e4) as u32
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    #[test]
    fn a_spiral_from_a_straight_follows_its_series() {
        // x = L (1 - t²/10 + t⁴/216 - t⁶/9360 ...), y = L (t/3 - t³/42 + t⁵/1320 - ...), t = L/2R.
        let (length, radius) = (60.0, 150.0);
        let t: f64 = length / (2.0 * radius);
        let x = length
            * (1.0 - t.powi(2) / 10.0 + t.powi(4) / 216.0 - t.powi(6) / 9360.0
                + t.powi(8) / 685_440.0);
        let y = length * (t / 3.0 - t.powi(3) / 42.0 + t.powi(5) / 1320.0 - t.powi(7) / 75_600.0);
        let spiral = Element::spiral(
            Place::new(0.0, 0.0),
            Place::new(x, y),
            0.0,
            [0.0, 1.0 / radius],
            length,
        );
        let end = spiral.at(length);
        assert!((end.place.east - x).abs() < 1e-9 && (end.place.north - y).abs() < 1e-9);
        assert!((end.direction - t).abs() < 1e-15);
    }

    proptest! {
        /// A spiral of one curvature is an arc.
        #[test]
        fn a_spiral_that_does_not_grow_is_an_arc(radius in 5.0..500.0f64, share in 0.01..0.9f64, left in any::<bool>()) {
            let turn = if left { Turn::Left } else { Turn::Right };
            let centre = Place::new(3.0, turn.sign() * radius);
            let from = Place::new(3.0, 0.0);
            let angle: f64 = -turn.sign() * TAU / 4.0 + turn.sign() * share * TAU;
            let to = Place::new(centre.east + radius * angle.cos(), centre.north + radius * angle.sin());
            let arc = Element::arc(from, to, centre, turn);
            prop_assert!((arc.length() - radius * share * TAU).abs() < 1e-9 * radius);
            let curvature = turn.sign() / radius;
            let spiral = Element::spiral(from, to, 0.0, [curvature; 2], arc.length());
            for part in 0..=8 {
                let distance = arc.length() * f64::from(part) / 8.0;
                let (a, b) = (arc.at(distance), spiral.at(distance));
                prop_assert!((a.place.east - b.place.east).abs() < 1e-9 * radius);
                prop_assert!((a.place.north - b.place.north).abs() < 1e-9 * radius);
            }
        }

        /// Walked back from its end, a spiral comes to its start.
        #[test]
        fn a_spiral_walked_back_comes_home(start in -0.02..0.02f64, end in -0.02..0.02f64, length in 1.0..300.0, direction in -3.0..3.0) {
            let from = Place::new(10.0, 20.0);
            let there = Element::spiral(from, from, direction, [start, end], length).at(length);
            let back = Element::spiral(there.place, from, there.direction + TAU / 2.0, [-end, -start], length).at(length);
            prop_assert!((back.place.east - from.east).hypot(back.place.north - from.north) < 1e-9);
        }
    }
}
