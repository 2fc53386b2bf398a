//! Rows of fields, whatever parts them.

use std::io::BufRead;

use csv::ByteRecord;

use super::DelimitedError;
use crate::Utf8;

/// What parts the fields of a row.
#[derive(Debug, Clone, Copy, PartialEq)]
enum Delimiter {
    Byte(u8, &'static str),
    Blanks,
}

/// The rows of a file, without blank lines and comments.
pub(super) struct Rows<R: BufRead> {
    input: Utf8<R>,
    encoding: &'static str,
    delimiter: Delimiter,
    row: Vec<u8>,
    line: u64,
    comments: u64,
}

impl<R: BufRead> Rows<R> {
    pub(super) fn open(input: R) -> Result<Self, DelimitedError> {
        let mut input = Utf8::of(input)?;
        let decoded = input.encoding();
        let head = input.fill_buf()?;
        let encoding = match std::str::from_utf8(head) {
            // The head may end within a character.
            Err(error) if error.error_len().is_some() => "Latin-1",
            _ => decoded,
        };
        let first = head.split(|&byte| byte == b'\n').find(|line| {
            let line = line.trim_ascii();
            !line.is_empty() && !is_comment(line)
        });
        let first = first.unwrap_or_default();
        let known = [(b'\t', "tabs"), (b';', "semicolons"), (b',', "commas")];
        let found = known.into_iter().find(|(byte, _)| first.contains(byte));
        Ok(Rows {
            delimiter: found.map_or(Delimiter::Blanks, |(byte, name)| {
                Delimiter::Byte(byte, name)
            }),
            input,
            encoding,
            row: Vec::new(),
            line: 0,
            comments: 0,
        })
    }

    /// Reads the next row, and says on which line it starts.
    pub(super) fn next(&mut self, record: &mut ByteRecord) -> Result<Option<u64>, DelimitedError> {
        loop {
            self.row.clear();
            let start = self.line + 1;
            if !self.read_line()? {
                return Ok(None);
            }
            let trimmed = self.row.trim_ascii();
            if is_comment(trimmed) {
                self.comments += 1;
                continue;
            }
            self.part(record)?;
            if record.iter().any(|field| !field.trim_ascii().is_empty()) {
                return Ok(Some(start));
            }
        }
    }

    /// Adds the next line to the row; false when there is none.
    fn read_line(&mut self) -> Result<bool, DelimitedError> {
        let read = self.input.read_until(b'\n', &mut self.row)?;
        self.line += u64::from(read > 0);
        Ok(read > 0)
    }

    /// Parts the row into fields. A quote that does not close goes on in the next line.
    fn part(&mut self, record: &mut ByteRecord) -> Result<(), DelimitedError> {
        record.clear();
        let Delimiter::Byte(byte, _) = self.delimiter else {
            let fields = self.row.split(u8::is_ascii_whitespace);
            fields
                .filter(|field| !field.is_empty())
                .for_each(|field| record.push_field(field));
            return Ok(());
        };
        if !self.row.contains(&b'"') {
            self.row
                .split(|&b| b == byte)
                .for_each(|field| record.push_field(field.trim_ascii()));
            return Ok(());
        }
        while self.row.iter().filter(|&&b| b == b'"').count() % 2 == 1 && self.read_line()? {}
        let mut quoted = csv::ReaderBuilder::new();
        quoted.has_headers(false).flexible(true).delimiter(byte);
        quoted
            .from_reader(self.row.as_slice())
            .read_byte_record(record)?;
        Ok(())
    }

    pub(super) fn delimiter(&self) -> &'static str {
        match self.delimiter {
            Delimiter::Byte(_, name) => name,
            Delimiter::Blanks => "blanks",
        }
    }

    pub(super) fn encoding(&self) -> &'static str {
        self.encoding
    }

    pub(super) fn comments(&self) -> u64 {
        self.comments
    }
}

/// True for a line that begins as remarks do in the trade's files.
fn is_comment(line: &[u8]) -> bool {
    [&b"#"[..], b"//", b"!", b"%"]
        .iter()
        .any(|mark| line.starts_with(mark))
}
