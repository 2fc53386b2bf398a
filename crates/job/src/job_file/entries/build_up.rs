//! Entries of build-ups and their layers.

use schemars::JsonSchema;
use serde::Deserialize;
use toml::Spanned;

use super::OneOrMany;

/// A build-up: the layers over some zones, from the top down.
#[derive(Debug, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields, rename_all = "kebab-case")]
pub(crate) struct BuildUpEntry {
    /// The zones it covers.
    #[schemars(with = "Option<OneOrMany>")]
    pub(crate) zones: Option<Spanned<OneOrMany>>,
    /// Its layers, from the top down.
    #[schemars(with = "Vec<LayerEntry>")]
    pub(crate) layers: Vec<Spanned<LayerEntry>>,
}

/// A layer of a build-up.
#[derive(Debug, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields, rename_all = "kebab-case")]
pub(crate) struct LayerEntry {
    /// Its material.
    pub(crate) name: String,
    /// How thick it is, in the job's unit, or with a unit as in "150 mm".
    pub(crate) thickness: ThicknessEntry,
    /// What else it is counted in.
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

/// What a layer is counted in besides area and volume: by its volume, or by what area one of them covers or
/// what volume one of them holds.
#[derive(Debug, Clone, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields, rename_all = "kebab-case")]
pub(crate) struct CountedEntry {
    /// The unit: tonnes, loads, rolls, pallets.
    #[serde(rename = "in")]
    pub(crate) unit: String,
    /// How many there are to a unit of volume, as 2.1 tonnes.
    pub(crate) per_volume: Option<f64>,
    /// The area that one of them covers.
    pub(crate) covers: Option<f64>,
    /// The volume that one of them holds.
    pub(crate) holds: Option<f64>,
    /// Only whole ones are to be had: the count is rounded up for each layer and zone.
    #[serde(default)]
    pub(crate) whole: bool,
    /// What one of them costs, in the job's currency.
    pub(crate) cost: Option<f64>,
}
