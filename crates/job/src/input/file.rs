//! Input files: opened once, with what it takes to know them again.

use std::fmt;
use std::fs::{self, File, Metadata};
use std::io::{self, BufRead, BufReader, Read, Seek, SeekFrom};
use std::path::{Path, PathBuf};
use std::sync::{Arc, Mutex, MutexGuard, PoisonError};
use std::time::SystemTime;

use dapedon_formats::{Format, foreign};
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};
use sha2::{Digest, Sha256};

use crate::error::JobError;
use crate::input::InputError;
use crate::watch::Step;

/// What it takes to know a file again.
#[derive(Debug, Clone, PartialEq, Eq, Default, Serialize, Deserialize, JsonSchema)]
pub struct InputFile {
    /// As it was named.
    pub path: String,
    /// Its format.
    pub format: String,
    /// Its length in bytes.
    pub bytes: u64,
    /// The SHA-256 digest of its bytes, in hexadecimal.
    pub sha256: String,
    /// What came with it: the other files of a cloud, the table of a shapefile.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub other_files: Vec<InputFile>,
}

/// An open file that digests what is read from it.
pub(crate) struct Input {
    pub(crate) format: Format,
    path: PathBuf,
    /// What it was like when it was opened.
    stamp: Option<Stamp>,
    reader: BufReader<Digesting>,
    /// It was read here and there, not from its start to its end.
    scattered: bool,
}

/// What changes when a file does: its length, and when it was written to last. None of what is no regular file.
type Stamp = (u64, Option<SystemTime>);

fn stamp(about: &Metadata) -> Option<Stamp> {
    (about.is_file()).then(|| (about.len(), about.modified().ok()))
}

/// The files that are read, by their paths without links: those that somebody names, those that a job names, and those
/// that lie beside or within one of these. Outputs are kept off them. Clones are one list.
#[derive(Clone, Default)]
pub struct FilesRead {
    list: Arc<Mutex<Vec<PathBuf>>>,
    /// The step that they are read in.
    step: Step,
}

impl fmt::Debug for FilesRead {
    fn fmt(&self, formatter: &mut fmt::Formatter<'_>) -> fmt::Result {
        formatter.debug_list().entries(self.list().iter()).finish()
    }
}

impl FilesRead {
    /// All of them so far.
    pub fn all(&self) -> Vec<PathBuf> {
        self.list().clone()
    }

    /// The same list, for what is read in a step of the work.
    pub(crate) fn within(&self, step: &Step) -> Self {
        FilesRead {
            list: self.list.clone(),
            step: step.clone(),
        }
    }

    fn add(&self, path: &Path) {
        let path = path.canonicalize().unwrap_or_else(|_| path.to_path_buf());
        let mut read = self.list();
        if !read.contains(&path) {
            read.push(path);
        }
    }

    fn list(&self) -> MutexGuard<'_, Vec<PathBuf>> {
        self.list.lock().unwrap_or_else(PoisonError::into_inner)
    }
}

/// What was read is no part of how files are read.
impl PartialEq for FilesRead {
    fn eq(&self, _: &Self) -> bool {
        true
    }
}

struct Digesting {
    file: Watched,
    digest: Sha256,
    bytes: u64,
}

/// An open file whose bytes are reported as they are read.
pub(crate) struct Watched {
    file: File,
    step: Step,
}

impl Read for Watched {
    fn read(&mut self, buffer: &mut [u8]) -> io::Result<usize> {
        let read = self.file.read(buffer)?;
        self.step.read(read)?;
        Ok(read)
    }
}

impl Seek for Watched {
    fn seek(&mut self, to: SeekFrom) -> io::Result<u64> {
        self.file.seek(to)
    }
}

impl Watched {
    fn try_clone(&self) -> io::Result<Self> {
        Ok(Watched {
            file: self.file.try_clone()?,
            step: self.step.clone(),
        })
    }
}

impl Read for Digesting {
    fn read(&mut self, buffer: &mut [u8]) -> io::Result<usize> {
        let read = self.file.read(buffer)?;
        self.digest.update(&buffer[..read]);
        self.bytes += read as u64;
        Ok(read)
    }
}

impl Input {
    pub(crate) fn open(path: &Path, read: &FilesRead) -> Result<Self, JobError> {
        let fault = |source| {
            JobError::from(InputError::Read {
                path: path.into(),
                source,
            })
        };
        let about = fs::metadata(path).map_err(fault)?;
        if about.is_dir() {
            return Err(InputError::Folder { path: path.into() }.into());
        }
        let file = File::open(path).map_err(fault)?;
        read.add(path);
        let about = file.metadata().map_err(fault)?;
        read.step.to_read(about.len());
        let stamp = stamp(&about);
        let digesting = Digesting {
            file: Watched {
                file,
                step: read.step.clone(),
            },
            digest: Sha256::new(),
            bytes: 0,
        };
        let mut reader = BufReader::with_capacity(1 << 17, digesting);
        let head = reader.fill_buf().map_err(fault)?;
        if head.is_empty() {
            return Err(InputError::Empty { path: path.into() }.into());
        }
        if let Some(found) = foreign(path, head) {
            let path = path.into();
            return Err(InputError::Foreign { path, found }.into());
        }
        let format = Format::of(path, head)
            .ok_or_else(|| InputError::UnknownFormat { path: path.into() })?;
        Ok(Input {
            format,
            path: path.to_path_buf(),
            stamp,
            reader,
            scattered: false,
        })
    }

