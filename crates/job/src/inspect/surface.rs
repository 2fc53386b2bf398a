//! A surface of a file, or what can be made one.

use std::sync::Arc;

use dapedon_core::plan::Frame;
use dapedon_core::points::{LineKind, Patches, empty_areas, patches};
use dapedon_core::surface::{Grid, Outline, Surface, Tin};
use dapedon_core::units::{AreaUnit, LengthUnit};
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use super::{corner, degrees};
use crate::error::JobError;
use crate::finding::{Code, Finding};
use crate::input::{InputError, LoadedSurface, Reading, clean, loaded};
use crate::quantities::Extreme;
use crate::schema::Word;
use crate::surfaces::GroundError;
use crate::surfaces::{OutlierFound, ground};

/// An edge this many times as long as the middle one is long.
const LONG: f64 = 10.0;

/// A surface of a file, or points that make one.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, JsonSchema)]
#[non_exhaustive]
pub struct SurfaceFound {
    /// Its name; empty where the format has none.
    pub name: String,
    /// `facets` where the file holds them, `grid` where it holds heights of cells, `points` where they
    /// are made from points.
    pub made_from: Word,
    /// Points of the file.
    pub points: usize,
    /// Breaklines between them.
    pub breaklines: usize,
    /// Outlines of edges, holes and islands.
    pub outlines: usize,
    /// Facets; none where no surface can be made.
    pub triangles: usize,
    /// Plan area, in squares of the length unit.
    pub area: f64,
    /// South-west corner, if there is a point in it.
    pub min: Option<Extreme>,
    /// North-east corner, likewise.
    pub max: Option<Extreme>,
    /// Lowest and highest height, if there is any.
    pub heights: Option<[f64; 2]>,
    /// Of heights on a grid: its cells.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub cells: Option<CellsFound>,
    /// The middle length of an edge: how far points stand apart.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub spacing: Option<f64>,
    /// The longest edge.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub longest_edge: Option<f64>,
    /// Facets with an edge more than ten times as long as the middle one.
    pub long_triangles: usize,
    /// The patches that points fall into; a single one where they do not.
    pub separate_areas: Vec<SeparateArea>,
    /// The narrowest gap between patches.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub gap: Option<f64>,
    /// A longest edge that would part the patches.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub separating_edge: Option<f64>,
    /// Points whose height is far from what their neighbours say, the farthest first.
    pub outliers: Vec<OutlierFound>,
    /// What was understood.
    pub notes: Vec<String>,
}

/// The cells of a grid of heights.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct CellsFound {
    /// Columns and rows.
    pub size: [usize; 2],
    /// Their sides, towards east and north.
    pub cell_size: [f64; 2],
    /// Which share of them has no height.
    pub share_without_height: f64,
    /// Areas without heights that cells with heights enclose, the largest first.
    pub empty: Vec<EmptyFound>,
}

/// An empty area within heights.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct EmptyFound {
    /// Its plan area, in squares of the length unit.
    pub area: f64,
    /// The mean easting of its cells.
    pub east: f64,
    /// The mean northing of its cells.
    pub north: f64,
}

impl CellsFound {
    fn of(grid: &Grid) -> Self {
        let (size, step) = (grid.size(), grid.step());
        let corner = grid.frame().to_grid(grid.corner());
        let none = grid
            .heights()
            .iter()
            .filter(|height| height.is_nan())
            .count();
        let empty = empty_areas(size, grid.heights()).into_iter();
        CellsFound {
            size,
            cell_size: step,
            share_without_height: none as f64 / grid.heights().len() as f64,
            empty: empty
                .map(|area| EmptyFound {
                    area: area.cells as f64 * step[0] * step[1],
                    east: corner.east + area.middle.east * step[0],
                    north: corner.north + area.middle.north * step[1],
                })
                .collect(),
        }
    }
}

/// A patch of points.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct SeparateArea {
    /// How many points.
    pub points: usize,
    /// South-west corner.
    pub min: Extreme,
    /// North-east corner.
    pub max: Extreme,
}

