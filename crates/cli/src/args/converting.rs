//! Factors to convert cut and fill with, from the command line.

use std::str::FromStr;

use clap::Parser;
use dapedon_contract::Per;
use dapedon_contract::{Density, Loose, Mass, Material, State, Vehicle};
use dapedon_contract::{Shrink, Swell};
use dapedon_core::units::MassUnit;
use dapedon_job::{Converting, Job, Rate, Way};
use rust_decimal::Decimal;

use crate::error::CommandError;

/// What a material is taken to be called that is not one of a job.
const UNNAMED: &str = "material";

#[derive(Debug, Parser)]
#[command(next_help_heading = "Converting")]
pub(crate) struct ConvertingArgs {
    /// Material of the job that is dug and placed
    #[arg(long, value_name = "NAME")]
    pub(crate) material: Option<String>,
    /// Swell factor: loose volume per bank volume, as 1.25 or 25%
    #[arg(long, value_name = "SWELL")]
    pub(crate) swell: Option<Swell>,
    /// Shrink factor: compacted volume per bank volume, as 0.9 or 10%
    #[arg(long, value_name = "SHRINK", allow_hyphen_values = true)]
    pub(crate) shrink: Option<Shrink>,
    /// Mass per unit of volume in a state, as in bank=1.9; bank, loose or compacted
    ///
    /// In t per m3, or in ton per yd3 where the survey is in feet. A job states its own units.
    #[arg(long, value_name = "STATE=MASS", value_parser = density)]
    pub(crate) density: Option<Density>,
    /// Vehicle of the job, or its loose volume and payload, as in holds=10,carries=16
    #[arg(long, value_name = "VEHICLE")]
    pub(crate) vehicle: Option<VehicleArg>,
    /// Rate of cut or fill, as in cut=3.85 per m3 or cut=3.85/loose; may be given for both
    ///
    /// Units: bank, loose, compacted, t, ton or load. Per yd3 where the survey is in feet.
    #[arg(long = "rate", value_name = "WHAT=RATE", value_parser = rate)]
    pub(crate) rates: Vec<Rate>,
    /// Currency of the rates [default: that of the job]
    #[arg(long, value_name = "CODE")]
    pub(crate) currency: Option<String>,
}

impl ConvertingArgs {
    /// True where something of the job is named.
    pub(crate) fn needs_job(&self) -> bool {
        self.material.is_some() || matches!(self.vehicle, Some(VehicleArg::Named(_)))
    }

    /// By what it is converted, where anything is given.
    pub(crate) fn converting(&self, job: Option<&Job>) -> Result<Option<Converting>, CommandError> {
        let said = self.material.is_some() || self.swell.is_some() || self.shrink.is_some();
        let said = said || self.density.is_some() || self.vehicle.is_some();
        if !said && self.rates.is_empty() {
            return Ok(None);
        }
        let job_of = |name: &String| job.ok_or_else(|| CommandError::NoJob { name: name.clone() });
        let (mut material, mut vehicle) = match &self.material {
            Some(name) => job_of(name)?.material(name)?,
            None => (Material::default(), None),
        };
        material.swell = self.swell.or(material.swell);
        material.shrink = self.shrink.or(material.shrink);
        material.density = self.density.or(material.density);
        vehicle = match &self.vehicle {
            None => vehicle,
            Some(VehicleArg::Said(said)) => Some(("vehicle".into(), *said)),
            Some(VehicleArg::Named(name)) => Some((name.clone(), job_of(name)?.vehicle(name)?)),
        };
        Ok(Some(Converting {
            name: self.material.clone().unwrap_or(UNNAMED.into()),
            material,
            vehicle,
            rates: self.rates.clone(),
            units: job.map(|job| (job.factor_volume, job.mass_unit)),
            currency: self.currency.clone(),
        }))
    }
}

/// A vehicle, by name or by what it takes.
#[derive(Debug, Clone)]
pub(crate) enum VehicleArg {
    Named(String),
    Said(Vehicle),
}

impl FromStr for VehicleArg {
    type Err = String;

    fn from_str(text: &str) -> Result<Self, String> {
        if !text.contains('=') {
            return Ok(VehicleArg::Named(text.into()));
        }
        let mut vehicle = Vehicle::default();
        for limit in text.split(',') {
            let (key, figure) = limit.split_once('=').unwrap_or((limit, ""));
            let figure = above_zero(figure)?;
            match key.trim() {
                "holds" => vehicle.holds = Some(Loose(figure)),
                "carries" => vehicle.carries = Some(Mass(figure)),
                other => {
                    return Err(format!(
                        "\"{other}\" is not known for a vehicle: use holds and carries"
                    ));
                }
            }
        }
        Ok(VehicleArg::Said(vehicle))
    }
}

pub(super) fn density(text: &str) -> Result<Density, String> {
    let stated = text
        .split_once('=')
        .and_then(|(state, mass)| Some((state_of(state)?, mass)));
    let Some((state, mass)) = stated else {
        return Err(
            "give the state in which it was measured, as in bank=1.9; bank, loose or compacted"
                .into(),
        );
    };
    let mass = above_zero(mass)?;
    // Of no soil or rock: it is in kilograms or pounds.
    if mass > Decimal::from(8) {
        return Err(format!(
            "{mass} is not a density of soil or rock: give it in t or ton per unit of volume"
        ));
    }
    Ok(Density { state, mass })
}

fn rate(text: &str) -> Result<Rate, String> {
    let expected = || "expected a rate, as in cut=3.85 or fill=5.10/compacted".to_owned();
    let (way, rate) = text.split_once('=').ok_or_else(expected)?;
    let way = match way.trim() {
        "cut" => Way::Cut,
        "fill" => Way::Fill,
        _ => return Err(expected()),
    };
    let (each, per) = match rate.split_once('/') {
        Some((each, per)) => (each, Some(per.trim())),
        None => (rate, None),
    };
    let mass = match per {
        Some("t") => Some(MassUnit::Tonne),
        Some("ton") => Some(MassUnit::ShortTon),
        _ => None,
    };
    let per = match per {
        None => None,
        Some("t" | "ton") => Some(Per::Mass),
        Some("load") => Some(Per::Load),
        Some(word) => match state_of(word) {
            Some(state) => Some(Per::Volume(state)),
            None => return Err(format!("\"{word}\" is not a unit for a rate")),
        },
    };
    let each = above_zero(each)?;
    Ok(Rate {
        way,
        each,
        per,
        mass,
    })
}

fn state_of(word: &str) -> Option<State> {
    State::ALL
        .into_iter()
        .find(|state| state.word() == word.trim())
}

fn above_zero(text: &str) -> Result<Decimal, String> {
    let figure = text.trim().parse().ok().filter(|figure: &Decimal| {
        *figure >= Decimal::new(1, 6) && *figure <= Decimal::from(1_000_000_000)
    });
    figure.ok_or_else(|| format!("\"{text}\" is not a usable number above zero"))
}
