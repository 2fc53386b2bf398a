//! Why there is no figure: what was found, where, and what to do about it.
//!
//! Each module has errors of its own; all of them are [`Diagnostic`]s, and become a [`JobError`] on their way out.

mod line;
pub(crate) mod mistake;

use std::fmt;

use dapedon_contract::ContractError;
use dapedon_core::plan::Extent;
use dapedon_diagnostic::Diagnostic;

pub use line::JobFileLine;

/// Where something lies, in grid coordinates.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct PlaceInPlan(pub Extent);

impl fmt::Display for PlaceInPlan {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        let Extent { min, max } = self.0;
        write!(
            f,
            "east {:.1} to {:.1}, north {:.1} to {:.1}",
            min.east, max.east, min.north, max.north
        )
    }
}

/// Why there is no figure.
#[derive(Debug)]
pub struct JobError {
    of: Box<dyn Diagnostic>,
    /// The line of the job file that asked for it.
    asked: Option<Box<JobFileLine>>,
}

impl JobError {
    /// Of something that is wrong.
    pub(crate) fn of(error: impl Diagnostic) -> Self {
        JobError {
            of: Box::new(error),
            asked: None,
        }
    }

    /// What is wrong, if it is of a kind.
    pub fn kind<E: Diagnostic>(&self) -> Option<&E> {
        let error: &(dyn std::error::Error + 'static) = &*self.of;
        error.downcast_ref()
    }

    /// The same, with the line of the job file that it comes from, unless it says one.
    pub(crate) fn in_job(mut self, spot: &JobFileLine) -> Self {
        self.asked.get_or_insert_with(|| Box::new(spot.clone()));
        self
    }

    /// A code that does not change.
    pub fn code(&self) -> String {
        self.of.code()
    }

    /// The file, and the place in it where that is known.
    pub fn place(&self) -> Option<String> {
        match (self.of.place(), &self.asked) {
            (Some(place), Some(spot)) => Some(format!("{place}, asked for in {spot}")),
            (None, Some(spot)) => Some(spot.to_string()),
            (place, None) => place,
        }
    }

    /// What to do about it.
    pub fn remedy(&self) -> String {
        self.of.remedy()
    }

    /// What else helps: the line of the job file that it comes from, with what is meant marked below it.
    pub fn notes(&self) -> Vec<String> {
        let spot = self.asked.iter().map(|spot| spot.shown());
        self.of.notes().into_iter().chain(spot).collect()
    }
}

impl fmt::Display for JobError {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        self.of.fmt(f)
    }
}

impl std::error::Error for JobError {
    fn source(&self) -> Option<&(dyn std::error::Error + 'static)> {
        self.of.source()
    }
}

/// Lets the error of a room become a [`JobError`].
macro_rules! job_error {
    ($error:ty) => {
        impl From<$error> for $crate::error::JobError {
            fn from(error: $error) -> Self {
                $crate::error::JobError::of(error)
            }
        }
    };
}
pub(crate) use job_error;

job_error!(ContractError);
