//! Rows and cells of equal size over an extent, to find quickly what of many reaches where.
//!
//! They only choose what is looked at, wider by a little than rounding could err: they decide nothing.

use std::ops::RangeInclusive;

use crate::plan::{Edge, Extent, Place};

/// Columns or rows that are visited without a look at the sides.
const FEW: usize = 4;
/// In cells: wider than any rounding here, narrower than would matter.
const SLACK: f64 = 1e-6;

/// Rows of equal width between two values.
#[derive(Debug, Clone, Copy)]
pub(crate) struct Rows {
    from: f64,
    per_unit: f64,
    count: usize,
}

impl Rows {
    /// So many rows, one at least.
    pub(crate) fn new([from, to]: [f64; 2], count: usize) -> Self {
        let count = count.max(1);
        Rows {
            from,
            per_unit: count as f64 / (to - from),
            count,
        }
    }

    pub(crate) fn count(&self) -> usize {
        self.count
    }

    /// A value counted in rows, from the start of the first.
    fn counted(&self, value: f64) -> f64 {
        (value - self.from) * self.per_unit
    }

    /// The row in which so many rows end, or the nearest one. The cast saturates: what is no number is in the first.
    fn nearest(&self, counted: f64) -> usize {
        (counted as usize).min(self.count - 1)
    }

    /// The row that holds a value, or the nearest one.
    pub(crate) fn of(&self, value: f64) -> usize {
        self.nearest(self.counted(value))
    }

    /// The rows that two values and what lies between them reach into.
    pub(crate) fn between(&self, a: f64, b: f64) -> RangeInclusive<usize> {
        self.of(a.min(b))..=self.of(a.max(b))
    }

    /// The same for values that are counted in rows, wider by the slack.
    fn about(&self, low: f64, high: f64) -> RangeInclusive<usize> {
        self.nearest(low - SLACK)..=self.nearest(high + SLACK)
    }
}

/// Cells of equal size over an extent, by columns from the west and rows from the south.
#[derive(Debug, Clone, Copy)]
pub(crate) struct Cells {
    columns: Rows,
    rows: Rows,
}

impl Cells {
    /// About so many cells, as square as whole columns and rows allow.
    pub(crate) fn over(extent: &Extent, wanted: f64) -> Self {
        let columns = libm::sqrt(wanted * extent.width() / extent.height()).clamp(1.0, wanted);
        let rows = (wanted / columns).ceil();
        let (min, max) = (extent.min, extent.max);
        Cells {
            columns: Rows::new([min.east, max.east], columns.ceil() as usize),
            rows: Rows::new([min.north, max.north], rows as usize),
        }
    }

    /// How many there are.
    pub(crate) fn count(&self) -> usize {
        self.columns.count * self.rows.count
    }

    /// The number of the cell in a column and a row.
    pub(crate) fn number(&self, column: usize, row: usize) -> usize {
        row * self.columns.count + column
    }

    /// The number of the cell that holds a place, or of the nearest one.
    pub(crate) fn of(&self, place: Place) -> usize {
        self.number(self.columns.of(place.east), self.rows.of(place.north))
    }

    /// The columns and the rows that an extent reaches into.
    pub(crate) fn under(&self, extent: &Extent) -> [RangeInclusive<usize>; 2] {
        [
            self.columns.between(extent.min.east, extent.max.east),
            self.rows.between(extent.min.north, extent.max.north),
        ]
    }

    /// Visits the cells that a triangle may reach into, each once: row by row, from its westernmost to its easternmost side there.
    pub(crate) fn reached(&self, [a, b, c]: [Place; 3], mut visit: impl FnMut(usize)) {
        let [columns, rows] = self.under(&Extent::of([a, b, c]));
        if columns.clone().count() <= FEW || rows.clone().count() <= FEW {
            for row in rows {
                columns
                    .clone()
                    .for_each(|column| visit(self.number(column, row)));
            }
            return;
        }
        // One more on both sides: sides reach a little farther than their ends.
        let first = rows.start().saturating_sub(1);
        let mut reach: Vec<Option<[usize; 2]>> = vec![None; rows.end() + 2 - first];
        for (from, to) in [(a, b), (b, c), (c, a)] {
            for (row, columns) in self.passed(Edge { from, to }) {
                let [west, east] = reach[row - first].get_or_insert([usize::MAX, 0]);
                (*west, *east) = ((*west).min(*columns.start()), (*east).max(*columns.end()));
            }
        }
        for (row, reach) in (first..).zip(reach) {
            for column in reach.into_iter().flat_map(|[west, east]| west..=east) {
                visit(self.number(column, row));
            }
        }
    }

