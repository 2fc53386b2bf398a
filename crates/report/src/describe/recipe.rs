//! How a surface of a job came about, as a tree.

use dapedon_job::{Origin, Recipe, ReportUnits, Step};

use crate::number::grouped;

/// A recipe as a tree, a line each for its start and its steps, with what they changed below them.
pub(super) fn tree(recipe: &Recipe, units: &ReportUnits) -> Vec<String> {
    let mut lines = vec![recipe.name.clone()];
    branches(&recipe.told_once(), units, "", &mut lines);
    lines
}

fn branches(recipe: &Recipe, units: &ReportUnits, indent: &str, lines: &mut Vec<String>) {
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
        Origin::Above => lines.push(format!("{indent}{mark}as above")),
        Origin::Level(height) => {
            lines.push(format!(
                "{indent}{mark}from level {height} {}",
                units.length.symbol()
            ));
        }
        Origin::Surface(start) => {
            lines.push(format!("{indent}{mark}from {}", start.name));
            branches(start, units, &format!("{indent}{below}"), lines);
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
            step.action,
            step.job_file_line
        ));
        if let Some(words) = changed(step, units) {
            lines.push(format!("{indent}{below}  {words}"));
        }
        lines.extend(
            step.notes
                .iter()
                .map(|note| format!("{indent}{below}  - {note}")),
        );
        if let Some(with) = &step.other_surface {
            lines.push(format!("{indent}{below}└─ {}", with.name));
            branches(with, units, &format!("{indent}{below}   "), lines);
        }
    }
}

/// What a step changed, in words.
fn changed(step: &Step, units: &ReportUnits) -> Option<String> {
    let change = step.change?;
    let figure = |value: f64| grouped(value, units.decimals);
    let (area, volume) = (units.area.symbol(), units.volume.symbol());
    let mut parts = Vec::new();
    if change.area_changed.value > 0.0 {
        parts.push(format!(
            "{} {area} changed: {} {volume} added, {} {volume} removed",
            figure(change.area_changed.value),
            figure(change.volume_added.value),
            figure(change.volume_removed.value)
        ));
    }
    for (size, word) in [
        (change.area_added, "gained"),
        (change.area_removed, "left out"),
    ] {
        if size.value > 0.0 {
            parts.push(format!("{} {area} {word}", figure(size.value)));
        }
    }
    match parts.is_empty() {
        true => Some("changes nothing".into()),
        false => Some(parts.join("; ")),
    }
}
