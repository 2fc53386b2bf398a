//! The arguments, as clap reads them.

mod accuracy;
mod audit;
mod capacity;
mod claim;
mod conformity;
mod contours;
mod converting;
mod haul;
mod map;
mod opinions;
mod paths;
mod pile;
mod plan;
mod profile;
mod progress;
mod reading;
mod sections;
mod sheets;
mod spots;
mod units;
mod untouched;

use std::path::PathBuf;

use clap::{Parser, Subcommand, ValueEnum};
use dapedon_contract::{Shrink, Swell};
use dapedon_core::alignment::NamedChainage;
use dapedon_core::quantities::Tolerance;
use dapedon_core::units::LengthUnit;
use dapedon_formats::Format;
use dapedon_job::{BandsSource, JOB_FILE, RequestedVolumeUnit, Source, ZoneSource};

pub(crate) use accuracy::{AccuracyArgs, SurveyAccuracyArgs};
pub(crate) use audit::AuditArgs;
pub(crate) use capacity::CapacityArgs;
pub(crate) use claim::{ClaimArgs, ClaimCommand, ClaimOutputs};
pub(crate) use conformity::ConformityArgs;
pub(crate) use contours::ContoursArgs;
pub(crate) use converting::ConvertingArgs;
pub(crate) use haul::HaulArgs;
pub(crate) use map::{MapArgs, PaperName, ShownOnMap};
pub(crate) use opinions::OpinionArgs;
pub(crate) use pile::PileArgs;
pub(crate) use plan::PlanArgs;
pub(crate) use profile::ProfileArgs;
pub(crate) use progress::ProgressArgs;
pub(crate) use reading::ReadingArgs;
pub(crate) use sections::SectionsArgs;
pub(crate) use sheets::SheetArgs;
pub(crate) use spots::SpotsArgs;
pub(crate) use units::{UnitArgs, unit};
pub(crate) use untouched::UntouchedArgs;

/// Measures earthwork volumes between surveyed and reference surfaces.
#[derive(Debug, Parser)]
#[command(
    name = "dapedon",
    version,
    max_term_width = 100,
    arg_required_else_help = true,
    disable_help_subcommand = true
)]
pub(crate) struct Args {
    #[command(subcommand)]
    pub(crate) command: Command,
}

#[derive(Debug, Subcommand)]
pub(crate) enum Command {
    /// Write the sample job and run it
    Demo(DemoArgs),
    /// Start a job: write a first job file
    Init(InitArgs),
    /// Inspect files for problems
    Inspect(Box<InspectArgs>),
    /// Make a surface and write it to other formats
    Surface(Box<SurfaceArgs>),
    /// Measure cut and fill between two surfaces
    Volume(Box<VolumeArgs>),
    /// Check a built surface against its design, within tolerances
    Conformity(Box<ConformityArgs>),
    /// List height differences on a grid, at points or along a line
    Spots(Box<SpotsArgs>),
    /// Cut surfaces along a line, or from place to place
    Profile(Box<ProfileArgs>),
    /// Cut cross-sections along a line and measure between them
    Sections(Box<SectionsArgs>),
    /// Draw contours of a surface, or of the difference between two
    Contours(Box<ContoursArgs>),
    /// Measure stockpiles and pits
    Pile(Box<PileArgs>),
    /// Measure the volume a basin holds at each level
    Capacity(Box<CapacityArgs>),
    /// Find how dense a survey must be for a wanted uncertainty
    Plan(Box<PlanArgs>),
    /// Measure the bill of a job
    Measure(Box<MeasureArgs>),
    /// Follow items from survey to survey: periods, what is left, and a forecast
    Progress(Box<ProgressArgs>),
    /// Draw up, issue, list, show, compare and pack payment claims
    Claim(Box<ClaimArgs>),
    /// Rebuild issued claims from their inputs and compare
    Audit(Box<AuditArgs>),
    /// Find the design level where cut balances fill
    Balance(Box<BalanceArgs>),
    /// Plan which cut goes to which fill, with the least haul
    Haul(Box<HaulArgs>),
    /// Print the JSON Schema of job files and results
    Schema(SchemaArgs),
    /// Show help on a command, or on terms
    Help(HelpArgs),
}

#[derive(Debug, Parser)]
pub(crate) struct DemoArgs {
    /// Folder to write to
    #[arg(default_value = "tern-reach")]
    pub(crate) folder: PathBuf,
}

