//! Formulas as a spreadsheet reads them.

use rust_xlsxwriter::utility::row_col_to_cell;

use crate::report::{Cell, Formula, RowKind, Table};

/// Where the cells of a table stand on its sheet.
pub(super) struct Grid<'t> {
    pub(super) table: &'t Table,
    /// The row of the first of its rows.
    pub(super) first_row: u32,
    /// The column of each of its cells; none of those that a spreadsheet does not have.
    pub(super) columns: Vec<Option<u16>>,
}

impl Grid<'_> {
    /// The formula of a cell; none where something that it needs is not there, or is no figure.
    pub(super) fn text(&self, row: usize, cell: usize, formula: &Formula) -> Option<String> {
        let own = |cell: usize| self.name(row, cell);
        match formula {
            // A product that ends on half a cent may lie just below it in binary: a share of it that no figure of a bill reaches lifts it
            // over.
            Formula::Amount { quantity, rate } => Some(format!(
                "=ROUND({}*{}*(1+1E-14),2)",
                own(*quantity)?,
                own(*rate)?
            )),
            Formula::Share { of, whole } => Some(format!("={}/{}", own(*of)?, own(*whole)?)),
            Formula::Less { from, off } => Some(format!("={}-{}", own(*from)?, own(*off)?)),
            Formula::SumOfAll => {
                let plain = |&row: &usize| {
                    let kind = self.table.rows.get(row).map(|row| row.kind);
                    matches!(kind, Some(RowKind::Plain | RowKind::Off))
                };
                self.sum((0..row).filter(plain), cell)
            }
            Formula::SumOf(rows) => self.sum(rows.iter().copied(), cell),
            Formula::ShareOf { row, share } => {
                let share = share.normalize();
                Some(format!(
                    "=ROUND({}*{share}*(1+1E-14),2)",
                    self.name(*row, cell)?
                ))
            }
        }
    }

    /// The sum of a column over some rows, as ranges.
    fn sum(&self, rows: impl Iterator<Item = usize>, cell: usize) -> Option<String> {
        let mut ranges: Vec<[usize; 2]> = Vec::new();
        for row in rows.filter(|&row| self.name(row, cell).is_some()) {
            match ranges.last_mut() {
                Some([_, last]) if last.saturating_add(1) == row => *last = row,
                _ => ranges.push([row, row]),
            }
        }
        let ranges = ranges.into_iter().map(|[first, last]| {
            let [first, last] = [self.name(first, cell)?, self.name(last, cell)?];
            Some(match first == last {
                true => first,
                false => format!("{first}:{last}"),
            })
        });
        let ranges: Vec<String> = ranges.collect::<Option<_>>()?;
        (!ranges.is_empty()).then(|| format!("=SUM({})", ranges.join(",")))
    }

    /// The name of a cell that holds a figure.
    fn name(&self, row: usize, cell: usize) -> Option<String> {
        let held = self.table.rows.get(row)?.cells.get(cell)?;
        let column = (*self.columns.get(cell)?)?;
        let row = self.first_row.checked_add(u32::try_from(row).ok()?)?;
        matches!(held, Cell::Number(_) | Cell::Written(_)).then(|| row_col_to_cell(row, column))
    }
}
