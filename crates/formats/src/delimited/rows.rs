//! Rows of fields, whatever parts them.

use std::io::BufRead;

use super::DelimitedError;
use crate::{Utf8, read_line};

/// What parts the fields of a row.
#[derive(Debug, Clone, Copy, PartialEq)]
enum Delimiter {
    Byte(u8, &'static str),
    Blanks,
}

/// The fields of a row.
#[derive(Default)]
pub(super) struct Row {
    bytes: Vec<u8>,
    /// From where to where each field reaches.
    fields: Vec<(usize, usize)>,
}

impl Row {
    /// A field, without the blanks around it.
    #[inline]
    pub(super) fn get(&self, index: usize) -> Option<&[u8]> {
        let field = self.fields.get(index);
        field.map(|&(from, to)| self.bytes[from..to].trim_ascii())
    }

    pub(super) fn len(&self) -> usize {
        self.fields.len()
    }

    pub(super) fn iter(&self) -> impl Iterator<Item = &[u8]> + Clone {
        (self.fields.iter()).map(|&(from, to)| self.bytes[from..to].trim_ascii())
    }

    fn is_blank(&self) -> bool {
        self.iter().all(<[u8]>::is_empty)
    }

    /// Parts the bytes at each `byte`.
    fn part_at(&mut self, byte: u8) {
        self.fields.clear();
        let mut from = 0;
        for at in memchr::memchr_iter(byte, &self.bytes) {
            self.fields.push((from, at));
            from = at + 1;
        }
        self.fields.push((from, self.bytes.len()));
    }

    /// Parts the bytes at runs of blanks.
    fn part_at_blanks(&mut self) {
        self.fields.clear();
        let mut start = None;
        for (at, byte) in self.bytes.iter().enumerate() {
            match (byte.is_ascii_whitespace(), start) {
                (false, None) => start = Some(at),
                (true, Some(from)) => {
                    self.fields.push((from, at));
                    start = None;
                }
                _ => {}
            }
        }
        self.fields
            .extend(start.map(|from| (from, self.bytes.len())));
    }
}

/// The rows of a file, without blank lines and comments.
pub(super) struct Rows<R: BufRead> {
    input: Utf8<R>,
    encoding: &'static str,
    delimiter: Delimiter,
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
        // A number alone in its line counts the points, and parts nothing.
        let is_count = |line: &[u8]| line.iter().all(u8::is_ascii_digit);
        let mut lines = head.split(|&byte| byte == b'\n').map(<[u8]>::trim_ascii);
        let first = lines.find(|line| !line.is_empty() && !is_comment(line) && !is_count(line));
        let first = first.unwrap_or_default();
        let known = [(b'\t', "tabs"), (b';', "semicolons"), (b',', "commas")];
        let found = known.into_iter().find(|(byte, _)| first.contains(byte));
        Ok(Rows {
            delimiter: found.map_or(Delimiter::Blanks, |(byte, name)| {
                Delimiter::Byte(byte, name)
            }),
            input,
            encoding,
            line: 0,
            comments: 0,
        })
    }

    /// Reads the next row, and says on which line it starts.
    pub(super) fn next(&mut self, row: &mut Row) -> Result<Option<u64>, DelimitedError> {
        loop {
            row.bytes.clear();
            let start = self.line + 1;
            if !self.read_line(row)? {
                return Ok(None);
            }
            if is_comment(row.bytes.trim_ascii_start()) {
                self.comments += 1;
                continue;
            }
            self.part(row)?;
            if !row.is_blank() {
                return Ok(Some(start));
            }
        }
    }

    /// Adds the next line to the row; false when there is none.
    fn read_line(&mut self, row: &mut Row) -> Result<bool, DelimitedError> {
        let read = read_line(&mut self.input, &mut row.bytes)?;
        self.line += u64::from(read > 0);
        Ok(read > 0)
    }

    /// Parts the row into fields. A quote that does not close goes on in the next line.
    fn part(&mut self, row: &mut Row) -> Result<(), DelimitedError> {
        let Delimiter::Byte(byte, _) = self.delimiter else {
            row.part_at_blanks();
            return Ok(());
        };
        if memchr::memchr(b'"', &row.bytes).is_none() {
            row.part_at(byte);
            return Ok(());
        }
        while row.bytes.iter().filter(|&&b| b == b'"').count() % 2 == 1 && self.read_line(row)? {}
        let mut quoted = csv::ReaderBuilder::new();
        quoted.has_headers(false).flexible(true).delimiter(byte);
        let mut record = csv::ByteRecord::new();
        quoted
            .from_reader(row.bytes.as_slice())
            .read_byte_record(&mut record)?;
        row.bytes.clear();
        row.fields.clear();
        for field in &record {
            let from = row.bytes.len();
            row.bytes.extend(field.trim_ascii());
            row.fields.push((from, row.bytes.len()));
        }
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
