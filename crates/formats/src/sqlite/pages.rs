//! The pages of a database: a tree for each table, and rows that go on in other pages.

use std::collections::HashSet;
use std::io::{Read, Seek, SeekFrom};

use super::{HEADER, SCHEMA, SqliteError};

/// A page with rows.
const LEAF: u8 = 13;
/// A page that points at others.
const INTERIOR: u8 = 5;

/// The pages of a file.
#[derive(Debug)]
pub(super) struct Pages<R> {
    input: R,
    length: u64,
    size: usize,
    /// Bytes of a page before those that are kept for something else.
    usable: usize,
}

/// A page, and its number for messages.
struct Page {
    number: u32,
    bytes: Vec<u8>,
}

impl Page {
    fn fault(&self, why: &'static str) -> SqliteError {
        SqliteError::Page {
            page: self.number,
            why,
        }
    }

    fn u16(&self, at: usize) -> Result<usize, SqliteError> {
        let bytes = self.bytes.get(at..at + 2).and_then(|b| b.try_into().ok());
        let number = bytes.map(u16::from_be_bytes).map(usize::from);
        number.ok_or_else(|| self.fault("it ends too early"))
    }

    fn u32(&self, at: usize) -> Result<u32, SqliteError> {
        let bytes = self.bytes.get(at..at + 4).and_then(|b| b.try_into().ok());
        let number = bytes.map(u32::from_be_bytes);
        number.ok_or_else(|| self.fault("it ends too early"))
    }

    /// Where its own header starts: on the first page, after that of the file.
    fn start(&self) -> usize {
        if self.number == SCHEMA { HEADER } else { 0 }
    }
}

impl<R: Read + Seek> Pages<R> {
    pub(super) fn new(input: R, length: u64, size: usize, usable: usize) -> Self {
        Pages {
            input,
            length,
            size,
            usable,
        }
    }

    fn page(&mut self, number: u32) -> Result<Page, SqliteError> {
        let at = u64::from(number).saturating_sub(1) * self.size as u64;
        if number == 0 || at + self.size as u64 > self.length {
            return Err(SqliteError::CutOff(number));
        }
        let mut bytes = vec![0; self.size];
        self.input.seek(SeekFrom::Start(at))?;
        self.input.read_exact(&mut bytes)?;
        Ok(Page { number, bytes })
    }

    /// Hands over the number and the stored bytes of each row of the tree that starts at a page.
    pub(super) fn rows(
        &mut self,
        root: u32,
        mut take: impl FnMut(i64, &[u8]) -> Result<(), SqliteError>,
    ) -> Result<(), SqliteError> {
        let mut seen = HashSet::new();
        let mut ahead = vec![root];
        let mut payload = Vec::new();
        while let Some(number) = ahead.pop() {
            let page = self.page(number)?;
            once(&mut seen, number)?;
            let start = page.start();
            let cells = page.u16(start + 3)?;
            match page.bytes.get(start) {
                Some(&INTERIOR) => {
                    ahead.push(page.u32(start + 8)?);
                    for cell in (0..cells).rev() {
                        let at = page.u16(start + 12 + 2 * cell)?;
                        ahead.push(page.u32(at)?);
                    }
                }
                Some(&LEAF) => {
                    for cell in 0..cells {
                        let at = page.u16(start + 8 + 2 * cell)?;
                        let row = self.row(&page, at, &mut payload, &mut seen)?;
                        take(row, &payload)?;
                    }
                }
                _ => return Err(page.fault("it holds no rows of a table")),
            }
        }
        Ok(())
    }

    /// Gathers the bytes of a row, which may go on in other pages; its number.
    fn row(
        &mut self,
        page: &Page,
        at: usize,
        payload: &mut Vec<u8>,
        seen: &mut HashSet<u32>,
    ) -> Result<i64, SqliteError> {
        let early = || page.fault("a row of it ends too early");
        let cell = page.bytes.get(at..self.usable).ok_or_else(early)?;
        let (length, cell) = varint(cell).ok_or_else(early)?;
        let (number, cell) = varint(cell).ok_or_else(early)?;
        let length =
            usize::try_from(length).map_err(|_| page.fault("the length of a row is not valid"))?;
        let here = self.held_in_leaf(length);
        let local = cell.get(..here).ok_or_else(early)?;
        payload.clear();
        payload.extend_from_slice(local);
        if here == length {
            return Ok(number);
        }
        let mut next = page.u32(self.usable - cell.len() + here)?;
        while payload.len() < length {
            let more = self.page(next)?;
            once(seen, next)?;
            let wanted = (length - payload.len()).min(self.usable - 4);
            let bytes = more.bytes.get(4..4 + wanted).ok_or_else(early)?;
            payload.extend_from_slice(bytes);
            next = more.u32(0)?;
        }
        Ok(number)
    }

    /// Bytes of a row that stand in its leaf; the rest goes on elsewhere. The rule is that of the file format (section 1.6, "B-tree
    /// Pages").
    fn held_in_leaf(&self, length: usize) -> usize {
        let (most, least) = (self.usable - 35, (self.usable - 12) * 32 / 255 - 23);
        if length <= most {
            return length;
        }
        let fitting = least + (length - least) % (self.usable - 4);
        if fitting <= most { fitting } else { least }
    }
}

/// Notes that a page is read, and refuses to read it again.
fn once(seen: &mut HashSet<u32>, page: u32) -> Result<(), SqliteError> {
    match seen.insert(page) {
        true => Ok(()),
        false => Err(SqliteError::Page {
            page,
            why: "another page points at it too",
        }),
    }
}

/// A number of one to nine bytes, seven bits in each but for the ninth; and what follows it.
pub(super) fn varint(bytes: &[u8]) -> Option<(i64, &[u8])> {
    let mut value = 0;
    for (index, &byte) in bytes.iter().enumerate().take(9) {
        if index == 8 {
            return Some((value << 8 | i64::from(byte), &bytes[9..]));
        }
        value = value << 7 | i64::from(byte & 0x7f);
        if byte < 0x80 {
            return Some((value, &bytes[index + 1..]));
        }
    }
    None
}
