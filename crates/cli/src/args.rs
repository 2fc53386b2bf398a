//! The arguments, as clap reads them.

mod capacity;
mod converting;
mod paths;
mod pile;
mod reading;
mod units;

use std::path::PathBuf;

use clap::{Parser, Subcommand, ValueEnum};
use dapedon_contract::{Shrink, Swell};
use dapedon_core::quantities::Tolerance;
use dapedon_core::units::LengthUnit;
use dapedon_formats::Format;
use dapedon_job::{JOB_FILE, Source, VolumeAsked, ZoneSource};

pub(crate) use capacity::CapacityArgs;
pub(crate) use converting::ConvertingArgs;
pub(crate) use pile::PileArgs;
pub(crate) use reading::ReadingArgs;
pub(crate) use units::{UnitArgs, unit};

/// Measures earthwork volumes between surveyed and reference surfaces.
#[derive(Debug, Parser)]
#[command(
    name = "dapedon",
    version,
    max_term_width = 100,
    arg_required_else_help = true
)]
pub(crate) struct Args {
    #[command(subcommand)]
    pub(crate) command: Command,
}

#[derive(Debug, Subcommand)]
pub(crate) enum Command {
    /// Write the sample job into a folder and run it from end to end
    Demo(DemoArgs),
    /// Write a first job file, commented, that already runs
    Init(InitArgs),
    /// Say what is in files, and what is odd about them, before they are trusted
    Inspect(Box<InspectArgs>),
    /// Build a surface, say what was done, and write it in another format
    Surface(Box<SurfaceArgs>),
    /// Measure from a reference surface to a surveyed one
    Volume(Box<VolumeArgs>),
    /// Measure piles, or pits, each against its own base
    Pile(Box<PileArgs>),
    /// Say what a basin holds, level by level
    Capacity(Box<CapacityArgs>),
    /// Measure the items of the job: its bill
    Measure(Box<MeasureArgs>),
    /// Find by how much to raise or lower a design so that its cut makes its fill
    Balance(Box<BalanceArgs>),
    /// Print the JSON Schema of job files, or of what a command prints with --json
    Schema(SchemaArgs),
}

#[derive(Debug, Parser)]
pub(crate) struct DemoArgs {
    /// The folder to write into
    #[arg(default_value = "tern-reach")]
    pub(crate) folder: PathBuf,
}

#[derive(Debug, Parser)]
pub(crate) struct InitArgs {
    /// Files that become surfaces of the job
    #[arg(value_name = "FILE")]
    pub(crate) files: Vec<PathBuf>,
    /// The job file to write
    #[arg(long, value_name = "FILE", default_value = JOB_FILE)]
    pub(crate) job: PathBuf,
}

#[derive(Debug, Parser)]
pub(crate) struct SchemaArgs {
    /// What it is the schema of: job files, or what a command prints with --json
    #[arg(value_enum, value_name = "WHAT")]
    pub(crate) what: SchemaOf,
}

/// What has a JSON Schema.
#[derive(Debug, Clone, Copy, ValueEnum)]
pub(crate) enum SchemaOf {
    /// Job files, for editors
    JobFile,
    Inspect,
    Surface,
    Volume,
    Pile,
    Capacity,
    Measure,
    Balance,
}

/// Where names stand.
#[derive(Debug, Parser)]
pub(crate) struct JobArgs {
    /// The job file whose names may be used [default: dapedon.toml of this folder, if there is one]
    #[arg(long, value_name = "FILE")]
    pub(crate) job: Option<PathBuf>,
}

#[derive(Debug, Parser)]
#[command(
    after_help = "Given two files of one surface each, it also says whether they can be compared."
)]
pub(crate) struct InspectArgs {
    /// The files to look into
    #[arg(required = true, value_name = "FILE")]
    pub(crate) files: Vec<PathBuf>,
    /// Draw the ground of the one file that is named
    #[arg(long, value_name = "FILE.svg", value_parser = paths::picture())]
    pub(crate) map: Option<PathBuf>,
    /// Write the tables as comma-separated text, for a spreadsheet
    #[arg(long, value_name = "FILE.csv", value_parser = paths::table())]
    pub(crate) csv: Option<PathBuf>,
    /// Print one JSON object instead of tables
    #[arg(long)]
    pub(crate) json: bool,
    #[command(flatten)]
    pub(crate) reading: ReadingArgs,
}

