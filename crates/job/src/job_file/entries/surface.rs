//! Entries of surfaces and their steps.

use schemars::JsonSchema;
use serde::Deserialize;
use toml::Spanned;

use super::{Name, Numbers, OneOrMany};
use crate::units::Code;
use dapedon_core::units::LengthUnit;

/// A surface: from a file, a level, or another surface; and what is done to it.
#[derive(Debug, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields, rename_all = "kebab-case")]
pub(crate) struct SurfaceEntry {
    /// The file it is in, or `file#name` where that holds several; `a.laz+b.laz` or a folder for a cloud.
    #[schemars(with = "Option<String>")]
    pub(crate) file: Option<Name>,
    /// The height of a horizontal plane.
    #[schemars(with = "Option<f64>")]
    pub(crate) level: Option<Spanned<f64>>,
    /// The surface of this job that it starts from.
    #[schemars(with = "Option<String>")]
    pub(crate) start: Option<Name>,
    /// What is done to it, one step after the other.
    #[serde(default)]
    #[schemars(with = "Vec<StepEntry>")]
    pub(crate) steps: Vec<Spanned<StepEntry>>,
    /// It is a finished level, to be dug below by a build-up: measuring it as it is is warned of.
    #[serde(default)]
    pub(crate) finished: bool,
    /// The length unit of the file, where it carries none and is not in the job's.
    pub(crate) unit: Option<Code<LengthUnit>>,
    /// What the columns of delimited text hold, as in "point,east,north,height,code".
    #[schemars(with = "Option<String>")]
    pub(crate) columns: Option<Name>,
    /// What codes of points or layers of a drawing are taken as, as in "CREST,TOE=breakline".
    #[schemars(with = "Option<OneOrMany>")]
    pub(crate) codes: Option<Spanned<OneOrMany>>,
    /// A height that means that none was measured.
    pub(crate) nodata: Option<f64>,
    /// Which height holds where one place is given with several: first, last, lowest, highest or mean.
    pub(crate) duplicates: Option<DuplicatesEntry>,
    /// Facets with a longer edge are dropped, breaklines aside.
    #[schemars(with = "Option<f64>")]
    pub(crate) max_edge: Option<Spanned<f64>>,
    /// Points that stand out from all their neighbours are dropped.
    #[serde(default)]
    pub(crate) drop_outliers: bool,
    /// A file of outlines to cut it along, where it is made of points.
    #[schemars(with = "Option<String>")]
    pub(crate) outline: Option<Name>,
    /// The attribute that names features of GeoJSON and shapefiles.
    pub(crate) name_attribute: Option<String>,
    /// The classes of a cloud that are taken: ground, all, or numbers as in "2,8".
    #[schemars(with = "Option<String>")]
    pub(crate) classes: Option<Name>,
    /// The side of the cells that a cloud is thinned to.
    #[schemars(with = "Option<f64>")]
    pub(crate) thin: Option<Spanned<f64>>,
    /// The height that a cell of a cloud keeps: lowest, mean, median or highest.
    pub(crate) keep: Option<KeepEntry>,
    /// A thinned cloud is triangulated, one point a cell, instead of made a grid.
    #[serde(default)]
    pub(crate) triangulate: bool,
}

/// Which height holds where one place is given with several.
#[derive(Debug, Clone, Copy, Deserialize, JsonSchema)]
#[serde(rename_all = "kebab-case")]
pub(crate) enum DuplicatesEntry {
    First,
    Last,
    Lowest,
    Highest,
    Mean,
}

/// The height that a cell of a cloud keeps.
#[derive(Debug, Clone, Copy, Deserialize, JsonSchema)]
#[serde(rename_all = "kebab-case")]
pub(crate) enum KeepEntry {
    Lowest,
    Mean,
    Median,
    Highest,
}

