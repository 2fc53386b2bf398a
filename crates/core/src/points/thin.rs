//! Clouds of points thinned to one height a cell.

mod middle;
mod packed;
mod tile;

use std::collections::HashMap;

use super::far_off;
use crate::plan::Place;
use crate::surface::Vertex;
use crate::surface::tin;
use middle::Kept;
use packed::PackedHeight;
use tile::{Heights, Tile};

/// Cells along the side of a tile.
const SIDE: i64 = 32;
const CELLS: usize = (SIDE * SIDE) as usize;
/// Cells that a grid may have.
const MOST: u64 = tin::MOST as u64;

/// Which height a cell keeps of its points.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default)]
pub enum Keep {
    /// The lowest.
    Lowest,
    /// The mean.
    Mean,
    /// The middle one; the mean of the two in the middle where they are even in number.
    #[default]
    Median,
    /// The highest.
    Highest,
}

/// Takes points one by one and keeps one height for each square cell that holds any.
///
/// The sides of cells stand at multiples of their length, so that the cells of two clouds meet. Ground is
/// held in tiles as points arrive: what nobody flew over takes no room.
///
/// ```
/// use dapedon_core::points::{Keep, Thinner};
/// let mut cloud = Thinner::new(2.0, Keep::Lowest);
/// // A plane that rises by a half to the east; of the first cell the lowest point is kept, which stands in its west.
/// for (east, north) in [(10.5, 21.0), (11.5, 21.0), (12.5, 21.0), (14.5, 21.0)] {
///     cloud.add(east, north, 0.5 * east);
/// }
/// // At the middles of the cells, at 11, 13 and 15, the plane has these heights.
/// let grid = cloud.cells(u64::MAX).unwrap();
/// assert_eq!((grid.size, grid.heights), ([3, 1], vec![5.5, 6.5, 7.5]));
/// ```
#[derive(Debug)]
pub struct Thinner {
    cell: f64,
    keep: Keep,
    numbers: HashMap<[i64; 2], usize>,
    tiles: Vec<Tile>,
    /// The tile of the point before, and its number.
    last: ([i64; 2], usize),
    points: u64,
}

/// One height for each cell.
#[derive(Debug, Clone)]
pub struct ThinnedCells {
    /// The middle of the south-west cell.
    pub corner: Place,
    /// Columns and rows.
    pub size: [usize; 2],
    /// Row by row from the south-west; not a number where there is no point.
    pub heights: Vec<f64>,
}

/// More cells than can be measured; one stray point far away is enough.
#[derive(Debug, Clone, Copy, PartialEq, thiserror::Error)]
#[error("{columns} by {rows} cells")]
pub struct TooManyCells {
    /// Columns between the points farthest west and east.
    pub columns: i64,
    /// Rows between the points farthest south and north.
    pub rows: i64,
}

impl Thinner {
    /// Cells of side `cell`, each with the height that `keep` says.
    pub fn new(cell: f64, keep: Keep) -> Self {
        Thinner {
            cell,
            keep,
            numbers: HashMap::new(),
            tiles: Vec::new(),
            last: ([i64::MIN; 2], 0),
            points: 0,
        }
    }

    /// The side of its cells.
    pub fn cell(&self) -> f64 {
        self.cell
    }

    /// How many points it has taken.
    pub fn taken(&self) -> u64 {
        self.points
    }

    /// The plan area of the cells that hold a point.
    pub fn covered(&self) -> f64 {
        let held = self.numbers.values().map(|&number| &self.tiles[number]);
        let counts = held.flat_map(|tile| &tile.counts);
        counts.filter(|&&count| count > 0).count() as f64 * self.cell * self.cell
    }

