//! One surface, built to be passed on.

use std::borrow::Cow;
use std::sync::Arc;

use dapedon_core::alignment::Alignment;
use dapedon_core::plan::Place;
use dapedon_core::quantities::sampled;
use dapedon_core::surface::{Surface, Vertex};
use dapedon_formats::RawGrid;
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use crate::context::Context;
use crate::digits::count_in_words;
use crate::error::{JobError, job_error};
use crate::figure::{Area, Length};
use crate::finding::{Code, Finding};
use crate::input::{InputFile, Memory, Source};
use crate::quantities::measurement::Extreme;
use crate::schema::{Schema, Word};
use crate::site::{Site, no_end};
use crate::surfaces::SurfaceError;
use crate::surfaces::{OutlierFound, SurfaceFacts};
use crate::units::ReportUnits;

/// A surface that was built, and what was done on the way.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, JsonSchema)]
#[non_exhaustive]
pub struct Built {
    /// The command: `surface`.
    pub command: Word,
    /// The version of its schema.
    pub schema: Schema,
    /// The units of all figures.
    pub units: ReportUnits,
    /// Currency of rates and costs.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub currency: Option<String>,
    /// The coordinate system the file says.
    pub crs: Option<String>,
    /// The system of heights.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub height_system: Option<String>,
    /// What it is, where it came from, and how it came about.
    #[serde(flatten)]
    pub side: SurfaceFacts,
    /// Its vertices.
    pub vertices: usize,
    /// Plan area.
    pub area: Area,
    /// Sloping area.
    pub sloping_area: Area,
    /// South-west corner.
    pub min: Extreme,
    /// North-east corner.
    pub max: Extreme,
    /// Lowest and highest height.
    pub heights: [Length; 2],
    /// Points whose height is odd, in the surface or dropped from it.
    pub outliers: Vec<OutlierFound>,
    /// The files of lines that are drawn over its map.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub line_files: Vec<InputFile>,
    /// What must be known before the surface is trusted.
    pub warnings: Vec<Finding>,
}

/// The surface itself, and what is drawn over its map.
#[derive(Debug)]
pub struct BuiltGround {
    /// The surface.
    pub surface: Surface,
    /// Lines, in grid coordinates.
    pub lines: Vec<Alignment>,
    /// The lines that no triangle of it crosses, where it was made from points.
    pub breaklines: Arc<Vec<Vec<Place>>>,
}

/// Builds a surface, and hands it back. Of a surface of the job it is measured what each
/// step changed.
///
/// # Errors
///
/// When a file cannot be used, a step cannot be done, or the surface is a level, which has no end.
pub fn build(context: &Context<'_>, source: &Source) -> Result<(Built, BuiltGround), JobError> {
    context.run(|| {
        if matches!(source, Source::Level(_)) {
            return Err(BuildError::NoEnd.into());
        }
        let opened = Site::open(context, &[source], &[]);
        let mut site = opened.map_err(|error| no_end(error, BuildError::NoEnd))?;
        site.making.changes = true;
        let made = site.surface(source)?;
        let Site {
            making, systems, ..
        } = site;
        let (frame, units, warnings) = (making.frame, making.units, making.warnings);
        let surface = Arc::unwrap_or_clone(made.surface);
        let (vertices, area, true_area) = match &surface {
            Surface::Tin(tin) => (tin.vertices().len(), tin.area(), tin.true_area()),
            Surface::Grid(grid) => {
                let heights = grid.heights().iter().filter(|height| !height.is_nan());
                (heights.count(), grid.area(), grid.true_area())
            }
            Surface::Level(_) => return Err(BuildError::NoEnd.into()),
        };
        let (min, max) = (
            frame.to_grid(surface.extent().min),
            frame.to_grid(surface.extent().max),
        );
        let (low, high) = surface.heights();
        let corner = |place: Place| Extreme {
            east: place.east,
            north: place.north,
        };
        let built = Built {
            command: "surface".into(),
            schema: Schema,
            units,
            currency: context.job.and_then(|job| job.currency.clone()),
            crs: systems.plan,
            height_system: systems.heights,
            side: made.side,
            vertices,
            area: units.area_of(area),
            sloping_area: units.area_of(true_area),
            min: corner(min),
            max: corner(max),
            heights: [low, high].map(|height| units.length_of(height)),
            outliers: made.odd,
            line_files: making.drawn.files,
            warnings: context.acknowledged("", warnings),
        };
        let ground = BuiltGround {
            surface,
            lines: making.drawn.lines,
            breaklines: made.breaklines,
        };
        Ok((built, ground))
    })
}

