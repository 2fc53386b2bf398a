//! GeoJSON features (RFC 7946, in the survey's own grid coordinates).
//!
//! Every geometry with its properties; a third coordinate is a height. A polygon of three corners with
//! heights is a facet. The member `crs` of older files names the coordinate system.

mod write;
mod write_drawing;

use std::fmt;
use std::io::BufRead;

use dapedon_core::plan::Place;
use serde::de::{Deserialize, Deserializer, IgnoredAny, SeqAccess, Visitor};
use serde_json::{Map, Value};

use crate::Position;
use crate::features::{Corner, Feature, Features, Shape};
pub use write::{write, write_facets};
pub use write_drawing::write_drawing;

/// Why GeoJSON could not be read.
#[derive(Debug, thiserror::Error, strum::IntoStaticStr)]
#[strum(serialize_all = "kebab-case")]
#[non_exhaustive]
pub enum GeoJsonError {
    /// The file is not JSON, or not GeoJSON.
    #[error("{}", reason(.0))]
    Json(serde_json::Error),
    /// A type is not a GeoJSON type.
    #[error("{place} has the type \"{found}\", which is not a GeoJSON type")]
    Type {
        /// Which feature, in words.
        place: String,
        /// The word.
        found: String,
    },
    /// The coordinates are not nested as the geometry needs.
    #[error("{place}: the coordinates are not nested as a {geometry} needs")]
    Nesting {
        /// Which feature, in words.
        place: String,
        /// The geometry.
        geometry: &'static str,
    },
}

fn reason(error: &serde_json::Error) -> String {
    let text = error.to_string();
    // The position is distinguished, as with every other format.
    let text = text.split(" at line ").next().unwrap_or(&text).to_owned();
    if error.is_eof() {
        format!("the file is incomplete: {text}")
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
            GeoJsonError::Json(error) if error.is_eof() => "get the complete file",
            GeoJsonError::Json(_) | GeoJsonError::Type { .. } | GeoJsonError::Nesting { .. } => {
                "correct the file at that place, or export it again"
            }
        }
    }
}

dapedon_diagnostic::diagnostic!(GeoJsonError, "geojson", at);

/// Reads features.
///
/// # Errors
///
/// When it is no GeoJSON.
///
/// ```
/// let text = r#"{"type": "Polygon", "coordinates": [[[0,0],[4,0],[4,3],[0,0]]]}"#;
/// let zones = dapedon_formats::geojson::read(text.as_bytes()).unwrap().zones(None, None).unwrap().zones;
/// assert_eq!((zones.len(), zones[0].name.as_str()), (1, "zone 1"));
/// ```
pub fn read(input: impl BufRead) -> Result<Features, GeoJsonError> {
    let mut stream = serde_json::Deserializer::from_reader(input);
    let document = Object::deserialize(&mut stream).map_err(GeoJsonError::Json)?;
    stream.end().map_err(GeoJsonError::Json)?;

    let mut found = Features {
        crs: document.crs.as_ref().and_then(system),
        ..Features::default()
    };
    match document.kind.as_str() {
        "FeatureCollection" => {
            let features = document.features.unwrap_or_default();
            for (index, feature) in features.into_iter().enumerate() {
                let place = format!("feature {}", index + 1);
                let geometry = feature.geometry.map(|geometry| *geometry);
                add(&mut found, &place, feature.properties, geometry)?;
            }
        }
        "Feature" => {
            let geometry = document.geometry.map(|geometry| *geometry);
            add(&mut found, "the feature", document.properties, geometry)?;
        }
        _ => add(&mut found, "the file", None, Some(document))?,
    }
    Ok(found)
}

/// The coordinate system that older files name.
fn system(crs: &Value) -> Option<String> {
    let name = crs.get("properties")?.get("name")?.as_str()?;
    let code = name.rsplit(':').next()?;
    let is_code = name.to_ascii_uppercase().contains("EPSG") && code.parse::<u32>().is_ok();
    is_code.then(|| format!("EPSG:{code}"))
}

fn add(
    found: &mut Features,
    place: &str,
    properties: Option<Map<String, Value>>,
    geometry: Option<Object>,
) -> Result<(), GeoJsonError> {
    let shape = match geometry {
        Some(geometry) => shape(geometry, place)?,
        None => Shape::Nothing,
    };
    let text = |(name, value): (String, Value)| match value {
        Value::String(text) => Some((name, text)),
        Value::Number(number) => Some((name, number.to_string())),
        Value::Bool(is) => Some((name, is.to_string())),
        Value::Null | Value::Array(_) | Value::Object(_) => None,
    };
    found.features.push(Feature {
        attributes: properties.into_iter().flatten().filter_map(text).collect(),
        shape,
    });
    Ok(())
}

fn shape(geometry: Object, place: &str) -> Result<Shape, GeoJsonError> {
    let Object {
        kind, coordinates, ..
    } = geometry;
    let lists = |name: &'static str, depth: usize| -> Result<Vec<Nest>, GeoJsonError> {
        let fault = || GeoJsonError::Nesting {
            place: place.into(),
            geometry: name,
        };
        let nest = coordinates.ok_or_else(fault)?;
        match nest.depth_is(depth) {
            true => Ok(nest.list()),
            false => Err(fault()),
        }
    };
    Ok(match kind.as_str() {
        "Point" => Shape::Points(
            lists("Point", 0)?
                .into_iter()
                .filter_map(Nest::corner)
                .collect(),
        ),
        "MultiPoint" => Shape::Points(corners(lists("MultiPoint", 1)?)),
        "LineString" => Shape::Lines(vec![corners(lists("LineString", 1)?)]),
        "MultiLineString" => Shape::Lines(lines(lists("MultiLineString", 2)?)),
        "Polygon" => Shape::of_areas(vec![lines(lists("Polygon", 2)?)]),
        "MultiPolygon" => {
            let parts = lists("MultiPolygon", 3)?.into_iter();
            Shape::of_areas(parts.map(|part| lines(part.list())).collect())
        }
        "GeometryCollection" => Shape::Nothing,
        _ => {
            return Err(GeoJsonError::Type {
                place: place.into(),
                found: kind,
            });
        }
    })
}

