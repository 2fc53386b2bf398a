//! Measuring between two sources.

use std::collections::HashSet;
use std::rc::Rc;

use dapedon_core::{
    AreaUnit, Extent, Frame, LengthUnit, Outline, OverlayError, Surface, Tolerance, VolumeUnit,
    Zone, ZoneVolume, Zones, coverage, volume,
};
use dapedon_formats::RawZone;

use crate::making::Making;
use crate::measurement::{Measurement, Units, Volume, WithoutBuildUp, ZoneMeasurement};
use crate::mistake;
use crate::stock::{self, Stock};
use crate::{
    InputFile, Job, JobError, Reading, Scene, Side, Source, Span, ZoneSource, load, loaded,
};

/// What to measure.
#[derive(Debug, Clone)]
pub struct Request<'j> {
    /// The job that names stand in.
    pub job: Option<&'j Job>,
    /// From this surface.
    pub reference: Source,
    /// To this one.
    pub surveyed: Source,
    /// Within these zones.
    pub zones: Vec<ZoneSource>,
    /// What the files do not say themselves.
    pub reading: Reading,
    /// The unit to measure in; without one, that of the reference.
    pub length_unit: Option<LengthUnit>,
    /// The unit of areas, for the foot of the survey.
    pub area_unit: Option<fn(LengthUnit) -> AreaUnit>,
    /// The unit of volumes, for the foot of the survey.
    pub volume_unit: Option<fn(LengthUnit) -> VolumeUnit>,
    /// Differences up to this size, in the unit measured in, count as unchanged.
    pub tolerance: Tolerance,
}

/// Measures, and hands back the surfaces for drawing.
///
/// # Errors
///
/// When a file cannot be used or the two sides cannot be compared; nothing is measured then.
pub fn measure(request: &Request<'_>) -> Result<(Measurement, Scene), JobError> {
    let Request { job, reading, .. } = request;
    let sources = [&request.reference, &request.surveyed];
    let mut stock = Stock::gather(*job, &sources, reading)?;
    let unit = (request.length_unit.or(stock.unit())).or(reading.unit);
    let unit = unit.ok_or(JobError::LevelsWithoutUnit)?;
    let (crs, mut warnings) = stock.crs(reading.any_crs)?;
    let survey = stock.unit().unwrap_or(unit);
    stock.convert(unit);
    warnings.extend(reading.clouds_unused(&stock.formats()));
    let (zone_files, raw_zones, zone_notes) = load_zones(request, survey, unit, crs)?;
    let spans = sources.map(|source| stock.span(source, reading));
    let zone_extents = raw_zones.iter().map(|(_, zone)| loaded::zone_extent(zone));
    let within = zone_extents.fold(Extent::EMPTY, |all, extent| all.union(&extent));
    let shared = spans[0].intersection(&spans[1]);
    let frame = stock::frame(unit, &[shared, spans[0], spans[1], within])?;

    let area_unit = (request.area_unit).or(job.and_then(|job| job.area_unit));
    let area_unit = area_unit.map_or(AreaUnit::usual(unit), |of| of(unit));
    let volume_unit = (request.volume_unit).or(job.and_then(|job| job.volume_unit));
    let volume_unit = volume_unit.map_or(VolumeUnit::usual(unit), |of| of(unit));
    let mut making = Making::new(stock, frame, area_unit, volume_unit);
    let [reference, surveyed] = sources.map(|source| making.make(source, reading, false));
    let (reference, surveyed) = (reference?, surveyed?);
    // Where one side is a formation, the other one is meant as it is.
    if ![&reference, &surveyed]
        .iter()
        .any(|made| made.side.is_below_layers())
    {
        making.warn(&reference);
        making.warn(&surveyed);
    }
    let zones = zones(frame, raw_zones)?;
    let levels = [&reference, &surveyed].map(|made| matches!(*made.surface, Surface::Level(_)));
    if levels == [true, true] && zones.is_none() {
        return Err(JobError::Unbounded);
    }

    let (zones, tolerance) = (zones.as_ref(), request.tolerance);
    let (from, to) = (&*reference.surface, &*surveyed.surface);
    let measured = measured(from, to, zones, tolerance)?;
    let outlines = [Outline::of(from), Outline::of(to)];
    let areas = coverage(&outlines[0], &outlines[1], zones);
    let (sides, surfaces) = (
        [reference.side, surveyed.side],
        [reference.surface, surveyed.surface],
    );
    let without = match sides.iter().any(Side::is_below_layers) {
        true => Some([
            making.make(sources[0], reading, true)?,
            making.make(sources[1], reading, true)?,
        ]),
        false => None,
    };
    warnings.append(&mut making.warnings);
    drop(making);
    let without = without.map(|[reference, surveyed]| {
        self::measured(&reference.surface, &surveyed.surface, zones, tolerance)
    });
    let without = without.transpose()?;

    let [reference, surveyed] = surfaces.map(Rc::unwrap_or_clone);
    let scene = Scene {
        reference,
        surveyed,
        zones: zones.cloned(),
        unit,
        area_unit,
        volume_unit,
        decimals: job.and_then(|job| job.decimals).unwrap_or(1),
        currency: job.and_then(|job| job.currency.clone()),
    };
    let rows = scene.rows(&measured, &areas);
    let without_build_up = without.map(|bare| without_build_up(&scene, &rows, &bare, &sides));
    warnings.extend(zone_notes);
    warnings.extend(scene.warnings(&rows, &outlines));
    let [reference, surveyed] = sides;
    let measurement = Measurement {
        command: "volume",
        units: Units {
            length: unit.code().into(),
            area: area_unit.code(),
            volume: volume_unit.code(),
        },
        reference,
        surveyed,
        tolerance: request.tolerance.value(),
        zone_files,
        total: ZoneMeasurement::total(&rows),
        zones: rows,
        without_build_up,
        warnings,
    };
    Ok((measurement, scene))
}

