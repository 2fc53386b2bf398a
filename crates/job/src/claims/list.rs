//! The claims of a job: which are issued, and one of them shown.

use jiff::civil::Date;
use rust_decimal::Decimal;
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use super::draw_up::{plan_of, records_of};
use super::error::ClaimError;
use super::folder;
use super::model::{Claim, ClaimPeriod, ClaimStatus};
use super::paths;
use crate::error::JobError;
use crate::job_file::{Job, JobFacts};
use crate::schema::{Schema, Word};

/// The claims of a job.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, JsonSchema)]
#[non_exhaustive]
pub struct ClaimList {
    /// The command: `claim-list`.
    pub command: Word,
    /// The version of its schema.
    pub schema: Schema,
    /// The job.
    pub job: JobFacts,
    /// The currency of amounts.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub currency: Option<String>,
    /// The claims, in their order.
    pub claims: Vec<ListedClaim>,
}

/// A claim in a list.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, JsonSchema)]
#[non_exhaustive]
pub struct ListedClaim {
    /// Its number.
    pub number: u32,
    /// Its date.
    pub date: Date,
    /// The days that it is for.
    pub period: ClaimPeriod,
    /// A draft, or issued.
    pub status: ClaimStatus,
    /// All work and materials to date, where it is issued.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub gross: Option<Decimal>,
    /// What was due, before tax.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub due: Option<Decimal>,
    /// What was to be paid.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub payable: Option<Decimal>,
    /// Its record.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub record: Option<String>,
    /// The digest of that.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub digest: Option<String>,
}

/// All claims of a job: those that are issued by their records, the others as the job file has them.
///
/// # Errors
///
/// When the job has no claims, or a record was changed.
pub fn list_claims(job: &Job) -> Result<ClaimList, JobError> {
    let records = folder::read(&records_of(job))?;
    let issued = records.len();
    let folder = &job.terms.records;
    let mut claims: Vec<ListedClaim> = Vec::new();
    for record in records {
        let claim = &record.claim;
        claims.push(ListedClaim {
            number: claim.number,
            date: claim.date,
            period: claim.period,
            status: ClaimStatus::Issued,
            gross: Some(claim.valuation.gross),
            due: Some(claim.valuation.due),
            payable: Some(claim.valuation.payable),
            record: Some(format!("{folder}/{}", folder::name(claim.number))),
            digest: Some(record.digest),
        });
    }
    claims.extend(job.claims.iter().skip(issued).map(|plan| ListedClaim {
        number: plan.number,
        date: plan.date,
        period: ClaimPeriod {
            from: plan.period[0],
            to: plan.period[1],
        },
        status: ClaimStatus::Draft,
        gross: None,
        due: None,
        payable: None,
        record: None,
        digest: None,
    }));
    if claims.is_empty() {
        let path = job.path.clone();
        return Err(ClaimError::NoClaims { path }.into());
    }
    let list = ClaimList {
        command: "claim-list".into(),
        schema: Schema,
        job: job.facts(),
        currency: job.currency.clone(),
        claims,
    };
    paths::from_folder(&list, &paths::folder_of(job)).map_err(paths::unwritable)
}

/// An issued claim, from its record alone.
///
/// # Errors
///
/// When it is not issued, or a record was changed.
pub fn show_claim(job: &Job, number: u32) -> Result<Claim, JobError> {
    let records = folder::read(&records_of(job))?;
    let own = records
        .into_iter()
        .find(|record| record.claim.number == number);
    match own {
        Some(record) => Ok(record.shown()),
        None => {
            plan_of(job, number)?;
            Err(ClaimError::NotIssued { number }.into())
        }
    }
}
