//! Sums that do not lose what they add.

use std::ops::AddAssign;

/// A compensated sum: what rounding drops from the total is carried along and given back.
///
/// A. Neumaier, *Rundungsfehleranalyse einiger Verfahren zur Summation endlicher Summen*, ZAMM 54
/// (1974), algorithm IV.
///
/// ```
/// use dapedon_core::plan::Sum;
/// let mut sum = Sum::default();
/// for value in [1e16, 1.0, -1e16] {
///     sum += value;
/// }
/// assert_eq!(sum.value(), 1.0);
/// ```
#[derive(Debug, Clone, Copy, PartialEq, Default)]
pub struct Sum {
    total: f64,
    lost: f64,
}

impl Sum {
    pub(crate) const ZERO: Sum = Sum {
        total: 0.0,
        lost: 0.0,
    };

    /// The sum so far.
    pub fn value(self) -> f64 {
        self.total + self.lost
    }
}

impl AddAssign<f64> for Sum {
    #[inline]
    fn add_assign(&mut self, value: f64) {
        let total = self.total + value;
        self.lost += if self.total.abs() >= value.abs() {
            (self.total - total) + value
        } else {
            (value - total) + self.total
        };
        self.total = total;
    }
}

impl AddAssign<Sum> for Sum {
    #[inline]
    fn add_assign(&mut self, other: Sum) {
        *self += other.total;
        self.lost += other.lost;
    }
}
/// A sum that need not be exact, in four lanes.
#[inline(always)]
pub(crate) fn total(values: &[f64]) -> f64 {
    let (lanes, rest) = values.as_chunks::<4>();
    let lanes = lanes.iter().fold([0.0; 4], |mut sum, lane| {
        for (sum, value) in sum.iter_mut().zip(lane) {
            *sum += value;
        }
        sum
    });
    lanes.iter().chain(rest).sum()
}
