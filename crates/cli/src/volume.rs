//! `volume`: measure between two surfaces.

use dapedon_job::{Context, Job, Request, measure};
use dapedon_report::{Picture, describe, map};

use crate::args::VolumeArgs;
use crate::error::CommandError;
use crate::names::{self, Names};
use crate::output::{Outputs, print_result};
use crate::progress::telling;

pub(crate) fn run(args: &VolumeArgs) -> Result<(), CommandError> {
    let outputs = args.csv.iter().chain(&args.map).chain(&args.report);
    let typed = Names {
        sources: vec![&args.reference, &args.surveyed],
        zones: args.zones.iter().collect(),
        named: args.converting.needs_job(),
        outputs: outputs.cloned().collect(),
        ..Names::default()
    };
    let job = typed.job(&args.job, &args.reading)?;
    let context = names::context(job.as_ref(), &args.reading, &args.units)?;
    let request = request(args, job.as_ref())?;
    let read = context.reading.files.clone();
    let context = Context {
        pictures: args.map.is_some() || args.report.is_some(),
        ..context
    };
    let (measurement, scene) = telling(|watch| measure(&Context { watch, ..context }, &request))?;
    let mut files = Outputs::off(&read);
    let mut pictures = Vec::new();
    if args.map.is_some() || args.report.is_some() {
        let svg = map(&measurement.zones, measurement.tolerance.value, &scene)?;
        if let Some(path) = &args.map {
            files.stage(path, svg.as_bytes())?;
        }
        let caption = String::new();
        pictures.push(Picture { caption, svg });
    }
    let report = describe::volume(&measurement, pictures);
    files.stage_csv(args.csv.as_ref(), &report)?;
    files.stage_page(args.report.as_ref(), &report, &args.title)?;
    print_result(files, args.json, &measurement, &report, &typed.outputs)
}

fn request(args: &VolumeArgs, job: Option<&Job>) -> Result<Request, CommandError> {
    Ok(Request {
        reference: names::surface(job, &args.reference)?,
        surveyed: names::surface(job, &args.surveyed)?,
        zones: names::zones(job, &args.zones)?,
        tolerance: args.tolerance,
        by_depth: args.by_depth,
        converting: args.converting.converting(job)?,
    })
}
