//! What can be wrong with files.

use std::io;
use std::path::{Path, PathBuf};

use dapedon_core::units::LengthUnit;
use dapedon_diagnostic::Diagnostic;
use dapedon_formats::{Foreign, Format, Position};

use super::Memory;
use crate::error::job_error;

/// What is wrong with a file.
#[derive(Debug, thiserror::Error, strum::IntoStaticStr)]
#[strum(serialize_all = "kebab-case")]
#[non_exhaustive]
pub enum InputError {
    /// The file cannot be opened or read.
    #[error("the file cannot be read: {}", plain(.source))]
    Read {
        /// The file.
        path: PathBuf,
        /// What the system says.
        source: io::Error,
    },
    /// A folder is given in place of a file.
    #[error("this is a folder, not a file")]
    Folder {
        /// The folder.
        path: PathBuf,
    },
    /// The file is empty.
    #[error("the file is empty")]
    Empty {
        /// The file.
        path: PathBuf,
    },
    /// The file format is not recognised.
    #[error("the file format is not recognised")]
    UnknownFormat {
        /// The file.
        path: PathBuf,
    },
    /// The file is of a kind that is not read.
    #[error("this is {}, which is not read", .found.what)]
    Foreign {
        /// The file.
        path: PathBuf,
        /// What it is.
        found: Foreign,
    },
    /// The file has zones where a surface is needed, or the reverse.
    #[error("the file holds {holds}, and {wanted} are needed here")]
    WrongKind {
        /// The file.
        path: PathBuf,
        /// What it holds.
        holds: &'static str,
        /// What is wanted.
        wanted: &'static str,
    },
    /// The file does not have exactly one line.
    #[error("the file does not have exactly one line{}", .name.as_ref().map_or(String::new(), |name| format!(" named \"{name}\"")))]
    NotOneLine {
        /// The file.
        path: PathBuf,
        /// The name that was asked for.
        name: Option<String>,
    },
    /// Several files cannot be one cloud: systems or units differ.
    #[error(
        "the files cannot be one cloud: coordinate systems or units differ\n  first: {first}\n  other: {other}"
    )]
    CloudsDiffer {
        /// What the first says.
        first: String,
        /// What another says.
        other: String,
    },
    /// The cloud has no points of these classes.
    #[error("the cloud has no points of these classes; it has {}", spelled(.found))]
    NoSuchClass {
        /// The file.
        path: PathBuf,
        /// The classes there are.
        found: Vec<String>,
    },
    /// The cloud has too many points to use without thinning.
    #[error("the cloud has more than 67 million points, too many to use without thinning")]
    TooManyPoints {
        /// The file.
        path: PathBuf,
    },
    /// Thinning needs too many cells.
    #[error("thinning needs {columns} by {rows} cells, more than fit into {memory}")]
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
    /// A code or layer to use is not in the file.
    #[error("no code or layer has the name \"{name}\"; the names are {}", spelled(.found))]
    NoSuchName {
        /// The name.
        name: String,
        /// The names there are.
        found: Vec<String>,
    },
    /// The coordinates look like degrees.
    #[error(
        "the coordinates look like degrees: all are within ±180, and they are less than one apart or the ground is as good as vertical"
    )]
    Degrees {
        /// The file.
        path: PathBuf,
    },
    /// All heights of the file are marked as missing.
    #[error("all heights are the no-data value {height}")]
    NoHeightLeft {
        /// The file.
        path: PathBuf,
        /// The mark.
        height: f64,
    },
    /// A unit of the file is not supported.
    #[error("the unit {unit} is not supported")]
    UnknownUnit {
        /// The file.
        path: PathBuf,
        /// The unit.
        unit: String,
    },
    /// The unit of the file is not the one that was given.
    #[error("the unit of the file is {}, and the unit given for it is {}", .own.name(), .given.name())]
    UnitContradicted {
        /// The file.
        path: PathBuf,
        /// The unit of the file.
        own: LengthUnit,
        /// The unit that was given.
        given: LengthUnit,
    },
    /// The heights of the file are depths.
    #[error("the heights are depths, counted downwards (height system: {system})")]
    Depths {
        /// The file.
        path: PathBuf,
        /// The height system.
        system: String,
    },
    /// The file has no such zone.
    #[error("the file has no zone \"{name}\"; its zones are {}", .names.join(", "))]
    NoSuchZone {
        /// The file.
        path: PathBuf,
        /// The name asked for.
        name: String,
        /// The names there are.
        names: Vec<String>,
    },
    /// The file changed while it was read.
    #[error("the file changed while it was read")]
    Changed {
        /// The file.
        path: PathBuf,
    },
    /// A needed surface was not read.
    #[error("a needed surface was not read")]
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
            | E::Foreign { path, .. }
            | E::WrongKind { path, .. }
            | E::NotOneLine { path, .. }
            | E::NoSuchClass { path, .. }
            | E::TooManyPoints { path }
            | E::ManyCells { path, .. }
            | E::Degrees { path }
            | E::NoHeightLeft { path, .. }
            | E::UnknownUnit { path, .. }
            | E::UnitContradicted { path, .. }
            | E::Depths { path, .. }
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
            E::Read { .. } => "check the name, and that you may read the file".into(),
            E::Folder { .. } => "give a file in it; a folder works only for point clouds".into(),
            E::Empty { .. } => "get the file again: it is empty".into(),
            E::UnknownFormat { .. } => {
                let endings = |f: Format| format!("{} (.{})", f.name(), f.endings().join(", ."));
                let all: Vec<String> = Format::ALL.into_iter().map(endings).collect();
                format!("use one of {}", all.join("; "))
            }
            E::Foreign { found, .. } => found.remedy.into(),
            E::NotOneLine { .. } => {
                "give one after #: an alignment, a layer with one line, a feature".into()
            }
            E::WrongKind { wanted, .. } => format!("use a file of {wanted}"),
            E::CloudsDiffer { .. } => "export them in one system and unit, or measure them one by one".into(),
            E::NoSuchClass { .. } => "choose others with --classes, or use --classes all".into(),
            E::TooManyPoints { .. } => "thin it: add --thin with a cell size".into(),
            E::ManyCells { .. } => {
                "remove points far away, or use larger cells with --thin, or more memory with --memory".into()
            }
            E::NoSuchName { .. } => "use one of them in --codes, or remove this one".into(),
            E::Degrees { .. } => {
                "convert it to the survey's grid: volumes need lengths, not degrees".into()
            }
            E::NoHeightLeft { .. } => "check the value of --nodata".into(),
            E::UnknownUnit { .. } => {
                "convert it to metres, international feet or US survey feet".into()
            }
            E::UnitContradicted { .. } => {
                "leave the unit out to use that of the file; if the file is wrong, add --override-unit, or override-unit = true in the job file".into()
            }
            E::Depths { .. } => "convert the depths to heights".into(),
            E::NoSuchZone { .. } => "give one of them after #".into(),
            E::Changed { .. } => "wait until the file is complete, and run the command again".into(),
            E::NotRead => "please report this as a bug".into(),
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
