//! Progress as it is reported: the object that `--json` prints and every output shows.

use jiff::civil::Date;
use rust_decimal::Decimal;
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use crate::bill::FarthestBeyond;
use crate::calendar::WorkDays;
use crate::figure::Volume;
use crate::finding::Finding;
use crate::input::InputFile;
use crate::job_file::JobFacts;
use crate::schema::{Schema, Word};
use crate::surfaces::SurfaceFacts;
use crate::units::ReportUnits;

/// Items followed from survey to survey.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, JsonSchema)]
#[non_exhaustive]
pub struct Progress {
    /// The command: `progress`.
    pub command: Word,
    /// The version of its schema.
    pub schema: Schema,
    /// The job.
    pub job: JobFacts,
    /// The units of volumes; quantities are in that of their item.
    pub units: ReportUnits,
    /// Which days are worked.
    pub work_days: WorkDays,
    /// The items.
    pub items: Vec<ItemProgress>,
    /// The surfaces that were measured, each once.
    pub surfaces: Vec<SurfaceFacts>,
    /// The files the zones come from.
    pub zone_files: Vec<InputFile>,
    /// What must be known before a figure is trusted.
    pub warnings: Vec<Finding>,
}

/// An item, followed from survey to survey.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, JsonSchema)]
#[non_exhaustive]
pub struct ItemProgress {
    /// Its number in the bill.
    pub code: String,
    /// What is done.
    pub description: String,
    /// What counts, in words.
    pub measure: String,
    /// The unit of its quantities.
    pub unit: String,
    /// The surface that it is measured from.
    pub reference: String,
    /// The first day of the first period; none where nobody says when the work began.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub started: Option<Date>,
    /// What is to be reached, where that is known.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub design: Option<DesignQuantity>,
    /// Its surveys, from the first on.
    pub surveys: Vec<SurveyProgress>,
    /// The survey by which nothing was left, where there is one.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub done_by: Option<String>,
    /// When it is done if it goes on as before, where something is left and there is a pace.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub forecast: Option<Forecast>,
    /// What must be known before it is trusted.
    pub warnings: Vec<Finding>,
    /// The line of the job file that lists its surveys.
    pub job_file_line: usize,
}

/// What is to be reached.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
pub struct DesignQuantity {
    /// The surface that it was measured to; without one, it is the quantity in the contract.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub surface: Option<String>,
    /// How much it is.
    pub quantity: Decimal,
}

/// An item at one of its surveys, and in the period that ends with it.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, JsonSchema)]
#[non_exhaustive]
pub struct SurveyProgress {
    /// The survey.
    pub surveyed: String,
    /// Its day, the last of the period.
    pub date: Date,
    /// The first day of the period; none where nobody says when the work began.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub from: Option<Date>,
    /// How many days of the period were worked.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub work_days: Option<u32>,
    /// The quantity to date, from the reference.
    pub to_date: Decimal,
    /// Its standard uncertainty, where that is known.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub uncertainty: Option<f64>,
    /// The quantity to date less that of the survey before.
    pub period: Decimal,
    /// The same measured from the survey before to this one. It is more where earlier work was filled again or dug again; none for areas, which count once
    /// however often they are worked over, and for the first survey.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub between_surveys: Option<Decimal>,
    /// What of the design is done: the quantity to date without what is beyond the design.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub done: Option<Decimal>,
    /// The same as a share of the design.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub share_of_design: Option<Decimal>,
    /// What of the design is left.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub left: Option<Decimal>,
    /// What was done in a work day of the period on average; what is beyond the design is not part of it.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub in_a_work_day: Option<Decimal>,
    /// The period, zone by zone.
    pub zones: Vec<PeriodRow>,
}

/// What was dug and placed in a zone, plot or everywhere from one survey to the next.
///
/// To date, cut grows by what was dug less what was filled again and dug again; fill by what was placed less both.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, JsonSchema)]
#[non_exhaustive]
pub struct PeriodRow {
    /// Its name.
    pub zone: String,
    /// Dug in the period: where this survey is below the one before.
    pub dug: Volume,
    /// Placed in the period: where it is above.
    pub placed: Volume,
    /// Of what was placed: in ground that was dug before, up to the reference.
    pub filled_again: Volume,
    /// Of what was dug: out of what was placed before, down to the reference.
    pub dug_again: Volume,
    /// Where the most was filled again or dug again, and how much; none where nothing was.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub most_again: Option<FarthestBeyond>,
    /// Cut to date, from the reference.
    pub cut_to_date: Volume,
    /// Fill to date, from the reference.
    pub fill_to_date: Volume,
    /// What both ways differ by because ground within the tolerance is left out of each, the larger of cut and fill.
    pub by_tolerance: Volume,
    /// What both ways differ by otherwise, the larger of cut and fill: ground that not all surfaces cover.
    pub unexplained: Volume,
}

impl PeriodRow {
    /// The same with volumes rounded to some decimals.
    #[must_use]
    pub fn rounded(&self, decimals: usize) -> PeriodRow {
        let steps = 10f64.powi(i32::try_from(decimals).unwrap_or(0));
        let round = |volume: Volume| Volume {
            value: (volume.value * steps).round() / steps,
            ..volume
        };
        PeriodRow {
            dug: round(self.dug),
            placed: round(self.placed),
            filled_again: round(self.filled_again),
            dug_again: round(self.dug_again),
            cut_to_date: round(self.cut_to_date),
            fill_to_date: round(self.fill_to_date),
            by_tolerance: round(self.by_tolerance),
            unexplained: round(self.unexplained),
            ..self.clone()
        }
    }

    /// Both together, under the name of this one.
    #[must_use]
    pub fn plus(&self, other: &PeriodRow) -> PeriodRow {
        let sum = |of: fn(&PeriodRow) -> Volume| Volume {
            value: of(self).value + of(other).value,
            unit: of(self).unit,
            uncertainty: None,
        };
        let places = [&self.most_again, &other.most_again].into_iter().flatten();
        PeriodRow {
            zone: self.zone.clone(),
            dug: sum(|row| row.dug),
            placed: sum(|row| row.placed),
            filled_again: sum(|row| row.filled_again),
            dug_again: sum(|row| row.dug_again),
            most_again: places
                .max_by(|a, b| a.by.value.total_cmp(&b.by.value))
                .copied(),
            cut_to_date: sum(|row| row.cut_to_date),
            fill_to_date: sum(|row| row.fill_to_date),
            by_tolerance: sum(|row| row.by_tolerance),
            unexplained: sum(|row| row.unexplained),
        }
    }
}

/// When an item is done if it goes on as before: straight on at a pace.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, JsonSchema)]
#[non_exhaustive]
pub struct Forecast {
    /// What is left after the last survey.
    pub left: Decimal,
    /// The first day that the average is of.
    pub since: Date,
    /// At the average pace since then.
    pub average: PaceForecast,
    /// At that of the fastest period; none where there is only one.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub fastest: Option<PaceForecast>,
    /// At that of the slowest period; none where there is only one.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub slowest: Option<PaceForecast>,
}

/// When an item is done at a pace.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[non_exhaustive]
pub struct PaceForecast {
    /// The survey that the period ends with, where it is the pace of one.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub surveyed: Option<String>,
    /// What is done in a work day.
    pub in_a_work_day: Decimal,
    /// How many work days what is left takes; none at a standstill, or where it goes the other way.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub work_days: Option<u32>,
    /// The day on which it is done; none where there is none, or later than anyone plans.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub date: Option<Date>,
}
