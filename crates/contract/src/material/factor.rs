//! Swell and shrink, as a factor or as a percentage.

use std::str::FromStr;

use rust_decimal::Decimal;
use rust_decimal::dec;
use rust_decimal::prelude::ToPrimitive;

/// Loose volume for a unit in the bank: how much what is dug takes up in a truck.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord)]
pub struct Swell(Decimal);

/// Compacted volume for a unit in the bank: how much what is dug makes where it is placed and rolled.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord)]
pub struct Shrink(Decimal);

/// A figure that is no swell or shrink.
#[derive(Debug, Clone, PartialEq, thiserror::Error)]
#[non_exhaustive]
pub enum MaterialError {
    /// Soil takes up more when it is dug, never less.
    #[error(
        "\"{0}\" is not a swell factor: use a factor of 1 or more, as in 1.25, or a percentage, as in 25%"
    )]
    Swell(String),
    /// Something is always left.
    #[error(
        "\"{0}\" is not a shrink factor: use compacted volume per bank volume, as in 0.9, or the loss, as in 10%"
    )]
    Shrink(String),
}

impl Swell {
    /// Soil that takes up as much loose as in the bank.
    pub const NONE: Swell = Swell(Decimal::ONE);

    /// Loose volume for a unit in the bank.
    pub fn factor(self) -> Decimal {
        self.0
    }

    /// The same, in binary.
    pub fn loose(self) -> f64 {
        binary(self.0)
    }
}

impl Shrink {
    /// Soil that makes as much compacted as it was in the bank.
    pub const NONE: Shrink = Shrink(Decimal::ONE);

    /// Compacted volume for a unit in the bank.
    pub fn factor(self) -> Decimal {
        self.0
    }

    /// The same, in binary.
    pub fn compacted(self) -> f64 {
        binary(self.0)
    }
}

fn binary(factor: Decimal) -> f64 {
    // A factor lies between zero and ten.
    factor.to_f64().unwrap_or(1.0)
}

/// A factor, or a percentage as a share.
fn figure(text: &str) -> Option<(Decimal, bool)> {
    let text = text.trim();
    let (number, percent) = match text.strip_suffix('%') {
        Some(number) => (number.trim(), true),
        None => (text, false),
    };
    let number: Decimal = number.parse().ok()?;
    let share = number.checked_div(dec!(100))?;
    Some(if percent {
        (share, true)
    } else {
        (number, false)
    })
}

impl FromStr for Swell {
    type Err = MaterialError;

    fn from_str(text: &str) -> Result<Self, MaterialError> {
        let factor = figure(text).and_then(|(number, share)| match share {
            true => number.checked_add(dec!(1)),
            false => Some(number),
        });
        // A factor of ten or more is a percentage without its sign.
        let usable = factor.filter(|factor| (dec!(1)..dec!(10)).contains(factor));
        usable
            .map(Swell)
            .ok_or_else(|| MaterialError::Swell(text.into()))
    }
}

impl FromStr for Shrink {
    type Err = MaterialError;

    fn from_str(text: &str) -> Result<Self, MaterialError> {
        let factor = figure(text).and_then(|(number, share)| match share {
            true => dec!(1).checked_sub(number),
            false => Some(number),
        });
        // Rock may make more than it was, though never twice as much, and of peat a twentieth is always left.
        let usable = factor.filter(|factor| (dec!(0.05)..dec!(2)).contains(factor));
        usable
            .map(Shrink)
            .ok_or_else(|| MaterialError::Shrink(text.into()))
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn factors_and_percentages_say_the_same() {
        let swell = |text: &str| text.parse::<Swell>().map(Swell::factor);
        assert_eq!(swell("1.25"), Ok(dec!(1.25)));
        assert_eq!(swell("25 %"), Ok(dec!(1.25)));
        for wrong in ["0.8", "25", "-5%", "", "NaN", "inf", "1e40%"] {
            assert!(swell(wrong).is_err(), "{wrong}");
        }
        let shrink = |text: &str| text.parse::<Shrink>().map(Shrink::factor);
        assert_eq!(
            (shrink("0.75"), shrink("25%")),
            (Ok(dec!(0.75)), Ok(dec!(0.75)))
        );
        assert_eq!(shrink("7%"), Ok(dec!(0.93)));
        assert_eq!(shrink("-12.5%"), Ok(dec!(1.125)));
        for wrong in ["0", "100%", "96%", "25", "-1", "ten"] {
            assert!(shrink(wrong).is_err(), "{wrong}");
        }
        assert_eq!("1.1".parse::<Swell>().unwrap().loose(), 1.1);
    }
}
