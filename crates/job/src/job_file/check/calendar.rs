//! Work days.

use std::collections::BTreeSet;

use jiff::civil::{Date, Weekday};
use toml::Spanned;

use super::super::JobFileError;
use super::super::entries::{CalendarEntry, DateEntry, Name};
use super::JobFileText;
use super::dates::{date, date_of_text};
use crate::calendar::{Calendar, WEEK};

/// The calendar of a job.
pub(super) fn calendar(
    sheet: &JobFileText<'_>,
    entry: &CalendarEntry,
) -> Result<Calendar, JobFileError> {
    let week = match &entry.work_days {
        None => WEEK[..5].iter().map(|(day, ..)| *day).collect(),
        Some(names) => week(sheet, names)?,
    };
    let off = entry.days_off.iter().map(|days| days_off(sheet, days));
    let off = off.collect::<Result<Vec<_>, _>>()?;
    let usual = Calendar::stated(week.clone(), off.clone(), BTreeSet::new());
    let mut worked = BTreeSet::new();
    for day in &entry.days_worked {
        let read = date(sheet, day)?;
        if usual.is_work_day(read) {
            let what = format!("{read} is a work day anyway");
            return Err(sheet.fault(day.span(), what, "remove it, or correct it"));
        }
        if !worked.insert(read) {
            let what = format!("{read} is listed twice");
            return Err(sheet.fault(day.span(), what, "list it once"));
        }
    }
    Ok(Calendar::stated(week, off, worked))
}

/// The days of a week.
fn week(sheet: &JobFileText<'_>, names: &[Name]) -> Result<Vec<Weekday>, JobFileError> {
    let mut week = Vec::new();
    for name in names {
        let text = name.get_ref().trim();
        let known = WEEK.iter().find(|(_, long, short)| {
            text.eq_ignore_ascii_case(long) || text.eq_ignore_ascii_case(short)
        });
        let Some((day, long, _)) = known else {
            let what = format!("\"{}\" is not a day of the week", name.get_ref());
            let remedy = "use Mon, Tue, Wed, Thu, Fri, Sat or Sun";
            return Err(sheet.fault(name.span(), what, remedy));
        };
        if week.contains(day) {
            let what = format!("{long} is listed twice");
            return Err(sheet.fault(name.span(), what, "list it once"));
        }
        week.push(*day);
    }
    Ok(week)
}

/// A day off, or the first and last of several.
fn days_off(
    sheet: &JobFileText<'_>,
    entry: &Spanned<DateEntry>,
) -> Result<[Date; 2], JobFileError> {
    let DateEntry::Text(text) = entry.get_ref() else {
        return date(sheet, entry).map(|day| [day; 2]);
    };
    let Some((first, last)) = text.split_once(" to ") else {
        return date(sheet, entry).map(|day| [day; 2]);
    };
    let [first, last] = [first, last].map(|text| date_of_text(sheet, entry.span(), text));
    let (first, last) = (first?, last?);
    if last < first {
        let what = format!("the days off end on {last}, before they begin on {first}");
        return Err(sheet.fault(entry.span(), what, "correct one of the days"));
    }
    Ok([first, last])
}
