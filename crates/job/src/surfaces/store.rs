//! What surfaces are made from, each file read once, all in one unit.

use std::collections::btree_map::Entry;
use std::collections::{BTreeMap, BTreeSet};

use dapedon_core::plan::{Extent, Place};
use dapedon_core::surface::Vertex;
use dapedon_core::units::LengthUnit;
use dapedon_formats::{is_web_mercator, same_height_system, same_system};

use crate::error::JobError;
use crate::finding::{Code, Finding};
use crate::input::{
    FilesRead, InputError, LoadedSurface, Reading, Source, ZoneSource, load, loaded,
};
use crate::job_file::NameError;
use crate::job_file::{Job, Start, StepAction, StepPlan, ZoneShape};
use crate::surfaces::SurfaceError;
use crate::surfaces::lines::{self, JobLine};
use crate::surfaces::read_zones::{ReadZones, drawn_zones, zone_notes};
use crate::surfaces::systems::{Systems, Two, same_crs, the_one};
use crate::watch::{Activity, Step, Watch};

/// What surfaces are made from.
pub(crate) struct Surfaces<'j> {
    pub(crate) job: Option<&'j Job>,
    pub(crate) sources: Vec<ReadSource>,
    /// The zones that steps need, and those that are measured within.
    pub(crate) zones: BTreeMap<ZoneSource, ReadZones>,
    /// The lines of the job that steps need.
    pub(crate) lines: BTreeMap<String, JobLine>,
    /// What must be known of files before figures of them are trusted.
    warnings: Vec<Finding>,
    /// True when a file has no unit of its own.
    unit_needed: bool,
    /// A file whose unit is not the one that was given.
    contradicted: Option<InputError>,
    /// What is read.
    files: FilesRead,
    watch: Watch,
}

/// A file, as it was read.
pub(crate) struct ReadSource {
    pub(crate) source: Source,
    pub(crate) reading: Reading,
    /// Taken out when the surface is made.
    pub(crate) loaded: Option<Box<LoadedSurface>>,
    pub(crate) unit: LengthUnit,
}

impl<'j> Surfaces<'j> {
    /// Reads all files that some surfaces need, however far round, and tells who watches of each.
    pub(crate) fn gather(
        job: Option<&'j Job>,
        sources: &[&Source],
        reading: &Reading,
        watch: &Watch,
    ) -> Result<Self, JobError> {
        let mut stock = Surfaces {
            job,
            sources: Vec::new(),
            zones: BTreeMap::new(),
            lines: BTreeMap::new(),
            warnings: Vec::new(),
            unit_needed: false,
            contradicted: None,
            files: reading.files.clone(),
            watch: watch.clone(),
        };
        let mut seen = BTreeSet::new();
        for source in sources {
            stock.add(source, reading, &mut seen)?;
        }
        if let Some(error) = stock.contradicted.take().filter(|_| !stock.unit_needed) {
            return Err(error.into());
        }
        let typed = sources
            .iter()
            .filter(|source| !matches!(source, Source::Named(_)));
        let own = (stock.sources.iter())
            .filter(|read| typed.clone().any(|source| **source == read.source));
        let names = own.filter_map(|read| read.loaded.as_ref().map(|loaded| &loaded.surface.names));
        load::names_are_found(reading, names)?;
        Ok(stock)
    }

    fn add(
        &mut self,
        source: &Source,
        reading: &Reading,
        seen: &mut BTreeSet<String>,
    ) -> Result<(), JobError> {
        match source {
            Source::Level(_) => Ok(()),
            Source::File { .. } | Source::Files(_) => self.read(source, reading),
            Source::Named(name) => {
                let job = self.job;
                let plan = job
                    .and_then(|job| job.surfaces.get(name))
                    .ok_or_else(|| NameError::no_such_surface(name, job))?;
                if !seen.insert(name.clone()) {
                    return Ok(());
                }
                match &plan.start {
                    Start::File(source, own) => {
                        let own = Reading {
                            ignore_crs: reading.ignore_crs,
                            memory: reading.memory,
                            files: reading.files.clone(),
                            ..(**own).clone()
                        };
                        let read = self.read(source, &own);
                        read.map_err(|error| error.in_job(&plan.spot))?;
                    }
                    Start::Level(_) => {}
                    Start::Surface(start) => {
                        self.add(&Source::Named(start.clone()), reading, seen)?;
                    }
                }
                for step in &plan.steps {
                    for other in step.act.needs() {
                        self.add(&Source::Named(other.into()), reading, seen)?;
                    }
                    self.shapes(step)?;
                }
                Ok(())
            }
        }
    }

