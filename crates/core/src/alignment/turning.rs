//! How a line turns: its curvature, its bends, and the angle it turns by from one distance to another.

use std::f64::consts::TAU;

use super::Alignment;
use super::element::Element;

/// Directions no farther apart are one: what files round off, in radians.
const SAME_DIRECTION: f64 = 1e-6;

/// A place where the direction of a line jumps.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Bend {
    /// The distance from the line's start.
    pub distance: f64,
    /// The angle from the direction before to the direction behind it; to the left where positive.
    pub angle: f64,
}

impl Element {
    /// The angle it turns by between two distances from its start; to the left where positive.
    fn turned(&self, from: f64, to: f64) -> f64 {
        self.direction_at(to) - self.direction_at(from)
    }
}

impl Alignment {
    /// One over the radius at a distance from its start, positive where it turns left; behind the joint of two elements. `None` off the
    /// line.
    ///
    /// ```
    /// use dapedon_core::alignment::{Alignment, Chainage, Element, Turn};
    /// use dapedon_core::plan::Place;
    /// let [from, to, centre] = [(0.0, 0.0), (50.0, 50.0), (0.0, 50.0)].map(|(e, n)| Place::new(e, n));
    /// let arc = Element::arc(from, to, centre, Turn::Left);
    /// let line = Alignment::new("arc", vec![arc], Chainage::from(0.0), None);
    /// assert_eq!(line.curvature(10.0), Some(0.02));
    /// ```
    pub fn curvature(&self, distance: f64) -> Option<f64> {
        let index = self.element_at(distance)?;
        let start = self.distances.get(index)?;
        Some(self.elements.get(index)?.curvature(distance - start))
    }

    /// Where its direction jumps.
    pub fn bends(&self) -> Vec<Bend> {
        let pairs = self
            .elements
            .windows(2)
            .zip(self.distances.get(1..).unwrap_or_default());
        let bends = pairs.map(|(pair, &distance)| {
            let before = pair[0].at(pair[0].length()).direction;
            let behind = pair[1].at(0.0).direction;
            Bend {
                distance,
                angle: signed(behind - before),
            }
        });
        bends
            .filter(|bend| bend.angle.abs() > SAME_DIRECTION)
            .collect()
    }

    /// How far the line turns between two distances, as the path of a place that is carried along it has it: a place at an offset of
    /// one to the right is carried so much farther than the line is long. Curves count with their angle; bends as if they were
    /// mitred, with twice the tangent of half their angle, one half of it on each side.
    ///
    /// By the theorem of Pappus and Guldin the volume of a section that is carried along is its area times the length, plus its
    /// first moment about the line times this.
    pub fn turned(&self, from: f64, to: f64) -> f64 {
        let mut turned = 0.0;
        for (element, start) in self.elements.iter().zip(&self.distances) {
            let [enters, leaves] = [from, to].map(|at| (at - start).clamp(0.0, element.length()));
            if leaves > enters {
                turned += element.turned(enters, leaves);
            }
        }
        for bend in self.bends() {
            let half = libm::tan(bend.angle / 2.0);
            // Before it and behind it, as far as they are within.
            turned += half * f64::from(u8::from(from < bend.distance && bend.distance <= to));
            turned += half * f64::from(u8::from(from <= bend.distance && bend.distance < to));
        }
        turned
    }
}

/// An angle between minus a half turn and a half turn.
pub(super) fn signed(angle: f64) -> f64 {
    let angle = angle.rem_euclid(TAU);
    if angle > TAU / 2.0 {
        angle - TAU
    } else {
        angle
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::alignment::{Chainage, Turn};
    use crate::plan::Place;
    use proptest::prelude::*;

    #[test]
    fn arcs_turn_by_their_angle_and_bends_by_their_mitre() {
        let [a, b, c, d, e] = [
            (0.0, 0.0),
            (30.0, 0.0),
            (50.0, 20.0),
            (50.0, 30.0),
            (60.0, 30.0),
        ]
        .map(|(e, n)| Place::new(e, n));
        let elements = vec![
            Element::straight(a, b),
            Element::arc(b, c, Place::new(30.0, 20.0), Turn::Left),
            Element::straight(c, d),
            Element::straight(d, e),
        ];
        let line = Alignment::new("line", elements, Chainage::from(0.0), None);
        let arc = 10.0 * TAU / 2.0;
        assert!((line.turned(0.0, 35.0 + arc) - TAU / 4.0).abs() < 1e-12);
        assert!((line.turned(30.0 + arc / 4.0, 30.0 + arc / 2.0) - TAU / 16.0).abs() < 1e-12);
        // A right angle to the right: half of the mitre belongs to each side.
        let bends = line.bends();
        assert_eq!(bends.len(), 1);
        assert!((bends[0].angle + TAU / 4.0).abs() < 1e-12);
        let bend = bends[0].distance;
        assert!((line.turned(bend - 1.0, bend) + 1.0).abs() < 1e-12);
        assert!((line.turned(bend - 1.0, bend + 1.0) + 2.0).abs() < 1e-12);
        assert_eq!(line.curvature(31.0), Some(0.05));
        assert_eq!(line.curvature(5.0), Some(0.0));
        assert_eq!(line.curvature(-1.0), None);
    }

    proptest! {
        /// What a spiral turns by is the difference of its directions.
        #[test]
        fn a_spiral_turns_by_its_directions(start in -0.02..0.02f64, end in -0.02..0.02f64, length in 1.0..100.0f64, shares in (0.0..1.0f64, 0.0..1.0f64)) {
            let from = Place::new(0.0, 0.0);
            let spiral = Element::spiral(from, from, 0.4, [start, end], length);
            let line = Alignment::new("spiral", vec![spiral], Chainage::from(0.0), None);
            let (a, b) = (shares.0.min(shares.1) * length, shares.0.max(shares.1) * length);
            let directions = spiral.at(b).direction - spiral.at(a).direction;
            prop_assert!((line.turned(a, b) - directions).abs() < 1e-12);
        }
    }
}
