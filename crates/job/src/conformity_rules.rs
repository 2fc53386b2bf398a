//! What is allowed of a built surface, and how it is judged.

use std::str::FromStr;

use dapedon_core::quantities::{HeightLimits, SlopeLimits};
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use crate::error::job_error;
use crate::input::LineSource;

/// What is allowed, in the unit that is measured in.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct LimitRules {
    /// How far the built surface may lie above its design.
    pub above: Option<f64>,
    /// How far it may lie below.
    pub below: Option<f64>,
    /// How far it must lie below everywhere.
    pub clearance: Option<f64>,
    /// The flattest slope, rise over run.
    pub flattest: Option<f64>,
    /// The steepest slope.
    pub steepest: Option<f64>,
    /// The share of the area of each zone that is to be within them.
    pub share: f64,
}

/// What is allowed of crossfalls along a line.
#[derive(Debug, Clone, PartialEq)]
pub struct CrossfallRules {
    /// The line.
    pub line: LineSource,
    /// The interval of the sections, in the unit that is measured in.
    pub every: f64,
    /// How far the crossfall on each side of the line may differ from that of the design, rise over run.
    pub within: f64,
}

impl Default for LimitRules {
    fn default() -> Self {
        LimitRules {
            above: None,
            below: None,
            clearance: None,
            flattest: None,
            steepest: None,
            share: 1.0,
        }
    }
}

/// Limits that do not contradict each other.
pub(crate) struct Limits {
    pub(crate) heights: Option<HeightLimits>,
    pub(crate) slopes: Option<SlopeLimits>,
}

impl LimitRules {
    /// The lowest difference, built less design.
    pub(crate) fn lowest(&self) -> Option<f64> {
        self.below.map(|below| -below)
    }

    /// The highest difference.
    pub(crate) fn highest(&self) -> Option<f64> {
        self.clearance.map(|clear| -clear).or(self.above)
    }

    /// The limits, in order.
    ///
    /// # Errors
    ///
    /// When there is none, or two contradict each other.
    pub(crate) fn checked(
        &self,
        crossfall: Option<&CrossfallRules>,
    ) -> Result<Limits, ConformityError> {
        if let Some(own) = crossfall.filter(|own| !(own.every.is_finite() && own.every > 0.0)) {
            return Err(ConformityError::CrossfallInterval { every: own.every });
        }
        let (lowest, highest) = (self.lowest(), self.highest());
        if let (Some(below), Some(clearance)) = (self.below, self.clearance)
            && below < clearance
        {
            return Err(ConformityError::LimitsReversed { below, clearance });
        }
        if let (Some(flattest), Some(steepest)) = (self.flattest, self.steepest)
            && flattest > steepest
        {
            return Err(ConformityError::SlopesReversed { flattest, steepest });
        }
        let found = Limits {
            heights: HeightLimits::new(lowest, highest),
            slopes: SlopeLimits::new(self.flattest, self.steepest),
        };
        match (&found.heights, &found.slopes) {
            (None, None) if crossfall.is_none() => Err(ConformityError::NoLimit),
            _ => Ok(found),
        }
    }
}

/// How it is judged whether a surface conforms.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[serde(rename_all = "snake_case")]
pub enum Acceptance {
    /// Ground conforms where it lies within the limits by more than its uncertainty, and does not where it lies beyond them by more.
    GuardBand,
    /// As measured, whatever the uncertainty.
    Simple,
}

/// A slope, rise over run: as `1:2`, `50%` or `0.5`.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Slope(pub f64);

/// A share of a whole, above nothing: as `95%` or `0.95`.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Share(pub f64);

fn number(text: &str) -> Option<f64> {
    let number = text.trim().parse().ok();
    number.filter(|number: &f64| number.is_finite())
}

/// A number, or a hundredth of one with a percent sign.
fn part(text: &str) -> Option<f64> {
    match text.trim().strip_suffix('%') {
        Some(percent) => number(percent).map(|percent| percent / 100.0),
        None => number(text),
    }
}

impl FromStr for Slope {
    type Err = String;

    fn from_str(typed: &str) -> Result<Self, String> {
        let slope = match typed.split_once(':') {
            Some((rise, run)) => number(rise).zip(number(run)).map(|(rise, run)| rise / run),
            None => part(typed),
        };
        let sound = slope.filter(|slope| slope.is_finite() && *slope >= 0.0);
        let wrong = || {
            format!(
                "\"{typed}\" is no slope: expected rise to run, as in 1:2, or a percentage, as in 50%"
            )
        };
        sound.map(Slope).ok_or_else(wrong)
    }
}

impl FromStr for Share {
    type Err = String;

    fn from_str(typed: &str) -> Result<Self, String> {
        let sound = part(typed).filter(|share| *share > 0.0 && *share <= 1.0);
        let wrong = || format!("\"{typed}\" is no share: expected more than 0% and 100% at most");
        sound.map(Share).ok_or_else(wrong)
    }
}

