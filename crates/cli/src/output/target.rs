//! Where an output goes: a file, or a device or pipe that is written into as it is.

use std::fs::{self, File, Metadata, OpenOptions};
use std::io;
use std::path::{Path, PathBuf};

use tempfile::NamedTempFile;

use super::beside;

/// Where an output goes.
pub(super) struct Target {
    /// The file itself, links followed.
    pub(super) path: PathBuf,
    /// What stands there, if anything.
    known: Option<Metadata>,
    /// It is no regular file: nothing may take its place.
    pub(super) is_stream: bool,
}

impl Target {
    /// Where a path leads.
    pub(super) fn of(path: &Path) -> io::Result<Self> {
        let known = match fs::metadata(path) {
            Ok(known) => Some(known),
            Err(error) if error.kind() == io::ErrorKind::NotFound => None,
            Err(error) => return Err(error),
        };
        if known.as_ref().is_some_and(Metadata::is_dir) {
            return Err(io::Error::other("it is a folder"));
        }
        // What is named as a device is one, wherever the shell has it lead.
        let named = path.starts_with("/dev") || path.starts_with("/proc");
        let is_stream = named || known.as_ref().is_some_and(|known| !known.is_file());
        let path = match &known {
            Some(_) if is_stream => path.to_path_buf(),
            Some(_) => path.canonicalize()?,
            None => to_be(path)?,
        };
        Ok(Target {
            path,
            known,
            is_stream,
        })
    }

    /// True for an existing file that is the same one, under whatever name.
    pub(super) fn is_file(&self, other: &Path) -> bool {
        if self.is_stream {
            return false;
        }
        match (&self.known, fs::metadata(other)) {
            (Some(own), Ok(other)) if same(own, &other) == Some(true) => true,
            _ => other.canonicalize().is_ok_and(|other| other == self.path),
        }
    }

    /// True where both lead to the same file; streams take as much as they are given.
    pub(super) fn is_same(&self, other: &Target) -> bool {
        let one = |own: &Option<Metadata>, other: &Option<Metadata>| match (own, other) {
            (Some(own), Some(other)) => same(own, other) == Some(true),
            _ => false,
        };
        // Another run may have put a file in the place of one of them, and its old number given to the other: then they differ when
        // both are asked anew.
        let anew = |path: &Path| fs::metadata(path).ok();
        let one_file = one(&self.known, &other.known) && one(&anew(&self.path), &anew(&other.path));
        !self.is_stream && !other.is_stream && (one_file || self.path == other.path)
    }

    /// Finds out whether it can be written.
    pub(super) fn try_out(&self) -> io::Result<()> {
        if self.is_stream {
            // Opening a pipe would wait for its reader.
            return Ok(());
        }
        if self.known.is_some() {
            OpenOptions::new().append(true).open(&self.path)?;
        }
        self.beside().map(|_| ())
    }

    /// A file to write to first: beside it and with its mode, so that it can take its place; for a stream anywhere.
    pub(super) fn beside(&self) -> io::Result<NamedTempFile> {
        if self.is_stream {
            return NamedTempFile::new();
        }
        let file = beside::new(self.folder())?;
        if let Some(known) = &self.known {
            file.as_file().set_permissions(known.permissions())?;
        }
        Ok(file)
    }

    /// The folder it lies in.
    pub(super) fn folder(&self) -> &Path {
        match self.path.parent() {
            Some(folder) if !folder.as_os_str().is_empty() => folder,
            _ => Path::new("."),
        }
    }

    /// True where a file is to be replaced.
    pub(super) fn exists(&self) -> bool {
        self.known.is_some()
    }

    /// Writes into a stream.
    pub(super) fn pour(&self, from: &Path) -> io::Result<()> {
        let mut into = OpenOptions::new().append(true).open(&self.path)?;
        io::copy(&mut File::open(from)?, &mut into).map(|_| ())
    }
}

/// Where a file that is not there yet will be: a link that leads nowhere is followed to where it leads.
fn to_be(path: &Path) -> io::Result<PathBuf> {
    let linked = fs::read_link(path).ok();
    let path = match &linked {
        Some(link) if link.is_absolute() => link.clone(),
        Some(link) => path.parent().unwrap_or(Path::new("")).join(link),
        None => path.to_path_buf(),
    };
    let folder = match path.parent() {
        Some(folder) if !folder.as_os_str().is_empty() => folder,
        _ => Path::new("."),
    };
    let name = path
        .file_name()
        .ok_or_else(|| io::Error::other("it has no name"))?;
    Ok(folder.canonicalize()?.join(name))
}

/// True where both are one file; none where the system does not say.
#[cfg(unix)]
fn same(one: &Metadata, other: &Metadata) -> Option<bool> {
    use std::os::unix::fs::MetadataExt;
    Some((one.dev(), one.ino()) == (other.dev(), other.ino()))
}

#[cfg(not(unix))]
fn same(_: &Metadata, _: &Metadata) -> Option<bool> {
    None
}

/// Files and all that belongs to them: the files beside a shapefile, those of a folder.
pub(super) fn with_parts(inputs: &[&Path]) -> Vec<PathBuf> {
    let mut all = Vec::new();
    for input in inputs {
        all.push(input.to_path_buf());
        if input.is_dir() {
            let entries = fs::read_dir(input).into_iter().flatten().flatten();
            all.extend(entries.map(|entry| entry.path()));
        }
        if input
            .extension()
            .is_some_and(|ending| ending.eq_ignore_ascii_case("shp"))
        {
            for ending in ["shx", "dbf", "prj", "cpg"] {
                all.extend(
                    [ending.to_owned(), ending.to_uppercase()]
                        .map(|ending| input.with_extension(ending)),
                );
            }
        }
    }
    all
}
