//! Sections as they were measured.

use dapedon_core::alignment::Alignment;
use dapedon_core::plan::Place;
use dapedon_core::quantities::SectionLine;
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use super::haul::LineHaul;
use crate::figure::{Area, Length, Volume};
use crate::finding::Finding;
use crate::input::InputFile;
use crate::job_file::JobFacts;
use crate::quantities::line_facts::LineFacts;
use crate::quantities::spots::MapGround;
use crate::quantities::uncertainty::ZoneUncertainty;
use crate::schema::{Schema, Word};
use crate::section_rules::SectionRule;
use crate::surfaces::SurfaceFacts;
use crate::units::ReportUnits;

/// Cross-sections along a line, and the volumes between them.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, JsonSchema)]
#[non_exhaustive]
pub struct Sections {
    /// The command: `sections`.
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
    /// From this side.
    pub reference: SurfaceFacts,
    /// To this side.
    pub surveyed: SurfaceFacts,
    /// Other surfaces that are cut too.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub others: Vec<SurfaceFacts>,
    /// The line they stand along.
    pub line: LineFacts,
    /// The files the zones come from.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub zone_files: Vec<InputFile>,
    /// How volumes are computed.
    pub rule: SectionRule,
    /// True where curves are corrected for, by the path of the middle of each area.
    pub curve_correction: bool,
    /// From section to section, where that is regular.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub interval: Option<Length>,
    /// How far sections reach to the left and to the right of the line; without, as far as the zones.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub widths: Option<[Length; 2]>,
    /// The sections, in the order of the line.
    pub sections: Vec<Section>,
    /// The stretches between them: one fewer.
    pub stretches: Vec<Stretch>,
    /// All stretches together.
    pub total: SectionVolumes,
    /// How uncertain it is, where it is known how accurate both surfaces are.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub uncertainty: Option<UncertaintyBySections>,
    /// The volumes between the surfaces over the same strip, computed analytically; none where sections cross each other.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub exact: Option<ExactVolumes>,
    /// The longest interval that was found, by measuring, to differ by less than one percent.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub enough: Option<EnoughInterval>,
    /// The layers of build-ups, where they were asked for.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub layers: Vec<SectionLayer>,
    /// The haul along the line, where that was asked for.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub mass_haul: Option<LineHaul>,
    /// What the reader must know before trusting a figure.
    pub warnings: Vec<Finding>,
}

/// What sections are drawn from: the lines of all surfaces, the reference first.
#[derive(Debug)]
pub struct SectionGround {
    /// Section by section.
    pub sections: Vec<Vec<SectionLine>>,
    /// How far sections reach to the left, which is negative, and to the right.
    pub reach: [f64; 2],
    /// Along the line itself: offsets are distances from its start.
    pub along: Vec<SectionLine>,
    /// The distances that all this lies between.
    pub between: [f64; 2],
    /// The line, in grid coordinates.
    pub line: Alignment,
    /// The left and the right end of each section, in grid coordinates.
    pub ends: Vec<[Place; 2]>,
    /// The ground of a map, where one is asked for.
    pub map: Option<MapGround>,
}

/// A section. Lengths, offsets, coordinates and heights are in the length unit.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct Section {
    /// Its chainage.
    pub chainage: f64,
    /// The same as the trade writes it.
    pub station: String,
    /// The distance from the start of the line.
    pub distance: f64,
    /// Easting of its place on the line.
    pub east: f64,
    /// Northing there.
    pub north: f64,
    /// The direction of the line there, in degrees from north, clockwise.
    pub bearing: f64,
    /// The area below the reference; none where the two surfaces are nowhere together.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub cut: Option<Area>,
    /// The area above the reference.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub fill: Option<Area>,
    /// The areas just behind it, where a surface is upright across the section and those above are just before it.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub ahead: Option<SidedAreas>,
    /// The heights on the line: of the reference, of the surveyed surface and of the others; none where one does not reach.
    pub heights: Vec<Option<f64>>,
    /// The height of the line itself, where it has one.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub line_height: Option<f64>,
    /// The width that was compared.
    pub compared: f64,
    /// The width that was not, as one or both of the two do not reach.
    pub not_compared: f64,
    /// The corners of all surfaces, in the same order, where that was asked for.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub surfaces: Vec<SectionCorners>,
}

/// The areas on one side of a section.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct SidedAreas {
    /// The area below the reference.
    pub cut: Area,
    /// The area above the reference.
    pub fill: Area,
}

/// A layer of a build-up in all sections.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct SectionLayer {
    /// The surface that goes below it.
    pub surface: String,
    /// The layer.
    pub layer: String,
    /// Its area in each section, in their order; none where the surface does not reach.
    pub areas: Vec<Option<Area>>,
    /// Its volume by the rule of the sections.
    pub volume: Volume,
    /// Its volume between the surfaces over the same strip; none where sections cross each other.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub exact: Option<Volume>,
}

/// A surface in a section.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct SectionCorners {
    /// The surface.
    pub surface: String,
    /// Offsets and heights, run by run: a new run begins behind a gap.
    pub runs: Vec<Vec<[f64; 2]>>,
}

/// What lies between a section and the next one.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct Stretch {
    /// The distance between them, along the line.
    pub length: f64,
    /// By the rule.
    pub volume: SectionVolumes,
    /// The sum from the first section to the end of this stretch.
    pub running: SectionVolumes,
    /// Between the surfaces over the same strip; none where the two sections cross.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub exact: Option<SectionVolumes>,
}

/// Cut, fill and net.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct SectionVolumes {
    /// Below the reference.
    pub cut: Volume,
    /// Above the reference.
    pub fill: Volume,
    /// Fill less cut.
    pub net: Volume,
}

impl SectionVolumes {
    /// Sets how uncertain each is.
    pub(crate) fn are_uncertain_by(&mut self, own: &ZoneUncertainty) {
        self.cut.uncertainty = Some(own.cut.standard.value);
        self.fill.uncertainty = Some(own.fill.standard.value);
        self.net.uncertainty = Some(own.net.standard.value);
    }
}

/// How uncertain the volumes by sections are: what the points of both surfaces add, not what lies between the sections.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct UncertaintyBySections {
    /// How many standard uncertainties are shown with ±.
    pub coverage_factor: f64,
    /// Of cut, fill and net: standard uncertainties, and what makes them.
    #[serde(flatten)]
    pub volumes: ZoneUncertainty,
}

/// The volumes between the surfaces over the strip of the sections, and how far those of the sections are off.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct ExactVolumes {
    /// The volumes.
    pub volume: SectionVolumes,
    /// The volumes by sections less these.
    pub difference: SectionVolumes,
    /// The same as shares of these; none of nothing.
    pub share: SectionShares,
    /// The stretches where the difference is largest, by their numbers from zero; the worst first.
    pub worst: Vec<usize>,
}

/// Differences as shares.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct SectionShares {
    /// Of the cut.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub cut: Option<f64>,
    /// Of the fill.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub fill: Option<f64>,
}

/// An interval at which sections come close to the volume between the surfaces.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct EnoughInterval {
    /// The interval.
    pub interval: Length,
    /// How far the volumes are off there.
    pub share: SectionShares,
    /// False for the shortest that was tried, which is not close enough.
    pub within_one_percent: bool,
}
