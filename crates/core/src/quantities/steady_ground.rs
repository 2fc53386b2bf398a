//! Ground on which two surfaces differ by the same everywhere, within the noise of the difference: perhaps nobody touched it.

use crate::overlay::{Overlay, OverlayError};
use crate::plan::{Edge, Extent, Place};
use crate::quantities::difference_map::{DifferenceMap, difference_map};
use crate::zones::rings::parts;
use crate::zones::{WithinZone, Zone};

/// The largest connected ground on which a difference is the same everywhere.
#[derive(Debug, Clone)]
pub struct SteadyGround {
    /// Its outlines in local coordinates, closed: an outer ring, then the holes in it.
    pub outline: Vec<Vec<Place>>,
    /// What it differs by: the median over its cells.
    pub difference: f64,
    /// The robust standard deviation from that over its cells.
    pub noise: f64,
}

/// Cells along the longer side of what is searched.
const CELLS: usize = 400;
/// Cells that ground has at least, to be worth a name.
const LEAST: usize = 100;
/// How many times the noise a cell may be off.
const GATE: f64 = 3.0;
/// How many times noisier than the quietest ground it may be.
const NOISIER: f64 = 2.0;
/// Differences that are tried, from the one that most ground has.
const TRIES: usize = 6;
/// Cells along the side of a square whose own spread says what is noise.
const SQUARE: usize = 12;
/// The share of squares that are quieter than what is taken for noise.
const QUIET: f64 = 0.2;
/// The standard deviation of what is normally distributed, per median distance from the median.
const PER_MEDIAN: f64 = 1.482_602_218_505_602;

/// Finds the largest connected ground of an overlay on which the difference is the same within its noise; none where there is no such ground
/// of some size. The noise is that of the quietest ground, and no less than `least_noise`. Ground in the zones of `measured` is left out.
///
/// The ground is read at 400 cells along its longer side and ends a cell inside of what was found, so that slopes beside it are not in it.
///
/// # Errors
///
/// When it is stopped by who watches.
pub fn steady_ground(
    overlay: &Overlay<'_>,
    extent: Extent,
    measured: &[Zone],
    least_noise: f64,
) -> Result<Option<SteadyGround>, OverlayError> {
    let map = difference_map(overlay, extent, CELLS)?;
    let mut cells = Cells::of(&map);
    let precision = overlay.frame().precision();
    let measured = measured.iter().map(|zone| WithinZone::of(zone, precision));
    measured.for_each(|zone| cells.leave_out(&map, &zone));
    let noise = cells.quiet().max(least_noise);
    if !noise.is_finite() {
        return Ok(None);
    }
    let tried = cells.most_frequent(noise).into_iter();
    let found = tried.filter_map(|middle| cells.grown(middle, noise));
    let Some((mut own, difference, noise)) = found.max_by_key(|(own, ..)| count(own)) else {
        return Ok(None);
    };
    own = cells.largest(&cells.inside(&own));
    if count(&own) < LEAST {
        return Ok(None);
    }
    Ok(Some(SteadyGround {
        outline: outline(&map, &own),
        difference,
        noise,
    }))
}

fn count(cells: &[bool]) -> usize {
    cells.iter().filter(|own| **own).count()
}

fn median(values: &mut [f64]) -> Option<f64> {
    let middle = values.len() / 2;
    (!values.is_empty()).then(|| *values.select_nth_unstable_by(middle, f64::total_cmp).1)
}

/// The median of some values, and their robust standard deviation from it.
fn middle_and_noise(mut values: Vec<f64>) -> Option<[f64; 2]> {
    let middle = median(&mut values)?;
    let mut off: Vec<f64> = values.iter().map(|value| (value - middle).abs()).collect();
    Some([middle, PER_MEDIAN * median(&mut off)?])
}

/// Differences at the middles of cells, row by row.
struct Cells {
    columns: usize,
    rows: usize,
    values: Vec<Option<f64>>,
}

