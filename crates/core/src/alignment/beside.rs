//! Places beside a line: their distance along it, and how far they stand off.

use std::f64::consts::TAU;

use super::element::{Element, Kind};
use super::{Alignment, Course};
use crate::plan::Place;

/// Halvings by which a place on a spiral is found: a kilometre comes to a thousandth of a micrometre.
const HALVINGS: usize = 45;
/// A spiral is looked at in parts over which it turns by no more than this, in radians.
const PART_TURN: f64 = 0.1;

/// Where a place stands beside a line.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Beside {
    /// The distance along the line, from its start.
    pub distance: f64,
    /// How far it stands off: to the right of the line where positive, to its left where negative.
    pub offset: f64,
}

impl Course {
    /// The place so far to the right of the line, or to its left where `offset` is negative.
    pub fn offset(&self, offset: f64) -> Place {
        let (sin, cos) = libm::sincos(self.direction);
        Place::new(
            self.place.east + offset * sin,
            self.place.north - offset * cos,
        )
    }

    /// How far a place stands to the right of the tangent.
    fn right_of(&self, place: Place) -> f64 {
        let (sin, cos) = libm::sincos(self.direction);
        (place.east - self.place.east) * sin - (place.north - self.place.north) * cos
    }

    /// How far a place stands ahead along the tangent.
    fn ahead_of(&self, place: Place) -> f64 {
        let (sin, cos) = libm::sincos(self.direction);
        (place.east - self.place.east) * cos + (place.north - self.place.north) * sin
    }
}

impl Alignment {
    /// Where a place stands beside the line: at the nearest place of it, which it is square to, or at a bend that it stands
    /// outside of. None where an end is nearest: before the start and behind the end.
    ///
    /// ```
    /// use dapedon_core::alignment::{Alignment, Chainage, Element};
    /// use dapedon_core::plan::Place;
    /// let straight = Element::straight(Place::new(0.0, 0.0), Place::new(0.0, 50.0));
    /// let line = Alignment::new("north", vec![straight], Chainage::from(100.0), None);
    /// let found = line.beside(Place::new(3.0, 20.0)).unwrap();
    /// assert!((found.distance - 20.0).abs() < 1e-12 && (found.offset - 3.0).abs() < 1e-12);
    /// assert_eq!(line.beside(Place::new(3.0, 51.0)), None);
    /// ```
    pub fn beside(&self, place: Place) -> Option<Beside> {
        let best = self.all_beside(place).into_iter().next();
        // Nearer to an end than to any of these, a place is before the start or behind the end.
        let away = |course: Course| {
            let (east, north) = (
                place.east - course.place.east,
                place.north - course.place.north,
            );
            libm::hypot(east, north)
        };
        let first = self.elements.first().map(|first| first.at(0.0));
        let last = self.elements.last().map(|last| last.at(last.length()));
        let before = first.filter(|start| start.ahead_of(place) < 0.0).map(away);
        let behind = last.filter(|end| end.ahead_of(place) > 0.0).map(away);
        let nearest_end = before
            .into_iter()
            .chain(behind)
            .fold(f64::INFINITY, f64::min);
        best.filter(|best| best.offset.abs() <= nearest_end)
    }

    /// All places of the line that a place is square to, or bends that it stands outside of: the nearest first.
    ///
    /// ```
    /// use dapedon_core::alignment::{Alignment, Chainage, Element, Turn};
    /// use dapedon_core::plan::Place;
    /// // Half a circle of radius 10: a place within is square to both its sides only where it stands between them.
    /// let [from, to, centre] = [(10.0, 0.0), (-10.0, 0.0), (0.0, 0.0)].map(|(e, n)| Place::new(e, n));
    /// let up = Element::straight(Place::new(10.0, -30.0), from);
    /// let down = Element::straight(to, Place::new(-10.0, -30.0));
    /// let line = Alignment::new("bow", vec![up, Element::arc(from, to, centre, Turn::Left), down], Chainage::from(0.0), None);
    /// let found = line.all_beside(Place::new(4.0, -20.0));
    /// let told: Vec<[f64; 2]> = found.iter().map(|beside| [beside.distance.round(), beside.offset.round()]).collect();
    /// assert_eq!(told, [[10.0, -6.0], [81.0, -14.0]]);
    /// ```
    pub fn all_beside(&self, place: Place) -> Vec<Beside> {
        let mut all: Vec<Beside> = Vec::new();
        let mut take = |found: Beside| all.push(found);
        for (element, start) in self.elements.iter().zip(&self.distances) {
            element.beside(place, |distance, offset| {
                take(Beside {
                    distance: start + distance,
                    offset,
                });
            });
        }
        // At a bend a place outside of it is square to nothing.
        for (pair, distance) in self.elements.windows(2).zip(&self.distances[1..]) {
            let before = pair[0].at(pair[0].length());
            let after = pair[1].at(0.0);
            if before.ahead_of(place) > 0.0 && after.ahead_of(place) < 0.0 {
                let corner = after.place;
                let away = libm::hypot(place.east - corner.east, place.north - corner.north);
                let right = before.right_of(place) + after.right_of(place) > 0.0;
                take(Beside {
                    distance: *distance,
                    offset: if right { away } else { -away },
                });
            }
        }
        // Where two elements meet a place is square to both, at one distance.
        all.sort_by(|a, b| a.distance.total_cmp(&b.distance));
        all.dedup_by(|next, before| {
            (next.distance - before.distance).abs() <= 1e-9 * self.length()
        });
        all.sort_by(|a, b| {
            let nearer = a.offset.abs().total_cmp(&b.offset.abs());
            nearer.then(a.distance.total_cmp(&b.distance))
        });
        all
    }
}

