//! What piles are made of.

use std::collections::BTreeMap;

use dapedon_contract::{Density, FactorUnits, Material, Shrink, State, Swell};
use dapedon_core::units::{LengthUnit, VolumeUnit};

use rust_decimal::Decimal;

use super::PileError;
use crate::error::JobError;
use crate::job_file::Job;
use crate::quantities::convert::{ConvertedLine, Converting, MeasuredVolume};

/// Notes on the material of piles.
#[derive(Debug, Clone, PartialEq, Default)]
pub struct PileMaterials {
    /// That of all of which nothing else is given.
    pub all: Option<String>,
    /// Those of some, by the names of their outlines.
    pub each: BTreeMap<String, String>,
    /// The attribute of the outlines that says it.
    pub by: Option<String>,
    /// Factors in place of the material's own.
    pub swell: Option<Swell>,
    /// The same.
    pub shrink: Option<Shrink>,
    /// The same.
    pub density: Option<Density>,
    /// The state they are in; loose by default, and in the bank where pits were dug.
    pub state: Option<State>,
}

/// The units of piles, and their decimals.
pub(super) struct PileUnits {
    /// That of the survey.
    pub(super) survey: LengthUnit,
    /// That volumes are reported in.
    pub(super) volume: VolumeUnit,
    pub(super) decimals: u32,
}

/// What a material is called of which only factors are given.
const UNNAMED: &str = "material";

impl PileMaterials {
    /// Notes on outlines that are there.
    pub(super) fn check(
        &self,
        names: &[&str],
        attributes: &[Vec<(String, String)>],
    ) -> Result<(), PileError> {
        if let Some(name) = self
            .each
            .keys()
            .find(|name| !names.contains(&name.as_str()))
        {
            return Err(PileError::NoSuchPile {
                name: name.clone(),
                known: names.iter().map(|name| (*name).into()).collect(),
            });
        }
        let Some(by) = &self.by else { return Ok(()) };
        let all = attributes.iter().flatten().map(|(name, _)| name);
        match all.clone().any(|name| name.eq_ignore_ascii_case(by)) {
            true => Ok(()),
            false => {
                let mut known: Vec<String> = all.cloned().collect();
                known.sort();
                known.dedup();
                Err(PileError::NoAttribute {
                    attribute: by.clone(),
                    known,
                })
            }
        }
    }

    /// What a pile is made of; none by default.
    pub(super) fn of(
        &self,
        name: &str,
        attributes: &[(String, String)],
        job: Option<&Job>,
    ) -> Result<Option<Converting>, JobError> {
        let by = self.by.as_ref().and_then(|by| {
            let mut own = attributes.iter();
            let found = own.find(|(own, _)| own.eq_ignore_ascii_case(by));
            found
                .map(|(_, value)| value)
                .filter(|value| !value.is_empty())
        });
        let named = self.each.get(name).or(by).or(self.all.as_ref());
        let typed = self.swell.is_some() || self.shrink.is_some() || self.density.is_some();
        if named.is_none() && !typed {
            return Ok(None);
        }
        // Without a job a name is a name.
        let (mut material, vehicle) = match (named, job) {
            (Some(name), Some(job)) => job.material(name)?,
            _ => (Material::default(), None),
        };
        material.swell = self.swell.or(material.swell);
        material.shrink = self.shrink.or(material.shrink);
        material.density = self.density.or(material.density);
        Ok(Some(Converting {
            name: named.cloned().unwrap_or(UNNAMED.into()),
            material,
            vehicle,
            rates: Vec::new(),
            units: job.map(|job| (job.factor_volume, job.mass_unit)),
            currency: None,
        }))
    }

    /// What a volume comes to, as it is written; and its mass, where the density is known.
    pub(super) fn converted(
        &self,
        zone: &str,
        pit: bool,
        held: f64,
        by: &Converting,
        told: &PileUnits,
    ) -> Result<(ConvertedLine, Option<Decimal>), JobError> {
        let (factors, mass) = by.units(told.survey);
        let symbols = &FactorUnits {
            volume: factors.symbol(),
            area: "",
            mass: mass.symbol(),
            decimals: told.decimals,
        };
        let (what, usual) = match pit {
            true => ("pit", State::Bank),
            false => ("pile", State::Loose),
        };
        let state = self.state.unwrap_or(usual);
        let found = MeasuredVolume {
            zone,
            what,
            state,
            figure: held,
            reported: told.volume,
            factors,
        };
        let earth = found.earth(symbols)?;
        let line = found.converted(by, None, symbols)?;
        let mass = by.material.taken_to_mass(earth, symbols.rounding());
        let mass = mass.ok().and_then(|trail| trail.mass());
        Ok((line, mass.map(|mass| mass.0)))
    }
}
