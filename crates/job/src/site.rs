//! A site: all surfaces and zones that something is measured from, read once, in one unit and one frame. The one way
//! from what is asked for to what is measured.

use dapedon_core::alignment::Alignment;
use dapedon_core::plan::{Extent, Frame};
use dapedon_core::units::LengthUnit;
use dapedon_core::zones::{Zone, Zones};

use crate::context::Context;
use crate::error::{JobError, job_error};
use crate::finding::{Code, Finding};
use crate::input::{InputFile, LineSource, Memory, Source, ZoneSource, loaded};
use crate::job_file::ZoneShape;
use crate::surfaces::{
    DrawnLines, MadeSurface, Making, ReadZones, Surfaces, Systems, level_zones, same_crs,
    unit_remedy, with_chainage,
};
use crate::watch::Activity;
use crate::zones::{KnownZone, told_apart, twice};

/// Surfaces and zones, ready to be measured from.
pub(crate) struct Site<'j> {
    pub(crate) making: Making<'j>,
    context: Context<'j>,
    /// The unit of the first file.
    pub(crate) survey: LengthUnit,
    /// The systems that all of it is in.
    pub(crate) systems: Systems,
}

/// A line, in grid coordinates and the unit that is measured in.
#[derive(Clone)]
pub(crate) struct SiteLine {
    /// As it was named.
    pub(crate) source: String,
    pub(crate) file: Option<InputFile>,
    pub(crate) line: Alignment,
}

impl<'j> Site<'j> {
    /// Reads all that some surfaces and zones need, and makes the zones.
    ///
    /// # Errors
    ///
    /// When a file cannot be used, files are in different systems, or nothing has an end.
    pub(crate) fn open(
        context: &Context<'j>,
        surfaces: &[&Source],
        zones: &[ZoneSource],
    ) -> Result<Self, JobError> {
        let Context { job, reading, .. } = context;
        let at_levels = zones.iter().filter_map(|zone| match zone {
            ZoneSource::Named(name) => match &job.as_ref()?.zones.get(name)?.shape {
                ZoneShape::Level(plan) => Some(Source::Named(plan.surface.clone())),
                ZoneShape::Drawn(_) | ZoneShape::Strip(_) => None,
            },
            ZoneSource::File { .. } => None,
        });
        let at_levels: Vec<Source> = at_levels.collect();
        let mut needed: Vec<&Source> = Vec::new();
        for source in surfaces.iter().copied().chain(&at_levels) {
            if !needed.contains(&source) {
                needed.push(source);
            }
        }
        let mut stock = Surfaces::gather(*job, &needed, reading, &context.watch)?;
        for zone in zones {
            stock.draw(zone)?;
        }
        let unit = (context.units.length.or(stock.unit())).or(reading.unit_of_files());
        let unit = unit.ok_or(SiteError::LevelsWithoutUnit)?;
        let survey = stock.unit().unwrap_or(unit);
        let mut systems = stock.systems(reading.ignore_crs)?;
        stock.convert(unit);
        stock.read_zones(zones, reading, [survey, unit], &mut systems)?;

        let spans: Vec<Extent> = (surfaces.iter())
            .map(|source| stock.span(source, reading))
            .collect();
        let shared = spans
            .iter()
            .fold(Extent::EVERYWHERE, |all, span| all.intersection(span));
        let drawn = zones.iter().filter_map(|zone| stock.zones.get(zone));
        let within = drawn.flat_map(|read| &read.zones);
        let within = within.fold(Extent::EMPTY, |all, zone| {
            all.union(&loaded::zone_extent(zone))
        });
        let at_levels = at_levels.iter().map(|source| stock.span(source, reading));
        let choices = [shared].into_iter().chain(spans).chain([within]);
        let frame = match needed.is_empty() && zones.is_empty() {
            true => Frame::new(unit, [0.0, 0.0]),
            false => frame(unit, choices.chain(at_levels))?,
        };
        let mut making = Making::new(stock, frame, context.report_units(unit));
        making.warnings.append(&mut systems.warnings);
        making.drawn = DrawnLines::of(context, survey, unit, &systems.plan)?;
        making.warnings.append(&mut making.drawn.warnings);
        (making.warnings).extend(reading.clouds_unused(&making.stock.formats()));
        level_zones::made(&mut making, zones)?;
        Ok(Site {
            making,
            context: context.clone(),
            survey,
            systems,
        })
    }

    /// A surface, which is made once.
    pub(crate) fn surface(&mut self, source: &Source) -> Result<MadeSurface, JobError> {
        let step = self
            .context
            .watch
            .next(Activity::Making(source.to_string()))?;
        step.unless_stopped(self.making.make(source, &self.context.reading, false))
    }

    /// The memory that a measurement may use.
    pub(crate) fn memory(&self) -> Memory {
        self.context.reading.memory
    }

