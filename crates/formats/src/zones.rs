//! Zones as files hold them.

use dapedon_core::plan::{Frame, Place};
use dapedon_core::units::LengthUnit;
use dapedon_core::zones::Zone;

use crate::visible::replace;

/// A zone as a file holds it: parts, each an outer ring and its holes, in grid coordinates.
#[derive(Debug, Clone, PartialEq, Default)]
pub struct RawZone {
    /// Its name; without one in the file, its number.
    pub name: String,
    /// Which one of its file it is, whatever it is named by.
    pub feature: String,
    /// Its parts.
    pub parts: Vec<Vec<Vec<Place>>>,
    /// What else the file says of it, by the names of its attributes.
    pub attributes: Vec<(String, String)>,
}

impl RawZone {
    /// A zone of a frame as it is written to a file, its rings closed.
    pub fn of(zone: &Zone, frame: Frame) -> Self {
        RawZone {
            name: zone.name().into(),
            parts: zone.parts(frame),
            ..RawZone::default()
        }
    }
}

/// The zones of a file, and what was skipped.
#[derive(Debug, Clone, PartialEq, Default)]
pub struct RawZones {
    /// The zones, in the file's order.
    pub zones: Vec<RawZone>,
    /// The unit of their coordinates, where the format says one.
    pub unit: Option<LengthUnit>,
    /// A unit of the file that is not supported.
    pub unknown_unit: Option<String>,
    /// The coordinate system, where the format says one.
    pub crs: Option<String>,
    /// What was understood.
    pub notes: Vec<String>,
    /// Features that are not areas.
    pub left_out: usize,
    /// Zones the file gives no name.
    pub unnamed: usize,
}

impl RawZones {
    /// Makes all text in them safe to be read.
    pub fn make_visible(&mut self) {
        let names = self.zones.iter_mut().map(|zone| &mut zone.name);
        for text in names.chain(&mut self.crs).chain(&mut self.notes) {
            replace(text);
        }
        for (name, value) in self.zones.iter_mut().flat_map(|zone| &mut zone.attributes) {
            replace(name);
            replace(value);
        }
    }

    /// Converts the outlines from one unit to another.
    pub fn convert(&mut self, from: LengthUnit, to: LengthUnit) {
        let parts = self.zones.iter_mut().flat_map(|zone| &mut zone.parts);
        for place in parts.flatten().flatten() {
            *place = Place::new(from.convert(place.east, to), from.convert(place.north, to));
        }
    }
}
