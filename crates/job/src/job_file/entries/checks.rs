//! Entries of what is checked of a job, and of findings that are acknowledged.

use schemars::JsonSchema;
use serde::Deserialize;
use toml::Spanned;

use super::{Name, OneOrMany};

/// Ground that nobody touched between two surveys: they are compared there with every bill.
#[derive(Debug, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields, rename_all = "kebab-case")]
pub(crate) struct UntouchedEntry {
    /// Zones that nobody touched.
    #[schemars(with = "OneOrMany")]
    pub(crate) zones: Spanned<OneOrMany>,
    /// The earlier survey.
    #[schemars(with = "String")]
    pub(crate) reference: Name,
    /// The later survey.
    #[schemars(with = "String")]
    pub(crate) surveyed: Name,
}

/// A warning that somebody has looked into: it is listed with the reason, and not as a warning.
#[derive(Debug, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields, rename_all = "kebab-case")]
pub(crate) struct AcknowledgedEntry {
    /// Code of the warning, as in "not-compared". All codes are in docs/findings.md.
    #[schemars(with = "String")]
    pub(crate) finding: Name,
    /// Words that its place or its message has, where not all warnings of that code are meant.
    #[schemars(with = "Option<String>")]
    pub(crate) about: Option<Name>,
    /// Why it is in order.
    #[schemars(with = "String")]
    pub(crate) reason: Name,
}
