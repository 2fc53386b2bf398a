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
    /// What was assumed of its encoding.
    pub(super) note: Option<String>,
}

/// What marks a deleted row, as the format has it.
const DELETED: u8 = b'*';
/// Where the byte of its language and code page stands.
const LANGUAGE: usize = 29;

impl Table {
    /// Reads a table; its encoding is the one that is named, or else that of its language byte. Without either it is UTF-8,
    /// where all of it is, or else Latin-1.
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
        let has_page = bytes.get(LANGUAGE).is_some_and(|&byte| byte != 0);
        let records = bytes.get(LANGUAGE + 1..).unwrap_or_default();
        let latin =
            || ReaderBuilder::new().with_encoding(EncodingRs::from(encoding_rs::WINDOWS_1252));
        let (builder, mut note) = match named {
            Some(encoding) if encoding == encoding_rs::UTF_8 => {
                (ReaderBuilder::new().with_encoding(UnicodeLossy), None)
            }
            Some(encoding) => (
                ReaderBuilder::new().with_encoding(EncodingRs::from(encoding)),
                None,
            ),
            None if has_page => (ReaderBuilder::new(), None),
            None if records.is_ascii() => (latin(), None),
            // Its head has numbers as bytes; what matters is what stands in its rows.
            None if std::str::from_utf8(rows_of(bytes)).is_ok() => {
                (ReaderBuilder::new().with_encoding(UnicodeLossy), None)
            }
            None => (
                latin(),
                Some("no encoding stated for the attribute table: Latin-1 assumed"),
            ),
        };
        let mut reader = match builder.build(Cursor::new(bytes)) {
            Ok(reader) => reader,
            Err(_) if has_page && named.is_none() => {
                note = Some("encoding of the attribute table not supported: Latin-1 assumed");
                latin().build(Cursor::new(bytes)).map_err(plain)?
            }
            Err(error) => return Err(plain(error)),
        };
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
        let note = note.map(Into::into);
        Ok(Table { rows, note })
    }
}

/// The rows of a table, as bytes.
fn rows_of(bytes: &[u8]) -> &[u8] {
    let first = bytes.get(8..10).map_or(0, |size| {
        usize::from(u16::from_le_bytes([size[0], size[1]]))
    });
    bytes.get(first..).unwrap_or_default()
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
