//! A haul plan as it was made.

use dapedon_core::plan::Place;
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use crate::figure::{Length, Volume};
use crate::finding::Finding;
use crate::input::InputFile;
use crate::job_file::JobFacts;
use crate::quantities::spots::MapGround;
use crate::schema::{Schema, Word};
use crate::surfaces::SurfaceFacts;
use crate::units::ReportUnits;

/// Which cut goes to which fill. Volumes are compacted where nothing else is said; volume times distance is in the units of both.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, JsonSchema)]
#[non_exhaustive]
pub struct ZoneHaul {
    /// The command: `haul`.
    pub command: Word,
    /// The version of its schema.
    pub schema: Schema,
    /// The job whose names were used.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub job: Option<JobFacts>,
    /// The units of all figures.
    pub units: ReportUnits,
    /// Currency of the costs.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub currency: Option<String>,
    /// From this side.
    pub reference: SurfaceFacts,
    /// To this side.
    pub surveyed: SurfaceFacts,
    /// The files the zones come from.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub zone_files: Vec<InputFile>,
    /// The files of lines on the map.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub line_files: Vec<InputFile>,
    /// Compacted volume for a unit in the bank.
    pub shrink: f64,
    /// Distance on the way for a unit as the crow flies.
    pub detour: f64,
    /// What a unit of volume costs over a kilometre, or a mile.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub rate: Option<f64>,
    /// The zones.
    pub zones: Vec<HaulZone>,
    /// What goes where. Others may have the same total.
    pub rows: Vec<HaulRow>,
    /// All of it together.
    pub total: HaulSum,
    /// What the reader must know before trusting a figure.
    pub warnings: Vec<Finding>,
}

/// What is cut and filled in a zone, and where its middle is.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct HaulZone {
    /// The zone.
    pub zone: String,
    /// Its cut, in the bank.
    pub cut: Volume,
    /// What that makes, compacted.
    pub makes: Volume,
    /// Its fill.
    pub fill: Volume,
    /// The middle of the cut, as east and north; none where there is none.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub cut_middle: Option<[f64; 2]>,
    /// The middle of the fill.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub fill_middle: Option<[f64; 2]>,
    /// What of the cut has no place to go to.
    pub left_over: Volume,
    /// What of the fill nothing comes for.
    pub missing: Volume,
}

/// What goes from one place to another.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct HaulRow {
    /// From where.
    pub from: String,
    /// What that is.
    pub from_kind: ZoneEnd,
    /// To where.
    pub to: String,
    /// What that is.
    pub to_kind: ZoneEnd,
    /// How much.
    pub volume: Volume,
    /// How far, on the way.
    pub distance: Length,
    /// Volume times distance.
    pub haul: f64,
    /// What that costs, borrow and tip with it.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub cost: Option<f64>,
}

/// What stands at an end of a haul.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[serde(rename_all = "kebab-case")]
pub enum ZoneEnd {
    /// The cut of a zone.
    Cut,
    /// The fill of a zone.
    Fill,
    /// A borrow pit outside.
    Borrow,
    /// A tip outside.
    Tip,
}

impl ZoneEnd {
    /// In a word.
    pub fn words(self) -> &'static str {
        match self {
            ZoneEnd::Cut => "cut",
            ZoneEnd::Fill => "fill",
            ZoneEnd::Borrow => "borrow",
            ZoneEnd::Tip => "tip",
        }
    }
}

/// All hauls together.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct HaulSum {
    /// What is carried.
    pub volume: Volume,
    /// How far, on the mean.
    pub mean_distance: Length,
    /// Volume times distance.
    pub haul: f64,
    /// What it costs.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub cost: Option<f64>,
    /// Cut that has no place to go to.
    pub left_over: Volume,
    /// Fill that nothing comes for.
    pub missing: Volume,
}

/// What a map of a plan is drawn from.
#[derive(Debug)]
pub struct ZoneHaulGround {
    /// From where to where, in grid coordinates, and how much.
    pub arrows: Vec<([Place; 2], f64)>,
    /// The ground of a map, where one is asked for.
    pub map: Option<MapGround>,
}
