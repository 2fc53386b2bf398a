//! Why a surface, a line or a zone cannot be made.

use std::path::PathBuf;

use dapedon_core::derived::{CrestError, RegradeError, RunOutError, SweptError};
use dapedon_core::overlay::OverlayError;
use dapedon_core::quantities::SideOfLevel;
use dapedon_core::units::LengthUnit;
use dapedon_core::zones::ZoneError;

use crate::error::{JobError, job_error};

/// Why a surface, a line or a zone cannot be made.
#[derive(Debug, thiserror::Error, strum::IntoStaticStr)]
#[strum(serialize_all = "kebab-case")]
#[non_exhaustive]
pub enum SurfaceError {
    /// The corners of a zone in the job file are not an outline.
    #[error("zone \"{name}\": {error}")]
    JobZone {
        /// The zone.
        name: String,
        /// Why.
        #[source]
        error: ZoneError,
    },
    /// The outlines are not a zone.
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
    /// The zones of two build-ups overlap.
    #[error("the build-ups \"{}\" and \"{}\" overlap on {area}", .build_ups[0], .build_ups[1])]
    BuildUpsOverlap {
        /// The two.
        build_ups: [String; 2],
        /// How much.
        area: String,
    },
    /// A zone is outside the surface.
    #[error("the zone \"{zone}\", {area}, is outside the surface")]
    ZoneBeyond {
        /// The zone.
        zone: String,
        /// Its area.
        area: String,
    },
    /// A step leaves nothing of the surface.
    #[error("nothing is left of the surface")]
    NothingLeft,
    /// A step would give a surface without an edge.
    #[error("the surface is a level without an edge, and the step needs an edge")]
    Endless,
    /// Two surfaces that are to agree on some ground do not both cover any of it.
    #[error("the two surfaces do not both cover any of the untouched zones")]
    NothingToFit,
    /// Ground without a width says nothing of a tilt.
    #[error("the untouched zones are a narrow strip, and a tilt across it cannot be found")]
    NarrowToFit,
    /// Several zones are given, and one is needed.
    #[error("\"{name}\" has {count} zones, and a platform needs one")]
    SeveralZones {
        /// The name.
        name: String,
        /// How many there are.
        count: usize,
    },
    /// A line has corners without heights.
    #[error("the line has corners without heights")]
    LineWithoutHeights,
    /// Side slopes do not meet the ground.
    #[error("{0}")]
    RunOut(#[from] RunOutError),
    /// The line cannot be the top of an embankment.
    #[error("{0}")]
    Crest(#[from] CrestError),
    /// The typical section cannot be carried along the line.
    #[error("{0}")]
    Swept(#[from] SweptError),
    /// Ground cannot be made anew.
    #[error("{0}")]
    Regrade(#[from] RegradeError),
    /// A surface without points is given where its points are needed.
    #[error("a level or a terrain grid has no points of its own")]
    NoPoints,
    /// No part of the surface is below, or above, the level.
    #[error("no part of \"{surface}\" is {} {level}", if *.side == SideOfLevel::Below { "below" } else { "above" })]
    NothingAtLevel {
        /// The surface.
        surface: String,
        /// Which side of the level.
        side: SideOfLevel,
        /// The level.
        level: f64,
    },
    /// Zones and surfaces are in different coordinate systems.
    #[error("coordinate systems differ: {what} in {zones}, surfaces in {surfaces}")]
    ZonesCrsDiffer {
        /// What is in the file: zones, a line, points.
        what: &'static str,
        /// The file.
        path: PathBuf,
        /// That of the zones.
        zones: String,
        /// That of the surfaces.
        surfaces: String,
    },
    /// Two files are in different coordinate systems.
    #[error("the files are in different coordinate systems\n  one:   {one}\n  other: {other}")]
    CrsDiffer {
        /// That of the one.
        one: String,
        /// That of the other.
        other: String,
    },
    /// The files are in the coordinate system of maps on the web.
    #[error(
        "the coordinate system {name} stretches lengths: {}",
        crate::finding::STRETCH
    )]
    WebMercator {
        /// Its name.
        name: String,
    },
    /// Two files are in different height systems.
    #[error("the files are in different height systems\n  one:   {one}\n  other: {other}")]
    HeightSystemsDiffer {
        /// That of the one.
        one: String,
        /// That of the other.
        other: String,
    },
    /// No part of the surface is within the outlines.
    #[error("no part of it is within the outlines of {}", .outline.display())]
    NothingWithin {
        /// The file of the surface.
        path: PathBuf,
        /// The file of the outlines.
        outline: PathBuf,
    },
    /// The length unit is not known.
    #[error("the file has no length unit")]
    NoUnit {
        /// The file.
        path: PathBuf,
    },
    /// The grid has too many cells to be written as triangles.
    #[error("the grid has too many cells to be written as triangles")]
    ManyFacets,
    /// A level is given where a ground surface is needed.
    #[error("a level has no edge")]
    NoGround,
    /// Two surfaces cannot be intersected.
    #[error("{0}")]
    Overlay(#[from] OverlayError),
}

impl SurfaceError {
    fn path(&self) -> Option<String> {
        use SurfaceError as E;
        match self {
            E::Zone { path, .. }
            | E::ZonesCrsDiffer { path, .. }
            | E::NothingWithin { path, .. }
            | E::NoUnit { path } => Some(path.display().to_string()),
            _ => None,
        }
    }

    fn remedy(&self) -> String {
        use SurfaceError as E;
        let remedy = match self {
            E::JobZone { .. } => "correct the outline",
            E::Zone { error, .. } => match error {
                ZoneError::Open { .. } => "close the outline: its last corner must be its first",
                ZoneError::Crosses { .. } => "correct the outline at that place",
                _ => "correct the outline",
            },
            E::BuildUpsOverlap { .. } => {
                "redraw the zones so that they only touch, or add overlap = \"first\" to use the build-up listed first"
            }
            E::ZoneBeyond { .. } => {
                "check the zone, and that both are in the survey's coordinate system and unit"
            }
            E::NothingLeft => "check the zones and the side that the step keeps",
            E::Endless => "limit it first, as in { keep = \"inside\", zones = \"...\" }",
            E::NothingToFit => "give zones that both cover, or check their coordinates",
            E::NarrowToFit => "give zones that spread over the site, or leave tilt out",
            E::SeveralZones { .. } => "choose one of them, as in file = \"...#name\"",
            E::LineWithoutHeights => {
                "add heights by distance to the line, as in heights = [[0, 24.5], [100, 25]], or lay it on a surface with heights-from"
            }
            E::RunOut(error) => match error {
                RunOutError::NeverMeets { .. } => "use steeper slopes, or a larger ground surface",
                RunOutError::BeyondGround { .. } => {
                    "keep the outline within the ground, or use a larger ground surface"
                }
                RunOutError::TooFine { .. } => {
                    "use a larger chord tolerance, steeper slopes, or benches farther apart"
                }
                RunOutError::NeverEnds { .. } => {
                    "check that the heights are in the unit of the ground, or make the slope steeper"
                }
                RunOutError::NoSlope => "give n of the slope 1:n",
                RunOutError::Overlay(_) => "please report this as a bug",
            },
            E::Crest(CrestError::NotLevelWithItself { .. }) => "give both ends the same height",
            E::Crest(_) => "use a larger bend radius, or a narrower top",
            E::Swept(error) => match error {
                SweptError::NoHeight { .. } => {
                    "give the line heights as far as the section goes, or end it before with from and to"
                }
                SweptError::Inwards { .. } => {
                    "order the breaks from the line outwards, also where offsets change by chainage"
                }
                SweptError::UprightEdge { .. } => {
                    "give the last break a width; slopes start from it"
                }
                SweptError::NotItselfAgain { .. } => {
                    "give both ends of the line the same height and the section the same figures"
                }
                SweptError::TooMany { .. } => "use a larger chord tolerance",
                _ => "use a larger bend radius, or a narrower section",
            },
            E::Regrade(error) => match error {
                RegradeError::NothingWithin { .. } => {
                    "check that points and lines are in the zone, in the survey's coordinate system and unit"
                }
                RegradeError::NoGround { .. } => "draw the zone within the surface",
                RegradeError::Upright { .. } => {
                    "draw the edge of the zone beside the vertical face of the surface"
                }
                RegradeError::TwoHeights { .. } => "keep one of the two points",
                _ => "correct the points, and where breaklines cross",
            },
            E::NoPoints => "use a surface of points or triangles",
            E::NothingAtLevel { .. } => "use a level between its lowest and highest point",
            E::ZonesCrsDiffer { .. } => {
                "convert them; if both names stand for the same system, add --ignore-crs"
            }
            E::CrsDiffer { .. } => {
                "convert one of them; if both names stand for the same system, add --ignore-crs"
            }
            E::WebMercator { .. } => {
                "convert the files to the survey's grid; if they are in another system after all, add --ignore-crs"
            }
            E::HeightSystemsDiffer { .. } => {
                "convert the heights of one of them, or raise it by the offset between the two systems (step raise of the job file) and add --ignore-crs; if both names stand for the same system, add --ignore-crs"
            }
            E::NothingWithin { .. } => {
                "check that the outlines are in the survey's coordinate system"
            }
            E::NoUnit { .. } => return unit_remedy(),
            E::ManyFacets => "write it as a grid, or clip it to a zone first",
            E::NoGround => "use a surface with an edge, or zones to limit it",
            E::Overlay(_) => "please report this as a bug",
        };
        remedy.into()
    }
}

/// The options that state a unit.
pub(crate) fn unit_remedy() -> String {
    let codes = LengthUnit::ALL.map(|unit| format!("--unit {} ({})", unit.code(), unit.name()));
    format!("add the unit: {}", codes.join(", "))
}

dapedon_diagnostic::diagnostic!(SurfaceError, "surface", SurfaceError::path);
job_error!(SurfaceError);

impl From<OverlayError> for JobError {
    fn from(error: OverlayError) -> Self {
        SurfaceError::Overlay(error).into()
    }
}

impl From<RunOutError> for JobError {
    fn from(error: RunOutError) -> Self {
        SurfaceError::RunOut(error).into()
    }
}

impl From<SweptError> for JobError {
    fn from(error: SweptError) -> Self {
        SurfaceError::Swept(error).into()
    }
}

impl From<CrestError> for JobError {
    fn from(error: CrestError) -> Self {
        SurfaceError::Crest(error).into()
    }
}
