//! What becomes of a volume when it is dug, hauled and placed: in the bank, loose, compacted.
//!
//! What is cut is measured in the bank and hauled loose; what is placed compacted was more in the bank. The
//! three are types of their own, and a factor is a method that takes one of them and gives another: there is
//! no way to apply one the wrong way round. Arithmetic is decimal, so that each line can be followed by hand.

mod factor;
mod trail;

use std::fmt;

use rust_decimal::Decimal;

pub use factor::{MaterialError, Shrink, Swell};
pub use trail::{Conversion, Factor, FactorStep, Rounding};

/// The state a volume of soil or rock is in.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, PartialOrd, Ord)]
pub enum State {
    /// In the ground, as it was before it was dug.
    Bank,
    /// In the truck or tipped.
    Loose,
    /// Rolled in place.
    Compacted,
}

/// A volume in the bank.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord)]
pub struct Bank(pub Decimal);

/// A loose volume.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord)]
pub struct Loose(pub Decimal);

/// A compacted volume.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord)]
pub struct Compacted(pub Decimal);

/// A mass, in the mass unit at hand.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord)]
pub struct Mass(pub Decimal);

/// A volume in one of the states.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Earth {
    /// In the bank.
    Bank(Bank),
    /// Loose.
    Loose(Loose),
    /// Compacted.
    Compacted(Compacted),
}

/// The mass of a unit of volume, in the state it was found in.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct Density {
    /// The state.
    pub state: State,
    /// The mass of a unit of volume.
    pub mass: Decimal,
}

/// What is known of a soil or rock.
///
/// ```
/// use dapedon_contract::{Bank, Compacted, Loose, Material};
/// use rust_decimal::dec;
/// let clay = Material { swell: "25%".parse().ok(), shrink: "10%".parse().ok(), density: None };
/// // What is dug is hauled loose; what is placed was more in the bank.
/// assert_eq!(clay.hauled(Bank(dec!(1000))), Ok(Loose(dec!(1250))));
/// assert_eq!(clay.was(Compacted(dec!(900))), Ok(Bank(dec!(1000))));
/// ```
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default)]
pub struct Material {
    /// Loose volume for a unit in the bank.
    pub swell: Option<Swell>,
    /// Compacted volume for a unit in the bank.
    pub shrink: Option<Shrink>,
    /// The mass of a unit of volume.
    pub density: Option<Density>,
}

/// What a conversion needs and the material does not say.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, PartialOrd, Ord, thiserror::Error)]
pub enum Missing {
    /// Between bank and loose.
    #[error("swell")]
    Swell,
    /// Between bank and compacted.
    #[error("shrink")]
    Shrink,
    /// From a volume to its mass.
    #[error("density")]
    Density,
}

/// Why a volume cannot be converted.
#[derive(Debug, Clone, Copy, PartialEq, Eq, thiserror::Error)]
pub enum ConversionError {
    /// A factor is not known.
    #[error("the {0} is not given")]
    Missing(#[from] Missing),
    /// The result has more digits than any figure of a bill.
    #[error("the result is out of range")]
    Beyond,
}

impl Material {
    /// What is dug takes up so much in the truck: bank times swell.
    ///
    /// # Errors
    ///
    /// When no swell is known, or the result has more digits than any figure of a bill; the other conversions likewise.
    pub fn hauled(&self, bank: Bank) -> Result<Loose, ConversionError> {
        let swell = self.swell.ok_or(Missing::Swell)?;
        times(bank.0, swell.factor()).map(Loose)
    }

    /// What is in the truck was so much in the bank: loose over swell.
    ///
    /// # Errors
    ///
    /// When no swell is known.
    pub fn dug(&self, loose: Loose) -> Result<Bank, ConversionError> {
        let swell = self.swell.ok_or(Missing::Swell)?;
        over(loose.0, swell.factor()).map(Bank)
    }

    /// What is dug makes so much where it is rolled: bank times shrink.
    ///
    /// # Errors
    ///
    /// When no shrink is known.
    pub fn rolled(&self, bank: Bank) -> Result<Compacted, ConversionError> {
        let shrink = self.shrink.ok_or(Missing::Shrink)?;
        times(bank.0, shrink.factor()).map(Compacted)
    }

    /// What is rolled in place was so much in the bank: compacted over shrink.
    ///
    /// # Errors
    ///
    /// When no shrink is known.
    pub fn was(&self, compacted: Compacted) -> Result<Bank, ConversionError> {
        let shrink = self.shrink.ok_or(Missing::Shrink)?;
        over(compacted.0, shrink.factor()).map(Bank)
    }

