//! How the edges of bands of difference are chosen.

use std::fmt;
use std::str::FromStr;

use dapedon_core::plan::{RELATIVE, round_up};
use dapedon_core::quantities::{BandEdges, BandEdgesError, Tolerance};
use dapedon_core::units::LengthUnit;
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use crate::error::job_error;

/// Bands on one side of zero at most.
const MOST: f64 = 500.0;
/// Bands that are proposed for the greater of cut and fill.
const PROPOSED: f64 = 5.0;
/// They reach no farther than so many times the mean difference.
const TIMES_MEAN: f64 = 4.0;

/// How the edges of bands are chosen.
#[derive(Debug, Clone, PartialEq)]
pub struct BandRules {
    /// The name they have in the job.
    pub name: Option<String>,
    /// The edges.
    pub steps: BandSteps,
    /// How far the middle band reaches on both sides of zero; as far as the tolerance, where nothing is said.
    pub middle: Option<Tolerance>,
    /// The colours of all bands that explicit edges make, from the lowest to the highest; without, the usual ones.
    pub colours: Vec<Colour>,
    /// The unit of all these lengths; without, the one that is measured in.
    pub unit: Option<LengthUnit>,
}

/// Where bands have their edges.
#[derive(Debug, Clone, PartialEq)]
pub enum BandSteps {
    /// At round differences, five bands or so to the greatest one, or to four times the mean where that is less: a few spikes make
    /// no bands of their own.
    Proposed,
    /// At all multiples of a height.
    Equal(f64),
    /// At these differences.
    At(Vec<f64>),
}

/// Bands as they are typed.
#[derive(Debug, Clone, PartialEq)]
pub enum BandsSource {
    /// By their edges.
    Steps(BandSteps),
    /// By the name that they have in the job.
    Named(String),
}

/// A colour, as `#8a4220`.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[serde(into = "String", try_from = "String")]
#[schemars(with = "String")]
pub struct Colour(pub [u8; 3]);

/// Why there are no bands.
#[derive(Debug, thiserror::Error, strum::IntoStaticStr)]
#[strum(serialize_all = "kebab-case")]
#[non_exhaustive]
pub enum BandsError {
    /// The edges make no bands.
    #[error("{0}")]
    Edges(BandEdgesError),
    /// There are too many edges.
    #[error("{edges} band edges are more than 1000")]
    ManyEdges {
        /// How many there are.
        edges: usize,
    },
    /// The step gives too many bands.
    #[error("bands of {step} up to a difference of {greatest:.3} are more than 500")]
    ManyBands {
        /// The step.
        step: f64,
        /// The greatest difference.
        greatest: f64,
    },
}

impl BandsError {
    fn remedy(&self) -> String {
        match self {
            BandsError::Edges(BandEdgesError::WithinMiddle { .. }) => {
                "leave that edge out, or make the middle band narrower with --middle-band (in a job file: middle)".into()
            }
            BandsError::Edges(_) => "list the edges in rising order, as in -1,-0.5,0.5,1".into(),
            BandsError::ManyEdges { .. } => "use fewer edges, or a step".into(),
            BandsError::ManyBands { greatest, .. } => {
                format!("use a step of {} or more", round_up(greatest / MOST))
            }
        }
    }
}

dapedon_diagnostic::diagnostic!(BandsError, "bands");
job_error!(BandsError);

impl BandRules {
    /// Bands by their edges, in the unit that is measured in, with the usual middle band and colours.
    pub fn of(steps: BandSteps) -> Self {
        BandRules {
            name: None,
            steps,
            middle: None,
            colours: Vec::new(),
            unit: None,
        }
    }

    /// The same in a unit.
    pub(crate) fn within(&self, to: LengthUnit) -> Self {
        let Some(from) = self.unit.filter(|&own| own != to) else {
            return self.clone();
        };
        let told = |length: f64| from.convert(length, to);
        BandRules {
            steps: match &self.steps {
                BandSteps::Proposed => BandSteps::Proposed,
                BandSteps::Equal(step) => BandSteps::Equal(told(*step)),
                BandSteps::At(edges) => {
                    BandSteps::At(edges.iter().map(|&edge| told(edge)).collect())
                }
            },
            middle: self
                .middle
                .and_then(|half| Tolerance::new(told(half.value()))),
            unit: Some(to),
            ..self.clone()
        }
    }

