//! Maps: where cut and fill lie, and what the ground is like. One kind of sheet for all of them.

mod classes;
mod difference;
mod ground;
mod labels;
mod over;
mod paper;
mod picture;
mod sheet;
mod title;

use std::sync::Arc;

use dapedon_core::alignment::Alignment;
use dapedon_core::plan::Place;
use dapedon_core::quantities::Contour;

pub use difference::{MapWords, difference_map};
pub use ground::{Mark, ground_map};
pub use paper::{Paper, PaperSize, TooLarge};
pub use picture::{png, without_letter};
pub use title::TitleBlock;

/// Dots to an inch of a picture on paper, where nothing is said.
pub const RESOLUTION: f64 = 200.0;
/// Dots to an inch of a screen (SVG, 8.9).
pub const SCREEN: f64 = 96.0;
/// Pixels for a unit of a map for a screen: many screens have more than their units.
const SHARPER: f64 = 1.3;
/// Pixels along a side at most: more would not be seen.
const MOST_PIXELS: f64 = 5_000.0;

/// How a map is drawn.
#[derive(Debug, Clone, Default)]
pub struct MapOptions {
    /// The paper; without, it is drawn for a screen.
    pub paper: Option<Paper>,
    /// Dots to an inch of the picture below the lines.
    pub resolution: Option<f64>,
    /// What it says of itself.
    pub title: Option<TitleBlock>,
    /// What is drawn over the colours.
    pub shown: Vec<Shown>,
    /// It becomes a picture of pixels: what is packed within it on the way need not be small.
    pub is_picture: bool,
}

/// What is drawn over the colours of a map.
#[derive(Debug, Clone, PartialEq)]
pub enum Shown {
    /// Contours of the surveyed surface: the interval, or a round one.
    Contours(Option<f64>),
    /// Differences at the places of a grid of this spacing; on a map of ground its heights.
    Spots(f64),
    /// The edges of the triangles of the surveyed surface.
    Triangles,
    /// The points of the surveyed surface.
    Points,
    /// A line with its chainages, in grid coordinates.
    Line(Box<Alignment>),
    /// The breaklines of the surveyed surface, in local coordinates.
    Breaklines(Arc<Vec<Vec<Place>>>),
    /// Where sections are cut.
    Cuts(Vec<MapCut>),
    /// From where to where material is carried.
    Arrows(Vec<MapArrow>),
    /// Places with their names.
    Places(Vec<MapPlace>),
    /// Contours that are known already.
    Lines(Box<MapContours>),
    /// Values that are known already.
    Values(Vec<MapValue>),
    /// Colours that pass into each other, in place of bands.
    Continuous,
}

/// Where a section is cut, on a map.
#[derive(Debug, Clone, PartialEq)]
pub struct MapCut {
    /// Its left and its right end, in grid coordinates.
    pub ends: [Place; 2],
    /// Its chainage.
    pub label: String,
}

/// What is carried from one place to another, on a map.
#[derive(Debug, Clone, PartialEq)]
pub struct MapArrow {
    /// From where to where, in grid coordinates.
    pub ends: [Place; 2],
    /// How much: it is as wide.
    pub volume: f64,
    /// The same in words.
    pub label: String,
}

/// A place on a map with its name.
#[derive(Debug, Clone, PartialEq)]
pub struct MapPlace {
    /// Where, in grid coordinates.
    pub at: Place,
    /// Its name.
    pub name: String,
}

/// Contours on a map.
#[derive(Debug, Clone, PartialEq)]
pub struct MapContours {
    /// Decimals of their labels.
    pub decimals: usize,
    /// The lines, in grid coordinates; true for those of index contours.
    pub lines: Vec<(bool, Contour)>,
}

/// A value on a map.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct MapValue {
    /// Where, in grid coordinates.
    pub at: Place,
    /// The difference or height.
    pub value: f64,
}

/// What a map could not show.
#[derive(Debug, Clone, Copy, Default, PartialEq, Eq)]
pub struct LeftOut {
    /// Labels for which there is no room.
    pub labels: usize,
    /// Triangles or points too many to be told apart.
    pub details: bool,
    /// Breaklines, where the surface has none.
    pub breaklines: bool,
}

impl MapOptions {
    /// How wide and how high the map may be, in pixels: for the picture that is taken when it is measured, before it is known what else is
    /// on the sheet.
    pub fn room(&self) -> [f64; 2] {
        let room = match &self.paper {
            None => {
                let dots = self.resolution.map_or(SHARPER, |dots| dots / SCREEN);
                sheet::ROOM.map(|along| along * dots)
            }
            Some(paper) => sheet::room_on(paper)
                .map(|along| along / 25.4 * self.resolution.unwrap_or(RESOLUTION)),
        };
        room.map(|pixels| pixels.clamp(100.0, MOST_PIXELS))
    }

    fn has(&self, wanted: &Shown) -> bool {
        self.shown.contains(wanted)
    }
}
