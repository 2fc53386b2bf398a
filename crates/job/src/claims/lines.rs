//! The lines of a claim: measured, typed in or carried forward, each counted from the claim before.

use dapedon_contract::{ClaimedBefore, Expected, LineWorth, Rounding, less, plain, plus};
use jiff::civil::Date;
use rust_decimal::Decimal;

use super::error::ClaimError;
use super::model::{Claim, ClaimCorrection, ClaimLine, QuantityFrom};
use crate::bill::{Bill, BillItem, ItemMap, bill_of};
use crate::context::Context;
use crate::error::{JobError, JobFileLine};
use crate::finding::{Code, Finding};
use crate::job_file::{
    CertificatePlan, ClaimLinePlan, ClaimPlan, CorrectionPlan, CountedPlan, ItemPlan, Job,
};

/// The lines of a claim, and what was found on the way.
pub(super) struct MeasuredLines {
    pub(super) lines: Vec<ClaimLine>,
    pub(super) corrections: Vec<ClaimCorrection>,
    pub(super) warnings: Vec<Finding>,
    pub(super) bill: Option<Bill>,
    pub(super) maps: Vec<ItemMap>,
}

/// What a claim is counted from.
struct Ledger<'c> {
    job: &'c Job,
    plan: &'c ClaimPlan,
    past: &'c [&'c Claim],
    certificate: Option<&'c CertificatePlan>,
    bill: Option<&'c Bill>,
    corrections: &'c [ClaimCorrection],
}

/// All lines of a claim.
pub(super) fn all(
    context: &Context<'_>,
    job: &Job,
    plan: &ClaimPlan,
    past: &[&Claim],
    certificate: Option<&CertificatePlan>,
) -> Result<MeasuredLines, JobError> {
    let items = measured_items(job, plan);
    let (bill, maps) = match items.is_empty() {
        true => (None, Vec::new()),
        false => {
            let items: Vec<&ItemPlan> = items.iter().collect();
            let (bill, maps) = bill_of(context, job, &items, false)?;
            (Some(bill), maps)
        }
    };
    let mut ledger = Ledger {
        job,
        plan,
        past,
        certificate,
        bill: bill.as_ref(),
        corrections: &[],
    };
    let corrections = plan.corrections.iter().map(|own| ledger.correction(own));
    let mut corrections = corrections.collect::<Result<Vec<_>, _>>()?;
    ledger.corrections = &corrections;
    let mut lines = Vec::new();
    let mut warnings = Vec::new();
    for item in &job.items {
        let own = plan.lines.iter().find(|own| own.item == item.code);
        match (own, ledger.before(&item.code)) {
            (Some(own), _) => lines.push(ledger.planned(item, own, &mut warnings)?),
            (None, Some(before)) => lines.push(ledger.carried(before, Some(item))?),
            (None, None) => {}
        }
    }
    for extra in &plan.extras {
        let line = ClaimLine {
            quantity_from: QuantityFrom::Typed,
            reason: Some(extra.why.reason.clone()),
            document: extra.why.document.clone(),
            job_file_line: Some(extra.spot.line),
            ..blank(
                &extra.code,
                &extra.description,
                &extra.unit,
                extra.rate,
                true,
            )
        };
        lines.push(ledger.counted(line, extra.quantity, &extra.spot)?);
    }
    // What was claimed before and is neither an item any more nor named again: it is carried forward as it was.
    let gone = ledger.past.last().map_or(&[][..], |last| &last.lines);
    for before in gone {
        if !lines.iter().any(|line| line.code == before.code) {
            lines.push(ledger.carried(before, None)?);
        }
    }
    for line in &lines {
        warnings.extend(ledger.of_line(line));
    }
    let mut warnings = context.acknowledged("", warnings);
    // What corrections change is what their lines say.
    for line in &lines {
        let own = corrections.iter_mut().filter(|own| own.item == line.code);
        for (own, part) in own.zip(&line.worth.parts.corrections) {
            own.change = *part;
        }
    }
    let of_items = bill.iter().flat_map(Bill::items).flat_map(|item| {
        let own = item.findings.iter().chain(&item.warnings);
        own.map(|finding| finding.clone().at(format!("item {}", item.code)))
    });
    warnings.extend(of_items);
    let of_bill = bill.iter().flat_map(|bill| bill.warnings.iter().cloned());
    warnings.extend(of_bill);
    Ok(MeasuredLines {
        lines,
        corrections,
        warnings,
        bill,
        maps,
    })
}

