//! Issued claims, rebuilt from their inputs: the same files and the same figures, or what changed.

use std::path::{Path, PathBuf};

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};
use tempfile::TempDir;

use super::differences::{self, MovedFigure};
use super::draw_up::DrawnClaim;
use super::error::ClaimError;
use super::files::{FileState, FilesNow};
use super::folder::{self, Examined};
use super::pack::{MANIFEST, Manifest, unpacked};
use super::rebuild::rebuilt;
use super::record::Record;
use crate::error::JobError;
use crate::job_file::{JOB_FILE, Job};
use crate::schema::{Schema, Word};
use crate::watch::Watch;

/// What is to be audited.
#[derive(Debug, Clone, Default)]
pub struct AuditRequest {
    /// The folder of the job, or what was packed: a folder or an archive.
    pub folder: PathBuf,
    /// Digests that are printed on issued claims.
    pub printed: Vec<PrintedDigest>,
}

/// A digest that is printed on an issued claim.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
pub struct PrintedDigest {
    /// The number of the claim; the last one where none is given.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub claim: Option<u32>,
    /// The digest, or its beginning.
    pub digest: String,
}

/// What was found of all issued claims.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, JsonSchema)]
#[non_exhaustive]
pub struct Audit {
    /// The command: `audit`.
    pub command: Word,
    /// The version of its schema.
    pub schema: Schema,
    /// The folder of the job.
    pub folder: String,
    /// The version of the program that rebuilt the claims.
    pub tool: String,
    /// The claims, in their order.
    pub claims: Vec<AuditedClaim>,
    /// What is not as the manifest of a pack lists it.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub manifest: Vec<String>,
    /// Printed digests that no record has, in words.
    pub printed: Vec<String>,
    /// True where every claim is as it was issued.
    pub passed: bool,
}

/// What was found of an issued claim.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, JsonSchema)]
#[non_exhaustive]
pub struct AuditedClaim {
    /// Its number.
    pub number: u32,
    /// Its record.
    pub record: String,
    /// The digest of that, where it is whole.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub digest: Option<String>,
    /// The version of the program that issued it.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub tool: Option<String>,
    /// The signature that lies beside it. It is checked with the program that made it.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub signature: Option<String>,
    /// What was found, all in all.
    pub verdict: Verdict,
    /// What is wrong with the record and its place in the chain.
    pub faults: Vec<String>,
    /// Its inputs.
    pub files: Vec<AuditedFile>,
    /// Why it could not be rebuilt, where it could not.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub not_rebuilt: Option<String>,
    /// Figures that came out otherwise.
    pub moved: Vec<MovedFigure>,
}

/// What was found of a claim, all in all.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[serde(rename_all = "snake_case")]
pub enum Verdict {
    /// The record is whole, the inputs are the same, and so are the figures.
    Same,
    /// The record was changed, or stands in the wrong place, or is missing.
    RecordChanged,
    /// An input is missing.
    InputMissing,
    /// An input changed.
    InputChanged,
    /// Nothing changed but the program: this version computes a figure otherwise.
    ComputedOtherwise,
    /// Nothing changed, and a figure came out otherwise.
    Differs,
    /// It could not be rebuilt.
    NotRebuilt,
}

/// An input of a claim.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
pub struct AuditedFile {
    /// The file, from the folder of the job.
    pub path: String,
    /// Whether it is as it was.
    pub state: FileState,
    /// Its size when the claim was issued.
    pub bytes: u64,
    /// Its size now.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub bytes_now: Option<u64>,
}

impl Verdict {
    /// It in words.
    pub fn words(self) -> &'static str {
        match self {
            Verdict::Same => "same files, same figures",
            Verdict::RecordChanged => "the record is not as it was issued",
            Verdict::InputMissing => "an input is missing",
            Verdict::InputChanged => "an input changed",
            Verdict::ComputedOtherwise => "this version computes otherwise",
            Verdict::Differs => "same files, other figures",
            Verdict::NotRebuilt => "it could not be rebuilt",
        }
    }
}

/// Audits all issued claims of a job, from its folder alone.
///
/// # Errors
///
/// When there is no record at all, or the folder cannot be read.
pub fn audit(request: &AuditRequest, watch: &Watch) -> Result<Audit, JobError> {
    let archive = match request.folder.is_file() {
        true => Some(unpacked(&request.folder)?),
        false => None,
    };
    let given = archive.as_ref().map_or(&*request.folder, TempDir::path);
    let (folder, manifest) = as_packed(given)?;
    let folder = &folder;
    let job = Job::read(&folder.join(JOB_FILE)).ok();
    let records = job.map_or("claims".to_owned(), |job| job.terms.records);
    let place = folder.join(&records);
    let examined = folder::examine(&place)?;
    if examined.is_empty() {
        return Err(ClaimError::NothingToAudit { path: place }.into());
    }
    let mut claims = Vec::new();
    let mut now = FilesNow::of(folder);
    for at in 0..examined.len() {
        claims.push(one(&examined, at, folder, &records, (&mut now, watch))?);
    }
    let printed = printed(&request.printed, &examined);
    let passed = claims.iter().all(|own| own.verdict == Verdict::Same)
        && printed.is_empty()
        && manifest.is_empty();
    Ok(Audit {
        command: "audit".into(),
        schema: Schema,
        folder: request.folder.display().to_string(),
        tool: env!("CARGO_PKG_VERSION").into(),
        claims,
        manifest,
        printed,
        passed,
    })
}

