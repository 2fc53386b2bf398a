//! What can go wrong between a file name and a figure, with the place and the remedy.

pub(crate) mod mistake;
mod place;
mod remedy;

use std::fmt;
use std::io;
use std::path::PathBuf;

use dapedon_contract::ContractError;
use dapedon_core::{
    CrestError, Extent, GridError, OverlayError, RunOutError, Side, TinError, TriangulateError,
    ZoneError,
};
use dapedon_formats::Position;
use dapedon_formats::asc::AscError;
use dapedon_formats::delimited::DelimitedError;
use dapedon_formats::dxf::DxfError;
use dapedon_formats::features::FeatureError;
use dapedon_formats::geojson::GeoJsonError;
use dapedon_formats::geotiff::GeoTiffError;
use dapedon_formats::landxml::LandXmlError;
use dapedon_formats::las::LasError;
use dapedon_formats::obj::ObjError;
use dapedon_formats::shapefile::ShapefileError;

use crate::bill::BillError;
use crate::input::Memory;
use crate::job_file::{Job, JobFileError, Spot, nearest};
use crate::quantities::{CapacityError, ConvertError, PileError};
use crate::surfaces::PoolError;

/// Where something lies, in grid coordinates.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Span(pub Extent);

impl fmt::Display for Span {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        let Extent { min, max } = self.0;
        write!(
            f,
            "east {:.1} to {:.1}, north {:.1} to {:.1}",
            min.east, max.east, min.north, max.north
        )
    }
}

