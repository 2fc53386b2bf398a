//! `volume`: measure between two surfaces.

mod lifts;

use std::fmt::Write as _;
use std::path::{Path, PathBuf};

use anstyle::Style;

use dapedon_job::{
    Context, Job, Measurement, Request, Scene, Side, Source, WithoutBuildUp, ZoneMeasurement,
    ZoneSource, measure,
};
use dapedon_report::number::grouped;
use dapedon_report::{Document, map, volume_csv, words};

use crate::args::VolumeArgs;
use crate::fault::Fault;
use crate::names;
use crate::output::{Outputs, print_result};
use crate::progress::telling;
use crate::recipe::{Told, layers};
use crate::table::table;

pub(crate) fn run(args: &VolumeArgs) -> Result<(), Fault> {
    let files = [&args.reference, &args.surveyed]
        .into_iter()
        .flat_map(Source::paths);
    let files = files.map(|path| path.as_path());
    let inputs: Vec<&Path> = files
        .chain(args.zones.iter().filter_map(ZoneSource::path))
        .chain(args.reading.outline.as_deref())
        .collect();
    let outputs: Vec<&Path> = (args.csv.iter())
        .chain(&args.map)
        .chain(&args.report)
        .map(|path| path.as_path())
        .collect();
    Outputs::check(&outputs, &inputs)?;

    let sources = [&args.reference, &args.surveyed];
    let named = args.converting.needs_job();
    let job = names::job(&args.job, &sources, &args.zones, named)?;
    let named = job.as_ref().map_or(Vec::new(), Job::files);
    let named: Vec<&Path> = named.iter().map(PathBuf::as_path).collect();
    Outputs::check(&outputs, &named)?;
    let context = names::context(job.as_ref(), &args.reading, &args.units)?;
    let request = request(args, job.as_ref())?;
    let (measurement, scene) = telling(|tell| measure(&Context { tell, ..context }, &request))?;
    let files = staged(args, &measurement, &scene)?;
    print_result(files, args.json, &measurement, &outputs, |out| {
        write!(out, "{}", spoken(&measurement, &scene))
    })
}

fn request(args: &VolumeArgs, job: Option<&Job>) -> Result<Request, Fault> {
    Ok(Request {
        reference: names::surface(job, &args.reference)?,
        surveyed: names::surface(job, &args.surveyed)?,
        zones: names::zones(job, &args.zones)?,
        tolerance: args.tolerance,
        by_depth: args.by_depth,
        converting: args.converting.converting(job)?,
    })
}

fn staged(args: &VolumeArgs, measurement: &Measurement, scene: &Scene) -> Result<Outputs, Fault> {
    let mut outputs = Outputs::default();
    if let Some(path) = &args.csv {
        let text = volume_csv(measurement).map_err(|source| Fault::Write {
            path: path.clone(),
            source,
        })?;
        outputs.stage(path, &text)?;
    }
    match (&args.map, &args.report) {
        (None, None) => {}
        (Some(path), None) => outputs.stage(
            path,
            map(&measurement.zones, measurement.tolerance, scene)?.as_bytes(),
        )?,
        (drawn, Some(path)) => {
            let document = Document::new(args.title.clone(), measurement.clone(), scene)?;
            outputs.stage(path, document.html()?.as_bytes())?;
            if let Some(path) = drawn {
                outputs.stage(path, document.map.as_bytes())?;
            }
        }
    }
    Ok(outputs)
}

