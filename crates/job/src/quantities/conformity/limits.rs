//! What is allowed of a built surface, as it is asked for.

use std::str::FromStr;

use dapedon_core::quantities::{HeightLimits, SlopeLimits, Tolerance};

use super::{ConformityError, ConformityLimits};
use crate::band_rules::{BandRules, BandSteps, Colour};
use crate::units::ReportUnits;

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
    pub(super) heights: Option<HeightLimits>,
    pub(super) slopes: Option<SlopeLimits>,
}

impl LimitRules {
    fn lowest(&self) -> Option<f64> {
        self.below.map(|below| -below)
    }

    fn highest(&self) -> Option<f64> {
        self.clearance.map(|clear| -clear).or(self.above)
    }

    pub(crate) fn checked(&self) -> Result<Limits, ConformityError> {
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
            (None, None) => Err(ConformityError::NoLimit),
            _ => Ok(found),
        }
    }

    pub(super) fn told(&self, units: &ReportUnits) -> ConformityLimits {
        let length = |value: Option<f64>| value.map(|value| units.length_of(value));
        ConformityLimits {
            lowest: length(self.lowest()),
            highest: length(self.highest()),
            flattest: self.flattest,
            steepest: self.steepest,
            share: self.share,
        }
    }
}

/// Ground that is far too low, and ground that is too low.
const BELOW: [Colour; 2] = [Colour([0x8c, 0x2d, 0x52]), Colour([0xd9, 0x7f, 0xa3])];
/// Ground within the limits.
const WITHIN: Colour = Colour([0xdd, 0xe3, 0xcf]);
/// Ground that is too high, and far too high.
const ABOVE: [Colour; 2] = [Colour([0xe3, 0xa8, 0x4a]), Colour([0x9a, 0x5a, 0x00])];

/// The bands that a map shows: within the limits, beyond one of them, and beyond it by more than they are apart.
pub(super) fn bands(limits: &HeightLimits) -> BandRules {
    let (lowest, highest) = (limits.lowest(), limits.highest());
    let width = Some(limits.width()).filter(|width| width.is_finite() && *width > 0.0);
    let far_below = lowest.zip(width).map(|(lowest, width)| lowest - width);
    let far_above = highest.zip(width).map(|(highest, width)| highest + width);
    let all = [far_below, lowest, highest, far_above];
    // The middle band lies as far on both sides of the design as both limits allow.
    let reach = |limit: Option<f64>| limit.map_or(f64::INFINITY, f64::abs);
    let middle = match lowest.is_none_or(|own| own <= 0.0) && highest.is_none_or(|own| own >= 0.0) {
        true => reach(lowest).min(reach(highest)),
        false => 0.0,
    };
    let edges: Vec<f64> = { all }
        .into_iter()
        .flatten()
        .filter(|edge| edge.abs() > middle)
        .collect();
    let colour = |difference: f64| {
        let is_beyond = |limit: Option<f64>, sign: f64| {
            limit.is_some_and(|limit| sign * (difference - limit) > 0.0)
        };
        match (is_beyond(lowest, -1.0), is_beyond(highest, 1.0)) {
            (true, _) if is_beyond(far_below, -1.0) => BELOW[0],
            (true, _) => BELOW[1],
            (_, true) if is_beyond(far_above, 1.0) => ABOVE[1],
            (_, true) => ABOVE[0],
            (false, false) => WITHIN,
        }
    };
    let below = edges.iter().copied().filter(|edge| *edge < 0.0);
    let above = edges.iter().copied().filter(|edge| *edge > 0.0);
    let bounds: Vec<f64> = below.chain([-middle, middle]).chain(above).collect();
    let between = bounds.windows(2).map(|pair| (pair[0] + pair[1]) / 2.0);
    let insides = [f64::NEG_INFINITY]
        .into_iter()
        .chain(between)
        .chain([f64::INFINITY]);
    BandRules {
        middle: Tolerance::new(middle),
        colours: insides.map(colour).collect(),
        ..BandRules::of(BandSteps::At(edges))
    }
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

#[cfg(test)]
mod tests {
    use super::*;
    use dapedon_core::quantities::BandEdges;

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

    /// Each band of the map has a colour, and it is that of the limits.
    #[test]
    fn bands_of_the_map_follow_the_limits() {
        let all = [
            (Some(-0.03), Some(0.02)),
            (Some(-0.02), Some(0.02)),
            (None, Some(0.02)),
            (Some(-0.03), None),
            (None, Some(-0.15)),
            (Some(-0.2), Some(-0.15)),
            (Some(0.0), Some(0.02)),
            (Some(-0.1), Some(0.0)),
            (Some(0.0), Some(0.0)),
        ];
        for (lowest, highest) in all {
            let limits = HeightLimits::new(lowest, highest).unwrap();
            let rules = bands(&limits);
            let BandSteps::At(edges) = &rules.steps else {
                panic!("bands of limits have edges")
            };
            let edges = BandEdges::new(edges, rules.middle.unwrap()).unwrap();
            assert_eq!(rules.colours.len(), edges.count(), "{limits:?}");
            for tenth in -40..=40 {
                // Off the edges.
                let difference = f64::from(tenth) * 0.01 + 0.0049;
                let [above, below] = limits.beyond(difference);
                let colour = rules.colours[edges.of(difference, 1e-9)];
                assert_eq!(
                    colour == WITHIN,
                    above <= 0.0 && below <= 0.0,
                    "{limits:?} {difference}"
                );
                assert_eq!(
                    ABOVE.contains(&colour),
                    above > 0.0,
                    "{limits:?} {difference}"
                );
            }
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
            rules.checked(),
            Err(ConformityError::LimitsReversed { .. })
        ));
        let rules = LimitRules {
            flattest: Some(0.5),
            steepest: Some(0.4),
            ..LimitRules::default()
        };
        assert!(matches!(
            rules.checked(),
            Err(ConformityError::SlopesReversed { .. })
        ));
        assert!(matches!(
            LimitRules::default().checked(),
            Err(ConformityError::NoLimit)
        ));
        let rules = LimitRules {
            clearance: Some(0.2),
            ..LimitRules::default()
        };
        let limits = rules
            .checked()
            .ok()
            .and_then(|found| found.heights)
            .unwrap();
        assert_eq!((limits.lowest(), limits.highest()), (None, Some(-0.2)));
    }
}