impl Element {
    /// Hands over the distances and offsets at which a place is square to it.
    fn beside(&self, place: Place, mut take: impl FnMut(f64, f64)) {
        match self.kind {
            Kind::Straight => {
                let start = self.at(0.0);
                let ahead = start.ahead_of(place);
                if (0.0..=self.length).contains(&ahead) {
                    take(ahead, start.right_of(place));
                }
            }
            Kind::Arc {
                centre,
                radius,
                turn,
            } => {
                let (east, north) = (place.east - centre.east, place.north - centre.north);
                let start = self.direction - turn.sign() * TAU / 4.0;
                let swept = (turn.sign() * (libm::atan2(north, east) - start)).rem_euclid(TAU);
                // A hair before the start is nearly a whole turn.
                let swept = if TAU - swept < 1e-12 { 0.0 } else { swept };
                let distance = radius * swept;
                if distance <= self.length * (1.0 + f64::EPSILON) {
                    let beyond = libm::hypot(east, north) - radius;
                    take(distance.min(self.length), turn.sign() * beyond);
                }
            }
            Kind::Spiral(..) | Kind::Cubic(_) => {
                let ends = [0.0, self.length].map(|at| self.curvature(at).abs());
                let turned = self.length * ends[0].max(ends[1]);
                let parts = (turned / PART_TURN).ceil().clamp(4.0, 1e3);
                let ahead = |distance: f64| self.at(distance).ahead_of(place);
                let mut from = 0.0;
                for part in 1..=parts as u32 {
                    let to = self.length * f64::from(part) / parts;
                    if ahead(from) >= 0.0 && ahead(to) <= 0.0 {
                        let (mut low, mut high) = (from, to);
                        for _ in 0..HALVINGS {
                            let middle = (low + high) / 2.0;
                            match ahead(middle) >= 0.0 {
                                true => low = middle,
                                false => high = middle,
                            }
                        }
                        let distance = (low + high) / 2.0;
                        take(distance, self.at(distance).right_of(place));
                    }
                    from = to;
                }
            }
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::alignment::{Chainage, Turn};
    use proptest::prelude::*;

    /// A straight of 30, a quarter turn of radius 20, a spiral out of it, and another straight.
    fn line(turn: Turn) -> Alignment {
        let sign = turn.sign();
        let [a, b] = [(0.0, 0.0), (30.0, 0.0)].map(|(e, n)| Place::new(e, n));
        let arc = Element::arc(
            b,
            Place::new(50.0, sign * 20.0),
            Place::new(30.0, sign * 20.0),
            turn,
        );
        let there = arc.at(arc.length());
        let spiral = Element::spiral(
            there.place,
            there.place,
            there.direction,
            [sign / 20.0, 0.0],
            25.0,
        );
        let end = spiral.at(25.0);
        let spiral = Element::spiral(
            there.place,
            end.place,
            there.direction,
            [sign / 20.0, 0.0],
            25.0,
        );
        let last = Element::straight(
            end.place,
            Course {
                direction: end.direction - TAU / 4.0,
                ..end
            }
            .offset(-40.0),
        );
        // A quarter to the left of east is north: the offset to the left of a direction turned back runs along it.
        Alignment::new(
            "line",
            vec![Element::straight(a, b), arc, spiral, last],
            Chainage::from(0.0),
            None,
        )
    }

    proptest! {
        /// A place that is set off from the line is found again, wherever the line is nearest there.
        #[test]
        fn what_is_set_off_is_found(share in 0.0..1.0f64, offset in -9.0..9.0f64, left in any::<bool>()) {
            let line = line(if left { Turn::Left } else { Turn::Right });
            let distance = share * line.length();
            let place = line.at(distance).unwrap().offset(offset);
            let found = line.beside(place).unwrap();
            prop_assert!((found.distance - distance).abs() < 1e-6, "{found:?} {distance} {offset}");
            prop_assert!((found.offset - offset).abs() < 1e-9, "{found:?} {distance} {offset}");
        }
    }

    #[test]
    fn outside_a_bend_the_corner_is_nearest() {
        let corners = [(0.0, 0.0), (10.0, 0.0), (10.0, 10.0)].map(|(e, n)| Place::new(e, n));
        let elements = corners
            .windows(2)
            .map(|pair| Element::straight(pair[0], pair[1]));
        let line = Alignment::new("bend", elements.collect(), Chainage::from(0.0), None);
        let found = line.beside(Place::new(13.0, -4.0)).unwrap();
        assert_eq!((found.distance, found.offset), (10.0, 5.0));
        // Inside it both sides are asked, and the nearer one tells.
        let found = line.beside(Place::new(8.0, 5.0)).unwrap();
        assert!((found.distance - 15.0).abs() < 1e-12 && (found.offset + 2.0).abs() < 1e-12);
        assert_eq!(line.beside(Place::new(-1.0, 3.0)), None);
        assert_eq!(line.beside(Place::new(12.0, 11.0)), None);
    }
}
