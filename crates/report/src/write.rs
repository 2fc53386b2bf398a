//! Ways of writing a report.

mod cells;
mod csv;
mod page;
mod terminal;
mod workbook;

pub use csv::csv;
pub use page::page;
pub use terminal::terminal;
pub use workbook::workbook;
