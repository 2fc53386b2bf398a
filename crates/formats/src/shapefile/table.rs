//! The table of attributes beside shapes.

use std::io::Cursor;

use shapefile::dbase;
use shapefile::dbase::encoding::{EncodingRs, UnicodeLossy};
use shapefile::dbase::{FieldValue, ReaderBuilder};

use super::ShapefileError;
use crate::guard::held;

/// The rows of a table; those that are deleted are none.
pub(super) struct Table {
    pub(super) rows: Vec<Option<Vec<(String, String)>>>,
}

/// What marks a deleted row, as the format has it.
const DELETED: u8 = b'*';

impl Table {
    /// Reads a table; its encoding is the one that is named, or else the one it says itself.
    pub(super) fn read(bytes: &[u8], encoding: Option<&str>) -> Result<Self, ShapefileError> {
        let fault = |why: String| ShapefileError::Table { why };
        let read = held(|| Self::rows(bytes, encoding));
        read.unwrap_or_else(|| Err("its sizes contradict each other".into()))
            .map_err(fault)
    }

    fn rows(bytes: &[u8], encoding: Option<&str>) -> Result<Self, String> {
        let plain = |error: dbase::Error| error.to_string().to_lowercase();
        let named =
            encoding.and_then(|name| encoding_rs::Encoding::for_label(label(name).as_bytes()));
        let builder = match named {
            Some(encoding) if encoding == encoding_rs::UTF_8 => {
                ReaderBuilder::new().with_encoding(UnicodeLossy)
            }
            Some(encoding) => ReaderBuilder::new().with_encoding(EncodingRs::from(encoding)),
            None => ReaderBuilder::new(),
        };
        let mut reader = builder.build(Cursor::new(bytes)).map_err(plain)?;
        let header = *reader.header();
        let (first, size) = (
            usize::from(header.offset_to_first_record),
            usize::from(header.size_of_record),
        );
        let count = header.num_records as usize;
        let there = bytes.len().saturating_sub(first) / size.max(1);
        if size == 0 || there < count {
            return Err(format!("it is incomplete: {there} rows of {count}"));
        }
        let mut kept = reader.iter_records();
        let mut rows = Vec::new();
        for row in 0..count {
            if bytes[first + row * size] == DELETED {
                rows.push(None);
                continue;
            }
            let Some(record) = kept.next() else {
                return Err(format!("row {} cannot be read", row + 1));
            };
            let record = record.map_err(plain)?;
            let fields = record.into_iter();
            let text = |(name, value): (String, FieldValue)| Some((name, text(value)?));
            let mut attributes: Vec<_> = fields.filter_map(text).collect();
            attributes.sort();
            rows.push(Some(attributes));
        }
        Ok(Table { rows })
    }
}

/// A name of an encoding as the registry has it: files write it as a bare number, too.
fn label(name: &str) -> String {
    let name = name.trim().to_ascii_lowercase();
    let part = |from: &str| {
        name.strip_prefix(from)
            .map(|part| part.trim_start_matches([' ', '-']))
    };
    match name.parse::<u32>() {
        Ok(65_001) => "utf-8".into(),
        Ok(page @ 28_591..=28_606) => format!("iso-8859-{}", page - 28_590),
        Ok(page) if page < 10_000 => format!("windows-{page}"),
        _ => match part("iso 8859").or(part("iso8859")).or(part("8859")) {
            Some(part) => format!("iso-8859-{part}"),
            None => name,
        },
    }
}

fn text(value: FieldValue) -> Option<String> {
    match value {
        FieldValue::Character(text) => text,
        FieldValue::Numeric(number) => number.map(|number| number.to_string()),
        FieldValue::Float(number) => number.map(|number| number.to_string()),
        FieldValue::Integer(number) => Some(number.to_string()),
        FieldValue::Double(number) | FieldValue::Currency(number) => Some(number.to_string()),
        FieldValue::Logical(is) => is.map(|is| is.to_string()),
        FieldValue::Date(day) => {
            day.map(|day| format!("{:04}-{:02}-{:02}", day.year(), day.month(), day.day()))
        }
        FieldValue::Memo(_) | FieldValue::DateTime(_) => None,
    }
}

#[cfg(test)]
mod tests {
    #[test]
    fn encodings_are_known_by_all_their_names() {
        for (written, name) in [
            ("UTF-8", "UTF-8"),
            ("65001\n", "UTF-8"),
            ("1252", "windows-1252"),
            ("ANSI 1251", ""),
            ("88592", "ISO-8859-2"),
            ("28592", "ISO-8859-2"),
            ("ISO-8859-5", "ISO-8859-5"),
            ("ISO 8859-15", "ISO-8859-15"),
        ] {
            let found = encoding_rs::Encoding::for_label(super::label(written).as_bytes());
            assert_eq!(
                found.map_or("", |encoding| encoding.name()),
                name,
                "{written}"
            );
        }
    }
}
