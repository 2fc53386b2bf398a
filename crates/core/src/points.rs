//! Surfaces from points and lines: the net, how points lie, and clouds thinned to cells.

pub(crate) mod breaklines;
pub(crate) mod delaunay;
pub(crate) mod empty;
pub(crate) mod far;
mod flat;
pub(crate) mod outliers;
pub(crate) mod outline_lines;
pub(crate) mod patches;
pub(crate) mod pick_up;
pub(crate) mod repeated;
pub(crate) mod thin;

pub use breaklines::Crossing;
pub use delaunay::{Dropped, TriangulateError, Triangulated, triangulate};
pub use empty::{EmptyArea, empty_areas};
pub use far::far_off;
pub use outliers::{Outlier, odd_points};
pub use patches::{Patch, Patches, patches};
pub use pick_up::{Duplicates, FlatTriangles, Line, LineKind, PickUp, Rules};
pub use thin::{Keep, ThinnedCells, Thinner, TooManyCells};
