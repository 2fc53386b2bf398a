//! Items: each says what counts, between what, where, and is paid in a unit that this can be reported in.

mod names;
mod pays;

use std::collections::{BTreeMap, BTreeSet};

use dapedon_contract::{Expected, Vehicle, decimal};
use dapedon_core::units::{LengthUnit, MassUnit};
use rust_decimal::Decimal;
use toml::Spanned;

use super::super::entries::{ItemEntry, Name, OneOrMany};
use super::super::kinds::said;
use super::super::{BuildUpPlan, ItemPlan, JobFileError, MaterialPlan, PaidUnit, SurfacePlan};
use super::JobFileText;
use super::materials::money;
use crate::band_rules::BandRules;

/// What items may name, and the units they are reported in.
pub(in crate::job_file) struct Known<'k> {
    pub(in crate::job_file) surfaces: &'k BTreeMap<String, SurfacePlan>,
    pub(super) zones: &'k BTreeSet<&'k str>,
    pub(super) lines: &'k BTreeSet<&'k str>,
    /// The unit of the job.
    pub(in crate::job_file) unit: LengthUnit,
    pub(in crate::job_file) build_ups: &'k BTreeMap<String, BuildUpPlan>,
    pub(in crate::job_file) bands: &'k BTreeMap<String, BandRules>,
    pub(super) materials: &'k BTreeMap<String, MaterialPlan>,
    pub(super) vehicles: &'k BTreeMap<String, Vehicle>,
    pub(super) mass: MassUnit,
    pub(super) decimals: u32,
}

/// Checks all items.
pub(super) fn items(
    sheet: &JobFileText<'_>,
    entries: &[Spanned<ItemEntry>],
    known: &Known<'_>,
) -> Result<Vec<ItemPlan>, JobFileError> {
    let mut plans: Vec<ItemPlan> = Vec::new();
    for entry in entries {
        let code = &entry.get_ref().code;
        if code.get_ref().trim().is_empty() {
            return Err(sheet.fault(code.span(), "the item has no code", "add code = \"...\""));
        }
        if let Some(other) = plans.iter().find(|plan| plan.code == *code.get_ref()) {
            let what = format!("two items have the code \"{}\"", code.get_ref());
            let remedy = format!(
                "change one of them; the other is in line {}",
                other.spot.line
            );
            return Err(sheet.fault(code.span(), what, remedy));
        }
        plans.push(item(&Checked {
            sheet,
            known,
            entry: entry.get_ref(),
        })?);
    }
    Ok(plans)
}

/// An item, and what it may name.
pub(in crate::job_file) struct Checked<'c> {
    pub(in crate::job_file) sheet: &'c JobFileText<'c>,
    pub(in crate::job_file) known: &'c Known<'c>,
    pub(in crate::job_file) entry: &'c ItemEntry,
}

fn item(checked: &Checked<'_>) -> Result<ItemPlan, JobFileError> {
    let Checked { sheet, entry, .. } = *checked;
    checked.only_what_counts()?;
    let said = said(*entry.measure.get_ref());
    let what = (said.check)(checked)?;
    let unit = checked.unit(&what)?;
    let stuff = checked.stuff(&what, &unit)?;
    let rate = match &entry.rate {
        None => None,
        Some(rate) => Some(money(sheet, rate.span(), *rate.get_ref())?),
    };
    let places = match &entry.decimals {
        None => checked.known.decimals,
        Some(decimals) if *decimals.get_ref() <= 6 => u32::from(*decimals.get_ref()),
        Some(decimals) => {
            let what = format!("{} decimals are too many", decimals.get_ref());
            return Err(sheet.fault(decimals.span(), what, "use 0 to 6"));
        }
    };
    Ok(ItemPlan {
        code: entry.code.get_ref().clone(),
        section: entry.section.clone().unwrap_or_default(),
        description: entry.description.clone(),
        unit: match &unit {
            PaidUnit::Volume(volume) => volume.symbol().into(),
            PaidUnit::Area(area) => area.symbol().into(),
            PaidUnit::Loads => "loads".into(),
            PaidUnit::Mass | PaidUnit::Packed(_) | PaidUnit::Counted(_) | PaidUnit::Typed => {
                entry.unit.get_ref().clone()
            }
        },
        pays: unit,
        progress: checked.progress(&what)?,
        what,
        stuff,
        expected: checked.expected()?,
        rate,
        decimals: places,
        spot: sheet.spot(entry.code.span()),
    })
}