#[derive(Debug, Parser)]
pub(crate) struct InitArgs {
    /// Survey and design files of the job
    #[arg(value_name = "FILE")]
    pub(crate) files: Vec<PathBuf>,
    /// Job file to write
    #[arg(long, value_name = "FILE", default_value = JOB_FILE)]
    pub(crate) job: PathBuf,
}

#[derive(Debug, Parser)]
pub(crate) struct HelpArgs {
    /// A command, or terms
    #[arg(value_name = "TOPIC")]
    pub(crate) topic: Option<String>,
}

#[derive(Debug, Parser)]
pub(crate) struct SchemaArgs {
    /// Job files, or the JSON result of a command
    #[arg(value_enum, value_name = "WHAT")]
    pub(crate) what: SchemaOf,
}

/// What has a JSON Schema.
#[derive(Debug, Clone, Copy, ValueEnum)]
pub(crate) enum SchemaOf {
    /// Job files, for editors
    JobFile,
    Audit,
    Claim,
    ClaimCompare,
    ClaimList,
    ClaimPack,
    Inspect,
    Surface,
    Volume,
    Conformity,
    Spots,
    Profile,
    Sections,
    Contours,
    Pile,
    Capacity,
    Measure,
    Progress,
    Balance,
    Haul,
    Plan,
}

/// Where names stand.
#[derive(Debug, Parser)]
pub(crate) struct JobArgs {
    /// Job file [default: dapedon.toml in this folder, if there is one]
    #[arg(long, value_name = "FILE")]
    pub(crate) job: Option<PathBuf>,
}

#[derive(Debug, Parser)]
pub(crate) struct InspectArgs {
    /// Files to inspect
    #[arg(required = true, value_name = "FILE")]
    pub(crate) files: Vec<PathBuf>,
    #[command(flatten)]
    pub(crate) map: MapArgs,
    /// Write the tables to a CSV file: plain numbers for a spreadsheet
    #[arg(long, value_name = "FILE.csv", value_parser = paths::table(), help_heading = "Output")]
    pub(crate) csv: Option<PathBuf>,
    /// Print one JSON object
    #[arg(long, help_heading = "Output")]
    pub(crate) json: bool,
    #[command(flatten)]
    pub(crate) reading: ReadingArgs,
}

#[derive(Debug, Parser)]
#[command(
    after_help = surface_help()
)]
pub(crate) struct SurfaceArgs {
    /// Surface to make
    #[arg(value_name = "SURFACE", value_parser = paths::source())]
    pub(crate) surface: Source,
    #[command(flatten)]
    pub(crate) job: JobArgs,
    /// Write the surface to a file; may be given more than once
    #[arg(long = "out", value_name = "FILE")]
    pub(crate) outs: Vec<PathBuf>,
    /// Name of the surface in the files [default: its own]
    #[arg(long)]
    pub(crate) name: Option<String>,
    /// Length unit of the files [default: that of the surface]
    #[arg(long, value_parser = unit::<LengthUnit>())]
    pub(crate) length_unit: Option<LengthUnit>,
    /// Cell size of grids, in their length unit [default: that of the grid]
    #[arg(long, value_name = "LENGTH", value_parser = length)]
    pub(crate) cell: Option<f64>,
    /// Decimals of coordinates and heights
    #[arg(long, default_value_t = 4, value_parser = clap::value_parser!(u8).range(0..=12))]
    pub(crate) decimals: u8,
    #[command(flatten)]
    pub(crate) map: MapArgs,
    /// Write the figures and layers to a CSV file
    #[arg(long, value_name = "FILE.csv", value_parser = paths::table(), help_heading = "Output")]
    pub(crate) csv: Option<PathBuf>,
    /// Print one JSON object
    #[arg(long, help_heading = "Output")]
    pub(crate) json: bool,
    #[command(flatten)]
    pub(crate) reading: ReadingArgs,
}

/// What a surface can be given as.
pub(crate) const SURFACES: &str = "A surface is one of:\n  \
    FILE         a file with one surface\n  \
    FILE#NAME    one surface of a file\n  \
    FILE+FILE    a point cloud in several files, or their folder\n  \
    level=101.5  a level\n  \
    NAME         a surface of the job";

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
        "{SURFACES}\n\nFormats of --out, by file ending:\n{}",
        kinds.collect::<Vec<_>>().join("\n")
    )
}

