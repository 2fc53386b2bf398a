//! Surfaces: from what a file holds, and step by step as a job derives them.

mod apart;
mod build_up;
mod facets;
pub(crate) mod ground;
pub(crate) mod level_zones;
mod lines;
mod made;
mod making;
mod pool;
mod read_zones;
mod recipe;
mod side;
mod stock;
mod systems;

pub(crate) use apart::{apart, not_laid};
pub(crate) use facets::{facets, kept, rest};
pub(crate) use made::Made;
pub use made::OddFound;
pub(crate) use making::Making;
pub use pool::PoolError;
pub(crate) use read_zones::ReadZones;
pub use recipe::{Change, Count, LayerQuantity, Origin, Recipe, Step};
pub use side::Side;
pub(crate) use stock::Stock;
pub(crate) use systems::Systems;
