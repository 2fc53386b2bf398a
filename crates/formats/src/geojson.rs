//! GeoJSON outlines as zones (RFC 7946, in the survey's own grid coordinates).
//!
//! Polygons and multi-polygons become zones under the feature's `name`; other geometries are
//! counted and left out. A third coordinate is not used.

mod write;

use std::fmt;
use std::io::BufRead;

use dapedon_core::{LengthUnit, Place};
use serde::de::{Deserialize, Deserializer, IgnoredAny, SeqAccess, Visitor};

use crate::Position;
pub use write::write;

/// A zone as a file holds it: parts, each an outer ring and its holes, in grid coordinates.
#[derive(Debug, Clone, PartialEq)]
pub struct RawZone {
    /// Its name; without one in the file, its number.
    pub name: String,
    /// Its parts.
    pub parts: Vec<Vec<Vec<Place>>>,
}

/// The zones of a file, and what was left out.
#[derive(Debug, Clone, PartialEq, Default)]
pub struct RawZones {
    /// The zones, in the file's order.
    pub zones: Vec<RawZone>,
    /// The unit of their coordinates, where the format says one.
    pub unit: Option<LengthUnit>,
    /// Features that are not areas.
    pub left_out: usize,
    /// Zones the file gives no name.
    pub unnamed: usize,
}

/// Why GeoJSON could not be read.
#[derive(Debug, thiserror::Error)]
pub enum GeoJsonError {
    /// It is no JSON, or not of the shape of GeoJSON.
    #[error("{}", reason(.0))]
    Json(serde_json::Error),
    /// The type at the top, or of a geometry, is unknown.
    #[error("{place} has the type \"{found}\", which GeoJSON does not know")]
    Type {
        /// Which feature, in words.
        place: String,
        /// The word.
        found: String,
    },
    /// Coordinates are not nested as the geometry needs.
    #[error("{place}: the coordinates are not nested as a {geometry} needs")]
    Nesting {
        /// Which feature, in words.
        place: String,
        /// The geometry.
        geometry: &'static str,
    },
    /// No feature is an area.
    #[error("there is no polygon in it ({left_out} other features)")]
    NoZone {
        /// Features that are not areas.
        left_out: usize,
    },
    /// Two zones have one name.
    #[error("two zones are named \"{name}\"")]
    NameTwice {
        /// The name.
        name: String,
    },
}

fn reason(error: &serde_json::Error) -> String {
    let text = error.to_string();
    // The position is told apart, as with every other format.
    let text = text.split(" at line ").next().unwrap_or(&text).to_owned();
    if error.is_eof() {
        format!("the file was cut off: {text}")
    } else {
        text
    }
}

impl GeoJsonError {
    /// Where it was found.
    pub fn at(&self) -> Option<Position> {
        match self {
            GeoJsonError::Json(error) => Some(Position {
                line: error.line() as u64,
                column: error.column() as u64,
            }),
            _ => None,
        }
    }

    /// What to do about it.
    pub fn remedy(&self) -> &'static str {
        match self {
            GeoJsonError::Json(error) if error.is_eof() => {
                "ask for the file again: it did not arrive whole"
            }
            GeoJsonError::Json(_) | GeoJsonError::Type { .. } | GeoJsonError::Nesting { .. } => {
                "mend the file at that place, or have it exported again"
            }
            GeoJsonError::NoZone { .. } => "hand over closed outlines, as polygons",
            GeoJsonError::NameTwice { .. } => "give each zone a name of its own",
        }
    }
}

/// Reads zones.
///
/// # Errors
///
/// When it is no GeoJSON, holds no polygon, or names two zones alike.
///
/// ```
/// let text = r#"{"type": "Polygon", "coordinates": [[[0,0],[4,0],[4,3],[0,0]]]}"#;
/// let zones = dapedon_formats::geojson::read(text.as_bytes()).unwrap().zones;
/// assert_eq!((zones.len(), zones[0].name.as_str()), (1, "zone 1"));
/// ```
pub fn read(input: impl BufRead) -> Result<RawZones, GeoJsonError> {
    let mut stream = serde_json::Deserializer::from_reader(input);
    let document = Object::deserialize(&mut stream).map_err(GeoJsonError::Json)?;
    stream.end().map_err(GeoJsonError::Json)?;

    let mut found = RawZones::default();
    match document.kind.as_str() {
        "FeatureCollection" => {
            for (index, feature) in document
                .features
                .unwrap_or_default()
                .into_iter()
                .enumerate()
            {
                let place = format!("feature {}", index + 1);
                let geometry = feature.geometry.map(|geometry| *geometry);
                found.add(&place, feature.properties, geometry)?;
            }
        }
        "Feature" => {
            let geometry = document.geometry.map(|geometry| *geometry);
            found.add("the feature", document.properties, geometry)?;
        }
        _ => found.add("the file", None, Some(document))?,
    }
    if found.zones.is_empty() {
        return Err(GeoJsonError::NoZone {
            left_out: found.left_out,
        });
    }
    let mut names: Vec<&str> = found.zones.iter().map(|zone| zone.name.as_str()).collect();
    names.sort_unstable();
    match names.windows(2).find(|pair| pair[0] == pair[1]) {
        Some(pair) => Err(GeoJsonError::NameTwice {
            name: pair[0].into(),
        }),
        None => Ok(found),
    }
}

