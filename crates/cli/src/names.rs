//! Names of a job on the command line.

use std::collections::BTreeMap;
use std::path::{Path, PathBuf};

use dapedon_job::{
    Context, JOB_FILE, Job, Reading, RequestedUnits, Source, ZoneSource, named_reading, readings_of,
};

use crate::args::{JobArgs, ReadingArgs, UnitArgs};
use crate::error::CommandError;
use crate::output::Outputs;
use crate::readings;

/// What was typed: what is read, and where results go.
#[derive(Default)]
pub(crate) struct Names<'a> {
    pub(crate) sources: Vec<&'a Source>,
    pub(crate) zones: Vec<&'a ZoneSource>,
    /// Other files that are read.
    pub(crate) files: Vec<&'a Path>,
    /// Something is named that only a job has.
    pub(crate) named: bool,
    pub(crate) outputs: Vec<PathBuf>,
}

/// The job file that is given, or the one of this folder, of a command that cannot do without.
pub(crate) fn job_file(args: &JobArgs) -> Result<&Path, CommandError> {
    let here = Path::new(JOB_FILE);
    match &args.job {
        Some(path) => Ok(path),
        None if here.exists() => Ok(here),
        None => Err(CommandError::NoJobHere),
    }
}

/// Outputs are kept off the files of a job.
pub(crate) fn keep_off(outputs: &[PathBuf], job: &Job) -> Result<(), CommandError> {
    let inputs = job.files();
    let inputs: Vec<&Path> = inputs.iter().map(PathBuf::as_path).collect();
    let outputs: Vec<&Path> = outputs.iter().map(PathBuf::as_path).collect();
    Outputs::check(&outputs, &inputs)
}

impl Names<'_> {
    /// The job that names stand in: the one that is given, or else the one of this folder where something that was
    /// typed is no file, or is a name that only a job has. Before any work is done outputs are known to be writable,
    /// and none of them is read.
    pub(crate) fn job(
        &self,
        args: &JobArgs,
        reading: &ReadingArgs,
    ) -> Result<Option<Job>, CommandError> {
        let outputs = self.written();
        let sources = self.sources.iter().flat_map(|source| source.paths());
        let inputs = (sources.map(PathBuf::as_path))
            .chain(self.zones.iter().filter_map(|zone| zone.path()))
            .chain(self.files.iter().copied())
            .chain(reading.outline.as_deref());
        Outputs::check(&outputs, &inputs.collect::<Vec<_>>())?;
        let here = Path::new(JOB_FILE);
        let job = match &args.job {
            Some(path) => Some(Job::read(path)?),
            None if (self.needs_job() || reading.read_as.is_some()) && here.is_file() => {
                Some(Job::read(here)?)
            }
            None => None,
        };
        let named = job.as_ref().map_or(Vec::new(), Job::files);
        let named: Vec<&Path> = named.iter().map(PathBuf::as_path).collect();
        Outputs::check(&outputs, &named)?;
        Ok(job)
    }

    /// The files that results go to.
    pub(crate) fn written(&self) -> Vec<&Path> {
        self.outputs.iter().map(PathBuf::as_path).collect()
    }

    /// True where something is named that is no file.
    fn needs_job(&self) -> bool {
        let source = self.sources.iter().any(|source| match source {
            Source::File { path, name: None } => !path.exists(),
            _ => false,
        });
        let zone = self.zones.iter().any(|zone| match zone {
            ZoneSource::File { path, name: None } => !path.exists(),
            _ => false,
        });
        self.named || source || zone
    }
}

/// What is measured with: the job, how files are read, and the units that are asked for.
pub(crate) fn context<'j>(
    job: Option<&'j Job>,
    reading: &ReadingArgs,
    units: &UnitArgs,
) -> Result<Context<'j>, CommandError> {
    Ok(Context {
        units: RequestedUnits {
            length: units.length_unit,
            area: units.area_unit,
            volume: units.volume_unit,
        },
        ..context_of(job, reading)?
    })
}

/// The same in the usual units.
pub(crate) fn context_of<'j>(
    job: Option<&'j Job>,
    reading: &ReadingArgs,
) -> Result<Context<'j>, CommandError> {
    Ok(Context {
        job,
        reading: reading_of(job, reading)?,
        ..Context::default()
    })
}

/// How files are read: as typed, and for the rest as it is kept under the name that was typed.
pub(crate) fn reading_of(
    job: Option<&Job>,
    reading: &ReadingArgs,
) -> Result<Reading, CommandError> {
    let own = reading.reading()?;
    let Some(name) = &reading.read_as else {
        return Ok(own);
    };
    let kept = match readings::file() {
        Some(path) => readings_of(&path, &own.files)?,
        None => BTreeMap::new(),
    };
    Ok(own.over(named_reading(name, job, &kept)?))
}

/// What is meant by a surface that was typed.
pub(crate) fn surface(job: Option<&Job>, typed: &Source) -> Result<Source, CommandError> {
    match job {
        Some(job) => Ok(job.surface(typed)?),
        None => Ok(typed.clone()),
    }
}

/// What is meant by zones that were typed.
pub(crate) fn zones(
    job: Option<&Job>,
    typed: &[ZoneSource],
) -> Result<Vec<ZoneSource>, CommandError> {
    let meant = typed.iter().map(|zone| match job {
        Some(job) => Ok(job.zone(zone)?),
        None => Ok(zone.clone()),
    });
    meant.collect()
}
