//! The surveys of an item in time, once every name in it is known.

use jiff::civil::Date;

use crate::error::JobFileLine;
use crate::input::Source;

/// How an item is followed in time.
#[derive(Debug, Clone)]
pub(crate) struct ProgressPlan {
    /// The surveys, from the first on.
    pub(crate) surveys: Vec<String>,
    /// What is to be reached, where a surface says it.
    pub(crate) design: Option<Source>,
    /// The first day of the work.
    pub(crate) started: Option<Date>,
    pub(crate) spot: JobFileLine,
}
