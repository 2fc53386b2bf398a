//! What is in a file, before it is trusted.

use std::path::Path;

use dapedon_core::{AreaUnit, Frame, LengthUnit, Outline, Tin, Zone};
use dapedon_formats::delimited::{self, Role};
use dapedon_formats::{Format, RawSurface, geojson, landxml};
use serde::Serialize;

use crate::input::Input;
use crate::load::{self, landxml_fault};
use crate::measurement::Extreme;
use crate::{InputFile, JobError};

/// What is in one file.
#[derive(Debug, Clone, PartialEq, Serialize)]
pub struct Inspection {
    /// The command: `inspect`.
    pub command: &'static str,
    /// The file.
    pub file: InputFile,
    /// The length unit it says, or was said to be in.
    pub unit: Option<&'static str>,
    /// What it holds.
    pub content: Content,
    /// What is odd about it.
    pub warnings: Vec<String>,
}

/// What a file holds.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[serde(rename_all = "snake_case")]
pub enum Content {
    /// Points.
    Points(PointsFound),
    /// Surfaces.
    Surfaces(Vec<SurfaceFound>),
    /// Zones.
    Zones(Vec<ZoneFound>),
}

/// Points of delimited text.
#[derive(Debug, Clone, PartialEq, Serialize)]
pub struct PointsFound {
    /// How many.
    pub points: usize,
    /// What parts the fields.
    pub delimiter: &'static str,
    /// The header, if there is one.
    pub header: Option<Vec<String>>,
    /// What each column was read as.
    pub columns: Vec<String>,
    /// The first row under them.
    pub first: Vec<String>,
    /// South-west corner.
    pub min: Extreme,
    /// North-east corner.
    pub max: Extreme,
    /// Lowest and highest height.
    pub heights: [f64; 2],
}

/// A surface of a file.
#[derive(Debug, Clone, PartialEq, Serialize)]
pub struct SurfaceFound {
    /// Its name.
    pub name: String,
    /// Points.
    pub points: usize,
    /// Facets.
    pub facets: usize,
    /// Plan area, in squares of the length unit.
    pub area: f64,
    /// South-west corner.
    pub min: Extreme,
    /// North-east corner.
    pub max: Extreme,
    /// Lowest and highest height.
    pub heights: [f64; 2],
}

/// A zone of a file.
#[derive(Debug, Clone, PartialEq, Serialize)]
pub struct ZoneFound {
    /// Its name.
    pub name: String,
    /// Corners of all its rings.
    pub corners: usize,
    /// Parts.
    pub parts: usize,
    /// Holes.
    pub holes: usize,
    /// Area, in squares of the length unit.
    pub area: f64,
    /// South-west corner.
    pub min: Extreme,
    /// North-east corner.
    pub max: Extreme,
}

/// Looks into a file.
///
/// # Errors
///
/// When it cannot be read.
pub fn inspect(
    path: &Path,
    columns: Option<&[Role]>,
    unit: Option<LengthUnit>,
) -> Result<Inspection, JobError> {
    let mut input = Input::open(path)?;
    let mut warnings = Vec::new();
    let mut said = None;
    let content = match input.format {
        Format::Delimited => {
            let read = delimited::read(input.reader(), columns);
            let read = read.map_err(|error| JobError::Delimited {
                path: path.into(),
                error,
            })?;
            Content::Points(points(read, &mut warnings))
        }
        Format::LandXml => {
            let mut found = Vec::new();
            let mut fault = None;
            let all = |_: &str, _: usize| true;
            let read = landxml::each(input.reader(), all, |raw| {
                said = said.or(raw.unit);
                match surface(raw, unit, &mut warnings) {
                    Ok(surface) => found.push(surface),
                    Err(error) => fault = fault.take().or(Some(error)),
                }
            });
            read.map_err(|error| landxml_fault(path, error))?;
            if let Some(error) = fault {
                return Err(JobError::Facets {
                    path: path.into(),
                    error,
                });
            }
            if found.is_empty() {
                return Err(landxml_fault(path, landxml::LandXmlError::NoSurface));
            }
            Content::Surfaces(found)
        }
        Format::GeoJson => {
            let read = geojson::read(input.reader());
            let read = read.map_err(|error| JobError::GeoJson {
                path: path.into(),
                error,
            })?;
            if read.left_out > 0 {
                warnings.push(format!(
                    "{} features are not areas and are left out",
                    read.left_out
                ));
            }
            if read.unnamed > 0 {
                warnings.push(format!(
                    "{} zones have no name and are numbered",
                    read.unnamed
                ));
            }
            let found = read
                .zones
                .iter()
                .map(|raw| zone(raw, path))
                .collect::<Result<_, _>>()?;
            Content::Zones(found)
        }
    };
    let unit = said.or(unit);
    if unit.is_none() && !matches!(content, Content::Zones(_)) {
        warnings.push(
            "the file does not say its length unit; --unit will be needed to measure with it"
                .into(),
        );
    }
    Ok(Inspection {
        command: "inspect",
        file: input.finish()?,
        unit: unit.map(LengthUnit::code),
        content,
        warnings,
    })
}

