//! What is done at the moment, told on a terminal while the work takes longer than a second.

use std::thread;
use std::time::Duration;

use dapedon_job::Doing;
use indicatif::{ProgressBar, ProgressDrawTarget, ProgressStyle};

/// Work that is done sooner is not told of.
const PATIENCE: Duration = Duration::from_secs(1);

/// Does some work that tells what it does.
pub(crate) fn telling<R>(work: impl FnOnce(&(dyn Fn(Doing<'_>) + Sync)) -> R) -> R {
    let bar = ProgressBar::with_draw_target(None, ProgressDrawTarget::hidden());
    // The template is our own, and valid.
    if let Ok(style) = ProgressStyle::with_template("{spinner} {msg}, {elapsed}") {
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
    let result = work(&|doing| bar.set_message(words(doing)));
    bar.finish_and_clear();
    result
}

fn words(doing: Doing<'_>) -> String {
    let words = match doing {
        Doing::Reading(source) => format!("reading {source}"),
        Doing::ReadingZones(zones) => format!("reading {zones}"),
        Doing::Making(source) => format!("making {source}"),
        Doing::Measuring {
            reference,
            surveyed,
            number,
            of,
        } => format!("overlay {number} of {of}: {reference} to {surveyed}"),
    };
    dapedon_formats::visible(&words).into_owned()
}
