//! From what was measured to what is paid: rounded, converted, loaded, and set against what was expected.

use dapedon_core::{
    Binds, ConversionError, Departure, Earth, Link, Loads, Loose, Mass, Material, Means, Rounding,
    State, Trail, Vehicle, amount, decimal, measured_figure,
};
use rust_decimal::Decimal;
use rust_decimal::prelude::ToPrimitive;

use super::model::{ConversionStep, Cost, LoadLimit, LoadsMade};
use crate::contract::error::BillError;
use crate::job_file::{Counted, CountedBy, Packed, Per, Price};

/// The units that a conversion passes through, and their decimals. Volumes and areas are in those that factors hold
/// in, whatever the units of a report.
#[derive(Clone, Copy)]
pub(crate) struct Symbols<'s> {
    pub(crate) volume: &'s str,
    pub(crate) area: &'s str,
    pub(crate) mass: &'s str,
    pub(crate) decimals: u32,
}

impl Symbols<'_> {
    pub(crate) fn rounding(&self) -> Rounding {
        Rounding(Some(self.decimals))
    }

    /// The links of a trail, as they are read.
    pub(crate) fn steps(&self, trail: &Trail) -> Vec<ConversionStep> {
        let mut from = trail.start.state().word();
        let mut had = trail.start.volume();
        let steps = trail.links.iter().map(|link| {
            let Link { means, amount } = *link;
            let (by, to, unit) = match means {
                Means::TimesSwell(swell) => (
                    format!("× swell {}", plain(swell.factor())),
                    "loose",
                    self.volume,
                ),
                Means::OverSwell(swell) => (
                    format!("÷ swell {}", plain(swell.factor())),
                    "bank",
                    self.volume,
                ),
                Means::TimesShrink(shrink) => (
                    format!("× shrink {}", plain(shrink.factor())),
                    "compacted",
                    self.volume,
                ),
                Means::OverShrink(shrink) => (
                    format!("÷ shrink {}", plain(shrink.factor())),
                    "bank",
                    self.volume,
                ),
                Means::TimesDensity(density) => {
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
                had: float(had),
                had_unit: self.volume.into(),
                had_decimals: self.decimals,
                by,
                to: to.into(),
                amount: float(amount),
                unit: unit.into(),
                decimals: self.decimals,
            };
            (from, had) = (to, amount);
            step
        });
        steps.collect()
    }

    /// The loads that a volume makes, and how they come about.
    pub(crate) fn loads(
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
            binds: match binds {
                Binds::Volume => "volume".into(),
                Binds::Mass => "mass".into(),
            },
            count: float(count),
        }))
    }

    fn limit(
        &self,
        by: &'static str,
        trail: &Trail,
        amount: Decimal,
        takes: Decimal,
        unit: String,
    ) -> LoadLimit {
        LoadLimit {
            by: by.into(),
            conversion: self.steps(trail),
            amount: float(amount),
            decimals: self.decimals,
            unit,
            takes: float(takes),
        }
    }

    /// What a volume of a material costs, or is paid, at a price; `loads` are those that it makes.
    pub(crate) fn cost(
        &self,
        earth: Earth,
        (name, material): (&str, &Material),
        loads: Option<&LoadsMade>,
        price: Price,
    ) -> Result<Cost, BillError> {
        let lacks = |error| BillError::conversion(name, error);
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
                let count = loads.and_then(|loads| decimal(loads.count));
                (count.ok_or(BillError::NoVehicle)?, "load".to_owned())
            }
        };
        Ok(Cost {
            quantity: float(quantity),
            per,
            each: float(price.cost),
            amount: float(of_money(quantity, price.cost)?),
        })
    }

    /// What a material is counted in, from the volume it is packed by.
    pub(crate) fn packed(
        &self,
        volume: Decimal,
        packed: &Packed,
    ) -> Result<(Decimal, ConversionStep), BillError> {
        let exact = volume.checked_div(packed.holds);
        let exact = exact.ok_or(BillError::beyond(float(volume) / float(packed.holds)))?;
        let decimals = if packed.whole { 0 } else { self.decimals };
        let count = match packed.whole {
            true => exact.ceil(),
            false => self.rounding().of(exact),
        };
        let up = if packed.whole { ", rounded up" } else { "" };
        let step = ConversionStep {
            from: packed.state.word().into(),
            had: float(volume),
            had_unit: self.volume.into(),
            had_decimals: self.decimals,
            by: format!(
                "÷ {} {} {}{up}",
                plain(packed.holds),
                self.volume,
                packed.state
            ),
            to: packed.unit.clone(),
            amount: float(count),
            unit: packed.unit.clone(),
            decimals,
        };
        Ok((count, step))
    }

    /// How many of what a layer is counted in a volume or area of it makes.
    pub(crate) fn layer_count(
        &self,
        had: Decimal,
        zone: &str,
        counted: &Counted,
    ) -> Result<(Decimal, ConversionStep), BillError> {
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
        let exact = exact.ok_or(BillError::beyond(float(had)))?;
        let (count, decimals, up) = match counted.whole {
            true => (exact.ceil(), 0, ", rounded up"),
            false => (self.rounding().of(exact), self.decimals, ""),
        };
        let step = ConversionStep {
            from: format!("layer in {zone}"),
            had: float(had),
            had_unit: unit.into(),
            had_decimals: self.decimals,
            by: by + up,
            to: counted.unit.clone(),
            amount: float(count),
            unit: counted.unit.clone(),
            decimals,
        };
        Ok((count, step))
    }

    /// The step from a volume as it is reported to the same in the unit that factors hold in.
    pub(crate) fn restated(
        &self,
        state: State,
        [reported, own]: [Decimal; 2],
        unit: &str,
    ) -> ConversionStep {
        ConversionStep {
            from: state.word().into(),
            had: float(reported),
            had_unit: unit.into(),
            had_decimals: self.decimals,
            by: "converted".into(),
            to: state.word().into(),
            amount: float(own),
            unit: self.volume.into(),
            decimals: self.decimals,
        }
    }

    /// A figure as it is written: rounded once.
    pub(crate) fn written(&self, figure: f64) -> Result<Decimal, BillError> {
        let exact = measured_figure(figure).ok_or(BillError::beyond(figure))?;
        Ok(self.rounding().of(exact))
    }
}

