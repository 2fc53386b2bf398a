//! What all that is measured is measured with.

use dapedon_core::units::{AreaUnit, LengthUnit, VolumeUnit};

use rayon::ThreadPool;

use crate::finding::Finding;
use crate::input::{LineSource, Reading};
use crate::job_file::Job;
use crate::units::{ReportUnits, RequestedUnits};
use crate::watch::Watch;

/// What all that is measured is measured with: a job, how files are read, the units, and who watches progress.
#[derive(Clone, Default)]
pub struct Context<'c> {
    /// The job that names stand in.
    pub job: Option<&'c Job>,
    /// What the files do not say themselves.
    pub reading: Reading,
    /// The units that are asked for.
    pub units: RequestedUnits,
    /// What is taken from the measurement for a map; without, nothing is.
    pub pictures: Option<Pictures>,
    /// Who watches the work.
    pub watch: Watch,
    /// The threads that work on it; without, those that all work of the process shares. Figures do not depend on them.
    pub threads: Option<&'c ThreadPool>,
}

/// What a map needs of what is measured.
#[derive(Debug, Clone, Default)]
pub struct Pictures {
    /// How wide and how high the map may be, in pixels.
    pub room: [f64; 2],
    /// Lines that are drawn over it.
    pub lines: Vec<LineSource>,
}

impl<'c> Context<'c> {
    /// With the names of a job, files read as they are, in the usual units.
    pub fn of(job: &'c Job) -> Self {
        Context {
            job: Some(job),
            ..Context::default()
        }
    }

    /// Findings, with the reasons of those that the job acknowledges; `of` is what they were found of, where they do not say so themselves.
    pub(crate) fn acknowledged(&self, of: &str, findings: Vec<Finding>) -> Vec<Finding> {
        let plans = self.job.map_or(&[][..], |job| &job.acknowledged);
        let reason = |finding: &Finding| plans.iter().find(|plan| plan.is_of(of, finding));
        let findings = findings.into_iter().map(|finding| Finding {
            acknowledged: reason(&finding).map(|plan| plan.reason.clone()),
            ..finding
        });
        findings.collect()
    }

    /// Does some work on the threads that are given for it.
    pub(crate) fn run<R: Send>(&self, work: impl FnOnce() -> R + Send) -> R {
        match self.threads {
            Some(threads) => threads.install(work),
            None => work(),
        }
    }

    /// The units that figures are reported in, of what is measured in a length unit: what is asked for, or else what the job
    /// says.
    pub(crate) fn report_units(&self, length: LengthUnit) -> ReportUnits {
        let area = (self.units.area).or(self.job.and_then(|job| job.area_unit));
        let volume = (self.units.volume).or(self.job.and_then(|job| job.volume_unit));
        ReportUnits {
            length,
            area: area.map_or(AreaUnit::usual(length), |asked| asked.on(length)),
            volume: volume.map_or(VolumeUnit::usual(length), |asked| asked.on(length)),
            decimals: self.job.and_then(|job| job.decimals).unwrap_or(1),
        }
    }
}
