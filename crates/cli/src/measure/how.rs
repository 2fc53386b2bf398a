//! How the quantity of an item comes about.

use dapedon_job::{Bill, BillItem, ItemRow, ZoneMeasurement};
use dapedon_report::number::{self, grouped};
use dapedon_report::words::{self, Told};
use rust_decimal::Decimal;

use crate::table::table;

/// What was measured of it, row by row, and what becomes of that, line by line.
pub(super) fn item(item: &BillItem, bill: &Bill, told: &Told<'_>) -> String {
    let measured = words::measured(item, bill.units.length.symbol());
    let mut lines = vec![format!("  {measured}")];
    if !item.rows.is_empty() {
        lines.push(match item.rows.iter().any(|row| row.measured.is_some()) {
            true => overlaid(item, bill),
            false => plain(item, bill),
        });
    }
    lines.extend(
        words::how(item, told)
            .iter()
            .map(|line| format!("  {line}")),
    );
    lines.join("\n")
}

/// Rows of which only one figure is known.
fn plain(item: &BillItem, bill: &Bill) -> String {
    let decimals = bill.units.decimals;
    let rows = lines(item, |name, row, counts| {
        let area = row.plan_area;
        let area = area.map_or(String::new(), |area| grouped(area, decimals, " "));
        [name, area, counts]
    });
    let heading = [
        "zone".into(),
        format!("plan area, {}", bill.units.area.symbol()),
        format!("counts, {}", item.measured_unit),
    ];
    let total = (item.rows.len() > 1).then(|| ["total".into(), String::new(), total(item)]);
    table(heading, rows, total)
}

/// Rows that were measured by an overlay.
fn overlaid(item: &BillItem, bill: &Bill) -> String {
    let told = bill.units;
    let written = |value: Option<f64>, decimals: usize| {
        value.map_or(String::new(), |value| grouped(value, decimals, " "))
    };
    let figure = |value: Option<f64>| written(value, told.decimals);
    let measured = |measured: Option<&ZoneMeasurement>| {
        let volume = measured.map(|measured| measured.volume);
        let difference = measured.and_then(|measured| measured.difference);
        [
            figure(measured.map(|measured| measured.area.compared)),
            figure(volume.map(|volume| volume.cut)),
            figure(volume.map(|volume| volume.fill)),
            figure(volume.map(|volume| volume.net)),
            written(difference.map(|difference| (-difference.min).max(0.0)), 3),
            written(difference.map(|difference| difference.max.max(0.0)), 3),
        ]
    };
    let row = |name: String, area: String, perimeter: String, all: [String; 6], counts: String| {
        let [compared, cut, fill, net, deepest, highest] = all;
        [
            name, area, perimeter, compared, cut, fill, net, deepest, highest, counts,
        ]
    };
    let rows = lines(item, |name, own, counts| {
        let (area, perimeter) = (figure(own.plan_area), figure(own.perimeter));
        row(
            name,
            area,
            perimeter,
            measured(own.measured.as_ref()),
            counts,
        )
    });
    let total = item.total.as_ref().map(|all| {
        let none = String::new();
        row(
            "total".into(),
            none.clone(),
            none,
            measured(Some(all)),
            total(item),
        )
    });
    let heading = [
        "zone".into(),
        format!("plan area, {}", told.area.symbol()),
        format!("perimeter, {}", told.length.symbol()),
        "compared".into(),
        format!("cut, {}", told.volume.symbol()),
        "fill".into(),
        "net".into(),
        format!("deepest cut, {}", told.length.symbol()),
        "highest fill".into(),
        format!("counts, {}", item.measured_unit),
    ];
    table(heading, rows, total)
}

/// The rows of an item, what is taken off, and what does not count: of each its name and what counts.
fn lines<const N: usize>(
    item: &BillItem,
    line: impl Fn(String, &ItemRow, String) -> [String; N],
) -> Vec<[String; N]> {
    let counts = |figure: Decimal| number::written(figure, " ");
    let own = item.rows.iter();
    let own = own.map(|row| line(row.zone.clone(), row, counts(row.written)));
    let shared = item.shared.iter().map(|row| {
        let name = format!("{}: taken off", row.zone);
        line(name, row, counts(-row.written))
    });
    let outside = item.in_no_plot.iter();
    let outside = outside.map(|row| line(row.zone.clone(), row, "not counted".into()));
    own.chain(shared).chain(outside).collect()
}

fn total(item: &BillItem) -> String {
    number::written(item.measured, " ")
}
