//! Tables of zones: how much of each lies where, how high, how steep.

use dapedon_job::{
    Acceptance, Area, ConformityVerdict, CrossfallAt, CrossfallsWithin, Extreme, ZoneConformity,
};

use super::{Held, in_a_word};
use crate::describe::cells;
use crate::report::{Cell, Column, Group, Kind, Row, RowKind, ShownOn, Table};

/// Zones and their sum, with whether a row is the sum.
fn rows<'h>(found: &Held<'h>) -> impl Iterator<Item = (&'h ZoneConformity, bool)> {
    let zones = found.judged.zones.iter().map(|zone| (zone, false));
    zones.chain(found.judged.total.iter().map(|total| (total, true)))
}

fn kind(zone: &ZoneConformity, is_total: bool) -> RowKind {
    match (is_total, zone.verdict) {
        (true, _) => RowKind::Total,
        (false, ConformityVerdict::Conforms) => RowKind::Plain,
        (false, _) => RowKind::Off,
    }
}

/// Columns of a group: for each part of the ground its area, on sheets, and its share.
fn parts(found: &Held<'_>, names: &[(&str, &str)]) -> Vec<Column> {
    let area = Kind::Area(found.units.area, found.units.decimals);
    let columns = names.iter().flat_map(|(name, head)| {
        [
            Column::new(format!("{name}, area"), area.clone())
                .head(*head)
                .on(ShownOn::Sheet),
            Column::new(format!("{name}, share"), Kind::Share).head(*head),
        ]
    });
    columns.collect()
}

/// Cells of such columns.
fn part_cells<'p>(zone: &'p ZoneConformity, parts: &'p [Area]) -> impl Iterator<Item = Cell> + 'p {
    let cells = |part: &Area| [Cell::from(*part), Cell::from(part.value / zone.area.value)];
    parts.iter().flat_map(cells)
}

/// Where columns of what is shown stand: on sheets alone, where it is judged as measured.
fn guarded(found: &Held<'_>) -> ShownOn {
    match found.judged.acceptance {
        Acceptance::GuardBand => ShownOn::Both,
        Acceptance::Simple => ShownOn::Sheet,
    }
}

/// A table of zones.
fn table(
    found: &Held<'_>,
    groups: Vec<Group>,
    cells_of: impl Fn(&ZoneConformity) -> Option<Vec<Cell>>,
) -> Table {
    let row = |(zone, is_total): (&ZoneConformity, bool)| {
        let mut cells = cells![&zone.zone];
        let count = groups.iter().map(|group| group.columns.len()).sum();
        let own = cells_of(zone).unwrap_or_else(|| vec![Cell::Empty; count]);
        cells.extend(own);
        Row::new(kind(zone, is_total), cells)
    };
    Table {
        of: None,
        keys: vec![Column::text("zone")],
        rows: rows(found).map(row).collect(),
        groups,
    }
}

/// How much of each zone lies where.
pub(super) fn areas(found: &Held<'_>) -> Table {
    let area = Kind::Area(found.units.area, found.units.decimals);
    let mut first = vec![
        Column::text("verdict"),
        Column::new("area compared", area.clone()).head(format!("area, {}", area.symbol())),
        Column::new("area not compared", area)
            .head("not compared")
            .on(ShownOn::Page),
    ];
    first.extend(parts(
        found,
        &[
            ("within the limits", "within"),
            ("above the highest", "above"),
            ("below the lowest", "below"),
        ],
    ));
    let shown = [
        ("shown to be within", "within"),
        ("shown to be above", "above"),
        ("shown to be below", "below"),
        ("in doubt", "in doubt"),
    ];
    let groups = vec![
        Group::new("Heights as measured", first),
        Group {
            on: guarded(found),
            ..Group::new(
                "Heights, by more than their uncertainty",
                parts(found, &shown),
            )
        },
    ];
    table(found, groups, |zone| {
        let own = zone.heights?;
        let mut cells = cells![in_a_word(own.verdict), zone.area];
        cells.push(Cell::from(zone.not_compared));
        let parts = [
            own.within,
            own.above,
            own.below,
            own.shown_within,
            own.shown_above,
            own.shown_below,
            own.in_doubt,
        ];
        cells.extend(part_cells(zone, &parts));
        Some(cells)
    })
}

pub(super) fn place(at: Extreme) -> Cell {
    Cell::Place([at.east, at.north])
}

