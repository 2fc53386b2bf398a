//! The tables of a report as comma-separated text, for a spreadsheet.

use std::io;

use crate::number::GAP;
use crate::report::{Cell, Column, Kind, Report, RowKind, Table};

/// Tables with the same columns, as one.
struct Sheet {
    columns: Vec<String>,
    rows: Vec<Vec<String>>,
}

/// All tables of a report, figures to a billionth, beyond which they are the rounding of sums; those with the same columns as one, others below each other after an empty
/// line. What a section stands for has a column of its own; sums of sections, which a spreadsheet adds up itself, are left
/// out.
///
/// # Errors
///
/// When it cannot be written.
pub fn csv(report: &Report) -> io::Result<Vec<u8>> {
    let mut sheets: Vec<Sheet> = Vec::new();
    for table in report.sheets() {
        let sheet = sheet(table);
        match sheets
            .iter_mut()
            .find(|known| known.columns == sheet.columns)
        {
            Some(known) => known.rows.extend(sheet.rows),
            None => sheets.push(sheet),
        }
    }
    let mut text = Vec::new();
    for sheet in sheets {
        if !text.is_empty() {
            text.push(b'\n');
        }
        let mut out = csv::Writer::from_writer(&mut text);
        for line in [sheet.columns].into_iter().chain(sheet.rows) {
            out.write_record(line)?;
        }
        out.flush()?;
    }
    Ok(text)
}

fn sheet(table: &Table) -> Sheet {
    let groups = table.groups.iter().flat_map(|group| {
        let on = |column: &&Column| group.on.sheet() && column.on.sheet();
        group
            .columns
            .iter()
            .map(move |column| (column, on(&column)))
    });
    let keys = table.keys.iter().map(|column| (column, column.on.sheet()));
    let columns: Vec<(usize, &Column)> = (keys.chain(groups).enumerate())
        .filter_map(|(index, (column, on))| on.then_some((index, column)))
        .collect();
    let sections = table.rows.iter().any(|row| row.kind == RowKind::Section);
    let mut names = Vec::new();
    names.extend(table.of.iter().map(|(of, _)| (*of).to_owned()));
    names.extend(sections.then(|| "section".to_owned()));
    for (_, column) in &columns {
        let code = column.kind.code();
        let name = format!("{} {code}", column.name);
        let name = safe(name.trim_end());
        match column.kind {
            Kind::Place => names.extend([format!("{name} east"), format!("{name} north")]),
            _ => names.push(name),
        }
    }
    let (mut section, mut rows) = (String::new(), Vec::new());
    for row in &table.rows {
        match (row.kind, row.cells.first()) {
            (RowKind::Section, Some(Cell::Text(words))) => section = safe(words),
            (RowKind::Section | RowKind::Sum, _) => {}
            _ => {
                let mut line = Vec::new();
                line.extend(table.of.iter().map(|(_, name)| safe(name)));
                line.extend(sections.then(|| match row.kind {
                    RowKind::Total => String::new(),
                    _ => section.clone(),
                }));
                for &(index, column) in &columns {
                    let cell = row.cells.get(index).unwrap_or(&Cell::Empty);
                    line.extend(cells(column, cell));
                }
                rows.push(line);
            }
        }
    }
    Sheet {
        columns: names,
        rows,
    }
}

/// A cell, or two of a place.
fn cells(column: &Column, cell: &Cell) -> Vec<String> {
    match (cell, &column.kind) {
        (Cell::Place(place), _) => place.map(plain).to_vec(),
        (_, Kind::Place) => vec![String::new(); 2],
        (Cell::Empty, _) => vec![String::new()],
        (Cell::Text(words), Kind::Text) => vec![safe(words)],
        // Words in place of a figure are for people.
        (Cell::Text(_), _) => vec![String::new()],
        (Cell::Number(figure), _) => vec![plain(*figure)],
        (Cell::Written(figure), _) => vec![figure.to_string()],
    }
}

/// A figure without zeros at its end.
fn plain(figure: f64) -> String {
    let text = format!("{figure:.9}");
    let text = text.trim_end_matches('0').trim_end_matches('.');
    match text {
        "-0" => "0".into(),
        text => text.into(),
    }
}

/// A text as it may stand in a cell: one that a spreadsheet would take for a formula has an apostrophe before it, as people
/// type to say that it is none.
///
/// What a program would run begins with an equals sign, a plus, a minus, an at sign, a tab or a return; before it there
/// may be spaces.
fn safe(text: &str) -> String {
    let text = text.replace(GAP, " ");
    let formula =
        text.trim_start().starts_with(['=', '+', '-', '@']) || text.starts_with(['\t', '\r']);
    match formula && text.parse::<f64>().is_err() {
        true => format!("'{text}"),
        false => text,
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::report::{Block, Group, Row};
    use dapedon_core::units::AreaUnit;

    #[test]
    fn formulas_are_text() {
        for text in [
            "=1+1",
            "+A1",
            "-cmd|x",
            "@SUM(A1)",
            "\t=1",
            " =HYPERLINK(0)",
            "=",
            "\r=1",
        ] {
            assert_eq!(safe(text), format!("'{text}"));
        }
        for text in ["pile", "", "2.1", "-2.5", "+3", "a=b", "1e3"] {
            assert_eq!(safe(text), text);
        }
    }

    /// A table of one row, with a section above it.
    fn table(of: &str, column: &str) -> Block {
        Block::Table(Table {
            of: Some(("item", of.into())),
            keys: vec![Column::text("zone")],
            groups: vec![Group::new(
                "",
                vec![
                    Column::new(column, Kind::Area(AreaUnit::SquareMetre, 1)),
                    Column::new("lowest", Kind::Place),
                ],
            )],
            rows: vec![
                Row::section("west"),
                Row::new(
                    RowKind::Plain,
                    vec!["a".into(), Cell::Number(0.1), Cell::Place([1.0, 2.5])],
                ),
                Row::new(
                    RowKind::Sum,
                    vec!["sum".into(), Cell::Number(0.1), Cell::Empty],
                ),
            ],
        })
    }

    #[test]
    fn tables_of_the_same_columns_are_one() {
        let mut report = Report::default();
        for block in [table("1", "area"), table("2", "area"), table("3", "slope")] {
            report.add(block);
        }
        let text = String::from_utf8(csv(&report).unwrap()).unwrap();
        let expected = [
            "item,section,zone,area m2,lowest east,lowest north",
            "1,west,a,0.1,1,2.5",
            "2,west,a,0.1,1,2.5",
            "",
            "item,section,zone,slope m2,lowest east,lowest north",
            "3,west,a,0.1,1,2.5",
        ];
        assert_eq!(text.lines().collect::<Vec<_>>(), expected);
    }
}
