//! `progress`: items followed from survey to survey.

use std::path::PathBuf;

use dapedon_job::{Context, Job, Reading, progress};
use dapedon_report::describe;

use crate::args::ProgressArgs;
use crate::error::CommandError;
use crate::measure::picture;
use crate::names;
use crate::output::{Outputs, print_result};
use crate::telling::telling;

pub(crate) fn run(args: &ProgressArgs) -> Result<(), CommandError> {
    let job = Job::read(names::job_file(&args.job)?)?;
    let outputs: Vec<PathBuf> = args.csv.iter().chain(&args.reports).cloned().collect();
    names::keep_off(&outputs, &job)?;

    let reading = Reading {
        ignore_crs: args.ignore_crs,
        ..Reading::default()
    };
    let mut files = Outputs::off(&reading.files);
    let (found, maps) = telling(|watch| {
        let context = Context {
            reading,
            watch,
            ..Context::of(&job)
        };
        progress(&context, &args.codes)
    })?;
    let maps = match args.reports.is_empty() {
        false => maps.iter().map(picture).collect::<Result<_, _>>()?,
        true => Vec::new(),
    };
    let report = describe::progress(&found, maps);
    files.stage_csv(args.csv.as_ref(), &report)?;
    files.stage_reports(&args.reports, &report, &args.title)?;
    print_result(files, args.json, &found, &report, &outputs)
}
