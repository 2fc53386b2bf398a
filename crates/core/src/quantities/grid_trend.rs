//! Volumes by sampling at the middles of square cells: what a grid of each cell size gives, and where that goes as cells get smaller.
//!
//! Samples at the nodes of a grid whose start is left to chance have the volume as their mean, whatever the shape (Cavalieri sampling): a grid errs only by where
//! it happens to start. So one fine grid is read, and all coarser grids that are part of it show how far grids of their size stray.

use crate::overlay::{Fold, Overlay, OverlayError, Piece};
use crate::plan::{Place, Sum};
use crate::quantities::raster::Raster;
use crate::quantities::{Tolerance, Volumes};

/// How often the finest cell is doubled.
const DOUBLED: usize = 4;
/// Cells of the coarsest size are so many of the finest wide.
const COARSEST: usize = 1 << DOUBLED;
/// The squared error of a grid grows by a factor between these when cells are doubled: by 8 where ground ends or steps anywhere (its edge in cells, each
/// of which errs by its area), by 4 where that is along the grid.
const GROWTH: [f64; 2] = [4.0, 8.0];

/// What grids of several cell sizes give for a volume.
#[derive(Debug, Clone, PartialEq)]
pub struct GridTrend {
    /// The finest cell.
    pub cell: f64,
    /// How many samples of it lie on ground that is compared.
    pub samples: usize,
    /// Each cell size, the coarsest first; the finest is not among them.
    pub levels: Vec<GridLevel>,
    /// Where it goes as cells get smaller.
    pub cut: GridEstimate,
    /// Of the fill.
    pub fill: GridEstimate,
    /// Of fill less cut.
    pub net: GridEstimate,
}

/// What grids of one cell size give, as they start here or there.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct GridLevel {
    /// The cell.
    pub cell: f64,
    /// The cut.
    pub cut: GridRange,
    /// The fill.
    pub fill: GridRange,
    /// Fill less cut.
    pub net: GridRange,
}

/// From where to where results reach.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct GridRange {
    /// The least.
    pub least: f64,
    /// The greatest.
    pub greatest: f64,
    /// The standard deviation from their mean.
    pub deviation: f64,
}

/// A volume that results of grids go to, and its standard uncertainty.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct GridEstimate {
    /// The volume.
    pub value: f64,
    /// Its standard uncertainty, from the trend.
    pub standard: f64,
}

/// Samples an overlay on a grid, whose lines stand at multiples of the cell in grid coordinates: all of its zones together, which must not overlap. Differences up to the tolerance are neither
/// cut nor fill. `None` where the cells are more than can be numbered.
///
/// # Errors
///
/// When it is stopped by who watches.
///
/// ```
/// use dapedon_core::overlay::Overlay;
/// use dapedon_core::plan::Frame;
/// use dapedon_core::quantities::{Tolerance, grid_trend};
/// use dapedon_core::surface::{Grid, Level, Surface};
/// use dapedon_core::units::LengthUnit;
/// // 40 by 40 metres, 2 m over a level: any grid that fits finds 3200 m³.
/// let frame = Frame::new(LengthUnit::Metre, [0.0, 0.0]);
/// let flat = Grid::new(frame, frame.to_local(0.0, 0.0), [4.0, 4.0], [11, 11], vec![2.0; 121]).unwrap();
/// let [level, flat] = [Surface::Level(Level::new(frame, 0.0)), Surface::Grid(flat)];
/// let overlay = Overlay::new(&level, &flat, None).unwrap();
/// let found = grid_trend(&overlay, 0.5, Tolerance::ZERO).unwrap().unwrap();
/// assert!((found.fill.value - 3200.0).abs() < 1e-9 && found.fill.standard < 1e-9);
/// ```
pub fn grid_trend(
    overlay: &Overlay<'_>,
    cell: f64,
    tolerance: Tolerance,
) -> Result<Option<GridTrend>, OverlayError> {
    let (extent, frame) = (overlay.extent(), overlay.frame());
    let (min, max) = (frame.to_grid(extent.min), frame.to_grid(extent.max));
    let line = |value: f64| (value / cell).floor() * cell;
    let (west, south) = (line(min.east), line(min.north));
    let count = |length: f64| (length / cell).ceil() + 1.0;
    let (columns, rows) = (count(max.east - west), count(max.north - south));
    let cells = columns * rows;
    if cells.is_nan() || cells >= f64::from(u32::MAX) {
        return Ok(None);
    }
    let samples = Samples {
        raster: Raster {
            columns: columns as usize,
            rows: rows as usize,
            cell,
            corner: frame.to_local(west, south + rows * cell),
        },
        near: frame.precision().length(),
    };
    let mut all = overlay.fold(&samples)?;
    // On an edge between two pieces, of one zone or of two, a sample is met twice. At an upright step the lower difference counts, whichever is met first.
    all.sort_by(|(cell, own), (other_cell, other)| cell.cmp(other_cell).then(own.total_cmp(other)));
    all.dedup_by_key(|(cell, _)| *cell);
    let columns = samples.raster.columns;
    Ok(Some(trend(&all, columns, cell, tolerance.value())))
}

