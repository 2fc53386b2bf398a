//! # dapedon-contract
//!
//! The arithmetic of earthwork contracts: what a volume becomes when it is dug, hauled and placed ([`Material`]), the
//! loads that it makes ([`Vehicle`]), what it is paid ([`amount()`]), and whether that is what was [`Expected`]. It is
//! decimal from the moment a figure is written, and each [`ConversionStep`] can be followed by hand.

#![cfg_attr(not(test), warn(clippy::arithmetic_side_effects))]

mod amount;
mod claim;
mod error;
mod expected;
mod haulage;
mod material;
mod pace;
mod price;
mod results;
mod steps;

pub use amount::{MONEY_DECIMALS, amount, binary, decimal, less, measured_figure, plain, plus};
pub use claim::{
    ClaimTerms, ClaimedBefore, LinePart, LineParts, LineWorth, PeriodFacts, Valuation,
    ValuationError,
};
pub use error::ContractError;
pub use expected::{Departure, Expected};
pub use haulage::{LoadLimitedBy, Loads, Movement, Vehicle};
pub use material::{
    Bank, Compacted, Conversion, ConversionError, Density, Earth, Factor, FactorStep, Loose, Mass,
    Material, MaterialError, Missing, Rounding, Shrink, State, Swell,
};
pub use pace::Pace;
pub use price::{CountedBy, LayerCount, MaterialCount, Per, Price};
pub use results::{ConversionStep, Cost, LoadLimit, LoadsMade};
pub use steps::FactorUnits;

/// The examples of the page that introduces the crate.
#[cfg(doctest)]
#[doc = include_str!("../README.md")]
struct Readme;
