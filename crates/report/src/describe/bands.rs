//! Bands of difference: ground by how much it differs.

use dapedon_job::{BandFigures, BandSide, Bands, Length, ReportUnits};

use super::cells;
use super::uncertainty::expanded;
use crate::report::{Block, Cell, Column, Group, Kind, Row, RowKind, ShownOn, Table};

/// What a reader of bands must know.
const WORDS: &str = "Each band has the whole volume over the ground whose difference lies in it. Running totals add up from the middle band outwards.";

/// The bands of a measurement, or of what is named in `of`, as blocks for some.
pub(super) fn bands(
    bands: &Bands,
    units: &ReportUnits,
    of: Option<(&'static str, String)>,
    on: ShownOn,
) -> Vec<(ShownOn, Block)> {
    let named = bands.name.as_ref();
    let named = named.map_or(String::new(), |name| format!(" \"{name}\""));
    let heading = Block::Heading {
        words: format!("Bands of difference{named}"),
        small: of.is_some(),
    };
    vec![
        (on, heading),
        (on, Block::Paragraph(WORDS.into())),
        (on, Block::Table(table(bands, units, of))),
    ]
}

fn table(bands: &Bands, units: &ReportUnits, of: Option<(&'static str, String)>) -> Table {
    let height = Kind::Length(Some(units.length), 3);
    let area = Kind::Area(units.area, units.decimals);
    let volume = Kind::Volume(units.volume, units.decimals);
    let mut columns = vec![
        Column::new("to difference", height.clone()),
        Column::new("area", area.clone()),
        Column::new("share of area", Kind::Share).head("share"),
        Column::new("cut volume", volume.clone()).head(format!("cut, {}", volume.symbol())),
        Column::new("fill volume", volume.clone()).head(format!("fill, {}", volume.symbol())),
    ];
    if bands.coverage_factor.is_some() {
        columns.push(Column::new("uncertainty of the volume", volume.clone()).head("±"));
    }
    columns.extend([
        Column::new("running area", area),
        Column::new("running volume", volume),
    ]);
    let several = bands.zones.len() > 1;
    let mut rows = Vec::new();
    for zone in &bands.zones {
        for (side, words) in [
            (BandSide::Cut, "cut"),
            (BandSide::Middle, "middle band"),
            (BandSide::Fill, "fill"),
        ] {
            let own = zone.bands.iter().filter(|band| {
                let is_bare = band.side == BandSide::Middle && band.area.value == 0.0;
                band.side == side && !is_bare
            });
            // From the middle outwards, as running totals add up.
            let own: Vec<&BandFigures> = match side {
                BandSide::Cut => own.rev().collect(),
                BandSide::Middle | BandSide::Fill => own.collect(),
            };
            if own.is_empty() {
                continue;
            }
            rows.push(Row::section(match several {
                true => format!("{}, {words}", zone.zone),
                false => words.to_owned(),
            }));
            rows.extend(own.into_iter().map(|band| row(band, bands.coverage_factor)));
        }
    }
    Table {
        of,
        keys: vec![Column::new("from difference", height)],
        groups: vec![Group::new("", columns)],
        rows,
    }
}

fn row(band: &BandFigures, coverage_factor: Option<f64>) -> Row {
    let edge = |edge: Option<Length>, open: &str| match edge {
        Some(edge) => Cell::from(edge),
        None => Cell::from(open),
    };
    let (low, high) = (edge(band.from, "lower"), edge(band.to, "higher"));
    let [from, to] = match band.side {
        BandSide::Cut => [high, low],
        BandSide::Middle | BandSide::Fill => [low, high],
    };
    let mut cells = vec![from, to];
    cells.extend(cells![band.area, band.share]);
    let (cut, fill) = (Cell::from(band.cut), Cell::from(band.fill));
    cells.extend(match band.side {
        BandSide::Cut => [cut, Cell::Empty],
        BandSide::Middle => [cut, fill],
        BandSide::Fill => [Cell::Empty, fill],
    });
    if coverage_factor.is_some() {
        // In the middle band cut and fill change each other's ground: neither has one of its own.
        cells.push(match band.side {
            BandSide::Cut => expanded(band.cut, coverage_factor),
            BandSide::Middle => Cell::Empty,
            BandSide::Fill => expanded(band.fill, coverage_factor),
        });
    }
    // The middle band is where totals start from.
    cells.extend(match band.side {
        BandSide::Middle => [Cell::Empty, Cell::Empty],
        BandSide::Cut | BandSide::Fill => [
            Cell::from(band.running_area),
            Cell::from(band.running_volume),
        ],
    });
    Row::new(RowKind::Plain, cells)
}
