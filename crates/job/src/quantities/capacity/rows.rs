//! Rows of a table, from the water at its levels.

use dapedon_core::quantities::{Spill, WaterAtLevel, average_end_area, conic};

use super::LevelRow;
use crate::units::ReportUnits;

/// Rows of ascending levels; of what was integrated, or of areas alone.
pub(super) fn held(
    found: &[WaterAtLevel],
    integrated: bool,
    lowest: f64,
    spill: Option<Spill>,
    told: ReportUnits,
) -> Vec<LevelRow> {
    let mut rows: Vec<LevelRow> = Vec::new();
    let (mut average, mut cone) = (0.0, 0.0);
    for (index, storage) in found.iter().enumerate() {
        let before = index.checked_sub(1).map(|index| found[index]);
        // What lies below the first level is known by the integral alone.
        match before {
            None => (average, cone) = (storage.volume, storage.volume),
            Some(before) => {
                // Level ground is under water from its own level on.
                let areas = [before.area + before.level_ground, storage.area];
                let step = storage.level - before.level;
                average += average_end_area(areas, step);
                cone += conic(areas, step);
            }
        }
        let below = before.map_or(0.0, |before| before.volume);
        let volume = |cubic: f64| integrated.then(|| told.volume_of(cubic));
        rows.push(LevelRow {
            level: told.length_of(storage.level),
            depth: told.length_of((storage.level - lowest).max(0.0)),
            water_area: told.area_of(match storage.area {
                // Of the lowest level its floor.
                0.0 => storage.level_ground,
                wet => wet,
            }),
            volume_of_step: volume(storage.volume - below),
            volume: volume(storage.volume),
            volume_above: told.volume_of(0.0),
            volume_by_average_end_area: told.volume_of(average),
            volume_by_conic: told.volume_of(cone),
            above_spill_level: spill.is_some_and(|spill| spill.is_below(storage.level)),
        });
    }
    let full = rows.last().map_or(0.0, |row| row.best().value);
    for row in &mut rows {
        row.volume_above.value = full - row.best().value;
    }
    rows
}
