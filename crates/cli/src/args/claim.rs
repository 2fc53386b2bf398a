//! Arguments of `claim`.

use std::path::PathBuf;

use clap::{Args, Parser, Subcommand};

use super::{JobArgs, paths};

#[derive(Debug, Parser)]
#[command(arg_required_else_help = true, disable_help_subcommand = true)]
pub(crate) struct ClaimArgs {
    #[command(subcommand)]
    pub(crate) what: ClaimCommand,
}

#[derive(Debug, Subcommand)]
pub(crate) enum ClaimCommand {
    /// Draw up a claim as a draft: measure it, and count it from the claims before
    DrawUp(ClaimOutputs),
    /// Issue a claim: freeze it as a record that does not change
    Issue(ClaimOutputs),
    /// List the claims of a job, with the digests of their records
    List(ClaimListArgs),
    /// Show an issued claim, from its record alone
    Show(ClaimOutputs),
    /// Compare two claims line by line
    Compare(ClaimCompareArgs),
    /// Pack all that a claim and those before it were made from, for whoever checks them
    Pack(ClaimPackArgs),
}

#[derive(Debug, Args)]
pub(crate) struct ClaimOutputs {
    /// Number of the claim
    #[arg(value_name = "CLAIM")]
    pub(crate) number: u32,
    #[command(flatten)]
    pub(crate) job: JobArgs,
    /// Write the tables of the claim to a CSV file
    #[arg(long, value_name = "FILE.csv", value_parser = paths::table(), help_heading = "Output")]
    pub(crate) csv: Option<PathBuf>,
    /// Write the claim as a page, complete in itself (.html), or as a workbook (.xlsx); may be given more than once
    #[arg(long = "report", value_name = "FILE", value_parser = paths::report(), help_heading = "Output")]
    pub(crate) reports: Vec<PathBuf>,
    /// Page title [default: "Payment claim" and its number]
    #[arg(long, help_heading = "Output")]
    pub(crate) title: Option<String>,
    /// Print one JSON object with unrounded figures
    #[arg(long, help_heading = "Output")]
    pub(crate) json: bool,
}

#[derive(Debug, Args)]
pub(crate) struct ClaimCompareArgs {
    /// Number of the first claim
    #[arg(value_name = "FIRST")]
    pub(crate) first: u32,
    /// Number of the second claim: an issued one, or the next as a draft
    #[arg(value_name = "SECOND")]
    pub(crate) second: u32,
    #[command(flatten)]
    pub(crate) job: JobArgs,
    /// Write the comparison to a CSV file
    #[arg(long, value_name = "FILE.csv", value_parser = paths::table(), help_heading = "Output")]
    pub(crate) csv: Option<PathBuf>,
    /// Print one JSON object
    #[arg(long, help_heading = "Output")]
    pub(crate) json: bool,
}

#[derive(Debug, Args)]
pub(crate) struct ClaimPackArgs {
    /// Number of the claim
    #[arg(value_name = "CLAIM")]
    pub(crate) number: u32,
    /// Folder to make, or archive where it ends in .zip
    #[arg(long, value_name = "FOLDER or FILE.zip")]
    pub(crate) to: PathBuf,
    #[command(flatten)]
    pub(crate) job: JobArgs,
    /// Print one JSON object
    #[arg(long, help_heading = "Output")]
    pub(crate) json: bool,
}

#[derive(Debug, Args)]
pub(crate) struct ClaimListArgs {
    #[command(flatten)]
    pub(crate) job: JobArgs,
    /// Write the list to a CSV file
    #[arg(long, value_name = "FILE.csv", value_parser = paths::table(), help_heading = "Output")]
    pub(crate) csv: Option<PathBuf>,
    /// Print one JSON object with unrounded figures
    #[arg(long, help_heading = "Output")]
    pub(crate) json: bool,
}