/// What samples say: by the place of each in the coarsest cell.
fn trend(samples: &[(u32, f64)], columns: usize, cell: f64, tolerance: f64) -> GridTrend {
    let mut sums = vec![[Sum::default(); 2]; COARSEST * COARSEST];
    for &(index, difference) in samples {
        let (row, column) = (index as usize / columns, index as usize % columns);
        let place = (row % COARSEST) * COARSEST + column % COARSEST;
        if difference > tolerance {
            sums[place][1] += difference;
        } else if difference < -tolerance {
            sums[place][0] += -difference;
        }
    }
    let area = cell * cell;
    let sums: Vec<[f64; 3]> = (sums.iter())
        .map(|[cut, fill]| [cut, fill].map(|sum| sum.value() * area))
        .map(|[cut, fill]| [cut, fill, fill - cut])
        .collect();
    let levels: Vec<[GridRange; 3]> = (1..=DOUBLED).map(|doubled| level(&sums, doubled)).collect();
    let finest = sums.iter().fold([0.0; 3], |all, own| {
        [0, 1, 2].map(|figure| all[figure] + own[figure])
    });
    let estimate = |figure: usize| {
        let deviations: Vec<f64> = levels.iter().map(|own| own[figure].deviation).collect();
        GridEstimate {
            value: finest[figure],
            standard: deviation_of_the_finest(&deviations, GROWTH),
        }
    };
    let told = levels.iter().enumerate().rev();
    GridTrend {
        cell,
        samples: samples.len(),
        levels: told
            .map(|(halved, &[cut, fill, net])| GridLevel {
                cell: cell * (2 << halved) as f64,
                cut,
                fill,
                net,
            })
            .collect(),
        cut: estimate(0),
        fill: estimate(1),
        net: estimate(2),
    }
}

/// What the grids of a cell size give, each by where it starts.
fn level(sums: &[[f64; 3]], doubled: usize) -> [GridRange; 3] {
    let starts = 1 << doubled;
    let mut results = vec![[0.0; 3]; starts * starts];
    for (place, own) in sums.iter().enumerate() {
        let (row, column) = (place / COARSEST % starts, place % COARSEST % starts);
        let result = &mut results[row * starts + column];
        for (result, own) in result.iter_mut().zip(own) {
            // Each sample stands for a cell that is so many of the finest.
            *result += own * (starts * starts) as f64;
        }
    }
    [0, 1, 2].map(|figure| {
        let own = || results.iter().map(|result| result[figure]);
        let mean = own().sum::<f64>() / results.len() as f64;
        let squares = own()
            .map(|value| (value - mean) * (value - mean))
            .sum::<f64>();
        GridRange {
            least: own().fold(f64::INFINITY, f64::min),
            greatest: own().fold(f64::NEG_INFINITY, f64::max),
            deviation: (squares / results.len() as f64).sqrt(),
        }
    })
}

/// The standard deviation that the finest sample has from the whole, given those of coarser ones about the finest, which are doubled each time. Their squares
/// grow by a factor in a range.
///
/// With variance σ² of the finest, that of one with doubled steps is q σ², and those that are part of the finest have the variance (q - 1) σ² about it; doubled k times,
/// (qᵏ - 1) σ². From the first and the third follows q² + q + 1, and with it a σ² from each, of which the mean is taken.
pub(super) fn deviation_of_the_finest(deviations: &[f64], [least, greatest]: [f64; 2]) -> f64 {
    let [once, _, thrice, ..] = *deviations else {
        return 0.0;
    };
    let ratio = (thrice / once).powi(2);
    let growth = (libm::sqrt((4.0 * ratio - 3.0).max(1.0)) - 1.0) / 2.0;
    // Where nothing strays at all the ratio is none.
    let growth = growth.max(least).min(greatest);
    let mut of_one = 1.0;
    let squares = deviations[..3].iter().map(|own| {
        of_one *= growth;
        own * own / (of_one - 1.0)
    });
    (squares.sum::<f64>() / 3.0).sqrt()
}

struct Samples {
    raster: Raster,
    /// What lies so near to a piece is in it.
    near: f64,
}

impl Fold for Samples {
    type Part = Vec<(u32, f64)>;

    fn part(&self) -> Self::Part {
        Vec::new()
    }

    fn piece(&self, part: &mut Self::Part, piece: &Piece<'_>) {
        self.raster
            .middles_near(piece.outline, self.near, |cell, at: Place| {
                part.push((cell, piece.surveyed.at(at) - piece.reference.at(at)));
            });
    }

    fn join(&self, part: &mut Self::Part, next: Self::Part) {
        part.extend(next);
    }
}

impl GridTrend {
    /// Where it goes as cells get smaller.
    pub fn volumes(&self) -> Volumes {
        Volumes {
            cut: self.cut.value,
            fill: self.fill.value,
            net: self.net.value,
            unchanged: 0.0,
        }
    }
}

#[cfg(test)]
mod tests;
