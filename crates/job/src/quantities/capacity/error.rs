//! Why there is no table of a basin, and what to do about it.

use std::path::PathBuf;

use dapedon_core::quantities::TypedAreasError;

use crate::error::job_error;

/// Why there is no table.
#[derive(Debug, Clone, PartialEq, thiserror::Error, strum::IntoStaticStr)]
#[strum(serialize_all = "kebab-case")]
#[non_exhaustive]
pub enum CapacityError {
    /// The first level is not below the last level.
    #[error("the first level {from} is not below the last level {to}")]
    UpsideDown {
        /// The lowest.
        from: f64,
        /// The highest.
        to: f64,
    },
    /// The basin is dry up to the highest level.
    #[error("the basin is dry up to level {to}: its lowest point is at {lowest}")]
    Dry {
        /// The highest level.
        to: f64,
        /// The lowest place.
        lowest: f64,
    },
    /// The step is not above zero.
    #[error("a step of {step} is not a step between levels")]
    NoStep {
        /// The step.
        step: f64,
    },
    /// The step gives too many levels.
    #[error("a step of {step} from {from} to {to} gives more than 100 000 levels")]
    TooMany {
        /// The lowest.
        from: f64,
        /// The highest.
        to: f64,
        /// The step.
        step: f64,
    },
    /// A level is given in place of a basin surface.
    #[error("a level cannot be a basin: it has no sides")]
    Level,
    /// Several zones are given, and a basin needs one.
    #[error("a basin needs one zone, and {count} are given")]
    SeveralZones {
        /// How many.
        count: usize,
    },
    /// A table of levels and areas is not possible for a basin.
    #[error("{error}")]
    Areas {
        /// The file they stand in.
        path: Option<PathBuf>,
        /// The line of it.
        line: Option<u64>,
        /// Why.
        error: TypedAreasError,
    },
    /// The levels have no length unit.
    #[error("the levels have no length unit")]
    NoUnit,
    /// The basin is dry at the level of a waterline.
    #[error("the basin is dry at level {level}")]
    NoWaterline {
        /// The level.
        level: f64,
    },
    /// The volume to find is not above zero.
    #[error("{volume} is not a volume")]
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
                "give the lower level with --from and the higher one with --to".into()
            }
            E::Dry { lowest, .. } => format!("use a level above {lowest}"),
            E::NoStep { .. } => "use a step above zero, as in --step 0.25".into(),
            E::TooMany { .. } => "use a larger step".into(),
            E::Level => "use a surveyed surface or a design".into(),
            E::SeveralZones { .. } => "give one of them, as in FILE#NAME".into(),
            E::Areas {
                error: TypedAreasError::Shrinks { .. },
                ..
            } => "check that levels and areas are not swapped: the area of an open basin does not decrease upward".into(),
            E::NoUnit => "add it, as in --unit m".into(),
            E::Areas { .. } => "give each level once, followed by its area, in rising or falling order".into(),
            E::NoWaterline { .. } => "use a level between the lowest and the highest of the table".into(),
            E::NoVolume { .. } => "use a volume above zero".into(),
        }
    }
}

dapedon_diagnostic::diagnostic!(CapacityError, "capacity", CapacityError::path);
job_error!(CapacityError);
