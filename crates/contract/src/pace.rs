//! The pace of work, and how long what is left takes at it.

use rust_decimal::Decimal;

use crate::Rounding;

/// So much work, done in so many work days.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct Pace {
    /// What was done.
    pub quantity: Decimal,
    /// In how many work days.
    pub work_days: u32,
}

impl Pace {
    /// What was done in a work day on average; none where there was no work day.
    ///
    /// ```
    /// use dapedon_contract::{Pace, Rounding};
    /// use rust_decimal::dec;
    /// let pace = Pace { quantity: dec!(1250.0), work_days: 12 };
    /// assert_eq!(pace.in_a_day(Rounding(Some(1))), Some(dec!(104.2)));
    /// ```
    pub fn in_a_day(self, rounding: Rounding) -> Option<Decimal> {
        let rate = self.quantity.checked_div(Decimal::from(self.work_days))?;
        Some(rounding.of(rate))
    }

    /// How many work days some work takes at this pace; a day that is begun counts. None where the work stands still, or goes the other way.
    ///
    /// It is counted from the quantity and the days themselves, not from the rounded rate.
    ///
    /// ```
    /// use dapedon_contract::Pace;
    /// use rust_decimal::dec;
    /// let pace = Pace { quantity: dec!(1250), work_days: 12 };
    /// assert_eq!(pace.days_for(dec!(625)), Some(6));
    /// assert_eq!(pace.days_for(dec!(625.1)), Some(7));
    /// assert_eq!(pace.days_for(dec!(-1)), None);
    /// ```
    pub fn days_for(self, left: Decimal) -> Option<u32> {
        if left.is_zero() {
            return Some(0);
        }
        let days = left
            .checked_mul(Decimal::from(self.work_days))?
            .checked_div(self.quantity)?;
        let days = days.ceil();
        (days >= Decimal::ONE).then(|| days.try_into().ok())?
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;
    use rust_decimal::dec;

    #[test]
    fn without_days_or_work_there_is_no_pace() {
        let none = Pace {
            quantity: dec!(10),
            work_days: 0,
        };
        assert_eq!(none.in_a_day(Rounding(Some(1))), None);
        assert_eq!(none.days_for(dec!(5)), None);
        let still = Pace {
            quantity: Decimal::ZERO,
            work_days: 9,
        };
        assert_eq!(still.in_a_day(Rounding(Some(1))), Some(Decimal::ZERO));
        assert_eq!(still.days_for(dec!(5)), None);
        assert_eq!(still.days_for(Decimal::ZERO), Some(0));
        let most = Pace {
            quantity: dec!(0.000001),
            work_days: u32::MAX,
        };
        assert_eq!(most.days_for(Decimal::MAX), None);
        assert_eq!(most.days_for(dec!(9000000)), None);
    }

    proptest! {
        /// The days are enough, and one less is not: by whole numbers alone.
        #[test]
        fn the_days_are_enough_and_no_more(quantity in 1i64..1_000_000, days in 1u32..2000, left in 1i64..1_000_000) {
            let pace = Pace { quantity: Decimal::new(quantity, 1), work_days: days };
            let needed = i128::from(pace.days_for(Decimal::new(left, 1)).unwrap());
            let [quantity, days, left] = [i128::from(quantity), i128::from(days), i128::from(left)];
            prop_assert!(needed * quantity >= left * days);
            prop_assert!((needed - 1) * quantity < left * days);
        }

        /// What goes the other way, on both sides, takes as long.
        #[test]
        fn a_sign_on_both_changes_nothing(quantity in 1i64..1_000_000, days in 1u32..2000, left in 1i64..1_000_000) {
            let of = |sign: i64| Pace { quantity: Decimal::new(sign * quantity, 1), work_days: days }.days_for(Decimal::new(sign * left, 1));
            prop_assert_eq!(of(1), of(-1));
        }
    }
}
