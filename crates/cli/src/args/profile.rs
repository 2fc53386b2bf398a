//! The arguments of `profile`.

use std::path::PathBuf;

use clap::{ArgGroup, Parser};
use dapedon_core::alignment::NamedChainage;
use dapedon_job::{LineSource, Source};

use super::sections::chainage;
use super::{JobArgs, ReadingArgs, SURFACES, SheetArgs, UnitArgs, length, paths};

#[derive(Debug, Parser)]
#[command(
    after_help = SURFACES,
    group = ArgGroup::new("drawn").multiple(true).args(["sheets", "reports"]),
    group = ArgGroup::new("along").required(true).args(["through", "line"])
)]
pub(crate) struct ProfileArgs {
    /// Surfaces to cut; others are compared with the first
    #[arg(value_name = "SURFACE", required = true, value_parser = paths::source())]
    pub(crate) surfaces: Vec<Source>,
    /// Place that the profile runs through, as east and north; given twice or more, in order
    #[arg(long, value_name = "EAST,NORTH", value_parser = place, allow_hyphen_values = true)]
    pub(crate) through: Vec<[f64; 2]>,
    /// Line that the profile runs along: FILE, FILE#NAME or a line of the job
    #[arg(long, value_name = "LINE", value_parser = paths::line())]
    pub(crate) line: Option<LineSource>,
    /// First chainage [default: the start of the line]
    #[arg(long, value_name = "CHAINAGE", value_parser = chainage, conflicts_with = "through", allow_hyphen_values = true)]
    pub(crate) from: Option<NamedChainage>,
    /// Last chainage [default: the end of the line]
    #[arg(long, value_name = "CHAINAGE", value_parser = chainage, conflicts_with = "through", allow_hyphen_values = true)]
    pub(crate) to: Option<NamedChainage>,
    /// Interval of the table: rows at round chainages [default: a round one, for some twenty rows]
    #[arg(long, value_name = "INTERVAL", value_parser = length)]
    pub(crate) every: Option<f64>,
    #[command(flatten)]
    pub(crate) job: JobArgs,
    #[command(flatten)]
    pub(crate) units: UnitArgs,
    #[command(flatten)]
    pub(crate) sheets: SheetArgs,
    /// List the corners of all surfaces, in the CSV file and the JSON object
    #[arg(long, help_heading = "Output")]
    pub(crate) corners: bool,
    /// Write the tables to a CSV file: plain numbers for a spreadsheet
    #[arg(long, value_name = "FILE.csv", value_parser = paths::table(), help_heading = "Output")]
    pub(crate) csv: Option<PathBuf>,
    /// Write a report: a page, complete in itself (.html), or a workbook (.xlsx); may be given more than once
    #[arg(long = "report", value_name = "FILE", value_parser = paths::report(), help_heading = "Output")]
    pub(crate) reports: Vec<PathBuf>,
    /// Title of the report
    #[arg(
        long,
        value_name = "TITLE",
        default_value = "Profile",
        requires = "reports",
        help_heading = "Output"
    )]
    pub(crate) title: String,
    /// Print one JSON object with unrounded figures
    #[arg(long, help_heading = "Output")]
    pub(crate) json: bool,
    #[command(flatten)]
    pub(crate) reading: ReadingArgs,
}

fn place(text: &str) -> Result<[f64; 2], String> {
    let read = text.split_once(',').and_then(|(east, north)| {
        let number = |text: &str| text.trim().parse::<f64>().ok().filter(|n| n.is_finite());
        Some([number(east)?, number(north)?])
    });
    read.ok_or_else(|| "expected east and north, as in 412100,5861040".to_owned())
}
