//! Entries of typical sections, and of the step that carries one along a line.

use schemars::JsonSchema;
use serde::Deserialize;
use toml::Spanned;

use super::{EndsEntry, Name};

/// A typical section: breaks from a line outwards, and the side slopes beyond them.
#[derive(Debug, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields, rename_all = "kebab-case")]
pub(crate) struct TypicalSectionEntry {
    /// Breaks on both sides alike, from the line outwards.
    #[schemars(with = "Vec<SectionBreakEntry>")]
    #[serde(default)]
    pub(crate) both: Vec<Spanned<SectionBreakEntry>>,
    /// Breaks on the left, looking along the line.
    #[schemars(with = "Vec<SectionBreakEntry>")]
    #[serde(default)]
    pub(crate) left: Vec<Spanned<SectionBreakEntry>>,
    /// Breaks on the right.
    #[schemars(with = "Vec<SectionBreakEntry>")]
    #[serde(default)]
    pub(crate) right: Vec<Spanned<SectionBreakEntry>>,
    /// Slope in cut, n of 1:n.
    pub(crate) cut_slope: f64,
    /// Slope in fill, n of 1:n.
    pub(crate) fill_slope: f64,
    /// Benches in cut.
    pub(crate) cut_bench: Option<BenchEntry>,
    /// Benches in fill.
    pub(crate) fill_bench: Option<BenchEntry>,
}

/// A break of a typical section: how far out, and how high. Each figure is a number, or a table by chainage, as in
/// [["0+100", 3.5], ["0+150", 4.5]]: linear between, the same before and behind.
#[derive(Debug, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields, rename_all = "kebab-case")]
pub(crate) struct SectionBreakEntry {
    /// Width from the break before it, or from the line.
    pub(crate) width: Option<ByChainageEntry>,
    /// Offset from the line, in place of a width.
    pub(crate) offset: Option<ByChainageEntry>,
    /// Crossfall from the break before it, falling outwards, as in 0.025.
    pub(crate) fall: Option<ByChainageEntry>,
    /// Height below the break before it, in place of a fall; negative for a kerb.
    pub(crate) drop: Option<ByChainageEntry>,
    /// Height above the line, in place of a fall; negative below it.
    pub(crate) height: Option<ByChainageEntry>,
}

/// A figure, or several by chainage.
#[derive(Debug, Clone, Deserialize, JsonSchema)]
#[serde(
    untagged,
    expecting = "expected a number, or a table as in [[\"0+100\", 3.5], [\"0+150\", 4.5]]"
)]
pub(crate) enum ByChainageEntry {
    /// The same everywhere.
    Fixed(f64),
    /// By chainage.
    Table(Vec<(ChainageEntry, f64)>),
}

/// A chainage, as a text or a number.
#[derive(Debug, Clone, Deserialize, JsonSchema)]
#[serde(untagged, expecting = "expected a chainage, as in \"0+100\"")]
pub(crate) enum ChainageEntry {
    /// As in "0+100".
    Text(String),
    /// As in 100.
    Number(f64),
}

/// Benches in a high slope.
#[derive(Debug, Clone, Copy, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields, rename_all = "kebab-case")]
pub(crate) struct BenchEntry {
    /// Height of slope between two benches.
    pub(crate) every: f64,
    /// Width of a bench.
    pub(crate) width: f64,
    /// Crossfall of a bench, in the direction of the slope [default: level].
    #[serde(default)]
    pub(crate) fall: f64,
}

/// A typical section along a line with heights, with side slopes to the ground.
#[derive(Debug, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields, rename_all = "kebab-case")]
pub(crate) struct SweptEntry {
    /// Typical section.
    #[schemars(with = "String")]
    pub(crate) section: Name,
    /// Line that it runs along.
    #[schemars(with = "String")]
    pub(crate) line: Name,
    /// First chainage, as in "0+120" [default: the start of the line].
    #[schemars(with = "Option<String>")]
    pub(crate) from: Option<Name>,
    /// Last chainage [default: the end of the line].
    #[schemars(with = "Option<String>")]
    pub(crate) to: Option<Name>,
    /// Surface that the slopes meet [default: the surface before this step].
    #[schemars(with = "Option<String>")]
    pub(crate) until: Option<Name>,
    /// Shape of both ends: sloping like the sides, or upright [default: upright].
    pub(crate) ends: Option<EndsEntry>,
    /// Chord tolerance: largest distance between curves, in plan and in height, and their straight pieces
    /// [default: 0.01 m].
    pub(crate) chord_tolerance: Option<f64>,
}

/// Ground made anew within the zones of the step, from points and lines with heights; it joins the surface along the zones' edges.
#[derive(Debug, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields, rename_all = "kebab-case")]
pub(crate) struct RegradeEntry {
    /// Points as east, north and height, in the job's unit.
    #[schemars(with = "Vec<[f64; 3]>")]
    #[serde(default)]
    pub(crate) points: Vec<super::Numbers<3>>,
    /// Lines of the job with heights, as breaklines.
    #[schemars(with = "Option<super::OneOrMany>")]
    pub(crate) lines: Option<Spanned<super::OneOrMany>>,
    /// Surface of the job whose points and breaklines are used.
    #[schemars(with = "Option<String>")]
    pub(crate) surface: Option<Name>,
}