#[derive(Debug, Parser)]
#[command(
    after_help = SURFACES
)]
pub(crate) struct VolumeArgs {
    /// Surface to measure from
    #[arg(value_name = "REFERENCE", value_parser = paths::source())]
    pub(crate) reference: Source,
    /// Surface to measure to
    #[arg(value_name = "SURVEYED", value_parser = paths::source())]
    pub(crate) surveyed: Source,
    /// Zone to measure in: FILE, FILE#NAME or a zone of the job; may be given more than once
    #[arg(long = "zone", value_name = "ZONE", value_parser = paths::zone())]
    pub(crate) zones: Vec<ZoneSource>,
    #[command(flatten)]
    pub(crate) job: JobArgs,
    /// Largest height difference that counts as unchanged
    #[arg(long, value_name = "HEIGHT", default_value = "0", value_parser = tolerance, allow_negative_numbers = true)]
    pub(crate) tolerance: Tolerance,
    /// Show cut and fill in depth slices of this height
    #[arg(long, value_name = "HEIGHT", value_parser = length)]
    pub(crate) by_depth: Option<f64>,
    /// Show the ground in bands of difference: auto, step=0.5, edges as in -1,-0.5,0.5,1, or bands of the job
    ///
    /// Each band has the whole volume over its ground. On a map the bands have the colours.
    #[arg(long, value_name = "BANDS", allow_hyphen_values = true)]
    pub(crate) bands: Option<BandsSource>,
    /// Largest height difference in the middle band [default: the tolerance]
    #[arg(long, value_name = "HEIGHT", value_parser = tolerance, requires = "bands", allow_negative_numbers = true)]
    pub(crate) middle_band: Option<Tolerance>,
    #[command(flatten)]
    pub(crate) accuracy: AccuracyArgs,
    /// Add what the spacing of points leaves out to the uncertainty: measured with half of the points left out in turn
    ///
    /// Sixteen surfaces of half the points are made and measured.
    #[arg(long, help_heading = "Uncertainty")]
    pub(crate) between_points: bool,
    #[command(flatten)]
    pub(crate) untouched: UntouchedArgs,
    #[command(flatten)]
    pub(crate) opinions: OpinionArgs,
    #[command(flatten)]
    pub(crate) units: UnitArgs,
    /// Write the tables to a CSV file: plain numbers for a spreadsheet
    #[arg(long, value_name = "FILE.csv", value_parser = paths::table(), help_heading = "Output")]
    pub(crate) csv: Option<PathBuf>,
    #[command(flatten)]
    pub(crate) map: MapArgs,
    /// Write a report: a page, complete in itself (.html), or a workbook (.xlsx); may be given more than once
    #[arg(long = "report", value_name = "FILE", value_parser = paths::report(), help_heading = "Output")]
    pub(crate) reports: Vec<PathBuf>,
    /// Report title
    #[arg(long, default_value = "Earthwork volume", help_heading = "Output")]
    pub(crate) title: String,
    /// Print one JSON object with unrounded figures
    #[arg(long, help_heading = "Output")]
    pub(crate) json: bool,
    #[command(flatten)]
    pub(crate) converting: ConvertingArgs,
    #[command(flatten)]
    pub(crate) reading: ReadingArgs,
}

