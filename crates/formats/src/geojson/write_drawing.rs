//! Points and lines as GeoJSON.

use std::io::{self, Write};

use dapedon_core::surface::Vertex;
use serde_json::{Map, Value as Json, json};

use super::write::open;
use crate::drawing::{Drawing, Feature, Shape, Value};
use crate::fixed::Fixed;

/// Writes a drawing, a feature on each line; words that are only drawn are left out.
///
/// # Errors
///
/// When writing fails.
pub fn write_drawing(mut out: impl Write, drawing: &Drawing) -> io::Result<()> {
    open(&mut out, drawing.crs.as_deref())?;
    let mut features = drawing.shapes().peekable();
    while let Some(feature) = features.next() {
        let properties = properties(drawing, feature);
        write!(
            out,
            "{{\"type\":\"Feature\",\"properties\":{properties},\"geometry\":{{"
        )?;
        let corner = |at: &Vertex| {
            let [east, north, height] =
                [at.east, at.north, at.height].map(|n| Fixed(n, drawing.decimals));
            format!("[{east},{north},{height}]")
        };
        match &feature.shape {
            Shape::Point(at) => write!(out, "\"type\":\"Point\",\"coordinates\":{}", corner(at))?,
            Shape::Line(corners) => {
                write!(out, "\"type\":\"LineString\",\"coordinates\":[")?;
                for (index, at) in corners.iter().enumerate() {
                    let comma = if index > 0 { "," } else { "" };
                    write!(out, "{comma}{}", corner(at))?;
                }
                write!(out, "]")?;
            }
            Shape::Words(..) => {}
        }
        let comma = if features.peek().is_some() { "," } else { "" };
        writeln!(out, "}}}}{comma}")?;
    }
    writeln!(out, "]}}")
}

fn properties(drawing: &Drawing, feature: &Feature) -> Json {
    let mut properties = Map::new();
    properties.insert("name".into(), json!(feature.name));
    if let Some(layer) = drawing.layers.get(feature.layer) {
        properties.insert("layer".into(), json!(layer.name));
    }
    for (field, value) in drawing.fields.iter().zip(&feature.values) {
        let value = match value {
            Value::Nothing => Json::Null,
            Value::Number(number) => json!(number),
            Value::Text(text) => json!(text),
        };
        properties.insert(field.name.clone(), value);
    }
    Json::Object(properties)
}
