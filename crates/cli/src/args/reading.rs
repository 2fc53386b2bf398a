//! How files that do not say it themselves are to be read.

use std::path::PathBuf;

use clap::{Parser, ValueEnum};
use dapedon_core::points::{Duplicates, FlatTriangles, Keep, Rules};
use dapedon_core::units::LengthUnit;
use dapedon_formats::CodeUses;
use dapedon_formats::delimited::{Role, parse_roles};
use dapedon_job::{Classes, CloudRules, FilesRead, Memory, Reading, Thin};

use super::{length, unit};
use crate::error::CommandError;

/// How files that do not say it themselves are to be read, and surfaces made of them.
#[derive(Debug, Parser)]
#[command(next_help_heading = "Reading files")]
pub(crate) struct ReadingArgs {
    /// Reading kept under this name in the job file, or in your own file of readings
    ///
    /// Options beside it go before its keys. Your own file: readings.toml in the folder dapedon of your settings.
    #[arg(long = "as", hide_short_help = true, value_name = "NAME")]
    pub(crate) read_as: Option<String>,
    /// Columns of a points file: point, east, north, height, code, note, skip
    ///
    /// Also height-accuracy and plan-accuracy, standard uncertainties of each point.
    /// Or their initials in one word, as in PENZD.
    #[arg(long, hide_short_help = true, value_name = "COLUMNS", value_parser = columns)]
    pub(crate) columns: Option<Columns>,
    /// Length unit of files that state none
    #[arg(long, value_parser = unit::<LengthUnit>())]
    pub(crate) unit: Option<LengthUnit>,
    /// Use the unit of --unit even where a file states another one
    #[arg(long, hide_short_help = true, requires = "unit")]
    pub(crate) override_unit: bool,
    /// How point codes and drawing layers are used, as in CREST,TOE=breakline,LIMIT=edge
    ///
    /// Uses: points, breakline, edge, hole, island, triangles, heights (numbers written in a drawing), skip. May be given more than once.
    #[arg(long, hide_short_help = true, value_name = "NAME=USE")]
    pub(crate) codes: Vec<String>,
    /// Height that marks a missing measurement; its points are skipped
    #[arg(
        long,
        hide_short_help = true,
        value_name = "HEIGHT",
        allow_negative_numbers = true
    )]
    pub(crate) nodata: Option<f64>,
    /// Height to use where one place has several
    #[arg(long, hide_short_help = true, value_enum)]
    pub(crate) duplicates: Option<DuplicateHeight>,
    /// Longest triangle edge of a surface made from points; longer triangles are removed
    ///
    /// Breaklines are kept.
    #[arg(long, hide_short_help = true, value_name = "LENGTH", value_parser = length)]
    pub(crate) max_edge: Option<f64>,
    /// What to do with flat triangles between points of one contour [default: keep]
    ///
    /// They cut off valleys, ridges and summits. Relax puts points along them.
    #[arg(long, hide_short_help = true, value_enum, value_name = "RULE")]
    pub(crate) flat_triangles: Option<FlatTrianglesRule>,
    /// Leave out points far above or below all their neighbours
    #[arg(long, hide_short_help = true)]
    pub(crate) drop_outliers: bool,
    /// Boundary file: clip a surface made from points
    #[arg(long, hide_short_help = true, value_name = "FILE")]
    pub(crate) outline: Option<PathBuf>,
    /// Attribute that holds the names of map features [default: name]
    #[arg(long, hide_short_help = true, value_name = "ATTRIBUTE")]
    pub(crate) name_attribute: Option<String>,
    /// Attribute that holds the heights of map features, such as contours
    #[arg(long, hide_short_help = true, value_name = "ATTRIBUTE")]
    pub(crate) height_by: Option<String>,
    /// Point classes of a cloud to use: ground, all, or numbers as in 2,8
    ///
    /// Default: ground where the cloud has any, otherwise all but noise.
    #[arg(long, hide_short_help = true, value_name = "CLASSES")]
    pub(crate) classes: Option<Classes>,
    /// Cell size to thin a cloud to, in its unit, or none to keep every point
    ///
    /// Default: a round length with about three points side by side in a cell.
    #[arg(long, hide_short_help = true, value_name = "LENGTH", value_parser = thin)]
    pub(crate) thin: Option<Thin>,
    /// Height to keep in each cell of a cloud
    #[arg(long, hide_short_help = true, value_enum, default_value = "median")]
    pub(crate) keep: KeepHeight,
    /// Triangulate a thinned cloud instead of making a grid
    #[arg(long, hide_short_help = true)]
    pub(crate) triangulate: bool,
    /// Most memory that grids may use
    #[arg(long, hide_short_help = true, value_name = "SIZE", default_value_t)]
    pub(crate) memory: Memory,
    /// Compare files although their coordinate or height systems differ
    #[arg(long, hide_short_help = true)]
    pub(crate) ignore_crs: bool,
}

