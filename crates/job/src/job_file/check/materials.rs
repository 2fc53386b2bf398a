//! Materials and vehicles whose figures can be meant.

use std::collections::{BTreeMap, BTreeSet};
use std::ops::Range;

use dapedon_contract::{
    ConversionError, Density, Earth, Loose, Mass, Material, MaterialCount, Missing, Per, Price,
    Rounding, State, Vehicle, binary, decimal,
};
use dapedon_core::units::MassUnit;
use rust_decimal::Decimal;
use toml::Spanned;

use super::super::entries::{
    DensityEntry, FigureEntry, MaterialEntry, Name, PackedEntry, PriceEntry, StateEntry,
    VehicleEntry,
};
use super::super::{FactorUncertainty, JobFileError, MaterialPlan};
use super::JobFileText;

/// A density above this is that of no soil or rock, in tonnes to a cubic metre or tons to a cubic yard: it is in
/// kilograms or pounds.
const DENSEST: f64 = 8.0;

/// Checks a vehicle.
pub(super) fn vehicle(
    sheet: &JobFileText<'_>,
    name: &Name,
    entry: &VehicleEntry,
) -> Result<Vehicle, JobFileError> {
    if entry.holds.is_none() && entry.carries.is_none() {
        let what = format!("the capacity of \"{}\" is missing", name.get_ref());
        let remedy = "add holds = ... for the loose volume, carries = ... for the mass, or both";
        return Err(sheet.fault(name.span(), what, remedy));
    }
    let limit = |entry: &Option<Spanned<f64>>| match entry {
        None => Ok(None),
        Some(limit) => positive(sheet, limit.span(), *limit.get_ref()).map(Some),
    };
    Ok(Vehicle {
        holds: limit(&entry.holds)?.map(Loose),
        carries: limit(&entry.carries)?.map(Mass),
    })
}

/// Checks a material.
pub(super) fn material(
    sheet: &JobFileText<'_>,
    name: &Name,
    entry: &MaterialEntry,
    vehicles: &BTreeMap<String, Vehicle>,
    mass: MassUnit,
) -> Result<MaterialPlan, JobFileError> {
    let swell = match &entry.swell {
        None => None,
        Some(swell) => Some(swell.get_ref().text().parse().map_err(|error| {
            let error: dapedon_contract::MaterialError = error;
            factor(sheet, swell.span(), &error)
        })?),
    };
    let shrink = match &entry.shrink {
        None => None,
        Some(shrink) => Some(shrink.get_ref().text().parse().map_err(|error| {
            let error: dapedon_contract::MaterialError = error;
            factor(sheet, shrink.span(), &error)
        })?),
    };
    let density = match &entry.density {
        None => None,
        Some(density) => Some(stated(sheet, density, mass)?),
    };
    let material = Material {
        swell,
        shrink,
        density,
    };
    let uncertainty = uncertainty(sheet, entry, &material)?;
    let names: BTreeSet<&str> = vehicles.keys().map(String::as_str).collect();
    let vehicle = match &entry.vehicle {
        None => None,
        Some(vehicle) => Some(sheet.known(vehicle, "vehicle", &names)?),
    };
    let own = vehicle.as_ref().and_then(|vehicle| vehicles.get(vehicle));
    let price = |entry: &Option<Spanned<PriceEntry>>| match entry {
        None => Ok(None),
        Some(entry) => price(sheet, name.get_ref(), &material, own, entry, mass).map(Some),
    };
    let packed = entry.counted.iter().map(|entry| packed(sheet, entry));
    Ok(MaterialPlan {
        import: price(&entry.import)?,
        export: price(&entry.export)?,
        packed: packed.collect::<Result<_, _>>()?,
        vehicle,
        material,
        uncertainty,
    })
}

