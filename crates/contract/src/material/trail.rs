//! A conversion link by link, as it is followed by hand.

use rust_decimal::{Decimal, RoundingStrategy};

use super::{Bank, ConversionError, Density, Earth, Mass, Material, Missing, Shrink, State, Swell};

/// To how many decimals each link is rounded, halves away from zero; or none.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default)]
pub struct Rounding(pub Option<u32>);

/// What takes one amount to the next.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Factor {
    /// Bank times swell is loose.
    TimesSwell(Swell),
    /// Loose over swell is bank.
    OverSwell(Swell),
    /// Bank times shrink is compacted.
    TimesShrink(Shrink),
    /// Compacted over shrink is bank.
    OverShrink(Shrink),
    /// A volume times its density is its mass.
    TimesDensity(Density),
}

/// One link of a conversion: the volume before is that of the link before, or the first one.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct FactorStep {
    /// What is done to the amount before.
    pub means: Factor,
    /// What it comes to.
    pub amount: Decimal,
}

/// A volume, and the links by which it becomes another one or a mass.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Conversion {
    /// The volume it starts from.
    pub start: Earth,
    /// The links.
    pub links: Vec<FactorStep>,
}

impl Rounding {
    /// Nothing is rounded.
    pub const NONE: Rounding = Rounding(None);

    /// Rounds a figure, which then has so many decimals, zeros or not.
    ///
    /// ```
    /// use dapedon_contract::Rounding;
    /// use rust_decimal::dec;
    /// assert_eq!(Rounding(Some(1)).of(dec!(0.25)).to_string(), "0.3");
    /// assert_eq!(Rounding(Some(1)).of(dec!(2)).to_string(), "2.0");
    /// ```
    pub fn of(self, value: Decimal) -> Decimal {
        let Some(decimals) = self.0 else { return value };
        let halves = RoundingStrategy::MidpointAwayFromZero;
        let mut rounded = value.round_dp_with_strategy(decimals, halves);
        rounded.rescale(decimals);
        rounded
    }
}

impl Factor {
    /// The state that it gives; none for a mass.
    pub fn gives(self) -> Option<State> {
        match self {
            Factor::TimesSwell(_) => Some(State::Loose),
            Factor::TimesShrink(_) => Some(State::Compacted),
            Factor::OverSwell(_) | Factor::OverShrink(_) => Some(State::Bank),
            Factor::TimesDensity(_) => None,
        }
    }
}

impl Conversion {
    /// The volume it ends at: before its mass, where that is the last link.
    pub fn earth(&self) -> Earth {
        let volumes = self.links.iter().rev();
        let mut volumes = volumes.filter_map(|link| Some((link.means.gives()?, link.amount)));
        let last = volumes.next();
        last.map_or(self.start, |(state, volume)| Earth::new(state, volume))
    }

    /// The mass it ends at.
    pub fn mass(&self) -> Option<Mass> {
        let last = self.links.last()?;
        last.means.gives().is_none().then_some(Mass(last.amount))
    }
}

