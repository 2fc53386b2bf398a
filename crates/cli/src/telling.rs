//! What is done at the moment, told on a terminal while the work takes longer than a second, with the time left.

use std::sync::{Mutex, PoisonError};
use std::thread;
use std::time::{Duration, Instant};

use dapedon_job::{Activity, Watch};
use indicatif::{ProgressBar, ProgressDrawTarget, ProgressStyle};

/// Work that is done sooner is not told of.
const PATIENCE: Duration = Duration::from_secs(1);
/// Of work of which less is done, nobody knows how long the rest takes.
const LITTLE: f64 = 0.02;

/// Does some work that tells what it does.
pub(crate) fn telling<R>(work: impl FnOnce(Watch) -> R) -> R {
    let bar = ProgressBar::with_draw_target(None, ProgressDrawTarget::hidden());
    // The template is our own, and valid.
    if let Ok(style) = ProgressStyle::with_template("{spinner} {elapsed} {msg}") {
        bar.set_style(style);
    }
    bar.enable_steady_tick(Duration::from_millis(120));
    let shown = bar.clone();
    thread::spawn(move || {
        thread::sleep(PATIENCE);
        if !shown.is_finished() {
            shown.set_draw_target(ProgressDrawTarget::stderr());
        }
    });
    let told = bar.clone();
    let begun = Mutex::new(TimeLeft::default());
    let result = work(Watch::telling(move |doing, share| {
        let words = words(doing);
        // All overlays are one stretch of work: the time left is that of all of them.
        let (stretch, share) = match doing {
            Activity::Measuring { number, of, .. } => {
                let before = number.saturating_sub(1) as f64;
                ("measuring", (before + share) / (*of).max(1) as f64)
            }
            _ => (words.as_str(), share),
        };
        let mut begun = begun.lock().unwrap_or_else(PoisonError::into_inner);
        let elapsed = begun.elapsed(stretch, share, Instant::now());
        told.set_message(match left(elapsed, share) {
            Some(left) => format!("{words}, {left}"),
            None => words,
        });
    }));
    bar.finish_and_clear();
    result
}

/// A stretch of work with a known share.
#[derive(Default)]
struct TimeLeft {
    name: String,
    begun: Option<Instant>,
    share: f64,
}

impl TimeLeft {
    /// How long it has taken. Another name, or a smaller share, begins a new one.
    fn elapsed(&mut self, name: &str, share: f64, now: Instant) -> Duration {
        if self.name != name || share < self.share {
            self.begun = None;
            name.clone_into(&mut self.name);
        }
        self.share = share;
        now - *self.begun.get_or_insert(now)
    }
}

fn words(doing: &Activity) -> String {
    let words = match doing {
        Activity::Reading(source) => format!("reading {source}"),
        Activity::ReadingZones(zones) => format!("reading {zones}"),
        Activity::Making(source) => format!("making {source}"),
        Activity::DrawingContours => "finding contours".into(),
        Activity::ReadingHeights => "reading heights".into(),
        Activity::LeavingOutPoints => "leaving out half of the points".into(),
        Activity::Cutting => "cutting sections".into(),
        Activity::Measuring {
            reference,
            surveyed,
            number,
            of,
        } => format!("overlay {number} of {of}: {reference} to {surveyed}"),
    };
    dapedon_formats::visible(&words).into_owned()
}

/// How much is done, and how long the rest takes if it goes on like this.
fn left(elapsed: Duration, share: f64) -> Option<String> {
    if share < LITTLE {
        return None;
    }
    let seconds = elapsed.as_secs_f64() * (1.0 / share - 1.0);
    let time = match seconds {
        seconds if seconds < 90.0 => format!("{seconds:.0} s"),
        seconds => format!("{:.0} min", seconds / 60.0),
    };
    Some(format!("{:.0} %, {time} left", 100.0 * share))
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_stretch_begins_with_a_name_or_a_smaller_share() {
        let start = Instant::now();
        let at = |seconds: u64| start + Duration::from_secs(seconds);
        let mut stretch = TimeLeft::default();
        let mut seconds = |name, share, now| stretch.elapsed(name, share, at(now)).as_secs();
        assert_eq!(seconds("a", 0.0, 0), 0);
        assert_eq!(seconds("a", 0.5, 4), 4);
        assert_eq!(seconds("a", 0.1, 5), 0);
        assert_eq!(seconds("a", 0.2, 7), 2);
        assert_eq!(seconds("b", 0.3, 9), 0);
        assert_eq!(seconds("b", 0.3, 10), 1);
    }

    #[test]
    fn the_time_left_follows_from_the_share() {
        let after = |seconds: u64, share| left(Duration::from_secs(seconds), share);
        assert_eq!(after(3, 0.0), None);
        assert_eq!(after(3, 0.25).as_deref(), Some("25 %, 9 s left"));
        assert_eq!(after(60, 0.2).as_deref(), Some("20 %, 4 min left"));
        assert_eq!(after(60, 1.0).as_deref(), Some("100 %, 0 s left"));
    }
}
