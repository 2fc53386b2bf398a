//! Second opinions, in the units they are reported in.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use crate::accuracy::COVERAGE_FACTOR;
use crate::digits::figure_in_words;
use crate::figure::{Length, Volume};
use crate::finding::{Code, Finding};
use crate::schema::Word;

/// The same volumes found in other ways, and figures that somebody else states.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, JsonSchema)]
#[non_exhaustive]
pub struct SecondOpinions {
    /// The share that a stated figure may differ by; other ways may by that share of the greater of cut and fill.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub limit: Option<f64>,
    /// What all are compared with: the cut, computed analytically. Ground that zones share counts once.
    pub cut: Volume,
    /// The fill.
    pub fill: Volume,
    /// Fill less cut.
    pub net: Volume,
    /// What grids of coarser cells give, from the coarsest.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub grid: Vec<GridSize>,
    /// How far parallel sections are apart.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub section_spacing: Option<Length>,
    /// The opinions.
    pub opinions: Vec<Opinion>,
}

/// What grids of one cell size give: the least and the greatest, by where the grid starts.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct GridSize {
    /// The side of a cell.
    pub cell: Length,
    /// The cut.
    pub cut: [Volume; 2],
    /// The fill.
    pub fill: [Volume; 2],
    /// Fill less cut.
    pub net: [Volume; 2],
}

/// A second opinion.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, JsonSchema)]
#[non_exhaustive]
pub struct Opinion {
    /// How it is found.
    pub method: OpinionMethod,
    /// Who states it; or the surface that is triangulated otherwise.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub by: Option<String>,
    /// The cut.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub cut: Option<OpinionFigure>,
    /// The fill.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub fill: Option<OpinionFigure>,
    /// Fill less cut.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub net: Option<OpinionFigure>,
    /// What would explain figures that do not agree, where somebody else states them.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub explanations: Vec<Explanation>,
}

/// How a second opinion is found.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[serde(rename_all = "snake_case")]
#[non_exhaustive]
pub enum OpinionMethod {
    /// By samples on a grid, from the trend of several cell sizes.
    Grid,
    /// By the areas of parallel sections.
    Sections,
    /// Between the same points, with other triangles of the reference.
    OtherDiagonalsOfReference,
    /// Between the same points, with other triangles of the surveyed surface.
    OtherDiagonalsOfSurveyed,
    /// Between the same points, as if the reference had no breaklines: for comparison only.
    NoBreaklinesOfReference,
    /// Between the same points, as if the surveyed surface had no breaklines: for comparison only.
    NoBreaklinesOfSurveyed,
    /// Somebody else states it.
    Stated,
}

impl OpinionMethod {
    /// True where a difference is no sign of anything wrong.
    pub fn is_for_comparison(self) -> bool {
        matches!(
            self,
            OpinionMethod::NoBreaklinesOfReference | OpinionMethod::NoBreaklinesOfSurveyed
        )
    }
}

/// A figure of a second opinion against the own one.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct OpinionFigure {
    /// The figure.
    pub value: Volume,
    /// By how much it is more than the own one.
    pub difference: Volume,
    /// The difference as a share of the own figure; none where that is zero.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub share: Option<f64>,
    /// What it may differ by at 95 %: the error of the method itself; or the uncertainty of what was measured.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub may_differ: Option<Volume>,
    /// What follows.
    pub verdict: OpinionVerdict,
}

/// What follows from a second opinion.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[serde(rename_all = "snake_case")]
#[non_exhaustive]
pub enum OpinionVerdict {
    /// It differs by no more than it may.
    Agrees,
    /// It differs by more than it may.
    Differs,
    /// It is within the limit; what it may differ by is not known.
    WithinLimit,
    /// It differs by more than the limit: a check has failed.
    BeyondLimit,
    /// It is not known what it may differ by.
    NotJudged,
}

/// What would explain a figure that somebody else states.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, JsonSchema)]
#[non_exhaustive]
pub struct Explanation {
    /// Which figure: `cut`, `fill` or `net`.
    pub figure: Word,
    /// What would explain it, in words.
    pub words: String,
}

/// Differences up to this share are what rounding leaves.
const ROUNDING: f64 = 1e-9;

impl OpinionFigure {
    /// Of a figure against the own one. What another method may be off by is no reason to fail.
    pub(super) fn of(
        method: OpinionMethod,
        [value, own]: [Volume; 2],
        standard: Option<Volume>,
        allowed: Option<Volume>,
    ) -> Self {
        let difference = value.with(value.value - own.value);
        let off = difference.value.abs();
        let may_differ = standard.map(|standard| standard * COVERAGE_FACTOR);
        let rounding = ROUNDING * value.value.abs().max(own.value.abs());
        let agrees = may_differ.map(|may| off <= may.value + rounding);
        let within = allowed.map(|allowed| off <= allowed.value + rounding);
        OpinionFigure {
            value,
            difference,
            share: (own.value != 0.0).then(|| difference.value / own.value.abs()),
            may_differ,
            verdict: match (agrees, within) {
                // A surface without its breaklines is known to be worse.
                _ if method.is_for_comparison() => OpinionVerdict::NotJudged,
                (Some(true), _) if method != OpinionMethod::Stated => OpinionVerdict::Agrees,
                (_, Some(false)) => OpinionVerdict::BeyondLimit,
                (Some(true), _) => OpinionVerdict::Agrees,
                (Some(false), _) => OpinionVerdict::Differs,
                (None, Some(true)) => OpinionVerdict::WithinLimit,
                (None, None) => OpinionVerdict::NotJudged,
            },
        }
    }
}

impl SecondOpinions {
    /// Checks that have failed.
    pub(crate) fn findings(&self) -> Vec<Finding> {
        let off = self.opinions.iter().flat_map(|opinion| {
            let figures = opinion.figures();
            let off = figures.filter(|(_, own)| own.verdict == OpinionVerdict::BeyondLimit);
            off.map(move |(name, own)| self.off(opinion, name, own))
        });
        off.collect()
    }

    fn off(&self, opinion: &Opinion, name: &str, own: &OpinionFigure) -> Finding {
        let by = opinion.by.as_deref().unwrap_or("somebody else");
        let how = match opinion.method {
            OpinionMethod::Grid => "by a grid".into(),
            OpinionMethod::Sections => "by parallel sections".into(),
            OpinionMethod::OtherDiagonalsOfReference | OpinionMethod::OtherDiagonalsOfSurveyed => {
                format!("with other triangles in \"{by}\"")
            }
            OpinionMethod::NoBreaklinesOfReference | OpinionMethod::NoBreaklinesOfSurveyed => {
                format!("without the breaklines of \"{by}\"")
            }
            OpinionMethod::Stated => format!("as {by} states it"),
        };
        let symbol = own.value.unit.symbol();
        let way = if own.difference.value < 0.0 {
            "less"
        } else {
            "more"
        };
        let words = format!(
            "the {name} {how} is {} {symbol}, {} {symbol} {way} than measured, and {} % is allowed",
            figure_in_words(own.value.value),
            figure_in_words(own.difference.value.abs()),
            figure_in_words(100.0 * self.limit.unwrap_or_default()),
        );
        Finding::new(Code::OpinionOff, words)
    }
}

impl Opinion {
    /// Its figures, each with its name.
    pub fn figures(&self) -> impl Iterator<Item = (&'static str, &OpinionFigure)> {
        let all = [("cut", &self.cut), ("fill", &self.fill), ("net", &self.net)];
        all.into_iter()
            .filter_map(|(name, figure)| Some((name, figure.as_ref()?)))
    }
}
