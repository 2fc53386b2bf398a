//! What can be wrong with LandXML.

use dapedon_core::alignment::ProfileError;
use quick_xml::events::attributes::AttrError;

/// Why LandXML could not be read. Offsets are bytes from the start.
#[derive(Debug, thiserror::Error, strum::IntoStaticStr)]
#[strum(serialize_all = "kebab-case")]
#[non_exhaustive]
pub enum LandXmlError {
    /// It is not well-formed XML.
    #[error("this is not well-formed XML: {source}")]
    Xml {
        /// Where.
        offset: u64,
        /// What the parser says.
        source: quick_xml::Error,
    },
    /// Attributes of an element are not well-formed.
    #[error("the attributes are not well-formed XML: {source}")]
    Attribute {
        /// Where.
        offset: u64,
        /// What the parser says.
        source: AttrError,
    },
    /// Reading failed.
    #[error("{0}")]
    Io(#[from] std::io::Error),
    /// It ends inside an element.
    #[error("the file ends inside <{element}>: it was cut off")]
    CutOff {
        /// Where it ends.
        offset: u64,
        /// The element that was not closed.
        element: String,
    },
    /// It is XML, but of another kind.
    #[error("the outermost element is <{found}>, not <LandXML>")]
    NotLandXml {
        /// Where.
        offset: u64,
        /// The outermost element.
        found: String,
    },
    /// It holds no element at all.
    #[error("there is no XML element in it")]
    NoElement,
    /// A number is not one.
    #[error("\"{found}\" is not a number")]
    NotANumber {
        /// Where.
        offset: u64,
        /// What stands there.
        found: String,
    },
    /// A point or face has too few or too many numbers.
    #[error("<{element}> holds {found} numbers, expected {expected}")]
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
    /// A face names a point that is not there.
    #[error("a face names point {id}, which is not in the surface")]
    UnknownPoint {
        /// Where.
        offset: u64,
        /// The point it names.
        id: u64,
    },
    /// Two points have one number.
    #[error("point number {id} is given twice")]
    PointTwice {
        /// Where.
        offset: u64,
        /// The number.
        id: u64,
    },
    /// A point has no number.
    #[error("a point has no id")]
    NoId {
        /// Where.
        offset: u64,
    },
    /// A unit the tool does not know.
    #[error("the length unit \"{found}\" is not known here; expected meter, foot or USSurveyFoot")]
    Unit {
        /// Where.
        offset: u64,
        /// The word.
        found: String,
    },
    /// A boundary of a kind that is not known.
    #[error("the boundary type \"{found}\" is not known here; expected outer, void or island")]
    Boundary {
        /// Where.
        offset: u64,
        /// The word.
        found: String,
    },
    /// A place names a survey point that is not there, or comes later.
    #[error("a place names point \"{name}\", which does not stand before it")]
    NoSuchPoint {
        /// Where.
        offset: u64,
        /// The name.
        name: String,
    },
    /// An element lacks a part it cannot do without.
    #[error("{element} has no {part}")]
    Missing {
        /// Where.
        offset: u64,
        /// The element.
        element: &'static str,
        /// What it lacks.
        part: &'static str,
    },
    /// A spiral that is no clothoid.
    #[error("the spiral type \"{found}\" is not known here; expected clothoid")]
    Spiral {
        /// Where.
        offset: u64,
        /// The word.
        found: String,
    },
    /// Heights along an alignment that make no profile.
    #[error("alignment \"{name}\": {source}")]
    Profile {
        /// Where it ends.
        offset: u64,
        /// The alignment.
        name: String,
        /// Why.
        source: ProfileError,
    },
    /// A surface without faces or anything to make them from.
    #[error("surface \"{name}\" has neither faces nor points")]
    NothingIn {
        /// Its name.
        name: String,
    },
    /// No surface at all.
    #[error("there is no surface in it")]
    NoSurface,
    /// No surface of the name asked for.
    #[error("there is no surface named \"{wanted}\" in it; it holds {}", list(.names))]
    NoSuchSurface {
        /// The name asked for.
        wanted: String,
        /// The names there are.
        names: Vec<String>,
    },
    /// Several surfaces, and none was asked for.
    #[error("it holds {} surfaces: {}", .names.len(), list(.names))]
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
                "ask for the file again, or mend it at that place"
            }
            E::CutOff { .. } => "ask for the file again: it did not arrive whole",
            E::NotLandXml { .. } | E::NoElement => "hand over a LandXML file with a surface",
            E::Io(_) => "see that the file can be read",
            E::Spiral { .. } => "have it exported with clothoids, or with chords",
            E::Profile { .. } | E::NoSuchPoint { .. } | E::Missing { .. } => {
                "mend the file at that place, or have the alignment exported again"
            }
            E::Boundary { .. }
            | E::NotANumber { .. }
            | E::Count { .. }
            | E::UnknownPoint { .. }
            | E::PointTwice { .. }
            | E::NoId { .. } => "mend the file at that place, or have the surface exported again",
            E::Unit { .. } => "have it exported in metres, international feet or US survey feet",
            E::NothingIn { .. } => {
                "have the surface exported with its faces, or with the points it is made from"
            }
            E::NoSurface => "have the surface exported with its points and faces",
            E::NoSuchSurface { .. } | E::Several { .. } => {
                "name one of them after a #, as in file.xml#name"
            }
        }
    }
}

dapedon_diagnostic::diagnostic!(LandXmlError, "landxml");
