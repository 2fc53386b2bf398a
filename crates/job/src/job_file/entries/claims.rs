//! Entries of payment claims: the terms, each claim, and what was certified of it.

use schemars::JsonSchema;
use serde::Deserialize;
use toml::Spanned;

use super::Name;

/// A day, as it is written: a date of TOML, or a text.
#[derive(Debug, Clone, Deserialize, JsonSchema)]
#[serde(untagged, expecting = "expected a day, as in 2031-03-31")]
pub(crate) enum DateEntry {
    /// A date of TOML.
    Plain(#[schemars(with = "String")] toml::value::Datetime),
    /// A text.
    Text(String),
}

/// Terms of payment.
#[derive(Debug, Default, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields, rename_all = "kebab-case")]
pub(crate) struct TermsEntry {
    /// Share of the gross amount that is kept back, as in "5%".
    #[schemars(with = "Option<String>")]
    pub(crate) retention: Option<Name>,
    /// Most that is kept back, in the job's currency.
    #[schemars(with = "Option<f64>")]
    pub(crate) retention_limit: Option<Spanned<f64>>,
    /// False where nothing is kept back from materials on site [default: true].
    pub(crate) retention_on_materials: Option<bool>,
    /// Tax on what is due, as in "20%".
    #[schemars(with = "Option<String>")]
    pub(crate) tax: Option<Name>,
    /// Name of the tax on claims.
    pub(crate) tax_name: Option<String>,
    /// Folder of the records of issued claims [default: claims].
    #[schemars(with = "Option<String>")]
    pub(crate) records: Option<Name>,
}

/// A payment claim: what is claimed to date.
#[derive(Debug, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields, rename_all = "kebab-case")]
pub(crate) struct ClaimEntry {
    /// Number of the claim. The first is 1, and each is one more than the one before.
    #[schemars(with = "u32")]
    pub(crate) number: Spanned<u32>,
    /// Date of the claim.
    #[schemars(with = "DateEntry")]
    pub(crate) date: Spanned<DateEntry>,
    /// First day of its period.
    #[schemars(with = "DateEntry")]
    pub(crate) from: Spanned<DateEntry>,
    /// Last day of its period.
    #[schemars(with = "DateEntry")]
    pub(crate) to: Spanned<DateEntry>,
    /// What is claimed to date. Items claimed before and not listed are carried forward.
    #[serde(default, rename = "line")]
    #[schemars(with = "Vec<ClaimLineEntry>")]
    pub(crate) lines: Vec<Spanned<ClaimLineEntry>>,
    /// Work outside the bill, typed in.
    #[serde(default, rename = "extra")]
    #[schemars(with = "Vec<ClaimExtraEntry>")]
    pub(crate) extras: Vec<Spanned<ClaimExtraEntry>>,
    /// Quantities of earlier claims that were measured anew.
    #[serde(default, rename = "correction")]
    #[schemars(with = "Vec<CorrectionEntry>")]
    pub(crate) corrections: Vec<Spanned<CorrectionEntry>>,
    /// Adjustment of prices on the work of this period.
    pub(crate) price_adjustment: Option<PriceAdjustmentEntry>,
    /// Retention released with this claim.
    pub(crate) release: Option<ClaimAmountEntry>,
    /// Advance paid with this claim.
    pub(crate) advance: Option<ClaimAmountEntry>,
    /// Part of earlier advances that is recovered with this claim.
    pub(crate) recovery: Option<ClaimAmountEntry>,
}

/// What is claimed of an item to date.
#[derive(Debug, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields, rename_all = "kebab-case")]
pub(crate) struct ClaimLineEntry {
    /// Item of the bill.
    #[schemars(with = "String")]
    pub(crate) item: Name,
    /// Survey that it is measured to for this claim [default: that of the item].
    #[schemars(with = "Option<String>")]
    pub(crate) surveyed: Option<Name>,
    /// Share of the measured quantity that is claimed, as in "40%", with a reason.
    #[schemars(with = "Option<String>")]
    pub(crate) share: Option<Name>,
    /// Typed-in quantity to date in place of a measured one, with a reason.
    #[schemars(with = "Option<f64>")]
    pub(crate) quantity: Option<Spanned<f64>>,
    /// Reason for a share or a typed-in quantity.
    #[schemars(with = "Option<String>")]
    pub(crate) reason: Option<Name>,
    /// Document that it is recorded in.
    pub(crate) document: Option<String>,
    /// True for materials on site. They are valued anew in each claim.
    #[serde(default)]
    pub(crate) on_site: bool,
}

/// Work outside the bill, claimed to date.
#[derive(Debug, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields, rename_all = "kebab-case")]
pub(crate) struct ClaimExtraEntry {
    /// Number of the line; no item of the bill has it.
    #[schemars(with = "String")]
    pub(crate) code: Name,
    /// Description of the work.
    pub(crate) description: String,
    /// Unit of its quantity.
    pub(crate) unit: String,
    /// Quantity to date.
    #[schemars(with = "f64")]
    pub(crate) quantity: Spanned<f64>,
    /// Rate per unit, in the job's currency.
    #[schemars(with = "f64")]
    pub(crate) rate: Spanned<f64>,
    /// Reason why it is claimed.
    #[schemars(with = "String")]
    pub(crate) reason: Name,
    /// Document that it is recorded in.
    #[schemars(with = "String")]
    pub(crate) document: Name,
}

/// An earlier quantity, measured anew: the difference is a line of its own.
#[derive(Debug, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields, rename_all = "kebab-case")]
pub(crate) struct CorrectionEntry {
    /// Number of the earlier claim.
    #[schemars(with = "u32")]
    pub(crate) claim: Spanned<u32>,
    /// Item of the bill.
    #[schemars(with = "String")]
    pub(crate) item: Name,
    /// Survey that it is measured to anew.
    #[schemars(with = "Option<String>")]
    pub(crate) surveyed: Option<Name>,
    /// Quantity to date of that claim as it should have been, in place of a survey.
    #[schemars(with = "Option<f64>")]
    pub(crate) quantity: Option<Spanned<f64>>,
    /// Reason for the correction.
    #[schemars(with = "String")]
    pub(crate) reason: Name,
    /// Document that it is recorded in.
    pub(crate) document: Option<String>,
}

/// Adjustment of prices.
#[derive(Debug, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields, rename_all = "kebab-case")]
pub(crate) struct PriceAdjustmentEntry {
    /// Factor on the amounts of this period, as in 1.024.
    #[schemars(with = "f64")]
    pub(crate) factor: Spanned<f64>,
    /// Where the factor comes from.
    #[schemars(with = "String")]
    pub(crate) reason: Name,
    /// Document that it is recorded in.
    pub(crate) document: Option<String>,
}

/// An amount that is typed in.
#[derive(Debug, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields, rename_all = "kebab-case")]
pub(crate) struct ClaimAmountEntry {
    /// Amount, in the job's currency.
    #[schemars(with = "f64")]
    pub(crate) amount: Spanned<f64>,
    /// Reason for it.
    #[schemars(with = "String")]
    pub(crate) reason: Name,
    /// Document that it is recorded in.
    pub(crate) document: Option<String>,
}

/// What the payer certified of a claim. It counts in the next claim.
#[derive(Debug, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields, rename_all = "kebab-case")]
pub(crate) struct CertificateEntry {
    /// Number of the claim.
    #[schemars(with = "u32")]
    pub(crate) claim: Spanned<u32>,
    /// Who certified it.
    #[schemars(with = "String")]
    pub(crate) by: Name,
    /// Date of the certificate.
    #[schemars(with = "DateEntry")]
    pub(crate) date: Spanned<DateEntry>,
    /// Number or name of the certificate.
    pub(crate) document: Option<String>,
    /// Lines that were certified otherwise than claimed. All others were certified as claimed.
    #[serde(default, rename = "line")]
    #[schemars(with = "Vec<CertifiedLineEntry>")]
    pub(crate) lines: Vec<Spanned<CertifiedLineEntry>>,
}

/// A line of a claim as it was certified.
#[derive(Debug, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields, rename_all = "kebab-case")]
pub(crate) struct CertifiedLineEntry {
    /// Item of the bill, or code of an extra line.
    #[schemars(with = "String")]
    pub(crate) item: Name,
    /// Certified quantity to date.
    #[schemars(with = "f64")]
    pub(crate) quantity: Spanned<f64>,
    /// Reason of the difference.
    #[schemars(with = "String")]
    pub(crate) reason: Name,
}
