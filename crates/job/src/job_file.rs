//! The job file: names for surfaces, zones, lines and build-ups, and what becomes of them.
//!
//! `entries` is what serde reads, `check` makes a [`Job`] of it in which every name is known and every figure
//! usable, `fault` points at what is wrong, and `starter` writes a first one.

mod check;
mod entries;
mod error;
mod facts;
mod fault;
mod kinds;
mod plan;
mod starter;

use std::collections::{BTreeMap, BTreeSet};
use std::path::{Path, PathBuf};

use dapedon_contract::{Material, Vehicle};
use dapedon_core::units::{LengthUnit, MassUnit, VolumeUnit};
use jiff::civil::Date;

use crate::units::{RequestedAreaUnit, RequestedVolumeUnit};

pub use error::NameError;
pub use facts::JobFacts;
pub use fault::JobFileError;
pub(crate) use fault::nearest;
pub(crate) use kinds::{
    Between, BySections, Capacity, Counts, ItemKind, Kind, Layer as LayerItem, Pile, Sloping,
    ToLimit,
};
pub use plan::Layer;
pub(crate) use plan::{
    AcknowledgedPlan, BreakHeightPlan, BreakPlan, BuildUpPlan, ByChainage, CertificatePlan,
    CertifiedLinePlan, ClaimExtraPlan, ClaimLinePlan, ClaimPlan, ConformityPlan, CorrectionPlan,
    CountedPlan, DownTo, EmbankmentPlan, FactorUncertainty, ItemMaterial, ItemPlan, LevelPlan,
    LinePlan, LineShape, MaterialPlan, MaterialUse, MeasuredZones, PaidUnit, PlatformPlan,
    ProgressPlan, ReasonPlan, RegradePlan, Shape, Start, StepAction, StepPlan, StripPlan,
    SurfacePlan, SweptPlan, TermsPlan, TypicalSectionPlan, UntouchedPlan, ZonePlan, ZoneShape,
};
pub use starter::starter;

use crate::band_rules::{BandRules, BandsSource};
use crate::calendar::Calendar;
use crate::error::JobError;
use crate::input::{FilesRead, InputFile, LineSource, Reading, Source, ZoneSource, file};

/// The name a job file has where none is given.
pub const JOB_FILE: &str = "dapedon.toml";

/// A job: what its file says, every name known.
#[derive(Debug)]
pub struct Job {
    /// The file.
    pub path: PathBuf,
    /// What it takes to know it again.
    pub file: InputFile,
    /// What it says, word for word.
    pub(crate) text: Box<str>,
    /// The name of the job.
    pub name: String,
    /// The contract.
    pub contract: Option<String>,
    /// Who takes part, by what they are.
    pub parties: BTreeMap<String, String>,
    /// The length unit of its figures.
    pub unit: LengthUnit,
    /// The coordinate system.
    pub coordinates: Option<String>,
    /// The system of heights.
    pub height_system: Option<String>,
    /// Currency of rates and costs.
    pub currency: Option<String>,
    /// The unit areas are reported in, for the foot of the survey.
    pub area_unit: Option<RequestedAreaUnit>,
    /// The unit volumes are reported in, for the foot of the survey.
    pub volume_unit: Option<RequestedVolumeUnit>,
    /// The unit of volume that densities, vehicles, prices and counted figures are to one of.
    pub factor_volume: VolumeUnit,
    /// The unit of masses.
    pub mass_unit: MassUnit,
    /// Decimals of areas and volumes.
    pub decimals: Option<usize>,
    pub(crate) surfaces: BTreeMap<String, SurfacePlan>,
    pub(crate) readings: BTreeMap<String, Reading>,
    pub(crate) zones: BTreeMap<String, ZonePlan>,
    pub(crate) lines: BTreeMap<String, LinePlan>,
    pub(crate) build_ups: BTreeMap<String, BuildUpPlan>,
    pub(crate) bands: BTreeMap<String, BandRules>,
    pub(crate) materials: BTreeMap<String, MaterialPlan>,
    pub(crate) vehicles: BTreeMap<String, Vehicle>,
    pub(crate) items: Vec<ItemPlan>,
    pub(crate) calendar: Calendar,
    pub(crate) terms: TermsPlan,
    pub(crate) claims: Vec<ClaimPlan>,
    pub(crate) certificates: Vec<CertificatePlan>,
    pub(crate) untouched: Vec<UntouchedPlan>,
    /// Built surfaces that are held against their designs.
    pub(crate) conformity: Vec<ConformityPlan>,
    pub(crate) acknowledged: Vec<AcknowledgedPlan>,
}

