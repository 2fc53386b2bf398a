//! A measured bill, in the units it is reported in: the object that `--json` prints and every output shows.

mod to_limit;
mod uncertain;

use super::conformity::BillConformity;
use super::untouched::BillUntouched;
use crate::figure::{Area, Length};
use crate::finding::Finding;
use crate::input::InputFile;
use crate::job_file::JobFacts;
use crate::quantities::ConformityVerdict;
use crate::quantities::{Bands, SecondOpinions, SectionVolumes, ZoneMeasurement};
use crate::schema::{Schema, Word};
use crate::surfaces::SurfaceFacts;
use crate::units::{ReportUnits, volume_code};
use dapedon_contract::{ConversionStep, Cost, LoadsMade};
use dapedon_core::units::VolumeUnit;
use jiff::civil::Date;
use rust_decimal::Decimal;
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};
pub use to_limit::{FarthestBeyond, LimitFacts, ToLimit, WorkToLimit};
pub use uncertain::{FactorName, FactorOfItem, ItemUncertainty};

/// The items of a job, measured.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, JsonSchema)]
#[non_exhaustive]
pub struct Bill {
    /// The command: `measure`.
    pub command: Word,
    /// The version of its schema.
    pub schema: Schema,
    /// The job.
    pub job: JobFacts,
    /// The units of figures, those of items aside.
    pub units: ReportUnits,
    /// The unit of volume that densities, vehicles and prices are to one of, and volumes of materials are in.
    #[serde(with = "volume_code")]
    #[schemars(with = "String")]
    pub factor_volume_unit: VolumeUnit,
    /// The unit of masses.
    pub mass_unit: Word,
    /// The currency of rates, costs and amounts.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub currency: Option<String>,
    /// The sections, in the order of the bill.
    pub sections: Vec<BillSection>,
    /// The sum of all amounts, where any item has a rate.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub amount: Option<Decimal>,
    /// How uncertain the sum of the amounts is that are known to be.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub amount_uncertainty: Option<AmountUncertainty>,
    /// The factors of the materials that items dig, haul or place.
    pub materials: Vec<MaterialFacts>,
    /// The vehicles that haul them.
    pub vehicles: Vec<VehicleFacts>,
    /// What is dug and placed of each material, where all items were measured.
    pub material_balance: Vec<MaterialBalance>,
    /// Surveys that were compared on ground that nobody touched, where all items were measured.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub untouched: Vec<BillUntouched>,
    /// Built surfaces that were held against their designs, where all items were measured.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub conformity: Vec<BillConformity>,
    /// The overlays that were made, each once.
    pub overlays: Vec<SurfacePair>,
    /// The surfaces that were measured, each once.
    pub surfaces: Vec<SurfaceFacts>,
    /// The files the zones come from.
    pub zone_files: Vec<InputFile>,
    /// The files of lines that sections stand along.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub line_files: Vec<InputFile>,
    /// What the reader must know before trusting a figure.
    pub warnings: Vec<Finding>,
}

/// The factors of a material.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct MaterialFacts {
    /// The material.
    pub material: String,
    /// Loose volume for a unit in the bank.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub swell: Option<Decimal>,
    /// Compacted volume for a unit in the bank.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub shrink: Option<Decimal>,
    /// The mass of a unit of volume.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub density: Option<Decimal>,
    /// The state of that volume.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub density_state: Option<Word>,
    /// How uncertain the swell is: a standard uncertainty, as those of the others.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub swell_uncertainty: Option<f64>,
    /// How uncertain the shrink is.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub shrink_uncertainty: Option<f64>,
    /// How uncertain the density is.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub density_uncertainty: Option<f64>,
    /// The vehicle that hauls it.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub vehicle: Option<String>,
}

/// What a vehicle takes.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct VehicleFacts {
    /// The vehicle.
    pub vehicle: String,
    /// The loose volume that it holds.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub holds: Option<Decimal>,
    /// The mass that it carries.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub carries: Option<Decimal>,
}

/// A section of the bill.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, JsonSchema)]
#[non_exhaustive]
pub struct BillSection {
    /// Its name; empty for items in none.
    pub section: String,
    /// Its items.
    pub items: Vec<BillItem>,
    /// The sum of their amounts, where any has a rate.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub amount: Option<Decimal>,
}

/// One measured line of the bill.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, JsonSchema)]
#[non_exhaustive]
pub struct BillItem {
    /// Its number in the bill.
    pub code: String,
    /// What is done.
    pub description: String,
    /// What counts, in words.
    pub measure: String,
    /// The surface that is measured from.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub reference: Option<String>,
    /// The surface that is measured to, or the only one.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub surveyed: Option<String>,
    /// Differences up to this size count as unchanged.
    pub tolerance: Length,
    /// Why the quantity is typed in.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub reason: Option<String>,
    /// What was measured, a row for each zone, plot, pile or layer.
    pub rows: Vec<ItemRow>,
    /// Ground in several of the rows: taken off again as often as it counts too much.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub counted_twice: Vec<ItemRow>,
    /// Ground in none of the plots, which does not count.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub outside_plots: Option<ItemRow>,
    /// All that was measured in the rows, where there are several; what is shared counts once.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub total: Option<ZoneMeasurement>,
    /// Where it is computed from sections: what they come to, beside the volume between the surfaces.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub by_sections: Option<ItemSections>,
    /// The limit that it is paid up to.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub limit: Option<LimitFacts>,
    /// What was done to the limit, in all rows; what is shared counts once.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub to_limit: Option<ToLimit>,
    /// Its ground by how much it differs, where that was asked for.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub bands: Option<Bands>,
    /// How uncertain it is, where it is known how accurate both surfaces are.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub uncertainty: Option<ItemUncertainty>,
    /// The same found in other ways, and quantities that others state, where that was asked for.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub second_opinions: Option<SecondOpinions>,
    /// The sum of the rows, unrounded; what is shared counts once.
    pub unrounded: f64,
    /// The sum of the rows as they are written.
    pub measured: Decimal,
    /// The unit of the rows and of what is measured.
    pub measured_unit: String,
    /// What is dug or placed.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub material: Option<String>,
    /// The state it is measured in.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub state: Option<Word>,
    /// From what is measured to what is paid, step by step, each rounded.
    pub conversion: Vec<ConversionStep>,
    /// The volume of the material, in that state.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub volume: Option<Decimal>,
    /// The loads that it makes.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub loads: Option<LoadsMade>,
    /// What else it is counted in.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub further_counts: Vec<FurtherCount>,
    /// What is paid.
    pub quantity: Decimal,
    /// Its unit.
    pub unit: String,
    /// What a unit is paid.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub rate: Option<Decimal>,
    /// Quantity times rate.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub amount: Option<Decimal>,
    /// The quantity in the contract.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub contract: Option<Decimal>,
    /// The quantity as a share of that.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub share_of_contract: Option<f64>,
    /// In what it is not as expected.
    pub findings: Vec<Finding>,
    /// What was done on the way.
    pub notes: Vec<String>,
    /// What must be known before it is trusted.
    pub warnings: Vec<Finding>,
    /// The line of the job file it stands in.
    pub job_file_line: usize,
}

