//! The arguments of `conformity`.

use std::path::PathBuf;

use clap::Parser;
use dapedon_job::{CrossfallRules, Job, LimitRules, LineSource, Share, Slope, Source, ZoneSource};

use super::{AccuracyArgs, JobArgs, MapArgs, ReadingArgs, SURFACES, UnitArgs, length, paths};
use crate::error::CommandError;

#[derive(Debug, Parser)]
#[command(after_help = SURFACES)]
pub(crate) struct ConformityArgs {
    /// Design: what was to be built
    #[arg(value_name = "DESIGN", value_parser = paths::source())]
    pub(crate) design: Source,
    /// What was built
    #[arg(value_name = "BUILT", value_parser = paths::source())]
    pub(crate) built: Source,
    /// Zone to check in: FILE, FILE#NAME or a zone of the job; may be given more than once
    #[arg(long = "zone", value_name = "ZONE", value_parser = paths::zone())]
    pub(crate) zones: Vec<ZoneSource>,
    #[command(flatten)]
    pub(crate) job: JobArgs,
    #[command(flatten)]
    pub(crate) limits: LimitArgs,
    #[command(flatten)]
    pub(crate) accuracy: AccuracyArgs,
    #[command(flatten)]
    pub(crate) units: UnitArgs,
    /// Write outlines of the ground beyond the limits to a GeoJSON file or shapefile, the worst first
    #[arg(long = "out", value_name = "FILE", help_heading = "Output")]
    pub(crate) out: Option<PathBuf>,
    /// Write the tables to a CSV file: plain numbers for a spreadsheet
    #[arg(long, value_name = "FILE.csv", value_parser = paths::table(), help_heading = "Output")]
    pub(crate) csv: Option<PathBuf>,
    #[command(flatten)]
    pub(crate) map: MapArgs,
    /// Write a report: a page, complete in itself (.html), or a workbook (.xlsx); may be given more than once
    #[arg(long = "report", value_name = "FILE", value_parser = paths::report(), help_heading = "Output")]
    pub(crate) reports: Vec<PathBuf>,
    /// Report title
    #[arg(long, default_value = "Conformity to design", help_heading = "Output")]
    pub(crate) title: String,
    /// Print one JSON object with unrounded figures
    #[arg(long, help_heading = "Output")]
    pub(crate) json: bool,
    #[command(flatten)]
    pub(crate) reading: ReadingArgs,
}

/// What is allowed.
#[derive(Debug, Parser)]
#[command(next_help_heading = "Limits")]
pub(crate) struct LimitArgs {
    /// How far the built surface may lie above the design
    #[arg(long, value_name = "HEIGHT", value_parser = height, allow_negative_numbers = true)]
    pub(crate) above: Option<f64>,
    /// How far it may lie below the design
    #[arg(long, value_name = "HEIGHT", value_parser = height, allow_negative_numbers = true)]
    pub(crate) below: Option<f64>,
    /// How far it must lie below the design everywhere
    #[arg(long, value_name = "HEIGHT", value_parser = height, allow_negative_numbers = true, conflicts_with = "above")]
    pub(crate) clearance: Option<f64>,
    /// Flattest slope of its triangles, as 2% or 1:50
    #[arg(long, value_name = "SLOPE")]
    pub(crate) flattest: Option<Slope>,
    /// Steepest slope of its triangles, as 50% or 1:2
    #[arg(long, value_name = "SLOPE")]
    pub(crate) steepest: Option<Slope>,
    /// Line along which crossfalls are held against those of the design: FILE, FILE#NAME or a line of the job
    ///
    /// At each section the straight line that lies closest to each surface is found, on each side of the line for itself, as far as the zones
    /// reach.
    #[arg(long, value_name = "LINE", value_parser = paths::line(), requires_all = ["crossfall_within", "zones"])]
    pub(crate) crossfall: Option<LineSource>,
    /// Interval of the sections for crossfalls [default: 10]
    #[arg(long, value_name = "DISTANCE", value_parser = length, allow_negative_numbers = true, requires = "crossfall")]
    pub(crate) crossfall_every: Option<f64>,
    /// How far crossfalls may differ from those of the design, as 0.5%
    #[arg(long, value_name = "SLOPE", requires = "crossfall")]
    pub(crate) crossfall_within: Option<Slope>,
    /// Share of the area of each zone that must be within the limits
    #[arg(long, value_name = "SHARE", default_value = "100%")]
    pub(crate) share: Share,
    /// Judge as measured, whatever the uncertainty
    ///
    /// Otherwise ground conforms where it lies within the limits by more than the uncertainty of the measurement, as far as that is
    /// known.
    #[arg(long)]
    pub(crate) simple_acceptance: bool,
}

impl LimitArgs {
    pub(crate) fn crossfall(
        &self,
        job: Option<&Job>,
    ) -> Result<Option<CrossfallRules>, CommandError> {
        let (Some(line), Some(within)) = (&self.crossfall, self.crossfall_within) else {
            return Ok(None);
        };
        Ok(Some(CrossfallRules {
            line: match job {
                Some(job) => job.line(line)?,
                None => line.clone(),
            },
            every: self.crossfall_every.unwrap_or(10.0),
            within: within.0,
        }))
    }

    pub(crate) fn rules(&self) -> LimitRules {
        LimitRules {
            above: self.above,
            below: self.below,
            clearance: self.clearance,
            flattest: self.flattest.map(|slope| slope.0),
            steepest: self.steepest.map(|slope| slope.0),
            share: self.share.0,
        }
    }
}

/// A height of nothing or more.
fn height(text: &str) -> Result<f64, String> {
    let height = text.trim().parse().ok();
    let sound = height.filter(|height: &f64| height.is_finite() && *height >= 0.0);
    sound.ok_or_else(|| {
        "expected a height of zero or more; for what must lie below the design use --clearance"
            .into()
    })
}
