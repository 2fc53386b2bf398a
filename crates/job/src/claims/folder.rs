//! The folder of the records: one file for each issued claim, each chained to the one before.

use std::fs::{self, File};
use std::io::{self, Write};
use std::path::{Path, PathBuf};

use super::error::{ClaimError, RecordError};
use super::record::{self, Record};

/// A record in its place, and what is wrong with it.
#[derive(Debug)]
pub(super) struct Examined {
    pub(super) number: u32,
    pub(super) path: PathBuf,
    pub(super) record: Option<Record>,
    pub(super) faults: Vec<RecordError>,
}

/// The name of the record of a claim.
pub(super) fn name(number: u32) -> String {
    format!("claim-{number:03}.json")
}

/// All records of a folder by their numbers, and what is wrong with each: with itself, and with its place in the chain.
/// None where there is no such folder.
pub(super) fn examine(folder: &Path) -> Result<Vec<Examined>, RecordError> {
    let fault = |source| RecordError::Read {
        path: folder.into(),
        source,
    };
    let entries = match fs::read_dir(folder) {
        Ok(entries) => entries,
        Err(error) if error.kind() == io::ErrorKind::NotFound => return Ok(Vec::new()),
        Err(error) => return Err(fault(error)),
    };
    let mut numbers = Vec::new();
    for entry in entries {
        let entry = entry.map_err(fault)?;
        let file = entry.file_name();
        let number = file.to_str().and_then(|own| {
            let number = own
                .strip_prefix("claim-")?
                .strip_suffix(".json")?
                .parse()
                .ok()?;
            (name(number) == own).then_some(number)
        });
        numbers.extend(number);
    }
    numbers.sort_unstable();
    let last = numbers.last().copied().unwrap_or(0);
    let mut examined: Vec<Examined> = Vec::new();
    for number in 1..=last {
        let path = folder.join(name(number));
        let own = match numbers.binary_search(&number) {
            Ok(_) => one(number, path, examined.last()),
            Err(_) => Examined {
                number,
                path: path.clone(),
                record: None,
                faults: vec![RecordError::Missing { path, number }],
            },
        };
        examined.push(own);
    }
    Ok(examined)
}

/// A record, after the one before.
fn one(number: u32, path: PathBuf, before: Option<&Examined>) -> Examined {
    let read = fs::read(&path).map_err(|source| RecordError::Read {
        path: path.clone(),
        source,
    });
    let record = read.and_then(|bytes| record::read(&path, &bytes));
    let (record, mut faults) = match record {
        Ok(record) => (Some(record), Vec::new()),
        Err(fault) => (None, vec![fault]),
    };
    if let Some(record) = &record {
        let own = record.claim.number;
        if own != number {
            let path = path.clone();
            faults.push(RecordError::Number { path, number: own });
        }
        let stated = record.claim.previous.as_ref();
        let found = before.and_then(|before| before.record.as_ref());
        let chained = match (stated, found) {
            (None, None) => own == 1,
            (Some(stated), Some(found)) => *stated == found.known_by(),
            _ => false,
        };
        // What is wrong with the record before is said there.
        let before_is_there = before.is_none_or(|before| before.record.is_some());
        if !chained && before_is_there {
            let none = || "none".to_owned();
            faults.push(RecordError::Chain {
                path: path.clone(),
                number: own,
                before: stated.map_or(number.saturating_sub(1), |stated| stated.claim),
                stated: stated.map_or_else(none, |stated| stated.digest.clone()),
                found: found.map_or_else(none, |found| found.digest.clone()),
            });
        }
    }
    Examined {
        number,
        path,
        record,
        faults,
    }
}

/// All records of a folder, nothing wrong with any of them.
pub(super) fn read(folder: &Path) -> Result<Vec<Record>, RecordError> {
    let mut records = Vec::new();
    for Examined { record, faults, .. } in examine(folder)? {
        if let Some(fault) = faults.into_iter().next() {
            return Err(fault);
        }
        records.extend(record);
    }
    Ok(records)
}

/// Writes a record into its place, unless there is one already: whole, and on the disk, or not at all. Of two that are
/// written at the same moment one has its place.
pub(super) fn write(folder: &Path, number: u32, text: &str) -> Result<PathBuf, ClaimError> {
    let path = folder.join(name(number));
    let fault = |source| ClaimError::CannotWrite {
        path: path.clone(),
        source,
    };
    fs::create_dir_all(folder).map_err(fault)?;
    let mut beside = tempfile::Builder::new()
        .prefix(".issuing-")
        .tempfile_in(folder)
        .map_err(fault)?;
    beside.write_all(text.as_bytes()).map_err(fault)?;
    beside.as_file().sync_all().map_err(fault)?;
    // Others are to read it as they read any file of the folder.
    readable(beside.as_file()).map_err(fault)?;
    match beside.persist_noclobber(&path) {
        Ok(_) => {}
        Err(error) if error.error.kind() == io::ErrorKind::AlreadyExists => {
            return Err(ClaimError::Issued { number, path });
        }
        Err(error) => return Err(fault(error.error)),
    }
    on_disk(folder).map_err(fault)?;
    Ok(path)
}

#[cfg(unix)]
fn readable(file: &File) -> io::Result<()> {
    use std::os::unix::fs::PermissionsExt;
    file.set_permissions(fs::Permissions::from_mode(0o444))
}

#[cfg(not(unix))]
fn readable(_: &File) -> io::Result<()> {
    Ok(())
}

/// The name of a file is on the disk when its folder is.
#[cfg(unix)]
fn on_disk(folder: &Path) -> io::Result<()> {
    File::open(folder)?.sync_all()
}

#[cfg(not(unix))]
fn on_disk(_: &Path) -> io::Result<()> {
    Ok(())
}
