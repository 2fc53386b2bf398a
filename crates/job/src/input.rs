//! Input files: opened once, with what it takes to know them again.

use std::fs::{self, File};
use std::io::{self, BufRead, BufReader, Read};
use std::path::Path;

use dapedon_formats::Format;
use serde::Serialize;
use sha2::{Digest, Sha256};

use crate::JobError;

/// What it takes to know a file again.
#[derive(Debug, Clone, PartialEq, Eq, Default, Serialize)]
pub struct InputFile {
    /// As it was named.
    pub path: String,
    /// Its format.
    pub format: String,
    /// Its length in bytes.
    pub bytes: u64,
    /// The SHA-256 digest of its bytes, in hexadecimal.
    pub sha256: String,
    /// The day it was last changed (UTC).
    pub modified: Option<String>,
    /// What came with it: the other files of a cloud, the table of a shapefile.
    #[serde(skip_serializing_if = "Vec::is_empty")]
    pub with: Vec<InputFile>,
}

/// An open file that digests what is read from it.
pub(crate) struct Input {
    pub(crate) format: Format,
    path: String,
    bytes: u64,
    modified: Option<String>,
    reader: BufReader<Digesting>,
}

struct Digesting {
    file: File,
    digest: Sha256,
}

impl Read for Digesting {
    fn read(&mut self, buffer: &mut [u8]) -> io::Result<usize> {
        let read = self.file.read(buffer)?;
        self.digest.update(&buffer[..read]);
        Ok(read)
    }
}

impl Input {
    pub(crate) fn open(path: &Path) -> Result<Self, JobError> {
        let fault = |source| JobError::Read {
            path: path.into(),
            source,
        };
        let about = fs::metadata(path).map_err(fault)?;
        if about.is_dir() {
            return Err(JobError::Folder { path: path.into() });
        }
        let file = File::open(path).map_err(fault)?;
        let digest = Sha256::new();
        let mut reader = BufReader::with_capacity(1 << 17, Digesting { file, digest });
        let head = reader.fill_buf().map_err(fault)?;
        if head.is_empty() {
            return Err(JobError::Empty { path: path.into() });
        }
        let format =
            Format::of(path, head).ok_or_else(|| JobError::UnknownFormat { path: path.into() })?;
        Ok(Input {
            format,
            path: path.display().to_string(),
            bytes: about.len(),
            modified: day(&about),
            reader,
        })
    }

    pub(crate) fn reader(&mut self) -> impl BufRead + '_ {
        &mut self.reader
    }

    /// What it takes to know the file again, the rest of it read for the digest.
    pub(crate) fn finish(mut self) -> Result<InputFile, JobError> {
        io::copy(&mut self.reader, &mut io::sink()).map_err(|source| JobError::Read {
            path: self.path.clone().into(),
            source,
        })?;
        Ok(InputFile {
            path: self.path,
            format: self.format.name().into(),
            bytes: self.bytes,
            sha256: hexadecimal(self.reader.into_inner().digest),
            modified: self.modified,
            with: Vec::new(),
        })
    }
}

/// A small file that lies beside another one, whole.
pub(crate) fn beside(path: &Path) -> Result<(InputFile, Vec<u8>), JobError> {
    let fault = |source| JobError::Read {
        path: path.into(),
        source,
    };
    let bytes = fs::read(path).map_err(fault)?;
    let about = fs::metadata(path).map_err(fault)?;
    let ending = path.extension().unwrap_or_default().to_string_lossy();
    let file = InputFile {
        path: path.display().to_string(),
        format: format!(".{}", ending.to_lowercase()),
        bytes: bytes.len() as u64,
        sha256: digest(&bytes),
        modified: day(&about),
        with: Vec::new(),
    };
    Ok((file, bytes))
}

/// The day a file was last changed.
fn day(about: &fs::Metadata) -> Option<String> {
    let modified = about.modified().ok()?;
    let time = jiff::Timestamp::try_from(modified).ok()?;
    Some(time.strftime("%Y-%m-%d").to_string())
}

fn hexadecimal(digest: Sha256) -> String {
    digest
        .finalize()
        .iter()
        .map(|byte| format!("{byte:02x}"))
        .collect()
}

/// The SHA-256 digest of bytes, in hexadecimal.
pub fn digest(bytes: &[u8]) -> String {
    hexadecimal(Sha256::new_with_prefix(bytes))
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn the_digest_is_the_standard_one() {
        // FIPS 180-4's own example.
        let expected = "ba7816bf8f01cfea414140de5dae2223b00361a396177a9cb410ff61f20015ad";
        assert_eq!(digest(b"abc"), expected);
        let folder = tempfile::tempdir().unwrap();
        let path = folder.path().join("a.csv");
        fs::write(&path, "abc").unwrap();
        let file = Input::open(&path).unwrap().finish().unwrap();
        assert_eq!(
            (file.sha256.as_str(), file.bytes, file.format.as_str()),
            (expected, 3, "delimited text")
        );
    }
}