/// How uncertain the factors are, as shares of each.
fn uncertainty(
    sheet: &JobFileText<'_>,
    entry: &MaterialEntry,
    material: &Material,
) -> Result<FactorUncertainty, JobFileError> {
    /// Less is known of no factor that anybody pays by.
    const MOST: f64 = 0.5;
    let Some(stated) = entry.uncertainty.as_ref().map(Spanned::get_ref) else {
        return Ok(FactorUncertainty::default());
    };
    // A percentage of swell or shrink is one of the bank volume, as their own is; one of the density is of itself.
    let share = |own: &Option<Spanned<FigureEntry>>, of: Option<f64>, by: f64, name: &str| {
        let Some(own) = own else { return Ok(None) };
        let text = own.get_ref().text();
        let Some(of) = of else {
            let what = format!("the uncertainty of the {name} is stated, and no {name}");
            return Err(sheet.fault(own.span(), what, format!("add {name} = ...")));
        };
        let percent = text.trim().strip_suffix('%');
        let number: Option<f64> = percent.unwrap_or(&text).trim().parse().ok();
        let standard = number.map(|number| match percent {
            Some(_) => number / 100.0 * by,
            None => number,
        });
        match standard.map(|standard| standard / of) {
            Some(share) if (0.0..=MOST).contains(&share) => Ok(Some(share)),
            _ => {
                let what = format!("\"{text}\" is no uncertainty of a {name} of {of}");
                let remedy =
                    "give a standard uncertainty, as 0.03 or \"3%\", of half the factor at most";
                Err(sheet.fault(own.span(), what, remedy))
            }
        }
    };
    let swell = material.swell.map(|swell| swell.loose());
    let shrink = material.shrink.map(|shrink| shrink.compacted());
    let density = material.density.map(|density| binary(density.mass));
    Ok(FactorUncertainty {
        swell: share(&stated.swell, swell, 1.0, "swell")?,
        shrink: share(&stated.shrink, shrink, 1.0, "shrink")?,
        density: share(
            &stated.density,
            density,
            density.unwrap_or_default(),
            "density",
        )?,
    })
}

fn factor(
    sheet: &JobFileText<'_>,
    span: Range<usize>,
    error: &dapedon_contract::MaterialError,
) -> JobFileError {
    // The error says both what it is not and what to say.
    let text = error.to_string();
    let (what, remedy) = text.split_once(": ").unwrap_or((&text, "correct it"));
    sheet.fault(span, what, remedy)
}

fn stated(
    sheet: &JobFileText<'_>,
    entry: &Spanned<DensityEntry>,
    mass: MassUnit,
) -> Result<Density, JobFileError> {
    let states = match entry.get_ref() {
        DensityEntry::Bare(_) => [None; 3],
        DensityEntry::Stated(stated) => [stated.bank, stated.loose, stated.compacted],
    };
    let given = State::ALL.into_iter().zip(states);
    let given: Vec<_> = given
        .filter_map(|(state, value)| Some((state, value?)))
        .collect();
    let [(state, value)] = given[..] else {
        let what = match entry.get_ref() {
            DensityEntry::Bare(value) => {
                format!("the density {value} has no state, and loose soil weighs less")
            }
            DensityEntry::Stated(_) if given.is_empty() => "the density has no state".into(),
            DensityEntry::Stated(_) => "the density has more than one state".into(),
        };
        let remedy = "give the state in which it was measured, as in density = { bank = 1.9 }; bank, loose or compacted";
        return Err(sheet.fault(entry.span(), what, remedy));
    };
    let value_checked = positive(sheet, entry.span(), value)?;
    if value > DENSEST {
        let what = format!("{value} is not a density of soil or rock");
        let remedy = format!("give it in {} per unit of volume", mass.symbol());
        return Err(sheet.fault(entry.span(), what, remedy));
    }
    Ok(Density {
        state,
        mass: value_checked,
    })
}

fn packed(
    sheet: &JobFileText<'_>,
    entry: &Spanned<PackedEntry>,
) -> Result<MaterialCount, JobFileError> {
    let PackedEntry {
        unit,
        holds,
        state,
        whole,
        cost,
    } = entry.get_ref();
    let cost = match cost {
        None => None,
        Some(cost) => Some(money(sheet, entry.span(), *cost)?),
    };
    Ok(MaterialCount {
        unit: unit.clone(),
        holds: positive(sheet, entry.span(), *holds)?,
        state: self::state(*state),
        whole: *whole,
        cost,
    })
}

