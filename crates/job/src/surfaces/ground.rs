//! From a loaded file to a surface, with the notes on how it was made.

mod error;
mod points;

use std::path::{Path, PathBuf};
use std::sync::Arc;

use dapedon_core::derived::mask;
use dapedon_core::plan::{Frame, Place};
use dapedon_core::points::{LineKind, PickUp};
use dapedon_core::surface::{Grid, Surface, Tidied, Tin};
use dapedon_core::zones::Zone;
use dapedon_formats::{FlatOutline, RawGrid};

use crate::accuracy::AccuracyInFile;
use crate::error::JobError;
use crate::finding::Finding;
use crate::input::InputError;
use crate::input::cloud;
use crate::input::{
    InputFile, LoadedSurface, Reading, is_steep_as_degrees, loaded, looks_like_degrees,
};
use crate::surfaces::SurfaceError;
use crate::surfaces::facts::SurfaceFacts;
use crate::surfaces::made::MadeSurface;
use crate::surfaces::systems::same_crs;

pub use error::GroundError;

/// Makes the surface, and says what must be known before a figure of it is trusted.
pub(crate) fn made(
    loaded: LoadedSurface,
    frame: Frame,
    reading: &Reading,
) -> Result<(MadeSurface, Vec<Finding>), JobError> {
    let LoadedSurface {
        file,
        mut surface,
        mut notes,
        outline,
        ..
    } = loaded;
    let path = PathBuf::from(&file.path);
    notes.append(&mut surface.notes);
    for (kind, count) in &surface.left_out {
        notes.push(format!("skipped, {kind}: {count}"));
    }
    if let Some(crs) = &surface.crs {
        notes.push(format!("coordinate system {crs}"));
    }
    if let Some(heights) = &surface.height_system {
        notes.push(format!("heights in {heights}"));
    }
    if let Some(date) = &surface.date {
        notes.push(format!("dated {date} in the file"));
    }
    let points = surface.vertices.len();
    if let Some(grid) = &surface.grid
        && looks_like_degrees(&loaded::grid_extent(grid), grid.heights.len())
    {
        return Err(InputError::Degrees { path }.into());
    }
    let mut said = SurfaceNotes {
        notes,
        warnings: Vec::new(),
    };
    let (mut made, points) = match (surface.grid.take(), surface.facets.take()) {
        (Some(grid), _) => from_grid(grid, &file, frame, &mut said)?,
        (None, Some(facets)) => {
            let tin = Tin::from_facets(frame, surface.vertices, facets);
            let tin = tin.map_err(|error| {
                JobError::from(GroundError::Facets {
                    path: path.clone(),
                    error,
                })
            })?;
            (MadeSurface::of(Surface::Tin(tin)), points)
        }
        (None, None) => {
            let pick_up = PickUp {
                points: surface.vertices,
                lines: std::mem::take(&mut surface.lines),
            };
            let made = points::from_points(pick_up, &path, frame, reading, &mut said)?;
            (made, points)
        }
    };
    if is_steep_as_degrees(&made.surface) {
        return Err(InputError::Degrees { path }.into());
    }
    let SurfaceNotes {
        notes,
        mut warnings,
    } = said;
    made.side = SurfaceFacts {
        kind: kind(&made, &file.format, &surface.name),
        file: Some(file),
        survey_date: surface.date,
        points: Some(points),
        notes,
        accuracy_in_file: AccuracyInFile::of(&surface.accuracies, frame.unit()),
        ..SurfaceFacts::default()
    };
    if let Some(own) = &made.side.accuracy_in_file {
        match own.believed() {
            Ok(accuracy) => made.side.accuracy = Some(accuracy),
            Err(finding) => {
                warnings.push(finding);
                made.side.accuracy_in_file = None;
            }
        }
    }
    let ground = &mut made;
    let tidied = match &*ground.surface {
        Surface::Tin(tin) => tin.tidied(),
        Surface::Grid(_) | Surface::Level(_) => Tidied::default(),
    };
    if tidied.thin > 0 && ground.handed_over {
        (ground.side.notes).push(format!(
            "triangles without plan area skipped: {}",
            tidied.thin
        ));
    }
    if tidied.reversed > 0 {
        (ground.side.notes).push(format!("clockwise triangles reversed: {}", tidied.reversed));
    }
    if ground.handed_over && !surface.lines.is_empty() {
        let lines = surface.lines.len();
        (ground.side.notes).push(format!("lines beside the triangles not used: {lines}"));
    }
    if ground.handed_over && reading.shapes_points() {
        let is_cloud =
            (ground.side.file.as_ref()).is_some_and(|file| cloud::is_called_one(&file.format));
        let kept = match is_cloud {
            true => "kept as a grid, points with --triangulate",
            false => "kept as delivered",
        };
        ground.side.notes.push(format!(
            "{kept}: --max-edge, --flat-triangles, --drop-outliers, --duplicates and --outline are for points"
        ));
    }
    cut(ground, &surface.outlines, &path)?;
    if let Some((file, zones)) = outline.filter(|_| !ground.handed_over) {
        let outline = PathBuf::from(&file.path);
        warnings.extend(same_crs(
            "outlines",
            &file.path,
            &zones.crs,
            &surface.crs,
            reading.ignore_crs,
        )?);
        let rings = zones.zones.into_iter().flat_map(|zone| zone.parts);
        keep(ground, rings.collect(), &path, &outline)?;
        (ground.side.notes).push(format!("cut along the outlines of {}", outline.display()));
        if let Some(own) = &mut ground.side.file {
            own.other_files.push(file);
        }
    }
    made.side.triangles = Some(made.surface.facets());
    Ok((made, warnings))
}

