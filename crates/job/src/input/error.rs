//! What can be wrong with files.

use std::io;
use std::path::{Path, PathBuf};

use dapedon_diagnostic::Diagnostic;
use dapedon_formats::{Format, Position};

use super::Memory;
use crate::error::job_error;

/// What is wrong with a file.
#[derive(Debug, thiserror::Error, strum::IntoStaticStr)]
#[strum(serialize_all = "kebab-case")]
#[non_exhaustive]
pub enum InputError {
    /// A file cannot be opened or read.
    #[error("it cannot be read: {}", plain(.source))]
    Read {
        /// The file.
        path: PathBuf,
        /// What the system says.
        source: io::Error,
    },
    /// A folder stands where a file should.
    #[error("it is a folder, not a file")]
    Folder {
        /// The folder.
        path: PathBuf,
    },
    /// There is nothing in the file.
    #[error("the file is empty")]
    Empty {
        /// The file.
        path: PathBuf,
    },
    /// Neither the first bytes nor the ending tell the format.
    #[error("its format cannot be told from its first bytes or its ending")]
    UnknownFormat {
        /// The file.
        path: PathBuf,
    },
    /// A file of zones where a surface is wanted, or the reverse.
    #[error("it holds {holds}, and {wanted} are wanted there")]
    WrongKind {
        /// The file.
        path: PathBuf,
        /// What it holds.
        holds: &'static str,
        /// What is wanted.
        wanted: &'static str,
    },
    /// Several files that are not one cloud.
    #[error(
        "the files are no one cloud: they are in different systems or units\n  first: {first}\n  other: {other}"
    )]
    CloudsDiffer {
        /// What the first says.
        first: String,
        /// What another says.
        other: String,
    },
    /// No point of the classes asked for.
    #[error("it has no points of the classes asked for; it has {}", spelled(.found))]
    NoSuchClass {
        /// The file.
        path: PathBuf,
        /// The classes there are.
        found: Vec<String>,
    },
    /// Too many points to be taken one by one.
    #[error("it has more than 67 million points, too many to be taken one by one")]
    TooManyPoints {
        /// The file.
        path: PathBuf,
    },
    /// Too many cells between the points farthest out.
    #[error(
        "its points lie so far apart that they would make {columns} by {rows} cells, more than fit into {memory}"
    )]
    ManyCells {
        /// The file.
        path: PathBuf,
        /// Columns.
        columns: i64,
        /// Rows.
        rows: i64,
        /// The memory that there is.
        memory: Memory,
    },
    /// A name to be taken as something that is nowhere.
    #[error("no code or layer is named \"{name}\"; the names are {}", spelled(.found))]
    NoSuchName {
        /// The name.
        name: String,
        /// The names there are.
        found: Vec<String>,
    },
    /// Degrees where a grid is wanted.
    #[error(
        "its coordinates look like degrees: none is farther than 180 from zero, and none as much as one from another"
    )]
    Degrees {
        /// The file.
        path: PathBuf,
    },
    /// No zone of the name asked for.
    #[error("there is no zone named \"{name}\" in it; it holds {}", .names.join(", "))]
    NoSuchZone {
        /// The file.
        path: PathBuf,
        /// The name asked for.
        name: String,
        /// The names there are.
        names: Vec<String>,
    },
    /// Somebody wrote to the file while it was read.
    #[error("the file changed while it was read")]
    Changed {
        /// The file.
        path: PathBuf,
    },
    /// A surface that was to be at hand is not.
    #[error("a surface that is needed was not read")]
    NotRead,
    /// Something is wrong in a file.
    #[error("{error}")]
    Unreadable {
        /// The file.
        path: PathBuf,
        /// Where in it, where the error does not say that itself.
        at: Option<Position>,
        /// What.
        error: Box<dyn Diagnostic>,
    },
}

impl InputError {
    /// Something that a format says is wrong in a file.
    pub(crate) fn unreadable(path: &Path, error: impl Diagnostic) -> Self {
        InputError::Unreadable {
            path: path.into(),
            at: None,
            error: Box::new(error),
        }
    }
}

impl Diagnostic for InputError {
    fn code(&self) -> String {
        match self {
            InputError::Unreadable { error, .. } => error.code(),
            error => {
                let kind: &'static str = error.into();
                format!("input/{kind}")
            }
        }
    }

    fn place(&self) -> Option<String> {
        use InputError as E;
        let (path, at) = match self {
            E::Unreadable { path, at, error } => {
                (path, at.map(|at| at.to_string()).or(error.place()))
            }
            E::Read { path, .. }
            | E::Folder { path }
            | E::Empty { path }
            | E::UnknownFormat { path }
            | E::WrongKind { path, .. }
            | E::NoSuchClass { path, .. }
            | E::TooManyPoints { path }
            | E::ManyCells { path, .. }
            | E::Degrees { path }
            | E::NoSuchZone { path, .. }
            | E::Changed { path } => (path, None),
            E::CloudsDiffer { .. } | E::NoSuchName { .. } | E::NotRead => return None,
        };
        let path = path.display();
        Some(match at {
            Some(at) => format!("{path}, {at}"),
            None => path.to_string(),
        })
    }

    fn remedy(&self) -> String {
        use InputError as E;
        match self {
            E::Unreadable { error, .. } => error.remedy(),
            E::Read { .. } => "see that the name is right and the file may be read".into(),
            E::Folder { .. } => "name a file in it; only of clouds all in a folder are taken".into(),
            E::Empty { .. } => "ask for the file again: it holds nothing".into(),
            E::UnknownFormat { .. } => {
                let endings = |f: Format| format!("{} (.{})", f.name(), f.endings().join(", ."));
                let all: Vec<String> = Format::ALL.into_iter().map(endings).collect();
                format!("hand over one of {}", all.join("; "))
            }
            E::WrongKind { wanted, .. } => format!("name a file of {wanted}"),
            E::CloudsDiffer { .. } => "have them exported alike, or measure them one by one".into(),
            E::NoSuchClass { .. } => "name others with --classes, or say --classes all".into(),
            E::TooManyPoints { .. } => "have it thinned: say --thin and a length".into(),
            E::ManyCells { .. } => {
                "have the points far away taken out, ask for larger cells with --thin, or for more with --memory".into()
            }
            E::NoSuchName { .. } => "name one of them in --codes, or leave it away".into(),
            E::Degrees { .. } => {
                "have it projected to the survey's grid: volumes need lengths, and degrees are none".into()
            }
            E::NoSuchZone { .. } => "name one of them after the #".into(),
            E::Changed { .. } => "wait until nobody writes to it, and run it again".into(),
            E::NotRead => "please report this: it should not happen".into(),
        }
    }
}

job_error!(InputError);

fn spelled(names: &[String]) -> String {
    match names {
        [] => "none".into(),
        names => names.join(", "),
    }
}

/// The system's words, without its number.
fn plain(error: &io::Error) -> String {
    let text = error.to_string();
    text.split(" (os error")
        .next()
        .unwrap_or(&text)
        .to_lowercase()
}
