//! How cells follow from others of their table, so that a spreadsheet can compute them again.

use rust_decimal::Decimal;

/// How a cell follows from others of its table. Cells of its row are named by their number, as the cells of a row count.
///
/// The cell itself holds the figure; whoever writes a table without formulas passes them over.
#[derive(Debug, Clone, PartialEq, Eq)]
pub enum Formula {
    /// A quantity times a rate, to the hundredth, halves away from zero.
    Amount {
        /// The cell of the quantity.
        quantity: usize,
        /// The cell of the rate.
        rate: usize,
    },
    /// One cell as a share of another.
    Share {
        /// The part.
        of: usize,
        /// The whole.
        whole: usize,
    },
    /// One cell less another.
    Less {
        /// What is taken from.
        from: usize,
        /// What is taken off.
        off: usize,
    },
    /// The sum of this column over all rows that are no sums.
    SumOfAll,
    /// The sum of this column in some rows, by their numbers; rows without a figure add nothing.
    SumOf(Vec<usize>),
    /// A share of the cell of this column in another row, to the hundredth.
    ShareOf {
        /// The number of that row.
        row: usize,
        /// The share.
        share: Decimal,
    },
}
