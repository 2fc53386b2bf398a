//! When an item is done if it goes on as before.

use dapedon_contract::{Pace, Rounding, less, plus};
use rust_decimal::Decimal;

use super::model::{Forecast, PaceForecast, SurveyProgress};
use crate::calendar::Calendar;
use crate::error::JobError;

/// The forecast of an item from its surveys: none where nothing is left, nobody knows what is left, or there is no pace.
pub(super) fn of(
    calendar: &Calendar,
    surveys: &[SurveyProgress],
) -> Result<Option<Forecast>, JobError> {
    let Some((last, left)) = surveys.last().and_then(|last| Some((last, last.left?))) else {
        return Ok(None);
    };
    let mut periods: Vec<(&SurveyProgress, Pace)> = Vec::new();
    let mut before = None;
    for survey in surveys {
        let pace = pace(survey, before)?;
        before = Some(survey);
        periods.extend(pace.map(|pace| (survey, pace)));
    }
    let since = periods.first().and_then(|(first, _)| first.from);
    let (Some(since), false) = (since, left.is_zero()) else {
        return Ok(None);
    };
    let mut all = Pace {
        quantity: Decimal::ZERO,
        work_days: 0,
    };
    for (_, pace) in &periods {
        all.quantity = plus(all.quantity, pace.quantity)?;
        all.work_days = all.work_days.saturating_add(pace.work_days);
    }
    let at = |pace: Pace, surveyed: Option<&str>| -> Option<PaceForecast> {
        let work_days = pace.days_for(left);
        Some(PaceForecast {
            surveyed: surveyed.map(Into::into),
            in_a_work_day: pace.in_a_day(Rounding(Some(left.scale())))?,
            work_days,
            date: work_days.and_then(|days| calendar.after(last.date, days)),
        })
    };
    // What takes longest is slowest, and what never ends slower still.
    let longest = |pace: &Pace| pace.days_for(left).unwrap_or(u32::MAX);
    // Towards what is left: the more, the faster.
    let towards = |pace: &Pace| {
        pace.quantity
            .checked_div(Decimal::from(pace.work_days))?
            .checked_mul(left)
    };
    let by_days = |(_, a): &&(&SurveyProgress, Pace), (_, b): &&(&SurveyProgress, Pace)| {
        let days = longest(a).cmp(&longest(b));
        days.then_with(|| towards(b).cmp(&towards(a)))
    };
    let several = periods.len() > 1;
    let pick = |own: Option<&(&SurveyProgress, Pace)>| {
        let (survey, pace) = own.filter(|_| several)?;
        at(*pace, Some(&survey.surveyed))
    };
    let fastest = pick(periods.iter().min_by(by_days));
    let slowest = pick(periods.iter().max_by(by_days));
    Ok(at(all, None).map(|average| Forecast {
        left,
        since,
        average,
        fastest,
        slowest,
    }))
}

/// The pace of a period: what of the design was done in it; none without a work day.
pub(super) fn pace(
    own: &SurveyProgress,
    before: Option<&SurveyProgress>,
) -> Result<Option<Pace>, JobError> {
    let done = |own: &SurveyProgress| own.done.unwrap_or(own.to_date);
    let since = before.map_or(Decimal::ZERO, done);
    let quantity = less(done(own), since)?;
    let work_days = own.work_days.filter(|days| *days > 0);
    Ok(work_days.map(|work_days| Pace {
        quantity,
        work_days,
    }))
}
