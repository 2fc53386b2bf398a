//! A haul plan between zones.

use dapedon_job::{HaulRow, HaulZone, ZoneHaul};

use super::{cells, count};
use crate::number::grouped;
use crate::report::{
    Block, Cell, Column, Group, Headline, Input, Kind, Picture, Report, Row, RowKind, ShownOn,
    Table,
};

/// Decimals of distances, of places and of costs.
const DISTANCES: usize = 1;
const PLACES: usize = 1;
const COSTS: usize = 2;

/// A haul plan, with maps of it.
pub fn zone_haul(found: &ZoneHaul, pictures: Vec<Picture>) -> Report {
    let mut report = Report {
        lead: vec![lead(found)],
        job: found.job.clone(),
        headlines: headlines(found),
        inputs: inputs(found),
        findings: found.warnings.clone(),
        ..Report::default()
    };
    report.pictures("Map", pictures);
    report.add_on(ShownOn::Terminal, Block::Paragraph(report.lead.join(" ")));
    report.add(Block::Table(plan(found)));
    report.add(Block::Table(zones(found)));
    report.add(Block::Paragraph(
        "The total is the least there is; other plans may come to the same.".into(),
    ));
    report.add_on(ShownOn::Page, Block::heading("Measured from"));
    report.add(Block::Inputs);
    report
}

fn lead(found: &ZoneHaul) -> String {
    let way = match found.detour {
        1.0 => "Distances are straight between the middles of cut and fill".to_owned(),
        detour => {
            format!("Distances are straight between the middles of cut and fill, times {detour}")
        }
    };
    let least = match found.rate {
        Some(_) => "the least cost",
        None => "the least volume times distance",
    };
    format!(
        "Haul between {} zones with {least}, from {} (reference) to {} (surveyed). Volumes are compacted, cut × {}. {way}.",
        count(found.zones.len()),
        found.reference.source,
        found.surveyed.source,
        found.shrink
    )
}

fn headlines(found: &ZoneHaul) -> Vec<Headline> {
    let (volume, length) = (found.units.volume.symbol(), found.units.length.symbol());
    let headline = |label: &str, figure: String, words: &str| Headline {
        label: label.into(),
        figure,
        words: words.into(),
    };
    let mut all = vec![
        headline(
            "Carried",
            format!(
                "{} {volume}",
                grouped(found.total.volume.value, found.units.decimals)
            ),
            "compacted",
        ),
        headline(
            "Haul",
            format!("{} {volume}·{length}", grouped(found.total.haul, 0)),
            "volume times distance",
        ),
        headline(
            "Mean distance",
            format!(
                "{} {length}",
                grouped(found.total.mean_distance.value, DISTANCES)
            ),
            "",
        ),
    ];
    all.extend(found.total.cost.map(|cost| {
        let currency = found.currency.clone().unwrap_or_default();
        headline(
            "Cost",
            format!("{} {currency}", grouped(cost, COSTS)),
            "of haul, borrow and tip",
        )
    }));
    all
}

fn inputs(found: &ZoneHaul) -> Vec<Input> {
    let mut inputs = vec![
        Input::side("Reference", &found.reference),
        Input::side("Surveyed", &found.surveyed),
    ];
    inputs.extend(Input::zones(&found.zone_files));
    inputs.extend(Input::lines(&found.line_files));
    inputs
}

/// What goes where.
fn plan(found: &ZoneHaul) -> Table {
    let unit = found.units.length;
    let volume = Kind::Volume(found.units.volume, found.units.decimals);
    let symbol = format!("{}·{}", found.units.volume.symbol(), unit.symbol());
    let costs = found.rate.is_some();
    let mut columns = vec![
        Column::text("from what").head("as"),
        Column::text("to"),
        Column::text("to what").head("as"),
        Column::new("volume", volume),
        Column::new("distance", Kind::Length(Some(unit), DISTANCES)),
        Column::new("haul", Kind::Figure(0)).head(format!("haul, {symbol}")),
    ];
    let currency = found.currency.clone();
    columns.extend(costs.then(|| {
        let head = currency.map_or("cost".to_owned(), |currency| format!("cost, {currency}"));
        Column::new("cost", Kind::Figure(COSTS)).head(head)
    }));
    let row = |own: &HaulRow| {
        let mut cells = cells![
            &own.from,
            own.from_kind.words(),
            &own.to,
            own.to_kind.words(),
            own.volume,
            own.distance,
            own.haul
        ];
        cells.extend(costs.then(|| own.cost.map_or(Cell::Empty, Cell::Number)));
        Row::new(RowKind::Plain, cells)
    };
    let mut rows: Vec<Row> = found.rows.iter().map(row).collect();
    let total = &found.total;
    let mut cells = cells![
        "total",
        "",
        "",
        "",
        total.volume,
        total.mean_distance,
        total.haul
    ];
    cells.extend(costs.then(|| total.cost.map_or(Cell::Empty, Cell::Number)));
    rows.push(Row::new(RowKind::Total, cells));
    Table {
        of: None,
        keys: vec![Column::text("from")],
        groups: vec![Group {
            note: "compacted volumes; in the total the mean distance".into(),
            ..Group::new("Plan", columns)
        }],
        rows,
    }
}

/// The zones, and where their middles are.
fn zones(found: &ZoneHaul) -> Table {
    let volume = Kind::Volume(found.units.volume, found.units.decimals);
    let place = Kind::Length(Some(found.units.length), PLACES);
    let any = |of: fn(&HaulZone) -> f64| found.zones.iter().any(|zone| of(zone) > 0.0);
    let (left, missing) = (
        any(|zone| zone.left_over.value),
        any(|zone| zone.missing.value),
    );
    let mut columns = vec![
        Column::new("cut", volume.clone()),
        Column::new("makes", volume.clone()),
        Column::new("fill", volume.clone()),
    ];
    columns.extend(left.then(|| Column::new("left over", volume.clone()).marked()));
    columns.extend(missing.then(|| Column::new("missing", volume).marked()));
    let middles = ["cut east", "cut north", "fill east", "fill north"]
        .map(|name| Column::new(name, place.clone()));
    let row = |zone: &HaulZone| {
        let mut cells = cells![&zone.zone, zone.cut, zone.makes, zone.fill];
        cells.extend(left.then(|| Cell::from(zone.left_over)));
        cells.extend(missing.then(|| Cell::from(zone.missing)));
        for middle in [zone.cut_middle, zone.fill_middle] {
            match middle {
                Some([east, north]) => cells.extend(cells![east, north]),
                None => cells.extend([Cell::Empty, Cell::Empty]),
            }
        }
        Row::new(RowKind::Plain, cells)
    };
    Table {
        of: None,
        keys: vec![Column::text("zone")],
        groups: vec![
            Group {
                note: "cut in the bank, what it makes compacted".into(),
                ..Group::new("Zones", columns)
            },
            Group {
                on: ShownOn::Page,
                ..Group::new("Middles", middles.to_vec())
            },
        ],
        rows: found.zones.iter().map(row).collect(),
    }
}
