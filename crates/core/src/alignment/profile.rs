//! Heights along a line: grades that meet in summits, rounded by vertical curves.

use crate::plan::RELATIVE;

/// Parts of a vertical curve at most.
const MOST_PARTS: f64 = 1000.0;

/// Heights along a line.
#[derive(Debug, Clone, PartialEq)]
pub struct Profile {
    pub(super) summits: Vec<VerticalPoint>,
}

/// A place where two grades meet, high or low.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct VerticalPoint {
    /// The distance from the line's start.
    pub distance: f64,
    /// The height at which the grades meet.
    pub height: f64,
    /// What rounds it.
    pub curve: Curve,
}

/// A grade, or the curve between two.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct ProfilePiece {
    /// From which distance to which.
    pub between: [f64; 2],
    /// The rise for a unit of distance where it begins and where it ends: the same along a grade.
    pub grades: [f64; 2],
}

/// What rounds a summit.
#[derive(Debug, Clone, Copy, PartialEq)]
pub enum Curve {
    /// Nothing: the grade breaks.
    None,
    /// A parabola over so much before and after; two of them that meet in one grade where the two
    /// lengths differ.
    Parabola([f64; 2]),
    /// A circle of a radius.
    Circle(f64),
}

/// Why heights make no profile.
#[derive(Debug, Clone, Copy, PartialEq, thiserror::Error)]
#[non_exhaustive]
pub enum ProfileError {
    /// Fewer than two summits.
    #[error("a profile needs at least two vertical intersection points, and has {0}")]
    TooFew(usize),
    /// Distances do not grow.
    #[error("the vertical intersection point at {0} is not beyond the one before it")]
    Order(f64),
    /// Two curves share ground.
    #[error("the vertical curve at {0} overlaps the next one")]
    Overlap(f64),
}

impl Profile {
    /// A profile of summits in the order of the line.
    ///
    /// # Errors
    ///
    /// When distances do not grow, or curves overlap by more than a millionth.
    pub fn new(summits: Vec<VerticalPoint>) -> Result<Self, ProfileError> {
        if summits.len() < 2 {
            return Err(ProfileError::TooFew(summits.len()));
        }
        for pair in summits.windows(2) {
            let later = pair[1].distance;
            if later.is_nan() || later <= pair[0].distance {
                return Err(ProfileError::Order(later));
            }
        }
        let profile = Profile { summits };
        let reaches: Vec<[f64; 2]> = (0..profile.summits.len())
            .map(|i| profile.reach(i))
            .collect();
        let length = reaches.last().map_or(0.0, |last| last[1].abs());
        for (index, pair) in reaches.windows(2).enumerate() {
            if pair[0][1] > pair[1][0] + RELATIVE * length {
                return Err(ProfileError::Overlap(profile.summits[index + 1].distance));
            }
        }
        Ok(profile)
    }

    /// A profile through heights at distances, straight between them. Of two at one distance the later one holds.
    ///
    /// # Errors
    ///
    /// When there are fewer than two distances, or they go back.
    pub fn through(heights: impl IntoIterator<Item = [f64; 2]>) -> Result<Self, ProfileError> {
        let mut points: Vec<VerticalPoint> = Vec::new();
        for [distance, height] in heights {
            let point = VerticalPoint {
                distance,
                height,
                curve: Curve::None,
            };
            match points.last_mut() {
                Some(last) if last.distance == distance => *last = point,
                _ => points.push(point),
            }
        }
        Profile::new(points)
    }

    /// Its summits.
    pub fn summits(&self) -> &[VerticalPoint] {
        &self.summits
    }

    /// The rise per unit of distance from one summit to the next.
    fn grade(&self, from: usize) -> f64 {
        let (a, b) = (self.summits[from], self.summits[from + 1]);
        (b.height - a.height) / (b.distance - a.distance)
    }

    /// The grades before and after a summit; the only one there is at either end.
    fn grades(&self, summit: usize) -> [f64; 2] {
        let last = self.summits.len() - 2;
        [
            self.grade(summit.saturating_sub(1).min(last)),
            self.grade(summit.min(last)),
        ]
    }

