//! `conformity`: whether a built surface lies within limits of its design.

use dapedon_core::plan::Place;
use dapedon_job::{
    Acceptance, BeyondSide, Conformity, ConformityRequest, ConformityVerdict, Context, Job,
    PatchBeyond, conformity,
};
use dapedon_report::{
    MapOptions, MapValue, MapWords, Picture, Shown, TitleBlock, describe, difference_map,
};

use crate::Outcome;
use crate::args::ConformityArgs;
use crate::error::CommandError;
use crate::map;
use crate::names::{self, Names};
use crate::outlines::OutlineFiles;
use crate::output::{Outputs, print_result};
use crate::telling::telling;

pub(crate) fn run(args: &ConformityArgs) -> Result<Outcome, CommandError> {
    let outlines = args.out.as_deref().map(OutlineFiles::of).transpose()?;
    let outputs = args.csv.iter().chain(&args.map.map).chain(&args.reports);
    let outputs = (outputs.cloned()).chain(outlines.iter().flat_map(OutlineFiles::paths));
    let typed = Names {
        sources: vec![&args.design, &args.built],
        zones: args.zones.iter().collect(),
        files: map::line_files(&args.map),
        named: map::names_a_line(&args.map),
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
    let found = telling(|watch| {
        let context = Context {
            watch,
            ..context.clone()
        };
        conformity(&context, &request)
    });
    let (mut found, scene, beyond) = found?;
    let mut files = Outputs::off(&read);
    let mut pictures = Vec::new();
    let worst = values(&found);
    let draw = |options: &MapOptions| {
        difference_map(&found.measured, 0.0, &scene, MapWords::CONFORMITY, options)
    };
    if pictured {
        let mut options = map::options(&args.map, &scene.lines, &scene.breaklines, title(&found));
        options.shown.push(Shown::Values(worst));
        let mut said = Vec::new();
        if let Some(path) = &args.map.map {
            let (svg, left_out) = draw(&options)?;
            let boxes = map::stage(&mut files, &args.map, path, &svg)?;
            said.extend(map::findings(left_out).into_iter().chain(boxes));
        }
        if !args.reports.is_empty() {
            let (svg, _) = draw(&map::on_a_page(options))?;
            let caption = String::new();
            pictures.push(Picture { caption, svg });
        }
        found.warnings.extend(said);
    }
    if let Some(to) = &outlines {
        let materials = vec![""; beyond.len()];
        to.stage(&mut files, &beyond, &materials, found.units.length)?;
    }
    let report = describe::conformity(&found, pictures);
    files.stage_csv(args.csv.as_ref(), &report)?;
    files.stage_reports(&args.reports, &report, &args.title)?;
    print_result(files, args.json, &found, &report, &typed.outputs)?;
    Ok(match found.judged.verdict {
        ConformityVerdict::Conforms => Outcome::Done,
        ConformityVerdict::NotShown | ConformityVerdict::DoesNotConform => Outcome::Finding,
    })
}

fn request(args: &ConformityArgs, job: Option<&Job>) -> Result<ConformityRequest, CommandError> {
    Ok(ConformityRequest {
        design: names::surface(job, &args.design)?,
        built: names::surface(job, &args.built)?,
        zones: names::zones(job, &args.zones)?,
        limits: args.limits.rules(),
        crossfall: args.limits.crossfall(job)?,
        acceptance: match args.limits.simple_acceptance {
            true => Acceptance::Simple,
            false => Acceptance::GuardBand,
        },
        outlined: args.out.is_some(),
        accuracies: args.accuracy.both(),
    })
}

/// The difference at the worst place of each patch that is listed.
fn values(found: &Conformity) -> Vec<MapValue> {
    let patches = found
        .judged
        .patches
        .iter()
        .flat_map(|patches| &patches.worst);
    let value = |patch: &PatchBeyond| {
        let value = match patch.side {
            BeyondSide::Above => found.judged.limits.highest?.value + patch.beyond.value,
            BeyondSide::Below => found.judged.limits.lowest?.value - patch.beyond.value,
        };
        Some(MapValue {
            at: Place::new(patch.at.east, patch.at.north),
            value,
        })
    };
    patches.filter_map(value).collect()
}

/// What a map says of itself.
fn title(found: &Conformity) -> TitleBlock {
    let (design, built) = (&found.design, &found.built);
    let heading = format!("Conformity of {} to {}", built.source, design.source);
    let sides = [("Design", design), ("Built", built)];
    let mut title = map::title(heading, found.job.as_ref(), &sides);
    let limits = describe::limits_of_height(found);
    title.line("Allowed", limits);
    title.line("Unit", found.units.length.name());
    title
}
