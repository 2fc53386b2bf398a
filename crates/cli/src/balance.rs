//! `balance`: the shift of a design at which its cut makes its fill.

use dapedon_job::{BalanceRequest, Context, Job, LineShift, RequestedUnits, balance};
use dapedon_report::{balance_curve, describe};

use crate::Outcome;
use crate::args::BalanceArgs;
use crate::error::CommandError;
use crate::names::{self, Names};
use crate::output::{Outputs, print_result};
use crate::telling::telling;

pub(crate) fn run(args: &BalanceArgs) -> Result<Outcome, CommandError> {
    let typed = Names {
        sources: vec![&args.ground, &args.design],
        zones: args.zones.iter().chain(&args.shift_within).collect(),
        outputs: args.csv.iter().chain(&args.curve).cloned().collect(),
        ..Names::default()
    };
    let job = typed.job(&args.job, &args.reading)?;
    let context = Context {
        units: RequestedUnits {
            length: args.length_unit,
            area: None,
            volume: args.volume_unit,
        },
        ..names::context_of(job.as_ref(), &args.reading)?
    };
    let request = request(args, job.as_ref())?;
    let read = context.reading.files.clone();
    let balanced = telling(|watch| balance(&Context { watch, ..context }, &request))?;
    let mut files = Outputs::off(&read);
    let report = describe::balance(&balanced, Vec::new());
    files.stage_csv(args.csv.as_ref(), &report)?;
    if let Some(path) = &args.curve {
        let units = balanced.units;
        let curve = balance_curve(&balanced, units.length.symbol(), units.volume.symbol());
        files.stage(path, curve.as_bytes())?;
    }

    let outcome = match balanced.balanced {
        true => Outcome::Done,
        false => Outcome::Finding,
    };
    print_result(files, args.json, &balanced, &report, &typed.outputs)?;
    Ok(outcome)
}

fn request(args: &BalanceArgs, job: Option<&Job>) -> Result<BalanceRequest, CommandError> {
    Ok(BalanceRequest {
        ground: names::surface(job, &args.ground)?,
        design: names::surface(job, &args.design)?,
        zones: names::zones(job, &args.zones)?,
        moving: names::zones(job, &args.shift_within)?,
        platform: args.platform.clone(),
        line: args.line.as_ref().map(|line| LineShift {
            line: line.clone(),
            between: [args.from, args.to],
            ease: args.smooth_ends.unwrap_or(0.0),
        }),
        swell: args.swell,
        shrink: args.shrink,
        range: args.range.map(|between| between.0),
        max_leftover: args.max_leftover,
    })
}
