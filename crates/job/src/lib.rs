//! # dapedon-job
//!
//! From files and their names to measured figures: a [`Source`] says where a surface comes from,
//! [`measure`] loads both sides and the zones, brings them to one unit and frame, measures, and
//! states what it did on the way. [`build`] makes one surface to be handed on, and [`inspect()`] says
//! what is in a file before it is trusted.

#![cfg_attr(not(test), warn(clippy::arithmetic_side_effects))]

mod bill;
mod context;
mod error;
mod figure;
mod finding;
mod input;
mod inspect;
mod job_file;
mod quantities;
mod schema;
mod site;
mod surfaces;
mod units;
mod watch;
mod zones;

pub use bill::{
    AlsoCounted, Bill, BillError, BillItem, BillSection, Hauled, ItemMoved, ItemRow, MaterialFacts,
    MaterialMoved, OverlayMade, Sheet, VehicleFacts, bill,
};
pub use context::Context;
pub use error::{JobError, Span, Spot};
pub use figure::{Area, Figure, Length, Unit, Volume};
pub use finding::{Code as FindingCode, Finding, Severity};
pub use input::{
    BaseSource, ClassFound, Classes, ClassesError, CloudFound, CloudRules, FilesRead, InputError,
    InputFile, Memory, MemoryError, Reading, Source, SourceError, Thin, ZoneSource, digest,
};
pub use inspect::{
    AttributeFound, CellsFound, ColumnsFound, EmptyFound, Inspected, Inspection, LayerFound,
    LineFound, PairFound, PatchFound, SurfaceFound, ZoneFound, inspect, names_are_found, pair,
};
pub use job_file::{JOB_FILE, Job, JobFacts, JobFileError, Layer, NameError, job_schema, starter};
pub use quantities::{
    Areas, AreasRequest, AreasSource, BalanceError, BalanceRequest, Balanced, BuildError, Built,
    ByBase, Capacity, CapacityError, CapacityRequest, Clearing, Closure, ConvertError,
    ConvertedLine, Converting, DepthsError, Difference, Extreme, Held, Lift, Measurement, Mesh,
    Outlines, Pile, PileError, PileMaterials, PileRequest, Piles, PilesTotal, Rate, Request,
    RunsOver, Scene, Sought, ToeHeights, TriedShift, Volumes, Wanted, Way, WithoutBuildUp,
    ZoneDepths, ZoneMeasurement, balance, build, capacity, capacity_of_areas, cells, measure, mesh,
    pile, spread,
};
pub use schema::{Schema, Word, result_schema};
pub use site::SiteError;
pub use surfaces::{
    ApartError, Change, Count, GroundError, LayerQuantity, OddFound, Origin, PoolError, Recipe,
    Side, Step, SurfaceError,
};
pub use units::{AreaAsked, Asked, ReportUnits, UnitsAsked, VolumeAsked};
pub use watch::{Doing, StoppedError, Watch};
pub use zones::ZoneOrigin;

/// The examples of the page that introduces the crate.
#[cfg(doctest)]
#[doc = include_str!("../README.md")]
struct Readme;
