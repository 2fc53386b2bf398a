//! What can be wrong with LandXML.

use dapedon_core::alignment::ProfileError;
use quick_xml::events::attributes::AttrError;

/// Why LandXML could not be read. Offsets are bytes from the start.
#[derive(Debug, thiserror::Error, strum::IntoStaticStr)]
#[strum(serialize_all = "kebab-case")]
#[non_exhaustive]
pub enum LandXmlError {
    /// The XML is not well-formed.
    #[error("the XML is not well-formed: {source}")]
    Xml {
        /// Where.
        offset: u64,
        /// What the parser says.
        source: quick_xml::Error,
    },
    /// The XML attributes are not well-formed.
    #[error("the XML attributes are not well-formed: {source}")]
    Attribute {
        /// Where.
        offset: u64,
        /// What the parser says.
        source: AttrError,
    },
    /// The file cannot be read.
    #[error("{0}")]
    Io(#[from] std::io::Error),
    /// The file is incomplete: it ends inside an element.
    #[error("the file ends inside <{element}>: it is incomplete")]
    CutOff {
        /// Where it ends.
        offset: u64,
        /// The element that was not closed.
        element: String,
    },
    /// The file is XML, but not LandXML.
    #[error("the outermost element is <{found}>, not <LandXML>")]
    NotLandXml {
        /// Where.
        offset: u64,
        /// The outermost element.
        found: String,
    },
    /// The file has no XML element.
    #[error("the file has no XML element")]
    NoElement,
    /// A value is not a number.
    #[error("\"{found}\" is not a number")]
    NotANumber {
        /// Where.
        offset: u64,
        /// What stands there.
        found: String,
    },
    /// A point or face has too few or too many numbers.
    #[error("<{element}> has {found} numbers, expected {expected}")]
    Count {
        /// Where.
        offset: u64,
        /// The element.
        element: &'static str,
        /// How many it holds.
        found: usize,
        /// How many it should hold.
        expected: usize,
    },
    /// A face refers to a missing point.
    #[error("a face refers to point {id}, which is not in the surface")]
    UnknownPoint {
        /// Where.
        offset: u64,
        /// The point it names.
        id: u64,
    },
    /// Two points have the same number.
    #[error("point number {id} is given twice")]
    PointTwice {
        /// Where.
        offset: u64,
        /// The number.
        id: u64,
    },
    /// A point has no id.
    #[error("a point has no id")]
    NoId {
        /// Where.
        offset: u64,
    },
    /// The length unit is not supported.
    #[error("the length unit \"{found}\" is not supported; expected meter, foot or USSurveyFoot")]
    Unit {
        /// Where.
        offset: u64,
        /// The word.
        found: String,
    },
    /// The boundary type is not supported.
    #[error("the boundary type \"{found}\" is not supported; expected outer, void or island")]
    Boundary {
        /// Where.
        offset: u64,
        /// The word.
        found: String,
    },
    /// A survey point is used before it is defined, or is missing.
    #[error("point \"{name}\" is used before it is defined, has no height, or is not in the file")]
    NoSuchPoint {
        /// Where.
        offset: u64,
        /// The name.
        name: String,
    },
    /// An element lacks a required part.
    #[error("{element} has no {part}")]
    Missing {
        /// Where.
        offset: u64,
        /// The element.
        element: &'static str,
        /// What it lacks.
        part: &'static str,
    },
    /// The spiral type is not supported.
    #[error(
        "the spiral type \"{found}\" is not supported; expected clothoid, cubic, bloss, cosine or sinusoid"
    )]
    Spiral {
        /// Where.
        offset: u64,
        /// The word.
        found: String,
    },
    /// The profile of an alignment is not valid.
    #[error("alignment \"{name}\": {source}")]
    Profile {
        /// Where it ends.
        offset: u64,
        /// The alignment.
        name: String,
        /// Why.
        source: ProfileError,
    },
    /// A surface has neither faces nor points.
    #[error("surface \"{name}\" has neither faces nor points")]
    NothingIn {
        /// Its name.
        name: String,
    },
    /// The file has no surface.
    #[error("the file has no surface")]
    NoSurface,
    /// The file has no such surface.
    #[error("the file has no surface \"{wanted}\"; its surfaces are {}", list(.names))]
    NoSuchSurface {
        /// The name asked for.
        wanted: String,
        /// The names there are.
        names: Vec<String>,
    },
    /// The file has several surfaces, and none is chosen.
    #[error("the file has {} surfaces: {}", .names.len(), list(.names))]
    Several {
        /// The names there are.
        names: Vec<String>,
    },
}

fn list(names: &[String]) -> String {
    names
        .iter()
        .map(|name| format!("\"{name}\""))
        .collect::<Vec<_>>()
        .join(", ")
}

impl LandXmlError {
    /// The byte at which it was found.
    pub fn offset(&self) -> Option<u64> {
        use LandXmlError as E;
        match *self {
            E::Xml { offset, .. }
            | E::Attribute { offset, .. }
            | E::CutOff { offset, .. }
            | E::NotLandXml { offset, .. }
            | E::NotANumber { offset, .. }
            | E::Count { offset, .. }
            | E::UnknownPoint { offset, .. }
            | E::PointTwice { offset, .. }
            | E::NoId { offset }
            | E::Unit { offset, .. }
            | E::Boundary { offset, .. }
            | E::NoSuchPoint { offset, .. }
            | E::Missing { offset, .. }
            | E::Spiral { offset, .. }
            | E::Profile { offset, .. } => Some(offset),
            E::NoElement
            | E::NothingIn { .. }
            | E::Io(_)
            | E::NoSurface
            | E::NoSuchSurface { .. }
            | E::Several { .. } => None,
        }
    }

    /// What to do about it.
    pub fn remedy(&self) -> &'static str {
        use LandXmlError as E;
        match self {
            E::Xml { .. } | E::Attribute { .. } => {
                "get the file again, or correct it at that place"
            }
            E::CutOff { .. } => "get the complete file",
            E::NotLandXml { .. } | E::NoElement => "use a LandXML file with a surface",
            E::Io(_) => "check that the file can be read",
            E::Spiral { .. } => {
                "export it with clothoids, cubic parabolas, or Bloss, cosine or sine curves, or with chords"
            }
            E::Profile { .. } | E::NoSuchPoint { .. } | E::Missing { .. } => {
                "correct the file at that place, or export the alignment again"
            }
            E::Boundary { .. }
            | E::NotANumber { .. }
            | E::Count { .. }
            | E::UnknownPoint { .. }
            | E::PointTwice { .. }
            | E::NoId { .. } => "correct the file at that place, or export the surface again",
            E::Unit { .. } => "export it in metres, international feet or US survey feet",
            E::NothingIn { .. } => "export the surface with its faces, or with its source points",
            E::NoSurface => "export the surface with its points and faces",
            E::NoSuchSurface { .. } | E::Several { .. } => {
                "give one of them after #, as in file.xml#name"
            }
        }
    }
}

dapedon_diagnostic::diagnostic!(LandXmlError, "landxml");
