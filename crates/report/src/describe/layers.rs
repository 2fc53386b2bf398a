//! The layers of build-ups, zone by zone from the top down.

use std::collections::BTreeMap;

use dapedon_job::{LayerQuantity, ReportUnits};
use rust_decimal::Decimal;

use super::cells;
use crate::number::{money, written};
use crate::report::{Column, Group, Kind, Row, RowKind, Table};

/// Layers as a table, of something that has a name.
pub(super) fn layers(
    of: Option<(&'static str, String)>,
    layers: &[&LayerQuantity],
    units: &ReportUnits,
    currency: &Option<String>,
) -> Table {
    let area = Kind::Area(units.area, units.decimals);
    let currency = currency.as_deref().unwrap_or_default();
    let row = |layer: &&LayerQuantity| {
        let counted = layer.counted.iter().map(|counted| {
            let count = written(counted.count);
            match counted.cost {
                Some(cost) => format!("{count} {}, {} {currency}", counted.unit, money(cost)),
                None => format!("{count} {}", counted.unit),
            }
        });
        let cells = cells![
            &layer.zone,
            &layer.layer,
            layer.thickness,
            layer.area,
            layer.sloping_area,
            layer.volume,
            counted.collect::<Vec<_>>().join("; "),
        ];
        Row::new(RowKind::Plain, cells)
    };
    let mut rows: Vec<Row> = layers.iter().map(row).collect();
    rows.extend((layers.len() > 1).then(|| total(layers, currency)));
    Table {
        of,
        keys: vec![Column::text("zone"), Column::text("layer")],
        groups: vec![Group::new(
            "",
            vec![
                Column::new("thickness", Kind::Length(Some(units.length), 3)),
                Column::new("plan area", area.clone()),
                Column::new("sloping area", area),
                Column::new("volume", Kind::Volume(units.volume, units.decimals)),
                Column::text("counted"),
            ],
        )],
        rows,
    }
}

fn total(layers: &[&LayerQuantity], currency: &str) -> Row {
    // Layers lie over each other: an area counts once for a zone.
    let mut areas: BTreeMap<(&str, &str), [f64; 2]> = BTreeMap::new();
    for layer in layers {
        areas.insert(
            (&layer.build_up, &layer.zone),
            [layer.area.value, layer.sloping_area.value],
        );
    }
    let area = |index: usize| areas.values().map(|area| area[index]).sum::<f64>();
    let counted = layers.iter().flat_map(|layer| &layer.counted);
    let cost: Decimal = counted.filter_map(|counted| counted.cost).sum();
    let cost = match cost.is_zero() {
        true => String::new(),
        false => format!("{} {currency}", money(cost)),
    };
    let volume = layers.iter().map(|layer| layer.volume.value).sum::<f64>();
    let cells = cells!["total", "", "", area(0), area(1), volume, cost];
    Row::new(RowKind::Total, cells)
}
