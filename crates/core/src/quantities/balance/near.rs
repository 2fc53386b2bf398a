//! Cut and fill at any shift between two that are close.

use super::Shifted;
use crate::overlay::{Fold, Piece};
use crate::plan;
use crate::plan::Sum;

/// Sums what does not change sides between two shifts, and lists what does.
pub(super) struct Near<'n> {
    pub(super) between: [f64; 2],
    /// Which zones move.
    pub(super) moves: &'n [bool],
}

/// What was summed and listed.
pub(super) struct Gathered {
    fixed: [Sum; 2],
    above: [Sum; 2],
    below: [Sum; 2],
    /// Triangles by their area and the difference at their corners.
    across: Vec<(f64, [f64; 3])>,
}

impl Gathered {
    fn at(&self, shift: f64) -> Shifted {
        let moved = |[area, integral]: [Sum; 2]| integral.value() + shift * area.value();
        let (mut cut, mut fill) = (self.fixed[0], self.fixed[1]);
        cut += -moved(self.below);
        fill += moved(self.above);
        for (area, corners) in &self.across {
            let corners = corners.map(|value| value + shift);
            fill += area * mean_above(corners);
            cut += area * mean_above(corners.map(|value| -value));
        }
        Shifted {
            shift,
            cut: cut.value(),
            fill: fill.value(),
        }
    }

    /// The shift at which the surplus passes zero: halved until no number lies between.
    pub(super) fn passes_zero(&self, [mut low, mut high]: [f64; 2], yielded: f64) -> Shifted {
        loop {
            let middle = self.at((low + high) / 2.0);
            let surplus = middle.surplus(yielded);
            if surplus == 0.0 || middle.shift <= low || middle.shift >= high {
                return middle;
            }
            match surplus > 0.0 {
                true => low = middle.shift,
                false => high = middle.shift,
            }
        }
    }
}

/// The mean over a triangle of what a linear function is above zero, from its values at the corners.
///
/// Where one corner is above, the part above is a triangle similar in shares of its two sides, of mean a third
/// of that corner's value; where two are, it is the whole less such a part below.
fn mean_above(mut corners: [f64; 3]) -> f64 {
    corners.sort_by(f64::total_cmp);
    let [low, middle, high] = corners;
    if low >= 0.0 {
        (low + middle + high) / 3.0
    } else if high <= 0.0 {
        0.0
    } else if middle <= 0.0 {
        high / 3.0 * (high / (high - low)) * (high / (high - middle))
    } else {
        (low + middle + high) / 3.0 - low / 3.0 * (low / (low - middle)) * (low / (low - high))
    }
}

impl Fold for Near<'_> {
    type Part = Gathered;

    fn part(&self) -> Gathered {
        Gathered {
            fixed: [Sum::ZERO; 2],
            above: [Sum::ZERO; 2],
            below: [Sum::ZERO; 2],
            across: Vec::new(),
        }
    }

    #[inline(always)]
    fn piece(&self, part: &mut Gathered, piece: &Piece<'_>) {
        let (values, least, greatest) = piece
            .outline
            .values(|p| piece.surveyed.at(p) - piece.reference.at(p));
        let whole = piece.outline.integrate(&values);
        if !piece
            .zones
            .first()
            .is_some_and(|&zone| self.moves[zone as usize])
        {
            let above = piece.outline.integrate_above(&values, 0.0);
            part.fixed[0] += above.integral - whole.integral;
            part.fixed[1] += above.integral;
        } else if least + self.between[0] >= 0.0 {
            part.above[0] += whole.area;
            part.above[1] += whole.integral;
        } else if greatest + self.between[1] <= 0.0 {
            part.below[0] += whole.area;
            part.below[1] += whole.integral;
        } else {
            let corners = piece.outline.corners();
            part.across.extend((2..corners.len()).map(|i| {
                let area = plan::cross(corners[0], corners[i - 1], corners[i]) / 2.0;
                (area, [values[0], values[i - 1], values[i]])
            }));
        }
    }

    fn join(&self, part: &mut Gathered, next: Gathered) {
        for (into, more) in [
            (&mut part.fixed, next.fixed),
            (&mut part.above, next.above),
            (&mut part.below, next.below),
        ] {
            into[0] += more[0];
            into[1] += more[1];
        }
        part.across.extend(next.across);
    }
}
