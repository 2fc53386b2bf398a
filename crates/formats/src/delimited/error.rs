//! What can be wrong with delimited text.

use super::{Reading, Role};
use crate::Position;

/// Why delimited text could not be read.
#[derive(Debug, thiserror::Error, strum::IntoStaticStr)]
#[strum(serialize_all = "kebab-case")]
#[non_exhaustive]
pub enum DelimitedError {
    /// The file has no points.
    #[error("the file has no points")]
    Empty,
    /// The number in the first line is not that of the points.
    #[error("the first line gives {declared} points, and the file has {points}")]
    Count {
        /// The number in the first line.
        declared: usize,
        /// How many points there are.
        points: usize,
    },
    /// The order of the columns is not clear.
    #[error("the order of the columns is not clear\n  either {}\n  or     {}", .readings[0].spelled(), .readings[1].spelled())]
    TwoReadings {
        /// Both, with the first row of points under them.
        readings: [Reading; 2],
    },
    /// The header lacks a needed column.
    #[error("the header has no column for {role}; it has {}", .header.join(", "))]
    NoColumn {
        /// What is missing.
        role: Role,
        /// The header.
        header: Vec<String>,
    },
    /// Two columns have the same type.
    #[error("two columns are for {role}")]
    RoleTwice {
        /// Which.
        role: Role,
    },
    /// A word is not a column type.
    #[error(
        "\"{word}\" is not a column type; the column types are {}",
        Role::words()
    )]
    UnknownRole {
        /// The word.
        word: String,
    },
    /// A row has too few fields.
    #[error("the row has {found} fields, and {role} is expected in field {expected}")]
    ShortRow {
        /// Where.
        at: Position,
        /// How many fields it has.
        found: usize,
        /// The role that is missing.
        role: Role,
        /// In which field it is expected.
        expected: usize,
    },
    /// A field is not a number.
    #[error("\"{found}\" is not a number, and {role} is expected")]
    NotANumber {
        /// Where.
        at: Position,
        /// What stands there.
        found: String,
        /// What is expected there.
        role: Role,
    },
    /// A row has more fields than the header.
    #[error("the row has {found} fields, and the header has {header}")]
    LongRow {
        /// Where.
        at: Position,
        /// How many fields it has.
        found: usize,
        /// How many the header names.
        header: usize,
    },
    /// A row is not a level with its area.
    #[error("\"{found}\" is not a level with its area")]
    NotAPair {
        /// Where.
        at: Position,
        /// What stands there.
        found: String,
    },
    /// The file has no row with a level and an area.
    #[error("the file has no row with a level and an area")]
    NoPair,
    /// The file cannot be read.
    #[error("{0}")]
    Io(#[from] std::io::Error),
    /// The rows and fields cannot be separated.
    #[error("{0}")]
    Csv(#[from] csv::Error),
}

impl DelimitedError {
    /// Where it was found.
    pub fn at(&self) -> Option<Position> {
        match self {
            DelimitedError::ShortRow { at, .. }
            | DelimitedError::LongRow { at, .. }
            | DelimitedError::NotAPair { at, .. }
            | DelimitedError::NotANumber { at, .. } => Some(*at),
            _ => None,
        }
    }

    /// What to do about it.
    pub fn remedy(&self) -> String {
        use DelimitedError as E;
        match self {
            E::Empty => "use a file with one point in each row".into(),
            E::TwoReadings {
                readings: [one, other],
            } => {
                format!("add --columns {one} or --columns {other}")
            }
            E::NoColumn { .. } => {
                "give the columns in their order, as in --columns point,east,north,height".into()
            }
            E::RoleTwice { .. } => {
                "give each column type once, and skip for columns that are not needed".into()
            }
            E::Count { .. } => "get the complete file, or remove that line".into(),
            E::UnknownRole { .. } => {
                "use these words for the columns, or their initials in one word, as in PENZD".into()
            }
            E::ShortRow { .. } | E::NotANumber { .. } => {
                "correct the row, or give the columns with --columns".into()
            }
            E::NotAPair { .. } | E::NoPair => {
                "give a level and an area in each row, as in 20.5,310".into()
            }
            E::LongRow { .. } => {
                "use semicolons between fields if numbers have decimal commas, or correct the row"
                    .into()
            }
            E::Io(_) | E::Csv(_) => {
                "check that the file can be read and that all quotes are closed".into()
            }
        }
    }
}

dapedon_diagnostic::diagnostic!(DelimitedError, "delimited", at);
