//! `inspect`: what is in files, before they are trusted.

use std::path::{Path, PathBuf};
use std::sync::Arc;

use dapedon_core::plan::Frame;
use dapedon_core::units::LengthUnit;
use dapedon_job::{
    Context, DrawnLines, Inspected, JOB_FILE, Job, JobError, OutlierFound, inspect,
    names_are_found, pair,
};
use dapedon_report::describe::{self, LISTED};
use dapedon_report::{Mark, ground_map};

use crate::args::InspectArgs;
use crate::error::CommandError;
use crate::map;
use crate::names;
use crate::output::{Outputs, print_result};
use crate::telling::telling;

pub(crate) fn run(args: &InspectArgs) -> Result<(), CommandError> {
    let inputs: Vec<&Path> = args.files.iter().map(|path| path.as_path()).collect();
    if args.map.map.is_some() && inputs.len() > 1 {
        return Err(CommandError::SeveralPictures {
            files: inputs.len(),
        });
    }
    let outputs = args.map.map.iter().chain(&args.csv);
    let outputs: Vec<PathBuf> = outputs.cloned().collect();
    let written: Vec<&Path> = outputs.iter().map(PathBuf::as_path).collect();
    Outputs::check(&written, &inputs)?;
    let here = Path::new(JOB_FILE);
    let job = match args.reading.read_as.is_some() && here.is_file() {
        true => Some(Job::read(here)?),
        false => None,
    };
    let named = job.as_ref().map_or(Vec::new(), Job::files);
    let named: Vec<&Path> = named.iter().map(PathBuf::as_path).collect();
    Outputs::check(&written, &named)?;
    let reading = names::reading_of(job.as_ref(), &args.reading)?;
    let looked = telling(|watch| {
        let context = Context {
            reading: reading.clone(),
            watch,
            ..Context::default()
        };
        inputs
            .iter()
            .map(|path| {
                let (inspection, surfaces) = inspect(&context, path)?;
                // Kept for a picture or a comparison only: a file may be as large as memory allows.
                let kept = inputs.len() <= 2;
                Ok((inspection, if kept { surfaces } else { Vec::new() }))
            })
            .collect::<Result<Vec<_>, JobError>>()
    });
    let (mut found, grounds): (Vec<_>, Vec<_>) = looked?.into_iter().unzip();
    names_are_found(&reading, &found)?;
    let pair = match (found.as_slice(), grounds.as_slice()) {
        ([a, b], [first, second]) => pair((a, first), (b, second)),
        _ => None,
    };
    let mut staged = Outputs::off(&reading.files);
    let mut line_files = Vec::new();
    if let (Some(path), [surfaces]) = (&args.map.map, grounds.as_slice()) {
        let odd = found[0].surfaces.first().map_or(&[][..], |s| &s.outliers);
        let marks = surfaces.first().map(|surface| marks(odd, surface.frame()));
        let context = Context {
            job: job.as_ref(),
            reading,
            pictures: Some(map::pictures(&args.map, job.as_ref())?),
            ..Context::default()
        };
        let unit = surfaces
            .first()
            .map_or(LengthUnit::Metre, |surface| surface.frame().unit());
        let mut title = map::title(format!("Heights of {}", inputs[0].display()), None, &[]);
        title.line("Unit", unit.name());
        let drawn = DrawnLines::of(&context, unit, unit, &found[0].crs)?;
        let options = map::options(&args.map, &drawn.lines, &Arc::default(), title);
        let (picture, left_out) = ground_map(surfaces, &marks.unwrap_or_default(), &options)?;
        let boxes = map::stage(&mut staged, &args.map, path, &picture)?;
        let left_out = map::findings(left_out).into_iter();
        found[0]
            .warnings
            .extend(drawn.warnings.into_iter().chain(left_out).chain(boxes));
        line_files = drawn.files;
    }
    let inspected = Inspected::of(found, pair, line_files);
    let report = describe::inspected(&inspected);
    staged.stage_csv(args.csv.as_ref(), &report)?;
    print_result(staged, args.json, &inspected, &report, &outputs)
}

/// Odd points as marks on a picture.
pub(crate) fn marks(odd: &[OutlierFound], frame: Frame) -> Vec<Mark> {
    let mark = |odd: &OutlierFound| Mark {
        at: frame.to_local(odd.east, odd.north),
        words: format!("{:+.2}", odd.height_difference).replace('-', "−"),
    };
    odd.iter().take(LISTED).map(mark).collect()
}
