//! Sums of errors that go together.

use crate::plan::{Extent, Place};

/// Cells that the ground is divided into, at most about this many.
const CELLS: f64 = 1e4;
/// Beyond so many correlation lengths errors are independent: their correlation is less than 1/2000.
const REACH: f64 = 8.0;
/// Gauss's rule with four places, on the interval from minus one to one.
const GAUSS: [(f64, f64); 4] = [
    (-0.861_136_311_594_052_6, 0.347_854_845_137_453_85),
    (-0.339_981_043_584_856_3, 0.652_145_154_862_546_1),
    (0.339_981_043_584_856_3, 0.652_145_154_862_546_1),
    (0.861_136_311_594_052_6, 0.347_854_845_137_453_85),
];

/// The variance of a weighted sum of errors with a variance of one each, whose correlation falls with their distance as exp(-distance / length).
///
/// The weights are gathered in square cells no wider than half the length, or wider where there would be too many of them. The correlation of two
/// cells is its mean over both; a point with itself is counted with the whole of its own.
pub(super) fn variance(weights: impl Iterator<Item = (Place, f64)> + Clone, length: f64) -> f64 {
    let reach = Extent::of(weights.clone().map(|(at, _)| at));
    let (east, north) = (
        reach.max.east - reach.min.east,
        reach.max.north - reach.min.north,
    );
    let own: f64 = weights.clone().map(|(_, weight)| weight * weight).sum();
    if !(east + north).is_finite() || weights.clone().next().is_none() {
        return own;
    }
    // Long and narrow ground has no more cells than wide ground.
    let cell = (length / 2.0)
        .max((east * north / CELLS).sqrt())
        .max((east + north) / CELLS);
    let along = |value: f64, from: f64| ((value - from) / cell).floor().max(0.0) as usize;
    let columns = along(reach.max.east, reach.min.east) + 1;
    let rows = along(reach.max.north, reach.min.north) + 1;
    let mut cells = vec![0.0; columns * rows];
    for (at, weight) in weights {
        let column = along(at.east, reach.min.east).min(columns - 1);
        let row = along(at.north, reach.min.north).min(rows - 1);
        if let Some(sum) = cells.get_mut(row * columns + column) {
            *sum += weight;
        }
    }
    let away = (REACH * length / cell).ceil() as usize;
    let [wide, high] = [columns, rows].map(|count| away.min(count - 1));
    let mut sum = 0.0;
    for up in 0..=high {
        for aside in 0..=wide {
            let together = mean_correlation([aside, up], cell / length);
            if (aside, up) == (0, 0) {
                sum += own * (1.0 - together);
                sum += cells.iter().map(|w| w * w).sum::<f64>() * together;
                continue;
            }
            // Each pair of cells is met once, and counts twice; aslant to both sides.
            let mut products = pairs(&cells, [columns, rows], aside, up, false);
            if aside > 0 && up > 0 {
                products += pairs(&cells, [columns, rows], aside, up, true);
            }
            sum += 2.0 * together * products;
        }
    }
    sum
}

/// The sum of the products of cells that stand so many columns and rows apart; to the left where mirrored.
fn pairs(
    cells: &[f64],
    [columns, rows]: [usize; 2],
    aside: usize,
    up: usize,
    mirrored: bool,
) -> f64 {
    let mut sum = 0.0;
    for row in 0..rows - up {
        let (Some(low), Some(high)) = (
            cells.get(row * columns..(row + 1) * columns),
            cells.get((row + up) * columns..(row + up + 1) * columns),
        ) else {
            continue;
        };
        let (from, to) = match mirrored {
            false => (low, high.get(aside..).unwrap_or_default()),
            true => (low.get(aside..).unwrap_or_default(), high),
        };
        sum += from.iter().zip(to).map(|(a, b)| a * b).sum::<f64>();
    }
    sum
}

/// The mean correlation of two places, each anywhere in a cell of its own; cells so many columns and rows apart, whose side is `side` correlation
/// lengths. The difference of two places in cells of one side has the density of a triangle.
fn mean_correlation(apart: [usize; 2], side: f64) -> f64 {
    // Finer towards the middle, where the correlation of near cells has its peak.
    let finest = if apart[0].max(apart[1]) <= 1 { 9 } else { 1 };
    let mut panels = vec![0.0];
    panels.extend((0..finest).rev().map(|power| 0.5f64.powi(power)));
    let mut places = Vec::with_capacity(4 * panels.len());
    for panel in panels.windows(2) {
        let &[from, to] = panel else { continue };
        for (at, weight) in GAUSS {
            let place = (from + to) / 2.0 + at * (to - from) / 2.0;
            places.push((place, weight * (to - from) / 2.0 * (1.0 - place)));
        }
    }
    let mut sum = 0.0;
    for &(u, weight) in &places {
        for &(v, other) in &places {
            for (east, north) in [(u, v), (-u, v), (u, -v), (-u, -v)] {
                let [aside, up] = apart.map(|count| count as f64);
                let distance = libm::hypot(aside + east, up + north);
                sum += weight * other * libm::exp(-side * distance);
            }
        }
    }
    sum
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    /// All pairs, one by one.
    fn all_pairs(points: &[(Place, f64)], length: f64) -> f64 {
        let mut sum = 0.0;
        for (a, w) in points {
            for (b, v) in points {
                let distance = libm::hypot(a.east - b.east, a.north - b.north);
                sum += w * v * libm::exp(-distance / length);
            }
        }
        sum
    }

    proptest! {
        #![proptest_config(ProptestConfig::with_cases(24))]

        /// Cells stand for the pairs within them: off by a few hundredths where each holds few points.
        #[test]
        fn cells_stand_for_all_pairs(
            places in prop::collection::vec((0.0..60.0f64, 0.0..40.0f64, 0.5..1.5f64), 400..600),
            length in 0.05..30.0f64,
        ) {
            let points: Vec<(Place, f64)> = places.iter().map(|&(e, n, w)| (Place::new(e, n), w)).collect();
            let found = variance(points.iter().copied(), length);
            let expected = all_pairs(&points, length);
            prop_assert!((found / expected - 1.0).abs() < 0.05, "{length}: {found} {expected}");
        }
    }

    #[test]
    fn the_mean_over_cells_is_that_of_many_places() {
        // Far apart it is the correlation of their middles, with the spread of both: exp(-d) (1 + s²/12 ...).
        let far = mean_correlation([10, 0], 0.1);
        assert!((far / (-1.0f64).exp() - 1.0).abs() < 0.01, "{far}");
        // Of a cell of a hundred lengths only near places count: 2π L² over its area, less 4/π L along each of two sides at the edge.
        let large = mean_correlation([0, 0], 100.0);
        let expected =
            std::f64::consts::TAU / 1e4 * (1.0 - 2.0 * 4.0 / std::f64::consts::PI / 100.0);
        assert!((large / expected - 1.0).abs() < 0.001, "{large} {expected}");
        assert!((mean_correlation([0, 0], 1e-9) - 1.0).abs() < 1e-6);
    }
}
