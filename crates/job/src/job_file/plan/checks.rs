//! What is checked of a job, and the findings that are acknowledged, once every name in them is known.

use crate::error::JobFileLine;
use crate::finding::{Code, Finding};
use crate::input::Source;

/// Ground that nobody touched between two surveys.
#[derive(Debug, Clone)]
pub(crate) struct UntouchedPlan {
    pub(crate) zones: Vec<String>,
    /// The earlier and the later survey.
    pub(crate) sides: [Source; 2],
    pub(crate) spot: JobFileLine,
}

/// A warning that somebody has looked into.
#[derive(Debug, Clone)]
pub(crate) struct AcknowledgedPlan {
    pub(crate) code: Code,
    /// Words that its place or its message has, where not all of that code are meant.
    pub(crate) about: Option<String>,
    pub(crate) reason: String,
}

impl AcknowledgedPlan {
    /// True for a finding that is meant.
    pub(crate) fn is_of(&self, of: &str, finding: &Finding) -> bool {
        let about = self.about.as_deref();
        let said = || format!("{of}: {finding}");
        finding.code == self.code && about.is_none_or(|about| said().contains(about))
    }
}
