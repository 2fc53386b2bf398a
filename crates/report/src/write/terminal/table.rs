//! Tables on a terminal.

use anstyle::{AnsiColor, Style};
use comfy_table::{CellAlignment, ContentArrangement, Row, Table, presets};

use super::MARK;
use crate::report::{self, Cell, Column, Group, RowKind};
use crate::write::cells::read;

/// Stands in the place of words over all columns until a table is laid out; no cell holds it.
const SECTION: &str = "\u{1}";

/// A group of a table after the key columns, in as many parts as the width asks for.
pub(super) fn laid(table: &report::Table, group: &Group, width: Option<usize>) -> Vec<String> {
    let first = table.keys.len();
    let before: usize = (table.groups.iter())
        .take_while(|other| !std::ptr::eq(*other, group))
        .map(|group| group.columns.len())
        .sum();
    let keys: Vec<(usize, &Column)> = table.keys.iter().enumerate().collect();
    let own = group.columns.iter().enumerate();
    let own: Vec<(usize, &Column)> = own
        .map(|(index, column)| (first + before + index, column))
        .filter(|(_, column)| column.on.terminal())
        .collect();
    let wide = |&(index, column): &(usize, &Column)| {
        let cells = table.rows.iter().map(|row| shown(row, index, column));
        let cells = cells.chain([column.head.clone()]);
        let lines = cells.flat_map(|cell| {
            let widths: Vec<usize> = cell.lines().map(|line| line.chars().count()).collect();
            widths
        });
        2 + lines.max().unwrap_or(0)
    };
    let key_width: usize = keys.iter().map(wide).sum();
    let mut parts: Vec<Vec<(usize, &Column)>> = vec![keys.clone()];
    let mut used = key_width;
    for column in own {
        let own_width = wide(&column);
        let full = width.is_some_and(|width| used + own_width > width) && used > key_width;
        if full {
            parts.push(keys.clone());
            used = key_width;
        }
        used += own_width;
        if let Some(part) = parts.last_mut() {
            part.push(column);
        }
    }
    let count = parts.len();
    let parts = parts.into_iter().enumerate();
    parts
        .map(|(index, part)| {
            let text = lined(&part, &table.rows_of(&part));
            match index + 1 < count {
                true => text + "\n",
                false => text,
            }
        })
        .collect()
}

/// A cell of a row as it stands in a table.
fn shown(row: &report::Row, index: usize, column: &Column) -> String {
    if row.kind == RowKind::Section {
        return String::new();
    }
    let cell = row.cells.get(index).unwrap_or(&Cell::Empty);
    let text = read(cell, column);
    let text = match column.wrap {
        Some(most) => wrapped(&text, most),
        None => text,
    };
    match column.marked && row.kind == RowKind::Off && !text.is_empty() {
        true => format!("{MARK} {text}"),
        false => text,
    }
}

