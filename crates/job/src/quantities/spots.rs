//! Spots: the difference between surfaces at places, on a grid, at points, or along a line.

mod found;
mod places;

use std::path::PathBuf;

use dapedon_core::plan::{Extent, Place};
use dapedon_core::quantities::Tolerance;
use dapedon_core::surface::{HeightAt, Surface, heights_at};

use crate::context::Context;
use crate::error::{JobError, job_error};
use crate::finding::{Code, Finding};
use crate::input::{LineSource, Source, ZoneSource};
use crate::job_file::Job;
use crate::quantities::measurement::ZoneMeasurement;
use crate::quantities::scene::Scene;
use crate::schema::Schema;
use crate::site::Site;
use crate::surfaces::MadeSurface;
use crate::watch::Activity;

pub use found::{Spot, SpotHeight, SpotState, SpotSummary, Spots};
use places::asked;

/// Places at most.
const MOST: usize = 1_000_000;

/// What to read heights at, and of which surfaces.
#[derive(Debug, Clone)]
pub struct SpotsRequest {
    /// Differences are from this surface.
    pub reference: Source,
    /// To each of these.
    pub surveyed: Vec<Source>,
    /// Where.
    pub places: SpotPlaces,
    /// A line that places are reported along: the one they lie on, or another.
    pub line: Option<LineSource>,
    /// Within these zones.
    pub zones: Vec<ZoneSource>,
    /// Differences up to this size count as unchanged.
    pub tolerance: Tolerance,
}

/// Where heights are read. Lengths are in the unit measured in.
#[derive(Debug, Clone, PartialEq)]
pub enum SpotPlaces {
    /// On a grid.
    Grid {
        /// From place to place along rows, and from row to row.
        spacing: [f64; 2],
        /// A place of the grid: east and north.
        origin: [f64; 2],
        /// The direction of rows, in degrees from east towards north.
        rotation: f64,
    },
    /// At the points of a file.
    Points {
        /// The file.
        path: PathBuf,
        /// The name of those that count, if one was given.
        name: Option<String>,
    },
    /// Along the line.
    Line {
        /// At chainages that are multiples of this, at both ends and where the line bends.
        interval: f64,
        /// So far to the right of it; to its left where negative.
        offsets: Vec<f64>,
    },
}

/// The ground of a map, as far as one was asked for.
#[derive(Debug)]
pub struct MapGround {
    /// What was measured there.
    pub rows: Vec<ZoneMeasurement>,
    /// The surfaces and zones.
    pub scene: Scene,
}

/// Reads heights and differences at places, and hands back the surfaces for drawing: the reference and the last surveyed one.
///
/// # Errors
///
/// When a file cannot be used, there are no places or too many, or none of them is on the surfaces.
pub fn spots(
    context: &Context<'_>,
    request: &SpotsRequest,
) -> Result<(Spots, MapGround), JobError> {
    context.run(|| {
        let sources = std::iter::once(&request.reference).chain(&request.surveyed);
        let sources: Vec<&Source> = sources.collect();
        let mut site = Site::open(context, &sources, &request.zones)?;
        let zones = site.zones(&request.zones)?;
        let made = sources.iter().map(|source| site.surface(source));
        let made = made.collect::<Result<Vec<MadeSurface>, JobError>>()?;
        let all: Vec<&MadeSurface> = made.iter().collect();
        for surveyed in &all[1..] {
            site.making.warn(&[all[0], surveyed]);
        }
        let surfaces: Vec<&Surface> = made.iter().map(|made| &*made.surface).collect();
        let asked = asked(context, request, &mut site, zones.as_ref(), &surfaces)?;
        let step = context.watch.next(Activity::ReadingHeights)?;
        let at: Vec<_> = asked.spots.iter().map(|spot| spot.at).collect();
        let mut heights = Vec::new();
        for surface in &surfaces {
            heights.push(heights_at(surface, &at));
        }
        step.unless_stopped(Ok::<(), JobError>(()))?;

        let last = made.last().unwrap_or(&made[0]);
        let mut scene = Scene::of(&site.making, [&made[0].surface, &last.surface], zones);
        let mut warnings = std::mem::take(&mut site.making.warnings);
        warnings.extend(site.zone_notes(&request.zones));
        scene.breaklines = last.breaklines.clone();
        (scene.lines).extend(asked.line.as_ref().map(|asked| asked.line.clone()));
        let found = found::found(asked, &heights, request, &scene)?;
        warnings.extend(found.warnings);
        let mut sides = made.into_iter().map(|made| made.side);
        let Some(reference) = sides.next() else {
            return Err(SpotsError::NoPlaces.into());
        };
        let spots = Spots {
            command: "spots".into(),
            schema: Schema,
            job: context.job.map(Job::facts),
            units: scene.units,
            crs: site.systems.plan.clone(),
            height_system: site.systems.heights.clone(),
            reference,
            surveyed: sides.collect(),
            tolerance: scene.units.length_of(request.tolerance.value()),
            places: found.places,
            line: found.line,
            points_file: found.points_file,
            zone_files: site.zone_files(&request.zones),
            line_files: std::mem::take(&mut site.making.drawn.files),
            outside: found.outside,
            summary: found.summary,
            spots: found.spots,
            warnings: context.acknowledged("", warnings),
        };
        // Places of a grid are all over the ground; others may be a small part of it.
        if request.zones.is_empty() && !matches!(request.places, SpotPlaces::Grid { .. }) {
            scene.focus = focus(&at, &scene.shown());
        }
        let rows = match &context.pictures {
            Some(map) => scene.measured_for_map(request.tolerance, map.room)?,
            None => Vec::new(),
        };
        Ok((spots, MapGround { rows, scene }))
    })
}

