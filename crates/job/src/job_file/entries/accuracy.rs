//! Entries of accuracies.

use schemars::JsonSchema;
use serde::Deserialize;

use crate::accuracy::{AccuracyError, StatedAccuracy, SurveyKind};

/// How accurate the points of a surface are.
#[derive(Debug, Deserialize, JsonSchema)]
#[serde(
    untagged,
    expecting = "expected a kind of survey as in \"gnss\", or numbers as in { height = 0.02, common-height = 0.01 }"
)]
pub(crate) enum AccuracyEntry {
    /// A kind, and numbers, as in "gnss,height=0.03".
    Words(String),
    /// Numbers.
    Numbers(AccuracyNumbersEntry),
}

/// How accurate the points of a surface are: standard uncertainties, in the job's unit.
#[derive(Debug, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields, rename_all = "kebab-case")]
pub(crate) struct AccuracyNumbersEntry {
    /// Kind of survey whose usual values stand for numbers that are not given.
    pub(crate) kind: Option<SurveyKind>,
    /// Of the height of each point by itself.
    pub(crate) height: Option<f64>,
    /// Of the position of each point by itself, in east and in north.
    pub(crate) plan: Option<f64>,
    /// Of all heights alike: setup, datum.
    pub(crate) common_height: Option<f64>,
    /// Of all positions alike, in east and in north.
    pub(crate) common_plan: Option<f64>,
    /// Distance at which the correlation of heights has fallen to 1/e, for clouds and grids.
    pub(crate) correlation: Option<f64>,
}

impl AccuracyNumbersEntry {
    /// What they state.
    pub(crate) fn stated(&self) -> Result<StatedAccuracy, AccuracyError> {
        let numbers = [
            self.height,
            self.plan,
            self.common_height,
            self.common_plan,
            self.correlation,
        ];
        StatedAccuracy::new(self.kind, numbers)
    }
}
