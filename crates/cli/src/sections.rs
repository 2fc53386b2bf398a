//! `sections`: cross-sections along a line, and the volumes between them.

use dapedon_job::{Context, Job, SectionsRequest, sections};
use dapedon_report::describe;

use crate::args::SectionsArgs;
use crate::error::CommandError;
use crate::names::{self, Names};
use crate::output::{Outputs, print_result};
use crate::progress::telling;

pub(crate) fn run(args: &SectionsArgs) -> Result<(), CommandError> {
    let two = [&args.reference, &args.surveyed].into_iter();
    let file = args.line.path();
    let typed = Names {
        sources: two.chain(&args.others).collect(),
        zones: args.zones.iter().collect(),
        // A line may be one of the job.
        named: file.is_some_and(|path| !path.exists()),
        files: file.into_iter().filter(|path| path.exists()).collect(),
        outputs: args.csv.iter().chain(&args.report).cloned().collect(),
    };
    let job = typed.job(&args.job, &args.reading)?;
    let context = names::context(job.as_ref(), &args.reading, &args.units)?;
    let request = request(args, job.as_ref())?;
    let read = context.reading.files.clone();
    let found = telling(|watch| {
        let context = Context {
            watch,
            ..context.clone()
        };
        sections(&context, &request)
    })?;
    let mut files = Outputs::off(&read);
    let report = describe::sections(&found, Vec::new());
    files.stage_csv(args.csv.as_ref(), &report)?;
    files.stage_page(args.report.as_ref(), &report, &args.title)?;
    print_result(files, args.json, &found, &report, &typed.outputs)
}

fn request(args: &SectionsArgs, job: Option<&Job>) -> Result<SectionsRequest, CommandError> {
    let others = args.others.iter().map(|typed| names::surface(job, typed));
    Ok(SectionsRequest {
        reference: names::surface(job, &args.reference)?,
        surveyed: names::surface(job, &args.surveyed)?,
        others: others.collect::<Result<_, _>>()?,
        line: match job {
            Some(job) => job.line(&args.line)?,
            None => args.line.clone(),
        },
        every: args.every,
        geometry_points: !args.round_only,
        at: args.at.clone(),
        refine: args.refine,
        between: [args.from, args.to],
        widths: match (args.width, args.left, args.right) {
            (Some(width), _, _) => Some([width; 2]),
            (None, Some(left), Some(right)) => Some([left, right]),
            _ => None,
        },
        zones: names::zones(job, &args.zones)?,
        rule: args.rule.rule(),
        curve_correction: args.curve_correction,
        corners: args.corners,
    })
}
