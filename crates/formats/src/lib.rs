//! # dapedon-formats
//!
//! One module a file format, each between bytes and what the core measures. Readers stream: they
//! hold at most what they deliver, in the file's own grid coordinates and unit.
//!
//! * [`asc`] holds grids of heights as text,
//! * [`delimited`] points as instruments and spreadsheets write them,
//! * [`dxf`] drawings, layer by layer,
//! * [`e57`] clouds of scanners,
//! * [`geojson`] features of maps,
//! * [`geopackage`] features of maps, in layers,
//! * [`geotiff`] grids of heights as pictures,
//! * [`landxml`] surfaces as design offices write them,
//! * [`las`] clouds of points,
//! * [`obj`] meshes,
//! * [`ply`] meshes and clouds of points,
//! * [`shapefile`] features of maps, in several files.
//!
//! [`Format`] is the table of them all.

pub mod asc;
mod code_uses;
mod codes;
pub mod delimited;
pub mod drawing;
pub mod dxf;
pub mod e57;
mod encoding;
pub mod features;
mod fixed;
mod foreign;
pub mod geojson;
mod geokeys;
pub mod geopackage;
pub mod geotiff;
mod guard;
mod heights;
pub mod landxml;
pub mod las;
pub mod obj;
pub mod ply;
mod point_accuracies;
mod position;
pub mod shapefile;
mod sqlite;
mod table;
mod visible;
mod wkt;
mod zones;

pub use code_uses::{CodeUse, CodeUses, CodeUsesError};
pub use encoding::Utf8;
pub(crate) use encoding::read_line;
pub use foreign::{Foreign, foreign};
pub use heights::{HeightSystem, HeightUnit, height_system, same_height_system};
pub use point_accuracies::{PointAccuracies, StatedOfPoints};
pub use position::{Position, locate};
pub use table::Format;
pub use visible::{acts, visible, visible_lines};
pub use wkt::{is_web_mercator, same_system};
pub use zones::{RawZone, RawZones};

use std::collections::BTreeMap;

use dapedon_core::plan::Place;
use dapedon_core::points::{Line, LineKind};
use dapedon_core::surface::Vertex;
use dapedon_core::units::LengthUnit;

/// A surface as a file holds it: grid coordinates, and the unit if the file says one.
#[derive(Debug, Clone, Default)]
pub struct RawSurface {
    /// Its name; empty where the format has none.
    pub name: String,
    /// The unit of coordinates and heights.
    pub unit: Option<LengthUnit>,
    /// The unit of heights, where the file has one for them.
    pub height_unit: Option<HeightUnit>,
    /// A unit of the file that is not supported.
    pub unknown_unit: Option<String>,
    /// The unit that the file states, where its lengths were converted from it.
    pub stated_unit: Option<String>,
    /// True where heights count downwards.
    pub is_depth: bool,
    /// The coordinate system, as the file names it.
    pub crs: Option<String>,
    /// The system of heights, likewise.
    pub height_system: Option<String>,
    /// Its points.
    pub vertices: Vec<Vertex>,
    /// Its facets as indices of points; `None` when there is only what a surface is made from.
    pub facets: Option<Vec<[u32; 3]>>,
    /// Its heights on a grid, where that is how the file holds it; then there are no points.
    pub grid: Option<RawGrid>,
    /// The lines between its points.
    pub lines: Vec<Line>,
    /// Outlines without heights, which cut the surface as it is.
    pub outlines: Vec<FlatOutline>,
    /// The codes of its points, or the layers of its drawing: what can be taken as something.
    pub names: Vec<String>,
    /// The layers of its drawing on which numbers are written.
    pub written_heights: Vec<String>,
    /// What was understood: which part of the file was taken as what.
    pub notes: Vec<String>,
    /// Facets the file marks as not to be shown, skipped.
    pub invisible: usize,
    /// What else was skipped: how many of each kind.
    pub left_out: BTreeMap<String, usize>,
    /// What the file says of the day it was made.
    pub date: Option<String>,
    /// How accurate the file says its points are.
    pub accuracies: PointAccuracies,
}

/// A closed outline without heights.
#[derive(Debug, Clone, PartialEq)]
pub struct FlatOutline {
    /// What it bounds.
    pub kind: LineKind,
    /// Its corners in grid coordinates, the first again at the end.
    pub ring: Vec<Place>,
}

/// Heights on a regular grid.
#[derive(Debug, Clone)]
pub struct RawGrid {
    /// The south-west node in grid coordinates.
    pub corner: Place,
    /// From node to node, towards east and north.
    pub step: [f64; 2],
    /// Columns and rows of nodes.
    pub size: [usize; 2],
    /// Row by row from the south-west; not a number where there is none.
    pub heights: Vec<f64>,
}

impl RawSurface {
    /// Takes units and systems that the file does not state itself from the text beside it (`.prj`); false where that is of
    /// latitude and longitude.
    pub fn take_system(&mut self, text: &str) -> bool {
        let system = wkt::system(text);
        self.unit = self.unit.or(system.unit);
        self.height_unit = self.height_unit.or(system.heights);
        self.unknown_unit = self.unknown_unit.take().or(system.unknown_unit);
        self.is_depth |= system.is_depth;
        if self.crs.is_none() {
            self.crs = system.name;
            self.notes.extend(system.note);
        }
        self.height_system = self.height_system.take().or(system.height_system);
        !system.is_geographic
    }

    /// Makes all text in it safe to be read.
    pub fn make_visible(&mut self) {
        let texts = [&mut self.name]
            .into_iter()
            .chain(&mut self.crs)
            .chain(&mut self.height_system)
            .chain(&mut self.date);
        for text in texts.chain(&mut self.names).chain(&mut self.notes) {
            visible::replace(text);
        }
        if self.left_out.keys().any(|kind| kind.contains(acts)) {
            let left_out = std::mem::take(&mut self.left_out).into_iter();
            self.left_out = left_out
                .map(|(kind, count)| (visible(&kind).into_owned(), count))
                .collect();
        }
    }
}

/// The examples of the page that introduces the crate.
#[cfg(doctest)]
#[doc = include_str!("../README.md")]
struct Readme;
