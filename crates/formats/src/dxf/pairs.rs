//! The pairs of group code and value that a drawing is made of, as text or binary.

use std::io::BufRead;

use super::{DrawingPosition, DxfError};
use crate::read_line;

/// The first bytes of a binary drawing.
const BINARY: &[u8] = b"AutoCAD Binary DXF\r\n\x1a\0";

/// True when the first bytes are those of a binary drawing.
pub(crate) fn is_binary(head: &[u8]) -> bool {
    head.starts_with(BINARY)
}

/// A value as it stands in the file.
#[derive(Debug)]
pub(super) enum Value {
    /// Text, kept in [`Pairs::text`].
    Text,
    Real(f64),
    Whole(i64),
}

/// Reads pairs.
pub(super) struct Pairs<R> {
    input: R,
    kind: Kind,
    at: DrawingPosition,
    pub(super) code: i32,
    pub(super) value: Value,
    text: Vec<u8>,
    line: Vec<u8>,
    again: bool,
}

#[derive(Debug, Clone, Copy, PartialEq)]
enum Kind {
    Text,
    /// Binary; group codes take a byte, or two.
    Binary {
        wide: bool,
    },
}

impl<R: BufRead> Pairs<R> {
    pub(super) fn open(mut input: R) -> Result<Self, DxfError> {
        let head = input.fill_buf()?;
        let kind = if is_binary(head) {
            // A narrow code is followed by a word at once, or led by 255.
            let wide = !matches!(head[BINARY.len()..], [255, ..] | [0, 1..=255, ..]);
            input.consume(BINARY.len());
            Kind::Binary { wide }
        } else {
            let mark = if head.starts_with(b"\xef\xbb\xbf") {
                3
            } else {
                0
            };
            input.consume(mark);
            Kind::Text
        };
        Ok(Pairs {
            input,
            at: match kind {
                Kind::Text => DrawingPosition::Line(0),
                Kind::Binary { .. } => DrawingPosition::Byte(BINARY.len() as u64),
            },
            kind,
            code: 0,
            value: Value::Text,
            text: Vec::new(),
            line: Vec::new(),
            again: false,
        })
    }

    /// Where the pair at hand stands.
    pub(super) fn at(&self) -> DrawingPosition {
        self.at
    }

    /// The text of the pair at hand.
    pub(super) fn text(&self) -> &[u8] {
        &self.text
    }

    pub(super) fn is_binary(&self) -> bool {
        self.kind != Kind::Text
    }

    /// Hands out the pair at hand once more.
    pub(super) fn put_back(&mut self) {
        self.again = true;
    }

    /// Moves to the next pair.
    pub(super) fn next(&mut self) -> Result<(), DxfError> {
        if std::mem::take(&mut self.again) {
            return Ok(());
        }
        match self.kind {
            Kind::Text => self.next_text(),
            Kind::Binary { wide } => self.next_binary(wide),
        }
    }

    fn next_text(&mut self) -> Result<(), DxfError> {
        self.line.clear();
        self.read_line()?;
        let code = self.line.trim_ascii();
        self.code = whole(code)
            .and_then(|code| i32::try_from(code).ok())
            .ok_or_else(|| DxfError::NotACode {
                at: self.at,
                found: shown(code),
            })?;
        self.line.clear();
        self.read_line()?;
        std::mem::swap(&mut self.text, &mut self.line);
        let end = self
            .text
            .iter()
            .rposition(|byte| !matches!(byte, b'\r' | b'\n'));
        self.text.truncate(end.map_or(0, |end| end + 1));
        self.value = Value::Text;
        Ok(())
    }

    fn read_line(&mut self) -> Result<(), DxfError> {
        let read = read_line(&mut self.input, &mut self.line)?;
        if read == 0 {
            return Err(DxfError::CutOff { at: self.at });
        }
        if let DrawingPosition::Line(line) = &mut self.at {
            *line += 1;
        }
        Ok(())
    }

    fn next_binary(&mut self, wide: bool) -> Result<(), DxfError> {
        let code = if wide {
            i16::from_le_bytes(self.bytes()?)
        } else {
            match self.bytes::<1>()? {
                [255] => i16::from_le_bytes(self.bytes()?),
                [code] => i16::from(code),
            }
        };
        self.code = i32::from(code);
        self.text.clear();
        self.value = match code {
            10..=59 | 110..=149 | 210..=239 | 460..=469 | 1010..=1059 => {
                Value::Real(f64::from_le_bytes(self.bytes()?))
            }
            60..=79 | 170..=179 | 270..=289 | 370..=389 | 400..=409 | 1060..=1070 => {
                Value::Whole(i64::from(i16::from_le_bytes(self.bytes()?)))
            }
            90..=99 | 420..=429 | 440..=459 | 1071 => {
                Value::Whole(i64::from(i32::from_le_bytes(self.bytes()?)))
            }
            160..=169 => Value::Whole(i64::from_le_bytes(self.bytes()?)),
            290..=299 => Value::Whole(i64::from(self.bytes::<1>()?[0])),
            310..=319 | 1004 => {
                let [length] = self.bytes()?;
                for _ in 0..length {
                    self.bytes::<1>()?;
                }
                Value::Text
            }
            0..=9
            | 100..=109
            | 300..=309
            | 320..=369
            | 390..=399
            | 410..=419
            | 430..=439
            | 470..=481
            | 999..=1009 => {
                self.read_string()?;
                Value::Text
            }
            _ => {
                return Err(DxfError::NotACode {
                    at: self.at,
                    found: code.to_string(),
                });
            }
        };
        Ok(())
    }

    fn bytes<const N: usize>(&mut self) -> Result<[u8; N], DxfError> {
        let mut bytes = [0; N];
        for byte in &mut bytes {
            let &[first, ..] = self.input.fill_buf()? else {
                return Err(DxfError::CutOff { at: self.at });
            };
            *byte = first;
            self.input.consume(1);
        }
        self.pass(N);
        Ok(bytes)
    }

    fn read_string(&mut self) -> Result<(), DxfError> {
        let read = self.input.read_until(0, &mut self.text)?;
        self.pass(read);
        match self.text.pop() {
            Some(0) => Ok(()),
            _ => Err(DxfError::CutOff { at: self.at }),
        }
    }

    fn pass(&mut self, bytes: usize) {
        if let DrawingPosition::Byte(byte) = &mut self.at {
            *byte += bytes as u64;
        }
    }

    /// True when the pair at hand is `code` with `word`.
    pub(super) fn is(&self, code: i32, word: &str) -> bool {
        self.code == code && self.text.trim_ascii() == word.as_bytes()
    }

    /// The number of the pair at hand, which belongs to `entity`.
    pub(super) fn number(&self, entity: &str) -> Result<f64, DxfError> {
        let number = match self.value {
            Value::Real(real) => Some(real),
            Value::Whole(whole) => Some(whole as f64),
            Value::Text => fast_float2::parse(self.text.trim_ascii()).ok(),
        };
        number
            .filter(|number| number.is_finite())
            .ok_or_else(|| DxfError::NotANumber {
                at: self.at,
                code: self.code,
                entity: entity.into(),
                found: match self.value {
                    Value::Real(real) => real.to_string(),
                    _ => shown(&self.text),
                },
            })
    }
}

fn whole(word: &[u8]) -> Option<i64> {
    std::str::from_utf8(word).ok()?.parse().ok()
}

/// Text as it is shown in an error: not too much of it.
fn shown(text: &[u8]) -> String {
    let text = String::from_utf8_lossy(text.trim_ascii());
    text.chars().filter(|c| !c.is_control()).take(40).collect()
}
