//! The periods of an item: its surveys in their order, each to date and against the one before.

use dapedon_contract::{Rounding, less};
use jiff::civil::Date;
use rust_decimal::Decimal;

use super::model::{DesignQuantity, ItemProgress, PeriodRow, SurveyProgress};
use super::parts::{Found, ItemParts, Part};
use super::{days, forecast};
use crate::bill::{Bill, FarthestBeyond, ItemRow};
use crate::context::Context;
use crate::digits::figure_in_words;
use crate::error::JobError;
use crate::figure::Volume;
use crate::finding::{Code, Finding};
use crate::job_file::{Job, MeasuredZones};
use crate::units::ReportUnits;

/// Differences below this share of what was moved are rounding: heights are told to some 1e-7 of the depth of a dig.
const ROUNDING: f64 = 1e-6;

/// An item through all of its surveys, from what was measured of it.
pub(super) fn of(
    context: &Context<'_>,
    job: &Job,
    parts: &ItemParts<'_>,
    found: &Found<'_>,
    bill: &Bill,
) -> Result<ItemProgress, JobError> {
    let (item, plan) = (parts.item, parts.plan);
    let day_of = |surface: &str| job.date_of(surface).or_else(|| bill.date_in_file(surface));
    let days = days::all(plan, day_of)?;
    let reference = item.what.kind().surfaces().first();
    let reference = reference.map(ToString::to_string).unwrap_or_default();
    let next_day = |day: Date| day.tomorrow().unwrap_or(day);
    let started = plan.started.or_else(|| day_of(&reference).map(next_day));
    // All quantities have the decimals of the one that has most: a bare zero has none.
    let to_date = (0..plan.surveys.len()).filter_map(|number| found.part(Part::ToDate(number)));
    let decimals = to_date.map(|own| own.quantity.scale()).max().unwrap_or(0);
    let written = |mut quantity: Decimal| {
        quantity.rescale(decimals.max(quantity.scale()));
        quantity
    };
    let design = design(parts, found).map(|own| DesignQuantity {
        quantity: written(own.quantity),
        ..own
    });
    let ground = item.what.kind().ground();
    let everywhere = ground.is_none_or(MeasuredZones::is_everywhere);
    let mut surveys: Vec<SurveyProgress> = Vec::new();
    let mut warnings = Vec::new();
    for (number, (survey, &date)) in plan.surveys.iter().zip(&days).enumerate() {
        // Each survey is measured to.
        let Some(measured) = found.part(Part::ToDate(number)) else {
            continue;
        };
        let place = |found: &Finding| found.clone().at(format!("to \"{survey}\""));
        add(&mut warnings, measured.warnings.iter().map(place));
        let before = surveys.last();
        let from = match before {
            Some(before) => Some(next_day(before.date)),
            None => started.filter(|first| *first <= date),
        };
        let to_date = written(measured.quantity);
        let period = before.map_or(Ok(to_date), |before| less(to_date, before.to_date))?;
        let done = design.as_ref().map(|_| {
            let own = found.part(Part::Done(number));
            // It is measured without the tolerance of the item, and is no more than what that counts.
            own.map_or(to_date, |own| {
                nearer_to_zero(to_date, written(own.quantity))
            })
        });
        let of_design = done.zip(design.as_ref().map(|design| design.quantity));
        let between = found.part(Part::Period(number));
        let mut next = SurveyProgress {
            surveyed: survey.clone(),
            date,
            from,
            work_days: from.map(|from| job.calendar.work_days(from, date)),
            to_date,
            uncertainty: measured.uncertainty.as_ref().and_then(|own| own.quantity),
            period,
            between_surveys: between
                .filter(|_| parts.counts.is_volume())
                .map(|own| written(own.quantity)),
            done,
            share_of_design: of_design
                .and_then(|(done, design)| Some(done.checked_div(design)?.round_dp(4).normalize())),
            left: of_design
                .map(|(done, design)| left(done, design))
                .transpose()?,
            in_a_work_day: None,
            zones: rows(found, number, bill.units),
        };
        let pace = forecast::pace(&next, before)?;
        let rounding = Rounding(Some(to_date.scale()));
        next.in_a_work_day = pace.and_then(|pace| pace.in_a_day(rounding));
        warnings.extend(unexplained(
            &next,
            &reference,
            before,
            (everywhere, bill.units),
        ));
        surveys.push(next);
    }
    let of = format!("item {}", item.code);
    let warnings = context.acknowledged(&of, warnings);
    let measured = found.part(Part::ToDate(0));
    let done_by = surveys
        .iter()
        .find(|own| own.left.is_some_and(|left| left.is_zero()));
    Ok(ItemProgress {
        code: item.code.clone(),
        description: item.description.clone(),
        measure: item.what.kind().words(),
        unit: measured.map_or_else(|| item.unit.clone(), |own| own.unit.clone()),
        reference,
        started: surveys.first().and_then(|first| first.from),
        done_by: done_by.map(|own| own.surveyed.clone()),
        forecast: forecast::of(&job.calendar, &surveys)?,
        design,
        surveys,
        warnings,
        job_file_line: plan.spot.line,
    })
}

/// What is to be reached: measured to the design, or as the contract says.
fn design(parts: &ItemParts<'_>, found: &Found<'_>) -> Option<DesignQuantity> {
    let measured = found.part(Part::Design);
    let by_surface = measured
        .zip(parts.plan.design.as_ref())
        .map(|(own, surface)| DesignQuantity {
            surface: Some(surface.to_string()),
            quantity: own.quantity,
        });
    by_surface.or_else(|| {
        Some(DesignQuantity {
            surface: None,
            quantity: parts.item.expected.contract?,
        })
    })
}

