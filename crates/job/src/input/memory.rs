//! The memory that a run may take, held against what it would before it is taken.

use std::fmt;
use std::str::FromStr;

/// The memory that what a run builds may take.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct Memory(u64);

/// The bytes of a gigabyte, as people say it.
const GIGABYTE: u64 = 1_000_000_000;

impl Default for Memory {
    /// Two gigabytes: what an office machine has to spare.
    fn default() -> Self {
        Memory(2 * GIGABYTE)
    }
}

impl Memory {
    /// How many things of a size it holds.
    pub(crate) fn holds(self, bytes_each: u64) -> u64 {
        self.0 / bytes_each
    }
}

/// A size that is none.
#[derive(Debug, Clone, PartialEq, thiserror::Error)]
#[error("\"{0}\" is not a memory size: use a size as in 4GB or 500MB")]
pub struct MemoryError(String);

impl FromStr for Memory {
    type Err = MemoryError;

    fn from_str(text: &str) -> Result<Self, MemoryError> {
        let fault = || MemoryError(text.into());
        let upper = text.trim().to_ascii_uppercase();
        let units = [("GB", GIGABYTE), ("MB", GIGABYTE / 1000)];
        let split =
            |(unit, bytes): (&str, u64)| Some((upper.strip_suffix(unit)?.trim().to_owned(), bytes));
        let (number, unit) = units.into_iter().find_map(split).ok_or_else(fault)?;
        let number: f64 = number.parse().map_err(|_| fault())?;
        let bytes = number * unit as f64;
        match (1e6..=1e15).contains(&bytes) {
            true => Ok(Memory(bytes as u64)),
            false => Err(fault()),
        }
    }
}

impl fmt::Display for Memory {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        match self.0 {
            bytes if bytes.is_multiple_of(GIGABYTE) => write!(f, "{}GB", bytes / GIGABYTE),
            bytes => write!(f, "{}MB", bytes / (GIGABYTE / 1000)),
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn sizes_are_read_as_people_say_them() {
        let read = |text: &str| text.parse::<Memory>();
        assert_eq!(read("2GB").unwrap(), Memory::default());
        assert_eq!(read(" 0.5 gb").unwrap(), read("500MB").unwrap());
        assert_eq!(read("500MB").unwrap().to_string(), "500MB");
        for wrong in ["2", "GB", "-1GB", "nanGB", "infGB", "1KB", "1e30GB", ""] {
            assert!(read(wrong).is_err(), "{wrong}");
        }
    }
}
