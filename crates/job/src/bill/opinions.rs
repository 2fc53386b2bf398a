//! Second opinions of the items of a bill.

use dapedon_contract::{Earth, Rounding, State, binary};
use dapedon_core::quantities::Volumes as CoreVolumes;
use rust_decimal::Decimal;

use super::inputs::BillInputs;
use super::kinds::ItemMeasurement;
use super::model::BillItem;
use super::passes::PassIndex;
use super::rows::RowUnits;
use crate::error::JobError;
use crate::job_file::{Counts, ItemKind, ItemPlan, Job};
use crate::quantities::opinions::{
    self, Measured, OpinionRules, SecondOpinions, StatedFigures, second_opinions,
};
use crate::quantities::volume_of_report;

/// The second opinions that an item asks for, once it has been measured.
pub(super) fn of(
    desk: &BillInputs<'_>,
    job: &Job,
    (plan, asked): (&ItemPlan, &dyn ItemMeasurement),
    item: &BillItem,
    units: &RowUnits,
) -> Result<Option<SecondOpinions>, JobError> {
    let (ItemKind::Between(between), Some(ticket)) = (&plan.what, asked.overlay()) else {
        return Ok(None);
    };
    let Some(rules) = &between.opinions else {
        return Ok(None);
    };
    let made = desk.passes.0[ticket.pass]
        .sides
        .map(|side| &desk.made[side].1);
    let surfaces = made.map(|made| &*made.surface);
    let zones = desk.passes.counted(ticket);
    let tolerance = desk.passes.tolerance(ticket);
    let breaklines = made.map(|made| made.chosen_triangles());
    let standard = desk.passes.uncertainty(ticket).map(|own| {
        let own = &own.volumes;
        [own.cut, own.fill, own.net].map(|own| own.standard)
    });
    let own = Measured {
        surfaces,
        zones: zones.as_ref(),
        tolerance,
        names: made.map(|made| made.side.source.as_str()),
        breaklines: breaklines
            .each_ref()
            .map(|own| own.as_deref().map(Vec::as_slice)),
        standard,
        others: match rules.stated.is_empty() {
            true => Vec::new(),
            false => others(desk, job, (plan, item), ticket, units)?,
        },
        units: &units.told,
    };
    // What is stated is what is paid; what is compared is what is measured.
    let factor = item
        .quantity
        .checked_div(item.measured)
        .filter(|factor| !factor.is_zero());
    let stated = rules.stated.iter().filter_map(|(by, quantity)| {
        let measured = match factor {
            Some(factor) => quantity.checked_div(factor)?,
            None => *quantity,
        };
        let told = units
            .volume(plan)
            .convert(binary(measured), units.told.volume);
        let told = Decimal::from_f64_retain(told)?.round_dp(quantity.scale());
        let figures = StatedFigures {
            by: Some(by.clone()),
            ..StatedFigures::default()
        };
        Some(match between.counts {
            Counts::Cut => StatedFigures {
                cut: Some(told),
                ..figures
            },
            Counts::Fill => StatedFigures {
                fill: Some(told),
                ..figures
            },
            _ => StatedFigures {
                net: Some(told),
                ..figures
            },
        })
    });
    let rules = OpinionRules {
        cell: None,
        stated: stated.collect(),
        limit: rules.limit.map(binary),
    };
    second_opinions(&own, &rules).map(Some)
}

/// What somebody else may have found for an item, each with what it is.
fn others(
    desk: &BillInputs<'_>,
    job: &Job,
    (plan, item): (&ItemPlan, &BillItem),
    ticket: PassIndex,
    units: &RowUnits,
) -> Result<Vec<(String, CoreVolumes)>, JobError> {
    let sides = desk.passes.0[ticket.pass].sides;
    let surfaces = sides.map(|side| &**desk.surface(side));
    let (zones, tolerance) = (desk.passes.counted(ticket), desk.passes.tolerance(ticket));
    let rows = item.rows.iter().filter_map(|row| row.measured.as_ref());
    let told = &units.told;
    let mut others = opinions::others(surfaces, zones.as_ref(), tolerance, rows, None, told)?;
    let material = plan.stuff.as_ref().and_then(|stuff| {
        let material = &job.materials.get(&stuff.material)?.material;
        Some((stuff, material))
    });
    // All that counts: what rows share counts once.
    let first = item.rows.first().and_then(|row| row.measured.as_ref());
    let own = item.total.as_ref().or(first);
    let own = own.map(|own| volume_of_report(&own.volume, told));
    if let (Some((stuff, material)), Some(own)) = (material, own) {
        let states = [
            (State::Bank, "as bank volume"),
            (State::Loose, "as loose volume"),
            (State::Compacted, "as compacted volume"),
        ];
        let taken = states.into_iter().filter_map(|(state, words)| {
            let one = Earth::new(stuff.measured, Decimal::ONE);
            let taken = material.taken_to(one, state, Rounding(None)).ok()?;
            let factor = binary(taken.earth().volume());
            let all = CoreVolumes {
                cut: own.cut * factor,
                fill: own.fill * factor,
                net: own.net * factor,
                unchanged: own.unchanged * factor,
            };
            let words = format!("{words} of {}", stuff.material);
            (state != stuff.measured).then_some((words, all))
        });
        others.extend(taken);
    }
    Ok(others)
}
