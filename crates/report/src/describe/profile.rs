//! A profile of surfaces along a line, or from place to place.

use dapedon_job::{GroundProfile, ProfilePlace};

use super::cells;
use crate::number::grouped;
use crate::report::{
    Block, Cell, Column, Group, Input, InputOf, Kind, Picture, Report, Row, RowKind, ShownOn, Table,
};

/// Decimals of lengths, areas and heights.
const LENGTHS: usize = 2;
const AREAS: usize = 2;
const HEIGHTS: usize = 3;

/// A profile, with pictures of it.
pub fn profile(found: &GroundProfile, pictures: Vec<Picture>) -> Report {
    let mut report = Report {
        lead: vec![lead(found)],
        job: found.job.clone(),
        inputs: inputs(found),
        findings: found.warnings.clone(),
        ..Report::default()
    };
    report.pictures("Profile", pictures);
    report.add_on(ShownOn::Terminal, Block::Paragraph(report.lead.join(" ")));
    report.add(Block::Table(table(found)));
    report.add(Block::Table(reach(found)));
    if let Some(areas) = &found.areas {
        let [from, to] = [0, 1].map(|side| name(found, side));
        let symbol = areas.cut.unit.symbol();
        report.add(Block::Paragraph(format!(
            "In the profile, from {from} to {to}: {} {symbol} of cut and {} {symbol} of fill, over {} {}.",
            grouped(areas.cut.value, AREAS),
            grouped(areas.fill.value, AREAS),
            grouped(areas.compared, LENGTHS),
            found.units.length.symbol(),
        )));
    }
    if !found.corners.is_empty() {
        report.add_on(ShownOn::Page, Block::heading("Corners"));
        report.add_on(ShownOn::Page, Block::Table(corners(found)));
    }
    report.add_on(ShownOn::Page, Block::heading("Measured from"));
    report.add(Block::Inputs);
    report
}

fn name(found: &GroundProfile, side: usize) -> String {
    found
        .surfaces
        .get(side)
        .map(|side| side.source.clone())
        .unwrap_or_default()
}

fn lead(found: &GroundProfile) -> String {
    let symbol = found.units.length.symbol();
    let long = grouped(found.length.value, LENGTHS);
    let names: Vec<String> = (0..found.surfaces.len())
        .map(|side| name(found, side))
        .collect();
    let along = match &found.line {
        Some(line) => format!("along {}", line.line),
        None => "from place to place".into(),
    };
    format!("Profile of {} {along}, {long} {symbol}.", names.join(", "))
}

fn inputs(found: &GroundProfile) -> Vec<Input> {
    let surfaces = found.surfaces.iter();
    let mut inputs: Vec<Input> = surfaces.map(|side| Input::side("Surface", side)).collect();
    let file = found.line.as_ref().and_then(|line| line.file.as_ref());
    inputs.extend(file.map(|file| Input {
        role: "Line".into(),
        of: InputOf::File(file.clone()),
    }));
    inputs
}

/// A row for each place.
fn table(found: &GroundProfile) -> Table {
    let unit = found.units.length;
    let height = Kind::Length(Some(unit), HEIGHTS);
    let symbol = height.symbol();
    let mut columns: Vec<Column> = Vec::new();
    for side in 0..found.surfaces.len() {
        let own = name(found, side);
        let head = format!("{own}, {symbol}");
        columns.push(Column::new(format!("height of {own}"), height.clone()).head(head));
    }
    for side in 1..found.surfaces.len() {
        let own = name(found, side);
        let head = format!("{own} less {}", name(found, 0));
        columns.push(Column::new(format!("difference of {own}"), height.clone()).head(head));
    }
    let places = vec![
        Column::new("east", Kind::Length(Some(unit), HEIGHTS)),
        Column::new("north", Kind::Length(Some(unit), HEIGHTS)),
    ];
    let figure = |height: &Option<f64>| height.map_or(Cell::from("none"), Cell::Number);
    let row = |place: &ProfilePlace| {
        let mut cells = cells![place.chainage];
        cells.extend(place.heights.iter().map(figure));
        cells.extend(place.differences.iter().map(figure));
        cells.extend(cells![place.east, place.north]);
        Row::new(RowKind::Plain, cells)
    };
    let groups = vec![
        Group::new("Heights", columns),
        Group {
            on: ShownOn::Page,
            ..Group::new("Places", places)
        },
    ];
    Table {
        of: None,
        keys: vec![Column::new("chainage", Kind::Chainage(unit, LENGTHS))],
        groups,
        rows: found.places.iter().map(row).collect(),
    }
}

/// The lowest and the highest place of each surface.
fn reach(found: &GroundProfile) -> Table {
    let height = Kind::Length(Some(found.units.length), HEIGHTS);
    let rows = found
        .surfaces
        .iter()
        .zip(&found.reach)
        .map(|(side, reach)| {
            let cells = match reach {
                Some(reach) => cells![
                    &side.source,
                    reach.lowest,
                    &reach.lowest_at,
                    reach.highest,
                    &reach.highest_at
                ],
                None => cells![&side.source, "none", "", "none", ""],
            };
            Row::new(RowKind::Plain, cells)
        });
    Table {
        of: None,
        keys: vec![Column::text("surface")],
        groups: vec![Group::new(
            "Lowest and highest along the profile",
            vec![
                Column::new("lowest", height.clone()),
                Column::text("lowest at").head("at"),
                Column::new("highest", height),
                Column::text("highest at").head("at"),
            ],
        )],
        rows: rows.collect(),
    }
}

/// Chainages and heights of all surfaces wherever they bend.
fn corners(found: &GroundProfile) -> Table {
    let unit = found.units.length;
    let length = Kind::Length(Some(unit), HEIGHTS);
    let mut rows = Vec::new();
    for surface in &found.corners {
        for (run, corners) in surface.runs.iter().enumerate() {
            rows.extend(corners.iter().map(|[distance, height]| {
                let cells = cells![&surface.surface, run + 1, *distance, *height];
                Row::new(RowKind::Plain, cells)
            }));
        }
    }
    Table {
        of: None,
        keys: vec![Column::text("surface")],
        groups: vec![Group::new(
            "",
            vec![
                Column::new("run", Kind::Count),
                Column::new("distance", length.clone()),
                Column::new("height", length),
            ],
        )],
        rows,
    }
}