/// A step: one thing that is done, and the zones it is limited to.
#[derive(Debug, Default, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields, rename_all = "kebab-case", default)]
#[schemars(extend("minProperties" = 1))]
pub(crate) struct StepEntry {
    /// The step is limited to these zones.
    #[schemars(with = "Option<OneOrMany>")]
    pub(crate) zones: Option<Spanned<OneOrMany>>,
    /// Raises by an amount.
    pub(crate) raise: Option<f64>,
    /// Lowers by an amount.
    pub(crate) lower: Option<f64>,
    /// Sets level at a height.
    pub(crate) level: Option<f64>,
    /// Moves in plan, so far to the east and to the north.
    #[serde(rename = "move")]
    #[schemars(with = "Option<[f64; 2]>")]
    pub(crate) shift: Option<Numbers<2>>,
    /// Takes the higher of this surface and another one.
    #[schemars(with = "Option<String>")]
    pub(crate) highest: Option<Name>,
    /// Takes the lower of this surface and another one.
    #[schemars(with = "Option<String>")]
    pub(crate) lowest: Option<Name>,
    /// Takes another surface where that one is.
    #[schemars(with = "Option<String>")]
    pub(crate) take: Option<Name>,
    /// Keeps what is inside or outside the zones.
    pub(crate) keep: Option<SideEntry>,
    /// Puts in a platform with side slopes.
    pub(crate) platform: Option<PlatformEntry>,
    /// Puts in an embankment along a line, with side slopes.
    pub(crate) embankment: Option<EmbankmentEntry>,
    /// Lowers by the layers of build-ups, each within its own zones.
    #[schemars(with = "Option<OneOrMany>")]
    pub(crate) build_up: Option<Spanned<OneOrMany>>,
    /// Lowers only down to the top of this layer of the build-ups.
    #[schemars(with = "Option<String>")]
    pub(crate) stop_at: Option<Name>,
    /// Which build-up holds where their zones overlap; without it that is refused.
    pub(crate) overlap: Option<OverlapEntry>,
    /// Makes heights the difference: this surface less another one.
    #[schemars(with = "Option<String>")]
    pub(crate) difference: Option<Name>,
}

/// Which build-up holds where zones overlap.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Deserialize, JsonSchema)]
#[serde(rename_all = "kebab-case")]
pub(crate) enum OverlapEntry {
    /// The one that is named first.
    First,
}

/// Which side of zones is kept.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Deserialize, JsonSchema)]
#[serde(rename_all = "kebab-case")]
pub(crate) enum SideEntry {
    Inside,
    Outside,
}

/// A platform: the ground of a zone, level or falling to one side, with slopes that run out.
#[derive(Debug, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields, rename_all = "kebab-case")]
pub(crate) struct PlatformEntry {
    /// The zone it covers.
    #[schemars(with = "String")]
    pub(crate) outline: Name,
    /// Its height; of one that falls, at `at`, or in the middle of its outline's extent.
    pub(crate) level: f64,
    /// How much it falls for each unit of length, as 0.02 for 2 in 100.
    #[serde(default)]
    pub(crate) fall: f64,
    /// Where to it falls, in degrees clockwise from north.
    pub(crate) towards: Option<f64>,
    /// Where it has its height, as east and north.
    #[schemars(with = "Option<[f64; 2]>")]
    pub(crate) at: Option<Numbers<2>>,
    /// The slopes in cut: n in 1 in n.
    pub(crate) cut_slope: f64,
    /// The slopes in fill: n in 1 in n.
    pub(crate) fill_slope: f64,
    /// The surface that slopes run out to; without one, the surface as it is before the step.
    #[schemars(with = "Option<String>")]
    pub(crate) until: Option<Name>,
    /// How far the broken slope may stand from the round one at a corner [default: 0.01 m].
    pub(crate) chord: Option<f64>,
}

/// An embankment: a top of a width along a line that has heights, with slopes that run out.
#[derive(Debug, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields, rename_all = "kebab-case")]
pub(crate) struct EmbankmentEntry {
    /// The line it follows.
    #[schemars(with = "String")]
    pub(crate) line: Name,
    /// The width of its top.
    pub(crate) width: f64,
    /// The slopes in cut: n in 1 in n.
    pub(crate) cut_slope: f64,
    /// The slopes in fill: n in 1 in n.
    pub(crate) fill_slope: f64,
    /// The surface that slopes run out to; without one, the surface as it is before the step.
    #[schemars(with = "Option<String>")]
    pub(crate) until: Option<Name>,
    /// How it ends: sloping as along its sides, or upright [default: sloping].
    pub(crate) ends: Option<EndsEntry>,
    /// How far the broken slope may stand from the round one at a corner [default: 0.01 m].
    pub(crate) chord: Option<f64>,
}

/// How an embankment ends.
#[derive(Debug, Clone, Copy, Deserialize, JsonSchema)]
#[serde(rename_all = "kebab-case")]
pub(crate) enum EndsEntry {
    Sloping,
    Upright,
}
