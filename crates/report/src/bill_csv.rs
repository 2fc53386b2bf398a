//! A bill as comma-separated text, for a spreadsheet.

use std::io;

use dapedon_job::{Bill, BillItem, ItemRow};

use crate::csv_text::cell;

/// The columns.
const COLUMNS: [&str; 27] = [
    "section",
    "code",
    "row",
    "description",
    "counts",
    "reference",
    "surveyed",
    "plan area",
    "perimeter",
    "cut",
    "fill",
    "net",
    "deepest cut",
    "highest fill",
    "measured",
    "measured in",
    "state",
    "material",
    "loads",
    "quantity",
    "unit",
    "rate",
    "amount",
    "contract",
    "of contract",
    "finding",
    "line",
];

/// A bill: a line for each item, with the row `item`, and one for each row that an item is measured by.
/// Areas, cut, fill and net are unrounded; what is measured, paid and due is as it is written.
///
/// # Errors
///
/// When it cannot be written.
pub fn bill_csv(bill: &Bill) -> io::Result<Vec<u8>> {
    let mut out = csv::Writer::from_writer(Vec::new());
    out.write_record(COLUMNS)?;
    for section in &bill.sections {
        for item in &section.items {
            let rows = item.rows.iter().map(|row| (row.zone.clone(), row));
            let shared = item
                .shared
                .iter()
                .map(|row| (format!("shared: {}", row.zone), row));
            let rows = rows
                .chain(shared)
                .chain(item.in_no_plot.iter().map(|row| (row.zone.clone(), row)));
            for (name, row) in rows {
                let cells = by_row(&section.section, item, name, row);
                out.write_record(cells.map(|text| cell(&text)))?;
            }
            let cells = by_item(&section.section, item);
            out.write_record(cells.map(|text| cell(&text)))?;
        }
    }
    out.into_inner().map_err(csv::IntoInnerError::into_error)
}

fn figure<T: ToString>(value: Option<T>) -> String {
    value.map_or(String::new(), |value| value.to_string())
}

fn by_row(section: &str, item: &BillItem, name: String, row: &ItemRow) -> [String; 27] {
    let measured = row.measured.as_ref();
    let volume = measured.map(|measured| measured.volume);
    let difference = measured.and_then(|measured| measured.difference);
    let mut cells: [String; 27] = Default::default();
    let own = [
        section.into(),
        item.code.clone(),
        name,
        item.description.clone(),
        item.counts.clone(),
        item.reference.clone().unwrap_or_default(),
        item.surveyed.clone().unwrap_or_default(),
        figure(row.plan_area),
        figure(row.perimeter),
        figure(volume.map(|volume| volume.cut)),
        figure(volume.map(|volume| volume.fill)),
        figure(volume.map(|volume| volume.net)),
        figure(difference.map(|difference| (-difference.min).max(0.0))),
        figure(difference.map(|difference| difference.max.max(0.0))),
        row.written.to_string(),
        item.measured_unit.clone(),
    ];
    for (cell, own) in cells.iter_mut().zip(own) {
        *cell = own;
    }
    cells
}

fn by_item(section: &str, item: &BillItem) -> [String; 27] {
    [
        section.into(),
        item.code.clone(),
        "item".into(),
        item.description.clone(),
        item.counts.clone(),
        item.reference.clone().unwrap_or_default(),
        item.surveyed.clone().unwrap_or_default(),
        String::new(),
        String::new(),
        String::new(),
        String::new(),
        String::new(),
        String::new(),
        String::new(),
        item.measured.to_string(),
        item.measured_unit.clone(),
        item.state.as_deref().unwrap_or_default().into(),
        item.material.clone().unwrap_or_default(),
        figure(item.loads.as_ref().map(|loads| loads.count)),
        item.quantity.to_string(),
        item.unit.clone(),
        figure(item.rate),
        figure(item.amount),
        figure(item.contract),
        figure(item.share),
        item.findings.join("; "),
        item.line.to_string(),
    ]
}
