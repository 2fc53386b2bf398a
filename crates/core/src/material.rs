//! What becomes of a volume when it is dug and when it is placed.

use std::str::FromStr;

/// Loose volume for a unit in the bank: how much what is dug takes up in a truck.
#[derive(Debug, Clone, Copy, PartialEq, PartialOrd)]
pub struct Swell(f64);

/// Compacted volume for a unit in the bank: how much what is dug makes where it is placed and rolled.
#[derive(Debug, Clone, Copy, PartialEq, PartialOrd)]
pub struct Shrink(f64);

/// A figure that is no swell or shrink.
#[derive(Debug, Clone, PartialEq, thiserror::Error)]
pub enum MaterialError {
    /// Soil takes up more when it is dug, never less.
    #[error("\"{0}\" is no swell: say a factor of 1 or more, as 1.25, or a percentage, as 25%")]
    Swell(String),
    /// Something is always left.
    #[error(
        "\"{0}\" is no shrink: say what a unit in the bank makes, as 0.9, or what it loses, as 10%"
    )]
    Shrink(String),
}

impl Swell {
    /// Soil that takes up as much loose as in the bank.
    pub const NONE: Swell = Swell(1.0);

    /// Loose volume for a unit in the bank.
    pub fn loose(self) -> f64 {
        self.0
    }
}

impl Shrink {
    /// Soil that makes as much compacted as it was in the bank.
    pub const NONE: Shrink = Shrink(1.0);

    /// Compacted volume for a unit in the bank.
    pub fn compacted(self) -> f64 {
        self.0
    }
}

/// A factor, or a percentage as a share.
fn figure(text: &str) -> Option<(f64, bool)> {
    let text = text.trim();
    let (number, percent) = match text.strip_suffix('%') {
        Some(number) => (number.trim(), true),
        None => (text, false),
    };
    let number: f64 = number.parse().ok()?;
    number.is_finite().then_some(match percent {
        true => (number / 100.0, true),
        false => (number, false),
    })
}

impl FromStr for Swell {
    type Err = MaterialError;

    fn from_str(text: &str) -> Result<Self, MaterialError> {
        let factor = figure(text).map(|(number, share)| if share { 1.0 + number } else { number });
        // A factor of ten or more is a percentage without its sign.
        let usable = factor.filter(|factor| (1.0..10.0).contains(factor));
        usable
            .map(Swell)
            .ok_or_else(|| MaterialError::Swell(text.into()))
    }
}

impl FromStr for Shrink {
    type Err = MaterialError;

    fn from_str(text: &str) -> Result<Self, MaterialError> {
        let factor = figure(text).map(|(number, share)| if share { 1.0 - number } else { number });
        // Rock may make more than it was, though never twice as much.
        let usable = factor.filter(|factor| *factor > 0.0 && *factor < 2.0);
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
        let swell = |text: &str| text.parse::<Swell>().map(Swell::loose);
        assert_eq!((swell("1.25"), swell("25 %")), (Ok(1.25), Ok(1.25)));
        for wrong in ["0.8", "25", "-5%", "", "NaN", "inf"] {
            assert!(swell(wrong).is_err(), "{wrong}");
        }
        let shrink = |text: &str| text.parse::<Shrink>().map(Shrink::compacted);
        assert_eq!((shrink("0.75"), shrink("25%")), (Ok(0.75), Ok(0.75)));
        assert_eq!((shrink("1.125"), shrink("-12.5%")), (Ok(1.125), Ok(1.125)));
        for wrong in ["0", "100%", "25", "-1", "ten"] {
            assert!(shrink(wrong).is_err(), "{wrong}");
        }
    }
}
