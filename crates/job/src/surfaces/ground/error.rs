//! Why points, facets or cells make no surface.

use std::path::PathBuf;

use dapedon_core::points::TriangulateError;
use dapedon_core::surface::{GridError, TinError};

use crate::error::job_error;

/// Why what a file holds makes no surface.
#[derive(Debug, thiserror::Error, strum::IntoStaticStr)]
#[strum(serialize_all = "kebab-case")]
#[non_exhaustive]
pub enum GroundError {
    /// Facets that make no surface.
    #[error("{error}")]
    Facets {
        /// The file.
        path: PathBuf,
        /// Why.
        #[source]
        error: TinError,
    },
    /// Points that make no surface.
    #[error("{error}")]
    Points {
        /// The file.
        path: PathBuf,
        /// Why.
        #[source]
        error: TriangulateError,
    },
    /// Heights that make no grid.
    #[error("{error}")]
    Grid {
        /// The file.
        path: PathBuf,
        /// Why.
        #[source]
        error: GridError,
    },
    /// A cloud thinned to cells that make no ground.
    #[error("in cells like these it is no ground: {error}")]
    Thinned {
        /// The file.
        path: PathBuf,
        /// Why.
        #[source]
        error: GridError,
    },
}

impl GroundError {
    fn path(&self) -> Option<String> {
        use GroundError as E;
        let (E::Facets { path, .. }
        | E::Points { path, .. }
        | E::Grid { path, .. }
        | E::Thinned { path, .. }) = self;
        Some(path.display().to_string())
    }

    fn remedy(&self) -> &'static str {
        use GroundError as E;
        match self {
            E::Facets {
                error: TinError::TooMany { .. },
                ..
            } => "thin the surface, or measure the site in parts",
            E::Facets { .. } => "have the surface exported again",
            E::Grid { .. } => "have the grid exported again",
            E::Thinned { .. } => {
                "ask for other cells with --thin, or for one point a cell with --triangulate"
            }
            E::Points { error, .. } => match error {
                TriangulateError::TwoHeights { .. } => {
                    "take the wrong point out (points count in the order of their rows), or say which \
                     height holds with --duplicates"
                }
                TriangulateError::InOneLine { .. } => {
                    "see that the columns are what they are named, or survey points beside the line"
                }
                TriangulateError::NothingLeft { .. } => {
                    "see that the outlines are the right ones, or allow longer edges"
                }
                TriangulateError::TooMany { .. } => "thin the points, or measure the site in parts",
                TriangulateError::TooFew { .. } | TriangulateError::OutOfRange { .. } => {
                    "see that the file is whole"
                }
            },
        }
    }
}

dapedon_diagnostic::diagnostic!(GroundError, "ground", GroundError::path);
job_error!(GroundError);
