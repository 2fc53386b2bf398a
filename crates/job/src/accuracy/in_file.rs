//! How accurate a file says its points are.

use dapedon_core::quantities::Accuracy;
use dapedon_core::units::LengthUnit;
use dapedon_formats::{PointAccuracies, StatedOfPoints};
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use super::SurfaceAccuracy;
use crate::figure::Length;
use crate::finding::{Code, Finding};

/// Standard uncertainties that a file states of its points one by one.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct AccuracyInFile {
    /// Of heights.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub height: Option<StatedByPoint>,
    /// Of places, in east and in north.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub plan: Option<StatedByPoint>,
}

/// One number that is stated of many points.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct StatedByPoint {
    /// Of how many.
    pub points: u64,
    /// The root of the mean of their squares, which counts for all of them.
    pub root_mean_square: Length,
    /// The greatest.
    pub greatest: Length,
}

impl AccuracyInFile {
    /// As a file says; none where it says nothing.
    pub(crate) fn of(found: &PointAccuracies, unit: LengthUnit) -> Option<Self> {
        let one = |own: &StatedOfPoints| {
            Some(StatedByPoint {
                points: own.points,
                root_mean_square: Length::new(own.root_mean_square()?, unit),
                greatest: Length::new(own.greatest, unit),
            })
        };
        let own = AccuracyInFile {
            height: one(&found.height),
            plan: one(&found.plan),
        };
        (own.height.is_some() || own.plan.is_some()).then_some(own)
    }

    /// Its numbers, in the order of those of [`Accuracy`], where it has them.
    pub(super) fn numbers(&self) -> [Option<f64>; 5] {
        let [height, plan] = [&self.height, &self.plan].map(|own| {
            let own = own.as_ref()?;
            Some(own.root_mean_square.value)
        });
        [height, plan, None, None, None]
    }

    /// The accuracy of the surface by it alone; what must be known where it is not believed.
    pub(crate) fn believed(&self) -> Result<SurfaceAccuracy, Finding> {
        /// Heights and places that are less accurate, in metres, are in another unit, or something else.
        const MOST: f64 = 2.0;
        let [height, plan, ..] = self.numbers();
        let own = self.height.as_ref().or(self.plan.as_ref());
        let unit = own.map_or(LengthUnit::Metre, |own| own.greatest.unit);
        let most = height.unwrap_or_default().max(plan.unwrap_or_default());
        if unit.convert(most, LengthUnit::Metre) > MOST {
            let words = format!(
                "the file states its points to be accurate to {most:.1} {}, which no survey for volumes is: it is not believed",
                unit.symbol()
            );
            let remedy = "state the accuracy with the key accuracy, or name these columns skip";
            return Err(Finding::new(Code::AccuracyCoarse, words).remedy(remedy));
        }
        let numbers = [height, plan, None, None, None].map(Option::unwrap_or_default);
        let words = Some("points as in its file".to_owned());
        Ok(SurfaceAccuracy::of(
            words,
            Vec::new(),
            &Accuracy::of(numbers),
            unit,
        ))
    }
}
