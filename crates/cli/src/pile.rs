//! `pile`: piles and pits, each against its own base.

use dapedon_job::{BaseSource, Context, Job, PileRequest, Piles, ZoneMeasurement, pile};
use dapedon_report::{MapOptions, MapWords, Picture, TitleBlock, describe, difference_map};

use crate::args::PileArgs;
use crate::error::CommandError;
use crate::map;
use crate::names::{self, Names};
use crate::outlines::OutlineFiles;
use crate::output::{Outputs, print_result};
use crate::telling::telling;

pub(crate) fn run(args: &PileArgs) -> Result<(), CommandError> {
    let bases = args.bases.iter().filter_map(|base| match base {
        BaseSource::Surface(source) => Some(source),
        _ => None,
    });
    let outlines = args.outlines.as_deref().map(OutlineFiles::of).transpose()?;
    let outputs = args
        .csv
        .iter()
        .chain(&args.map.map)
        .chain(&args.reports)
        .cloned();
    let sources = [&args.surface].into_iter().chain(bases);
    let typed = Names {
        sources: sources.chain(&args.previous).collect(),
        zones: args.zones.iter().collect(),
        files: map::line_files(&args.map),
        named: map::names_a_line(&args.map) || args.made_of.names_one(),
        outputs: (outputs.chain(outlines.iter().flat_map(OutlineFiles::paths))).collect(),
    };
    let job = typed.job(&args.job, &args.reading)?;

    let pictured = args.map.map.is_some() || !args.reports.is_empty();
    let context = Context {
        pictures: pictured
            .then(|| map::pictures(&args.map, job.as_ref()))
            .transpose()?,
        ..names::context(job.as_ref(), &args.reading, &args.units)?
    };
    let request = request(args, job.as_ref())?;
    let read = context.reading.files.clone();
    let measured = telling(|watch| {
        let context = Context {
            watch,
            ..context.clone()
        };
        pile(&context, &request)
    });
    let (mut found, scene, raw) = measured?;
    let mut files = Outputs::off(&read);
    let mut pictures = Vec::new();
    let rows = found.zones.iter().map(|pile| pile.measured.clone());
    let rows: Vec<ZoneMeasurement> = rows.collect();
    if pictured {
        let options = map::options(&args.map, &scene.lines, &scene.breaklines, title(&found));
        let draw =
            |options: &MapOptions| difference_map(&rows, 0.0, &scene, MapWords::BASE, options);
        if let Some(path) = &args.map.map {
            let (svg, left_out) = draw(&options)?;
            let boxes = map::stage(&mut files, &args.map, path, &svg)?;
            let left_out = map::findings(left_out).into_iter();
            found.warnings.extend(left_out.chain(boxes));
        }
        if !args.reports.is_empty() {
            let (svg, _) = draw(&map::on_a_page(options))?;
            let caption = String::new();
            pictures.push(Picture { caption, svg });
        }
    }
    if let Some(outlines) = &outlines {
        let materials = found.zones.iter().map(|pile| {
            let material = pile.material.as_ref();
            material.map_or("", |line| line.material.as_str())
        });
        let materials: Vec<&str> = materials.collect();
        outlines.stage(&mut files, &raw, &materials, scene.units.length)?;
    }
    let report = describe::piles(&found, args.compare_bases, pictures);
    files.stage_csv(args.csv.as_ref(), &report)?;
    files.stage_reports(&args.reports, &report, &args.title)?;
    print_result(files, args.json, &found, &report, &typed.outputs)
}

fn request(args: &PileArgs, job: Option<&Job>) -> Result<PileRequest, CommandError> {
    let bases = args.bases.iter().map(|base| {
        Ok(match base {
            BaseSource::Surface(typed) => BaseSource::Surface(names::surface(job, typed)?),
            base => base.clone(),
        })
    });
    Ok(PileRequest {
        surface: names::surface(job, &args.surface)?,
        outlines: args.outlines(names::zones(job, &args.zones)?),
        pit: args.pit,
        bases: bases.collect::<Result<_, CommandError>>()?,
        compare: args.compare_bases,
        previous: (args.previous.as_ref())
            .map(|typed| names::surface(job, typed))
            .transpose()?,
        materials: args.made_of.materials(),
        accuracy: args.accuracy.accuracy.clone(),
        between_points: args.between_points,
    })
}

/// What a map says of itself.
fn title(found: &Piles) -> TitleBlock {
    let heading = format!("{} above its base", found.surface.source);
    let mut title = map::title(heading, found.job.as_ref(), &[("Surface", &found.surface)]);
    title.line("Unit", found.units.length.name());
    title
}
