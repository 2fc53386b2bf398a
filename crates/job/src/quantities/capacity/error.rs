//! Why there is no table of a basin, and what to do about it.

use std::path::PathBuf;

use dapedon_core::quantities::TypedAreasError;

use crate::error::job_error;

/// Why there is no table.
#[derive(Debug, Clone, PartialEq, thiserror::Error, strum::IntoStaticStr)]
#[strum(serialize_all = "kebab-case")]
#[non_exhaustive]
pub enum CapacityError {
    /// The levels are upside down.
    #[error("the levels are to rise from {from} to {to}")]
    UpsideDown {
        /// The lowest.
        from: f64,
        /// The highest.
        to: f64,
    },
    /// The levels lie below the basin.
    #[error("up to {to} there is no water: the lowest place of the basin is at {lowest}")]
    Dry {
        /// The highest level.
        to: f64,
        /// The lowest place.
        lowest: f64,
    },
    /// A step of nothing.
    #[error("a step of {step} leads to no other level")]
    NoStep {
        /// The step.
        step: f64,
    },
    /// Too many levels.
    #[error("steps of {step} from {from} to {to} are more than a hundred thousand levels")]
    TooMany {
        /// The lowest.
        from: f64,
        /// The highest.
        to: f64,
        /// The step.
        step: f64,
    },
    /// A level in place of a bed.
    #[error("a level is no bed: nothing is held above it")]
    Level,
    /// Several zones where one is wanted.
    #[error("a basin has one outline, and {count} zones are named")]
    SeveralZones {
        /// How many.
        count: usize,
    },
    /// Levels with areas make no basin.
    #[error("{error}")]
    Areas {
        /// The file they stand in.
        path: Option<PathBuf>,
        /// The line of it.
        line: Option<u64>,
        /// Why.
        error: TypedAreasError,
    },
    /// No unit of levels.
    #[error("nothing says the length unit of the levels")]
    NoUnit,
    /// No water at the level of an outline.
    #[error("at level {level} there is no water")]
    NoShore {
        /// The level.
        level: f64,
    },
    /// A wanted volume that is none.
    #[error("{volume} is no volume of water")]
    NoVolume {
        /// The volume.
        volume: f64,
    },
}

impl CapacityError {
    /// The file of areas that were typed in, and the line.
    fn path(&self) -> Option<String> {
        let CapacityError::Areas {
            path: Some(path),
            line,
            ..
        } = self
        else {
            return None;
        };
        let at = line.map(|line| format!(", line {line}"));
        Some(format!("{}{}", path.display(), at.unwrap_or_default()))
    }

    /// What to do about it.
    fn remedy(&self) -> String {
        use CapacityError as E;
        match self {
            E::UpsideDown { .. } => {
                "say the lower one with --from, the higher one with --to".into()
            }
            E::Dry { lowest, .. } => format!("name a level above {lowest}"),
            E::NoStep { .. } => "say a height above zero, as --step 0.25".into(),
            E::TooMany { .. } => "say a larger step".into(),
            E::Level => "name a surveyed surface or a design".into(),
            E::SeveralZones { .. } => "name one of them, as FILE#NAME".into(),
            E::Areas {
                error: TypedAreasError::Shrinks { .. },
                ..
            } => "see that the levels and their areas are not swapped: what is open at its top does not shrink upward".into(),
            E::NoUnit => "say it, as --unit m".into(),
            E::Areas { .. } => "say each level once, the level first and then its area, from the lowest up or from the highest down".into(),
            E::NoShore { .. } => "name a level between the lowest and the highest of the table".into(),
            E::NoVolume { .. } => "say a volume above zero".into(),
        }
    }
}

dapedon_diagnostic::diagnostic!(CapacityError, "capacity", CapacityError::path);
job_error!(CapacityError);
