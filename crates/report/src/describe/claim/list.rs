//! The claims of a job, one line each.

use dapedon_job::{ClaimList, ClaimStatus};

use super::super::cells;
use crate::report::{Block, Column, Group, Headline, Kind, Report, Row, RowKind, ShownOn, Table};

/// The claims of a job.
pub fn claim_list(list: &ClaimList) -> Report {
    let issued = list
        .claims
        .iter()
        .filter(|own| own.status == ClaimStatus::Issued);
    let mut report = Report {
        lead: vec!["Payment claims of the job.".into()],
        job: Some(list.job.clone()),
        headlines: vec![Headline {
            label: "Issued".into(),
            figure: format!("{} of {}", issued.count(), list.claims.len()),
            words: String::new(),
        }],
        ..Report::default()
    };
    let currency = || Kind::Money(list.currency.clone());
    let columns = vec![
        Column::text("date"),
        Column::text("from"),
        Column::text("to"),
        Column::text("status"),
        Column::new("gross to date", currency()),
        Column::new("due", currency()),
        Column::new("to be paid", currency()),
        Column::text("record"),
        Column::text("SHA-256").on(ShownOn::Sheet),
    ];
    let rows = list.claims.iter().map(|own| {
        let status = match own.status {
            ClaimStatus::Draft => "draft",
            ClaimStatus::Issued => "issued",
        };
        let cells = cells![
            own.number.to_string(),
            own.date.to_string(),
            own.period.from.to_string(),
            own.period.to.to_string(),
            status,
            own.gross,
            own.due,
            own.payable,
            own.record.as_ref(),
            own.digest.as_ref(),
        ];
        Row::new(RowKind::Plain, cells)
    });
    report.add(Block::Table(Table {
        of: None,
        keys: vec![Column::text("claim")],
        groups: vec![Group::new("", columns)],
        rows: rows.collect(),
    }));
    let digests = list.claims.iter().filter_map(|own| {
        let digest = own.digest.as_ref()?;
        Some(format!("claim {}  SHA-256 {digest}", own.number))
    });
    report.add_on(ShownOn::Terminal, Block::Lines(digests.collect()));
    report
}
