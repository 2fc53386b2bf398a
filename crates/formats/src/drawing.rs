//! A drawing to be written: points, lines and words with heights, on layers, whatever the format.

use dapedon_core::plan::Place;
use dapedon_core::surface::Vertex;
use dapedon_core::units::LengthUnit;

/// A drawing, in grid coordinates.
#[derive(Debug, Clone, PartialEq)]
pub struct Drawing {
    /// What it is called.
    pub name: String,
    /// The unit of coordinates and heights.
    pub unit: LengthUnit,
    /// The coordinate system.
    pub crs: Option<String>,
    /// The system of heights.
    pub height_system: Option<String>,
    /// The day, as an ISO date.
    pub date: Option<String>,
    /// Decimals of coordinates and heights.
    pub decimals: usize,
    /// How high words are, on the ground.
    pub words: f64,
    /// The layers, which features name by their numbers.
    pub layers: Vec<Layer>,
    /// What each feature says, in their order.
    pub fields: Vec<Field>,
    /// What is drawn.
    pub features: Vec<Feature>,
}

/// A layer of a drawing.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Layer {
    /// Its name.
    pub name: String,
    /// Its colour, as drawings number them: 1 to 255.
    pub colour: u8,
}

/// What features say of themselves, under a name in full and one that a table of a shapefile holds: ten letters at most.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Field {
    /// In full.
    pub name: String,
    /// In short.
    pub short: String,
    /// True for words, false for numbers.
    pub is_text: bool,
}

/// Something drawn.
#[derive(Debug, Clone, PartialEq)]
pub struct Feature {
    /// The number of its layer.
    pub layer: usize,
    /// Its name.
    pub name: String,
    /// What is written beside it, where a drawing has words.
    pub label: String,
    /// Where it is.
    pub shape: Shape,
    /// What it says for each field.
    pub values: Vec<Value>,
}

/// Where something drawn is.
#[derive(Debug, Clone, PartialEq)]
pub enum Shape {
    /// At a place.
    Point(Vertex),
    /// Along some corners; the last is the first where it is closed.
    Line(Vec<Vertex>),
    /// Words alone, which only a drawing has: amidst a place, turned from east towards north by an angle in radians.
    Words(Vertex, f64),
}

/// What a feature says.
#[derive(Debug, Clone, PartialEq)]
pub enum Value {
    /// Nothing.
    Nothing,
    /// A number.
    Number(f64),
    /// Words.
    Text(String),
}

impl Drawing {
    /// What stands for itself, without words that are only drawn.
    pub(crate) fn shapes(&self) -> impl Iterator<Item = &Feature> {
        let words = |feature: &&Feature| matches!(feature.shape, Shape::Words(..));
        self.features.iter().filter(move |feature| !words(feature))
    }
}

/// True for a line that comes back to its start.
pub(crate) fn is_closed(corners: &[Vertex]) -> bool {
    let place = |vertex: &Vertex| Place::new(vertex.east, vertex.north);
    corners.len() > 2 && corners.first().map(place) == corners.last().map(place)
}
