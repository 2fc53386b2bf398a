//! `balance`: the shift of a design at which its cut makes its fill.

use std::fmt::Write as _;
use std::path::{Path, PathBuf};

use anstyle::Style;
use dapedon_job::{
    BalanceRequest, Balanced, Context, Job, ReportUnits, Source, TriedShift, UnitsAsked,
    ZoneSource, balance,
};
use dapedon_report::number::grouped;
use dapedon_report::{balance_csv, balance_curve};

use crate::Outcome;
use crate::args::BalanceArgs;
use crate::fault::Fault;
use crate::names;
use crate::output::{Outputs, print_result};
use crate::progress::telling;
use crate::table::worded;

/// How many of the tried shifts are shown, about; all of them are in the object that is printed.
const SHOWN: usize = 9;

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
    let ReportUnits {
        length,
        volume,
        decimals,
        ..
    } = balanced.units;
    let (length, volume) = (length.symbol(), volume.symbol());
    let mut files = Outputs::default();
    if let Some(path) = &args.csv {
        let text = balance_csv(&balanced).map_err(|source| Fault::Write {
            path: path.clone(),
            source,
        })?;
        files.stage(path, &text)?;
    }
    if let Some(path) = &args.curve {
        files.stage(path, balance_curve(&balanced, length, volume).as_bytes())?;
    }

    let outcome = match balanced.meets {
        true => Outcome::Done,
        false => Outcome::Finding,
    };
    print_result(files, args.json, &balanced, &outputs, |out| {
        write!(out, "{}", spoken(&balanced, length, volume, decimals))
    })?;
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

/// The balance as it is read on a terminal, or aloud.
fn spoken(balanced: &Balanced, length: &str, volume: &str, decimals: usize) -> String {
    let bold = Style::new().bold();
    let figure = |value: f64| grouped(value, decimals, " ");
    let mut text = String::new();
    let mut say = |line: std::fmt::Arguments<'_>| {
        // Writing to a string does not fail.
        let _ = text.write_fmt(line);
        text.push('\n');
    };
    let (ground, design) = (&balanced.ground, &balanced.design);
    say(format_args!(
        "{bold}Ground{bold:#}  {}: {}",
        ground.source, ground.kind
    ));
    say(format_args!(
        "{bold}Design{bold:#}  {}: {}",
        design.source, design.kind
    ));
    say(format_args!("{bold}Shifted{bold:#} {}", balanced.moves));
    if !balanced.zones.is_empty() {
        say(format_args!(
            "{bold}Within{bold:#}  {}",
            balanced.zones.join(", ")
        ));
    }
    say(format_args!(
        "1 {volume} dug in the bank is {} {volume} loose and makes {} {volume} compacted.",
        grouped(balanced.loose_per_bank, 3, " "),
        grouped(balanced.compacted_per_bank, 3, " ")
    ));

    say(format_args!(
        "\n{bold}Tried shifts, {volume}{bold:#}: cut in the bank, the others compacted"
    ));
    let row = |words: &str, tried: &TriedShift| {
        [
            words.to_owned(),
            grouped(tried.shift, 3, " "),
            figure(tried.cut),
            figure(tried.makes),
            figure(tried.fill),
            figure(tried.surplus),
            in_words(tried, decimals).to_owned(),
        ]
    };
    let telling = balanced.telling();
    let step = telling.len().div_ceil(SHOWN).max(1);
    let spelled = |tried: &TriedShift| grouped(tried.shift, 3, " ");
    let apart =
        |tried: &&TriedShift| tried.shift != 0.0 && spelled(tried) != spelled(&balanced.best);
    let mut rows: Vec<(f64, [String; 7])> = (telling.iter().step_by(step).chain(telling.last()))
        .filter(apart)
        .map(|tried| (tried.shift, row("", tried)))
        .collect();
    rows.dedup_by_key(|(shift, _)| *shift);
    let rest = &balanced.as_designed;
    if rest.shift != balanced.best.shift {
        rows.push((rest.shift, row("as designed", rest)));
    }
    let best = if balanced.meets {
        "balanced"
    } else {
        "closest"
    };
    rows.push((balanced.best.shift, row(best, &balanced.best)));
    rows.sort_by(|a, b| a.0.total_cmp(&b.0));
    let heading = [
        String::new(),
        format!("shift, {length}"),
        "cut".into(),
        "makes".into(),
        "fill".into(),
        "left over".into(),
        "in words".into(),
    ];
    let rows = rows.into_iter().map(|(_, row)| row).collect();
    say(format_args!("{}", worded(1, heading, rows, None)));

    let TriedShift {
        shift,
        cut,
        fill,
        surplus,
        surplus_loose,
        ..
    } = balanced.best;
    let way = match shift {
        shift if shift > 0.0 => format!("raised by {} {length}", grouped(shift, 3, " ")),
        shift if shift < 0.0 => format!("lowered by {} {length}", grouped(-shift, 3, " ")),
        _ => "left as it is".into(),
    };
    let volumes = format!(
        "cut {} {volume}, fill {} {volume}",
        figure(cut),
        figure(fill)
    );
    let [low, high] = balanced.range.map(|shift| grouped(shift, 3, " "));
    match balanced.meets {
        true => say(format_args!(
            "\n{bold}Balanced{bold:#} with {} {way}: {volumes}.",
            balanced.moves
        )),
        false => say(format_args!(
            "\n{bold}No balance{bold:#} between {low} and {high} {length}. Closest with {} {way}: {volumes}.",
            balanced.moves
        )),
    }
    match in_words(&balanced.best, decimals) {
        "balanced" => say(format_args!("Nothing is left over.")),
        "surplus" => say(format_args!(
            "Left over: {} {volume} compacted, to be hauled away as {} {volume} loose.",
            figure(surplus),
            figure(surplus_loose)
        )),
        _ => say(format_args!(
            "Missing: {} {volume} compacted, to be hauled in as {} {volume} loose.",
            figure(-surplus),
            figure(-surplus_loose)
        )),
    }
    for warning in &balanced.warnings {
        say(format_args!("{bold}warning:{bold:#} {warning}"));
    }
    text
}

/// Surplus, shortfall, or balanced where it is shown as nothing.
fn in_words(tried: &TriedShift, decimals: usize) -> &'static str {
    let shown = 0.5 * 10f64.powi(-(decimals as i32));
    match tried.surplus {
        surplus if surplus.abs() < shown => "balanced",
        surplus if surplus > 0.0 => "surplus",
        _ => "shortfall",
    }
}
