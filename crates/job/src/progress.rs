//! Items followed from survey to survey: to date, in each period, what is left, and when it is done.

mod days;
mod error;
mod forecast;
mod model;
mod parts;
mod periods;

use crate::bill::{ItemMap, bill_of};
use crate::context::Context;
use crate::error::JobError;
use crate::job_file::{ItemPlan, Job, NameError};
use crate::schema::Schema;

pub use error::ProgressError;
pub use model::{
    DesignQuantity, Forecast, ItemProgress, PaceForecast, PeriodRow, Progress, SurveyProgress,
};
use parts::ItemParts;

/// Follows items through their surveys: those of some codes, or all that list surveys where none are named. Maps are of each period.
///
/// Each survey is measured from the reference, and from the survey before. What both say of a period is compared.
///
/// # Errors
///
/// When there is no job, no item lists surveys, a survey has no date or is older than the one before, or something
/// cannot be measured: with its line.
pub fn progress(
    context: &Context<'_>,
    codes: &[String],
) -> Result<(Progress, Vec<ItemMap>), JobError> {
    context.run(|| {
        let job = context.job.ok_or(NameError::NoJob)?;
        let items = followed(job, codes)?;
        let parts: Vec<ItemParts<'_>> = items
            .iter()
            .filter_map(|item| ItemParts::of(item))
            .collect();
        // What the job file says of days is checked before anything is measured.
        for own in &parts {
            days::known(own.plan, |surface| job.date_of(surface))?;
        }
        let plans: Vec<&ItemPlan> = parts.iter().flat_map(ItemParts::plans).collect();
        let (bill, maps) = bill_of(context, job, &plans, false)?;
        let mut measured = bill.items();
        let mut items = Vec::new();
        for own in &parts {
            // Items without a section are measured in their order.
            let found = own.take(&mut measured);
            items.push(periods::of(context, job, own, &found, &bill)?);
        }
        let maps = parts::period_maps(&parts, maps);
        let progress = Progress {
            command: "progress".into(),
            schema: Schema,
            job: job.facts(),
            units: bill.units,
            work_days: job.calendar.facts(),
            items,
            surfaces: bill.surfaces.clone(),
            zone_files: bill.zone_files.clone(),
            warnings: bill.warnings.clone(),
        };
        Ok((progress, maps))
    })
}

/// The items that list surveys.
fn followed<'j>(job: &'j Job, codes: &[String]) -> Result<Vec<&'j ItemPlan>, JobError> {
    let known = || job.items.iter().map(|item| item.code.as_str());
    for code in codes {
        let item = job.items.iter().find(|item| item.code == *code);
        let item = item.ok_or_else(|| NameError::unknown("item", code, known()))?;
        if item.progress.is_none() {
            let item_code = item.code.clone();
            let error = ProgressError::NotFollowed { item: item_code };
            return Err(JobError::from(error).in_job(&item.spot));
        }
    }
    let items: Vec<&ItemPlan> = (job.items.iter())
        .filter(|item| item.progress.is_some())
        .filter(|item| codes.is_empty() || codes.contains(&item.code))
        .collect();
    match items.is_empty() {
        true => {
            let path = job.path.clone();
            Err(ProgressError::NoSurveys { path }.into())
        }
        false => Ok(items),
    }
}
