//! `profile`: surfaces cut along a line, or from place to place.

use std::path::PathBuf;

use dapedon_job::{Context, GroundProfile, Job, ProfileAlong, ProfileRequest, profile};
use dapedon_report::{TitleBlock, describe, profile_sheets};

use crate::args::ProfileArgs;
use crate::error::CommandError;
use crate::map;
use crate::names::{self, Names};
use crate::output::{Outputs, print_result};
use crate::sheets::{SheetFiles, on_page};
use crate::telling::telling;

pub(crate) fn run(args: &ProfileArgs) -> Result<(), CommandError> {
    let sheets = SheetFiles::of(&args.sheets)?;
    let file = args.line.as_ref().and_then(|line| line.path());
    let outputs = args
        .csv
        .iter()
        .chain(&args.reports)
        .chain(&args.sheets.sheets);
    let typed = Names {
        sources: args.surfaces.iter().collect(),
        zones: Vec::new(),
        // A line may be one of the job.
        named: file.is_some_and(|path| !path.exists()),
        files: file.into_iter().filter(|path| path.exists()).collect(),
        outputs: outputs.cloned().collect(),
    };
    let job = typed.job(&args.job, &args.reading)?;
    let context = names::context(job.as_ref(), &args.reading, &args.units)?;
    let request = request(args, job.as_ref())?;
    let read = context.reading.files.clone();
    let (found, ground) = telling(|watch| {
        let context = Context {
            watch,
            ..context.clone()
        };
        profile(&context, &request)
    })?;
    let mut files = Outputs::off(&read);
    let mut pictures = Vec::new();
    let whole = typed.outputs.iter().filter(|path| sheets.is_whole(path));
    let mut written: Vec<PathBuf> = whole.cloned().collect();
    if !args.sheets.sheets.is_empty() || !args.reports.is_empty() {
        let options = args.sheets.options(title(&found));
        let drawn = profile_sheets(&found, &ground, &options)?;
        written.extend(sheets.stage(&mut files, &drawn)?);
        if !args.reports.is_empty() {
            pictures = on_page(&drawn);
        }
    }
    let report = describe::profile(&found, pictures);
    files.stage_csv(args.csv.as_ref(), &report)?;
    files.stage_reports(&args.reports, &report, &args.title)?;
    print_result(files, args.json, &found, &report, &written)
}

/// What sheets say of themselves.
fn title(found: &GroundProfile) -> TitleBlock {
    let names: Vec<&str> = found
        .surfaces
        .iter()
        .map(|side| side.source.as_str())
        .collect();
    let heading = format!("Profile of {}", names.join(", "));
    let sides: Vec<_> = found
        .surfaces
        .iter()
        .map(|side| ("Surface", side))
        .collect();
    let mut title = map::title(heading, found.job.as_ref(), &sides);
    let file = found.line.as_ref().and_then(|line| line.file.as_ref());
    if let Some(file) = file {
        title.line("Line", file.path.clone());
    }
    title.line("Unit", found.units.length.name());
    title
}

fn request(args: &ProfileArgs, job: Option<&Job>) -> Result<ProfileRequest, CommandError> {
    let surfaces = args.surfaces.iter();
    let surfaces = surfaces.map(|typed| names::surface(job, typed));
    Ok(ProfileRequest {
        surfaces: surfaces.collect::<Result<_, _>>()?,
        along: match &args.line {
            None => ProfileAlong::Places(args.through.clone()),
            Some(line) => ProfileAlong::Line {
                line: match job {
                    Some(job) => job.line(line)?,
                    None => line.clone(),
                },
                between: [args.from, args.to],
            },
        },
        every: args.every,
        corners: args.corners,
    })
}
