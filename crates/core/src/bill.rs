//! The arithmetic of a bill: figures as they are agreed on, amounts, and what is off.

#![cfg_attr(not(test), warn(clippy::arithmetic_side_effects))]

use rust_decimal::{Decimal, RoundingStrategy};

use crate::Rounding;

/// Decimals of an amount of money.
pub const MONEY_DECIMALS: u32 = 2;

/// More than this is no figure of a bill: ten cubic kilometres.
const MOST: f64 = 1e10;

/// The decimal figure that a number is written as; none where it is no figure of a bill.
///
/// ```
/// use dapedon_core::decimal;
/// assert_eq!(decimal(0.1).unwrap().to_string(), "0.1");
/// assert_eq!(decimal(f64::NAN), None);
/// ```
pub fn decimal(value: f64) -> Option<Decimal> {
    let usable = value.is_finite() && value.abs() <= MOST;
    usable.then(|| value.to_string().parse().ok()).flatten()
}

/// The figure that a measured number stands for: to 13 digits, as what is beyond is the rounding of binary sums, so
/// that a half is a half however it was summed.
///
/// ```
/// use dapedon_core::{Rounding, measured_figure};
/// let figure = measured_figure(12.249_999_999_999_996).unwrap();
/// assert_eq!(Rounding(Some(1)).of(figure).to_string(), "12.3");
/// ```
pub fn measured_figure(value: f64) -> Option<Decimal> {
    decimal(value)?.round_sf_with_strategy(13, RoundingStrategy::MidpointAwayFromZero)
}

/// What a quantity comes to at a rate, to the hundredth, halves away from zero; none where it has more digits than
/// any bill.
///
/// ```
/// use dapedon_core::amount;
/// use rust_decimal::dec;
/// assert_eq!(amount(dec!(1234.5), dec!(3.85)), Some(dec!(4752.83)));
/// ```
pub fn amount(quantity: Decimal, rate: Decimal) -> Option<Decimal> {
    let exact = quantity.checked_mul(rate)?;
    Some(Rounding(Some(MONEY_DECIMALS)).of(exact))
}

/// What is expected of a quantity.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default)]
pub struct Expected {
    /// The contract quantity.
    pub contract: Option<Decimal>,
    /// By what share of it a quantity may be off.
    pub within: Option<Decimal>,
    /// It is to be no less than this.
    pub at_least: Option<Decimal>,
    /// It is to be no more than this.
    pub at_most: Option<Decimal>,
}

/// In what a quantity is not as expected.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Departure {
    /// It is less than it is to be at least.
    Less(Decimal),
    /// It is more than it is to be at most.
    More(Decimal),
    /// It is off the contract quantity by more than the share that is allowed.
    Off {
        /// The contract quantity.
        contract: Decimal,
        /// The share that is allowed.
        within: Decimal,
    },
}

impl Expected {
    /// In what a quantity is not as expected; none of it where it is. A quantity on the very limit is.
    ///
    /// ```
    /// use dapedon_core::{Departure, Expected};
    /// use rust_decimal::dec;
    /// let expected = Expected { contract: Some(dec!(200)), within: Some(dec!(0.1)), ..Expected::default() };
    /// assert_eq!(expected.departures(dec!(220)), []);
    /// let off = Departure::Off { contract: dec!(200), within: dec!(0.1) };
    /// assert_eq!(expected.departures(dec!(220.1)), [off]);
    /// ```
    pub fn departures(&self, quantity: Decimal) -> Vec<Departure> {
        let less = self.at_least.filter(|&least| quantity < least);
        let more = self.at_most.filter(|&most| quantity > most);
        let off = self.contract.zip(self.within).filter(|(contract, within)| {
            let apart = quantity.checked_sub(*contract).map(|apart| apart.abs());
            let allowed = contract.abs().checked_mul(*within);
            // What is too far off to be told is off.
            apart
                .zip(allowed)
                .is_none_or(|(apart, allowed)| apart > allowed)
        });
        let off = off.map(|(contract, within)| Departure::Off { contract, within });
        let found = [less.map(Departure::Less), more.map(Departure::More), off];
        found.into_iter().flatten().collect()
    }

    /// The quantity as a share of the contract quantity, where there is any.
    pub fn share(&self, quantity: Decimal) -> Option<Decimal> {
        quantity.checked_div(self.contract?)
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use rust_decimal::dec;

    #[test]
    fn halves_go_away_from_zero() {
        // 0.5 x 0.05 = 0.025, half a hundredth and two of them: binary arithmetic often gives 0.02.
        assert_eq!(amount(dec!(0.5), dec!(0.05)), Some(dec!(0.03)));
        assert_eq!(amount(dec!(-0.5), dec!(0.05)), Some(dec!(-0.03)));
        assert_eq!(amount(Decimal::MAX, dec!(2)), None);
    }

    #[test]
    fn a_number_is_the_figure_it_is_written_as() {
        assert_eq!(decimal(1e-7), Some(dec!(0.0000001)));
        assert_eq!(decimal(-3.0), Some(dec!(-3)));
        for none in [f64::INFINITY, 1e11, f64::NAN] {
            assert_eq!(decimal(none), None);
        }
    }

    #[test]
    fn a_quantity_is_off_beyond_its_limits_only() {
        let expected = Expected {
            contract: Some(dec!(0)),
            within: Some(dec!(0.05)),
            at_least: Some(dec!(1)),
            at_most: Some(dec!(3)),
        };
        let off = Departure::Off {
            contract: dec!(0),
            within: dec!(0.05),
        };
        assert_eq!(expected.departures(dec!(0)), [Departure::Less(dec!(1))]);
        assert_eq!(expected.departures(dec!(1)), [off]);
        assert_eq!(
            expected.departures(dec!(4)),
            [Departure::More(dec!(3)), off]
        );
        assert_eq!(expected.share(dec!(4)), None);
        assert!(Expected::default().departures(dec!(4)).is_empty());
    }
}