/// The name that a correction is measured under.
fn corrected(item: &str, claim: u32) -> String {
    format!("{item}, claim {claim}")
}

/// The items to be measured: to the surveys of the claim, and corrections as items of their own. What is expected of the
/// whole quantity is not asked of a part of it.
fn measured_items(job: &Job, plan: &ClaimPlan) -> Vec<ItemPlan> {
    let of = |code: &str, name: String, counted: &CountedPlan, spot: &JobFileLine| {
        let CountedPlan::Measured { surveyed, .. } = counted else {
            return None;
        };
        let item = job.items.iter().find(|item| item.code == code)?;
        let other = surveyed.as_ref();
        let what = other.and_then(|surface| item.what.measured_to(surface));
        Some(ItemPlan {
            code: name,
            what: what.unwrap_or_else(|| item.what.clone()),
            expected: Expected {
                contract: item.expected.contract,
                ..Expected::default()
            },
            spot: spot.clone(),
            ..item.clone()
        })
    };
    let lines = plan.lines.iter();
    let lines = lines.filter_map(|own| of(&own.item, own.item.clone(), &own.counted, &own.spot));
    let corrections = plan.corrections.iter().filter_map(|own| {
        let name = corrected(&own.item, own.claim);
        of(&own.item, name, &own.counted, &own.spot)
    });
    lines.chain(corrections).collect()
}

/// A line that nothing is counted on yet.
fn blank(code: &str, description: &str, unit: &str, rate: Decimal, extra: bool) -> ClaimLine {
    ClaimLine {
        code: code.into(),
        section: String::new(),
        description: description.into(),
        extra,
        on_site: false,
        quantity_from: QuantityFrom::CarriedForward,
        surveyed: None,
        survey_date: None,
        measured: None,
        share: None,
        reason: None,
        document: None,
        unit: unit.into(),
        rate,
        contract: None,
        share_of_contract: None,
        uncertainty: None,
        worth: LineWorth::default(),
        certified_otherwise: None,
        job_file_line: None,
    }
}

