//! Names that a job does not have, or that mean two things.

use super::{Job, nearest};
use crate::error::job_error;

/// What is wrong with a name.
#[derive(Debug, thiserror::Error, strum::IntoStaticStr)]
#[strum(serialize_all = "kebab-case")]
#[non_exhaustive]
pub enum NameError {
    /// A name is both a name of the job and a file.
    #[error("\"{name}\" is both a {kind} of the job and a file")]
    TwoMeanings {
        /// The name.
        name: String,
        /// What it is in the job.
        kind: &'static str,
    },
    /// The job has no such surface or zone.
    #[error("\"{name}\" is not a file, and not a {kind} of {}", .job.as_ref().map_or("a job", |job| job.as_str()))]
    NoSuchMember {
        /// The name.
        name: String,
        /// What it would be.
        kind: &'static str,
        /// The job file, if there is one.
        job: Option<String>,
        /// The name that is most like it.
        near: Option<String>,
        /// All names there are.
        known: Vec<String>,
    },
    /// The job has no such item, material or vehicle.
    #[error("the job has no {kind} \"{name}\"")]
    Unknown {
        /// What it would be.
        kind: &'static str,
        /// Its code or name.
        name: String,
        /// The one that is most like it.
        near: Option<String>,
        /// All there are.
        known: Vec<String>,
    },
    /// Bill items are asked for without a job file.
    #[error("no job file is given, and bill items are in a job file")]
    NoJob,
    /// Something is named that only a job has, without a job file.
    #[error("no job file is given, and {kind} \"{name}\" would be in one")]
    NoJobFor {
        /// What it would be.
        kind: &'static str,
        /// Its name.
        name: String,
    },
}

impl NameError {
    /// A name of some kind that is none of those known.
    pub(crate) fn unknown<'n>(
        kind: &'static str,
        name: &str,
        known: impl Iterator<Item = &'n str> + Clone,
    ) -> Self {
        NameError::Unknown {
            kind,
            name: name.into(),
            near: nearest(name, known.clone()).map(Into::into),
            known: known.map(Into::into).collect(),
        }
    }

    /// No surface of a job, nor a file.
    pub(crate) fn no_such_surface(name: &str, job: Option<&Job>) -> Self {
        let known = job.map_or(Vec::new(), |job| job.surfaces().map(Into::into).collect());
        NameError::no_such_member(name, "surface", job, known)
    }

    /// No zone of a job, nor a file.
    pub(crate) fn no_such_zone(name: &str, job: &Job) -> Self {
        let known = job.zones().map(Into::into).collect();
        NameError::no_such_member(name, "zone", Some(job), known)
    }

    fn no_such_member(
        name: &str,
        kind: &'static str,
        job: Option<&Job>,
        known: Vec<String>,
    ) -> Self {
        NameError::NoSuchMember {
            name: name.into(),
            kind,
            near: nearest(name, known.iter().map(String::as_str)).map(Into::into),
            job: job.map(|job| job.path.display().to_string()),
            known,
        }
    }

    fn remedy(&self) -> String {
        use NameError as E;
        match self {
            E::TwoMeanings { name, .. } => {
                format!("use ./{name} for the file, or rename one of them")
            }
            E::NoSuchMember {
                near: Some(near), ..
            } => format!("use \"{near}\", or give a file"),
            E::NoSuchMember { job: None, .. } => {
                "check the name; for a name of a job add --job FILE".into()
            }
            E::NoSuchMember { known, kind, .. } if known.is_empty() => {
                format!("give a file: the job has no {kind}")
            }
            E::NoSuchMember { known, .. } => {
                let known: Vec<String> = known.iter().map(|name| format!("\"{name}\"")).collect();
                format!("use one of {}, or give a file", known.join(", "))
            }
            E::Unknown {
                near: Some(near), ..
            } => format!("use {near}"),
            E::Unknown { known, .. } if known.is_empty() => "add it to the job file".into(),
            E::Unknown { known, .. } => format!("use one of {}", known.join(", ")),
            E::NoJobFor { .. } => "give the job file with --job, or correct the name".into(),
            E::NoJob => "write a job file; dapedon init makes a first one".into(),
        }
    }
}

dapedon_diagnostic::diagnostic!(NameError, "name");
job_error!(NameError);
