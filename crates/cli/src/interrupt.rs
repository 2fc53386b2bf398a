//! Work that is interrupted leaves nothing behind.

use std::fs;
use std::path::{Path, PathBuf};
use std::sync::{Mutex, MutexGuard, PoisonError};

/// Files that are being written beside their places.
static WRITTEN: Mutex<Vec<PathBuf>> = Mutex::new(Vec::new());

/// What a shell takes as ended by an interrupt.
const INTERRUPTED: i32 = 130;

fn written() -> MutexGuard<'static, Vec<PathBuf>> {
    WRITTEN.lock().unwrap_or_else(PoisonError::into_inner)
}

/// Removes what is being written when the work is interrupted.
pub(crate) fn watch() {
    // Without a handler the system's own holds, and files beside their places may be left.
    let _ = ctrlc::set_handler(|| {
        let paths = written();
        for path in paths.iter() {
            let _ = fs::remove_file(path);
        }
        std::process::exit(INTERRUPTED);
    });
}

/// Remembers a file that is being written.
pub(crate) fn remember(path: &Path) {
    written().push(path.into());
}

/// Does what must not be interrupted, and forgets the files.
pub(crate) fn finish<R>(work: impl FnOnce() -> R) -> R {
    let mut paths = written();
    let result = work();
    paths.clear();
    result
}
