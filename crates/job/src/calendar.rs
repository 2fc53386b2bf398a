//! Which days are worked, and how many of them lie between two.

use std::collections::BTreeSet;

use jiff::ToSpan;
use jiff::civil::{Date, Weekday};
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use crate::schema::Word;

/// How far ahead a day is looked for: nobody plans earthworks for longer.
const DAYS_AHEAD: u32 = 50 * 366;

/// The work days of a job.
#[derive(Debug, Clone)]
pub(crate) struct Calendar {
    /// Days of the week that are worked.
    week: Vec<Weekday>,
    /// Stretches of days that are not worked, by their first and last, in order and apart.
    off: Vec<[Date; 2]>,
    /// Days that are worked all the same.
    worked: BTreeSet<Date>,
    /// The job file says it.
    stated: bool,
}

/// The days of a week, and how they are written in full and in short.
pub(crate) const WEEK: [(Weekday, &str, &str); 7] = [
    (Weekday::Monday, "Monday", "Mon"),
    (Weekday::Tuesday, "Tuesday", "Tue"),
    (Weekday::Wednesday, "Wednesday", "Wed"),
    (Weekday::Thursday, "Thursday", "Thu"),
    (Weekday::Friday, "Friday", "Fri"),
    (Weekday::Saturday, "Saturday", "Sat"),
    (Weekday::Sunday, "Sunday", "Sun"),
];

/// The work days of a job, as they are reported.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct WorkDays {
    /// Days of the week that are worked.
    pub week: Vec<Word>,
    /// Stretches of days off, by their first and last.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub days_off: Vec<[Date; 2]>,
    /// Days that are worked besides.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub days_worked: Vec<Date>,
    /// True where the job file says so; else it is the usual week.
    pub stated: bool,
}

impl Default for Calendar {
    /// Monday to Friday.
    fn default() -> Self {
        let week = WEEK[..5].iter().map(|(day, ..)| *day);
        Calendar {
            week: week.collect(),
            off: Vec::new(),
            worked: BTreeSet::new(),
            stated: false,
        }
    }
}

impl Calendar {
    /// A calendar as a job file says it. Stretches may overlap, and each begins before it ends.
    pub(crate) fn stated(
        week: Vec<Weekday>,
        mut off: Vec<[Date; 2]>,
        worked: BTreeSet<Date>,
    ) -> Self {
        off.sort_unstable();
        let mut apart: Vec<[Date; 2]> = Vec::new();
        for [first, last] in off {
            match apart.last_mut() {
                Some(before) if first <= before[1] => before[1] = before[1].max(last),
                _ => apart.push([first, last]),
            }
        }
        Calendar {
            week,
            off: apart,
            worked,
            stated: true,
        }
    }

    /// True for a day that is worked.
    pub(crate) fn is_work_day(&self, day: Date) -> bool {
        let begun = self.off.partition_point(|[first, _]| *first <= day);
        let off = self.off[..begun]
            .last()
            .is_some_and(|[_, last]| day <= *last);
        self.worked.contains(&day) || (self.week.contains(&day.weekday()) && !off)
    }

    /// How many days are worked from a day to another, both included.
    pub(crate) fn work_days(&self, from: Date, to: Date) -> u32 {
        let days = from.series(1.day()).take_while(|day| *day <= to);
        let worked = days.filter(|day| self.is_work_day(*day)).count();
        u32::try_from(worked).unwrap_or(u32::MAX)
    }

    /// The day on which so many work days after a day are over; none where that is farther than anyone plans.
    pub(crate) fn after(&self, day: Date, work_days: u32) -> Option<Date> {
        let Some(last) = work_days.checked_sub(1) else {
            return Some(day);
        };
        let days = day.series(1.day()).skip(1).take(DAYS_AHEAD as usize);
        let mut worked = days.filter(|day| self.is_work_day(*day));
        worked.nth(usize::try_from(last).ok()?)
    }

    /// As it is reported.
    pub(crate) fn facts(&self) -> WorkDays {
        let week = WEEK.iter().filter(|(day, ..)| self.week.contains(day));
        WorkDays {
            week: week.map(|(_, name, _)| (*name).into()).collect(),
            days_off: self.off.clone(),
            days_worked: self.worked.iter().copied().collect(),
            stated: self.stated,
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use jiff::civil::date;
    use proptest::prelude::*;

    fn calendar() -> Calendar {
        // Two stretches that touch, and a Saturday in one of them that is worked.
        let off = vec![
            [date(2031, 4, 14), date(2031, 4, 20)],
            [date(2031, 4, 11), date(2031, 4, 15)],
        ];
        let worked = BTreeSet::from([date(2031, 4, 19)]);
        Calendar::stated(Calendar::default().week, off, worked)
    }

    #[test]
    fn days_off_are_not_worked_and_days_worked_are() {
        let april = calendar();
        // 2031-04-07 is a Monday: four days, then off until the 20th, but for the 19th, then Monday to Friday.
        assert_eq!(date(2031, 4, 7).weekday(), Weekday::Monday);
        assert_eq!(april.work_days(date(2031, 4, 7), date(2031, 4, 13)), 4);
        assert_eq!(april.work_days(date(2031, 4, 7), date(2031, 4, 25)), 10);
        assert_eq!(april.work_days(date(2031, 4, 25), date(2031, 4, 7)), 0);
        assert_eq!(april.after(date(2031, 4, 10), 1), Some(date(2031, 4, 19)));
        assert_eq!(april.after(date(2031, 4, 10), 2), Some(date(2031, 4, 21)));
        assert_eq!(april.after(date(2031, 4, 12), 0), Some(date(2031, 4, 12)));
        assert_eq!(
            april.facts().days_off,
            [[date(2031, 4, 11), date(2031, 4, 20)]]
        );
    }

    #[test]
    fn a_day_that_nobody_plans_for_is_none() {
        let never = Calendar::stated(Vec::new(), Vec::new(), BTreeSet::new());
        assert_eq!(never.after(date(2031, 4, 10), 1), None);
        assert_eq!(Calendar::default().after(date(2031, 4, 10), u32::MAX), None);
        assert_eq!(Calendar::default().after(Date::MAX, 1), None);
        assert_eq!(Calendar::default().work_days(Date::MAX, Date::MAX), 1);
    }

    proptest! {
        /// The day after so many work days is the last of them, and that many are worked until then.
        #[test]
        fn counting_there_and_back_agrees(start in 0i32..2000, days in 1u32..200) {
            let april = calendar();
            let day = date(2030, 1, 1).checked_add(start.days()).unwrap();
            let until = april.after(day, days).unwrap();
            prop_assert!(april.is_work_day(until));
            let next = day.tomorrow().unwrap();
            prop_assert_eq!(april.work_days(next, until), days);
        }

        /// Months add up to the whole.
        #[test]
        fn stretches_add_up(start in 0i32..2000, first in 0i32..300, second in 1i32..300) {
            let april = calendar();
            let day = |days: i32| date(2030, 1, 1).checked_add((start + days).days()).unwrap();
            let parts = april.work_days(day(0), day(first)) + april.work_days(day(first + 1), day(first + second));
            prop_assert_eq!(parts, april.work_days(day(0), day(first + second)));
        }
    }
}
