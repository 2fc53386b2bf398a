//! The units that figures are asked for, and those that they are told in.

use dapedon_core::{AreaUnit, LengthUnit, VolumeUnit};
use serde::Serialize;

/// The units that are asked for.
#[derive(Debug, Clone, Copy, Default)]
pub struct UnitsAsked {
    /// To measure in; without one, that of the first file.
    pub length: Option<LengthUnit>,
    /// Of areas, for the foot of the survey; without one, that of the job, or else the usual one.
    pub area: Option<fn(LengthUnit) -> AreaUnit>,
    /// Of volumes, likewise.
    pub volume: Option<fn(LengthUnit) -> VolumeUnit>,
}

/// The units that figures are told in.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct ReportUnits {
    /// Of lengths, heights and coordinates: what is measured in.
    pub length: LengthUnit,
    /// Of areas.
    pub area: AreaUnit,
    /// Of volumes.
    pub volume: VolumeUnit,
    /// Decimals of areas and volumes.
    pub decimals: usize,
}

/// Codes of the units figures are in.
#[derive(Debug, Clone, PartialEq, Eq, Serialize)]
pub struct Units {
    /// Of heights, differences and coordinates.
    pub length: String,
    /// Of areas.
    pub area: String,
    /// Of volumes.
    pub volume: String,
}

impl ReportUnits {
    /// An area in squares of the length unit, as it is told.
    pub(crate) fn area_of(&self, square: f64) -> f64 {
        self.area.from_square(square, self.length)
    }

    /// A volume in cubes of the length unit, as it is told.
    pub(crate) fn volume_of(&self, cubic: f64) -> f64 {
        self.volume.from_cubic(cubic, self.length)
    }

    /// Their codes.
    pub fn codes(&self) -> Units {
        Units {
            length: self.length.code().into(),
            area: self.area.code(),
            volume: self.volume.code(),
        }
    }

    /// An area in squares of the length unit, in words.
    pub(crate) fn area_in_words(&self, square: f64) -> String {
        let area = figure_in_words(self.area_of(square));
        format!("{area} {}", self.area.symbol())
    }
}

/// A figure with a decimal, or with as many as it takes to say that it is something.
pub(crate) fn figure_in_words(value: f64) -> String {
    match value.abs() {
        0.0 => "0.0".into(),
        0.05.. => format!("{value:.1}"),
        small => {
            let decimals = (-libm::log10(small)).ceil().clamp(1.0, 12.0) as usize;
            format!("{value:.decimals$}")
        }
    }
}