impl Ledger<'_> {
    /// A line as it was in the claim before.
    fn before(&self, code: &str) -> Option<&ClaimLine> {
        self.past.last()?.line(code)
    }

    /// The day of a survey: as the job says it, or else as its file does.
    fn day_of(&self, surface: &str) -> Option<Date> {
        let said = self.job.date_of(surface);
        said.or_else(|| self.bill?.date_in_file(surface))
    }

    /// The decimals that the quantity of an item had before, where it was claimed.
    fn decimals(&self, item: &ItemPlan) -> u32 {
        let before = self.before(&item.code);
        before.map_or(0, |before| before.worth.to_date.quantity.scale())
    }

    fn measured(&self, name: &str) -> Option<&BillItem> {
        self.bill?.items().find(|item| item.code == name)
    }

    /// A line of an item that the claim names.
    fn planned(
        &self,
        item: &ItemPlan,
        own: &ClaimLinePlan,
        warnings: &mut Vec<Finding>,
    ) -> Result<ClaimLine, JobError> {
        let found = self.measured(&item.code);
        let mut line = ClaimLine {
            section: item.section.clone(),
            on_site: own.on_site,
            reason: own.why.as_ref().map(|why| why.reason.clone()),
            document: own.why.as_ref().and_then(|why| why.document.clone()),
            contract: item.expected.contract,
            job_file_line: Some(own.spot.line),
            ..blank(
                &item.code,
                &item.description,
                found.map_or(&item.unit, |found| &found.unit),
                item.rate.unwrap_or_default(),
                false,
            )
        };
        let quantity = match (&own.counted, found) {
            (CountedPlan::Measured { share, .. }, Some(found)) => {
                line.quantity_from = match &found.reason {
                    Some(why) => {
                        line.reason.get_or_insert_with(|| why.clone());
                        QuantityFrom::Typed
                    }
                    None => QuantityFrom::Measured,
                };
                line.surveyed = found.surveyed.clone();
                line.survey_date = line.surveyed.as_ref().and_then(|own| self.day_of(own));
                let standard = found.uncertainty.as_ref().and_then(|own| own.quantity);
                let part = share.map_or(1.0, dapedon_contract::binary);
                line.uncertainty = standard.map(|standard| standard * part);
                line.share = *share;
                line.measured = share.map(|_| found.quantity);
                self.shared(found.quantity, *share)?
            }
            (CountedPlan::Typed(quantity), _) => {
                line.quantity_from = QuantityFrom::Typed;
                let mut quantity = *quantity;
                quantity.rescale(quantity.scale().max(self.decimals(item)));
                quantity
            }
            // An item that is measured is in the bill.
            (CountedPlan::Measured { .. }, None) => Decimal::ZERO,
        };
        self.not_older(&line, &own.spot)?;
        if let Some(date) = line.survey_date.filter(|date| *date > self.plan.period[1]) {
            let words = format!(
                "item {} is measured to \"{}\" of {date}, after the period that ends on {}",
                line.code,
                line.surveyed.as_deref().unwrap_or_default(),
                self.plan.period[1]
            );
            let remedy = "name a survey within the period, or correct its date";
            warnings.push(Finding::new(Code::SurveyAfterPeriod, words).remedy(remedy));
        }
        self.counted(line, quantity, &own.spot)
    }

    /// A line that the claim does not name: as it was before, with its corrections. Materials on site are valued anew in
    /// each claim: what is not named is not there any more.
    fn carried(&self, before: &ClaimLine, item: Option<&ItemPlan>) -> Result<ClaimLine, JobError> {
        let line = ClaimLine {
            quantity_from: QuantityFrom::CarriedForward,
            rate: item.and_then(|item| item.rate).unwrap_or(before.rate),
            contract: item.map_or(before.contract, |item| item.expected.contract),
            measured: None,
            share: None,
            reason: before.on_site.then(|| "not on site any more".into()),
            document: None,
            certified_otherwise: None,
            job_file_line: None,
            ..before.clone()
        };
        let mut quantity = match before.on_site {
            true => Decimal::ZERO,
            false => before.worth.to_date.quantity,
        };
        for own in self.corrections.iter().filter(|own| own.item == line.code) {
            quantity = plus(quantity, own.change.quantity)?;
        }
        self.counted(line, quantity, &self.plan.spot)
    }

    /// A line with its quantity to date, counted from the claim before.
    fn counted(
        &self,
        mut line: ClaimLine,
        to_date: Decimal,
        spot: &JobFileLine,
    ) -> Result<ClaimLine, JobError> {
        let before = self.before(&line.code);
        let certified = self.certificate.and_then(|certificate| {
            let mut all = certificate.lines.iter();
            all.find(|own| own.item == line.code)
        });
        if let Some(before) = before.filter(|before| before.unit != line.unit) {
            let error = ClaimError::OtherUnit {
                item: line.code,
                unit: line.unit,
                unit_before: before.unit.clone(),
                before: self.plan.number.saturating_sub(1),
            };
            return Err(JobError::from(error).in_job(spot));
        }
        let claimed = before.map(|before| ClaimedBefore {
            claimed: before.worth.to_date,
            rate: before.rate,
            certified: certified.map(|own| own.quantity),
        });
        let own = self.corrections.iter().filter(|own| own.item == line.code);
        let changes: Vec<Decimal> = own.map(|own| own.change.quantity).collect();
        line.worth = LineWorth::of(to_date, line.rate, claimed, &changes)?;
        line.share_of_contract = (line.contract)
            .and_then(|contract| to_date.checked_div(contract))
            .map(|share| share.round_dp(4).normalize());
        line.certified_otherwise = certified.map(|own| own.reason.clone());
        Ok(line)
    }

    fn shared(&self, quantity: Decimal, share: Option<Decimal>) -> Result<Decimal, JobError> {
        let Some(share) = share else {
            return Ok(quantity);
        };
        let figure = dapedon_contract::binary(quantity);
        let part = quantity.checked_mul(share);
        let part = part.ok_or(dapedon_contract::ContractError::Beyond { figure })?;
        Ok(Rounding(Some(quantity.scale())).of(part))
    }

    /// A survey is no older than the one that the item was measured to before.
    fn not_older(&self, line: &ClaimLine, spot: &JobFileLine) -> Result<(), JobError> {
        let dated = |line: &ClaimLine| -> Option<(String, Date)> {
            Some((line.surveyed.clone()?, line.survey_date?))
        };
        let before = self.before(&line.code).and_then(dated);
        match (dated(line), before) {
            (Some((surveyed, date)), Some((survey_before, date_before))) if date < date_before => {
                let error = ClaimError::OlderSurvey {
                    item: line.code.clone(),
                    surveyed,
                    date,
                    before: self.plan.number.saturating_sub(1),
                    survey_before,
                    date_before,
                };
                Err(JobError::from(error).in_job(spot))
            }
            _ => Ok(()),
        }
    }

    /// A correction: what an earlier quantity was, as it was claimed or corrected last, and what it is.
    fn correction(&self, own: &CorrectionPlan) -> Result<ClaimCorrection, JobError> {
        let then = self.past.iter().find(|claim| claim.number == own.claim);
        let line = then
            .and_then(|claim| claim.line(&own.item))
            .ok_or_else(|| {
                let error = ClaimError::NothingToCorrect {
                    claim: own.claim,
                    item: own.item.clone(),
                };
                JobError::from(error).in_job(&own.spot)
            })?;
        let mut since = self.past.iter().flat_map(|claim| &claim.corrections).rev();
        let last = since.find(|past| past.claim == own.claim && past.item == own.item);
        let was = last.map_or(line.worth.to_date.quantity, |last| last.is);
        let found = self.measured(&corrected(&own.item, own.claim));
        let is = match (&own.counted, found) {
            (CountedPlan::Typed(quantity), _) => *quantity,
            (CountedPlan::Measured { .. }, Some(found)) => {
                self.shared(found.quantity, line.share)?
            }
            (CountedPlan::Measured { .. }, None) => was,
        };
        let mut correction = ClaimCorrection {
            claim: own.claim,
            item: own.item.clone(),
            unit: line.unit.clone(),
            surveyed: found.and_then(|found| found.surveyed.clone()),
            was,
            is,
            change: Default::default(),
            reason: own.why.reason.clone(),
            document: own.why.document.clone(),
        };
        correction.change.quantity = less(is, was)?;
        Ok(correction)
    }

    /// What must be known of a line.
    fn of_line(&self, line: &ClaimLine) -> Vec<Finding> {
        let mut found = Vec::new();
        let worth = &line.worth;
        let currency = self.job.currency.as_deref().unwrap_or_default();
        if !line.on_site && worth.to_date.quantity < worth.certified.quantity {
            let words = format!(
                "line {} is {} {unit} to date, below the {} {unit} that were paid: {} {currency} go back",
                line.code,
                plain(worth.to_date.quantity),
                plain(worth.certified.quantity),
                worth.due.amount.abs(),
                unit = line.unit,
            );
            let remedy = "check the survey; what an earlier claim had wrong is a correction, with its reason";
            found.push(Finding::new(Code::BelowPaid, words).remedy(remedy));
        }
        if let Some(before) = self
            .before(&line.code)
            .filter(|before| before.rate != line.rate)
        {
            let words = format!(
                "the rate of line {} is {}, and was {} in claim {}: earlier quantities come to {} {currency} more or less",
                line.code,
                plain(line.rate),
                plain(before.rate),
                self.plan.number.saturating_sub(1),
                worth.parts.change_of_rate.amount,
            );
            let remedy = "keep the rate, or say in the job file why it changed";
            found.push(Finding::new(Code::RateChanged, words).remedy(remedy));
        }
        found
    }
}
