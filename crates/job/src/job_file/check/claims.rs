//! Payment claims: numbered in order, dates that follow each other, names that are known, money that is money.

use std::collections::BTreeSet;

use dapedon_contract::{ClaimTerms, decimal};
use rust_decimal::Decimal;
use toml::Spanned;

use super::super::entries::{
    CertificateEntry, ClaimAmountEntry, ClaimEntry, ClaimExtraEntry, ClaimLineEntry,
    CorrectionEntry, JobEntries, Name, TermsEntry,
};
use super::super::{
    CertificatePlan, CertifiedLinePlan, ClaimExtraPlan, ClaimLinePlan, ClaimPlan, CorrectionPlan,
    CountedPlan, ItemPlan, JobFileError, ReasonPlan, TermsPlan, nearest,
};
use super::JobFileText;
use super::dates::date;
use super::materials::money;

/// The folder of records, where none is said.
const RECORDS: &str = "claims";

/// More numbers than any job has claims.
const MOST: u32 = 999;

/// What claims may name.
pub(super) struct Claimable<'c> {
    pub(super) items: &'c [ItemPlan],
    pub(super) surfaces: &'c BTreeSet<&'c str>,
}

/// Checks the terms of payment.
pub(super) fn terms(
    sheet: &JobFileText<'_>,
    entry: &TermsEntry,
) -> Result<TermsPlan, JobFileError> {
    let share = |text: &Option<Name>| text.as_ref().map(|text| share(sheet, text)).transpose();
    let limit = entry.retention_limit.as_ref();
    let limit = limit.map(|limit| money(sheet, limit.span(), *limit.get_ref()));
    if let (Some(limit), None) = (&entry.retention_limit, &entry.retention) {
        let what = "retention-limit has no effect without a retention";
        return Err(sheet.fault(limit.span(), what, "add retention = \"5%\""));
    }
    let records = match &entry.records {
        None => RECORDS.into(),
        Some(folder) => said(sheet, folder, "records")?,
    };
    Ok(TermsPlan {
        terms: ClaimTerms {
            retention: share(&entry.retention)?,
            retention_limit: limit.transpose()?,
            retention_on_materials: entry.retention_on_materials.unwrap_or(true),
            tax: share(&entry.tax)?,
            tax_name: entry.tax_name.clone(),
        },
        records,
    })
}

/// Checks all claims and certificates.
pub(super) fn claims(
    sheet: &JobFileText<'_>,
    entries: &JobEntries,
    known: &Claimable<'_>,
) -> Result<(Vec<ClaimPlan>, Vec<CertificatePlan>), JobFileError> {
    let mut claims: Vec<ClaimPlan> = Vec::new();
    for entry in &entries.claims {
        let plan = claim(sheet, entry, known)?;
        follows(sheet, entry.get_ref(), &plan, claims.last())?;
        claims.push(plan);
    }
    let mut certificates: Vec<CertificatePlan> = Vec::new();
    for entry in &entries.certificates {
        let plan = certificate(sheet, entry, &claims)?;
        if let Some(other) = certificates.iter().find(|other| other.claim == plan.claim) {
            let what = format!("claim {} is certified twice", plan.claim);
            let remedy = format!("join it with the one in line {}", other.spot.line);
            return Err(sheet.fault(entry.get_ref().claim.span(), what, remedy));
        }
        certificates.push(plan);
    }
    Ok((claims, certificates))
}

/// A claim is one more than the one before, and its period comes after.
fn follows(
    sheet: &JobFileText<'_>,
    entry: &ClaimEntry,
    plan: &ClaimPlan,
    before: Option<&ClaimPlan>,
) -> Result<(), JobFileError> {
    let number = before.map_or(1, |before| before.number.saturating_add(1));
    if plan.number != number {
        let what = format!(
            "claim {} stands where claim {number} is expected",
            plan.number
        );
        let remedy = "number claims from 1 without gaps, in their order";
        return Err(sheet.fault(entry.number.span(), what, remedy));
    }
    let [from, to] = plan.period;
    if from > to {
        let what = format!("the period ends on {to}, before it begins on {from}");
        return Err(sheet.fault(entry.to.span(), what, "correct one of the days"));
    }
    if plan.date < from {
        let what = format!("the claim is dated {}, before its period begins", plan.date);
        return Err(sheet.fault(entry.date.span(), what, "correct the date"));
    }
    let Some(before) = before else { return Ok(()) };
    if from <= before.period[1] {
        let what = format!(
            "the period begins on {from}, and that of claim {} ends on {}",
            before.number, before.period[1]
        );
        return Err(sheet.fault(entry.from.span(), what, "let periods follow each other"));
    }
    if plan.date < before.date {
        let what = format!(
            "the claim is dated {}, before claim {} of {}",
            plan.date, before.number, before.date
        );
        return Err(sheet.fault(entry.date.span(), what, "correct the date"));
    }
    Ok(())
}

