//! ASCII grids: heights of cells, row by row from the north.
//!
//! The header names `ncols`, `nrows`, `xllcorner` or `xllcenter`, `yllcorner` or `yllcenter`, `cellsize`
//! (or `dx` and `dy`) and `NODATA_value`, in any order and case. A height stands at the middle of its
//! cell.

mod write;

use std::io::BufRead;

use dapedon_core::plan::Place;

use crate::{Position, RawGrid, Utf8, read_line};
pub use write::write;

/// Why an ASCII grid could not be read.
#[derive(Debug, thiserror::Error, strum::IntoStaticStr)]
#[strum(serialize_all = "kebab-case")]
#[non_exhaustive]
pub enum AscError {
    /// The header lacks a line.
    #[error("the header has no {0}")]
    Missing(&'static str),
    /// A header line is not valid.
    #[error("the header line \"{line}\" is not valid")]
    Header {
        /// Where.
        at: Position,
        /// The line.
        line: String,
    },
    /// A height is not a number.
    #[error("\"{found}\" is not a number, and a height is expected")]
    NotANumber {
        /// Where; columns count the heights of a line.
        at: Position,
        /// What stands there.
        found: String,
    },
    /// The number of heights differs from the header.
    #[error("the file has {found} heights, and its header gives {rows} rows of {columns}")]
    Count {
        /// How many there are; counting stops at the first too many.
        found: usize,
        /// Columns the header says.
        columns: usize,
        /// Rows the header says.
        rows: usize,
    },
    /// The file cannot be read.
    #[error("{0}")]
    Io(#[from] std::io::Error),
}

impl AscError {
    /// Where it was found.
    pub fn at(&self) -> Option<Position> {
        match self {
            AscError::Header { at, .. } | AscError::NotANumber { at, .. } => Some(*at),
            AscError::Missing(_) | AscError::Count { .. } | AscError::Io(_) => None,
        }
    }

    /// What to do about it.
    pub fn remedy(&self) -> &'static str {
        match self {
            AscError::Missing(_) | AscError::Header { .. } => "export the grid again",
            AscError::NotANumber { .. } => "correct the file at that place, or export it again",
            AscError::Count { .. } => "get the complete file",
            AscError::Io(_) => "check that the file can be read",
        }
    }
}

dapedon_diagnostic::diagnostic!(AscError, "asc", at);

/// Names of header lines, and where their values go.
const KEYS: [&str; 10] = [
    "ncols",
    "nrows",
    "xllcorner",
    "xllcenter",
    "yllcorner",
    "yllcenter",
    "cellsize",
    "dx",
    "dy",
    "nodata_value",
];

/// True when the first bytes are those of an ASCII grid.
pub(crate) fn is_grid(head: &[u8]) -> bool {
    head.len() > 5 && head[..5].eq_ignore_ascii_case(b"ncols")
}

/// Reads a grid.
///
/// # Errors
///
/// When the header lacks something, or the heights are not as many as it says.
///
/// ```
/// let text = "ncols 2\nnrows 2\nxllcorner 10\nyllcorner 20\ncellsize 5\n3 4\n1 2\n";
/// let grid = dapedon_formats::asc::read(text.as_bytes()).unwrap();
/// assert_eq!((grid.corner.east, grid.corner.north), (12.5, 22.5));
/// assert_eq!(grid.heights, [1.0, 2.0, 3.0, 4.0]);
/// ```
pub fn read(input: impl BufRead) -> Result<RawGrid, AscError> {
    let mut input = Utf8::of(input)?;
    let mut said: [Option<f64>; KEYS.len()] = [None; KEYS.len()];
    let mut bytes = Vec::new();
    let mut line = 0;
    // The first line that starts with a number is the first row of heights.
    loop {
        bytes.clear();
        if read_line(&mut input, &mut bytes)? == 0 {
            break;
        }
        line += 1;
        let text = crate::codes::plain(&bytes);
        let mut words = text.split_whitespace();
        let Some(key) = words.next() else { continue };
        let Some(index) = KEYS
            .iter()
            .position(|known| known.eq_ignore_ascii_case(key))
        else {
            if fast_float2::parse::<f64, _>(key).is_ok() {
                break;
            }
            return Err(header_line(line, &text));
        };
        let value: Option<f64> = words.next().and_then(|word| fast_float2::parse(word).ok());
        said[index] = Some(value.ok_or_else(|| header_line(line, &text))?);
    }
    let get = |index: usize| said[index].filter(|value| value.is_finite());
    let need = |index: usize| get(index).ok_or(AscError::Missing(KEYS[index]));
    let count = |index: usize| {
        let value = need(index)?;
        let whole = value >= 1.0 && value.fract() == 0.0 && value < 1e9;
        whole
            .then_some(value as usize)
            .ok_or(AscError::Missing(KEYS[index]))
    };
    let (columns, rows) = (count(0)?, count(1)?);
    let cell = get(6);
    let step = [
        get(7).or(cell).ok_or(AscError::Missing("cellsize"))?,
        get(8).or(cell).ok_or(AscError::Missing("cellsize"))?,
    ];
    let middle = |corner: usize, centre: usize, step: f64| match (get(corner), get(centre)) {
        (Some(corner), _) => Ok(corner + step / 2.0),
        (None, Some(centre)) => Ok(centre),
        (None, None) => Err(AscError::Missing(KEYS[corner])),
    };
    let corner = Place::new(middle(2, 3, step[0])?, middle(4, 5, step[1])?);
    let none = said[9].unwrap_or(-9999.0);

    let expected = columns.saturating_mul(rows);
    let wrong = |found: usize| AscError::Count {
        found,
        columns,
        rows,
    };
    let mut heights: Vec<f64> = Vec::new();
    let mut has_remarks = false;
    loop {
        let words = bytes
            .split(u8::is_ascii_whitespace)
            .filter(|word| !word.is_empty());
        for (index, word) in words.enumerate() {
            let value: Option<f64> = fast_float2::parse(word).ok();
            // Some programs write what they know of the system behind all heights.
            if value.is_none() && heights.len() == expected {
                has_remarks = true;
                break;
            }
            let value = value.ok_or_else(|| AscError::NotANumber {
                at: Position {
                    line,
                    column: index as u64 + 1,
                },
                found: crate::codes::plain(word),
            })?;
            let is_none = value == none || !value.is_finite();
            heights.push(if is_none { f64::NAN } else { value });
        }
        if heights.len() > expected {
            return Err(wrong(heights.len()));
        }
        bytes.clear();
        if has_remarks || read_line(&mut input, &mut bytes)? == 0 {
            break;
        }
        line += 1;
    }
    if heights.len() != expected {
        return Err(wrong(heights.len()));
    }
    // From the north in the file, from the south in memory.
    for row in 0..rows / 2 {
        let (south, north) = heights.split_at_mut((rows - 1 - row) * columns);
        south[row * columns..(row + 1) * columns].swap_with_slice(&mut north[..columns]);
    }
    Ok(RawGrid {
        corner,
        step,
        size: [columns, rows],
        heights,
    })
}

fn header_line(line: u64, text: &str) -> AscError {
    AscError::Header {
        at: Position { line, column: 1 },
        line: text.chars().take(40).collect(),
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    const GRID: &str = "NCOLS 3\nnrows 2\nxllcenter 500000.5\nYLLCENTER 6000000.25\ncellsize 2\nNODATA_value -99\n\
        4 5.5 -99\n1 2 3e0\n";

    #[test]
    fn rows_come_from_the_north() {
        let grid = read(GRID.as_bytes()).unwrap();
        assert_eq!((grid.size, grid.step), ([3, 2], [2.0, 2.0]));
        assert_eq!(
            (grid.corner.east, grid.corner.north),
            (500_000.5, 6_000_000.25)
        );
        assert_eq!(grid.heights[..5], [1.0, 2.0, 3.0, 4.0, 5.5]);
        assert!(grid.heights[5].is_nan());
    }

    #[test]
    fn faults_say_what_and_where() {
        let fault = |from: &str, to: &str| {
            let error = read(GRID.replacen(from, to, 1).as_bytes()).unwrap_err();
            assert!(!error.remedy().is_empty());
            (error.to_string(), error.at().map(|at| (at.line, at.column)))
        };
        assert_eq!(fault("cellsize 2\n", "").0, "the header has no cellsize");
        assert_eq!(fault("nrows 2", "nrows 2.5").0, "the header has no nrows");
        assert_eq!(
            fault("nrows 2", "nrows 9999999").0,
            "the file has 6 heights, and its header gives 9999999 rows of 3"
        );
        assert_eq!(
            fault("1 2 3e0", "1 2").0,
            "the file has 5 heights, and its header gives 2 rows of 3"
        );
        assert_eq!(
            fault("5.5", "5,5"),
            (
                "\"5,5\" is not a number, and a height is expected".into(),
                Some((7, 2))
            )
        );
        assert_eq!(
            fault("NODATA_value", "none"),
            (
                "the header line \"none -99\" is not valid".into(),
                Some((6, 1))
            )
        );
    }

    #[test]
    fn what_is_written_reads_back() {
        let grid = read(GRID.as_bytes()).unwrap();
        let mut bytes = Vec::new();
        write(&mut bytes, &grid, 3).unwrap();
        let back = read(bytes.as_slice()).unwrap();
        assert_eq!(
            (back.size, back.step, back.corner),
            (grid.size, grid.step, grid.corner)
        );
        assert_eq!(format!("{:?}", back.heights), format!("{:?}", grid.heights));
    }

    /// Some programs write what they know of the system behind the heights; words among them are none of that.
    #[test]
    fn remarks_behind_the_heights_are_skipped() {
        let text = "ncols 2\nnrows 2\nxllcorner 0\nyllcorner 0\ncellsize 5\n3 4\n1 2\n";
        let plain = read(text.as_bytes()).unwrap();
        let more = format!("{text}PROJECTION none\nNOTES\n7 7\n");
        assert_eq!(read(more.as_bytes()).unwrap().heights, plain.heights);
        let fault = read(text.replace("1 2", "one 2").as_bytes()).unwrap_err();
        assert!(matches!(fault, AscError::NotANumber { .. }), "{fault}");
    }

    proptest! {
        /// Whatever happens to the bytes, the reader answers.
        #[test]
        fn mutated_bytes_never_panic(changes in prop::collection::vec((any::<prop::sample::Index>(), any::<u8>()), 1..12)) {
            let mut bytes = GRID.as_bytes().to_vec();
            for (at, byte) in changes {
                let at = at.index(bytes.len());
                bytes[at] = byte;
            }
            let _ = read(bytes.as_slice());
        }
    }
}
