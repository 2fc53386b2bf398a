//! Zones as a shapefile.

use std::io::{self, Cursor};

use dapedon_core::units::LengthUnit;
use shapefile::dbase::{FieldName, FieldValue, Record, TableWriterBuilder};
use shapefile::{Point, Polygon, PolygonRing, ShapeWriter};

use crate::{RawZone, wkt};

/// Bytes that a text in a table has at most.
pub(super) const LONGEST: u8 = 80;

/// The files of a shapefile, by their endings.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct ShapefileBytes {
    /// Shapes.
    pub shp: Vec<u8>,
    /// Where each shape starts.
    pub shx: Vec<u8>,
    /// Attributes.
    pub dbf: Vec<u8>,
    /// Coordinate system.
    pub prj: Vec<u8>,
    /// Encoding of the attributes.
    pub cpg: Vec<u8>,
}

/// Writes zones with their names and one more attribute, a value of it for each.
///
/// # Errors
///
/// When a name is longer than a table holds.
pub fn write(
    zones: &[RawZone],
    attribute: &str,
    values: &[&str],
    unit: LengthUnit,
    crs: Option<&str>,
) -> io::Result<ShapefileBytes> {
    let field = |name: &str| FieldName::try_from(name).map_err(io::Error::other);
    let (mut shp, mut shx) = (Cursor::new(Vec::new()), Cursor::new(Vec::new()));
    let mut dbf = Cursor::new(Vec::new());
    let mut shapes = ShapeWriter::with_shx(&mut shp, &mut shx);
    let mut table = TableWriterBuilder::new()
        .add_character_field(field("NAME")?, LONGEST)
        .add_character_field(field(attribute)?, LONGEST)
        .build_with_dest(&mut dbf);
    for (zone, value) in zones.iter().zip(values) {
        let mut rings = Vec::new();
        for part in &zone.parts {
            for (index, ring) in part.iter().enumerate() {
                let points = ring.iter().map(|p| Point::new(p.east, p.north)).collect();
                rings.push(match index {
                    0 => PolygonRing::Outer(points),
                    _ => PolygonRing::Inner(points),
                });
            }
        }
        (shapes.write_shape(&Polygon::with_rings(rings))).map_err(io::Error::other)?;
        let mut row = Record::default();
        let text = |text: &str| FieldValue::Character(Some(text.into()));
        row.insert("NAME".into(), text(&zone.name));
        row.insert(attribute.into(), text(value));
        table.write_record(&row).map_err(io::Error::other)?;
    }
    shapes.finalize().map_err(io::Error::other)?;
    table.finalize().map_err(io::Error::other)?;
    drop((shapes, table));
    Ok(finished([shp, shx, dbf], unit, crs))
}

/// The files of a shapefile from its shapes, their index and their table.
pub(super) fn finished(
    [shp, shx, dbf]: [Cursor<Vec<u8>>; 3],
    unit: LengthUnit,
    crs: Option<&str>,
) -> ShapefileBytes {
    ShapefileBytes {
        shp: shp.into_inner(),
        shx: shx.into_inner(),
        dbf: undated(dbf.into_inner()),
        prj: wkt::text(unit, crs).into_bytes(),
        cpg: b"UTF-8".to_vec(),
    }
}

/// A table without the day it was written, which the package takes from the clock: the same bytes each time.
fn undated(mut table: Vec<u8>) -> Vec<u8> {
    if let Some(day) = table.get_mut(1..4) {
        day.copy_from_slice(&[100, 1, 1]);
    }
    table
}
