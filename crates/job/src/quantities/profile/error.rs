//! Why there is no profile.

use crate::error::job_error;

/// Why there is no profile.
#[derive(Debug, thiserror::Error, strum::IntoStaticStr)]
#[strum(serialize_all = "kebab-case")]
#[non_exhaustive]
pub enum ProfileError {
    /// Fewer than two different places.
    #[error("a profile needs two different places")]
    TooFew,
    /// A coordinate that is none.
    #[error("{value} is not a coordinate")]
    NoPlace {
        /// The figure.
        value: f64,
    },
    /// An interval makes too many places.
    #[error("an interval of {interval} makes {count:.0} places; at most 100000 are listed")]
    ManyPlaces {
        /// The interval.
        interval: f64,
        /// How many places it makes.
        count: f64,
        /// An interval that would do.
        enough: f64,
    },
    /// No surface is anywhere along it.
    #[error("no surface is anywhere along the profile")]
    NothingThere,
}

impl ProfileError {
    fn remedy(&self) -> String {
        match self {
            ProfileError::TooFew => {
                "give two or more, as in --through 412100,5861040 --through 412180,5861075".into()
            }
            ProfileError::NoPlace { .. } => "give east and north of the survey".into(),
            ProfileError::ManyPlaces { enough, .. } => {
                format!("use an interval of {enough} or more")
            }
            ProfileError::NothingThere => {
                "check the places and the surfaces with dapedon inspect: they must be in one unit and system".into()
            }
        }
    }
}

dapedon_diagnostic::diagnostic!(ProfileError, "profile");
job_error!(ProfileError);
