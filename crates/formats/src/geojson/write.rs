//! Zones as GeoJSON.

use std::io::{self, Write};

use serde_json::json;

use super::RawZone;

/// Writes zones, a feature on each line.
///
/// # Errors
///
/// When writing fails.
pub fn write(mut out: impl Write, zones: &[RawZone]) -> io::Result<()> {
    writeln!(out, "{{\"type\": \"FeatureCollection\", \"features\": [")?;
    for (index, zone) in zones.iter().enumerate() {
        let parts: Vec<Vec<Vec<[f64; 2]>>> = (zone.parts.iter())
            .map(|part| {
                let ring = |ring: &Vec<dapedon_core::Place>| {
                    ring.iter().map(|p| [p.east, p.north]).collect()
                };
                part.iter().map(ring).collect()
            })
            .collect();
        let geometry = match &parts[..] {
            [part] => json!({"type": "Polygon", "coordinates": part}),
            _ => json!({"type": "MultiPolygon", "coordinates": parts}),
        };
        let feature =
            json!({"type": "Feature", "properties": {"name": zone.name}, "geometry": geometry});
        let comma = if index + 1 < zones.len() { "," } else { "" };
        writeln!(out, "{feature}{comma}")?;
    }
    writeln!(out, "]}}")
}