fn points(read: delimited::Delimited, warnings: &mut Vec<String>) -> PointsFound {
    let vertices = &read.surface.vertices;
    let extent = load::extent(vertices);
    let heights = vertices.iter().map(|v| v.height);
    if read.comments > 0 {
        warnings.push(format!("{} comment lines are left out", read.comments));
    }
    let mut keys: Vec<[u64; 2]> = (vertices.iter())
        .map(|v| [v.east.to_bits(), v.north.to_bits()])
        .collect();
    keys.sort_unstable();
    let repeated = keys.windows(2).filter(|pair| pair[0] == pair[1]).count();
    if repeated > 0 {
        warnings.push(format!("{repeated} points stand where another does"));
    }
    PointsFound {
        points: vertices.len(),
        delimiter: read.delimiter,
        header: read.header,
        columns: read.reading.roles.iter().map(Role::to_string).collect(),
        first: read.reading.first,
        min: corner(extent.min),
        max: corner(extent.max),
        heights: range(heights),
    }
}

fn surface(
    raw: RawSurface,
    unit: Option<LengthUnit>,
    warnings: &mut Vec<String>,
) -> Result<SurfaceFound, dapedon_core::TinError> {
    let RawSurface {
        name,
        vertices,
        facets,
        invisible,
        ..
    } = raw;
    let unit = raw.unit.or(unit).unwrap_or(LengthUnit::Metre);
    let symbol = AreaUnit::usual(unit).symbol();
    let points = vertices.len();
    let extent = load::extent(&vertices);
    let heights = range(vertices.iter().map(|v| v.height));
    let mut found = SurfaceFound {
        points,
        facets: 0,
        area: 0.0,
        min: corner(extent.min),
        max: corner(extent.max),
        heights,
        name,
    };
    if invisible > 0 {
        warnings.push(format!(
            "surface \"{}\": {invisible} facets are marked invisible and left out",
            found.name
        ));
    }
    let Some(facets) = facets else {
        warnings.push(format!(
            "surface \"{}\" has no facets and cannot be measured",
            found.name
        ));
        return Ok(found);
    };
    let frame = Frame::around(unit, extent);
    let tin = Tin::from_facets(frame, vertices, facets)?;
    let outline = Outline::of_tin(&tin);
    found.facets = tin.facets().len();
    found.area = outline.area();
    let tidied = tin.tidied();
    if tidied.thin > 0 {
        warnings.push(format!(
            "surface \"{}\": {} facets have no plan area and are dropped",
            found.name, tidied.thin
        ));
    }
    if tidied.reversed > 0 {
        warnings.push(format!(
            "surface \"{}\": {} facets turn clockwise and are turned round",
            found.name, tidied.reversed
        ));
    }
    if let Some(overlap) = outline.overlap() {
        let at = frame.to_grid(overlap.at);
        warnings.push(format!(
            "surface \"{}\" folds over itself on {:.3} {symbol}, near east {:.1}, north {:.1}",
            found.name, overlap.area, at.east, at.north
        ));
    }
    Ok(found)
}

fn zone(raw: &geojson::RawZone, path: &Path) -> Result<ZoneFound, JobError> {
    let extent = load::zone_extent(raw);
    let frame = Frame::around(LengthUnit::Metre, extent);
    let made =
        Zone::new(raw.name.clone(), frame, raw.parts.clone()).map_err(|error| JobError::Zone {
            path: path.into(),
            name: raw.name.clone(),
            error,
        })?;
    Ok(ZoneFound {
        name: raw.name.clone(),
        corners: made.rings().iter().map(Vec::len).sum(),
        parts: raw.parts.len(),
        holes: made.rings().len() - raw.parts.len(),
        area: made.area(),
        min: corner(extent.min),
        max: corner(extent.max),
    })
}

fn corner(place: dapedon_core::Place) -> Extreme {
    Extreme {
        east: place.east,
        north: place.north,
    }
}

fn range(heights: impl Iterator<Item = f64>) -> [f64; 2] {
    heights.fold([f64::INFINITY, f64::NEG_INFINITY], |[low, high], h| {
        [low.min(h), high.max(h)]
    })
}
