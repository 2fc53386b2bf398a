//! What a basin holds, level by level.

mod error;
mod levels;
mod model;
mod rows;
mod typed;
mod uncertain;

use dapedon_core::quantities::{Basin, Pool, SideOfLevel, Spill, level_area};
use dapedon_core::surface::Surface;
use dapedon_core::zones::Zones;
use dapedon_formats::RawZone;

pub use error::CapacityError;
pub use model::{Capacity, CapacityAnswer, LevelRow, SpillPoint};
pub use typed::{AreasRequest, AreasSource, capacity_of_areas};

use crate::accuracy::{COVERAGE_FACTOR, StatedAccuracy};
use crate::context::Context;
use crate::digits::figure_in_words;
use crate::error::JobError;
use crate::figure::{Length, Volume};
use crate::finding::{Code, Finding};
use crate::input::{Source, ZoneSource};
use crate::job_file::Job;
use crate::quantities::between_points::{no_uncertainty, not_known};
use crate::quantities::measurement::Extreme;
use crate::schema::Schema;
use crate::site::{Site, no_end};
use crate::surfaces::{PoolError, facets, kept as in_zone, rest};
use crate::watch::Activity;
use levels::levels;
use rows::held;
use uncertain::{LeftOut, SurveyedBed};

/// The basin that is asked for.
#[derive(Debug, Clone)]
pub struct CapacityRequest {
    /// The bed.
    pub surface: Source,
    /// The zone that it ends at.
    pub zone: Option<ZoneSource>,
    /// The pool that holds this place, as east and north, in the unit measured in.
    pub pool: Option<[f64; 2]>,
    /// The lowest level of the table; without one, the lowest place.
    pub from: Option<f64>,
    /// The highest one; without one, where water runs over the edge, less the freeboard.
    pub to: Option<f64>,
    /// The step from level to level; without one, a round one.
    pub step: Option<f64>,
    /// How far the water is to stay below where it spills.
    pub freeboard: f64,
    /// Levels whose volumes are wanted.
    pub wanted_levels: Vec<f64>,
    /// Volumes whose levels are wanted, in the volume unit.
    pub volumes: Vec<f64>,
    /// Levels at which the outline of the water is wanted.
    pub shores: Vec<f64>,
    /// How accurate the bed is, in the unit measured in, in place of what the job says.
    pub accuracy: Option<StatedAccuracy>,
    /// What the spacing of points leaves out is measured, as part of the uncertainty.
    pub between_points: bool,
}

