//! The arithmetic of contracts: what a volume becomes when it is dug, hauled and placed, and what it is paid. Decimal,
//! so that it can be followed by hand.

mod arithmetic;
mod error;
mod model;

pub(crate) use arithmetic::{Symbols, float, in_words, less, of_money, plain, plus};
pub use error::BillError;
pub use model::{ConversionStep, Cost, LoadLimit, LoadsMade};
