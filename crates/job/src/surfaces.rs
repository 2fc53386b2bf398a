//! Surfaces: from what a file holds, and step by step as a job derives them.

mod apart;
mod build_up;
mod error;
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

pub use apart::ApartError;
pub(crate) use apart::{apart, not_laid};
pub use error::SurfaceError;
pub(crate) use error::unit_remedy;
pub(crate) use facets::{facets, kept, rest};
pub use ground::GroundError;
pub(crate) use made::Made;
pub use made::OddFound;
pub(crate) use making::Making;
pub use pool::PoolError;
pub(crate) use read_zones::ReadZones;
pub use recipe::{Change, Count, LayerQuantity, Origin, Recipe, Step};
pub use side::Side;
pub(crate) use stock::Stock;
pub(crate) use systems::Systems;
