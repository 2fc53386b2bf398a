//! `balance`: the shift of a design at which its cut makes its fill.

use std::path::{Path, PathBuf};

use dapedon_job::{BalanceRequest, Context, Job, Source, UnitsAsked, ZoneSource, balance};
use dapedon_report::{balance_curve, describe};

use crate::Outcome;
use crate::args::BalanceArgs;
use crate::fault::Fault;
use crate::names;
use crate::output::{Outputs, print_result};
use crate::progress::telling;

pub(crate) fn run(args: &BalanceArgs) -> Result<Outcome, Fault> {
    let sources = [&args.ground, &args.design];
    let zones = || args.zones.iter().chain(&args.moving);
    let files = sources
        .into_iter()
        .flat_map(Source::paths)
        .map(|path| path.as_path());
    let inputs: Vec<&Path> = files
        .chain(zones().filter_map(ZoneSource::path))
        .chain(args.reading.outline.as_deref())
        .collect();
    let outputs = args.csv.iter().chain(&args.curve);
    let outputs: Vec<&Path> = outputs.map(PathBuf::as_path).collect();
    Outputs::check(&outputs, &inputs)?;

    let typed: Vec<ZoneSource> = zones().cloned().collect();
    let job = names::job(&args.job, &sources, &typed, false)?;
    let named = job.as_ref().map_or(Vec::new(), Job::files);
    let named: Vec<&Path> = named.iter().map(PathBuf::as_path).collect();
    Outputs::check(&outputs, &named)?;
    let context = Context {
        units: UnitsAsked {
            length: args.length_unit.map(Into::into),
            area: None,
            volume: args.volume_unit.map(|unit| unit.on()),
        },
        ..names::context_of(job.as_ref(), &args.reading)?
    };
    let request = request(args, job.as_ref())?;
    let balanced = telling(|tell| balance(&Context { tell, ..context }, &request))?;
    let mut files = Outputs::default();
    let report = describe::balance(&balanced, Vec::new());
    files.stage_csv(args.csv.as_ref(), &report)?;
    if let Some(path) = &args.curve {
        let units = balanced.units;
        let curve = balance_curve(&balanced, units.length.symbol(), units.volume.symbol());
        files.stage(path, curve.as_bytes())?;
    }

    let outcome = match balanced.meets {
        true => Outcome::Done,
        false => Outcome::Finding,
    };
    print_result(files, args.json, &balanced, &report, &outputs)?;
    Ok(outcome)
}

fn request(args: &BalanceArgs, job: Option<&Job>) -> Result<BalanceRequest, Fault> {
    Ok(BalanceRequest {
        ground: names::surface(job, &args.ground)?,
        design: names::surface(job, &args.design)?,
        zones: names::zones(job, &args.zones)?,
        moving: names::zones(job, &args.moving)?,
        platform: args.platform.clone(),
        swell: args.swell,
        shrink: args.shrink,
        range: args.between.map(|between| between.0),
        amount: args.amount,
    })
}
