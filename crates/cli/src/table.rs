//! Tables on a terminal.

use anstyle::Style;
use comfy_table::{CellAlignment, ContentArrangement, Row, Table, presets};

/// A line of a table.
pub(crate) enum Line<R> {
    /// As it is.
    Plain(R),
    /// In a style of its own.
    Styled(R, Style),
    /// Words over all columns, above the lines they stand for.
    Heading(String),
    /// A sum of the lines above.
    Sum(R),
}

/// A table whose first column is words and whose others are figures, under a heading.
pub(crate) fn table<R: AsRef<[String]>>(heading: R, rows: Vec<R>, total: Option<R>) -> String {
    worded(1, heading, rows, total)
}

/// A table whose first columns are words, so many, and whose others are figures.
pub(crate) fn worded<R: AsRef<[String]>>(
    words: usize,
    heading: R,
    rows: Vec<R>,
    total: Option<R>,
) -> String {
    lined(
        words,
        heading,
        rows.into_iter().map(Line::Plain).collect(),
        total,
    )
}

/// The same, of lines of several kinds.
pub(crate) fn lined<R: AsRef<[String]>>(
    words: usize,
    heading: R,
    lines: Vec<Line<R>>,
    total: Option<R>,
) -> String {
    let mut table = Table::new();
    table
        .load_style(presets::NOTHING)
        .set_content_arrangement(ContentArrangement::Disabled)
        .set_header(heading.as_ref());
    let columns = heading.as_ref().len();
    let widths: Vec<usize> = (0..columns)
        .map(|column| {
            let rows = lines.iter().filter_map(Line::cells);
            let cells = rows
                .chain(total.iter().map(R::as_ref))
                .chain([heading.as_ref()]);
            let widths = cells.flat_map(|row| row[column].lines().map(|line| line.chars().count()));
            widths.max().unwrap_or(0)
        })
        .collect();
    let rule = |from: usize| {
        let dashes = |(column, &width): (usize, &usize)| match column < from {
            true => String::new(),
            false => "─".repeat(width),
        };
        widths.iter().enumerate().map(dashes).collect::<Vec<_>>()
    };
    table.add_row(rule(0));
    // Words over all columns stand in for an empty row until it is laid out.
    let mut above: Vec<String> = Vec::new();
    let mut styles: Vec<Option<Style>> = vec![None; 2];
    for line in lines {
        match line {
            Line::Plain(cells) => {
                styles.extend(vec![None; height(cells.as_ref())]);
                table.add_row(Row::from(cells.as_ref()));
            }
            Line::Styled(cells, style) => {
                styles.extend(vec![Some(style); height(cells.as_ref())]);
                table.add_row(Row::from(cells.as_ref()));
            }
            Line::Heading(words) => {
                if styles.len() > 2 {
                    styles.push(None);
                    table.add_row([""]);
                }
                styles.push(Some(Style::new().bold()));
                above.push(words);
                table.add_row([HEADING]);
            }
            Line::Sum(cells) => {
                styles.extend([None; 2]);
                table.add_row(rule(columns - 1));
                table.add_row(cells.as_ref());
            }
        }
    }
    if let Some(total) = total {
        table.add_row(rule(0));
        table.add_row(total.as_ref());
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
    let mut above = above.into_iter();
    let laid = text.lines().enumerate().map(|(index, line)| {
        let line = match line.trim() == HEADING {
            true => format!("  {}", above.next().unwrap_or_default()),
            false => line.trim_end().to_owned(),
        };
        match styles.get(index).copied().flatten() {
            Some(style) => format!("{style}{line}{style:#}"),
            None => line,
        }
    });
    laid.collect::<Vec<_>>().join("\n")
}

/// Stands in the place of words over all columns; no cell holds it.
const HEADING: &str = "\u{1}";

impl<R: AsRef<[String]>> Line<R> {
    fn cells(&self) -> Option<&[String]> {
        match self {
            Line::Plain(cells) | Line::Styled(cells, _) | Line::Sum(cells) => Some(cells.as_ref()),
            Line::Heading(_) => None,
        }
    }
}

fn height(cells: &[String]) -> usize {
    cells
        .iter()
        .map(|cell| cell.lines().count())
        .max()
        .unwrap_or(1)
        .max(1)
}

/// Words broken into lines of so many characters at most, between words where that can be.
pub(crate) fn wrapped(words: &str, most: usize) -> String {
    let mut lines: Vec<String> = Vec::new();
    for word in words.split_whitespace() {
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

    #[test]
    fn words_are_broken_between_them() {
        assert_eq!(
            wrapped("strip topsoil to the bund", 13),
            "strip topsoil\nto the bund"
        );
        assert_eq!(wrapped("incomprehensibilities", 5), "incomprehensibilities");
    }

    #[test]
    fn headings_stand_over_all_columns() {
        let cells = |a: &str, b: &str| [a.to_owned(), b.to_owned()];
        let lines = vec![
            Line::Heading("a heading longer than the table".into()),
            Line::Plain(cells("one\nline more", "1")),
            Line::Sum(cells("sum", "1")),
        ];
        let text = lined(1, cells("what", "how much"), lines, None);
        let expected = [
            "  what       how much",
            "  ─────────  ────────",
            "  a heading longer than the table",
            "  one               1",
            "  line more",
            "             ────────",
            "  sum               1",
        ];
        let plain = anstream::adapter::strip_str(&text).to_string();
        assert_eq!(plain.lines().collect::<Vec<_>>(), expected);
    }
}
