//! Why there is no pool, or no outline of one, at a place and level.

use crate::error::job_error;

/// Why there is no pool, or no outline of one.
#[derive(Debug, Clone, PartialEq, thiserror::Error, strum::IntoStaticStr)]
#[strum(serialize_all = "kebab-case")]
#[non_exhaustive]
pub enum PoolError {
    /// The position of the pool is outside the surface.
    #[error("east {east}, north {north} is outside the surface or the zone")]
    Beyond {
        /// East.
        east: f64,
        /// North.
        north: f64,
    },
    /// The level is above the spill level.
    #[error("level {level} is above the spill level {edge:.3}: the waterline is open")]
    AboveEdge {
        /// The level.
        level: f64,
        /// The level at which it spills.
        edge: f64,
    },
}

impl PoolError {
    /// What to do about it.
    fn remedy(&self) -> String {
        match self {
            PoolError::Beyond { .. } => {
                "give a position within it, in the survey's grid, east first".into()
            }
            PoolError::AboveEdge { edge, .. } => format!("use a level up to {edge:.3}"),
        }
    }
}

dapedon_diagnostic::diagnostic!(PoolError, "pool");
job_error!(PoolError);
