//! How cells look: figures with their decimals and unit, heads, sums.

use rust_decimal::Decimal;
use rust_xlsxwriter::{Format, FormatAlign, FormatBorder};

use crate::report::{Cell, Column, Kind, RowKind};

/// Formats that do not depend on a cell.
pub(super) struct Formats {
    pub(super) title: Format,
    pub(super) heading: Format,
    pub(super) small_heading: Format,
    pub(super) words: Format,
    pub(super) head: Format,
    pub(super) head_of_figures: Format,
}

/// The colour of rules and of rows that are not as they should be.
const RULE: u32 = 0x9A_948A;
const OFF: u32 = 0xFB_E9DD;

impl Formats {
    pub(super) fn new() -> Self {
        let top = Format::new().set_align(FormatAlign::Top);
        let bold = || top.clone().set_bold();
        let head = bold()
            .set_text_wrap()
            .set_border_bottom(FormatBorder::Medium)
            .set_border_bottom_color(RULE);
        Formats {
            title: bold().set_font_size(16),
            heading: bold().set_font_size(13),
            small_heading: bold(),
            words: top.clone(),
            head_of_figures: head.clone().set_align(FormatAlign::Right),
            head,
        }
    }
}

/// The format of a cell.
pub(super) fn of(cell: &Cell, column: &Column, row: RowKind, indented: bool) -> Format {
    let format = Format::new().set_align(FormatAlign::Top);
    let format = match row {
        RowKind::Plain | RowKind::Section => format,
        RowKind::Off => format.set_background_color(OFF),
        RowKind::Sum => format
            .set_border_top(FormatBorder::Thin)
            .set_border_top_color(RULE),
        RowKind::Total => format
            .set_bold()
            .set_border_top(FormatBorder::Medium)
            .set_border_top_color(RULE),
    };
    match (cell, &column.kind) {
        (Cell::Empty, _) => format,
        // Beside a figure words need room.
        (Cell::Text(_), _) => format
            .set_text_wrap()
            .set_align(FormatAlign::Left)
            .set_indent(u8::from(indented)),
        (_, kind) => format.set_num_format(number(cell, kind)),
    }
}

/// How a figure is written: grouped, with its decimals, and its unit behind it.
fn number(cell: &Cell, kind: &Kind) -> String {
    let digits = |decimals: usize| match decimals {
        0 => "#,##0".to_owned(),
        decimals => format!("#,##0.{}", "0".repeat(decimals)),
    };
    let decimals = |usual: usize| match cell {
        Cell::Written(figure) => scale(*figure),
        _ => usual,
    };
    match kind {
        Kind::Share => "0.0 %".into(),
        Kind::Power => "0.0E+00".into(),
        Kind::Money(_) => digits(decimals(2).max(2)),
        Kind::Place => digits(3),
        Kind::Degrees => digits(2),
        Kind::Count | Kind::Text => digits(decimals(0)),
        Kind::Figure(usual) | Kind::Chainage(_, usual) => digits(decimals(*usual)),
        Kind::Length(_, usual) | Kind::Area(_, usual) | Kind::Volume(_, usual) => {
            match kind.symbol() {
                "" => digits(decimals(*usual)),
                unit => format!("{}\" {unit}\"", digits(decimals(*usual))),
            }
        }
    }
}

fn scale(figure: Decimal) -> usize {
    usize::try_from(figure.scale()).unwrap_or(0)
}