/// The measurement as it is read on a terminal, or aloud.
fn spoken(measurement: &Measurement, scene: &Scene) -> String {
    let bold = Style::new().bold();
    let (length, area, volume) = (
        scene.units.length.symbol(),
        scene.units.area.name(),
        scene.units.volume.name(),
    );
    let rows = &measurement.zones;
    let total = measurement.total.as_ref();
    let mut text = String::new();
    let mut say = |line: std::fmt::Arguments<'_>| {
        // Writing to a string does not fail.
        let _ = text.write_fmt(line);
        text.push('\n');
    };

    say(format_args!(
        "{bold}From{bold:#}  {}",
        described(&measurement.reference)
    ));
    say(format_args!(
        "{bold}to{bold:#}    {}",
        described(&measurement.surveyed)
    ));
    for (name, side) in [
        ("reference", &measurement.reference),
        ("surveyed", &measurement.surveyed),
    ] {
        for note in &side.notes {
            say(format_args!("      {name}: {note}"));
        }
        for step in side.recipe.iter().flat_map(|recipe| recipe.all_steps()) {
            say(format_args!("      {name}: {}", step.words()));
        }
    }

    let figure = |value: f64| grouped(value, scene.units.decimals, " ");
    let volumes = |z: &ZoneMeasurement| {
        let words = z.net_in_words().to_owned();
        [
            z.zone.clone(),
            figure(z.volume.cut),
            figure(z.volume.fill),
            figure(z.volume.net),
            words,
        ]
    };
    say(format_args!("\n{bold}Volume, {volume}{bold:#}"));
    let heading = ["zone", "cut", "fill", "net", "in words"].map(String::from);
    say(format_args!(
        "{}",
        table(
            heading,
            rows.iter().map(volumes).collect(),
            total.map(volumes)
        )
    ));

    let areas = |z: &ZoneMeasurement| {
        let a = &z.area;
        let figures = [
            a.compared,
            a.cut,
            a.fill,
            a.unchanged,
            a.reference_only,
            a.surveyed_only,
        ];
        let figures = figures.into_iter().chain(a.neither).map(figure);
        [z.zone.clone()]
            .into_iter()
            .chain(figures)
            .collect::<Vec<_>>()
    };
    say(format_args!("\n{bold}Plan area, {area}{bold:#}"));
    let mut heading = vec![
        "zone",
        "compared",
        "cut",
        "fill",
        "unchanged",
        "reference only",
        "surveyed only",
    ];
    // Without zones there is no ground that both could be missing from.
    if rows.iter().any(|z| z.area.neither.is_some()) {
        heading.push("neither");
    }
    say(format_args!(
        "{}",
        table(
            heading.into_iter().map(String::from).collect::<Vec<_>>(),
            rows.iter().map(areas).collect(),
            total.map(areas)
        )
    ));

    let differences = |z: &ZoneMeasurement| {
        let Some(d) = z.difference else {
            return [
                z.zone.clone(),
                "none".into(),
                String::new(),
                "none".into(),
                String::new(),
                String::new(),
            ];
        };
        let height = |value: f64| grouped(value, 3, " ");
        let place = |at: dapedon_job::Extreme| {
            format!(
                "{} / {}",
                grouped(at.east, 1, " "),
                grouped(at.north, 1, " ")
            )
        };
        [
            z.zone.clone(),
            height(d.min),
            place(d.min_at),
            height(d.max),
            place(d.max_at),
            height(d.mean),
        ]
    };
    say(format_args!(
        "\n{bold}Difference, {length}{bold:#}: surveyed less reference, negative is cut"
    ));
    let heading = [
        "zone",
        "lowest",
        "at east / north",
        "highest",
        "at east / north",
        "mean",
    ];
    say(format_args!(
        "{}",
        table(
            heading.map(String::from),
            rows.iter().map(differences).collect(),
            total.map(differences)
        )
    ));

    if !measurement.by_depth.is_empty() {
        say(format_args!("\n{bold}By depth{bold:#}"));
        say(format_args!("{}", lifts::by_depth(measurement, scene)));
    }

    if let Some(without) = &measurement.without_build_up {
        say(format_args!("{}", below(measurement, without, scene)));
    }

    if !measurement.converted.is_empty() {
        say(format_args!("\n{bold}Converted{bold:#}"));
        let told = words::Told {
            volume: scene.units.volume.symbol(),
            currency: scene.currency.as_deref().unwrap_or_default(),
            separator: " ",
        };
        for line in &measurement.converted {
            for words in words::converted(line, &told) {
                say(format_args!("  {words}"));
            }
        }
    }

    let pieces: u64 = rows.iter().map(|z| z.closure.pieces).sum();
    let worst = rows.iter().map(|z| z.closure.relative).fold(0.0, f64::max);
    let closure = match worst {
        0.0 => "they fill the area of the outlines".to_owned(),
        _ => format!("they fill the area of the outlines to {worst:.0e}"),
    };
    say(format_args!(
        "\nExact over {} pieces; {closure}.",
        grouped(pieces as f64, 0, " ")
    ));
    if measurement.tolerance > 0.0 {
        let unchanged: f64 = rows.iter().map(|z| z.volume.unchanged).sum();
        say(format_args!(
            "Unchanged: within ±{} {length}, {} {} between the surfaces there, in none of the volumes above.",
            measurement.tolerance,
            figure(unchanged),
            scene.units.volume.symbol()
        ));
    }
    for warning in &measurement.warnings {
        say(format_args!("{bold}warning:{bold:#} {warning}"));
    }
    text
}

