//! One surface, built to be handed on.

use std::borrow::Cow;

use dapedon_core::{AreaUnit, Frame, LengthUnit, Surface, Vertex, VolumeUnit, sampled};
use dapedon_formats::RawGrid;
use serde::Serialize;

use crate::ground::{self, OddFound};
use crate::load;
use crate::loaded;
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
) -> Result<(Built, Surface), JobError> {
    let mut loaded = load::source(source, reading)?;
    load::names_are_found(reading, std::iter::once(&loaded.surface.names))?;
    let own = (loaded.surface.unit.or(reading.unit)).ok_or_else(|| JobError::NoUnit {
        path: (&loaded.file.path).into(),
    })?;
    if loaded.surface.unit.is_none() {
        let note = format!("unit not in the file, taken as {}", own.name());
        loaded.notes.push(note);
    }
    let unit = unit.unwrap_or(own);
    ground::convert(&mut loaded, own, unit);
    let crs = loaded.surface.crs.clone();
    let frame = Frame::around(unit, loaded::surface_extent(&loaded.surface));
    let unused = reading.clouds_unused(&[&loaded.file.format]);
    let mut made = ground::made(loaded, frame, reading)?;
    made.warnings.extend(unused);
    let surface = made.surface;
    let (vertices, area, true_area) = match &surface {
        Surface::Tin(tin) => (tin.vertices().len(), tin.area(), tin.true_area()),
        Surface::Grid(grid) => (made.points, grid.area(), grid.true_area()),
        Surface::Level(_) => return Err(JobError::NoEnd),
    };
    let (min, max) = (
        frame.to_grid(surface.extent().min),
        frame.to_grid(surface.extent().max),
    );
    let (low, high) = surface.heights();
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
        vertices,
        facets: surface.facets(),
        area,
        true_area,
        min: corner(min),
        max: corner(max),
        heights: [low, high],
        odd_points: made.odd,
        notes: made.notes,
        warnings: made.warnings,
    };
    Ok((built, surface))
}

/// A surface read at the middles of square cells, to be written as a grid; a grid as it is where no cell is
/// named, or its own.
///
/// # Errors
///
/// When that would be too many cells, or no cell is named for a surface that is no grid.
pub fn cells(surface: &Surface, cell: Option<f64>) -> Result<RawGrid, JobError> {
    if let Surface::Grid(grid) = surface
        && cell.is_none_or(|cell| grid.step() == [cell; 2])
    {
        return Ok(RawGrid {
            corner: grid.frame().to_grid(grid.corner()),
            step: grid.step(),
            size: grid.size(),
            heights: grid.heights().to_vec(),
        });
    }
    let cell = cell.ok_or(JobError::NoCell)?;
    let read = sampled(surface, cell)?;
    let read = read.ok_or(JobError::TooManyCells { cell })?;
    Ok(RawGrid {
        corner: read.corner,
        step: [cell; 2],
        size: read.size,
        heights: read.heights,
    })
}

/// A surface written out as facets.
#[derive(Debug)]
pub struct Mesh<'s> {
    /// In grid coordinates.
    pub vertices: Vec<Vertex>,
    /// Between them.
    pub facets: Cow<'s, [[u32; 3]]>,
}

/// The facets of a surface, written out.
///
/// # Errors
///
/// When it has no end.
pub fn mesh(surface: &Surface) -> Result<Mesh<'_>, JobError> {
    let (tin, facets) = match surface {
        Surface::Tin(tin) => (Cow::Borrowed(tin), Cow::Borrowed(tin.facets())),
        Surface::Grid(grid) => {
            let tin = grid.to_tin().map_err(|_| JobError::NoEnd)?;
            let facets = tin.facets().to_vec();
            (Cow::Owned(tin), Cow::Owned(facets))
        }
        Surface::Level(_) => return Err(JobError::NoEnd),
    };
    let frame = tin.frame();
    let grid = |v: &Vertex| {
        let at = frame.to_grid(v.place());
        Vertex::new(at.east, at.north, v.height)
    };
    Ok(Mesh {
        vertices: tin.vertices().iter().map(grid).collect(),
        facets,
    })
}
