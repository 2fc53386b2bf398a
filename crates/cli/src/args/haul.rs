//! The arguments of `haul`.

use std::path::PathBuf;

use clap::Parser;
use dapedon_contract::Shrink;
use dapedon_job::{HaulSite, Source, ZoneSource};

use super::{JobArgs, MapArgs, ReadingArgs, SURFACES, UnitArgs, paths};

#[derive(Debug, Parser)]
#[command(after_help = SURFACES)]
pub(crate) struct HaulArgs {
    /// Surface to measure from
    #[arg(value_name = "REFERENCE", value_parser = paths::source())]
    pub(crate) reference: Source,
    /// Surface to measure to
    #[arg(value_name = "SURVEYED", value_parser = paths::source())]
    pub(crate) surveyed: Source,
    /// Zones that are cut and filled: FILE, FILE#NAME or a zone of the job; may be given more than once
    #[arg(long = "zone", value_name = "ZONE", required = true, value_parser = paths::zone())]
    pub(crate) zones: Vec<ZoneSource>,
    /// Shrink factor: compacted volume per bank volume, as 0.9 or 10%
    #[arg(
        long,
        value_name = "SHRINK",
        default_value = "1",
        allow_hyphen_values = true
    )]
    pub(crate) shrink: Shrink,
    /// Distance on the way per straight distance, as in 1.3
    #[arg(long, value_name = "FACTOR", default_value = "1", value_parser = detour, allow_hyphen_values = true)]
    pub(crate) detour: f64,
    /// Borrow pit outside the zones, as in name=hill,east=412500,north=5861300; may be given more than once
    ///
    /// Further keys: most (compacted volume it has) and cost (of a unit of it, besides the haul).
    #[arg(long, value_name = "PLACE", value_parser = site)]
    pub(crate) borrow: Vec<HaulSite>,
    /// Tip outside the zones, with the same keys; may be given more than once
    #[arg(long = "tip", value_name = "PLACE", value_parser = site)]
    pub(crate) tips: Vec<HaulSite>,
    /// Cost of hauling a unit of compacted volume over a kilometre; over a mile where lengths are feet
    #[arg(long, value_name = "RATE", value_parser = rate, allow_hyphen_values = true)]
    pub(crate) haul_rate: Option<f64>,
    #[command(flatten)]
    pub(crate) job: JobArgs,
    #[command(flatten)]
    pub(crate) units: UnitArgs,
    #[command(flatten)]
    pub(crate) map: MapArgs,
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
        default_value = "Haul plan",
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

fn figure(text: &str) -> Option<f64> {
    text.trim().parse::<f64>().ok().filter(|n| n.is_finite())
}

fn detour(text: &str) -> Result<f64, String> {
    let factor = figure(text).filter(|factor| *factor >= 1.0);
    factor.ok_or_else(|| "expected a factor of 1 or more".to_owned())
}

fn rate(text: &str) -> Result<f64, String> {
    let rate = figure(text).filter(|rate| *rate > 0.0);
    rate.ok_or_else(|| "expected a cost above zero".to_owned())
}

fn site(text: &str) -> Result<HaulSite, String> {
    let (mut name, mut east, mut north, mut most, mut cost) = (None, None, None, None, None);
    for part in text.split(',') {
        let (key, value) = part.split_once('=').ok_or_else(|| {
            format!("expected keys as in name=hill,east=412500,north=5861300, found \"{part}\"")
        })?;
        let value = value.trim();
        let place = match key.trim() {
            "name" => {
                if name.replace(value.to_owned()).is_some() {
                    return Err("name is given twice".into());
                }
                continue;
            }
            "east" => &mut east,
            "north" => &mut north,
            "most" => &mut most,
            "cost" => &mut cost,
            other => {
                return Err(format!(
                    "\"{other}\" is none of name, east, north, most and cost"
                ));
            }
        };
        let read = figure(value).ok_or_else(|| format!("\"{value}\" is not a figure"))?;
        if matches!(key.trim(), "most" | "cost") && read < 0.0 {
            return Err(format!("{key} is below zero"));
        }
        if place.replace(read).is_some() {
            return Err(format!("{key} is given twice"));
        }
    }
    match (name, east, north) {
        (Some(name), Some(east), Some(north)) if !name.is_empty() => Ok(HaulSite {
            name,
            at: [east, north],
            most,
            cost: cost.unwrap_or(0.0),
        }),
        _ => Err("name, east and north are needed".into()),
    }
}
