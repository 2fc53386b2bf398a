//! Why there is no pool, or no outline of one, at a place and level.

use crate::error::job_error;

/// Why there is no pool, or no outline of one.
#[derive(Debug, Clone, PartialEq, thiserror::Error, strum::IntoStaticStr)]
#[strum(serialize_all = "kebab-case")]
#[non_exhaustive]
pub enum PoolError {
    /// The place of a pool is off the surface.
    #[error("east {east}, north {north} lies beyond the surface, or the zone")]
    Beyond {
        /// East.
        east: f64,
        /// North.
        north: f64,
    },
    /// An outline of water that has run over the edge.
    #[error(
        "at level {level} the water has run over the edge, at {edge:.3}: it has no outline there"
    )]
    AboveEdge {
        /// The level.
        level: f64,
        /// The level at which it runs over.
        edge: f64,
    },
}

impl PoolError {
    /// What to do about it.
    fn remedy(&self) -> String {
        match self {
            PoolError::Beyond { .. } => {
                "name a place within it, in the survey's grid, east first".into()
            }
            PoolError::AboveEdge { edge, .. } => format!("name a level up to {edge:.3}"),
        }
    }
}

dapedon_diagnostic::diagnostic!(PoolError, "pool");
job_error!(PoolError);
