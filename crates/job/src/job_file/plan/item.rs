//! Materials, vehicles and items once every name in them is known.

use dapedon_contract::{Expected, LayerCount, Material, MaterialCount, Price, State};
use dapedon_core::units::{AreaUnit, VolumeUnit};
use rust_decimal::Decimal;

use crate::error::JobFileLine;
use crate::job_file::ItemKind;

use super::ProgressPlan;

/// How uncertain the factors of a material are: standard uncertainties as shares of the factors, none where it is not stated.
#[derive(Debug, Clone, Copy, Default)]
pub(crate) struct FactorUncertainty {
    pub(crate) swell: Option<f64>,
    pub(crate) shrink: Option<f64>,
    pub(crate) density: Option<f64>,
}

/// A material of the job.
#[derive(Debug, Clone)]
pub(crate) struct MaterialPlan {
    pub(crate) material: Material,
    pub(crate) uncertainty: FactorUncertainty,
    pub(crate) vehicle: Option<String>,
    pub(crate) import: Option<Price>,
    pub(crate) export: Option<Price>,
    pub(crate) packed: Vec<MaterialCount>,
}

/// A line of the bill.
#[derive(Debug, Clone)]
pub(crate) struct ItemPlan {
    pub(crate) code: String,
    pub(crate) section: String,
    pub(crate) description: String,
    pub(crate) unit: String,
    pub(crate) pays: PaidUnit,
    pub(crate) what: ItemKind,
    pub(crate) stuff: Option<ItemMaterial>,
    pub(crate) expected: Expected,
    /// How it is followed in time, where that is asked for.
    pub(crate) progress: Option<ProgressPlan>,
    pub(crate) rate: Option<Decimal>,
    /// Decimals of what is measured.
    pub(crate) decimals: u32,
    pub(crate) spot: JobFileLine,
}

/// What an item digs or places.
#[derive(Debug, Clone)]
pub(crate) struct ItemMaterial {
    pub(crate) material: String,
    pub(crate) measured: State,
    pub(crate) pay: State,
    pub(crate) vehicle: Option<String>,
    pub(crate) moves: MaterialUse,
}

/// What an item means for the material on site.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(crate) enum MaterialUse {
    Dug,
    Placed,
    Nothing,
}

/// What an item is paid by.
#[derive(Debug, Clone, PartialEq)]
pub(crate) enum PaidUnit {
    Volume(VolumeUnit),
    Area(AreaUnit),
    Mass,
    Loads,
    /// What its material is counted in.
    Packed(MaterialCount),
    /// What its layer is counted in.
    Counted(LayerCount),
    /// What was typed in.
    Typed,
}

/// Where an item counts: everywhere where neither is named.
#[derive(Debug, Clone, PartialEq, Eq, Hash, Default)]
pub(crate) struct MeasuredZones {
    pub(crate) zones: Vec<String>,
    pub(crate) plots: Vec<String>,
}

impl MeasuredZones {
    /// True where nothing limits it.
    pub(crate) fn is_everywhere(&self) -> bool {
        self.zones.is_empty() && self.plots.is_empty()
    }

    /// All names in it.
    pub(crate) fn names(&self) -> impl Iterator<Item = &String> {
        self.zones.iter().chain(&self.plots)
    }
}
