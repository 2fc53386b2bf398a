//! The arguments of `pile`.

use std::collections::BTreeMap;
use std::path::PathBuf;

use clap::{Parser, ValueEnum};
use dapedon_contract::{Density, Shrink, State, Swell};
use dapedon_job::{BaseSource, Clearing, Outlines, PileMaterials, Source, ZoneSource};

use super::converting::density;
use super::{JobArgs, ReadingArgs, UnitArgs, length, paths};

#[derive(Debug, Parser)]
#[command(
    after_help = "A BASE is what nobody surveyed, and changes the answer more than all else:\n  \
    toe     a surface through the heights along the outline\n  \
    plane   the plane that fits them\n  \
    lowest  a level at the lowest of them\n  \
    mean    a level at their mean\n\
    or any surface: a file, level=24.6, or a name of the job, as of an earlier survey."
)]
pub(crate) struct PileArgs {
    /// The surface the piles are part of
    #[arg(value_name = "SURFACE", value_parser = paths::source())]
    pub(crate) surface: Source,
    /// Measure within the outlines of a file, one of them as FILE#NAME, or zones of the job; may be given more
    /// than once [default: the piles are found]
    #[arg(long = "zone", value_name = "ZONE", value_parser = paths::zone())]
    pub(crate) zones: Vec<ZoneSource>,
    /// What the piles are taken to stand on; may be given more than once: the first one counts
    #[arg(long = "base", value_name = "BASE", default_value = "toe", value_parser = paths::base())]
    pub(crate) bases: Vec<BaseSource>,
    /// Show what each pile holds by all bases, side by side
    #[arg(long)]
    pub(crate) compare_bases: bool,
    /// Measure pits: what lies below the base
    #[arg(long)]
    pub(crate) pit: bool,
    /// Say what changed since an earlier survey
    #[arg(long, value_name = "SURFACE", value_parser = paths::source())]
    pub(crate) previous: Option<Source>,
    #[command(flatten)]
    pub(crate) job: JobArgs,
    #[command(flatten)]
    pub(crate) units: UnitArgs,
    /// Write the outlines, to be corrected and named with --zone: .geojson or .shp
    #[arg(long, value_name = "FILE")]
    pub(crate) outlines: Option<PathBuf>,
    /// Write the figures as comma-separated text, for a spreadsheet
    #[arg(long, value_name = "FILE.csv", value_parser = paths::table())]
    pub(crate) csv: Option<PathBuf>,
    /// Draw a map of the heights above the base
    #[arg(long, value_name = "FILE.svg", value_parser = paths::picture())]
    pub(crate) map: Option<PathBuf>,
    /// Write a report, one page that needs nothing else
    #[arg(long, value_name = "FILE.html", value_parser = paths::page())]
    pub(crate) report: Option<PathBuf>,
    /// What stands at the head of the report
    #[arg(long, default_value = "Materials in stock")]
    pub(crate) title: String,
    /// Print one JSON object instead of tables, figures unrounded
    #[arg(long)]
    pub(crate) json: bool,
    #[command(flatten)]
    finding: FindingArgs,
    #[command(flatten)]
    pub(crate) made_of: MadeOfArgs,
    #[command(flatten)]
    pub(crate) reading: ReadingArgs,
}

#[derive(Debug, Parser)]
#[command(next_help_heading = "Finding")]
struct FindingArgs {
    /// A pile's top stands clear of its toe by this height [default: 1 m, or 3 ft]
    #[arg(long, value_name = "HEIGHT", value_parser = length, conflicts_with = "zones")]
    clear: Option<f64>,
    /// A pile has this plan area, in the area unit [default: 10 m2, or 100 ft2]
    #[arg(long, value_name = "AREA", value_parser = length, conflicts_with = "zones")]
    least_area: Option<f64>,
    /// The ground around is no steeper than 1 in so much, as in 8 where it is nearly flat [default: 5]
    #[arg(long, value_name = "LENGTH", value_parser = length, conflicts_with = "zones")]
    ground_slope: Option<f64>,
}

#[derive(Debug, Parser)]
#[command(next_help_heading = "Material")]
pub(crate) struct MadeOfArgs {
    /// The material that piles are made of, or one of them, as in "pile 3=gravel"; may be given more than once
    #[arg(long = "material", value_name = "[PILE=]NAME")]
    materials: Vec<String>,
    /// The attribute of the outlines that names their material
    #[arg(long, value_name = "ATTRIBUTE")]
    material_by: Option<String>,
    /// The state the material is in [default: loose in piles, bank in pits]
    #[arg(long, value_enum)]
    state: Option<InState>,
    /// The mass of a unit of volume in the state it was found in, as in loose=1.6; bank, loose or compacted
    #[arg(long, value_name = "STATE=MASS", value_parser = density)]
    density: Option<Density>,
    /// How much a unit in the bank takes up loose: a factor as 1.25, or a percentage as 25%
    #[arg(long, value_name = "SWELL")]
    swell: Option<Swell>,
    /// How much a unit in the bank makes compacted: a factor as 0.9, or what it loses as 10%
    #[arg(long, value_name = "SHRINK", allow_hyphen_values = true)]
    shrink: Option<Shrink>,
}

/// The state a material is in.
#[derive(Debug, Clone, Copy, ValueEnum)]
enum InState {
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
            true => Outlines::Found(Clearing {
                by: self.finding.clear,
                area: self.finding.least_area,
                ground_slope: self.finding.ground_slope,
            }),
        }
    }
}

impl MadeOfArgs {
    /// True where a material is named, which a job has.
    pub(crate) fn names_one(&self) -> bool {
        !self.materials.is_empty() || self.material_by.is_some()
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
            by: self.material_by.clone(),
            swell: self.swell,
            shrink: self.shrink,
            density: self.density,
            state: self.state.map(|state| match state {
                InState::Bank => State::Bank,
                InState::Loose => State::Loose,
                InState::Compacted => State::Compacted,
            }),
        }
    }
}
