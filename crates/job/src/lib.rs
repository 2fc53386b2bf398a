//! # dapedon-job
//!
//! From files and their names to measured figures: a [`Source`] says where a surface comes from,
//! [`measure`] loads both sides and the zones, brings them to one unit and frame, measures, and
//! states what it did on the way. [`inspect`] says what is in a file before it is trusted.

mod error;
mod input;
mod inspect;
mod load;
mod measure;
mod measurement;
mod scene;
mod source;

pub use error::{JobError, Span};
pub use input::{InputFile, digest};
pub use inspect::{Content, Inspection, PointsFound, SurfaceFound, ZoneFound, inspect};
pub use measure::{Request, measure};
pub use measurement::{
    Area, Closure, Difference, Extreme, Measurement, Side, Units, Volume, ZoneMeasurement,
};
pub use scene::Scene;
pub use source::{Source, SourceError, ZoneSource};
