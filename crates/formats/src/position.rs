//! Where in a file something was found.

use std::fmt;
use std::io::{self, BufRead};

/// A place in a text file; lines and columns count from one.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct Position {
    /// The line.
    pub line: u64,
    /// The column: a character of the line, or a field of a delimited row.
    pub column: u64,
}

impl fmt::Display for Position {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        write!(f, "line {}, column {}", self.line, self.column)
    }
}

/// The line and column of a byte.
///
/// # Errors
///
/// When reading fails.
pub fn locate(mut input: impl BufRead, offset: u64) -> io::Result<Position> {
    let mut position = Position { line: 1, column: 1 };
    let mut left = offset;
    loop {
        let buffer = input.fill_buf()?;
        let length = buffer
            .len()
            .min(usize::try_from(left).unwrap_or(usize::MAX));
        for &byte in &buffer[..length] {
            if byte == b'\n' {
                position.line += 1;
                position.column = 1;
            } else if byte & 0xc0 != 0x80 {
                // Bytes that go on with a UTF-8 character are not columns of their own.
                position.column += 1;
            }
        }
        left -= length as u64;
        if length == 0 {
            return Ok(position);
        }
        input.consume(length);
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn bytes_have_lines_and_columns() {
        let text = "Ä b\nxy\n";
        let at = |offset| locate(text.as_bytes(), offset).unwrap();
        assert_eq!(at(0), Position { line: 1, column: 1 });
        assert_eq!(at(3), Position { line: 1, column: 3 });
        assert_eq!(at(6), Position { line: 2, column: 2 });
        assert_eq!(at(99), Position { line: 3, column: 1 });
    }
}
