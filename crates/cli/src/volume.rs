//! `volume`: measure between two surfaces.

use dapedon_job::{BandsSource, Context, Job, Measurement, Request, measure, named_bands};
use dapedon_report::{MapOptions, MapWords, Picture, TitleBlock, describe, difference_map};

use crate::args::VolumeArgs;
use crate::error::CommandError;
use crate::map;
use crate::names::{self, Names};
use crate::output::{Outputs, print_result};
use crate::progress::telling;

pub(crate) fn run(args: &VolumeArgs) -> Result<(), CommandError> {
    let outputs = args.csv.iter().chain(&args.map.map).chain(&args.report);
    let typed = Names {
        sources: vec![&args.reference, &args.surveyed],
        zones: args.zones.iter().collect(),
        files: map::line_files(&args.map),
        named: map::names_a_line(&args.map)
            || args.converting.needs_job()
            || matches!(args.bands, Some(BandsSource::Named(_))),
        outputs: outputs.cloned().collect(),
    };
    let job = typed.job(&args.job, &args.reading)?;
    let context = names::context(job.as_ref(), &args.reading, &args.units)?;
    let request = request(args, job.as_ref())?;
    let read = context.reading.files.clone();
    let pictured = args.map.map.is_some() || args.report.is_some();
    let context = Context {
        pictures: pictured
            .then(|| map::pictures(&args.map, job.as_ref()))
            .transpose()?,
        ..context
    };
    let measured = telling(|watch| {
        let context = Context {
            watch,
            ..context.clone()
        };
        measure(&context, &request)
    });
    let (mut measurement, scene) = measured?;
    let mut files = Outputs::off(&read);
    let mut pictures = Vec::new();
    let draw = |measurement: &Measurement, options: &MapOptions| {
        let (rows, tolerance) = (&measurement.zones, measurement.tolerance.value);
        difference_map(rows, tolerance, &scene, MapWords::VOLUME, options)
    };
    if pictured {
        let title = title(&measurement);
        let options = map::options(&args.map, &scene.lines, &scene.breaklines, title);
        if let Some(path) = &args.map.map {
            let (svg, left_out) = draw(&measurement, &options)?;
            let boxes = map::stage(&mut files, &args.map, path, &svg)?;
            let left_out = map::findings(left_out).into_iter();
            measurement.warnings.extend(left_out.chain(boxes));
        }
        if args.report.is_some() {
            let (svg, _) = draw(&measurement, &map::on_a_page(options))?;
            let caption = String::new();
            pictures.push(Picture { caption, svg });
        }
    }
    let report = describe::volume(&measurement, pictures);
    files.stage_csv(args.csv.as_ref(), &report)?;
    files.stage_page(args.report.as_ref(), &report, &args.title)?;
    print_result(files, args.json, &measurement, &report, &typed.outputs)
}

fn request(args: &VolumeArgs, job: Option<&Job>) -> Result<Request, CommandError> {
    let bands = args.bands.as_ref().map(|typed| named_bands(typed, job));
    Ok(Request {
        reference: names::surface(job, &args.reference)?,
        surveyed: names::surface(job, &args.surveyed)?,
        zones: names::zones(job, &args.zones)?,
        tolerance: args.tolerance,
        by_depth: args.by_depth,
        bands: bands.transpose()?,
        middle_band: args.middle_band,
        accuracies: args.accuracy.both(),
        converting: args.converting.converting(job)?,
    })
}

/// What a map says of itself.
fn title(measurement: &Measurement) -> TitleBlock {
    let (reference, surveyed) = (&measurement.reference, &measurement.surveyed);
    let heading = format!(
        "Difference from {} to {}",
        reference.source, surveyed.source
    );
    let sides = [("Reference", reference), ("Surveyed", surveyed)];
    let mut title = map::title(heading, measurement.job.as_ref(), &sides);
    let symbol = measurement.units.length.symbol();
    title.line(
        "Tolerance",
        format!("±{} {symbol}", measurement.tolerance.value),
    );
    title.line("Unit", measurement.units.length.name());
    title
}