/// Notes on a surface on the way to it: what was understood, converted, merged or skipped; and what must be
/// known before a figure is trusted.
struct SurfaceNotes {
    notes: Vec<String>,
    warnings: Vec<Finding>,
}

/// What it is, in words.
fn kind(made: &MadeSurface, format: &str, name: &str) -> String {
    match (made.handed_over, name) {
        (true, "") if matches!(*made.surface, Surface::Grid(_)) => format.into(),
        (true, "") => format!("{format} triangles"),
        (true, name) => format!("{format} surface \"{name}\""),
        (false, "") => format!("points, {format}"),
        (false, name) => format!("points of \"{name}\", {format}"),
    }
}

/// What cells a grid has, in words.
pub(crate) fn cells_note(size: [usize; 2], step: [f64; 2], points: usize) -> String {
    format!(
        "heights at the centres of {} by {} cells of {} by {}, {:.1} % without a height",
        size[0],
        size[1],
        step[0],
        step[1],
        100.0 * (1.0 - points as f64 / (size[0] * size[1]) as f64)
    )
}

/// A terrain grid, as delivered.
fn from_grid(
    raw: RawGrid,
    file: &InputFile,
    frame: Frame,
    said: &mut SurfaceNotes,
) -> Result<(MadeSurface, usize), JobError> {
    let points = raw.heights.iter().filter(|height| !height.is_nan()).count();
    said.notes.push(cells_note(raw.size, raw.step, points));
    let grid = Grid::new(frame, raw.corner, raw.step, raw.size, raw.heights);
    let grid = grid.map_err(|error| {
        let path = PathBuf::from(&file.path);
        match cloud::is_called_one(&file.format) {
            true => JobError::from(GroundError::Thinned { path, error }),
            false => JobError::from(GroundError::Grid { path, error }),
        }
    })?;
    Ok((MadeSurface::of(Surface::Grid(grid)), points))
}

/// Cuts a surface along outlines that carry no heights.
fn cut(ground: &mut MadeSurface, outlines: &[FlatOutline], path: &Path) -> Result<(), JobError> {
    if outlines.is_empty() {
        return Ok(());
    }
    let of = |kind: LineKind| {
        let rings = outlines.iter().filter(move |outline| outline.kind == kind);
        rings.map(|outline| outline.ring.clone())
    };
    let mut outer: Vec<Vec<Place>> = of(LineKind::Edge).collect();
    if outer.is_empty() {
        let frame = ground.surface.frame();
        let extent = ground.surface.extent();
        let (min, max) = (frame.to_grid(extent.min), frame.to_grid(extent.max));
        let margin = 1.0;
        let corners = [
            (min.east - margin, min.north - margin),
            (max.east + margin, min.north - margin),
            (max.east + margin, max.north + margin),
            (min.east - margin, max.north + margin),
            (min.east - margin, min.north - margin),
        ];
        outer.push(corners.map(|(e, n)| Place::new(e, n)).to_vec());
    }
    let mut parts: Vec<Vec<Vec<Place>>> = outer.into_iter().map(|ring| vec![ring]).collect();
    // Which part a hole lies in does not matter: a part is only told from holes by its turning.
    parts[0].extend(of(LineKind::Hole));
    parts.extend(of(LineKind::Island).map(|ring| vec![ring]));
    keep(ground, parts, path, path)?;
    (ground.side.notes).push(format!(
        "cut along {} outlines without heights",
        outlines.len()
    ));
    Ok(())
}

/// Keeps what lies within some parts of an outline, which stands in a file of its own or in the surface's.
fn keep(
    ground: &mut MadeSurface,
    parts: Vec<Vec<Vec<Place>>>,
    path: &Path,
    outline: &Path,
) -> Result<(), JobError> {
    let zone = Zone::new("outline", ground.surface.frame(), parts);
    let zone = zone.map_err(|error| {
        JobError::from(SurfaceError::Zone {
            path: outline.into(),
            name: "outline".into(),
            error,
        })
    })?;
    let kept = mask(&ground.surface, &zone).map_err(|_| {
        JobError::from(SurfaceError::NothingWithin {
            path: path.into(),
            outline: outline.into(),
        })
    })?;
    ground.surface = Arc::new(Surface::Tin(kept));
    Ok(())
}
