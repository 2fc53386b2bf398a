//! What can be wrong with DXF.

use std::fmt;

/// Where in a drawing something was found.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum DrawingPosition {
    /// A line of text, from one.
    Line(u64),
    /// A byte of a binary file.
    Byte(u64),
}

impl fmt::Display for DrawingPosition {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        match self {
            DrawingPosition::Line(line) => write!(f, "line {line}"),
            DrawingPosition::Byte(byte) => write!(f, "byte {byte}"),
        }
    }
}

/// Why a drawing could not be read.
#[derive(Debug, thiserror::Error, strum::IntoStaticStr)]
#[strum(serialize_all = "kebab-case")]
#[non_exhaustive]
pub enum DxfError {
    /// A group code is expected, and something else is found.
    #[error("\"{found}\" found where a group code is expected")]
    NotACode {
        /// Where.
        at: DrawingPosition,
        /// What stands there.
        found: String,
    },
    /// A value is not a number.
    #[error("\"{found}\" is not a number, in group {code} of {entity}")]
    NotANumber {
        /// Where.
        at: DrawingPosition,
        /// The group code.
        code: i32,
        /// The entity.
        entity: String,
        /// What stands there.
        found: String,
    },
    /// The file is incomplete.
    #[error("the file ends before its EOF mark: it is incomplete")]
    CutOff {
        /// Where it ends.
        at: DrawingPosition,
    },
    /// The drawing has no ENTITIES section.
    #[error("the drawing has no ENTITIES section")]
    NoEntities,
    /// An entity has more or fewer parts than it declares.
    #[error("{entity} has {found} {parts} and declares {expected}")]
    Count {
        /// Where it starts.
        at: DrawingPosition,
        /// The entity.
        entity: &'static str,
        /// What its parts are.
        parts: &'static str,
        /// How many it has.
        found: usize,
        /// How many it says.
        expected: usize,
    },
    /// A face of a mesh refers to a missing corner.
    #[error("a face refers to corner {corner} of a mesh with {corners} corners")]
    UnknownCorner {
        /// Where.
        at: DrawingPosition,
        /// The corner it names.
        corner: i64,
        /// How many there are.
        corners: usize,
    },
    /// Inserted blocks expand to too many entities.
    #[error("inserted blocks expand to more than {most} entities, or insert themselves")]
    TooMany {
        /// Where the drawing inserts one.
        at: DrawingPosition,
        /// The most that are read.
        most: usize,
    },
    /// The file cannot be read.
    #[error("{0}")]
    Io(#[from] std::io::Error),
    /// The drawing has faces on several layers, and none is chosen.
    #[error("the drawing has faces on {} layers: {}", .layers.len(), .layers.join(", "))]
    Several {
        /// The layers.
        layers: Vec<String>,
    },
    /// The arcs of the drawing need too many chords.
    #[error("the arcs of the drawing need more than {} chords", super::arcs::MOST)]
    ManyChords {
        /// The one that is too many.
        at: DrawingPosition,
    },
    /// The drawing has no such layer.
    #[error("no layer \"{wanted}\" has anything on it; the layers are {}", .layers.join(", "))]
    NoSuchLayer {
        /// The name asked for.
        wanted: String,
        /// The layers there are.
        layers: Vec<String>,
    },
    /// The drawing has nothing to make a surface from.
    #[error("the drawing has nothing to make a surface from: {contents}")]
    Nothing {
        /// What it has, and its unit.
        contents: String,
    },
    /// The drawing has no closed line.
    #[error("the drawing has no closed line ({open} open lines)")]
    NoZone {
        /// How many open ones there are.
        open: usize,
    },
}

impl DxfError {
    /// Where it was found.
    pub fn at(&self) -> Option<DrawingPosition> {
        use DxfError as E;
        match self {
            E::NotACode { at, .. }
            | E::NotANumber { at, .. }
            | E::CutOff { at }
            | E::Count { at, .. }
            | E::UnknownCorner { at, .. }
            | E::ManyChords { at }
            | E::TooMany { at, .. } => Some(*at),
            E::NoEntities
            | E::Io(_)
            | E::Several { .. }
            | E::NoSuchLayer { .. }
            | E::Nothing { .. }
            | E::NoZone { .. } => None,
        }
    }

    /// What to do about it.
    pub fn remedy(&self) -> &'static str {
        use DxfError as E;
        match self {
            E::CutOff { .. } | E::NoEntities => "get the complete file",
            E::NotACode { .. }
            | E::NotANumber { .. }
            | E::Count { .. }
            | E::UnknownCorner { .. } => "export the drawing again, or correct it at that place",
            E::ManyChords { .. } => "check that the radius is in the unit of the drawing",
            E::TooMany { .. } => "explode the blocks and export the drawing again",
            E::Io(_) => "check that the file can be read",
            E::Several { .. } | E::NoSuchLayer { .. } => {
                "give one layer after #, as in drawing.dxf#LAYER, or give the use of each layer with --codes"
            }
            E::Nothing { .. } => {
                "give the use of layers with --codes, as in LEVELS=heights for heights written as text, or export the drawing with its points, lines and faces"
            }
            E::NoZone { .. } => "close the outlines in the drawing",
        }
    }
}

dapedon_diagnostic::diagnostic!(DxfError, "dxf", at);
