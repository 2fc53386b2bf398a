//! # dapedon-core
//!
//! The heart of Dapedon: ground surfaces, the exact overlay of two of them, and the quantities that
//! are folds over that overlay. It knows no file, clock, terminal or argument.
//!
//! | module | holds |
//! | --- | --- |
//! | [`units`] | lengths, areas, volumes; feet distinguished |
//! | [`plan`] | places, extents, frames, convex polygons, planes, sums that lose nothing |
//! | [`surface`] | [`Surface`]: a [`Tin`] of triangular facets, a grid, or a [`Level`] |
//! | [`zones`] | outlines with holes, and the regions that they part the plan into |
//! | [`alignment`] | straights, arcs and spirals; chainage; heights along a line |
//! | [`overlay`] | [`Overlay`](overlay::Overlay) visits the convex pieces in which two surfaces meet, in parallel and in an order that does not depend on the number of threads; a [`Fold`](overlay::Fold) says what to do with each |
//! | [`points`] | surfaces from points and lines; clouds thinned to cells |
//! | [`derived`] | surfaces combined, kept within zones, raised, with platforms and embankments |
//! | [`quantities`] | [`volume`]: cut, fill, net, areas and extremes; and all else that is measured |
//!
//! [`coverage`](quantities::coverage()) finds the same areas a second way, from the outlines alone, so that every
//! measurement can state its closure.
//!
//! ```
//! use dapedon_core::plan::{Frame};
//! use dapedon_core::quantities::{Tolerance, volume};
//! use dapedon_core::surface::{Level, Surface, Tin, Vertex};
//! use dapedon_core::units::{LengthUnit};
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

pub mod alignment;
pub mod derived;
pub mod overlay;
pub mod plan;
pub mod points;
pub mod quantities;
pub mod surface;
pub mod units;
pub mod zones;

pub use plan::Frame;
pub use quantities::Tolerance;
pub use quantities::volume;
pub use surface::Level;
pub use surface::Surface;
pub use surface::Tin;
pub use surface::Vertex;
pub use units::LengthUnit;
pub use zones::Zone;
pub use zones::Zones;

/// The examples of the page that introduces the crate.
#[cfg(doctest)]
#[doc = include_str!("../README.md")]
struct Readme;
