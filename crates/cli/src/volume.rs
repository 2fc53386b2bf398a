//! `volume`: measure between two surfaces.

use dapedon_core::plan::Place;
use dapedon_formats::RawZone;
use dapedon_job::{
    BandsSource, Context, Job, Measurement, ProposedUntouched, Request, Scene, Severity, measure,
    named_bands,
};
use dapedon_report::{MapOptions, MapWords, Picture, TitleBlock, describe, difference_map};

use crate::Outcome;
use crate::args::VolumeArgs;
use crate::error::CommandError;
use crate::map;
use crate::names::{self, Names};
use crate::outlines::OutlineFiles;
use crate::output::{Outputs, print_result};
use crate::telling::telling;

pub(crate) fn run(args: &VolumeArgs) -> Result<Outcome, CommandError> {
    let proposal = args.untouched.propose_untouched.as_deref();
    let proposal = proposal.map(OutlineFiles::of).transpose()?;
    let outputs = args.csv.iter().chain(&args.map.map).chain(&args.reports);
    let outputs = (outputs.cloned()).chain(proposal.iter().flat_map(OutlineFiles::paths));
    let typed = Names {
        sources: vec![&args.reference, &args.surveyed],
        zones: (args.zones.iter().chain(&args.untouched.untouched)).collect(),
        files: map::line_files(&args.map),
        named: map::names_a_line(&args.map)
            || args.converting.needs_job()
            || matches!(args.bands, Some(BandsSource::Named(_))),
        outputs: outputs.collect(),
    };
    let job = typed.job(&args.job, &args.reading)?;
    let context = names::context(job.as_ref(), &args.reading, &args.units)?;
    let request = request(args, job.as_ref())?;
    let read = context.reading.files.clone();
    let pictured = args.map.map.is_some() || !args.reports.is_empty();
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
        if !args.reports.is_empty() {
            let (svg, _) = draw(&measurement, &map::on_a_page(options))?;
            let caption = String::new();
            pictures.push(Picture { caption, svg });
            pictures.extend(untouched_picture(&scene, args)?);
        }
    }
    if let (Some(to), Some(found)) = (&proposal, &measurement.proposed_untouched) {
        to.stage(&mut files, &[outline(found)], &[""], scene.units.length)?;
    }
    let report = describe::volume(&measurement, pictures);
    files.stage_csv(args.csv.as_ref(), &report)?;
    files.stage_reports(&args.reports, &report, &args.title)?;
    print_result(files, args.json, &measurement, &report, &typed.outputs)?;
    let mut failed = measurement.warnings.iter();
    let failed = failed.any(|finding| finding.severity == Severity::Failed);
    Ok(match failed {
        true => Outcome::Finding,
        false => Outcome::Done,
    })
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
        untouched: names::zones(job, &args.untouched.untouched)?,
        propose_untouched: args.untouched.propose_untouched.is_some(),
        opinions: args.opinions.rules(),
        between_points: args.between_points,
    })
}

/// The ground that nobody touched, drawn by itself.
fn untouched_picture(scene: &Scene, args: &VolumeArgs) -> Result<Option<Picture>, CommandError> {
    let Some((ground, rows)) = scene.untouched.as_deref() else {
        return Ok(None);
    };
    let options = MapOptions {
        title: None,
        ..map::on_a_page(map::options(
            &args.map,
            &[],
            &ground.breaklines,
            TitleBlock::default(),
        ))
    };
    let (svg, _) = difference_map(rows, 0.0, ground, MapWords::VOLUME, &options)?;
    let caption = "Difference on the ground that nobody touched".into();
    Ok(Some(Picture { caption, svg }))
}

/// Ground that may be untouched, as a zone.
fn outline(found: &ProposedUntouched) -> RawZone {
    let ring = |ring: &Vec<[f64; 2]>| ring.iter().map(|&[e, n]| Place::new(e, n)).collect();
    RawZone {
        name: found.ground.zone.clone(),
        parts: vec![found.outline.iter().map(ring).collect()],
        ..RawZone::default()
    }
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