impl Cells {
    fn of(map: &DifferenceMap) -> Self {
        let value = |pixel: &Option<crate::quantities::Pixel>| {
            pixel.map(|pixel| f64::from(pixel.difference))
        };
        Cells {
            columns: map.columns,
            rows: map.rows,
            values: map.pixels.iter().map(value).collect(),
        }
    }

    /// Takes out the cells whose middles lie in a zone.
    fn leave_out(&mut self, map: &DifferenceMap, zone: &WithinZone<'_>) {
        let extent = zone.zone().extent();
        for (cell, value) in self.values.iter_mut().enumerate() {
            let (row, column) = (cell / map.columns, cell % map.columns);
            let at = Place::new(
                map.corner.east + (column as f64 + 0.5) * map.cell,
                map.corner.north - (row as f64 + 0.5) * map.cell,
            );
            if extent.holds(&Extent::of([at])) && zone.holds(at) {
                *value = None;
            }
        }
    }

    /// The cells beside one: with `corners` those that touch it at a corner as well.
    fn beside(&self, cell: usize, corners: bool) -> impl Iterator<Item = usize> + use<> {
        let (columns, rows) = (self.columns, self.rows);
        let (row, column) = (cell / columns, cell % columns);
        let around = [
            (0, 1),
            (1, 0),
            (0, -1),
            (-1, 0),
            (1, 1),
            (1, -1),
            (-1, 1),
            (-1, -1),
        ];
        let take = if corners { 8 } else { 4 };
        around
            .into_iter()
            .take(take)
            .filter_map(move |(up, right)| {
                let row = row.checked_add_signed(up).filter(|row| *row < rows)?;
                let column = column
                    .checked_add_signed(right)
                    .filter(|column| *column < columns)?;
                Some(row * columns + column)
            })
    }

    /// The spread within the quieter squares of ground.
    fn quiet(&self) -> f64 {
        let mut spreads = Vec::new();
        for row in (0..self.rows).step_by(SQUARE) {
            for column in (0..self.columns).step_by(SQUARE) {
                let rows = row..(row + SQUARE).min(self.rows);
                let columns = column..(column + SQUARE).min(self.columns);
                let cells = rows.flat_map(|row| {
                    columns
                        .clone()
                        .map(move |column| row * self.columns + column)
                });
                let values: Vec<f64> = cells.filter_map(|cell| self.values[cell]).collect();
                if values.len() == SQUARE * SQUARE {
                    spreads.extend(middle_and_noise(values).map(|[_, noise]| noise));
                }
            }
        }
        spreads.sort_by(f64::total_cmp);
        let quiet = (QUIET * spreads.len() as f64) as usize;
        spreads.get(quiet).copied().unwrap_or(f64::INFINITY)
    }

    /// The middles of the classes, as wide as the noise, that most cells lie in with the classes beside them.
    fn most_frequent(&self, noise: f64) -> Vec<f64> {
        let mut classes = std::collections::BTreeMap::<i64, usize>::new();
        for value in self.values.iter().flatten() {
            *classes.entry((value / noise).floor() as i64).or_default() += 1;
        }
        let of = |class: i64| classes.get(&class).copied().unwrap_or(0);
        let three = classes
            .keys()
            .map(|&class| (of(class - 1) + of(class) + of(class + 1), class));
        let mut three: Vec<(usize, i64)> = three.collect();
        three.sort_by_key(|&(count, class)| (std::cmp::Reverse(count), class));
        let mut chosen: Vec<i64> = Vec::new();
        for (_, class) in three {
            if chosen.iter().all(|other| (other - class).abs() > 4) {
                chosen.push(class);
            }
            if chosen.len() == TRIES {
                break;
            }
        }
        chosen
            .into_iter()
            .map(|class| (class as f64 + 0.5) * noise)
            .collect()
    }

