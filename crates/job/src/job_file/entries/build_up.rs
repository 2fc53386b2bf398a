//! Entries of build-ups and their layers.

use schemars::JsonSchema;
use serde::Deserialize;
use toml::Spanned;

use super::OneOrMany;

/// A build-up: layers over zones, from the top down.
#[derive(Debug, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields, rename_all = "kebab-case")]
pub(crate) struct BuildUpEntry {
    /// Zones of the build-up.
    #[schemars(with = "Option<OneOrMany>")]
    pub(crate) zones: Option<Spanned<OneOrMany>>,
    /// Layers, from the top down.
    #[schemars(with = "Vec<LayerEntry>")]
    pub(crate) layers: Vec<Spanned<LayerEntry>>,
}

/// A layer of a build-up.
#[derive(Debug, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields, rename_all = "kebab-case")]
pub(crate) struct LayerEntry {
    /// Name of the layer, usually its material.
    pub(crate) name: String,
    /// Thickness in the job's unit, or with a unit as in "150 mm".
    pub(crate) thickness: ThicknessEntry,
    /// Further units to count it in.
    #[serde(default)]
    pub(crate) counted: Vec<CountedEntry>,
}

/// A thickness.
#[derive(Debug, Clone, Deserialize, JsonSchema)]
#[serde(untagged, expecting = "expected a number, or a text as in \"150 mm\"")]
pub(crate) enum ThicknessEntry {
    /// In the job's unit.
    Number(f64),
    /// With a unit: mm, cm, m, in or ft.
    Words(String),
}

/// A further unit of a layer: from its volume, from the area that one covers, or from the volume
/// that one holds.
#[derive(Debug, Clone, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields, rename_all = "kebab-case")]
pub(crate) struct CountedEntry {
    /// Unit: tonnes, loads, rolls, pallets.
    #[serde(rename = "in")]
    pub(crate) unit: String,
    /// Count per unit of volume, as in 2.1 for tonnes.
    pub(crate) per_volume: Option<f64>,
    /// Area that one covers.
    pub(crate) covers: Option<f64>,
    /// Volume that one holds.
    pub(crate) holds: Option<f64>,
    /// Round the count up to whole ones, for each layer and zone.
    #[serde(default)]
    pub(crate) whole: bool,
    /// Cost of one, in the job's currency.
    pub(crate) cost: Option<f64>,
}
