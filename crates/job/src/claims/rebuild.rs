//! A claim measured again from its record: from the job file of that day, and the inputs as they are now.

use std::path::Path;

use super::draw_up::{DrawnClaim, drawn, records_of};
use super::error::ClaimError;
use super::files::{FileState, FilesNow};
use super::model::{Claim, ClaimStatus};
use super::record::Record;
use super::{differences, folder, paths};
use crate::bill::ItemMap;
use crate::context::Context;
use crate::error::JobError;
use crate::job_file::Job;
use crate::watch::Watch;

/// A claim, measured again from the job file that its record holds.
pub(super) fn rebuilt(
    record: &Record,
    past: &[&Record],
    folder: &Path,
    watch: &Watch,
) -> Result<DrawnClaim, JobError> {
    let (name, text) = &record.job_file;
    let whole = std::path::absolute(folder).unwrap_or_else(|_| folder.into());
    // The name of a file, whatever a record says.
    let name = Path::new(name).file_name().unwrap_or_default();
    let job = Job::of_text(&whole.join(name), text)?;
    let context = Context {
        watch: watch.clone(),
        ..Context::of(&job)
    };
    let drawn = drawn(&context, &job, past, record.claim.number)?;
    Ok(DrawnClaim {
        claim: Claim {
            status: ClaimStatus::Issued,
            ..drawn.claim
        },
        ..drawn
    })
}

/// The maps of an issued claim. A record holds no surfaces: they are drawn again from its inputs, where these and all figures are what they were.
#[derive(Debug)]
pub enum ClaimMaps {
    /// What its items measured, ready to be drawn.
    Drawn(Vec<ItemMap>),
    /// Why there are none, in words.
    NotDrawn(String),
}

/// Draws the maps of an issued claim again.
///
/// # Errors
///
/// When the claim is not issued, a record was changed, or it is stopped by who watches.
pub fn maps_of_claim(job: &Job, number: u32, watch: &Watch) -> Result<ClaimMaps, JobError> {
    let records = folder::read(&records_of(job))?;
    let own = records
        .iter()
        .position(|record| record.claim.number == number);
    let Some((record, past)) = own.and_then(|own| Some((records.get(own)?, records.get(..own)?)))
    else {
        return Err(ClaimError::NotIssued { number }.into());
    };
    let own = paths::folder_of(job);
    let mut now = FilesNow::of(&own);
    for input in &record.inputs {
        let (state, _) = now.state(&input.path, input.bytes, &input.sha256)?;
        let words = match state {
            FileState::Same => continue,
            FileState::Changed => "changed since the claim was issued",
            FileState::Missing => "is missing",
        };
        return Ok(ClaimMaps::NotDrawn(format!("{} {words}", input.path)));
    }
    let past: Vec<&Record> = past.iter().collect();
    match rebuilt(record, &past, &own, watch) {
        Ok(drawn) => {
            let value = serde_json::to_value(&drawn.claim).map_err(paths::unwritable)?;
            let same_version = record.tool == env!("CARGO_PKG_VERSION");
            match differences::of(&record.written, &value, same_version).is_empty() {
                true => Ok(ClaimMaps::Drawn(drawn.maps)),
                false => Ok(ClaimMaps::NotDrawn(
                    "this version computes a figure otherwise; dapedon audit says which".into(),
                )),
            }
        }
        Err(error) if error.kind::<crate::watch::StoppedError>().is_some() => Err(error),
        Err(error) => Ok(ClaimMaps::NotDrawn(error.to_string())),
    }
}
