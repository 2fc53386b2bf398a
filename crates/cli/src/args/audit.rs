//! Arguments of `audit`.

use std::path::PathBuf;

use clap::Parser;
use dapedon_job::PrintedDigest;

use super::paths;

#[derive(Debug, Parser)]
pub(crate) struct AuditArgs {
    /// Folder of the job as it was handed over, or what claim pack made: a folder or an archive
    #[arg(value_name = "FOLDER or FILE.zip", default_value = ".")]
    pub(crate) folder: PathBuf,
    /// SHA-256 printed on the last claim, or its first 12 digits or more; of another claim as in 3=9f2c81d04b7e
    #[arg(long = "digest", value_name = "[CLAIM=]DIGEST", value_parser = printed)]
    pub(crate) digests: Vec<PrintedDigest>,
    /// Write what was found to a CSV file
    #[arg(long, value_name = "FILE.csv", value_parser = paths::table(), help_heading = "Output")]
    pub(crate) csv: Option<PathBuf>,
    /// Write what was found as a page, complete in itself (.html), or as a workbook (.xlsx); may be given more than once
    #[arg(long = "report", value_name = "FILE", value_parser = paths::report(), help_heading = "Output")]
    pub(crate) reports: Vec<PathBuf>,
    /// Report title
    #[arg(
        long,
        default_value = "Audit of issued claims",
        help_heading = "Output"
    )]
    pub(crate) title: String,
    /// Print one JSON object
    #[arg(long, help_heading = "Output")]
    pub(crate) json: bool,
}

/// The fewest digits of a digest that tell it from others.
const FEWEST: usize = 12;

fn printed(text: &str) -> Result<PrintedDigest, String> {
    let (claim, digest) = match text.split_once('=') {
        None => (None, text),
        Some((number, digest)) => {
            let number = number.trim().parse();
            let number = number.map_err(|_| "expected the number of a claim before =")?;
            (Some(number), digest)
        }
    };
    let digest = digest.trim().to_lowercase();
    let digits = digest.bytes().all(|byte| byte.is_ascii_hexdigit());
    match digits && (FEWEST..=64).contains(&digest.len()) {
        true => Ok(PrintedDigest { claim, digest }),
        false => Err(format!(
            "expected {FEWEST} to 64 digits, each 0 to 9 or a to f"
        )),
    }
}
