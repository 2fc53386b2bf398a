//! Two claims of a job, line by line.

use dapedon_contract::{LinePart, Valuation};
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use super::draw_up::{drawn, next, records_of};
use super::folder;
use super::model::{Claim, ClaimStatus};
use super::record::Record;
use crate::context::Context;
use crate::error::JobError;
use crate::job_file::{JobFacts, NameError};
use crate::schema::{Schema, Word};

/// Two claims of a job.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, JsonSchema)]
#[non_exhaustive]
pub struct ClaimComparison {
    /// The command: `claim-compare`.
    pub command: Word,
    /// The version of its schema.
    pub schema: Schema,
    /// The job.
    pub job: JobFacts,
    /// The currency of amounts.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub currency: Option<String>,
    /// The claims, the first and the second one.
    pub claims: [ComparedClaim; 2],
    /// All lines of either.
    pub lines: Vec<ComparedLine>,
}

/// One of two claims.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct ComparedClaim {
    /// Its number.
    pub number: u32,
    /// A draft, or issued.
    pub status: ClaimStatus,
    /// What it comes to.
    pub valuation: Valuation,
}

/// A line of two claims.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct ComparedLine {
    /// Its number.
    pub code: String,
    /// What is done.
    pub description: String,
    /// The unit of quantities.
    pub unit: String,
    /// To date in the first; none where it has no such line.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub first: Option<LinePart>,
    /// To date in the second.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub second: Option<LinePart>,
    /// The second less the first.
    pub change: LinePart,
}

/// Compares two claims: by their records where they are issued, drawn up where one is the next.
///
/// # Errors
///
/// When one of them is neither issued nor the next, or cannot be drawn up.
pub fn compare_claims(
    context: &Context<'_>,
    numbers: [u32; 2],
) -> Result<ClaimComparison, JobError> {
    let job = context.job.ok_or(NameError::NoJob)?;
    let records = folder::read(&records_of(job))?;
    let claim = |number: u32| -> Result<Claim, JobError> {
        let issued = records.iter().find(|own| own.claim.number == number);
        match issued {
            Some(record) => Ok(record.claim.clone()),
            None => {
                next(job, &records, number)?;
                let records: Vec<&Record> = records.iter().collect();
                Ok(drawn(context, job, &records, number)?.claim)
            }
        }
    };
    let [first, second] = [claim(numbers[0])?, claim(numbers[1])?];
    let mut lines = Vec::new();
    let only_first = first
        .lines
        .iter()
        .filter(|own| second.line(&own.code).is_none());
    for line in second.lines.iter().chain(only_first) {
        let to_date = |claim: &Claim| claim.line(&line.code).map(|own| own.worth.to_date);
        let [was, is] = [to_date(&first), to_date(&second)];
        lines.push(ComparedLine {
            code: line.code.clone(),
            description: line.description.clone(),
            unit: line.unit.clone(),
            first: was,
            second: is,
            change: is.unwrap_or_default().less(was.unwrap_or_default())?,
        });
    }
    let of = |claim: &Claim| ComparedClaim {
        number: claim.number,
        status: claim.status,
        valuation: claim.valuation.clone(),
    };
    Ok(ClaimComparison {
        command: "claim-compare".into(),
        schema: Schema,
        job: second.job.clone(),
        currency: second.currency.clone(),
        claims: [of(&first), of(&second)],
        lines,
    })
}