    /// From where to where a summit is rounded.
    fn reach(&self, index: usize) -> [f64; 2] {
        let summit = self.summits[index];
        let [before, after] = match summit.curve {
            Curve::None => [0.0; 2],
            _ if index == 0 || index + 1 == self.summits.len() => [0.0; 2],
            Curve::Parabola(lengths) => lengths,
            Curve::Circle(radius) => {
                let [a, b] = self.grades(index).map(libm::atan);
                let tangent = radius * libm::tan((b - a) / 2.0).abs();
                [tangent * libm::cos(a), tangent * libm::cos(b)]
            }
        };
        [summit.distance - before, summit.distance + after]
    }

    /// Its grades and the curves between them, one after the other.
    ///
    /// ```
    /// use dapedon_core::alignment::{Curve, Profile, VerticalPoint};
    /// let point = |distance, height, curve| VerticalPoint { distance, height, curve };
    /// let round = Curve::Parabola([10.0, 10.0]);
    /// let hill = vec![point(0.0, 5.0, Curve::None), point(50.0, 7.0, round), point(90.0, 7.0, Curve::None)];
    /// let pieces = Profile::new(hill).unwrap().pieces();
    /// assert_eq!(pieces[1].between, [40.0, 60.0]);
    /// assert_eq!(pieces[1].grades, [0.04, 0.0]);
    /// ```
    pub fn pieces(&self) -> Vec<ProfilePiece> {
        let mut pieces = Vec::new();
        let mut put = |between: [f64; 2], grades: [f64; 2]| {
            if between[1] > between[0] {
                pieces.push(ProfilePiece { between, grades });
            }
        };
        for index in 1..self.summits.len() {
            let [before, here] = [index - 1, index].map(|summit| self.reach(summit));
            let grade = self.grade(index - 1);
            put([before[1], here[0]], [grade; 2]);
            put(here, self.grades(index));
        }
        pieces
    }

    /// Distances in their order, from one to the next of which a straight lies no farther than `chord` from the profile: both its ends,
    /// where grades break, and so many along its curves.
    pub(super) fn stops(&self, chord: f64) -> Vec<f64> {
        let mut stops: Vec<f64> = self.summits.iter().map(|summit| summit.distance).collect();
        for piece in self.pieces() {
            let [start, end] = piece.between;
            let bend = (piece.grades[1] - piece.grades[0]).abs();
            let parts = ((end - start) * bend / (8.0 * chord)).sqrt().ceil();
            let parts = parts.clamp(1.0, MOST_PARTS);
            stops.extend(
                (0..=parts as u32).map(|part| start + (end - start) * f64::from(part) / parts),
            );
        }
        let ends = self.summits.first().zip(self.summits.last());
        stops.retain(|at| {
            ends.is_some_and(|(first, last)| (first.distance..=last.distance).contains(at))
        });
        stops.sort_by(f64::total_cmp);
        stops.dedup();
        stops
    }

    /// The height at a distance from the line's start; `None` off the profile.
    pub fn height(&self, distance: f64) -> Option<f64> {
        let (first, last) = (self.summits.first()?, self.summits.last()?);
        if !(first.distance..=last.distance).contains(&distance) {
            return None;
        }
        let after = self.summits.partition_point(|s| s.distance <= distance);
        let before = after.saturating_sub(1).min(self.summits.len() - 2);
        for index in [before, before + 1] {
            let [from, to] = self.reach(index);
            if from < distance && distance < to {
                return Some(self.rounded(index, distance, [from, to]));
            }
        }
        let summit = self.summits[before];
        Some(summit.height + (distance - summit.distance) * self.grade(before))
    }

