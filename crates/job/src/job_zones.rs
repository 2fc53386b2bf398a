//! Zones of a job by their names: as they were drawn, or the outline of a surface at a level.

use dapedon_core::{AreaUnit, Frame, Pool, VolumeUnit, level_area};
use dapedon_formats::RawZone;

use crate::capacity::is_above;
use crate::job_file::{LevelPlan, ZoneShape};
use crate::making::Making;
use crate::measure::facets;
use crate::stock::{self, JobZones, Stock};
use crate::{CapacityError, Job, JobError, Reading, Source};

/// The zones of a name in a job, in the job's unit.
///
/// # Errors
///
/// When there are none, a file cannot be used, or the surface does not lie on that side of the level.
pub(crate) fn job_zones(job: &Job, name: &str) -> Result<JobZones, JobError> {
    let plan = job.zones.get(name);
    match plan.map(|plan| (&plan.shape, &plan.spot)) {
        Some((ZoneShape::Level(level), spot)) => {
            at_level(job, name, level).map_err(|error| error.in_job(spot))
        }
        _ => stock::drawn_zones(job, name),
    }
}

fn at_level(job: &Job, name: &str, plan: &LevelPlan) -> Result<JobZones, JobError> {
    let (source, reading) = (Source::Named(plan.surface.clone()), Reading::default());
    let mut stock = Stock::gather(Some(job), &[&source], &reading)?;
    let crs = stock.systems(false)?.plan;
    stock.convert(job.unit);
    let frame: Frame = stock::frame(job.unit, &[stock.span(&source, &reading)])?;
    let units = (AreaUnit::usual(job.unit), VolumeUnit::usual(job.unit));
    let mut making = Making::new(stock, frame, units.0, units.1);
    let made = making.make(&source, &reading, false)?;
    let tin = facets(&made.surface)?;
    let level = plan.level;
    let kept = match plan.pool {
        None => Some(tin),
        Some([east, north]) => {
            let pool = Pool::around(&tin, frame.to_local(east, north), None);
            let pool = pool.map_err(|_| CapacityError::Beyond { east, north })?;
            let edge = pool.spill.level;
            if is_above(level, Some(edge)) {
                return Err(CapacityError::AboveEdge { level, edge }.into());
            }
            pool.reached(&tin, level)
        }
    };
    let parts = kept.map_or(Vec::new(), |tin| level_area(&tin, level, plan.side));
    if parts.is_empty() {
        return Err(JobError::NothingAtLevel {
            surface: plan.surface.clone(),
            side: plan.side,
            level,
        });
    }
    Ok(JobZones {
        file: None,
        crs,
        zones: vec![RawZone {
            name: name.into(),
            parts,
            ..RawZone::default()
        }],
        notes: Vec::new(),
    })
}