    /// The edges for differences that reach from one to another around a middle band, and are so large in the mean where anything
    /// changed.
    pub(crate) fn edges(
        &self,
        middle: f64,
        reach: [f64; 2],
        mean: f64,
    ) -> Result<BandEdges, BandsError> {
        let edges = match &self.steps {
            BandSteps::At(edges) if edges.len() as f64 > 2.0 * MOST => {
                return Err(BandsError::ManyEdges { edges: edges.len() });
            }
            BandSteps::At(edges) => edges.clone(),
            BandSteps::Equal(step) => multiples(*step, middle, reach)?,
            BandSteps::Proposed => {
                let most = TIMES_MEAN * mean;
                let reach = reach.map(|end| end.clamp(-most, most));
                let step = round_up(reach[1].max(-reach[0]) / PROPOSED);
                multiples(step, middle, reach)?
            }
        };
        let middle = Tolerance::new(middle).unwrap_or(Tolerance::ZERO);
        BandEdges::new(&edges, middle).map_err(BandsError::Edges)
    }
}

/// The multiples of a step beyond the middle band, far enough for all differences.
fn multiples(step: f64, middle: f64, [least, greatest]: [f64; 2]) -> Result<Vec<f64>, BandsError> {
    let farthest = greatest.max(-least);
    if farthest / step > MOST {
        return Err(BandsError::ManyBands {
            step,
            greatest: farthest,
        });
    }
    // A band of nothing but rounding is none.
    let count = |reach: f64| (reach / step - RELATIVE).ceil().max(0.0) as i32;
    let all = -count(-least)..=count(greatest);
    let edges = all.map(|index| f64::from(index) * step);
    Ok(edges.filter(|edge| edge.abs() > middle).collect())
}

impl FromStr for BandsSource {
    type Err = String;

    /// `auto`, `step=0.5`, edges as in `-1,-0.5,0.5,1`, or a name.
    fn from_str(typed: &str) -> Result<Self, String> {
        let number = |text: &str| -> Option<f64> {
            let number = text.trim().parse().ok();
            number.filter(|number: &f64| number.is_finite())
        };
        if typed == "auto" {
            return Ok(BandsSource::Steps(BandSteps::Proposed));
        }
        if let Some(step) = typed.strip_prefix("step=") {
            let step = number(step).filter(|&step| step > 0.0);
            let step = step.ok_or("expected a height above zero after step=")?;
            return Ok(BandsSource::Steps(BandSteps::Equal(step)));
        }
        let parts: Vec<Option<f64>> = typed.split(',').map(number).collect();
        if parts.iter().all(Option::is_none) {
            return Ok(BandsSource::Named(typed.into()));
        }
        let edges: Option<Vec<f64>> = parts.into_iter().collect();
        let edges = edges
            .ok_or("expected auto, step=0.5, edges as in -1,-0.5,0.5,1, or a name of the job")?;
        Ok(BandsSource::Steps(BandSteps::At(edges)))
    }
}

impl FromStr for Colour {
    type Err = String;

    fn from_str(text: &str) -> Result<Self, String> {
        let digits = text.strip_prefix('#').filter(|digits| digits.len() == 6);
        let parts = digits.and_then(|digits| {
            let part = |from: usize| u8::from_str_radix(digits.get(from..from + 2)?, 16).ok();
            Some([part(0)?, part(2)?, part(4)?])
        });
        parts
            .map(Colour)
            .ok_or_else(|| format!("\"{text}\" is not a colour: write it as in \"#8a4220\""))
    }
}

impl fmt::Display for Colour {
    fn fmt(&self, out: &mut fmt::Formatter<'_>) -> fmt::Result {
        let [red, green, blue] = self.0;
        write!(out, "#{red:02x}{green:02x}{blue:02x}")
    }
}

impl From<Colour> for String {
    fn from(colour: Colour) -> String {
        colour.to_string()
    }
}

impl TryFrom<String> for Colour {
    type Error = String;

    fn try_from(text: String) -> Result<Self, String> {
        text.parse()
    }
}
