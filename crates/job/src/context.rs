//! What all that is measured is measured with.

use std::sync::atomic::{AtomicBool, Ordering};

use dapedon_core::units::{AreaUnit, LengthUnit, VolumeUnit};

use rayon::ThreadPool;

use crate::error::{JobError, job_error};
use crate::input::{Reading, Source, ZoneSource};
use crate::job_file::Job;
use crate::units::{ReportUnits, UnitsAsked};

/// What all that is measured is measured with: a job, how files are read, the units, and who is told what is done.
#[derive(Clone)]
pub struct Context<'c> {
    /// The job that names stand in.
    pub job: Option<&'c Job>,
    /// What the files do not say themselves.
    pub reading: Reading,
    /// The units that are asked for.
    pub units: UnitsAsked,
    /// Told what is done next.
    pub tell: &'c (dyn Fn(Doing<'_>) + Sync),
    /// The work stops at its next step once this is set: there is no figure then.
    pub stop: Option<&'c AtomicBool>,
    /// The threads that work on it; without, those that all work of the process shares. Figures do not depend on them.
    pub threads: Option<&'c ThreadPool>,
}

impl<'c> Context<'c> {
    /// With the names of a job, files read as they are, in the usual units.
    pub fn of(job: &'c Job) -> Self {
        Context {
            job: Some(job),
            ..Context::default()
        }
    }

    /// Does some work on the threads that are given for it.
    pub(crate) fn run<R: Send>(&self, work: impl FnOnce() -> R + Send) -> R {
        match self.threads {
            Some(threads) => threads.install(work),
            None => work(),
        }
    }

    /// Tells what is done next, unless it is to stop.
    pub(crate) fn next(&self, doing: Doing<'_>) -> Result<(), JobError> {
        self.go_on()?;
        (self.tell)(doing);
        Ok(())
    }

    /// That it need not stop.
    pub(crate) fn go_on(&self) -> Result<(), JobError> {
        match self.stop.is_some_and(|stop| stop.load(Ordering::Relaxed)) {
            true => Err(StoppedError::Stopped.into()),
            false => Ok(()),
        }
    }

    /// The units that figures are told in, of what is measured in a length unit: what is asked for, or else what the job
    /// says.
    pub(crate) fn report_units(&self, length: LengthUnit) -> ReportUnits {
        let area = (self.units.area).or(self.job.and_then(|job| job.area_unit));
        let volume = (self.units.volume).or(self.job.and_then(|job| job.volume_unit));
        ReportUnits {
            length,
            area: area.map_or(AreaUnit::usual(length), |of| of(length)),
            volume: volume.map_or(VolumeUnit::usual(length), |of| of(length)),
            decimals: self.job.and_then(|job| job.decimals).unwrap_or(1),
        }
    }
}

impl Default for Context<'_> {
    fn default() -> Self {
        Context {
            job: None,
            reading: Reading::default(),
            units: UnitsAsked::default(),
            tell: &|_| {},
            stop: None,
            threads: None,
        }
    }
}

/// Why work that was begun was not ended.
#[derive(Debug, Clone, Copy, PartialEq, Eq, thiserror::Error, strum::IntoStaticStr)]
#[strum(serialize_all = "kebab-case")]
pub enum StoppedError {
    /// It was told to stop.
    #[error("it was stopped before its end")]
    Stopped,
}

impl StoppedError {
    fn remedy(&self) -> &'static str {
        "run it again"
    }
}

dapedon_diagnostic::diagnostic!(StoppedError, "context");
job_error!(StoppedError);

/// What is done next.
#[derive(Debug, Clone, Copy, PartialEq)]
pub enum Doing<'d> {
    /// A file is read.
    Reading(&'d Source),
    /// A file of zones is read.
    ReadingZones(&'d ZoneSource),
    /// A surface is made.
    Making(&'d Source),
    /// Two surfaces are laid over each other: which overlay it is, of how many.
    Measuring {
        /// From this one.
        reference: &'d Source,
        /// To this one.
        surveyed: &'d Source,
        /// Counted from one.
        number: usize,
        /// How many there are.
        of: usize,
    },
}