    fn rounded(&self, index: usize, distance: f64, [from, to]: [f64; 2]) -> f64 {
        let summit = self.summits[index];
        let [into, out] = self.grades(index);
        let from_summit = distance - summit.distance;
        let tangent = |grade: f64| summit.height + from_summit * grade;
        match summit.curve {
            Curve::None => tangent(into),
            Curve::Parabola([before, after]) => {
                // Off the tangents by the square of the distance from the curve's end; at the summit
                // both halves are off by before * after / (before + after) * (out - into) / 2.
                let middle = before * after / (before + after) * (out - into) / 2.0;
                if from_summit <= 0.0 {
                    tangent(into) + middle * ((distance - from) / before).powi(2)
                } else {
                    tangent(out) + middle * ((to - distance) / after).powi(2)
                }
            }
            Curve::Circle(radius) => {
                // The centre stands square to the grade at the curve's start.
                let side = if out > into { 1.0 } else { -1.0 };
                let angle = libm::atan(into);
                let start = summit.height + (from - summit.distance) * into;
                let centre = [
                    from - side * radius * libm::sin(angle),
                    start + side * radius * libm::cos(angle),
                ];
                let across = distance - centre[0];
                centre[1] - side * (radius * radius - across * across).max(0.0).sqrt()
            }
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    fn hill(curve: Curve) -> Profile {
        let at = |distance: f64, height: f64, curve: Curve| VerticalPoint {
            distance,
            height,
            curve,
        };
        let summits = vec![
            at(0.0, 10.0, Curve::None),
            at(100.0, 14.0, curve),
            at(200.0, 12.0, Curve::None),
        ];
        Profile::new(summits).unwrap()
    }

    #[test]
    fn grades_and_parabolas() {
        let sharp = hill(Curve::None);
        assert_eq!(sharp.height(50.0), Some(12.0));
        assert_eq!(sharp.height(100.0), Some(14.0));
        assert_eq!(sharp.height(200.1), None);
        let round = hill(Curve::Parabola([30.0, 30.0]));
        // Below the summit by (g2 - g1) L / 8 = 0.06 * 60 / 8.
        assert!((round.height(100.0).unwrap() - (14.0 - 0.45)).abs() < 1e-12);
        // y = y0 + g1 x + (g2 - g1) x² / 2L from the start of the curve.
        let x = 42.0;
        let expected = 12.8 + 0.04 * x - 0.06 * x * x / 120.0;
        assert!((round.height(70.0 + x).unwrap() - expected).abs() < 1e-12);
        assert_eq!(round.height(70.0), Some(12.8));
        // Halves of different lengths meet in one height and one grade.
        let skew = hill(Curve::Parabola([20.0, 50.0]));
        let near = |d: f64| skew.height(d).unwrap();
        assert!((near(100.0 - 1e-9) - near(100.0 + 1e-9)).abs() < 1e-9);
        let grade = |d: f64| (near(d + 1e-4) - near(d - 1e-4)) / 2e-4;
        assert!((grade(100.0 - 1e-3) - grade(100.0 + 1e-3)).abs() < 1e-5);
    }

    #[test]
    fn circles_touch_their_grades() {
        let round = hill(Curve::Circle(800.0));
        let [from, to] = round.reach(1);
        let at = |d: f64| round.height(d).unwrap();
        assert!((at(from + 1e-9) - (10.0 + 0.04 * from)).abs() < 1e-9);
        assert!((at(to - 1e-9) - (14.0 - 0.02 * (to - 100.0))).abs() < 1e-9);
        // Three heights a chord apart give the radius back: R = chord² / 8 / sagitta + sagitta / 2,
        // here on a chord that is level enough to measure along the distance.
        let top = (from + to) / 2.0;
        let (a, b, c) = (at(top - 5.0), at(top), at(top + 5.0));
        let sagitta = b - (a + c) / 2.0;
        assert!((25.0 / (2.0 * sagitta) / 800.0 - 1.0).abs() < 2e-3);
    }

    #[test]
    fn what_makes_no_profile_says_why() {
        let at = |distance: f64, curve: Curve| VerticalPoint {
            distance,
            height: 0.0,
            curve,
        };
        let of = |summits: Vec<VerticalPoint>| Profile::new(summits).unwrap_err();
        assert_eq!(of(vec![at(0.0, Curve::None)]), ProfileError::TooFew(1));
        assert_eq!(
            of(vec![at(5.0, Curve::None), at(5.0, Curve::None)]),
            ProfileError::Order(5.0)
        );
        let long = Curve::Parabola([40.0, 40.0]);
        let crowded = vec![
            at(0.0, Curve::None),
            at(50.0, long),
            at(100.0, long),
            at(200.0, Curve::None),
        ];
        assert_eq!(of(crowded), ProfileError::Overlap(100.0));
    }
}
