//! Second opinions of the items of a bill.

use std::sync::Arc;

use dapedon_contract::{Earth, Rounding, State, binary};
use dapedon_core::plan::Place;
use dapedon_core::quantities::{Tolerance, Volumes as CoreVolumes};
use dapedon_core::surface::Surface;
use dapedon_core::zones::Zones;
use rust_decimal::Decimal;

use super::inputs::BillInputs;
use super::kinds::ItemMeasurement;
use super::kinds::pile::PilesAbove;
use super::model::BillItem;
use super::passes::PassIndex;
use super::rows::RowUnits;
use crate::error::JobError;
use crate::figure::Volume;
use crate::job_file::{Counts, ItemPlan, Job};
use crate::quantities::opinions::{
    self, Measured, OpinionRules, SecondOpinions, StatedFigures, second_opinions,
};
use crate::quantities::volume_of_report;
use crate::surfaces::MadeSurface;

/// The second opinions that an item asks for, once it has been measured.
pub(super) fn of(
    desk: &BillInputs<'_>,
    job: &Job,
    (plan, asked): (&ItemPlan, &dyn ItemMeasurement),
    item: &BillItem,
    units: &RowUnits,
) -> Result<Option<SecondOpinions>, JobError> {
    let Some((asks, counts)) = plan.what.kind().opinions() else {
        return Ok(None);
    };
    let (bases, between);
    let found = match (asked.overlay(), asked.piles()) {
        (Some(ticket), _) => {
            between = Between::of(desk, ticket);
            &between
        }
        (None, Some(piles)) => {
            let piles = &desk.piled[piles];
            bases = piles.bases()?;
            between = Between::above(desk, piles, &bases, item);
            &between
        }
        (None, None) => return Ok(None),
    };
    let own = Measured {
        surfaces: found.surfaces,
        zones: found.zones.as_ref(),
        tolerance: found.tolerance,
        names: found.names,
        breaklines: found
            .breaklines
            .each_ref()
            .map(|own| own.as_deref().map(Vec::as_slice)),
        standard: found.standard,
        others: match asks.stated.is_empty() {
            true => Vec::new(),
            false => others(job, (plan, item), found, units)?,
        },
        units: &units.told,
    };
    // What is stated is what is paid; what is compared is what is measured.
    let factor = item
        .quantity
        .checked_div(item.measured)
        .filter(|factor| !factor.is_zero());
    let stated = asks.stated.iter().filter_map(|(by, quantity)| {
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
        Some(match counts {
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
        limit: asks.limit.map(binary),
    };
    second_opinions(&own, &rules).map(Some)
}

/// Two surfaces between which an item was measured.
struct Between<'d> {
    surfaces: [&'d Surface; 2],
    names: [&'d str; 2],
    breaklines: [Option<Arc<Vec<Vec<Place>>>>; 2],
    zones: Option<Zones>,
    tolerance: Tolerance,
    /// Of cut, fill and net, where it is known.
    standard: Option<[Volume; 3]>,
}

impl<'d> Between<'d> {
    fn of(desk: &'d BillInputs<'_>, ticket: PassIndex) -> Self {
        let made = desk.passes.0[ticket.pass]
            .sides
            .map(|side| &desk.made[side].1);
        Between {
            surfaces: made.map(|made| &*made.surface),
            names: made.map(|made| made.side.source.as_str()),
            breaklines: made.map(MadeSurface::chosen_triangles),
            zones: desk.passes.counted(ticket),
            tolerance: desk.passes.tolerance(ticket),
            standard: desk.passes.uncertainty(ticket).map(|own| {
                let own = &own.volumes;
                [own.cut, own.fill, own.net].map(|own| own.standard)
            }),
        }
    }

    /// Piles above their bases. Only what stands above them counts, and how uncertain that is.
    fn above(
        desk: &'d BillInputs<'_>,
        piles: &PilesAbove,
        bases: &'d Surface,
        item: &BillItem,
    ) -> Self {
        let made = &desk.made[piles.surface].1;
        let zones = piles.piles.iter().map(|pile| pile.zone.clone());
        Between {
            surfaces: [bases, &made.surface],
            names: ["base", made.side.source.as_str()],
            breaklines: [None, made.chosen_triangles()],
            zones: Some(Zones::new(bases.frame(), zones.collect())),
            tolerance: Tolerance::ZERO,
            standard: item.uncertainty.as_ref().map(|own| [own.from.standard; 3]),
        }
    }
}

/// What somebody else may have found for an item, each with what it is.
fn others(
    job: &Job,
    (plan, item): (&ItemPlan, &BillItem),
    found: &Between<'_>,
    units: &RowUnits,
) -> Result<Vec<(String, CoreVolumes)>, JobError> {
    let rows = item.rows.iter().filter_map(|row| row.measured.as_ref());
    let told = &units.told;
    let zones = found.zones.as_ref();
    let mut others = opinions::others(found.surfaces, zones, found.tolerance, rows, None, told)?;
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
