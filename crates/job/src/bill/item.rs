//! One line of the bill, from what was found for it.

use dapedon_contract::{
    ContractError, Conversion, ConversionStep, CountedBy, Departure, Earth, Factor, FactorUnits,
    LayerCount, LoadsMade, State, amount, binary, less, plain, plus,
};
use dapedon_core::plan::Sum;
use dapedon_core::units::{AreaUnit, VolumeUnit};
use rust_decimal::Decimal;

use super::BillError;
use super::inputs::BillInputs;
use super::kinds::ItemMeasurement;
use super::model::{BillItem, FactorOfItem, FurtherCount, ItemRow, ItemUncertainty, LimitFacts};
use super::rows::{RowUnits, Rows};
use crate::error::JobError;
use crate::finding::{Code, Finding};
use crate::job_file::{ItemMaterial, ItemPlan, Job, MaterialPlan, PaidUnit};
use crate::surfaces::LayerQuantity;

/// A line of the bill.
pub(crate) fn measured(
    job: &Job,
    item: &ItemPlan,
    (asked, desk): (&dyn ItemMeasurement, &BillInputs<'_>),
    symbols: &FactorUnits<'_>,
    units: &RowUnits,
) -> Result<BillItem, JobError> {
    let symbols = FactorUnits {
        decimals: item.decimals,
        ..*symbols
    };
    let also = also_counted(job, item, asked.layers(), &symbols, units)?;
    let layers = layer_volume(asked.layers(), &symbols, units)?;
    let Rows {
        rows,
        shared,
        in_no_plot,
        total,
        notes,
        warnings,
        by_sections,
        to_limit,
        findings,
    } = asked.rows(desk, item, units)?;
    let bands = asked.bands(desk).cloned();
    let uncertain = asked.uncertainty(desk);
    let kind = item.what.kind();
    let (exact, written) = match kind.typed() {
        Some((quantity, _)) => (binary(quantity), symbols.rounding().of(quantity)),
        None => (
            exact(&rows) - exact(&shared),
            less(sum(&rows)?, sum(&shared)?)?,
        ),
    };
    let counted_in = units.volume(item);
    let volume = match layers {
        Some(volume) => volume,
        None => in_factors(&[&rows, &shared], written, counted_in, units, &symbols)?,
    };
    let material = item.stuff.as_ref().and_then(|stuff| {
        let plan = job.materials.get(&stuff.material)?;
        Some((stuff, plan))
    });
    let measured_unit = match &item.pays {
        PaidUnit::Area(_) | PaidUnit::Typed => item.unit.as_str(),
        PaidUnit::Counted(counted) if matches!(counted.by, CountedBy::Covers(_)) => symbols.area,
        _ => counted_in.symbol(),
    };
    let PaidQuantity {
        quantity,
        conversion,
        loads,
        packed,
        used,
    } = paid(job, item, material, [written, volume], counted_in, &symbols)?.by_layers(
        job,
        item,
        &rows,
        asked.layers(),
        &symbols,
    )?;
    // What is converted by factors is reported in the unit that they hold in too.
    let restated = (material.is_some()
        && counted_in != units.factors
        && matches!(item.pays, PaidUnit::Volume(_)))
    .then(|| {
        format!(
            "in the unit of densities and vehicles: {} {}",
            plain(volume),
            symbols.volume
        )
    });
    let expected = &item.expected;
    let departures = expected.departures(quantity);
    let uncertainty = uncertain.map(|own| {
        let standard = own.standard;
        let of_measured = standard.unit.convert(standard.value, counted_in);
        let factors = material.map_or(Vec::new(), |(stuff, plan)| {
            FactorOfItem::all(&stuff.material, &plan.uncertainty, &used)
        });
        ItemUncertainty::of(of_measured, [written, quantity], item.rate, own, factors)
    });
    let due = (item.rate).map(|rate| amount(quantity, rate)).transpose()?;
    let sides = kind.surfaces();
    let (reference, surveyed) = match sides {
        [reference, surveyed] => (Some(reference), Some(surveyed)),
        [only] => (None, Some(only)),
        _ => (None, None),
    };
    Ok(BillItem {
        code: item.code.clone(),
        description: item.description.clone(),
        measure: kind.words(),
        reference: reference.map(ToString::to_string),
        surveyed: surveyed.map(ToString::to_string),
        tolerance: units.told.length_of(kind.tolerance()),
        reason: kind.typed().map(|(_, why)| why.to_owned()),
        rows,
        counted_twice: shared,
        outside_plots: in_no_plot,
        total,
        by_sections,
        limit: LimitFacts::of(&item.what, &units.told),
        to_limit,
        bands,
        uncertainty,
        second_opinions: None,
        unrounded: exact,
        measured: written,
        measured_unit: measured_unit.into(),
        material: material.map(|(stuff, _)| stuff.material.clone()),
        state: material.map(|(stuff, _)| stuff.measured.word().into()),
        volume: material.map(|_| volume),
        conversion,
        loads,
        further_counts: also.into_iter().chain(packed).collect(),
        quantity,
        unit: match (&item.pays, material) {
            (PaidUnit::Volume(_), Some((stuff, _))) => format!("{} {}", item.unit, stuff.pay),
            _ => item.unit.clone(),
        },
        rate: item.rate,
        amount: due,
        contract: expected.contract.map(|mut contract| {
            contract.rescale(contract.scale().max(quantity.scale()));
            contract
        }),
        share_of_contract: expected.share(quantity).map(binary),
        findings: (departures.iter())
            .map(|departure| {
                let code = match departure {
                    Departure::Less(_) => Code::BelowLeast,
                    Departure::More(_) => Code::AboveMost,
                    Departure::Off { .. } => Code::OffContract,
                };
                Finding::new(code, departure.in_words(quantity, &item.unit))
            })
            .chain(findings)
            .collect(),
        notes: notes.into_iter().chain(restated).collect(),
        warnings,
        job_file_line: item.spot.line,
    })
}

/// The sum of some rows, unrounded.
fn exact(rows: &[ItemRow]) -> f64 {
    let mut sum = Sum::default();
    rows.iter().for_each(|row| sum += row.unrounded);
    sum.value()
}

/// The sum of some rows as they are written.
fn sum(rows: &[ItemRow]) -> Result<Decimal, ContractError> {
    rows.iter()
        .try_fold(Decimal::ZERO, |sum, row| plus(sum, row.rounded))
}

/// What an item measures in the unit that factors hold in: its rows, each rounded once there, less those that are
/// shared.
fn in_factors(
    [rows, shared]: &[&[ItemRow]; 2],
    written: Decimal,
    counted_in: VolumeUnit,
    units: &RowUnits,
    symbols: &FactorUnits<'_>,
) -> Result<Decimal, ContractError> {
    if counted_in == units.factors || rows.is_empty() {
        return Ok(written);
    }
    let sum = |rows: &[ItemRow]| {
        rows.iter().try_fold(Decimal::ZERO, |sum, row| {
            let own = counted_in.convert(row.unrounded, units.factors);
            plus(sum, symbols.written(own)?)
        })
    };
    less(sum(rows)?, sum(shared)?)
}

/// What is paid, and how it is computed.
struct PaidQuantity {
    quantity: Decimal,
    conversion: Vec<ConversionStep>,
    loads: Option<LoadsMade>,
    packed: Vec<FurtherCount>,
    /// The factors that it follows by.
    used: Vec<Factor>,
}

impl PaidQuantity {
    /// Where it is paid by what its layers are counted in: layer by layer, whole ones rounded up for each.
    fn by_layers(
        mut self,
        job: &Job,
        item: &ItemPlan,
        rows: &[ItemRow],
        layers: &[LayerQuantity],
        symbols: &FactorUnits<'_>,
    ) -> Result<Self, JobError> {
        let PaidUnit::Counted(first) = &item.pays else {
            return Ok(self);
        };
        self.quantity = Decimal::ZERO;
        self.conversion.clear();
        self.used.clear();
        for (row, layer) in rows.iter().zip(layers) {
            // Each by its own build-up: others may have a layer of that name.
            let by_area = |by: &CountedBy| matches!(by, CountedBy::Covers(_));
            let counted = counted(job, layer).find(|counted| {
                counted.unit == item.unit && by_area(&counted.by) == by_area(&first.by)
            });
            let counted = counted.ok_or_else(|| BillError::NotCounted {
                layer: layer.layer.clone(),
                build_up: layer.build_up.clone(),
                unit: item.unit.clone(),
            })?;
            let step = symbols.layer_count(row.rounded, &row.zone, counted)?;
            self.quantity = plus(self.quantity, step.amount)?;
            self.conversion.push(step);
        }
        Ok(self)
    }
}

/// What the layer of a build-up is counted in.
fn counted<'j>(job: &'j Job, found: &LayerQuantity) -> impl Iterator<Item = &'j LayerCount> {
    let plan = job.build_ups.get(&found.build_up);
    let layer = plan.and_then(|plan| plan.layers.iter().find(|layer| layer.name == found.layer));
    layer.into_iter().flat_map(|layer| &layer.counted)
}

