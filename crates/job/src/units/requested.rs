//! Units as they are asked for, each by its code, on the command line and in a job file alike.

use dapedon_core::units::{AreaUnit, Foot, LengthUnit, MassUnit, VolumeUnit};
use schemars::{JsonSchema, Schema, SchemaGenerator, json_schema};
use serde::{Deserialize, Deserializer, de::Error};
use std::borrow::Cow;

/// A unit that can be asked for.
pub trait RequestedUnit: Copy + Send + Sync + 'static {
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

impl RequestedUnit for LengthUnit {
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
pub enum RequestedAreaUnit {
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

impl RequestedUnit for RequestedAreaUnit {
    const OF: &'static str = "area";
    const ALL: &'static [(Self, &'static str, &'static str)] = &[
        (RequestedAreaUnit::SquareMetre, "m2", "Square metre"),
        (RequestedAreaUnit::Hectare, "ha", "Hectare"),
        (RequestedAreaUnit::SquareFoot, "ft2", "Square foot"),
        (RequestedAreaUnit::SquareYard, "yd2", "Square yard"),
        (RequestedAreaUnit::Acre, "acre", "Acre"),
    ];
}

impl RequestedAreaUnit {
    /// The unit, on the foot of a survey; the international one where that is in metres.
    pub fn on(self, survey: LengthUnit) -> AreaUnit {
        match self {
            RequestedAreaUnit::SquareMetre => AreaUnit::SquareMetre,
            RequestedAreaUnit::Hectare => AreaUnit::Hectare,
            RequestedAreaUnit::SquareFoot => AreaUnit::SquareFoot(foot(survey)),
            RequestedAreaUnit::SquareYard => AreaUnit::SquareYard(foot(survey)),
            RequestedAreaUnit::Acre => AreaUnit::Acre(foot(survey)),
        }
    }
}

/// A unit of volumes, on whichever foot the survey is in.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum RequestedVolumeUnit {
    /// Cubic metre.
    CubicMetre,
    /// Cubic foot.
    CubicFoot,
    /// Cubic yard, 27 cubic feet.
    CubicYard,
}

impl RequestedUnit for RequestedVolumeUnit {
    const OF: &'static str = "volume";
    const ALL: &'static [(Self, &'static str, &'static str)] = &[
        (RequestedVolumeUnit::CubicMetre, "m3", "Cubic metre"),
        (RequestedVolumeUnit::CubicFoot, "ft3", "Cubic foot"),
        (RequestedVolumeUnit::CubicYard, "yd3", "Cubic yard"),
    ];
}

impl RequestedVolumeUnit {
    /// The unit, on the foot of a survey; the international one where that is in metres.
    pub fn on(self, survey: LengthUnit) -> VolumeUnit {
        match self {
            RequestedVolumeUnit::CubicMetre => VolumeUnit::CubicMetre,
            RequestedVolumeUnit::CubicFoot => VolumeUnit::CubicFoot(foot(survey)),
            RequestedVolumeUnit::CubicYard => VolumeUnit::CubicYard(foot(survey)),
        }
    }
}

impl RequestedUnit for MassUnit {
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
pub(crate) struct UnitCode<U>(pub(crate) U);

fn codes<U: RequestedUnit>() -> Vec<&'static str> {
    U::ALL.iter().map(|(_, code, _)| *code).collect()
}

impl<'de, U: RequestedUnit> Deserialize<'de> for UnitCode<U> {
    fn deserialize<D: Deserializer<'de>>(from: D) -> Result<Self, D::Error> {
        let code = String::deserialize(from)?;
        U::of_code(&code).map(UnitCode).ok_or_else(|| {
            let known = codes::<U>().join(", ");
            D::Error::custom(format!(
                "\"{code}\" is not a unit of {}: use {known}",
                U::OF
            ))
        })
    }
}

impl<U: RequestedUnit> JsonSchema for UnitCode<U> {
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
        for &(unit, code, _) in <LengthUnit as RequestedUnit>::ALL {
            assert_eq!(unit.code(), code);
        }
        for &(unit, code, _) in RequestedAreaUnit::ALL {
            assert_eq!(unit.on(LengthUnit::Metre).code(), code);
        }
        for &(unit, code, _) in RequestedVolumeUnit::ALL {
            assert_eq!(unit.on(LengthUnit::Metre).code(), code);
        }
        for &(unit, code, _) in <MassUnit as RequestedUnit>::ALL {
            assert_eq!(unit.symbol(), code);
        }
        let us = LengthUnit::Foot(Foot::UsSurvey);
        assert_eq!(
            RequestedAreaUnit::Acre.on(us),
            AreaUnit::Acre(Foot::UsSurvey)
        );
        assert_eq!(RequestedVolumeUnit::of_code("m2"), None);
        assert_eq!(
            RequestedVolumeUnit::of_word("us-yd3"),
            Some(RequestedVolumeUnit::CubicYard)
        );
        assert_eq!(
            RequestedAreaUnit::of_word("m²"),
            Some(RequestedAreaUnit::SquareMetre)
        );
        assert_eq!(
            RequestedAreaUnit::of_word("acres"),
            Some(RequestedAreaUnit::Acre)
        );
        assert_eq!(RequestedAreaUnit::of_word("loads"), None);
    }
}
