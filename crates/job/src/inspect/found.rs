//! What is found in a file besides surfaces.

use std::collections::BTreeMap;

use dapedon_core::alignment::Alignment;
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use crate::quantities::Extreme;
use crate::schema::Word;

/// How delimited text was understood.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct ColumnsFound {
    /// What parts the fields.
    pub delimiter: Word,
    /// The encoding.
    pub encoding: Word,
    /// True where numbers have decimal commas.
    pub decimal_comma: bool,
    /// Comment lines.
    pub comments: u64,
    /// The header, if there is one.
    pub header: Option<Vec<String>>,
    /// What each column was read as.
    pub roles: Vec<String>,
    /// The first rows under them.
    pub rows: Vec<Vec<String>>,
    /// The codes, and how many points have each.
    pub codes: Vec<(String, usize)>,
}

/// A layer of a drawing, or of a map file with several.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct LayerFound {
    /// Its name.
    pub name: String,
    /// How many entities or features of each kind.
    pub kinds: BTreeMap<Word, usize>,
    /// Lowest and highest height, in the unit of the file, if there is any.
    pub heights: Option<[f64; 2]>,
}

/// An alignment of a file.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct LineFound {
    /// Its name.
    pub name: String,
    /// The distance along it.
    pub length: f64,
    /// Chainage at its start and end.
    pub chainage: [f64; 2],
    /// Jumps of the chainage.
    pub equations: usize,
    /// How many straights, arcs and spirals.
    pub elements: BTreeMap<Word, usize>,
    /// From where to where there are heights along it, as distances.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub profile: Option<[f64; 2]>,
}

impl LineFound {
    pub(super) fn of(line: &Alignment) -> Self {
        let mut elements = BTreeMap::new();
        for element in line.elements() {
            *elements.entry(element.name().into()).or_insert(0) += 1;
        }
        let summits = line.profile().map(|profile| profile.summits());
        let ends = summits.and_then(|summits| Some([summits.first()?, summits.last()?]));
        LineFound {
            name: line.name().into(),
            length: line.length(),
            chainage: [0.0, line.length()].map(|distance| line.chainage().of(distance)),
            equations: line.chainage().equations().len(),
            elements,
            profile: ends.map(|ends| ends.map(|summit| summit.distance)),
        }
    }
}

/// An attribute of the features of a map.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
pub struct AttributeFound {
    /// Its name.
    pub name: String,
    /// The layer of its features, where the file has several.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub layer: Option<String>,
    /// How many features have a value of it.
    pub features: usize,
    /// Some of its values.
    #[serde(default)]
    pub samples: Vec<String>,
}

/// The features of a map.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct FeaturesFound {
    /// How many of each kind: points, lines, areas, triangles, without geometry.
    pub kinds: BTreeMap<Word, usize>,
    /// How many of them have heights.
    pub with_heights: usize,
    /// South-west corner, if there is a corner.
    pub min: Option<Extreme>,
    /// North-east corner, likewise.
    pub max: Option<Extreme>,
}

/// A zone of a file.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct ZoneFound {
    /// Its name.
    pub name: String,
    /// Corners of all its rings.
    pub corners: usize,
    /// Parts.
    pub parts: usize,
    /// Holes.
    pub holes: usize,
    /// Area, in squares of the length unit.
    pub area: f64,
    /// South-west corner.
    pub min: Extreme,
    /// North-east corner.
    pub max: Extreme,
}
