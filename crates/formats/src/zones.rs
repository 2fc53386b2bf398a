//! Zones as files hold them.

use dapedon_core::{Frame, LengthUnit, Place, Zone};

/// A zone as a file holds it: parts, each an outer ring and its holes, in grid coordinates.
#[derive(Debug, Clone, PartialEq, Default)]
pub struct RawZone {
    /// Its name; without one in the file, its number.
    pub name: String,
    /// Its parts.
    pub parts: Vec<Vec<Vec<Place>>>,
    /// What else the file says of it, by the names of its attributes.
    pub attributes: Vec<(String, String)>,
}

impl RawZone {
    /// A zone as it is written to a file, its rings closed.
    pub fn of(zone: &Zone, frame: Frame) -> Self {
        let closed = |ring: &Vec<Place>| {
            let all = ring.iter().chain(ring.first());
            all.map(|&place| frame.to_grid(place)).collect()
        };
        let mut parts: Vec<Vec<Vec<Place>>> = Vec::new();
        for ring in zone.rings() {
            match (is_hole(ring), parts.last_mut()) {
                (true, Some(part)) => part.push(closed(ring)),
                _ => parts.push(vec![closed(ring)]),
            }
        }
        RawZone {
            name: zone.name().into(),
            parts,
            ..RawZone::default()
        }
    }

    /// The value of an attribute, whatever the case of its name.
    pub fn attribute(&self, name: &str) -> Option<&str> {
        let mut own = self.attributes.iter();
        let found = own.find(|(own, _)| own.eq_ignore_ascii_case(name));
        found.map(|(_, value)| value.as_str())
    }
}

/// Holes turn clockwise.
fn is_hole(ring: &[Place]) -> bool {
    let next = ring.iter().cycle().skip(1);
    let turned = ring.iter().zip(next);
    let turned = turned.map(|(a, b)| (b.east - a.east) * (b.north + a.north));
    turned.sum::<f64>() > 0.0
}

/// The zones of a file, and what was left out.
#[derive(Debug, Clone, PartialEq, Default)]
pub struct RawZones {
    /// The zones, in the file's order.
    pub zones: Vec<RawZone>,
    /// The unit of their coordinates, where the format says one.
    pub unit: Option<LengthUnit>,
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
    /// Converts the outlines from one unit to another.
    pub fn convert(&mut self, from: LengthUnit, to: LengthUnit) {
        let parts = self.zones.iter_mut().flat_map(|zone| &mut zone.parts);
        for place in parts.flatten().flatten() {
            *place = Place::new(from.convert(place.east, to), from.convert(place.north, to));
        }
    }
}