/// Why there is no figure.
#[derive(Debug, thiserror::Error)]
pub enum JobError {
    /// Something is wrong with the job file.
    #[error("{0}")]
    JobFile(#[from] Box<JobFileError>),
    /// What a line of the job file asks for cannot be done.
    #[error("{error}\n{}", .spot.shown())]
    InJob {
        /// The line.
        spot: Box<Spot>,
        /// Why.
        #[source]
        error: Box<JobError>,
    },
    /// A name of the job is the name of a file too.
    #[error("\"{name}\" is both a {kind} of the job and a file")]
    TwoMeanings {
        /// The name.
        name: String,
        /// What it is in the job.
        kind: &'static str,
    },
    /// The job has no such surface or zone.
    #[error("there is no file \"{name}\", and no {kind} of that name in {}", .job.as_ref().map_or("a job", |job| job.as_str()))]
    NoSuchMember {
        /// The name.
        name: String,
        /// What it would be.
        kind: &'static str,
        /// The job file, if there is one.
        job: Option<String>,
        /// The name that is most like it.
        near: Option<String>,
        /// All names there are.
        known: Vec<String>,
    },
    /// The outlines of a zone of the job make none.
    #[error("zone \"{name}\": {error}")]
    JobZone {
        /// The zone.
        name: String,
        /// Why.
        #[source]
        error: ZoneError,
    },
    /// Zones of two build-ups overlap.
    #[error("the build-ups \"{}\" and \"{}\" overlap on {area}", .build_ups[0], .build_ups[1])]
    BuildUpsOverlap {
        /// The two.
        build_ups: [String; 2],
        /// How much.
        area: String,
    },
    /// A zone lies beyond the surface.
    #[error("the zone \"{zone}\", {area}, lies beyond the surface altogether")]
    ZoneBeyond {
        /// The zone.
        zone: String,
        /// Its area.
        area: String,
    },
    /// A step leaves nothing of the surface.
    #[error("nothing is left of the surface")]
    NothingLeft,
    /// A step would give a surface without an end.
    #[error("the surface has no end, and the step does not give it one")]
    Endless,
    /// Several zones where one is wanted.
    #[error("\"{name}\" is {count} zones, and a platform covers one")]
    SeveralZones {
        /// The name.
        name: String,
        /// How many there are.
        count: usize,
    },
    /// The design has no platform of that name.
    #[error("no step of the design is a platform \"{name}\"")]
    NoPlatform {
        /// The name.
        name: String,
    },
    /// A basin of which there is no table.
    #[error("{0}")]
    Capacity(#[from] CapacityError),
    /// A pool that is none.
    #[error(transparent)]
    Pool(#[from] PoolError),
    /// A zone at a level holds nothing.
    #[error("nothing of \"{surface}\" lies {} {level}", if *.side == Side::Below { "below" } else { "above" })]
    NothingAtLevel {
        /// The surface.
        surface: String,
        /// Which side of the level.
        side: Side,
        /// The level.
        level: f64,
    },
    /// Lifts are thinner than what counts as unchanged.
    #[error("lifts of {step} are thinner than the tolerance of {tolerance}")]
    ThinLifts {
        /// Their height.
        step: f64,
        /// The tolerance.
        tolerance: f64,
    },
    /// Too many lifts.
    #[error("lifts of {step} down to {depth:.3} are more than ten thousand")]
    ManyLifts {
        /// Their height.
        step: f64,
        /// The greatest depth.
        depth: f64,
    },
    /// A pile cannot be measured.
    #[error(transparent)]
    Pile(#[from] PileError),
    /// An item cannot be measured.
    #[error("{0}")]
    Bill(#[from] BillError),
    /// A figure of a contract cannot be worked out.
    #[error(transparent)]
    Contract(#[from] ContractError),
    /// Cut and fill cannot be converted.
    #[error(transparent)]
    Convert(#[from] ConvertError),
    /// The job has no such item, material or vehicle.
    #[error("the job has no {kind} \"{name}\"")]
    Unknown {
        /// What it would be.
        kind: &'static str,
        /// Its code or name.
        name: String,
        /// The one that is most like it.
        near: Option<String>,
        /// All there are.
        known: Vec<String>,
    },
    /// A line has corners without heights.
    #[error("the line has corners without heights")]
    LineWithoutHeights,
    /// Not one line, but none or several.
    #[error("it does not hold just one line{}", .name.as_ref().map_or(String::new(), |name| format!(" named \"{name}\"")))]
    NotOneLine {
        /// The file.
        path: PathBuf,
        /// The name that was asked for.
        name: Option<String>,
    },
    /// Slopes do not run out.
    #[error("{0}")]
    RunOut(#[from] RunOutError),
    /// A line makes no top of an embankment.
    #[error("{0}")]
    Crest(#[from] CrestError),
    /// A file cannot be opened or read.
    #[error("it cannot be read: {}", plain(.source))]
    Read {
        /// The file.
        path: PathBuf,
        /// What the system says.
        source: io::Error,
    },
    /// A folder stands where a file should.
    #[error("it is a folder, not a file")]
    Folder {
        /// The folder.
        path: PathBuf,
    },
    /// There is nothing in the file.
    #[error("the file is empty")]
    Empty {
        /// The file.
        path: PathBuf,
    },
    /// Neither the first bytes nor the ending tell the format.
    #[error("its format cannot be told from its first bytes or its ending")]
    UnknownFormat {
        /// The file.
        path: PathBuf,
    },
    /// A file of zones where a surface is wanted, or the reverse.
    #[error("it holds {holds}, and {wanted} are wanted there")]
    WrongKind {
        /// The file.
        path: PathBuf,
        /// What it holds.
        holds: &'static str,
        /// What is wanted.
        wanted: &'static str,
    },
    /// Delimited text that cannot be read.
    #[error("{error}")]
    Delimited {
        /// The file.
        path: PathBuf,
        /// Why.
        #[source]
        error: DelimitedError,
    },
    /// LandXML that cannot be read.
    #[error("{error}")]
    LandXml {
        /// The file.
        path: PathBuf,
        /// Where.
        at: Option<Position>,
        /// Why.
        #[source]
        error: LandXmlError,
    },
    /// An ASCII grid that cannot be read.
    #[error("{error}")]
    Asc {
        /// The file.
        path: PathBuf,
        /// Why.
        #[source]
        error: AscError,
    },
    /// A GeoTIFF that cannot be read.
    #[error("{error}")]
    GeoTiff {
        /// The file.
        path: PathBuf,
        /// Why.
        #[source]
        error: GeoTiffError,
    },
    /// A cloud that cannot be read.
    #[error("{error}")]
    Las {
        /// The file.
        path: PathBuf,
        /// Why.
        #[source]
        error: LasError,
    },
    /// A mesh that cannot be read.
    #[error("{error}")]
    Obj {
        /// The file.
        path: PathBuf,
        /// Why.
        #[source]
        error: ObjError,
    },
    /// A shapefile that cannot be read.
    #[error("{error}")]
    Shapefile {
        /// The file.
        path: PathBuf,
        /// Why.
        #[source]
        error: ShapefileError,
    },
    /// Features of a map that are not what is asked for.
    #[error("{error}")]
    Features {
        /// The file.
        path: PathBuf,
        /// Why.
        #[source]
        error: FeatureError,
    },
    /// Zones in another coordinate system than the surfaces.
    #[error("the zones are in {zones}, and the surfaces in {surfaces}")]
    ZonesCrsDiffer {
        /// The file.
        path: PathBuf,
        /// That of the zones.
        zones: String,
        /// That of the surfaces.
        surfaces: String,
    },
    /// Several files that are not one cloud.
    #[error(
        "the files are no one cloud: they are in different systems or units\n  first: {first}\n  other: {other}"
    )]
    CloudsDiffer {
        /// What the first says.
        first: String,
        /// What another says.
        other: String,
    },
    /// No point of the classes asked for.
    #[error("it has no points of the classes asked for; it has {}", spelled(.found))]
    NoSuchClass {
        /// The file.
        path: PathBuf,
        /// The classes there are.
        found: Vec<String>,
    },
    /// Too many points to be taken one by one.
    #[error("it has more than 67 million points, too many to be taken one by one")]
    TooManyPoints {
        /// The file.
        path: PathBuf,
    },
    /// Too many cells between the points farthest out.
    #[error(
        "its points lie so far apart that they would make {columns} by {rows} cells, more than fit into {memory}"
    )]
    ManyCells {
        /// The file.
        path: PathBuf,
        /// Columns.
        columns: i64,
        /// Rows.
        rows: i64,
        /// The memory that there is.
        memory: Memory,
    },
    /// A cloud thinned to cells that make no ground.
    #[error("in cells like these it is no ground: {error}")]
    Thinned {
        /// The file.
        path: PathBuf,
        /// Why.
        #[source]
        error: GridError,
    },
    /// Heights that make no grid.
    #[error("{error}")]
    Grid {
        /// The file.
        path: PathBuf,
        /// Why.
        #[source]
        error: GridError,
    },
    /// A grid of a surface that has no cells.
    #[error("a grid has cells, and nothing says how large they are")]
    NoCell,
    /// Too many cells asked for.
    #[error("cells of {cell} would be more than fit into {memory}")]
    TooManyCells {
        /// The side of a cell.
        cell: f64,
        /// The memory that there is.
        memory: Memory,
    },
    /// DXF that cannot be read.
    #[error("{error}")]
    Dxf {
        /// The file.
        path: PathBuf,
        /// Why.
        #[source]
        error: DxfError,
    },
    /// A name to be taken as something that is nowhere.
    #[error("no code or layer is named \"{name}\"; the names are {}", spelled(.found))]
    NoSuchName {
        /// The name.
        name: String,
        /// The names there are.
        found: Vec<String>,
    },
    /// Degrees where a grid is wanted.
    #[error(
        "its coordinates look like degrees: none is farther than 180 from zero, and none as much as one from another"
    )]
    Degrees {
        /// The file.
        path: PathBuf,
    },
    /// Outlines off the surface.
    #[error("nothing of it lies within the outlines of {}", .outline.display())]
    NothingWithin {
        /// The file of the surface.
        path: PathBuf,
        /// The file of the outlines.
        outline: PathBuf,
    },
    /// Two coordinate systems.
    #[error("the files are in different coordinate systems\n  one:   {one}\n  other: {other}")]
    CrsDiffer {
        /// That of the one.
        one: String,
        /// That of the other.
        other: String,
    },
    /// Two systems of heights.
    #[error("the heights of the files are in different systems\n  one:   {one}\n  other: {other}")]
    HeightSystemsDiffer {
        /// That of the one.
        one: String,
        /// That of the other.
        other: String,
    },
    /// GeoJSON that cannot be read.
    #[error("{error}")]
    GeoJson {
        /// The file.
        path: PathBuf,
        /// Why.
        #[source]
        error: GeoJsonError,
    },
    /// Facets that make no surface.
    #[error("{error}")]
    Facets {
        /// The file.
        path: PathBuf,
        /// Why.
        #[source]
        error: TinError,
    },
    /// Points that make no surface.
    #[error("{error}")]
    Points {
        /// The file.
        path: PathBuf,
        /// Why.
        #[source]
        error: TriangulateError,
    },
    /// Outlines that make no zone.
    #[error("zone \"{name}\": {error}")]
    Zone {
        /// The file.
        path: PathBuf,
        /// The zone.
        name: String,
        /// Why.
        #[source]
        error: ZoneError,
    },
    /// No zone of the name asked for.
    #[error("there is no zone named \"{name}\" in it; it holds {}", .names.join(", "))]
    NoSuchZone {
        /// The file.
        path: PathBuf,
        /// The name asked for.
        name: String,
        /// The names there are.
        names: Vec<String>,
    },
    /// Two zones of one name.
    #[error("zone \"{name}\" is named twice")]
    ZoneTwice {
        /// The name.
        name: String,
    },
    /// Somebody wrote to the file while it was read.
    #[error("the file changed while it was read")]
    Changed {
        /// The file.
        path: PathBuf,
    },
    /// The file says no unit, and nobody else does.
    #[error("the file does not say its length unit")]
    NoUnit {
        /// The file.
        path: PathBuf,
    },
    /// Two levels, without a file to take the unit from.
    #[error("two levels do not say their length unit")]
    LevelsWithoutUnit,
    /// The two sides lie apart.
    #[error("the two surfaces do not overlap\n  reference: {reference}\n  surveyed:  {surveyed}")]
    Apart {
        /// Where the reference lies.
        reference: Span,
        /// Where the surveyed lies.
        surveyed: Span,
        /// What would bring them together.
        hint: Option<&'static str>,
    },
    /// The zones lie apart from what the two sides share.
    #[error(
        "the zones lie outside the ground that both surfaces cover\n  both surfaces: {surfaces}\n  zones:         {zones}"
    )]
    ZonesApart {
        /// Where both surfaces lie.
        surfaces: Span,
        /// Where the zones lie.
        zones: Span,
    },
    /// The zones lie where both sides reach, but one of them has no ground.
    #[error(
        "there is no ground of both surfaces within the zones: one of them has none there\n  both surfaces: {surfaces}\n  zones:         {zones}"
    )]
    NothingInZones {
        /// Where both surfaces lie.
        surfaces: Span,
        /// Where the zones lie.
        zones: Span,
    },
    /// Two levels meet everywhere.
    #[error("two levels meet everywhere")]
    Unbounded,
    /// A level where a surface with an end is wanted.
    #[error("a level has no end, and cannot be written as a surface")]
    NoEnd,
    /// A grid with more cells than can be written out as facets.
    #[error("the grid has more cells than can be written out as facets")]
    ManyFacets,
    /// Items of a bill without a job.
    #[error("there is no job, and the items of a bill stand in one")]
    NoJob,
    /// A surface that was to be at hand is not.
    #[error("a surface that is needed was not read")]
    NotRead,
    /// The core refused.
    #[error("{0}")]
    Overlay(#[from] OverlayError),
}

