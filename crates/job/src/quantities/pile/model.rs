//! Piles as they were measured.

use rust_decimal::Decimal;
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use crate::figure::{Area, Length, Volume};
use crate::finding::Finding;
use crate::input::InputFile;
use crate::job_file::JobFacts;
use crate::quantities::convert::ConvertedLine;
use crate::quantities::measurement::{Extreme, Volumes, ZoneMeasurement};
use crate::quantities::uncertainty::UncertaintyOf;
use crate::schema::{Schema, Word};
use crate::surfaces::SurfaceFacts;
use crate::units::ReportUnits;

/// Piles, or pits, and what they stand on.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, JsonSchema)]
#[non_exhaustive]
pub struct Piles {
    /// The command: `pile`.
    pub command: Word,
    /// The version of its schema.
    pub schema: Schema,
    /// The job whose names were used.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub job: Option<JobFacts>,
    /// The units of all figures.
    pub units: ReportUnits,
    /// The unit of masses.
    pub mass_unit: Word,
    /// The surface they are part of.
    pub surface: SurfaceFacts,
    /// They are pits: what counts lies below the base.
    pub pit: bool,
    /// What they are taken to stand on.
    pub base: String,
    /// The same in words.
    pub base_description: String,
    /// The surfaces among the bases.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub base_surfaces: Vec<SurfaceFacts>,
    /// The survey before.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub previous: Option<SurfaceFacts>,
    /// The files the outlines come from.
    pub zone_files: Vec<InputFile>,
    /// The files of lines that are drawn over its map.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub line_files: Vec<InputFile>,
    /// What was looked for, where there were no outlines.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub search: Option<SearchRules>,
    /// How many standard uncertainties are shown with ±, where it is known how accurate the survey is.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub coverage_factor: Option<f64>,
    /// A row a pile.
    pub zones: Vec<Pile>,
    /// All of them, where there are several.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub total: Option<PilesTotal>,
    /// What the reader must know before trusting a figure.
    pub warnings: Vec<Finding>,
}

/// What was looked for.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct SearchRules {
    /// The height by which a top rises above its toe at least.
    pub min_height: Length,
    /// The plan area at least.
    pub min_area: Area,
    /// Ground around is no steeper than 1 in so much.
    pub ground_slope: f64,
    /// The side of the cells that the surface was read at, where its own points stand too far apart.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub cell: Option<Length>,
}

/// A pile, or a pit.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, JsonSchema)]
#[non_exhaustive]
pub struct Pile {
    /// What lies between its base and the surface: fill is above the base, cut below it.
    #[serde(flatten)]
    pub measured: ZoneMeasurement,
    /// The plan area of its outline.
    pub plan_area: Area,
    /// The length of its toe.
    pub toe_length: Length,
    /// The area of the surface within, along its slopes.
    pub sloping_area: Area,
    /// What it holds: above the base, or of a pit below it.
    pub pile_volume: Volume,
    /// What lies on the other side of the base within the outline, and is not taken off.
    pub volume_below_base: Volume,
    /// How uncertain what it holds is, where it is known how accurate the survey is.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub uncertainty: Option<UncertaintyOf>,
    /// Its greatest height above the base, or depth below it.
    pub max_height: Length,
    /// Where that is.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub max_height_at: Option<Extreme>,
    /// What it holds over the area of its outline.
    pub mean_height: Length,
    /// The level of its top, or of the bottom of a pit.
    pub highest_level: Length,
    /// The heights along its toe, where the surface lies all along it.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub toe_heights: Option<ToeHeights>,
    /// Its share of all piles.
    pub share: f64,
    /// What it is made of, and what that comes to.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub material: Option<ConvertedLine>,
    /// Its mass, where the density is known.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub mass: Option<Decimal>,
    /// What it holds by each base.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub volume_by_base: Vec<VolumeByBase>,
    /// The area of the outline that the survey before does not reach.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub not_surveyed_before: Option<Area>,
    /// What was added and taken away since the survey before, within the outline.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub change: Option<Volumes>,
}

/// Heights along a toe.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct ToeHeights {
    /// The lowest.
    pub lowest: Length,
    /// The mean.
    pub mean: Length,
    /// The highest.
    pub highest: Length,
}

/// What a pile holds by a base.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct VolumeByBase {
    /// The base.
    pub base: String,
    /// What it holds.
    pub pile_volume: Volume,
    /// What lies on the other side of the base.
    pub volume_below_base: Volume,
}

/// All piles.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, JsonSchema)]
#[non_exhaustive]
pub struct PilesTotal {
    /// The plan area of the outlines.
    pub plan_area: Area,
    /// The area of the surface, along its slopes.
    pub sloping_area: Area,
    /// What they hold.
    pub pile_volume: Volume,
    /// What lies on the other side of the bases.
    pub volume_below_base: Volume,
    /// The mass, where that of each is known.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub mass: Option<Decimal>,
    /// What they hold by each base.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub volume_by_base: Vec<VolumeByBase>,
    /// What was added and taken away since the survey before.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub change: Option<Volumes>,
}

/// By how much bases differ: the least, the greatest, and what lies between them as a share of the base that counts.
pub fn spread(bases: &[VolumeByBase], held: f64) -> Option<([f64; 2], f64)> {
    let all = || bases.iter().map(|base| base.pile_volume.value);
    let least = all().fold(f64::INFINITY, f64::min);
    let most = all().fold(f64::NEG_INFINITY, f64::max);
    (bases.len() > 1 && held > 0.0).then(|| ([least, most], (most - least) / held))
}

impl Piles {
    /// What one is called.
    pub fn noun(&self) -> &'static str {
        match self.pit {
            true => "pit",
            false => "pile",
        }
    }

    /// All bases that any of them is measured by, the one that counts first.
    pub fn bases(&self) -> Vec<&str> {
        let mut names: Vec<&str> = Vec::new();
        for base in self.zones.iter().flat_map(|pile| &pile.volume_by_base) {
            if !names.contains(&base.base.as_str()) {
                names.push(&base.base);
            }
        }
        names
    }

    /// What its outline is called.
    pub fn edge(&self) -> &'static str {
        match self.pit {
            true => "rim",
            false => "toe",
        }
    }

    /// What lies on the other side of the base, in words.
    pub fn beyond_words(&self) -> &'static str {
        match self.pit {
            true => "above base",
            false => "below base",
        }
    }
}
