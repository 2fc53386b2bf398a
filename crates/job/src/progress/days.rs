//! The days of the surveys of an item: each later than the one before, and none before the work started.

use jiff::civil::Date;

use super::error::ProgressError;
use crate::error::JobError;
use crate::job_file::ProgressPlan;

/// The days of all surveys.
pub(super) fn all(
    plan: &ProgressPlan,
    day_of: impl Fn(&str) -> Option<Date>,
) -> Result<Vec<Date>, JobError> {
    let days = known(plan, day_of)?;
    let days = plan.surveys.iter().zip(days).map(|(survey, day)| {
        day.ok_or_else(|| {
            let survey = survey.clone();
            JobError::from(ProgressError::Undated { survey }).in_job(&plan.spot)
        })
    });
    days.collect()
}

/// The days of those surveys whose days are known, in their order.
pub(super) fn known(
    plan: &ProgressPlan,
    day_of: impl Fn(&str) -> Option<Date>,
) -> Result<Vec<Option<Date>>, JobError> {
    let mut before: Option<(&String, Date)> = None;
    let mut days = Vec::new();
    for survey in &plan.surveys {
        let day = day_of(survey);
        if let Some(date) = day {
            let follows = follows(plan, (survey, date), before);
            follows.map_err(|error| JobError::from(error).in_job(&plan.spot))?;
            before = Some((survey, date));
        }
        days.push(day);
    }
    Ok(days)
}

/// A survey is later than the one before, and not before the work started.
fn follows(
    plan: &ProgressPlan,
    (survey, date): (&String, Date),
    before: Option<(&String, Date)>,
) -> Result<(), ProgressError> {
    let survey = survey.clone();
    if let Some(started) = plan.started.filter(|started| *started > date) {
        return Err(ProgressError::StartedAfter {
            started,
            survey,
            date,
        });
    }
    let Some((before, date_before)) = before else {
        return Ok(());
    };
    let before = before.clone();
    match date.cmp(&date_before) {
        std::cmp::Ordering::Greater => Ok(()),
        std::cmp::Ordering::Equal => Err(ProgressError::SameDay {
            survey,
            before,
            date,
        }),
        std::cmp::Ordering::Less => Err(ProgressError::OutOfOrder {
            survey,
            date,
            before,
            date_before,
        }),
    }
}
