//! What is paid for one of something, and what materials and layers are counted in.

use rust_decimal::Decimal;

use crate::State;

/// What a unit costs.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct Price {
    /// What one costs.
    pub cost: Decimal,
    /// One of what.
    pub per: Per,
}

/// What a price is for one of.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Per {
    /// A unit of volume in a state.
    Volume(State),
    /// A unit of mass.
    Mass,
    /// A load.
    Load,
}

/// What a material is counted in.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct MaterialCount {
    /// The unit.
    pub unit: String,
    /// The volume that one of them holds.
    pub holds: Decimal,
    /// The state of that volume.
    pub state: State,
    /// Only whole ones are available.
    pub whole: bool,
    /// What one of them costs.
    pub cost: Option<Decimal>,
}

/// What a layer is counted in.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct LayerCount {
    /// The unit.
    pub unit: String,
    /// How they are counted.
    pub by: CountedBy,
    /// Only whole ones are available.
    pub whole: bool,
    /// What one of them costs.
    pub cost: Option<Decimal>,
}

/// How a layer is counted: by the volume unit of the factors, and squares of the length unit, whatever it is reported
/// in.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum CountedBy {
    /// So many to a unit of volume.
    PerVolume(Decimal),
    /// One covers so much area.
    Covers(Decimal),
    /// One holds so much volume.
    Holds(Decimal),
}
