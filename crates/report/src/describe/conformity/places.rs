//! The worst places: patches of ground beyond the limits, and single points.

use dapedon_job::{Acceptance, PatchBeyond, PatchesBeyond, PointBeyond, PointsBeyond};

use super::Held;
use super::tables::place;
use crate::describe::{cells, count};
use crate::report::{Block, Cell, Column, Group, Kind, Report, Row, RowKind, ShownOn, Table};

/// Ground beyond the limits, patch by patch.
pub(super) fn worst_places(found: &Held<'_>, patches: &PatchesBeyond, report: &mut Report) {
    report.add(Block::Heading {
        words: "Worst places".into(),
        small: true,
    });
    let listed = patches.worst.len();
    let words = match patches.count {
        1 => "The ground beyond the limits is one patch.".to_owned(),
        all if all == listed => format!(
            "The ground beyond the limits is {} patches. The one that lies farthest beyond stands first.",
            count(all)
        ),
        all => format!(
            "The ground beyond the limits is {} patches. The {listed} that lie farthest beyond are listed.",
            count(all)
        ),
    };
    report.add(Block::Paragraph(words));
    let units = found.units;
    let columns = vec![
        Column::text("side"),
        Column::new("beyond the limit", Kind::Length(Some(units.length), 3))
            .head(format!("beyond, {}", units.length.symbol())),
        Column::new("at", Kind::Place).head("at east / north"),
        Column::new("area", Kind::Area(units.area, units.decimals))
            .head(format!("area, {}", units.area.symbol())),
        Column::new("volume", Kind::Volume(units.volume, units.decimals))
            .head(format!("volume, {}", units.volume.symbol())),
    ];
    let row = |(index, patch): (usize, &PatchBeyond)| {
        let mut cells = cells![index as u64 + 1, patch.side.words(), patch.beyond];
        cells.push(place(patch.at));
        cells.extend(cells![patch.area, patch.volume]);
        Row::new(RowKind::Plain, cells)
    };
    report.add(Block::Table(Table {
        of: None,
        keys: vec![Column::new("patch", Kind::Count)],
        groups: vec![Group::new("", columns)],
        rows: patches.worst.iter().enumerate().map(row).collect(),
    }));
}

/// The points of the built surface.
pub(super) fn by_points(found: &Held<'_>, points: &PointsBeyond, report: &mut Report) {
    report.heading("Points");
    let beyond = points.above + points.below;
    let listed = match points.worst.len() {
        all if all == beyond => String::new(),
        listed => format!(" The {listed} that lie farthest beyond are listed."),
    };
    let outside = match points.not_compared {
        0 => String::new(),
        1 => " 1 point has no one height of the design and is not compared.".into(),
        all => format!(
            " {} points have no one height of the design and are not compared.",
            count(all)
        ),
    };
    report.add(Block::Paragraph(format!(
        "Of {} surveyed points {} are within the limits, {} above and {} below.{listed}{outside}",
        count(points.compared),
        count(points.within),
        count(points.above),
        count(points.below)
    )));
    if points.worst.is_empty() {
        return;
    }
    let height = Kind::Length(Some(found.units.length), 3);
    let guarded = match found.judged.acceptance {
        Acceptance::GuardBand => ShownOn::Both,
        Acceptance::Simple => ShownOn::Sheet,
    };
    let columns = vec![
        Column::new("at", Kind::Place).head("at east / north"),
        Column::new("design height", height.clone()).head("design"),
        Column::new("built height", height.clone()).head("built"),
        Column::new("difference", height.clone()),
        Column::new("beyond the limit", height).head("beyond"),
        Column::text("more than its uncertainty")
            .head("shown")
            .on(guarded),
    ];
    let row = |point: &PointBeyond| {
        let mut cells = cells![point.point.clone().unwrap_or_default()];
        cells.push(Cell::Place([point.east, point.north]));
        cells.extend(cells![
            point.design,
            point.built,
            point.difference,
            point.beyond
        ]);
        cells.push(Cell::from(if point.is_shown { "yes" } else { "in doubt" }));
        Row::new(RowKind::Plain, cells)
    };
    report.add(Block::Table(Table {
        of: None,
        keys: vec![Column::text("point")],
        groups: vec![Group::new(
            format!("Heights, {}", found.units.length.symbol()),
            columns,
        )],
        rows: points.worst.iter().map(row).collect(),
    }));
}
