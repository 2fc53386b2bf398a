//! Why a cloud could not be read.

/// Why a cloud could not be read.
#[derive(Debug, thiserror::Error, strum::IntoStaticStr)]
#[strum(serialize_all = "kebab-case")]
#[non_exhaustive]
pub enum LasError {
    /// The first bytes are others.
    #[error("it does not start as a LAS file does")]
    NotLas,
    /// The header ends early, or says something that is not so.
    #[error("its header says {what}, which cannot be")]
    Header {
        /// What it says.
        what: String,
    },
    /// The header itself is cut off.
    #[error("it ends within its header")]
    NoHeader,
    /// It is packed in a way that is not read.
    #[error("it is packed in a way that is not read: {what}")]
    Packing {
        /// Which.
        what: String,
    },
    /// It holds fewer points than it says.
    #[error("it was cut off: it holds {there} points, and its header says {said}")]
    CutOff {
        /// Points there are.
        there: u64,
        /// Points the header says.
        said: u64,
    },
    /// A packed part is not what it should be.
    #[error("part {part} of its packed points cannot be unpacked: {why}")]
    Unpacking {
        /// The part, from one.
        part: usize,
        /// Why.
        why: String,
    },
    /// A point lies farther from the origin than any survey.
    #[error("a coordinate or height that no survey has, beyond a thousand million")]
    Far,
    /// It is in latitude and longitude.
    #[error("its coordinates are degrees of latitude and longitude")]
    Degrees,
    /// It holds none.
    #[error("it holds no points")]
    NoPoints,
    /// Reading failed.
    #[error("{0}")]
    Io(#[from] std::io::Error),
}

impl LasError {
    /// What to do about it.
    pub fn remedy(&self) -> &'static str {
        use LasError as E;
        match self {
            E::NotLas | E::Header { .. } | E::Far => "have the cloud exported again",
            E::NoHeader | E::CutOff { .. } | E::Unpacking { .. } => {
                "ask for the file again: it did not arrive whole"
            }
            E::Packing { .. } => "have it exported as LAS, or as LAZ of today",
            E::Degrees => {
                "have it projected to the survey's grid: volumes need lengths, and degrees are none"
            }
            E::NoPoints => "hand over the file that has the points",
            E::Io(_) => "see that the file can be read",
        }
    }
}

dapedon_diagnostic::diagnostic!(LasError, "las");
