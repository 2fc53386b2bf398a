//! `haul`: which cut goes to which fill with the least haul.

use dapedon_core::plan::Place;
use dapedon_job::{Context, HaulSite, Job, ZoneHaul, ZoneHaulGround, ZoneHaulRequest, zone_haul};
use dapedon_report::{
    MapArrow, MapOptions, MapPlace, MapWords, Picture, Shown, TitleBlock, describe, difference_map,
    number::grouped,
};

use crate::args::HaulArgs;
use crate::error::CommandError;
use crate::map;
use crate::names::{self, Names};
use crate::output::{Outputs, print_result};
use crate::telling::telling;

pub(crate) fn run(args: &HaulArgs) -> Result<(), CommandError> {
    let outputs = args.csv.iter().chain(&args.map.map).chain(&args.reports);
    let typed = Names {
        sources: vec![&args.reference, &args.surveyed],
        zones: args.zones.iter().collect(),
        files: map::line_files(&args.map),
        named: map::names_a_line(&args.map),
        outputs: outputs.cloned().collect(),
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
    let (mut found, ground) = telling(|watch| {
        let context = Context {
            watch,
            ..context.clone()
        };
        zone_haul(&context, &request)
    })?;
    let mut files = Outputs::off(&read);
    let mut pictures = Vec::new();
    if let Some(drawn) = &ground.map {
        let (lines, breaklines) = (&drawn.scene.lines, &drawn.scene.breaklines);
        let mut options = map::options(&args.map, lines, breaklines, title(&found));
        options.shown.extend(shown(&request, &found, &ground));
        let draw = |options: &MapOptions| {
            difference_map(&drawn.rows, 0.0, &drawn.scene, MapWords::VOLUME, options)
        };
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
    let report = describe::zone_haul(&found, pictures);
    files.stage_csv(args.csv.as_ref(), &report)?;
    files.stage_reports(&args.reports, &report, &args.title)?;
    print_result(files, args.json, &found, &report, &typed.outputs)
}

/// Arrows as wide as what is carried, and the places outside the zones.
fn shown(request: &ZoneHaulRequest, found: &ZoneHaul, ground: &ZoneHaulGround) -> [Shown; 2] {
    let symbol = found.units.volume.symbol();
    let arrow = |(ends, volume): &([Place; 2], f64)| MapArrow {
        ends: *ends,
        volume: *volume,
        label: format!("{} {symbol}", grouped(*volume, found.units.decimals)),
    };
    let place = |site: &HaulSite| MapPlace {
        at: Place::new(site.at[0], site.at[1]),
        name: site.name.clone(),
    };
    let sites = request.borrow.iter().chain(&request.tips);
    [
        Shown::Arrows(ground.arrows.iter().map(arrow).collect()),
        Shown::Places(sites.map(place).collect()),
    ]
}

/// What the map says of itself.
fn title(found: &ZoneHaul) -> TitleBlock {
    let (reference, surveyed) = (&found.reference, &found.surveyed);
    let heading = format!("Haul from {} to {}", reference.source, surveyed.source);
    let sides = [("Reference", reference), ("Surveyed", surveyed)];
    let mut title = map::title(heading, found.job.as_ref(), &sides);
    title.line("Shrink factor", found.shrink.to_string());
    title.line("Unit", found.units.length.name());
    title
}

fn request(args: &HaulArgs, job: Option<&Job>) -> Result<ZoneHaulRequest, CommandError> {
    Ok(ZoneHaulRequest {
        reference: names::surface(job, &args.reference)?,
        surveyed: names::surface(job, &args.surveyed)?,
        zones: names::zones(job, &args.zones)?,
        shrink: args.shrink.compacted(),
        detour: args.detour,
        rate: args.haul_rate,
        borrow: args.borrow.clone(),
        tips: args.tips.clone(),
    })
}
