//! The record of an issued claim: JSON that a person can read, with a digest of what it says.
//!
//! The file holds `digest` and `record`. The digest is the SHA-256 of the record as canonical JSON (RFC 8785), so that any
//! program can check it; the file itself is laid out for people, and any other layout counts as a change.

use std::fs::File;
use std::io::Read;
use std::path::{Path, PathBuf};

use serde::{Deserialize, Serialize};
use serde_json::{Map, Value};

use super::error::RecordError;
use super::model::{Claim, ClaimStatus, RecordOf};
use crate::bill::Bill;
use crate::input::{InputFile, digest};
use crate::job_file::Job;

/// The version that records are written in. All versions up to it are read.
pub const RECORD_VERSION: u64 = 1;

/// What a record says of itself, to whoever opens it.
const ABOUT: [&str; 7] = [
    "This is the record of a payment claim as it was issued. It is never changed: what it has wrong is corrected in a later claim.",
    "claim holds the lines, sums and reasons; claim.measured holds what was measured for it, row by row, with its uncertainty.",
    "Of each line, worth tells the quantity and the amount to date, as they were claimed and certified before, what is due now, and in which parts. before and valuation are the sums, as certified before this claim and with it.",
    "inputs lists the files that it was measured from, with their sizes and SHA-256 digests. job_file holds the job file of that day.",
    "previous is the number and the digest of the record before, so that records form a chain.",
    "digest is the SHA-256 of record as canonical JSON (RFC 8785). It is printed on the claim.",
    "dapedon audit, in the folder of the job, checks all of this and measures the claim again. A detached signature of this file has its name with .sig added.",
];

/// What a record holds.
#[derive(Debug, Serialize, Deserialize)]
struct Contents<C, J> {
    about: Vec<String>,
    version: u64,
    tool: Tool,
    previous: Option<RecordOf>,
    claim: C,
    inputs: Vec<InputFile>,
    job_file: J,
}

/// The program that wrote it.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
struct Tool {
    name: String,
    version: String,
}

/// A job file, line by line.
#[derive(Debug, Clone, Serialize, Deserialize)]
struct JobText {
    name: String,
    sha256: String,
    lines: Vec<String>,
}

/// A record, read.
#[derive(Debug, Clone)]
pub(super) struct Record {
    pub(super) path: PathBuf,
    pub(super) digest: String,
    /// The version of the program that wrote it.
    pub(super) tool: String,
    pub(super) claim: Claim,
    pub(super) inputs: Vec<InputFile>,
    /// The name of the job file, and its text.
    pub(super) job_file: (String, String),
    /// The claim as it is written.
    pub(super) written: Value,
}

impl Record {
    /// What it takes to know it again.
    pub(super) fn known_by(&self) -> RecordOf {
        RecordOf {
            claim: self.claim.number,
            digest: self.digest.clone(),
        }
    }

    /// The claim, with the record it is from.
    pub(super) fn shown(self) -> Claim {
        Claim {
            record: Some(self.known_by()),
            ..self.claim
        }
    }
}

/// The text of a record, and its digest.
pub(super) fn written(
    claim: &Claim,
    inputs: &[InputFile],
    job: &Job,
) -> Result<(String, String), serde_json::Error> {
    let issued = Claim {
        status: ClaimStatus::Issued,
        record: None,
        ..claim.clone()
    };
    let name = job.path.file_name().unwrap_or_default();
    let contents = Contents {
        about: ABOUT.map(String::from).to_vec(),
        version: RECORD_VERSION,
        tool: Tool {
            name: env!("CARGO_PKG_NAME").trim_end_matches("-job").into(),
            version: env!("CARGO_PKG_VERSION").into(),
        },
        previous: claim.previous.clone(),
        claim: issued,
        inputs: inputs.to_vec(),
        job_file: JobText {
            name: name.to_string_lossy().into_owned(),
            sha256: job.file.sha256.clone(),
            lines: job.text.split('\n').map(String::from).collect(),
        },
    };
    let record = sorted(serde_json::to_value(&contents)?);
    let digest = digest_of(&record)?;
    let mut file = Map::new();
    file.insert("digest".into(), digest.clone().into());
    file.insert("record".into(), record);
    Ok((laid_out(&Value::Object(file))?, digest))
}

