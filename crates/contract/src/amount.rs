//! Figures as they are written, their sums, and amounts of money.

use rust_decimal::prelude::ToPrimitive;
use rust_decimal::{Decimal, RoundingStrategy};

use crate::{ContractError, Rounding};

/// Decimals of an amount of money.
pub const MONEY_DECIMALS: u32 = 2;

/// More than this is no figure of a bill: ten cubic kilometres.
const MOST: f64 = 1e10;

/// The decimal figure that a number is written as; none where it is no figure of a bill.
///
/// ```
/// use dapedon_contract::decimal;
/// assert_eq!(decimal(0.1).unwrap().to_string(), "0.1");
/// assert_eq!(decimal(f64::NAN), None);
/// ```
pub fn decimal(value: f64) -> Option<Decimal> {
    let usable = value.is_finite() && value.abs() <= MOST;
    usable.then(|| value.to_string().parse().ok()).flatten()
}

/// Decimals of a measured figure: a cubic millimetre to the cubic metre.
const MEASURED_DECIMALS: u32 = 9;

/// The figure that a measured number stands for: to 13 digits and no finer than a billionth, as what is beyond is the
/// rounding of binary sums, so that a half is a half however it was summed. The billionth is for what is left of heights
/// that are much larger than it: a sliver of 0.05 under heights of 10 has not 13 digits of its own.
///
/// ```
/// use dapedon_contract::{Rounding, measured_figure};
/// let to_a_tenth = |value| Rounding(Some(1)).of(measured_figure(value).unwrap()).to_string();
/// assert_eq!(to_a_tenth(12.249_999_999_999_996), "12.3");
/// assert_eq!(to_a_tenth(0.049_999_999_999_982), "0.1");
/// ```
pub fn measured_figure(value: f64) -> Option<Decimal> {
    let halves = RoundingStrategy::MidpointAwayFromZero;
    let figure = decimal(value)?.round_sf_with_strategy(13, halves)?;
    Some(figure.round_dp_with_strategy(MEASURED_DECIMALS, halves))
}

/// What a quantity comes to at a rate, to the hundredth, halves away from zero.
///
/// # Errors
///
/// When it has more digits than any bill; sums likewise.
///
/// ```
/// use dapedon_contract::amount;
/// use rust_decimal::dec;
/// assert_eq!(amount(dec!(1234.5), dec!(3.85)), Ok(dec!(4752.83)));
/// assert_eq!(amount(dec!(1234.5), dec!(4)).unwrap().to_string(), "4938.00");
/// ```
pub fn amount(quantity: Decimal, rate: Decimal) -> Result<Decimal, ContractError> {
    let figure = binary(quantity) * binary(rate);
    let exact = (quantity.checked_mul(rate)).ok_or(ContractError::Beyond { figure })?;
    Ok(Rounding(Some(MONEY_DECIMALS)).of(exact))
}

/// The sum of two figures.
///
/// # Errors
///
/// When it has more digits than any bill.
pub fn plus(a: Decimal, b: Decimal) -> Result<Decimal, ContractError> {
    let figure = binary(a) + binary(b);
    a.checked_add(b).ok_or(ContractError::Beyond { figure })
}

/// The difference of two figures.
///
/// # Errors
///
/// When it has more digits than any bill.
pub fn less(a: Decimal, b: Decimal) -> Result<Decimal, ContractError> {
    let figure = binary(a) - binary(b);
    a.checked_sub(b).ok_or(ContractError::Beyond { figure })
}

/// A figure without zeros at its end, as factors are reported.
pub fn plain(value: Decimal) -> String {
    value.normalize().to_string()
}

/// The binary number nearest to a figure, for a curve or a comparison: no figure of a contract comes from it.
pub fn binary(value: Decimal) -> f64 {
    // Every decimal has one.
    value.to_f64().unwrap_or(f64::NAN)
}

#[cfg(test)]
mod tests {
    use super::*;
    use rust_decimal::dec;

    #[test]
    fn halves_go_away_from_zero() {
        // 0.5 x 0.05 = 0.025, half a hundredth and two of them: binary arithmetic often gives 0.02.
        assert_eq!(amount(dec!(0.5), dec!(0.05)), Ok(dec!(0.03)));
        assert_eq!(amount(dec!(-0.5), dec!(0.05)), Ok(dec!(-0.03)));
        assert!(amount(Decimal::MAX, dec!(2)).is_err());
    }

    #[test]
    fn a_number_is_the_figure_it_is_written_as() {
        assert_eq!(decimal(1e-7), Some(dec!(0.0000001)));
        assert_eq!(decimal(-3.0), Some(dec!(-3)));
        for none in [f64::INFINITY, 1e11, f64::NAN] {
            assert_eq!(decimal(none), None);
        }
    }
}
