//! New files put in the places of old ones, which are kept until all of them stand.

use std::fs::{self, File};
use std::path::{Path, PathBuf};

use tempfile::{NamedTempFile, TempPath};

use super::{Staged, beside};
use crate::error::CommandError;

/// Files that are in their places, and what they have replaced.
pub(super) struct Swap {
    /// Where each of them is, and the file that was there.
    done: Vec<(PathBuf, Option<TempPath>)>,
    /// The folders, locked against another run that would put its own files between.
    locked: Vec<File>,
}

impl Swap {
    /// Puts files in their places, all or none; what goes into streams is written last.
    pub(super) fn all(staged: Vec<Staged>) -> Result<Self, CommandError> {
        let (streams, files): (Vec<Staged>, Vec<Staged>) =
            staged.into_iter().partition(|one| one.target.is_stream);
        let mut swap = Swap {
            locked: locked(&files),
            done: Vec::new(),
        };
        for one in files {
            let Staged {
                file,
                target,
                named,
            } = one;
            let put = swap.put(file, &target.path, target.exists());
            if let Err(source) = put {
                swap.undo();
                return Err(CommandError::Write {
                    path: named,
                    source,
                });
            }
        }
        for one in streams {
            if let Err(source) = one.target.pour(one.file.path()) {
                swap.undo();
                return Err(CommandError::Write {
                    path: one.named,
                    source,
                });
            }
        }
        Ok(swap)
    }

    fn put(&mut self, file: NamedTempFile, path: &Path, replaces: bool) -> std::io::Result<()> {
        let old = match replaces && path.exists() {
            true => Some(kept(path)?),
            false => None,
        };
        // The old one stays in its place until the new one takes it.
        file.persist(path).map_err(|fault| fault.error)?;
        self.done.push((path.to_path_buf(), old));
        Ok(())
    }

    /// Leaves the new files; the old ones go.
    pub(super) fn keep(self) {
        drop(self);
    }

    /// Puts the old files back, and takes away what was not there.
    pub(super) fn undo(mut self) {
        for (path, old) in self.done.drain(..).rev() {
            match old {
                // Nothing more can be done where this fails: the old file is left beside its place.
                Some(old) => {
                    if let Err(fault) = old.persist(&path) {
                        let _ = fault.path.keep();
                    }
                }
                None => {
                    let _ = fs::remove_file(&path);
                }
            }
        }
        self.locked.clear();
    }
}

/// The old file under another name too, so that it can be put back.
fn kept(path: &Path) -> std::io::Result<TempPath> {
    let folder = path.parent().unwrap_or(Path::new("."));
    let name = beside::new(folder)?.into_temp_path();
    fs::remove_file(&name)?;
    // Where files have one name only it is copied.
    fs::hard_link(path, &name).or_else(|_| fs::copy(path, &name).map(|_| ()))?;
    Ok(name)
}

/// The folders that files go to, locked in one order, so that two runs never wait for each other; and cleared of what
/// runs that were killed have left. Where a folder cannot be locked the files are put there all the same.
fn locked(files: &[Staged]) -> Vec<File> {
    let mut folders: Vec<&Path> = files.iter().map(|one| one.target.folder()).collect();
    folders.sort_unstable();
    folders.dedup();
    let locked = folders.into_iter().filter_map(|folder| {
        let lock = File::open(folder).and_then(|folder| folder.lock().map(|()| folder));
        beside::clear(folder);
        lock.ok()
    });
    locked.collect()
}