    /// The same without what build-ups take off.
    pub(crate) fn bare(&mut self, source: &Source) -> Result<MadeSurface, JobError> {
        self.making.make(source, &self.context.reading, true)
    }

    /// The zones of some sources, each by a name of its own, and what files say of each beside that; none where nothing
    /// is named.
    ///
    /// # Errors
    ///
    /// When one is no zone, or is named twice.
    pub(crate) fn zones(&self, sources: &[ZoneSource]) -> Result<Option<Zones>, JobError> {
        let mut known: Vec<KnownZone> = Vec::new();
        for source in sources {
            known.extend(self.making.known(source)?);
        }
        if let Some(index) = twice(known.iter().map(|known| &known.origin)) {
            let name = known[index].zone.name().into();
            return Err(SiteError::ZoneTwice { name }.into());
        }
        let names: Vec<(String, String)> = (known.iter())
            .map(|known| (known.zone.name().to_owned(), known.of.clone()))
            .collect();
        let zones = known.into_iter().zip(told_apart(&names));
        let zones: Vec<Zone> = zones.map(|(known, name)| known.zone.named(name)).collect();
        Ok((!zones.is_empty()).then(|| Zones::new(self.making.frame, zones)))
    }

    /// A line from a file or of the job, in the unit that is measured in and the system of the surfaces.
    pub(crate) fn line(&mut self, source: &LineSource) -> Result<SiteLine, JobError> {
        let unit = self.making.frame.unit();
        let found = with_chainage(&self.context, source, self.survey, unit)?;
        let (told, any) = (source.to_string(), self.context.reading.ignore_crs);
        let note = same_crs("a line", &told, &found.crs, &self.systems.plan, any)?;
        self.making.warnings.extend(note);
        if let Some(words) = found.several_profiles {
            let finding = Finding::new(Code::SeveralProfiles, words).at(format!("line {told}"));
            let remedy = "name one of them, as in file#line/profile";
            self.making.warnings.push(finding.remedy(remedy));
        }
        Ok(SiteLine {
            source: told,
            file: found.file,
            line: found.line,
        })
    }

    /// Some zones, as they were read.
    fn read(&self, sources: &[ZoneSource]) -> impl Iterator<Item = &ReadZones> {
        let zones = &self.making.stock.zones;
        sources.iter().filter_map(|source| zones.get(source))
    }

    /// What files say of each zone of some sources beside its name.
    pub(crate) fn attributes(&self, sources: &[ZoneSource]) -> Vec<Vec<(String, String)>> {
        let zones = self.read(sources).flat_map(|read| &read.zones);
        zones.map(|zone| zone.attributes.clone()).collect()
    }

    /// The files of some zones, each once.
    pub(crate) fn zone_files(&self, sources: &[ZoneSource]) -> Vec<InputFile> {
        let mut files: Vec<InputFile> = Vec::new();
        for file in self.read(sources).filter_map(|read| read.file.as_ref()) {
            if !files.contains(file) {
                files.push(file.clone());
            }
        }
        files
    }

    /// What was understood and skipped on the way to some zones.
    pub(crate) fn zone_notes(&self, sources: &[ZoneSource]) -> Vec<Finding> {
        let notes = self.read(sources).flat_map(|read| &read.notes);
        notes.cloned().collect()
    }
}

/// Another error where nothing has an end, for what wants just one surface.
pub(crate) fn no_end(error: JobError, instead: impl Into<JobError>) -> JobError {
    match error.kind::<SiteError>() {
        Some(SiteError::Unbounded) => instead.into(),
        _ => error,
    }
}

/// The frame around the first of some extents that has an end.
fn frame(unit: LengthUnit, choices: impl Iterator<Item = Extent>) -> Result<Frame, JobError> {
    let bounded = |extent: &Extent| extent.width().is_finite() && !extent.is_empty();
    let chosen = { choices }.find(bounded).ok_or(SiteError::Unbounded)?;
    Ok(Frame::around(unit, chosen))
}

/// Why surfaces and zones are no site.
#[derive(Debug, thiserror::Error, strum::IntoStaticStr)]
#[strum(serialize_all = "kebab-case")]
#[non_exhaustive]
pub enum SiteError {
    /// Two zones have the same name.
    #[error("zone \"{name}\" is given twice")]
    ZoneTwice {
        /// The name.
        name: String,
    },
    /// Two levels have no length unit.
    #[error("two levels have no length unit")]
    LevelsWithoutUnit,
    /// Two levels have no edge and need a zone.
    #[error("two levels have no edge")]
    Unbounded,
}

impl SiteError {
    fn remedy(&self) -> String {
        match self {
            SiteError::ZoneTwice { .. } => "give each zone once".into(),
            SiteError::LevelsWithoutUnit => unit_remedy(),
            SiteError::Unbounded => "limit them with --zone".into(),
        }
    }
}

dapedon_diagnostic::diagnostic!(SiteError, "site");
job_error!(SiteError);
