//! Units as they are asked for, each by its code, on the command line and in a job file alike.

use dapedon_core::units::{AreaUnit, Foot, LengthUnit, MassUnit, VolumeUnit};
use schemars::{JsonSchema, Schema, SchemaGenerator, json_schema};
use serde::{Deserialize, Deserializer, de::Error};
use std::borrow::Cow;

/// A unit that can be asked for.
pub trait Asked: Copy + Send + Sync + 'static {
    /// What it is a unit of.
    const OF: &'static str;
    /// All of them, each with its code and what it is.
    const ALL: &'static [(Self, &'static str, &'static str)];

    /// The one with a code.
    fn of_code(code: &str) -> Option<Self> {
        let found = Self::ALL.iter().find(|(_, own, _)| *own == code);
        found.map(|(unit, ..)| *unit)
    }

    /// The one that a word means: its code, with or without the survey's foot, its symbol, or several of it.
    fn of_word(word: &str) -> Option<Self> {
        let code = word.trim_start_matches("us-").replace('²', "2");
        let code = code.replace('³', "3");
        let one = code.strip_suffix('s').unwrap_or(&code);
        Self::of_code(&code).or_else(|| Self::of_code(one))
    }
}

impl Asked for LengthUnit {
    const OF: &'static str = "length";
    const ALL: &'static [(Self, &'static str, &'static str)] = &[
        (LengthUnit::Metre, "m", "Metre"),
        (
            LengthUnit::Foot(Foot::International),
            "ft",
            "International foot, 0.3048 m",
        ),
        (
            LengthUnit::Foot(Foot::UsSurvey),
            "us-ft",
            "US survey foot, 1200/3937 m",
        ),
    ];
}

/// A unit of areas, on whichever foot the survey is in.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum AreaAsked {
    /// Square metre.
    SquareMetre,
    /// Hectare, 10 000 m².
    Hectare,
    /// Square foot.
    SquareFoot,
    /// Square yard, 9 square feet.
    SquareYard,
    /// Acre, 43 560 square feet.
    Acre,
}

impl Asked for AreaAsked {
    const OF: &'static str = "area";
    const ALL: &'static [(Self, &'static str, &'static str)] = &[
        (AreaAsked::SquareMetre, "m2", "Square metre"),
        (AreaAsked::Hectare, "ha", "Hectare"),
        (AreaAsked::SquareFoot, "ft2", "Square foot"),
        (AreaAsked::SquareYard, "yd2", "Square yard"),
        (AreaAsked::Acre, "acre", "Acre"),
    ];
}

impl AreaAsked {
    /// The unit, on the foot of a survey; the international one where that is in metres.
    pub fn on(self, survey: LengthUnit) -> AreaUnit {
        match self {
            AreaAsked::SquareMetre => AreaUnit::SquareMetre,
            AreaAsked::Hectare => AreaUnit::Hectare,
            AreaAsked::SquareFoot => AreaUnit::SquareFoot(foot(survey)),
            AreaAsked::SquareYard => AreaUnit::SquareYard(foot(survey)),
            AreaAsked::Acre => AreaUnit::Acre(foot(survey)),
        }
    }
}

/// A unit of volumes, on whichever foot the survey is in.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum VolumeAsked {
    /// Cubic metre.
    CubicMetre,
    /// Cubic foot.
    CubicFoot,
    /// Cubic yard, 27 cubic feet.
    CubicYard,
}

impl Asked for VolumeAsked {
    const OF: &'static str = "volume";
    const ALL: &'static [(Self, &'static str, &'static str)] = &[
        (VolumeAsked::CubicMetre, "m3", "Cubic metre"),
        (VolumeAsked::CubicFoot, "ft3", "Cubic foot"),
        (VolumeAsked::CubicYard, "yd3", "Cubic yard"),
    ];
}

impl VolumeAsked {
    /// The unit, on the foot of a survey; the international one where that is in metres.
    pub fn on(self, survey: LengthUnit) -> VolumeUnit {
        match self {
            VolumeAsked::CubicMetre => VolumeUnit::CubicMetre,
            VolumeAsked::CubicFoot => VolumeUnit::CubicFoot(foot(survey)),
            VolumeAsked::CubicYard => VolumeUnit::CubicYard(foot(survey)),
        }
    }
}

impl Asked for MassUnit {
    const OF: &'static str = "mass";
    const ALL: &'static [(Self, &'static str, &'static str)] = &[
        (MassUnit::Tonne, "t", "Tonne, 1000 kg"),
        (MassUnit::ShortTon, "ton", "Short ton, 2000 lb"),
    ];
}

fn foot(survey: LengthUnit) -> Foot {
    survey.foot().unwrap_or(Foot::International)
}

/// A unit by its code, in a job file.
#[derive(Debug, Clone, Copy)]
pub(crate) struct Code<U>(pub(crate) U);

fn codes<U: Asked>() -> Vec<&'static str> {
    U::ALL.iter().map(|(_, code, _)| *code).collect()
}

impl<'de, U: Asked> Deserialize<'de> for Code<U> {
    fn deserialize<D: Deserializer<'de>>(from: D) -> Result<Self, D::Error> {
        let code = String::deserialize(from)?;
        U::of_code(&code).map(Code).ok_or_else(|| {
            let known = codes::<U>().join(", ");
            D::Error::custom(format!("\"{code}\" is no unit of {}: {known}", U::OF))
        })
    }
}

impl<U: Asked> JsonSchema for Code<U> {
    fn schema_name() -> Cow<'static, str> {
        format!("{}_unit", U::OF).into()
    }

    fn json_schema(_: &mut SchemaGenerator) -> Schema {
        let named = U::ALL.iter();
        let named = named.map(|(_, code, what)| json_schema!({"const": code, "description": what}));
        json_schema!({"oneOf": named.collect::<Vec<_>>()})
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    /// The codes that are asked for are those that units write themselves.
    #[test]
    fn codes_are_those_that_are_written() {
        for &(unit, code, _) in <LengthUnit as Asked>::ALL {
            assert_eq!(unit.code(), code);
        }
        for &(unit, code, _) in AreaAsked::ALL {
            assert_eq!(unit.on(LengthUnit::Metre).code(), code);
        }
        for &(unit, code, _) in VolumeAsked::ALL {
            assert_eq!(unit.on(LengthUnit::Metre).code(), code);
        }
        for &(unit, code, _) in <MassUnit as Asked>::ALL {
            assert_eq!(unit.symbol(), code);
        }
        let us = LengthUnit::Foot(Foot::UsSurvey);
        assert_eq!(AreaAsked::Acre.on(us), AreaUnit::Acre(Foot::UsSurvey));
        assert_eq!(VolumeAsked::of_code("m2"), None);
        assert_eq!(VolumeAsked::of_word("us-yd3"), Some(VolumeAsked::CubicYard));
        assert_eq!(AreaAsked::of_word("m²"), Some(AreaAsked::SquareMetre));
        assert_eq!(AreaAsked::of_word("acres"), Some(AreaAsked::Acre));
        assert_eq!(AreaAsked::of_word("loads"), None);
    }
}
