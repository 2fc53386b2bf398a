//! Points and lines as LandXML 1.2: survey points, and plan features with heights.

use std::io::{self, Write};

use dapedon_core::surface::Vertex;
use quick_xml::escape::escape;

use super::write::{Head, close, open};
use crate::drawing::{Drawing, Shape};
use crate::fixed::Fixed;
use crate::visible;

/// Writes a drawing; words that are only drawn are left out.
///
/// # Errors
///
/// When writing fails.
pub fn write_drawing(mut out: impl Write, drawing: &Drawing) -> io::Result<()> {
    let head = Head {
        name: &drawing.name,
        unit: drawing.unit,
        crs: drawing.crs.as_deref(),
        height_system: drawing.height_system.as_deref(),
        date: drawing.date.as_deref().unwrap_or("1970-01-01"),
    };
    open(&mut out, &head)?;
    let said = |words: &str| escape(visible(words)).into_owned();
    let layer = |number: usize| {
        drawing
            .layers
            .get(number)
            .map_or(String::new(), |layer| said(&layer.name))
    };
    let numbers = |at: &Vertex| {
        let [north, east, height] =
            [at.north, at.east, at.height].map(|n| Fixed(n, drawing.decimals));
        format!("{north} {east} {height}")
    };
    let name = said(&drawing.name);
    let points = drawing.shapes().filter_map(|feature| match &feature.shape {
        Shape::Point(at) => Some((feature, at)),
        _ => None,
    });
    let points: Vec<_> = points.collect();
    if !points.is_empty() {
        writeln!(out, r#"<CgPoints name="{name}">"#)?;
        for (feature, at) in points {
            writeln!(
                out,
                r#"<CgPoint name="{}" code="{}" desc="{}">{}</CgPoint>"#,
                said(&feature.name),
                layer(feature.layer),
                said(&feature.label),
                numbers(at)
            )?;
        }
        writeln!(out, "</CgPoints>")?;
    }
    let lines = drawing.shapes().filter_map(|feature| match &feature.shape {
        Shape::Line(corners) => Some((feature, corners)),
        _ => None,
    });
    let lines: Vec<_> = lines.collect();
    if !lines.is_empty() {
        writeln!(out, r#"<PlanFeatures name="{name}">"#)?;
        for (feature, corners) in lines {
            let (Some(first), Some(last)) = (corners.first(), corners.last()) else {
                continue;
            };
            writeln!(
                out,
                r#"<PlanFeature name="{}" desc="{}"><CoordGeom><IrregularLine><Start>{}</Start><End>{}</End><PntList3D>"#,
                said(&feature.name),
                layer(feature.layer),
                numbers(first),
                numbers(last)
            )?;
            for corner in corners {
                writeln!(out, "{}", numbers(corner))?;
            }
            writeln!(
                out,
                "</PntList3D></IrregularLine></CoordGeom></PlanFeature>"
            )?;
        }
        writeln!(out, "</PlanFeatures>")?;
    }
    close(&mut out)
}
