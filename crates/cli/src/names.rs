//! Names of a job on the command line.

use std::path::Path;

use dapedon_job::{Context, JOB_FILE, Job, Source, UnitsAsked, ZoneSource};

use crate::args::{JobArgs, ReadingArgs, UnitArgs};
use crate::fault::Fault;

/// The job that names stand in: the one that is said, or else the one of this folder where something that was
/// typed is no file, or something is `named` that only a job has.
pub(crate) fn job(
    args: &JobArgs,
    sources: &[&Source],
    zones: &[ZoneSource],
    named: bool,
) -> Result<Option<Job>, Fault> {
    if let Some(path) = &args.job {
        return Ok(Some(Job::read(path)?));
    }
    let missing = |path: &Path| !path.exists();
    let unknown = sources.iter().any(|source| match source {
        Source::File { path, name: None } => missing(path),
        _ => false,
    });
    let unknown = named
        || unknown
        || zones.iter().any(|zone| match zone {
            ZoneSource::File { path, name: None } => missing(path),
            _ => false,
        });
    let here = Path::new(JOB_FILE);
    match unknown && here.is_file() {
        true => Ok(Some(Job::read(here)?)),
        false => Ok(None),
    }
}

/// What is measured with: the job, how files are read, and the units that are asked for.
pub(crate) fn context<'j>(
    job: Option<&'j Job>,
    reading: &ReadingArgs,
    units: &UnitArgs,
) -> Result<Context<'j>, Fault> {
    Ok(Context {
        units: UnitsAsked {
            length: units.length_unit.map(Into::into),
            area: units.area_unit.map(|unit| unit.on()),
            volume: units.volume_unit.map(|unit| unit.on()),
        },
        ..context_of(job, reading)?
    })
}

/// The same in the usual units.
pub(crate) fn context_of<'j>(
    job: Option<&'j Job>,
    reading: &ReadingArgs,
) -> Result<Context<'j>, Fault> {
    Ok(Context {
        job,
        reading: reading.reading()?,
        ..Context::default()
    })
}

/// What is meant by a surface that was typed.
pub(crate) fn surface(job: Option<&Job>, typed: &Source) -> Result<Source, Fault> {
    match job {
        Some(job) => Ok(job.surface(typed)?),
        None => Ok(typed.clone()),
    }
}

/// What is meant by zones that were typed.
pub(crate) fn zones(job: Option<&Job>, typed: &[ZoneSource]) -> Result<Vec<ZoneSource>, Fault> {
    let meant = typed.iter().map(|zone| match job {
        Some(job) => Ok(job.zone(zone)?),
        None => Ok(zone.clone()),
    });
    meant.collect()
}
