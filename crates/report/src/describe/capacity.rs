//! What a basin holds, level by level.

use dapedon_job::{Capacity, CapacityAnswer, LevelRow};

use super::cells;
use super::uncertainty::{expanded, expanded_of, stated_of};
use crate::number::{grouped, written};
use crate::report::{
    Block, Cell, Column, Group, Input, Kind, Report, Row, RowKind, ShownOn, Table,
};

/// From which end levels are reported.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Direction {
    /// From the lowest.
    Up,
    /// From the highest: as the basin is emptied.
    Down,
}

/// What a basin holds.
pub fn capacity(found: &Capacity, direction: Direction) -> Report {
    let mut report = Report {
        lead: vec![format!("Volume of {} by level.", found.surface.source)],
        job: found.job.clone(),
        inputs: (std::iter::once(Input::side("Basin", &found.surface)))
            .chain(Input::zones(&found.zone_files))
            .collect(),
        findings: found.warnings.clone(),
        ..Report::default()
    };
    let wanted = found
        .answers
        .iter()
        .map(|wanted| wanted_words(wanted, found));
    report.add(Block::Lines(wanted.collect()));
    report.add(Block::Lines(within(found)));
    report.add(Block::Table(levels(found, direction)));
    let words = match found.is_integrated() {
        true => {
            "Volumes are integrated over the triangles. For comparison, volumes from the areas of this table: average end area, and conic."
        }
        false => "Volumes are computed from the areas of this table: average end area, and conic.",
    };
    report.add(Block::Paragraph(words.into()));
    if let Some(factor) = found.coverage_factor {
        let words = format!(
            "± is the uncertainty of the integrated volume at 95 % (k = {factor}), from the stated accuracy of the survey of the bed. The level counts as exact."
        );
        report.add(Block::Paragraph(words));
        for block in stated_of(&[&found.surface], found.units.length) {
            report.add_on(ShownOn::Page, block);
        }
    }
    report.add_on(ShownOn::Terminal, Block::Inputs);
    report
}

fn height(value: f64) -> String {
    grouped(value, 3)
}

/// What the basin is, how deep it goes, and where it spills.
fn within(found: &Capacity) -> Vec<String> {
    let length = found.units.length.symbol();
    let pool = found.pool.as_ref().map(|at| {
        let (east, north) = (grouped(at.east, 1), grouped(at.north, 1));
        format!("the pool at {east} / {north}")
    });
    let mut lines = vec![match (&found.zone, pool) {
        (Some(zone), Some(pool)) => format!("{pool}, within {zone}"),
        (Some(zone), None) => format!("all ground within {zone}, connected or not"),
        (None, Some(pool)) => pool,
        (None, None) if found.surface.triangles.is_none() => "from areas at some levels".into(),
        (None, None) => "all of it, connected or not".into(),
    }];
    lines.push(format!(
        "lowest place {} {length}",
        height(found.lowest_level.value)
    ));
    lines.extend(found.spill.as_ref().map(|over| {
        let freeboard = match found.freeboard.value {
            0.0 => String::new(),
            board => format!(", freeboard {} {length}", height(board)),
        };
        format!(
            "spills at level {} {length}, near east {}, north {}{freeboard}",
            height(over.level.value),
            grouped(over.at.east, 1),
            grouped(over.at.north, 1)
        )
    }));
    lines
}

/// The table, level by level.
fn levels(found: &Capacity, direction: Direction) -> Table {
    let (units, down) = (found.units, direction == Direction::Down);
    let length = Kind::Length(Some(units.length), 3);
    let volume = Kind::Volume(units.volume, units.decimals);
    // What was not integrated has neither.
    let on = match found.is_integrated() {
        true => ShownOn::Both,
        false => ShownOn::Sheet,
    };
    let columns = vec![
        Column::new("depth", length.clone()).head("depth"),
        Column::new("area", Kind::Area(units.area, units.decimals)),
        Column::new("step volume", volume.clone()).on(on),
        Column::new("room above", volume.clone())
            .head("running total")
            .on(if down { ShownOn::Both } else { ShownOn::Sheet }),
        Column::new("volume", volume.clone()).head("volume").on(on),
        Column::new("uncertainty of the volume", volume.clone())
            .head("±")
            .on(match found.coverage_factor {
                Some(_) => on,
                None => ShownOn::Sheet,
            }),
        Column::new("average end area", volume.clone()).head("average end area"),
        Column::new("conic", volume).head("conic"),
        Column::text("above the edge").on(ShownOn::Sheet),
    ];
    let row = |(index, held): (usize, &LevelRow)| {
        // From the top down, the step is that of the level above.
        let step = match down {
            true => found.levels.get(index + 1).map_or(Some(0.0), |above| {
                above.volume_of_step.map(|step| step.value)
            }),
            false => held.volume_of_step.map(|step| step.value),
        };
        let cells = cells![
            held.level,
            held.depth,
            held.water_area,
            step,
            held.volume_above,
            held.volume,
            held.volume
                .map_or(Cell::Empty, |own| expanded(own, found.coverage_factor)),
            held.volume_by_average_end_area,
            held.volume_by_conic,
            if held.above_spill_level { "yes" } else { "" },
        ];
        let kind = if held.above_spill_level {
            RowKind::Off
        } else {
            RowKind::Plain
        };
        Row::new(kind, cells)
    };
    let mut rows: Vec<Row> = found.levels.iter().enumerate().map(row).collect();
    if down {
        rows.reverse();
    }
    Table {
        of: None,
        keys: vec![Column::new("level", length).marked()],
        groups: vec![Group::new("", columns)],
        rows,
    }
}

/// What was asked for, in a sentence.
fn wanted_words(wanted: &CapacityAnswer, found: &Capacity) -> String {
    let units = found.units;
    let (length, area, volume) = (
        units.length.symbol(),
        units.area.symbol(),
        units.volume.symbol(),
    );
    let figure = |value: f64| grouped(value, units.decimals);
    let by = match (found.is_integrated(), &*wanted.method) {
        (true, _) => "",
        (false, "conic") => ", conic",
        (false, _) => ", average end area",
    };
    let sure = |value: f64, standard: Option<f64>| {
        let expanded = expanded_of(value, standard, found.coverage_factor);
        expanded.map_or(String::new(), |expanded| format!(" ±{}", written(expanded)))
    };
    let mark = if wanted.above_spill_level { "▲ " } else { "" };
    match (
        &*wanted.asked,
        wanted.volume,
        wanted.level,
        wanted.water_area,
    ) {
        ("volume", Some(held), Some(level), Some(wet)) => format!(
            "{mark}{} {volume} at level {}{} {length}, water area {} {area}{by}.",
            figure(held.value),
            height(level.value),
            sure(level.value, level.uncertainty),
            figure(wet.value)
        ),
        ("volume", Some(held), ..) => format!(
            "{} {volume} are more than the volume up to the highest level{by}.",
            figure(held.value)
        ),
        (_, Some(held), Some(level), Some(wet)) => format!(
            "{mark}At level {} {length}: {}{} {volume}, water area {} {area}{by}.",
            height(level.value),
            figure(held.value),
            sure(held.value, held.uncertainty),
            figure(wet.value)
        ),
        (_, _, level, _) => format!(
            "Level {} {length} is outside the table of areas{by}.",
            level.map_or(String::new(), |level| height(level.value))
        ),
    }
}
