//! Tables on a terminal.

use comfy_table::{CellAlignment, ContentArrangement, Row, Table, presets};

/// A table whose first column is words and whose others are figures, under a heading.
pub(crate) fn table<const N: usize>(
    heading: [String; N],
    rows: Vec<[String; N]>,
    total: Option<[String; N]>,
) -> String {
    worded(1, heading, rows, total)
}

/// A table whose first columns are words, so many, and whose others are figures.
pub(crate) fn worded<const N: usize>(
    words: usize,
    heading: [String; N],
    rows: Vec<[String; N]>,
    total: Option<[String; N]>,
) -> String {
    let mut table = Table::new();
    table
        .load_style(presets::NOTHING)
        .set_content_arrangement(ContentArrangement::Disabled)
        .set_header(heading.clone());
    let widths: Vec<usize> = (0..N)
        .map(|column| {
            let cells = rows
                .iter()
                .chain(&total)
                .chain([&heading])
                .map(|row| row[column].chars().count());
            cells.max().unwrap_or(0)
        })
        .collect();
    let rule = || {
        widths
            .iter()
            .map(|&width| "─".repeat(width))
            .collect::<Vec<_>>()
    };
    table.add_row(rule());
    table.add_rows(rows.into_iter().map(Row::from));
    if let Some(total) = total {
        table.add_row(rule());
        table.add_row(total);
    }
    for (index, column) in table.column_iter_mut().enumerate() {
        column.set_padding((if index == 0 { 2 } else { 1 }, 1));
        column.set_cell_alignment(if index < words {
            CellAlignment::Left
        } else {
            CellAlignment::Right
        });
    }
    let text = table.to_string();
    text.lines()
        .map(str::trim_end)
        .collect::<Vec<_>>()
        .join("\n")
}
