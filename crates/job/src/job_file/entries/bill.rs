//! Materials, vehicles and items, as serde reads them.

use schemars::JsonSchema;
use serde::Deserialize;
use toml::Spanned;

use super::{DateEntry, Name, OneOrMany};

/// A soil or rock: its swell, shrink, density, vehicle and costs.
#[derive(Debug, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields, rename_all = "kebab-case")]
pub(crate) struct MaterialEntry {
    /// Swell factor: loose volume per bank volume, as 1.25; or the increase, as "25%".
    #[schemars(with = "Option<FigureEntry>")]
    pub(crate) swell: Option<Spanned<FigureEntry>>,
    /// Shrink factor: compacted volume per bank volume, as 0.9; or the loss, as "10%".
    #[schemars(with = "Option<FigureEntry>")]
    pub(crate) shrink: Option<Spanned<FigureEntry>>,
    /// Mass per unit of volume with its state, as in { bank = 1.9 }: bank, loose or compacted.
    #[schemars(with = "Option<DensityEntry>")]
    pub(crate) density: Option<Spanned<DensityEntry>>,
    /// How uncertain its factors are.
    #[schemars(with = "Option<FactorUncertaintyEntry>")]
    pub(crate) uncertainty: Option<Spanned<FactorUncertaintyEntry>>,
    /// Vehicle that hauls it.
    #[schemars(with = "Option<String>")]
    pub(crate) vehicle: Option<Name>,
    /// Cost of bringing in the shortfall.
    #[schemars(with = "Option<PriceEntry>")]
    pub(crate) import: Option<Spanned<PriceEntry>>,
    /// Cost of taking away the surplus.
    #[schemars(with = "Option<PriceEntry>")]
    pub(crate) export: Option<Spanned<PriceEntry>>,
    /// Further units to count it in.
    #[serde(default)]
    #[schemars(with = "Vec<PackedEntry>")]
    pub(crate) counted: Vec<Spanned<PackedEntry>>,
}

