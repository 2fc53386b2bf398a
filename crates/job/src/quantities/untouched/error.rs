//! Why untouched ground cannot be compared, and what to do about it.

use crate::error::job_error;

/// Why untouched ground cannot be compared.
#[derive(Debug, Clone, PartialEq, thiserror::Error, strum::IntoStaticStr)]
#[strum(serialize_all = "kebab-case")]
#[non_exhaustive]
pub enum UntouchedError {
    /// It is part of what is measured.
    #[error(
        "the untouched zone \"{untouched}\" and the measured zone \"{measured}\" overlap on {area}"
    )]
    Measured {
        /// The untouched zone.
        untouched: String,
        /// The measured zone.
        measured: String,
        /// The area that they share.
        area: String,
    },
    /// Both surveys do not lie there.
    #[error("both surveys do not cover any of the untouched zone \"{zone}\"")]
    NotCovered {
        /// The zone.
        zone: String,
    },
    /// More zones than can be compared.
    #[error("{count} untouched zones are too many")]
    TooMany {
        /// How many there are.
        count: usize,
        /// How many there may be.
        most: usize,
    },
    /// No zone is given.
    #[error("no untouched zone is given")]
    NoZone,
}

impl UntouchedError {
    fn remedy(&self) -> String {
        match self {
            UntouchedError::Measured { .. } => {
                "give ground that no work is paid on, or change one of the outlines".into()
            }
            UntouchedError::NotCovered { .. } => {
                "give ground that both surveys cover, or check their coordinates".into()
            }
            UntouchedError::TooMany { most, .. } => {
                format!("give {most} at most, or join some into one")
            }
            UntouchedError::NoZone => "give a zone".into(),
        }
    }
}

dapedon_diagnostic::diagnostic!(UntouchedError, "untouched");
job_error!(UntouchedError);
