//! Cut and fill at many shifts, in one walk over the pieces.

use super::Shifted;
use crate::{Fold, Piece, Sum};

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
    /// For each shift what is above from there on: area, and integral of the difference.
    above: Vec<[Sum; 2]>,
    /// For each shift what is below up to the one before.
    below: Vec<[Sum; 2]>,
    /// For each shift cut and fill of pieces that are on both sides.
    across: Vec<[Sum; 2]>,
}

impl Summed {
    /// Cut and fill at each shift.
    pub(super) fn at(&self, shifts: &[f64]) -> Vec<Shifted> {
        let mut below = vec![[Sum::ZERO; 2]; shifts.len() + 1];
        for index in (0..shifts.len()).rev() {
            below[index] = below[index + 1];
            below[index][0] += self.below[index + 1][0];
            below[index][1] += self.below[index + 1][1];
        }
        let mut above = [Sum::ZERO; 2];
        let shifted = shifts.iter().enumerate().map(|(index, &shift)| {
            above[0] += self.above[index][0];
            above[1] += self.above[index][1];
            let moved = |[area, integral]: [Sum; 2]| integral.value() + shift * area.value();
            Shifted {
                shift,
                cut: self.fixed[0].value() + self.across[index][0].value() - moved(below[index]),
                fill: self.fixed[1].value() + self.across[index][1].value() + moved(above),
            }
        });
        shifted.collect()
    }
}

impl Fold for Curve<'_> {
    type Part = Summed;

    fn part(&self) -> Summed {
        let sums = vec![[Sum::ZERO; 2]; self.shifts.len() + 1];
        Summed {
            fixed: [Sum::ZERO; 2],
            above: sums.clone(),
            below: sums.clone(),
            across: sums,
        }
    }

    fn piece(&self, part: &mut Summed, piece: &Piece<'_>) {
        let (values, least, greatest) = piece
            .outline
            .values(|p| piece.surveyed.at(p) - piece.reference.at(p));
        let whole = piece.outline.integrate(&values);
        let sides = |shift: f64| {
            let above = piece.outline.integrate_above(&values, -shift);
            let fill = above.integral + shift * above.area;
            [fill - (whole.integral + shift * whole.area), fill]
        };
        // The zones do not overlap: a piece lies in one.
        if !piece
            .zones
            .first()
            .is_some_and(|&zone| self.moves[zone as usize])
        {
            let [cut, fill] = sides(0.0);
            part.fixed[0] += cut;
            part.fixed[1] += fill;
            return;
        }
        let below = self.after(|shift| greatest + shift <= 0.0, -greatest);
        let above = self.after(|shift| least + shift < 0.0, -least).max(below);
        part.below[below][0] += whole.area;
        part.below[below][1] += whole.integral;
        part.above[above][0] += whole.area;
        part.above[above][1] += whole.integral;
        for index in below..above {
            let [cut, fill] = sides(self.shifts[index]);
            part.across[index][0] += cut;
            part.across[index][1] += fill;
        }
    }

    fn join(&self, part: &mut Summed, next: Summed) {
        let add = |into: &mut [Sum; 2], more: [Sum; 2]| {
            into[0] += more[0];
            into[1] += more[1];
        };
        add(&mut part.fixed, next.fixed);
        for (into, more) in [
            (&mut part.above, next.above),
            (&mut part.below, next.below),
            (&mut part.across, next.across),
        ] {
            into.iter_mut()
                .zip(more)
                .for_each(|(into, more)| add(into, more));
        }
    }
}
