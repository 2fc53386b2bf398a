//! What was measured from, as a table: each file with its size and digest.

use dapedon_job::InputFile;

use crate::report::{Cell, Column, Group, Input, InputOf, Kind, Row, RowKind, Table};

/// The files of some inputs.
pub(super) fn table(inputs: &[Input]) -> Table {
    let mut rows = Vec::new();
    for input in inputs {
        match &input.of {
            InputOf::Side(side) => {
                let files = side.files();
                for file in &files {
                    add(&mut rows, &input.role, &side.source, file);
                }
                if files.is_empty() {
                    rows.push(row(&input.role, &side.source, None));
                }
            }
            InputOf::File(file) => add(&mut rows, &input.role, "", file),
        }
    }
    Table {
        of: None,
        keys: vec![Column::text("used as"), Column::text("name")],
        groups: vec![Group::new(
            "",
            vec![
                Column::text("file"),
                Column::text("format"),
                Column::new("bytes", Kind::Count),
                Column::text("SHA-256"),
            ],
        )],
        rows,
    }
}

fn add(rows: &mut Vec<Row>, role: &str, name: &str, file: &InputFile) {
    rows.push(row(role, name, Some(file)));
    for other in &file.other_files {
        rows.push(row(role, name, Some(other)));
    }
}

fn row(role: &str, name: &str, file: Option<&InputFile>) -> Row {
    let text = |of: fn(&InputFile) -> &String| file.map_or(Cell::Empty, |file| of(file).into());
    let cells = vec![
        role.into(),
        name.into(),
        text(|file| &file.path),
        text(|file| &file.format),
        file.map_or(Cell::Empty, |file| file.bytes.into()),
        text(|file| &file.sha256),
    ];
    Row::new(RowKind::Plain, cells)
}
