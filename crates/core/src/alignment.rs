//! Lines of straights, arcs and spirals, and the distance along them.

mod beside;
mod by_distance;
mod chainage;
mod chainage_words;
mod element;
mod parallel;
mod profile;
mod raised;
mod scaled;
mod stations;
mod strip;
mod transition;
mod turning;

pub use beside::Beside;
pub use by_distance::ByDistance;
pub use chainage::{Chainage, Equation};
pub use chainage_words::{ChainageError, EquationSide, NamedChainage, NoChainage, chainage_words};
pub use element::{Course, Element, Turn};
pub use parallel::ParallelError;
pub use profile::{Curve, Profile, ProfileError, ProfilePiece, VerticalPoint};
pub use raised::RaisedStretch;
pub use stations::TooManyStations;
pub use transition::Growth;
pub use turning::Bend;

use crate::plan::crossing::{self, Meeting};
use crate::plan::{Edge, Place};

/// A line of straights, arcs and spirals, in grid coordinates.
#[derive(Debug, Clone, PartialEq)]
pub struct Alignment {
    name: String,
    elements: Vec<Element>,
    /// Where each element starts, and the whole ends.
    distances: Vec<f64>,
    chainage: Chainage,
    profile: Option<Profile>,
}

/// Where one element does not end where the next one starts.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Gap {
    /// The element that should end there, from zero.
    pub element: usize,
    /// How far apart they are.
    pub distance: f64,
}

impl Alignment {
    /// A line of `elements`, one after the other.
    ///
    /// ```
    /// use dapedon_core::alignment::{Alignment, Chainage, Element};
    /// use dapedon_core::plan::{Place};
    /// let straight = Element::straight(Place::new(0.0, 0.0), Place::new(30.0, 40.0));
    /// let line = Alignment::new("bank", vec![straight], Chainage::from(100.0), None);
    /// assert_eq!(line.length(), 50.0);
    /// let there = line.at(25.0).unwrap();
    /// assert_eq!((there.place, line.chainage().of(25.0)), (Place::new(15.0, 20.0), 125.0));
    /// ```
    pub fn new(
        name: impl Into<String>,
        elements: Vec<Element>,
        chainage: Chainage,
        profile: Option<Profile>,
    ) -> Self {
        let mut distances = vec![0.0];
        let mut along = 0.0;
        for element in &elements {
            along += element.length();
            distances.push(along);
        }
        Alignment {
            name: name.into(),
            elements,
            distances,
            chainage,
            profile,
        }
    }

    /// The same line under another name.
    #[must_use]
    pub fn with_name(self, name: impl Into<String>) -> Self {
        Alignment {
            name: name.into(),
            ..self
        }
    }

    /// The same line with other heights, or none.
    #[must_use]
    pub fn with_profile(self, profile: Option<Profile>) -> Self {
        Alignment { profile, ..self }
    }

    /// Its name.
    pub fn name(&self) -> &str {
        &self.name
    }

    /// Its elements.
    pub fn elements(&self) -> &[Element] {
        &self.elements
    }

    /// The distance from its start to its end, along it.
    pub fn length(&self) -> f64 {
        self.distances[self.elements.len()]
    }

    /// How distances are named.
    pub fn chainage(&self) -> &Chainage {
        &self.chainage
    }

    /// The heights along it.
    pub fn profile(&self) -> Option<&Profile> {
        self.profile.as_ref()
    }

    /// The height of the line at a distance from its start. Files round: a profile that ends no more than `hair` before it reaches there.
    pub fn height(&self, distance: f64, hair: f64) -> Option<f64> {
        let profile = self.profile()?;
        let ends = [profile.summits().first()?, profile.summits().last()?];
        let [from, to] = ends.map(|summit| summit.distance);
        let near = distance.clamp(from, to);
        let height = profile.height(near)?;
        ((near - distance).abs() <= hair).then_some(height)
    }

    /// The place at a distance from the start, and the direction there; `None` off the line.
    pub fn at(&self, distance: f64) -> Option<Course> {
        let index = self.element_at(distance)?;
        Some(self.elements[index].at(distance - self.distances[index]))
    }

    /// The distances at which its elements start.
    pub fn joints(&self) -> &[f64] {
        self.distances
            .get(..self.elements.len())
            .unwrap_or_default()
    }

    /// The element at a distance from the start: of two that meet there the later one.
    fn element_at(&self, distance: f64) -> Option<usize> {
        if !(0.0..=self.length()).contains(&distance) {
            return None;
        }
        let after = self.distances.partition_point(|&start| start <= distance);
        let last = self.elements.len().checked_sub(1)?;
        Some(after.saturating_sub(1).min(last))
    }