/// How uncertain the factors of a material are: standard uncertainties, in the terms of each factor.
#[derive(Debug, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields, rename_all = "kebab-case")]
pub(crate) struct FactorUncertaintyEntry {
    /// Of the swell, as 0.03; or in percent of the bank volume, as "3%".
    #[schemars(with = "Option<FigureEntry>")]
    pub(crate) swell: Option<Spanned<FigureEntry>>,
    /// Of the shrink, as 0.02; or in percent of the bank volume, as "2%".
    #[schemars(with = "Option<FigureEntry>")]
    pub(crate) shrink: Option<Spanned<FigureEntry>>,
    /// Of the density, in its unit; or in percent of it, as "4%".
    #[schemars(with = "Option<FigureEntry>")]
    pub(crate) density: Option<Spanned<FigureEntry>>,
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

/// A density, in exactly one state.
#[derive(Debug, Clone, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields, rename_all = "kebab-case")]
pub(crate) struct StatedDensity {
    /// Mass per unit of bank volume.
    pub(crate) bank: Option<f64>,
    /// Mass per unit of loose volume.
    pub(crate) loose: Option<f64>,
    /// Mass per unit of compacted volume.
    pub(crate) compacted: Option<f64>,
}

/// A cost per unit.
#[derive(Debug, Clone, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields, rename_all = "kebab-case")]
pub(crate) struct PriceEntry {
    /// Cost of one unit, in the job's currency.
    pub(crate) cost: f64,
    /// Unit of the cost: bank, loose or compacted for a volume in that state, t or ton for mass, or
    /// load.
    pub(crate) per: String,
}

/// A further unit of a material.
#[derive(Debug, Clone, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields, rename_all = "kebab-case")]
pub(crate) struct PackedEntry {
    /// Unit: bags, pallets.
    #[serde(rename = "in")]
    pub(crate) unit: String,
    /// Volume that one holds.
    pub(crate) holds: f64,
    /// State of that volume: bank, loose or compacted.
    pub(crate) state: StateEntry,
    /// Round the count up to whole ones.
    #[serde(default)]
    pub(crate) whole: bool,
    /// Cost of one, in the job's currency.
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

/// A vehicle. The limit that is reached first, volume or mass, sets the load.
#[derive(Debug, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields, rename_all = "kebab-case")]
pub(crate) struct VehicleEntry {
    /// Volume limit of a load, loose.
    #[schemars(with = "Option<f64>")]
    pub(crate) holds: Option<Spanned<f64>>,
    /// Mass limit of a load.
    #[schemars(with = "Option<f64>")]
    pub(crate) carries: Option<Spanned<f64>>,
}

/// An item: one measured line of the bill.
#[derive(Debug, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields, rename_all = "kebab-case")]
pub(crate) struct ItemEntry {
    /// Item number in the bill.
    #[schemars(with = "String")]
    pub(crate) code: Name,
    /// Section of the bill.
    pub(crate) section: Option<String>,
    /// Description of the work.
    pub(crate) description: String,
    /// Unit of the quantity: m3, m2, ha and so on, t, loads, or a unit that its material or layer
    /// is counted in.
    #[schemars(with = "String")]
    pub(crate) unit: Name,
    /// Quantity to measure: cut, fill, net, an area, a layer, a pile, a capacity, or typed.
    #[schemars(with = "MeasureEntry")]
    pub(crate) measure: Spanned<MeasureEntry>,
    /// Surface to measure from.
    #[schemars(with = "Option<String>")]
    pub(crate) reference: Option<Name>,
    /// Surface to measure to, or the only surface.
    #[schemars(with = "Option<String>")]
    pub(crate) surveyed: Option<Name>,
    /// Surveys of the work in time, from the first on, for progress. The last is the one measured to by default.
    #[schemars(with = "Option<Vec<String>>")]
    pub(crate) surveys: Option<Spanned<Vec<Name>>>,
    /// Design that the work is to reach, for the share done and what is left [default: the limit].
    #[schemars(with = "Option<String>")]
    pub(crate) design: Option<Name>,
    /// First day of the work [default: the day after that of the reference].
    #[schemars(with = "Option<DateEntry>")]
    pub(crate) started: Option<Spanned<DateEntry>>,
    /// Zones that limit it, with a row each.
    #[schemars(with = "Option<OneOrMany>")]
    pub(crate) zones: Option<Spanned<OneOrMany>>,
    /// Plots: parts of the zones with a row each. Gaps and overlaps between plots are listed.
    #[schemars(with = "Option<OneOrMany>")]
    pub(crate) plots: Option<Spanned<OneOrMany>>,
    /// Base of a pile: toe, plane, lowest, mean or a surface [default: toe].
    #[schemars(with = "Option<BaseEntry>")]
    pub(crate) base: Option<Spanned<BaseEntry>>,
    /// Level for a capacity.
    #[schemars(with = "Option<f64>")]
    pub(crate) level: Option<Spanned<f64>>,
    /// Build-up of the layer, if several have a layer of that name.
    #[schemars(with = "Option<String>")]
    pub(crate) build_up: Option<Name>,
    /// Layer to measure, of a build-up in the steps of the surveyed surface.
    #[schemars(with = "Option<String>")]
    pub(crate) layer: Option<Name>,
    /// Typed-in quantity.
    #[schemars(with = "Option<f64>")]
    pub(crate) quantity: Option<Spanned<f64>>,
    /// Reason for a typed-in quantity.
    pub(crate) reason: Option<String>,
    /// Height differences up to this size count as unchanged.
    #[schemars(with = "Option<f64>")]
    pub(crate) tolerance: Option<Spanned<f64>>,
    /// Bands of difference to report beside it, by their name.
    #[schemars(with = "Option<String>")]
    pub(crate) bands: Option<Name>,
    /// Sections along a line that cut, fill or net is computed from, in place of the volume between the surfaces.
    #[schemars(with = "Option<SectionsEntry>")]
    pub(crate) sections: Option<Spanned<SectionsEntry>>,
    /// Material that is dug or placed.
    #[schemars(with = "Option<String>")]
    pub(crate) material: Option<Name>,
    /// State in which it is measured [default: bank for cut, compacted for fill and layers, loose
    /// for piles].
    pub(crate) measured_state: Option<StateEntry>,
    /// State in which it is paid [default: the measured one].
    pub(crate) paid_state: Option<StateEntry>,
    /// Vehicle for loads [default: the material's].
    #[schemars(with = "Option<String>")]
    pub(crate) vehicle: Option<Name>,
    /// Effect on the material balance: dug, placed or nothing [default: dug for cut, placed for
    /// fill and layers, else nothing].
    pub(crate) moves: Option<MovesEntry>,
    /// Quantity in the contract.
    #[schemars(with = "Option<f64>")]
    pub(crate) contract: Option<Spanned<f64>>,
    /// Allowed difference from the contract quantity, as in "10%". The item fails if it is larger.
    #[schemars(with = "Option<String>")]
    pub(crate) within: Option<Name>,
    /// Lowest expected quantity. The item fails if it is less.
    #[schemars(with = "Option<f64>")]
    pub(crate) at_least: Option<Spanned<f64>>,
    /// Highest expected quantity. The item fails if it is more.
    #[schemars(with = "Option<f64>")]
    pub(crate) at_most: Option<Spanned<f64>>,
    /// Surface that work is paid up to. What is done beyond it, and what is left, is told.
    #[schemars(with = "Option<String>")]
    pub(crate) limit: Option<Name>,
    /// Height that is allowed beyond the limit.
    #[schemars(with = "Option<f64>")]
    pub(crate) limit_tolerance: Option<Spanned<f64>>,
    /// True where work within the tolerance beyond the limit is paid.
    #[schemars(with = "Option<bool>")]
    pub(crate) pay_tolerance: Option<Spanned<bool>>,
    /// Measure what the spacing of points leaves out, as part of the uncertainty.
    #[schemars(with = "Option<bool>")]
    pub(crate) between_points: Option<Spanned<bool>>,
    /// Find cut, fill or net in other ways too, beside the figure that counts.
    #[schemars(with = "Option<bool>")]
    pub(crate) second_opinion: Option<Spanned<bool>>,
    /// Quantities that others state: each is compared, and what would explain it is looked for.
    #[schemars(with = "Option<Vec<StatedEntry>>")]
    pub(crate) stated: Option<Spanned<Vec<StatedEntry>>>,
    /// Allowed difference of second opinions, as in "2%". The item fails if it is larger.
    #[schemars(with = "Option<String>")]
    pub(crate) agree_within: Option<Name>,
    /// Rate per unit, in the job's currency.
    #[schemars(with = "Option<f64>")]
    pub(crate) rate: Option<Spanned<f64>>,
    /// Decimals of the quantity [default: those of the report; 0 for loads and whole counts].
    #[schemars(with = "Option<u8>", range(max = 6))]
    pub(crate) decimals: Option<Spanned<u8>>,
}

/// A quantity that somebody else states.
#[derive(Debug, Clone, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields, rename_all = "kebab-case")]
pub(crate) struct StatedEntry {
    /// Who states it.
    pub(crate) by: String,
    /// The quantity, in the unit that the item is paid in.
    #[schemars(with = "f64")]
    pub(crate) quantity: Spanned<f64>,
}

/// Cross-sections that a volume is computed from.
#[derive(Debug, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields, rename_all = "kebab-case")]
pub(crate) struct SectionsEntry {
    /// Line to cut along.
    #[schemars(with = "String")]
    pub(crate) line: Name,
    /// Interval: sections at round chainages, at both ends, and where straights, arcs and spirals meet.
    pub(crate) every: f64,
    /// Leave out the places where straights, arcs and spirals meet.
    #[serde(default)]
    pub(crate) round_only: bool,
    /// First chainage, as in "0+120" [default: the start of the line].
    pub(crate) from: Option<String>,
    /// Last chainage [default: the end of the line].
    pub(crate) to: Option<String>,
    /// Width to each side of the line; without one, out to the edge of the item's zones.
    pub(crate) width: Option<f64>,
    /// Width to the left of the line.
    pub(crate) left: Option<f64>,
    /// Width to the right of the line.
    pub(crate) right: Option<f64>,
    /// Formula [default: average-end-area].
    #[serde(default)]
    pub(crate) rule: SectionRuleEntry,
    /// Correct for curves, by the path of the middle of each area.
    #[serde(default)]
    pub(crate) curve_correction: bool,
}

/// How a volume is computed from areas.
#[derive(Debug, Clone, Copy, Default, PartialEq, Eq, Deserialize, JsonSchema)]
#[serde(rename_all = "kebab-case")]
pub(crate) enum SectionRuleEntry {
    /// The mean of both end areas, times the distance.
    #[default]
    AverageEndArea,
    /// With the area in the middle of each stretch.
    Prismoidal,
}

/// Quantity to measure: cut, fill, net, an area, a layer, a pile, a capacity, or typed.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Deserialize, JsonSchema)]
#[serde(rename_all = "kebab-case")]
pub(crate) enum MeasureEntry {
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