/// The height that a cell keeps.
#[derive(Debug, Clone, Copy, ValueEnum)]
pub(crate) enum KeepHeight {
    /// The lowest
    Lowest,
    /// The mean
    Mean,
    /// The middle one
    Median,
    /// The highest
    Highest,
}

impl From<KeepHeight> for Keep {
    fn from(rule: KeepHeight) -> Self {
        match rule {
            KeepHeight::Lowest => Keep::Lowest,
            KeepHeight::Mean => Keep::Mean,
            KeepHeight::Median => Keep::Median,
            KeepHeight::Highest => Keep::Highest,
        }
    }
}

/// Which height holds where one place is given with several.
#[derive(Debug, Clone, Copy, ValueEnum)]
pub(crate) enum DuplicateHeight {
    /// The one given first
    First,
    /// The one given last
    Last,
    /// The lowest
    Lowest,
    /// The highest
    Highest,
    /// Their mean
    Mean,
}

impl From<DuplicateHeight> for Duplicates {
    fn from(rule: DuplicateHeight) -> Self {
        match rule {
            DuplicateHeight::First => Duplicates::First,
            DuplicateHeight::Last => Duplicates::Last,
            DuplicateHeight::Lowest => Duplicates::Lowest,
            DuplicateHeight::Highest => Duplicates::Highest,
            DuplicateHeight::Mean => Duplicates::Mean,
        }
    }
}

/// What becomes of flat triangles between points of one contour.
#[derive(Debug, Clone, Copy, ValueEnum)]
pub(crate) enum FlatTrianglesRule {
    /// They stay
    Keep,
    /// They are removed
    Drop,
    /// Points are put between them, along valleys and ridges
    Relax,
}

impl From<FlatTrianglesRule> for FlatTriangles {
    fn from(rule: FlatTrianglesRule) -> Self {
        match rule {
            FlatTrianglesRule::Keep => FlatTriangles::Keep,
            FlatTrianglesRule::Drop => FlatTriangles::Drop,
            FlatTrianglesRule::Relax => FlatTriangles::Relax,
        }
    }
}

impl ReadingArgs {
    pub(crate) fn reading(&self) -> Result<Reading, CommandError> {
        let mut take = CodeUses::default();
        for words in &self.codes {
            take.add(words)?;
        }
        Ok(Reading {
            named: None,
            columns: self.columns.as_ref().map(|columns| columns.0.clone()),
            take,
            unit: self.unit,
            override_unit: self.override_unit,
            usual_unit: None,
            nodata: self.nodata,
            rules: Rules {
                max_edge: self.max_edge,
                duplicates: self.duplicates.map(Into::into).unwrap_or_default(),
                flat: self.flat_triangles.map(Into::into).unwrap_or_default(),
            },
            drop_outliers: self.drop_outliers,
            outline: self.outline.clone(),
            name_attribute: self.name_attribute.clone(),
            height_by: self.height_by.clone(),
            cloud: CloudRules {
                classes: self.classes.clone().unwrap_or_default(),
                thin: self.thin,
                keep: self.keep.into(),
                triangulate: self.triangulate,
            },
            memory: self.memory,
            ignore_crs: self.ignore_crs,
            files: FilesRead::default(),
        })
    }
}

/// A list of roles; a type of its own, so that clap takes it as one value.
#[derive(Debug, Clone)]
pub(crate) struct Columns(pub(crate) Vec<Role>);

fn columns(text: &str) -> Result<Columns, String> {
    parse_roles(text)
        .map(Columns)
        .map_err(|error| format!("{error}; {}", error.remedy()))
}

fn thin(text: &str) -> Result<Thin, String> {
    match text {
        "none" => Ok(Thin::No),
        _ => length(text).map(Thin::Cell),
    }
}
