//! Units, as they are named on the command line.

use clap::{Parser, ValueEnum};
use dapedon_core::units::{AreaUnit, Foot, LengthUnit, VolumeUnit};

/// The units that are measured and told in.
#[derive(Debug, Parser)]
pub(crate) struct UnitArgs {
    /// The length unit to measure in [default: that of the first surface]
    #[arg(long, value_enum)]
    pub(crate) length_unit: Option<Length>,
    /// The unit of areas [default: the square of the length unit]
    #[arg(long, value_enum)]
    pub(crate) area_unit: Option<Area>,
    /// The unit of volumes [default: m3, or yd3 where the length unit is a foot]
    #[arg(long, value_enum)]
    pub(crate) volume_unit: Option<Volume>,
}

#[derive(Debug, Clone, Copy, ValueEnum)]
pub(crate) enum Length {
    /// Metre
    M,
    /// International foot, 0.3048 m
    Ft,
    /// US survey foot, 1200/3937 m
    UsFt,
}

impl From<Length> for LengthUnit {
    fn from(unit: Length) -> Self {
        match unit {
            Length::M => LengthUnit::Metre,
            Length::Ft => LengthUnit::Foot(Foot::International),
            Length::UsFt => LengthUnit::Foot(Foot::UsSurvey),
        }
    }
}

#[derive(Debug, Clone, Copy, ValueEnum)]
pub(crate) enum Area {
    /// Square metre
    M2,
    /// Hectare
    Ha,
    /// Square foot
    Ft2,
    /// Square yard
    Yd2,
    /// Acre
    Acre,
}

impl Area {
    /// The unit, on the survey's own foot.
    pub(crate) fn on(self) -> fn(LengthUnit) -> AreaUnit {
        match self {
            Area::M2 => |_| AreaUnit::SquareMetre,
            Area::Ha => |_| AreaUnit::Hectare,
            Area::Ft2 => |unit| AreaUnit::SquareFoot(foot(unit)),
            Area::Yd2 => |unit| AreaUnit::SquareYard(foot(unit)),
            Area::Acre => |unit| AreaUnit::Acre(foot(unit)),
        }
    }
}

#[derive(Debug, Clone, Copy, ValueEnum)]
pub(crate) enum Volume {
    /// Cubic metre
    M3,
    /// Cubic foot
    Ft3,
    /// Cubic yard
    Yd3,
}

impl Volume {
    /// The unit, on the survey's own foot.
    pub(crate) fn on(self) -> fn(LengthUnit) -> VolumeUnit {
        match self {
            Volume::M3 => |_| VolumeUnit::CubicMetre,
            Volume::Ft3 => |unit| VolumeUnit::CubicFoot(foot(unit)),
            Volume::Yd3 => |unit| VolumeUnit::CubicYard(foot(unit)),
        }
    }
}

/// The survey's own foot; the international one where it is in metres.
fn foot(unit: LengthUnit) -> Foot {
    unit.foot().unwrap_or(Foot::International)
}
