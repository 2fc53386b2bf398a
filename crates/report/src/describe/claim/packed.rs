//! What was packed of claims.

use dapedon_job::Packed;

use super::super::cells;
use crate::report::{Block, Column, Group, Headline, Kind, Report, Row, RowKind, ShownOn, Table};

/// What was packed of claims.
pub fn packed(packed: &Packed) -> Report {
    let mut report = Report {
        lead: vec![format!(
            "Claim {} with all before it, packed into {}.",
            packed.claim, packed.path
        )],
        headlines: vec![Headline {
            label: "Files".into(),
            figure: packed.files.len().to_string(),
            words: String::new(),
        }],
        ..Report::default()
    };
    let rows = packed.files.iter().map(|own| {
        let cells = cells![&own.path, own.bytes, &own.sha256];
        Row::new(RowKind::Plain, cells)
    });
    let columns = vec![
        Column::new("bytes", Kind::Count),
        Column::text("SHA-256").on(ShownOn::Sheet),
    ];
    report.add(Block::Table(Table {
        of: None,
        keys: vec![Column::text("file")],
        groups: vec![Group::new("", columns)],
        rows: rows.collect(),
    }));
    let lines = vec![
        format!(
            "record of claim {}, SHA-256 {}",
            packed.claim, packed.digest
        ),
        format!(
            "whoever is given it checks it with: dapedon audit {}",
            packed.path
        ),
    ];
    report.add(Block::Lines(lines));
    report
}
