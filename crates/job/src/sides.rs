//! The two sides of a measurement and the zones it is limited to, made and ready.

use dapedon_core::{AreaUnit, Extent, Frame, LengthUnit, Surface, VolumeUnit, Zone, Zones};
use dapedon_formats::RawZone;

use crate::job_zones::job_zones;
use crate::making::{Made, Making};
use crate::stock::{self, Stock};
use crate::zone_origin::{ZoneOrigin, told_apart, twice};
use crate::{InputFile, Job, JobError, Reading, Source, ZoneSource, load, loaded};

/// What two sides are asked for.
pub(crate) struct Ask<'r, 'j> {
    pub(crate) job: Option<&'j Job>,
    pub(crate) sources: [&'r Source; 2],
    /// Surfaces that are needed beside the two.
    pub(crate) more: &'r [Source],
    pub(crate) zones: &'r [ZoneSource],
    pub(crate) reading: &'r Reading,
    pub(crate) length_unit: Option<LengthUnit>,
    pub(crate) area_unit: Option<fn(LengthUnit) -> AreaUnit>,
    pub(crate) volume_unit: Option<fn(LengthUnit) -> VolumeUnit>,
}

/// Both sides in one frame, and the zones.
pub(crate) struct Sides<'j> {
    pub(crate) making: Making<'j>,
    pub(crate) made: [Made; 2],
    pub(crate) more: Vec<Made>,
    pub(crate) zones: Option<Zones>,
    /// What files say of each zone beside its name.
    pub(crate) attributes: Vec<Vec<(String, String)>>,
    pub(crate) zone_files: Vec<InputFile>,
    pub(crate) zone_notes: Vec<String>,
    pub(crate) unit: LengthUnit,
    /// The unit of the first file.
    pub(crate) survey: LengthUnit,
    crs: Option<String>,
}

impl<'j> Sides<'j> {
    pub(crate) fn of(ask: &Ask<'_, 'j>) -> Result<Self, JobError> {
        let Ask {
            job,
            sources,
            reading,
            ..
        } = ask;
        let all: Vec<&Source> = sources.iter().copied().chain(ask.more).collect();
        let mut stock = Stock::gather(*job, &all, reading)?;
        let unit = (ask.length_unit.or(stock.unit())).or(reading.unit_of_files());
        let unit = unit.ok_or(JobError::LevelsWithoutUnit)?;
        let stock::Systems {
            plan: crs,
            mut warnings,
            ..
        } = stock.systems(reading.any_crs)?;
        let survey = stock.unit().unwrap_or(unit);
        stock.convert(unit);
        warnings.extend(reading.clouds_unused(&stock.formats()));
        let loaded = load_zones(ask, ask.zones, survey, unit, &crs)?;
        let spans = sources.map(|source| stock.span(source, reading));
        let extents = loaded
            .zones
            .iter()
            .map(|(_, zone)| loaded::zone_extent(zone));
        let within = extents.fold(Extent::EMPTY, |all, extent| all.union(&extent));
        let shared = spans[0].intersection(&spans[1]);
        let frame = stock::frame(unit, &[shared, spans[0], spans[1], within])?;

        let area_unit = (ask.area_unit).or(job.and_then(|job| job.area_unit));
        let area_unit = area_unit.map_or(AreaUnit::usual(unit), |of| of(unit));
        let volume_unit = (ask.volume_unit).or(job.and_then(|job| job.volume_unit));
        let volume_unit = volume_unit.map_or(VolumeUnit::usual(unit), |of| of(unit));
        let mut making = Making::new(stock, frame, area_unit, volume_unit);
        making.warnings = warnings;
        let [first, second] = sources.map(|source| making.make(source, reading, false));
        let made = [first?, second?];
        let more = ask.more.iter();
        let more = more.map(|source| making.make(source, reading, false));
        let more = more.collect::<Result<Vec<_>, _>>()?;
        // Where one side is a formation, the other one is meant as it is.
        if !made.iter().any(|made| made.side.is_below_layers()) {
            made.iter().for_each(|made| making.warn(made));
        }
        let attributes = loaded.zones.iter();
        let attributes = attributes.map(|(_, zone)| zone.attributes.clone());
        let attributes = attributes.collect();
        let zones = zones(frame, loaded.zones)?;
        let level = |made: &Made| matches!(*made.surface, Surface::Level(_));
        if made.iter().all(level) && zones.is_none() {
            return Err(JobError::Unbounded);
        }
        Ok(Sides {
            making,
            made,
            more,
            zones,
            attributes,
            zone_files: loaded.files,
            zone_notes: loaded.notes,
            unit,
            survey,
            crs,
        })
    }

