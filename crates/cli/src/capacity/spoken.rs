//! Basins as they are read on a terminal, or aloud.

use std::fmt::Write as _;

use anstyle::Style;
use dapedon_job::{Capacity, Held};
use dapedon_report::number::grouped;

use crate::table::table;

/// The basin as it is read on a terminal, or aloud.
pub(super) fn spoken(found: &Capacity, down: bool) -> String {
    let told = found.units;
    let (length, area) = (told.length.symbol(), told.area.symbol());
    let volume = told.volume.symbol();
    let bold = Style::new().bold();
    let figure = |value: f64| grouped(value, told.decimals, " ");
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
        (None, None) if found.surface.facets.is_none() => "from areas at some levels".into(),
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
    let typed = found.levels.iter().any(|held| held.volume.is_none());
    say(format_args!("\n{}", held(found, down)));
    say(format_args!(
        "\n{}",
        match typed {
            true =>
                "The volumes follow from the areas of this table, by average end areas and as frusta of cones.",
            false => {
                "The volume is integrated exactly over the facets; beside it the same from the areas of this table, by average\n\
                 end areas and as frusta of cones."
            }
        }
    ));
    for wanted in &found.wanted {
        let by = match typed {
            true => format!(
                ", by {}",
                if wanted.by == "conic" {
                    "frusta of cones"
                } else {
                    "average end areas"
                }
            ),
            false => String::new(),
        };
        let mark = mark(wanted.above_edge);
        match (&*wanted.asked, wanted.volume, wanted.level, wanted.area) {
            ("volume", Some(held), Some(level), Some(wet)) => say(format_args!(
                "{mark}{} {volume} are held at level {} {length}, with {} {area} of water{by}.",
                figure(held),
                height(level),
                figure(wet)
            )),
            ("volume", Some(held), ..) => say(format_args!(
                "{} {volume} are more than it holds up to the highest level{by}.",
                figure(held)
            )),
            (_, Some(held), Some(level), Some(wet)) => say(format_args!(
                "{mark}At level {} {length} it holds {} {volume}, with {} {area} of water{by}.",
                height(level),
                figure(held),
                figure(wet)
            )),
            (_, _, level, _) => say(format_args!(
                "Level {} {length} lies beyond the areas that are known{by}.",
                level.map_or(String::new(), height)
            )),
        }
    }
    for warning in &found.warnings {
        let sign = mark(found.has_findings() && warning.contains("runs over the edge"));
        say(format_args!("{sign}{bold}warning:{bold:#} {warning}"));
    }
    text
}

/// What stands before what lies above the edge.
fn mark(above_edge: bool) -> &'static str {
    if above_edge { "▲ " } else { "" }
}

/// The table, level by level.
fn held(found: &Capacity, down: bool) -> String {
    let told = found.units;
    let (length, area) = (told.length.symbol(), told.area.symbol());
    let volume = told.volume.symbol();
    let figure = |value: f64| grouped(value, told.decimals, " ");
    let height = |value: f64| grouped(value, 3, " ");
    let integrated = found.levels.iter().all(|held| held.volume.is_some());
    let mut heading = vec![
        format!("level, {length}"),
        "depth".into(),
        format!("area, {area}"),
    ];
    if integrated {
        heading.push(format!(
            "since {}, {volume}",
            if down { "above" } else { "below" }
        ));
    }
    if down {
        heading.push("down to here".into());
    }
    if integrated {
        heading.push("volume".into());
    }
    heading.extend(["average end area".into(), "conic".into()]);
    let row = |(index, row): (usize, &Held)| {
        let level = format!("{}{}", mark(row.above_edge), height(row.level));
        let mut cells = vec![level, height(row.depth), figure(row.area)];
        // From the top down, the step is that of the level above.
        let step = match down {
            true => found
                .levels
                .get(index + 1)
                .map_or(Some(0.0), |above| above.step),
            false => row.step,
        };
        cells.extend(step.filter(|_| integrated).map(figure));
        if down {
            cells.push(figure(row.room));
        }
        cells.extend(row.volume.map(figure));
        cells.extend([figure(row.by_average_end_area), figure(row.by_conic)]);
        cells
    };
    let mut rows: Vec<Vec<String>> = found.levels.iter().enumerate().map(row).collect();
    if down {
        rows.reverse();
    }
    table(heading, rows, None)
}
