//! What an audit found: of each claim its record, its inputs and its figures.

use dapedon_job::{Audit, AuditedClaim, FileState, MovedFigure, Verdict};

use super::cells;
use crate::number::grouped;
use crate::report::{Block, Column, Group, Headline, Kind, Report, Row, RowKind, ShownOn, Table};

/// So many figures that moved are listed of a claim; all of them are in the JSON.
const LISTED: usize = 12;

/// What an audit found.
pub fn audit(found: &Audit) -> Report {
    let same = found
        .claims
        .iter()
        .filter(|own| own.verdict == Verdict::Same);
    let mut report = Report {
        lead: vec![format!(
            "Issued claims in {}, rebuilt from their inputs.",
            found.folder
        )],
        headlines: vec![
            Headline {
                label: "As they were issued".into(),
                figure: format!("{} of {} claims", same.count(), found.claims.len()),
                words: String::new(),
            },
            Headline {
                label: "Audit".into(),
                figure: if found.passed { "passed" } else { "failed" }.into(),
                words: String::new(),
            },
        ],
        ..Report::default()
    };
    report.add(Block::Table(claims(found)));
    let digests = found.claims.iter().filter_map(|own| {
        let digest = own.digest.as_ref()?;
        Some(format!("claim {}  SHA-256 {digest}", own.number))
    });
    report.add_on(ShownOn::Terminal, Block::Lines(digests.collect()));
    for own in &found.claims {
        let told = of_claim(own, &found.tool);
        if !told.is_empty() {
            report.heading(format!("Claim {}", own.number));
            report.add(Block::Lines(told));
        }
    }
    if !found.manifest.is_empty() {
        report.heading("The pack");
        report.add(Block::Lines(found.manifest.clone()));
    }
    if !found.printed.is_empty() {
        report.heading("Printed digests");
        report.add(Block::Lines(found.printed.clone()));
    }
    report
}

fn claims(found: &Audit) -> Table {
    let columns = vec![
        Column::text("found").marked(),
        Column::new("files the same", Kind::Count),
        Column::new("files", Kind::Count),
        Column::new("figures that moved", Kind::Count),
        Column::text("issued by version"),
        Column::text("signature"),
        Column::text("SHA-256 of the record").on(ShownOn::Page),
    ];
    let rows = found.claims.iter().map(|own| {
        let kind = match own.verdict {
            Verdict::Same => RowKind::Plain,
            _ => RowKind::Off,
        };
        let same = own
            .files
            .iter()
            .filter(|file| file.state == FileState::Same);
        let cells = cells![
            own.number.to_string(),
            own.verdict.words(),
            same.count(),
            own.files.len(),
            own.moved.len(),
            own.tool.as_ref(),
            own.signature.as_ref(),
            own.digest.as_ref(),
        ];
        Row::new(kind, cells)
    });
    Table {
        of: None,
        keys: vec![Column::text("claim")],
        groups: vec![Group::new("", columns)],
        rows: rows.collect(),
    }
}

/// What is to be said of a claim, a line each.
fn of_claim(own: &AuditedClaim, tool: &str) -> Vec<String> {
    let mut told: Vec<String> = (own.faults.iter())
        .map(|fault| format!("{}: {fault}", own.record))
        .collect();
    for file in &own.files {
        match file.state {
            FileState::Same => {}
            FileState::Missing => told.push(format!("{}: missing", file.path)),
            FileState::Changed => {
                let now = file.bytes_now.unwrap_or_default();
                let sizes = match now == file.bytes {
                    true => "the same size, other bytes".into(),
                    false => format!(
                        "{} bytes when the claim was issued, {} now",
                        grouped(file.bytes as f64, 0),
                        grouped(now as f64, 0)
                    ),
                };
                told.push(format!("{}: changed, {sizes}", file.path));
            }
        }
    }
    if let Some(issued_by) = own.tool.as_ref().filter(|version| *version != tool) {
        told.push(format!(
            "issued by version {issued_by}, rebuilt by version {tool}"
        ));
    }
    if let Some(why) = &own.not_rebuilt {
        told.push(format!("not rebuilt: {why}"));
    }
    told.extend(own.moved.iter().take(LISTED).map(words));
    if own.moved.len() > LISTED {
        let more = own.moved.len().saturating_sub(LISTED);
        told.push(format!("and {more} more figures; --json lists all"));
    }
    told
}

/// A figure that moved, in words.
fn words(own: &MovedFigure) -> String {
    let none = || "nothing".to_owned();
    let recorded = own.recorded.clone().unwrap_or_else(none);
    let rebuilt = own.rebuilt.clone().unwrap_or_else(none);
    let by = own.moved.filter(|by| *by != 0.0);
    let by = by.map_or(String::new(), |by| format!(", by {}", signed(by)));
    format!("{}: {recorded} recorded, {rebuilt} rebuilt{by}", own.figure)
}

fn signed(by: f64) -> String {
    let sign = if by < 0.0 { "−" } else { "+" };
    let size = by.abs();
    match size >= 0.005 {
        true => format!("{sign}{}", grouped(size, 2)),
        false => format!("{sign}{size:.1e}"),
    }
}
