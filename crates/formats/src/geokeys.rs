//! What GeoTIFF keys say of a coordinate system: in a GeoTIFF, and in a cloud.

use dapedon_core::units::{Foot, LengthUnit};

use crate::heights::HeightUnit;
use crate::wkt::{self, System};

/// The keys that matter here, by their numbers in the standard.
const MODEL_TYPE: u16 = 1024;
const RASTER_TYPE: u16 = 1025;
const PROJECTED: u16 = 3072;
const LINEAR_UNIT: u16 = 3076;
const VERTICAL: u16 = 4096;
const VERTICAL_UNIT: u16 = 4099;

/// Keys whose values stand in the directory itself.
pub(crate) struct Keys(Vec<(u16, u16)>);

impl Keys {
    pub(crate) fn of(directory: &[u16]) -> Self {
        let entries = directory.chunks_exact(4).skip(1);
        // Number, where its value stands, how many values, the value.
        let here = entries.filter(|entry| entry[1] == 0);
        Keys(here.map(|entry| (entry[0], entry[3])).collect())
    }

    fn get(&self, key: u16) -> Option<u16> {
        self.0
            .iter()
            .find(|(known, _)| *known == key)
            .map(|&(_, value)| value)
    }

    pub(crate) fn is_geographic(&self) -> bool {
        self.get(MODEL_TYPE) == Some(2)
    }

    /// Pixels are points where the value says so, and areas otherwise.
    pub(crate) fn is_point(&self) -> bool {
        self.get(RASTER_TYPE) == Some(2)
    }

    pub(crate) fn crs(&self) -> Option<String> {
        self.code(PROJECTED)
    }

    pub(crate) fn height_system(&self) -> Option<String> {
        self.code(VERTICAL)
    }

    fn code(&self, key: u16) -> Option<String> {
        let code = self.get(key).filter(|&code| code != 0 && code != 32_767);
        code.map(|code| format!("EPSG:{code}"))
    }

    /// The unit of the plan: by its key, or else that of the projected system.
    pub(crate) fn unit(&self) -> Option<LengthUnit> {
        match self.unit_code(LINEAR_UNIT) {
            Some(code) => unit(code),
            None => self.projected().unit,
        }
    }

    /// The projected system, by its code.
    fn projected(&self) -> System {
        let known = self.get(PROJECTED).and_then(crs_definitions::from_code);
        known
            .map(|known| wkt::system(known.wkt))
            .unwrap_or_default()
    }

    /// The unit of heights, where a key names one.
    pub(crate) fn height_unit(&self) -> Option<HeightUnit> {
        self.get(VERTICAL_UNIT).and_then(HeightUnit::of_code)
    }

    /// A unit that is named and not supported, of the plan or of heights.
    pub(crate) fn unknown_unit(&self) -> Option<String> {
        let heights = self.unit_code(VERTICAL_UNIT);
        let unknown = heights.filter(|&code| HeightUnit::of_code(code).is_none());
        let of_heights = || unknown.map(|code| format!("EPSG:{code}"));
        self.unknown_plan_unit().or_else(of_heights)
    }

    /// The same of the plan alone.
    pub(crate) fn unknown_plan_unit(&self) -> Option<String> {
        match self.unit_code(LINEAR_UNIT) {
            Some(code) => unit(code).is_none().then(|| format!("EPSG:{code}")),
            None => self.projected().unknown_unit,
        }
    }

    /// The number of a unit, unless the key leaves it open.
    fn unit_code(&self, key: u16) -> Option<u16> {
        self.get(key).filter(|&code| code != 0 && code != 32_767)
    }
}

/// A unit by its number in the EPSG registry.
pub(crate) fn unit(code: u16) -> Option<LengthUnit> {
    match code {
        9001 => Some(LengthUnit::Metre),
        9002 => Some(LengthUnit::Foot(Foot::International)),
        9003 => Some(LengthUnit::Foot(Foot::UsSurvey)),
        _ => None,
    }
}

/// The number of a unit in the EPSG registry.
pub(crate) fn code(unit: LengthUnit) -> u16 {
    match unit {
        LengthUnit::Metre => 9001,
        LengthUnit::Foot(Foot::International) => 9002,
        LengthUnit::Foot(Foot::UsSurvey) => 9003,
    }
}

/// The directory that says the systems of plan and heights, pixels as areas, and the unit of both.
///
/// Without a code the plan is of a kind of its own, for which readers take the unit from its key; a unit of heights without
/// a system would make them forget the code of the plan.
pub(crate) fn directory(unit: LengthUnit, systems: [Option<&str>; 2]) -> Vec<u16> {
    let [projected, vertical] =
        systems.map(|system| system.and_then(|system| system.strip_prefix("EPSG:")?.parse().ok()));
    const OWN: u16 = 32_767;
    // Metres are what readers assume; then the system of heights may keep its name.
    let is_plain = projected.is_some() || (unit == LengthUnit::Metre && vertical.is_some());
    let model = if is_plain { 1 } else { OWN };
    let mut keys = vec![(MODEL_TYPE, model), (RASTER_TYPE, 1)];
    if is_plain {
        keys.push((PROJECTED, projected.unwrap_or(OWN)));
    }
    keys.push((LINEAR_UNIT, code(unit)));
    if let Some(vertical) = vertical {
        keys.extend([(VERTICAL, vertical), (VERTICAL_UNIT, code(unit))]);
    }
    let mut directory = vec![1, 1, 1, keys.len() as u16];
    directory.extend(keys.into_iter().flat_map(|(key, value)| [key, 0, 1, value]));
    directory
}
