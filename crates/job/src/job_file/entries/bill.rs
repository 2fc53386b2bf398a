//! Materials, vehicles and items, as serde reads them.

use schemars::JsonSchema;
use serde::Deserialize;
use toml::Spanned;

use super::{Name, OneOrMany};

/// What becomes of a soil or rock when it is dug, hauled and placed.
#[derive(Debug, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields, rename_all = "kebab-case")]
pub(crate) struct MaterialEntry {
    /// From the bank to loose: a factor as 1.25, or a percentage as "25%".
    #[schemars(with = "Option<FigureEntry>")]
    pub(crate) swell: Option<Spanned<FigureEntry>>,
    /// From the bank to compacted: what a unit makes, as 0.9, or what it loses, as "10%".
    #[schemars(with = "Option<FigureEntry>")]
    pub(crate) shrink: Option<Spanned<FigureEntry>>,
    /// The mass of a unit of volume in the state it was found in, as { bank = 1.9 }; bank, loose or compacted.
    #[schemars(with = "Option<DensityEntry>")]
    pub(crate) density: Option<Spanned<DensityEntry>>,
    /// The vehicle that hauls it.
    #[schemars(with = "Option<String>")]
    pub(crate) vehicle: Option<Name>,
    /// What it costs to bring in what is short.
    #[schemars(with = "Option<PriceEntry>")]
    pub(crate) import: Option<Spanned<PriceEntry>>,
    /// What it costs to take away what is left over.
    #[schemars(with = "Option<PriceEntry>")]
    pub(crate) export: Option<Spanned<PriceEntry>>,
    /// What else it is counted in.
    #[serde(default)]
    #[schemars(with = "Vec<PackedEntry>")]
    pub(crate) counted: Vec<Spanned<PackedEntry>>,
}

/// A figure, or a percentage.
#[derive(Debug, Clone, Deserialize, JsonSchema)]
#[serde(untagged, expecting = "expected a number, or a text as in \"25%\"")]
pub(crate) enum FigureEntry {
    /// A figure.
    Number(f64),
    /// A percentage.
    Words(String),
}

impl FigureEntry {
    /// As it is written.
    pub(crate) fn text(&self) -> String {
        match self {
            FigureEntry::Number(number) => number.to_string(),
            FigureEntry::Words(words) => words.clone(),
        }
    }
}

/// A density.
#[derive(Debug, Clone, Deserialize, JsonSchema)]
#[serde(
    untagged,
    expecting = "expected a density in a state, as in { bank = 1.9 }"
)]
pub(crate) enum DensityEntry {
    /// In no state: refused.
    #[schemars(skip)]
    Bare(f64),
    /// In a state.
    Stated(StatedDensity),
}

/// A density in just one state.
#[derive(Debug, Clone, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields, rename_all = "kebab-case")]
pub(crate) struct StatedDensity {
    /// The mass of a unit of volume in the bank.
    pub(crate) bank: Option<f64>,
    /// The mass of a unit of loose volume.
    pub(crate) loose: Option<f64>,
    /// The mass of a unit of compacted volume.
    pub(crate) compacted: Option<f64>,
}

/// What a unit costs.
#[derive(Debug, Clone, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields, rename_all = "kebab-case")]
pub(crate) struct PriceEntry {
    /// What one costs, in the job's currency.
    pub(crate) cost: f64,
    /// One of what: bank, loose or compacted for a unit of volume in that state, t or ton for one of mass, load.
    pub(crate) per: String,
}

/// What a material is counted in besides volume and mass.
#[derive(Debug, Clone, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields, rename_all = "kebab-case")]
pub(crate) struct PackedEntry {
    /// The unit: bags, pallets.
    #[serde(rename = "in")]
    pub(crate) unit: String,
    /// The volume that one of them holds.
    pub(crate) holds: f64,
    /// The state of that volume.
    pub(crate) state: StateEntry,
    /// Only whole ones are to be had: the count is rounded up.
    #[serde(default)]
    pub(crate) whole: bool,
    /// What one of them costs, in the job's currency.
    pub(crate) cost: Option<f64>,
}

/// The state of a volume.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Deserialize, JsonSchema)]
#[serde(rename_all = "kebab-case")]
pub(crate) enum StateEntry {
    /// In the ground.
    Bank,
    /// In the truck or tipped.
    Loose,
    /// Rolled in place.
    Compacted,
}

/// A vehicle: what binds first limits a load.
#[derive(Debug, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields, rename_all = "kebab-case")]
pub(crate) struct VehicleEntry {
    /// The loose volume that it holds.
    #[schemars(with = "Option<f64>")]
    pub(crate) holds: Option<Spanned<f64>>,
    /// The mass that it carries.
    #[schemars(with = "Option<f64>")]
    pub(crate) carries: Option<Spanned<f64>>,
}

