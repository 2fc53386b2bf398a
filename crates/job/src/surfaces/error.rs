//! Why a surface, a line or a zone cannot be made.

use std::path::PathBuf;

use dapedon_core::derived::{CrestError, RunOutError};
use dapedon_core::overlay::OverlayError;
use dapedon_core::quantities::Side;
use dapedon_core::units::LengthUnit;
use dapedon_core::zones::ZoneError;

use crate::error::{JobError, job_error};

/// Why a surface, a line or a zone cannot be made.
#[derive(Debug, thiserror::Error, strum::IntoStaticStr)]
#[strum(serialize_all = "kebab-case")]
#[non_exhaustive]
pub enum SurfaceError {
    /// The outlines of a zone of the job make none.
    #[error("zone \"{name}\": {error}")]
    JobZone {
        /// The zone.
        name: String,
        /// Why.
        #[source]
        error: ZoneError,
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
    /// Outlines off the surface.
    #[error("nothing of it lies within the outlines of {}", .outline.display())]
    NothingWithin {
        /// The file of the surface.
        path: PathBuf,
        /// The file of the outlines.
        outline: PathBuf,
    },
    /// The file says no unit, and nobody else does.
    #[error("the file does not say its length unit")]
    NoUnit {
        /// The file.
        path: PathBuf,
    },
    /// A grid with more cells than can be written as triangles.
    #[error("the grid has more cells than can be written as triangles")]
    ManyFacets,
    /// A level where ground with an end is wanted.
    #[error("a level has no end")]
    NoGround,
    /// The core refused.
    #[error("{0}")]
    Overlay(#[from] OverlayError),
}

impl SurfaceError {
    fn path(&self) -> Option<String> {
        use SurfaceError as E;
        match self {
            E::Zone { path, .. }
            | E::NotOneLine { path, .. }
            | E::ZonesCrsDiffer { path, .. }
            | E::NothingWithin { path, .. }
            | E::NoUnit { path } => Some(path.display().to_string()),
            _ => None,
        }
    }

    fn remedy(&self) -> String {
        use SurfaceError as E;
        let remedy = match self {
            E::JobZone { .. } => "mend the outline",
            E::Zone { error, .. } => match error {
                ZoneError::Open { .. } => "close the outline: its last corner must be its first",
                ZoneError::Crosses { .. } => "mend the outline at that place",
                _ => "mend the outline",
            },
            E::BuildUpsOverlap { .. } => {
                "let the zones end at each other, or say overlap = \"first\" for the one named first to hold"
            }
            E::ZoneBeyond { .. } => {
                "see that both are in the survey's coordinate system and unit, and the zone is the right one"
            }
            E::NothingLeft => "see what the step keeps, and where",
            E::Endless => "limit it first, as in { keep = \"inside\", zones = \"...\" }",
            E::SeveralZones { .. } => "name one of them, as in file = \"...#name\"",
            E::LineWithoutHeights => {
                "say them with the line, as in heights = [[0, 24.5], [100, 25]] by distance"
            }
            E::NotOneLine { .. } => {
                "name one of them after the #: an alignment, a layer with one line, a feature"
            }
            E::RunOut(error) => match error {
                RunOutError::NeverMeets { .. } => {
                    "use steeper slopes, or ground that reaches further"
                }
                RunOutError::BeyondGround { .. } => {
                    "let the outline end within the ground, or name ground that reaches further"
                }
                RunOutError::TooFine { .. } => "say a longer chord, or steeper slopes",
                RunOutError::NeverEnds { .. } => {
                    "see that the heights are in the units of the ground, or make the slope steeper"
                }
                RunOutError::NoSlope => "give n of 1:n, as 2",
                RunOutError::Overlay(_) => "please report this: it should not happen",
            },
            E::Crest(CrestError::NotLevelWithItself { .. }) => {
                "let it end at the height it starts at"
            }
            E::Crest(_) => "ease the bend, or make the top narrower",
            E::NothingAtLevel { .. } => "name a level between its lowest and highest place",
            E::ZonesCrsDiffer { .. } => {
                "have the zones converted; or, where both are the same grid under two names, say \
                 --ignore-crs"
            }
            E::CrsDiffer { .. } => {
                "have one of them converted; or, where both are the same grid under two names, \
                 say --ignore-crs"
            }
            E::HeightSystemsDiffer { .. } => {
                "have the heights of one of them converted; or, where both are the same under two names, say --ignore-crs"
            }
            E::NothingWithin { .. } => {
                "see that the outlines are in the survey's coordinate system"
            }
            E::NoUnit { .. } => return unit_remedy(),
            E::ManyFacets => "write it as a grid, or keep it within a zone first",
            E::NoGround => "name a surface that has an end, or zones to limit it",
            E::Overlay(_) => "please report this: it should not happen",
        };
        remedy.into()
    }
}

/// How a unit is said.
pub(crate) fn unit_remedy() -> String {
    let codes = LengthUnit::ALL.map(|unit| format!("--unit {} ({})", unit.code(), unit.name()));
    format!("say it: {}", codes.join(", "))
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

impl From<CrestError> for JobError {
    fn from(error: CrestError) -> Self {
        SurfaceError::Crest(error).into()
    }
}
