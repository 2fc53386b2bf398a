//! A claim, drawn up: its lines measured, counted from the records of the claims before, and summed.

use dapedon_contract::{LinePart, PeriodFacts, Valuation, amount, plus};
use rust_decimal::Decimal;

use super::error::ClaimError;
use super::lines::{self, MeasuredLines};
use super::model::{
    Claim, ClaimAmount, ClaimCertificate, ClaimLine, ClaimPeriod, ClaimStatus, PriceAdjustment,
};
use super::record::Record;
use super::{folder, paths};
use crate::bill::ItemMap;
use crate::context::Context;
use crate::error::JobError;
use crate::input::InputFile;
use crate::job_file::{CertificatePlan, ClaimPlan, Job, NameError, ReasonPlan};
use crate::schema::Schema;

/// A claim that was drawn up, and what it takes to draw and to issue it.
#[derive(Debug)]
#[non_exhaustive]
pub struct DrawnClaim {
    /// The claim.
    pub claim: Claim,
    /// What its items measure, ready to be drawn.
    pub maps: Vec<ItemMap>,
    /// The files that were read for it, with paths from the folder of the job file.
    pub inputs: Vec<InputFile>,
}

/// Draws up a claim of the job that is at hand, as a draft.
///
/// # Errors
///
/// When the job has no such claim, the claims before are not all issued, this one is, a record was changed, or an item
/// cannot be measured.
pub fn draw_up(context: &Context<'_>, number: u32) -> Result<DrawnClaim, JobError> {
    let job = context.job.ok_or(NameError::NoJob)?;
    let records = folder::read(&records_of(job))?;
    next(job, &records, number)?;
    let records: Vec<&Record> = records.iter().collect();
    drawn(context, job, &records, number)
}

/// The folder of the records of a job.
pub(super) fn records_of(job: &Job) -> std::path::PathBuf {
    paths::folder_of(job).join(&job.terms.records)
}

/// A claim is the next one after those that are issued.
pub(super) fn next(job: &Job, records: &[Record], number: u32) -> Result<(), JobError> {
    plan_of(job, number)?;
    let own = records.iter().find(|record| record.claim.number == number);
    if let Some(record) = own {
        let path = record.path.clone();
        return Err(ClaimError::Issued { number, path }.into());
    }
    let before = number.saturating_sub(1);
    if records.last().map_or(0, |record| record.claim.number) != before {
        return Err(ClaimError::NotIssuedBefore { number, before }.into());
    }
    Ok(())
}

/// A claim of the job file.
pub(super) fn plan_of(job: &Job, number: u32) -> Result<&ClaimPlan, JobError> {
    let Some(last) = job.claims.last() else {
        let path = job.path.clone();
        return Err(ClaimError::NoClaims { path }.into());
    };
    let plan = job.claims.iter().find(|plan| plan.number == number);
    let last = last.number;
    plan.ok_or_else(|| ClaimError::NoSuchClaim { number, last }.into())
}

