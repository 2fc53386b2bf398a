//! Shapefiles: shapes in one file, their attributes in a table beside it, the coordinate system in a text.
//!
//! The walk from record to record is here, so that each says its number and no count is believed that its
//! record has no bytes for; what is in a record is read by the `shapefile` crate, the table by `dbase`.

mod shapes;
mod table;
mod write;
mod write_drawing;
mod zipped;

use std::io::{Cursor, Read};

use shapefile::{ReadableShape, Shape as Record};

use crate::features::{Feature, Features};
use crate::guard::held;
use crate::wkt;
use table::Table;
pub use write::{ShapefileBytes, write};
pub use write_drawing::write_drawing;
pub use zipped::ZippedShapefiles;

/// Bytes before the first record.
const HEADER: usize = 100;
/// What the first four bytes say, as the specification has it.
const MARK: u32 = 9994;
/// Words of two bytes that a record has at most.
const LONGEST: u32 = 1 << 27;

/// Why a shapefile could not be read.
#[derive(Debug, thiserror::Error, strum::IntoStaticStr)]
#[strum(serialize_all = "kebab-case")]
#[non_exhaustive]
pub enum ShapefileError {
    /// The file does not start like a shapefile.
    #[error("the file does not start like a shapefile")]
    NotShapes,
    /// The file is incomplete: it ends within a shape.
    #[error("the file is incomplete: it ends in shape {shape}")]
    CutOff {
        /// The shape, from one.
        shape: usize,
    },
    /// A shape is not valid.
    #[error("shape {shape} is not valid: {why}")]
    Shape {
        /// The shape, from one.
        shape: usize,
        /// Why.
        why: String,
    },
    /// The attribute table (.dbf) cannot be read.
    #[error("the attribute table (.dbf) cannot be read: {why}")]
    Table {
        /// Why.
        why: String,
    },
    /// The numbers of shapes and of attribute rows differ.
    #[error("the file has {shapes} shapes, and its attribute table (.dbf) {rows} rows")]
    Count {
        /// Shapes.
        shapes: usize,
        /// Rows.
        rows: usize,
    },
    /// A zip file is not valid.
    #[error("the zip file is not valid: {why}")]
    Zip {
        /// Why.
        why: String,
    },
    /// A zip file has no shapefile in it.
    #[error("the zip file has no shapefile; it has {}", shown(.found))]
    NoneInZip {
        /// What is in it.
        found: Vec<String>,
    },
    /// A file in a zip file is too large.
    #[error("with \"{name}\" the zip file unpacks to more than {most} MB")]
    LargeInZip {
        /// Which.
        name: String,
        /// What is read at most, in megabytes.
        most: u64,
    },
    /// The file cannot be read.
    #[error("{0}")]
    Io(#[from] std::io::Error),
}

impl ShapefileError {
    /// What to do about it.
    pub fn remedy(&self) -> &'static str {
        use ShapefileError as E;
        match self {
            E::NotShapes | E::Shape { .. } => "export it again",
            E::CutOff { .. } | E::Zip { .. } => "get the complete file",
            E::NoneInZip { .. } | E::LargeInZip { .. } => {
                "unpack it, and give one of the files in it"
            }
            E::Table { .. } | E::Count { .. } => {
                "get the .shp and the .dbf again, from the same export"
            }
            E::Io(_) => "check that the file can be read",
        }
    }
}

/// The first of some names.
fn shown(names: &[String]) -> String {
    let first: Vec<&str> = names.iter().take(10).map(String::as_str).collect();
    match names.len() {
        0 => "nothing".into(),
        1..=10 => first.join(", "),
        many => format!("{}, and {} more", first.join(", "), many - 10),
    }
}

dapedon_diagnostic::diagnostic!(ShapefileError, "shapefile");

/// The files beside the shapes, as far as they are there.
#[derive(Debug, Clone, Copy, Default)]
pub struct CompanionFiles<'b> {
    /// The table of attributes, `.dbf`.
    pub table: Option<&'b [u8]>,
    /// The name of the table's encoding, `.cpg`.
    pub encoding: Option<&'b str>,
    /// The coordinate system, `.prj`.
    pub system: Option<&'b str>,
}

/// True when the first bytes are those of a shapefile.
pub(crate) fn is_shapefile(head: &[u8]) -> bool {
    head.starts_with(&MARK.to_be_bytes())
}

