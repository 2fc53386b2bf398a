//! The arguments of `spots`.

use std::path::PathBuf;

use clap::{ArgGroup, Parser};
use dapedon_core::quantities::Tolerance;
use dapedon_core::units::LengthUnit;
use dapedon_job::{LineSource, Source, ZoneSource};

use super::{JobArgs, MapArgs, ReadingArgs, SURFACES, length, paths, tolerance, unit};

#[derive(Debug, Parser)]
#[command(
    after_help = SURFACES,
    group = ArgGroup::new("places").required(true).args(["grid", "points", "every"])
)]
pub(crate) struct SpotsArgs {
    /// Surface to measure from
    #[arg(value_name = "REFERENCE", value_parser = paths::source())]
    pub(crate) reference: Source,
    /// Surfaces to measure to; each gives columns of its own
    #[arg(required = true, value_name = "SURVEYED", value_parser = paths::source())]
    pub(crate) surveyed: Vec<Source>,
    /// Places on a grid: its spacing, or that along rows and from row to row, as in 10,20
    #[arg(long, value_name = "SPACING", value_parser = spacing)]
    pub(crate) grid: Option<Spacing>,
    /// A place of the grid: east and north [default: 0,0 of the coordinate system]
    #[arg(long, value_name = "EAST,NORTH", value_parser = two, requires = "grid", allow_hyphen_values = true)]
    pub(crate) origin: Option<Two>,
    /// Direction of the rows, in degrees from east towards north
    #[arg(
        long,
        value_name = "DEGREES",
        value_parser = number,
        default_value = "0",
        requires = "grid",
        allow_negative_numbers = true
    )]
    pub(crate) rotation: f64,
    /// Places at the points of a file: FILE or FILE#NAME
    #[arg(long, value_name = "FILE", value_parser = paths::line())]
    pub(crate) points: Option<LineSource>,
    /// Line for chainages and offsets: FILE, FILE#NAME or a line of the job
    #[arg(long, value_name = "LINE", value_parser = paths::line())]
    pub(crate) line: Option<LineSource>,
    /// Places along the line: at round chainages of this interval, at its ends and where it bends
    #[arg(long, value_name = "INTERVAL", value_parser = length, requires = "line")]
    pub(crate) every: Option<f64>,
    /// Offsets from the line, positive to the right, as in -5,0,5 [default: 0]
    #[arg(long, value_name = "OFFSETS", value_parser = offsets, requires = "every", allow_hyphen_values = true)]
    pub(crate) offsets: Option<Offsets>,
    /// Zone to stay within: FILE, FILE#NAME or a zone of the job; may be given more than once
    #[arg(long = "zone", value_name = "ZONE", value_parser = paths::zone())]
    pub(crate) zones: Vec<ZoneSource>,
    #[command(flatten)]
    pub(crate) job: JobArgs,
    /// Largest height difference that counts as unchanged
    #[arg(long, value_name = "HEIGHT", default_value = "0", value_parser = tolerance, allow_negative_numbers = true)]
    pub(crate) tolerance: Tolerance,
    /// Length unit of the results [default: that of the reference]
    #[arg(long, value_parser = unit::<LengthUnit>())]
    pub(crate) length_unit: Option<LengthUnit>,
    /// Write the places to a drawing or map: .dxf, .geojson, .shp or .xml; may be given more than once
    #[arg(long = "out", value_name = "FILE", help_heading = "Output")]
    pub(crate) outs: Vec<PathBuf>,
    /// Decimals of coordinates and heights in these files
    #[arg(long, default_value_t = 4, value_parser = clap::value_parser!(u8).range(0..=12), requires = "outs", help_heading = "Output")]
    pub(crate) decimals: u8,
    /// Write the tables to a CSV file: plain numbers for a spreadsheet
    #[arg(long, value_name = "FILE.csv", value_parser = paths::table(), help_heading = "Output")]
    pub(crate) csv: Option<PathBuf>,
    #[command(flatten)]
    pub(crate) map: MapArgs,
    /// Print one JSON object with unrounded figures
    #[arg(long, help_heading = "Output")]
    pub(crate) json: bool,
    #[command(flatten)]
    pub(crate) reading: ReadingArgs,
}

/// Spacing along rows and between them; a type of its own, so that clap takes it as one value.
#[derive(Debug, Clone, Copy)]
pub(crate) struct Spacing(pub(crate) [f64; 2]);

/// Two numbers.
#[derive(Debug, Clone, Copy)]
pub(crate) struct Two(pub(crate) [f64; 2]);

/// Offsets from a line.
#[derive(Debug, Clone)]
pub(crate) struct Offsets(pub(crate) Vec<f64>);

fn number(text: &str) -> Result<f64, String> {
    let number = text.trim().parse().ok();
    number
        .filter(|number: &f64| number.is_finite())
        .ok_or_else(|| format!("\"{text}\" is not a number"))
}

fn numbers(text: &str) -> Result<Vec<f64>, String> {
    text.split(',').map(number).collect()
}

fn spacing(text: &str) -> Result<Spacing, String> {
    match numbers(text)?[..] {
        [both] if both > 0.0 => Ok(Spacing([both; 2])),
        [along, across] if along > 0.0 && across > 0.0 => Ok(Spacing([along, across])),
        _ => Err("expected a spacing above zero, or two, as in 10,20".into()),
    }
}

fn two(text: &str) -> Result<Two, String> {
    match numbers(text)?[..] {
        [east, north] => Ok(Two([east, north])),
        _ => Err("expected east and north, as in 412000,5861000".into()),
    }
}

fn offsets(text: &str) -> Result<Offsets, String> {
    numbers(text).map(Offsets)
}
