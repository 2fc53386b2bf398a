//! The claims of the sample job: issued once, as all claims are.

use std::path::Path;

use dapedon_job::ClaimStatus;
use dapedon_job::{Context, JOB_FILE, Job, issue, list_claims};

use crate::error::CommandError;

/// Issues the claims that are not issued yet. Those that are have their records, which a rerun leaves as they are.
pub(super) fn issued(folder: &Path) -> Result<(), CommandError> {
    let path = std::path::absolute(folder.join(JOB_FILE))?;
    let job = Job::read(&path)?;
    for claim in list_claims(&job)?.claims {
        if claim.status == ClaimStatus::Draft {
            issue(&Context::of(&job), claim.number)?;
        }
    }
    Ok(())
}
