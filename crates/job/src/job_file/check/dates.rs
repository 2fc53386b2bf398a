//! Days in a job file: read one way only.

use std::ops::Range;

use jiff::civil::Date;
use toml::Spanned;

use super::super::JobFileError;
use super::super::entries::DateEntry;
use super::JobFileText;

/// The first and the last year of a job.
const YEARS: std::ops::RangeInclusive<i16> = 1900..=2200;

/// A day, written as a year, a month and a day of the month.
pub(super) fn date(
    sheet: &JobFileText<'_>,
    entry: &Spanned<DateEntry>,
) -> Result<Date, JobFileError> {
    match entry.get_ref() {
        DateEntry::Plain(day) => date_of_text(sheet, entry.span(), &day.to_string()),
        DateEntry::Text(text) => date_of_text(sheet, entry.span(), text),
    }
}

/// The same of a text that is part of an entry.
pub(super) fn date_of_text(
    sheet: &JobFileText<'_>,
    span: Range<usize>,
    text: &str,
) -> Result<Date, JobFileError> {
    let text = text.trim();
    let read = text.parse::<Date>().ok();
    // A time of day would be passed over by the parser of dates.
    let read = read.filter(|day| day.to_string() == text);
    match read {
        Some(day) if YEARS.contains(&day.year()) => Ok(day),
        Some(day) => {
            let what = format!("{day} is in no year of a job");
            Err(sheet.fault(span, what, "correct the year"))
        }
        None => {
            let (what, remedy) = unread(text);
            Err(sheet.fault(span, what, remedy))
        }
    }
}

/// What is wrong with a day, and how it would be written.
fn unread(text: &str) -> (String, String) {
    let remedy = "write the year, the month and the day, as in 2031-03-31".to_owned();
    let figures: Vec<i16> = text
        .split(['.', '/', '-', ' '])
        .map_while(|part| part.parse().ok())
        .collect();
    let days = |[year, month, day]: [i16; 3]| {
        let [month, day] = [month, day].map(|figure| i8::try_from(figure).unwrap_or(0));
        Date::new(year, month, day).ok()
    };
    let [first, second, year] = match figures[..] {
        [first, second, year] if YEARS.contains(&year) => [first, second, year],
        _ => return (format!("\"{text}\" is not a day"), remedy),
    };
    let readings = [days([year, second, first]), days([year, first, second])];
    match readings {
        [Some(one), Some(other)] if one != other => (
            format!("\"{text}\" can be read as {one} and as {other}"),
            format!("write {one} or {other}"),
        ),
        [Some(day), _] | [_, Some(day)] => (
            format!("\"{text}\" is not written as a day is"),
            format!("write {day}"),
        ),
        [None, None] => (format!("\"{text}\" is not a day"), remedy),
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_day_that_can_be_read_in_two_ways_is_said_so() {
        let (what, remedy) = unread("03/04/2031");
        assert_eq!(
            what,
            "\"03/04/2031\" can be read as 2031-04-03 and as 2031-03-04"
        );
        assert_eq!(remedy, "write 2031-04-03 or 2031-03-04");
        assert_eq!(unread("31.03.2031").1, "write 2031-03-31");
        assert_eq!(unread("03/31/2031").1, "write 2031-03-31");
        for none in [
            "",
            "2031-02-30",
            "99/99/2031",
            "May",
            "1/1/1",
            "70000/1/2031",
        ] {
            assert!(unread(none).0.ends_with("is not a day"), "{none}");
        }
    }
}
