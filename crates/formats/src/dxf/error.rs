//! What can be wrong with DXF.

use std::fmt;

/// Where in a drawing something was found.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Spot {
    /// A line of text, from one.
    Line(u64),
    /// A byte of a binary file.
    Byte(u64),
}

impl fmt::Display for Spot {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        match self {
            Spot::Line(line) => write!(f, "line {line}"),
            Spot::Byte(byte) => write!(f, "byte {byte}"),
        }
    }
}

/// Why a drawing could not be read.
#[derive(Debug, thiserror::Error, strum::IntoStaticStr)]
#[strum(serialize_all = "kebab-case")]
#[non_exhaustive]
pub enum DxfError {
    /// Where a group code is expected something else stands.
    #[error("\"{found}\" stands where a group code is expected")]
    NotACode {
        /// Where.
        at: Spot,
        /// What stands there.
        found: String,
    },
    /// A number is not one.
    #[error("\"{found}\" is not a number, and group {code} of {entity} is one")]
    NotANumber {
        /// Where.
        at: Spot,
        /// The group code.
        code: i32,
        /// The entity.
        entity: String,
        /// What stands there.
        found: String,
    },
    /// It ends before its end is said.
    #[error("the file ends before its EOF mark: it was cut off")]
    CutOff {
        /// Where it ends.
        at: Spot,
    },
    /// There is no section of entities.
    #[error("there is no section of entities in it")]
    NoEntities,
    /// An entity says how many parts it has, and has another number of them.
    #[error("{entity} has {found} {parts}, and says it has {expected}")]
    Count {
        /// Where it starts.
        at: Spot,
        /// The entity.
        entity: &'static str,
        /// What its parts are.
        parts: &'static str,
        /// How many it has.
        found: usize,
        /// How many it says.
        expected: usize,
    },
    /// A face of a mesh names a corner that is not there.
    #[error("a face names corner {corner} of its mesh, which has {corners}")]
    UnknownCorner {
        /// Where.
        at: Spot,
        /// The corner it names.
        corner: i64,
        /// How many there are.
        corners: usize,
    },
    /// Blocks inserted in blocks make more than can be meant.
    #[error("inserted blocks make more than {most} entities, or insert themselves")]
    TooMany {
        /// Where the drawing inserts one.
        at: Spot,
        /// The most that are read.
        most: usize,
    },
    /// Reading failed.
    #[error("{0}")]
    Io(#[from] std::io::Error),
    /// Facets on several layers, and none was asked for.
    #[error("it holds facets on {} layers: {}", .layers.len(), .layers.join(", "))]
    Several {
        /// The layers.
        layers: Vec<String>,
    },
    /// Arcs of more chords than any drawing of a site has.
    #[error(
        "the arcs of the drawing would be of more than {} chords",
        super::arcs::MOST
    )]
    ManyChords {
        /// The one that is too many.
        at: Spot,
    },
    /// No layer of the name asked for.
    #[error("there is no layer named \"{wanted}\" with anything on it; it holds {}", .layers.join(", "))]
    NoSuchLayer {
        /// The name asked for.
        wanted: String,
        /// The layers there are.
        layers: Vec<String>,
    },
    /// Nothing to make a surface of.
    #[error("there is nothing in it to make a surface of")]
    Nothing,
    /// No closed line.
    #[error("there is no closed line in it ({open} open ones)")]
    NoZone {
        /// How many open ones there are.
        open: usize,
    },
}

impl DxfError {
    /// Where it was found.
    pub fn at(&self) -> Option<Spot> {
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
            | E::Nothing
            | E::NoZone { .. } => None,
        }
    }

    /// What to do about it.
    pub fn remedy(&self) -> &'static str {
        use DxfError as E;
        match self {
            E::CutOff { .. } | E::NoEntities => "ask for the file again: it did not arrive whole",
            E::NotACode { .. }
            | E::NotANumber { .. }
            | E::Count { .. }
            | E::UnknownCorner { .. } => {
                "have the drawing exported again, or mend it at that place"
            }
            E::ManyChords { .. } => "see that its radius is in the unit of the drawing",
            E::TooMany { .. } => "have the drawing exported with its blocks broken up",
            E::Io(_) => "see that the file can be read",
            E::Several { .. } | E::NoSuchLayer { .. } => {
                "name one after a #, as in drawing.dxf#LAYER, or say what each is with --codes"
            }
            E::Nothing => "look at what is in it with inspect, and name layers with --codes",
            E::NoZone { .. } => "close the outlines in the drawing",
        }
    }
}

dapedon_diagnostic::diagnostic!(DxfError, "dxf", at);