impl Checked<'_> {
    pub(in crate::job_file) fn fault(
        &self,
        what: impl Into<String>,
        remedy: impl Into<String>,
    ) -> JobFileError {
        self.sheet.fault(self.entry.code.span(), what, remedy)
    }

    /// Keys that mean nothing for what counts are refused: whoever wrote them meant something else.
    fn only_what_counts(&self) -> Result<(), JobFileError> {
        let entry = self.entry;
        let said = said(*entry.measure.get_ref());
        let span = |entry: &Option<Name>| entry.as_ref().map(Spanned::span);
        let number = |entry: &Option<Spanned<f64>>| entry.as_ref().map(Spanned::span);
        let many = |entry: &Option<Spanned<OneOrMany>>| entry.as_ref().map(Spanned::span);
        let reason = entry.reason.as_ref().map(|_| entry.code.span());
        let keys = [
            ("reference", span(&entry.reference)),
            ("surveyed", span(&entry.surveyed)),
            ("surveys", entry.surveys.as_ref().map(Spanned::span)),
            ("design", span(&entry.design)),
            ("started", entry.started.as_ref().map(Spanned::span)),
            ("zones", many(&entry.zones)),
            ("plots", many(&entry.plots)),
            ("base", entry.base.as_ref().map(Spanned::span)),
            ("level", number(&entry.level)),
            ("build-up", span(&entry.build_up)),
            ("layer", span(&entry.layer)),
            ("quantity", number(&entry.quantity)),
            ("reason", reason),
            ("tolerance", number(&entry.tolerance)),
            ("bands", span(&entry.bands)),
            ("sections", entry.sections.as_ref().map(Spanned::span)),
            ("limit", span(&entry.limit)),
            ("limit-tolerance", number(&entry.limit_tolerance)),
            (
                "pay-tolerance",
                entry.pay_tolerance.as_ref().map(Spanned::span),
            ),
            (
                "between-points",
                entry.between_points.as_ref().map(Spanned::span),
            ),
            (
                "second-opinion",
                entry.second_opinion.as_ref().map(Spanned::span),
            ),
            ("stated", entry.stated.as_ref().map(Spanned::span)),
            ("agree-within", span(&entry.agree_within)),
        ];
        for (key, span) in keys {
            if let (Some(span), false) = (span, said.keys.contains(&key)) {
                let what = format!("{key} has no effect where {} is counted", said.word);
                return Err(self.sheet.fault(span, what, "remove it, or change measure"));
            }
        }
        Ok(())
    }

    pub(in crate::job_file) fn figure(
        &self,
        value: &Spanned<f64>,
    ) -> Result<Decimal, JobFileError> {
        decimal(*value.get_ref()).ok_or_else(|| {
            let what = format!("{} is out of range for a bill", value.get_ref());
            self.sheet.fault(value.span(), what, "correct it")
        })
    }

    /// A share, as it is written in percent.
    pub(in crate::job_file) fn share(&self, text: &Name) -> Result<Decimal, JobFileError> {
        let share = text.get_ref().trim().strip_suffix('%');
        let share = share.and_then(|share| share.trim().parse().ok());
        let usable = share
            .filter(|share: &Decimal| *share >= Decimal::ZERO && *share <= Decimal::from(1000));
        let share = usable.and_then(|percent| percent.checked_div(Decimal::ONE_HUNDRED));
        share.ok_or_else(|| {
            let what = format!("\"{}\" is not a percentage", text.get_ref());
            self.sheet
                .fault(text.span(), what, "write it as in \"10%\"")
        })
    }

    fn expected(&self) -> Result<Expected, JobFileError> {
        let Checked { sheet, entry, .. } = *self;
        let figure = |value: &Option<Spanned<f64>>| match value {
            None => Ok(None),
            Some(value) => self.figure(value).map(Some),
        };
        let within = match &entry.within {
            None => None,
            Some(within) => {
                let share = self.share(within)?;
                if entry.contract.is_none() {
                    let what = "within is a share of the contract quantity, and the item has none";
                    return Err(sheet.fault(within.span(), what, "add contract = ..."));
                }
                Some(share)
            }
        };
        let expected = Expected {
            contract: figure(&entry.contract)?,
            within,
            at_least: figure(&entry.at_least)?,
            at_most: figure(&entry.at_most)?,
        };
        match (expected.at_least, expected.at_most, &entry.at_most) {
            (Some(least), Some(most), Some(at_most)) if least > most => {
                let what = format!("at-least {least} is above at-most {most}");
                Err(sheet.fault(at_most.span(), what, "correct one of them"))
            }
            _ => Ok(expected),
        }
    }
}