/// What a basin holds at each of some levels, and the outlines of its water, a zone for each shore that is wanted.
///
/// # Errors
///
/// When a file cannot be used, or the levels or the place are none of the basin's.
pub fn capacity(
    context: &Context<'_>,
    request: &CapacityRequest,
) -> Result<(Capacity, Vec<RawZone>), JobError> {
    context.run(|| {
    let zones = request.zone.as_slice();
    let opened = Site::open(context, &[&request.surface], zones);
    let mut site = opened.map_err(|error| no_end(error, CapacityError::Level))?;
    let mut bed = site.surface(&request.surface)?;
    if let Some(stated) = &request.accuracy {
        let unit = site.making.units.length;
        bed.state_accuracy(stated, unit)?;
    }
    if matches!(*bed.surface, Surface::Level(_)) {
        return Err(CapacityError::Level.into());
    }
    site.making.warn(&[&bed]);
    let mut warnings = std::mem::take(&mut site.making.warnings);
    warnings.extend(site.zone_notes(zones));
    let zone_files = site.zone_files(zones);
    let zones = site.zones(zones)?;
    let (frame, told) = (site.making.frame, site.making.units);
    let zone = match zones.as_ref().map(|zones| zones.zones()) {
        None => None,
        Some([zone]) => Some(zone),
        Some(zones) => {
            return Err(CapacityError::SeveralZones { count: zones.len() }.into());
        }
    };
    let kept = match zone {
        Some(zone) => in_zone(&bed.surface, zone)?,
        None => facets(&bed.surface)?,
    };
    if let Some(zone) = zone {
        let beyond = zone.area() - kept.area();
        if beyond > frame.precision().area(&zone.extent()) {
            warnings.push(Finding::new(
                Code::BeyondSurface,
                format!(
                    "{} {} of the zone are outside the surface and hold no volume here",
                    figure_in_words(told.area_of(beyond).value),
                    told.area.symbol()
                ),
            ));
        }
    }
    let rest = zone.and_then(|zone| {
        let zones = Zones::new(frame, vec![zone.clone()]);
        rest(&bed.surface, &zones)
    });
    let rest = rest.as_ref();
    let pool = request.pool.map(|[east, north]| {
        let pool = Pool::around(&kept, frame.to_local(east, north), rest);
        pool.map_err(|_| JobError::from(PoolError::Beyond { east, north }))
    });
    let pool = pool.transpose()?;
    let (basin, spill) = match &pool {
        None => (Basin::of(&kept), Spill::lowest(&kept, rest)),
        Some(pool) => (pool.basin.clone(), Some(pool.spill)),
    };
    let lowest = match request.pool {
        // Of a pool only what it reaches first.
        Some(_) => basin.first_wet(),
        None => basin.heights()[0],
    };
    let brim = spill.map_or(basin.heights()[1], |spill| spill.level);
    let levels = levels(request, lowest, brim - request.freeboard)?;
    let found = basin.at(&levels);
    let left_out = match request.between_points {
        true => {
            // The levels of the table, those that were asked for, and those that volumes reach to.
            let top = levels.last().copied().unwrap_or(brim);
            let reached = |volume: &f64| {
                let found = basin.level_of(volume / told.volume_of(1.0).value, top);
                found.map(|found| found.level)
            };
            let all = levels.iter().chain(&request.wanted_levels).copied();
            let mut all: Vec<f64> = all.chain(request.volumes.iter().filter_map(reached)).collect();
            all.sort_by(f64::total_cmp);
            all.dedup();
            let held = |surface: &Surface, levels: &[f64]| -> Result<Vec<f64>, JobError> {
                let kept = match zone {
                    Some(zone) => in_zone(surface, zone)?,
                    None => facets(surface)?,
                };
                let basin = match request.pool {
                    None => Basin::of(&kept),
                    Some([east, north]) => {
                        let zones = zone.map(|zone| Zones::new(frame, vec![zone.clone()]));
                        let around = zones.and_then(|zones| self::rest(surface, &zones));
                        let at = frame.to_local(east, north);
                        match Pool::around(&kept, at, around.as_ref()) {
                            Ok(pool) => pool.basin,
                            // With half of the points no water stands there.
                            Err(_) => return Ok(vec![0.0; levels.len()]),
                        }
                    }
                };
                Ok(basin.at(levels).iter().map(|found| found.volume).collect())
            };
            let step = context.watch.next(Activity::LeavingOutPoints)?;
            let found = step.unless_stopped(LeftOut::of(&bed, all, held))?;
            if found.is_none() {
                warnings.push(match bed.side.accuracy {
                    Some(_) => not_known(&bed.side),
                    None => no_uncertainty(),
                });
            }
            found
        }
        false => None,
    };
    let surveyed = SurveyedBed {
        left_out,
        bed: &bed,
        zones: zones.as_ref(),
        kept: &kept,
        pool: pool.as_ref(),
    };
    let sure = |level: f64| -> Result<Option<f64>, JobError> {
        let standard = surveyed.standard(level)?;
        Ok(standard.map(|cubic| told.volume_of(cubic).value))
    };
    let above_edge = |level: f64| spill.is_some_and(|spill| spill.is_below(level));
    let asked = levels.iter().chain(&request.wanted_levels);
    if let Some(spill) = spill
        && asked.copied().any(above_edge)
    {
        let at = frame.to_grid(spill.at);
        warnings.push(Finding::new(Code::AboveEdge, format!(
            "the basin spills at level {:.3}, near east {:.1}, north {:.1}: rows that are marked lie above that, and hold only with a wall",
            spill.level, at.east, at.north
        )));
    }
    let top = levels.last().copied().unwrap_or(brim);
    let mut wanted = Vec::new();
    for &volume in &request.volumes {
        if !(volume > 0.0 && volume.is_finite()) {
            return Err(CapacityError::NoVolume { volume }.into());
        }
        let found = basin.level_of(volume / told.volume_of(1.0).value, top);
        let standard = found.map(|found| surveyed.standard(found.level)).transpose()?;
        wanted.push(CapacityAnswer {
            asked: "volume".into(),
            method: "integral".into(),
            volume: Some(Volume::new(volume, told.volume)),
            // The level is as uncertain as the volume, over the area that it rises on.
            level: found.map(|found| Length {
                uncertainty: (standard.flatten().filter(|_| found.area > 0.0))
                    .map(|cubic| told.length_of(cubic / found.area).value),
                ..told.length_of(found.level)
            }),
            water_area: found.map(|found| told.area_of(found.area)),
            above_spill_level: found.is_some_and(|found| above_edge(found.level)),
        });
    }
    for &level in &request.wanted_levels {
        let found = basin.at(&[level])[0];
        wanted.push(CapacityAnswer {
            asked: "level".into(),
            method: "integral".into(),
            volume: Some(Volume {
                uncertainty: sure(level)?,
                ..told.volume_of(found.volume)
            }),
            level: Some(told.length_of(level)),
            water_area: Some(told.area_of(found.area)),
            above_spill_level: above_edge(level),
        });
    }
    let mut rows = held(&found, true, lowest, spill, told);
    if surveyed.covers(rows.len()) {
        for row in &mut rows {
            if let Some(volume) = &mut row.volume {
                volume.uncertainty = sure(row.level.value)?;
            }
        }
    }
    let shores = request.shores.iter().map(|&level| {
        if let Some(spill) = spill.filter(|spill| spill.is_below(level)) {
            let edge = spill.level;
            return Err(PoolError::AboveEdge { level, edge }.into());
        }
        let wet = match &pool {
            None => Some(kept.clone()),
            Some(pool) => pool.reached(&kept, level),
        };
        let parts = wet.map_or(Vec::new(), |wet| level_area(&wet, level, SideOfLevel::Below));
        match parts.is_empty() {
            true => Err(JobError::from(CapacityError::NoWaterline { level })),
            false => Ok(RawZone {
                name: format!("water at {level}"),
                parts,
                ..RawZone::default()
            }),
        }
    });
    let shores = shores.collect::<Result<Vec<_>, _>>()?;
    let place = |[east, north]: [f64; 2]| Extreme { east, north };
    let capacity = Capacity {
        command: "capacity".into(),
        schema: Schema,
        job: context.job.map(Job::facts),
        units: told,
        coverage_factor: (bed.side.accuracy.as_ref())
            .filter(|own| !own.is_exact())
            .map(|_| COVERAGE_FACTOR),
        surface: bed.side,
        zone: zone.map(|zone| zone.name().into()),
        zone_files,
        pool: request.pool.map(place),
        lowest_level: told.length_of(lowest),
        spill: spill.map(|spill| {
            let at = frame.to_grid(spill.at);
            SpillPoint {
                level: told.length_of(spill.level),
                at: place([at.east, at.north]),
            }
        }),
        freeboard: told.length_of(request.freeboard),
        levels: rows,
        answers: wanted,
        warnings: context.acknowledged("", warnings),
    };
    Ok((capacity, shores))
    })
}
