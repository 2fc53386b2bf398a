//! The numbers and words of one entity.

use std::io::BufRead;

use dapedon_core::surface::Vertex;

use super::DxfError;
use super::arcs::Chords;
use super::pairs::Pairs;
use super::place::Placing;
use super::text::unescaped;

/// The numbers and words of one entity, in the order of the file.
#[derive(Default)]
pub(super) struct Fields {
    pub(super) kind: String,
    pub(super) layer: String,
    pub(super) name: Vec<u8>,
    /// Its text, pieces joined.
    pub(super) text: Vec<u8>,
    pub(super) numbers: Vec<(i32, f64)>,
    /// Of the whole drawing.
    pub(super) chords: Chords,
}

impl Fields {
    /// Reads the pairs of an entity whose name is at hand.
    pub(super) fn read<R: BufRead>(&mut self, pairs: &mut Pairs<R>) -> Result<(), DxfError> {
        self.kind.clear();
        self.kind
            .push_str(&String::from_utf8_lossy(pairs.text().trim_ascii()));
        self.layer.clear();
        self.name.clear();
        self.text.clear();
        self.numbers.clear();
        loop {
            pairs.next()?;
            match pairs.code {
                0 => {
                    pairs.put_back();
                    return Ok(());
                }
                2 => self.name = pairs.text().trim_ascii().to_ascii_uppercase(),
                // Long texts come in pieces, the last of which has code 1.
                1 | 3 => self.text.extend_from_slice(pairs.text()),
                8 => self.layer.push_str(&unescaped(pairs.text())),
                10..=59 | 66..=79 | 90..=93 | 210 | 220 | 230 => {
                    let number = pairs.number(&self.kind)?;
                    self.numbers.push((pairs.code, number));
                }
                _ => {}
            }
        }
    }

    pub(super) fn get(&self, code: i32) -> Option<f64> {
        let found = self.numbers.iter().find(|&&(found, _)| found == code);
        found.map(|&(_, number)| number)
    }

    pub(super) fn or(&self, code: i32, otherwise: f64) -> f64 {
        self.get(code).unwrap_or(otherwise)
    }

    /// A whole number that is a set of marks.
    pub(super) fn marks(&self, code: i32) -> u32 {
        self.or(code, 0.0) as u32
    }

    /// The place whose east has group code `code`.
    pub(super) fn vertex(&self, code: i32) -> Vertex {
        Vertex::new(
            self.or(code, 0.0),
            self.or(code + 10, 0.0),
            self.or(code + 20, 0.0),
        )
    }

    pub(super) fn plane(&self) -> Placing {
        Placing::drawn_along([self.or(210, 0.0), self.or(220, 0.0), self.or(230, 1.0)])
    }
}