fn claim(
    sheet: &JobFileText<'_>,
    spanned: &Spanned<ClaimEntry>,
    known: &Claimable<'_>,
) -> Result<ClaimPlan, JobFileError> {
    let entry = spanned.get_ref();
    let number = *entry.number.get_ref();
    if number > MOST {
        let what = format!("{number} is no number of a claim");
        return Err(sheet.fault(entry.number.span(), what, "number claims from 1"));
    }
    let mut lines: Vec<ClaimLinePlan> = Vec::new();
    for own in &entry.lines {
        let plan = line(sheet, own, known)?;
        if let Some(other) = lines.iter().find(|other| other.item == plan.item) {
            let what = format!("item {} is claimed twice in claim {number}", plan.item);
            let remedy = format!("join it with line {} of the job file", other.spot.line);
            return Err(sheet.fault(own.get_ref().item.span(), what, remedy));
        }
        lines.push(plan);
    }
    let mut extras: Vec<ClaimExtraPlan> = Vec::new();
    for own in &entry.extras {
        let plan = extra(sheet, own, known)?;
        if let Some(other) = extras.iter().find(|other| other.code == plan.code) {
            let what = format!(
                "two extra lines of claim {number} have the code \"{}\"",
                plan.code
            );
            let remedy = format!(
                "change one of them; the other is in line {}",
                other.spot.line
            );
            return Err(sheet.fault(own.get_ref().code.span(), what, remedy));
        }
        extras.push(plan);
    }
    let corrections = (entry.corrections.iter()).map(|own| correction(sheet, own, number, known));
    let corrections = corrections.collect::<Result<Vec<CorrectionPlan>, _>>()?;
    for (at, own) in corrections.iter().enumerate() {
        let same = |other: &&CorrectionPlan| (other.claim, &other.item) == (own.claim, &own.item);
        if let Some(other) = corrections.iter().skip(at.saturating_add(1)).find(same) {
            return Err(JobFileError {
                spot: other.spot.clone(),
                what: format!(
                    "item {} of claim {} is corrected twice",
                    own.item, own.claim
                ),
                remedy: format!("join it with line {} of the job file", own.spot.line),
            });
        }
    }
    let price_adjustment = entry.price_adjustment.as_ref().map(|own| {
        let factor = decimal(*own.factor.get_ref()).filter(|factor| *factor > Decimal::ZERO);
        let factor = factor.ok_or_else(|| {
            let what = format!("{} is not a factor", own.factor.get_ref());
            sheet.fault(own.factor.span(), what, "write it as in factor = 1.024")
        })?;
        Ok((factor, why(sheet, &own.reason, &own.document)?))
    });
    let price_adjustment = price_adjustment.transpose()?;
    let amount = |own: &Option<ClaimAmountEntry>| {
        let read = own.as_ref().map(|own| {
            let amount = money(sheet, own.amount.span(), *own.amount.get_ref())?;
            Ok((amount, why(sheet, &own.reason, &own.document)?))
        });
        read.transpose()
    };
    Ok(ClaimPlan {
        number,
        date: date(sheet, &entry.date)?,
        period: [date(sheet, &entry.from)?, date(sheet, &entry.to)?],
        lines,
        extras,
        corrections,
        price_adjustment,
        release: amount(&entry.release)?,
        advance: amount(&entry.advance)?,
        recovery: amount(&entry.recovery)?,
        spot: sheet.spot(entry.number.span()),
    })
}

