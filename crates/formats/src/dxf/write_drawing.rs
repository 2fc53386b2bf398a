//! Points, lines and words as a DXF drawing.

use std::io::{self, Write};

use dapedon_core::surface::Vertex;

use super::write::{close, layer_name, open};
use crate::drawing::{Drawing, Feature, Layer, Shape, is_closed};
use crate::fixed::Fixed;

/// What is added to the name of a layer for its words.
const WORDS: &str = "_TEXT";
/// From a point to the words beside it, in heights of the words.
const ASIDE: f64 = 0.4;

/// Writes a drawing: points, lines with a height at each corner, and words on layers of their own.
///
/// # Errors
///
/// When writing fails.
pub fn write_drawing(mut out: impl Write, drawing: &Drawing) -> io::Result<()> {
    let plain = drawing.layers.iter().map(|layer| Layer {
        name: layer_name(&layer.name),
        colour: layer.colour.max(1),
    });
    let plain: Vec<Layer> = plain.collect();
    let words = plain.iter().map(|layer| Layer {
        name: layer_name(&format!("{}{WORDS}", layer.name)),
        ..*layer
    });
    let words: Vec<Layer> = words.collect();
    let all: Vec<&Layer> = plain.iter().chain(&words).collect();
    open(&mut out, drawing.unit, &all)?;
    for feature in &drawing.features {
        let (Some(layer), Some(text)) = (plain.get(feature.layer), words.get(feature.layer)) else {
            continue;
        };
        match &feature.shape {
            Shape::Point(at) => {
                writeln!(out, "0\nPOINT\n8\n{}", layer.name)?;
                place(&mut out, *at, drawing.decimals)?;
                let aside = ASIDE * drawing.words;
                let beside = Vertex::new(at.east + aside, at.north + aside, at.height);
                self::text(&mut out, drawing, feature, &text.name, beside, None)?;
            }
            Shape::Line(corners) => {
                let closed = is_closed(corners);
                // Bit 8: each corner has its own height; bit 1: the last corner is joined to the first.
                let flags = 8 + u8::from(closed);
                writeln!(
                    out,
                    "0\nPOLYLINE\n8\n{}\n66\n1\n10\n0.0\n20\n0.0\n30\n0.0\n70\n{flags}",
                    layer.name
                )?;
                let last = corners.len() - usize::from(closed);
                for &corner in corners.iter().take(last) {
                    writeln!(out, "0\nVERTEX\n8\n{}", layer.name)?;
                    place(&mut out, corner, drawing.decimals)?;
                    writeln!(out, "70\n32")?;
                }
                writeln!(out, "0\nSEQEND\n8\n{}", layer.name)?;
            }
            Shape::Words(at, turned) => {
                self::text(&mut out, drawing, feature, &text.name, *at, Some(*turned))?;
            }
        }
    }
    close(&mut out)
}

fn place(out: &mut impl Write, at: Vertex, decimals: usize) -> io::Result<()> {
    let [east, north, height] = [at.east, at.north, at.height].map(|n| Fixed(n, decimals));
    writeln!(out, "10\n{east}\n20\n{north}\n30\n{height}")
}

/// The label of a feature: to the right of a place, or amidst it where it is turned.
fn text(
    out: &mut impl Write,
    drawing: &Drawing,
    feature: &Feature,
    layer: &str,
    at: Vertex,
    turned: Option<f64>,
) -> io::Result<()> {
    if feature.label.is_empty() {
        return Ok(());
    }
    writeln!(out, "0\nTEXT\n8\n{layer}")?;
    place(out, at, drawing.decimals)?;
    let height = Fixed(drawing.words, drawing.decimals);
    writeln!(out, "40\n{height}\n1\n{}", in_ascii(&feature.label))?;
    if let Some(turned) = turned {
        let degrees = Fixed(turned.to_degrees(), 6);
        // Centred both ways, which needs the place once more.
        let [east, north, up] = [at.east, at.north, at.height].map(|n| Fixed(n, drawing.decimals));
        writeln!(
            out,
            "50\n{degrees}\n72\n1\n73\n2\n11\n{east}\n21\n{north}\n31\n{up}"
        )?;
    }
    Ok(())
}

/// Words in the letters that the oldest version has; others by their numbers.
fn in_ascii(words: &str) -> String {
    let mut text = String::new();
    for c in words.chars() {
        match c {
            '−' => text.push('-'),
            c if c.is_ascii() && !c.is_ascii_control() => text.push(c),
            c if !c.is_control() => {
                let mut units = [0; 2];
                for unit in c.encode_utf16(&mut units) {
                    text.push_str(&format!("\\U+{unit:04X}"));
                }
            }
            _ => text.push(' '),
        }
    }
    text
}
