//! How a surface of a job came about, as a tree; and the layers that it lies below.

use std::collections::BTreeMap;

use dapedon_job::{LayerQuantity, Origin, Recipe, Step};
use dapedon_report::number::{grouped, written};
use rust_decimal::Decimal;

use crate::table::worded;

/// The symbols and decimals that figures are told with.
pub(crate) struct Told<'t> {
    pub(crate) length: &'t str,
    pub(crate) area: &'t str,
    pub(crate) volume: &'t str,
    pub(crate) decimals: usize,
    pub(crate) currency: &'t str,
}

/// A recipe as a tree, a line each for its start and its steps, with what they changed below them.
pub(crate) fn tree(recipe: &Recipe, told: &Told<'_>) -> String {
    let mut lines = vec![recipe.name.clone()];
    branches(&recipe.told_once(), told, "", &mut lines);
    lines.iter().map(|line| format!("  {line}\n")).collect()
}

fn branches(recipe: &Recipe, told: &Told<'_>, indent: &str, lines: &mut Vec<String>) {
    let branch = |last: bool| {
        if last {
            ("└─ ", "   ")
        } else {
            ("├─ ", "│  ")
        }
    };
    let (mark, below) = branch(recipe.steps.is_empty());
    match &recipe.start {
        Origin::File { file, kind, notes } => {
            lines.push(format!("{indent}{mark}from {}: {kind}", file.path));
            lines.extend(
                notes
                    .iter()
                    .map(|note| format!("{indent}{below}  - {note}")),
            );
        }
        Origin::Above => lines.push(format!("{indent}{mark}as told above")),
        Origin::Level(height) => {
            lines.push(format!("{indent}{mark}from level {height} {}", told.length));
        }
        Origin::Surface(start) => {
            lines.push(format!("{indent}{mark}from {}", start.name));
            branches(start, told, &format!("{indent}{below}"), lines);
        }
    }
    for (index, step) in recipe.steps.iter().enumerate() {
        let (mark, below) = branch(index + 1 == recipe.steps.len());
        let within = match step.zones.as_slice() {
            [] => String::new(),
            zones => format!(", zone {}", zones.join(", ")),
        };
        lines.push(format!(
            "{indent}{mark}{} {}{within}  (line {})",
            index + 1,
            step.does,
            step.line
        ));
        if let Some(words) = changed(step, told) {
            lines.push(format!("{indent}{below}  {words}"));
        }
        lines.extend(
            step.notes
                .iter()
                .map(|note| format!("{indent}{below}  - {note}")),
        );
        if let Some(with) = &step.with {
            lines.push(format!("{indent}{below}└─ {}", with.name));
            branches(with, told, &format!("{indent}{below}   "), lines);
        }
    }
}

/// What a step changed, in words.
fn changed(step: &Step, told: &Told<'_>) -> Option<String> {
    let change = step.change?;
    let figure = |value: f64| grouped(value, told.decimals, " ");
    let (area, volume) = (told.area, told.volume);
    let mut parts = Vec::new();
    if change.area > 0.0 {
        parts.push(format!(
            "{} {area} changed: {} {volume} added, {} {volume} removed",
            figure(change.area),
            figure(change.added),
            figure(change.removed)
        ));
    }
    for (size, word) in [(change.gained, "gained"), (change.lost, "left out")] {
        if size > 0.0 {
            parts.push(format!("{} {area} {word}", figure(size)));
        }
    }
    match parts.is_empty() {
        true => Some("changes nothing".into()),
        false => Some(parts.join("; ")),
    }
}

/// The layers of build-ups as a table, zone by zone from the top down.
pub(crate) fn layers(layers: &[&LayerQuantity], told: &Told<'_>) -> String {
    let figure = |value: f64| grouped(value, told.decimals, " ");
    let row = |layer: &&LayerQuantity| {
        let counted = layer.counted.iter().map(|counted| {
            let count = written(counted.count, " ");
            match counted.cost {
                Some(cost) => format!(
                    "{count} {}, {} {}",
                    counted.unit,
                    written(cost, " "),
                    told.currency
                ),
                None => format!("{count} {}", counted.unit),
            }
        });
        [
            layer.zone.clone(),
            layer.layer.clone(),
            grouped(layer.thickness, 3, " "),
            figure(layer.area),
            figure(layer.sloping_area),
            figure(layer.volume),
            counted.collect::<Vec<_>>().join("; "),
        ]
    };
    let sum = layers.iter().map(|layer| layer.volume).sum::<f64>();
    // Layers lie over each other: an area counts once for a zone.
    let mut areas: BTreeMap<(&str, &str), [f64; 2]> = BTreeMap::new();
    for layer in layers {
        areas.insert(
            (&layer.build_up, &layer.zone),
            [layer.area, layer.sloping_area],
        );
    }
    let area = |index: usize| areas.values().map(|area| area[index]).sum::<f64>();
    let cost: Decimal = layers
        .iter()
        .flat_map(|layer| &layer.counted)
        .filter_map(|counted| counted.cost)
        .sum();
    let costs = match cost > Decimal::ZERO {
        true => format!("{} {}", written(cost, " "), told.currency),
        false => String::new(),
    };
    let total = [
        "total".into(),
        String::new(),
        String::new(),
        figure(area(0)),
        figure(area(1)),
        figure(sum),
        costs,
    ];
    let heading = [
        "zone".into(),
        "layer".into(),
        format!("thickness, {}", told.length),
        format!("plan area, {}", told.area),
        "along the slope".into(),
        format!("volume, {}", told.volume),
        "counted".into(),
    ];
    worded(
        2,
        heading,
        layers.iter().map(row).collect(),
        (layers.len() > 1).then_some(total),
    )
}
