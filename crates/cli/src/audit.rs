//! `audit`: issued claims rebuilt from their inputs, and compared.

use std::path::{Path, PathBuf};

use dapedon_job::{AuditRequest, audit};
use dapedon_report::describe;

use crate::Outcome;
use crate::args::AuditArgs;
use crate::error::CommandError;
use crate::output::{Outputs, print_result};
use crate::telling::telling;

pub(crate) fn run(args: &AuditArgs) -> Result<Outcome, CommandError> {
    let outputs: Vec<PathBuf> = args.csv.iter().chain(&args.reports).cloned().collect();
    let written: Vec<&Path> = outputs.iter().map(PathBuf::as_path).collect();
    Outputs::check(&written, &[])?;
    let request = AuditRequest {
        folder: args.folder.clone(),
        printed: args.digests.clone(),
    };
    let found = telling(|watch| audit(&request, &watch))?;
    let report = describe::audit(&found);
    let mut files = Outputs::default();
    files.stage_csv(args.csv.as_ref(), &report)?;
    files.stage_reports(&args.reports, &report, &args.title)?;
    print_result(files, args.json, &found, &report, &outputs)?;
    Ok(match found.passed {
        true => Outcome::Done,
        false => Outcome::Finding,
    })
}
