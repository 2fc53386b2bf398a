//! Files that are written beside their places; what a run that was killed has left of them is cleared by the next.

use std::fs::{self, File};
use std::io;
use std::path::Path;
use std::time::{Duration, SystemTime};

use tempfile::NamedTempFile;

/// How their names begin.
const PREFIX: &str = ".dapedon-";

/// Younger ones may belong to a run that has made its file and not locked it yet.
const YOUNG: Duration = Duration::from_secs(2);

/// A new file in a folder, locked as long as this run is alive.
pub(super) fn new(folder: &Path) -> io::Result<NamedTempFile> {
    let mut builder = tempfile::Builder::new();
    builder.prefix(PREFIX);
    #[cfg(unix)]
    {
        use std::os::unix::fs::PermissionsExt;
        builder.permissions(fs::Permissions::from_mode(0o666));
    }
    let file = builder.tempfile_in(folder)?;
    // Where files cannot be locked nothing is cleared either.
    let _ = file.as_file().lock();
    Ok(file)
}

/// Removes what runs have left that are no more.
pub(super) fn clear(folder: &Path) {
    for entry in fs::read_dir(folder).into_iter().flatten().flatten() {
        let ours = entry.file_name().to_string_lossy().starts_with(PREFIX);
        if ours && is_left(&entry.path()) {
            let _ = fs::remove_file(entry.path());
        }
    }
}

/// True for a file that nobody holds.
fn is_left(path: &Path) -> bool {
    let old = || {
        let about = fs::symlink_metadata(path)
            .ok()
            .filter(fs::Metadata::is_file)?;
        let age = SystemTime::now().duration_since(about.modified().ok()?);
        age.ok().filter(|age| *age > YOUNG)
    };
    old().is_some() && File::open(path).is_ok_and(|file| file.try_lock().is_ok())
}
