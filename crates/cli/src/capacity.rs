//! `capacity`: what a basin holds, level by level.

use std::fmt::Write as _;
use std::io::Write as _;
use std::path::{Path, PathBuf};

use anstyle::Style;
use dapedon_core::{AreaUnit, LengthUnit, VolumeUnit};
use dapedon_job::{Capacity, CapacityRequest, Held, Job, ZoneSource, capacity};
use dapedon_report::number::grouped;
use dapedon_report::{capacity_csv, capacity_curve};

use crate::args::CapacityArgs;
use crate::fault::Fault;
use crate::names;
use crate::output::Outputs;
use crate::table::table;

pub(crate) fn run(args: &CapacityArgs) -> Result<(), Fault> {
    let files = args.surface.paths().iter().map(PathBuf::as_path);
    let inputs: Vec<&Path> = files
        .chain(args.zone.iter().filter_map(ZoneSource::path))
        .chain(args.reading.outline.as_deref())
        .collect();
    let outputs: Vec<&Path> = (args.csv.iter().chain(&args.curve))
        .map(PathBuf::as_path)
        .collect();
    Outputs::check(&outputs, &inputs)?;
    let typed: Vec<ZoneSource> = args.zone.iter().cloned().collect();
    let job = names::job(&args.job, &[&args.surface], &typed, false)?;
    let named = job.as_ref().map_or(Vec::new(), Job::files);
    let named: Vec<&Path> = named.iter().map(PathBuf::as_path).collect();
    Outputs::check(&outputs, &named)?;

    let found = capacity(&request(args, job.as_ref())?)?;
    let symbols = symbols(args, job.as_ref(), &found);
    let mut files = Outputs::default();
    if let Some(path) = &args.csv {
        let text = capacity_csv(&found).map_err(|source| Fault::Write {
            path: path.clone(),
            source,
        })?;
        files.stage(path, &text)?;
    }
    if let Some(path) = &args.curve {
        files.stage(path, capacity_curve(&found, symbols).as_bytes())?;
    }
    files.commit()?;

    let mut out = anstream::stdout().lock();
    if args.json {
        writeln!(out, "{}", serde_json::to_string_pretty(&found)?)?;
        return Ok(());
    }
    let decimals = job.as_ref().and_then(|job| job.decimals).unwrap_or(1);
    write!(out, "{}", spoken(&found, symbols, decimals, args.down))?;
    for path in outputs {
        writeln!(out, "Written: {}", path.display())?;
    }
    Ok(())
}

fn request<'j>(args: &CapacityArgs, job: Option<&'j Job>) -> Result<CapacityRequest<'j>, Fault> {
    let zone = args.zone.as_slice();
    Ok(CapacityRequest {
        job,
        surface: names::surface(job, &args.surface)?,
        zone: names::zones(job, zone)?.into_iter().next(),
        pool: args.pool.map(|pool| pool.0),
        reading: args.reading.reading()?,
        length_unit: args.units.length_unit.map(Into::into),
        area_unit: args.units.area_unit.map(|unit| unit.on()),
        volume_unit: args.units.volume_unit.map(|unit| unit.on()),
        from: args.from,
        to: args.to,
        step: args.step,
        freeboard: args.freeboard,
        volumes: args.volumes.clone(),
    })
}

/// The symbols of the units that lengths, areas and volumes are in.
fn symbols(args: &CapacityArgs, job: Option<&Job>, found: &Capacity) -> [&'static str; 3] {
    let unit = LengthUnit::ALL
        .into_iter()
        .find(|unit| unit.code() == found.units.length);
    let unit = unit.unwrap_or(LengthUnit::Metre);
    let area = (args.units.area_unit.map(|unit| unit.on())).or(job.and_then(|job| job.area_unit));
    let volume =
        (args.units.volume_unit.map(|unit| unit.on())).or(job.and_then(|job| job.volume_unit));
    [
        unit.symbol(),
        area.map_or(AreaUnit::usual(unit), |of| of(unit)).symbol(),
        volume
            .map_or(VolumeUnit::usual(unit), |of| of(unit))
            .symbol(),
    ]
}

/// The basin as it is read on a terminal, or aloud.
fn spoken(
    found: &Capacity,
    [length, area, volume]: [&str; 3],
    decimals: usize,
    down: bool,
) -> String {
    let bold = Style::new().bold();
    let figure = |value: f64| grouped(value, decimals, " ");
    let height = |value: f64| grouped(value, 3, " ");
    let mut text = String::new();
    let mut say = |line: std::fmt::Arguments<'_>| {
        // Writing to a string does not fail.
        let _ = text.write_fmt(line);
        text.push('\n');
    };
    let side = &found.surface;
    say(format_args!(
        "{bold}Basin{bold:#}  {}: {}",
        side.source, side.kind
    ));
    for note in &side.notes {
        say(format_args!("       {note}"));
    }
    for step in side.recipe.iter().flat_map(|recipe| recipe.all_steps()) {
        say(format_args!("       {}", step.words()));
    }
    let within = match (&found.zone, &found.pool) {
        (Some(zone), Some(at)) => format!(
            "the pool at {} / {}, within {zone}",
            grouped(at.east, 1, " "),
            grouped(at.north, 1, " ")
        ),
        (Some(zone), None) => format!("all ground within {zone}, connected or not"),
        (None, Some(at)) => format!(
            "the pool at {} / {}",
            grouped(at.east, 1, " "),
            grouped(at.north, 1, " ")
        ),
        (None, None) => "all of it, connected or not".into(),
    };
    say(format_args!("       {within}"));
    say(format_args!(
        "       lowest place {} {length}",
        height(found.lowest)
    ));
    if let Some(over) = &found.runs_over {
        let freeboard = match found.freeboard {
            0.0 => String::new(),
            board => format!(", {} {length} of freeboard below it", height(board)),
        };
        say(format_args!(
            "       runs over its edge at {} {length}, near east {}, north {}{freeboard}",
            height(over.level),
            grouped(over.at.east, 1, " "),
            grouped(over.at.north, 1, " ")
        ));
    }
    let row = |held: &Held| {
        [
            height(held.level),
            height(held.depth),
            figure(held.area),
            figure(held.step),
            figure(held.volume),
            figure(held.by_average_end_area),
            figure(held.by_conic),
        ]
    };
    let mut rows: Vec<_> = found.levels.iter().map(row).collect();
    if down {
        rows.reverse();
    }
    let heading = [
        format!("level, {length}"),
        "depth".into(),
        format!("area, {area}"),
        format!("since below, {volume}"),
        "volume".into(),
        "average end area".into(),
        "conic".into(),
    ];
    say(format_args!("\n{}", table(heading, rows, None)));
    say(format_args!(
        "\nThe volume is integrated exactly over the facets; beside it the same from the areas of this table, by average\n\
         end areas and as frusta of cones."
    ));
    for wanted in &found.wanted {
        match (wanted.level, wanted.area) {
            (Some(level), Some(wet)) => say(format_args!(
                "{} {volume} are held at level {} {length}, with {} {area} of water.",
                figure(wanted.volume),
                height(level),
                figure(wet)
            )),
            _ => say(format_args!(
                "{} {volume} are more than it holds up to the highest level.",
                figure(wanted.volume)
            )),
        }
    }
    for warning in &found.warnings {
        say(format_args!("{bold}warning:{bold:#} {warning}"));
    }
    text
}
