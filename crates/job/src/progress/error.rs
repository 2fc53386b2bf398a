//! Why items cannot be followed in time.

use std::path::PathBuf;

use jiff::civil::Date;

use crate::error::job_error;

/// Why items cannot be followed in time.
#[derive(Debug, thiserror::Error, strum::IntoStaticStr)]
#[strum(serialize_all = "kebab-case")]
#[non_exhaustive]
pub enum ProgressError {
    /// No item lists surveys.
    #[error("no item of the job lists surveys")]
    NoSurveys {
        /// The job file.
        path: PathBuf,
    },
    /// An item lists no surveys.
    #[error("item {item} lists no surveys")]
    NotFollowed {
        /// The item.
        item: String,
    },
    /// A survey has no date.
    #[error("the survey \"{survey}\" has no date, in the job file or in its own")]
    Undated {
        /// The survey.
        survey: String,
    },
    /// A survey is older than the one before.
    #[error("\"{survey}\" is of {date}, and stands after \"{before}\" of {date_before}")]
    OutOfOrder {
        /// The survey.
        survey: String,
        /// Its day.
        date: Date,
        /// The one before.
        before: String,
        /// The day of that.
        date_before: Date,
    },
    /// Two surveys are of one day.
    #[error("\"{survey}\" and \"{before}\" are both of {date}")]
    SameDay {
        /// The survey.
        survey: String,
        /// The one before.
        before: String,
        /// The day.
        date: Date,
    },
    /// The work started after its first survey.
    #[error("the work started on {started}, after the survey \"{survey}\" of {date}")]
    StartedAfter {
        /// The first day of the work.
        started: Date,
        /// The survey.
        survey: String,
        /// Its day.
        date: Date,
    },
}

impl ProgressError {
    fn path(&self) -> Option<String> {
        match self {
            ProgressError::NoSurveys { path } => Some(path.display().to_string()),
            _ => None,
        }
    }

    /// What to do about it.
    fn remedy(&self) -> &'static str {
        use ProgressError as E;
        match self {
            E::NoSurveys { .. } | E::NotFollowed { .. } => {
                "add surveys = [\"...\"] to the item, from the first survey on"
            }
            E::Undated { .. } => "add date = 2031-03-31, its own, to the surface",
            E::OutOfOrder { .. } => "list surveys from the first on, or correct a date",
            E::SameDay { .. } => {
                "give each survey its own date; a surface without one has that of the surface it starts from"
            }
            E::StartedAfter { .. } => "correct one of the days",
        }
    }
}

dapedon_diagnostic::diagnostic!(ProgressError, "progress", ProgressError::path);
job_error!(ProgressError);
