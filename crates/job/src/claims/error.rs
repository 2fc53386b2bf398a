//! Why a claim cannot be drawn up, issued or shown, and what is wrong with a record.

use std::io;
use std::path::PathBuf;

use dapedon_contract::ValuationError;
use jiff::civil::Date;

use crate::error::job_error;

/// Why a claim cannot be drawn up or issued.
#[derive(Debug, thiserror::Error, strum::IntoStaticStr)]
#[strum(serialize_all = "kebab-case")]
#[non_exhaustive]
pub enum ClaimError {
    /// The job has no claims.
    #[error("the job has no claims")]
    NoClaims {
        /// The job file.
        path: PathBuf,
    },
    /// The job has no such claim.
    #[error("the job has no claim {number}: its last is {last}")]
    NoSuchClaim {
        /// The number.
        number: u32,
        /// The last one.
        last: u32,
    },
    /// The claim before is not issued.
    #[error("claim {number} counts from claim {before}, and that is not issued")]
    NotIssuedBefore {
        /// The number.
        number: u32,
        /// The one before.
        before: u32,
    },
    /// A claim is not issued.
    #[error("claim {number} is not issued")]
    NotIssued {
        /// The number.
        number: u32,
    },
    /// A claim is issued already.
    #[error("claim {number} is issued already, and a record is never written over")]
    Issued {
        /// The number.
        number: u32,
        /// Its record.
        path: PathBuf,
    },
    /// A claim names an older survey than the claim before.
    #[error(
        "item {item} is measured to \"{surveyed}\" of {date}, and claim {before} was measured to \"{survey_before}\" of {date_before}"
    )]
    OlderSurvey {
        /// The item.
        item: String,
        /// The survey.
        surveyed: String,
        /// Its day.
        date: Date,
        /// The number of the claim before.
        before: u32,
        /// The survey of that.
        survey_before: String,
        /// Its day.
        date_before: Date,
    },
    /// A certificate is of a line that was not claimed.
    #[error("the certificate of claim {claim} has a line {item}, and the claim has none")]
    NotClaimed {
        /// The claim.
        claim: u32,
        /// The line.
        item: String,
    },
    /// A correction is of an item that was not claimed then.
    #[error("item {item} is corrected in claim {claim}, and was not claimed in it")]
    NothingToCorrect {
        /// The claim.
        claim: u32,
        /// The item.
        item: String,
    },
    /// A line has another unit than before.
    #[error("line {item} is claimed in {unit}, and was claimed in {unit_before} in claim {before}")]
    OtherUnit {
        /// The line.
        item: String,
        /// Its unit.
        unit: String,
        /// The unit it had.
        unit_before: String,
        /// The number of the claim before.
        before: u32,
    },
    /// The sums of a claim do not hold.
    #[error("{error}")]
    Sums {
        /// Why.
        error: ValuationError,
    },
    /// An input of an earlier claim changed.
    #[error("an input of claim {claim} changed since that was issued")]
    EarlierInput {
        /// The claim.
        claim: u32,
        /// The file.
        path: PathBuf,
    },
    /// An input of an earlier claim is missing.
    #[error("an input of claim {claim} is missing")]
    EarlierInputMissing {
        /// The claim.
        claim: u32,
        /// The file.
        path: PathBuf,
    },
    /// An input is named by a path that only this machine has.
    #[error("the file is named by its whole path, which no other machine has")]
    WholePath {
        /// The file.
        path: PathBuf,
    },
    /// A folder or archive cannot be packed into or read.
    #[error("the file cannot be written: {source}")]
    CannotWrite {
        /// The file.
        path: PathBuf,
        /// Why.
        source: io::Error,
    },
    /// What is to be packed into exists.
    #[error("this exists already")]
    PackExists {
        /// What.
        path: PathBuf,
    },
    /// An archive is not what was packed.
    #[error("the archive cannot be read: {what}")]
    Archive {
        /// The archive.
        path: PathBuf,
        /// What is wrong.
        what: String,
    },
    /// Nothing is there to audit.
    #[error("no record of a claim is found here")]
    NothingToAudit {
        /// Where.
        path: PathBuf,
    },
}

impl ClaimError {
    fn path(&self) -> Option<String> {
        match self {
            ClaimError::NoClaims { path }
            | ClaimError::Issued { path, .. }
            | ClaimError::EarlierInput { path, .. }
            | ClaimError::EarlierInputMissing { path, .. }
            | ClaimError::WholePath { path }
            | ClaimError::CannotWrite { path, .. }
            | ClaimError::PackExists { path }
            | ClaimError::Archive { path, .. }
            | ClaimError::NothingToAudit { path } => Some(path.display().to_string()),
            _ => None,
        }
    }