    /// The largest connected ground around a difference, with the difference and the noise in it.
    fn grown(&self, mut middle: f64, least: f64) -> Option<(Vec<bool>, f64, f64)> {
        let (mut noise, mut own, mut steady) = (least, Vec::new(), false);
        for _ in 0..3 {
            let near = |value: &Option<f64>| {
                value.is_some_and(|value| (value - middle).abs() <= GATE * noise)
            };
            let near: Vec<bool> = self.values.iter().map(near).collect();
            own = self.largest(&self.smoothed(&near));
            let values = own.iter().zip(&self.values);
            let values = values.filter_map(|(own, value)| value.filter(|_| *own));
            let [found, spread] = middle_and_noise(values.collect())?;
            // What is cut off at the gate spreads by less than what was before: it is not narrowed again and again.
            (middle, noise) = (found, spread.clamp(least, NOISIER * least));
            steady = spread <= NOISIER * least;
        }
        // Ground that leans fills its gate from end to end, however wide that is.
        steady.then_some((own, middle, noise))
    }

    /// Without single cells that stand apart from all around them.
    fn smoothed(&self, own: &[bool]) -> Vec<bool> {
        let like_most = |cell: usize| {
            let beside = self.beside(cell, true).filter(|&cell| own[cell]).count();
            self.values[cell].is_some() && beside + usize::from(own[cell]) >= 5
        };
        (0..own.len()).map(like_most).collect()
    }

    /// Those with cells of their own all around.
    fn inside(&self, own: &[bool]) -> Vec<bool> {
        let inside = |cell: usize| {
            let (mut all, mut count) = (own[cell], 0);
            for beside in self.beside(cell, true) {
                all &= own[beside];
                count += 1;
            }
            all && count == 8
        };
        (0..own.len()).map(inside).collect()
    }

    /// The largest part that is connected by the sides of cells.
    fn largest(&self, own: &[bool]) -> Vec<bool> {
        let mut seen = vec![false; own.len()];
        let mut best = Vec::new();
        for first in 0..own.len() {
            if !own[first] || seen[first] {
                continue;
            }
            seen[first] = true;
            let (mut part, mut next) = (vec![first], 0);
            while let Some(&cell) = part.get(next) {
                next += 1;
                for beside in self.beside(cell, false) {
                    if own[beside] && !seen[beside] {
                        seen[beside] = true;
                        part.push(beside);
                    }
                }
            }
            if part.len() > best.len() {
                best = part;
            }
        }
        let mut largest = vec![false; own.len()];
        best.into_iter().for_each(|cell| largest[cell] = true);
        largest
    }
}

/// The rings around some connected cells, with corners only where they turn.
fn outline(map: &DifferenceMap, own: &[bool]) -> Vec<Vec<Place>> {
    let (columns, rows) = (map.columns, map.rows);
    let is =
        |row: usize, column: usize| row < rows && column < columns && own[row * columns + column];
    let corner = |row: usize, column: usize| {
        let (east, north) = (column as f64 * map.cell, row as f64 * map.cell);
        Place::new(map.corner.east + east, map.corner.north - north)
    };
    let mut edges = Vec::new();
    for row in 0..rows {
        for column in (0..columns).filter(|&column| is(row, column)) {
            let [nw, ne] = [corner(row, column), corner(row, column + 1)];
            let [sw, se] = [corner(row + 1, column), corner(row + 1, column + 1)];
            // With the cell on the left.
            let sides = [
                (is(row + 1, column), sw, se),
                (is(row, column + 1), se, ne),
                (row > 0 && is(row - 1, column), ne, nw),
                (column > 0 && is(row, column - 1), nw, sw),
            ];
            let open = sides.into_iter().filter(|(beside, ..)| !beside);
            edges.extend(open.map(|(_, from, to)| Edge { from, to }));
        }
    }
    let rings = parts(&edges).into_iter().next().unwrap_or_default();
    rings.into_iter().map(|ring| straightened(&ring)).collect()
}

/// A ring without the corners that lie on a straight, closed by its first corner.
fn straightened(ring: &[Place]) -> Vec<Place> {
    let count = ring.len();
    let turns = |at: &usize| {
        let [before, here, after] = [at + count - 1, *at, at + 1].map(|at| ring[at % count]);
        (before.east == here.east) != (here.east == after.east)
    };
    let corners = (0..count).filter(turns).map(|at| ring[at]);
    let mut closed: Vec<Place> = corners.collect();
    closed.extend(closed.first().copied());
    closed
}

#[cfg(test)]
mod tests;
