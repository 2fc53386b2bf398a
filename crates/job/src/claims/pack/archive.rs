//! A pack as one archive.

use std::fs::{self, File};
use std::io::{self, Read};
use std::path::Path;

use tempfile::TempDir;
use zip::write::SimpleFileOptions;
use zip::{CompressionMethod, ZipArchive, ZipWriter};

use super::super::error::ClaimError;
use super::Held;

/// Surveys become no smaller than this part of themselves: an archive that holds more is none of ours.
const SMALLEST: u64 = 200;

/// What any archive may hold.
const FREE: u64 = 64 << 20;

/// Writes an archive beside its place, and puts it there when it is whole. The same files make the same bytes.
pub(super) fn write(parent: &Path, path: &Path, files: &[(String, &Held)]) -> io::Result<()> {
    let mut beside = tempfile::Builder::new()
        .prefix(".packing-")
        .tempfile_in(parent)?;
    let options = SimpleFileOptions::default()
        .compression_method(CompressionMethod::Deflated)
        .last_modified_time(zip::DateTime::default())
        .unix_permissions(0o644)
        .large_file(true);
    let mut archive = ZipWriter::new(beside.as_file_mut());
    for (name, held) in files {
        archive.start_file(name.as_str(), options)?;
        held.write(&mut archive)?;
    }
    archive.finish()?;
    beside.as_file().sync_all()?;
    beside
        .persist_noclobber(path)
        .map_err(|error| error.error)?;
    Ok(())
}

/// Unpacks an archive into a folder that goes away when it is dropped.
pub(in crate::claims) fn unpacked(path: &Path) -> Result<TempDir, ClaimError> {
    let fault = |what: String| ClaimError::Archive {
        path: path.into(),
        what,
    };
    let read = |error: io::Error| fault(error.to_string());
    let zipped = |error: zip::result::ZipError| fault(error.to_string());
    let mut archive = ZipArchive::new(File::open(path).map_err(read)?).map_err(zipped)?;
    let folder = tempfile::tempdir().map_err(read)?;
    let size = fs::metadata(path).map_err(read)?.len();
    let mut left = size.saturating_mul(SMALLEST).saturating_add(FREE);
    for at in 0..archive.len() {
        let entry = archive.by_index(at).map_err(zipped)?;
        if entry.is_dir() {
            continue;
        }
        // A name that leads out of the folder is none.
        let Some(name) = entry.enclosed_name() else {
            let name = entry.name().unwrap_or_default();
            return Err(fault(format!("\"{name}\" leads out of it")));
        };
        let place = folder.path().join(name);
        if let Some(parent) = place.parent() {
            fs::create_dir_all(parent).map_err(read)?;
        }
        let mut file = File::create(&place).map_err(read)?;
        let written = io::copy(&mut entry.take(left.saturating_add(1)), &mut file);
        left = left
            .checked_sub(written.map_err(read)?)
            .ok_or_else(|| fault("it holds more than a job has".into()))?;
    }
    Ok(folder)
}
