//! Lines beside a line, at one offset all along.

use super::element::Kind;
use super::strip::Mitred;
use super::turning::signed;
use super::{Alignment, Chainage, Element, Profile};
use crate::plan::{Place, RELATIVE};

/// Why a line has no parallel at an offset.
#[derive(Debug, Clone, Copy, PartialEq, thiserror::Error)]
#[non_exhaustive]
pub enum ParallelError {
    /// A curve is tighter than the offset.
    #[error(
        "at {distance:.3} from its start the line turns with a radius of {radius:.3}, less than the offset"
    )]
    Tight {
        /// Where, from the line's start.
        distance: f64,
        /// The radius of the line there.
        radius: f64,
    },
    /// Nothing is left of a straight between its bends.
    #[error(
        "nothing is left at that offset of the straight at {distance:.3} from the start of the line, inside of its bends"
    )]
    Short {
        /// Where the straight starts, from the line's start.
        distance: f64,
    },
    /// The line bends at a curve, towards the side of the offset.
    #[error(
        "at {distance:.3} from its start the line bends at the end of a curve, towards the side of the offset"
    )]
    Bend {
        /// Where, from the line's start.
        distance: f64,
    },
}

/// A line at hand, and which of its distances are which of the line it runs beside.
struct Drawn {
    elements: Vec<Element>,
    length: f64,
    /// Distances of the line beside, and its own.
    pairs: Vec<[f64; 2]>,
}

impl Drawn {
    fn push(&mut self, element: Element, until: f64) {
        if element.length() > 0.0 {
            self.length += element.length();
            self.elements.push(element);
        }
        self.pairs.push([until, self.length]);
    }

    /// A straight from where it ends, or from `from` where it is not begun.
    fn straight(&mut self, from: Place, to: Place, until: f64) {
        self.push(Element::straight(from, to), until);
    }
}

impl Alignment {
    /// The line that runs beside this one, `offset` to its right, or to its left where negative; with a chainage of its own from zero, and the
    /// heights that this line has beside each place.
    ///
    /// Straights and arcs stay what they are. The parallel of a transition curve is none: it is chords that lie no farther than `chord` from it,
    /// and heights along vertical curves are chords too. Bends are mitred.
    ///
    /// # Errors
    ///
    /// When the line turns more tightly than the offset, on that side.
    ///
    /// ```
    /// use dapedon_core::alignment::{Alignment, Chainage, Element, Turn};
    /// use dapedon_core::plan::Place;
    /// let [from, to, centre] = [(0.0, 0.0), (50.0, 50.0), (0.0, 50.0)].map(|(e, n)| Place::new(e, n));
    /// let line = Alignment::new("arc", vec![Element::arc(from, to, centre, Turn::Left)], Chainage::from(0.0), None);
    /// let kerb = line.parallel(-3.5, 0.001).unwrap();
    /// assert!((kerb.curvature(0.0).unwrap() - 1.0 / 46.5).abs() < 1e-12);
    /// ```
    pub fn parallel(&self, offset: f64, chord: f64) -> Result<Alignment, ParallelError> {
        let mut drawn = Drawn {
            elements: Vec::with_capacity(self.elements.len()),
            length: 0.0,
            pairs: vec![[0.0, 0.0]],
        };
        let joints = self.angles();
        for (index, (element, &start)) in self.elements.iter().zip(&self.distances).enumerate() {
            let angle = |index: usize| joints.get(index).copied().unwrap_or(0.0);
            let ends = [angle(index), angle(index + 1)];
            let end = start + element.length();
            // Places on the lines that halve the angles at both its ends.
            let first = Mitred::of(element.at(0.0), ends[0]).offset(offset);
            let behind = element.at(element.length());
            let last = Mitred::of(behind, -ends[1]).offset(offset);
            if let Kind::Straight = element.kind {
                let (sin, cos) = libm::sincos(element.direction);
                let ahead = (last.east - first.east) * cos + (last.north - first.north) * sin;
                if ahead <= 0.0 && element.length() > 0.0 {
                    return Err(ParallelError::Short { distance: start });
                }
                drawn.straight(first, last, end);
                continue;
            }
            self.is_wider(element, start, offset)?;
            // On the outer side of a bend the tangents of a curve are drawn on until they meet.
            for (angle, distance) in ends.into_iter().zip([start, end]) {
                if angle * offset < 0.0 {
                    return Err(ParallelError::Bend { distance });
                }
            }
            let [from, to] = [element.at(0.0), behind].map(|course| course.offset(offset));
            if ends[0] != 0.0 {
                drawn.straight(first, from, start);
            }
            match element.kind {
                Kind::Arc { centre, turn, .. } => {
                    drawn.push(Element::arc(from, to, centre, turn), end);
                }
                _ => {
                    let stops = self.stops([start, end], offset.abs(), chord);
                    let mut before = from;
                    for &stop in stops.get(1..).unwrap_or_default() {
                        let place = element
                            .at((stop - start).min(element.length()))
                            .offset(offset);
                        drawn.straight(before, place, stop);
                        before = place;
                    }
                }
            }
            if ends[1] != 0.0 {
                drawn.straight(to, last, end);
            }
        }
        let heights = self.profile.as_ref();
        let heights = heights.and_then(|profile| profile.carried(&drawn.pairs, chord));
        let name = self.name.clone();
        Ok(Alignment::new(
            name,
            drawn.elements,
            Chainage::from(0.0),
            heights,
        ))
    }

