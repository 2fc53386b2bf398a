//! What a volume is converted by, hauled in and paid, as it is reported. Each figure carries its decimals.

use std::borrow::Cow;

use rust_decimal::Decimal;
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

/// One step of a conversion: what is had times or over a factor gives the amount.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct ConversionStep {
    /// What is had, and its state.
    pub from: String,
    /// How much of it.
    pub from_amount: Decimal,
    /// In which unit.
    pub from_unit: String,
    /// Times or over what.
    pub by: String,
    /// What that gives: a state, or a mass, or what a material is counted in.
    pub to: String,
    /// How much.
    pub amount: Decimal,
    /// In which unit.
    pub unit: String,
}

/// What something costs.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct Cost {
    /// How many units.
    pub quantity: Decimal,
    /// Units of what.
    pub per: String,
    /// What one costs.
    pub each: Decimal,
    /// What all of them cost.
    pub amount: Decimal,
}

/// Loads of a vehicle, whole ones.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct LoadsMade {
    /// The vehicle.
    pub vehicle: String,
    /// What limits a load: whatever asks for more of them binds.
    pub limits: Vec<LoadLimit>,
    /// The limit that binds: volume or mass.
    pub limited_by: Cow<'static, str>,
    /// How many, rounded up.
    pub count: Decimal,
}

/// A limit of a load.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct LoadLimit {
    /// By what: volume or mass.
    pub by: Cow<'static, str>,
    /// How what is measured becomes what is limited.
    pub conversion: Vec<ConversionStep>,
    /// The amount.
    pub amount: Decimal,
    /// In which unit.
    pub unit: String,
    /// What the vehicle takes of it.
    pub capacity: Decimal,
}