/// An item: one measured line of the bill.
#[derive(Debug, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields, rename_all = "kebab-case")]
pub(crate) struct ItemEntry {
    /// Its number in the bill.
    #[schemars(with = "String")]
    pub(crate) code: Name,
    /// The section of the bill it stands in.
    pub(crate) section: Option<String>,
    /// What is done.
    pub(crate) description: String,
    /// The unit it is paid in: m3, m2, ha and so on, t, loads, or what its material or layer is counted in.
    #[schemars(with = "String")]
    pub(crate) unit: Name,
    /// What counts.
    #[schemars(with = "CountsEntry")]
    pub(crate) counts: Spanned<CountsEntry>,
    /// The surface that is measured from.
    #[schemars(with = "Option<String>")]
    pub(crate) reference: Option<Name>,
    /// The surface that is measured to, or the only one.
    #[schemars(with = "Option<String>")]
    pub(crate) surveyed: Option<Name>,
    /// The zones it is limited to, a row each.
    #[schemars(with = "Option<OneOrMany>")]
    pub(crate) zones: Option<Spanned<OneOrMany>>,
    /// The plots it is measured by, a row each: what they leave out of the zones and count twice is told.
    #[schemars(with = "Option<OneOrMany>")]
    pub(crate) plots: Option<Spanned<OneOrMany>>,
    /// What a pile is taken to stand on [default: toe].
    #[schemars(with = "Option<BaseEntry>")]
    pub(crate) base: Option<Spanned<BaseEntry>>,
    /// Up to this level, for a capacity.
    #[schemars(with = "Option<f64>")]
    pub(crate) level: Option<Spanned<f64>>,
    /// The build-up of the layer, where several have one of that name.
    #[schemars(with = "Option<String>")]
    pub(crate) build_up: Option<Name>,
    /// The layer, of a build-up that the surveyed surface lies below.
    #[schemars(with = "Option<String>")]
    pub(crate) layer: Option<Name>,
    /// A quantity that is typed in.
    #[schemars(with = "Option<f64>")]
    pub(crate) quantity: Option<Spanned<f64>>,
    /// Why it is not measured.
    pub(crate) because: Option<String>,
    /// Differences up to this size count as unchanged.
    #[schemars(with = "Option<f64>")]
    pub(crate) tolerance: Option<Spanned<f64>>,
    /// What is dug or placed.
    #[schemars(with = "Option<String>")]
    pub(crate) material: Option<Name>,
    /// The state it is measured in [default: bank for cut, compacted for fill and layers, loose for piles].
    pub(crate) measured: Option<StateEntry>,
    /// The state it is paid in [default: the one it is measured in].
    pub(crate) pay: Option<StateEntry>,
    /// The vehicle that hauls it [default: the material's].
    #[schemars(with = "Option<String>")]
    pub(crate) vehicle: Option<Name>,
    /// What it means for the material on site [default: dug for cut, placed for fill and layers, else nothing].
    pub(crate) moves: Option<MovesEntry>,
    /// The quantity in the contract.
    #[schemars(with = "Option<f64>")]
    pub(crate) contract: Option<Spanned<f64>>,
    /// It is marked where it is off the contract quantity by a larger share, as "10%".
    #[schemars(with = "Option<String>")]
    pub(crate) within: Option<Name>,
    /// It is marked where it is less.
    #[schemars(with = "Option<f64>")]
    pub(crate) at_least: Option<Spanned<f64>>,
    /// It is marked where it is more.
    #[schemars(with = "Option<f64>")]
    pub(crate) at_most: Option<Spanned<f64>>,
    /// What a unit is paid, in the job's currency.
    #[schemars(with = "Option<f64>")]
    pub(crate) rate: Option<Spanned<f64>>,
    /// Decimals of the quantity [default: those of the report; 0 for loads and whole things].
    #[schemars(with = "Option<u8>", range(max = 6))]
    pub(crate) decimals: Option<Spanned<u8>>,
}

/// What counts.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Deserialize, JsonSchema)]
#[serde(rename_all = "kebab-case")]
pub(crate) enum CountsEntry {
    /// What was dug.
    Cut,
    /// What was placed.
    Fill,
    /// Fill less cut.
    Net,
    /// The plan area compared.
    Area,
    /// The plan area that was cut.
    CutArea,
    /// The plan area that was filled.
    FillArea,
    /// The area of the surveyed surface along its slope.
    SlopingArea,
    /// A layer of a build-up.
    Layer,
    /// What lies above its base, found from the heights along its outline.
    Pile,
    /// What a basin holds up to a level.
    Capacity,
    /// A quantity that is not measured.
    Typed,
}

/// What a pile is taken to stand on.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Deserialize, JsonSchema)]
#[serde(rename_all = "kebab-case")]
pub(crate) enum BaseEntry {
    /// A surface through the heights along its outline.
    Toe,
    /// The plane that fits them.
    Plane,
    /// A level at the lowest of them.
    Lowest,
    /// A level at their mean.
    Mean,
}

/// What an item means for the material on site.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Deserialize, JsonSchema)]
#[serde(rename_all = "kebab-case")]
pub(crate) enum MovesEntry {
    /// It is dug.
    Dug,
    /// It is placed.
    Placed,
    /// It is neither, or counted in another item.
    Nothing,
}
