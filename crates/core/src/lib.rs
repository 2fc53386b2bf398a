//! # dapedon-core
//!
//! The heart of Dapedon: ground surfaces, the exact overlay of two of them, and the quantities that
//! are folds over that overlay. It knows no file, clock, terminal or argument.
//!
//! * [`Surface`] is a ground model: a [`Tin`] of planar triangular facets, or a [`Level`].
//! * [`Overlay`] visits the convex pieces in which two surfaces meet, in parallel and in an order
//!   that does not depend on the number of threads; a [`Fold`] says what to do with each piece.
//! * [`volume`] is such a fold: cut, fill, net, their areas and the extremes between them.
//! * [`coverage`] finds the same areas a second way, from the outlines alone, so that every
//!   measurement can state its closure.
//!
//! ```
//! use dapedon_core::{Frame, Level, LengthUnit, Surface, Tin, Tolerance, Vertex, volume};
//!
//! let frame = Frame::new(LengthUnit::Metre, [500_000.0, 6_000_000.0]);
//! let corners = [(0.0, 0.0), (10.0, 0.0), (10.0, 10.0), (0.0, 10.0)];
//! let ground = corners.map(|(e, n)| Vertex::new(500_000.0 + e, 6_000_000.0 + n, 20.0));
//! let tin = Tin::from_facets(frame, ground.to_vec(), vec![[0, 1, 2], [0, 2, 3]]).unwrap();
//!
//! let dug = Surface::Level(Level::new(frame, 18.5));
//! let measured = volume(&Surface::Tin(tin), &dug, None, Tolerance::ZERO).unwrap();
//! assert_eq!(measured[0].volume.cut, 150.0);
//! ```

mod alignment;
mod assembly;
mod balance;
mod base;
mod breaklines;
mod capacity;
mod clip;
mod combined;
mod coverage;
mod crossing;
mod curve;
mod delaunay;
mod depths;
mod difference;
mod difference_map;
mod empty;
mod frame;
mod grid;
mod ground_area;
mod level_area;
mod mask;
mod near;
mod neighbours;
mod odd;
mod outline;
mod overlaps;
mod overlay;
mod patches;
mod pick_up;
mod plan;
mod plane;
mod raster;
mod regions;
mod repeated;
mod rings;
mod rising;
mod rows;
mod run_out;
mod sampled;
mod shifted;
mod standing;
mod stitch;
mod strips;
mod sum;
mod surface;
mod sweep;
mod thin;
mod tin;
mod top;
mod units;
mod volume;
mod zone;
mod zonewise;

pub use alignment::{
    Alignment, Chainage, Course, Curve, Element, Equation, Gap, Profile, ProfileError, Summit, Turn,
};
pub use balance::{Balance, Search, Shifted, at_rest, balance, balance_by};
pub use base::{Base, BaseError, Toe};
pub use breaklines::Crossing;
pub use capacity::{
    Basin, Between, Pool, PoolError, Spill, TypedAreas, TypedAreasError, average_end_area, conic,
};
pub use clip::Polygon;
pub use combined::{Choice, combined, within};
pub use coverage::{Coverage, Overlap, coverage, shared_area};
pub use delaunay::{Dropped, TriangulateError, Triangulated, triangulate};
pub use depths::{Beyond, depths};
pub use difference::difference;
pub use difference_map::{DifferenceMap, Pixel, difference_map};
pub use empty::{EmptyArea, empty_areas};
pub use frame::Frame;
pub use grid::{Grid, GridError};
pub use ground_area::{GroundArea, ground_areas};
pub use level_area::{Side, level_area};
pub use mask::mask;
pub use odd::{OddPoint, odd_points};
pub use outline::Outline;
pub use overlaps::each_overlap;
pub use overlay::{Fold, Overlay, OverlayError, Piece, Strip, Triangle};
pub use patches::{Patch, Patches, patches};
pub use pick_up::{Line, LineKind, PickUp, Rules, SamePlace};
pub use plan::{Edge, Extent, Place};
pub use plane::Plane;
pub use regions::{Region, regions};
pub use rising::Storage;
pub use run_out::{RunOut, RunOutError, Slopes, run_out};
pub use sampled::{Sampled, sampled};
pub use standing::{Clear, Standing, standing};
pub use sum::Sum;
pub use surface::{Level, Surface};
pub use thin::{Keep, ThinnedCells, Thinner, TooManyCells};
pub use tin::{FARTHEST, Tidied, Tin, TinError, Vertex};
pub use top::{CrestError, Ends, Top};
pub use units::{AreaUnit, Foot, LengthUnit, MassUnit, UnitError, VolumeUnit};
pub use volume::{Areas, Differences, Extreme, Tolerance, Volumes, ZoneVolume, volume, volumes};
pub use zone::{Zone, ZoneError, Zones};
pub use zonewise::{Treatment, zonewise};

/// The examples of the page that introduces the crate.
#[cfg(doctest)]
#[doc = include_str!("../README.md")]
struct Readme;