    /// Reads the zones and lines that a step needs.
    fn shapes(&mut self, step: &StepPlan) -> Result<(), JobError> {
        let Some(job) = self.job else { return Ok(()) };
        let mut zones: Vec<&String> = step.zones.iter().collect();
        match &step.act {
            StepAction::Platform(plan) => zones.push(&plan.outline),
            StepAction::BuildUp { names, .. } => {
                let plans = names.iter().filter_map(|name| job.build_ups.get(name));
                zones.extend(plans.flat_map(|plan| &plan.zones));
            }
            StepAction::Embankment(plan) => self.line(job, &plan.line)?,
            StepAction::Swept(plan) => self.line(job, &plan.line)?,
            StepAction::Regrade(plan) => {
                for line in &plan.lines {
                    self.line(job, line)?;
                }
            }
            _ => {}
        }
        for name in zones {
            self.drawn(job, name)?;
        }
        Ok(())
    }

    fn line(&mut self, job: &Job, name: &str) -> Result<(), JobError> {
        if let Entry::Vacant(place) = self.lines.entry(name.into()) {
            let read = lines::of_job(job, name, &self.files)?;
            let plan = job.lines.get(name);
            let is_laid = plan.is_some_and(|plan| plan.laid_on.is_some());
            if !is_laid && read.corners.is_none() && read.line.profile().is_none() {
                let error = JobError::from(SurfaceError::LineWithoutHeights);
                return Err(match plan {
                    Some(plan) => error.in_job(&plan.spot),
                    None => error,
                });
            }
            place.insert(read);
        }
        Ok(())
    }

    fn drawn(&mut self, job: &Job, name: &str) -> Result<(), JobError> {
        if let Entry::Vacant(place) = self.zones.entry(ZoneSource::Named(name.into())) {
            place.insert(drawn_zones(job, name, &self.files)?);
        }
        Ok(())
    }

    /// Reads zones of the job that are measured within, where they were drawn.
    pub(crate) fn draw(&mut self, zone: &ZoneSource) -> Result<(), JobError> {
        let ZoneSource::Named(name) = zone else {
            return Ok(());
        };
        let job = self
            .job
            .ok_or_else(|| NameError::no_such_surface(name, None))?;
        match job.zones.get(name).map(|plan| &plan.shape) {
            Some(ZoneShape::Level(_)) => Ok(()),
            _ => self.drawn(job, name),
        }
    }

    /// Reads files of zones that are measured within, in the unit `to`, those that say none in the survey's; and holds
    /// all zones against the coordinate system of the surfaces.
    pub(crate) fn read_zones(
        &mut self,
        zones: &[ZoneSource],
        reading: &Reading,
        [survey, to]: [LengthUnit; 2],
        systems: &mut Systems,
    ) -> Result<(), JobError> {
        for source in zones {
            if let ZoneSource::File { path, name } = source
                && !self.zones.contains_key(source)
            {
                let (own, step) =
                    self.watched(reading, Activity::ReadingZones(source.to_string()))?;
                let found = load::zones(path, name.as_deref(), &own, survey, to);
                let (file, found) = step.unless_stopped(found)?;
                let read = ReadZones {
                    notes: zone_notes(&file.path, &found, to),
                    file: Some(file),
                    crs: found.crs,
                    zones: found.zones,
                };
                self.zones.insert(source.clone(), read);
            }
        }
        for (source, read) in &self.zones {
            let path = match (source, &read.file) {
                (_, Some(file)) => &file.path,
                (ZoneSource::Named(name), None) => name,
                (ZoneSource::File { .. }, None) => continue,
            };
            let note = same_crs("zones", path, &read.crs, &systems.plan, reading.ignore_crs)?;
            systems.warnings.extend(note);
            if systems.plan.is_none() {
                systems.plan = read.crs.clone();
            }
        }
        Ok(())
    }

    /// How files are read in the next step, and that step.
    fn watched(&self, reading: &Reading, doing: Activity) -> Result<(Reading, Step), JobError> {
        let step = self.watch.next(doing)?;
        let files = reading.files.within(&step);
        let reading = Reading {
            files,
            ..reading.clone()
        };
        Ok((reading, step))
    }

