//! Why a chainage, or two, are no part of a line.

use dapedon_core::alignment::{ChainageError, ParallelError};

use crate::error::job_error;

/// Why a chainage, or two, are no part of a line.
#[derive(Debug, thiserror::Error, strum::IntoStaticStr)]
#[strum(serialize_all = "kebab-case")]
#[non_exhaustive]
pub enum LineError {
    /// A stretch ends before it starts.
    #[error("the stretch from {from} to {to} has no length")]
    Backwards {
        /// Its start.
        from: String,
        /// Its end.
        to: String,
    },
    /// A chainage is not on the line.
    #[error("chainage {chainage} is not on the line, which runs from {from} to {to}")]
    OffLine {
        /// The chainage.
        chainage: String,
        /// The chainage of the line's start.
        from: String,
        /// The chainage of its end.
        to: String,
    },
    /// A chainage is on the line twice.
    #[error(
        "chainage {chainage} is on the line more than once, because of an equation: {distances} from its start"
    )]
    TwoPlaces {
        /// The chainage.
        chainage: String,
        /// Where, as distances from the start.
        distances: String,
    },
    /// A chainage names no place.
    #[error(transparent)]
    Chainage(ChainageError),
    /// Chainages of a table do not grow along the line.
    #[error("the chainages of the table do not grow along the line")]
    Unsorted,
    /// An interval makes too many strips.
    #[error("an interval of {interval} makes {count:.0} strips; at most 20000 are made")]
    ManyStrips {
        /// The interval.
        interval: f64,
        /// How many strips it makes.
        count: f64,
    },
    /// There is no line beside another at an offset.
    #[error("there is no line at {offset} beside \"{line}\": {source}")]
    NoParallel {
        /// The line that it would run beside.
        line: String,
        /// The offset, in the job's unit.
        offset: f64,
        /// Why.
        source: ParallelError,
    },
    /// The line leaves the surface that it is laid on.
    #[error("the line leaves the surface \"{surface}\" at {chainage}")]
    LeavesSurface {
        /// The surface.
        surface: String,
        /// Where.
        chainage: String,
    },
}

impl LineError {
    fn remedy(&self) -> String {
        let remedy = match self {
            LineError::Backwards { .. } => {
                "give the first chainage before the last one, as chainages of the line"
            }
            LineError::OffLine { .. } => "give a chainage within that range",
            LineError::TwoPlaces { .. } => {
                "say which side of the equation is meant, as in \"1+200 back\" or \"1+200 ahead\""
            }
            LineError::Chainage(_) => "give a chainage of the line",
            LineError::Unsorted => "sort the table by chainage, and give each chainage once",
            LineError::ManyStrips { .. } => "use a larger interval",
            LineError::NoParallel { .. } => {
                "use a smaller offset, or one to the other side of the line"
            }
            LineError::LeavesSurface { .. } => {
                "use a larger surface, or give the line heights of its own"
            }
        };
        remedy.into()
    }
}

dapedon_diagnostic::diagnostic!(LineError, "line");
job_error!(LineError);
