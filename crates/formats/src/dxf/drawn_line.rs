//! Lines as they are drawn, with what of them is arcs.

use dapedon_core::alignment::{Element, Turn};
use dapedon_core::plan::Place;
use dapedon_core::surface::Vertex;

/// As far from its arc as a place may lie that is on it: what drawings round off, in their unit.
const ON_ARC: f64 = 1e-6;

/// A line of a drawing.
#[derive(Debug, Clone, Default, PartialEq)]
pub struct DrawnLine {
    /// The places along it, of its arcs those of their chords; the first again at the end where it is closed.
    pub places: Vec<Vertex>,
    /// Its arcs: the first and the last place of each.
    pub arcs: Vec<[usize; 2]>,
}

impl From<Vec<Vertex>> for DrawnLine {
    /// A line of straights alone.
    fn from(places: Vec<Vertex>) -> Self {
        DrawnLine {
            places,
            arcs: Vec::new(),
        }
    }
}

impl DrawnLine {
    /// The same line with its places put elsewhere.
    #[must_use]
    pub fn placed(&self, place: impl FnMut(Vertex) -> Vertex) -> Self {
        DrawnLine {
            places: self.places.iter().copied().map(place).collect(),
            arcs: self.arcs.clone(),
        }
    }

    /// Straights and arcs in their order, each with the height where it starts, and the height where the last one ends. What was an arc
    /// where it was drawn, and is none in plan, is its chords.
    pub fn elements(&self) -> (Vec<(Element, f64)>, Option<f64>) {
        let mut elements = Vec::new();
        let mut at = 0;
        let mut put = |element: Element, height: f64| {
            if element.length() > 0.0 {
                elements.push((element, height));
            }
        };
        while let Some([from, to]) = self.places.get(at..).and_then(|rest| rest.first_chunk()) {
            let starts = self.arcs.iter().find(|[first, _]| *first == at);
            let whole = starts.and_then(|&[first, last]| Some((self.arc(first, last)?, last)));
            match whole {
                Some((halves, last)) => {
                    for (half, height) in halves {
                        put(half, height);
                    }
                    at = last;
                }
                None => {
                    put(Element::straight(from.place(), to.place()), from.height);
                    at += 1;
                }
            }
        }
        (elements, self.places.last().map(|last| last.height))
    }

    /// The two halves of an arc, if its places are on one.
    fn arc(&self, first: usize, last: usize) -> Option<[(Element, f64); 2]> {
        let places = self.places.get(first..=last)?;
        // Three places that are well apart, also on a circle.
        let third = places.len() / 3;
        let [a, b, c] = [0, third, 2 * third].map(|index| places.get(index).map(|v| v.place()));
        let (a, b, c) = (a?, b?, c?);
        let (centre, turn) = about(a, b, c)?;
        let radius = libm::hypot(a.east - centre.east, a.north - centre.north);
        let is_on = |v: &Vertex| {
            let away = libm::hypot(v.east - centre.east, v.north - centre.north);
            (away - radius).abs() <= ON_ARC * radius.max(1.0)
        };
        if !places.iter().all(is_on) {
            return None;
        }
        let middle = places.get(places.len() / 2)?;
        let (start, end) = (places.first()?, places.last()?);
        let arc = |from: &Vertex, to: &Vertex| Element::arc(from.place(), to.place(), centre, turn);
        Some([
            (arc(start, middle), start.height),
            (arc(middle, end), middle.height),
        ])
    }
}

/// The centre of the circle through three places, and which way it is gone round; none where they are on a straight line.
fn about(a: Place, b: Place, c: Place) -> Option<(Place, Turn)> {
    let [(bx, by), (cx, cy)] = [b, c].map(|p| (p.east - a.east, p.north - a.north));
    let twice = 2.0 * (bx * cy - by * cx);
    let (bb, cc) = (bx * bx + by * by, cx * cx + cy * cy);
    let (east, north) = ((cy * bb - by * cc) / twice, (bx * cc - cx * bb) / twice);
    let turn = if twice > 0.0 { Turn::Left } else { Turn::Right };
    (east.is_finite() && north.is_finite())
        .then(|| (Place::new(a.east + east, a.north + north), turn))
}

#[cfg(test)]
mod tests {
    use super::super::arcs::{self, Chords};
    use super::*;
    use std::f64::consts::{PI, TAU};

    fn circle(sweep: f64) -> DrawnLine {
        let centre = Vertex::new(500.0, 300.0, 4.0);
        let places = arcs::arc(&Chords::default(), centre, 25.0, 0.3, sweep).unwrap();
        let arcs = vec![[0, places.len() - 1]];
        DrawnLine { places, arcs }
    }

    fn length(line: &DrawnLine) -> f64 {
        line.elements()
            .0
            .iter()
            .map(|(element, _)| element.length())
            .sum()
    }

    #[test]
    fn arcs_have_their_own_length() {
        for sweep in [0.1, -1.0, PI, -1.9 * PI, TAU] {
            assert!(
                (length(&circle(sweep)) - 25.0 * sweep.abs()).abs() < 1e-9,
                "{sweep}"
            );
        }
    }

    #[test]
    fn what_is_no_arc_in_plan_stays_chords() {
        let line = circle(2.0);
        let pressed = line.placed(|v| Vertex {
            north: v.north / 2.0,
            ..v
        });
        let (elements, _) = pressed.elements();
        assert_eq!(elements.len(), pressed.places.len() - 1);
        assert!(
            elements
                .iter()
                .all(|(element, _)| element.name() == "straight")
        );
        // Turned over it goes round the other way.
        let mirrored = line.placed(|v| Vertex { east: -v.east, ..v });
        let (elements, _) = mirrored.elements();
        assert_eq!(elements.len(), 2);
        assert!(
            elements
                .iter()
                .all(|(element, _)| element.curvature(0.0) < 0.0)
        );
    }

    #[test]
    fn an_octagon_is_no_circle() {
        let mut line = circle(TAU);
        line.arcs.clear();
        assert!(length(&line) < 25.0 * TAU - 1e-6);
    }
}
