//! Cut and fill in lifts, as they are read on a terminal.

use dapedon_job::{Lift, Measurement, Scene};
use dapedon_report::number::grouped;

use crate::table::{Line, lined};

/// Cut and fill in lifts, zone by zone.
pub(super) fn by_depth(measurement: &Measurement, scene: &Scene) -> String {
    let figure = |value: f64| grouped(value, scene.units.decimals, " ");
    let height = |value: f64| grouped(value, 2, " ");
    let (length, area) = (scene.units.length.symbol(), scene.units.area.symbol());
    let volume = scene.units.volume.symbol();
    let zones = &measurement.by_depth;
    let all = || {
        zones
            .iter()
            .flat_map(|zone| zone.cut.iter().chain(&zone.fill))
    };
    let leveled = all().any(|lift| lift.levels.is_some());
    // Where there are levels, depths would only be told from another end.
    let told = if leveled { "levels" } else { "depth" };
    let mut heading = vec![format!("{told}, {length}")];
    heading.extend([
        format!("area, {area}"),
        format!("volume, {volume}"),
        "running".into(),
    ]);
    let row = |lift: &Lift| {
        let between = |[from, to]: [f64; 2]| format!("{} to {}", height(from), height(to));
        let mut cells = vec![between(lift.levels.unwrap_or([lift.from, lift.to]))];
        cells.extend([lift.area, lift.volume, lift.running].map(figure));
        cells
    };
    let mut lines = Vec::new();
    for zone in zones {
        for (way, lifts) in [("cut", &zone.cut), ("fill", &zone.fill)] {
            if !lifts.is_empty() {
                lines.push(Line::Heading(format!("{}, {way}", zone.zone)));
                lines.extend(lifts.iter().map(|lift| Line::Plain(row(lift))));
            }
        }
    }
    lined(1, heading, lines, None)
}
