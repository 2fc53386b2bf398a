//! The arguments of `plan`.

use std::path::PathBuf;

use clap::Parser;
use dapedon_job::{Source, StatedAccuracy, ZoneSource};

use super::accuracy::accuracy;
use super::{JobArgs, ReadingArgs, SURFACES, UnitArgs, amount, length, paths};

#[derive(Debug, Parser)]
#[command(after_help = SURFACES)]
pub(crate) struct PlanArgs {
    /// Ground of the shape that will be surveyed: a design, or an earlier survey
    #[arg(value_name = "SURFACE", value_parser = paths::source())]
    pub(crate) surface: Source,
    /// Zone whose volume is wanted: FILE, FILE#NAME or a zone of the job; may be given more than once
    #[arg(long = "zone", value_name = "ZONE", required = true, value_parser = paths::zone())]
    pub(crate) zones: Vec<ZoneSource>,
    /// How accurate points will be: a kind of survey, numbers, or both, as in gnss or gnss,height=0.03
    #[arg(long, value_name = "ACCURACY", value_parser = accuracy)]
    pub(crate) accuracy: StatedAccuracy,
    /// Wanted uncertainty of the volume at 95 %, in the volume unit
    #[arg(long, value_name = "VOLUME", value_parser = amount, allow_negative_numbers = true, required_unless_present = "spacing")]
    pub(crate) wanted: Option<f64>,
    /// Spacings to look at, as in 2,5,10 [default: round ones, until one is enough]
    #[arg(long, value_name = "SPACINGS", value_parser = length, value_delimiter = ',', allow_negative_numbers = true)]
    pub(crate) spacing: Vec<f64>,
    #[command(flatten)]
    pub(crate) job: JobArgs,
    #[command(flatten)]
    pub(crate) units: UnitArgs,
    /// Write the tables to a CSV file: plain numbers for a spreadsheet
    #[arg(long, value_name = "FILE.csv", value_parser = paths::table(), help_heading = "Output")]
    pub(crate) csv: Option<PathBuf>,
    /// Print one JSON object with unrounded figures
    #[arg(long, help_heading = "Output")]
    pub(crate) json: bool,
    #[command(flatten)]
    pub(crate) reading: ReadingArgs,
}