fn measured(
    reference: &Surface,
    surveyed: &Surface,
    zones: Option<&Zones>,
    tolerance: Tolerance,
) -> Result<Vec<ZoneVolume>, JobError> {
    match volume(reference, surveyed, zones, tolerance) {
        Err(OverlayError::Apart) => Err(apart(reference, surveyed, zones)),
        Err(other) => Err(other.into()),
        Ok(found) if found.iter().all(|zone| zone.pieces == 0) => {
            Err(apart(reference, surveyed, zones))
        }
        Ok(found) => Ok(found),
    }
}

/// The volumes to the finished level, against those that were measured below it.
fn without_build_up(
    scene: &Scene,
    rows: &[ZoneMeasurement],
    bare: &[ZoneVolume],
    sides: &[Side; 2],
) -> WithoutBuildUp {
    let told = |value: f64| scene.volume_unit.from_cubic(value, scene.unit);
    let zones: Vec<Volume> = (bare.iter())
        .map(|zone| Volume {
            cut: told(zone.volume.cut),
            fill: told(zone.volume.fill),
            net: told(zone.volume.net),
            unchanged: told(zone.volume.unchanged),
        })
        .collect();
    let sum = |of: fn(&Volume) -> f64| zones.iter().map(of).sum::<f64>();
    let total = Volume {
        cut: sum(|v| v.cut),
        fill: sum(|v| v.fill),
        net: sum(|v| v.net),
        unchanged: sum(|v| v.unchanged),
    };
    let net: f64 = rows.iter().map(|row| row.volume.net).sum();
    let layers = |side: &Side| -> f64 {
        let layers = side
            .recipe
            .as_ref()
            .map_or(Vec::new(), |recipe| recipe.layers());
        layers.iter().map(|layer| layer.volume).sum()
    };
    WithoutBuildUp {
        net_difference: net - total.net,
        layers: layers(&sides[1]) - layers(&sides[0]),
        zones,
        total,
    }
}

type LoadedZones = (Vec<InputFile>, Vec<(ZoneSource, RawZone)>, Vec<String>);

/// Zones in the unit `to`; those that say none are in the survey's.
fn load_zones(
    request: &Request<'_>,
    survey: LengthUnit,
    to: LengthUnit,
    surfaces_crs: Option<String>,
) -> Result<LoadedZones, JobError> {
    let (mut files, mut all, mut notes) = (Vec::new(), Vec::new(), Vec::new());
    let mut names = HashSet::new();
    for source in &request.zones {
        let (file, found) = match source {
            ZoneSource::File { path, name } => {
                let (file, found) =
                    load::zones(path, name.as_deref(), &request.reading, survey, to)?;
                notes.extend(same_crs(
                    &file.path,
                    &found.crs,
                    &surfaces_crs,
                    request.reading.any_crs,
                )?);
                notes.extend(stock::zone_notes(&file.path, &found, to));
                (Some(file), found.zones)
            }
            ZoneSource::Named(name) => {
                let job = request
                    .job
                    .ok_or_else(|| JobError::no_such_surface(name, None))?;
                let found = stock::job_zones(job, name)?;
                notes.extend(found.notes);
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
            if !names.insert(zone.name.clone()) {
                return Err(JobError::ZoneTwice { name: zone.name });
            }
            all.push((source.clone(), zone));
        }
        if let Some(file) = file.filter(|file| !files.contains(file)) {
            files.push(file);
        }
    }
    Ok((files, all, notes))
}

/// Zones are in the coordinate system of the surfaces; a note where another one is taken for it.
fn same_crs(
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
    let made = raw.into_iter().map(|(source, RawZone { name, parts })| {
        let made = Zone::new(name.clone(), frame, parts);
        made.map_err(|error| match source {
            ZoneSource::File { path, .. } => JobError::Zone { path, name, error },
            ZoneSource::Named(_) => JobError::JobZone { name, error },
        })
    });
    Ok(Some(Zones::new(frame, made.collect::<Result<_, _>>()?)))
}

fn grid(frame: Frame, extent: Extent) -> Extent {
    Extent {
        min: frame.to_grid(extent.min),
        max: frame.to_grid(extent.max),
    }
}

/// The two sides lie apart, or the zones from what both cover; with what would mend it.
fn apart(reference: &Surface, surveyed: &Surface, zones: Option<&Zones>) -> JobError {
    let frame = reference.frame();
    let [a, b] = [reference, surveyed].map(|side| grid(frame, side.extent()));
    let both = a.intersection(&b);
    if let Some(zones) = zones.filter(|_| !both.is_empty()) {
        let zones = grid(frame, zones.extent());
        let (surfaces, within) = (Span(both), both.meets(&zones));
        let zones = Span(zones);
        return match within {
            true => JobError::NothingInZones { surfaces, zones },
            false => JobError::ZonesApart { surfaces, zones },
        };
    }
    let hint = mistake::of_places(&a, &b);
    JobError::Apart {
        reference: Span(a),
        surveyed: Span(b),
        hint,
    }
}
