//! # dapedon-formats
//!
//! One module a file format, each between bytes and what the core measures. Readers stream: they
//! hold at most what they hand over, in the file's own grid coordinates and unit.
//!
//! * [`delimited`]: points as instruments and spreadsheets write them.
//! * [`landxml`]: surfaces as design offices write them.
//! * [`geojson`]: outlines of zones.
//!
//! [`Format`] is the table of them all.

pub mod delimited;
pub mod geojson;
pub mod landxml;
mod position;
mod table;

pub use position::{Position, locate};
pub use table::Format;

use dapedon_core::{LengthUnit, Vertex};

/// A surface as a file holds it: grid coordinates, and the unit if the file says one.
#[derive(Debug, Clone, Default)]
pub struct RawSurface {
    /// Its name; empty where the format has none.
    pub name: String,
    /// The unit of coordinates and heights.
    pub unit: Option<LengthUnit>,
    /// Its points.
    pub vertices: Vec<Vertex>,
    /// Its facets as indices of points; `None` when the file holds points only.
    pub facets: Option<Vec<[u32; 3]>>,
    /// Facets the file marks as not to be shown, left out.
    pub invisible: usize,
    /// What the file says of the day it was made.
    pub date: Option<String>,
}