/// The smaller of two quantities, whatever their sign.
fn nearer_to_zero(a: Decimal, b: Decimal) -> Decimal {
    if a.abs() < b.abs() { a } else { b }
}

/// What of a design is left: nothing where more than that is done.
fn left(done: Decimal, design: Decimal) -> Result<Decimal, JobError> {
    let left = less(design, done)?;
    let overdone = left.is_sign_negative() != design.is_sign_negative();
    let mut none = Decimal::ZERO;
    none.rescale(left.scale());
    Ok(match overdone || left.is_zero() {
        true => none,
        false => left,
    })
}

/// Cut and fill of a row, whether or not it is counted up to a limit.
fn moved(row: &ItemRow) -> Option<[f64; 2]> {
    if let Some(own) = &row.to_limit {
        let all = [own.cut, own.fill];
        return Some(all.map(|own| own.within.value + own.in_tolerance.value + own.beyond.value));
    }
    let own = row.measured.as_ref()?.volume;
    Some([own.cut.value, own.fill.value])
}

/// What was left out of a row as unchanged.
fn unchanged(row: &ItemRow) -> f64 {
    let own = row.measured.as_ref();
    own.map_or(0.0, |own| own.volume.unchanged.value)
}

/// A period, row by row.
fn rows(found: &Found<'_>, number: usize, units: ReportUnits) -> Vec<PeriodRow> {
    let rows_of = |part: Part| found.part(part).map_or(&[][..], |own| &own.rows);
    let before = number.checked_sub(1);
    let earlier = before.map(|before| rows_of(Part::ToDate(before)));
    let [period, again] = [Part::Period(number), Part::Again(number)].map(rows_of);
    let all = rows_of(Part::ToDate(number)).iter().enumerate();
    let all = all.filter_map(|(index, own)| {
        let [cut, fill] = moved(own)?;
        let volume = |value: f64| Volume {
            value,
            unit: units.volume,
            uncertainty: None,
        };
        let Some(earlier) = earlier else {
            // From the reference: there is nothing to be done again.
            return Some(PeriodRow {
                zone: own.zone.clone(),
                dug: volume(cut),
                placed: volume(fill),
                filled_again: volume(0.0),
                dug_again: volume(0.0),
                most_again: None,
                cut_to_date: volume(cut),
                fill_to_date: volume(fill),
                by_tolerance: volume(0.0),
                unexplained: volume(0.0),
            });
        };
        let earlier = earlier.get(index)?;
        let period = period.get(index)?;
        let again = again.get(index)?.to_limit?;
        let [dug, placed] = moved(period)?;
        let [cut_before, fill_before] = moved(earlier)?;
        // The reference and the earlier survey against this one: what was dug then and lies above it now was filled again.
        let [filled_again, dug_again] = [again.cut, again.fill].map(|own| own.beyond.value);
        let both = filled_again + dug_again;
        let by_cut = dug - (cut - cut_before) - both;
        let by_fill = placed - (fill - fill_before) - both;
        let apart = match by_cut.abs() > by_fill.abs() {
            true => by_cut,
            false => by_fill,
        };
        let rounding = ROUNDING * (cut + fill + cut_before + fill_before + dug + placed);
        let left_out = [own, earlier, period].map(unchanged).iter().sum::<f64>();
        let [by_tolerance, unexplained] = match apart.abs() {
            apart if apart <= rounding => [0.0; 2],
            own if own <= left_out + rounding => [apart, 0.0],
            _ => [0.0, apart],
        };
        let deeper = |a: &FarthestBeyond, b: &FarthestBeyond| a.by.value.total_cmp(&b.by.value);
        let places = [again.cut.farthest, again.fill.farthest];
        let most_again = places.into_iter().flatten().max_by(deeper);
        Some(PeriodRow {
            zone: own.zone.clone(),
            dug: volume(dug),
            placed: volume(placed),
            filled_again: volume(filled_again),
            dug_again: volume(dug_again),
            most_again: most_again.filter(|_| both >= least_shown(units)),
            cut_to_date: volume(cut),
            fill_to_date: volume(fill),
            by_tolerance: volume(by_tolerance),
            unexplained: volume(unexplained),
        })
    });
    all.collect()
}

/// Volumes below this are nothing as they are written.
fn least_shown(units: ReportUnits) -> f64 {
    0.5 * 10f64.powi(-i32::try_from(units.decimals).unwrap_or(0))
}

/// Where both ways differ and nothing explains it.
fn unexplained(
    survey: &SurveyProgress,
    reference: &str,
    before: Option<&SurveyProgress>,
    (everywhere, units): (bool, ReportUnits),
) -> Vec<Finding> {
    let Some(before) = before else {
        return Vec::new();
    };
    let rows = survey.zones.iter();
    let rows = rows.filter(|row| row.unexplained.value.abs() >= least_shown(units));
    let said = rows.map(|row| {
        let (from, to) = (&before.surveyed, &survey.surveyed);
        let by = figure_in_words(row.unexplained.value.abs());
        let volume = units.volume.symbol();
        let ground = match everywhere {
            true => String::new(),
            false => format!(" in \"{}\"", row.zone),
        };
        let words = format!(
            "from \"{from}\" to \"{to}\"{ground} the surveys and the figures to date differ by {by} {volume}: not all of \"{reference}\", \"{from}\" and \"{to}\" cover that ground"
        );
        let remedy = "limit the item to ground that all surveys cover, or lay each survey over the one before";
        Finding::new(Code::PeriodsDiffer, words).remedy(remedy)
    });
    said.collect()
}

/// Adds findings, each once.
fn add(to: &mut Vec<Finding>, found: impl IntoIterator<Item = Finding>) {
    for finding in found {
        if !to.contains(&finding) {
            to.push(finding);
        }
    }
}
