//! From what was measured to what is paid, step by step: rounded, converted, loaded, counted.

use rust_decimal::Decimal;

use crate::{
    ContractError, Conversion, ConversionError, ConversionStep, Cost, CountedBy, Earth, Factor,
    FactorStep, LayerCount, LoadLimit, LoadLimitedBy, Loads, LoadsMade, Loose, Mass, Material,
    MaterialCount, Per, Price, Rounding, State, Vehicle, amount, binary, measured_figure, plain,
};

/// The units that factors hold in, by their symbols, and the decimals that a conversion is written with. Whatever the
/// units of a report, volumes and areas are converted in these.
#[derive(Debug, Clone, Copy)]
pub struct FactorUnits<'s> {
    /// Of volumes.
    pub volume: &'s str,
    /// Of areas.
    pub area: &'s str,
    /// Of masses.
    pub mass: &'s str,
    /// Decimals of all that is written.
    pub decimals: u32,
}

impl FactorUnits<'_> {
    /// How what is written is rounded.
    pub fn rounding(&self) -> Rounding {
        Rounding(Some(self.decimals))
    }

    /// The links of a trail, as they are read.
    pub fn steps(&self, trail: &Conversion) -> Vec<ConversionStep> {
        let mut from = trail.start.state().word();
        let mut had = trail.start.volume();
        let steps = trail.links.iter().map(|link| {
            let FactorStep { means, amount } = *link;
            let (by, to, unit) = match means {
                Factor::TimesSwell(swell) => (
                    format!("× swell {}", plain(swell.factor())),
                    "loose",
                    self.volume,
                ),
                Factor::OverSwell(swell) => (
                    format!("÷ swell {}", plain(swell.factor())),
                    "bank",
                    self.volume,
                ),
                Factor::TimesShrink(shrink) => (
                    format!("× shrink {}", plain(shrink.factor())),
                    "compacted",
                    self.volume,
                ),
                Factor::OverShrink(shrink) => (
                    format!("÷ shrink {}", plain(shrink.factor())),
                    "bank",
                    self.volume,
                ),
                Factor::TimesDensity(density) => {
                    let by = format!(
                        "× {} {}/{} {}",
                        plain(density.mass),
                        self.mass,
                        self.volume,
                        density.state
                    );
                    (by, "mass", self.mass)
                }
            };
            let step = ConversionStep {
                from: from.into(),
                from_amount: had,
                from_unit: self.volume.into(),
                by,
                to: to.into(),
                amount,
                unit: unit.into(),
            };
            (from, had) = (to, amount);
            step
        });
        steps.collect()
    }

    /// The loads that a volume makes, and how they are computed.
    ///
    /// # Errors
    ///
    /// When a factor is not known, or a figure has more digits than any bill.
    pub fn loads(
        &self,
        earth: Earth,
        material: &Material,
        name: &str,
        vehicle: &Vehicle,
    ) -> Result<Option<LoadsMade>, ConversionError> {
        let round = self.rounding();
        let (mut limits, mut loose, mut mass) = (Vec::new(), None, None);
        if let Some(holds) = vehicle.holds {
            let trail = material.taken_to(earth, State::Loose, round)?;
            let volume = Loose(trail.earth().volume());
            let unit = format!("{} loose", self.volume);
            limits.push(self.limit("volume", &trail, volume.0, holds.0, unit));
            loose = Some(volume);
        }
        if let Some(carries) = vehicle.carries {
            let trail = material.taken_to_mass(earth, round)?;
            let found = trail.mass().unwrap_or(Mass(Decimal::ZERO));
            limits.push(self.limit("mass", &trail, found.0, carries.0, self.mass.into()));
            mass = Some(found);
        }
        let loads = vehicle.loads(loose, mass);
        Ok(loads.map(|Loads { count, binds, .. }| LoadsMade {
            vehicle: name.into(),
            limits,
            limited_by: match binds {
                LoadLimitedBy::Volume => "volume".into(),
                LoadLimitedBy::Mass => "mass".into(),
            },
            count,
        }))
    }

    fn limit(
        &self,
        by: &'static str,
        trail: &Conversion,
        amount: Decimal,
        takes: Decimal,
        unit: String,
    ) -> LoadLimit {
        LoadLimit {
            by: by.into(),
            conversion: self.steps(trail),
            amount,
            unit,
            capacity: takes,
        }
    }

    /// What a volume of a material costs, or is paid, at a price; `loads` are those that it makes.
    ///
    /// # Errors
    ///
    /// When a factor is not known, or a figure has more digits than any bill.
    pub fn cost(
        &self,
        earth: Earth,
        (name, material): (&str, &Material),
        loads: Option<&LoadsMade>,
        price: Price,
    ) -> Result<Cost, ContractError> {
        let lacks = |error| ContractError::conversion(name, error);
        let round = self.rounding();
        let (quantity, per) = match price.per {
            Per::Volume(state) => {
                let trail = material.taken_to(earth, state, round).map_err(lacks)?;
                (trail.earth().volume(), format!("{} {state}", self.volume))
            }
            Per::Mass => {
                let trail = material.taken_to_mass(earth, round).map_err(lacks)?;
                let mass = trail.mass().map_or(Decimal::ZERO, |mass| mass.0);
                (mass, self.mass.to_owned())
            }
            Per::Load => {
                let loads = loads.ok_or(ContractError::NoVehicle)?;
                (loads.count, "load".to_owned())
            }
        };
        Ok(Cost {
            quantity,
            per,
            each: price.cost,
            amount: amount(quantity, price.cost)?,
        })
    }

    /// What a material is counted in, from the volume it is packed by.
    ///
    /// # Errors
    ///
    /// When a factor is not known, or a figure has more digits than any bill.
    pub fn packed(
        &self,
        volume: Decimal,
        packed: &MaterialCount,
    ) -> Result<ConversionStep, ContractError> {
        let exact = volume.checked_div(packed.holds);
        let figure = binary(volume) / binary(packed.holds);
        let exact = exact.ok_or(ContractError::Beyond { figure })?;
        let (amount, up) = self.counted(exact, packed.whole);
        Ok(ConversionStep {
            from: packed.state.word().into(),
            from_amount: volume,
            from_unit: self.volume.into(),
            by: format!(
                "÷ {} {} {}{up}",
                plain(packed.holds),
                self.volume,
                packed.state
            ),
            to: packed.unit.clone(),
            amount,
            unit: packed.unit.clone(),
        })
    }

    /// How many of what a layer is counted in a volume or area of it makes.
    ///
    /// # Errors
    ///
    /// When a factor is not known, or a figure has more digits than any bill.
    pub fn layer_count(
        &self,
        had: Decimal,
        zone: &str,
        counted: &LayerCount,
    ) -> Result<ConversionStep, ContractError> {
        let (exact, by, unit) = match counted.by {
            CountedBy::PerVolume(rate) => {
                let by = format!("× {rate} {}/{}", counted.unit, self.volume);
                (had.checked_mul(rate), by, self.volume)
            }
            CountedBy::Holds(each) => {
                let by = format!("÷ {each} {}", self.volume);
                (had.checked_div(each), by, self.volume)
            }
            CountedBy::Covers(each) => {
                let by = format!("÷ {each} {}", self.area);
                (had.checked_div(each), by, self.area)
            }
        };
        let figure = binary(had);
        let exact = exact.ok_or(ContractError::Beyond { figure })?;
        let (amount, up) = self.counted(exact, counted.whole);
        Ok(ConversionStep {
            from: format!("layer in {zone}"),
            from_amount: had,
            from_unit: unit.into(),
            by: by + up,
            to: counted.unit.clone(),
            amount,
            unit: counted.unit.clone(),
        })
    }

    /// A count as it is written, and how that came about.
    fn counted(&self, exact: Decimal, whole: bool) -> (Decimal, &'static str) {
        match whole {
            true => (exact.ceil(), ", rounded up"),
            false => (self.rounding().of(exact), ""),
        }
    }

    /// The step from a volume as it is reported to the same in the unit that factors hold in.
    pub fn restated(
        &self,
        state: State,
        [reported, own]: [Decimal; 2],
        unit: &str,
    ) -> ConversionStep {
        ConversionStep {
            from: state.word().into(),
            from_amount: reported,
            from_unit: unit.into(),
            by: "converted".into(),
            to: state.word().into(),
            amount: own,
            unit: self.volume.into(),
        }
    }

    /// A figure as it is written: rounded once.
    ///
    /// # Errors
    ///
    /// When a factor is not known, or a figure has more digits than any bill.
    pub fn written(&self, figure: f64) -> Result<Decimal, ContractError> {
        let exact = measured_figure(figure).ok_or(ContractError::Beyond { figure })?;
        Ok(self.rounding().of(exact))
    }
}
