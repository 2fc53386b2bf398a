//! How files that do not say it themselves are to be read.

use std::path::PathBuf;

use clap::{Parser, ValueEnum};
use dapedon_core::points::{Keep, Rules, SamePlace};
use dapedon_core::units::LengthUnit;
use dapedon_formats::Take;
use dapedon_formats::delimited::{Role, parse_roles};
use dapedon_job::{Classes, CloudRules, FilesRead, Memory, Reading, Thin};

use super::{length, unit};
use crate::fault::Fault;

/// How files that do not say it themselves are to be read, and surfaces made of them.
#[derive(Debug, Parser)]
#[command(next_help_heading = "Reading")]
pub(crate) struct ReadingArgs {
    /// What the columns of delimited text hold: point, east, north, height, code, note, skip
    #[arg(long, value_name = "ROLES", value_parser = columns)]
    pub(crate) columns: Option<Columns>,
    /// The length unit of files that carry none
    #[arg(long, value_parser = unit::<LengthUnit>())]
    pub(crate) unit: Option<LengthUnit>,
    /// What codes of points or layers of a drawing are taken as, as in CREST,TOE=breakline,LIMIT=edge; the
    /// kinds are points, breakline, edge, hole, island, facets, nothing
    #[arg(long, value_name = "NAME=KIND")]
    pub(crate) take: Vec<String>,
    /// A height that means that none was measured: its points are dropped
    #[arg(long, value_name = "HEIGHT", allow_negative_numbers = true)]
    pub(crate) no_height: Option<f64>,
    /// Which height holds where one place is given with several
    #[arg(long, value_enum)]
    pub(crate) same_place: Option<SameHeight>,
    /// Drop facets with a longer edge, breaklines aside, from surfaces made of points
    #[arg(long, value_name = "LENGTH", value_parser = length)]
    pub(crate) max_edge: Option<f64>,
    /// Drop points that stand out from all their neighbours
    #[arg(long)]
    pub(crate) drop_odd: bool,
    /// Cut surfaces made of points along the outlines of a file
    #[arg(long, value_name = "FILE")]
    pub(crate) outline: Option<PathBuf>,
    /// The attribute that names features of GeoJSON and shapefiles [default: name]
    #[arg(long, value_name = "ATTRIBUTE")]
    pub(crate) named_by: Option<String>,
    /// The classes of a cloud that are taken: ground, all, or numbers as in 2,8 [default: ground where it has
    /// any, or else all but noise]
    #[arg(long, value_name = "CLASSES")]
    pub(crate) class: Option<Classes>,
    /// The side of the square cells that a cloud is thinned to, in its unit, or none to keep every point
    /// [default: a length that suits how dense it is]
    #[arg(long, value_name = "LENGTH", value_parser = thin)]
    pub(crate) thin: Option<Thin>,
    /// The height that a cell of a cloud keeps
    #[arg(long, value_enum, default_value = "median")]
    pub(crate) keep: KeepHeight,
    /// Triangulate a thinned cloud, one point a cell, instead of making it a grid
    #[arg(long)]
    pub(crate) triangulate: bool,
    /// The memory that grids made of clouds and surfaces may take: more is refused before it is taken
    #[arg(long, value_name = "SIZE", default_value_t)]
    pub(crate) memory: Memory,
    /// Take files in different coordinate systems, or systems of heights, as being in the same
    #[arg(long)]
    pub(crate) any_crs: bool,
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
pub(crate) enum SameHeight {
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

impl From<SameHeight> for SamePlace {
    fn from(rule: SameHeight) -> Self {
        match rule {
            SameHeight::First => SamePlace::First,
            SameHeight::Last => SamePlace::Last,
            SameHeight::Lowest => SamePlace::Lowest,
            SameHeight::Highest => SamePlace::Highest,
            SameHeight::Mean => SamePlace::Mean,
        }
    }
}

impl ReadingArgs {
    pub(crate) fn reading(&self) -> Result<Reading, Fault> {
        let mut take = Take::default();
        for words in &self.take {
            take.add(words)?;
        }
        Ok(Reading {
            columns: self.columns.as_ref().map(|columns| columns.0.clone()),
            take,
            unit: self.unit,
            usual_unit: None,
            no_height: self.no_height,
            rules: Rules {
                max_edge: self.max_edge,
                same_place: self.same_place.map(Into::into).unwrap_or_default(),
            },
            drop_odd: self.drop_odd,
            outline: self.outline.clone(),
            named_by: self.named_by.clone(),
            cloud: CloudRules {
                classes: self.class.clone().unwrap_or_default(),
                thin: self.thin,
                keep: self.keep.into(),
                triangulate: self.triangulate,
            },
            memory: self.memory,
            any_crs: self.any_crs,
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
