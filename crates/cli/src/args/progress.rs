//! Arguments of `progress`.

use std::path::PathBuf;

use clap::Parser;

use super::{JobArgs, paths};

#[derive(Debug, Parser)]
pub(crate) struct ProgressArgs {
    /// Items to follow, by code [default: all that list surveys]
    #[arg(value_name = "ITEM")]
    pub(crate) codes: Vec<String>,
    #[command(flatten)]
    pub(crate) job: JobArgs,
    /// Compare files although their coordinate or height systems differ
    #[arg(long)]
    pub(crate) ignore_crs: bool,
    /// Write the tables to a CSV file: plain numbers for a spreadsheet
    #[arg(long, value_name = "FILE.csv", value_parser = paths::table(), help_heading = "Output")]
    pub(crate) csv: Option<PathBuf>,
    /// Write a report with curves and maps: a page, complete in itself (.html), or a workbook (.xlsx); may be given more than once
    #[arg(long = "report", value_name = "FILE", value_parser = paths::report(), help_heading = "Output")]
    pub(crate) reports: Vec<PathBuf>,
    /// Report title
    #[arg(long, default_value = "Progress", help_heading = "Output")]
    pub(crate) title: String,
    /// Print one JSON object with unrounded volumes
    #[arg(long, help_heading = "Output")]
    pub(crate) json: bool,
}
