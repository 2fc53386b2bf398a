//! `plan`: how dense a survey must be.

use dapedon_job::{Context, SurveyPlanRequest, survey_plan};
use dapedon_report::describe;

use crate::Outcome;
use crate::args::PlanArgs;
use crate::error::CommandError;
use crate::names::{self, Names};
use crate::output::{Outputs, print_result};
use crate::telling::telling;

pub(crate) fn run(args: &PlanArgs) -> Result<Outcome, CommandError> {
    let typed = Names {
        sources: vec![&args.surface],
        zones: args.zones.iter().collect(),
        outputs: args.csv.iter().cloned().collect(),
        ..Names::default()
    };
    let job = typed.job(&args.job, &args.reading)?;
    let context = names::context(job.as_ref(), &args.reading, &args.units)?;
    let mut files = Outputs::off(&context.reading.files);
    let request = SurveyPlanRequest {
        surface: names::surface(job.as_ref(), &args.surface)?,
        zones: names::zones(job.as_ref(), &args.zones)?,
        accuracy: args.accuracy.clone(),
        wanted: args.wanted,
        spacings: args.spacing.clone(),
    };
    let found = telling(|watch| {
        let context = Context {
            watch,
            ..context.clone()
        };
        survey_plan(&context, &request)
    })?;
    let report = describe::survey_plan(&found);
    files.stage_csv(args.csv.as_ref(), &report)?;
    print_result(files, args.json, &found, &report, &typed.outputs)?;
    Ok(match (found.wanted, found.spacing) {
        (Some(_), None) => Outcome::Finding,
        _ => Outcome::Done,
    })
}
