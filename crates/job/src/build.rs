//! One surface, built to be handed on.

use std::borrow::Cow;

use dapedon_core::{AreaUnit, Frame, LengthUnit, Surface, Tin, Vertex, VolumeUnit, sampled};
use dapedon_formats::RawGrid;
use serde::Serialize;

use crate::ground::{self, OddFound};
use crate::load;
use crate::measurement::{Extreme, Units};
use crate::{InputFile, JobError, Reading, Source};

/// A surface that was built, and what was done on the way.
#[derive(Debug, Clone, PartialEq, Serialize)]
pub struct Built {
    /// The command: `surface`.
    pub command: &'static str,
    /// The units of all figures.
    pub units: Units,
    /// The coordinate system the file says.
    pub crs: Option<String>,
    /// As it was named.
    pub source: String,
    /// The file.
    pub file: InputFile,
    /// Points of the file that went into it.
    pub points: usize,
    /// Its vertices.
    pub vertices: usize,
    /// Its facets.
    pub facets: usize,
    /// Plan area, in squares of the length unit.
    pub area: f64,
    /// Sloping area, in squares of the length unit.
    pub true_area: f64,
    /// South-west corner.
    pub min: Extreme,
    /// North-east corner.
    pub max: Extreme,
    /// Lowest and highest height.
    pub heights: [f64; 2],
    /// Points whose height is odd, in the surface or dropped from it.
    pub odd_points: Vec<OddFound>,
    /// What was understood, converted, merged or left out.
    pub notes: Vec<String>,
    /// What must be known before the surface is trusted.
    pub warnings: Vec<String>,
}

/// Builds a surface in `unit`, or the file's own, and hands it back with its name.
///
/// # Errors
///
/// When the file cannot be used, or is a level, which has no end.
pub fn build(
    source: &Source,
    reading: &Reading,
    unit: Option<LengthUnit>,
) -> Result<(Built, Tin), JobError> {
    let Source::File { path, name } = source else {
        return Err(JobError::NoEnd);
    };
    let mut loaded = load::surface(path, name.as_deref(), reading)?;
    load::names_are_found(reading, std::iter::once(&loaded.surface.names))?;
    let own = (loaded.surface.unit.or(reading.unit))
        .ok_or_else(|| JobError::NoUnit { path: path.clone() })?;
    if loaded.surface.unit.is_none() {
        let note = format!("unit not in the file, taken as {}", own.name());
        loaded.notes.push(note);
    }
    let unit = unit.unwrap_or(own);
    ground::convert(&mut loaded, own, unit);
    let crs = loaded.surface.crs.clone();
    let frame = Frame::around(unit, load::surface_extent(&loaded.surface));
    let made = ground::made(loaded, frame, reading)?;
    let tin = match &made.surface {
        Surface::Tin(tin) => Cow::Borrowed(tin),
        Surface::Grid(grid) => Cow::Owned(grid.to_tin().map_err(|error| JobError::Facets {
            path: path.clone(),
            error,
        })?),
        Surface::Level(_) => return Err(JobError::NoEnd),
    };
    let (min, max) = (
        frame.to_grid(tin.extent().min),
        frame.to_grid(tin.extent().max),
    );
    let (low, high) = tin.heights();
    let corner = |place: dapedon_core::Place| Extreme {
        east: place.east,
        north: place.north,
    };
    let built = Built {
        command: "surface",
        units: Units {
            length: unit.code().into(),
            area: AreaUnit::usual(unit).code(),
            volume: VolumeUnit::usual(unit).code(),
        },
        crs,
        source: source.to_string(),
        file: made.file,
        points: made.points,
        vertices: tin.vertices().len(),
        facets: tin.facets().len(),
        area: tin.area(),
        true_area: tin.true_area(),
        min: corner(min),
        max: corner(max),
        heights: [low, high],
        odd_points: made.odd,
        notes: made.notes,
        warnings: made.warnings,
    };
    let tin = tin.into_owned();
    Ok((built, tin))
}

/// A surface read at the middles of square cells, to be written as a grid.
///
/// # Errors
///
/// When that would be too many cells.
pub fn cells(tin: &Tin, cell: f64) -> Result<RawGrid, JobError> {
    let read = sampled(&Surface::Tin(tin.clone()), cell)?;
    let read = read.ok_or(JobError::TooManyCells { cell })?;
    Ok(RawGrid {
        corner: read.corner,
        step: [cell; 2],
        size: read.size,
        heights: read.heights,
    })
}

/// The vertices of a surface in grid coordinates.
pub fn grid_vertices(tin: &Tin) -> Vec<Vertex> {
    let frame = tin.frame();
    let grid = |v: &Vertex| {
        let at = frame.to_grid(v.place());
        Vertex::new(at.east, at.north, v.height)
    };
    tin.vertices().iter().map(grid).collect()
}
