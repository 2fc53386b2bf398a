//! What is measured: one file for each quantity, and what they share.

mod balance;
mod build;
mod capacity;
mod convert;
mod depths;
mod measurement;
pub(crate) mod pile;
mod scene;
mod volume;

pub use balance::{BalanceError, BalanceRequest, Balanced, TriedShift, balance};
pub use build::{BuildError, Built, Mesh, build, cells, mesh};
pub use capacity::{
    AreasRequest, AreasSource, Capacity, CapacityError, CapacityRequest, Held, RunsOver, Wanted,
    capacity, capacity_of_areas,
};
pub use convert::{ConvertError, ConvertedLine, Converting, Rate, Way};
pub use depths::{DepthsError, Lift, ZoneDepths};
pub use measurement::{
    Areas, Closure, Difference, Extreme, Measurement, Volumes, WithoutBuildUp, ZoneMeasurement,
};
pub(crate) use pile::apart;
pub use pile::{
    ByBase, Clearing, Outlines, Pile, PileError, PileMaterials, PileRequest, Piles, PilesTotal,
    Sought, ToeHeights, pile, spread,
};
pub use scene::Scene;
pub(crate) use scene::{folds, not_compared};
pub use volume::{Request, measure};
