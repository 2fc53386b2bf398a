//! Who watches the work: told what is done and how far it has come, and free to stop it.

use std::io;
use std::ops::ControlFlow;
use std::sync::Arc;
use std::sync::atomic::{AtomicBool, AtomicU64, Ordering};

use crate::error::{JobError, job_error};

/// What is done.
#[derive(Debug, Clone, PartialEq, Eq)]
pub enum Activity {
    /// A file is read.
    Reading(String),
    /// A file of zones is read.
    ReadingZones(String),
    /// A surface is made.
    Making(String),
    /// Contours are found.
    DrawingContours,
    /// Heights are read at places.
    ReadingHeights,
    /// Sections are cut and measured.
    Cutting,
    /// Half of the points of a survey are left out, and what is left is measured.
    LeavingOutPoints,
    /// Two surfaces are laid over each other: which overlay it is, of how many.
    Measuring {
        /// From this one.
        reference: String,
        /// To this one.
        surveyed: String,
        /// Counted from one.
        number: usize,
        /// How many there are.
        of: usize,
    },
}

type Tell = dyn Fn(&Activity, f64) + Send + Sync;

/// Who watches the work. Without any, nobody sees progress, and nothing stops it.
#[derive(Clone, Default)]
pub struct Watch {
    tell: Option<Arc<Tell>>,
    stop: Option<Arc<AtomicBool>>,
}

impl Watch {
    /// Somebody who watches progress, at its start and from time to time until its end, with the share of it that
    /// is done; of what cannot be given how far it has come, the start alone.
    pub fn telling(tell: impl Fn(&Activity, f64) + Send + Sync + 'static) -> Self {
        Watch {
            tell: Some(Arc::new(tell)),
            stop: None,
        }
    }

    /// The same, and the work stops soon after this is set: there is no figure then.
    #[must_use]
    pub fn stopped_by(self, stop: Arc<AtomicBool>) -> Self {
        Watch {
            stop: Some(stop),
            ..self
        }
    }

    /// Tells what is done next, unless it is to stop.
    pub(crate) fn next(&self, doing: Activity) -> Result<Step, JobError> {
        let step = Step {
            watch: self.clone(),
            doing: Some(Arc::new(doing)),
            ..Step::default()
        };
        match step.at(0.0) {
            ControlFlow::Continue(()) => Ok(step),
            ControlFlow::Break(()) => Err(StoppedError::Stopped.into()),
        }
    }
}

/// One step of the work, as it is watched. Clones are the same step.
#[derive(Clone, Default)]
pub(crate) struct Step {
    watch: Watch,
    doing: Option<Arc<Activity>>,
    /// Bytes that were read for it, and that there are.
    bytes: Arc<[AtomicU64; 2]>,
}

impl Step {
    /// Tells that a share of it is done, and whether it goes on.
    pub(crate) fn at(&self, share: f64) -> ControlFlow<()> {
        if self.is_stopped() {
            return ControlFlow::Break(());
        }
        if let (Some(tell), Some(doing)) = (&self.watch.tell, &self.doing) {
            tell(doing, share);
        }
        ControlFlow::Continue(())
    }

    /// The same, without progress.
    pub(crate) fn untold(&self) -> Self {
        Step {
            doing: None,
            ..self.clone()
        }
    }

    fn is_stopped(&self) -> bool {
        let stop = self.watch.stop.as_ref();
        stop.is_some_and(|stop| stop.load(Ordering::Relaxed))
    }

    /// That so many more bytes are to be read.
    pub(crate) fn to_read(&self, bytes: u64) {
        self.bytes[1].fetch_add(bytes, Ordering::Relaxed);
    }

    /// That so many bytes were read.
    pub(crate) fn read(&self, bytes: usize) -> io::Result<()> {
        let [read, all] = &*self.bytes;
        let read = read.fetch_add(bytes as u64, Ordering::Relaxed) + bytes as u64;
        // Nobody knows how long a pipe is.
        let goes_on = match all.load(Ordering::Relaxed) {
            0 => self.untold().at(0.0),
            all => self.at((read as f64 / all as f64).min(1.0)),
        };
        match goes_on {
            ControlFlow::Continue(()) => Ok(()),
            ControlFlow::Break(()) => Err(io::Error::other(StoppedError::Stopped)),
        }
    }

    /// What came of it, unless it was stopped: what failed then, failed because it was.
    pub(crate) fn unless_stopped<T, E: Into<JobError>>(
        &self,
        found: Result<T, E>,
    ) -> Result<T, JobError> {
        match self.is_stopped() {
            true => Err(StoppedError::Stopped.into()),
            false => found.map_err(Into::into),
        }
    }
}

/// Why work that was begun was not ended.
#[derive(Debug, Clone, Copy, PartialEq, Eq, thiserror::Error, strum::IntoStaticStr)]
#[strum(serialize_all = "kebab-case")]
pub enum StoppedError {
    /// The run was stopped.
    #[error("the run was stopped")]
    Stopped,
}

impl StoppedError {
    fn remedy(&self) -> &'static str {
        "run the command again"
    }
}

dapedon_diagnostic::diagnostic!(StoppedError, "context");
job_error!(StoppedError);

#[cfg(test)]
mod tests {
    use super::*;
    use std::sync::Mutex;

    #[test]
    fn bytes_are_told_as_a_share_and_stop_with_the_work() {
        let told = Arc::new(Mutex::new(Vec::new()));
        let stop = Arc::new(AtomicBool::new(false));
        let watch = {
            let told = told.clone();
            Watch::telling(move |_, share| told.lock().unwrap().push(share))
        };
        let watch = watch.stopped_by(stop.clone());
        let step = watch.next(Activity::Making("a".into())).unwrap();
        step.read(5).unwrap();
        assert_eq!(*told.lock().unwrap(), [0.0], "of a pipe no share is known");
        let step = watch.next(Activity::Making("b".into())).unwrap();
        step.to_read(80);
        step.read(20).unwrap();
        let same = step.clone();
        same.read(40).unwrap();
        step.read(100).unwrap();
        assert_eq!(*told.lock().unwrap(), [0.0, 0.0, 0.25, 0.75, 1.0]);
        assert_eq!(step.unless_stopped(Ok::<_, JobError>(7)).unwrap(), 7);
        stop.store(true, Ordering::Relaxed);
        assert!(step.read(1).is_err());
        assert!(step.unless_stopped(Ok::<_, JobError>(7)).is_err());
        assert!(watch.next(Activity::Making("c".into())).is_err());
    }
}
