//! Empty areas within a grid of heights.

use crate::plan::Place;

/// Cells without a height that cells with one enclose.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct EmptyArea {
    /// How many cells.
    pub cells: usize,
    /// The column and row of its first cell from the south-west.
    pub first: [usize; 2],
    /// The mean column and row of its cells.
    pub middle: Place,
}

/// The empty areas of a grid, the largest first. What is open to the grid's edge is outside, not one of them; cells
/// that only touch at a corner do not open one another.
///
/// ```
/// let none = f64::NAN;
/// let heights = [1.0, 1.0, 1.0, 1.0, none, 1.0, 1.0, 1.0, none];
/// let gaps = dapedon_core::points::empty_areas([3, 3], &heights);
/// assert_eq!((gaps.len(), gaps[0].cells, gaps[0].first), (1, 1, [1, 1]));
/// ```
pub fn empty_areas([columns, rows]: [usize; 2], heights: &[f64]) -> Vec<EmptyArea> {
    let mut seen: Vec<bool> = heights.iter().map(|height| !height.is_nan()).collect();
    let mut found = Vec::new();
    let mut waiting = Vec::new();
    for start in 0..seen.len() {
        if seen[start] {
            continue;
        }
        seen[start] = true;
        waiting.push(start);
        let (mut cells, mut sum, mut open) = (0usize, [0.0; 2], false);
        while let Some(cell) = waiting.pop() {
            let (column, row) = (cell % columns, cell / columns);
            cells += 1;
            sum = [sum[0] + column as f64, sum[1] + row as f64];
            open |= column == 0 || row == 0 || column + 1 == columns || row + 1 == rows;
            let around = [
                (column > 0).then(|| cell - 1),
                (column + 1 < columns).then_some(cell + 1),
                (row > 0).then(|| cell - columns),
                (row + 1 < rows).then_some(cell + columns),
            ];
            for next in around.into_iter().flatten() {
                if !seen[next] {
                    seen[next] = true;
                    waiting.push(next);
                }
            }
        }
        if !open {
            let share = |axis: usize| sum[axis] / cells as f64;
            found.push(EmptyArea {
                cells,
                first: [start % columns, start / columns],
                middle: Place::new(share(0), share(1)),
            });
        }
    }
    found.sort_by_key(|gap| (std::cmp::Reverse(gap.cells), gap.first[1], gap.first[0]));
    found
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn what_is_open_to_the_edge_is_outside() {
        let map = [
            "#########.",
            "#..##.####",
            "#..##.#.##",
            "#.#####.#.",
            "######.###",
            ".#####.###",
        ];
        let (columns, rows) = (10, 6);
        let height = |c: u8| if c == b'#' { 1.0 } else { f64::NAN };
        // Drawn from the north.
        let lines = map.iter().rev().flat_map(|line| line.bytes());
        let heights: Vec<f64> = lines.map(height).collect();
        let gaps = empty_areas([columns, rows], &heights);
        let found: Vec<_> = gaps.iter().map(|gap| (gap.cells, gap.first)).collect();
        assert_eq!(found, [(5, [1, 2]), (2, [7, 2]), (2, [5, 3])]);
        assert_eq!(gaps[1].middle, Place::new(7.0, 2.5));
    }

    #[test]
    fn a_large_empty_area_is_walked_without_recursion() {
        let side = 1500;
        let mut heights = vec![f64::NAN; side * side];
        for i in 0..side {
            for edge in [i, (side - 1) * side + i, i * side, i * side + side - 1] {
                heights[edge] = 0.0;
            }
        }
        let gaps = empty_areas([side, side], &heights);
        assert_eq!(gaps[0].cells, (side - 2) * (side - 2));
        assert_eq!(gaps[0].middle, Place::new(749.5, 749.5));
    }
}
