//! What a line of a claim comes to, and what of it is due.

use rust_decimal::Decimal;
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use crate::{ContractError, amount, less, plus};

/// A quantity, and what it comes to.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Serialize, Deserialize, JsonSchema)]
pub struct LinePart {
    /// The quantity, in the unit of the line.
    pub quantity: Decimal,
    /// The amount of money.
    pub amount: Decimal,
}

/// What was claimed of a line before.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct ClaimedBefore {
    /// To date, as the earlier claim was issued.
    pub claimed: LinePart,
    /// The rate it had then.
    pub rate: Decimal,
    /// What was certified of it, to date; all of it where nothing else was.
    pub certified: Option<Decimal>,
}

/// What a line comes to.
#[derive(Debug, Clone, PartialEq, Eq, Default, Serialize, Deserialize, JsonSchema)]
pub struct LineWorth {
    /// To date.
    pub to_date: LinePart,
    /// As it was claimed before, to date.
    pub previous: LinePart,
    /// As it was certified before, to date; the same as claimed where nothing else was certified.
    pub certified: LinePart,
    /// What of the rest is what.
    pub parts: LineParts,
    /// To date less what was certified: the sum of the parts.
    pub due: LinePart,
}

/// The parts of what is due of a line.
#[derive(Debug, Clone, PartialEq, Eq, Default, Serialize, Deserialize, JsonSchema)]
pub struct LineParts {
    /// What was done in this period.
    pub period: LinePart,
    /// What earlier claims had wrong, a part for each correction.
    pub corrections: Vec<LinePart>,
    /// What was claimed before and not certified, and so is claimed again.
    pub not_certified: LinePart,
    /// What was claimed before at another rate; its quantity is zero.
    pub change_of_rate: LinePart,
}

impl LinePart {
    /// A quantity at a rate, its amount to the hundredth.
    ///
    /// # Errors
    ///
    /// When it has more digits than any bill; sums and differences likewise.
    pub fn at(quantity: Decimal, rate: Decimal) -> Result<Self, ContractError> {
        let amount = amount(quantity, rate)?;
        Ok(LinePart { quantity, amount })
    }

    /// Both less those of another part.
    ///
    /// # Errors
    ///
    /// When they have more digits than any bill.
    pub fn less(self, other: Self) -> Result<Self, ContractError> {
        Ok(LinePart {
            quantity: less(self.quantity, other.quantity)?,
            amount: less(self.amount, other.amount)?,
        })
    }
}