    /// The same opening of the file, to be read here and there. What was read of it is digested from its start once
    /// that is done: the file is the same one even where another takes its name meanwhile.
    pub(crate) fn rewound(&mut self) -> Result<Watched, JobError> {
        self.scattered = true;
        let digesting = self.reader.get_mut();
        let opened = digesting
            .file
            .rewind()
            .and_then(|()| digesting.file.try_clone());
        opened.map_err(|source| {
            JobError::from(InputError::Read {
                path: self.path.clone(),
                source,
            })
        })
    }

    pub(crate) fn reader(&mut self) -> impl BufRead + '_ {
        &mut self.reader
    }

    /// What it takes to know the file again: the rest of it is read for the digest, or all of it from its start.
    pub(crate) fn finish(mut self) -> Result<InputFile, JobError> {
        if self.scattered {
            drop(self.rewound()?);
            let Digesting { mut file, .. } = self.reader.into_inner();
            // Far quicker than what was read of it before.
            file.step = file.step.untold();
            let digesting = Digesting {
                file,
                digest: Sha256::new(),
                bytes: 0,
            };
            self.reader = BufReader::with_capacity(1 << 20, digesting);
        }
        let fault = |source| {
            JobError::from(InputError::Read {
                path: self.path.clone(),
                source,
            })
        };
        io::copy(&mut self.reader, &mut io::sink()).map_err(fault)?;
        let Digesting {
            file,
            digest,
            bytes,
        } = self.reader.into_inner();
        // What was digested is what was measured only where nobody wrote to it meanwhile.
        if stamp(&file.file.metadata().map_err(fault)?) != self.stamp {
            return Err(InputError::Changed { path: self.path }.into());
        }
        Ok(InputFile {
            path: self.path.display().to_string(),
            format: self.format.name().into(),
            bytes,
            sha256: hexadecimal(digest),
            other_files: Vec::new(),
        })
    }
}

/// A small file that lies beside another one, whole.
pub(crate) fn beside(path: &Path, read: &FilesRead) -> Result<(InputFile, Vec<u8>), JobError> {
    let fault = |source| {
        JobError::from(InputError::Read {
            path: path.into(),
            source,
        })
    };
    let bytes = fs::read(path).map_err(fault)?;
    read.add(path);
    let ending = path.extension().unwrap_or_default().to_string_lossy();
    let file = InputFile {
        path: path.display().to_string(),
        format: format!(".{}", ending.to_lowercase()),
        bytes: bytes.len() as u64,
        sha256: digest(&bytes),
        other_files: Vec::new(),
    };
    Ok((file, bytes))
}

/// The size and the digest of a file, however long.
pub(crate) fn digested(path: &Path, read: &FilesRead) -> Result<(u64, String), JobError> {
    let fault = |source| {
        JobError::from(InputError::Read {
            path: path.into(),
            source,
        })
    };
    let mut reader = BufReader::new(Digesting {
        file: Watched {
            file: File::open(path).map_err(fault)?,
            step: read.step.clone(),
        },
        digest: Sha256::new(),
        bytes: 0,
    });
    io::copy(&mut reader, &mut io::sink()).map_err(fault)?;
    let Digesting { digest, bytes, .. } = reader.into_inner();
    Ok((bytes, hexadecimal(digest)))
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

    /// A file is read here and there and digested from the same opening; one that is written to meanwhile is refused.
    #[test]
    fn what_is_read_is_what_is_digested() {
        let folder = tempfile::tempdir().unwrap();
        let path = folder.path().join("a.csv");
        fs::write(&path, "abc").unwrap();
        let read = FilesRead::default();
        let mut input = Input::open(&path, &read).unwrap();
        let mut text = String::new();
        input.rewound().unwrap().read_to_string(&mut text).unwrap();
        // Another file takes its name: this one is still the one that was opened.
        fs::rename(&path, folder.path().join("old.csv")).unwrap();
        fs::write(&path, "other").unwrap();
        let file = input.finish().unwrap();
        assert_eq!((text.as_str(), file.sha256), ("abc", digest(b"abc")));

        let input = Input::open(&path, &read).unwrap();
        fs::write(&path, "changed, and longer").unwrap();
        let error = input.finish().unwrap_err();
        assert!(
            matches!(error.kind(), Some(InputError::Changed { .. })),
            "{error}"
        );
        assert_eq!(read.all(), [path.canonicalize().unwrap()]);
    }

    #[test]
    fn the_digest_is_the_standard_one() {
        // FIPS 180-4's own example.
        let expected = "ba7816bf8f01cfea414140de5dae2223b00361a396177a9cb410ff61f20015ad";
        assert_eq!(digest(b"abc"), expected);
        let folder = tempfile::tempdir().unwrap();
        let path = folder.path().join("a.csv");
        fs::write(&path, "abc").unwrap();
        let file = Input::open(&path, &FilesRead::default())
            .unwrap()
            .finish()
            .unwrap();
        assert_eq!(
            (file.sha256.as_str(), file.bytes, file.format.as_str()),
            (expected, 3, "delimited text")
        );
    }
}
