//! Sums of volumes, of several measurements too, by how much they grow with the points of a surface.

use super::point_sums::{corners, place};
use super::{Accuracy, UncertaintyParts, parts_of};
use crate::plan::Place;
use crate::surface::{Plane, Surface, Vertex};

/// By how much a sum of volumes grows with the points of one surface: with the height of each, and with its place in east and in
/// north.
///
/// Sums of several measurements that share the surface are found by adding their weights: what one gains and another loses
/// cancels.
#[derive(Debug, Clone, Default, PartialEq)]
pub struct PointWeights {
    /// By the numbers of the points.
    points: Vec<(u32, [f64; 3])>,
}

impl PointWeights {
    /// Of points in any order, each once.
    pub(super) fn of(points: impl Iterator<Item = (u32, [f64; 3])>) -> Self {
        let mut points: Vec<_> = points.filter(|(_, gain)| *gain != [0.0; 3]).collect();
        points.sort_unstable_by_key(|(number, _)| *number);
        PointWeights { points }
    }

    /// Of points in any order, what is given more than once added up.
    pub(crate) fn summed(mut gains: Vec<(u32, [f64; 3])>) -> Self {
        gains.sort_by_key(|(number, _)| *number);
        let mut points: Vec<(u32, [f64; 3])> = Vec::new();
        for (number, gain) in gains {
            match points.last_mut() {
                Some((last, sum)) if *last == number => {
                    sum.iter_mut()
                        .zip(gain)
                        .for_each(|(sum, gain)| *sum += gain);
                }
                _ => points.push((number, gain)),
            }
        }
        PointWeights { points }
    }

    /// What counts so much with the height of a facet at a place, by the shares of its corners there; none of a level.
    pub(crate) fn at(
        surface: &Surface,
        facet: u32,
        at: Place,
        weight: f64,
    ) -> impl Iterator<Item = (u32, [f64; 3])> {
        let corners = corners(surface, facet);
        let gains = corners.map(|corners| {
            let vertices = corners.map(|(_, vertex)| vertex);
            let [a, b, c] = vertices;
            let plane = Plane::through(a, b, c);
            [0, 1, 2].map(|own| {
                // The share of a corner is the plane that is one there, and nothing at the others.
                let share = |corner: usize| Vertex {
                    height: if corner == own { 1.0 } else { 0.0 },
                    ..vertices[corner]
                };
                let weight = weight * Plane::through(share(0), share(1), share(2)).at(at);
                let slopes = [plane.slope_east, plane.slope_north];
                let gain = [weight, weight * slopes[0], weight * slopes[1]];
                (corners[own].0 as u32, gain)
            })
        });
        gains.into_iter().flatten()
    }

    /// By how much it grows with the height of each point.
    pub(crate) fn heights(&self) -> impl Iterator<Item = (u32, f64)> {
        self.points.iter().map(|(number, gain)| (*number, gain[0]))
    }

    /// True where nothing counts.
    pub fn is_empty(&self) -> bool {
        self.points.is_empty()
    }

    /// Adds those of another sum of volumes, so many times.
    pub fn add(&mut self, other: &PointWeights, times: f64) {
        let mut own = std::mem::take(&mut self.points).into_iter().peekable();
        let mut others = other.points.iter().peekable();
        loop {
            let (mut next, more) = match (own.peek(), others.peek()) {
                (Some((one, _)), Some((two, _))) if one == two => (own.next(), others.next()),
                (Some((one, _)), Some((two, _))) if one > two => (None, others.next()),
                (Some(_), _) => (own.next(), None),
                (None, Some(_)) => (None, others.next()),
                (None, None) => break,
            };
            if let Some((number, gain)) = more {
                let (_, sum) = next.get_or_insert((*number, [0.0; 3]));
                sum.iter_mut()
                    .zip(gain)
                    .for_each(|(sum, gain)| *sum += times * gain);
            }
            self.points.extend(next);
        }
    }

    /// What the points of the surface add to the uncertainty of the sum, where they are so accurate.
    pub fn parts(&self, surface: &Surface, accuracy: &Accuracy) -> UncertaintyParts {
        let gains = self.points.iter().map(|(_, gain)| *gain);
        let places = (self.points.iter()).map(|(number, _)| place(surface, *number));
        let mut all = [0.0; 3];
        for gain in gains.clone() {
            all.iter_mut()
                .zip(gain)
                .for_each(|(sum, gain)| *sum += gain);
        }
        parts_of(gains, places, all, accuracy)
    }
}
