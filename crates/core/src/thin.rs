//! Clouds of points thinned to one height a cell.

use std::collections::HashMap;

use crate::{Place, Vertex};

/// Cells along the side of a tile.
const SIDE: i64 = 32;
const CELLS: usize = (SIDE * SIDE) as usize;
/// Cells that a grid may have.
const MOST: i64 = 1 << 30;

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
/// use dapedon_core::{Keep, Thinner};
/// let mut cloud = Thinner::new(2.0, Keep::Lowest, false);
/// for (east, north, height) in [(10.1, 20.3, 5.0), (11.0, 21.9, 4.0), (12.5, 20.0, 7.0)] {
///     cloud.add(east, north, height);
/// }
/// let grid = cloud.cells().unwrap();
/// assert_eq!((grid.size, grid.heights), ([2, 1], vec![4.0, 7.0]));
/// ```
#[derive(Debug)]
pub struct Thinner {
    cell: f64,
    keep: Keep,
    /// Whether the places of points are wanted too.
    places: bool,
    numbers: HashMap<[i64; 2], usize>,
    tiles: Vec<Tile>,
    /// The tile of the point before, and its number.
    last: ([i64; 2], usize),
    points: u64,
}

#[derive(Debug)]
struct Tile {
    counts: Vec<u32>,
    heights: Heights,
    /// Where the kept point stands, or the sum of the places in the cell.
    places: Vec<[f64; 2]>,
}

