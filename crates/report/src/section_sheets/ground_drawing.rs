//! Sheets as a drawing: side by side, in the unit of the survey, so that offsets measure true.

use dapedon_core::surface::Vertex;
use dapedon_formats::drawing::{Drawing, Feature, Layer, Shape};

use super::SectionSheets;
use super::paper_drawing::{Anchor, Ink, Item, width_of};
use dapedon_core::units::LengthUnit;

/// From sheet to sheet, in millimetres of paper.
const APART: f64 = 30.0;

/// All sheets as one drawing, with layers for each surface, for cut and fill, the grid and the words. A length along a section is that of
/// the ground; heights are as exaggerated as on the sheets.
pub fn sheets_as_drawing(sheets: &SectionSheets) -> Drawing {
    let unit = sheets.unit;
    // Units of the ground for a millimetre.
    let ground = LengthUnit::Metre.convert(f64::from(sheets.scale) / 1000.0, unit);
    let mut layers: Vec<Layer> = Vec::new();
    for (number, name) in sheets.surfaces.iter().enumerate() {
        let colour = [34, 142, 92, 212, 32, 172];
        layers.push(Layer {
            name: format!("SURFACE_{name}"),
            colour: colour[number % colour.len()],
        });
    }
    let surfaces = layers.len();
    for (name, colour) in [
        ("LINE", 1),
        ("CUT", 32),
        ("FILL", 142),
        ("GRID", 9),
        ("FRAME", 8),
    ] {
        layers.push(Layer {
            name: name.into(),
            colour,
        });
    }
    let layer = |ink: Ink| match ink {
        Ink::Surface(number) => number.min(surfaces.saturating_sub(1)),
        Ink::Line => surfaces,
        Ink::Cut => surfaces + 1,
        Ink::Fill => surfaces + 2,
        Ink::Grid => surfaces + 3,
        Ink::Frame | Ink::Words => surfaces + 4,
    };
    let mut features = Vec::new();
    let mut left = 0.0;
    for sheet in &sheets.sheets {
        let place =
            |[x, y]: [f64; 2]| Vertex::new((left + x) * ground, (sheet.size[1] - y) * ground, 0.0);
        for item in &sheet.items {
            let (own, shape, label) = match item {
                Item::Line { ink, corners, .. } => (
                    layer(*ink),
                    Shape::Line(corners.iter().map(|&at| place(at)).collect()),
                    String::new(),
                ),
                Item::Patch { ink, ring } => {
                    let closed = ring.iter().chain(ring.first());
                    (
                        layer(*ink),
                        Shape::Line(closed.map(|&at| place(at)).collect()),
                        String::new(),
                    )
                }
                Item::Words {
                    at,
                    size,
                    anchor,
                    words,
                    ..
                } => {
                    // Words of a drawing stand amidst their place.
                    let half = width_of(words, *size) / 2.0;
                    let by = match anchor {
                        Anchor::Start => half,
                        Anchor::Middle => 0.0,
                        Anchor::End => -half,
                    };
                    let middle = [at[0] + by, at[1]];
                    (
                        layer(Ink::Words),
                        Shape::Words(place(middle), 0.0),
                        words.clone(),
                    )
                }
            };
            features.push(Feature {
                layer: own,
                name: String::new(),
                label,
                shape,
                values: Vec::new(),
            });
        }
        left += sheet.size[0] + APART;
    }
    Drawing {
        name: sheets.name.clone(),
        unit,
        crs: None,
        height_system: None,
        date: sheets.date.clone(),
        decimals: 4,
        words: super::frame::SMALL * ground,
        layers,
        fields: Vec::new(),
        features,
    }
}