    /// Where elements do not meet, by more than `tolerance`.
    pub fn gaps(&self, tolerance: f64) -> Vec<Gap> {
        let distance = |a: Place, b: Place| libm::hypot(b.east - a.east, b.north - a.north);
        let mut gaps = Vec::new();
        for (index, element) in self.elements.iter().enumerate() {
            let ends = element.at(element.length()).place;
            let stated = distance(ends, element.to());
            let next = self.elements.get(index + 1);
            let to_next = next.map_or(0.0, |next| distance(element.to(), next.from()));
            let distance = stated.max(to_next);
            if distance > tolerance {
                gaps.push(Gap {
                    element: index,
                    distance,
                });
            }
        }
        gaps
    }

    /// The first place where it crosses itself, in chords that lie no farther than `chord` from it.
    pub fn crosses_itself(&self, chord: f64) -> Option<Place> {
        let places = self.places(chord);
        let edges: Vec<Edge> = (places.windows(2))
            .map(|pair| Edge {
                from: pair[0],
                to: pair[1],
            })
            .collect();
        let mut found = None;
        crossing::each(&edges, |_, _, meeting| match meeting {
            Meeting::Cross(at) => {
                found = Some(at);
                false
            }
            Meeting::Touch(_) => true,
        });
        found
    }

    /// Places along it, so close that chords lie no farther than `chord` from it.
    pub fn places(&self, chord: f64) -> Vec<Place> {
        let mut places: Vec<Place> = Vec::new();
        // Where elements meet files round: there is one place, not two.
        let hair = (chord / 1000.0).min(1e-6);
        let apart = |a: Place, b: Place| libm::hypot(b.east - a.east, b.north - a.north);
        for element in &self.elements {
            let from = element.from();
            if places.last().is_none_or(|&last| apart(last, from) > hair) {
                places.push(from);
            }
            let steps = element.steps(chord);
            let step = element.length() / f64::from(steps);
            places.extend((1..steps).map(|i| element.at(step * f64::from(i)).place));
            places.push(element.to());
        }
        places
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    /// A straight of 30, a quarter turn to the left of radius 20, and a straight of 10.
    fn corner() -> Alignment {
        let [a, b, c, d] =
            [(0.0, 0.0), (30.0, 0.0), (50.0, 20.0), (50.0, 30.0)].map(|(e, n)| Place::new(e, n));
        let arc = Element::arc(b, c, Place::new(30.0, 20.0), Turn::Left);
        let elements = vec![Element::straight(a, b), arc, Element::straight(c, d)];
        Alignment::new("corner", elements, Chainage::from(0.0), None)
    }

    #[test]
    fn distances_run_over_elements() {
        let line = corner();
        let arc = 10.0 * std::f64::consts::PI;
        assert!((line.length() - (40.0 + arc)).abs() < 1e-12);
        let middle = line.at(30.0 + arc / 2.0).unwrap();
        let half = 20.0 * 0.5f64.sqrt();
        assert!((middle.place.east - (30.0 + half)).abs() < 1e-12);
        assert!((middle.place.north - (20.0 - half)).abs() < 1e-12);
        assert!((middle.direction - std::f64::consts::FRAC_PI_4).abs() < 1e-12);
        assert_eq!(line.at(-0.1), None);
        assert_eq!(line.at(line.length() + 0.1), None);
        assert_eq!(line.gaps(1e-9), []);
    }

    #[test]
    fn gaps_are_told() {
        let mut elements = corner().elements().to_vec();
        elements[2] = Element::straight(Place::new(50.0, 20.5), Place::new(50.0, 30.0));
        let line = Alignment::new("gap", elements, Chainage::from(0.0), None);
        let gaps = line.gaps(1e-6);
        assert_eq!((gaps.len(), gaps[0].element, gaps[0].distance), (1, 1, 0.5));
    }

    #[test]
    fn chords_keep_to_the_line() {
        let places = corner().places(0.01);
        for pair in places.windows(2) {
            let (e, n) = (
                (pair[0].east + pair[1].east) / 2.0,
                (pair[0].north + pair[1].north) / 2.0,
            );
            if e > 30.0 && n < 20.0 {
                let rise = 20.0 - (e - 30.0).hypot(n - 20.0);
                assert!((0.0..=0.010_001).contains(&rise), "{rise}");
            }
        }
    }
}