#[derive(Debug, Parser)]
#[command(
    after_help = surface_help()
)]
pub(crate) struct SurfaceArgs {
    /// The surface, or what it is made from
    #[arg(value_name = "SURFACE", value_parser = paths::source())]
    pub(crate) surface: Source,
    #[command(flatten)]
    pub(crate) job: JobArgs,
    /// Write it to a file; may be given more than once
    #[arg(long = "out", value_name = "FILE")]
    pub(crate) outs: Vec<PathBuf>,
    /// The name it gets in files that give it one [default: its own, or that of the file]
    #[arg(long)]
    pub(crate) name: Option<String>,
    /// The length unit it is written in [default: its own]
    #[arg(long, value_parser = unit::<LengthUnit>())]
    pub(crate) length_unit: Option<LengthUnit>,
    /// The side of the square cells of a grid that is written, in its length unit [default: a grid's own]
    #[arg(long, value_name = "LENGTH", value_parser = length)]
    pub(crate) cell: Option<f64>,
    /// Decimals of what is written
    #[arg(long, default_value_t = 4, value_parser = clap::value_parser!(u8).range(0..=12))]
    pub(crate) decimals: u8,
    /// Draw it
    #[arg(long, value_name = "FILE.svg", value_parser = paths::picture())]
    pub(crate) map: Option<PathBuf>,
    /// Write its figures and layers as comma-separated text, for a spreadsheet
    #[arg(long, value_name = "FILE.csv", value_parser = paths::table())]
    pub(crate) csv: Option<PathBuf>,
    /// Print one JSON object instead of words
    #[arg(long)]
    pub(crate) json: bool,
    #[command(flatten)]
    pub(crate) reading: ReadingArgs,
}

/// The formats that surfaces are written in, from their table.
fn surface_help() -> String {
    let written = Format::ALL
        .into_iter()
        .filter(|format| format.writes_surfaces());
    let kinds = written.map(|format| {
        let endings = format.endings().iter().map(|ending| format!(".{ending}"));
        let endings = endings.collect::<Vec<_>>().join(" ");
        format!("  {endings}: {}, {}", format.name(), format.writes())
    });
    format!(
        "A SURFACE is a file, file#name where a file holds several, for a cloud in several files file+file or\n\
         their folder, or a name of the job.\n\
         What is written follows from the ending of its name:\n{}",
        kinds.collect::<Vec<_>>().join("\n")
    )
}

#[derive(Debug, Parser)]
#[command(
    after_help = "A SURFACE is a file, file#name where a file holds several, file+file or a folder for a cloud in\n\
    several files, level=101.5, or a name of the job.\n\
    Cut is where the surveyed surface is lower than the reference, fill where it is higher."
)]
pub(crate) struct VolumeArgs {
    /// The surface to measure from
    #[arg(value_name = "REFERENCE", value_parser = paths::source())]
    pub(crate) reference: Source,
    /// The surface to measure to
    #[arg(value_name = "SURVEYED", value_parser = paths::source())]
    pub(crate) surveyed: Source,
    /// Measure within the zones of a file, one of them as FILE#NAME, or zones of the job; may be given more
    /// than once
    #[arg(long = "zone", value_name = "ZONE", value_parser = paths::zone())]
    pub(crate) zones: Vec<ZoneSource>,
    #[command(flatten)]
    pub(crate) job: JobArgs,
    /// Count differences up to this height as unchanged, in the unit measured in
    #[arg(long, value_name = "HEIGHT", default_value = "0", value_parser = tolerance, allow_negative_numbers = true)]
    pub(crate) tolerance: Tolerance,
    #[command(flatten)]
    pub(crate) units: UnitArgs,
    /// Tell cut and fill by depth too, in lifts of this height: single and running
    #[arg(long, value_name = "HEIGHT", value_parser = length)]
    pub(crate) by_depth: Option<f64>,
    /// Write the table as comma-separated text, for a spreadsheet
    #[arg(long, value_name = "FILE.csv", value_parser = paths::table())]
    pub(crate) csv: Option<PathBuf>,
    /// Draw a map of where cut and fill lie
    #[arg(long, value_name = "FILE.svg", value_parser = paths::picture())]
    pub(crate) map: Option<PathBuf>,
    /// Write a report, one page that needs nothing else
    #[arg(long, value_name = "FILE.html", value_parser = paths::page())]
    pub(crate) report: Option<PathBuf>,
    /// What stands at the head of the report
    #[arg(long, default_value = "Earthwork volume")]
    pub(crate) title: String,
    /// Print one JSON object instead of tables, figures unrounded
    #[arg(long)]
    pub(crate) json: bool,
    #[command(flatten)]
    pub(crate) converting: ConvertingArgs,
    #[command(flatten)]
    pub(crate) reading: ReadingArgs,
}

