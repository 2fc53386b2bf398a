//! The points of a built surface, one by one.

use std::collections::HashMap;

use dapedon_core::plan::Place;
use dapedon_core::quantities::{HeightLimits, PlaceUncertainty};
use dapedon_core::surface::{HeightAt, Plane, Surface, Vertex, heights_at};
use dapedon_core::units::LengthUnit;
use dapedon_core::zones::{WithinZone, Zones};

use super::{LISTED, PointBeyond, PointsBeyond};
use crate::context::Context;
use crate::error::JobError;
use crate::input::{Source, places};
use crate::job_file::Start;
use crate::surfaces::MadeSurface;
use crate::units::ReportUnits;

/// The points that the built surface was made from, against the design; none where it was not made from points.
pub(super) fn beyond(
    context: &Context<'_>,
    source: &Source,
    [design, built]: &[MadeSurface; 2],
    zones: Option<&Zones>,
    limits: &HeightLimits,
    uncertainty: &PlaceUncertainty,
    units: &ReportUnits,
) -> Result<Option<PointsBeyond>, JobError> {
    let (Surface::Tin(tin), Some(_)) = (&*built.surface, built.chosen_triangles()) else {
        return Ok(None);
    };
    let frame = tin.frame();
    let zones = zones.map_or(&[][..], Zones::zones);
    let within: Vec<WithinZone<'_>> = (zones.iter())
        .map(|zone| WithinZone::of(zone, frame.precision()))
        .collect();
    let is_within = |corner: &&Vertex| {
        within.is_empty() || within.iter().any(|zone| zone.holds(corner.place()))
    };
    let corners: Vec<&Vertex> = tin.vertices().iter().filter(is_within).collect();
    let at: Vec<Place> = corners.iter().map(|corner| corner.place()).collect();
    let heights = heights_at(&design.surface, &at);
    let (mut within, mut above, mut below) = (0, 0, 0);
    let mut beyond: Vec<(f64, Found)> = Vec::new();
    let same = frame.precision().length();
    let mut compared = 0;
    for (corner, found) in corners.iter().zip(&heights) {
        let HeightAt::One { height, facet } = *found else {
            continue;
        };
        compared += 1;
        let excess = limits.beyond(corner.height - height);
        let (side, by) = match excess {
            [by, _] if by > same => (&mut above, by),
            [_, by] if by > same => (&mut below, by),
            _ => (&mut within, 0.0),
        };
        *side += 1;
        if by > 0.0 {
            let signed = if excess[0] > same { by } else { -by };
            let found = Found {
                corner: **corner,
                design: height,
                facet,
                signed,
            };
            beyond.push((by, found));
        }
    }
    // Points equally far beyond stay in the order of their surface.
    beyond.sort_by(|a, b| b.0.total_cmp(&a.0));
    beyond.truncate(LISTED);
    let names = match beyond.is_empty() {
        true => HashMap::new(),
        false => names(context, source, frame.unit())?,
    };
    let told = |(by, found): (f64, Found)| {
        let at = frame.to_grid(found.corner.place());
        let planes = slope(&design.surface, found.facet);
        let length = |value: f64| units.length_of(value);
        PointBeyond {
            point: names.get(&key(at)).cloned(),
            east: at.east,
            north: at.north,
            design: length(found.design),
            built: length(found.corner.height),
            difference: length(found.corner.height - found.design),
            beyond: length(found.signed),
            is_shown: by > uncertainty.over([&planes, &planes]),
        }
    };
    Ok(Some(PointsBeyond {
        compared,
        within,
        above,
        below,
        not_compared: corners.len() - compared,
        worst: beyond.into_iter().map(told).collect(),
    }))
}

/// A point beyond a limit.
struct Found {
    corner: Vertex,
    design: f64,
    facet: u32,
    /// By how much: below where negative.
    signed: f64,
}

/// The plane of a facet of the design: a point that stands elsewhere than it was measured is off by its slope.
fn slope(design: &Surface, facet: u32) -> Plane {
    match design {
        Surface::Tin(tin) if (facet as usize) < tin.facets().len() => {
            let [a, b, c] = tin.corners(facet as usize);
            Plane::through(a, b, c)
        }
        _ => Plane::level(0.0),
    }
}

/// A place as it is looked up by: to a tenth of a millimetre or so, which the frame keeps.
fn key(at: Place) -> [u64; 2] {
    // Zero has two signs, and one place.
    [at.east, at.north].map(|value| ((value * 1e4).round() + 0.0).to_bits())
}

/// The names of the points of a file that has any, by their places.
fn names(
    context: &Context<'_>,
    source: &Source,
    unit: LengthUnit,
) -> Result<HashMap<[u64; 2], String>, JobError> {
    let plan = match source {
        Source::Named(name) => context.job.and_then(|job| job.surfaces.get(name)),
        _ => None,
    };
    let (source, reading) = match plan.map(|plan| &plan.start) {
        Some(Start::File(source, reading)) => (source, &**reading),
        _ => (source, &context.reading),
    };
    let Source::File { path, name } = source else {
        return Ok(HashMap::new());
    };
    if !places::may_have_names(path, reading)? {
        return Ok(HashMap::new());
    }
    let read = places::read(path, name.as_deref(), reading)?;
    let own = (read.unit).or(reading.unit_of_files()).unwrap_or(unit);
    let named = read.places.into_iter().filter_map(|(name, place)| {
        let at = Place::new(
            own.convert(place.east, unit),
            own.convert(place.north, unit),
        );
        Some((key(at), name?))
    });
    Ok(named.collect())
}