    /// The angle by which the line bends where each element starts, and at its end: nothing there, unless it is closed.
    fn angles(&self) -> Vec<f64> {
        let mut angles = vec![0.0; self.distances.len()];
        for bend in self.bends() {
            let index = self.distances.iter().position(|&at| at == bend.distance);
            if let Some(angle) = index.and_then(|index| angles.get_mut(index)) {
                *angle = bend.angle;
            }
        }
        let ends = self.at(0.0).zip(self.at(self.length()));
        let closing = ends.and_then(|(start, end)| {
            let apart = libm::hypot(
                end.place.east - start.place.east,
                end.place.north - start.place.north,
            );
            let near = RELATIVE * self.length();
            (apart <= near).then(|| signed(start.direction - end.direction))
        });
        if let (Some(angle), [first, .., last]) = (closing, angles.as_mut_slice()) {
            (*first, *last) = (angle, angle);
        }
        angles
    }

    /// Refuses a curve that is tighter than the offset.
    fn is_wider(&self, element: &Element, start: f64, offset: f64) -> Result<(), ParallelError> {
        for at in [0.0, element.length()] {
            let curvature = element.curvature(at);
            if 1.0 + curvature * offset <= RELATIVE {
                return Err(ParallelError::Tight {
                    distance: start + at,
                    radius: curvature.abs().recip(),
                });
            }
        }
        Ok(())
    }
}

