//! The values of a stored row.

use encoding_rs::{UTF_16BE, UTF_16LE};

use super::Letters;
use super::pages::varint;

/// A stored value.
#[derive(Debug, Clone, PartialEq)]
pub(crate) enum Value {
    /// Nothing.
    Null,
    /// A whole number.
    Integer(i64),
    /// A number.
    Real(f64),
    /// Text.
    Text(String),
    /// Bytes.
    Bytes(Vec<u8>),
}

impl Value {
    /// Its text, if it is one.
    pub(crate) fn text(&self) -> Option<&str> {
        match self {
            Value::Text(text) => Some(text),
            _ => None,
        }
    }
}

/// The values of a row. One that is cut off ends early.
pub(super) fn values(payload: &[u8], letters: Letters) -> Vec<Value> {
    let mut found = Vec::new();
    let Some((header, _)) = varint(payload) else {
        return found;
    };
    let header = usize::try_from(header).unwrap_or(usize::MAX);
    let Some((head, mut body)) = payload.split_at_checked(header) else {
        return found;
    };
    let Some((_, mut kinds)) = varint(head) else {
        return found;
    };
    while let Some((kind, rest)) = varint(kinds) {
        let Some((bytes, after)) = width(kind).and_then(|width| body.split_at_checked(width))
        else {
            break;
        };
        found.push(value(kind, bytes, letters));
        (kinds, body) = (rest, after);
    }
    found
}

/// Bytes that a value of a kind takes.
fn width(kind: i64) -> Option<usize> {
    match kind {
        0 | 8 | 9 => Some(0),
        1..=4 => usize::try_from(kind).ok(),
        5 => Some(6),
        6 | 7 => Some(8),
        12.. => usize::try_from((kind - 12) / 2).ok(),
        _ => None,
    }
}

fn value(kind: i64, bytes: &[u8], letters: Letters) -> Value {
    match kind {
        0 => Value::Null,
        7 => Value::Real(f64::from_bits(whole(bytes) as u64)),
        8 => Value::Integer(0),
        9 => Value::Integer(1),
        ..=6 => Value::Integer(whole(bytes)),
        kind if kind % 2 == 0 => Value::Bytes(bytes.to_vec()),
        _ => Value::Text(match letters {
            Letters::Utf8 => String::from_utf8_lossy(bytes).into_owned(),
            Letters::Utf16Le => UTF_16LE.decode_without_bom_handling(bytes).0.into_owned(),
            Letters::Utf16Be => UTF_16BE.decode_without_bom_handling(bytes).0.into_owned(),
        }),
    }
}

/// A whole number of up to eight bytes, the first with the sign.
fn whole(bytes: &[u8]) -> i64 {
    let sign = bytes
        .first()
        .map_or(0, |first| i64::from(*first as i8 >> 7));
    bytes
        .iter()
        .fold(sign, |value, byte| value << 8 | i64::from(*byte))
}