/// Looks at what was read; what stands in the way of a surface is reported, not refused.
pub(super) fn found(
    loaded: LoadedSurface,
    unit: Option<LengthUnit>,
    reading: &Reading,
    several: bool,
    warnings: &mut Vec<Finding>,
) -> Result<(SurfaceFound, Option<Surface>), JobError> {
    let raw = &loaded.surface;
    let extent = loaded::surface_extent(raw);
    let heights: &mut dyn Iterator<Item = f64> = match &raw.grid {
        Some(grid) => &mut grid
            .heights
            .iter()
            .copied()
            .filter(|height| !height.is_nan()),
        None => &mut raw.vertices.iter().map(|v| v.height),
    };
    let points = raw.vertices.len() + raw.grid.as_ref().map_or(0, |grid| grid.heights.len());
    let ends = heights.map(|height| [height, height]);
    let heights = ends.reduce(|[low, high], [h, _]| [low.min(h), high.max(h)]);
    let lines = |outline: bool| {
        let wanted = |kind: LineKind| kind.is_outline() == outline;
        raw.lines.iter().filter(|line| wanted(line.kind)).count()
    };
    let mut found = SurfaceFound {
        name: raw.name.clone(),
        made_from: match (&raw.grid, &raw.facets) {
            (Some(_), _) => "grid".into(),
            (None, Some(_)) => "facets".into(),
            (None, None) => "points".into(),
        },
        points,
        breaklines: lines(false),
        outlines: lines(true) + raw.outlines.len(),
        triangles: 0,
        area: 0.0,
        min: (points > 0).then(|| corner(extent.min)),
        max: (points > 0).then(|| corner(extent.max)),
        heights,
        cells: None,
        spacing: None,
        longest_edge: None,
        long_triangles: 0,
        separate_areas: Vec::new(),
        gap: None,
        separating_edge: None,
        outliers: Vec::new(),
        notes: Vec::new(),
    };
    let place = match (several, found.name.as_str()) {
        (true, name) => Some(format!("surface \"{name}\"")),
        (false, _) => None,
    };
    if points == 0 {
        warnings.push(Finding::new(Code::NoSurface, "the file has no points").within(&place));
        return Ok((found, None));
    }
    if raw.invisible > 0 {
        let count = raw.invisible;
        warnings.push(
            Finding::new(
                Code::LeftOut,
                format!("invisible triangles skipped: {count}"),
            )
            .within(&place),
        );
    }
    if clean::looks_like_degrees(&extent, points) {
        warnings.push(degrees().within(&place));
        return Ok((found, None));
    }
    let frame = Frame::around(unit.unwrap_or(LengthUnit::Metre), extent);
    let path = loaded.file.path.clone();
    let (made, own) = match ground::made(loaded, frame, reading) {
        Ok(made) => made,
        Err(error) if matches!(error.kind(), Some(InputError::Degrees { .. })) => {
            warnings.push(degrees().within(&place));
            return Ok((found, None));
        }
        Err(error) if error.kind::<GroundError>().is_some() => {
            warnings.push(
                Finding::new(Code::NoSurface, format!("no surface can be made: {error}"))
                    .within(&place),
            );
            return Ok((found, None));
        }
        Err(error) => return Err(error),
    };
    warnings.extend(own.into_iter().map(|warning| {
        let own = warning.place.clone().filter(|own| *own != path);
        Finding {
            place: own,
            ..warning
        }
        .within(&place)
    }));
    let outline = Outline::of(&made.surface);
    found.triangles = made.surface.facets();
    found.area = outline.area();
    found.notes = made.side.notes;
    found.outliers = made.odd;
    if let Some(overlap) = outline.overlap(frame.precision()) {
        let at = frame.to_grid(overlap.at);
        let symbol = AreaUnit::usual(frame.unit()).symbol();
        warnings.push(
            Finding::new(
                Code::Fold,
                format!(
                    "it overlaps itself on {:.3} {symbol}, near east {:.1}, north {:.1}",
                    overlap.area, at.east, at.north
                ),
            )
            .within(&place),
        );
    }
    if let Surface::Grid(grid) = &*made.surface {
        // Told as figures here.
        let note = ground::cells_note(
            grid.size(),
            grid.step(),
            made.side.points.unwrap_or_default(),
        );
        found.notes.retain(|known| *known != note);
        found.cells = Some(CellsFound::of(grid));
    }
    let surface = Arc::unwrap_or_clone(made.surface);
    let Surface::Tin(tin) = &surface else {
        return Ok((found, Some(surface)));
    };
    let lie = made.patches.unwrap_or_else(|| Arc::new(patches(tin)));
    edges(&mut found, tin, &lie);
    if made.handed_over && lie.patches.len() > 1 && lie.bridges > 0 {
        warnings.push(Finding::new(Code::Patches, format!(
            "the points are in {} separate areas, and {} long triangles bridge the gaps: check them",
            lie.patches.len(),
            lie.bridges
        )).within(&place));
    }
    Ok((found, Some(surface)))
}

/// How far points stand apart, and how they lie.
fn edges(found: &mut SurfaceFound, tin: &Tin, lie: &Patches) {
    let frame = tin.frame();
    let longest = |facet: usize| {
        let [a, b, c] = tin.corners(facet);
        let length = |p: dapedon_core::surface::Vertex, q: dapedon_core::surface::Vertex| {
            libm::hypot(q.east - p.east, q.north - p.north)
        };
        length(a, b).max(length(b, c)).max(length(c, a))
    };
    let lengths = (0..tin.facets().len()).map(longest);
    found.spacing = Some(lie.spacing);
    found.longest_edge = lengths.clone().reduce(f64::max);
    found.long_triangles = lengths
        .filter(|&length| length > LONG * lie.spacing)
        .count();
    found.gap = lie.gap;
    found.separating_edge = lie.parting_edge();
    found.separate_areas = (lie.patches.iter())
        .map(|patch| SeparateArea {
            points: patch.points,
            min: corner(frame.to_grid(patch.extent.min)),
            max: corner(frame.to_grid(patch.extent.max)),
        })
        .collect();
}
