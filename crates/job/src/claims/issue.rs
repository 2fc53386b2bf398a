//! A claim, issued: drawn up once more, and frozen as a record.

use std::path::{Path, PathBuf};

use super::draw_up::{DrawnClaim, drawn, next, records_of};
use super::error::ClaimError;
use super::files::{FileState, FilesNow};
use super::model::{Claim, ClaimStatus, RecordOf};
use super::record::{self, Record};
use super::{folder, paths};
use crate::bill::ItemMap;
use crate::context::Context;
use crate::error::JobError;
use crate::job_file::NameError;

/// A claim that was issued.
#[derive(Debug)]
#[non_exhaustive]
pub struct IssuedClaim {
    /// The claim, with its record.
    pub claim: Claim,
    /// What its items measure, ready to be drawn.
    pub maps: Vec<ItemMap>,
    /// The record.
    pub path: PathBuf,
}

/// Issues a claim of the job that is at hand: from then on it does not change.
///
/// # Errors
///
/// When it cannot be drawn up, an input of an earlier claim changed or is gone, an input is named by a path that only this
/// machine has, or the record cannot be written: then there is none.
pub fn issue(context: &Context<'_>, number: u32) -> Result<IssuedClaim, JobError> {
    let job = context.job.ok_or(NameError::NoJob)?;
    let place = records_of(job);
    let records = folder::read(&place)?;
    next(job, &records, number)?;
    let own = paths::folder_of(job);
    let mut now = FilesNow::of(&own);
    for record in &records {
        unchanged(record, &mut now, &own)?;
    }
    let records: Vec<&Record> = records.iter().collect();
    let DrawnClaim {
        claim,
        maps,
        inputs,
    } = drawn(context, job, &records, number)?;
    if let Some(whole) = inputs.iter().find(|own| Path::new(&own.path).is_absolute()) {
        let path = PathBuf::from(&whole.path);
        return Err(ClaimError::WholePath { path }.into());
    }
    let (text, digest) = record::written(&claim, &inputs, job).map_err(paths::unwritable)?;
    let path = folder::write(&place, number, &text)?;
    Ok(IssuedClaim {
        claim: Claim {
            status: ClaimStatus::Issued,
            record: Some(RecordOf {
                claim: number,
                digest,
            }),
            ..claim
        },
        maps,
        path,
    })
}

/// The inputs of a claim are what they were.
pub(super) fn unchanged(
    record: &Record,
    now: &mut FilesNow,
    folder: &Path,
) -> Result<(), JobError> {
    let claim = record.claim.number;
    for input in &record.inputs {
        let path = folder.join(&input.path);
        let (state, _) = now.state(&input.path, input.bytes, &input.sha256)?;
        match state {
            FileState::Same => {}
            FileState::Missing => {
                return Err(ClaimError::EarlierInputMissing { claim, path }.into());
            }
            FileState::Changed => return Err(ClaimError::EarlierInput { claim, path }.into()),
        }
    }
    Ok(())
}
