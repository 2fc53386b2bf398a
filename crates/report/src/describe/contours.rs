//! Contours, level by level.

use dapedon_job::{ContourLevel, Contours};

use super::{cells, count};
use crate::report::{
    Block, Column, Group, Headline, Input, Kind, Picture, Report, Row, RowKind, ShownOn, Table,
};

/// Decimals of heights and lengths.
const DECIMALS: usize = 3;

/// The contours of a surface, or of a difference, with pictures of them.
pub fn contours(found: &Contours, pictures: Vec<Picture>) -> Report {
    let symbol = found.units.length.symbol();
    let of = match &found.from {
        Some(from) => format!(
            "the difference from {} to {}",
            from.source, found.surface.source
        ),
        None => found.surface.source.clone(),
    };
    let every = match (found.interval, found.index_interval) {
        (Some(interval), Some(index)) => format!(
            " every {} {symbol}, index contours every {} {symbol}",
            interval.value, index.value
        ),
        (Some(interval), None) => format!(" every {} {symbol}", interval.value),
        (None, _) => String::new(),
    };
    let lines: usize = found.levels.iter().map(|level| level.lines).sum();
    let mut report = Report {
        lead: vec![format!("Contours of {of}{every}.")],
        job: found.job.clone(),
        headlines: vec![Headline {
            label: "Lines".into(),
            figure: count(lines),
            words: String::new(),
        }],
        inputs: inputs(found),
        findings: found.warnings.clone(),
        ..Report::default()
    };
    report.pictures("Map", pictures);
    report.add_on(ShownOn::Terminal, Block::Paragraph(report.lead.join(" ")));
    report.add(Block::Table(levels(found)));
    let [low, high] = found.range.map(|height| height.value);
    let what = if found.from.is_some() {
        "Differences"
    } else {
        "Heights"
    };
    report.add(Block::Paragraph(format!(
        "{what} {low:.DECIMALS$} to {high:.DECIMALS$} {symbol}."
    )));
    if found.left_out > 0 {
        let words = format!("{} shorter lines are left out.", count(found.left_out));
        report.add(Block::Paragraph(words));
    }
    report.add_on(ShownOn::Page, Block::heading("Measured from"));
    report.add(Block::Inputs);
    report
}

fn inputs(found: &Contours) -> Vec<Input> {
    let sides = match &found.from {
        Some(from) => vec![Input::side("From", from), Input::side("To", &found.surface)],
        None => vec![Input::side("Surface", &found.surface)],
    };
    let lines = Input::lines(&found.line_files);
    sides.into_iter().chain(lines).collect()
}

fn levels(found: &Contours) -> Table {
    let length = Kind::Length(Some(found.units.length), DECIMALS);
    let columns = vec![
        Column::text("kind"),
        Column::new("lines", Kind::Count),
        Column::new("closed", Kind::Count),
        Column::new("length in plan", length.clone()),
    ];
    let row = |level: &ContourLevel| {
        let kind = if level.is_index { "index" } else { "" };
        let cells = cells![level.level, kind, level.lines, level.closed, level.length];
        Row::new(RowKind::Plain, cells)
    };
    Table {
        of: None,
        keys: vec![Column::new("level", length)],
        groups: vec![Group::new("", columns)],
        rows: found.levels.iter().map(row).collect(),
    }
}