    /// What to do about it.
    fn remedy(&self) -> String {
        use ClaimError as E;
        match self {
            E::NoClaims { .. } => {
                "add [[claim]] tables; docs/job-file.md lists their keys".into()
            }
            E::NoSuchClaim { .. } => "correct the number, or add the claim to the job file".into(),
            E::NotIssuedBefore { before, .. } => format!("issue it first: dapedon claim issue {before}"),
            E::NotIssued { number } => format!("issue it: dapedon claim issue {number}"),
            E::Issued { number, .. } => format!(
                "show it with dapedon claim show {number}; what it has wrong is a correction in the next claim"
            ),
            E::OlderSurvey { .. } => {
                "name a later survey; what an earlier claim had wrong is a correction".into()
            }
            E::NotClaimed { .. } => "correct the code of the line".into(),
            E::NothingToCorrect { .. } => "correct the number of the claim, or the item".into(),
            E::OtherUnit { .. } => "keep the unit, or add another item".into(),
            E::Sums { .. } => "correct the amounts of the claim".into(),
            E::EarlierInput { .. } => {
                "put the file back as it was, and give the new one another name; dapedon audit says what moved".into()
            }
            E::EarlierInputMissing { .. } => "put the file back".into(),
            E::WholePath { .. } => "name it in the job file from the folder of that".into(),
            E::CannotWrite { .. } => "check the folder and its free space".into(),
            E::PackExists { .. } => "choose a name that is free".into(),
            E::Archive { .. } => "use the archive as it was packed".into(),
            E::NothingToAudit { .. } => {
                "name the folder of the job, or what was packed by dapedon claim pack".into()
            }
        }
    }
}

dapedon_diagnostic::diagnostic!(ClaimError, "claim", ClaimError::path);
job_error!(ClaimError);

impl From<ValuationError> for ClaimError {
    fn from(error: ValuationError) -> Self {
        ClaimError::Sums { error }
    }
}

/// What is wrong with a record.
#[derive(Debug, thiserror::Error, strum::IntoStaticStr)]
#[strum(serialize_all = "kebab-case")]
#[non_exhaustive]
pub enum RecordError {
    /// It cannot be read.
    #[error("the record cannot be read: {source}")]
    Read {
        /// The record.
        path: PathBuf,
        /// Why.
        source: io::Error,
    },
    /// It is no record.
    #[error("this is no record of a claim: {what}")]
    NoRecord {
        /// The file.
        path: PathBuf,
        /// What is wrong.
        what: String,
    },
    /// A later version wrote it.
    #[error("the record has version {version}, and this program reads versions up to {known}")]
    LaterVersion {
        /// The record.
        path: PathBuf,
        /// Its version.
        version: u64,
        /// The last that is known.
        known: u64,
    },
    /// Its contents are not those that its digest was made of.
    #[error("the record was changed: its contents have the digest {found}, and it states {stated}")]
    Digest {
        /// The record.
        path: PathBuf,
        /// The digest that it states.
        stated: String,
        /// That of its contents.
        found: String,
    },
    /// It is written in another way than records are.
    #[error("the record was changed: line {line} is not written as it was issued")]
    Layout {
        /// The record.
        path: PathBuf,
        /// The first line.
        line: usize,
    },
    /// It is of another claim than its name says.
    #[error("the record is that of claim {number}")]
    Number {
        /// The record.
        path: PathBuf,
        /// The number in it.
        number: u32,
    },
    /// A record before it is not there.
    #[error("the record of claim {number} is missing")]
    Missing {
        /// Where it would be.
        path: PathBuf,
        /// The number.
        number: u32,
    },
    /// The record before is not the one that it was issued after.
    #[error(
        "claim {number} was issued after a record of claim {before} with the digest {stated}, and that has {found}"
    )]
    Chain {
        /// The record.
        path: PathBuf,
        /// Its number.
        number: u32,
        /// The number before.
        before: u32,
        /// The digest that it was issued after.
        stated: String,
        /// The digest of the record before.
        found: String,
    },
}

impl RecordError {
    /// The record.
    pub(super) fn file(&self) -> &PathBuf {
        match self {
            RecordError::Read { path, .. }
            | RecordError::NoRecord { path, .. }
            | RecordError::LaterVersion { path, .. }
            | RecordError::Digest { path, .. }
            | RecordError::Layout { path, .. }
            | RecordError::Number { path, .. }
            | RecordError::Missing { path, .. }
            | RecordError::Chain { path, .. } => path,
        }
    }

    fn path(&self) -> Option<String> {
        Some(self.file().display().to_string())
    }

    /// What to do about it.
    pub(super) fn remedy(&self) -> &'static str {
        use RecordError as E;
        match self {
            E::Read { .. } => "check the file and its permissions",
            E::NoRecord { .. } | E::Digest { .. } | E::Layout { .. } => {
                "put back the record as it was issued: from the pack, the repository or the other party"
            }
            E::LaterVersion { .. } => "use a later version of dapedon",
            E::Number { .. } => "give the record its own name back",
            E::Missing { .. } => {
                "put the record back: from the pack, the repository or the other party"
            }
            E::Chain { .. } => {
                "put back the record that was issued: its digest is printed on the claim"
            }
        }
    }
}

dapedon_diagnostic::diagnostic!(RecordError, "record", RecordError::path);
job_error!(RecordError);