    /// Takes a point.
    #[inline]
    pub fn add(&mut self, east: f64, north: f64, height: f64) {
        let sides = [east, north].map(|along| along / self.cell);
        let index = sides.map(below);
        let key = index.map(|index| index.div_euclid(SIDE));
        if key != self.last.0 {
            self.last = (key, self.tile(key, height));
        }
        let [column, row] = index.map(|index| index.rem_euclid(SIDE));
        let cell = (row * SIDE + column) as usize;
        let tile = &mut self.tiles[self.last.1];
        let count = &mut tile.counts[cell];
        *count = count.saturating_add(1);
        self.points += 1;
        // Within the cell, so that sums stay small.
        let within = || {
            [
                east - index[0] as f64 * self.cell,
                north - index[1] as f64 * self.cell,
            ]
        };
        match &mut tile.heights {
            Heights::One { heights, places } => {
                let held = &mut heights[cell];
                let better = match self.keep {
                    Keep::Highest => height > *held,
                    _ => height < *held,
                };
                // Of the same height the one in the south-west, in whatever order points come.
                let tie = height == *held && within() < places[cell];
                if better || tie || held.is_nan() {
                    (*held, places[cell]) = (height, within());
                }
            }
            Heights::Sums {
                first,
                sums,
                places,
            } => {
                sums[cell] += height - *first;
                let (place, within) = (&mut places[cell], within());
                *place = [place[0] + within[0], place[1] + within[1]];
            }
            Heights::All {
                first,
                cells,
                shots,
            } => {
                cells.push(cell as u16);
                let share = [0, 1].map(|axis| sides[axis] - index[axis] as f64);
                shots.push(PackedHeight::new(height - *first, share));
            }
        }
    }

    fn tile(&mut self, key: [i64; 2], height: f64) -> usize {
        *self.numbers.entry(key).or_insert_with(|| {
            let heights = match self.keep {
                Keep::Lowest | Keep::Highest => Heights::One {
                    heights: vec![f64::NAN; CELLS],
                    places: vec![[0.0; 2]; CELLS],
                },
                Keep::Mean => Heights::Sums {
                    first: height,
                    sums: vec![0.0; CELLS],
                    places: vec![[0.0; 2]; CELLS],
                },
                Keep::Median => Heights::All {
                    first: height,
                    cells: Vec::new(),
                    shots: Vec::new(),
                },
            };
            self.tiles.push(Tile {
                counts: vec![0; CELLS],
                heights,
            });
            self.tiles.len() - 1
        })
    }

    /// Drops the tiles whose points lie far from nearly all others; where they stand, to about the side of a tile, and how
    /// many points they hold.
    pub fn drop_far(&mut self) -> Vec<(Place, u64)> {
        let side = SIDE as f64 * self.cell;
        let mut tiles: Vec<([i64; 2], usize)> = self
            .numbers
            .iter()
            .map(|(key, number)| (*key, *number))
            .collect();
        tiles.sort_unstable();
        let places: Vec<(Place, u64)> = (tiles.iter())
            .map(|&(key, number)| {
                let counts = self.tiles[number].counts.iter();
                let points = counts.map(|&count| u64::from(count)).sum();
                let [east, north] = key.map(|along| (along as f64 + 0.5) * side);
                (Place::new(east, north), points)
            })
            .collect();
        let far = far_off(&places, side);
        for &index in &far {
            self.numbers.remove(&tiles[index].0);
            self.points -= places[index].1;
            self.last = ([i64::MIN; 2], 0);
        }
        far.into_iter().map(|index| places[index]).collect()
    }

    /// Tiles from the south-west, row by row; nothing of them is held twice.
    fn ordered(self) -> impl Iterator<Item = ([i64; 2], Tile)> {
        let mut keys: Vec<([i64; 2], usize)> = self.numbers.into_iter().collect();
        keys.sort_unstable_by_key(|&([east, north], _)| [north, east]);
        let mut tiles: Vec<Option<Tile>> = self.tiles.into_iter().map(Some).collect();
        keys.into_iter()
            .filter_map(move |(key, number)| Some((key, tiles[number].take()?)))
    }

