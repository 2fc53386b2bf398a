//! Rows of a table, from the water at its levels.

use dapedon_core::{Storage, average_end_area, conic};

use super::Held;
use crate::ToldIn;

/// Heights this close together are the same: a micrometre is more than their rounding.
const SAME: f64 = 1e-6;

/// True for a level above the one at which water runs over the edge.
pub(crate) fn is_above(level: f64, edge: Option<f64>) -> bool {
    edge.is_some_and(|edge| level > edge + SAME)
}

/// Rows of ascending levels; of what was integrated, or of areas alone.
pub(super) fn held(
    found: &[Storage],
    integrated: bool,
    lowest: f64,
    edge: Option<f64>,
    told: ToldIn,
) -> Vec<Held> {
    let mut rows: Vec<Held> = Vec::new();
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
        let volume = |cubic: f64| integrated.then(|| told.of_cubic(cubic));
        rows.push(Held {
            level: storage.level,
            depth: (storage.level - lowest).max(0.0),
            area: told.of_square(match storage.area {
                // Of the lowest level its floor.
                0.0 => storage.level_ground,
                wet => wet,
            }),
            step: volume(storage.volume - below),
            volume: volume(storage.volume),
            room: 0.0,
            by_average_end_area: told.of_cubic(average),
            by_conic: told.of_cubic(cone),
            above_edge: is_above(storage.level, edge),
        });
    }
    let full = rows.last().map_or(0.0, Held::best);
    for row in &mut rows {
        row.room = full - row.best();
    }
    rows
}