fn line(
    sheet: &JobFileText<'_>,
    spanned: &Spanned<ClaimLineEntry>,
    known: &Claimable<'_>,
) -> Result<ClaimLinePlan, JobFileError> {
    let entry = spanned.get_ref();
    let item = item(sheet, &entry.item, known)?;
    if item.rate.is_none() {
        let what = format!("item {} has no rate, and a claim needs one", item.code);
        let remedy = format!("add rate = ... to the item in line {}", item.spot.line);
        return Err(sheet.fault(entry.item.span(), what, remedy));
    }
    let why = match &entry.reason {
        Some(reason) => Some(why(sheet, reason, &entry.document)?),
        None => None,
    };
    let needs_why = |span, what: &str| {
        let remedy = "add reason = \"...\": who counted it, and how";
        Err(sheet.fault(span, format!("{what} has no reason"), remedy))
    };
    let counted = match (&entry.surveyed, &entry.share, &entry.quantity) {
        (_, Some(share), None) if why.is_none() => {
            return needs_why(share.span(), "a share of the measured quantity");
        }
        (surveyed, share, None) => CountedPlan::Measured {
            surveyed: survey(sheet, surveyed, item, known)?,
            share: (share.as_ref())
                .map(|text| self::share(sheet, text))
                .transpose()?,
        },
        (None, None, Some(quantity)) if why.is_none() => {
            return needs_why(quantity.span(), "a typed-in quantity");
        }
        (None, None, Some(quantity)) => CountedPlan::Typed(figure(sheet, quantity)?),
        (_, _, Some(quantity)) => {
            let what = "quantity is typed in, and surveyed or share are of what is measured";
            return Err(sheet.fault(quantity.span(), what, "keep one of them"));
        }
    };
    Ok(ClaimLinePlan {
        item: item.code.clone(),
        counted,
        why,
        on_site: entry.on_site,
        spot: sheet.spot(entry.item.span()),
    })
}

/// The survey that an item is measured to in place of its own.
fn survey(
    sheet: &JobFileText<'_>,
    surveyed: &Option<Name>,
    item: &ItemPlan,
    known: &Claimable<'_>,
) -> Result<Option<String>, JobFileError> {
    let Some(name) = surveyed else {
        return Ok(None);
    };
    let surface = sheet.known(name, "surface", known.surfaces)?;
    if item.what.measured_to(&surface).is_none() {
        let what = format!("item {} is not measured to a survey", item.code);
        return Err(sheet.fault(name.span(), what, "remove surveyed, or add quantity"));
    }
    let same = item.what.kind().surfaces().first();
    if item.what.kind().surfaces().len() > 1 && same.is_some_and(|side| side.to_string() == surface)
    {
        let what = format!("\"{surface}\" is the reference of item {}", item.code);
        return Err(sheet.fault(name.span(), what, "name the survey that it is measured to"));
    }
    Ok(Some(surface))
}

fn extra(
    sheet: &JobFileText<'_>,
    spanned: &Spanned<ClaimExtraEntry>,
    known: &Claimable<'_>,
) -> Result<ClaimExtraPlan, JobFileError> {
    let entry = spanned.get_ref();
    let code = said(sheet, &entry.code, "code")?;
    if let Some(item) = known.items.iter().find(|item| item.code == code) {
        let what = format!("\"{code}\" is an item of the bill");
        let remedy = format!(
            "claim it by its item, or change the code; the item is in line {}",
            item.spot.line
        );
        return Err(sheet.fault(entry.code.span(), what, remedy));
    }
    Ok(ClaimExtraPlan {
        code,
        description: entry.description.clone(),
        unit: entry.unit.clone(),
        quantity: figure(sheet, &entry.quantity)?,
        rate: money(sheet, entry.rate.span(), *entry.rate.get_ref())?,
        why: why(
            sheet,
            &entry.reason,
            &Some(said(sheet, &entry.document, "document")?),
        )?,
        spot: sheet.spot(entry.code.span()),
    })
}

fn correction(
    sheet: &JobFileText<'_>,
    spanned: &Spanned<CorrectionEntry>,
    number: u32,
    known: &Claimable<'_>,
) -> Result<CorrectionPlan, JobFileError> {
    let entry = spanned.get_ref();
    let claim = *entry.claim.get_ref();
    if claim == 0 || claim >= number {
        let what = format!("claim {claim} is not before claim {number}");
        return Err(sheet.fault(entry.claim.span(), what, "correct an earlier claim"));
    }
    let item = item(sheet, &entry.item, known)?;
    let counted = match (&entry.surveyed, &entry.quantity) {
        (Some(_), None) => CountedPlan::Measured {
            surveyed: survey(sheet, &entry.surveyed, item, known)?,
            share: None,
        },
        (None, Some(quantity)) => CountedPlan::Typed(figure(sheet, quantity)?),
        (Some(name), Some(_)) => {
            let what = "surveyed and quantity contradict each other";
            return Err(sheet.fault(name.span(), what, "keep one of them"));
        }
        (None, None) => {
            let what = "nothing says what the quantity should have been";
            let remedy = "add surveyed = \"...\" or quantity = ...";
            return Err(sheet.fault(entry.item.span(), what, remedy));
        }
    };
    Ok(CorrectionPlan {
        claim,
        item: item.code.clone(),
        counted,
        why: why(sheet, &entry.reason, &entry.document)?,
        spot: sheet.spot(entry.item.span()),
    })
}

