//! Cut and fill at many shifts, in one walk over the pieces.

use super::Shifted;
use crate::overlay::{Fold, Piece};
use crate::plan::{Place, Sum};

/// Sums cut and fill at each of some shifts.
pub(super) struct Curve<'c> {
    /// Ascending.
    pub(super) shifts: &'c [f64],
    /// Which zones move.
    pub(super) moves: &'c [bool],
}

impl Curve<'_> {
    /// How many shifts are below a bound: nearly evenly spread, they are guessed and then counted on.
    #[inline(always)]
    fn after(&self, is_below: impl Fn(f64) -> bool, bound: f64) -> usize {
        let [first, last] = [self.shifts[0], self.shifts[self.shifts.len() - 1]];
        let share = (bound - first) / (last - first);
        let mut count = ((share * self.shifts.len() as f64) as usize).min(self.shifts.len());
        while count > 0 && !is_below(self.shifts[count - 1]) {
            count -= 1;
        }
        while count < self.shifts.len() && is_below(self.shifts[count]) {
            count += 1;
        }
        count
    }
}

/// What was summed.
pub(super) struct Summed {
    /// Cut and fill of what does not move.
    fixed: [Sum; 2],
    /// All that moves: area, and integral of the difference.
    moving: [Sum; 2],
    /// For each shift what is above from there on: area, and integral of the difference.
    above: Vec<[Sum; 2]>,
    /// For each shift the fill of pieces that are on both sides.
    across: Vec<Sum>,
}

impl Summed {
    /// Cut and fill at each shift: the cut is the fill less the net.
    pub(super) fn at(&self, shifts: &[f64]) -> Vec<Shifted> {
        let mut above = [Sum::ZERO; 2];
        let shifted = shifts.iter().enumerate().map(|(index, &shift)| {
            above[0] += self.above[index][0];
            above[1] += self.above[index][1];
            let at = |[area, integral]: [Sum; 2]| {
                let mut sum = integral;
                sum += shift * area.value();
                sum
            };
            let mut fill = at(above);
            fill += self.across[index];
            let mut cut = fill;
            cut += -at(self.moving).value();
            // Rounding may leave a little less than nothing.
            let moved = [cut, fill].map(|sum| sum.value().max(0.0));
            Shifted {
                shift,
                cut: self.fixed[0].value() + moved[0],
                fill: self.fixed[1].value() + moved[1],
            }
        });
        shifted.collect()
    }
}

impl Fold for Curve<'_> {
    type Part = Summed;

    fn part(&self) -> Summed {
        let count = self.shifts.len() + 1;
        Summed {
            fixed: [Sum::ZERO; 2],
            moving: [Sum::ZERO; 2],
            above: vec![[Sum::ZERO; 2]; count],
            across: vec![Sum::ZERO; count],
        }
    }

    #[inline(always)]
    fn piece(&self, part: &mut Summed, piece: &Piece<'_>) {
        let difference = |p: Place| piece.surveyed.at(p) - piece.reference.at(p);
        let (values, least, greatest) = piece.outline.values(difference);
        let whole = piece.outline.integrate(&values);
        let fill = |shift: f64| {
            let above = piece.outline.integrate_above(&values, -shift);
            above.integral + shift * above.area
        };
        // The zones do not overlap: a piece lies in one.
        let moves = piece
            .zones
            .first()
            .is_some_and(|&zone| self.moves[zone as usize]);
        if !moves {
            let fill = fill(0.0);
            part.fixed[0] += fill - whole.integral;
            part.fixed[1] += fill;
            return;
        }
        part.moving[0] += whole.area;
        part.moving[1] += whole.integral;
        let first = self.after(|shift| least + shift < 0.0, -least);
        part.above[first][0] += whole.area;
        part.above[first][1] += whole.integral;
        let across = (0..first)
            .rev()
            .take_while(|&index| greatest + self.shifts[index] > 0.0);
        across.for_each(|index| part.across[index] += fill(self.shifts[index]));
    }

    fn join(&self, part: &mut Summed, next: Summed) {
        let add = |into: &mut [Sum; 2], more: [Sum; 2]| {
            into[0] += more[0];
            into[1] += more[1];
        };
        add(&mut part.fixed, next.fixed);
        add(&mut part.moving, next.moving);
        part.above
            .iter_mut()
            .zip(next.above)
            .for_each(|(into, more)| add(into, more));
        part.across
            .iter_mut()
            .zip(next.across)
            .for_each(|(into, more)| *into += more);
    }
}
