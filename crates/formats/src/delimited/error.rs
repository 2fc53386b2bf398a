//! What can be wrong with delimited text.

use super::{Reading, Role};
use crate::Position;

/// Why delimited text could not be read.
#[derive(Debug, thiserror::Error, strum::IntoStaticStr)]
#[strum(serialize_all = "kebab-case")]
#[non_exhaustive]
pub enum DelimitedError {
    /// There is no row with anything in it.
    #[error("there is no point in it")]
    Empty,
    /// The columns can be read in more than one way.
    #[error("the columns can be read two ways\n  either {}\n  or     {}", .readings[0].spelled(), .readings[1].spelled())]
    TwoReadings {
        /// Both, with the first row of points under them.
        readings: [Reading; 2],
    },
    /// The header says nothing of a column that is needed.
    #[error("no column is headed as {role}; the header reads {}", .header.join(", "))]
    NoColumn {
        /// What is missing.
        role: Role,
        /// The header.
        header: Vec<String>,
    },
    /// A role is named twice.
    #[error("two columns are named {role}")]
    RoleTwice {
        /// Which.
        role: Role,
    },
    /// A word that is no role.
    #[error("\"{word}\" is no role of a column; the roles are {}", Role::words())]
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
    /// A number is not one.
    #[error("\"{found}\" is not a number, and {role} is expected there")]
    NotANumber {
        /// Where.
        at: Position,
        /// What stands there.
        found: String,
        /// What is expected there.
        role: Role,
    },
    /// A row has more fields than the header has names.
    #[error("the row has {found} fields, and the header names {header}")]
    LongRow {
        /// Where.
        at: Position,
        /// How many fields it has.
        found: usize,
        /// How many the header names.
        header: usize,
    },
    /// A row has other than two numbers.
    #[error("\"{found}\" is not a level and an area")]
    NotAPair {
        /// Where.
        at: Position,
        /// What stands there.
        found: String,
    },
    /// No row has two numbers.
    #[error("there is no level with an area in it")]
    NoPair,
    /// Reading failed.
    #[error("{0}")]
    Io(#[from] std::io::Error),
    /// The rows could not be told apart.
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
            E::Empty => "hand over a file with rows of points".into(),
            E::TwoReadings {
                readings: [one, other],
            } => {
                format!("say which, with --columns {one} or --columns {other}")
            }
            E::NoColumn { .. } => {
                "name the columns in their order, as in --columns point,east,north,height".into()
            }
            E::RoleTwice { .. } => "name each role once, and columns of no use skip".into(),
            E::UnknownRole { .. } => "name the columns with those words".into(),
            E::ShortRow { .. } | E::NotANumber { .. } => {
                "mend that row, or name the columns with --columns".into()
            }
            E::NotAPair { .. } | E::NoPair => {
                "give each row a level and an area, and nothing else, as in 20.5,310".into()
            }
            E::LongRow { .. } => {
                "where numbers have decimal commas, part the fields by semicolons; \
                                  or mend that row"
                    .into()
            }
            E::Io(_) | E::Csv(_) => {
                "see that the file can be read, and that its quotes are closed".into()
            }
        }
    }
}

dapedon_diagnostic::diagnostic!(DelimitedError, "delimited", at);