fn certificate(
    sheet: &JobFileText<'_>,
    spanned: &Spanned<CertificateEntry>,
    claims: &[ClaimPlan],
) -> Result<CertificatePlan, JobFileError> {
    let entry = spanned.get_ref();
    let number = *entry.claim.get_ref();
    let Some(claim) = claims.iter().find(|claim| claim.number == number) else {
        let what = format!("there is no claim {number}");
        return Err(sheet.fault(entry.claim.span(), what, "correct the number"));
    };
    let day = date(sheet, &entry.date)?;
    if day < claim.date {
        let what = format!(
            "the certificate is dated {day}, before its claim of {}",
            claim.date
        );
        return Err(sheet.fault(entry.date.span(), what, "correct the date"));
    }
    let mut lines: Vec<CertifiedLinePlan> = Vec::new();
    for own in &entry.lines {
        let line = own.get_ref();
        let item = said(sheet, &line.item, "item")?;
        if lines.iter().any(|other| other.item == item) {
            let what = format!("item {item} is certified twice");
            return Err(sheet.fault(line.item.span(), what, "keep one of the lines"));
        }
        lines.push(CertifiedLinePlan {
            item,
            quantity: figure(sheet, &line.quantity)?,
            reason: said(sheet, &line.reason, "reason")?,
            spot: sheet.spot(line.item.span()),
        });
    }
    Ok(CertificatePlan {
        claim: number,
        by: said(sheet, &entry.by, "by")?,
        date: day,
        document: entry.document.clone(),
        lines,
        spot: sheet.spot(entry.claim.span()),
    })
}

/// An item of the bill.
fn item<'k>(
    sheet: &JobFileText<'_>,
    name: &Name,
    known: &Claimable<'k>,
) -> Result<&'k ItemPlan, JobFileError> {
    let found = known.items.iter().find(|item| item.code == *name.get_ref());
    found.ok_or_else(|| {
        let codes = known.items.iter().map(|item| item.code.as_str());
        let what = format!("the bill has no item \"{}\"", name.get_ref());
        let remedy = match nearest(name.get_ref(), codes) {
            Some(near) => format!("use \"{near}\", or add the item to the bill"),
            None => "add the item to the bill, or claim it as an extra line".into(),
        };
        sheet.fault(name.span(), what, remedy)
    })
}

fn why(
    sheet: &JobFileText<'_>,
    reason: &Name,
    document: &Option<String>,
) -> Result<ReasonPlan, JobFileError> {
    Ok(ReasonPlan {
        reason: said(sheet, reason, "reason")?,
        document: document.clone(),
    })
}

/// A text that says something.
fn said(sheet: &JobFileText<'_>, name: &Name, key: &str) -> Result<String, JobFileError> {
    match name.get_ref().trim() {
        "" => {
            let remedy = format!("say it in words, as in {key} = \"...\"");
            Err(sheet.fault(name.span(), format!("{key} is empty"), remedy))
        }
        text => Ok(text.to_owned()),
    }
}

fn figure(sheet: &JobFileText<'_>, value: &Spanned<f64>) -> Result<Decimal, JobFileError> {
    decimal(*value.get_ref()).ok_or_else(|| {
        let what = format!("{} is out of range for a bill", value.get_ref());
        sheet.fault(value.span(), what, "correct it")
    })
}

/// A share of up to one, as it is written in percent.
fn share(sheet: &JobFileText<'_>, text: &Name) -> Result<Decimal, JobFileError> {
    let percent = text.get_ref().trim().strip_suffix('%');
    let percent = percent.and_then(|percent| percent.trim().parse().ok());
    let usable =
        percent.filter(|share: &Decimal| (Decimal::ZERO..=Decimal::ONE_HUNDRED).contains(share));
    let share = usable.and_then(|percent| percent.checked_div(Decimal::ONE_HUNDRED));
    share.ok_or_else(|| {
        let what = format!("\"{}\" is not a percentage of up to 100", text.get_ref());
        sheet.fault(text.span(), what, "write it as in \"10%\"")
    })
}