    /// Other zones, in the frame of both sides.
    pub(crate) fn more_zones(
        &mut self,
        ask: &Ask<'_, 'j>,
        sources: &[ZoneSource],
    ) -> Result<Option<Zones>, JobError> {
        let loaded = load_zones(ask, sources, self.survey, self.unit, &self.crs)?;
        self.zone_notes.extend(loaded.notes);
        for file in loaded.files {
            if !self.zone_files.contains(&file) {
                self.zone_files.push(file);
            }
        }
        zones(self.making.frame, loaded.zones)
    }
}

/// Zones as they were read.
struct LoadedZones {
    files: Vec<InputFile>,
    zones: Vec<(ZoneSource, RawZone)>,
    notes: Vec<String>,
}

/// Zones in the unit `to`; those that say none are in the survey's.
fn load_zones(
    ask: &Ask<'_, '_>,
    sources: &[ZoneSource],
    survey: LengthUnit,
    to: LengthUnit,
    surfaces_crs: &Option<String>,
) -> Result<LoadedZones, JobError> {
    let (mut files, mut all, mut notes) = (Vec::new(), Vec::new(), Vec::new());
    let (mut names, mut origins) = (Vec::new(), Vec::new());
    for source in sources {
        let (file, found) = match source {
            ZoneSource::File { path, name } => {
                let (file, found) = load::zones(path, name.as_deref(), ask.reading, survey, to)?;
                notes.extend(same_crs(
                    &file.path,
                    &found.crs,
                    surfaces_crs,
                    ask.reading.any_crs,
                )?);
                notes.extend(stock::zone_notes(&file.path, &found, to));
                (Some(file), found.zones)
            }
            ZoneSource::Named(name) => {
                let job = ask
                    .job
                    .ok_or_else(|| JobError::no_such_surface(name, None))?;
                let found = job_zones(job, name)?;
                notes.extend(found.notes);
                let any = ask.reading.any_crs;
                notes.extend(same_crs(name, &found.crs, surfaces_crs, any)?);
                let mut zones = found.zones;
                let convert = |value: f64| job.unit.convert(value, to);
                let corners = zones
                    .iter_mut()
                    .flat_map(|zone| zone.parts.iter_mut().flatten().flatten());
                corners.for_each(|at| (at.east, at.north) = (convert(at.east), convert(at.north)));
                (found.file, zones)
            }
        };
        for zone in found {
            let (entry, of) = match source {
                ZoneSource::File { path, .. } => ("", path.display().to_string()),
                ZoneSource::Named(name) => (name.as_str(), name.clone()),
            };
            origins.push(ZoneOrigin::new(file.as_ref(), entry, &zone));
            names.push((zone.name.clone(), of));
            all.push((source.clone(), zone));
        }
        if let Some(file) = file.filter(|file| !files.contains(file)) {
            files.push(file);
        }
    }
    if let Some(index) = twice(&origins) {
        let name = names.swap_remove(index).0;
        return Err(JobError::ZoneTwice { name });
    }
    for ((_, zone), name) in all.iter_mut().zip(told_apart(&names)) {
        zone.name = name;
    }
    Ok(LoadedZones {
        files,
        zones: all,
        notes,
    })
}

/// Zones are in the coordinate system of the surfaces; a note where another one is taken for it.
pub(crate) fn same_crs(
    path: &str,
    zones: &Option<String>,
    surfaces: &Option<String>,
    any: bool,
) -> Result<Option<String>, JobError> {
    match (zones, surfaces) {
        (Some(zones), Some(surfaces)) if !zones.eq_ignore_ascii_case(surfaces) => match any {
            true => Ok(Some(format!(
                "zones of {path} in {zones} taken as being in {surfaces}"
            ))),
            false => Err(JobError::ZonesCrsDiffer {
                path: path.into(),
                zones: zones.clone(),
                surfaces: surfaces.clone(),
            }),
        },
        _ => Ok(None),
    }
}

fn zones(frame: Frame, raw: Vec<(ZoneSource, RawZone)>) -> Result<Option<Zones>, JobError> {
    if raw.is_empty() {
        return Ok(None);
    }
    let made = raw
        .into_iter()
        .map(|(source, RawZone { name, parts, .. })| {
            let made = Zone::new(name.clone(), frame, parts);
            made.map_err(|error| match source {
                ZoneSource::File { path, .. } => JobError::Zone { path, name, error },
                ZoneSource::Named(_) => JobError::JobZone { name, error },
            })
        });
    Ok(Some(Zones::new(frame, made.collect::<Result<_, _>>()?)))
}