impl Job {
    /// Reads a job file. What files it names is not looked at before they are needed.
    ///
    /// # Errors
    ///
    /// When it cannot be read, or something in it is not what it should be: with the line.
    pub fn read(path: &Path) -> Result<Self, JobError> {
        let (mut file, bytes) = file::beside(path, &FilesRead::default())?;
        file.format = "job file".into();
        // TOML is UTF-8; what is not is known by its reader.
        let text = String::from_utf8_lossy(&bytes);
        Ok(check::job(path, &text, file)?)
    }

    /// Reads the text of a job file, whose paths are relative to the folder of `path`.
    ///
    /// # Errors
    ///
    /// When something in it is not what it should be: with the line.
    pub fn of_text(path: &Path, text: &str) -> Result<Self, JobFileError> {
        let file = InputFile {
            path: path.display().to_string(),
            format: "job file".into(),
            bytes: text.len() as u64,
            sha256: file::digest(text.as_bytes()),
            other_files: Vec::new(),
        };
        check::job(path, text, file)
    }

    /// What it says of itself.
    pub fn facts(&self) -> JobFacts {
        JobFacts {
            name: self.name.clone(),
            contract: self.contract.clone(),
            parties: self.parties.clone(),
            file: self.file.clone(),
        }
    }

    /// The names of its surfaces.
    pub fn surfaces(&self) -> impl Iterator<Item = &str> {
        self.surfaces.keys().map(String::as_str)
    }

    /// The day of a survey: its own, or that of the surface it starts from.
    pub(crate) fn date_of(&self, surface: &str) -> Option<Date> {
        let mut name = surface;
        // Surfaces start from each other in no circle: there are no more steps than surfaces.
        for _ in 0..=self.surfaces.len() {
            let plan = self.surfaces.get(name)?;
            match (&plan.date, &plan.start) {
                (Some(date), _) => return Some(*date),
                (None, Start::Surface(start)) => name = start,
                (None, Start::File(..) | Start::Level(_)) => return None,
            }
        }
        None
    }

    /// The platform of an outline among the steps that a surface is made by, however far round.
    pub(crate) fn platform<'j>(
        &'j self,
        surface: &'j str,
        outline: &str,
    ) -> Option<&'j PlatformPlan> {
        self.platform_of(surface, outline, &mut BTreeSet::new())
    }

    fn platform_of<'j>(
        &'j self,
        surface: &'j str,
        outline: &str,
        seen: &mut BTreeSet<&'j str>,
    ) -> Option<&'j PlatformPlan> {
        let plan = self
            .surfaces
            .get(surface)
            .filter(|_| seen.insert(surface))?;
        let own = plan.steps.iter().find_map(|step| match &step.act {
            StepAction::Platform(plan) if plan.outline == outline => Some(plan),
            _ => None,
        });
        own.or_else(|| {
            let mut needed = plan.needs().into_iter();
            needed.find_map(|surface| self.platform_of(surface, outline, seen))
        })
    }

    /// The job file and all files that it names: none of them may be written over.
    pub fn files(&self) -> Vec<PathBuf> {
        let mut files = vec![self.path.clone()];
        for plan in self.surfaces.values() {
            if let Start::File(source, reading) = &plan.start {
                files.extend(source.paths().iter().cloned());
                files.extend(reading.outline.clone());
            }
        }
        let zones = self.zones.values().filter_map(|plan| plan.shape.path());
        let lines = self.lines.values().filter_map(|plan| plan.shape.path());
        files.extend(zones.chain(lines).map(Path::to_path_buf));
        files
    }

    /// What is meant by the surface that somebody typed: one of the job's where it has that name.
    ///
    /// # Errors
    ///
    /// When a file has the name too, or neither has.
    pub fn surface(&self, typed: &Source) -> Result<Source, JobError> {
        let Source::File { path, name: None } = typed else {
            return Ok(typed.clone());
        };
        let known = |name: &str| self.surfaces.contains_key(name);
        match self.meaning(path, "surface", known)? {
            Some(name) => Ok(Source::Named(name)),
            None if is_name(path) => {
                Err(NameError::no_such_surface(&path.to_string_lossy(), Some(self)).into())
            }
            None => Ok(typed.clone()),
        }
    }

    /// What is meant by the zones that somebody typed.
    ///
    /// # Errors
    ///
    /// When a file has the name too, or neither has.
    pub fn zone(&self, typed: &ZoneSource) -> Result<ZoneSource, JobError> {
        let ZoneSource::File { path, name: None } = typed else {
            return Ok(typed.clone());
        };
        match self.meaning(path, "zone", |name| self.zones.contains_key(name))? {
            Some(name) => Ok(ZoneSource::Named(name)),
            None if is_name(path) => {
                Err(NameError::no_such_zone(&path.to_string_lossy(), self).into())
            }
            None => Ok(typed.clone()),
        }
    }

    /// What is meant by the line that somebody typed.
    ///
    /// # Errors
    ///
    /// When a file has the name too, or neither has.
    pub fn line(&self, typed: &LineSource) -> Result<LineSource, JobError> {
        let LineSource::File { path, name: None } = typed else {
            return Ok(typed.clone());
        };
        match self.meaning(path, "line", |name| self.lines.contains_key(name))? {
            Some(name) => Ok(LineSource::Named(name)),
            None if is_name(path) => {
                let known = self.lines.keys().map(String::as_str);
                Err(NameError::unknown("line", &path.to_string_lossy(), known).into())
            }
            None => Ok(typed.clone()),
        }
    }

    /// The name of the job that a path is, unless it is a file.
    fn meaning(
        &self,
        path: &Path,
        kind: &'static str,
        known: impl Fn(&str) -> bool,
    ) -> Result<Option<String>, JobError> {
        match path.to_str().filter(|name| known(name)) {
            Some(name) if path.exists() => Err(NameError::TwoMeanings {
                name: name.into(),
                kind,
            }
            .into()),
            name => Ok(name.map(Into::into)),
        }
    }

    /// A material: its factors, and the vehicle that hauls it.
    ///
    /// # Errors
    ///
    /// When the job has none of that name.
    pub fn material(&self, name: &str) -> Result<(Material, Option<(String, Vehicle)>), JobError> {
        let known = || self.materials.keys().map(String::as_str);
        let plan = self.materials.get(name);
        let plan = plan.ok_or_else(|| NameError::unknown("material", name, known()))?;
        let vehicle = plan.vehicle.as_ref();
        let vehicle = vehicle.and_then(|name| Some((name.clone(), *self.vehicles.get(name)?)));
        Ok((plan.material, vehicle))
    }

    /// The readings that it keeps under names.
    pub fn readings(&self) -> &BTreeMap<String, Reading> {
        &self.readings
    }

    /// The bands of difference of a name.
    ///
    /// # Errors
    ///
    /// When the job has none of that name.
    pub fn bands(&self, name: &str) -> Result<&BandRules, JobError> {
        let known = || self.bands.keys().map(String::as_str);
        let bands = self.bands.get(name);
        bands.ok_or_else(|| JobError::from(NameError::unknown("bands", name, known())))
    }

    /// A vehicle.
    ///
    /// # Errors
    ///
    /// When the job has none of that name.
    pub fn vehicle(&self, name: &str) -> Result<Vehicle, JobError> {
        let known = || self.vehicles.keys().map(String::as_str);
        let vehicle = self.vehicles.get(name).copied();
        vehicle.ok_or_else(|| JobError::from(NameError::unknown("vehicle", name, known())))
    }

    /// The names of its zones.
    pub fn zones(&self) -> impl Iterator<Item = &str> {
        self.zones.keys().map(String::as_str)
    }
}