impl Profile {
    /// These heights over other distances: `pairs` are distances here and there, in their order. None where they do not reach.
    fn carried(&self, pairs: &[[f64; 2]], chord: f64) -> Option<Profile> {
        let stops = self.stops(chord);
        let mut heights = Vec::new();
        for pair in pairs.windows(2) {
            let &[[from, there_from], [to, there_to]] = pair else {
                continue;
            };
            let first = stops.partition_point(|&at| at <= from);
            let within = stops.iter().skip(first).copied();
            let within = within.take_while(|&at| at < to);
            for at in [from].into_iter().chain(within).chain([to]) {
                let share = if to > from {
                    (at - from) / (to - from)
                } else {
                    1.0
                };
                let there = there_from + share * (there_to - there_from);
                heights.extend(self.height(at).map(|height| [there, height]));
            }
        }
        Profile::through(heights).ok()
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::alignment::{Curve, Turn, VerticalPoint};
    use proptest::prelude::*;
    use std::f64::consts::PI;

    fn place(east: f64, north: f64) -> Place {
        Place::new(east, north)
    }

    /// A straight, a spiral into an arc of radius 60 to the left, and a spiral out of it, without bends.
    fn smooth() -> Alignment {
        let mut elements = vec![Element::straight(place(0.0, 0.0), place(40.0, 30.0))];
        let mut on = |make: &dyn Fn(Place, f64) -> Element| {
            let end = elements.last().map(|last| last.at(last.length())).unwrap();
            elements.push(make(end.place, end.direction));
        };
        let spiral = |ends: [f64; 2]| {
            move |from: Place, direction: f64| Element::spiral(from, from, direction, ends, 36.0)
        };
        on(&spiral([0.0, 1.0 / 60.0]));
        on(&|from, direction| {
            let centre = place(
                from.east - 60.0 * direction.sin(),
                from.north + 60.0 * direction.cos(),
            );
            let start = direction - PI / 2.0;
            let to = place(
                centre.east + 60.0 * (start + 1.0).cos(),
                centre.north + 60.0 * (start + 1.0).sin(),
            );
            Element::arc(from, to, centre, Turn::Left)
        });
        on(&spiral([1.0 / 60.0, 0.0]));
        Alignment::new("road", elements, Chainage::from(0.0), None)
    }

    proptest! {
        /// Each place of the parallel stands at the offset from the line, and it is as long as its sweep has it.
        #[test]
        fn it_keeps_its_distance(offset in -30.0..50.0f64) {
            let line = smooth();
            let beside = line.parallel(offset, 1e-5).unwrap();
            let turned = line.turned(0.0, line.length());
            // Chords are shorter than their curve by about 8/3 of the square of their height over their length.
            prop_assert!((beside.length() - (line.length() + turned * offset)).abs() < 1e-4);
            for part in 1..50 {
                let at = beside.at(beside.length() * f64::from(part) / 50.0).unwrap();
                let found = line.beside(at.place).unwrap();
                prop_assert!((found.offset - offset).abs() < 1.1e-5, "{found:?}");
            }
            prop_assert_eq!(beside.gaps(1e-9), []);
        }

        /// Out and back again is the same line, bends and all.
        #[test]
        fn it_comes_back(offset in -5.0..5.0f64, aside in -30.0..30.0f64, height in -3.0..3.0f64) {
            let corners = [place(0.0, 0.0), place(50.0, 0.0), place(90.0, aside), place(150.0, 0.0)];
            let straights = corners.windows(2).map(|pair| Element::straight(pair[0], pair[1]));
            let line = Alignment::new("l", straights.collect(), Chainage::from(0.0), None);
            let heights = line.joints().iter().map(|&at| [at, height * at]).chain([[line.length(), 1.0]]);
            let line = line.clone().with_profile(Profile::through(heights).ok());
            let back = line.parallel(offset, 1e-6).unwrap().parallel(-offset, 1e-6).unwrap();
            prop_assert_eq!(back.elements().len(), 3);
            for part in 0..=20 {
                let share = f64::from(part) / 20.0;
                let [a, b] = [&line, &back].map(|line| line.at(line.length() * share).unwrap().place);
                prop_assert!((a.east - b.east).hypot(a.north - b.north) < 1e-9);
                let [a, b] = [&line, &back].map(|line| line.height(line.length() * share, 1e-6).unwrap());
                prop_assert!((a - b).abs() < 1e-6, "{a} {b}");
            }
        }

        /// The parallel of a closed line is closed: a square grows or shrinks on all sides.
        #[test]
        fn a_closed_line_stays_closed(offset in -9.0..9.0f64) {
            let corners = [(0.0, 0.0), (20.0, 0.0), (20.0, 20.0), (0.0, 20.0), (0.0, 0.0)].map(|(e, n)| place(e, n));
            let straights = corners.windows(2).map(|pair| Element::straight(pair[0], pair[1]));
            let line = Alignment::new("yard", straights.collect(), Chainage::from(0.0), None);
            let beside = line.parallel(offset, 1e-6).unwrap();
            prop_assert!((beside.length() - 8.0 * (10.0 + offset)).abs() < 1e-9);
            prop_assert_eq!(beside.gaps(1e-9), []);
        }
    }

    #[test]
    fn heights_go_along() {
        // Half a circle of radius 50 that climbs by a tenth, rounded at its middle.
        let arc = Element::arc(
            place(50.0, 0.0),
            place(-50.0, 0.0),
            place(0.0, 0.0),
            Turn::Left,
        );
        let summit = |distance, height, curve| VerticalPoint {
            distance,
            height,
            curve,
        };
        let length = arc.length();
        let heights = Profile::new(vec![
            summit(0.0, 10.0, Curve::None),
            summit(
                length / 2.0,
                10.0 + length / 20.0,
                Curve::Parabola([20.0, 20.0]),
            ),
            summit(length, 10.0, Curve::None),
        ]);
        let line = Alignment::new("l", vec![arc], Chainage::from(500.0), heights.ok());
        let beside = line.parallel(10.0, 0.001).unwrap();
        assert!((beside.length() - 60.0 * PI).abs() < 1e-9);
        for part in 0..=40 {
            let share = f64::from(part) / 40.0;
            let own = line.height(length * share, 0.0).unwrap();
            let there = beside.height(beside.length() * share, 1e-6).unwrap();
            assert!((own - there).abs() <= 0.001, "{own} {there}");
        }
    }

    #[test]
    fn what_turns_too_tightly_is_refused() {
        let line = smooth();
        let tight = line.parallel(-60.0, 0.001);
        assert!(
            matches!(tight, Err(ParallelError::Tight { radius, .. }) if (radius - 60.0).abs() < 1e-9)
        );
        let straight = |from: (f64, f64), to: (f64, f64)| {
            Element::straight(place(from.0, from.1), place(to.0, to.1))
        };
        let corner = vec![
            straight((0.0, 0.0), (5.0, 0.0)),
            straight((5.0, 0.0), (5.0, 50.0)),
        ];
        let corner = Alignment::new("c", corner, Chainage::from(0.0), None);
        assert_eq!(
            corner.parallel(-6.0, 0.001),
            Err(ParallelError::Short { distance: 0.0 })
        );
        // Outside of the bend there is room.
        assert!((corner.parallel(6.0, 0.001).unwrap().length() - 67.0).abs() < 1e-9);
        let arc = Element::arc(
            place(0.0, 0.0),
            place(20.0, 20.0),
            place(0.0, 20.0),
            Turn::Left,
        );
        let bent = vec![arc, straight((20.0, 20.0), (0.0, 40.0))];
        let bent = Alignment::new("b", bent, Chainage::from(0.0), None);
        let found = bent.parallel(-5.0, 0.001);
        assert!(
            matches!(found, Err(ParallelError::Bend { distance }) if (distance - 10.0 * PI).abs() < 1e-9)
        );
        assert_eq!(bent.parallel(5.0, 0.001).unwrap().gaps(1e-9), []);
    }
}
