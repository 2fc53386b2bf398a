//! Paths in claims: from the folder of the job file, so that a record means the same wherever that lies.

use std::path::{Path, PathBuf};

use serde::Serialize;
use serde::de::DeserializeOwned;
use serde_json::Value;

use crate::input::{FilesRead, InputFile, file};
use crate::job_file::Job;

use super::ClaimError;
use crate::error::JobError;

/// The folder of a job file.
pub(super) fn folder_of(job: &Job) -> PathBuf {
    match job.path.parent() {
        Some(folder) if !folder.as_os_str().is_empty() => folder.into(),
        _ => ".".into(),
    }
}

/// The same with the folder taken off all paths in it.
pub(super) fn from_folder<T: Serialize + DeserializeOwned>(
    of: &T,
    folder: &Path,
) -> Result<T, serde_json::Error> {
    let mut value = serde_json::to_value(of)?;
    if let Some(folder) = prefix(folder) {
        take_off(&mut value, &folder);
    }
    serde_json::from_value(value)
}

/// How paths below a folder begin; none where nothing can be taken off.
fn prefix(folder: &Path) -> Option<String> {
    let text = folder.display().to_string();
    // The root of everything is at the beginning of any whole path.
    (folder.is_absolute() && folder.parent().is_some()).then(|| {
        let end = std::path::MAIN_SEPARATOR;
        format!("{}{end}", text.trim_end_matches(end))
    })
}

fn take_off(value: &mut Value, folder: &str) {
    match value {
        Value::String(text) if text.contains(folder) => *text = text.replace(folder, ""),
        Value::Array(all) => all.iter_mut().for_each(|own| take_off(own, folder)),
        Value::Object(all) => all.values_mut().for_each(|own| take_off(own, folder)),
        _ => {}
    }
}

/// All files that were read for a claim but the job file, with paths from its folder, each once, by their paths.
pub(super) fn inputs(
    job: &Job,
    known: Vec<InputFile>,
    read: &FilesRead,
) -> Result<Vec<InputFile>, JobError> {
    let folder = folder_of(job);
    let whole = |path: &Path| path.canonicalize().unwrap_or_else(|_| path.into());
    let own = whole(&job.path);
    let mut all: Vec<InputFile> = Vec::new();
    for file in known {
        let (mut file, others) = (file.clone(), file.other_files);
        file.other_files = Vec::new();
        all.push(file);
        all.extend(others);
    }
    let mut seen: Vec<PathBuf> = all
        .iter()
        .map(|file| whole(Path::new(&file.path)))
        .collect();
    for path in read.all() {
        let same = whole(&path);
        if same == own || seen.contains(&same) {
            continue;
        }
        // Outlines and the like, which are no part of what is said of a surface.
        let from_folder = path
            .strip_prefix(whole(&folder))
            .map(|rest| folder.join(rest));
        let (file, _) = file::beside(&from_folder.unwrap_or(path), read)?;
        seen.push(same);
        all.push(file);
    }
    let mut all: Vec<InputFile> = from_folder(&all, &folder).map_err(unwritable)?;
    all.sort_by(|a, b| a.path.cmp(&b.path));
    all.dedup_by(|a, b| a.path == b.path);
    Ok(all)
}

/// What a claim cannot be written as.
pub(super) fn unwritable(error: serde_json::Error) -> JobError {
    let source = std::io::Error::other(error);
    let path = PathBuf::new();
    ClaimError::CannotWrite { path, source }.into()
}
