//! A table on a sheet: its groups side by side, figures as values, and formulas where cells follow from others.

use dapedon_contract::binary;
use rust_xlsxwriter::{Format, Formula as Written};

use super::formats;
use super::formula_text::Grid;
use super::sheet::{Sheet, cut};
use crate::ReportError;
use crate::report::{Cell, Column, Kind, Row, RowKind, Table};
use crate::write::cells::read;

/// The rows of a sheet.
const MOST_ROWS: u32 = 1_048_576;

impl Sheet<'_> {
    /// A table below what is there.
    pub(super) fn table(&mut self, table: &Table) -> Result<(), ReportError> {
        if table.is_empty() {
            return Ok(());
        }
        let rows = u32::try_from(table.rows.len()).unwrap_or(u32::MAX);
        // With its heads, and what stands between tables.
        if self.row.saturating_add(rows).saturating_add(4) > MOST_ROWS {
            let rows = table.rows.len();
            return Err(ReportError::TooManyRows { rows });
        }
        self.gap();
        if let Some((of, name)) = &table.of {
            let words = format!("{of} {name}");
            let format = self.formats.small_heading.clone();
            self.page
                .write_string_with_format(self.row, 0, cut(&words), &format)?;
            self.row = self.row.saturating_add(1);
        }
        let (shown, printed) = shown(table);
        if printed < shown.len() {
            let pairs = |columns: &[(usize, &Column)]| {
                let places = columns.iter().filter(|(_, own)| own.kind == Kind::Place);
                columns.len().saturating_add(places.count())
            };
            let own = pairs(shown.get(..printed).unwrap_or_default());
            self.printed = Some(self.printed.map_or(own, |known| known.max(own)));
        }
        self.heads.push(self.row);
        let mut columns = vec![None; cells_of(table)];
        let mut at = 0u16;
        for &(cell, column) in &shown {
            if let Some(own) = columns.get_mut(cell) {
                *own = Some(at);
            }
            at = at.saturating_add(self.head(at, column)?);
        }
        self.row = self.row.saturating_add(1);
        let grid = Grid {
            table,
            first_row: self.row,
            columns,
        };
        for (number, row) in table.rows.iter().enumerate() {
            self.row_of(&grid, number, row, &shown)?;
            self.row = self.row.saturating_add(1);
        }
        Ok(())
    }

    /// The head of a column; how many columns of the sheet it takes.
    fn head(&mut self, at: u16, column: &Column) -> Result<u16, ReportError> {
        let format = match column.kind {
            Kind::Text => self.formats.head.clone(),
            _ => self.formats.head_of_figures.clone(),
        };
        let unit = match column.kind.symbol() {
            "" => String::new(),
            symbol => format!(", {symbol}"),
        };
        let names = match column.kind {
            Kind::Place => vec![
                format!("{} east", column.name),
                format!("{} north", column.name),
            ],
            _ => vec![format!("{}{unit}", column.name)],
        };
        let mut next = at;
        for name in names {
            let longest = name
                .split_whitespace()
                .map(|word| word.chars().count())
                .max();
            self.wide(usize::from(next), longest.unwrap_or(0));
            self.broken(usize::from(next), &name);
            self.page
                .write_string_with_format(self.row, next, cut(&name), &format)?;
            next = next.saturating_add(1);
        }
        Ok(next.saturating_sub(at))
    }

    fn row_of(
        &mut self,
        grid: &Grid<'_>,
        number: usize,
        row: &Row,
        shown: &[(usize, &Column)],
    ) -> Result<(), ReportError> {
        if row.kind == RowKind::Section {
            if let Some(Cell::Text(words)) = row.cells.first() {
                let format = self.formats.small_heading.clone();
                self.page
                    .write_string_with_format(self.row, 0, cut(words), &format)?;
            }
            return Ok(());
        }
        for &(index, column) in shown {
            let Some(at) = grid.columns.get(index).copied().flatten() else {
                continue;
            };
            let cell = row.cells.get(index).unwrap_or(&Cell::Empty);
            let format = formats::of(cell, column, row.kind, at > 0);
            let formula = row.formulas.iter().find(|(own, _)| *own == index);
            let formula = formula.and_then(|(_, own)| grid.text(number, index, own));
            self.cell(at, cell, column, &format, formula)?;
        }
        Ok(())
    }

    fn cell(
        &mut self,
        at: u16,
        cell: &Cell,
        column: &Column,
        format: &Format,
        formula: Option<String>,
    ) -> Result<(), ReportError> {
        let row = self.row;
        // A figure has its unit behind it.
        let unit = column.kind.symbol().chars().count();
        let letters = read(cell, column).chars().count().saturating_add(unit);
        self.wide(usize::from(at), letters);
        let figure = match cell {
            Cell::Empty => {
                self.page.write_blank(row, at, format)?;
                return Ok(());
            }
            Cell::Text(words) => {
                self.broken(usize::from(at), words);
                self.page
                    .write_string_with_format(row, at, cut(words), format)?;
                return Ok(());
            }
            Cell::Place(place) => {
                for (column, along) in (at..).zip(place) {
                    self.wide(usize::from(column), 13);
                    self.page
                        .write_number_with_format(row, column, *along, format)?;
                }
                return Ok(());
            }
            Cell::Number(figure) => *figure,
            Cell::Written(figure) => binary(*figure),
        };
        match formula {
            // What is no number is no figure of a spreadsheet.
            _ if !figure.is_finite() => {
                self.page
                    .write_string_with_format(row, at, read(cell, column), format)?;
            }
            None => {
                self.page
                    .write_number_with_format(row, at, figure, format)?;
            }
            Some(text) => {
                let formula = Written::new(text).set_result(figure.to_string());
                self.page
                    .write_formula_with_format(row, at, formula, format)?;
            }
        }
        Ok(())
    }
}

/// The columns that a spreadsheet has, by the number of their cells: those that people read before the others; and how many those are.
fn shown(table: &Table) -> (Vec<(usize, &Column)>, usize) {
    let groups = table.groups.iter().flat_map(|group| {
        let columns = group.columns.iter();
        columns.map(move |column| (column, group.on.sheet(), group.on.page()))
    });
    let keys = table.keys.iter().map(|column| (column, true, true));
    let all = keys.chain(groups).enumerate();
    let all = all.filter(|(_, (column, sheet, _))| *sheet && column.on.sheet());
    let of_page =
        |(_, (column, _, page)): &(usize, (&Column, bool, bool))| *page && column.on.page();
    let (people, others): (Vec<_>, Vec<_>) = all.partition(of_page);
    let printed = people.len();
    let all = people.into_iter().chain(others);
    let all = all.map(|(index, (column, ..))| (index, column));
    (all.collect(), printed)
}

/// How many cells a row has.
fn cells_of(table: &Table) -> usize {
    let columns = table.groups.iter().map(|group| group.columns.len());
    columns.fold(table.keys.len(), usize::saturating_add)
}