#[derive(Debug)]
enum Heights {
    /// The lowest or highest so far.
    One(Vec<f64>),
    /// Sums of what heights are above the first of the tile.
    Sums { first: f64, sums: Vec<f64> },
    /// All, as what they are above the first of the tile, with their cells.
    All {
        first: f64,
        cells: Vec<u16>,
        above: Vec<f32>,
    },
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
    /// Cells of side `cell`, each with the height that `keep` says. `places` says whether
    /// [`points`](Thinner::points) will be asked for.
    pub fn new(cell: f64, keep: Keep, places: bool) -> Self {
        Thinner {
            cell,
            keep,
            places,
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
        let counts = self.tiles.iter().flat_map(|tile| &tile.counts);
        counts.filter(|&&count| count > 0).count() as f64 * self.cell * self.cell
    }

    /// Takes a point.
    #[inline]
    pub fn add(&mut self, east: f64, north: f64, height: f64) {
        let index = [east, north].map(|along| (along / self.cell).floor() as i64);
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
        let kept = match &mut tile.heights {
            Heights::One(heights) => {
                let held = &mut heights[cell];
                let better = match self.keep {
                    Keep::Highest => height > *held,
                    _ => height < *held,
                };
                if better || held.is_nan() {
                    *held = height;
                    Some(false)
                } else {
                    None
                }
            }
            Heights::Sums { first, sums } => {
                sums[cell] += height - *first;
                Some(true)
            }
            Heights::All {
                first,
                cells,
                above,
            } => {
                cells.push(cell as u16);
                above.push((height - *first) as f32);
                Some(true)
            }
        };
        if let (Some(place), Some(add)) = (tile.places.get_mut(cell), kept) {
            // Within the cell, so that sums stay small.
            let within = [
                east - index[0] as f64 * self.cell,
                north - index[1] as f64 * self.cell,
            ];
            *place = match add {
                true => [place[0] + within[0], place[1] + within[1]],
                false => within,
            };
        }
    }

    fn tile(&mut self, key: [i64; 2], height: f64) -> usize {
        *self.numbers.entry(key).or_insert_with(|| {
            let heights = match self.keep {
                Keep::Lowest | Keep::Highest => Heights::One(vec![f64::NAN; CELLS]),
                Keep::Mean => Heights::Sums {
                    first: height,
                    sums: vec![0.0; CELLS],
                },
                Keep::Median => Heights::All {
                    first: height,
                    cells: Vec::new(),
                    above: Vec::new(),
                },
            };
            self.tiles.push(Tile {
                counts: vec![0; CELLS],
                heights,
                places: vec![[0.0; 2]; if self.places { CELLS } else { 0 }],
            });
            self.tiles.len() - 1
        })
    }

    /// Tiles from the south-west, row by row; nothing of them is held twice.
    fn ordered(self) -> impl Iterator<Item = ([i64; 2], Tile)> {
        let mut keys: Vec<([i64; 2], usize)> = self.numbers.into_iter().collect();
        keys.sort_unstable_by_key(|&([east, north], _)| [north, east]);
        let mut tiles: Vec<Option<Tile>> = self.tiles.into_iter().map(Some).collect();
        keys.into_iter()
            .filter_map(move |(key, number)| Some((key, tiles[number].take()?)))
    }

    /// The heights as a grid out to the cells farthest out that hold a point.
    ///
    /// # Errors
    ///
    /// When that would be too many cells. Without a point it is no cells.
    pub fn cells(self) -> Result<ThinnedCells, TooManyCells> {
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
        if columns.saturating_mul(rows) >= MOST {
            return Err(TooManyCells { columns, rows });
        }
        let mut heights = vec![f64::NAN; (columns * rows) as usize];
        for (key, tile) in self.ordered() {
            tile.each(|index, height, _, _| {
                let index = index as i64;
                let column = key[0] * SIDE + index % SIDE - low[0];
                let row = key[1] * SIDE + index / SIDE - low[1];
                heights[(row * columns + column) as usize] = height;
            });
        }
        let middle = |axis: usize| (low[axis] as f64 + 0.5) * cell;
        Ok(ThinnedCells {
            corner: Place::new(middle(0), middle(1)),
            size: [columns as usize, rows as usize],
            heights,
        })
    }

    /// One point a cell: the lowest or highest where it stands, a mean or median height at the mean place
    /// of the cell's points.
    pub fn points(self) -> Vec<Vertex> {
        let (cell, single) = (self.cell, matches!(self.keep, Keep::Lowest | Keep::Highest));
        let mut points = Vec::new();
        for (key, tile) in self.ordered() {
            tile.each(|index, height, count, place| {
                let index = index as i64;
                let corner = [key[0] * SIDE + index % SIDE, key[1] * SIDE + index / SIDE];
                let share = if single { 1.0 } else { f64::from(count) };
                let at = |axis: usize| corner[axis] as f64 * cell + place[axis] / share;
                points.push(Vertex::new(at(0), at(1), height));
            });
        }
        points
    }
}

impl Tile {
    /// Visits the cells that hold a point: height, how many points, and their place within the cell.
    fn each(self, mut visit: impl FnMut(usize, f64, u32, [f64; 2])) {
        let Tile {
            counts,
            heights,
            places,
        } = self;
        let held = counts.iter().enumerate().filter(|(_, count)| **count > 0);
        let place = |cell: usize| places.get(cell).copied().unwrap_or_default();
        match heights {
            Heights::One(heights) => {
                held.for_each(|(cell, &count)| visit(cell, heights[cell], count, place(cell)));
            }
            Heights::Sums { first, sums } => held.for_each(|(cell, &count)| {
                let mean = first + sums[cell] / f64::from(count);
                visit(cell, mean, count, place(cell));
            }),
            Heights::All {
                first,
                cells,
                above,
            } => {
                let mut ends: Vec<usize> = (counts.iter())
                    .scan(0, |start, &count| {
                        *start += count as usize;
                        Some(*start - count as usize)
                    })
                    .collect();
                let mut sorted = vec![0.0; above.len()];
                // Each start is moved to its end while filling.
                for (&cell, above) in cells.iter().zip(above) {
                    let end = &mut ends[usize::from(cell)];
                    sorted[*end] = above;
                    *end += 1;
                }
                for (cell, &count) in held {
                    let end = ends[cell];
                    let middle = median(&mut sorted[end - count as usize..end]);
                    visit(cell, first + middle, count, place(cell));
                }
            }
        }
    }
}

/// The middle of some values, of which there is at least one.
fn median(values: &mut [f32]) -> f64 {
    let half = values.len() / 2;
    let even = values.len().is_multiple_of(2);
    let (below, &mut middle, _) = values.select_nth_unstable_by(half, f32::total_cmp);
    let middle = f64::from(middle);
    match below.iter().copied().reduce(f32::max) {
        Some(before) if even => (f64::from(before) + middle) / 2.0,
        _ => middle,
    }
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
            let mut thinner = Thinner::new(1.0, keep, true);
            for i in 0..80 {
                for j in 0..80 {
                    let (e, n) = (500_000.25 + 0.5 * f64::from(i), -7.75 + 0.5 * f64::from(j));
                    thinner.add(e, n, plane(e - 500_000.0, n));
                }
            }
            assert_eq!((thinner.taken(), thinner.covered()), (6400, 1600.0));
            let grid = thinner.cells().unwrap();
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
            let mut thinner = Thinner::new(1.0, keep, true);
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
        let thinner = Thinner::new(0.1, Keep::Mean, false);
        assert_eq!(thinner.cells().unwrap().size, [0, 0]);
        let mut thinner = Thinner::new(0.01, Keep::Lowest, false);
        thinner.add(0.0, 0.0, 1.0);
        thinner.add(9e8, 9e8, 1.0);
        let columns = 90_000_000_001;
        let expected = TooManyCells {
            columns,
            rows: columns,
        };
        assert_eq!(thinner.cells().unwrap_err(), expected);
    }

    proptest! {
        /// Every rule keeps what sorting the heights of each cell keeps, in whatever order points come.
        #[test]
        fn cells_keep_what_the_rule_says(
            points in prop::collection::vec([-90.0..90.0f64, -40.0..40.0f64, 100.0..110.0f64], 1..300),
            cell in 0.5..20.0f64,
            turn in 0usize..300,
        ) {
            for keep in RULES {
                let mut thinner = Thinner::new(cell, keep, true);
                let mut turned = Thinner::new(cell, keep, true);
                let half = turn % points.len();
                points.iter().for_each(|p| thinner.add(p[0], p[1], p[2]));
                points[half..].iter().chain(&points[..half]).for_each(|p| turned.add(p[0], p[1], p[2]));
                let expected = plainly(&points, cell, keep);
                let grid = thinner.cells().unwrap();
                let found: Vec<f64> = grid.heights.iter().copied().filter(|h| !h.is_nan()).collect();
                prop_assert_eq!(found.len(), expected.len());
                for (found, expected) in found.iter().zip(expected.values()) {
                    prop_assert!((found - expected).abs() < 1e-6, "{found} {expected}");
                }
                let turned = turned.points();
                prop_assert_eq!(turned.len(), expected.len());
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