/// The digest of a value as canonical JSON.
fn digest_of(value: &Value) -> Result<String, serde_json::Error> {
    Ok(digest(&serde_json_canonicalizer::to_vec(value)?))
}

/// A value as it is laid out in a file.
fn laid_out(value: &Value) -> Result<String, serde_json::Error> {
    Ok(format!("{}\n", serde_json::to_string_pretty(value)?))
}

/// The same with all keys in order, whichever way a map keeps them.
fn sorted(value: Value) -> Value {
    match value {
        Value::Object(map) => {
            let mut entries: Vec<(String, Value)> = map.into_iter().collect();
            entries.sort_by(|a, b| a.0.cmp(&b.0));
            let entries = entries.into_iter().map(|(key, own)| (key, sorted(own)));
            Value::Object(entries.collect())
        }
        Value::Array(all) => Value::Array(all.into_iter().map(sorted).collect()),
        plain => plain,
    }
}

/// True for a file that begins as the record of a claim does: no output may take its place.
pub fn is_record(path: &Path) -> bool {
    let mut begins = vec![0; BEGINS.len()];
    let read = |begins: &mut Vec<u8>| File::open(path)?.read_exact(begins);
    path.is_file() && read(&mut begins).is_ok() && begins == BEGINS
}

/// How the file of a record begins, and no other JSON that is written here.
const BEGINS: &[u8] = b"{\n  \"digest\": \"";

/// Reads a record, and checks it against its own digest.
pub(super) fn read(path: &Path, bytes: &[u8]) -> Result<Record, RecordError> {
    let no_record = |what: String| RecordError::NoRecord {
        path: path.into(),
        what,
    };
    let json = |error: serde_json::Error| no_record(error.to_string());
    let text = std::str::from_utf8(bytes).map_err(|error| no_record(error.to_string()))?;
    let file: Value = serde_json::from_str(text).map_err(json)?;
    let (Some(stated), Some(record)) = (file["digest"].as_str(), file.get("record")) else {
        return Err(no_record("it has no digest, or no record".into()));
    };
    let version = record["version"].as_u64();
    if let Some(version) = version.filter(|version| *version > RECORD_VERSION) {
        return Err(RecordError::LaterVersion {
            path: path.into(),
            version,
            known: RECORD_VERSION,
        });
    }
    let found = digest_of(record).map_err(json)?;
    if found != stated {
        return Err(RecordError::Digest {
            path: path.into(),
            stated: stated.into(),
            found,
        });
    }
    let layout = laid_out(&sorted(file.clone())).map_err(json)?;
    if layout != text {
        let same = layout
            .split('\n')
            .zip(text.split('\n'))
            .take_while(|(a, b)| a == b);
        return Err(RecordError::Layout {
            path: path.into(),
            line: same.count().saturating_add(1),
        });
    }
    let mut contents: Contents<Value, JobText> =
        serde_json::from_value(record.clone()).map_err(json)?;
    let written = contents.claim.clone();
    // What was measured may have been written by another version: the claim is read without it.
    let measured = contents
        .claim
        .as_object_mut()
        .and_then(|claim| claim.remove("measured"));
    let claim: Claim = serde_json::from_value(contents.claim).map_err(json)?;
    let measured = measured.and_then(|own| serde_json::from_value::<Bill>(own).ok());
    Ok(Record {
        path: path.into(),
        digest: found,
        tool: contents.tool.version,
        claim: Claim {
            measured: measured.map(Box::new),
            ..claim
        },
        inputs: contents.inputs,
        job_file: (contents.job_file.name, contents.job_file.lines.join("\n")),
        written,
    })
}
