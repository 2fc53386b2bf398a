//! `pile`: piles and pits, each against its own base.

mod spoken;

use std::path::{Path, PathBuf};

use dapedon_formats::RawZone;
use dapedon_job::{
    BaseSource, Context, Job, PileRequest, Piles, Scene, Source, ZoneMeasurement, ZoneSource, pile,
};
use dapedon_report::{MapWords, PileDocument, pile_csv, worded_map};

use crate::args::PileArgs;
use crate::fault::Fault;
use crate::names;
use crate::outlines::OutlineFiles;
use crate::output::{Outputs, print_result};
use crate::progress::telling;

pub(crate) fn run(args: &PileArgs) -> Result<(), Fault> {
    let bases = args.bases.iter().filter_map(|base| match base {
        BaseSource::Surface(source) => Some(source),
        _ => None,
    });
    let typed: Vec<&Source> = [&args.surface]
        .into_iter()
        .chain(bases)
        .chain(&args.previous)
        .collect();
    let outlines = args.outlines.as_deref().map(OutlineFiles::of).transpose()?;
    let inputs: Vec<&Path> = (typed.iter().flat_map(|source| source.paths()))
        .map(PathBuf::as_path)
        .chain(args.zones.iter().filter_map(ZoneSource::path))
        .chain(args.reading.outline.as_deref())
        .collect();
    let outputs: Vec<PathBuf> = (args.csv.iter().chain(&args.map).chain(&args.report))
        .cloned()
        .chain(outlines.iter().flat_map(OutlineFiles::paths))
        .collect();
    let outputs: Vec<&Path> = outputs.iter().map(PathBuf::as_path).collect();
    Outputs::check(&outputs, &inputs)?;
    let job = names::job(&args.job, &typed, &args.zones, args.made_of.names_one())?;
    let named = job.as_ref().map_or(Vec::new(), Job::files);
    let named: Vec<&Path> = named.iter().map(PathBuf::as_path).collect();
    Outputs::check(&outputs, &named)?;

    let context = names::context(job.as_ref(), &args.reading, &args.units)?;
    let request = request(args, job.as_ref())?;
    let (found, scene, raw) = telling(|tell| pile(&Context { tell, ..context }, &request))?;
    let files = staged(args, outlines.as_ref(), &found, &scene, &raw)?;
    print_result(files, args.json, &found, &outputs, |out| {
        write!(out, "{}", spoken::spoken(&found, args.compare_bases))
    })
}

fn request(args: &PileArgs, job: Option<&Job>) -> Result<PileRequest, Fault> {
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
        bases: bases.collect::<Result<_, Fault>>()?,
        compare: args.compare_bases,
        previous: (args.previous.as_ref())
            .map(|typed| names::surface(job, typed))
            .transpose()?,
        materials: args.made_of.materials(),
    })
}

fn staged(
    args: &PileArgs,
    outlines: Option<&OutlineFiles>,
    found: &Piles,
    scene: &Scene,
    raw: &[RawZone],
) -> Result<Outputs, Fault> {
    let fault = |path: &Path| {
        let path = path.to_owned();
        move |source| Fault::Write { path, source }
    };
    let mut files = Outputs::default();
    let drawn = match args.map.is_some() || args.report.is_some() {
        true => {
            let rows = found.zones.iter().map(|pile| pile.measured.clone());
            let rows: Vec<ZoneMeasurement> = rows.collect();
            worded_map(&rows, 0.0, scene, MapWords::BASE)?
        }
        false => String::new(),
    };
    if let Some(path) = &args.csv {
        files.stage(path, &pile_csv(found).map_err(fault(path))?)?;
    }
    if let Some(path) = &args.map {
        files.stage(path, drawn.as_bytes())?;
    }
    if let Some(outlines) = outlines {
        let materials = found.zones.iter().map(|pile| {
            let material = pile.material.as_ref();
            material.map_or("", |line| line.material.as_str())
        });
        outlines.stage(
            &mut files,
            raw,
            &materials.collect::<Vec<_>>(),
            scene.units.length,
        )?;
    }
    if let Some(path) = &args.report {
        let document = PileDocument::new(args.title.clone(), found, drawn);
        files.stage(path, document.html()?.as_bytes())?;
    }
    Ok(files)
}