impl LineWorth {
    /// What a line comes to that is claimed to date at a rate, after earlier quantities were corrected by so much each.
    ///
    /// Each part is the difference of two amounts to the hundredth, one after the other from what was certified to what
    /// is claimed to date: so the parts add up to what is due, to the cent.
    ///
    /// # Errors
    ///
    /// When a figure has more digits than any bill.
    ///
    /// ```
    /// use dapedon_contract::{ClaimedBefore, LinePart, LineWorth};
    /// use rust_decimal::dec;
    /// // 100 m3 at 3.00 were claimed, and 90 certified; a resurvey finds that it were 104. Now it is 150 to date.
    /// let before = ClaimedBefore {
    ///     claimed: LinePart::at(dec!(100), dec!(3)).unwrap(),
    ///     rate: dec!(3),
    ///     certified: Some(dec!(90)),
    /// };
    /// let line = LineWorth::of(dec!(150), dec!(3), Some(before), &[dec!(4)]).unwrap();
    /// assert_eq!(line.parts.not_certified.amount, dec!(30));
    /// assert_eq!(line.parts.corrections[0].amount, dec!(12));
    /// assert_eq!(line.parts.period.amount, dec!(138));
    /// assert_eq!(line.due.amount, dec!(180));
    /// ```
    pub fn of(
        to_date: Decimal,
        rate: Decimal,
        before: Option<ClaimedBefore>,
        corrections: &[Decimal],
    ) -> Result<Self, ContractError> {
        // All quantities of a line are written with the same decimals.
        let before_this = before.iter().flat_map(|before| {
            let certified = before.certified.unwrap_or_default();
            [before.claimed.quantity.scale(), certified.scale()]
        });
        let scales = before_this.chain(corrections.iter().map(Decimal::scale));
        let scale = scales.fold(to_date.scale(), u32::max);
        let as_written = |quantity: Decimal| {
            let mut quantity = quantity;
            quantity.rescale(scale);
            quantity
        };
        let before = before.map(|before| ClaimedBefore {
            claimed: LinePart {
                quantity: as_written(before.claimed.quantity),
                ..before.claimed
            },
            certified: before.certified.map(as_written),
            ..before
        });
        let to_date = LinePart::at(as_written(to_date), rate)?;
        let nothing = LinePart::at(as_written(Decimal::ZERO), rate)?;
        let previous = before.map_or(nothing, |before| before.claimed);
        let certified = match before {
            Some(ClaimedBefore {
                rate,
                certified: Some(quantity),
                ..
            }) => LinePart::at(quantity, rate)?,
            _ => previous,
        };
        let not_certified = previous.less(certified)?;
        let mut reached = match before {
            Some(before) if before.rate != rate => LinePart::at(previous.quantity, rate)?,
            _ => previous,
        };
        let change_of_rate = reached.less(previous)?;
        let mut parts = Vec::new();
        for &by in corrections {
            let corrected = LinePart::at(plus(reached.quantity, by)?, rate)?;
            parts.push(corrected.less(reached)?);
            reached = corrected;
        }
        Ok(LineWorth {
            to_date,
            previous,
            certified,
            parts: LineParts {
                period: to_date.less(reached)?,
                corrections: parts,
                not_certified,
                change_of_rate,
            },
            due: to_date.less(certified)?,
        })
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;
    use rust_decimal::dec;

    fn quantity() -> impl Strategy<Value = Decimal> {
        (-10_000_000i64..100_000_000).prop_map(|units| Decimal::new(units, 1))
    }

    fn rate() -> impl Strategy<Value = Decimal> {
        (1i64..10_000_000).prop_map(|units| Decimal::new(units, 3))
    }

    proptest! {
        /// Whatever was claimed, certified, corrected and at which rates: the parts add up to what is due, to the cent, in
        /// quantities and in amounts.
        #[test]
        fn the_parts_add_up(to_date in quantity(), claimed in quantity(), certified in proptest::option::of(quantity()), rates in [rate(), rate()], corrections in proptest::collection::vec(quantity(), 0..4)) {
            let claimed = LinePart::at(claimed, rates[0]).unwrap();
            let before = ClaimedBefore { claimed, rate: rates[0], certified };
            let line = LineWorth::of(to_date, rates[1], Some(before), &corrections).unwrap();
            let parts = [line.parts.period, line.parts.not_certified, line.parts.change_of_rate];
            let parts = parts.iter().chain(&line.parts.corrections);
            let sum = parts.fold(LinePart::default(), |sum, part| LinePart {
                quantity: sum.quantity + part.quantity,
                amount: sum.amount + part.amount,
            });
            prop_assert_eq!(sum, line.due);
            prop_assert_eq!(line.certified.amount + line.due.amount, line.to_date.amount);
            prop_assert!(line.due.amount.scale() <= 2);
        }

        /// Claimed month by month and nothing disputed, all that was ever due is what it comes to to date: rounding neither
        /// gains nor loses a cent, however many months.
        #[test]
        fn months_add_up(quantities in proptest::collection::vec(quantity(), 1..12), rate in rate()) {
            let mut before = None;
            let mut due = Decimal::ZERO;
            for &to_date in &quantities {
                let line = LineWorth::of(to_date, rate, before, &[]).unwrap();
                due += line.due.amount;
                before = Some(ClaimedBefore { claimed: line.to_date, rate, certified: None });
            }
            prop_assert_eq!(due, amount(quantities[quantities.len() - 1], rate).unwrap());
        }
    }

    #[test]
    fn a_rate_that_changed_is_a_part_of_its_own() {
        let claimed = LinePart::at(dec!(10.5), dec!(2)).unwrap();
        let before = ClaimedBefore {
            claimed,
            rate: dec!(2),
            certified: None,
        };
        let line = LineWorth::of(dec!(12), dec!(2.5), Some(before), &[]).unwrap();
        // 10.5 × 0.5 = 5.25; (12 - 10.5) × 2.5 = 3.75; 12 × 2.5 - 21 = 9.
        let change = LinePart {
            quantity: dec!(0),
            amount: dec!(5.25),
        };
        assert_eq!(line.parts.change_of_rate, change);
        assert_eq!(line.parts.period.amount, dec!(3.75));
        assert_eq!(line.due.amount, dec!(9));
        let first = LineWorth::of(dec!(12), dec!(2.5), None, &[]).unwrap();
        assert_eq!(first.parts.period, first.to_date);
        assert_eq!(first.previous.amount.to_string(), "0.00");
        assert_eq!(line.to_date.quantity.to_string(), "12.0");
    }
}
