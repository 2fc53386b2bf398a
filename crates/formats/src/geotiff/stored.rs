//! A TIFF read for its numbers as they are stored.
//!
//! A photometric interpretation is for pictures: by "white is zero" a reader turns numbers over, and by "mask" the `tiff`
//! crate gives up. Both are read as plain numbers here: their tags are shown to the crate as "black is zero".

use std::io::{self, Read, Seek, SeekFrom};

/// Directories of a file that are looked at.
const DIRECTORIES: usize = 256;
/// Entries of a directory that are looked at.
const ENTRIES: u64 = 4096;
/// The tag of the interpretation, and that of the compression.
const PHOTOMETRIC: u64 = 262;
const COMPRESSION: u64 = 259;
/// The type of a number of two bytes.
const SHORT: u64 = 3;
const WHITE_IS_ZERO: u64 = 0;
const PALETTE: u64 = 3;
const MASK: u64 = 4;

/// The bytes of a file, with some of them changed.
pub(super) struct Stored<R> {
    inner: R,
    at: u64,
    /// Bytes by where they stand, ascending.
    changed: Vec<(u64, u8)>,
    /// True where the first picture is one of colours by number.
    pub(super) is_palette: bool,
    /// How the first picture is packed.
    pub(super) compression: u64,
}

impl<R: Read + Seek> Stored<R> {
    /// Looks at the directories of a file. Of one that is no TIFF nothing is changed.
    pub(super) fn of(mut inner: R) -> io::Result<Self> {
        let mut found = Found::default();
        // What cannot be read here is told by the crate, which reads it again.
        let _ = found.look(&mut inner);
        inner.seek(SeekFrom::Start(0))?;
        found.changed.sort_unstable();
        Ok(Stored {
            inner,
            at: 0,
            changed: found.changed,
            is_palette: found.first[1] == Some(PALETTE),
            compression: found.first[0].unwrap_or(1),
        })
    }
}

impl<R: Read> Read for Stored<R> {
    fn read(&mut self, into: &mut [u8]) -> io::Result<usize> {
        let count = self.inner.read(into)?;
        let end = self.at + count as u64;
        let first = self.changed.partition_point(|&(place, _)| place < self.at);
        for &(place, byte) in self.changed[first..].iter().take_while(|c| c.0 < end) {
            into[(place - self.at) as usize] = byte;
        }
        self.at = end;
        Ok(count)
    }
}

impl<R: Seek> Seek for Stored<R> {
    fn seek(&mut self, to: SeekFrom) -> io::Result<u64> {
        self.at = self.inner.seek(to)?;
        Ok(self.at)
    }
}

/// What is found in the directories.
#[derive(Default)]
struct Found {
    changed: Vec<(u64, u8)>,
    /// Compression and interpretation of the first.
    first: [Option<u64>; 2],
}

