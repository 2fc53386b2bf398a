//! Why the items of a job cannot be measured.

use std::path::PathBuf;

use crate::error::job_error;

/// Why the items of a job cannot be measured.
#[derive(Debug, thiserror::Error, strum::IntoStaticStr)]
#[strum(serialize_all = "kebab-case")]
#[non_exhaustive]
pub enum BillError {
    /// The job has no items.
    #[error("the job has no items")]
    NoItems {
        /// The job file.
        path: PathBuf,
    },
    /// A layer is in none of the zones of an item.
    #[error("the layer \"{layer}\" is in none of the zones")]
    NoSuchLayer {
        /// The layer.
        layer: String,
    },
    /// A layer has no count in the unit of the item.
    #[error("the layer \"{layer}\" of the build-up \"{build_up}\" has no count in {unit}")]
    NotCounted {
        /// The layer.
        layer: String,
        /// Its build-up.
        build_up: String,
        /// The unit of the item.
        unit: String,
    },
}

impl BillError {
    fn path(&self) -> Option<String> {
        match self {
            BillError::NoItems { path } => Some(path.display().to_string()),
            BillError::NoSuchLayer { .. } | BillError::NotCounted { .. } => None,
        }
    }

    /// What to do about it.
    fn remedy(&self) -> &'static str {
        match self {
            BillError::NoItems { .. } => "add [[item]] tables; docs/job-file.md lists their keys",
            BillError::NoSuchLayer { .. } => {
                "check that the build-up covers the zones and lies within the survey"
            }
            BillError::NotCounted { .. } => {
                "add the count to counted of that layer, or choose one build-up with build-up"
            }
        }
    }
}

dapedon_diagnostic::diagnostic!(BillError, "bill", BillError::path);
job_error!(BillError);