    fn read(&mut self, source: &Source, reading: &Reading) -> Result<(), JobError> {
        if self.find(source, reading).is_some() {
            return Ok(());
        }
        let (own, step) = self.watched(reading, Activity::Reading(source.to_string()))?;
        let mut loaded = step.unless_stopped(load::source(source, &own))?;
        if let Some(name) = &reading.named {
            loaded.notes.push(format!("read as \"{name}\""));
        }
        let overridden = loaded.override_unit(reading);
        let path = &loaded.file.path;
        (self.warnings).extend(overridden.map(|found| found.at(path)));
        self.own_unit(path.clone(), loaded.surface.unit, reading)?;
        let unit = match (loaded.surface.unit, reading.unit_of_files()) {
            (Some(unit), _) => unit,
            (None, Some(unit)) => {
                let note = format!("no unit in the file, {} assumed", unit.name());
                loaded.notes.push(note);
                unit
            }
            (None, None) => {
                let path = loaded.file.path.into();
                return Err(SurfaceError::NoUnit { path }.into());
            }
        };
        let own = std::mem::take(&mut loaded.findings);
        let found = [
            loaded.no_heights(),
            loaded.drop_missing(reading.nodata)?,
            loaded.settle_heights(unit)?,
        ];
        let path = &loaded.file.path;
        (self.warnings).extend(
            own.into_iter()
                .chain(found.into_iter().flatten())
                .map(|found| found.at(path)),
        );
        loaded.outline = load::outline(reading, unit)?;
        self.sources.push(ReadSource {
            source: source.clone(),
            reading: reading.clone(),
            unit,
            loaded: Some(Box::new(loaded)),
        });
        Ok(())
    }

    /// Takes note of whether a file has a unit, and of one that contradicts the one that was given.
    fn own_unit(
        &mut self,
        path: String,
        own: Option<LengthUnit>,
        reading: &Reading,
    ) -> Result<(), JobError> {
        self.unit_needed |= own.is_none();
        let Some(unused) = reading.unit_unused(own) else {
            return Ok(());
        };
        let error = own
            .zip(reading.unit)
            .map(|(own, given)| InputError::UnitContradicted {
                path: (&path).into(),
                own,
                given,
            });
        // A unit in the job file is that of one file; on the command line it may be for another one.
        match error {
            Some(error) if reading.usual_unit.is_some() => return Err(error.into()),
            error => self.contradicted = self.contradicted.take().or(error),
        }
        self.warnings.push(unused.at(path));
        Ok(())
    }

    /// Which of them a source is.
    pub(crate) fn find(&self, source: &Source, reading: &Reading) -> Option<usize> {
        let same = |read: &ReadSource| {
            let own = Reading {
                ignore_crs: reading.ignore_crs,
                memory: reading.memory,
                ..read.reading.clone()
            };
            read.source == *source && own == *reading
        };
        self.sources.iter().position(same)
    }

    /// The unit of the first file, or of the job.
    pub(crate) fn unit(&self) -> Option<LengthUnit> {
        let first = self.sources.first().map(|read| read.unit);
        first.or(self.job.map(|job| job.unit))
    }

    /// Brings all to one unit.
    pub(crate) fn convert(&mut self, to: LengthUnit) {
        for read in &mut self.sources {
            if let Some(loaded) = &mut read.loaded {
                loaded.convert(read.unit, to);
            }
        }
        let Some(from) = self.job.map(|job| job.unit).filter(|&from| from != to) else {
            return;
        };
        let convert = |value: f64| from.convert(value, to);
        for read in self.zones.values_mut() {
            let places =
                (read.zones.iter_mut()).flat_map(|zone| zone.parts.iter_mut().flatten().flatten());
            places.for_each(|at| *at = Place::new(convert(at.east), convert(at.north)));
        }
        for corner in (self.lines.values_mut()).flat_map(|line| line.corners.iter_mut().flatten()) {
            *corner = Vertex::new(
                convert(corner.east),
                convert(corner.north),
                convert(corner.height),
            );
        }
    }