impl Found {
    fn look(&mut self, input: &mut (impl Read + Seek)) -> io::Result<()> {
        let mut head = [0; 16];
        input.read_exact(&mut head[..8])?;
        let little = head[0] == b'I';
        let number = |bytes: &[u8]| match little {
            true => bytes.iter().rev().fold(0u64, |n, &b| n << 8 | u64::from(b)),
            false => bytes.iter().fold(0u64, |n, &b| n << 8 | u64::from(b)),
        };
        let big = number(&head[2..4]) == 43;
        if big {
            input.read_exact(&mut head[8..])?;
        }
        // Bytes of a count of entries, of an entry, and of an offset.
        let (count, entry, offset) = if big { (8, 20, 8) } else { (2, 12, 4) };
        let mut next = number(if big { &head[8..16] } else { &head[4..8] });
        let mut seen = Vec::new();
        while next != 0 && seen.len() < DIRECTORIES && !seen.contains(&next) {
            seen.push(next);
            input.seek(SeekFrom::Start(next))?;
            let mut bytes = [0; 8];
            input.read_exact(&mut bytes[..count])?;
            let entries = number(&bytes[..count]).min(ENTRIES);
            let mut all = vec![0; entries as usize * entry];
            input.read_exact(&mut all)?;
            for (index, one) in all.chunks_exact(entry).enumerate() {
                let value = &one[entry - offset..];
                // Numbers of two bytes stand at the start of the value's room.
                let short = number(&value[..2]);
                let tag = number(&one[..2]);
                let is_short = number(&one[2..4]) == SHORT;
                if seen.len() == 1 && tag == COMPRESSION {
                    self.first[0] = Some(short);
                }
                if tag != PHOTOMETRIC {
                    continue;
                }
                if seen.len() == 1 {
                    self.first[1] = Some(short);
                }
                if is_short && matches!(short, WHITE_IS_ZERO | MASK) {
                    let start = next + (count + index * entry + entry - offset) as u64;
                    let new = if little { [1, 0] } else { [0, 1] };
                    self.changed.extend([(start, new[0]), (start + 1, new[1])]);
                }
            }
            let mut bytes = [0; 8];
            input.read_exact(&mut bytes[..offset])?;
            next = number(&bytes[..offset]);
        }
        Ok(())
    }
}

/// The name of a way of packing that is not read, by its number.
pub(super) fn packing(number: u64) -> String {
    let name = match number {
        2..=4 => "CCITT fax",
        6 | 7 => "JPEG",
        34_712 => "JPEG 2000",
        34_887 => "LERC",
        34_925 => "LZMA",
        50_001 => "WebP",
        50_002 => "JPEG XL",
        other => return format!("number {other}"),
    };
    name.into()
}

#[cfg(test)]
mod tests {
    use std::io::Cursor;

    use super::*;
    use proptest::prelude::*;

    /// A classic file of two directories, white-is-zero and mask, in either order of bytes.
    fn file(little: bool) -> Vec<u8> {
        let short = |n: u16| {
            if little {
                n.to_le_bytes()
            } else {
                n.to_be_bytes()
            }
        };
        let long = |n: u32| {
            if little {
                n.to_le_bytes()
            } else {
                n.to_be_bytes()
            }
        };
        let mut bytes = if little {
            b"II".to_vec()
        } else {
            b"MM".to_vec()
        };
        bytes.extend(short(42));
        bytes.extend(long(8));
        for (value, next) in [(0, 26), (4, 0)] {
            bytes.extend([short(1), short(262), short(3)].concat());
            bytes.extend(long(1));
            bytes.extend([short(value), short(0)].concat());
            bytes.extend(long(next));
        }
        bytes
    }

    #[test]
    fn interpretations_are_plain_in_either_order() {
        for little in [true, false] {
            let bytes = file(little);
            let mut stored = Stored::of(Cursor::new(bytes.clone())).unwrap();
            let mut read = Vec::new();
            stored.read_to_end(&mut read).unwrap();
            let mut expected = bytes;
            for at in [18, 36] {
                let one = if little { [1, 0] } else { [0, 1] };
                expected[at..at + 2].copy_from_slice(&one);
            }
            assert_eq!(read, expected);
            // From any place, in any portions.
            stored.seek(SeekFrom::Start(19)).unwrap();
            let mut two = [0; 2];
            stored.read_exact(&mut two).unwrap();
            assert_eq!(two, expected[19..21]);
        }
    }

    proptest! {
        /// Whatever the bytes, no loop and no panic.
        #[test]
        fn any_bytes_are_read(little in any::<bool>(), changes in prop::collection::vec((0usize..44, any::<u8>()), 0..8)) {
            let mut bytes = file(little);
            for (at, byte) in changes {
                bytes[at] = byte;
            }
            let mut read = Vec::new();
            Stored::of(Cursor::new(&bytes)).unwrap().read_to_end(&mut read).unwrap();
            prop_assert_eq!(read.len(), bytes.len());
        }
    }
}
