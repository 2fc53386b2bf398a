//! A measured figure: a value in a unit.

use std::borrow::Cow;
use std::ops::{Div, Mul};
use std::str::FromStr;

use dapedon_core::plan::Sum;
use dapedon_core::units::{AreaUnit, LengthUnit, UnitError, VolumeUnit};
use schemars::{JsonSchema, Schema, SchemaGenerator};
use serde::{Deserialize, Deserializer, Serialize, Serializer, de::Error};

/// A value in a unit, and how uncertain it is where that is known.
///
/// In JSON `{"value": 1250.5, "unit": "m3"}`: a figure says what it is measured in wherever it is taken.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Figure<U> {
    /// The value.
    pub value: f64,
    /// Its unit.
    pub unit: U,
    /// Its standard uncertainty, in the same unit.
    pub uncertainty: Option<f64>,
}

/// A length, a height, a depth or a difference of heights.
pub type Length = Figure<LengthUnit>;
/// An area: in plan, or along the slope where its name states that.
pub type Area = Figure<AreaUnit>;
/// A volume.
pub type Volume = Figure<VolumeUnit>;

impl<U: Copy> Figure<U> {
    /// A value in a unit.
    pub const fn new(value: f64, unit: U) -> Self {
        Figure {
            value,
            unit,
            uncertainty: None,
        }
    }

    /// Another value in the same unit.
    #[must_use]
    pub const fn with(self, value: f64) -> Self {
        Figure::new(value, self.unit)
    }

    /// The sum of figures in one unit.
    pub fn sum(unit: U, figures: impl IntoIterator<Item = Self>) -> Self {
        let mut sum = Sum::default();
        for figure in figures {
            sum += figure.value;
        }
        Figure::new(sum.value(), unit)
    }
}

impl<U: Copy> Mul<f64> for Figure<U> {
    type Output = Self;

    fn mul(self, by: f64) -> Self {
        Figure {
            value: self.value * by,
            unit: self.unit,
            uncertainty: self.uncertainty.map(|own| own * by.abs()),
        }
    }
}

impl<U: Copy> Div<f64> for Figure<U> {
    type Output = Self;

    fn div(self, by: f64) -> Self {
        Figure {
            value: self.value / by,
            unit: self.unit,
            uncertainty: self.uncertainty.map(|own| own / by.abs()),
        }
    }
}

/// A unit that figures are reported in.
pub trait Unit: Copy + FromStr<Err = UnitError> {
    /// What a figure in it is called in the schema of results.
    const NAMED: &'static str;

    /// Its code.
    fn coded(&self) -> Cow<'static, str>;
}

impl Unit for LengthUnit {
    const NAMED: &'static str = "Length";

    fn coded(&self) -> Cow<'static, str> {
        self.code().into()
    }
}

impl Unit for AreaUnit {
    const NAMED: &'static str = "Area";

    fn coded(&self) -> Cow<'static, str> {
        self.code().into()
    }
}

impl Unit for VolumeUnit {
    const NAMED: &'static str = "Volume";

    fn coded(&self) -> Cow<'static, str> {
        self.code().into()
    }
}

/// A figure as it is written.
#[derive(Serialize, Deserialize, JsonSchema)]
struct Written<'w> {
    /// The value.
    value: f64,
    /// The code of its unit.
    unit: Cow<'w, str>,
    /// Its standard uncertainty, in the same unit.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    uncertainty: Option<f64>,
}

impl<U: Unit> Serialize for Figure<U> {
    fn serialize<S: Serializer>(&self, to: S) -> Result<S::Ok, S::Error> {
        let Figure {
            value,
            unit,
            uncertainty,
        } = *self;
        let written = Written {
            value,
            unit: unit.coded(),
            uncertainty,
        };
        written.serialize(to)
    }
}

impl<'de, U: Unit> Deserialize<'de> for Figure<U> {
    fn deserialize<D: Deserializer<'de>>(from: D) -> Result<Self, D::Error> {
        let Written {
            value,
            unit,
            uncertainty,
        } = Written::deserialize(from)?;
        Ok(Figure {
            value,
            unit: unit.parse().map_err(D::Error::custom)?,
            uncertainty,
        })
    }
}

impl<U: Unit> JsonSchema for Figure<U> {
    fn schema_name() -> Cow<'static, str> {
        U::NAMED.into()
    }

    fn json_schema(generator: &mut SchemaGenerator) -> Schema {
        Written::json_schema(generator)
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use dapedon_core::units::Foot;

    #[test]
    fn a_figure_is_written_with_its_unit_and_read_back() {
        let written = r#"{"value":0.1,"unit":"m3"}"#;
        let volume = Volume::new(0.1, VolumeUnit::CubicMetre);
        assert_eq!(serde_json::to_string(&volume).unwrap(), written);
        assert_eq!(serde_json::from_str::<Volume>(written).unwrap(), volume);
        let length = Length {
            uncertainty: Some(0.02),
            ..Length::new(3.5, LengthUnit::Foot(Foot::UsSurvey))
        };
        let text = serde_json::to_string(&length).unwrap();
        assert_eq!(serde_json::from_str::<Length>(&text).unwrap(), length);
        assert!(serde_json::from_str::<Area>(written).is_err());
    }

    #[test]
    fn a_sum_loses_nothing() {
        let figures = [1e16, 1.0, -1e16].map(|value| Area::new(value, AreaUnit::SquareMetre));
        assert_eq!(Area::sum(AreaUnit::SquareMetre, figures).value, 1.0);
    }
}
