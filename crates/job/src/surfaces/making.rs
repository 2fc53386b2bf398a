//! From what was read to surfaces: files as they are, and those that the job derives, step by step.

mod fit;
mod layers;
mod regrade;
mod steps;
mod swept;

pub(crate) use layers::LayerBetween;

use std::collections::{BTreeSet, HashMap};
use std::sync::Arc;

use dapedon_core::alignment::RaisedStretch;
use dapedon_core::plan::Frame;
use dapedon_core::surface::{Level, Surface};
use dapedon_core::units::LengthUnit;
use dapedon_core::zones::{Zone, Zones};

use crate::accuracy::SurfaceAccuracy;
use crate::error::JobError;
use crate::finding::{Code, Finding};
use crate::input::InputError;
use crate::input::{Reading, Source, ZoneSource};
use crate::job_file::NameError;
use crate::job_file::{Start, StepAction, StepPlan, SurfacePlan};
use crate::surfaces::SurfaceError;
use crate::surfaces::facts::SurfaceFacts;
use crate::surfaces::ground;
use crate::surfaces::lines::DrawnLines;
use crate::surfaces::made::MadeSurface;
use crate::surfaces::recipe::{Origin, Recipe};
use crate::surfaces::store::Surfaces;
use crate::units::ReportUnits;
use crate::zones::KnownZone;

/// What a design is raised by.
#[derive(Debug, Clone, PartialEq)]
pub(crate) enum Raised {
    /// The level of a platform, by the name of its outline.
    Platform(String),
    /// The heights of a line, over a stretch of it in the unit at hand.
    Line(String, RaisedStretch),
}

/// How accurate a surface is on the way, and whose errors are in it.
struct HowSure {
    accuracy: Option<SurfaceAccuracy>,
    errors_of: BTreeSet<String>,
}

/// Makes surfaces in one frame, each once.
pub(crate) struct Making<'j> {
    pub(crate) stock: Surfaces<'j>,
    pub(crate) frame: Frame,
    pub(crate) units: ReportUnits,
    /// What each step changes is measured.
    pub(crate) changes: bool,
    /// What is raised, and by how much.
    raised: Option<(Raised, f64)>,
    /// Lines that are drawn over what is measured.
    pub(crate) drawn: DrawnLines,
    read: HashMap<usize, MadeSurface>,
    named: HashMap<(String, bool), MadeSurface>,
    /// What must be known before a figure is trusted.
    pub(crate) warnings: Vec<Finding>,
}

impl<'j> Making<'j> {
    pub(crate) fn new(stock: Surfaces<'j>, frame: Frame, units: ReportUnits) -> Self {
        Making {
            stock,
            frame,
            units,
            changes: false,
            raised: None,
            drawn: DrawnLines::default(),
            read: HashMap::new(),
            named: HashMap::new(),
            warnings: Vec::new(),
        }
    }

    /// Makes a surface; `bare` without what build-ups take off.
    pub(crate) fn make(
        &mut self,
        source: &Source,
        reading: &Reading,
        bare: bool,
    ) -> Result<MadeSurface, JobError> {
        match source {
            Source::Level(height) => Ok(self.level(source.to_string(), *height)),
            Source::File { .. } | Source::Files(_) => self.made_of(source, reading),
            Source::Named(name) => self.named(name, bare),
        }
    }

    /// Makes whatever is made from now on with a platform or a line raised by an amount.
    pub(crate) fn raise(&mut self, what: Raised, by: f64) {
        self.raised = Some((what, by));
        self.named.clear();
    }

    /// What must be given of sides that are measured against each other, or of one that is measured alone.
    pub(crate) fn warn(&mut self, sides: &[&MadeSurface]) {
        // Where one side is a formation, the other one is meant as it is.
        if sides.iter().any(|made| made.side.is_below_layers()) {
            return;
        }
        for name in sides.iter().filter_map(|made| made.finished.as_ref()) {
            self.warnings.push(Finding::new(Code::FinishedLevel, format!(
                "\"{name}\" is a finished level: its build-up is not deducted, and the excavation goes deeper"
            )));
        }
    }

    /// A figure of the job, in the unit at hand.
    pub(crate) fn convert(&self, value: f64) -> f64 {
        self.stock
            .job
            .map_or(value, |job| job.unit.convert(value, self.frame.unit()))
    }

    /// A figure in the unit at hand, in that of the job.
    pub(crate) fn of_job(&self, value: f64) -> f64 {
        self.frame.unit().convert(value, self.job_unit())
    }