/// Why conformity cannot be judged.
#[derive(Debug, Clone, PartialEq, thiserror::Error, strum::IntoStaticStr)]
#[strum(serialize_all = "kebab-case")]
#[non_exhaustive]
pub enum ConformityError {
    /// There is no limit.
    #[error("no limit is given")]
    NoLimit,
    /// The lowest difference is above the highest.
    #[error(
        "the built surface is to lie {below} below the design at most, and {clearance} below it at least"
    )]
    LimitsReversed {
        /// How far it may lie below.
        below: f64,
        /// How far it must.
        clearance: f64,
    },
    /// The flattest slope is steeper than the steepest.
    #[error("the flattest slope, {flattest}, is steeper than the steepest, {steepest}")]
    SlopesReversed {
        /// The flattest slope.
        flattest: f64,
        /// The steepest one.
        steepest: f64,
    },
    /// Crossfalls are to be held against the design, and no zone says where.
    #[error(
        "crossfalls are taken as far to both sides of their line as a zone reaches, and no zone is given"
    )]
    CrossfallZone,
    /// No section has both surfaces.
    #[error("no section along the line has both surfaces within the zones")]
    NoCrossfall,
    /// The interval of sections is none.
    #[error("sections for crossfalls every {every} are none")]
    CrossfallInterval {
        /// The interval.
        every: f64,
    },
    /// Outlines are wanted of ground beyond limits of height, and there are no such limits.
    #[error("outlines are those of ground beyond limits of height, and none is given")]
    NoHeights,
    /// The ground beyond is too ragged for outlines.
    #[error("the ground beyond the limits falls into more pieces than outlines are made of")]
    ManyPieces,
}

impl ConformityError {
    fn remedy(&self) -> String {
        match self {
            ConformityError::NoLimit => {
                "give --above, --below, --clearance, --flattest, --steepest or --crossfall".into()
            }
            ConformityError::LimitsReversed { .. } => {
                "give a --below that is larger than the --clearance".into()
            }
            ConformityError::SlopesReversed { .. } => "swap --flattest and --steepest".into(),
            ConformityError::CrossfallZone => "name the zone with --zone".into(),
            ConformityError::NoCrossfall => {
                "check that the zones lie along the line and that both surfaces cover them".into()
            }
            ConformityError::CrossfallInterval { .. } => "give an interval above zero".into(),
            ConformityError::NoHeights => {
                "give --above, --below or --clearance, or no --out".into()
            }
            ConformityError::ManyPieces => {
                "limit the ground with --zone, or check units and datum: hardly anything is within"
                    .into()
            }
        }
    }
}

dapedon_diagnostic::diagnostic!(ConformityError, "conformity");
job_error!(ConformityError);

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn slopes_and_shares_are_read_as_they_are_written() {
        let slope = |text: &str| text.parse::<Slope>().map(|slope| slope.0);
        for (text, expected) in [
            ("1:2", 0.5),
            ("50%", 0.5),
            ("0.5", 0.5),
            ("2:1", 2.0),
            ("0%", 0.0),
        ] {
            assert_eq!(slope(text), Ok(expected), "{text}");
        }
        for wrong in ["", "1:0", "0:0", "steep", "-2%", "1:", "nan", "inf", "1:-2"] {
            assert!(slope(wrong).is_err(), "{wrong}");
        }
        let share = |text: &str| text.parse::<Share>().map(|share| share.0);
        assert_eq!(
            (share("95%"), share("0.95"), share("100 %")),
            (Ok(0.95), Ok(0.95), Ok(1.0))
        );
        for wrong in ["0", "0%", "101%", "95", "-5%", "nan%"] {
            assert!(share(wrong).is_err(), "{wrong}");
        }
    }

    #[test]
    fn limits_that_contradict_each_other_are_refused() {
        let rules = LimitRules {
            below: Some(0.1),
            clearance: Some(0.2),
            ..LimitRules::default()
        };
        assert!(matches!(
            rules.checked(None),
            Err(ConformityError::LimitsReversed { .. })
        ));
        let rules = LimitRules {
            flattest: Some(0.5),
            steepest: Some(0.4),
            ..LimitRules::default()
        };
        assert!(matches!(
            rules.checked(None),
            Err(ConformityError::SlopesReversed { .. })
        ));
        assert!(matches!(
            LimitRules::default().checked(None),
            Err(ConformityError::NoLimit)
        ));
        let rules = LimitRules {
            clearance: Some(0.2),
            ..LimitRules::default()
        };
        let limits = rules
            .checked(None)
            .ok()
            .and_then(|found| found.heights)
            .unwrap();
        assert_eq!((limits.lowest(), limits.highest()), (None, Some(-0.2)));
    }
}
