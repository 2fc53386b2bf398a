//! Points or lines as a shapefile.

use std::io::{self, Cursor};

use shapefile::dbase::{FieldName, FieldValue, Record, TableWriterBuilder};
use shapefile::{NO_DATA, PointZ, PolylineZ, ShapeWriter};

use super::write::{LONGEST, ShapefileBytes, finished};
use crate::drawing::{Drawing, Shape, Value};

/// Digits of a number in a table, and decimals.
const DIGITS: u8 = 24;
const DECIMALS: u8 = 9;

/// Writes a drawing of points, or of lines: a shapefile holds one kind. Words that are only drawn are left out.
///
/// # Errors
///
/// When it holds both kinds, or a name is longer than a table holds.
pub fn write_drawing(drawing: &Drawing) -> io::Result<ShapefileBytes> {
    let field = |name: &str| FieldName::try_from(name).map_err(io::Error::other);
    let (mut shp, mut shx) = (Cursor::new(Vec::new()), Cursor::new(Vec::new()));
    let mut dbf = Cursor::new(Vec::new());
    let mut shapes = ShapeWriter::with_shx(&mut shp, &mut shx);
    let mut table = TableWriterBuilder::new()
        .add_character_field(field("NAME")?, LONGEST)
        .add_character_field(field("LAYER")?, LONGEST);
    for own in &drawing.fields {
        table = match own.is_text {
            true => table.add_character_field(field(&own.short)?, LONGEST),
            false => table.add_numeric_field(field(&own.short)?, DIGITS, DECIMALS),
        };
    }
    let mut table = table.build_with_dest(&mut dbf);
    let text = |text: &str| FieldValue::Character(Some(text.into()));
    for feature in drawing.shapes() {
        let written = match &feature.shape {
            Shape::Point(at) => {
                shapes.write_shape(&PointZ::new(at.east, at.north, at.height, NO_DATA))
            }
            Shape::Line(corners) => {
                let corner = |at: &dapedon_core::surface::Vertex| {
                    PointZ::new(at.east, at.north, at.height, NO_DATA)
                };
                shapes.write_shape(&PolylineZ::new(corners.iter().map(corner).collect()))
            }
            Shape::Words(..) => Ok(()),
        };
        written.map_err(io::Error::other)?;
        let mut row = Record::default();
        row.insert("NAME".into(), text(&feature.name));
        let layer = drawing.layers.get(feature.layer);
        row.insert("LAYER".into(), text(layer.map_or("", |layer| &layer.name)));
        for (own, value) in drawing.fields.iter().zip(&feature.values) {
            let value = match (value, own.is_text) {
                (Value::Text(words), _) => text(words),
                (Value::Number(number), _) => FieldValue::Numeric(Some(*number)),
                (Value::Nothing, true) => FieldValue::Character(None),
                (Value::Nothing, false) => FieldValue::Numeric(None),
            };
            row.insert(own.short.clone(), value);
        }
        table.write_record(&row).map_err(io::Error::other)?;
    }
    shapes.finalize().map_err(io::Error::other)?;
    table.finalize().map_err(io::Error::other)?;
    drop((shapes, table));
    Ok(finished(
        [shp, shx, dbf],
        drawing.unit,
        drawing.crs.as_deref(),
    ))
}
