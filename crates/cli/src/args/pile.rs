//! The arguments of `pile`.

use std::collections::BTreeMap;
use std::path::PathBuf;

use clap::{Parser, ValueEnum};
use dapedon_contract::{Density, Shrink, State, Swell};
use dapedon_job::{BaseSource, Outlines, PileMaterials, PileSearch, Source, ZoneSource};

use super::converting::density;
use super::{JobArgs, MapArgs, ReadingArgs, SurveyAccuracyArgs, UnitArgs, length, paths};

#[derive(Debug, Parser)]
#[command(after_help = "A base is one of:\n  \
    toe        a surface through the heights along the outline\n  \
    plane      the best-fit plane through them\n  \
    lowest     a level at the lowest of them\n  \
    mean       a level at their mean\n  \
    a surface  a file, level=24.6, or a surface of the job, such as an earlier survey\n\
    The base was not surveyed. It changes the volume more than anything else: compare bases.")]
pub(crate) struct PileArgs {
    /// Surface that holds the piles
    #[arg(value_name = "SURFACE", value_parser = paths::source())]
    pub(crate) surface: Source,
    /// Outlines of the piles: FILE, FILE#NAME or zones of the job; may be given more than once [default: find them]
    #[arg(long = "zone", value_name = "ZONE", value_parser = paths::zone())]
    pub(crate) zones: Vec<ZoneSource>,
    /// Base under the piles; may be given more than once, the first one counts
    #[arg(long = "base", value_name = "BASE", default_value = "toe", value_parser = paths::base())]
    pub(crate) bases: Vec<BaseSource>,
    /// Compare the volumes above all bases
    #[arg(long)]
    pub(crate) compare_bases: bool,
    /// Measure pits: the volume below the base
    #[arg(long)]
    pub(crate) pit: bool,
    /// Report the change since an earlier survey
    #[arg(long, value_name = "SURFACE", value_parser = paths::source())]
    pub(crate) previous: Option<Source>,
    #[command(flatten)]
    pub(crate) job: JobArgs,
    #[command(flatten)]
    pub(crate) accuracy: SurveyAccuracyArgs,
    /// Measure what the spacing of points leaves out, as part of the uncertainty
    #[arg(long, help_heading = "Uncertainty")]
    pub(crate) between_points: bool,
    #[command(flatten)]
    pub(crate) units: UnitArgs,
    /// Write the outlines found, to check and use with --zone: .geojson or .shp
    #[arg(long, value_name = "FILE", help_heading = "Output")]
    pub(crate) outlines: Option<PathBuf>,
    /// Write the tables to a CSV file: plain numbers for a spreadsheet
    #[arg(long, value_name = "FILE.csv", value_parser = paths::table(), help_heading = "Output")]
    pub(crate) csv: Option<PathBuf>,
    #[command(flatten)]
    pub(crate) map: MapArgs,
    /// Write a report: a page, complete in itself (.html), or a workbook (.xlsx); may be given more than once
    #[arg(long = "report", value_name = "FILE", value_parser = paths::report(), help_heading = "Output")]
    pub(crate) reports: Vec<PathBuf>,
    /// Report title
    #[arg(long, default_value = "Materials in stock", help_heading = "Output")]
    pub(crate) title: String,
    /// Print one JSON object with unrounded figures
    #[arg(long, help_heading = "Output")]
    pub(crate) json: bool,
    #[command(flatten)]
    finding: FindingArgs,
    #[command(flatten)]
    pub(crate) made_of: MaterialArgs,
    #[command(flatten)]
    pub(crate) reading: ReadingArgs,
}

#[derive(Debug, Parser)]
#[command(next_help_heading = "Finding piles")]
struct FindingArgs {
    /// Least height of a pile above its toe [default: 1 m, or 3 ft]
    #[arg(long, value_name = "HEIGHT", value_parser = length, conflicts_with = "zones")]
    min_height: Option<f64>,
    /// Least plan area of a pile, in the area unit [default: 10 m2, or 100 ft2]
    #[arg(long, value_name = "AREA", value_parser = length, conflicts_with = "zones")]
    min_area: Option<f64>,
    /// Steepest ground around piles, as n of 1:n [default: 5]
    #[arg(long, value_name = "LENGTH", value_parser = length, conflicts_with = "zones")]
    ground_slope: Option<f64>,
}

#[derive(Debug, Parser)]
#[command(next_help_heading = "Material")]
pub(crate) struct MaterialArgs {
    /// Material of all piles, or of one as in "pile 3=gravel"; may be given more than once
    #[arg(long = "material", value_name = "[PILE=]NAME")]
    materials: Vec<String>,
    /// Attribute of the outlines that names the material
    #[arg(long, value_name = "ATTRIBUTE")]
    material_attribute: Option<String>,
    /// State of the material [default: loose in piles, bank in pits]
    #[arg(long, value_enum)]
    state: Option<DensityInState>,
    /// Mass per unit of volume in a state, as in loose=1.6; bank, loose or compacted
    #[arg(long, value_name = "STATE=MASS", value_parser = density)]
    density: Option<Density>,
    /// Swell factor: loose volume per bank volume, as 1.25 or 25%
    #[arg(long, value_name = "SWELL")]
    swell: Option<Swell>,
    /// Shrink factor: compacted volume per bank volume, as 0.9 or 10%
    #[arg(long, value_name = "SHRINK", allow_hyphen_values = true)]
    shrink: Option<Shrink>,
}

/// The state a material is in.
#[derive(Debug, Clone, Copy, ValueEnum)]
enum DensityInState {
    /// As it lay in the ground
    Bank,
    /// As it lies in a heap
    Loose,
    /// As it is rolled in place
    Compacted,
}

impl PileArgs {
    /// Where the piles are, by zones whose names are known.
    pub(crate) fn outlines(&self, zones: Vec<ZoneSource>) -> Outlines {
        match zones.is_empty() {
            false => Outlines::Given(zones),
            true => Outlines::Found(PileSearch {
                by: self.finding.min_height,
                area: self.finding.min_area,
                ground_slope: self.finding.ground_slope,
            }),
        }
    }
}

impl MaterialArgs {
    /// True where a material is named, which a job has.
    pub(crate) fn names_one(&self) -> bool {
        !self.materials.is_empty() || self.material_attribute.is_some()
    }

    pub(crate) fn materials(&self) -> PileMaterials {
        let (mut all, mut each) = (None, BTreeMap::new());
        for said in &self.materials {
            match said.rsplit_once('=') {
                Some((pile, name)) => {
                    each.insert(pile.trim().to_owned(), name.trim().to_owned());
                }
                None => all = Some(said.clone()),
            }
        }
        PileMaterials {
            all,
            each,
            by: self.material_attribute.clone(),
            swell: self.swell,
            shrink: self.shrink,
            density: self.density,
            state: self.state.map(|state| match state {
                DensityInState::Bank => State::Bank,
                DensityInState::Loose => State::Loose,
                DensityInState::Compacted => State::Compacted,
            }),
        }
    }
}
