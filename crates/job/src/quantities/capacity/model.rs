//! Basins as they were measured.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use crate::figure::{Area, Length, Volume};
use crate::finding::Finding;
use crate::input::InputFile;
use crate::job_file::JobFacts;
use crate::quantities::measurement::Extreme;
use crate::schema::{Schema, Word};
use crate::surfaces::SurfaceFacts;
use crate::units::ReportUnits;

/// What a basin holds.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, JsonSchema)]
#[non_exhaustive]
pub struct Capacity {
    /// The command: `capacity`.
    pub command: Word,
    /// The version of its schema.
    pub schema: Schema,
    /// The job whose names were used.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub job: Option<JobFacts>,
    /// The units of all figures.
    pub units: ReportUnits,
    /// The bed.
    pub surface: SurfaceFacts,
    /// The zone that it ends at.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub zone: Option<String>,
    /// The files the zone comes from.
    pub zone_files: Vec<InputFile>,
    /// The place whose pool it is.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub pool: Option<Extreme>,
    /// The lowest place of the basin.
    pub lowest_level: Length,
    /// Where water runs over the edge.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub spill: Option<SpillPoint>,
    /// How far the water stays below that.
    pub freeboard: Length,
    /// How many standard uncertainties are shown with ±, where it is known how accurate the survey is.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub coverage_factor: Option<f64>,
    /// Level by level, from the lowest up.
    pub levels: Vec<LevelRow>,
    /// What was asked for: the levels of volumes, the volumes at levels.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub answers: Vec<CapacityAnswer>,
    /// What the reader must know before trusting a figure.
    pub warnings: Vec<Finding>,
}

/// Where water runs over the edge of a basin.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct SpillPoint {
    /// At this level.
    pub level: Length,
    /// Here.
    pub at: Extreme,
}

/// What is held at a level.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize, JsonSchema)]
#[non_exhaustive]
pub struct LevelRow {
    /// The level.
    pub level: Length,
    /// The depth at the lowest place.
    pub depth: Length,
    /// The area of the water; at the lowest place that of its level floor.
    pub water_area: Area,
    /// The volume since the level before; none of areas that were typed in.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub volume_of_step: Option<Volume>,
    /// The volume up to here, integrated exactly over the facets; none of areas that were typed in.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub volume: Option<Volume>,
    /// The volume from here up to the highest level: by the integral, or else by average end areas.
    pub volume_above: Volume,
    /// The same from the areas of the table by average end areas.
    pub volume_by_average_end_area: Volume,
    /// The same from the areas of the table as frusta of cones.
    pub volume_by_conic: Volume,
    /// The level lies above where water runs over the edge: so much is not held without a wall.
    #[serde(default, skip_serializing_if = "is_false")]
    pub above_spill_level: bool,
}

/// A level and what is held at it, one of which was asked for.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, JsonSchema)]
#[non_exhaustive]
pub struct CapacityAnswer {
    /// What was asked for: `level` or `volume`.
    pub asked: Word,
    /// How the volume follows from the level.
    pub method: Word,
    /// The volume; none where the level is outside the areas that are known.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub volume: Option<Volume>,
    /// The level; none where the basin holds less up to the highest level.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub level: Option<Length>,
    /// The area of the water there.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub water_area: Option<Area>,
    /// The level lies above where water runs over the edge: so much is not held without a wall.
    #[serde(default, skip_serializing_if = "is_false")]
    pub above_spill_level: bool,
}

impl Capacity {
    /// True where its volumes were integrated over facets; else they follow from areas that were typed in.
    pub fn is_integrated(&self) -> bool {
        self.levels.iter().all(|held| held.volume.is_some())
    }

    /// True where something was reported that lies above where water runs over the edge.
    pub fn has_findings(&self) -> bool {
        let levels = self.levels.iter().any(|held| held.above_spill_level);
        levels || self.answers.iter().any(|wanted| wanted.above_spill_level)
    }
}

fn is_false(flag: &bool) -> bool {
    !flag
}

impl LevelRow {
    /// The volume: integrated, or else by average end areas.
    pub fn best(&self) -> Volume {
        self.volume.unwrap_or(self.volume_by_average_end_area)
    }
}