/// The build-ups that a side lies below, and what is measured without them.
fn below(measurement: &Measurement, without: &WithoutBuildUp, scene: &Scene) -> String {
    let bold = Style::new().bold();
    let figure = |value: f64| grouped(value, scene.units.decimals, " ");
    let told = Told {
        length: scene.units.length.symbol(),
        area: scene.units.area.symbol(),
        volume: scene.units.volume.symbol(),
        decimals: scene.units.decimals,
        currency: scene.currency.as_deref().unwrap_or_default(),
    };
    let mut text = String::new();
    for side in [&measurement.reference, &measurement.surveyed] {
        let found = side
            .recipe
            .as_ref()
            .map_or(Vec::new(), |recipe| recipe.layers());
        if !found.is_empty() {
            let _ = writeln!(text, "\n{bold}Build-up above \"{}\"{bold:#}", side.source);
            let _ = writeln!(text, "{}", layers(&found, &told));
        }
    }
    let rows = measurement
        .zones
        .iter()
        .zip(&without.zones)
        .map(|(with, without)| {
            [
                with.zone.clone(),
                figure(without.cut),
                figure(without.fill),
                figure(without.net),
                figure(with.volume.net),
                figure(with.volume.net - without.net),
            ]
        });
    let rows: Vec<_> = rows.collect();
    let total = measurement.total.as_ref().map(|total| {
        [
            "total".into(),
            figure(without.total.cut),
            figure(without.total.fill),
            figure(without.total.net),
            figure(total.volume.net),
            figure(without.net_difference),
        ]
    });
    let heading = ["zone", "cut", "fill", "net", "net with it", "difference"].map(String::from);
    let _ = writeln!(
        text,
        "\n{bold}The same without the build-up, {}{bold:#}",
        scene.units.volume.name()
    );
    let _ = writeln!(text, "{}", table(heading, rows, total));
    let apart = (without.net_difference.abs() - without.layers.abs()).abs();
    let share = match apart <= 1e-6 * without.layers.abs().max(1.0) {
        true => "all of it within what is compared".to_owned(),
        false => format!(
            "{} {} of that within what is compared",
            figure(without.net_difference.abs()),
            told.volume
        ),
    };
    let _ = write!(
        text,
        "The layers come to {} {}, {share}: that is the difference.",
        figure(without.layers.abs()),
        told.volume
    );
    text
}

fn described(side: &Side) -> String {
    let mut text = format!("{}: {}", side.source, side.kind);
    if let (Some(points), Some(facets)) = (side.points, side.facets) {
        let count = |n: usize| grouped(n as f64, 0, " ");
        let _ = write!(text, ", {} points, {} facets", count(points), count(facets));
    }
    text
}
