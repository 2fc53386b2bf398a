//! Measuring between two sources.

use dapedon_core::{
    AreaUnit, Extent, Frame, LengthUnit, Outline, OverlayError, Surface, Tin, Tolerance, Treatment,
    VolumeUnit, Zone, ZoneVolume, Zones, coverage, mask, volume, zonewise,
};

use crate::convert::converted;
use crate::depths::by_depth;
use crate::measurement::{Measurement, Units, Volume, WithoutBuildUp, ZoneMeasurement};
use crate::mistake;
use crate::sides::{Ask, Sides};
use crate::{Converting, Job, JobError, Reading, Scene, Side, Source, Span, ZoneSource};

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
    /// The height of the lifts that cut and fill are told in.
    pub by_depth: Option<f64>,
    /// By what cut and fill are converted.
    pub converting: Option<Converting>,
}

/// Measures, and hands back the surfaces for drawing.
///
/// # Errors
///
/// When a file cannot be used or the two sides cannot be compared; nothing is measured then.
pub fn measure(request: &Request<'_>) -> Result<(Measurement, Scene), JobError> {
    let ask = Ask {
        job: request.job,
        sources: [&request.reference, &request.surveyed],
        more: &[],
        zones: &request.zones,
        reading: &request.reading,
        length_unit: request.length_unit,
        area_unit: request.area_unit,
        volume_unit: request.volume_unit,
    };
    let Sides {
        mut making,
        made,
        zones,
        zone_files,
        zone_notes,
        unit,
        survey,
        ..
    } = Sides::of(&ask)?;
    let [reference, surveyed] = made;
    let (area_unit, volume_unit) = (making.area_unit, making.volume_unit);
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
            making.make(&request.reference, &request.reading, true)?,
            making.make(&request.surveyed, &request.reading, true)?,
        ]),
        false => None,
    };
    let mut warnings = std::mem::take(&mut making.warnings);
    if request.reference == request.surveyed {
        warnings.push("both sides are one and the same surface: nothing can differ".into());
    }
    let [reference, surveyed] = &surfaces;
    let mut scene = Scene::of(&making, [reference, surveyed], zones.cloned());
    if let Some(by) = &request.converting {
        scene.currency = by.currency.clone().or(scene.currency);
    }
    drop(making);
    let without = without.map(|[reference, surveyed]| {
        self::measured(&reference.surface, &surveyed.surface, zones, tolerance)
    });
    let without = without.transpose()?;

    let rows = scene.rows(&measured, &areas);
    let by_depth = match request.by_depth {
        Some(step) => by_depth(step, tolerance.value(), &scene, &measured, &rows)?,
        None => Vec::new(),
    };
    let without_build_up = without.map(|bare| without_build_up(&scene, &rows, &bare, &sides));
    warnings.extend(zone_notes);
    warnings.extend(scene.warnings(&rows, &outlines));
    let [reference, surveyed] = sides;
    let mut measurement = Measurement {
        command: "volume",
        job: request.job.map(Job::facts),
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
        by_depth,
        without_build_up,
        converted: Vec::new(),
        warnings,
    };
    if let Some(by) = &request.converting {
        measurement.converted = converted(&measurement, by, volume_unit, survey, scene.decimals)?;
    }
    Ok((measurement, scene))
}

fn measured(
    reference: &Surface,
    surveyed: &Surface,
    zones: Option<&Zones>,
    tolerance: Tolerance,
) -> Result<Vec<ZoneVolume>, JobError> {
    match volume(reference, surveyed, zones, tolerance) {
        Err(error) => Err(not_laid(error, reference, surveyed, zones)),
        Ok(found) if found.iter().all(|zone| zone.pieces == 0) => {
            Err(apart(reference, surveyed, zones))
        }
        Ok(found) => Ok(found),
    }
}

/// The facets of a surface, written out.
///
/// # Errors
///
/// When it has no end.
pub(crate) fn facets(surface: &Surface) -> Result<Tin, JobError> {
    match surface {
        Surface::Tin(tin) => Ok(tin.clone()),
        Surface::Grid(grid) => grid.to_tin().map_err(|_| JobError::ManyFacets),
        Surface::Level(_) => Err(JobError::Unbounded),
    }
}

/// What of a surface lies in a zone.
///
/// # Errors
///
/// When nothing does.
pub(crate) fn kept(surface: &Surface, zone: &Zone) -> Result<Tin, JobError> {
    mask(surface, zone).map_err(|error| {
        let zones = Zones::new(surface.frame(), vec![zone.clone()]);
        not_laid(error, surface, surface, Some(&zones))
    })
}

/// The rest of a surface, outside some zones; none where they cover it.
pub(crate) fn rest(surface: &Surface, zones: &Zones) -> Option<Tin> {
    let rest = zonewise(surface, zones, |within| match within {
        [] => Treatment::Keep,
        _ => Treatment::Drop,
    });
    rest.ok().and_then(|rest| facets(&rest).ok())
}

/// Why two sides cannot be laid over each other, with what would mend it.
pub(crate) fn not_laid(
    error: OverlayError,
    reference: &Surface,
    surveyed: &Surface,
    zones: Option<&Zones>,
) -> JobError {
    match error {
        OverlayError::Apart => apart(reference, surveyed, zones),
        other => other.into(),
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

fn grid(frame: Frame, extent: Extent) -> Extent {
    Extent {
        min: frame.to_grid(extent.min),
        max: frame.to_grid(extent.max),
    }
}

/// The two sides lie apart, or the zones from what both cover; with what would mend it.
pub(crate) fn apart(reference: &Surface, surveyed: &Surface, zones: Option<&Zones>) -> JobError {
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
