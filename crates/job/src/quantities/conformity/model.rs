//! How a built surface lies within limits of its design, in the units it is reported in.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use crate::conformity_rules::{Acceptance, LimitRules};
use crate::figure::{Area, Length, Volume};
use crate::finding::Finding;
use crate::input::InputFile;
use crate::job_file::JobFacts;
use crate::quantities::line_facts::LineFacts;
use crate::quantities::measurement::{Extreme, ZoneMeasurement};
use crate::schema::{Schema, Word};
use crate::surfaces::SurfaceFacts;
use crate::units::ReportUnits;

/// Whether a built surface conforms to its design. Differences are built less design.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, JsonSchema)]
#[non_exhaustive]
pub struct Conformity {
    /// The command: `conformity`.
    pub command: Word,
    /// The version of its schema.
    pub schema: Schema,
    /// The job whose names were used.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub job: Option<JobFacts>,
    /// The units of all figures.
    pub units: ReportUnits,
    /// The design.
    pub design: SurfaceFacts,
    /// What was built.
    pub built: SurfaceFacts,
    /// What follows, and from what.
    #[serde(flatten)]
    pub judged: Judgement,
    /// The files the zones come from.
    pub zone_files: Vec<InputFile>,
    /// The files of lines that are drawn over its map.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub line_files: Vec<InputFile>,
    /// The points of the built surface one by one, where it was made from points.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub points: Option<PointsBeyond>,
    /// What was measured between both, zone by zone: in the order of the zones.
    pub measured: Vec<ZoneMeasurement>,
    /// What the reader must know before trusting a figure.
    pub warnings: Vec<Finding>,
}

/// How a built surface lies within limits of its design, and what follows.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, JsonSchema)]
#[non_exhaustive]
pub struct Judgement {
    /// What is allowed.
    pub limits: ConformityLimits,
    /// How it is judged.
    pub acceptance: Acceptance,
    /// What follows for all of it.
    pub verdict: ConformityVerdict,
    /// How uncertain differences of heights are, where it is known how accurate both surfaces are.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub uncertainty: Option<DifferenceUncertainty>,
    /// A row a zone; one named `all` when no zone was given.
    pub zones: Vec<ZoneConformity>,
    /// The sum of the zones, when there are several.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub total: Option<ZoneConformity>,
    /// Connected ground beyond a limit of height; none where it falls into more pieces than are looked through.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub patches: Option<PatchesBeyond>,
    /// Crossfalls along a line, where they are held against the design.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub crossfalls: Option<CrossfallsWithin>,
}

/// Crossfalls along a line, held against those of the design.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, JsonSchema)]
#[non_exhaustive]
pub struct CrossfallsWithin {
    /// The line.
    pub line: LineFacts,
    /// The interval of the sections.
    pub every: Length,
    /// How far they may differ from those of the design, rise over run.
    pub allowed: f64,
    /// What follows for them.
    pub verdict: ConformityVerdict,
    /// How many are compared, each side of the line for itself.
    pub compared: usize,
    /// How many are not, because a surface covers less than half of the width.
    pub not_compared: usize,
    /// How many are within what is allowed, as measured.
    pub within: usize,
    /// How many are shown to be within, by more than their uncertainty where that is known.
    pub shown_within: usize,
    /// How many are shown to be beyond.
    pub shown_beyond: usize,
    /// One by one.
    pub places: Vec<CrossfallAt>,
}

/// A side of a line, as one looks along it.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[serde(rename_all = "snake_case")]
pub enum SideOfLine {
    /// To the left.
    Left,
    /// To the right.
    Right,
}

impl SideOfLine {
    /// The side in a word.
    pub fn words(self) -> &'static str {
        match self {
            SideOfLine::Left => "left",
            SideOfLine::Right => "right",
        }
    }
}

/// A crossfall: the fall of the straight line that lies closest to a surface, on one side of a line, over all of the width. Falls are told in the
/// direction in which the design falls.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct CrossfallAt {
    /// The chainage.
    pub chainage: f64,
    /// The chainage in words.
    pub station: String,
    /// The side of the line.
    pub side: SideOfLine,
    /// The place on the line.
    pub at: Extreme,
    /// The width that is covered.
    pub width: Length,
    /// The fall of the design, rise over run.
    pub design: f64,
    /// The fall of the built surface; below zero where it falls the other way.
    pub built: f64,
    /// How uncertain the difference is, expanded; none where it is not known how accurate both surfaces are.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub uncertainty: Option<f64>,
    /// Whether it is within what is allowed.
    pub verdict: ConformityVerdict,
}

impl CrossfallAt {
    /// Built less design.
    pub fn difference(&self) -> f64 {
        self.built - self.design
    }
}

/// What is allowed.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct ConformityLimits {
    /// The lowest difference; none where there is no such limit.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub lowest: Option<Length>,
    /// The highest difference; below zero where a clearance is asked for.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub highest: Option<Length>,
    /// The flattest slope, rise over run.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub flattest: Option<f64>,
    /// The steepest slope, rise over run.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub steepest: Option<f64>,
    /// The share of the area of each zone that is to lie within the limits.
    pub share: f64,
}

impl ConformityLimits {
    /// As they were asked for.
    pub(super) fn of(rules: &LimitRules, units: &ReportUnits) -> Self {
        let length = |value: Option<f64>| value.map(|value| units.length_of(value));
        ConformityLimits {
            lowest: length(rules.lowest()),
            highest: length(rules.highest()),
            flattest: rules.flattest,
            steepest: rules.steepest,
            share: rules.share,
        }
    }
}

