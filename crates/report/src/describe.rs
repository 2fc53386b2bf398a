//! What each result says of itself, once, in the blocks of a report.

mod audit;
mod balance;
mod bands;
mod bill;
mod capacity;
mod claim;
mod conformity;
mod contours;
mod haul;
mod inspected;
mod layers;
mod opinions;
mod piles;
mod profile;
mod progress;
mod recipe;
mod sections;
mod spots;
mod steps;
mod surface;
mod survey_plan;
mod to_limit;
mod uncertain_items;
mod uncertainty;
mod untouched;
mod volume;
mod zone_haul;

pub use audit::audit;
pub use balance::balance;
pub use bill::bill;
pub use capacity::{Direction, capacity};
pub use claim::{claim, claim_list, compared_claims, packed};
pub use conformity::{conformity, limits_of_height};
pub use contours::contours;
pub use inspected::{LISTED, inspected};
pub use piles::piles;
pub use profile::profile;
pub use progress::progress;
pub use sections::sections;
pub use spots::spots;
pub use surface::surface;
pub use survey_plan::survey_plan;
pub use volume::volume;
pub use zone_haul::zone_haul;

use dapedon_core::units::LengthUnit;

use crate::number::grouped;
use crate::report::{Cell, Column, Kind};

/// Cells of a row.
macro_rules! cells {
    ($($cell:expr),* $(,)?) => { vec![$($crate::report::Cell::from($cell)),*] };
}
pub(crate) use cells;

/// A whole number as it is read.
fn count(n: impl TryInto<u64>) -> String {
    grouped(n.try_into().unwrap_or(u64::MAX) as f64, 0)
}

/// The columns of a closure: what the pieces of a row come to against its domain.
fn closure_columns(area: &Kind) -> Vec<Column> {
    vec![
        Column::new("pieces", Kind::Count),
        Column::new("area of the pieces", area.clone()),
        Column::new("area of the domain", area.clone()),
        Column::new("relative closure", Kind::Power),
    ]
}

/// Their cells.
fn closure_cells(closure: &dapedon_job::Closure) -> Vec<Cell> {
    cells![
        closure.pieces,
        closure.area,
        closure.domain,
        closure.relative
    ]
}

/// How the figures were computed, and how well the pieces close, in a sentence.
fn closure_words(pieces: u64, worst: f64, of: &str) -> String {
    let closure = match worst {
        0.0 => "no closure error".to_owned(),
        _ => format!("closure error {worst:.0e} of the area"),
    };
    format!(
        "Computed from {} pieces{of}, without sampling; {closure}.",
        count(pieces)
    )
}

/// What the unit of length of a page is.
fn unit_words(unit: LengthUnit) -> String {
    format!("The unit of length is the {}.", unit.name())
}