/// The ground around some places, as a map shows it: no wider than all of it, and no smaller than a twentieth.
fn focus(places: &[Place], all: &Extent) -> Option<Extent> {
    let around = Extent::of(places.iter().copied());
    let least = all.width().max(all.height()) / 20.0;
    let margin = (0.15 * around.width().max(around.height())).max(least);
    let wide = Extent {
        min: Place::new(around.min.east - margin, around.min.north - margin),
        max: Place::new(around.max.east + margin, around.max.north + margin),
    };
    let shown = wide.intersection(all);
    (!shown.is_empty()).then_some(shown)
}

/// True where a surface has one height, or several.
fn reaches(height: &HeightAt) -> bool {
    *height != HeightAt::None
}

/// Places outside a surface, or where it steps.
fn without_difference(count: usize, of: usize, words: &str, at: [f64; 2]) -> Finding {
    let [east, north] = at;
    let are = if count == 1 { "is" } else { "are" };
    let words =
        format!("{count} of {of} places {are} {words}; first at east {east:.3}, north {north:.3}");
    Finding::new(Code::SpotsOutside, words)
}

/// Why there are no spots.
#[derive(Debug, thiserror::Error, strum::IntoStaticStr)]
#[strum(serialize_all = "kebab-case")]
#[non_exhaustive]
pub enum SpotsError {
    /// A grid has too many places.
    #[error("the grid would have {count:.0} places; at most {MOST} are read")]
    ManyPlaces {
        /// How many it would have.
        count: f64,
        /// A spacing that would do.
        spacing: f64,
    },
    /// A line has too many stations.
    #[error(
        "an interval of {interval} along {length:.1} with {offsets} offsets makes {count:.0} places; at most {MOST} are read"
    )]
    ManyStations {
        /// The interval.
        interval: f64,
        /// The length of the line.
        length: f64,
        /// How many offsets there are.
        offsets: usize,
        /// How many places that makes.
        count: f64,
    },
    /// No place is asked for.
    #[error("no place of the grid is within the ground to be measured")]
    NoPlaces,
    /// No place is on both surfaces.
    #[error(
        "none of {places} places is on both surfaces; the first is at east {east:.3}, north {north:.3}, outside {of}"
    )]
    NoneReached {
        /// How many places there are.
        places: usize,
        /// The easting of the first.
        east: f64,
        /// The northing of the first.
        north: f64,
        /// What it is outside of.
        of: String,
    },
}

impl SpotsError {
    fn remedy(&self) -> String {
        match self {
            SpotsError::ManyPlaces { spacing, .. } => format!(
                "use a spacing of {} or more, or limit the grid with --zone",
                dapedon_core::plan::round_up(*spacing)
            ),
            SpotsError::ManyStations { .. } => "use a larger interval, or fewer offsets".into(),
            SpotsError::NoPlaces => "use a smaller spacing, or another origin".into(),
            SpotsError::NoneReached { .. } => {
                "check the places and surfaces with dapedon inspect: their extents must overlap"
                    .into()
            }
        }
    }
}

dapedon_diagnostic::diagnostic!(SpotsError, "spots");
job_error!(SpotsError);
