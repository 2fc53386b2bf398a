//! A job once every name in it is known.

mod checks;
mod claims;
mod item;
mod progress;
mod step_words;
mod typical_section;

use std::path::{Path, PathBuf};

use dapedon_contract::LayerCount;
use dapedon_core::alignment::NamedChainage;
use dapedon_core::derived::{Choice, Ends, Slopes};
use dapedon_core::quantities::SideOfLevel;
use jiff::civil::Date;

use crate::accuracy::StatedAccuracy;
use crate::error::JobFileLine;
use crate::input::{Reading, Source};
pub(crate) use checks::{AcknowledgedPlan, ConformityPlan, UntouchedPlan};
pub(crate) use claims::{
    CertificatePlan, CertifiedLinePlan, ClaimExtraPlan, ClaimLinePlan, ClaimPlan, CorrectionPlan,
    CountedPlan, ReasonPlan, TermsPlan,
};
pub(crate) use item::{
    FactorUncertainty, ItemMaterial, ItemPlan, MaterialPlan, MaterialUse, MeasuredZones, PaidUnit,
};
pub(crate) use progress::ProgressPlan;
pub(crate) use typical_section::{
    BreakHeightPlan, BreakPlan, ByChainage, SweptPlan, TypicalSectionPlan,
};

/// Where a surface starts from, and what is done to it.
#[derive(Debug, Clone)]
pub(crate) struct SurfacePlan {
    pub(crate) start: Start,
    pub(crate) steps: Vec<StepPlan>,
    /// It is to be dug below by a build-up.
    pub(crate) finished: bool,
    /// How accurate it is, in the job's unit, where that is stated.
    pub(crate) accuracy: Option<StatedAccuracy>,
    /// The day of the survey, where that is stated.
    pub(crate) date: Option<Date>,
    pub(crate) spot: JobFileLine,
}

/// Where a surface starts from.
#[derive(Debug, Clone)]
pub(crate) enum Start {
    /// A file, read so.
    File(Source, Box<Reading>),
    /// A horizontal plane, in the job's unit.
    Level(f64),
    /// Another surface of the job.
    Surface(String),
}

/// A step, limited to some zones where any are named.
#[derive(Debug, Clone)]
pub(crate) struct StepPlan {
    pub(crate) act: StepAction,
    pub(crate) zones: Vec<String>,
    pub(crate) spot: JobFileLine,
}

/// What a step does. Lengths are in the job's unit, names are those of the job.
#[derive(Debug, Clone)]
pub(crate) enum StepAction {
    Raise(f64),
    Level(f64),
    Move([f64; 2]),
    Combine(Choice, String),
    /// True for what is inside the zones.
    Keep(bool),
    Platform(PlatformPlan),
    Embankment(EmbankmentPlan),
    Swept(SweptPlan),
    Regrade(RegradePlan),
    BuildUp {
        names: Vec<String>,
        down_to: DownTo,
        /// Where zones overlap the first named holds.
        first_holds: bool,
    },
    Difference(String),
    /// Raised, and with a tilt leaned, until it agrees with another surface within the zones.
    Fit {
        to: String,
        tilt: bool,
    },
}

#[derive(Debug, Clone)]
pub(crate) struct PlatformPlan {
    pub(crate) outline: String,
    pub(crate) level: f64,
    /// Rise to the east and to the north, for each unit of length.
    pub(crate) rise: [f64; 2],
    pub(crate) at: Option<[f64; 2]>,
    pub(crate) slopes: Slopes,
    pub(crate) until: Option<String>,
}

#[derive(Debug, Clone)]
pub(crate) struct EmbankmentPlan {
    pub(crate) line: String,
    pub(crate) width: f64,
    pub(crate) slopes: Slopes,
    pub(crate) until: Option<String>,
    pub(crate) ends: Ends,
    /// The surface that its line is laid on.
    pub(crate) laid_on: Option<String>,
}

/// Ground made anew within zones.
#[derive(Debug, Clone)]
pub(crate) struct RegradePlan {
    pub(crate) points: Vec<[f64; 3]>,
    pub(crate) lines: Vec<String>,
    pub(crate) surface: Option<String>,
}

/// Where a shape of the plan comes from.
#[derive(Debug, Clone)]
pub(crate) enum Shape<C> {
    File {
        path: PathBuf,
        name: Option<String>,
        name_attribute: Option<String>,
    },
    Corners(Vec<C>),
}

impl<C> Shape<C> {
    /// The file it comes from.
    pub(crate) fn path(&self) -> Option<&Path> {
        match self {
            Shape::File { path, .. } => Some(path),
            Shape::Corners(_) => None,
        }
    }
}

/// The outline of a surface at a level.
#[derive(Debug, Clone)]
pub(crate) struct LevelPlan {
    pub(crate) surface: String,
    pub(crate) level: f64,
    pub(crate) side: SideOfLevel,
    /// Of what lies below, only what is connected to this place.
    pub(crate) pool: Option<[f64; 2]>,
}

