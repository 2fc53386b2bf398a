//! The list of all that is in a pack, and the note on how to check it.

use std::fs;
use std::path::Path;

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use super::super::files::{FileState, FilesNow};
use super::super::record::Record;
use crate::error::JobError;

/// The name of the list.
pub(in crate::claims) const MANIFEST: &str = "manifest.json";

/// A file in a pack.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
pub struct PackedFile {
    /// Its path in the pack.
    pub path: String,
    /// Its size in bytes.
    pub bytes: u64,
    /// The SHA-256 digest of its bytes, in hexadecimal.
    pub sha256: String,
}

/// The list of all that is in a pack.
#[derive(Debug, Clone, Serialize, Deserialize)]
pub(in crate::claims) struct Manifest {
    about: String,
    /// The last claim that is in it.
    pub(in crate::claims) claim: u32,
    /// The digest of its record.
    pub(in crate::claims) digest: String,
    /// The folder of the job.
    pub(in crate::claims) job: String,
    /// All files but this one.
    pub(in crate::claims) files: Vec<PackedFile>,
}

impl Manifest {
    pub(super) fn of(last: &Record, job: String, files: Vec<PackedFile>) -> Self {
        Manifest {
            about: "All files that payment claims were made from, with their sizes and SHA-256 digests. CHECK.txt says how to check them.".into(),
            claim: last.claim.number,
            digest: last.digest.clone(),
            job,
            files,
        }
    }

    pub(super) fn text(&self) -> Result<String, serde_json::Error> {
        Ok(format!("{}\n", serde_json::to_string_pretty(self)?))
    }

    /// The list of a folder, if it is a pack. One that cannot be read is none, and what is wrong is said.
    pub(in crate::claims) fn read(folder: &Path) -> Option<Result<Self, String>> {
        let path = folder.join(MANIFEST);
        let text = match fs::read_to_string(&path) {
            Ok(text) => text,
            Err(error) if error.kind() == std::io::ErrorKind::NotFound => return None,
            Err(error) => return Some(Err(format!("{MANIFEST}: {error}"))),
        };
        let read = serde_json::from_str(&text);
        Some(read.map_err(|error| format!("{MANIFEST}: {error}")))
    }

    /// What is not as it is listed, a line each.
    pub(in crate::claims) fn faults(&self, folder: &Path) -> Result<Vec<String>, JobError> {
        let mut faults = Vec::new();
        let mut now = FilesNow::of(folder);
        for own in &self.files {
            let (state, _) = now.state(&own.path, own.bytes, &own.sha256)?;
            match state {
                FileState::Same => {}
                FileState::Missing => faults.push(format!("{}: missing from the pack", own.path)),
                FileState::Changed => {
                    faults.push(format!("{}: not the file that was packed", own.path));
                }
            }
        }
        Ok(faults)
    }
}

/// How to check a pack, in words.
pub(super) fn note(last: &Record) -> String {
    let number = last.claim.number;
    format!(
        "This folder holds all that payment claim {number} and those before it were made from: the survey and design files,
the job file, and the records of the claims as they were issued.

The record of claim {number} has the SHA-256
{digest}
It is printed on the claim. A record states the digest of the record before, so this one vouches for all.

To check everything: install dapedon, open a command line in this folder, and type

    dapedon audit --digest {number}={digest}

Each claim is measured again from the files here. The answer is \"same files, same figures\", or which file changed and
which figure moved, and by how much. Nothing outside this folder is needed.

To check without it: manifest.json lists every file with its SHA-256, which any system can compute. A record is JSON
text. Its digest is that of the entry \"record\" as canonical JSON (RFC 8785).
",
        digest = last.digest,
    )
}
