//! How two surveys compare on untouched ground, in the units it is reported in.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use crate::figure::{Area, Length};
use crate::quantities::measurement::{Extreme, Volumes};

/// How two surveys compare on ground that nobody touched. Differences are surveyed less reference.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, JsonSchema)]
#[non_exhaustive]
pub struct Untouched {
    /// What follows from it.
    pub verdict: UntouchedVerdict,
    /// Zone by zone.
    pub zones: Vec<UntouchedZone>,
    /// All zones together, where there are several.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub together: Option<UntouchedZone>,
    /// What is measured without the shift or the tilt, unless it is within what was stated.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub without: Option<WithoutShift>,
}

impl Untouched {
    /// All zones together.
    pub fn whole(&self) -> Option<&UntouchedZone> {
        self.together.as_ref().or(self.zones.first())
    }

    /// True unless the surveys are known to agree in the mean.
    pub fn is_shifted(&self) -> bool {
        match self.verdict {
            UntouchedVerdict::AsStated | UntouchedVerdict::Noise => false,
            UntouchedVerdict::Shift | UntouchedVerdict::Tilt | UntouchedVerdict::NotJudged => true,
        }
    }
}

/// What untouched ground says of two surveys.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[serde(rename_all = "snake_case")]
#[non_exhaustive]
pub enum UntouchedVerdict {
    /// They agree within their stated accuracy.
    AsStated,
    /// One is higher than the other by more than their stated accuracy explains.
    Shift,
    /// One leans against the other by more than their stated accuracy explains.
    Tilt,
    /// Single places differ by more than their stated accuracy explains.
    Noise,
    /// It is not known how accurate both of them are.
    NotJudged,
}

/// How two surveys compare in a zone. All ground counts by its plan area.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, JsonSchema)]
#[non_exhaustive]
pub struct UntouchedZone {
    /// Its name.
    pub zone: String,
    /// The plan area that both surveys cover.
    pub area: Area,
    /// Points of the reference in it.
    pub reference_points: usize,
    /// Points of the surveyed surface in it.
    pub surveyed_points: usize,
    /// The mean difference.
    pub mean: Length,
    /// The standard deviation from the mean.
    pub deviation: Length,
    /// The difference that half of the ground lies below.
    pub median: Length,
    /// Half of the range that the middle 68 % of the ground lie in: what a few odd places do not touch.
    pub robust_deviation: Length,
    /// The lowest difference.
    pub lowest: Length,
    /// Where that is.
    pub lowest_at: Extreme,
    /// The highest difference.
    pub highest: Length,
    /// Where that is.
    pub highest_at: Extreme,
    /// The tilted plane that is closest to the differences; none where the ground is a mere line.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub tilt: Option<Tilt>,
    /// What the stated accuracy lets expect, where that is known of both surveys.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub expected: Option<ExpectedDifference>,
}

/// A plane through differences.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct Tilt {
    /// The middle of the ground, where the plane is as high as the mean.
    pub middle: Extreme,
    /// Its rise to the east, per unit of length.
    pub rise_east: f64,
    /// Its rise to the north, per unit of length.
    pub rise_north: f64,
    /// The standard deviation that it makes by leaning.
    pub deviation: Length,
    /// The standard deviation from it.
    pub deviation_without: Length,
}

/// What a stated accuracy lets expect of differences on untouched ground: standard uncertainties.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct ExpectedDifference {
    /// How many standard uncertainties are shown with ±.
    pub coverage_factor: f64,
    /// Of the mean, from all errors.
    pub mean: Length,
    /// Of the mean, from errors of single points alone.
    pub mean_from_points: Length,
    /// The standard deviation of single places, from the heights of points.
    pub deviation: Length,
}

/// What is measured with the surveyed surface moved back to the reference.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct WithoutShift {
    /// By how much it is raised; lowered where negative.
    pub raised_by: Length,
    /// The tilt is taken off as well.
    pub tilt_removed: bool,
    /// The volumes, zone by zone, in the order of the measurement's.
    pub zones: Vec<Volumes>,
    /// Their sum.
    pub total: Volumes,
}

/// Ground that is proposed as untouched: the largest connected ground on which the difference is the same everywhere within its noise.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, JsonSchema)]
#[non_exhaustive]
pub struct ProposedUntouched {
    /// Its outline in grid coordinates: a ring around it, then those around holes.
    pub outline: Vec<Vec<[f64; 2]>>,
    /// How the surveys compare on it.
    pub ground: UntouchedZone,
}

/// Differences up to this are the rounding of coordinates.
const ROUNDING: f64 = 1e-7;

/// Twice the noise that was stated may still be the ground between points.
const NOISIER: f64 = 2.0;

/// What the root of the sum of squares of two standard normal numbers exceeds in 5 of 100 cases: the root of the 95 % point of
/// chi-squared with two degrees of freedom.
const OF_TWO: f64 = 2.447_746_830_680_816;

impl UntouchedZone {
    /// How many times the stated noise the differences have; one where they have less.
    fn times_the_noise(&self, expected: &ExpectedDifference) -> f64 {
        let noise = self
            .tilt
            .map_or(self.robust_deviation, |tilt| tilt.deviation_without);
        // Whatever is the smaller: what a few odd places add is no noise.
        let noise = noise.value.min(self.robust_deviation.value);
        match expected.deviation.value > 0.0 {
            true => (noise / expected.deviation.value).max(1.0),
            false => 1.0,
        }
    }

    /// What it says of the surveys. Where places differ by more than was stated, means are less sure by as much (the Birge ratio).
    pub(crate) fn verdict(&self) -> UntouchedVerdict {
        let Some(expected) = &self.expected else {
            return UntouchedVerdict::NotJudged;
        };
        let times = self.times_the_noise(expected);
        let of_points = times * expected.mean_from_points.value;
        let common =
            (expected.mean.value.powi(2) - expected.mean_from_points.value.powi(2)).max(0.0);
        let of_mean = libm::hypot(of_points, common.sqrt());
        let lean = self.tilt.map_or(0.0, |tilt| tilt.deviation.value);
        if lean > OF_TWO * of_points && lean > ROUNDING {
            UntouchedVerdict::Tilt
        } else if self.mean.value.abs() > expected.coverage_factor * of_mean + ROUNDING {
            UntouchedVerdict::Shift
        } else if times > NOISIER {
            UntouchedVerdict::Noise
        } else {
            UntouchedVerdict::AsStated
        }
    }
}
