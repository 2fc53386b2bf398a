//! Chainages as the trade writes them: 12+345.60 in metres, 123+45.60 in feet.

use std::str::FromStr;

use super::Alignment;
use crate::units::LengthUnit;

/// A chainage as it is typed, and which of two places is meant where an equation makes it name both.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct NamedChainage {
    /// The chainage.
    pub value: f64,
    /// On which side of an equation.
    pub side: Option<EquationSide>,
}

/// A side of a chainage equation.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum EquationSide {
    /// Before it.
    Back,
    /// Behind it.
    Ahead,
}

/// A text that is no chainage.
#[derive(Debug, Clone, PartialEq, Eq, thiserror::Error)]
#[error("\"{0}\" is not a chainage")]
pub struct NoChainage(pub String);

/// Why a chainage names no place of a line.
#[derive(Debug, Clone, PartialEq, thiserror::Error)]
#[non_exhaustive]
pub enum ChainageError {
    /// The line does not have it.
    #[error("chainage {chainage} is not on the line")]
    OffLine {
        /// The chainage.
        chainage: f64,
        /// The chainages of the line's start and end.
        range: [f64; 2],
    },
    /// An equation makes it name several places.
    #[error("chainage {chainage} is on the line {} times, because of an equation", distances.len())]
    Several {
        /// The chainage.
        chainage: f64,
        /// Where: distances from the line's start.
        distances: Vec<f64>,
    },
}

/// How many figures stand between the plus sign and the point: it counts thousands of metres, or hundreds of feet.
fn figures(unit: LengthUnit) -> usize {
    match unit {
        LengthUnit::Metre => 3,
        LengthUnit::Foot(_) => 2,
    }
}

/// A chainage as the trade writes it, with so many decimals.
///
/// ```
/// use dapedon_core::alignment::chainage_words;
/// use dapedon_core::units::{Foot, LengthUnit};
/// assert_eq!(chainage_words(12_345.6, LengthUnit::Metre, 2), "12+345.60");
/// assert_eq!(chainage_words(12_345.6, LengthUnit::Foot(Foot::UsSurvey), 2), "123+45.60");
/// assert_eq!(chainage_words(999.996, LengthUnit::Metre, 2), "1+000.00");
/// assert_eq!(chainage_words(-20.0, LengthUnit::Metre, 0), "-0+020");
/// ```
pub fn chainage_words(chainage: f64, unit: LengthUnit, decimals: usize) -> String {
    let digits = figures(unit);
    // Rounded first, so that no remainder is written as a whole group.
    let written = format!("{:.decimals$}", chainage.abs());
    let whole = written.split('.').next().unwrap_or_default();
    let fraction = &written[whole.len()..];
    let (groups, rest) = match whole.len().checked_sub(digits) {
        Some(split) if split > 0 => whole.split_at(split),
        _ => ("0", whole),
    };
    let is_nothing = written.chars().all(|c| !c.is_ascii_digit() || c == '0');
    let sign = if chainage < 0.0 && !is_nothing {
        "-"
    } else {
        ""
    };
    format!("{sign}{groups}+{rest:0>digits$}{fraction}")
}

impl FromStr for NamedChainage {
    type Err = NoChainage;

    /// Reads a plain number, `12+345.60` (three figures before the point: metres), or `123+45.60` (two: feet); behind it `back` or
    /// `ahead`.
    ///
    /// ```
    /// use dapedon_core::alignment::{EquationSide, NamedChainage};
    /// let read = |text: &str| text.parse::<NamedChainage>();
    /// assert_eq!(read("12+345.60").unwrap().value, 12_345.6);
    /// assert_eq!(read("123+45.60").unwrap().value, 12_345.6);
    /// assert_eq!(read("1+200 ahead").unwrap().side, Some(EquationSide::Ahead));
    /// assert!(read("12+3").is_err());
    /// ```
    fn from_str(text: &str) -> Result<Self, NoChainage> {
        let wrong = || NoChainage(text.to_owned());
        let mut words = text.split_whitespace();
        let number = words.next().ok_or_else(wrong)?;
        let side = match words.next().map(str::to_ascii_lowercase).as_deref() {
            None => None,
            Some("back" | "bk") => Some(EquationSide::Back),
            Some("ahead" | "ah") => Some(EquationSide::Ahead),
            Some(_) => return Err(wrong()),
        };
        if words.next().is_some() {
            return Err(wrong());
        }
        let value = number_of(number).ok_or_else(wrong)?;
        Ok(NamedChainage { value, side })
    }
}

