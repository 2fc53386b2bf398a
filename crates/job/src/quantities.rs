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
    AreasRequest, AreasSource, Capacity, CapacityAnswer, CapacityError, CapacityRequest, LevelRow,
    SpillPoint, capacity, capacity_of_areas,
};
pub use convert::{ConvertError, ConvertedLine, Converting, Rate, Way};
pub use depths::{DepthSlice, DepthsError, ZoneDepths};
pub use measurement::{
    Areas, Closure, Difference, Extreme, Measurement, Volumes, WithoutBuildUp, ZoneMeasurement,
};
pub(crate) use pile::apart;
pub use pile::{
    Outlines, Pile, PileError, PileMaterials, PileRequest, PileSearch, Piles, PilesTotal,
    SearchRules, ToeHeights, VolumeByBase, pile, spread,
};
pub use scene::Scene;
pub(crate) use scene::{folds, not_compared};
pub use volume::{Request, measure};
