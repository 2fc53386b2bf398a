//! `capacity`: what a basin holds, level by level.

use dapedon_formats::RawZone;
use dapedon_job::{
    AreasRequest, AreasSource, Capacity, CapacityRequest, Context, Job, Source, capacity,
    capacity_of_areas,
};
use dapedon_report::{capacity_curve, describe};

use crate::Outcome;
use crate::args::CapacityArgs;
use crate::error::CommandError;
use crate::names::{self, Names};
use crate::outlines::OutlineFiles;
use crate::output::{Outputs, print_result};
use crate::telling::telling;

pub(crate) fn run(args: &CapacityArgs) -> Result<Outcome, CommandError> {
    let areas = args.areas.iter().filter_map(|areas| match areas {
        AreasSource::File(path) => Some(path.as_path()),
        AreasSource::Said(_) => None,
    });
    let shores = (args.shores.iter())
        .map(|shore| OutlineFiles::of(&shore.path))
        .collect::<Result<Vec<_>, _>>()?;
    let outputs = args.csv.iter().chain(&args.curve).cloned();
    let typed = Names {
        sources: args.surface.iter().collect(),
        zones: args.zone.iter().collect(),
        files: areas.collect(),
        outputs: (outputs.chain(shores.iter().flat_map(OutlineFiles::paths))).collect(),
        ..Names::default()
    };
    let job = typed.job(&args.job, &args.reading)?;

    let context = names::context(job.as_ref(), &args.reading, &args.units)?;
    let mut files = Outputs::off(&context.reading.files);
    let (found, outlines) = measured(args, job.as_ref(), context)?;
    if let Some(path) = &args.curve {
        files.stage(path, capacity_curve(&found).as_bytes())?;
    }
    for (shore, outline) in shores.iter().zip(&outlines) {
        shore.stage(
            &mut files,
            std::slice::from_ref(outline),
            &[""],
            found.units.length,
        )?;
    }
    let outcome = match found.has_findings() {
        true => Outcome::Finding,
        false => Outcome::Done,
    };
    let direction = match args.top_down {
        true => describe::Direction::Down,
        false => describe::Direction::Up,
    };
    let report = describe::capacity(&found, direction);
    files.stage_csv(args.csv.as_ref(), &report)?;
    print_result(files, args.json, &found, &report, &typed.outputs)?;
    Ok(outcome)
}

/// What the basin holds, and the outlines of its water.
fn measured(
    args: &CapacityArgs,
    job: Option<&Job>,
    context: Context<'_>,
) -> Result<(Capacity, Vec<RawZone>), CommandError> {
    if let Some(areas) = &args.areas {
        let request = AreasRequest {
            areas: areas.clone(),
            freeboard: args.freeboard,
            wanted_levels: args.levels.clone(),
            volumes: args.volumes.clone(),
        };
        return Ok((capacity_of_areas(&context, &request)?, Vec::new()));
    }
    // Without areas clap has made sure of a surface.
    let surface = args.surface.clone().unwrap_or(Source::Level(0.0));
    let request = CapacityRequest {
        surface: names::surface(job, &surface)?,
        zone: names::zones(job, args.zone.as_slice())?.into_iter().next(),
        pool: args.pool.map(|pool| pool.0),
        from: args.from,
        to: args.to,
        step: args.step,
        freeboard: args.freeboard,
        wanted_levels: args.levels.clone(),
        volumes: args.volumes.clone(),
        shores: args.shores.iter().map(|shore| shore.level).collect(),
        accuracy: args.accuracy.accuracy.clone(),
        between_points: args.between_points,
    };
    Ok(telling(|watch| {
        capacity(&Context { watch, ..context }, &request)
    })?)
}
