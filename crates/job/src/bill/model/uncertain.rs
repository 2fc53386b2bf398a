//! How uncertain an item is, and by which factors.

use dapedon_contract::{Factor, binary};
use rust_decimal::Decimal;
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use crate::accuracy::COVERAGE_FACTOR;
use crate::job_file::FactorUncertainty;
use crate::quantities::UncertaintyOf;

/// How uncertain an item is: standard uncertainties, from the accuracy of both surfaces. Factors and rates count as exact.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, JsonSchema)]
#[non_exhaustive]
pub struct ItemUncertainty {
    /// How many standard uncertainties are shown with ±.
    pub coverage_factor: f64,
    /// Of what is measured, in its unit.
    pub measured: f64,
    /// Of what is paid, in its unit.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub quantity: Option<f64>,
    /// Of the amount.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub amount: Option<f64>,
    /// Of the amount, as far as it comes from the surfaces.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub amount_from_surfaces: Option<f64>,
    /// What makes it, as volumes.
    pub from: UncertaintyOf,
    /// The uncertain factors that what is paid follows by.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub factors: Vec<FactorOfItem>,
}

/// A factor of a material.
#[derive(
    Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize, JsonSchema,
)]
#[serde(rename_all = "snake_case")]
pub enum FactorName {
    /// Loose volume for a unit in the bank.
    Swell,
    /// Compacted volume for a unit in the bank.
    Shrink,
    /// Mass of a unit of volume.
    Density,
}

impl FactorName {
    /// The factor in a word.
    pub fn words(self) -> &'static str {
        match self {
            FactorName::Swell => "swell",
            FactorName::Shrink => "shrink",
            FactorName::Density => "density",
        }
    }
}

/// An uncertain factor that what is paid follows by.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct FactorOfItem {
    /// The material.
    pub material: String,
    /// The factor.
    pub factor: FactorName,
    /// Its standard uncertainty as a share of it: below zero where what is paid is divided by it.
    pub share: f64,
}

impl FactorOfItem {
    /// The uncertain ones among those that were used.
    pub(crate) fn all(material: &str, known: &FactorUncertainty, used: &[Factor]) -> Vec<Self> {
        let own = |factor: &Factor| {
            let (factor, share) = match factor {
                Factor::TimesSwell(_) => (FactorName::Swell, known.swell?),
                Factor::OverSwell(_) => (FactorName::Swell, -known.swell?),
                Factor::TimesShrink(_) => (FactorName::Shrink, known.shrink?),
                Factor::OverShrink(_) => (FactorName::Shrink, -known.shrink?),
                Factor::TimesDensity(_) => (FactorName::Density, known.density?),
            };
            Some(FactorOfItem {
                material: material.to_owned(),
                factor,
                share,
            })
        };
        used.iter().filter_map(own).collect()
    }
}

impl ItemUncertainty {
    /// From that of what is measured: what is paid follows from it by factors.
    pub(crate) fn of(
        of_measured: f64,
        [measured, paid]: [Decimal; 2],
        rate: Option<Decimal>,
        from: UncertaintyOf,
        factors: Vec<FactorOfItem>,
    ) -> Self {
        let factor = paid.checked_div(measured).map(binary);
        let from_surfaces = factor.map(|factor| of_measured * factor.abs());
        let shares = factors.iter().map(|own| own.share * own.share);
        let by_factors = binary(paid).abs() * shares.sum::<f64>().sqrt();
        let quantity = from_surfaces.map(|own| libm::hypot(own, by_factors));
        let of_amount = |of: Option<f64>| Some(of? * binary(rate?).abs());
        ItemUncertainty {
            coverage_factor: COVERAGE_FACTOR,
            measured: of_measured,
            quantity,
            amount: of_amount(quantity),
            amount_from_surfaces: of_amount(from_surfaces),
            from,
            factors,
        }
    }
}
