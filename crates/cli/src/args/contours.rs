//! The arguments of `contours`.

use std::path::PathBuf;

use clap::Parser;
use dapedon_core::units::LengthUnit;
use dapedon_job::Source;

use super::{JobArgs, MapArgs, ReadingArgs, SURFACES, length, paths, unit};

#[derive(Debug, Parser)]
#[command(after_help = SURFACES)]
pub(crate) struct ContoursArgs {
    /// Surface to draw contours of
    #[arg(value_name = "SURFACE", value_parser = paths::source())]
    pub(crate) surface: Source,
    /// Contours of the difference from this surface, lines of equal cut and fill
    #[arg(long, value_name = "REFERENCE", value_parser = paths::source())]
    pub(crate) from: Option<Source>,
    /// Height from contour to contour [default: a round one, about twenty contours]
    #[arg(long, value_name = "HEIGHT", value_parser = length, conflicts_with = "levels")]
    pub(crate) interval: Option<f64>,
    /// Height from index contour to index contour [default: five intervals]
    #[arg(long, value_name = "HEIGHT", value_parser = length)]
    pub(crate) index_interval: Option<f64>,
    /// Levels to draw, as in 100,101.5
    #[arg(long, value_name = "LEVELS", value_parser = levels, allow_hyphen_values = true)]
    pub(crate) levels: Option<Levels>,
    /// Leave out lines shorter than this; they are counted
    #[arg(long, value_name = "LENGTH", value_parser = length)]
    pub(crate) min_length: Option<f64>,
    #[command(flatten)]
    pub(crate) job: JobArgs,
    /// Length unit of the results [default: that of the surface]
    #[arg(long, value_parser = unit::<LengthUnit>())]
    pub(crate) length_unit: Option<LengthUnit>,
    /// Write the lines to a drawing or map: .dxf, .geojson, .shp or .xml; may be given more than once
    #[arg(long = "out", value_name = "FILE", help_heading = "Output")]
    pub(crate) outs: Vec<PathBuf>,
    /// Height of the labels in a drawing, on the ground [default: to suit the extent]
    #[arg(long, value_name = "LENGTH", value_parser = length, requires = "outs", help_heading = "Output")]
    pub(crate) label_height: Option<f64>,
    /// Distance from label to label along index contours [default: forty label heights]
    #[arg(long, value_name = "LENGTH", value_parser = length, requires = "outs", help_heading = "Output")]
    pub(crate) label_spacing: Option<f64>,
    /// Write closed contours as zones, to .geojson or .shp
    #[arg(long, value_name = "FILE", help_heading = "Output")]
    pub(crate) outlines: Option<PathBuf>,
    /// Decimals of coordinates and heights in these files
    #[arg(long, default_value_t = 4, value_parser = clap::value_parser!(u8).range(0..=12), requires = "outs", help_heading = "Output")]
    pub(crate) decimals: u8,
    /// Write the table to a CSV file: plain numbers for a spreadsheet
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

/// Levels; a type of its own, so that clap takes it as one value.
#[derive(Debug, Clone)]
pub(crate) struct Levels(pub(crate) Vec<f64>);

fn levels(text: &str) -> Result<Levels, String> {
    let level = |part: &str| {
        let level = part.trim().parse().ok();
        level
            .filter(|level: &f64| level.is_finite())
            .ok_or_else(|| format!("\"{part}\" is not a height"))
    };
    text.split(',')
        .map(level)
        .collect::<Result<_, _>>()
        .map(Levels)
}
