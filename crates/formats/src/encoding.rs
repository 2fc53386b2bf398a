//! Text in other encodings, made UTF-8 as it streams.

use std::io::{self, BufRead, BufReader, Read};

use encoding_rs::{Encoding, UTF_8};
use encoding_rs_io::{DecodeReaderBytes, DecodeReaderBytesBuilder};

/// How much of a file is looked at for what it says of its encoding.
const HEAD: usize = 256;

/// The bytes of a file, as they are or made UTF-8.
pub struct Utf8<R: BufRead> {
    input: Input<R>,
    encoding: &'static str,
}

enum Input<R: BufRead> {
    Plain(R),
    Decoded(Box<BufReader<DecodeReaderBytes<R, Vec<u8>>>>),
}

impl<R: BufRead> Utf8<R> {
    /// Looks at the first bytes: a mark of UTF-16, or an XML declaration that names an encoding.
    ///
    /// # Errors
    ///
    /// When reading fails.
    pub fn of(mut input: R) -> io::Result<Self> {
        let head = input.fill_buf()?;
        let head = &head[..head.len().min(HEAD)];
        let marked = head.starts_with(b"\xff\xfe") || head.starts_with(b"\xfe\xff");
        let declared = declared(head).filter(|&found| found != UTF_8);
        if !marked && declared.is_none() {
            let mark = if head.starts_with(b"\xef\xbb\xbf") {
                3
            } else {
                0
            };
            input.consume(mark);
            return Ok(Utf8 {
                input: Input::Plain(input),
                encoding: "UTF-8",
            });
        }
        let decoder = DecodeReaderBytesBuilder::new()
            .encoding(declared.filter(|_| !marked))
            .build(input);
        Ok(Utf8 {
            input: Input::Decoded(Box::new(BufReader::with_capacity(1 << 16, decoder))),
            encoding: declared.map_or("UTF-16", Encoding::name),
        })
    }

    /// The encoding it was found in.
    pub fn encoding(&self) -> &'static str {
        self.encoding
    }
}

/// The encoding that an XML declaration names.
fn declared(head: &[u8]) -> Option<&'static Encoding> {
    let head = head.strip_prefix(b"<?xml")?;
    let end = head.windows(2).position(|pair| pair == b"?>")?;
    let text = std::str::from_utf8(&head[..end]).ok()?;
    let (_, after) = text.split_once("encoding")?;
    let label = after.trim_start().strip_prefix('=')?.trim_start();
    let quote = label.chars().next().filter(|c| matches!(c, '"' | '\''))?;
    let label = label[1..].split(quote).next()?;
    Encoding::for_label(label.as_bytes())
}

impl<R: BufRead> Read for Utf8<R> {
    fn read(&mut self, buffer: &mut [u8]) -> io::Result<usize> {
        match &mut self.input {
            Input::Plain(input) => input.read(buffer),
            Input::Decoded(input) => input.read(buffer),
        }
    }
}

impl<R: BufRead> BufRead for Utf8<R> {
    #[inline]
    fn fill_buf(&mut self) -> io::Result<&[u8]> {
        match &mut self.input {
            Input::Plain(input) => input.fill_buf(),
            Input::Decoded(input) => input.fill_buf(),
        }
    }

    #[inline]
    fn consume(&mut self, amount: usize) {
        match &mut self.input {
            Input::Plain(input) => input.consume(amount),
            Input::Decoded(input) => input.consume(amount),
        }
    }
}

/// Adds the next line to `line`, its end included; says how many bytes it is long.
pub(crate) fn read_line(input: &mut impl BufRead, line: &mut Vec<u8>) -> io::Result<usize> {
    let mut read = 0;
    loop {
        let buffer = match input.fill_buf() {
            Ok(buffer) => buffer,
            Err(error) if error.kind() == io::ErrorKind::Interrupted => continue,
            Err(error) => return Err(error),
        };
        let end = memchr::memchr(b'\n', buffer).map(|at| at + 1);
        let used = end.unwrap_or(buffer.len());
        line.extend_from_slice(&buffer[..used]);
        input.consume(used);
        read += used;
        if end.is_some() || used == 0 {
            return Ok(read);
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    fn read(bytes: &[u8]) -> (String, &'static str) {
        let mut input = Utf8::of(bytes).unwrap();
        let mut text = String::new();
        input.read_to_string(&mut text).unwrap();
        (text, input.encoding())
    }

    #[test]
    fn encodings_are_told_by_marks_and_declarations() {
        assert_eq!(read(b"plain"), ("plain".into(), "UTF-8"));
        assert_eq!(read(b"\xef\xbb\xbfmarked"), ("marked".into(), "UTF-8"));
        assert_eq!(read(b"\xff\xfea\0\xf6\0"), ("a\u{f6}".into(), "UTF-16"));
        assert_eq!(read(b"\xfe\xff\0a"), ("a".into(), "UTF-16"));
        let latin = b"<?xml version='1.0' encoding='ISO-8859-1'?><a>\xf6</a>";
        let (text, encoding) = read(latin);
        assert!(text.ends_with("<a>\u{f6}</a>"));
        assert_eq!(encoding, "windows-1252");
        let plain = b"<?xml version=\"1.0\" encoding = \"utf-8\" ?><a/>";
        assert_eq!(read(plain).1, "UTF-8");
    }
}
