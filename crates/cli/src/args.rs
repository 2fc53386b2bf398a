//! The arguments, as clap reads them.

use std::path::PathBuf;

use clap::{Parser, Subcommand, ValueEnum};
use dapedon_core::{AreaUnit, Foot, LengthUnit, Tolerance, VolumeUnit};
use dapedon_formats::delimited::{Role, parse_roles};
use dapedon_job::{Source, ZoneSource};

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
    /// Say what is in files, and what is odd about them, before they are trusted
    Inspect(InspectArgs),
    /// Measure from a reference surface to a surveyed one
    Volume(Box<VolumeArgs>),
}

#[derive(Debug, Parser)]
pub(crate) struct DemoArgs {
    /// The folder to write into
    #[arg(default_value = "tern-reach")]
    pub(crate) folder: PathBuf,
}

#[derive(Debug, Parser)]
pub(crate) struct InspectArgs {
    /// The files to look into
    #[arg(required = true, value_name = "FILE")]
    pub(crate) files: Vec<PathBuf>,
    #[command(flatten)]
    pub(crate) reading: ReadingArgs,
    /// Print one JSON array instead of tables
    #[arg(long)]
    pub(crate) json: bool,
}

/// How files that do not say it themselves are to be read.
#[derive(Debug, Parser)]
pub(crate) struct ReadingArgs {
    /// What the columns of delimited text hold: point, east, north, height, code, note, skip
    #[arg(long, value_name = "ROLES", value_parser = columns)]
    pub(crate) columns: Option<Columns>,
    /// The length unit of files that carry none
    #[arg(long, value_enum)]
    pub(crate) unit: Option<Length>,
}

#[derive(Debug, Parser)]
#[command(
    after_help = "A SURFACE is a file, file#name where a file holds several, or level=101.5.\n\
    Cut is where the surveyed surface is lower than the reference, fill where it is higher."
)]
pub(crate) struct VolumeArgs {
    /// The surface to measure from
    #[arg(value_name = "REFERENCE")]
    pub(crate) reference: Source,
    /// The surface to measure to
    #[arg(value_name = "SURVEYED")]
    pub(crate) surveyed: Source,
    /// Measure within the zones of a file, or one of them as FILE#NAME; may be given more than once
    #[arg(long = "zone", value_name = "FILE")]
    pub(crate) zones: Vec<ZoneSource>,
    #[command(flatten)]
    pub(crate) reading: ReadingArgs,
    /// Count differences up to this height as unchanged, in the unit measured in
    #[arg(long, value_name = "HEIGHT", default_value = "0", value_parser = tolerance, allow_negative_numbers = true)]
    pub(crate) tolerance: Tolerance,
    /// The length unit to measure in [default: that of the reference]
    #[arg(long, value_enum)]
    pub(crate) length_unit: Option<Length>,
    /// The unit of areas [default: the square of the length unit]
    #[arg(long, value_enum)]
    pub(crate) area_unit: Option<Area>,
    /// The unit of volumes [default: m3, or yd3 where the length unit is a foot]
    #[arg(long, value_enum)]
    pub(crate) volume_unit: Option<Volume>,
    /// Draw a map of where cut and fill lie
    #[arg(long, value_name = "FILE.svg")]
    pub(crate) map: Option<PathBuf>,
    /// Write a report, one page that needs nothing else
    #[arg(long, value_name = "FILE.html")]
    pub(crate) report: Option<PathBuf>,
    /// What stands at the head of the report
    #[arg(long, default_value = "Earthwork volume")]
    pub(crate) title: String,
    /// Print one JSON object instead of tables, figures unrounded
    #[arg(long)]
    pub(crate) json: bool,
}

/// A list of roles; a type of its own, so that clap takes it as one value.
#[derive(Debug, Clone)]
pub(crate) struct Columns(pub(crate) Vec<Role>);

fn columns(text: &str) -> Result<Columns, String> {
    parse_roles(text)
        .map(Columns)
        .map_err(|error| format!("{error}; {}", error.remedy()))
}

fn tolerance(text: &str) -> Result<Tolerance, String> {
    let height = text.parse().ok().and_then(Tolerance::new);
    height.ok_or_else(|| "expected a height of zero or more".into())
}

impl ReadingArgs {
    pub(crate) fn roles(&self) -> Option<Vec<Role>> {
        self.columns.as_ref().map(|columns| columns.0.clone())
    }
}

#[derive(Debug, Clone, Copy, ValueEnum)]
pub(crate) enum Length {
    /// Metre
    M,
    /// International foot, 0.3048 m
    Ft,
    /// US survey foot, 1200/3937 m
    UsFt,
}

impl From<Length> for LengthUnit {
    fn from(unit: Length) -> Self {
        match unit {
            Length::M => LengthUnit::Metre,
            Length::Ft => LengthUnit::Foot(Foot::International),
            Length::UsFt => LengthUnit::Foot(Foot::UsSurvey),
        }
    }
}

#[derive(Debug, Clone, Copy, ValueEnum)]
pub(crate) enum Area {
    /// Square metre
    M2,
    /// Hectare
    Ha,
    /// Square foot
    Ft2,
    /// Square yard
    Yd2,
    /// Acre
    Acre,
}

impl Area {
    /// The unit, on the survey's own foot.
    pub(crate) fn on(self) -> fn(LengthUnit) -> AreaUnit {
        match self {
            Area::M2 => |_| AreaUnit::SquareMetre,
            Area::Ha => |_| AreaUnit::Hectare,
            Area::Ft2 => |unit| AreaUnit::SquareFoot(foot(unit)),
            Area::Yd2 => |unit| AreaUnit::SquareYard(foot(unit)),
            Area::Acre => |unit| AreaUnit::Acre(foot(unit)),
        }
    }
}

#[derive(Debug, Clone, Copy, ValueEnum)]
pub(crate) enum Volume {
    /// Cubic metre
    M3,
    /// Cubic foot
    Ft3,
    /// Cubic yard
    Yd3,
}

impl Volume {
    /// The unit, on the survey's own foot.
    pub(crate) fn on(self) -> fn(LengthUnit) -> VolumeUnit {
        match self {
            Volume::M3 => |_| VolumeUnit::CubicMetre,
            Volume::Ft3 => |unit| VolumeUnit::CubicFoot(foot(unit)),
            Volume::Yd3 => |unit| VolumeUnit::CubicYard(foot(unit)),
        }
    }
}

/// The survey's own foot; the international one where it is in metres.
fn foot(unit: LengthUnit) -> Foot {
    unit.foot().unwrap_or(Foot::International)
}
