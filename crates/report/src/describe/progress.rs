//! Items followed from survey to survey: their periods, what is left, and when it is done.

use dapedon_job::{
    COVERAGE_FACTOR, Forecast, ItemProgress, PaceForecast, PeriodRow, Progress, SurveyProgress,
    WorkDays,
};
use rust_decimal::Decimal;

use super::bill::DESCRIPTION;
use super::cells;
use super::uncertainty::expanded_of;
use crate::number::{GAP, grouped, written};
use crate::progress_curve::progress_curve;
use crate::report::{
    Block, Cell, Column, Group, Headline, Input, Kind, Picture, Report, Row, RowKind, ShownOn,
    Table,
};

/// Items followed in time, with maps of their periods.
pub fn progress(found: &Progress, maps: Vec<Picture>) -> Report {
    let surfaces = found.surfaces.iter();
    let mut report = Report {
        lead: vec!["Progress of the work, from survey to survey.".into()],
        job: Some(found.job.clone()),
        headlines: found.items.iter().map(headline).collect(),
        inputs: surfaces
            .map(|side| Input::side("Surface", side))
            .chain(Input::zones(&found.zone_files))
            .collect(),
        ..Report::default()
    };
    for item in &found.items {
        let own = item.warnings.iter();
        let own = own.map(|finding| finding.clone().at(format!("item {}", item.code)));
        report.findings.extend(own);
    }
    report.findings.extend(found.warnings.iter().cloned());
    let contract = found.job.contract.as_ref();
    let contract = contract.map_or(String::new(), |name| format!(", contract {name}"));
    let name = format!("{}{contract}: progress", found.job.name);
    report.add_on(ShownOn::Terminal, Block::heading(name));
    report.add(Block::Paragraph(work_days(&found.work_days)));
    for item in &found.items {
        of_item(found, item, &mut report);
    }
    report.pictures("Map of each period", maps);
    report.add_on(ShownOn::Page, Block::heading("Measured from"));
    report.add_on(ShownOn::Page, Block::Inputs);
    method(&mut report);
    report
}

/// How far an item is.
fn headline(item: &ItemProgress) -> Headline {
    let last = item.surveys.last();
    let share = last.and_then(|last| last.share_of_design);
    let to_date = last.map_or(Decimal::ZERO, |last| last.to_date);
    let figure = match share {
        Some(share) => percent(share),
        None => format!("{} {}", written(to_date), item.unit),
    };
    let date = item.forecast.as_ref().and_then(|own| own.average.date);
    let words = match (last.and_then(|last| last.left), date) {
        (Some(left), _) if left.is_zero() => "nothing left".into(),
        (Some(left), Some(date)) => {
            format!("{} {} left, {date} at this pace", written(left), item.unit)
        }
        (Some(left), None) => format!("{} {} left", written(left), item.unit),
        (None, _) => "to date".into(),
    };
    Headline {
        label: format!("Item {}", item.code),
        figure,
        words,
    }
}

/// A share as its column has it.
fn percent(share: Decimal) -> String {
    let percent = 100.0 * dapedon_contract::binary(share);
    format!("{}{GAP}%", grouped(percent, 1))
}

/// Which days are worked, in a sentence.
fn work_days(days: &WorkDays) -> String {
    let week = match days.week.iter().map(|day| &**day).collect::<Vec<_>>()[..] {
        [] => "none".into(),
        ["Monday", "Tuesday", "Wednesday", "Thursday", "Friday"] => "Monday to Friday".into(),
        [
            "Monday",
            "Tuesday",
            "Wednesday",
            "Thursday",
            "Friday",
            "Saturday",
        ] => "Monday to Saturday".into(),
        [_, _, _, _, _, _, _] => "every day".into(),
        ref some => some.join(", "),
    };
    let off = days
        .days_off
        .iter()
        .map(|[first, last]| match first == last {
            true => first.to_string(),
            false => format!("{first} to {last}"),
        });
    let off: Vec<String> = off.collect();
    let worked: Vec<String> = days.days_worked.iter().map(ToString::to_string).collect();
    let mut words = format!("Work days: {week}");
    if !off.is_empty() {
        words += &format!("; not {}", off.join(", "));
    }
    if !worked.is_empty() {
        words += &format!("; also {}", worked.join(", "));
    }
    match days.stated {
        true => words + ".",
        false => words + " (the job file has no [calendar]).",
    }
}

