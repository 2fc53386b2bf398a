//! Clouds as LAS or LAZ.

use std::io::{self, Cursor, Write};

use dapedon_core::units::LengthUnit;
use las::point::{Classification, Format};
use las::{Builder, Point, Transform, Vector, Vlr, Writer};

use super::Shot;
use super::header::WELL_KNOWN_TEXT;
use crate::wkt;

/// Coordinates are written as multiples of this.
const SCALE: f64 = 0.001;

/// Writes a cloud, version 1.4, point format 6, coordinates to the thousandth.
///
/// # Errors
///
/// When writing fails, or a class or place is none that the format holds.
pub fn write(
    mut out: impl Write,
    packed: bool,
    unit: LengthUnit,
    crs: Option<&str>,
    shots: &[Shot],
) -> io::Result<()> {
    let mut format = Format::new(6).map_err(io::Error::other)?;
    format.is_compressed = packed;
    let first = shots.first().map_or([0.0; 3], |s| [s.east, s.north, 0.0]);
    let axis = |axis: usize| Transform {
        scale: SCALE,
        offset: first[axis].floor(),
    };
    let mut builder = Builder::from((1, 4));
    builder.date = None;
    builder.generating_software = "dapedon".into();
    builder.system_identifier = String::new();
    builder.point_format = format;
    builder.has_wkt_crs = true;
    builder.transforms = Vector {
        x: axis(0),
        y: axis(1),
        z: axis(2),
    };
    builder.vlrs.push(Vlr {
        user_id: "LASF_Projection".into(),
        record_id: WELL_KNOWN_TEXT,
        description: "coordinate system".into(),
        data: wkt::text(unit, crs).into_bytes(),
    });
    let header = builder.into_header().map_err(io::Error::other)?;
    let mut writer = Writer::new(Cursor::new(Vec::new()), header).map_err(io::Error::other)?;
    for shot in shots {
        let point = Point {
            x: shot.east,
            y: shot.north,
            z: shot.height,
            return_number: shot.number,
            number_of_returns: shot.returns,
            classification: Classification::new(shot.class).map_err(io::Error::other)?,
            is_withheld: shot.withheld,
            gps_time: Some(0.0),
            ..Point::default()
        };
        writer.write_point(point).map_err(io::Error::other)?;
    }
    let bytes = writer.into_inner().map_err(io::Error::other)?;
    out.write_all(bytes.get_ref())
}