/// Where a zone comes from.
#[derive(Debug, Clone)]
pub(crate) enum ZoneShape {
    /// It was drawn.
    Drawn(Shape<[f64; 2]>),
    /// It is the outline of a surface at a level.
    Level(LevelPlan),
    /// It is a strip along a line.
    Strip(StripPlan),
}

/// A zone along a line, between two offsets.
#[derive(Debug, Clone)]
pub(crate) struct StripPlan {
    pub(crate) line: String,
    pub(crate) offsets: [f64; 2],
    pub(crate) between: [Option<NamedChainage>; 2],
    /// It is cut into parts at round chainages.
    pub(crate) every: Option<f64>,
}

impl ZoneShape {
    /// The file it comes from.
    pub(crate) fn path(&self) -> Option<&Path> {
        match self {
            ZoneShape::Drawn(shape) => shape.path(),
            ZoneShape::Level(_) | ZoneShape::Strip(_) => None,
        }
    }
}

#[derive(Debug, Clone)]
pub(crate) struct ZonePlan {
    pub(crate) shape: ZoneShape,
    pub(crate) spot: JobFileLine,
}

/// Where a line comes from.
#[derive(Debug, Clone)]
pub(crate) enum LineShape {
    /// It was drawn.
    Drawn(Shape<[f64; 3]>),
    /// It runs beside another line, so far to its right.
    Parallel { to: String, offset: f64 },
}

impl LineShape {
    /// The file it comes from.
    pub(crate) fn path(&self) -> Option<&Path> {
        match self {
            LineShape::Drawn(shape) => shape.path(),
            LineShape::Parallel { .. } => None,
        }
    }
}

#[derive(Debug, Clone)]
pub(crate) struct LinePlan {
    pub(crate) shape: LineShape,
    /// Heights by distance, in place of its own.
    pub(crate) heights: Option<Vec<[f64; 2]>>,
    /// The surface that it is laid on.
    pub(crate) laid_on: Option<String>,
    pub(crate) spot: JobFileLine,
}

/// Down to where build-ups are dug.
#[derive(Debug, Clone, PartialEq, Eq)]
pub(crate) enum DownTo {
    /// Below all layers.
    All,
    /// The top of a layer.
    TopOf(String),
    /// The bottom of a layer.
    BottomOf(String),
}

/// The layers over some zones, from the top down.
#[derive(Debug, Clone)]
pub(crate) struct BuildUpPlan {
    pub(crate) zones: Vec<String>,
    pub(crate) layers: Vec<Layer>,
}

/// A layer of a build-up.
#[derive(Debug, Clone, PartialEq)]
pub struct Layer {
    /// Name of the layer, usually its material.
    pub name: String,
    /// How thick it is, in the job's unit.
    pub thickness: f64,
    /// Further units to count it in.
    pub counted: Vec<LayerCount>,
}

impl BuildUpPlan {
    /// The layers that are dug out; all of them, where the one to stop at is not among them.
    pub(crate) fn down_to(&self, down_to: &DownTo) -> &[Layer] {
        let named = |name: &str| self.layers.iter().position(|layer| layer.name == name);
        let end = match down_to {
            DownTo::All => None,
            DownTo::TopOf(layer) => named(layer),
            DownTo::BottomOf(layer) => named(layer).map(|at| at + 1),
        };
        self.layers
            .get(..end.unwrap_or(self.layers.len()))
            .unwrap_or_default()
    }
}

impl StepAction {
    /// All other surfaces that it needs.
    pub(crate) fn needs(&self) -> impl Iterator<Item = &str> {
        self.other().into_iter().chain(self.laid_on())
    }

    /// The surface that its line is laid on.
    pub(crate) fn laid_on(&self) -> Option<&str> {
        match self {
            StepAction::Embankment(EmbankmentPlan { laid_on, .. })
            | StepAction::Swept(SweptPlan { laid_on, .. }) => laid_on.as_deref(),
            _ => None,
        }
    }

    /// The other surface that it is done with.
    pub(crate) fn other(&self) -> Option<&str> {
        match self {
            StepAction::Combine(_, name)
            | StepAction::Difference(name)
            | StepAction::Fit { to: name, .. } => Some(name),
            StepAction::Platform(PlatformPlan { until, .. })
            | StepAction::Embankment(EmbankmentPlan { until, .. })
            | StepAction::Swept(SweptPlan { until, .. }) => until.as_deref(),
            StepAction::Regrade(RegradePlan { surface, .. }) => surface.as_deref(),
            StepAction::Raise(_)
            | StepAction::Level(_)
            | StepAction::Move(_)
            | StepAction::Keep(_)
            | StepAction::BuildUp { .. } => None,
        }
    }
}