impl Built {
    /// Says so where the surface is written as points and has places with several heights, which points cannot hold.
    pub fn written_as_points(&mut self, vertices: &[Vertex]) {
        let mut places: Vec<[u64; 2]> = vertices
            .iter()
            .map(|v| [v.east, v.north].map(f64::to_bits))
            .collect();
        places.sort_unstable();
        let repeated = places.windows(2).filter(|pair| pair[0] == pair[1]).count();
        if repeated > 0 {
            let places = if repeated == 1 {
                "place has"
            } else {
                "places have"
            };
            let words = format!(
                "{} {places} two heights, a vertical step: as points, the surface cannot be read back",
                count_in_words(repeated)
            );
            let found = Finding::new(Code::StepsAsPoints, words);
            self.warnings
                .push(found.remedy("write it as LandXML, DXF, OBJ or GeoJSON"));
        }
    }
}

/// What a cell takes while a surface is read at cells: its height, and as it is gathered.
pub(crate) const CELL_BYTES: u64 = 40;

/// A surface read at the middles of square cells, to be written as a grid; a grid as it is where no cell is
/// named, or its own.
///
/// # Errors
///
/// When that would be too many cells, or no cell is named for a surface that is no grid.
pub fn cells(surface: &Surface, cell: Option<f64>, memory: Memory) -> Result<RawGrid, JobError> {
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
    let cell = cell.ok_or(BuildError::NoCell)?;
    let read = sampled(surface, cell, memory.holds(CELL_BYTES))?;
    let read = read.ok_or(BuildError::TooManyCells { cell, memory })?;
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
    pub triangles: Cow<'s, [[u32; 3]]>,
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
            let tin = grid.to_tin().map_err(|_| SurfaceError::ManyFacets)?;
            let facets = tin.facets().to_vec();
            (Cow::Owned(tin), Cow::Owned(facets))
        }
        Surface::Level(_) => return Err(BuildError::NoEnd.into()),
    };
    let frame = tin.frame();
    let grid = |v: &Vertex| {
        let at = frame.to_grid(v.place());
        Vertex::new(at.east, at.north, v.height)
    };
    Ok(Mesh {
        vertices: tin.vertices().iter().map(grid).collect(),
        triangles: facets,
    })
}

/// Why a surface cannot be passed on.
#[derive(Debug, thiserror::Error, strum::IntoStaticStr)]
#[strum(serialize_all = "kebab-case")]
#[non_exhaustive]
pub enum BuildError {
    /// A level is given where a surface with an edge is needed.
    #[error("a level has no edge and cannot be written as a surface")]
    NoEnd,
    /// A grid is asked for without a cell size.
    #[error("a grid needs a cell size")]
    NoCell,
    /// The grid has too many cells.
    #[error("a grid with cells of {cell} does not fit into {memory}")]
    TooManyCells {
        /// The side of a cell.
        cell: f64,
        /// The memory that there is.
        memory: Memory,
    },
}

impl BuildError {
    fn remedy(&self) -> &'static str {
        match self {
            BuildError::NoEnd => "use a file, or a surface of the job with an edge",
            BuildError::NoCell => "add it, as in --cell 0.5",
            BuildError::TooManyCells { .. } => {
                "use larger cells, or more memory with --memory; --max-edge removes stray points far away"
            }
        }
    }
}

dapedon_diagnostic::diagnostic!(BuildError, "surface");
job_error!(BuildError);
