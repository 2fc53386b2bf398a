//! What a claim comes to as a whole, to date, and what of it is to be paid.

use rust_decimal::Decimal;
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use crate::{ContractError, amount, less, plain, plus};

/// The terms of payment of a contract.
#[derive(Debug, Clone, PartialEq, Eq, Default, Serialize, Deserialize, JsonSchema)]
pub struct ClaimTerms {
    /// The share of the gross amount that is kept back.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub retention: Option<Decimal>,
    /// The most that is kept back.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub retention_limit: Option<Decimal>,
    /// Whether materials on site are kept back from too.
    pub retention_on_materials: bool,
    /// The tax, as a share.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub tax: Option<Decimal>,
    /// What the tax is called.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub tax_name: Option<String>,
}

/// What a claim says besides its lines.
#[derive(Debug, Clone, PartialEq, Eq, Default)]
pub struct PeriodFacts {
    /// All work to date.
    pub work: Decimal,
    /// Materials on site to date.
    pub materials_on_site: Decimal,
    /// The factor that the work of this period is adjusted by.
    pub price_factor: Option<Decimal>,
    /// Retention that is released in this period.
    pub released: Decimal,
    /// Advances paid in this period.
    pub advance: Decimal,
    /// Advances recovered in this period.
    pub recovered: Decimal,
}

/// What a claim comes to, to date.
#[derive(Debug, Clone, PartialEq, Eq, Default, Serialize, Deserialize, JsonSchema)]
pub struct Valuation {
    /// All work, by its lines.
    pub work: Decimal,
    /// Materials on site.
    pub materials_on_site: Decimal,
    /// What prices were adjusted by.
    pub price_adjustment: Decimal,
    /// The sum of these three.
    pub gross: Decimal,
    /// What is kept back by the terms, before any release.
    pub retention: Decimal,
    /// What was released of it.
    pub retention_released: Decimal,
    /// What is still kept back.
    pub retention_held: Decimal,
    /// Advances that were paid.
    pub advance: Decimal,
    /// What was recovered of them.
    pub advance_recovered: Decimal,
    /// Gross less what is held, with advances that are not recovered: what is due to date.
    pub net: Decimal,
    /// What was due to date before this claim.
    pub previous: Decimal,
    /// What is due now, before tax.
    pub due: Decimal,
    /// The tax on it.
    pub tax: Decimal,
    /// What is to be paid now.
    pub payable: Decimal,
}

/// Why a claim does not come to anything.
#[derive(Debug, Clone, PartialEq, thiserror::Error)]
pub enum ValuationError {
    /// More is released than is kept back.
    #[error("{released} of the retention are released by now, and only {kept} were kept back")]
    Released {
        /// What is released to date.
        released: String,
        /// What is kept back.
        kept: String,
    },
    /// More is recovered than was advanced.
    #[error("{recovered} of advances are recovered by now, and only {advance} were paid")]
    Recovered {
        /// What is recovered to date.
        recovered: String,
        /// What was advanced.
        advance: String,
    },
    /// A figure is beyond any bill.
    #[error(transparent)]
    Figure(ContractError),
}

impl From<ContractError> for ValuationError {
    fn from(error: ContractError) -> Self {
        ValuationError::Figure(error)
    }
}