/// The sum of two figures.
pub(crate) fn plus(a: Decimal, b: Decimal) -> Result<Decimal, BillError> {
    a.checked_add(b)
        .ok_or(BillError::beyond(float(a) + float(b)))
}

/// The difference of two figures.
pub(crate) fn less(a: Decimal, b: Decimal) -> Result<Decimal, BillError> {
    a.checked_sub(b)
        .ok_or(BillError::beyond(float(a) - float(b)))
}

/// A share in percent; none where it has more digits than can be told.
fn percent(share: Decimal) -> Option<Decimal> {
    share.checked_mul(Decimal::ONE_HUNDRED)
}

/// In what a quantity is not as expected, in words.
pub(crate) fn in_words(departure: &Departure, quantity: Decimal, unit: &str) -> String {
    match departure {
        Departure::Less(least) => format!("below {} {unit}, the least expected", plain(*least)),
        Departure::More(most) => format!("above {} {unit}, the most expected", plain(*most)),
        Departure::Off { contract, within } => {
            let allowed = percent(*within).map_or("allowed".into(), plain);
            let way = if quantity > *contract {
                "above"
            } else {
                "below"
            };
            let apart = quantity.checked_sub(*contract).map(|apart| apart.abs());
            let share = apart.and_then(|apart| apart.checked_div(contract.abs()));
            match share.and_then(percent) {
                _ if contract.is_zero() => {
                    format!("{way} the contract quantity, which is nothing")
                }
                Some(share) => {
                    let share = share.round_dp(1);
                    format!("{share} % {way} the contract quantity, more than {allowed} %")
                }
                None => format!("{way} the contract quantity, many times over"),
            }
        }
    }
}

/// What a quantity comes to at a rate.
pub(crate) fn of_money(quantity: Decimal, rate: Decimal) -> Result<Decimal, BillError> {
    amount(quantity, rate).ok_or(BillError::Beyond {
        figure: float(quantity) * float(rate),
    })
}

/// A figure without zeros at its end.
pub(crate) fn plain(value: Decimal) -> String {
    value.normalize().to_string()
}

/// The binary number nearest to a figure.
pub(crate) fn float(value: Decimal) -> f64 {
    // Every decimal has one.
    value.to_f64().unwrap_or(f64::NAN)
}