    /// The mass of a volume that is in the state the density was found in.
    fn weighed(&self, earth: Earth) -> Result<Mass, ConversionError> {
        let density = self
            .density
            .filter(|density| density.state == earth.state());
        times(earth.volume(), density.ok_or(Missing::Density)?.mass).map(Mass)
    }
}

fn times(volume: Decimal, factor: Decimal) -> Result<Decimal, ConversionError> {
    volume.checked_mul(factor).ok_or(ConversionError::Beyond)
}

fn over(volume: Decimal, factor: Decimal) -> Result<Decimal, ConversionError> {
    volume.checked_div(factor).ok_or(ConversionError::Beyond)
}

impl State {
    /// All of them, in the order they are passed through.
    pub const ALL: [State; 3] = [State::Bank, State::Loose, State::Compacted];

    /// The word for it.
    pub const fn word(self) -> &'static str {
        match self {
            State::Bank => "bank",
            State::Loose => "loose",
            State::Compacted => "compacted",
        }
    }
}

impl fmt::Display for State {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        f.write_str(self.word())
    }
}

impl Earth {
    /// A volume in a state.
    pub fn new(state: State, volume: Decimal) -> Self {
        match state {
            State::Bank => Earth::Bank(Bank(volume)),
            State::Loose => Earth::Loose(Loose(volume)),
            State::Compacted => Earth::Compacted(Compacted(volume)),
        }
    }

    /// The state.
    pub fn state(self) -> State {
        match self {
            Earth::Bank(_) => State::Bank,
            Earth::Loose(_) => State::Loose,
            Earth::Compacted(_) => State::Compacted,
        }
    }

    /// The volume.
    pub fn volume(self) -> Decimal {
        match self {
            Earth::Bank(Bank(volume))
            | Earth::Loose(Loose(volume))
            | Earth::Compacted(Compacted(volume)) => volume,
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;
    use rust_decimal::dec;

    proptest! {
        /// A volume of fifteen digits times a factor of six is exact in 28 digits, so there and back is the same.
        #[test]
        fn what_is_multiplied_divides_back_to_the_digit(units in 0i64..10i64.pow(15), swell in 0u32..9_000_000, shrink in 50_000u32..2_000_000) {
            let volume = Decimal::new(units, 4);
            let swell = (dec!(1) + Decimal::new(swell.into(), 6)).to_string();
            let shrink = Decimal::new(shrink.into(), 6).to_string();
            let soil = Material { swell: swell.parse().ok(), shrink: shrink.parse().ok(), density: None };
            prop_assume!(soil.swell.is_some() && soil.shrink.is_some());
            let bank = Bank(volume);
            prop_assert_eq!(soil.dug(soil.hauled(bank).unwrap()).unwrap(), bank);
            prop_assert_eq!(soil.was(soil.rolled(bank).unwrap()).unwrap(), bank);
        }

        /// A quotient has 28 digits at most: times the factor again it is the same to as many, less one.
        #[test]
        fn what_is_divided_multiplies_back_to_the_last_digit(units in 1i64..10i64.pow(15), swell in 0u32..9_000_000, shrink in 50_000u32..2_000_000) {
            let volume = Decimal::new(units, 4);
            let swell = (dec!(1) + Decimal::new(swell.into(), 6)).to_string();
            let shrink = Decimal::new(shrink.into(), 6).to_string();
            let soil = Material { swell: swell.parse().ok(), shrink: shrink.parse().ok(), density: None };
            prop_assume!(soil.swell.is_some() && soil.shrink.is_some());
            let near = |back: Decimal| (back - volume).abs() <= volume * Decimal::new(1, 24);
            prop_assert!(near(soil.hauled(soil.dug(Loose(volume)).unwrap()).unwrap().0));
            prop_assert!(near(soil.rolled(soil.was(Compacted(volume)).unwrap()).unwrap().0));
        }

        /// Loose is never less than bank, and the more is placed the more was dug.
        #[test]
        fn the_words_carry_the_direction(units in 1i64..10i64.pow(12), loss in 1u32..90) {
            let soil = Material { swell: "20%".parse().ok(), shrink: format!("{loss}%").parse().ok(), density: None };
            let volume = Decimal::new(units, 3);
            prop_assert!(soil.hauled(Bank(volume)).unwrap().0 > volume);
            prop_assert!(soil.dug(Loose(volume)).unwrap().0 < volume);
            prop_assert!(soil.rolled(Bank(volume)).unwrap().0 < volume);
            prop_assert!(soil.was(Compacted(volume)).unwrap().0 > volume);
        }
    }

    #[test]
    fn what_is_not_known_is_said() {
        let soil = Material::default();
        assert_eq!(soil.hauled(Bank(dec!(1))), Err(Missing::Swell.into()));
        assert_eq!(soil.was(Compacted(dec!(1))), Err(Missing::Shrink.into()));
        let weighed = soil.weighed(Earth::new(State::Bank, dec!(1)));
        assert_eq!(weighed, Err(Missing::Density.into()));
    }
}
