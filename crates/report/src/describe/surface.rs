//! A surface that was built.

use dapedon_job::Built;

use super::layers::layers;
use super::recipe::tree;
use super::{cells, count};
use crate::number::{grouped, range};
use crate::report::{Block, Column, Group, Kind, Report, Row, RowKind, ShownOn, Table};

/// A surface, what it is and how it came about.
pub fn surface(built: &Built) -> Report {
    let (side, units) = (&built.side, built.units);
    let mut report = Report {
        findings: built.warnings.clone(),
        ..Report::default()
    };
    let kind = match &side.file {
        Some(file) if side.recipe.is_none() => &file.format,
        _ => &side.kind,
    };
    report.heading(&side.source);
    let area = |value: f64| {
        let figure = grouped(value, units.decimals);
        format!("{figure} {}", units.area.symbol())
    };
    let (min, max) = (built.min, built.max);
    let facts = [
        ("kind", kind.clone()),
        (
            "surface",
            format!(
                "{} triangles between {} points",
                count(side.triangles.unwrap_or_default()),
                count(built.vertices)
            ),
        ),
        (
            "area",
            format!(
                "{} in plan, {} along the ground",
                area(built.area.value),
                area(built.sloping_area.value)
            ),
        ),
        ("east", range([min.east, max.east], 3)),
        ("north", range([min.north, max.north], 3)),
        (
            "heights",
            format!(
                "{} {}",
                range(built.heights.map(|height| height.value), 3),
                units.length.symbol()
            ),
        ),
    ];
    let facts = facts.map(|(label, words)| (label.to_owned(), words));
    report.add(Block::Facts(facts.to_vec()));
    report.add(Block::Notes(side.notes.clone()));
    report.add_on(ShownOn::Sheet, Block::Table(figures(built)));
    let recipe = side.recipe.as_ref().filter(|_| side.file.is_none());
    if let Some(recipe) = recipe {
        report.heading("How it was made");
        report.add(Block::Lines(tree(recipe, &units)));
        let found = recipe.layers();
        if !found.is_empty() {
            report.heading("Build-up");
            let of = Some(("surface", side.source.clone()));
            report.add(Block::Table(layers(of, &found, &units, &built.currency)));
        }
    }
    report
}

/// Its figures in a row.
fn figures(built: &Built) -> Table {
    let units = built.units;
    let length = Kind::Length(Some(units.length), 3);
    let area = Kind::Area(units.area, units.decimals);
    let columns = vec![
        Column::new("points", Kind::Count),
        Column::new("facets", Kind::Count),
        Column::new("plan area", area.clone()),
        Column::new("area along the ground", area),
        Column::new("lowest", length.clone()),
        Column::new("highest", length),
        Column::new("south-west corner", Kind::Place),
        Column::new("north-east corner", Kind::Place),
    ];
    let [low, high] = built.heights;
    let place = |at: dapedon_job::Extreme| crate::report::Cell::Place([at.east, at.north]);
    let cells = cells![
        &built.side.source,
        built.vertices,
        built.side.triangles,
        built.area,
        built.sloping_area,
        low,
        high,
        place(built.min),
        place(built.max),
    ];
    Table {
        of: None,
        keys: vec![Column::text("surface")],
        groups: vec![Group::new("", columns)],
        rows: vec![Row::new(RowKind::Plain, cells)],
    }
}
