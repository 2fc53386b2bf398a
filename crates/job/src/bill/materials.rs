//! What is dug of each material against what is placed of it, and what is brought in or taken away.

use dapedon_contract::{
    Bank, ContractError, Earth, FactorUnits, Movement, Per, Price, Shrink, State, Swell, binary,
    plus,
};
use rust_decimal::Decimal;

use super::item::in_the_bank;
use super::model::{
    BillItem, Hauled, MaterialBalance, MaterialFacts, MaterialOfItem, VehicleFacts,
};
use crate::job_file::{ItemPlan, Job, MaterialPlan, MaterialUse};

/// The factors of the materials that items dig, haul or place, and what their vehicles take.
pub(super) fn facts(job: &Job, items: &[&ItemPlan]) -> (Vec<MaterialFacts>, Vec<VehicleFacts>) {
    let stuff = || items.iter().filter_map(|item| item.stuff.as_ref());
    let used = job
        .materials
        .iter()
        .filter(|(name, _)| stuff().any(|stuff| stuff.material == **name));
    let of = |share: Option<f64>, factor: Option<f64>| Some(share? * factor?);
    let materials: Vec<MaterialFacts> = used
        .map(|(name, plan)| MaterialFacts {
            material: name.clone(),
            swell: plan.material.swell.map(|swell| swell.factor().normalize()),
            shrink: plan
                .material
                .shrink
                .map(|shrink| shrink.factor().normalize()),
            density: plan
                .material
                .density
                .map(|density| density.mass.normalize()),
            density_state: plan
                .material
                .density
                .map(|density| density.state.word().into()),
            swell_uncertainty: of(
                plan.uncertainty.swell,
                plan.material.swell.map(Swell::loose),
            ),
            shrink_uncertainty: of(
                plan.uncertainty.shrink,
                plan.material.shrink.map(Shrink::compacted),
            ),
            density_uncertainty: of(
                plan.uncertainty.density,
                plan.material.density.map(|density| binary(density.mass)),
            ),
            vehicle: plan.vehicle.clone(),
        })
        .collect();
    let hauls = |name: &String| {
        let by_item = stuff().any(|stuff| stuff.vehicle.as_ref() == Some(name));
        by_item
            || materials
                .iter()
                .any(|facts| facts.vehicle.as_ref() == Some(name))
    };
    let vehicles = job.vehicles.iter().filter(|(name, _)| hauls(name));
    let vehicles = vehicles.map(|(name, vehicle)| VehicleFacts {
        vehicle: name.clone(),
        holds: vehicle.holds.map(|holds| holds.0),
        carries: vehicle.carries.map(|carries| carries.0),
    });
    let vehicles = vehicles.collect();
    (materials, vehicles)
}

/// What is moved of each material, in the order of their names.
pub(super) fn moved(
    job: &Job,
    items: &[&ItemPlan],
    measured: &[BillItem],
    symbols: &FactorUnits<'_>,
) -> Result<Vec<MaterialBalance>, ContractError> {
    let mut all = Vec::new();
    for (name, plan) in &job.materials {
        let (mut dug_by, mut placed_by) = (Vec::new(), Vec::new());
        let (mut dug, mut needed) = (
            symbols.rounding().of(Decimal::ZERO),
            symbols.rounding().of(Decimal::ZERO),
        );
        for (item, found) in items.iter().zip(measured) {
            let Some(stuff) = item.stuff.as_ref().filter(|stuff| stuff.material == *name) else {
                continue;
            };
            if stuff.moves == MaterialUse::Nothing {
                continue;
            }
            let volume = found.volume.unwrap_or(found.measured);
            let (bank, conversion) = in_the_bank(plan, stuff, volume, symbols)?;
            // A net below zero does the opposite.
            let is_dug = (stuff.moves == MaterialUse::Dug) == (bank >= Decimal::ZERO);
            let (list, sum) = match is_dug {
                true => (&mut dug_by, &mut dug),
                false => (&mut placed_by, &mut needed),
            };
            *sum = plus(*sum, bank.abs())?;
            list.push(MaterialOfItem {
                code: item.code.clone(),
                measured: volume,
                state: stuff.measured.word().into(),
                conversion,
                bank: bank.abs(),
            });
        }
        if dug_by.is_empty() && placed_by.is_empty() {
            continue;
        }
        let movement = Movement {
            dug: Bank(dug),
            needed: Bank(needed),
        };
        let haul = |bank: Bank, price: &Option<Price>| match bank.0 > Decimal::ZERO {
            false => Ok(None),
            true => hauled(job, (name, plan), bank, price.as_ref(), symbols).map(Some),
        };
        all.push(MaterialBalance {
            material: name.clone(),
            dug_by,
            placed_by,
            dug,
            needed_for_fill: needed,
            used_on_site: movement.stays().0,
            export: haul(movement.surplus(), &plan.export)?,
            import: haul(movement.shortfall(), &plan.import)?,
        });
    }
    Ok(all)
}

/// What a volume in the bank makes on the road.
fn hauled(
    job: &Job,
    (name, plan): (&str, &MaterialPlan),
    bank: Bank,
    price: Option<&Price>,
    symbols: &FactorUnits<'_>,
) -> Result<Hauled, ContractError> {
    let lacks = |error| ContractError::conversion(name, error);
    let (known, earth, round) = (&plan.material, Earth::Bank(bank), symbols.rounding());
    let vehicle = plan
        .vehicle
        .as_ref()
        .and_then(|name| Some((name, job.vehicles.get(name)?)));
    let loads = match vehicle {
        // Without a price by the load it is reported only where it can be.
        Some((truck, vehicle)) => match symbols.loads(earth, known, truck, vehicle) {
            Err(error) if price.is_some_and(|price| price.per == Per::Load) => {
                return Err(lacks(error));
            }
            loads => loads.unwrap_or_default(),
        },
        None => None,
    };
    let trail = match price.map(|price| price.per) {
        Some(Per::Volume(state)) => known.taken_to(earth, state, round),
        Some(Per::Mass) => known.taken_to_mass(earth, round),
        Some(Per::Load) | None => known.taken_to(earth, State::Loose, round),
    };
    let cost = price.map(|price| symbols.cost(earth, (name, known), loads.as_ref(), *price));
    Ok(Hauled {
        bank: bank.0,
        // Where a factor is not said and nothing is priced by it, there is no conversion to tell.
        conversion: trail.map_or(Vec::new(), |trail| symbols.steps(&trail)),
        loads,
        cost: cost.transpose()?,
    })
}
