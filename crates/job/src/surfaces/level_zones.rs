//! Zones of a job that are the outline of a surface at a level.

use dapedon_core::quantities::{Pool, level_area};
use dapedon_formats::RawZone;

use crate::error::JobError;
use crate::input::{Reading, Source, ZoneSource};
use crate::job_file::{LevelPlan, ZoneShape};
use crate::surfaces::SurfaceError;
use crate::surfaces::facets::facets;
use crate::surfaces::making::Making;
use crate::surfaces::pool::PoolError;
use crate::surfaces::read_zones::ReadZones;

/// Makes those of some zones that are outlines at a level, from the surfaces that they are outlines of.
///
/// # Errors
///
/// When a surface does not lie on that side of the level.
pub(crate) fn made(making: &mut Making<'_>, zones: &[ZoneSource]) -> Result<(), JobError> {
    let Some(job) = making.stock.job else {
        return Ok(());
    };
    for source in zones {
        let ZoneSource::Named(name) = source else {
            continue;
        };
        let Some(plan) = job.zones.get(name) else {
            continue;
        };
        if let ZoneShape::Level(level) = &plan.shape {
            let zone = at_level(making, name, level).map_err(|error| error.in_job(&plan.spot))?;
            let read = ReadZones {
                zones: vec![zone],
                ..ReadZones::default()
            };
            making.stock.zones.insert(source.clone(), read);
        }
    }
    Ok(())
}

fn at_level(making: &mut Making<'_>, name: &str, plan: &LevelPlan) -> Result<RawZone, JobError> {
    let source = Source::Named(plan.surface.clone());
    let tin = facets(&making.make(&source, &Reading::default(), false)?.surface)?;
    let level = making.convert(plan.level);
    let kept = match plan.pool {
        None => Some(tin),
        Some(at) => {
            let [east, north] = at.map(|along| making.convert(along));
            let pool = Pool::around(&tin, making.frame.to_local(east, north), None);
            // What is wrong is reported in the figures of the job, whatever is measured in.
            let [east, north] = at;
            let pool = pool.map_err(|_| PoolError::Beyond { east, north })?;
            if pool.spill.is_below(level) {
                let edge = making.of_job(pool.spill.level);
                let level = plan.level;
                return Err(PoolError::AboveEdge { level, edge }.into());
            }
            pool.reached(&tin, level)
        }
    };
    let parts = kept.map_or(Vec::new(), |tin| level_area(&tin, level, plan.side));
    match parts.is_empty() {
        true => Err(SurfaceError::NothingAtLevel {
            surface: plan.surface.clone(),
            side: plan.side,
            level: plan.level,
        }
        .into()),
        false => Ok(RawZone {
            name: name.into(),
            parts,
            ..RawZone::default()
        }),
    }
}
