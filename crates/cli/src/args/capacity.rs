//! The arguments of `capacity`.

use std::path::PathBuf;

use clap::Parser;
use dapedon_job::{Source, ZoneSource};

use super::{JobArgs, ReadingArgs, UnitArgs, amount};

#[derive(Debug, Parser)]
pub(crate) struct CapacityArgs {
    /// The bed of the basin
    #[arg(value_name = "SURFACE")]
    pub(crate) surface: Source,
    /// The zone that it ends at, of a file as FILE#NAME or of the job
    #[arg(long, value_name = "ZONE")]
    pub(crate) zone: Option<ZoneSource>,
    /// Count only the water that is connected to that at a place, as in 412230.5,5861060
    #[arg(long, value_name = "EAST,NORTH", value_parser = place, allow_hyphen_values = true)]
    pub(crate) pool: Option<PlaceArg>,
    /// The lowest level of the table [default: the lowest place]
    #[arg(long, value_name = "LEVEL", allow_negative_numbers = true)]
    pub(crate) from: Option<f64>,
    /// The highest level [default: where water runs over the edge, less the freeboard]
    #[arg(long, value_name = "LEVEL", allow_negative_numbers = true)]
    pub(crate) to: Option<f64>,
    /// The step from level to level [default: a round one]
    #[arg(long, value_name = "HEIGHT", allow_negative_numbers = true)]
    pub(crate) step: Option<f64>,
    /// How far the water is to stay below where it runs over the edge
    #[arg(long, value_name = "HEIGHT", default_value = "0", value_parser = amount)]
    pub(crate) freeboard: f64,
    /// Find the level at which it holds this volume, in the volume unit; may be given more than once
    #[arg(long = "volume", value_name = "VOLUME", allow_negative_numbers = true)]
    pub(crate) volumes: Vec<f64>,
    /// List the levels from the top down
    #[arg(long)]
    pub(crate) down: bool,
    #[command(flatten)]
    pub(crate) job: JobArgs,
    #[command(flatten)]
    pub(crate) reading: ReadingArgs,
    #[command(flatten)]
    pub(crate) units: UnitArgs,
    /// Write the table as comma-separated text, for a spreadsheet
    #[arg(long, value_name = "FILE.csv")]
    pub(crate) csv: Option<PathBuf>,
    /// Draw volume and area by level
    #[arg(long, value_name = "FILE.svg")]
    pub(crate) curve: Option<PathBuf>,
    /// Print one JSON object instead of a table, figures unrounded
    #[arg(long)]
    pub(crate) json: bool,
}

/// A place; a type of its own, so that clap takes it as one value.
#[derive(Debug, Clone, Copy)]
pub(crate) struct PlaceArg(pub(crate) [f64; 2]);

fn place(text: &str) -> Result<PlaceArg, String> {
    let numbers = text
        .split(',')
        .map(|number| number.trim().parse().ok().filter(|n: &f64| n.is_finite()));
    match numbers.collect::<Option<Vec<f64>>>().as_deref() {
        Some(&[east, north]) => Ok(PlaceArg([east, north])),
        _ => Err("expected a place, as in 412230.5,5861060".into()),
    }
}