    /// The unit of the job's figures.
    fn job_unit(&self) -> LengthUnit {
        self.stock.job.map_or(self.frame.unit(), |job| job.unit)
    }

    fn level(&self, source: String, height: f64) -> MadeSurface {
        MadeSurface {
            side: SurfaceFacts {
                source,
                kind: format!("level at {height} {}", self.frame.unit().symbol()),
                accuracy: Some(SurfaceAccuracy::of_a_level(self.frame.unit())),
                ..SurfaceFacts::default()
            },
            ..MadeSurface::of(Surface::Level(Level::new(self.frame, height)))
        }
    }

    fn made_of(&mut self, source: &Source, reading: &Reading) -> Result<MadeSurface, JobError> {
        let index = self
            .stock
            .find(source, reading)
            .ok_or(InputError::NotRead)?;
        if let Some(made) = self.read.get(&index) {
            return Ok(made.clone());
        }
        let read = &mut self.stock.sources[index];
        let loaded = read.loaded.take().ok_or(InputError::NotRead)?;
        let (mut made, warnings) = ground::made(*loaded, self.frame, &read.reading)?;
        self.warnings.extend(warnings);
        made.side.source = source.to_string();
        made.errors_of.insert(source.to_string());
        self.read.insert(index, made.clone());
        Ok(made)
    }

    fn named(&mut self, name: &str, bare: bool) -> Result<MadeSurface, JobError> {
        let job = self.stock.job;
        let plan = job.and_then(|job| job.surfaces.get(name));
        let plan = plan.ok_or_else(|| NameError::no_such_surface(name, job))?;
        let key = (name.to_owned(), bare);
        if let Some(made) = self.named.get(&key) {
            return Ok(made.clone());
        }
        let made = self.planned(name, plan, bare)?;
        self.named.insert(key, made.clone());
        Ok(made)
    }

    fn planned(
        &mut self,
        name: &str,
        plan: &SurfacePlan,
        bare: bool,
    ) -> Result<MadeSurface, JobError> {
        let start = match &plan.start {
            Start::File(source, own) => {
                let ignore_crs = self
                    .stock
                    .find(source, own)
                    .is_some_and(|at| self.stock.sources[at].reading.ignore_crs);
                let own = Reading {
                    ignore_crs,
                    ..(**own).clone()
                };
                self.made_of(source, &own)
                    .map_err(|error| error.in_job(&plan.spot))?
            }
            Start::Level(height) => self.level(name.into(), self.convert(*height)),
            Start::Surface(start) => self.named(start, bare)?,
        };
        let origin = match (&start.side.recipe, &start.side.file, &plan.start) {
            (Some(recipe), _, Start::Surface(_)) => Origin::Surface(recipe.clone()),
            (_, Some(file), _) => Origin::File {
                file: file.clone(),
                kind: start.side.kind.clone(),
                notes: start.side.notes.clone(),
            },
            _ => Origin::Level(start.surface.heights().0),
        };
        let mut recipe = Recipe {
            name: name.into(),
            start: origin,
            steps: Vec::new(),
        };
        let mut surface = start.surface.clone();
        let mut dug = false;
        let mut sure = HowSure {
            accuracy: start.side.accuracy.clone(),
            errors_of: start.errors_of.clone(),
        };
        for step in &plan.steps {
            if bare && matches!(step.act, StepAction::BuildUp { .. }) {
                continue;
            }
            dug |= matches!(step.act, StepAction::BuildUp { .. });
            let (next, done) = self
                .step(step, &surface, bare)
                .map_err(|error| error.in_job(&step.spot))?;
            surface = Arc::new(next);
            recipe.steps.push(done);
            self.after(step, &mut sure, bare)?;
        }
        if let Some(stated) = &plan.accuracy {
            let found = stated.resolved(
                [self.job_unit(), self.frame.unit()],
                start
                    .side
                    .accuracy_in_file
                    .as_ref()
                    .filter(|_| plan.steps.is_empty()),
            );
            let own = found.map_err(|error| JobError::from(error).in_job(&plan.spot))?;
            // Of what is exact no errors go on.
            if own.is_exact() {
                sure.errors_of.clear();
            }
            sure.accuracy = Some(own);
        }
        let finished = match dug {
            true => None,
            false if plan.finished => Some(name.to_owned()),
            false => start.finished.clone(),
        };
        let derived = !plan.steps.is_empty() || matches!(plan.start, Start::Surface(_));
        let side = SurfaceFacts {
            source: name.into(),
            kind: match (&start.side.file, derived) {
                (_, true) => format!("from the job file, {}", counted(plan.steps.len(), "step")),
                (Some(file), false) => format!("{}, {}", file.path, start.side.kind),
                (None, false) => start.side.kind.clone(),
            },
            file: start.side.file.clone().filter(|_| !derived),
            survey_date: start.side.survey_date.clone().filter(|_| !derived),
            points: start.side.points.filter(|_| !derived),
            triangles: (!matches!(*surface, Surface::Level(_))).then(|| surface.facets()),
            accuracy: sure.accuracy,
            accuracy_in_file: (start.side.accuracy_in_file.clone())
                .filter(|_| plan.steps.is_empty()),
            notes: if derived {
                Vec::new()
            } else {
                start.side.notes.clone()
            },
            recipe: Some(Arc::new(recipe)),
        };
        Ok(MadeSurface {
            surface,
            side,
            errors_of: sure.errors_of,
            finished,
            // What a step makes need not follow them.
            breaklines: match plan.steps.is_empty() {
                true => start.breaklines.clone(),
                false => Arc::default(),
            },
            ..start
        })
    }

