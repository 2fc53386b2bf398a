//! Files that are compared with what was recorded of them.

use std::collections::BTreeMap;
use std::path::{Path, PathBuf};

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use crate::error::JobError;
use crate::input::{FilesRead, file};

/// Whether a file is as it was.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[serde(rename_all = "snake_case")]
pub enum FileState {
    /// It has the same bytes.
    Same,
    /// It has others.
    Changed,
    /// It is not there.
    Missing,
}

/// The files of a folder as they are now, each read once.
pub(super) struct FilesNow {
    folder: PathBuf,
    /// The size and the digest of those that were read; none of what is no file.
    read: BTreeMap<PathBuf, Option<(u64, String)>>,
}

impl FilesNow {
    pub(super) fn of(folder: &Path) -> Self {
        FilesNow {
            folder: folder.into(),
            read: BTreeMap::new(),
        }
    }

    /// Whether a file is as it was, and its size now. A folder or a device of that name is no file.
    pub(super) fn state(
        &mut self,
        path: &str,
        bytes: u64,
        sha256: &str,
    ) -> Result<(FileState, Option<u64>), JobError> {
        let path = self.folder.join(path);
        if !self.read.contains_key(&path) {
            let now = match path.is_file() {
                true => Some(file::digested(&path, &FilesRead::default())?),
                false => None,
            };
            self.read.insert(path.clone(), now);
        }
        Ok(match self.read.get(&path).and_then(Option::as_ref) {
            None => (FileState::Missing, None),
            Some((now, digest)) if (*now, digest.as_str()) == (bytes, sha256) => {
                (FileState::Same, Some(*now))
            }
            Some((now, _)) => (FileState::Changed, Some(*now)),
        })
    }
}
