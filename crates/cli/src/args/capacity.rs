//! The arguments of `capacity`.

use std::path::{Path, PathBuf};

use clap::Parser;
use dapedon_core::surface::FARTHEST;
use dapedon_job::{AreasSource, Source, ZoneSource};

use super::{JobArgs, ReadingArgs, SurveyAccuracyArgs, UnitArgs, amount, paths};

#[derive(Debug, Parser)]
pub(crate) struct CapacityArgs {
    /// Bed of the basin
    #[arg(value_name = "SURFACE", required_unless_present = "areas", value_parser = paths::source())]
    pub(crate) surface: Option<Source>,
    /// Levels with known areas, instead of a bed: 20=0,20.5=310,21=820, or a file with a level and an area per row
    #[arg(long, value_name = "AREAS", value_parser = areas, conflicts_with_all = ["surface", "zone", "pool", "from", "to", "step", "shores", "accuracy", "between_points"])]
    pub(crate) areas: Option<AreasSource>,
    /// Zone that limits the basin: FILE, FILE#NAME or a zone of the job
    #[arg(long, value_name = "ZONE", value_parser = paths::zone())]
    pub(crate) zone: Option<ZoneSource>,
    /// Count only the water connected to a place, as in 412230.5,5861060
    #[arg(long, value_name = "EAST,NORTH", value_parser = place, allow_hyphen_values = true)]
    pub(crate) pool: Option<PlaceArg>,
    /// Lowest level of the table [default: the lowest place]
    #[arg(long, value_name = "LEVEL", allow_negative_numbers = true, value_parser = level)]
    pub(crate) from: Option<f64>,
    /// Highest level of the table [default: the spill level less the freeboard]
    #[arg(long, value_name = "LEVEL", allow_negative_numbers = true, value_parser = level)]
    pub(crate) to: Option<f64>,
    /// Height between levels of the table [default: a round height]
    #[arg(long, value_name = "HEIGHT", allow_negative_numbers = true)]
    pub(crate) step: Option<f64>,
    /// Height between the water and the spill level
    #[arg(long, value_name = "HEIGHT", default_value = "0", value_parser = amount)]
    pub(crate) freeboard: f64,
    /// Find the level that holds this volume; may be given more than once
    #[arg(long = "volume", value_name = "VOLUME", allow_negative_numbers = true)]
    pub(crate) volumes: Vec<f64>,
    /// Find the volume held at this level; may be given more than once
    #[arg(long = "level", value_name = "LEVEL", allow_negative_numbers = true, value_parser = level)]
    pub(crate) levels: Vec<f64>,
    /// Write the waterline at a level as a zone: .geojson or .shp; may be given more than once
    #[arg(long = "waterline", value_name = "LEVEL=FILE", value_parser = shore)]
    pub(crate) shores: Vec<WaterlineFile>,
    /// List levels from the top down
    #[arg(long)]
    pub(crate) top_down: bool,
    #[command(flatten)]
    pub(crate) accuracy: SurveyAccuracyArgs,
    /// Measure what the spacing of points leaves out, as part of the uncertainty
    #[arg(long, help_heading = "Uncertainty")]
    pub(crate) between_points: bool,
    #[command(flatten)]
    pub(crate) job: JobArgs,
    #[command(flatten)]
    pub(crate) units: UnitArgs,
    /// Write the table to a CSV file
    #[arg(long, value_name = "FILE.csv", value_parser = paths::table(), help_heading = "Output")]
    pub(crate) csv: Option<PathBuf>,
    /// Draw the volume and area curves
    #[arg(long, value_name = "FILE.svg", value_parser = paths::picture(), help_heading = "Output")]
    pub(crate) curve: Option<PathBuf>,
    /// Print one JSON object with unrounded figures
    #[arg(long, help_heading = "Output")]
    pub(crate) json: bool,
    #[command(flatten)]
    pub(crate) reading: ReadingArgs,
}

/// A place; a type of its own, so that clap takes it as one value.
#[derive(Debug, Clone, Copy)]
pub(crate) struct PlaceArg(pub(crate) [f64; 2]);

/// A level, and the file that the outline of its water is written to.
#[derive(Debug, Clone)]
pub(crate) struct WaterlineFile {
    pub(crate) level: f64,
    pub(crate) path: PathBuf,
}

fn level(text: &str) -> Result<f64, String> {
    let level = text.trim().parse().ok();
    let level = level.filter(|level: &f64| level.abs() <= FARTHEST);
    level.ok_or_else(|| format!("\"{text}\" is not a height"))
}

fn shore(text: &str) -> Result<WaterlineFile, String> {
    match text.split_once('=') {
        Some((height, path)) if !path.is_empty() => Ok(WaterlineFile {
            level: level(height)?,
            path: path.into(),
        }),
        _ => Err("expected a level and a file, as in 24.5=water.geojson".into()),
    }
}

/// Pairs, or else a file.
fn areas(text: &str) -> Result<AreasSource, String> {
    if !text.contains('=') || Path::new(text).exists() {
        return Ok(AreasSource::File(text.into()));
    }
    let pairs = text.split(',').map(|pair| {
        let (level, area) = pair.split_once('=')?;
        let number = |text: &str| text.trim().parse().ok();
        Some([number(level)?, number(area)?])
    });
    let pairs = pairs.collect::<Option<Vec<[f64; 2]>>>();
    pairs
        .map(AreasSource::Said)
        .ok_or_else(|| "expected levels with their areas, as in 20=0,20.5=310,21=820".into())
}

fn place(text: &str) -> Result<PlaceArg, String> {
    let numbers = text
        .split(',')
        .map(|number| number.trim().parse().ok().filter(|n: &f64| n.is_finite()));
    match numbers.collect::<Option<Vec<f64>>>().as_deref() {
        Some(&[east, north]) => Ok(PlaceArg([east, north])),
        _ => Err("expected a place, as in 412230.5,5861060".into()),
    }
}