fn corners(nests: Vec<Nest>) -> Vec<Corner> {
    nests.into_iter().filter_map(Nest::corner).collect()
}

fn lines(nests: Vec<Nest>) -> Vec<Vec<Corner>> {
    nests.into_iter().map(|nest| corners(nest.list())).collect()
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
    properties: Option<Map<String, Value>>,
    #[serde(default)]
    coordinates: Option<Nest>,
    #[serde(default)]
    crs: Option<Value>,
}

/// Coordinates, nested to any depth.
enum Nest {
    Number(f64),
    Position(Corner),
    List(Vec<Nest>),
}

impl Nest {
    fn list(self) -> Vec<Nest> {
        match self {
            Nest::List(list) => list,
            Nest::Position(_) => vec![self],
            Nest::Number(_) => Vec::new(),
        }
    }

    fn corner(self) -> Option<Corner> {
        match self {
            Nest::Position(corner) => Some(corner),
            Nest::Number(_) | Nest::List(_) => None,
        }
    }

    /// True for positions in lists in lists, as deep as this everywhere; only the innermost may be empty.
    fn depth_is(&self, depth: usize) -> bool {
        match self {
            Nest::Position(_) => depth == 0,
            Nest::List(list) => {
                let inner = depth > 0 && list.iter().all(|nest| nest.depth_is(depth - 1));
                inner && (depth == 1 || !list.is_empty())
            }
            Nest::Number(_) => false,
        }
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
                    let height = match list.next_element()? {
                        Some(Nest::Number(height)) => Some(height),
                        _ => None,
                    };
                    while list.next_element::<IgnoredAny>()?.is_some() {}
                    return Ok(Nest::Position(Corner {
                        place: Place::new(east, north),
                        height,
                    }));
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
        let features = read(ZONES.as_bytes()).unwrap();
        assert_eq!(features.attributes(), ["name"]);
        let read = features.zones(None, None).unwrap();
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
            let error = match read(text.as_bytes()) {
                Err(error) => error,
                Ok(features) => return (features.zones(None, None).unwrap_err().to_string(), None),
            };
            assert!(!error.remedy().is_empty());
            (error.to_string(), error.at().map(|at| at.line))
        };
        assert_eq!(
            fault(&ZONES[..ZONES.len() - 2]).0,
            "the file is incomplete: EOF while parsing a list"
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
            "feature 2 has the type \"Blob\", which is not a GeoJSON type"
        );
        assert_eq!(
            fault(&ZONES.replace("\"yard\"", "\"7\"")).0,
            "two zones have the name \"7\""
        );
        assert_eq!(
            fault("{\"type\": \"Point\", \"coordinates\": [1,2]}").0,
            "the file has no polygon (1 other features)"
        );
        assert_eq!(
            fault("").0,
            "the file is incomplete: EOF while parsing a value"
        );
    }

    #[test]
    fn what_is_written_reads_back() {
        let mut zones = read(ZONES.as_bytes())
            .unwrap()
            .zones(None, None)
            .unwrap()
            .zones;
        for zone in &mut zones {
            // What is written has a name in any case.
            zone.attributes = vec![
                ("material".into(), "clay".into()),
                ("name".into(), zone.name.clone()),
            ];
        }
        let mut bytes = Vec::new();
        write(&mut bytes, &zones).unwrap();
        assert_eq!(
            read(bytes.as_slice())
                .unwrap()
                .zones(None, None)
                .unwrap()
                .zones,
            zones
        );
    }

    #[test]
    fn facets_read_back() {
        let vertices = [
            (0.0, 0.0, 5.25),
            (4.0, 0.0, 6.5),
            (0.0, 3.0, 7.0),
            (4.0, 3.0, 5.5),
        ];
        let vertices = vertices.map(|(e, n, h)| dapedon_core::surface::Vertex::new(e, n, h));
        let facets = [[0, 1, 2], [1, 3, 2]];
        let mut bytes = Vec::new();
        write_facets(&mut bytes, Some("EPSG:31999"), &vertices, &facets, 3).unwrap();
        let back = read(bytes.as_slice()).unwrap();
        assert_eq!(back.crs.as_deref(), Some("EPSG:31999"));
        let back = back.surface(&crate::CodeUses::default(), None).unwrap();
        assert_eq!(back.vertices, vertices);
        assert_eq!(back.facets.as_deref(), Some(&facets[..]));
    }

    #[test]
    fn points_and_lines_keep_their_heights() {
        let text = r#"{"type": "FeatureCollection", "features": [
            {"type": "Feature", "properties": {}, "geometry": {"type": "Point", "coordinates": [1, 2, 3.5]}},
            {"type": "Feature", "properties": {}, "geometry": {"type": "MultiPoint", "coordinates": [[4, 2, 3], [5, 5]]}},
            {"type": "Feature", "properties": {}, "geometry": {"type": "MultiLineString", "coordinates": [[[0, 0, 1], [9, 0, 2]], []]}}]}"#;
        let made = read(text.as_bytes())
            .unwrap()
            .surface(&crate::CodeUses::default(), None)
            .unwrap();
        let heights: Vec<f64> = made.vertices.iter().map(|v| v.height).collect();
        assert_eq!((heights, made.lines.len()), (vec![3.5, 3.0, 1.0, 2.0], 2));
        assert_eq!(made.left_out["points without heights"], 1);
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
