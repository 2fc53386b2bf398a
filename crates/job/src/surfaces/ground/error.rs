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
    /// No surface can be made from the triangles.
    #[error("{error}")]
    Facets {
        /// The file.
        path: PathBuf,
        /// Why.
        #[source]
        error: TinError,
    },
    /// No surface can be made from the points.
    #[error("{error}")]
    Points {
        /// The file.
        path: PathBuf,
        /// Why.
        #[source]
        error: TriangulateError,
    },
    /// No surface can be made from the grid.
    #[error("{error}")]
    Grid {
        /// The file.
        path: PathBuf,
        /// Why.
        #[source]
        error: GridError,
    },
    /// No surface can be made from the thinned cloud.
    #[error("no surface can be made from these cells: {error}")]
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
            E::Facets { .. } => "export the surface again",
            E::Grid { .. } => "export the grid again",
            E::Thinned { .. } => {
                "use other cells with --thin, or triangulate one point per cell with --triangulate"
            }
            E::Points { error, .. } => match error {
                TriangulateError::TwoHeights { .. } => {
                    "remove the wrong point (points are counted in row order), or choose a height with --duplicates"
                }
                TriangulateError::InOneLine { .. } => {
                    "check the column order, or survey points beside the line"
                }
                TriangulateError::NothingLeft { .. } => {
                    "check the outlines, allow longer edges with --max-edge, or keep flat triangles"
                }
                TriangulateError::TooMany { .. } => "thin the points, or measure the site in parts",
                TriangulateError::TooFew { .. } | TriangulateError::OutOfRange { .. } => {
                    "check that the file is complete"
                }
            },
        }
    }
}

dapedon_diagnostic::diagnostic!(GroundError, "ground", GroundError::path);
job_error!(GroundError);