impl RawZones {
    /// Converts the outlines from one unit to another.
    pub fn convert(&mut self, from: LengthUnit, to: LengthUnit) {
        let rings = self
            .zones
            .iter_mut()
            .flat_map(|zone| &mut zone.parts)
            .flatten();
        for place in rings.flatten() {
            *place = Place::new(from.convert(place.east, to), from.convert(place.north, to));
        }
    }

    fn add(
        &mut self,
        place: &str,
        properties: Option<Properties>,
        geometry: Option<Object>,
    ) -> Result<(), GeoJsonError> {
        let Some(geometry) = geometry else {
            self.left_out += 1;
            return Ok(());
        };
        let nesting = |geometry| GeoJsonError::Nesting {
            place: place.into(),
            geometry,
        };
        let parts = match geometry.kind.as_str() {
            "Polygon" => vec![
                geometry
                    .coordinates
                    .and_then(Nest::polygon)
                    .ok_or(nesting("Polygon"))?,
            ],
            "MultiPolygon" => (geometry
                .coordinates
                .and_then(Nest::list)
                .into_iter()
                .flatten())
            .map(Nest::polygon)
            .collect::<Option<Vec<_>>>()
            .filter(|parts| !parts.is_empty())
            .ok_or(nesting("MultiPolygon"))?,
            "Point" | "MultiPoint" | "LineString" | "MultiLineString" | "GeometryCollection" => {
                self.left_out += 1;
                return Ok(());
            }
            _ => {
                return Err(GeoJsonError::Type {
                    place: place.into(),
                    found: geometry.kind,
                });
            }
        };
        let name = properties
            .and_then(|properties| properties.name)
            .and_then(|Name(name)| name);
        self.unnamed += usize::from(name.is_none());
        let name = name.unwrap_or_else(|| format!("zone {}", self.zones.len() + 1));
        self.zones.push(RawZone { name, parts });
        Ok(())
    }
}

/// Any GeoJSON object, with the members that matter here.
#[derive(serde::Deserialize)]
struct Object {
    #[serde(rename = "type")]
    kind: String,
    #[serde(default)]
    features: Option<Vec<Object>>,
    #[serde(default)]
    geometry: Option<Box<Object>>,
    #[serde(default)]
    properties: Option<Properties>,
    #[serde(default)]
    coordinates: Option<Nest>,
}

#[derive(serde::Deserialize)]
struct Properties {
    #[serde(default)]
    name: Option<Name>,
}

/// A name that may be given as a text or a number; anything else is none.
struct Name(Option<String>);

impl<'de> Deserialize<'de> for Name {
    fn deserialize<D: Deserializer<'de>>(deserializer: D) -> Result<Self, D::Error> {
        let value = serde_json::Value::deserialize(deserializer)?;
        Ok(Name(match value {
            serde_json::Value::String(name) if !name.trim().is_empty() => Some(name),
            serde_json::Value::Number(number) => Some(number.to_string()),
            _ => None,
        }))
    }
}

/// Coordinates, nested to any depth.
enum Nest {
    Number(f64),
    Position(Place),
    List(Vec<Nest>),
}

impl Nest {
    fn list(self) -> Option<Vec<Nest>> {
        match self {
            Nest::List(list) => Some(list),
            Nest::Number(_) | Nest::Position(_) => None,
        }
    }

    fn polygon(self) -> Option<Vec<Vec<Place>>> {
        let ring = |nest: Nest| -> Option<Vec<Place>> {
            let place = |nest| {
                if let Nest::Position(place) = nest {
                    Some(place)
                } else {
                    None
                }
            };
            nest.list()?.into_iter().map(place).collect()
        };
        let rings: Vec<_> = self.list()?.into_iter().map(ring).collect::<Option<_>>()?;
        (!rings.is_empty()).then_some(rings)
    }
}

impl<'de> Deserialize<'de> for Nest {
    fn deserialize<D: Deserializer<'de>>(deserializer: D) -> Result<Self, D::Error> {
        struct NestVisitor;
        impl<'de> Visitor<'de> for NestVisitor {
            type Value = Nest;

            fn expecting(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
                f.write_str("a coordinate or a list of them")
            }

            fn visit_f64<E>(self, value: f64) -> Result<Nest, E> {
                Ok(Nest::Number(value))
            }

            fn visit_i64<E>(self, value: i64) -> Result<Nest, E> {
                Ok(Nest::Number(value as f64))
            }

