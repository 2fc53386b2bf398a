//! A report as a workbook: a sheet for each part, figures as values, and what follows from them as formulas.

mod formats;
mod formula_text;
mod inputs;
mod names;
mod sheet;
mod tables;

use rust_xlsxwriter::{DocProperties, ExcelDateTime, Workbook};

use crate::ReportError;
use crate::report::{Block, Report};
use formats::Formats;
use names::SheetNames;
use sheet::Sheet;

/// A report as a workbook under a title. The same report makes the same bytes: no clock is asked.
///
/// What a cell follows from is a formula, and its figure the one that was computed here, so that a viewer that computes nothing shows it too.
///
/// # Errors
///
/// When a table has more rows than a sheet, or a picture cannot be drawn.
pub fn workbook(report: &Report, title: &str) -> Result<Vec<u8>, ReportError> {
    let mut book = Workbook::new();
    let formats = Formats::new();
    let mut names = SheetNames::default();
    let properties = DocProperties::new()
        .set_title(title)
        .set_creation_datetime(&ExcelDateTime::from_ymd(2000, 1, 1)?);
    book.set_properties(&properties);
    let mut summary = Sheet::new(names.free("Summary"), title, &formats)?;
    summary.summary(report, title)?;
    book.push_worksheet(summary.done()?);
    for part in parts(report) {
        let mut sheet = Sheet::new(names.free(part.name), title, &formats)?;
        for block in part.blocks {
            sheet.block(block)?;
        }
        book.push_worksheet(sheet.done()?);
    }
    if !report.inputs.is_empty() {
        let mut sheet = Sheet::new(names.free("Inputs"), title, &formats)?;
        sheet.table(&inputs::table(&report.inputs))?;
        book.push_worksheet(sheet.done()?);
    }
    Ok(book.save_to_buffer()?)
}

/// A part of a report that has a sheet of its own.
struct Part<'r> {
    name: &'r str,
    blocks: Vec<&'r Block>,
}

/// The parts of a report: what stands below each heading, where a spreadsheet has any of it. Blocks before the first heading are the first part.
fn parts(report: &Report) -> Vec<Part<'_>> {
    let mut parts = vec![Part {
        name: "Results",
        blocks: Vec::new(),
    }];
    for (on, block) in &report.blocks {
        match block {
            Block::Heading {
                words,
                small: false,
            } if on.page() => parts.push(Part {
                name: words,
                blocks: Vec::new(),
            }),
            Block::Heading { small: false, .. } => {}
            // The inputs have a sheet at the end.
            Block::Inputs => {}
            _ if on.sheet() => {
                if let Some(part) = parts.last_mut() {
                    part.blocks.push(block);
                }
            }
            _ => {}
        }
    }
    let has_any = |part: &Part<'_>| {
        let small = |block: &&Block| matches!(block, Block::Heading { .. });
        part.blocks.iter().any(|block| !small(block))
    };
    parts.retain(has_any);
    parts
}