impl Material {
    /// Takes a volume to another state: all ways lead through the bank.
    ///
    /// # Errors
    ///
    /// When a factor on the way is not known.
    ///
    /// ```
    /// use dapedon_contract::{Earth, Material, Rounding, State};
    /// use rust_decimal::dec;
    /// let clay = Material { swell: "1.25".parse().ok(), shrink: "0.9".parse().ok(), density: None };
    /// let placed = Earth::new(State::Compacted, dec!(100));
    /// let trail = clay.taken_to(placed, State::Loose, Rounding(Some(1))).unwrap();
    /// // 100 / 0.9 = 111.1 in the bank, times 1.25 = 138.875 loose.
    /// assert_eq!(trail.links[0].amount, dec!(111.1));
    /// assert_eq!(trail.earth(), Earth::new(State::Loose, dec!(138.9)));
    /// ```
    pub fn taken_to(
        &self,
        start: Earth,
        to: State,
        round: Rounding,
    ) -> Result<Conversion, ConversionError> {
        let mut links = Vec::new();
        if start.state() == to {
            return Ok(Conversion { start, links });
        }
        let bank = match start {
            Earth::Bank(bank) => bank,
            Earth::Loose(loose) => {
                let swell = self.swell.ok_or(Missing::Swell)?;
                let bank = round.of(self.dug(loose)?.0);
                links.push(FactorStep {
                    means: Factor::OverSwell(swell),
                    amount: bank,
                });
                Bank(bank)
            }
            Earth::Compacted(compacted) => {
                let shrink = self.shrink.ok_or(Missing::Shrink)?;
                let bank = round.of(self.was(compacted)?.0);
                links.push(FactorStep {
                    means: Factor::OverShrink(shrink),
                    amount: bank,
                });
                Bank(bank)
            }
        };
        match to {
            State::Bank => {}
            State::Loose => {
                let swell = self.swell.ok_or(Missing::Swell)?;
                let loose = round.of(self.hauled(bank)?.0);
                links.push(FactorStep {
                    means: Factor::TimesSwell(swell),
                    amount: loose,
                });
            }
            State::Compacted => {
                let shrink = self.shrink.ok_or(Missing::Shrink)?;
                let compacted = round.of(self.rolled(bank)?.0);
                links.push(FactorStep {
                    means: Factor::TimesShrink(shrink),
                    amount: compacted,
                });
            }
        }
        Ok(Conversion { start, links })
    }

    /// Takes a volume to its mass, through the state that the density was found in.
    ///
    /// # Errors
    ///
    /// When the density or a factor on the way is not known.
    pub fn taken_to_mass(
        &self,
        start: Earth,
        round: Rounding,
    ) -> Result<Conversion, ConversionError> {
        let density = self.density.ok_or(Missing::Density)?;
        let mut trail = self.taken_to(start, density.state, round)?;
        let mass = round.of(self.weighed(trail.earth())?.0);
        trail.links.push(FactorStep {
            means: Factor::TimesDensity(density),
            amount: mass,
        });
        Ok(trail)
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use rust_decimal::dec;

    fn clay() -> Material {
        Material {
            swell: "1.3".parse().ok(),
            shrink: "0.92".parse().ok(),
            density: Some(Density {
                state: State::Loose,
                mass: dec!(1.45),
            }),
        }
    }

    /// By hand: 460 / 0.92 = 500 in the bank; 500 x 1.3 = 650 loose; 650 x 1.45 = 942.5 t.
    #[test]
    fn a_mass_goes_through_the_state_of_the_density() {
        let placed = Earth::new(State::Compacted, dec!(460));
        let trail = clay().taken_to_mass(placed, Rounding::NONE).unwrap();
        let amounts: Vec<Decimal> = trail.links.iter().map(|link| link.amount).collect();
        assert_eq!(amounts, [dec!(500), dec!(650), dec!(942.5)]);
        assert_eq!(trail.mass(), Some(Mass(dec!(942.5))));
        assert_eq!(trail.earth(), Earth::new(State::Loose, dec!(650)));
    }

    #[test]
    fn a_state_is_its_own() {
        for state in State::ALL {
            let earth = Earth::new(state, dec!(7.5));
            let trail = Material::default().taken_to(earth, state, Rounding::NONE);
            assert_eq!(
                trail.unwrap(),
                Conversion {
                    start: earth,
                    links: Vec::new()
                }
            );
        }
    }

    #[test]
    fn every_direction_comes_back() {
        for from in State::ALL {
            for to in State::ALL {
                let start = Earth::new(from, dec!(598));
                let there = clay().taken_to(start, to, Rounding::NONE).unwrap().earth();
                let back = clay()
                    .taken_to(there, from, Rounding::NONE)
                    .unwrap()
                    .earth();
                let apart = (back.volume() - start.volume()).abs();
                assert!(apart < dec!(1e-22), "{from} to {to}: {apart}");
            }
        }
    }
}