            fn visit_u64<E>(self, value: u64) -> Result<Nest, E> {
                Ok(Nest::Number(value as f64))
            }

            fn visit_seq<A: SeqAccess<'de>>(self, mut list: A) -> Result<Nest, A::Error> {
                let Some(first) = list.next_element()? else {
                    return Ok(Nest::List(Vec::new()));
                };
                if let Nest::Number(east) = first {
                    let Some(Nest::Number(north)) = list.next_element()? else {
                        return Err(serde::de::Error::custom("a position needs two numbers"));
                    };
                    while list.next_element::<IgnoredAny>()?.is_some() {}
                    return Ok(Nest::Position(Place::new(east, north)));
                }
                let mut all = vec![first];
                while let Some(next) = list.next_element()? {
                    all.push(next);
                }
                Ok(Nest::List(all))
            }
        }
        deserializer.deserialize_any(NestVisitor)
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    const ZONES: &str = r#"{"type": "FeatureCollection", "features": [
        {"type": "Feature", "properties": {"name": "yard", "owner": {"x": [1]}}, "geometry":
            {"type": "Polygon", "coordinates": [[[0,0],[9,0],[9,9],[0,0]], [[5,1,31.5],[6,1,31.5],[6,2,31.5],[5,1,31.5]]]}},
        {"type": "Feature", "properties": {"name": 7}, "geometry":
            {"type": "MultiPolygon", "coordinates": [[[[0,0],[1,0],[1,1],[0,0]]], [[[5,5],[6,5],[6,6],[5,5]]]]}},
        {"type": "Feature", "properties": null, "geometry": {"type": "Polygon", "coordinates": [[[1e3,-2],[1,0],[1,1],[1e3,-2]]]}},
        {"type": "Feature", "properties": {}, "geometry": {"type": "LineString", "coordinates": [[0,0],[1,1]]}},
        {"type": "Feature", "properties": {}, "geometry": null}]}"#;

    #[test]
    fn polygons_become_zones() {
        let read = read(ZONES.as_bytes()).unwrap();
        let names: Vec<_> = read.zones.iter().map(|zone| zone.name.as_str()).collect();
        assert_eq!(
            (names, read.left_out, read.unnamed),
            (vec!["yard", "7", "zone 3"], 2, 1)
        );
        assert_eq!(read.zones[0].parts[0][1][2], Place::new(6.0, 2.0));
        assert_eq!(read.zones[1].parts.len(), 2);
        assert_eq!(read.zones[2].parts[0][0][0], Place::new(1000.0, -2.0));
    }

    #[test]
    fn faults_say_what_and_where() {
        let fault = |text: &str| {
            let error = read(text.as_bytes()).unwrap_err();
            assert!(!error.remedy().is_empty());
            (error.to_string(), error.at().map(|at| at.line))
        };
        assert_eq!(
            fault(&ZONES[..ZONES.len() - 2]).0,
            "the file was cut off: EOF while parsing a list"
        );
        assert_eq!(fault(&ZONES.replace("[9,9]", "[9,\"9\"]")).1, Some(3));
        assert_eq!(
            fault(&ZONES.replace("[9,9]", "[9]")),
            ("a position needs two numbers".into(), Some(3))
        );
        assert_eq!(
            fault(&ZONES.replace("[[0,0],[9,0],[9,9],[0,0]]", "[0,0]")).0,
            "feature 1: the coordinates are not nested as a Polygon needs"
        );
        assert_eq!(
            fault(&ZONES.replace("\"MultiPolygon\"", "\"Blob\"")).0,
            "feature 2 has the type \"Blob\", which GeoJSON does not know"
        );
        assert_eq!(
            fault(&ZONES.replace("\"yard\"", "\"7\"")).0,
            "two zones are named \"7\""
        );
        assert_eq!(
            fault("{\"type\": \"Point\", \"coordinates\": [1,2]}").0,
            "there is no polygon in it (1 other features)"
        );
        assert_eq!(
            fault("").0,
            "the file was cut off: EOF while parsing a value"
        );
    }

    #[test]
    fn what_is_written_reads_back() {
        let zones = read(ZONES.as_bytes()).unwrap().zones;
        let mut bytes = Vec::new();
        write(&mut bytes, &zones).unwrap();
        assert_eq!(read(bytes.as_slice()).unwrap().zones, zones);
    }

    proptest! {
        /// Whatever happens to the bytes, the reader answers.
        #[test]
        fn mutated_bytes_never_panic(changes in prop::collection::vec((any::<prop::sample::Index>(), any::<u8>()), 1..12)) {
            let mut bytes = ZONES.as_bytes().to_vec();
            for (at, byte) in changes {
                let at = at.index(bytes.len());
                bytes[at] = byte;
            }
            let _ = read(bytes.as_slice());
        }
    }
}
