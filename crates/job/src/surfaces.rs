//! Surfaces: from what a file holds, and step by step as a job derives them.

mod build_up;
mod error;
mod facets;
mod facts;
pub(crate) mod ground;
pub(crate) mod level_zones;
mod line_error;
mod lines;
mod made;
mod making;
mod no_overlap;
mod pool;
mod read_zones;
mod recipe;
mod store;
mod systems;

pub use error::SurfaceError;
pub(crate) use error::unit_remedy;
pub(crate) use facets::{facets, kept, rest};
pub use facts::SurfaceFacts;
pub use ground::GroundError;
pub use line_error::LineError;
pub use lines::DrawnLines;
pub(crate) use lines::{distance, stretch, with_chainage};
pub(crate) use made::MadeSurface;
pub use made::OutlierFound;
pub(crate) use making::{LayerBetween, Making, Raised};
pub use no_overlap::NoOverlapError;
pub(crate) use no_overlap::{apart, not_laid};
pub use pool::PoolError;
pub(crate) use read_zones::ReadZones;
pub use recipe::{Change, Count, LayerQuantity, Origin, Recipe, Step};
pub(crate) use store::Surfaces;
pub(crate) use systems::{Systems, same_crs};
