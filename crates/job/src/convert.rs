//! What measured volumes become when they are hauled and placed, without a bill.

use dapedon_core::{
    Earth, LengthUnit, MassUnit, Material, Missing, State, Vehicle, measured_figure,
};
use rust_decimal::Decimal;
use serde::Serialize;

use crate::bill::paid::{Symbols, float};
use crate::job_file::{Per, Price};
use crate::measurement::{Measurement, ZoneMeasurement};
use crate::{BillError, ConversionStep, Cost, LoadsMade};

/// By what measured volumes are converted: cut as it was in the bank, fill as it is compacted.
#[derive(Debug, Clone)]
pub struct Converting {
    /// The name of the material.
    pub name: String,
    /// Its factors.
    pub material: Material,
    /// What hauls it, under a name.
    pub vehicle: Option<(String, Vehicle)>,
    /// What cut and fill are paid.
    pub rates: Vec<Rate>,
    /// The unit of masses; the usual one of the length unit where none is said.
    pub mass_unit: Option<MassUnit>,
    /// The currency of rates.
    pub currency: Option<String>,
}

/// Which of the two volumes.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Way {
    /// What was dug.
    Cut,
    /// What was placed.
    Fill,
}

/// What cut or fill is paid.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct Rate {
    /// Which of them.
    pub way: Way,
    /// What one is paid.
    pub each: Decimal,
    /// The unit of mass that was said with it.
    pub mass: Option<MassUnit>,
    /// One of what; of the volume as it is measured where nothing is said.
    pub per: Option<Per>,
}

/// Cut or fill of a zone, converted.
#[derive(Debug, Clone, PartialEq, Serialize)]
pub struct ConvertedLine {
    /// The zone.
    pub zone: String,
    /// Cut or fill, pile or pit.
    pub what: &'static str,
    /// The material.
    pub material: String,
    /// The state it is measured in.
    pub state: &'static str,
    /// What was measured, as it is written.
    pub measured: f64,
    /// What that becomes, step by step, each rounded.
    pub conversion: Vec<ConversionStep>,
    /// The loads that it makes.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub loads: Option<LoadsMade>,
    /// What it is paid.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub paid: Option<Cost>,
}

impl Way {
    const ALL: [Way; 2] = [Way::Cut, Way::Fill];

    /// The word for it.
    pub const fn word(self) -> &'static str {
        match self {
            Way::Cut => "cut",
            Way::Fill => "fill",
        }
    }

    /// The state it is measured in.
    const fn state(self) -> State {
        match self {
            Way::Cut => State::Bank,
            Way::Fill => State::Compacted,
        }
    }

    fn of(self, zone: &ZoneMeasurement) -> f64 {
        match self {
            Way::Cut => zone.volume.cut,
            Way::Fill => zone.volume.fill,
        }
    }
}

/// Converts the cut and fill of each zone, and of all of them where there are several; the units of areas and volumes
/// are told by their symbols.
///
/// # Errors
///
/// When a rate or the vehicle needs what the material does not say.
pub(crate) fn converted(
    measurement: &Measurement,
    by: &Converting,
    [area, volume]: [&str; 2],
    unit: LengthUnit,
    decimals: usize,
) -> Result<Vec<ConvertedLine>, BillError> {
    let mass = by.mass_unit.unwrap_or(MassUnit::usual(unit));
    let other = |rate: &Rate| rate.mass.is_some_and(|said| said != mass);
    if by.rates.iter().any(other) {
        return Err(BillError::OtherMass {
            unit: mass.symbol(),
        });
    }
    let symbols = Symbols {
        volume,
        area,
        mass: mass.symbol(),
        decimals: decimals as u32,
    };
    let zones = measurement.zones.iter().chain(&measurement.total);
    let mut lines = Vec::new();
    for zone in zones {
        for way in Way::ALL {
            let figure = way.of(zone);
            let exact = measured_figure(figure).ok_or(BillError::Beyond { figure })?;
            let written = symbols.rounding().of(exact);
            if written > Decimal::ZERO {
                let found = Found {
                    zone: &zone.zone,
                    what: way.word(),
                    earth: Earth::new(way.state(), written),
                };
                let mut rates = by.rates.iter().filter(|rate| rate.way == way);
                let rate = match (rates.next(), rates.next()) {
                    (rate, None) => rate,
                    (_, Some(_)) => return Err(BillError::RateTwice { way: way.word() }),
                };
                lines.push(found.converted(by, rate, &symbols)?);
            }
        }
    }
    Ok(lines)
}

/// A volume in a state, as it is written.
pub(crate) struct Found<'f> {
    pub(crate) zone: &'f str,
    pub(crate) what: &'static str,
    pub(crate) earth: Earth,
}

impl Found<'_> {
    /// What it becomes, what it is hauled by, and what it is paid at a rate.
    pub(crate) fn converted(
        &self,
        by: &Converting,
        rate: Option<&Rate>,
        symbols: &Symbols<'_>,
    ) -> Result<ConvertedLine, BillError> {
        let (earth, material, round) = (self.earth, &by.material, symbols.rounding());
        let lacks = |missing: Missing| BillError::MaterialLacks {
            material: by.name.clone(),
            missing,
        };
        // All that the factors which are known lead to.
        let states = State::ALL.map(|state| material.taken_to(earth, state, round));
        let trails = states
            .into_iter()
            .chain([material.taken_to_mass(earth, round)]);
        let mut conversion: Vec<ConversionStep> = Vec::new();
        for step in trails.flatten().flat_map(|trail| symbols.steps(&trail)) {
            if !conversion.contains(&step) {
                conversion.push(step);
            }
        }
        let loads = match &by.vehicle {
            Some((name, vehicle)) => symbols
                .loads(earth, material, name, vehicle)
                .map_err(lacks)?,
            None => None,
        };
        let paid = match rate {
            None => None,
            Some(rate) => {
                let price = Price {
                    cost: rate.each,
                    per: rate.per.unwrap_or(Per::Volume(earth.state())),
                };
                let of = (by.name.as_str(), material);
                Some(symbols.cost(earth, of, loads.as_ref(), price)?)
            }
        };
        Ok(ConvertedLine {
            zone: self.zone.into(),
            what: self.what,
            material: by.name.clone(),
            state: earth.state().word(),
            measured: float(earth.volume()),
            conversion,
            loads,
            paid,
        })
    }
}