/// Whether a surface conforms.
#[derive(
    Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize, JsonSchema,
)]
#[serde(rename_all = "snake_case")]
pub enum ConformityVerdict {
    /// It does.
    Conforms,
    /// Neither is shown: too much of it lies so near to a limit that the uncertainty decides.
    NotShown,
    /// It does not.
    DoesNotConform,
}

/// How uncertain the difference of heights at a place is: expanded.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct DifferenceUncertainty {
    /// How many standard uncertainties that is.
    pub coverage_factor: f64,
    /// Where it is least.
    pub least: Length,
    /// Where it is greatest: the ground is steepest.
    pub greatest: Length,
}

/// How the ground of a zone lies within limits.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, JsonSchema)]
#[non_exhaustive]
pub struct ZoneConformity {
    /// Its name.
    pub zone: String,
    /// What follows for it.
    pub verdict: ConformityVerdict,
    /// The plan area that was compared.
    pub area: Area,
    /// The plan area of the zone that the built surface, or the design, does not cover; none where no zone says where it ends.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub not_compared: Option<Area>,
    /// How its heights lie, where there are limits for them.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub heights: Option<HeightsWithin>,
    /// How steep it is, where there are limits for that.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub slopes: Option<SlopesWithin>,
}

/// How heights lie within limits. Areas within, above and below add up to the area compared, and so do those shown to be within and
/// beyond, and in doubt.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize, JsonSchema)]
#[non_exhaustive]
pub struct HeightsWithin {
    /// What follows for the heights.
    pub verdict: ConformityVerdict,
    /// Within the limits as measured.
    pub within: Area,
    /// Above the highest difference.
    pub above: Area,
    /// Below the lowest difference.
    pub below: Area,
    /// Shown to be within, by more than the uncertainty.
    pub shown_within: Area,
    /// Shown to be above.
    pub shown_above: Area,
    /// Shown to be below.
    pub shown_below: Area,
    /// So near to a limit that the uncertainty decides.
    pub in_doubt: Area,
    /// Between the highest difference and the built surface above it.
    pub volume_above: Volume,
    /// Between the lowest difference and the built surface below it.
    pub volume_below: Volume,
    /// The lowest difference.
    pub lowest: Length,
    /// Where that is.
    pub lowest_at: Extreme,
    /// The highest difference: where a clearance is asked for, what is left of it is least there.
    pub highest: Length,
    /// Where that is.
    pub highest_at: Extreme,
    /// The mean difference.
    pub mean: Length,
}

/// How slopes lie within limits: of each facet by itself.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize, JsonSchema)]
#[non_exhaustive]
pub struct SlopesWithin {
    /// What follows for the slopes.
    pub verdict: ConformityVerdict,
    /// Within the limits as measured.
    pub within: Area,
    /// Flatter than the flattest.
    pub flatter: Area,
    /// Steeper than the steepest.
    pub steeper: Area,
    /// Shown to be within, by more than the uncertainty of the slope.
    pub shown_within: Area,
    /// Shown to be flatter.
    pub shown_flatter: Area,
    /// Shown to be steeper.
    pub shown_steeper: Area,
    /// The flattest slope, rise over run.
    pub flattest: f64,
    /// Where that is.
    pub flattest_at: Extreme,
    /// The steepest slope, rise over run.
    pub steepest: f64,
    /// Where that is.
    pub steepest_at: Extreme,
}

/// Connected ground beyond a limit.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, JsonSchema)]
#[non_exhaustive]
pub struct PatchesBeyond {
    /// How many there are.
    pub count: usize,
    /// Those that lie farthest beyond, the worst first.
    pub worst: Vec<PatchBeyond>,
}

/// On which side of the limits.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[serde(rename_all = "snake_case")]
pub enum BeyondSide {
    /// Above the highest difference.
    Above,
    /// Below the lowest.
    Below,
}

impl BeyondSide {
    /// The side in a word.
    pub fn words(self) -> &'static str {
        match self {
            BeyondSide::Above => "above",
            BeyondSide::Below => "below",
        }
    }
}

/// A patch of ground beyond a limit.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct PatchBeyond {
    /// On which side.
    pub side: BeyondSide,
    /// Its plan area.
    pub area: Area,
    /// The volume between the limit and the built surface.
    pub volume: Volume,
    /// By how much it lies beyond the limit at most.
    pub beyond: Length,
    /// Where that is.
    pub at: Extreme,
}

/// The points of the built surface within the zones.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, JsonSchema)]
#[non_exhaustive]
pub struct PointsBeyond {
    /// How many lie over the design.
    pub compared: usize,
    /// How many of them are within the limits.
    pub within: usize,
    /// How many are above the highest difference.
    pub above: usize,
    /// How many are below the lowest.
    pub below: usize,
    /// How many have no one height of the design: outside of it, or where it steps.
    pub not_compared: usize,
    /// Those that lie farthest beyond a limit, the worst first.
    pub worst: Vec<PointBeyond>,
}

/// A point that lies beyond a limit.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct PointBeyond {
    /// Its name in its file, if it has one.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub point: Option<String>,
    /// Easting.
    pub east: f64,
    /// Northing.
    pub north: f64,
    /// The height of the design.
    pub design: Length,
    /// Its own height.
    pub built: Length,
    /// Built less design.
    pub difference: Length,
    /// By how much it lies beyond the limit: above the highest difference, below the lowest where negative.
    pub beyond: Length,
    /// That is more than the uncertainty there.
    pub is_shown: bool,
}
