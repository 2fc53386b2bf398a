//! Materials, vehicles and items once every name in them is known.

use dapedon_contract::{Counted, Expected, Material, Packed, Price, State};
use dapedon_core::units::{AreaUnit, VolumeUnit};
use rust_decimal::Decimal;

use crate::error::Spot;
use crate::job_file::What;

/// A material of the job.
#[derive(Debug, Clone)]
pub(crate) struct MaterialPlan {
    pub(crate) material: Material,
    pub(crate) vehicle: Option<String>,
    pub(crate) import: Option<Price>,
    pub(crate) export: Option<Price>,
    pub(crate) packed: Vec<Packed>,
}

/// A line of the bill.
#[derive(Debug, Clone)]
pub(crate) struct ItemPlan {
    pub(crate) code: String,
    pub(crate) section: String,
    pub(crate) description: String,
    pub(crate) unit: String,
    pub(crate) pays: Pays,
    pub(crate) what: What,
    pub(crate) stuff: Option<Stuff>,
    pub(crate) expected: Expected,
    pub(crate) rate: Option<Decimal>,
    /// Decimals of what is measured.
    pub(crate) decimals: u32,
    pub(crate) spot: Spot,
}

/// What an item digs or places.
#[derive(Debug, Clone)]
pub(crate) struct Stuff {
    pub(crate) material: String,
    pub(crate) measured: State,
    pub(crate) pay: State,
    pub(crate) vehicle: Option<String>,
    pub(crate) moves: Moves,
}

/// What an item means for the material on site.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(crate) enum Moves {
    Dug,
    Placed,
    Nothing,
}

/// What an item is paid by.
#[derive(Debug, Clone, PartialEq)]
pub(crate) enum Pays {
    Volume(VolumeUnit),
    Area(AreaUnit),
    Mass,
    Loads,
    /// What its material is counted in.
    Packed(Packed),
    /// What its layer is counted in.
    Counted(Counted),
    /// What was typed in.
    Typed,
}

/// Where an item counts: everywhere where neither is named.
#[derive(Debug, Clone, PartialEq, Eq, Hash, Default)]
pub(crate) struct Ground {
    pub(crate) zones: Vec<String>,
    pub(crate) plots: Vec<String>,
}

impl Ground {
    /// True where nothing limits it.
    pub(crate) fn is_everywhere(&self) -> bool {
        self.zones.is_empty() && self.plots.is_empty()
    }

    /// All names in it.
    pub(crate) fn names(&self) -> impl Iterator<Item = &String> {
        self.zones.iter().chain(&self.plots)
    }
}
