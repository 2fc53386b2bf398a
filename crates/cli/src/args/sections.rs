//! The arguments of `sections`.

use std::path::PathBuf;

use clap::{ArgGroup, Parser, ValueEnum};
use dapedon_contract::Shrink;
use dapedon_core::alignment::NamedChainage;
use dapedon_job::{LineSource, SectionRule, Source, ZoneSource};

use super::{AccuracyArgs, JobArgs, ReadingArgs, SURFACES, SheetArgs, UnitArgs, length, paths};

#[derive(Debug, Parser)]
#[command(
    after_help = SURFACES,
    group = ArgGroup::new("stations").required(true).multiple(true).args(["every", "at"]),
    group = ArgGroup::new("drawn").multiple(true).args(["sheets", "reports"]),
    group = ArgGroup::new("reach").required(true).multiple(true).args(["width", "left", "zones"])
)]
pub(crate) struct SectionsArgs {
    /// Surface to measure from
    #[arg(value_name = "REFERENCE", value_parser = paths::source())]
    pub(crate) reference: Source,
    /// Surface to measure to
    #[arg(value_name = "SURVEYED", value_parser = paths::source())]
    pub(crate) surveyed: Source,
    /// Another surface to cut, for its heights; may be given more than once
    #[arg(long = "with", value_name = "SURFACE", value_parser = paths::source())]
    pub(crate) others: Vec<Source>,
    /// Cut the layers of build-ups too: lines of their own, with areas and volumes
    #[arg(long)]
    pub(crate) layers: bool,
    /// Line to cut along: FILE, FILE#NAME or a line of the job
    #[arg(long, value_name = "LINE", value_parser = paths::line())]
    pub(crate) line: LineSource,
    /// Sections at round chainages of this interval, and where straights, arcs and spirals meet
    #[arg(long, value_name = "INTERVAL", value_parser = length)]
    pub(crate) every: Option<f64>,
    /// Leave out the places where straights, arcs and spirals meet
    #[arg(long, requires = "every")]
    pub(crate) round_only: bool,
    /// Sections at these chainages, as in 0+040,0+072.5 or 10+50
    #[arg(long, value_name = "CHAINAGES", value_delimiter = ',', value_parser = chainage, allow_hyphen_values = true)]
    pub(crate) at: Vec<NamedChainage>,
    /// Add sections where areas change abruptly
    #[arg(long)]
    pub(crate) refine: bool,
    /// First chainage; a section is cut there [default: the start of the line]
    #[arg(long, value_name = "CHAINAGE", value_parser = chainage, allow_hyphen_values = true)]
    pub(crate) from: Option<NamedChainage>,
    /// Last chainage; a section is cut there [default: the end of the line]
    #[arg(long, value_name = "CHAINAGE", value_parser = chainage, allow_hyphen_values = true)]
    pub(crate) to: Option<NamedChainage>,
    /// Width to each side of the line
    #[arg(long, value_name = "WIDTH", value_parser = length, conflicts_with_all = ["left", "right"])]
    pub(crate) width: Option<f64>,
    /// Width to the left of the line
    #[arg(long, value_name = "WIDTH", value_parser = side, requires = "right", allow_negative_numbers = true)]
    pub(crate) left: Option<f64>,
    /// Width to the right of the line
    #[arg(long, value_name = "WIDTH", value_parser = side, requires = "left", allow_negative_numbers = true)]
    pub(crate) right: Option<f64>,
    /// Zone to stay within; without a width, out to its edge: FILE, FILE#NAME or a zone of the job; may be given more than once
    #[arg(long = "zone", value_name = "ZONE", value_parser = paths::zone())]
    pub(crate) zones: Vec<ZoneSource>,
    /// How volumes are computed from areas
    #[arg(
        long,
        value_enum,
        value_name = "RULE",
        default_value = "average-end-area"
    )]
    pub(crate) rule: RuleName,
    /// Correct volumes on curves, by the path of the middle of each area
    #[arg(long)]
    pub(crate) curve_correction: bool,
    /// Compute the mass haul along the line: loops between balance points, volume times distance
    #[arg(long, help_heading = "Mass haul")]
    pub(crate) mass_haul: bool,
    /// Shrink factor: compacted volume per bank volume, as 0.9 or 10%
    #[arg(
        long,
        value_name = "SHRINK",
        default_value = "1",
        requires = "mass_haul",
        allow_hyphen_values = true,
        help_heading = "Mass haul"
    )]
    pub(crate) shrink: Shrink,
    /// Distance up to which haul is free; the rest is overhaul
    #[arg(long, value_name = "DISTANCE", default_value = "0", value_parser = side,
        allow_negative_numbers = true, requires = "mass_haul", help_heading = "Mass haul")]
    pub(crate) free_haul: f64,
    /// Chainage where a surplus leaves or a shortfall enters [default: where the haul is least]
    #[arg(long, value_name = "CHAINAGE", value_parser = chainage, requires = "mass_haul", allow_hyphen_values = true, help_heading = "Mass haul")]
    pub(crate) access: Option<NamedChainage>,
    #[command(flatten)]
    pub(crate) accuracy: AccuracyArgs,
    #[command(flatten)]
    pub(crate) job: JobArgs,
    #[command(flatten)]
    pub(crate) units: UnitArgs,
    /// List offsets and heights of all corners, in the CSV file and the JSON object
    #[arg(long, help_heading = "Output")]
    pub(crate) corners: bool,
    #[command(flatten)]
    pub(crate) sheets: SheetArgs,
    /// Draw a map of the difference with the line and the sections: .svg or .png
    #[arg(long, value_name = "FILE", value_parser = paths::map(), help_heading = "Output")]
    pub(crate) map: Option<PathBuf>,
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
        default_value = "Cross-sections",
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

/// How volumes are computed from areas.
#[derive(Debug, Clone, Copy, ValueEnum)]
pub(crate) enum RuleName {
    /// The mean of both end areas, times the distance
    AverageEndArea,
    /// With the area in the middle of each stretch too
    Prismoidal,
}

impl RuleName {
    pub(crate) fn rule(self) -> SectionRule {
        match self {
            RuleName::AverageEndArea => SectionRule::AverageEndArea,
            RuleName::Prismoidal => SectionRule::Prismoidal,
        }
    }
}

pub(crate) fn chainage(text: &str) -> Result<NamedChainage, String> {
    text.parse().map_err(|_| {
        "expected a chainage, as in 0+120, 1+250.50, 12+50.00 (feet) or 120; with back or ahead behind it at an equation".to_owned()
    })
}

fn side(text: &str) -> Result<f64, String> {
    let width = text
        .parse()
        .ok()
        .filter(|width: &f64| *width >= 0.0 && width.is_finite());
    width.ok_or_else(|| format!("\"{text}\" is not a width"))
}
