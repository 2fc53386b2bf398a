//! From what a file holds to a surface, and all that is said of it on the way.

mod points;

use std::path::{Path, PathBuf};

use dapedon_core::{
    Frame, Grid, LineKind, Patches, PickUp, Place, Surface, Tidied, Tin, Zone, mask,
};
use dapedon_formats::{FlatOutline, Format, RawGrid};

use crate::error::JobError;
use crate::input::{
    InputFile, Loaded, Reading, drop_height, loaded, looks_like_degrees, zero_heights,
};
use crate::surfaces::systems::same_crs;

/// A surface, and what was done and found on the way to it.
pub(crate) struct Ground {
    pub(crate) surface: Surface,
    pub(crate) file: InputFile,
    pub(crate) name: String,
    /// The day the file says it is from.
    pub(crate) dated: Option<String>,
    /// Points of the file that went into it.
    pub(crate) points: usize,
    /// True when the file holds the facets.
    pub(crate) handed_over: bool,
    /// What was understood, converted, merged or left out.
    pub(crate) notes: Vec<String>,
    /// What must be known before a figure is trusted.
    pub(crate) warnings: Vec<String>,
    /// Of a surface made from points: how they lie.
    pub(crate) patches: Option<Patches>,
    /// Points whose height is odd, in the surface or dropped from it.
    pub(crate) odd: Vec<OddFound>,
}

/// A point whose height is odd, in grid coordinates.
#[derive(Debug, Clone, Copy, PartialEq, serde::Serialize)]
pub struct OddFound {
    /// Easting.
    pub east: f64,
    /// Northing.
    pub north: f64,
    /// Its height.
    pub height: f64,
    /// How far it stands above its neighbours; below them where negative.
    pub amount: f64,
}

impl Ground {
    /// A surface that the file holds as it is.
    fn handed_over(surface: Surface, file: InputFile, points: usize) -> Self {
        Ground {
            surface,
            file,
            name: String::new(),
            dated: None,
            points,
            handed_over: true,
            notes: Vec::new(),
            warnings: Vec::new(),
            patches: None,
            odd: Vec::new(),
        }
    }
}

/// Makes the surface.
pub(crate) fn made(loaded: Loaded, frame: Frame, reading: &Reading) -> Result<Ground, JobError> {
    let Loaded {
        file,
        mut surface,
        mut notes,
        outline,
    } = loaded;
    let path = PathBuf::from(&file.path);
    notes.append(&mut surface.notes);
    for (kind, count) in &surface.left_out {
        notes.push(format!("left out, {kind}: {count}"));
    }
    let mut warnings = Vec::new();
    if let Some(height) = reading.no_height {
        let dropped = drop_height(&mut surface, height);
        if dropped > 0 {
            notes.push(format!(
                "{dropped} points at height {height} dropped: none was measured"
            ));
        }
    } else if let Some(warning) = zero_heights(&surface.vertices) {
        warnings.push(format!("{}: {warning}", file.path));
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
        return Err(JobError::Degrees { path });
    }
    let mut ground = match (surface.grid.take(), surface.facets.take()) {
        (Some(grid), _) => from_grid(grid, file, frame, notes)?,
        (None, Some(facets)) => {
            let tin = Tin::from_facets(frame, surface.vertices, facets);
            let tin = tin.map_err(|error| JobError::Facets {
                path: path.clone(),
                error,
            })?;
            let mut ground = Ground::handed_over(Surface::Tin(tin), file, points);
            (ground.name, ground.notes, ground.warnings) = (surface.name, notes, warnings);
            ground
        }
        (None, None) => {
            let pick_up = PickUp {
                points: surface.vertices,
                lines: std::mem::take(&mut surface.lines),
            };
            let mut ground = points::from_points(pick_up, file, frame, reading, notes, warnings)?;
            ground.name = surface.name;
            ground
        }
    };
    let tidied = match &ground.surface {
        Surface::Tin(tin) => tin.tidied(),
        Surface::Grid(_) | Surface::Level(_) => Tidied::default(),
    };
    if tidied.thin > 0 && ground.handed_over {
        (ground.notes).push(format!(
            "{} facets without a plan area dropped",
            tidied.thin
        ));
    }
    if tidied.reversed > 0 {
        (ground.notes).push(format!(
            "{} facets that turned clockwise turned round",
            tidied.reversed
        ));
    }
    if ground.handed_over && !surface.lines.is_empty() {
        let lines = surface.lines.len();
        (ground.notes).push(format!("lines beside the facets not used: {lines}"));
    }
    if ground.handed_over && reading.shapes_points() {
        let kept = match ground.file.format == Format::Las.name() {
            true => "kept as a grid, points with --triangulate",
            false => "kept as handed over",
        };
        ground.notes.push(format!(
            "{kept}: --max-edge, --drop-odd, --same-place and --outline are for points"
        ));
    }
    ground.dated = surface.date;
    cut(&mut ground, &surface.outlines, &path)?;
    if let Some((file, zones)) = outline.filter(|_| !ground.handed_over) {
        let path = PathBuf::from(&file.path);
        (ground.notes).extend(same_crs(
            &file.path,
            &zones.crs,
            &surface.crs,
            reading.any_crs,
        )?);
        let rings = zones.zones.into_iter().flat_map(|zone| zone.parts);
        keep(&mut ground, rings.collect(), &path)?;
        (ground.notes).push(format!("cut along the outlines of {}", path.display()));
        ground.file.with.push(file);
    }
    Ok(ground)
}

/// What cells a grid has, in words.
pub(crate) fn cells_note(size: [usize; 2], step: [f64; 2], points: usize) -> String {
    format!(
        "heights at the middles of {} by {} cells of {} by {}, {:.1} % of them without one",
        size[0],
        size[1],
        step[0],
        step[1],
        100.0 * (1.0 - points as f64 / (size[0] * size[1]) as f64)
    )
}

/// A terrain grid, as handed over.
fn from_grid(
    raw: RawGrid,
    file: InputFile,
    frame: Frame,
    mut notes: Vec<String>,
) -> Result<Ground, JobError> {
    let points = raw.heights.iter().filter(|height| !height.is_nan()).count();
    notes.push(cells_note(raw.size, raw.step, points));
    let grid = Grid::new(frame, raw.corner, raw.step, raw.size, raw.heights);
    let grid = grid.map_err(|error| {
        let path = PathBuf::from(&file.path);
        match file.format == Format::Las.name() {
            true => JobError::Thinned { path, error },
            false => JobError::Grid { path, error },
        }
    })?;
    let mut ground = Ground::handed_over(Surface::Grid(grid), file, points);
    ground.notes = notes;
    Ok(ground)
}

/// Cuts a surface along outlines that carry no heights.
fn cut(ground: &mut Ground, outlines: &[FlatOutline], path: &Path) -> Result<(), JobError> {
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
    keep(ground, parts, path)?;
    (ground.notes).push(format!(
        "cut along {} outlines without heights",
        outlines.len()
    ));
    Ok(())
}

fn keep(ground: &mut Ground, parts: Vec<Vec<Vec<Place>>>, path: &Path) -> Result<(), JobError> {
    let zone = Zone::new("outline", ground.surface.frame(), parts);
    let zone = zone.map_err(|error| JobError::Zone {
        path: path.into(),
        name: "outline".into(),
        error,
    })?;
    let kept = mask(&ground.surface, &zone).map_err(|_| JobError::NothingWithin {
        path: PathBuf::from(&ground.file.path),
        outline: path.into(),
    })?;
    ground.surface = Surface::Tin(kept);
    Ok(())
}