/// The volume of the layers of an item, as it is written.
fn layer_volume(
    layers: &[LayerQuantity],
    symbols: &FactorUnits<'_>,
    units: &RowUnits,
) -> Result<Option<Decimal>, ContractError> {
    if layers.is_empty() {
        return Ok(None);
    }
    let sum = layers.iter().try_fold(Decimal::ZERO, |sum, layer| {
        let own = units.told.volume.convert(layer.volume.value, units.factors);
        plus(sum, symbols.written(own)?)
    });
    sum.map(Some)
}

fn paid(
    job: &Job,
    item: &ItemPlan,
    material: Option<(&ItemMaterial, &MaterialPlan)>,
    [written, volume]: [Decimal; 2],
    counted_in: VolumeUnit,
    symbols: &FactorUnits<'_>,
) -> Result<PaidQuantity, ContractError> {
    let mut paid = PaidQuantity {
        quantity: written,
        conversion: Vec::new(),
        loads: None,
        packed: Vec::new(),
        used: Vec::new(),
    };
    let factors = |trail: &Conversion| trail.links.iter().map(|link| link.means).collect();
    let Some((stuff, plan)) = material else {
        return Ok(paid);
    };
    let lacks = |error| ContractError::conversion(&stuff.material, error);
    let (round, known) = (symbols.rounding(), &plan.material);
    let earth = Earth::new(stuff.measured, volume);
    let vehicle = stuff
        .vehicle
        .as_ref()
        .and_then(|name| Some((name, job.vehicles.get(name)?)));
    if let Some((name, vehicle)) = vehicle.filter(|_| volume > Decimal::ZERO) {
        paid.loads = symbols.loads(earth, known, name, vehicle).map_err(lacks)?;
    }
    match &item.pays {
        PaidUnit::Volume(_) => {
            // Swell and shrink are shares: they hold in the unit the item is paid in, whichever that is.
            let own = counted_in.symbol();
            let symbols = FactorUnits {
                volume: own,
                ..*symbols
            };
            let earth = Earth::new(stuff.measured, written);
            let trail = known.taken_to(earth, stuff.pay, round).map_err(lacks)?;
            paid.quantity = trail.earth().volume();
            paid.conversion = symbols.steps(&trail);
            paid.used = factors(&trail);
        }
        PaidUnit::Mass => {
            let trail = known.taken_to_mass(earth, round).map_err(lacks)?;
            paid.quantity = trail.mass().map_or(Decimal::ZERO, |mass| mass.0);
            paid.conversion = symbols.steps(&trail);
            paid.used = factors(&trail);
        }
        PaidUnit::Loads => {
            let loads = paid.loads.as_ref();
            paid.quantity = loads.map_or(Decimal::ZERO, |loads| loads.count);
            let trail = match loads.map(|loads| &*loads.limited_by) {
                Some("mass") => known.taken_to_mass(earth, round).map_err(lacks)?,
                _ => known.taken_to(earth, State::Loose, round).map_err(lacks)?,
            };
            paid.used = factors(&trail);
        }
        PaidUnit::Packed(_) | PaidUnit::Area(_) | PaidUnit::Counted(_) | PaidUnit::Typed => {}
    }
    for packed in &plan.packed {
        let Ok(trail) = known.taken_to(earth, packed.state, round) else {
            continue;
        };
        let step = symbols.packed(trail.earth().volume(), packed)?;
        if matches!(&item.pays, PaidUnit::Packed(own) if own == packed) {
            paid.quantity = step.amount;
            paid.conversion = symbols.steps(&trail);
            paid.conversion.push(step);
            paid.used = factors(&trail);
        } else {
            paid.packed.push(FurtherCount::new(step, packed.cost)?);
        }
    }
    Ok(paid)
}

