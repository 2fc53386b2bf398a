//! Sums of volumes, of several measurements too, by how much they grow with the points of a surface.

use super::point_sums::place;
use super::{Accuracy, UncertaintyParts, parts_of};
use crate::surface::Surface;

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
