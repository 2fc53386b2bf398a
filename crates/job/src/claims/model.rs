//! A payment claim as it is reported: the object that `--json` prints, and that a record freezes.

use dapedon_contract::{ClaimTerms, LinePart, LineWorth, Valuation};
use jiff::civil::Date;
use rust_decimal::Decimal;
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use crate::bill::Bill;
use crate::finding::Finding;
use crate::job_file::JobFacts;
use crate::schema::{Schema, Word};

/// A payment claim.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, JsonSchema)]
#[non_exhaustive]
pub struct Claim {
    /// The command: `claim`.
    pub command: Word,
    /// The version of its schema.
    pub schema: Schema,
    /// A draft, or issued.
    pub status: ClaimStatus,
    /// The record it was read from, where it is issued.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub record: Option<RecordOf>,
    /// The job.
    pub job: JobFacts,
    /// Its number.
    pub number: u32,
    /// Its date.
    pub date: Date,
    /// The days that it is for.
    pub period: ClaimPeriod,
    /// The currency of rates and amounts.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub currency: Option<String>,
    /// The record of the claim before.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub previous: Option<RecordOf>,
    /// What was certified of the claim before.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub certificate: Option<ClaimCertificate>,
    /// The terms of payment.
    pub terms: ClaimTerms,
    /// Its lines: items in the order of the bill, then what is claimed besides.
    pub lines: Vec<ClaimLine>,
    /// Earlier quantities that were measured anew.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub corrections: Vec<ClaimCorrection>,
    /// The adjustment of prices on the work of this period.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub price_adjustment: Option<PriceAdjustment>,
    /// Retention that is released.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub release: Option<ClaimAmount>,
    /// An advance that is paid.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub advance: Option<ClaimAmount>,
    /// What is recovered of advances.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub recovery: Option<ClaimAmount>,
    /// What the claim before came to, as it was certified.
    pub before: Valuation,
    /// What this one comes to.
    pub valuation: Valuation,
    /// Items of the bill that nothing was claimed of yet.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub not_claimed: Vec<String>,
    /// What must be known before it is paid.
    pub warnings: Vec<Finding>,
    /// What was measured for it.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub measured: Option<Box<Bill>>,
}

/// Whether a claim can still change.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[serde(rename_all = "snake_case")]
pub enum ClaimStatus {
    /// It is drawn up, and may change.
    Draft,
    /// It is issued, and does not change.
    Issued,
}

/// The record of a claim, by what it takes to know it again.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
pub struct RecordOf {
    /// The number of the claim.
    pub claim: u32,
    /// The SHA-256 digest of its record as canonical JSON, in hexadecimal.
    pub digest: String,
}

/// The days that a claim is for.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
pub struct ClaimPeriod {
    /// The first.
    pub from: Date,
    /// The last.
    pub to: Date,
}

/// Where the quantity of a line comes from.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[serde(rename_all = "snake_case")]
pub enum QuantityFrom {
    /// It was measured.
    Measured,
    /// It was typed in.
    Typed,
    /// It is the one of the claim before, with its corrections.
    CarriedForward,
}

/// A line of a claim.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct ClaimLine {
    /// Its number: that of the item.
    pub code: String,
    /// The section of the bill; empty for items in none, and for what is claimed besides.
    pub section: String,
    /// What is done.
    pub description: String,
    /// It is not an item of the bill.
    #[serde(default, skip_serializing_if = "std::ops::Not::not")]
    pub extra: bool,
    /// It is material on site, valued anew in each claim.
    #[serde(default, skip_serializing_if = "std::ops::Not::not")]
    pub on_site: bool,
    /// Where its quantity comes from.
    pub quantity_from: QuantityFrom,
    /// The survey that it was measured to.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub surveyed: Option<String>,
    /// The day of that survey.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub survey_date: Option<Date>,
    /// What was measured, where only a share of it is claimed.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub measured: Option<Decimal>,
    /// That share.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub share: Option<Decimal>,
    /// Why it is a share, or typed in.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub reason: Option<String>,
    /// The document that it is recorded in.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub document: Option<String>,
    /// The unit of quantities.
    pub unit: String,
    /// What a unit is paid.
    pub rate: Decimal,
    /// The quantity in the contract.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub contract: Option<Decimal>,
    /// The quantity to date as a share of that.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub share_of_contract: Option<Decimal>,
    /// How uncertain the quantity to date is: its standard uncertainty, where it was measured and that is known.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub uncertainty: Option<f64>,
    /// What it comes to.
    pub worth: LineWorth,
    /// Why less or more of it was certified before than was claimed.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub certified_otherwise: Option<String>,
    /// The line of the job file it stands in, where it is in this claim.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub job_file_line: Option<usize>,
}

/// An earlier quantity that was measured anew.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct ClaimCorrection {
    /// The number of the claim that it was in.
    pub claim: u32,
    /// The item.
    pub item: String,
    /// The unit of quantities.
    pub unit: String,
    /// The survey that it was measured to anew.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub surveyed: Option<String>,
    /// The quantity to date as it was.
    pub was: Decimal,
    /// As it is now.
    pub is: Decimal,
    /// What that changes.
    pub change: LinePart,
    /// Why.
    pub reason: String,
    /// The document that it is recorded in.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub document: Option<String>,
}

/// What was certified of the claim before.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
pub struct ClaimCertificate {
    /// The number of that claim.
    pub claim: u32,
    /// By whom.
    pub by: String,
    /// On which day.
    pub date: Date,
    /// Its number or name.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub document: Option<String>,
}

/// The adjustment of prices.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
pub struct PriceAdjustment {
    /// The factor on the work of this period.
    pub factor: Decimal,
    /// Where it comes from.
    pub reason: String,
    /// The document that it is recorded in.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub document: Option<String>,
}

/// An amount that was typed in.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
pub struct ClaimAmount {
    /// The amount.
    pub amount: Decimal,
    /// Why.
    pub reason: String,
    /// The document that it is recorded in.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub document: Option<String>,
}

impl Claim {
    /// The line of a code.
    pub(crate) fn line(&self, code: &str) -> Option<&ClaimLine> {
        self.lines.iter().find(|line| line.code == code)
    }
}
