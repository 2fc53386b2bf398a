//! # dapedon-report
//!
//! Figures and documents. A [`map()`] is drawn once, as SVG, and stays small however many facets
//! there are: a raster below, lines and words above. A [`Document`] is a serialisable model first
//! and a page second, so that every output shows the same figures.

mod balance_csv;
mod balance_curve;
mod bill;
mod bill_csv;
mod capacity_csv;
mod capacity_curve;
mod colours;
mod csv_text;
mod document;
mod drawing;
mod ground_map;
mod map;
pub mod number;
mod page;
mod pile;
mod pile_csv;
mod raster;
mod ticks;
mod volume_csv;
pub mod words;

pub use balance_csv::balance_csv;
pub use balance_curve::balance_curve;
pub use bill::{BillDocument, BillMap};
pub use bill_csv::bill_csv;
pub use capacity_csv::capacity_csv;
pub use capacity_curve::capacity_curve;
pub use document::{Document, Layered, ReportError, Symbols};
pub use ground_map::{Mark, ground_map};
pub use map::{MapWords, map, worded_map};
pub use pile::PileDocument;
pub use pile_csv::pile_csv;
pub use volume_csv::volume_csv;
