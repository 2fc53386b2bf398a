//! A surface as LandXML 1.2.

use std::io::{self, Write};

use dapedon_core::surface::Vertex;
use dapedon_core::units::{Foot, LengthUnit};
use quick_xml::escape::escape;

use crate::fixed::Fixed;
use crate::visible;

/// What a file says of its surface.
#[derive(Debug, Clone, Copy)]
pub struct Head<'h> {
    /// The surface's name.
    pub name: &'h str,
    /// The unit of coordinates and heights.
    pub unit: LengthUnit,
    /// The coordinate system.
    pub crs: Option<&'h str>,
    /// The system of heights.
    pub height_system: Option<&'h str>,
    /// The day, as an ISO date.
    pub date: &'h str,
}

/// Writes a surface in grid coordinates, with as many decimals as asked for.
///
/// # Errors
///
/// When writing fails.
pub fn write(
    mut out: impl Write,
    head: &Head<'_>,
    vertices: &[Vertex],
    facets: &[[u32; 3]],
    decimals: usize,
) -> io::Result<()> {
    open(&mut out, head)?;
    let name = escape(visible(head.name)).into_owned();
    writeln!(
        out,
        r#"<Surfaces><Surface name="{name}"><Definition surfType="TIN"><Pnts>"#
    )?;
    for (index, v) in vertices.iter().enumerate() {
        let id = index + 1;
        let [north, east, height] = [v.north, v.east, v.height].map(|n| Fixed(n, decimals));
        writeln!(out, r#"<P id="{id}">{north} {east} {height}</P>"#)?;
    }
    writeln!(out, "</Pnts><Faces>")?;
    for [a, b, c] in facets.iter().map(|facet| facet.map(|corner| corner + 1)) {
        writeln!(out, "<F>{a} {b} {c}</F>")?;
    }
    writeln!(out, "</Faces></Definition></Surface></Surfaces>")?;
    close(&mut out)
}

/// Writes all that comes before the data: units, systems and who wrote it.
pub(super) fn open(out: &mut impl Write, head: &Head<'_>) -> io::Result<()> {
    let Head {
        unit,
        crs,
        height_system,
        date,
        ..
    } = *head;
    let units = match unit {
        LengthUnit::Metre => {
            r#"<Metric areaUnit="squareMeter" linearUnit="meter" volumeUnit="cubicMeter" temperatureUnit="celsius" pressureUnit="milliBars"/>"#
        }
        LengthUnit::Foot(Foot::International) => {
            r#"<Imperial areaUnit="squareFoot" linearUnit="foot" volumeUnit="cubicYard" temperatureUnit="fahrenheit" pressureUnit="inchHG"/>"#
        }
        LengthUnit::Foot(Foot::UsSurvey) => {
            r#"<Imperial areaUnit="squareFoot" linearUnit="USSurveyFoot" volumeUnit="cubicYard" temperatureUnit="fahrenheit" pressureUnit="inchHG"/>"#
        }
    };
    let date = escape(visible(date)).into_owned();
    writeln!(out, r#"<?xml version="1.0" encoding="UTF-8"?>"#)?;
    writeln!(
        out,
        r#"<LandXML xmlns="http://www.landxml.org/schema/LandXML-1.2" version="1.2" date="{date}" time="00:00:00">"#
    )?;
    writeln!(out, "<Units>{units}</Units>")?;
    if crs.is_some() || height_system.is_some() {
        let [crs, heights] = [crs, height_system]
            .map(|system| system.map(|name| escape(visible(name)).into_owned()));
        let plan = crs.map(|crs| match crs.strip_prefix("EPSG:") {
            Some(code) => format!(r#" epsgCode="{code}""#),
            None => format!(r#" name="{crs}""#),
        });
        let heights = heights.map(|name| format!(r#" verticalCoordinateSystemName="{name}""#));
        let [plan, heights] = [plan, heights].map(Option::unwrap_or_default);
        writeln!(out, "<CoordinateSystem{plan}{heights}/>")?;
    }
    writeln!(out, r#"<Application name="Dapedon"/>"#)?;
    Ok(())
}

/// Writes all that comes behind the data.
pub(super) fn close(out: &mut impl Write) -> io::Result<()> {
    writeln!(out, "</LandXML>")
}
