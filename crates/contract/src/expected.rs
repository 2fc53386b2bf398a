//! What is expected of a quantity, and in what it is not so.

use rust_decimal::Decimal;

use crate::plain;

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
    /// use dapedon_contract::{Departure, Expected};
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
            // A share too large for a decimal is off as well.
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

impl Departure {
    /// It in words, of a quantity in a unit.
    pub fn in_words(&self, quantity: Decimal, unit: &str) -> String {
        match self {
            Departure::Less(least) => {
                format!("below the lowest expected, {} {unit}", plain(*least))
            }
            Departure::More(most) => format!("above the highest expected, {} {unit}", plain(*most)),
            Departure::Off { contract, within } => {
                let allowed = percent(*within).map_or("allowed".into(), plain);
                let way = if quantity > *contract {
                    "above"
                } else {
                    "below"
                };
                let apart = quantity.checked_sub(*contract).map(|apart| apart.abs());
                let share = apart.and_then(|apart| apart.checked_div(contract.abs()));
                match share.and_then(percent) {
                    _ if contract.is_zero() => {
                        format!("{way} the contract quantity, which is zero")
                    }
                    Some(share) => {
                        let share = plain(share.round_dp(1));
                        format!("{share} % {way} the contract quantity, more than {allowed} %")
                    }
                    None => format!("{way} the contract quantity, many times over"),
                }
            }
        }
    }
}

/// A share in percent; none where it has more digits than can be reported.
fn percent(share: Decimal) -> Option<Decimal> {
    share.checked_mul(Decimal::ONE_HUNDRED)
}

#[cfg(test)]
mod tests {
    use super::*;
    use rust_decimal::dec;

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
