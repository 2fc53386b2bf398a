//! A profile as it was cut.

use dapedon_core::alignment::Alignment;
use dapedon_core::quantities::SectionLine;
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use crate::figure::{Area, Length};
use crate::finding::Finding;
use crate::job_file::JobFacts;
use crate::quantities::line_facts::LineFacts;
use crate::quantities::sections::SectionCorners;
use crate::schema::{Schema, Word};
use crate::surfaces::SurfaceFacts;
use crate::units::ReportUnits;

/// Surfaces cut upright along a line, or from place to place.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, JsonSchema)]
#[non_exhaustive]
pub struct GroundProfile {
    /// The command: `profile`.
    pub command: Word,
    /// The version of its schema.
    pub schema: Schema,
    /// The job whose names were used.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub job: Option<JobFacts>,
    /// The units of all figures.
    pub units: ReportUnits,
    /// The coordinate system.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub crs: Option<String>,
    /// The system of heights.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub height_system: Option<String>,
    /// The surfaces.
    pub surfaces: Vec<SurfaceFacts>,
    /// How long the profile is, in plan.
    pub length: Length,
    /// The line that it is along; none where it goes from place to place.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub line: Option<LineFacts>,
    /// The places of the table, in the order of the line.
    pub places: Vec<ProfilePlace>,
    /// The lowest and the highest place of each surface; none of one that is nowhere along it.
    pub reach: Vec<Option<ProfileReach>>,
    /// The areas in the profile between the first two surfaces, where both are.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub areas: Option<ProfileAreas>,
    /// The corners of all surfaces, where that was asked for.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub corners: Vec<SectionCorners>,
    /// What the reader must know before trusting a figure.
    pub warnings: Vec<Finding>,
}

/// A place along a profile. Lengths, coordinates and heights are in the length unit.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct ProfilePlace {
    /// Its chainage; the distance from the first place where there is no line.
    pub chainage: f64,
    /// The same as the trade writes it.
    pub station: String,
    /// The distance from the start of the line.
    pub distance: f64,
    /// Easting.
    pub east: f64,
    /// Northing.
    pub north: f64,
    /// The heights of all surfaces; none where one does not reach.
    pub heights: Vec<Option<f64>>,
    /// The heights of all surfaces but the first, less that of the first.
    pub differences: Vec<Option<f64>>,
}

/// The lowest and the highest place of a surface along a profile.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct ProfileReach {
    /// The lowest height.
    pub lowest: f64,
    /// Its chainage, as the trade writes it.
    pub lowest_at: String,
    /// The highest height.
    pub highest: f64,
    /// Its chainage.
    pub highest_at: String,
}

/// The areas in a profile between its first two surfaces.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct ProfileAreas {
    /// Where the second one is below the first.
    pub cut: Area,
    /// Where it is above.
    pub fill: Area,
    /// The length over which both are.
    pub compared: f64,
}

/// What a profile is drawn from.
#[derive(Debug)]
pub struct ProfileGround {
    /// The surfaces; offsets are distances from the start of the line.
    pub lines: Vec<SectionLine>,
    /// The distances that all this lies between.
    pub between: [f64; 2],
    /// The line, in grid coordinates.
    pub line: Alignment,
}
