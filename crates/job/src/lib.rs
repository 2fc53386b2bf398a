//! # dapedon-job
//!
//! From files and their names to measured figures: a [`Source`] says where a surface comes from,
//! [`measure`] loads both sides and the zones, brings them to one unit and frame, measures, and
//! states what it did on the way. [`build`] makes one surface to be handed on, and [`inspect()`] says
//! what is in a file before it is trusted.

#![cfg_attr(not(test), warn(clippy::arithmetic_side_effects))]

mod apart;
mod balance;
mod bill;
mod build;
mod build_up;
mod capacity;
mod clean;
mod cloud;
mod context;
mod convert;
mod depths;
mod error;
mod facets;
mod ground;
mod input;
mod inspect;
mod job_file;
mod level_zones;
mod lines;
mod load;
mod loaded;
mod making;
mod measure;
mod measurement;
mod memory;
mod mistake;
mod pile;
mod reading;
mod recipe;
mod scene;
mod site;
mod source;
mod stock;
mod systems;
mod units;
mod zone_origin;

pub use balance::{BalanceRequest, Balanced, TriedShift, balance};
pub use bill::{
    AlsoCounted, Bill, BillError, BillItem, BillSection, ConversionStep, Cost, Hauled, ItemMoved,
    ItemRow, LoadLimit, LoadsMade, MaterialFacts, MaterialMoved, OverlayMade, Sheet, VehicleFacts,
    bill,
};
pub use build::{Built, Mesh, build, cells, mesh};
pub use capacity::{
    AreasRequest, AreasSource, Capacity, CapacityError, CapacityRequest, Held, RunsOver, Wanted,
    capacity, capacity_of_areas,
};
pub use cloud::{ClassFound, Classes, ClassesError, CloudFound, CloudRules, Thin};
pub use context::{Context, Doing};
pub use convert::{ConvertedLine, Converting, Rate, Way};
pub use depths::{Lift, ZoneDepths};
pub use error::{JobError, Span};
pub use ground::OddFound;
pub use input::{InputFile, digest, files_read, forget_files_read};
pub use inspect::{
    AttributeFound, CellsFound, ColumnsFound, EmptyFound, Inspection, LayerFound, LineFound,
    PairFound, PatchFound, SurfaceFound, ZoneFound, inspect, names_are_found, pair,
};
pub use job_file::{
    Counted, CountedBy, JOB_FILE, Job, JobFileError, Layer, Per, Price, Spot, job_schema, starter,
};
pub use measure::{Request, measure};
pub use measurement::{
    Area, Closure, Difference, Extreme, JobFacts, Measurement, Side, Units, Volume, WithoutBuildUp,
    ZoneMeasurement,
};
pub use memory::{Memory, MemoryError};
pub use pile::{
    BaseSource, ByBase, Clearing, Outlines, Pile, PileError, PileMaterials, PileRequest, Piles,
    PilesTotal, Sought, ToeHeights, pile, spread,
};
pub use reading::Reading;
pub use recipe::{Change, Count, LayerQuantity, Origin, Recipe, Step};
pub use scene::Scene;
pub use source::{Source, SourceError, ZoneSource};
pub use units::{ReportUnits, UnitsAsked};
pub use zone_origin::ZoneOrigin;
