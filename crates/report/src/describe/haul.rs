//! The haul along a line.

use dapedon_job::{LineHaul, LoopOfHaul, Sections, Volume};

use super::cells;
use crate::number::grouped;
use crate::report::{Block, Column, Group, Kind, Report, Row, RowKind, Table};

/// Decimals of chainages.
const CHAINAGES: usize = 2;

/// The haul along the line: loop by loop, and in sentences what comes of it.
pub(super) fn haul(haul: &LineHaul, found: &Sections, report: &mut Report) {
    report.add(Block::heading("Mass haul"));
    let (unit, volume) = (found.units.length, found.units.volume);
    let chainage = Kind::Chainage(unit, CHAINAGES);
    let volumes = Kind::Volume(volume, found.units.decimals);
    let moment = |name: &str| {
        let symbol = format!("{}·{}", volume.symbol(), unit.symbol());
        Column::new(name, Kind::Figure(0)).head(format!("{name}, {symbol}"))
    };
    let columns = vec![
        Column::new("to", chainage.clone()),
        Column::text("carried"),
        Column::new("volume", volumes),
        Column::new("mean distance", Kind::Length(Some(unit), 1)),
        moment("haul"),
        moment("overhaul"),
    ];
    let row = |own: &LoopOfHaul| {
        Row::new(
            RowKind::Plain,
            cells![
                own.from.chainage,
                own.to.chainage,
                own.direction.words(),
                own.volume,
                own.mean_distance,
                own.haul,
                own.overhaul,
            ],
        )
    };
    let mut rows: Vec<Row> = haul.loops.iter().map(row).collect();
    rows.push(Row::new(
        RowKind::Total,
        cells!["total", "", "", haul.carried, "", haul.haul, haul.overhaul],
    ));
    report.add(Block::Table(Table {
        of: None,
        keys: vec![Column::new("from", chainage)],
        groups: vec![Group {
            note: format!(
                "compacted, cut × {}; overhaul is beyond {} {}",
                haul.shrink,
                haul.free_haul.value,
                unit.symbol()
            ),
            ..Group::new("Loops between balance points", columns)
        }],
        rows,
    }));
    let told = |volume: Volume| {
        format!(
            "{} {}",
            grouped(volume.value.abs(), found.units.decimals),
            volume.unit.symbol()
        )
    };
    let left = match haul.surplus.value {
        surplus if surplus > 0.0 => format!(
            "A surplus of {} leaves at {}.",
            told(haul.surplus),
            haul.access.station
        ),
        surplus if surplus < 0.0 => format!(
            "A shortfall of {} enters at {}.",
            told(haul.surplus),
            haul.access.station
        ),
        _ => "Cut makes the fill.".into(),
    };
    report.add(Block::Paragraph(format!(
        "{left} {} is cut and filled between the same two sections. The running sum is highest at {} with {} and lowest at {} with {}{}.",
        told(haul.in_place),
        haul.highest.at.station,
        told(haul.highest.sum),
        haul.lowest.at.station,
        if haul.lowest.sum.value < 0.0 { "−" } else { "" },
        told(haul.lowest.sum)
    )));
}