fn lined(columns: &[(usize, &Column)], rows: &[&report::Row]) -> String {
    let heads: Vec<String> = columns.iter().map(|(_, c)| c.head.clone()).collect();
    let mut table = Table::new();
    table
        .load_style(presets::NOTHING)
        .set_content_arrangement(ContentArrangement::Disabled)
        .set_header(&heads);
    let cells = |row: &report::Row| -> Vec<String> {
        (columns.iter())
            .map(|&(index, column)| shown(row, index, column))
            .collect()
    };
    let widths: Vec<usize> = (0..columns.len())
        .map(|column| {
            let rows = rows.iter().map(|row| cells(row)[column].clone());
            let all = rows.chain([heads[column].clone()]);
            let widths = all.map(|cell| cell.lines().map(|l| l.chars().count()).max());
            widths.flatten().max().unwrap_or(0)
        })
        .collect();
    let rule = |from: usize| -> Vec<String> {
        let dashes = |(column, &width): (usize, &usize)| match column < from {
            true => String::new(),
            false => "─".repeat(width),
        };
        widths.iter().enumerate().map(dashes).collect()
    };
    table.add_row(rule(0));
    let red = Style::new().bold().fg_color(Some(AnsiColor::Red.into()));
    let mut sections: Vec<String> = Vec::new();
    let mut styles: Vec<Option<Style>> = vec![None; 2];
    let mut add = |table: &mut Table, cells: Vec<String>, style: Option<Style>| {
        let tall = cells.iter().map(|cell| cell.lines().count()).max();
        styles.extend(vec![style; tall.unwrap_or(1).max(1)]);
        table.add_row(Row::from(cells));
    };
    for (index, row) in rows.iter().enumerate() {
        match row.kind {
            RowKind::Plain => add(&mut table, cells(row), None),
            RowKind::Off => add(&mut table, cells(row), Some(red)),
            RowKind::Section => {
                if index > 0 {
                    add(&mut table, vec![String::new()], None);
                }
                let words = row.cells.first().unwrap_or(&Cell::Empty);
                sections.push(match words {
                    Cell::Text(words) => words.clone(),
                    _ => String::new(),
                });
                add(&mut table, vec![SECTION.into()], Some(Style::new().bold()));
            }
            RowKind::Sum => {
                add(&mut table, rule(columns.len().saturating_sub(1)), None);
                add(&mut table, cells(row), None);
            }
            RowKind::Total => {
                add(&mut table, rule(0), None);
                add(&mut table, cells(row), None);
            }
        }
    }
    for (index, column) in table.column_iter_mut().enumerate() {
        column.set_padding((if index == 0 { 2 } else { 1 }, 1));
        let words = columns
            .get(index)
            .is_none_or(|(_, column)| column.kind.is_words());
        column.set_cell_alignment(match words {
            true => CellAlignment::Left,
            false => CellAlignment::Right,
        });
    }
    let text = table.to_string();
    let mut sections = sections.into_iter();
    let laid = text.lines().enumerate().map(|(index, line)| {
        let line = match line.trim() == SECTION {
            true => format!("  {}", sections.next().unwrap_or_default()),
            false => line.trim_end().to_owned(),
        };
        match styles.get(index).copied().flatten() {
            Some(style) => format!("{style}{line}{style:#}"),
            None => line,
        }
    });
    laid.collect::<Vec<_>>().join("\n")
}

/// Words broken into lines of so many characters at most, between words where that can be.
pub(super) fn wrapped(words: &str, most: usize) -> String {
    let mut lines: Vec<String> = Vec::new();
    for word in words.split([' ', '\n']).filter(|word| !word.is_empty()) {
        match lines.last_mut() {
            Some(line) if line.chars().count() + 1 + word.chars().count() <= most => {
                line.push(' ');
                line.push_str(word);
            }
            _ => lines.push(word.into()),
        }
    }
    lines.join("\n")
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::report::{Kind, Row};

    #[test]
    fn words_are_broken_between_them() {
        assert_eq!(
            wrapped("strip topsoil to the bund", 13),
            "strip topsoil\nto the bund"
        );
        assert_eq!(wrapped("incomprehensibilities", 5), "incomprehensibilities");
    }

    fn row(kind: RowKind, cells: [&str; 3]) -> Row {
        let cells = cells.map(Cell::from).to_vec();
        Row::new(kind, cells)
    }

    fn table() -> report::Table {
        report::Table {
            keys: vec![Column::text("what")],
            groups: vec![Group::new(
                "",
                vec![
                    Column::new("how much", Kind::Count),
                    Column::new("of it", Kind::Count),
                ],
            )],
            rows: vec![
                Row::section("a heading longer than the table"),
                row(RowKind::Plain, ["one", "1", "2"]),
                row(RowKind::Sum, ["sum", "1", "22"]),
            ],
            ..report::Table::default()
        }
    }

    fn plain(parts: &[String]) -> Vec<String> {
        let text = parts.join("\n");
        let plain = anstream::adapter::strip_str(&text).to_string();
        plain.lines().map(Into::into).collect()
    }

    #[test]
    fn sections_stand_over_all_columns() {
        let table = table();
        let parts = laid(&table, &table.groups[0], None);
        let expected = [
            "  what  how much  of it",
            "  ────  ────────  ─────",
            "  a heading longer than the table",
            "  one          1      2",
            "                  ─────",
            "  sum          1     22",
        ];
        assert_eq!(plain(&parts), expected);
    }

    #[test]
    fn columns_give_way_where_it_is_narrow() {
        let table = table();
        let parts = laid(&table, &table.groups[0], Some(17));
        assert_eq!(parts.len(), 2);
        let text = plain(&parts);
        assert_eq!(text[0], "  what  how much");
        assert!(text.contains(&"  what  of it".to_owned()), "{text:?}");
        assert!(text.contains(&"  sum      22".to_owned()), "{text:?}");
    }
}
