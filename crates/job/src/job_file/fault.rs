//! What is wrong with a job file, with the line it stands in.

use std::fmt;

use dapedon_diagnostic::Diagnostic;

use crate::error::{JobFileLine, job_error};

/// What is wrong with a job file.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct JobFileError {
    /// Where.
    pub spot: JobFileLine,
    /// What was found.
    pub what: String,
    /// What to do.
    pub remedy: String,
}

impl std::error::Error for JobFileError {}

impl Diagnostic for JobFileError {
    fn code(&self) -> String {
        "job-file/mistake".into()
    }

    fn place(&self) -> Option<String> {
        Some(self.spot.to_string())
    }

    fn remedy(&self) -> String {
        self.remedy.clone()
    }

    fn notes(&self) -> Vec<String> {
        vec![self.spot.shown()]
    }
}

job_error!(JobFileError);

impl fmt::Display for JobFileError {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        f.write_str(&self.what)
    }
}

/// The known name that is most like another one, where any is.
pub(crate) fn nearest<'n>(name: &str, known: impl IntoIterator<Item = &'n str>) -> Option<&'n str> {
    let near = known.into_iter().map(|other| {
        let (a, b) = (name.to_lowercase(), other.to_lowercase());
        (strsim::damerau_levenshtein(&a, &b), other)
    });
    let (distance, other) = near.min()?;
    (distance <= name.chars().count().max(3) / 3 + 1).then_some(other)
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn the_nearest_name_is_found() {
        let known = ["raise", "lower", "build-up", "stop-at"];
        assert_eq!(nearest("lowr", known), Some("lower"));
        assert_eq!(nearest("buildup", known), Some("build-up"));
        assert_eq!(nearest("volume", known), None);
    }
}
