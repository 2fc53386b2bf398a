//! DXF drawings, text or binary: points, lines and faces, layer by layer.
//!
//! Follows the published DXF reference: faces, polyface and polygon meshes, two- and
//! three-dimensional and light polylines with elevation and bulges, lines, points, arcs, circles, ellipses, splines,
//! helices, meshes, filled areas, texts that are numbers, and inserted blocks with their attributes. Curves are broken into
//! chords that lie no farther than [`CHORD`] from them; a line keeps which of its chords are an arc. Whatever else is drawn is counted by its kind and skipped.

mod arcs;
mod curves;
mod drawn_line;
mod entity;
mod error;
mod fields;
mod mesh;
mod numbers;
mod pairs;
mod place;
mod polyline;
mod reader;
mod shape;
mod surface;
mod text;
mod write;
mod write_drawing;

use std::collections::BTreeMap;

use dapedon_core::surface::Vertex;
use dapedon_core::units::LengthUnit;

pub use arcs::CHORD;
pub use drawn_line::DrawnLine;
pub use error::{DrawingPosition, DxfError};
pub use numbers::WrittenNumber;
pub(crate) use pairs::is_binary;
pub use reader::{read, read_as_drawn};
pub use surface::{surface, surfaces, zones};
pub use write::write;
pub use write_drawing::write_drawing;

/// A drawing in its own coordinates.
#[derive(Debug, Default)]
pub struct Drawing {
    /// The unit of its coordinates, made metres or feet where it was a part of them.
    pub unit: Option<LengthUnit>,
    /// The unit that the drawing states, where that is another one.
    pub stated_unit: Option<&'static str>,
    /// True where it is binary.
    pub binary: bool,
    /// The layers that hold something, by name.
    pub layers: BTreeMap<String, Layer>,
    /// Inserted symbols, each of which is one point.
    pub symbols: usize,
    /// Entities that were skipped, by kind: how many, and where the first stands.
    pub left_out: BTreeMap<String, (usize, DrawingPosition)>,
}

/// What is drawn on a layer.
#[derive(Debug, Default)]
pub struct Layer {
    /// Its points.
    pub points: Vec<Vertex>,
    /// Its lines.
    pub lines: Vec<DrawnLine>,
    /// The lines that symbols draw: no ground, unless the layer is named as lines.
    pub symbol_lines: Vec<DrawnLine>,
    /// Where flat blocks are inserted at height 0: a height may be written beside them.
    pub flat_symbols: Vec<Vertex>,
    /// Filled areas, as triangles: no ground, unless the layer is named as triangles.
    pub filled: Vec<[Vertex; 3]>,
    /// The numbers that are written on it: heights, where the layer is named as heights.
    pub numbers: Vec<WrittenNumber>,
    /// The corners of its facets, each place and height once.
    pub vertices: Vec<Vertex>,
    /// Its facets as indices of those.
    pub facets: Vec<[u32; 3]>,
    /// How many entities of each kind.
    pub kinds: BTreeMap<&'static str, usize>,
}

impl Layer {
    /// Its lowest and highest height, if there is any.
    pub fn heights(&self) -> Option<[f64; 2]> {
        let lines = self.lines.iter().flat_map(|line| &line.places);
        let all = self.points.iter().chain(lines).chain(&self.vertices);
        let ends = all.map(|vertex| [vertex.height, vertex.height]);
        ends.reduce(|[low, high], [height, _]| [low.min(height), high.max(height)])
    }
}

#[cfg(test)]
mod tests;