#[derive(Debug, Parser)]
#[command(after_help = SURFACES)]
pub(crate) struct BalanceArgs {
    /// Existing ground
    #[arg(value_name = "GROUND", value_parser = paths::source())]
    pub(crate) ground: Source,
    /// Design to raise or lower
    #[arg(value_name = "DESIGN", value_parser = paths::source())]
    pub(crate) design: Source,
    /// Zone to count cut and fill in: FILE, FILE#NAME or a zone of the job; may be given more than once
    #[arg(long = "zone", value_name = "ZONE", value_parser = paths::zone())]
    pub(crate) zones: Vec<ZoneSource>,
    /// Shift the design in these zones only
    #[arg(long, value_name = "ZONE", value_parser = paths::zone())]
    pub(crate) shift_within: Vec<ZoneSource>,
    /// Shift the level of one platform of the design, with its slopes
    #[arg(long, value_name = "NAME", conflicts_with = "shift_within")]
    pub(crate) platform: Option<String>,
    /// Shift the heights of one line of the design, with what is made along it
    #[arg(long, value_name = "LINE", conflicts_with_all = ["platform", "shift_within"])]
    pub(crate) line: Option<String>,
    /// First chainage of the stretch that is shifted [default: the start of the line]
    #[arg(long, value_name = "CHAINAGE", value_parser = sections::chainage, requires_all = ["line", "smooth_ends"], allow_hyphen_values = true)]
    pub(crate) from: Option<NamedChainage>,
    /// Last chainage of the stretch that is shifted [default: the end of the line]
    #[arg(long, value_name = "CHAINAGE", value_parser = sections::chainage, requires_all = ["line", "smooth_ends"], allow_hyphen_values = true)]
    pub(crate) to: Option<NamedChainage>,
    /// Length of the smooth ends, within the stretch
    #[arg(long, value_name = "LENGTH", value_parser = length, requires = "line")]
    pub(crate) smooth_ends: Option<f64>,
    /// Swell factor: loose volume per bank volume, as 1.25 or 25%
    #[arg(long, value_name = "SWELL", default_value = "1")]
    pub(crate) swell: Swell,
    /// Shrink factor: compacted volume per bank volume, as 0.9 or 10%
    #[arg(
        long,
        value_name = "SHRINK",
        default_value = "1",
        allow_hyphen_values = true
    )]
    pub(crate) shrink: Shrink,
    /// Lowest and highest shift to try, as in -1.5,2 [default: from no fill to no cut]
    #[arg(long, value_name = "LOW,HIGH", value_parser = between, allow_hyphen_values = true)]
    pub(crate) range: Option<HeightRange>,
    /// Use the roundest shift that leaves no more than this volume
    #[arg(long, value_name = "VOLUME", default_value = "0", value_parser = amount)]
    pub(crate) max_leftover: f64,
    #[command(flatten)]
    pub(crate) job: JobArgs,
    /// Length unit of the results [default: that of the ground]
    #[arg(long, value_parser = unit::<LengthUnit>())]
    pub(crate) length_unit: Option<LengthUnit>,
    /// Volume unit of the results [default: m3; yd3 for surveys in feet]
    #[arg(long, value_parser = unit::<RequestedVolumeUnit>())]
    pub(crate) volume_unit: Option<RequestedVolumeUnit>,
    /// Write the shifts tried to a CSV file
    #[arg(long, value_name = "FILE.csv", value_parser = paths::table(), help_heading = "Output")]
    pub(crate) csv: Option<PathBuf>,
    /// Draw the surplus against the shift
    #[arg(long, value_name = "FILE.svg", value_parser = paths::picture(), help_heading = "Output")]
    pub(crate) curve: Option<PathBuf>,
    /// Print one JSON object with unrounded figures
    #[arg(long, help_heading = "Output")]
    pub(crate) json: bool,
    #[command(flatten)]
    pub(crate) reading: ReadingArgs,
}

#[derive(Debug, Parser)]
pub(crate) struct MeasureArgs {
    /// Items to measure, by code [default: all]
    #[arg(value_name = "ITEM")]
    pub(crate) codes: Vec<String>,
    #[command(flatten)]
    pub(crate) job: JobArgs,
    /// Compare files although their coordinate or height systems differ
    #[arg(long)]
    pub(crate) ignore_crs: bool,
    /// Show how each quantity is worked out; always shown for items that are named
    #[arg(long)]
    pub(crate) explain: bool,
    /// Write the bill to a CSV file
    #[arg(long, value_name = "FILE.csv", value_parser = paths::table(), help_heading = "Output")]
    pub(crate) csv: Option<PathBuf>,
    /// Write a report: a page, complete in itself (.html), or a workbook (.xlsx); may be given more than once
    #[arg(long = "report", value_name = "FILE", value_parser = paths::report(), help_heading = "Output")]
    pub(crate) reports: Vec<PathBuf>,
    /// Report title
    #[arg(long, default_value = "Measured bill", help_heading = "Output")]
    pub(crate) title: String,
    /// Print one JSON object with unrounded figures
    #[arg(long, help_heading = "Output")]
    pub(crate) json: bool,
}

/// A range; a type of its own, so that clap takes it as one value.
#[derive(Debug, Clone, Copy)]
pub(crate) struct HeightRange(pub(crate) [f64; 2]);

fn between(text: &str) -> Result<HeightRange, String> {
    let ends = text
        .split(',')
        .map(|end| end.trim().parse().ok().filter(|end: &f64| end.is_finite()));
    match ends.collect::<Option<Vec<f64>>>().as_deref() {
        Some(&[low, high]) if low < high => Ok(HeightRange([low, high])),
        Some([_, _]) => Err("the first height must be below the second".into()),
        _ => Err("expected two heights, as in -1.5,2".into()),
    }
}

fn amount(text: &str) -> Result<f64, String> {
    let amount = text
        .parse()
        .ok()
        .filter(|amount: &f64| *amount >= 0.0 && amount.is_finite());
    amount.ok_or_else(|| "expected a number of zero or more".into())
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
