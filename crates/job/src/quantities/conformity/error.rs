//! Why conformity cannot be judged, and what to do about it.

use crate::error::job_error;

/// Why conformity cannot be judged.
#[derive(Debug, Clone, PartialEq, thiserror::Error, strum::IntoStaticStr)]
#[strum(serialize_all = "kebab-case")]
#[non_exhaustive]
pub enum ConformityError {
    /// There is no limit.
    #[error("no limit is given")]
    NoLimit,
    /// The lowest difference is above the highest.
    #[error(
        "the built surface is to lie {below} below the design at most, and {clearance} below it at least"
    )]
    LimitsReversed {
        /// How far it may lie below.
        below: f64,
        /// How far it must.
        clearance: f64,
    },
    /// The flattest slope is steeper than the steepest.
    #[error("the flattest slope, {flattest}, is steeper than the steepest, {steepest}")]
    SlopesReversed {
        /// The flattest slope.
        flattest: f64,
        /// The steepest one.
        steepest: f64,
    },
}

impl ConformityError {
    fn remedy(&self) -> String {
        match self {
            ConformityError::NoLimit => {
                "give --above, --below, --clearance, --flattest or --steepest".into()
            }
            ConformityError::LimitsReversed { .. } => {
                "give a --below that is larger than the --clearance".into()
            }
            ConformityError::SlopesReversed { .. } => "swap --flattest and --steepest".into(),
        }
    }
}

dapedon_diagnostic::diagnostic!(ConformityError, "conformity");
job_error!(ConformityError);