/// An item: its surveys, the forecast, and its periods by zone.
fn of_item(found: &Progress, item: &ItemProgress, report: &mut Report) {
    report.heading(format!("{}  {}", item.code, item.description));
    let started = match item.started {
        Some(day) => format!("; work since {day}"),
        None => String::new(),
    };
    let design = item.design.as_ref().map_or(String::new(), |own| {
        let of = match &own.surface {
            Some(surface) => format!("design \"{surface}\""),
            None => "contract quantity".into(),
        };
        format!("; {of}: {} {}", written(own.quantity), item.unit)
    });
    let words = format!(
        "{}, from \"{}\"{design}{started} (line {} of the job file)",
        item.measure, item.reference, item.job_file_line
    );
    report.add(Block::Lines(vec![words]));
    report.add(Block::Table(surveys(item)));
    report.add(Block::Lines(outlook(item)));
    if let Some(svg) = progress_curve(item) {
        let caption = format!("Item {}: progress over time", item.code);
        let picture = Picture { caption, svg };
        report.add_on(ShownOn::Page, Block::Picture(picture));
    }
    report.add(Block::Table(periods(found, item)));
    report.add(Block::Lines(again(item)));
}

/// The surveys of an item, one below the other.
fn surveys(item: &ItemProgress) -> Table {
    let unit = &item.unit;
    let has = |of: fn(&SurveyProgress) -> bool| item.surveys.iter().any(of);
    let on = |shown: bool| if shown { ShownOn::Both } else { ShownOn::Sheet };
    let quantity = |name: &str, head: &str| Column::new(name, Kind::Count).head(head);
    let columns = vec![
        Column::text("unit").on(ShownOn::Sheet),
        Column::text("first day").on(ShownOn::Sheet),
        Column::text("date"),
        Column::new("work days", Kind::Count).on(on(has(|own| own.work_days.is_some()))),
        quantity("quantity of the period", "this period"),
        quantity("measured between the surveys", "between surveys")
            .on(on(has(|own| own.between_surveys.is_some()))),
        quantity("per work day", "per work day").on(on(has(|own| own.in_a_work_day.is_some()))),
        quantity("quantity to date", "to date"),
        Column::new("uncertainty of the quantity to date", Kind::Count)
            .head("±")
            .on(on(has(|own| own.uncertainty.is_some_and(|own| own > 0.0)))),
        quantity("of that within the design", "within design").on(on(has(|own| {
            own.done.is_some_and(|done| done != own.to_date)
        }))),
        Column::new("done", Kind::Share).on(on(has(|own| own.share_of_design.is_some()))),
        quantity("left", "left").on(on(has(|own| own.left.is_some()))),
    ];
    let row = |own: &SurveyProgress| {
        let to_date = dapedon_contract::binary(own.to_date);
        let expanded = expanded_of(to_date, own.uncertainty, Some(COVERAGE_FACTOR));
        let share = own.share_of_design.map(dapedon_contract::binary);
        let cells = cells![
            &own.surveyed,
            unit,
            own.from.map(|day| day.to_string()),
            own.date.to_string(),
            own.work_days.map(|days| Cell::Written(days.into())),
            own.period,
            own.between_surveys,
            own.in_a_work_day,
            own.to_date,
            expanded.map(Cell::Written),
            own.done,
            share,
            own.left,
        ];
        Row::new(RowKind::Plain, cells)
    };
    Table {
        of: Some(("item", item.code.clone())),
        keys: vec![Column {
            wrap: Some(DESCRIPTION),
            ..Column::text("survey")
        }],
        groups: vec![Group::new(format!("Quantities in {unit}"), columns)],
        rows: item.surveys.iter().map(row).collect(),
    }
}

/// What is done and left, and when it is done.
fn outlook(item: &ItemProgress) -> Vec<String> {
    let unit = &item.unit;
    let Some(last) = item.surveys.last() else {
        return Vec::new();
    };
    let Some((share, left)) = last.share_of_design.zip(last.left) else {
        let words =
            "What is left is not known: the item has no design, limit or contract quantity.";
        return vec![words.into()];
    };
    let mut lines = match (&item.done_by, left.is_zero()) {
        (Some(by), true) => vec![format!("Nothing is left since the survey \"{by}\".")],
        (_, _) => vec![format!(
            "{} done, {} {unit} left after the survey \"{}\".",
            percent(share),
            written(left),
            last.surveyed
        )],
    };
    match &item.forecast {
        Some(own) => lines.extend(forecast(own, unit)),
        None if !left.is_zero() => lines.push(
            "No forecast: no period has both a first day and a work day; add started to the item, or a date to its reference.".into(),
        ),
        None => {}
    }
    lines
}

/// A forecast, a pace a line.
fn forecast(own: &Forecast, unit: &str) -> Vec<String> {
    let at = |pace: &PaceForecast, words: &str| {
        let rate = format!(
            "{words}, {} {unit} per work day",
            written(pace.in_a_work_day)
        );
        match (pace.work_days, pace.date) {
            (Some(days), Some(date)) => {
                let days = match days {
                    1 => "1 work day".into(),
                    days => format!("{days} work days"),
                };
                format!("{rate}: {days} more, done on {date}")
            }
            (Some(days), None) => format!("{rate}: {days} work days more, later than anyone plans"),
            (None, _) => format!("{rate}: never done"),
        }
    };
    let of = |words: &str, pace: &PaceForecast| match &pace.surveyed {
        Some(survey) => format!("  {words} period, to \"{survey}\""),
        None => format!("  {words}"),
    };
    let mut lines = vec![at(
        &own.average,
        &format!("At the average since {}", own.since),
    )];
    match (&own.fastest, &own.slowest) {
        (Some(fastest), Some(slowest)) => {
            lines.push(at(fastest, &of("at that of the fastest", fastest)));
            lines.push(at(slowest, &of("at that of the slowest", slowest)));
        }
        _ => lines.push("  one period has a pace: there is no range yet".into()),
    }
    lines
}

