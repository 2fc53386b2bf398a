//! All that claims were made from, in one folder or archive: for whoever pays, or asks a year later.

mod archive;
mod manifest;
mod places;

use std::collections::BTreeMap;
use std::fs;
use std::io::{self, Write};
use std::path::{Path, PathBuf};

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use super::draw_up::{plan_of, records_of};
use super::error::ClaimError;
use super::files::FilesNow;
use super::issue::unchanged;
use super::record::Record;
use super::{folder, paths};
use crate::error::JobError;
use crate::input::{FilesRead, digest, file};
use crate::job_file::{JOB_FILE, Job};
use crate::schema::{Schema, Word};
pub(super) use archive::unpacked;
pub use manifest::PackedFile;
pub(super) use manifest::{MANIFEST, Manifest};
use places::Places;

/// The note on how to check.
const NOTE: &str = "CHECK.txt";

/// What is to be packed.
#[derive(Debug, Clone, Default)]
pub struct PackRequest {
    /// The claim, with all before it.
    pub number: u32,
    /// The folder or the archive to make; an archive where it ends in `.zip`.
    pub to: PathBuf,
    /// Documents of the claim that are packed too, by their names.
    pub documents: Vec<(String, Vec<u8>)>,
}

/// What was packed.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, JsonSchema)]
#[non_exhaustive]
pub struct Packed {
    /// The command: `claim-pack`.
    pub command: Word,
    /// The version of its schema.
    pub schema: Schema,
    /// The folder or the archive.
    pub path: String,
    /// The claim, with all before it.
    pub claim: u32,
    /// The digest of its record.
    pub digest: String,
    /// The files, by their paths in it.
    pub files: Vec<PackedFile>,
}

/// Where the bytes of a packed file are.
enum Held {
    OnDisk(PathBuf),
    Here(Vec<u8>),
}

/// Packs an issued claim with all before it: inputs, job file, records, signatures, documents, a manifest and a note on
/// how to check.
///
/// # Errors
///
/// When the claim is not issued, an input is not what it was, or the folder or archive exists or cannot be written: then
/// there is none.
pub fn pack(job: &Job, request: &PackRequest) -> Result<Packed, JobError> {
    let records = folder::read(&records_of(job))?;
    let number = request.number;
    let wanted = records
        .into_iter()
        .filter(|record| record.claim.number <= number);
    let records: Vec<Record> = wanted.collect();
    let last = match records.last() {
        Some(last) if last.claim.number == number => last,
        _ => {
            plan_of(job, number)?;
            return Err(ClaimError::NotIssued { number }.into());
        }
    };
    let (files, job_folder) = gathered(job, &records, last, &request.documents)?;
    let manifest = Manifest::of(last, job_folder, listed(&files)?);
    let path = &request.to;
    let all = files.iter().map(|(name, held)| (name.clone(), held));
    let json = Held::Here(manifest.text().map_err(paths::unwritable)?.into_bytes());
    let all: Vec<(String, &Held)> = all.chain([(MANIFEST.to_owned(), &json)]).collect();
    let is_archive = path
        .extension()
        .is_some_and(|ending| ending.eq_ignore_ascii_case("zip"));
    let parent = match path.parent() {
        Some(parent) if !parent.as_os_str().is_empty() => parent,
        _ => Path::new("."),
    };
    let fault = |source: io::Error| match source.kind() {
        io::ErrorKind::AlreadyExists => ClaimError::PackExists { path: path.clone() },
        _ => ClaimError::CannotWrite {
            path: path.clone(),
            source,
        },
    };
    if path.exists() {
        return Err(ClaimError::PackExists { path: path.clone() }.into());
    }
    match is_archive {
        true => archive::write(parent, path, &all).map_err(fault)?,
        false => in_a_folder(parent, path, &all).map_err(fault)?,
    }
    Ok(Packed {
        command: "claim-pack".into(),
        schema: Schema,
        path: path.display().to_string(),
        claim: number,
        digest: last.digest.clone(),
        files: manifest.files,
    })
}

/// All files to be packed, by their paths, and the folder of the job among them.
fn gathered(
    job: &Job,
    records: &[Record],
    last: &Record,
    documents: &[(String, Vec<u8>)],
) -> Result<(BTreeMap<String, Held>, String), JobError> {
    let from = paths::folder_of(job);
    let inputs = || records.iter().flat_map(|record| &record.inputs);
    let named = inputs().map(|input| Path::new(&input.path));
    let places = Places::of(named.chain([Path::new(&job.terms.records)]));
    let mut files = BTreeMap::new();
    let mut now = FilesNow::of(&from);
    for record in records {
        unchanged(record, &mut now, &from)?;
        for input in &record.inputs {
            let path = Path::new(&input.path);
            files.insert(places.of_file(path), Held::OnDisk(from.join(path)));
        }
        let name = folder::name(record.claim.number);
        let place = |name: &str| places.of_file(&Path::new(&job.terms.records).join(name));
        files.insert(place(&name), Held::OnDisk(record.path.clone()));
        let signature = format!("{name}.sig");
        let path = record.path.with_file_name(&signature);
        if path.exists() {
            files.insert(place(&signature), Held::OnDisk(path));
        }
    }
    // The job file as it was when the claim was issued.
    let (_, text) = &last.job_file;
    let job_file = places.of_file(Path::new(JOB_FILE));
    files.insert(job_file, Held::Here(text.clone().into_bytes()));
    for (name, bytes) in documents {
        files.insert(format!("documents/{name}"), Held::Here(bytes.clone()));
    }
    let note = manifest::note(last);
    files.insert(NOTE.into(), Held::Here(note.into_bytes()));
    Ok((files, places.job_folder()))
}

/// The files with their sizes and digests.
fn listed(files: &BTreeMap<String, Held>) -> Result<Vec<PackedFile>, JobError> {
    let listed = files.iter().map(|(name, held)| {
        let (bytes, sha256) = match held {
            Held::OnDisk(path) => file::digested(path, &FilesRead::default())?,
            Held::Here(bytes) => (bytes.len() as u64, digest(bytes)),
        };
        Ok(PackedFile {
            path: name.clone(),
            bytes,
            sha256,
        })
    });
    listed.collect()
}

impl Held {
    fn write(&self, to: &mut impl Write) -> io::Result<()> {
        match self {
            Held::OnDisk(path) => io::copy(&mut fs::File::open(path)?, to).map(|_| ()),
            Held::Here(bytes) => to.write_all(bytes),
        }
    }
}

/// Writes a folder beside its place, and puts it there when it is whole.
fn in_a_folder(parent: &Path, path: &Path, files: &[(String, &Held)]) -> io::Result<()> {
    let beside = tempfile::Builder::new()
        .prefix(".packing-")
        .tempdir_in(parent)?;
    let inside = beside.path().join("pack");
    fs::create_dir(&inside)?;
    for (name, held) in files {
        let place = inside.join(name);
        if let Some(folder) = place.parent() {
            fs::create_dir_all(folder)?;
        }
        let mut file = fs::File::create_new(&place)?;
        held.write(&mut file)?;
        file.sync_all()?;
    }
    fs::rename(&inside, path)
}
