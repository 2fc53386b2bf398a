//! Moments of a difference and of the ground it is over.

use super::Grouping;
use crate::overlay::{Fold, Piece};
use crate::plan::{Place, Sum, cross};

/// Integrals over the ground of a zone, of products of two linear functions at most.
#[derive(Debug, Clone, Copy, Default)]
pub(super) struct Moments {
    area: Sum,
    /// Of the difference, the easting and the northing.
    first: [Sum; 3],
    /// Of their products: difference by itself, by easting, by northing; easting by itself, by northing; northing by itself.
    second: [Sum; 6],
}

/// Which of the three functions each second moment is the product of.
const PRODUCTS: [[usize; 2]; 6] = [[0, 0], [0, 1], [0, 2], [1, 1], [1, 2], [2, 2]];

impl Moments {
    fn add(&mut self, other: &Moments) {
        self.area += other.area;
        let own = self.first.iter_mut().chain(&mut self.second);
        let others = other.first.iter().chain(&other.second);
        own.zip(others).for_each(|(own, other)| *own += *other);
    }

    /// Over a triangle the product of two linear functions has the integral A/12 (Σf Σg + Σfg), with sums over its corners.
    fn triangle(&mut self, area: f64, corners: &[[f64; 3]; 3]) {
        self.area += area;
        let sum = [0, 1, 2].map(|of| corners.iter().map(|corner| corner[of]).sum::<f64>());
        for (moment, sum) in self.first.iter_mut().zip(sum) {
            *moment += area / 3.0 * sum;
        }
        for (moment, [one, other]) in self.second.iter_mut().zip(PRODUCTS) {
            let products: f64 = corners.iter().map(|at| at[one] * at[other]).sum();
            *moment += area / 12.0 * (sum[one] * sum[other] + products);
        }
    }

    fn of(&self, sum: Sum) -> f64 {
        sum.value() / self.area.value()
    }

    pub(super) fn area(&self) -> f64 {
        self.area.value()
    }

    pub(super) fn mean(&self) -> f64 {
        self.of(self.first[0])
    }

    /// The second moment of two of the functions about their means.
    fn about_means(&self, product: usize) -> f64 {
        let [one, other] = PRODUCTS[product].map(|of| self.of(self.first[of]));
        self.of(self.second[product]) - one * other
    }

    pub(super) fn deviation(&self) -> f64 {
        self.about_means(0).max(0.0).sqrt()
    }

    pub(super) fn middle(&self) -> Place {
        Place::new(self.of(self.first[1]), self.of(self.first[2]))
    }

    /// Of easting by itself, by northing, and northing by itself.
    pub(super) fn of_places(&self) -> [f64; 3] {
        [3, 4, 5].map(|product| self.about_means(product))
    }

    /// Of the difference by easting and by northing.
    pub(super) fn of_difference_and_place(&self) -> [f64; 2] {
        [1, 2].map(|product| self.about_means(product))
    }
}

pub(super) struct MomentFold {
    pub(super) zones: usize,
    pub(super) grouping: Grouping,
}

impl Fold for MomentFold {
    type Part = Vec<Moments>;

    fn part(&self) -> Self::Part {
        vec![Moments::default(); self.zones]
    }

    fn piece(&self, part: &mut Self::Part, piece: &Piece<'_>) {
        let [first, rest @ ..] = piece.outline.corners() else {
            return;
        };
        let at = |place: Place| {
            let difference = piece.surveyed.at(place) - piece.reference.at(place);
            [difference, place.east, place.north]
        };
        for pair in rest.windows(2) {
            let area = cross(*first, pair[0], pair[1]) / 2.0;
            let corners = [at(*first), at(pair[0]), at(pair[1])];
            for &zone in self.grouping.of(piece.zones) {
                part[zone as usize].triangle(area, &corners);
            }
        }
    }

    fn join(&self, part: &mut Self::Part, next: Self::Part) {
        for (own, next) in part.iter_mut().zip(&next) {
            own.add(next);
        }
    }
}