/// What was dug and placed in each period, zone by zone.
fn periods(found: &Progress, item: &ItemProgress) -> Table {
    let volume = Kind::Volume(found.units.volume, found.units.decimals);
    let column = |name: &str| Column::new(name, volume.clone());
    let period = vec![
        column("dug"),
        column("placed"),
        column("filled again"),
        column("dug again"),
        column("cut to date"),
        column("fill to date"),
        column("by tolerance").on(where_any(item, |row| row.by_tolerance.value != 0.0)),
        column("unexplained").on(where_any(item, |row| row.unexplained.value != 0.0)),
        Column::new("most again", Kind::Length(Some(found.units.length), 3)).on(ShownOn::Sheet),
        Column::new("most again at", Kind::Place).on(ShownOn::Sheet),
    ];
    let several = item.surveys.iter().any(|own| own.zones.len() > 1);
    let mut rows = Vec::new();
    for survey in &item.surveys {
        for row in &survey.zones {
            rows.push(period_row(RowKind::Plain, &row.zone, survey, row));
        }
        // As the rows are shown: the quantity is the sum of them.
        let shown = survey
            .zones
            .iter()
            .map(|row| row.rounded(found.units.decimals));
        let summed = shown.reduce(|sum, row| sum.plus(&row));
        if let Some(sum) = summed.filter(|_| several) {
            rows.push(period_row(RowKind::Sum, "all zones", survey, &sum));
        }
    }
    Table {
        of: Some(("item", item.code.clone())),
        keys: vec![
            Column::text("period to"),
            Column {
                wrap: Some(DESCRIPTION),
                ..Column::text("zone")
            },
        ],
        groups: vec![Group::new("", period)],
        rows,
    }
}

fn period_row(kind: RowKind, zone: &str, survey: &SurveyProgress, row: &PeriodRow) -> Row {
    let most = row.most_again.as_ref();
    let cells = cells![
        &survey.surveyed,
        zone,
        row.dug,
        row.placed,
        row.filled_again,
        row.dug_again,
        row.cut_to_date,
        row.fill_to_date,
        row.by_tolerance,
        row.unexplained,
        most.map(|most| most.by),
        most.map(|most| Cell::Place([most.at.east, most.at.north])),
    ];
    Row::new(kind, cells)
}

/// Everybody is shown a column that any row has something in.
fn where_any(item: &ItemProgress, has: fn(&PeriodRow) -> bool) -> ShownOn {
    let mut rows = item.surveys.iter().flat_map(|own| &own.zones);
    match rows.any(has) {
        true => ShownOn::Both,
        false => ShownOn::Sheet,
    }
}

/// Where most was filled again or dug again in each period.
fn again(item: &ItemProgress) -> Vec<String> {
    let most = item.surveys.iter().filter_map(|survey| {
        let places = survey.zones.iter().filter_map(|row| {
            let most = row.most_again.as_ref()?;
            Some((row, most))
        });
        let (row, most) = places.max_by(|a, b| a.1.by.value.total_cmp(&b.1.by.value))?;
        let by = grouped(most.by.value, 2);
        let [east, north] = [most.at.east, most.at.north].map(|along| grouped(along, 1));
        let zone = match survey.zones.len() {
            0 | 1 => String::new(),
            _ => format!(" in \"{}\"", row.zone),
        };
        Some(format!(
            "To \"{}\" most was filled or dug again{zone}: {by} {} at east {east}, north {north}.",
            survey.surveyed,
            most.by.unit.symbol()
        ))
    });
    most.collect()
}

fn method(report: &mut Report) {
    let words = "To date is measured from the reference to each survey; the period is what it grew by. Between surveys is the same measured from the survey before to this one. Where earlier work was filled again or dug again, it is more than the period: cut to date grows by what was dug, less what was filled again and dug again; fill to date by what was placed, less both.";
    report.add_on(ShownOn::Page, Block::heading("How it is computed"));
    report.add_on(ShownOn::Page, Block::Paragraph(words.into()));
    let words = "The forecast goes straight on from the last survey: what is left, divided by what was done per work day on average, and at the pace of the fastest and of the slowest period. Work beyond the design is not part of it. A survey counts as made at the end of its day. ± is at 95 %.";
    report.add_on(ShownOn::Page, Block::Paragraph(words.into()));
}