    /// The heights as a grid out to the cells farthest out that hold a point. A kept height stands where its point
    /// stands, anywhere in the cell: it is carried to the middle along the slope of the cells around, so that a plane
    /// stays the same plane.
    ///
    /// # Errors
    ///
    /// When that would be more than `most` cells. Without a point it is no cells.
    pub fn cells(self, most: u64) -> Result<ThinnedCells, TooManyCells> {
        let (cell, mut low, mut high) = (self.cell, [i64::MAX; 2], [i64::MIN; 2]);
        for (key, &number) in &self.numbers {
            let counts = self.tiles[number].counts.iter().enumerate();
            for (index, _) in counts.filter(|(_, count)| **count > 0) {
                let index = index as i64;
                let at = [key[0] * SIDE + index % SIDE, key[1] * SIDE + index / SIDE];
                for axis in 0..2 {
                    low[axis] = low[axis].min(at[axis]);
                    high[axis] = high[axis].max(at[axis]);
                }
            }
        }
        if low[0] > high[0] {
            return Ok(ThinnedCells {
                corner: Place::new(0.0, 0.0),
                size: [0, 0],
                heights: Vec::new(),
            });
        }
        let [columns, rows] = [0, 1].map(|axis| high[axis] - low[axis] + 1);
        if columns.saturating_mul(rows).unsigned_abs() > most.min(MOST) {
            return Err(TooManyCells { columns, rows });
        }
        let count = (columns * rows) as usize;
        let mut kept = Kept {
            columns: columns as usize,
            heights: vec![f64::NAN; count],
            places: vec![[0.0; 2]; count],
        };
        for (key, tile) in self.ordered() {
            tile.each(cell, |index, height, within| {
                let index = index as i64;
                let column = key[0] * SIDE + index % SIDE - low[0];
                let row = key[1] * SIDE + index / SIDE - low[1];
                let own = (row * columns + column) as usize;
                kept.heights[own] = height;
                kept.places[own] = within.map(|along| (along / cell - 0.5) as f32);
            });
        }
        let middle = |axis: usize| (low[axis] as f64 + 0.5) * cell;
        Ok(ThinnedCells {
            corner: Place::new(middle(0), middle(1)),
            size: [columns as usize, rows as usize],
            heights: kept.at_middles(),
        })
    }

    /// One point a cell: the lowest, middle or highest where it stands, a mean height at the mean place of the cell's
    /// points.
    pub fn points(self) -> Vec<Vertex> {
        let cell = self.cell;
        let mut points = Vec::new();
        for (key, tile) in self.ordered() {
            tile.each(cell, |index, height, within| {
                let index = index as i64;
                let corner = [key[0] * SIDE + index % SIDE, key[1] * SIDE + index / SIDE];
                let at = |axis: usize| corner[axis] as f64 * cell + within[axis];
                points.push(Vertex::new(at(0), at(1), height));
            });
        }
        points
    }
}