    /// The one coordinate system, and the one system of heights, of all files that say one, those of lines too, and
    /// of the job; where they say others, and that is allowed, a warning. With it go the other warnings of
    /// files.
    ///
    /// # Errors
    ///
    /// When they say others, and that is not allowed.
    pub(crate) fn systems(&self, any: bool) -> Result<Systems, JobError> {
        let own = self.loaded().flat_map(|loaded| {
            let outline = loaded.outline.as_ref();
            let of_outline = outline.and_then(|(_, zones)| zones.crs.as_ref());
            loaded.surface.crs.iter().chain(of_outline)
        });
        let lines = self.lines.values().flat_map(|line| &line.systems[0]);
        let job = self.job.and_then(|job| job.coordinates.as_ref());
        let mut warnings = self.warnings.clone();
        let (plan, told) = the_one(job.into_iter().chain(own).chain(lines), same_system, any)
            .map_err(|[one, other]| SurfaceError::CrsDiffer { one, other })?;
        if let Some(name) = plan.as_ref().filter(|name| is_web_mercator(name)) {
            match any {
                true => warnings.push(Finding::web_mercator(name)),
                false => return Err(SurfaceError::WebMercator { name: name.clone() }.into()),
            }
        }
        let words = |[one, other]: Two| format!("{one} and {other} treated as the same");
        let same = |words: String| Finding::new(Code::TakenAsSame, words);
        warnings.extend(
            told.into_iter()
                .map(|two| same(format!("coordinate systems {}", words(two)))),
        );

        let own = (self.loaded()).flat_map(|loaded| &loaded.surface.height_system);
        let lines = self.lines.values().flat_map(|line| &line.systems[1]);
        let job = self.job.and_then(|job| job.height_system.as_ref());
        let (heights, told) = the_one(
            job.into_iter().chain(own).chain(lines),
            same_height_system,
            any,
        )
        .map_err(|[one, other]| JobError::from(SurfaceError::HeightSystemsDiffer { one, other }))?;
        warnings.extend(
            told.into_iter()
                .map(|two| same(format!("height systems {}", words(two)))),
        );
        Ok(Systems {
            plan,
            heights,
            warnings,
        })
    }

    /// What was read and is no surface yet.
    fn loaded(&self) -> impl Iterator<Item = &LoadedSurface> {
        self.sources
            .iter()
            .filter_map(|read| read.loaded.as_deref())
    }

    /// The formats of all files.
    pub(crate) fn formats(&self) -> Vec<&str> {
        self.loaded()
            .map(|loaded| loaded.file.format.as_str())
            .collect()
    }

    /// Where what a source is made from lies; everywhere where nothing bounds it.
    pub(crate) fn span(&self, source: &Source, reading: &Reading) -> Extent {
        let mut found = Extent::EMPTY;
        self.reach(source, reading, &mut found, &mut BTreeSet::new());
        if found.is_empty() {
            Extent::EVERYWHERE
        } else {
            found
        }
    }

    fn reach<'s>(
        &'s self,
        source: &Source,
        reading: &Reading,
        found: &mut Extent,
        seen: &mut BTreeSet<&'s str>,
    ) {
        let plan = match source {
            Source::Level(_) => return,
            Source::File { .. } | Source::Files(_) => {
                let read = self.find(source, reading).map(|at| &self.sources[at]);
                if let Some(loaded) = read.and_then(|read| read.loaded.as_ref()) {
                    *found = found.union(&loaded::surface_extent(&loaded.surface));
                }
                return;
            }
            Source::Named(name) => self.job.and_then(|job| job.surfaces.get_key_value(name)),
        };
        // Whatever is made of it, it reaches no farther a second time.
        let Some((_, plan)) = plan.filter(|(name, _)| seen.insert(name)) else {
            return;
        };
        match &plan.start {
            Start::File(source, own) => self.reach(source, own, found, seen),
            Start::Level(_) => {}
            Start::Surface(name) => {
                self.reach(&Source::Named(name.clone()), reading, found, seen);
            }
        }
        for step in &plan.steps {
            for other in step.act.needs() {
                self.reach(&Source::Named(other.into()), reading, found, seen);
            }
            let zones = step
                .zones
                .iter()
                .filter_map(|name| self.zones.get(&ZoneSource::Named(name.clone())));
            if found.is_empty() {
                let raw = zones.flat_map(|read| &read.zones);
                *found = raw.fold(*found, |all, zone| all.union(&loaded::zone_extent(zone)));
            }
        }
    }
}