/// The readings of a file that holds nothing else, by their names. It is among the files read: no result goes over it.
///
/// # Errors
///
/// When it cannot be read, or something in it is not what it should be: with the line.
pub fn readings_of(path: &Path, read: &FilesRead) -> Result<BTreeMap<String, Reading>, JobError> {
    let (_, bytes) = file::beside(path, read)?;
    Ok(check::readings_alone(
        path,
        &String::from_utf8_lossy(&bytes),
    )?)
}

/// The reading of a name, among those of a job and those that a person keeps; the job's go first.
///
/// # Errors
///
/// When neither has it.
pub fn named_reading<'r>(
    name: &str,
    job: Option<&'r Job>,
    kept: &'r BTreeMap<String, Reading>,
) -> Result<&'r Reading, JobError> {
    let of_job = job.map(Job::readings);
    let found = of_job
        .and_then(|readings| readings.get(name))
        .or_else(|| kept.get(name));
    found.ok_or_else(|| {
        let known = of_job.into_iter().chain([kept]).flat_map(BTreeMap::keys);
        NameError::unknown("reading", name, known.map(String::as_str)).into()
    })
}

/// The bands of difference that somebody typed.
///
/// # Errors
///
/// When they are a name that no job has.
pub fn named_bands(typed: &BandsSource, job: Option<&Job>) -> Result<BandRules, JobError> {
    match typed {
        BandsSource::Steps(steps) => Ok(BandRules::of(steps.clone())),
        BandsSource::Named(name) => match job {
            Some(job) => job.bands(name).cloned(),
            None => Err(NameError::NoJobFor {
                kind: "bands",
                name: name.clone(),
            }
            .into()),
        },
    }
}

/// True for what is no file and has the look of a name.
fn is_name(path: &Path) -> bool {
    !path.exists() && path.extension().is_none() && path.components().count() == 1
}

/// The JSON Schema of job files, for editors.
pub fn job_schema() -> serde_json::Value {
    schemars::schema_for!(entries::JobEntries).to_value()
}
