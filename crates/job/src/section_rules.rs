//! Which sections are cut along a line, and how volumes follow from them.

use dapedon_core::alignment::NamedChainage;
use dapedon_core::units::LengthUnit;
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use crate::input::LineSource;

/// Which sections are cut along a line, and how volumes follow from them.
#[derive(Debug, Clone)]
pub struct SectionRules {
    /// Along this line.
    pub line: LineSource,
    /// At round chainages of this interval.
    pub every: Option<f64>,
    /// Where the elements of the line meet, too.
    pub geometry_points: bool,
    /// At these chainages.
    pub at: Vec<NamedChainage>,
    /// More of them where areas change abruptly.
    pub refine: bool,
    /// From this chainage to this one; both are stations.
    pub between: [Option<NamedChainage>; 2],
    /// How far to the left and to the right; without, as far as the zones.
    pub widths: Option<[f64; 2]>,
    /// How volumes follow from areas.
    pub rule: SectionRule,
    /// Correct for curves, by the path of the middle of each area.
    pub curve_correction: bool,
}

/// How volumes are computed from sections.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[serde(rename_all = "kebab-case")]
pub enum SectionRule {
    /// The mean of both end areas, times the distance.
    AverageEndArea,
    /// Both end areas and four times the middle one, a sixth of it times the distance.
    Prismoidal,
}

impl SectionRule {
    /// In words.
    pub fn words(self) -> &'static str {
        match self {
            SectionRule::AverageEndArea => "average end area",
            SectionRule::Prismoidal => "prismoidal formula",
        }
    }
}

impl SectionRules {
    /// Their interval, width and formula, in words.
    pub fn words(&self, unit: LengthUnit) -> String {
        let symbol = unit.symbol();
        let every = self
            .every
            .map_or(String::new(), |every| format!(" every {every} {symbol}"));
        let wide = match self.widths {
            Some([left, right]) if left == right => format!(", {left} {symbol} to each side"),
            Some([left, right]) => {
                format!(", {left} {symbol} to the left and {right} {symbol} to the right")
            }
            None => ", out to the edge of the zones".into(),
        };
        let correction = if self.curve_correction {
            ", corrected for curves"
        } else {
            ""
        };
        format!(
            "sections along {}{every}{wide}, by {}{correction}",
            self.line,
            self.rule.words()
        )
    }
}
