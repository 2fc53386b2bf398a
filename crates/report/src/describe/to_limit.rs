//! Work counted up to a limit: what is within it, beyond it, and left.

use dapedon_job::{Bill, BillItem, LimitFacts, ToLimit, WorkToLimit};

use super::bill::DESCRIPTION;
use super::cells;
use crate::number::grouped;
use crate::report::{Block, Cell, Column, Group, Kind, Report, Row, RowKind, Table};

/// Adds it to a report.
pub(super) fn work_to_limit(bill: &Bill, report: &mut Report) {
    let items: Vec<(&BillItem, &LimitFacts, &ToLimit)> = bill
        .items()
        .filter_map(|item| Some((item, item.limit.as_ref()?, item.to_limit.as_ref()?)))
        .collect();
    if items.is_empty() {
        return;
    }
    report.heading("Work to the limit");
    let words = "Within the limit, and beyond it, add up to what was done; within the limit, and left, to what was to be done. Ground that was placed where digging was asked for is beyond the limit of the fill, and leaves the digging still to do.";
    report.add(Block::Paragraph(words.into()));
    let volume = Kind::Volume(bill.units.volume, bill.units.decimals);
    let length = Kind::Length(Some(bill.units.length), 3);
    let columns = vec![
        Column::new("done within the limit", volume.clone()).head("within"),
        Column::new("done within the tolerance beyond the limit", volume.clone())
            .head("in tolerance"),
        Column::new("done beyond", volume.clone()).head("beyond"),
        Column::new("left to do", volume.clone()).head("left"),
    ];
    let farthest = vec![
        Column::new("most beyond", length.clone()).head(format!("by, {}", length.symbol())),
        Column::new("most beyond at", Kind::Place).head("at east / north"),
    ];
    let mut rows = Vec::new();
    for (item, _, whole) in &items {
        let ways = ways(item);
        for row in &item.rows {
            if let Some(own) = &row.to_limit {
                rows.extend(
                    ways.iter()
                        .map(|way| cells_of(item, &row.zone, way, own, RowKind::Plain)),
                );
            }
        }
        if item.rows.len() > 1 {
            rows.extend(
                ways.iter()
                    .map(|way| cells_of(item, "total", way, whole, RowKind::Total)),
            );
        }
    }
    report.add(Block::Table(Table {
        of: None,
        keys: vec![
            Column::text("item"),
            Column {
                wrap: Some(DESCRIPTION),
                ..Column::text("zone")
            },
            Column::text("way"),
        ],
        groups: vec![
            Group::new(format!("Volume, {}", volume.symbol()), columns),
            Group::new("Most beyond the limit", farthest),
        ],
        rows,
    }));
    let lines = items
        .iter()
        .map(|(item, limit, _)| allowed(item, limit, bill));
    report.add(Block::Lines(lines.collect()));
}

/// Up to which surface an item is paid.
fn allowed(item: &BillItem, limit: &LimitFacts, bill: &Bill) -> String {
    let tolerance = match limit.tolerance.value {
        0.0 => String::new(),
        height => format!(
            ", with a tolerance of {} {}, which is {}paid",
            grouped(height, 3),
            bill.units.length.symbol(),
            if limit.pays_tolerance { "" } else { "not " }
        ),
    };
    format!(
        "Item {} is paid up to \"{}\"{tolerance}.",
        item.code, limit.surface
    )
}

/// The ways that an item counts.
fn ways(item: &BillItem) -> &'static [&'static str] {
    match item.measure.as_str() {
        measure if measure.starts_with("cut") => &["cut"],
        measure if measure.starts_with("fill") => &["fill"],
        _ => &["cut", "fill"],
    }
}

fn cells_of(item: &BillItem, zone: &str, way: &str, own: &ToLimit, kind: RowKind) -> Row {
    let own: &WorkToLimit = match way {
        "cut" => &own.cut,
        _ => &own.fill,
    };
    let mut cells = cells![&item.code, zone, way];
    cells.extend(cells![own.within, own.in_tolerance, own.beyond, own.left]);
    cells.extend(match &own.farthest {
        Some(farthest) => [
            Cell::from(farthest.by),
            Cell::Place([farthest.at.east, farthest.at.north]),
        ],
        None => [Cell::Empty, Cell::Empty],
    });
    Row::new(kind, cells)
}
