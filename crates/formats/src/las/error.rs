//! Why a cloud could not be read.

/// Why a cloud could not be read.
#[derive(Debug, thiserror::Error, strum::IntoStaticStr)]
#[strum(serialize_all = "kebab-case")]
#[non_exhaustive]
pub enum LasError {
    /// The file does not start like a LAS file.
    #[error("the file does not start like a LAS file")]
    NotLas,
    /// The header is not valid.
    #[error("the header is not valid: {what}")]
    Header {
        /// What it says.
        what: String,
    },
    /// The file ends within its header.
    #[error("the file ends within its header")]
    NoHeader,
    /// The compression is not supported.
    #[error("the compression is not supported: {what}")]
    Packing {
        /// Which.
        what: String,
    },
    /// The file is incomplete: it has fewer points than its header gives.
    #[error("the file is incomplete: it has {there} points, and its header gives {said}")]
    CutOff {
        /// Points there are.
        there: u64,
        /// Points the header says.
        said: u64,
    },
    /// A chunk of packed points cannot be read.
    #[error("chunk {part} of the packed points cannot be read: {why}")]
    Unpacking {
        /// The part, from one.
        part: usize,
        /// Why.
        why: String,
    },
    /// A point is out of range.
    #[error("a coordinate or height is beyond ±1 000 000 000")]
    Far,
    /// The coordinates are latitude and longitude in degrees.
    #[error("the coordinates are latitude and longitude in degrees")]
    Degrees,
    /// The file has no points.
    #[error("the file has no points")]
    NoPoints,
    /// The file cannot be read.
    #[error("{0}")]
    Io(#[from] std::io::Error),
}

impl LasError {
    /// What to do about it.
    pub fn remedy(&self) -> &'static str {
        use LasError as E;
        match self {
            E::NotLas | E::Header { .. } | E::Far => "export the cloud again",
            E::NoHeader | E::CutOff { .. } | E::Unpacking { .. } => "get the complete file",
            E::Packing { .. } => "export it as LAS, or as current LAZ",
            E::Degrees => "convert it to the survey's grid: volumes need lengths, not degrees",
            E::NoPoints => "use the file that has the points",
            E::Io(_) => "check that the file can be read",
        }
    }
}

dapedon_diagnostic::diagnostic!(LasError, "las");
