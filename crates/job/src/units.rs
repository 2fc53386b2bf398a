//! The units that figures are asked for, and those that they are reported in.

mod requested;

use dapedon_core::units::{AreaUnit, LengthUnit, UnitError, VolumeUnit};
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use crate::digits::figure_in_words;
use crate::figure::{Area, Length, Volume};

pub(crate) use requested::UnitCode;
pub use requested::{RequestedAreaUnit, RequestedUnit, RequestedVolumeUnit};

/// The units that are asked for.
#[derive(Debug, Clone, Copy, Default)]
pub struct RequestedUnits {
    /// To measure in; without one, that of the first file.
    pub length: Option<LengthUnit>,
    /// Of areas, for the foot of the survey; without one, that of the job, or else the usual one.
    pub area: Option<RequestedAreaUnit>,
    /// Of volumes, likewise.
    pub volume: Option<RequestedVolumeUnit>,
}

/// The units that figures are reported in.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[serde(into = "UnitCodes", try_from = "UnitCodes")]
#[schemars(with = "UnitCodes")]
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

/// The same by their codes, as they are written.
#[derive(Serialize, Deserialize, JsonSchema)]
#[schemars(rename = "ReportUnits")]
struct UnitCodes {
    /// Unit of lengths, heights and coordinates: m, ft or us-ft.
    length: String,
    /// Unit of areas.
    area: String,
    /// Unit of volumes.
    volume: String,
    /// Decimals of areas and volumes.
    decimals: usize,
}

impl From<ReportUnits> for UnitCodes {
    fn from(units: ReportUnits) -> Self {
        UnitCodes {
            length: units.length.code().into(),
            area: units.area.code(),
            volume: units.volume.code(),
            decimals: units.decimals,
        }
    }
}

impl TryFrom<UnitCodes> for ReportUnits {
    type Error = UnitError;

    fn try_from(codes: UnitCodes) -> Result<Self, UnitError> {
        Ok(ReportUnits {
            length: codes.length.parse()?,
            area: codes.area.parse()?,
            volume: codes.volume.parse()?,
            decimals: codes.decimals,
        })
    }
}

impl ReportUnits {
    /// An area in squares of the length unit, as it is reported.
    pub(crate) fn area_of(&self, square: f64) -> Area {
        Area::new(self.area.from_square(square, self.length), self.area)
    }

    /// A volume in cubes of the length unit, as it is reported.
    pub(crate) fn volume_of(&self, cubic: f64) -> Volume {
        Volume::new(self.volume.from_cubic(cubic, self.length), self.volume)
    }

    /// A volume of the report, in cubes of the length unit.
    pub(crate) fn cubes_of(&self, told: f64) -> f64 {
        told / self.volume.from_cubic(1.0, self.length)
    }

    /// A length, a height or a difference of heights, as it is reported.
    pub(crate) fn length_of(&self, length: f64) -> Length {
        Length::new(length, self.length)
    }

    /// An area in squares of the length unit, in words.
    pub(crate) fn area_in_words(&self, square: f64) -> String {
        let area = self.area_of(square);
        format!("{} {}", figure_in_words(area.value), area.unit.symbol())
    }
}

/// A unit of volume by its code, as it is written.
pub(crate) mod volume_code {
    use dapedon_core::units::VolumeUnit;
    use serde::{Deserialize, Deserializer, Serialize, Serializer, de::Error};

    pub(crate) fn serialize<S: Serializer>(unit: &VolumeUnit, to: S) -> Result<S::Ok, S::Error> {
        unit.code().serialize(to)
    }

    pub(crate) fn deserialize<'de, D: Deserializer<'de>>(from: D) -> Result<VolumeUnit, D::Error> {
        String::deserialize(from)?.parse().map_err(D::Error::custom)
    }
}