fn number_of(text: &str) -> Option<f64> {
    let (sign, digits) = match text.strip_prefix('-') {
        Some(rest) => (-1.0, rest),
        None => (1.0, text.strip_prefix('+').unwrap_or(text)),
    };
    if !digits.starts_with(|c: char| c.is_ascii_digit() || c == '.') {
        return None;
    }
    let value = match digits.split_once('+') {
        None => digits.parse().ok()?,
        Some((groups, rest)) => {
            let whole = rest.split('.').next().unwrap_or_default();
            let group = match whole.len() {
                3 => 1000.0,
                2 => 100.0,
                _ => return None,
            };
            if !groups.chars().all(|c| c.is_ascii_digit())
                || !whole.chars().all(|c| c.is_ascii_digit())
            {
                return None;
            }
            groups.parse::<f64>().ok()? * group + rest.parse::<f64>().ok()?
        }
    };
    Some(sign * value).filter(|value: &f64| value.is_finite())
}

impl Alignment {
    /// The distance from the start of the line that a chainage names.
    ///
    /// # Errors
    ///
    /// When the line does not have it, or has it several times and no side of the equation is said.
    pub fn distance_of(&self, named: NamedChainage) -> Result<f64, ChainageError> {
        let found = self.chainage().distances(named.value, self.length());
        let side = match named.side {
            Some(EquationSide::Back) => found.first(),
            Some(EquationSide::Ahead) => found.last(),
            None => None,
        };
        match (found.as_slice(), side) {
            ([], _) => Err(ChainageError::OffLine {
                chainage: named.value,
                range: [0.0, self.length()].map(|at| self.chainage().of(at)),
            }),
            (_, Some(&distance)) | (&[distance], None) => Ok(distance),
            (_, None) => Err(ChainageError::Several {
                chainage: named.value,
                distances: found,
            }),
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::alignment::{Chainage, Element, Equation};
    use crate::plan::Place;
    use crate::units::Foot;
    use proptest::prelude::*;

    proptest! {
        /// What is written is read back, in either form.
        #[test]
        fn what_is_written_is_read_back(thousandths in -9_999_999i64..99_999_999) {
            let value = thousandths as f64 / 1000.0;
            for unit in [LengthUnit::Metre, LengthUnit::Foot(Foot::International)] {
                let read: NamedChainage = chainage_words(value, unit, 3).parse().unwrap();
                prop_assert!((read.value - value).abs() < 1e-9 * value.abs().max(1.0));
            }
        }
    }

    #[test]
    fn what_is_no_chainage_is_refused() {
        for text in [
            "",
            "x",
            "12+34+5",
            "12+3456",
            "1e+200",
            "12+3x5",
            "12 13",
            "nan",
            "1+200 beside",
            "inf",
            "+",
            "-",
            "12+-34",
        ] {
            assert!(text.parse::<NamedChainage>().is_err(), "{text}");
        }
        assert_eq!("-0+012.5".parse::<NamedChainage>().unwrap().value, -12.5);
    }

    #[test]
    fn an_equation_may_name_a_place_twice() {
        let straight = Element::straight(Place::new(0.0, 0.0), Place::new(300.0, 0.0));
        let again = Equation {
            distance: 200.0,
            back: 200.0,
            ahead: 190.0,
        };
        let line = Alignment::new(
            "line",
            vec![straight],
            Chainage::new(0.0, vec![again]),
            None,
        );
        let find = |text: &str| line.distance_of(text.parse().unwrap());
        assert_eq!(find("0+150"), Ok(150.0));
        assert_eq!(find("0+195 back"), Ok(195.0));
        assert_eq!(find("0+195 ahead"), Ok(205.0));
        assert!(
            matches!(find("0+195"), Err(ChainageError::Several { distances, .. }) if distances == [195.0, 205.0])
        );
        assert!(
            matches!(find("0+400"), Err(ChainageError::OffLine { range, .. }) if range == [0.0, 290.0])
        );
    }
}
