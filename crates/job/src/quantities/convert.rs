//! What measured volumes become when they are hauled and placed, without a bill.

use dapedon_contract::{
    ContractError, ConversionStep, Cost, Earth, FactorUnits, LoadsMade, Material, Per, Price,
    State, Vehicle,
};
use dapedon_core::units::{LengthUnit, MassUnit, VolumeUnit};
use rust_decimal::Decimal;
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use crate::error::{JobError, job_error};
use crate::quantities::measurement::{Measurement, ZoneMeasurement};
use crate::schema::Word;

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
    /// The unit of volume that densities, vehicles and rates are to one of, and the unit of masses; the usual ones of
    /// the survey's length unit where none are given.
    pub units: Option<(VolumeUnit, MassUnit)>,
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
    /// The unit of mass that was given with it.
    pub mass: Option<MassUnit>,
    /// One of what; of the volume as it is measured by default.
    pub per: Option<Per>,
}

/// Cut or fill of a zone, converted.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct ConvertedLine {
    /// The zone.
    pub zone: String,
    /// Cut or fill, pile or pit.
    pub quantity: Word,
    /// The material.
    pub material: String,
    /// The state it is measured in.
    pub state: Word,
    /// What was measured, as it is written.
    pub measured: Decimal,
    /// What that becomes, step by step, each rounded.
    pub conversion: Vec<ConversionStep>,
    /// The loads that it makes.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub loads: Option<LoadsMade>,
    /// What it is paid.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub paid: Option<Cost>,
}

/// Why cut and fill cannot be converted.
#[derive(Debug, Clone, Copy, PartialEq, Eq, thiserror::Error, strum::IntoStaticStr)]
#[strum(serialize_all = "kebab-case")]
#[non_exhaustive]
pub enum ConvertError {
    /// Two rates are given for one volume.
    #[error("two rates are given for {way}")]
    RateTwice {
        /// Cut or fill.
        way: &'static str,
    },
    /// A rate uses another unit of mass.
    #[error("a rate uses another unit of mass than {unit}")]
    OtherMass {
        /// The unit of masses.
        unit: &'static str,
    },
}

impl ConvertError {
    /// What to do about it.
    fn remedy(&self) -> String {
        match self {
            ConvertError::RateTwice { .. } => "keep one of them".into(),
            ConvertError::OtherMass { unit } => format!("give the rate per {unit}"),
        }
    }
}

dapedon_diagnostic::diagnostic!(ConvertError, "convert");
job_error!(ConvertError);

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
            Way::Cut => zone.volume.cut.value,
            Way::Fill => zone.volume.fill.value,
        }
    }
}

impl Converting {
    /// The units of volume and mass that its factors hold in, for a survey in a length unit.
    pub(crate) fn units(&self, survey: LengthUnit) -> (VolumeUnit, MassUnit) {
        let usual = (VolumeUnit::usual(survey), MassUnit::usual(survey));
        self.units.unwrap_or(usual)
    }
}

/// Converts the cut and fill of each zone, and of all of them where there are several. Figures are measured in the unit
/// `reported`; factors hold in their own, which follow from the unit of the survey where none are given.
///
/// # Errors
///
/// When a rate or the vehicle needs what the material does not say.
pub(crate) fn converted(
    measurement: &Measurement,
    by: &Converting,
    reported: VolumeUnit,
    survey: LengthUnit,
    decimals: usize,
) -> Result<Vec<ConvertedLine>, JobError> {
    let (factors, mass) = by.units(survey);
    let other = |rate: &Rate| rate.mass.is_some_and(|said| said != mass);
    if by.rates.iter().any(other) {
        let unit = mass.symbol();
        return Err(ConvertError::OtherMass { unit }.into());
    }
    let symbols = FactorUnits {
        volume: factors.symbol(),
        area: "",
        mass: mass.symbol(),
        decimals: decimals as u32,
    };
    let zones = measurement.zones.iter().chain(&measurement.total);
    let mut lines = Vec::new();
    for zone in zones {
        for way in Way::ALL {
            let found = MeasuredVolume {
                zone: &zone.zone,
                what: way.word(),
                state: way.state(),
                figure: way.of(zone),
                reported,
                factors,
            };
            if symbols.written(found.figure)? > Decimal::ZERO {
                let mut rates = by.rates.iter().filter(|rate| rate.way == way);
                let rate = match (rates.next(), rates.next()) {
                    (rate, None) => rate,
                    (_, Some(_)) => {
                        return Err(ConvertError::RateTwice { way: way.word() }.into());
                    }
                };
                lines.push(found.converted(by, rate, &symbols)?);
            }
        }
    }
    Ok(lines)
}

/// A volume in a state, as it was measured.
pub(crate) struct MeasuredVolume<'f> {
    pub(crate) zone: &'f str,
    pub(crate) what: &'static str,
    pub(crate) state: State,
    pub(crate) figure: f64,
    /// The unit it was measured in.
    pub(crate) reported: VolumeUnit,
    /// The unit that factors hold in.
    pub(crate) factors: VolumeUnit,
}

impl MeasuredVolume<'_> {
    /// The volume in the unit that factors hold in, rounded once.
    pub(crate) fn earth(&self, symbols: &FactorUnits<'_>) -> Result<Earth, ContractError> {
        let own = self.reported.convert(self.figure, self.factors);
        Ok(Earth::new(self.state, symbols.written(own)?))
    }

    /// What it becomes, what it is hauled by, and what it is paid at a rate.
    pub(crate) fn converted(
        &self,
        by: &Converting,
        rate: Option<&Rate>,
        symbols: &FactorUnits<'_>,
    ) -> Result<ConvertedLine, ContractError> {
        let (earth, round) = (self.earth(symbols)?, symbols.rounding());
        let (material, written) = (&by.material, symbols.written(self.figure)?);
        let lacks = |error| ContractError::conversion(&by.name, error);
        // All that the factors which are known lead to.
        let states = State::ALL.map(|state| material.taken_to(earth, state, round));
        let trails = states
            .into_iter()
            .chain([material.taken_to_mass(earth, round)]);
        let mut conversion: Vec<ConversionStep> = Vec::new();
        if self.reported != self.factors {
            let both = [written, earth.volume()];
            conversion.push(symbols.restated(self.state, both, self.reported.symbol()));
        }
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
            quantity: self.what.into(),
            material: by.name.clone(),
            state: earth.state().word().into(),
            measured: written,
            conversion,
            loads,
            paid,
        })
    }
}
