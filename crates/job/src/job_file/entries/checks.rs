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

/// A built surface that is checked against its design with every bill.
#[derive(Debug, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields, rename_all = "kebab-case")]
pub(crate) struct ConformityEntry {
    /// What is checked, in words.
    #[schemars(with = "String")]
    pub(crate) description: Name,
    /// What was to be built.
    #[schemars(with = "String")]
    pub(crate) design: Name,
    /// What was built.
    #[schemars(with = "String")]
    pub(crate) built: Name,
    /// Zones that are judged, each by itself. Without them all ground that both cover.
    #[schemars(with = "Option<OneOrMany>")]
    pub(crate) zones: Option<Spanned<OneOrMany>>,
    /// How far it may lie above the design, in the job's unit.
    #[schemars(with = "Option<f64>")]
    pub(crate) above: Option<Spanned<f64>>,
    /// How far it may lie below the design.
    #[schemars(with = "Option<f64>")]
    pub(crate) below: Option<Spanned<f64>>,
    /// How far it must lie below the design everywhere.
    #[schemars(with = "Option<f64>")]
    pub(crate) clearance: Option<Spanned<f64>>,
    /// Flattest slope of its triangles, as "2%" or "1:50".
    #[schemars(with = "Option<String>")]
    pub(crate) flattest: Option<Name>,
    /// Steepest slope of its triangles, as "50%" or "1:2".
    #[schemars(with = "Option<String>")]
    pub(crate) steepest: Option<Name>,
    /// Line along which crossfalls are held against those of the design, on each side of it.
    #[schemars(with = "Option<String>")]
    pub(crate) crossfall: Option<Name>,
    /// Interval of the sections for crossfalls, in the job's unit. 10, unless said.
    #[schemars(with = "Option<f64>")]
    pub(crate) crossfall_every: Option<Spanned<f64>>,
    /// How far crossfalls may differ from those of the design, as "0.5%".
    #[schemars(with = "Option<String>")]
    pub(crate) crossfall_within: Option<Name>,
    /// Share of the area of each zone that must be within the limits, as "95%". All of it, unless said.
    #[schemars(with = "Option<String>")]
    pub(crate) share: Option<Name>,
    /// True to judge as measured, whatever the uncertainty.
    #[serde(default)]
    pub(crate) simple_acceptance: bool,
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
