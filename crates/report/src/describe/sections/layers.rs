//! The layers of build-ups in sections.

use dapedon_core::units::AreaUnit;
use dapedon_job::{SectionLayer, Sections};

use super::{AREAS, LENGTHS};
use crate::describe::cells;
use crate::report::{Block, Cell, Column, Group, Kind, Report, Row, RowKind, Table};

/// The layers of build-ups: their areas in each section, and their volumes.
pub(super) fn layers(found: &Sections, report: &mut Report) {
    report.add(Block::heading("Layers"));
    let area = Kind::Area(AreaUnit::usual(found.units.length), AREAS);
    let several = found
        .layers
        .windows(2)
        .any(|pair| pair[0].surface != pair[1].surface);
    let name = |own: &SectionLayer| match several {
        true => format!("{} of {}", own.layer, own.surface),
        false => own.layer.clone(),
    };
    let column = |own: &SectionLayer| {
        let head = format!("{}, {}", name(own), area.symbol());
        Column::new(format!("area of {}", name(own)), area.clone()).head(head)
    };
    let rows = found.sections.iter().enumerate().map(|(number, section)| {
        let mut cells = cells![section.chainage];
        let own = |layer: &SectionLayer| match layer.areas.get(number) {
            Some(Some(area)) => Cell::Number(area.value),
            _ => Cell::from("no ground"),
        };
        cells.extend(found.layers.iter().map(own));
        Row::new(RowKind::Plain, cells)
    });
    report.add(Block::Table(Table {
        of: None,
        keys: vec![Column::new(
            "chainage",
            Kind::Chainage(found.units.length, LENGTHS),
        )],
        groups: vec![Group::new(
            "Areas of the layers",
            found.layers.iter().map(column).collect(),
        )],
        rows: rows.collect(),
    }));
    let volume = Kind::Volume(found.units.volume, found.units.decimals);
    let columns = ["by sections", "between the surfaces", "difference"];
    let row = |own: &SectionLayer| {
        let exact = own.exact.map(|exact| exact.value);
        let cells = cells![
            name(own),
            own.volume,
            exact,
            exact.map(|exact| own.volume.value - exact)
        ];
        Row::new(RowKind::Plain, cells)
    };
    report.add(Block::Table(Table {
        of: None,
        keys: vec![Column::text("layer")],
        groups: vec![Group::new(
            "Volumes of the layers",
            columns
                .map(|name| Column::new(name, volume.clone()))
                .to_vec(),
        )],
        rows: found.layers.iter().map(row).collect(),
    }));
}