/// How uncertain the sum of some amounts is. Errors of a survey that several items share count in all of them at once.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, JsonSchema)]
#[non_exhaustive]
pub struct AmountUncertainty {
    /// How many standard uncertainties are shown with ±.
    pub coverage_factor: f64,
    /// The sum of the amounts whose uncertainty is known.
    pub amount: Decimal,
    /// Its standard uncertainty.
    pub standard: f64,
}

/// What the sections of an item come to.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct ItemSections {
    /// The line they stand along.
    pub line: String,
    /// Their interval, width and formula, in words.
    pub rules: String,
    /// How many they are.
    pub sections: usize,
    /// The volumes from their areas.
    pub volume: SectionVolumes,
    /// The volumes between the surfaces over the same strip, computed analytically; none where sections cross each other.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub exact: Option<SectionVolumes>,
}

/// A zone, plot, pile or layer of an item.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, JsonSchema)]
#[non_exhaustive]
pub struct ItemRow {
    /// Its name.
    pub zone: String,
    /// What counts, unrounded, in the unit of what is measured.
    pub unrounded: f64,
    /// The same as it is written.
    pub rounded: Decimal,
    /// Its own plan area.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub plan_area: Option<Area>,
    /// The length of its outline.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub perimeter: Option<Length>,
    /// All that was measured there.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub measured: Option<ZoneMeasurement>,
    /// What was done to the limit, where there is one.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub to_limit: Option<ToLimit>,
}

/// What else an item is counted in.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct FurtherCount {
    /// How it is computed.
    pub step: ConversionStep,
    /// What one costs.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub each: Option<Decimal>,
    /// What all of them cost.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub cost: Option<Decimal>,
}

/// What is dug of a material against what is placed of it.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, JsonSchema)]
#[non_exhaustive]
pub struct MaterialBalance {
    /// The material.
    pub material: String,
    /// The items by which it is dug.
    pub dug_by: Vec<MaterialOfItem>,
    /// The items by which it is placed.
    pub placed_by: Vec<MaterialOfItem>,
    /// What is dug, in the bank.
    pub dug: Decimal,
    /// What is needed for what is placed, in the bank.
    pub needed_for_fill: Decimal,
    /// What is dug and placed on site, in the bank.
    pub used_on_site: Decimal,
    /// What is taken away, where there is a surplus.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub export: Option<Hauled>,
    /// What is brought in, where there is a shortfall.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub import: Option<Hauled>,
}

/// What one item adds to a material.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct MaterialOfItem {
    /// The item.
    pub code: String,
    /// What is measured of it.
    pub measured: Decimal,
    /// The state of that.
    pub state: Word,
    /// How it becomes what it was in the bank.
    pub conversion: Vec<ConversionStep>,
    /// How much, in the bank.
    pub bank: Decimal,
}

/// What crosses the boundary of the site.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct Hauled {
    /// How much, in the bank.
    pub bank: Decimal,
    /// What that becomes, step by step.
    pub conversion: Vec<ConversionStep>,
    /// The loads that it makes.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub loads: Option<LoadsMade>,
    /// What it costs.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub cost: Option<Cost>,
}

/// Two surfaces laid over each other once, for all items that measure between them.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct SurfacePair {
    /// From this one.
    pub reference: String,
    /// To this one.
    pub surveyed: String,
    /// The items that are measured by it.
    pub items: Vec<String>,
    /// How many pieces their figures are summed over.
    pub pieces: u64,
    /// How far their area is from that of the outlines, relatively.
    pub closure: f64,
}

impl Bill {
    /// The day of a surface, as its file states it.
    pub(crate) fn date_in_file(&self, surface: &str) -> Option<Date> {
        let mut all = self.surfaces.iter();
        let facts = all.find(|side| side.source == surface)?;
        facts.survey_date.as_ref()?.parse().ok()
    }

    /// All items, in the order of the bill.
    pub fn items(&self) -> impl Iterator<Item = &BillItem> {
        self.sections.iter().flat_map(|section| &section.items)
    }

    /// True where an item is not as expected, or a built surface is not shown to conform.
    pub fn has_findings(&self) -> bool {
        let conforms = |own: &BillConformity| own.judged.verdict == ConformityVerdict::Conforms;
        let items = self.items().any(|item| !item.findings.is_empty());
        items || !self.conformity.iter().all(conforms)
    }
}