/// What the layers of an item are counted in besides what it is paid by, layer by layer.
fn also_counted(
    job: &Job,
    item: &ItemPlan,
    layers: &[LayerQuantity],
    symbols: &FactorUnits<'_>,
    units: &RowUnits,
) -> Result<Vec<FurtherCount>, ContractError> {
    let told = units.told;
    let mut also = Vec::new();
    for found in layers {
        for counted in counted(job, found).filter(|counted| counted.unit != item.unit) {
            let had = match counted.by {
                CountedBy::Covers(_) => told
                    .area
                    .convert(found.area.value, AreaUnit::usual(told.length)),
                CountedBy::PerVolume(_) | CountedBy::Holds(_) => {
                    told.volume.convert(found.volume.value, units.factors)
                }
            };
            let had = symbols.written(had)?;
            let step = symbols.layer_count(had, &found.zone, counted)?;
            also.push(FurtherCount::new(step, counted.cost)?);
        }
    }
    Ok(also)
}

impl FurtherCount {
    fn new(step: ConversionStep, each: Option<Decimal>) -> Result<Self, ContractError> {
        let cost = each.map(|each| amount(step.amount, each)).transpose()?;
        Ok(FurtherCount { step, each, cost })
    }
}

/// The volume an item moves, as it was in the bank; negative where it does the opposite.
pub(super) fn in_the_bank(
    plan: &MaterialPlan,
    stuff: &ItemMaterial,
    volume: Decimal,
    symbols: &FactorUnits<'_>,
) -> Result<(Decimal, Vec<ConversionStep>), ContractError> {
    let earth = Earth::new(stuff.measured, volume);
    let trail = plan
        .material
        .taken_to(earth, State::Bank, symbols.rounding());
    let trail = trail.map_err(|error| ContractError::conversion(&stuff.material, error))?;
    Ok((trail.earth().volume(), symbols.steps(&trail)))
}
