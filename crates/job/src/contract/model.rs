//! What a volume is converted by, hauled in and paid, as it is told.

use serde::{Deserialize, Serialize};

use crate::schema::Word;

/// One step of a conversion: what is had times or over a factor gives the amount.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct ConversionStep {
    /// What is had, and its state.
    pub from: String,
    /// How much of it.
    pub had: f64,
    /// In which unit.
    pub had_unit: String,
    /// Decimals of that.
    pub had_decimals: u32,
    /// Times or over what.
    pub by: String,
    /// What that gives: a state, or a mass, or what a material is counted in.
    pub to: String,
    /// How much.
    pub amount: f64,
    /// In which unit.
    pub unit: String,
    /// Decimals of the amount.
    pub decimals: u32,
}

/// What something costs.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct Cost {
    /// How many units.
    pub quantity: f64,
    /// Units of what.
    pub per: String,
    /// What one costs.
    pub each: f64,
    /// What all of them cost.
    pub amount: f64,
}

/// Loads of a vehicle, whole ones.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct LoadsMade {
    /// The vehicle.
    pub vehicle: String,
    /// What limits a load: whatever asks for more of them binds.
    pub limits: Vec<LoadLimit>,
    /// The limit that binds: volume or mass.
    pub binds: Word,
    /// How many, rounded up.
    pub count: f64,
}

/// A limit of a load.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct LoadLimit {
    /// By what: volume or mass.
    pub by: Word,
    /// How what is measured becomes what is limited.
    pub conversion: Vec<ConversionStep>,
    /// The amount.
    pub amount: f64,
    /// Decimals of that.
    pub decimals: u32,
    /// In which unit.
    pub unit: String,
    /// What the vehicle takes of it.
    pub takes: f64,
}