/// The whole number at or below a value.
#[inline]
fn below(value: f64) -> i64 {
    let towards_nothing = value as i64;
    towards_nothing.saturating_sub(i64::from(towards_nothing as f64 > value))
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;
    use std::collections::BTreeMap;

    const RULES: [Keep; 4] = [Keep::Lowest, Keep::Mean, Keep::Median, Keep::Highest];

    /// What each cell should keep, by sorting its heights.
    fn plainly(points: &[[f64; 3]], cell: f64, keep: Keep) -> BTreeMap<[i64; 2], f64> {
        let mut cells: BTreeMap<[i64; 2], Vec<f64>> = BTreeMap::new();
        for [east, north, height] in points {
            let key = [(north / cell).floor() as i64, (east / cell).floor() as i64];
            cells.entry(key).or_default().push(*height);
        }
        let kept = cells.into_iter().map(|(key, mut heights)| {
            heights.sort_by(f64::total_cmp);
            let n = heights.len();
            let height = match keep {
                Keep::Lowest => heights[0],
                Keep::Highest => heights[n - 1],
                Keep::Mean => heights.iter().sum::<f64>() / n as f64,
                Keep::Median => (heights[(n - 1) / 2] + heights[n / 2]) / 2.0,
            };
            (key, height)
        });
        kept.collect()
    }

    #[test]
    fn a_plane_stays_a_plane() {
        // Four points evenly in each cell: their mean and median is the height at the middle.
        let plane = |e: f64, n: f64| 40.0 + 0.25 * e - 0.125 * n;
        for keep in [Keep::Mean, Keep::Median] {
            let mut thinner = Thinner::new(1.0, keep);
            for i in 0..80 {
                for j in 0..80 {
                    let (e, n) = (500_000.25 + 0.5 * f64::from(i), -7.75 + 0.5 * f64::from(j));
                    thinner.add(e, n, plane(e - 500_000.0, n));
                }
            }
            assert_eq!((thinner.taken(), thinner.covered()), (6400, 1600.0));
            let grid = thinner.cells(u64::MAX).unwrap();
            assert_eq!(
                (grid.size, grid.corner),
                ([40, 40], Place::new(500_000.5, -7.5))
            );
            for (index, height) in grid.heights.iter().enumerate() {
                let (e, n) = (0.5 + (index % 40) as f64, -7.5 + (index / 40) as f64);
                // Half a micrometre: what 24 bits keep of some ten metres.
                assert!((height - plane(e, n)).abs() < 5e-7);
            }
        }
    }

    #[test]
    fn points_stand_where_the_rule_says() {
        let points = [[1.25, 1.5, 3.0], [1.75, 1.25, 5.0], [-0.5, -0.25, 1.0]];
        let thinned = |keep| {
            let mut thinner = Thinner::new(1.0, keep);
            points.iter().for_each(|p| thinner.add(p[0], p[1], p[2]));
            thinner.points()
        };
        let other = Vertex::new(-0.5, -0.25, 1.0);
        assert_eq!(thinned(Keep::Lowest), [other, Vertex::new(1.25, 1.5, 3.0)]);
        assert_eq!(
            thinned(Keep::Highest),
            [other, Vertex::new(1.75, 1.25, 5.0)]
        );
        assert_eq!(thinned(Keep::Mean), [other, Vertex::new(1.5, 1.375, 4.0)]);
        assert_eq!(thinned(Keep::Median), thinned(Keep::Mean));
    }

    #[test]
    fn nothing_and_far_too_much() {
        let thinner = Thinner::new(0.1, Keep::Mean);
        assert_eq!(thinner.cells(u64::MAX).unwrap().size, [0, 0]);
        let mut thinner = Thinner::new(0.01, Keep::Lowest);
        thinner.add(0.0, 0.0, 1.0);
        thinner.add(9e8, 9e8, 1.0);
        let columns = 90_000_000_001;
        let expected = TooManyCells {
            columns,
            rows: columns,
        };
        assert_eq!(thinner.cells(u64::MAX).unwrap_err(), expected);
    }

    /// Heights of a plane at lattices of any spacing, offset and turn: all four rules keep the plane at the middles of
    /// the cells, and not half a spacing beside it. A place is known to the 65536th of a cell, a height to half a
    /// micrometre; the slope that is fitted through nine of them carries no more than four such errors.
    fn lattice(keep: Keep, [cell, spacing, turn]: [f64; 3], offset: [f64; 2], rise: [f64; 2]) {
        let plane = |e: f64, n: f64| 7.0 + rise[0] * e + rise[1] * n;
        let mut thinner = Thinner::new(cell, keep);
        let (sin, cos) = turn.sin_cos();
        let count = (8.0 * cell / spacing) as i32;
        for i in 0..count {
            for j in 0..count {
                let (x, y) = (spacing * f64::from(i), spacing * f64::from(j));
                let (e, n) = (offset[0] + x * cos - y * sin, offset[1] + x * sin + y * cos);
                thinner.add(e, n, plane(e, n));
            }
        }
        let grid = thinner.cells(u64::MAX).unwrap();
        let [columns, rows] = grid.size;
        let at = |column: usize, row: usize| grid.heights[row * columns + column];
        let steep = rise[0].abs() + rise[1].abs();
        let near = 4.0 * (steep * cell / 65536.0 + 1e-6);
        let mut checked = 0;
        for row in 1..rows - 1 {
            for column in 1..columns - 1 {
                let around =
                    (row - 1..row + 2).flat_map(|r| (column - 1..column + 2).map(move |c| (c, r)));
                // Turned lattices end at corners, where heights may stand in one line.
                if around.into_iter().any(|(c, r)| at(c, r).is_nan()) {
                    continue;
                }
                let e = grid.corner.east + cell * column as f64;
                let n = grid.corner.north + cell * row as f64;
                let apart = (at(column, row) - plane(e, n)).abs();
                assert!(apart <= near, "{keep:?} {apart} at {e} {n}");
                checked += 1;
            }
        }
        assert!(checked > 0);
    }

    #[test]
    fn a_lattice_of_one_point_a_cell_is_not_shifted() {
        for keep in RULES {
            for offset in [0.0, 0.05, 0.25, 0.5, 0.75, 0.999] {
                lattice(keep, [1.0, 1.0, 0.0], [offset, 0.3], [0.5, 0.0]);
                lattice(keep, [0.5, 0.25, 0.0], [0.3, offset], [-0.2, 0.5]);
            }
        }
    }

    /// Along the border too, where each cell has three around it that do not stand in one line.
    #[test]
    fn the_border_is_carried_like_the_rest() {
        for keep in RULES {
            let mut thinner = Thinner::new(2.0, keep);
            for index in 0..9 {
                let (e, n) = (
                    0.1 + 2.0 * f64::from(index % 3),
                    1.7 + 2.0 * f64::from(index / 3),
                );
                thinner.add(e, n, 0.5 * e - n);
            }
            let grid = thinner.cells(u64::MAX).unwrap();
            for (index, height) in grid.heights.iter().enumerate() {
                let (e, n) = (
                    1.0 + 2.0 * (index % 3) as f64,
                    1.0 + 2.0 * (index / 3) as f64,
                );
                assert!((height - (0.5 * e - n)).abs() < 2e-4, "{keep:?} {height}");
            }
            // In one line the slope along it alone is known; alone a height stays as it is.
            let mut line = Thinner::new(1.0, keep);
            [0.2, 1.2, 2.2]
                .into_iter()
                .for_each(|e| line.add(e, 0.9, e));
            let found = line.cells(u64::MAX).unwrap().heights;
            for (found, expected) in found.iter().zip([0.5, 1.5, 2.5]) {
                assert!((found - expected).abs() < 1e-4, "{keep:?} {found}");
            }
            let mut one = Thinner::new(1.0, keep);
            one.add(0.1, 0.2, 3.0);
            assert_eq!(one.cells(u64::MAX).unwrap().heights, [3.0]);
        }
    }

    proptest! {
        #[test]
        fn lattices_of_every_offset_and_turn_keep_a_plane(
            keep in prop::sample::select(&RULES[..]),
            cell in 0.2..4.0f64,
            share in 0.2..0.7f64,
            turn in 0.0..1.6f64,
            offset in [-50.0..50.0f64, -50.0..50.0f64],
            rise in [-1.0..1.0f64, -1.0..1.0f64],
        ) {
            lattice(keep, [cell, share * cell, turn], offset, rise);
        }

        /// Every rule keeps what sorting the heights of each cell keeps, in whatever order points come.
        #[test]
        fn cells_keep_what_the_rule_says(
            points in prop::collection::vec([-90.0..90.0f64, -40.0..40.0f64, 100.0..110.0f64], 1..300),
            cell in 0.5..20.0f64,
            turn in 0usize..300,
        ) {
            for keep in RULES {
                let mut thinner = Thinner::new(cell, keep);
                let mut turned = Thinner::new(cell, keep);
                let half = turn % points.len();
                points.iter().for_each(|p| thinner.add(p[0], p[1], p[2]));
                points[half..].iter().chain(&points[..half]).for_each(|p| turned.add(p[0], p[1], p[2]));
                let expected = plainly(&points, cell, keep);
                let (found, turned) = (thinner.points(), turned.points());
                prop_assert_eq!(found.len(), expected.len());
                prop_assert_eq!(turned.len(), expected.len());
                for (point, other) in found.iter().zip(&turned) {
                    prop_assert!((point.height - other.height).abs() < 1e-6);
                }
                for point in turned {
                    let key = [(point.north / cell).floor() as i64, (point.east / cell).floor() as i64];
                    // A mean place is within its cell but for rounding at a side.
                    let near = expected.iter().filter(|(at, _)| (at[0] - key[0]).abs() <= 1 && (at[1] - key[1]).abs() <= 1);
                    let closest = near.map(|(_, h)| (h - point.height).abs()).fold(f64::INFINITY, f64::min);
                    prop_assert!(closest < 1e-6);
                }
            }
        }
    }
}