/// Draws up a claim after the records of those before.
pub(super) fn drawn(
    context: &Context<'_>,
    job: &Job,
    before: &[&Record],
    number: u32,
) -> Result<DrawnClaim, JobError> {
    let plan = plan_of(job, number)?;
    let past: Vec<&Claim> = before.iter().map(|record| &record.claim).collect();
    let last = past.last().copied();
    let certificate = last.and_then(|last| {
        let mut all = job.certificates.iter();
        all.find(|certificate| certificate.claim == last.number)
    });
    if let (Some(certificate), Some(last)) = (certificate, last) {
        known_lines(certificate, last)?;
    }
    let MeasuredLines {
        lines,
        corrections,
        warnings,
        bill,
        maps,
    } = lines::all(context, job, plan, &past, certificate)?;
    let before_this = match last {
        Some(last) => as_certified(last, certificate)?,
        None => Valuation::default(),
    };
    let facts = PeriodFacts {
        work: sum(&lines, false)?,
        materials_on_site: sum(&lines, true)?,
        price_factor: plan.price_adjustment.as_ref().map(|(factor, _)| *factor),
        released: typed(&plan.release),
        advance: typed(&plan.advance),
        recovered: typed(&plan.recovery),
    };
    let terms = job.terms.terms.clone();
    let valuation = Valuation::of(&terms, &before_this, &facts).map_err(ClaimError::from);
    let valuation = valuation.map_err(|error| JobError::from(error).in_job(&plan.spot))?;
    let files = bill.iter().flat_map(|bill| {
        let of_surfaces = bill.surfaces.iter().flat_map(|side| side.files());
        of_surfaces.chain(&bill.zone_files).chain(&bill.line_files)
    });
    let inputs = paths::inputs(job, files.cloned().collect(), &context.reading.files)?;
    let claimed = |code: &&str| !lines.iter().any(|line| line.code == **code);
    let codes = job.items.iter().map(|item| item.code.as_str());
    let not_claimed = codes.filter(claimed).map(String::from).collect();
    let amount_of = |own: &Option<(Decimal, ReasonPlan)>| {
        own.as_ref().map(|(amount, why)| ClaimAmount {
            amount: *amount,
            reason: why.reason.clone(),
            document: why.document.clone(),
        })
    };
    let claim = Claim {
        command: "claim".into(),
        schema: Schema,
        status: ClaimStatus::Draft,
        record: None,
        job: job.facts(),
        number,
        date: plan.date,
        period: ClaimPeriod {
            from: plan.period[0],
            to: plan.period[1],
        },
        currency: job.currency.clone(),
        previous: before.last().map(|record| record.known_by()),
        certificate: certificate.map(|own| ClaimCertificate {
            claim: own.claim,
            by: own.by.clone(),
            date: own.date,
            document: own.document.clone(),
        }),
        terms,
        lines,
        corrections,
        price_adjustment: (plan.price_adjustment.as_ref()).map(|(factor, why)| PriceAdjustment {
            factor: *factor,
            reason: why.reason.clone(),
            document: why.document.clone(),
        }),
        release: amount_of(&plan.release),
        advance: amount_of(&plan.advance),
        recovery: amount_of(&plan.recovery),
        before: before_this,
        valuation,
        not_claimed,
        warnings,
        measured: bill.map(Box::new),
    };
    let claim = paths::from_folder(&claim, &paths::folder_of(job)).map_err(paths::unwritable)?;
    Ok(DrawnClaim {
        claim,
        maps,
        inputs,
    })
}

fn typed(own: &Option<(Decimal, ReasonPlan)>) -> Decimal {
    own.as_ref().map_or(Decimal::ZERO, |(amount, _)| *amount)
}

/// What lines come to to date, work or materials on site.
fn sum(lines: &[ClaimLine], on_site: bool) -> Result<Decimal, JobError> {
    let own = lines.iter().filter(|line| line.on_site == on_site);
    let zero = LinePart::default().amount;
    let sum = own.map(|line| line.worth.to_date.amount);
    Ok(sum.clone().try_fold(zero, plus)?)
}

/// What a claim comes to as it was certified.
fn as_certified(
    claim: &Claim,
    certificate: Option<&CertificatePlan>,
) -> Result<Valuation, JobError> {
    let Some(certificate) = certificate.filter(|own| !own.lines.is_empty()) else {
        return Ok(claim.valuation.clone());
    };
    let sum = |on_site: bool| {
        let own = claim.lines.iter().filter(|line| line.on_site == on_site);
        own.clone().try_fold(Decimal::ZERO, |sum, line| {
            let certified = certificate.lines.iter().find(|own| own.item == line.code);
            match certified {
                Some(own) => plus(sum, amount(own.quantity, line.rate)?),
                None => plus(sum, line.worth.to_date.amount),
            }
        })
    };
    let amount_of =
        |own: &Option<ClaimAmount>| own.as_ref().map_or(Decimal::ZERO, |own| own.amount);
    let facts = PeriodFacts {
        work: sum(false)?,
        materials_on_site: sum(true)?,
        price_factor: claim.price_adjustment.as_ref().map(|own| own.factor),
        released: amount_of(&claim.release),
        advance: amount_of(&claim.advance),
        recovered: amount_of(&claim.recovery),
    };
    let valuation = Valuation::of(&claim.terms, &claim.before, &facts).map_err(ClaimError::from);
    valuation.map_err(|error| JobError::from(error).in_job(&certificate.spot))
}

/// A certificate is of lines that were claimed.
fn known_lines(certificate: &CertificatePlan, claim: &Claim) -> Result<(), JobError> {
    for own in &certificate.lines {
        if claim.line(&own.item).is_none() {
            let error = ClaimError::NotClaimed {
                claim: claim.number,
                item: own.item.clone(),
            };
            return Err(JobError::from(error).in_job(&own.spot));
        }
    }
    Ok(())
}