fn price(
    sheet: &JobFileText<'_>,
    name: &str,
    material: &Material,
    vehicle: Option<&Vehicle>,
    entry: &Spanned<PriceEntry>,
    mass: MassUnit,
) -> Result<Price, JobFileError> {
    let PriceEntry { cost, per } = entry.get_ref();
    let per = match per.as_str() {
        "load" | "loads" => Per::Load,
        word if word == mass.symbol() => Per::Mass,
        word => match State::ALL.into_iter().find(|state| state.word() == word) {
            Some(state) => Per::Volume(state),
            None => {
                let what = format!("\"{per}\" is not a unit for a cost");
                let remedy = format!("use bank, loose, compacted, {} or load", mass.symbol());
                return Err(sheet.fault(entry.span(), what, remedy));
            }
        },
    };
    // What is brought in or taken away is known as it is in the bank.
    let needs = match per {
        Per::Volume(state) => lacks(material, State::Bank, Some(state)),
        Per::Mass => lacks(material, State::Bank, None),
        Per::Load => match vehicle {
            None => {
                let what = format!("the material \"{name}\" has no vehicle");
                return Err(sheet.fault(
                    entry.span(),
                    what,
                    "add vehicle = \"...\" to the material",
                ));
            }
            Some(vehicle) => lacks_for_loads(material, State::Bank, vehicle),
        },
    };
    if let Some(missing) = needs {
        return Err(lacking(sheet, entry.span(), name, missing));
    }
    Ok(Price {
        cost: money(sheet, entry.span(), *cost)?,
        per,
    })
}

/// What a conversion to a state, or else to the mass, needs and the material does not say.
pub(super) fn lacks(material: &Material, from: State, to: Option<State>) -> Option<Missing> {
    let one = Earth::new(from, Decimal::ONE);
    let trail = match to {
        Some(state) => material.taken_to(one, state, Rounding::NONE),
        None => material.taken_to_mass(one, Rounding::NONE),
    };
    match trail {
        Err(ConversionError::Missing(missing)) => Some(missing),
        Ok(_) | Err(ConversionError::Beyond) => None,
    }
}

/// What loads need and the material does not say.
pub(super) fn lacks_for_loads(
    material: &Material,
    from: State,
    vehicle: &Vehicle,
) -> Option<Missing> {
    let volume = vehicle
        .holds
        .and_then(|_| lacks(material, from, Some(State::Loose)));
    let mass = vehicle.carries.and_then(|_| lacks(material, from, None));
    volume.or(mass)
}

/// The fault that a material does not say what is needed.
pub(super) fn lacking(
    sheet: &JobFileText<'_>,
    span: Range<usize>,
    material: &str,
    missing: Missing,
) -> JobFileError {
    let example = match missing {
        Missing::Swell => "swell = \"...%\"",
        Missing::Shrink => "shrink = \"...%\"",
        Missing::Density => "density = { bank = ... }",
    };
    let what = format!("the {missing} of \"{material}\" is needed and not given");
    let remedy = format!("add {example} to [material.\"{material}\"]");
    sheet.fault(span, what, remedy)
}

pub(super) fn state(entry: StateEntry) -> State {
    match entry {
        StateEntry::Bank => State::Bank,
        StateEntry::Loose => State::Loose,
        StateEntry::Compacted => State::Compacted,
    }
}

/// A figure above zero that something can be.
fn positive(
    sheet: &JobFileText<'_>,
    span: Range<usize>,
    value: f64,
) -> Result<Decimal, JobFileError> {
    let usable = decimal(value).filter(|_| can_be(value));
    usable.ok_or_else(|| {
        let what = match value > 0.0 {
            true => format!("{value} is far out of range"),
            false => format!("{value} is not above zero"),
        };
        sheet.fault(span, what, "correct the figure")
    })
}

/// True for a figure that something holds, carries, covers or weighs.
pub(super) fn can_be(value: f64) -> bool {
    (1e-6..=1e9).contains(&value)
}

/// An amount of money in the job's currency.
pub(super) fn money(
    sheet: &JobFileText<'_>,
    span: Range<usize>,
    value: f64,
) -> Result<Decimal, JobFileError> {
    if !sheet.has_currency {
        let remedy = "add currency = \"...\" to [job]";
        return Err(sheet.fault(span, "the job has no currency", remedy));
    }
    let usable = decimal(value).filter(|_| value >= 0.0);
    usable.ok_or_else(|| {
        let what = format!("{value} is not an amount of money");
        sheet.fault(span, what, "correct the figure")
    })
}