    /// How accurate a surface is after a step, where it is known of all that it is made from.
    fn after(&mut self, step: &StepPlan, sure: &mut HowSure, bare: bool) -> Result<(), JobError> {
        if matches!(step.act, StepAction::Level(_)) && step.zones.is_empty() {
            *sure = HowSure {
                accuracy: Some(SurfaceAccuracy::of_a_level(self.frame.unit())),
                errors_of: BTreeSet::new(),
            };
        }
        // Where a surface only says how far slopes run, its heights are in none of the ground.
        let brings = match &step.act {
            StepAction::Combine(_, other) | StepAction::Difference(other) => Some(other.as_str()),
            StepAction::Regrade(plan) => plan.surface.as_deref(),
            other => other.laid_on(),
        };
        if let Some(other) = brings {
            let other = self.named(other, bare)?;
            sure.errors_of.extend(other.errors_of);
            let both = sure.accuracy.as_ref().zip(other.side.accuracy.as_ref());
            sure.accuracy = both.map(|(own, other)| match step.act {
                StepAction::Difference(_) => own.and(other),
                _ => own.or_worse(other),
            });
        }
        // Elsewhere, or turned over, the same errors are not the same any more.
        if matches!(step.act, StepAction::Move(_) | StepAction::Difference(_)) {
            let changed = sure
                .errors_of
                .iter()
                .map(|source| format!("{source}, changed"));
            let changed: Vec<String> = changed.collect();
            sure.errors_of.extend(changed);
        }
        Ok(())
    }

    /// The zones of some names in the job, one after the other, in the frame at hand.
    fn zones(&self, names: &[String]) -> Result<Zones, JobError> {
        let mut zones = Vec::new();
        for name in names {
            let known = self.zones_of(name)?;
            zones.extend(known.into_iter().map(|known| known.zone));
        }
        Ok(Zones::new(self.frame, zones))
    }

    /// The zones of a name in the job.
    pub(crate) fn zones_of(&self, name: &str) -> Result<Vec<KnownZone>, JobError> {
        self.known(&ZoneSource::Named(name.into()))
    }

    /// The zones of a source, in the frame at hand.
    pub(crate) fn known(&self, source: &ZoneSource) -> Result<Vec<KnownZone>, JobError> {
        let (entry, of) = match source {
            ZoneSource::File { path, .. } => ("", path.display().to_string()),
            ZoneSource::Named(name) => (name.as_str(), name.clone()),
        };
        let fault = |name: &str, error| match source {
            ZoneSource::File { path, .. } => JobError::from(SurfaceError::Zone {
                path: path.clone(),
                name: name.into(),
                error,
            }),
            ZoneSource::Named(entry) => {
                let fault = JobError::from(SurfaceError::JobZone {
                    name: name.into(),
                    error,
                });
                let plan = self.stock.job.and_then(|job| job.zones.get(entry));
                match plan {
                    Some(plan) => fault.in_job(&plan.spot),
                    None => fault,
                }
            }
        };
        let read = self.stock.zones.get(source).into_iter();
        let known = read
            .flat_map(|read| read.known(entry))
            .map(|(raw, origin)| {
                let zone = Zone::new(raw.name.clone(), self.frame, raw.parts.clone());
                Ok(KnownZone {
                    zone: zone.map_err(|error| fault(&raw.name, error))?,
                    origin,
                    of: of.clone(),
                })
            });
        known.collect()
    }
}

fn counted(count: usize, word: &str) -> String {
    match count {
        1 => format!("1 {word}"),
        _ => format!("{count} {word}s"),
    }
}