impl Valuation {
    /// What a claim comes to after an earlier valuation, as it was certified; after none, for the first.
    ///
    /// Prices are adjusted by the factor on what the work grew by since. Retention is a share of the gross to date, up to
    /// its limit.
    ///
    /// # Errors
    ///
    /// When more retention is released than was kept back, more is recovered than was advanced, or a figure has more
    /// digits than any bill.
    ///
    /// ```
    /// use dapedon_contract::{ClaimTerms, PeriodFacts, Valuation};
    /// use rust_decimal::dec;
    /// let terms = ClaimTerms { retention: Some(dec!(0.05)), tax: Some(dec!(0.2)), ..ClaimTerms::default() };
    /// let first = PeriodFacts { work: dec!(10000), ..PeriodFacts::default() };
    /// let first = Valuation::of(&terms, &Valuation::default(), &first).unwrap();
    /// assert_eq!([first.due, first.tax, first.payable], [dec!(9500), dec!(1900), dec!(11400)]);
    /// let second = PeriodFacts { work: dec!(16000), ..PeriodFacts::default() };
    /// assert_eq!(Valuation::of(&terms, &first, &second).unwrap().due, dec!(5700));
    /// ```
    pub fn of(
        terms: &ClaimTerms,
        before: &Valuation,
        period: &PeriodFacts,
    ) -> Result<Self, ValuationError> {
        let adjusted = match period.price_factor {
            None => Decimal::ZERO,
            Some(factor) => amount(less(period.work, before.work)?, less(factor, Decimal::ONE)?)?,
        };
        let price_adjustment = plus(before.price_adjustment, adjusted)?;
        let adjusted_work = plus(period.work, price_adjustment)?;
        let gross = plus(adjusted_work, period.materials_on_site)?;
        let base = match terms.retention_on_materials {
            true => gross,
            false => adjusted_work,
        };
        let share = terms.retention.unwrap_or_default();
        let by_share = amount(base.max(Decimal::ZERO), share)?;
        let retention = by_share.min(terms.retention_limit.unwrap_or(by_share));
        let retention_released = plus(before.retention_released, period.released)?;
        if retention_released > retention {
            return Err(ValuationError::Released {
                released: plain(retention_released),
                kept: plain(retention),
            });
        }
        let retention_held = less(retention, retention_released)?;
        let advance = plus(before.advance, period.advance)?;
        let advance_recovered = plus(before.advance_recovered, period.recovered)?;
        if advance_recovered > advance {
            return Err(ValuationError::Recovered {
                recovered: plain(advance_recovered),
                advance: plain(advance),
            });
        }
        let advanced = less(advance, advance_recovered)?;
        let net = plus(less(gross, retention_held)?, advanced)?;
        let due = less(net, before.net)?;
        let tax = amount(due, terms.tax.unwrap_or_default())?;
        Ok(Valuation {
            work: period.work,
            materials_on_site: period.materials_on_site,
            price_adjustment,
            gross,
            retention,
            retention_released,
            retention_held,
            advance,
            advance_recovered,
            net,
            previous: before.net,
            due,
            tax,
            payable: plus(due, tax)?,
        })
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;
    use rust_decimal::dec;

    fn money(most: i64) -> impl Strategy<Value = Decimal> {
        (0..most).prop_map(|cents| Decimal::new(cents, 2))
    }

    /// By hand: 12 000 of work and 2000 of materials; 5 % held of the work up to 550; a factor of 1.02 on this period.
    #[test]
    fn a_claim_is_worked_out_by_hand() {
        let terms = ClaimTerms {
            retention: Some(dec!(0.05)),
            retention_limit: Some(dec!(550)),
            retention_on_materials: false,
            tax: Some(dec!(0.1)),
            tax_name: None,
        };
        let first = PeriodFacts {
            work: dec!(8000),
            advance: dec!(1000),
            ..PeriodFacts::default()
        };
        let first = Valuation::of(&terms, &Valuation::default(), &first).unwrap();
        // 8000 - 400 + 1000.
        assert_eq!(first.net, dec!(8600));
        let second = PeriodFacts {
            work: dec!(12000),
            materials_on_site: dec!(2000),
            price_factor: Some(dec!(1.02)),
            recovered: dec!(250),
            released: dec!(50),
            ..PeriodFacts::default()
        };
        let second = Valuation::of(&terms, &first, &second).unwrap();
        // 4000 × 0.02 = 80; gross 14 080; 5 % of 12 080 is 604, no more than 550, of which 50 are released.
        assert_eq!(second.price_adjustment, dec!(80));
        assert_eq!(second.gross, dec!(14080));
        assert_eq!(second.retention_held, dec!(500));
        // 14 080 - 500 + 750 = 14 330; less 8600 is 5730; with a tenth of it 6303.
        assert_eq!(
            [second.net, second.due, second.tax, second.payable],
            [dec!(14330), dec!(5730), dec!(573), dec!(6303)]
        );
        let beyond = PeriodFacts {
            work: dec!(12000),
            released: dec!(501),
            ..PeriodFacts::default()
        };
        let error = Valuation::of(&terms, &second, &beyond).unwrap_err();
        assert!(matches!(error, ValuationError::Released { .. }), "{error}");
        let beyond = PeriodFacts {
            work: dec!(12000),
            recovered: dec!(750.01),
            ..PeriodFacts::default()
        };
        let error = Valuation::of(&terms, &second, &beyond).unwrap_err();
        assert!(matches!(error, ValuationError::Recovered { .. }), "{error}");
    }

    proptest! {
        /// All that was due over the months is what is due to date; held is never above the limit, nor below nothing.
        #[test]
        fn months_add_up(months in proptest::collection::vec((money(10_000_000), money(1_000_000), 900i64..1100), 1..10), share in 0i64..100, limit in money(500_000)) {
            let terms = ClaimTerms {
                retention: Some(Decimal::new(share, 3)),
                retention_limit: Some(limit),
                retention_on_materials: share % 2 == 0,
                tax: Some(dec!(0.19)),
                tax_name: None,
            };
            let mut before = Valuation::default();
            let (mut due, mut adjusted, mut work) = (Decimal::ZERO, Decimal::ZERO, Decimal::ZERO);
            for (done, on_site, factor) in months {
                work += done;
                let factor = Decimal::new(factor, 3);
                adjusted += amount(done, factor - Decimal::ONE).unwrap();
                let period = PeriodFacts { work, materials_on_site: on_site, price_factor: Some(factor), ..PeriodFacts::default() };
                let now = Valuation::of(&terms, &before, &period).unwrap();
                due += now.due;
                prop_assert_eq!(due, now.net);
                prop_assert_eq!(now.price_adjustment, adjusted);
                prop_assert!(now.retention_held >= Decimal::ZERO && now.retention_held <= limit);
                prop_assert_eq!(now.gross - now.retention_held, now.net);
                prop_assert_eq!(now.payable - now.tax, now.due);
                before = now;
            }
        }
    }
}
