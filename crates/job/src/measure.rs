//! Measuring between two sources.

use std::collections::HashSet;

use dapedon_core::{
    AreaUnit, Extent, Frame, LengthUnit, Level, Outline, OverlayError, Surface, Tolerance,
    VolumeUnit, Zone, Zones, coverage, volume,
};
use dapedon_formats::RawZone;

use crate::load;
use crate::loaded::{self, Loaded};
use crate::measurement::{Measurement, Side, Units, ZoneMeasurement};
use crate::{InputFile, JobError, Reading, Scene, Source, Span, ZoneSource};
use crate::{ground, mistake};

/// What to measure.
#[derive(Debug, Clone)]
pub struct Request {
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

/// One side, loaded but not yet in the common frame.
enum Raw {
    Level(f64),
    File(Box<Loaded>, LengthUnit),
}

/// Measures, and hands back the surfaces for drawing.
///
/// # Errors
///
/// When a file cannot be used or the two sides cannot be compared; nothing is measured then.
pub fn measure(request: &Request) -> Result<(Measurement, Scene), JobError> {
    let reference = load_side(&request.reference, request)?;
    let surveyed = load_side(&request.surveyed, request)?;
    let own = |side: &Raw| match side {
        Raw::File(_, unit) => Some(*unit),
        Raw::Level(_) => None,
    };
    let unit = (request.length_unit.or(own(&reference)).or(own(&surveyed)))
        .or(request.reading.unit)
        .ok_or(JobError::LevelsWithoutUnit)?;

    let names = [&reference, &surveyed]
        .into_iter()
        .filter_map(|side| match side {
            Raw::File(loaded, _) => Some(&loaded.surface.names),
            Raw::Level(_) => None,
        });
    load::names_are_found(&request.reading, names)?;
    let crs_taken = same_crs(&reference, &surveyed, request.reading.any_crs)?;
    let survey = own(&reference).or(own(&surveyed)).unwrap_or(unit);
    let (reference, surveyed) = (convert(reference, unit), convert(surveyed, unit));
    let surfaces_crs = [&reference, &surveyed].into_iter().find_map(said_crs);
    let (zone_files, raw_zones, zone_notes) = load_zones(request, survey, unit, surfaces_crs)?;
    let spans = [&reference, &surveyed].map(|side| match side {
        Raw::File(loaded, _) => loaded::surface_extent(&loaded.surface),
        Raw::Level(_) => Extent::EVERYWHERE,
    });
    let frame = frame(unit, spans, &raw_zones)?;
    let formats = [&reference, &surveyed]
        .into_iter()
        .filter_map(|side| match side {
            Raw::File(loaded, _) => Some(loaded.file.format.as_str()),
            Raw::Level(_) => None,
        });
    let unused = request.reading.clouds_unused(&formats.collect::<Vec<_>>());
    let mut warnings: Vec<String> = crs_taken.into_iter().chain(unused).collect();
    let mut side = |raw, source| surface(raw, source, frame, &request.reading, &mut warnings);
    let (reference, reference_side) = side(reference, &request.reference)?;
    let (surveyed, surveyed_side) = side(surveyed, &request.surveyed)?;
    let zones = zones(frame, raw_zones)?;
    if matches!(
        (&reference, &surveyed),
        (Surface::Level(_), Surface::Level(_))
    ) && zones.is_none()
    {
        return Err(JobError::Unbounded);
    }

    let measured = volume(&reference, &surveyed, zones.as_ref(), request.tolerance);
    let measured = measured.map_err(|error| match error {
        OverlayError::Apart => apart(&reference, &surveyed, zones.as_ref()),
        other => other.into(),
    })?;
    let outlines = [Outline::of(&reference), Outline::of(&surveyed)];
    let areas = coverage(&outlines[0], &outlines[1], zones.as_ref());
    if measured.iter().all(|zone| zone.pieces == 0) {
        return Err(apart(&reference, &surveyed, zones.as_ref()));
    }

    let area_unit = request
        .area_unit
        .map_or(AreaUnit::usual(unit), |of| of(unit));
    let volume_unit = request
        .volume_unit
        .map_or(VolumeUnit::usual(unit), |of| of(unit));
    let scene = Scene {
        reference,
        surveyed,
        zones,
        unit,
        area_unit,
        volume_unit,
    };
    let rows = scene.rows(&measured, &areas);
    warnings.extend(zone_notes);
    warnings.extend(scene.warnings(&rows, &outlines));
    let measurement = Measurement {
        command: "volume",
        units: Units {
            length: unit.code().into(),
            area: area_unit.code(),
            volume: volume_unit.code(),
        },
        reference: reference_side,
        surveyed: surveyed_side,
        tolerance: request.tolerance.value(),
        zone_files,
        total: ZoneMeasurement::total(&rows),
        zones: rows,
        warnings,
    };
    Ok((measurement, scene))
}

fn load_side(source: &Source, request: &Request) -> Result<Raw, JobError> {
    match source {
        Source::Level(height) => Ok(Raw::Level(*height)),
        Source::File { .. } | Source::Files(_) => {
            let mut loaded = load::source(source, &request.reading)?;
            let unit = match (loaded.surface.unit, request.reading.unit) {
                (Some(unit), _) => unit,
                (None, Some(unit)) => {
                    loaded
                        .notes
                        .push(format!("unit not in the file, taken as {}", unit.name()));
                    unit
                }
                (None, None) => {
                    let path = loaded.file.path.into();
                    return Err(JobError::NoUnit { path });
                }
            };
            Ok(Raw::File(Box::new(loaded), unit))
        }
    }
}

fn convert(side: Raw, to: LengthUnit) -> Raw {
    let Raw::File(mut loaded, from) = side else {
        return side;
    };
    ground::convert(&mut loaded, from, to);
    Raw::File(loaded, to)
}

type LoadedZones = (Vec<InputFile>, Vec<(ZoneSource, RawZone)>, Vec<String>);

/// Zones in the unit `to`; those that say none are in the survey's.
fn load_zones(
    request: &Request,
    survey: LengthUnit,
    to: LengthUnit,
    surfaces_crs: Option<String>,
) -> Result<LoadedZones, JobError> {
    let (mut files, mut all, mut notes) = (Vec::new(), Vec::new(), Vec::new());
    let mut names = HashSet::new();
    for source in &request.zones {
        let (file, found) = load::zones(source, &request.reading, survey, to)?;
        let path = &file.path;
        if let (Some(zones), Some(surfaces)) = (&found.crs, &surfaces_crs)
            && !zones.eq_ignore_ascii_case(surfaces)
        {
            if !request.reading.any_crs {
                return Err(JobError::ZonesCrsDiffer {
                    path: source.path.clone(),
                    zones: zones.clone(),
                    surfaces: surfaces.clone(),
                });
            }
            notes.push(format!(
                "zones of {path} in {zones} taken as being in {surfaces}"
            ));
        }
        if let Some(unit) = found.unit.filter(|&unit| unit != to) {
            notes.push(format!(
                "zones of {path} converted from {} to {}",
                unit.name(),
                to.name()
            ));
        }
        notes.extend(
            found
                .notes
                .iter()
                .map(|note| format!("zones of {path}: {note}")),
        );
        if found.left_out > 0 {
            notes.push(format!(
                "{} features of {path} that are not areas left out",
                found.left_out
            ));
        }
        if found.unnamed > 0 {
            notes.push(format!(
                "{} zones of {path} without a name are numbered",
                found.unnamed
            ));
        }
        for zone in found.zones {
            if !names.insert(zone.name.clone()) {
                return Err(JobError::ZoneTwice { name: zone.name });
            }
            all.push((source.clone(), zone));
        }
        if !files.contains(&file) {
            files.push(file);
        }
    }
    Ok((files, all, notes))
}

/// The frame around what both sides share; around whatever is bounded when they share nothing.
fn frame(
    unit: LengthUnit,
    spans: [Extent; 2],
    zones: &[(ZoneSource, RawZone)],
) -> Result<Frame, JobError> {
    let zones = zones.iter().map(|(_, zone)| loaded::zone_extent(zone));
    let zones = zones.fold(Extent::EMPTY, |all, extent| all.union(&extent));
    let bounded = |extent: &Extent| extent.width().is_finite() && !extent.is_empty();
    let shared = spans[0].intersection(&spans[1]);
    let choices = [shared, spans[0], spans[1], zones];
    let chosen = choices
        .into_iter()
        .find(bounded)
        .ok_or(JobError::Unbounded)?;
    Ok(Frame::around(unit, chosen))
}

/// The coordinate system that a side's file says.
fn said_crs(side: &Raw) -> Option<String> {
    match side {
        Raw::File(loaded, _) => loaded.surface.crs.clone(),
        Raw::Level(_) => None,
    }
}

/// Both sides say one coordinate system, or not both of them say one; what to warn of where two are
/// taken as one.
fn same_crs(reference: &Raw, surveyed: &Raw, any: bool) -> Result<Option<String>, JobError> {
    match (said_crs(reference), said_crs(surveyed)) {
        (Some(reference), Some(surveyed)) if !reference.eq_ignore_ascii_case(&surveyed) => {
            if any {
                return Ok(Some(format!(
                    "coordinate systems {reference} and {surveyed} taken as the same"
                )));
            }
            Err(JobError::CrsDiffer {
                reference,
                surveyed,
            })
        }
        _ => Ok(None),
    }
}

fn surface(
    side: Raw,
    source: &Source,
    frame: Frame,
    reading: &Reading,
    warnings: &mut Vec<String>,
) -> Result<(Surface, Side), JobError> {
    let loaded = match side {
        Raw::File(loaded, _) => loaded,
        Raw::Level(height) => {
            let side = Side {
                source: source.to_string(),
                kind: format!("level at {height} {}", frame.unit().symbol()),
                file: None,
                points: None,
                facets: None,
                notes: Vec::new(),
            };
            return Ok((Surface::Level(Level::new(frame, height)), side));
        }
    };
    let made = ground::made(*loaded, frame, reading)?;
    warnings.extend(made.warnings);
    let kind = match (made.handed_over, made.name.as_str()) {
        (true, "") if matches!(made.surface, Surface::Grid(_)) => made.file.format.clone(),
        (true, "") => format!("{} facets", made.file.format),
        (true, name) => format!("{} surface \"{name}\"", made.file.format),
        (false, "") => format!("points, {}", made.file.format),
        (false, name) => format!("points of \"{name}\", {}", made.file.format),
    };
    let side = Side {
        source: source.to_string(),
        kind,
        file: Some(made.file),
        points: Some(made.points),
        facets: Some(made.surface.facets()),
        notes: made.notes,
    };
    Ok((made.surface, side))
}

fn zones(frame: Frame, raw: Vec<(ZoneSource, RawZone)>) -> Result<Option<Zones>, JobError> {
    if raw.is_empty() {
        return Ok(None);
    }
    let made = raw.into_iter().map(|(source, RawZone { name, parts })| {
        Zone::new(name.clone(), frame, parts).map_err(|error| JobError::Zone {
            path: source.path,
            name,
            error,
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