fn spelled(codes: &[String]) -> String {
    match codes {
        [] => "none".into(),
        codes => codes.join(", "),
    }
}

/// The system's words, without its number.
fn plain(error: &io::Error) -> String {
    let text = error.to_string();
    text.split(" (os error")
        .next()
        .unwrap_or(&text)
        .to_lowercase()
}

impl From<JobFileError> for JobError {
    fn from(error: JobFileError) -> Self {
        JobError::JobFile(Box::new(error))
    }
}

impl JobError {
    /// The same, with the line of the job file that it comes from.
    pub(crate) fn in_job(self, spot: &Spot) -> JobError {
        match self {
            JobError::InJob { .. } | JobError::JobFile(_) => self,
            error => JobError::InJob {
                spot: Box::new(spot.clone()),
                error: Box::new(error),
            },
        }
    }

    /// A name in a bill that is none of those known.
    pub(crate) fn unknown<'n>(
        kind: &'static str,
        name: &str,
        known: impl Iterator<Item = &'n str> + Clone,
    ) -> Self {
        JobError::Unknown {
            kind,
            name: name.into(),
            near: nearest(name, known.clone()).map(Into::into),
            known: known.map(Into::into).collect(),
        }
    }

    pub(crate) fn no_such_surface(name: &str, job: Option<&Job>) -> Self {
        let known = job.map_or(Vec::new(), |job| job.surfaces().map(Into::into).collect());
        JobError::no_such_member(name, "surface", job, known)
    }

    pub(crate) fn no_such_zone(name: &str, job: &Job) -> Self {
        let known = job.zones().map(Into::into).collect();
        JobError::no_such_member(name, "zone", Some(job), known)
    }

    fn no_such_member(
        name: &str,
        kind: &'static str,
        job: Option<&Job>,
        known: Vec<String>,
    ) -> Self {
        JobError::NoSuchMember {
            name: name.into(),
            kind,
            near: nearest(name, known.iter().map(String::as_str)).map(Into::into),
            job: job.map(|job| job.path.display().to_string()),
            known,
        }
    }
}