/// The folder of the job in what was packed, and what is not as its manifest lists it; the folder itself where it is no pack.
fn as_packed(given: &Path) -> Result<(PathBuf, Vec<String>), JobError> {
    match Manifest::read(given) {
        None => Ok((given.into(), Vec::new())),
        Some(Err(fault)) => Ok((given.into(), vec![fault])),
        Some(Ok(manifest)) => {
            let mut faults = manifest.faults(given)?;
            let job = PathBuf::from(&manifest.job);
            let inside = |part: std::path::Component<'_>| {
                matches!(
                    part,
                    std::path::Component::Normal(_) | std::path::Component::CurDir
                )
            };
            if !job.components().all(inside) {
                faults.push(format!(
                    "{MANIFEST}: the folder of the job leads out of the pack"
                ));
                return Ok((given.into(), faults));
            }
            Ok((given.join(job), faults))
        }
    }
}

/// Printed digests that no record has.
fn printed(printed: &[PrintedDigest], examined: &[Examined]) -> Vec<String> {
    let last = examined.last().map_or(0, |own| own.number);
    let off = printed.iter().filter_map(|own| {
        let number = own.claim.unwrap_or(last);
        let record = examined.iter().find(|other| other.number == number);
        let found = record.and_then(|other| other.record.as_ref());
        let has = found.is_some_and(|found| found.digest.starts_with(&own.digest));
        let digest = &own.digest;
        (!has).then(|| match (found, own.claim) {
            (None, _) => format!("claim {number} has the digest {digest} printed, and no such record is here"),
            (Some(found), None) => format!(
                "the last claim has the digest {digest} printed, and the last record here, of claim {number}, has {}: it was changed, or later records are gone",
                found.digest
            ),
            (Some(found), Some(_)) => format!(
                "claim {number} has the digest {digest} printed, and its record has {}", found.digest
            ),
        })
    });
    off.collect()
}

fn one(
    examined: &[Examined],
    at: usize,
    folder: &Path,
    records: &str,
    (now, watch): (&mut FilesNow, &Watch),
) -> Result<AuditedClaim, JobError> {
    let (before, own) = examined.split_at(at);
    let Some(own) = own.first() else {
        return Err(ClaimError::NothingToAudit {
            path: folder.into(),
        }
        .into());
    };
    let name = folder::name(own.number);
    let mut audited = AuditedClaim {
        number: own.number,
        record: format!("{records}/{name}"),
        digest: own.record.as_ref().map(|record| record.digest.clone()),
        tool: own.record.as_ref().map(|record| record.tool.clone()),
        signature: signature(&own.path, records, &name),
        verdict: Verdict::RecordChanged,
        faults: own.faults.iter().map(ToString::to_string).collect(),
        files: Vec::new(),
        not_rebuilt: None,
        moved: Vec::new(),
    };
    let Some(record) = &own.record else {
        return Ok(audited);
    };
    for input in &record.inputs {
        let (state, bytes_now) = now.state(&input.path, input.bytes, &input.sha256)?;
        audited.files.push(AuditedFile {
            path: input.path.clone(),
            state,
            bytes: input.bytes,
            bytes_now,
        });
    }
    let same_version = record.tool == env!("CARGO_PKG_VERSION");
    let has = |state: FileState| audited.files.iter().any(|file| file.state == state);
    let past: Vec<&Record> = before
        .iter()
        .filter_map(|own| own.record.as_ref())
        .collect();
    if has(FileState::Missing) {
        audited.not_rebuilt = Some("inputs are missing".into());
    } else if past.len() < at || !own.faults.is_empty() {
        audited.not_rebuilt = Some("its record, or one before it, is not as it was issued".into());
    } else {
        match rebuilt(record, &past, folder, watch) {
            Ok(DrawnClaim { claim, .. }) => {
                let value = serde_json::to_value(&claim).map_err(super::paths::unwritable)?;
                audited.moved = differences::of(&record.written, &value, same_version);
            }
            Err(error) if error.kind::<crate::watch::StoppedError>().is_some() => {
                return Err(error);
            }
            Err(error) => audited.not_rebuilt = Some(error.to_string()),
        }
    }
    audited.verdict = if !audited.faults.is_empty() {
        Verdict::RecordChanged
    } else if has(FileState::Missing) {
        Verdict::InputMissing
    } else if has(FileState::Changed) {
        Verdict::InputChanged
    } else if audited.not_rebuilt.is_some() {
        Verdict::NotRebuilt
    } else if audited.moved.is_empty() {
        Verdict::Same
    } else if same_version {
        Verdict::Differs
    } else {
        Verdict::ComputedOtherwise
    };
    Ok(audited)
}

/// The signature beside a record, where there is one.
fn signature(path: &Path, records: &str, name: &str) -> Option<String> {
    let beside = path.with_file_name(format!("{name}.sig"));
    beside.exists().then(|| format!("{records}/{name}.sig"))
}