#[derive(Debug, Parser)]
#[command(after_help = "The exit code is 1 where cut and fill do not meet in the range.")]
pub(crate) struct BalanceArgs {
    /// The ground
    #[arg(value_name = "GROUND", value_parser = paths::source())]
    pub(crate) ground: Source,
    /// The design that is raised or lowered
    #[arg(value_name = "DESIGN", value_parser = paths::source())]
    pub(crate) design: Source,
    /// Count cut and fill within the zones of a file, one of them as FILE#NAME, or zones of the job; may be
    /// given more than once
    #[arg(long = "zone", value_name = "ZONE", value_parser = paths::zone())]
    pub(crate) zones: Vec<ZoneSource>,
    /// Shift only what is within these zones
    #[arg(long, value_name = "ZONE", value_parser = paths::zone())]
    pub(crate) moving: Vec<ZoneSource>,
    /// Shift only the level of this platform of the design, by its outline's name; its slopes follow
    #[arg(long, value_name = "NAME", conflicts_with = "moving")]
    pub(crate) platform: Option<String>,
    /// How much a unit dug takes up loose: a factor as 1.25, or a percentage as 25%
    #[arg(long, value_name = "SWELL", default_value = "1")]
    pub(crate) swell: Swell,
    /// How much fill a unit dug makes compacted: a factor as 0.9, or what it loses as 10%
    #[arg(
        long,
        value_name = "SHRINK",
        default_value = "1",
        allow_hyphen_values = true
    )]
    pub(crate) shrink: Shrink,
    /// The lowest and the highest shift, as in -1.5,2 [default: from no fill to no cut]
    #[arg(long, value_name = "LOW,HIGH", value_parser = between, allow_hyphen_values = true)]
    pub(crate) between: Option<Between>,
    /// Take the roundest shift that leaves no more than this volume over, in the volume unit
    #[arg(long, value_name = "VOLUME", default_value = "0", value_parser = amount)]
    pub(crate) amount: f64,
    #[command(flatten)]
    pub(crate) job: JobArgs,
    /// The length unit to measure in [default: that of the ground]
    #[arg(long, value_parser = unit::<LengthUnit>())]
    pub(crate) length_unit: Option<LengthUnit>,
    /// The unit of volumes [default: m3, or yd3 where the length unit is a foot]
    #[arg(long, value_parser = unit::<VolumeAsked>())]
    pub(crate) volume_unit: Option<VolumeAsked>,
    /// Write the shifts that were tried as comma-separated text, for a spreadsheet
    #[arg(long, value_name = "FILE.csv", value_parser = paths::table())]
    pub(crate) csv: Option<PathBuf>,
    /// Draw what is left over at each shift
    #[arg(long, value_name = "FILE.svg", value_parser = paths::picture())]
    pub(crate) curve: Option<PathBuf>,
    /// Print one JSON object instead of tables, figures unrounded
    #[arg(long)]
    pub(crate) json: bool,
    #[command(flatten)]
    pub(crate) reading: ReadingArgs,
}

#[derive(Debug, Parser)]
#[command(
    after_help = "The exit code is 1 where an item is not as expected: beyond its thresholds, or off its contract \
    quantity by more than the share it is to stay within."
)]
pub(crate) struct MeasureArgs {
    /// The items to measure, by their codes [default: all of them]
    #[arg(value_name = "ITEM")]
    pub(crate) codes: Vec<String>,
    #[command(flatten)]
    pub(crate) job: JobArgs,
    /// Take files in different coordinate systems, or systems of heights, as being in the same
    #[arg(long)]
    pub(crate) any_crs: bool,
    /// Show how each quantity comes about; items that are named are always shown so
    #[arg(long)]
    pub(crate) how: bool,
    /// Write the bill as comma-separated text, for a spreadsheet
    #[arg(long, value_name = "FILE.csv", value_parser = paths::table())]
    pub(crate) csv: Option<PathBuf>,
    /// Write a report, one page that needs nothing else
    #[arg(long, value_name = "FILE.html", value_parser = paths::page())]
    pub(crate) report: Option<PathBuf>,
    /// What stands at the head of the report
    #[arg(long, default_value = "Measured bill")]
    pub(crate) title: String,
    /// Print one JSON object instead of tables, measured figures unrounded
    #[arg(long)]
    pub(crate) json: bool,
}

/// A range; a type of its own, so that clap takes it as one value.
#[derive(Debug, Clone, Copy)]
pub(crate) struct Between(pub(crate) [f64; 2]);

fn between(text: &str) -> Result<Between, String> {
    let ends = text
        .split(',')
        .map(|end| end.trim().parse().ok().filter(|end: &f64| end.is_finite()));
    match ends.collect::<Option<Vec<f64>>>().as_deref() {
        Some(&[low, high]) if low < high => Ok(Between([low, high])),
        Some([_, _]) => Err("the first is to be lower than the second".into()),
        _ => Err("expected two heights, as in -1.5,2".into()),
    }
}

fn amount(text: &str) -> Result<f64, String> {
    let amount = text
        .parse()
        .ok()
        .filter(|amount: &f64| *amount >= 0.0 && amount.is_finite());
    amount.ok_or_else(|| "expected a figure of zero or more".into())
}

fn tolerance(text: &str) -> Result<Tolerance, String> {
    let height = text.parse().ok().and_then(Tolerance::new);
    height.ok_or_else(|| "expected a height of zero or more".into())
}

fn length(text: &str) -> Result<f64, String> {
    let length = text
        .parse()
        .ok()
        .filter(|l: &f64| *l > 0.0 && l.is_finite());
    length.ok_or_else(|| "expected a length above zero".into())
}