/// How high each zone lies, and what lies beyond.
pub(super) fn differences(found: &Held<'_>) -> Table {
    let height = Kind::Length(Some(found.units.length), 3);
    let volume = Kind::Volume(found.units.volume, found.units.decimals);
    let groups = vec![
        Group {
            note: "built less design".into(),
            ..Group::new(
                format!("Difference, {}", found.units.length.symbol()),
                vec![
                    Column::new("mean difference", height.clone()).head("mean"),
                    Column::new("highest difference", height.clone()).head("highest"),
                    Column::new("highest at", Kind::Place).head("at east / north"),
                    Column::new("lowest difference", height).head("lowest"),
                    Column::new("lowest at", Kind::Place).head("at east / north"),
                ],
            )
        },
        Group::new(
            format!("Volume beyond, {}", volume.symbol()),
            vec![
                Column::new("volume above the highest", volume.clone()).head("above"),
                Column::new("volume below the lowest", volume).head("below"),
            ],
        ),
    ];
    table(found, groups, |zone| {
        let own = zone.heights?;
        Some(vec![
            own.mean.into(),
            own.highest.into(),
            place(own.highest_at),
            own.lowest.into(),
            place(own.lowest_at),
            own.volume_above.into(),
            own.volume_below.into(),
        ])
    })
}

/// How steep each zone is.
pub(super) fn slopes(found: &Held<'_>) -> Table {
    let mut first = vec![Column::text("verdict of slopes").head("verdict")];
    first.extend(parts(
        found,
        &[
            ("within the limits of slope", "within"),
            ("flatter than the flattest", "flatter"),
            ("steeper than the steepest", "steeper"),
        ],
    ));
    let shown = [
        ("shown to be within the limits of slope", "within"),
        ("shown to be flatter", "flatter"),
        ("shown to be steeper", "steeper"),
    ];
    let slope = Kind::Figure(2);
    let at = |name: &str| {
        let column = Column::new(name, Kind::Place);
        column.head("at east / north").on(ShownOn::Page)
    };
    let groups = vec![
        Group::new("Slopes as measured", first),
        Group {
            on: guarded(found),
            ..Group::new(
                "Slopes, by more than their uncertainty",
                parts(found, &shown),
            )
        },
        Group::new(
            "Slope, %",
            vec![
                Column::new("flattest slope", slope.clone()).head("flattest"),
                at("flattest at"),
                Column::new("steepest slope", slope).head("steepest"),
                at("steepest at"),
            ],
        ),
    ];
    table(found, groups, |zone| {
        let own = zone.slopes?;
        let mut cells = cells![in_a_word(own.verdict)];
        let parts = [
            own.within,
            own.flatter,
            own.steeper,
            own.shown_within,
            own.shown_flatter,
            own.shown_steeper,
        ];
        cells.extend(part_cells(zone, &parts));
        cells.extend([
            Cell::Number(100.0 * own.flattest),
            place(own.flattest_at),
            Cell::Number(100.0 * own.steepest),
            place(own.steepest_at),
        ]);
        Some(cells)
    })
}

/// The crossfalls along a line, one by one.
pub(super) fn crossfalls(found: &CrossfallsWithin) -> Table {
    let unit = found.every.unit;
    let length = Kind::Length(Some(unit), 2);
    let fall = |name: &str, head: &str| Column::new(name, Kind::Figure(2)).head(head);
    let sure = found.places.iter().any(|own| own.uncertainty.is_some());
    let mut falls = vec![
        Column::new("width", length.clone()).head(format!("width, {}", length.symbol())),
        fall("crossfall of the design, %", "design"),
        fall("crossfall as built, %", "built"),
        fall("difference of crossfalls, %", "difference"),
    ];
    falls.extend(sure.then(|| fall("uncertainty of the difference, %", "±")));
    falls.push(Column::text("verdict"));
    let row = |own: &CrossfallAt| {
        let mut cells = cells![own.chainage, own.side.words(), own.width];
        cells
            .extend([own.design, own.built, own.difference()].map(|own| Cell::Number(100.0 * own)));
        cells.extend(sure.then_some(match own.uncertainty {
            Some(expanded) => Cell::Number(100.0 * expanded),
            None => Cell::Empty,
        }));
        cells.push(in_a_word(own.verdict).into());
        cells.push(place(own.at));
        let kind = match own.verdict {
            ConformityVerdict::Conforms => RowKind::Plain,
            _ => RowKind::Off,
        };
        Row::new(kind, cells)
    };
    Table {
        of: None,
        keys: vec![
            Column::new("chainage", Kind::Chainage(unit, 2)),
            Column::text("side"),
        ],
        groups: vec![
            Group {
                note: "positive as the design falls".into(),
                ..Group::new("Crossfall, %", falls)
            },
            Group {
                on: ShownOn::Page,
                ..Group::new(
                    "",
                    vec![
                        Column::new("place on the line", Kind::Place)
                            .head("on the line at east / north"),
                    ],
                )
            },
        ],
        rows: found.places.iter().map(row).collect(),
    }
}