/// Reads shapes with their attributes.
///
/// # Errors
///
/// When it is none or cut off, or the table does not belong to it.
pub fn read(mut input: impl Read, beside: CompanionFiles<'_>) -> Result<Features, ShapefileError> {
    let mut head = [0; HEADER];
    let whole = fill(&mut input, &mut head)?;
    if !is_shapefile(&head) {
        return Err(ShapefileError::NotShapes);
    }
    if whole < HEADER {
        return Err(ShapefileError::CutOff { shape: 1 });
    }
    let system = beside.system.map(wkt::system).unwrap_or_default();
    let mut shapes = Vec::new();
    let mut content = Vec::new();
    let stated = 2 * u64::from(u32::from_be_bytes([head[24], head[25], head[26], head[27]]));
    let mut read = HEADER as u64;
    let mut has_more = false;
    loop {
        let shape = shapes.len() + 1;
        // What follows the end that the header states belongs to no shape.
        if read == stated && !shapes.is_empty() {
            has_more = fill(&mut input, &mut [0])? > 0;
            break;
        }
        let mut front = [0; 8];
        match fill(&mut input, &mut front)? {
            0 => break,
            8 => {}
            _ => return Err(ShapefileError::CutOff { shape }),
        }
        let words = u32::from_be_bytes([front[4], front[5], front[6], front[7]]);
        if words > LONGEST {
            return Err(ShapefileError::Shape {
                shape,
                why: format!("its length is given as {words} words"),
            });
        }
        let length = 2 * u64::from(words);
        content.clear();
        input.by_ref().take(length).read_to_end(&mut content)?;
        if (content.len() as u64) < length {
            return Err(ShapefileError::CutOff { shape });
        }
        shapes.push(record(&content, shape)?);
        read += 8 + length;
    }

    let mut found = Features::within(system);
    if has_more {
        let words = "bytes after the end that the header states skipped";
        found.notes.push(words.into());
    }
    let table = match beside.table {
        Some(bytes) => Some(Table::read(bytes, beside.encoding)?),
        None => {
            found
                .notes
                .push("no attribute table (.dbf) beside it".into());
            None
        }
    };
    found
        .notes
        .extend(table.as_ref().and_then(|table| table.note.clone()));
    if let Some(table) = table
        .as_ref()
        .filter(|table| table.rows.len() != shapes.len())
    {
        return Err(ShapefileError::Count {
            shapes: shapes.len(),
            rows: table.rows.len(),
        });
    }
    let mut rows = table
        .map(|table| table.rows)
        .unwrap_or_default()
        .into_iter();
    let mut deleted = 0;
    for shape in shapes {
        let shape = shapes::shape(shape);
        match rows.next() {
            Some(None) => deleted += 1,
            Some(Some(attributes)) => found.features.push(Feature { attributes, shape }),
            None => found.features.push(Feature {
                attributes: Vec::new(),
                shape,
            }),
        }
    }
    if deleted > 0 {
        found.notes.push(format!(
            "{deleted} shapes skipped: marked as deleted in the attribute table"
        ));
    }
    Ok(found)
}

/// One record, whose counts are held against its bytes first.
fn record(content: &[u8], shape: usize) -> Result<Record, ShapefileError> {
    let fault = |why: String| ShapefileError::Shape { shape, why };
    let number = |at: usize| {
        let bytes = content.get(at..at + 4)?.try_into().ok()?;
        Some(i64::from(i32::from_le_bytes(bytes)))
    };
    let kind = number(0).ok_or_else(|| fault("it is empty".into()))?;
    // Where a kind says how many parts and points it has.
    let counts = match kind {
        3 | 5 | 13 | 15 | 23 | 25 | 31 => Some((number(36), number(40))),
        8 | 18 | 28 => Some((Some(0), number(36))),
        _ => None,
    };
    if let Some((parts, points)) = counts {
        let (Some(parts), Some(points)) = (parts, points) else {
            return Err(fault("it ends before its points".into()));
        };
        if parts < 0 || points < 0 || 4 * parts + 16 * points > content.len() as i64 {
            return Err(fault(format!(
                "{parts} parts and {points} points in {} bytes",
                content.len()
            )));
        }
        let starts = (0..parts as usize).filter_map(|part| number(44 + 4 * part));
        let mut before = 0;
        for start in starts {
            if start < before || start > points {
                return Err(fault("its parts are out of order".into()));
            }
            before = start;
        }
    }
    let mut input = Cursor::new(content);
    let read = held(|| Record::read_from(&mut input, content.len() as i32));
    match read {
        Some(Ok(record)) => Ok(record),
        Some(Err(error)) => Err(fault(error.to_string().to_lowercase())),
        None => Err(fault("its sizes contradict each other".into())),
    }
}

/// Reads as much as there is, up to all of a buffer.
fn fill(input: &mut impl Read, buffer: &mut [u8]) -> std::io::Result<usize> {
    let mut filled = 0;
    while filled < buffer.len() {
        match input.read(&mut buffer[filled..])? {
            0 => break,
            read => filled += read,
        }
    }
    Ok(filled)
}

#[cfg(test)]
mod tests;
