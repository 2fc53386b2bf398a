//! Zones and facets as GeoJSON.

use std::io::{self, Write};

use dapedon_core::surface::Vertex;
use serde_json::json;

use crate::RawZone;
use crate::fixed::Fixed;

/// Writes zones with their names and attributes, a feature on each line.
///
/// # Errors
///
/// When writing fails.
pub fn write(mut out: impl Write, zones: &[RawZone]) -> io::Result<()> {
    writeln!(out, "{{\"type\": \"FeatureCollection\", \"features\": [")?;
    for (index, zone) in zones.iter().enumerate() {
        let parts: Vec<Vec<Vec<[f64; 2]>>> = (zone.parts.iter())
            .map(|part| {
                let ring = |ring: &Vec<dapedon_core::plan::Place>| {
                    ring.iter().map(|p| [p.east, p.north]).collect()
                };
                part.iter().map(ring).collect()
            })
            .collect();
        let geometry = match &parts[..] {
            [part] => json!({"type": "Polygon", "coordinates": part}),
            _ => json!({"type": "MultiPolygon", "coordinates": parts}),
        };
        let mut properties = serde_json::Map::new();
        properties.insert("name".into(), json!(zone.name));
        for (name, value) in &zone.attributes {
            if !name.eq_ignore_ascii_case("name") {
                properties.insert(name.clone(), json!(value));
            }
        }
        let feature = json!({"type": "Feature", "properties": properties, "geometry": geometry});
        let comma = if index + 1 < zones.len() { "," } else { "" };
        writeln!(out, "{feature}{comma}")?;
    }
    writeln!(out, "]}}")
}

/// Writes facets as polygons with heights, a feature on each line. The coordinate system is named as older
/// files do, since nothing else in the format can say one.
///
/// # Errors
///
/// When writing fails.
pub fn write_facets(
    mut out: impl Write,
    crs: Option<&str>,
    vertices: &[Vertex],
    facets: &[[u32; 3]],
    decimals: usize,
) -> io::Result<()> {
    open(&mut out, crs)?;
    for (index, [a, b, c]) in facets.iter().enumerate() {
        write!(
            out,
            "{{\"type\":\"Feature\",\"properties\":{{\"facet\":{}}},\
             \"geometry\":{{\"type\":\"Polygon\",\"coordinates\":[[",
            index + 1
        )?;
        for (corner, vertex) in [a, b, c, a].into_iter().enumerate() {
            let v = vertices[*vertex as usize];
            let [east, north, height] = [v.east, v.north, v.height].map(|n| Fixed(n, decimals));
            let comma = if corner > 0 { "," } else { "" };
            write!(out, "{comma}[{east},{north},{height}]")?;
        }
        let comma = if index + 1 < facets.len() { "," } else { "" };
        writeln!(out, "]]}}}}{comma}")?;
    }
    writeln!(out, "]}}")
}

/// Writes all that comes before the first feature.
pub(super) fn open(out: &mut impl Write, crs: Option<&str>) -> io::Result<()> {
    write!(out, "{{\"type\": \"FeatureCollection\", ")?;
    if let Some(code) = crs.and_then(|crs| crs.strip_prefix("EPSG:")) {
        let name = format!("urn:ogc:def:crs:EPSG::{code}");
        let crs = json!({"type": "name", "properties": {"name": name}});
        write!(out, "\"crs\": {crs}, ")?;
    }
    writeln!(out, "\"features\": [")
}
