//! The ground beside a stretch of a line.

use super::turning::signed;
use super::{Alignment, Bend, Course};
use crate::plan::Place;

impl Alignment {
    /// The outline of the ground beside the line from one distance to another, and from one offset to another: its right edge there,
    /// its left edge back, closed. Chords of its curves lie no farther than about `chord` off; bends are mitred. Strips that follow each other
    /// share their ends.
    ///
    /// On the inner side of a curve that is tighter than the offset it crosses itself.
    ///
    /// ```
    /// use dapedon_core::alignment::{Alignment, Chainage, Element};
    /// use dapedon_core::plan::Place;
    /// let straight = Element::straight(Place::new(0.0, 0.0), Place::new(0.0, 50.0));
    /// let line = Alignment::new("north", vec![straight], Chainage::from(0.0), None);
    /// let strip = line.strip([10.0, 20.0], [-2.0, 3.0], 0.001);
    /// assert_eq!(strip.len(), 5);
    /// assert_eq!(strip[0], strip[4]);
    /// ```
    pub fn strip(&self, [from, to]: [f64; 2], [left, right]: [f64; 2], chord: f64) -> Vec<Place> {
        let courses = self.courses([from, to], left.abs().max(right.abs()), chord);
        let edge = |offset: f64| courses.iter().map(move |course| course.offset(offset));
        let mut ring: Vec<Place> = edge(right).chain(edge(left).rev()).collect();
        ring.extend(ring.first().copied());
        ring
    }

    /// The courses along a stretch that chords join, with bends as the middle between both directions.
    fn courses(&self, between: [f64; 2], reach: f64, chord: f64) -> Vec<Mitred> {
        let bends = self.bends();
        let stops = self.stops(between, reach, chord).into_iter();
        stops
            .filter_map(|distance| self.mitred(distance, &bends))
            .collect()
    }

    /// The course at a distance; at a bend the middle between both directions.
    pub(crate) fn mitred(&self, distance: f64, bends: &[Bend]) -> Option<Mitred> {
        let course = self.at(distance)?;
        let bend = bends.iter().find(|bend| bend.distance == distance);
        Some(Mitred::of(course, bend.map_or(0.0, |bend| bend.angle)))
    }

    /// The course where a closed line ends and starts: the middle between both directions there.
    pub(crate) fn closing(&self) -> Option<Mitred> {
        let (start, end) = (self.at(0.0)?, self.at(self.length())?);
        Some(Mitred::of(start, signed(start.direction - end.direction)))
    }

    /// The distances along a stretch that chords join: both ends, the joints of elements, and so many within curves that places `reach` aside
    /// of the line lie no farther than about `chord` off.
    pub(crate) fn stops(&self, between: [f64; 2], reach: f64, chord: f64) -> Vec<f64> {
        let [from, to] = between.map(|at| at.clamp(0.0, self.length()));
        let mut stops = vec![from];
        for (element, &start) in self.elements.iter().zip(&self.distances) {
            let end = start + element.length();
            let [enters, leaves] = [from.max(start), to.min(end)];
            if leaves <= enters {
                continue;
            }
            if enters > from {
                stops.push(start);
            }
            let curvature = [enters, leaves].map(|at| element.curvature(at - start).abs());
            let tightest = curvature[0].max(curvature[1]);
            if tightest > 0.0 {
                // A chord that turns by t lies r t²/8 from an arc of radius r.
                let turn = (8.0 * chord / (1.0 / tightest + reach)).sqrt();
                let steps = ((leaves - enters) * tightest / turn).ceil().clamp(1.0, 1e5);
                let step = (leaves - enters) / steps;
                stops.extend((1..steps as u32).map(|i| enters + f64::from(i) * step));
            }
        }
        stops.push(to);
        stops
    }
}

/// A course whose offsets are longer where it stands aslant to the line, at a bend.
pub(crate) struct Mitred {
    course: Course,
    stretched: f64,
}

impl Mitred {
    /// The course behind a bend by an angle, turned back by half of it.
    pub(crate) fn of(course: Course, bend: f64) -> Self {
        let half = bend / 2.0;
        Mitred {
            course: Course {
                direction: course.direction - half,
                ..course
            },
            stretched: 1.0 / libm::cos(half),
        }
    }

    /// The place so far to the right.
    pub(crate) fn offset(&self, offset: f64) -> Place {
        self.course.offset(offset * self.stretched)
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::alignment::{Chainage, Element, Turn};
    use proptest::prelude::*;

    fn area(ring: &[Place]) -> f64 {
        let pairs = ring.windows(2);
        let twice = pairs.map(|p| p[0].east * p[1].north - p[1].east * p[0].north);
        twice.sum::<f64>() / 2.0
    }

    /// A straight of 30, a quarter of a circle of radius 20, a bend to the right, and 40 on.
    fn line() -> Alignment {
        let [a, b, c, d] =
            [(0.0, 0.0), (30.0, 0.0), (50.0, 20.0), (74.0, 52.0)].map(|(e, n)| Place::new(e, n));
        let elements = vec![
            Element::straight(a, b),
            Element::arc(b, c, Place::new(30.0, 20.0), Turn::Left),
            Element::straight(c, d),
        ];
        Alignment::new("line", elements, Chainage::from(0.0), None)
    }

    proptest! {
        /// By Pappus the area is the width times the length, plus the moment of the width times the turn.
        #[test]
        fn the_area_of_a_strip_is_that_of_its_sweep(shares in (0.0..1.0f64, 0.0..1.0f64), left in -8.0..0.0f64, right in 0.1..8.0f64) {
            let line = line();
            let (a, b) = (shares.0.min(shares.1), shares.0.max(shares.1));
            prop_assume!(b - a > 0.01);
            let [from, to] = [a, b].map(|share| share * line.length());
            let ring = line.strip([from, to], [left, right], 1e-7);
            let moment = (right * right - left * left) / 2.0;
            let swept = (right - left) * (to - from) + line.turned(from, to) * moment;
            // Chords a tenth of a micrometre off over some hundred metres.
            prop_assert!((area(&ring) - swept).abs() < 1e-4, "{} {swept}", area(&ring));
        }

        /// Strips that follow each other cover what they cover in one.
        #[test]
        fn strips_in_parts_are_the_whole(share in 0.01..0.99f64, left in -8.0..0.0f64, right in 0.1..8.0f64) {
            let line = line();
            let (middle, length) = (share * line.length(), line.length());
            let parts = [[0.0, middle], [middle, length]].map(|part| area(&line.strip(part, [left, right], 1e-7)));
            let whole = area(&line.strip([0.0, length], [left, right], 1e-7));
            prop_assert!((parts[0] + parts[1] - whole).abs() < 1e-4);
        }
    }
}
