//! Delimited text: points as instruments and spreadsheets write them.
//!
//! Fields parted by comma, semicolon, tab or blanks; quotes as in RFC 4180. What each column holds
//! is said by the header or by the caller, never guessed: a file that can be read two ways is
//! refused with both readings.

mod columns;
mod rows;
mod write;

use std::io::BufRead;

use dapedon_core::Vertex;

use crate::{Position, RawSurface};
pub use columns::{Reading, Role, parse_roles};
use rows::Rows;
pub use write::write;

/// Why delimited text could not be read.
#[derive(Debug, thiserror::Error)]
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
    /// The text is in an encoding that is not read.
    #[error("the file is in UTF-16")]
    Utf16,
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
            DelimitedError::ShortRow { at, .. } | DelimitedError::NotANumber { at, .. } => {
                Some(*at)
            }
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
            E::Utf16 => "save it as UTF-8 text".into(),
            E::Io(_) | E::Csv(_) => {
                "see that the file can be read, and that its quotes are closed".into()
            }
        }
    }
}

/// What was understood of a file's columns, and its points.
#[derive(Debug)]
pub struct Delimited {
    /// The points, without facets.
    pub surface: RawSurface,
    /// The columns as they were read, with the first row of points.
    pub reading: Reading,
    /// The header, if there is one.
    pub header: Option<Vec<String>>,
    /// What parts the fields, in words.
    pub delimiter: &'static str,
    /// Lines left out as comments.
    pub comments: u64,
}

/// Reads points. `roles` name the columns; without them the header does.
///
/// # Errors
///
/// When it is not clear what a column holds, or a field is not what it should be.
///
/// ```
/// let text = "point,east,north,height\n7,500010.5,6000020.25,31.4\n";
/// let read = dapedon_formats::delimited::read(text.as_bytes(), None).unwrap();
/// assert_eq!(read.surface.vertices[0].north, 6_000_020.25);
/// ```
pub fn read(input: impl BufRead, roles: Option<&[Role]>) -> Result<Delimited, DelimitedError> {
    if let Some(roles) = roles {
        columns::check(roles)?;
    }
    let mut rows = Rows::open(input)?;
    let mut record = csv::ByteRecord::new();
    let mut line = rows.next(&mut record)?.ok_or(DelimitedError::Empty)?;

    // A row without a single number is a header.
    let is_header = !record.iter().any(|field| number(field).is_some());
    let header = is_header.then(|| record.iter().map(text).collect::<Vec<_>>());
    if is_header {
        line = rows.next(&mut record)?.ok_or(DelimitedError::Empty)?;
    }
    let first: Vec<String> = record.iter().map(text).collect();
    let roles = match (roles, &header) {
        (Some(roles), _) => roles.to_vec(),
        (None, Some(header)) => columns::from_header(header, &first)?,
        (None, None) => return Err(columns::without_header(first)),
    };
    let place = |role| roles.iter().position(|&r| r == role).ok_or(role);
    let places = [Role::East, Role::North, Role::Height].map(|role| (role, place(role)));
    let mut fields = [(Role::East, 0); 3];
    for (field, (role, place)) in fields.iter_mut().zip(places) {
        let missing = |role| DelimitedError::NoColumn {
            role,
            header: roles.iter().map(Role::to_string).collect(),
        };
        *field = (role, place.map_err(missing)?);
    }

    let mut vertices = Vec::new();
    loop {
        let [east, north, height] = fields.map(|(role, index)| value(&record, index, role, line));
        vertices.push(Vertex::new(east?, north?, height?));
        match rows.next(&mut record)? {
            Some(next) => line = next,
            None => break,
        }
    }
    Ok(Delimited {
        surface: RawSurface {
            vertices,
            ..RawSurface::default()
        },
        reading: Reading { roles, first },
        header,
        delimiter: rows.delimiter(),
        comments: rows.comments(),
    })
}

fn value(
    record: &csv::ByteRecord,
    index: usize,
    role: Role,
    line: u64,
) -> Result<f64, DelimitedError> {
    let at = Position {
        line,
        column: index as u64 + 1,
    };
    let field = record.get(index).ok_or(DelimitedError::ShortRow {
        at,
        found: record.len(),
        role,
        expected: index + 1,
    })?;
    number(field).ok_or_else(|| DelimitedError::NotANumber {
        at,
        found: text(field),
        role,
    })
}

fn number(field: &[u8]) -> Option<f64> {
    fast_float2::parse(field.trim_ascii())
        .ok()
        .filter(|value: &f64| value.is_finite())
}

fn text(field: &[u8]) -> String {
    String::from_utf8_lossy(field.trim_ascii()).into_owned()
}

#[cfg(test)]
mod tests;