    fn counted(&self, place: Place) -> [f64; 2] {
        [
            self.columns.counted(place.east),
            self.rows.counted(place.north),
        ]
    }

    /// The rows that an edge passes, each with the columns that it passes there.
    pub(crate) fn passed(
        &self,
        edge: Edge,
    ) -> impl Iterator<Item = (usize, RangeInclusive<usize>)> + '_ {
        let line = Line::of([edge.from, edge.to].map(|place| self.counted(place)));
        let [low, high] = line.ends;
        self.rows.about(low[1], high[1]).map(move |row| {
            let (south, north) = (row as f64 - SLACK, row as f64 + 1.0 + SLACK);
            let (west, east) = match high[1] - low[1] < SLACK {
                true => (low[0], high[0]),
                false => (line.at(south), line.at(north)),
            };
            (row, self.columns.about(west.min(east), west.max(east)))
        })
    }

    /// The rows in whose middle an edge passes, each with where that is, counted in columns.
    pub(crate) fn crossed(&self, edge: Edge) -> impl Iterator<Item = (usize, f64)> + '_ {
        let line = Line::of([edge.from, edge.to].map(|place| self.counted(place)));
        let [low, high] = line.ends;
        let rows = self.rows.about(low[1], high[1]);
        rows.filter_map(move |row| {
            let middle = row as f64 + 0.5;
            let passes = low[1] <= middle && middle < high[1];
            passes.then(|| (row, line.at(middle)))
        })
    }

    /// The columns whose middles lie between two places, counted in columns.
    pub(crate) fn middles(&self, west: f64, east: f64) -> impl Iterator<Item = usize> {
        let within = move |column: &usize| {
            let middle = *column as f64 + 0.5;
            west < middle && middle < east
        };
        (self.columns.nearest(west)..=self.columns.nearest(east)).filter(within)
    }
}

/// An edge, counted in columns and rows, from its southern end.
#[derive(Clone, Copy)]
struct Line {
    ends: [[f64; 2]; 2],
}

impl Line {
    fn of([a, b]: [[f64; 2]; 2]) -> Self {
        let ends = if a[1] <= b[1] { [a, b] } else { [b, a] };
        Line { ends }
    }

    /// How far east it is at a northing, or at its nearer end.
    fn at(&self, north: f64) -> f64 {
        let [low, high] = self.ends;
        let share = (north - low[1]) / (high[1] - low[1]);
        match share.is_finite() {
            true => low[0] + share.clamp(0.0, 1.0) * (high[0] - low[0]),
            false => low[0],
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    proptest! {
        /// Each place on an edge within the extent lies in a cell that the edge is known to pass, and where it crosses the
        /// middle of a row is reported once.
        #[test]
        fn no_cell_that_an_edge_passes_is_missed(
            ends in prop::array::uniform4(-9.0f64..9.0),
            wanted in 1.0f64..400.0,
        ) {
            let [west, south, east, north] = ends;
            let edge = Edge { from: Place::new(west, south), to: Place::new(east, north) };
            let extent = Extent::of([Place::new(-10.0, -9.0), Place::new(10.0, 9.0)]);
            let cells = Cells::over(&extent, wanted);
            let passed: Vec<_> = cells.passed(edge).collect();
            for step in 0..=50 {
                let share = f64::from(step) / 50.0;
                let at = Place::new(west + share * (east - west), south + share * (north - south));
                let (column, row) = (cells.columns.of(at.east), cells.rows.of(at.north));
                let held = passed.iter().any(|(own, columns)| *own == row && columns.contains(&column));
                prop_assert!(held, "{at:?} in {column}, {row}: {passed:?}");
                prop_assert!(cells.number(column, row) < cells.count());
            }
            let middles = (0..cells.rows.count()).map(|row| row as f64 + 0.5);
            let [low, high] = [south.min(north), south.max(north)].map(|value| cells.rows.counted(value));
            let expected = middles.filter(|&middle| low <= middle && middle < high).count();
            prop_assert_eq!(cells.crossed(edge).count(), expected);
        }
    }

    #[test]
    fn what_has_no_width_is_in_the_first_row_and_what_lies_beyond_in_the_last() {
        let rows = Rows::new([4.0, 4.0], 3);
        assert_eq!(rows.of(4.0), 0);
        assert_eq!(rows.of(9.0), 2);
        let rows = Rows::new([4.0, 10.0], 3);
        assert_eq!(rows.between(7.0, 5.0), 0..=1);
        assert_eq!(rows.between(f64::NEG_INFINITY, f64::INFINITY), 0..=2);
        assert_eq!(rows.of(f64::NAN), 0);
    }
}
