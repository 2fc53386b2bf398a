//! How uncertain the volumes of bands of difference and of depth slices are.
//!
//! Ground comes into a band over one of its edges and leaves it over the other, each time with all of its volume: the weights of points have terms for both. A slice only grows and shrinks
//! where its surface is. See `docs/methods.md`, "Uncertainty of bands and slices".

use super::by_chance::Spread;
use super::point_sums::Summed;
use super::weights::{CUT, Entries, FILL, Gathered, Moments, WeightFold};
use super::{Accuracy, BothSides, parts_of};
use crate::overlay::{Fold, Overlay, OverlayError, Piece};
use crate::plan::Place;
use crate::plan::clip::Polygon;
use crate::quantities::BandEdges;
use crate::surface::Surface;

/// How uncertain cut and fill of a band or a slice are: standard uncertainties.
#[derive(Debug, Clone, Copy, PartialEq, Default)]
pub struct BandUncertainty {
    /// Of its cut.
    pub cut: f64,
    /// Of its fill.
    pub fill: f64,
}

/// How uncertain the volumes of [`bands`](crate::quantities::bands) are, for the sum of each of some groups of zones: group by group, and band by band.
///
/// Within the standard uncertainty of the difference on both sides of an edge ground is taken to lie as evenly as it does on average there.
///
/// # Errors
///
/// When it is stopped by who watches.
///
/// ```
/// use dapedon_core::overlay::Overlay;
/// use dapedon_core::plan::Frame;
/// use dapedon_core::quantities::{Accuracy, BandEdges, Tolerance, band_uncertainty};
/// use dapedon_core::surface::{Grid, Level, Surface};
/// use dapedon_core::units::LengthUnit;
/// // A wedge of 40 by 10 that rises from 0 to 4: a metre of rise lies over 10 by 10 of it.
/// let frame = Frame::new(LengthUnit::Metre, [0.0, 0.0]);
/// let heights = [0.0, 4.0, 0.0, 4.0].to_vec();
/// let wedge = Grid::new(frame, frame.to_local(0.0, 0.0), [40.0, 10.0], [2, 2], heights).unwrap();
/// let [level, wedge] = [Surface::Level(Level::new(frame, 0.0)), Surface::Grid(wedge)];
/// let overlay = Overlay::new(&level, &wedge, None).unwrap();
/// let edges = BandEdges::new(&[1.0, 2.0], Tolerance::ZERO).unwrap();
/// let survey = Accuracy { common_height: 0.01, ..Accuracy::EXACT };
/// let found = band_uncertainty(&overlay, &edges, [&level, &wedge], [Accuracy::EXACT, survey], &[vec![0]]).unwrap();
/// // Between 1 and 2: 100 m² that rise, 100 m² a metre that come in at 1 and leave at 2: 0.01 (100 + 100 - 200) = 0.
/// assert!(found[0][3].fill.abs() < 1e-9);
/// // Beyond 2: 200 m² that rise, and what comes in at 2.
/// assert!((found[0][4].fill - 0.01 * (200.0 + 200.0)).abs() < 1e-9);
/// ```
pub fn band_uncertainty(
    overlay: &Overlay<'_>,
    edges: &BandEdges,
    surfaces: [&Surface; 2],
    accuracies: [Accuracy; 2],
    groups: &[Vec<usize>],
) -> Result<Vec<Vec<BandUncertainty>>, OverlayError> {
    let middle = edges.middle();
    let layers = (0..edges.count()).flat_map(|band| {
        let [from, to] = edges.between(band);
        let between = [
            from.unwrap_or(f64::NEG_INFINITY),
            to.unwrap_or(f64::INFINITY),
        ];
        let (below, above) = ([between[0], 0.0], [0.0, between[1]]);
        let one = |kind, between| Layer {
            band,
            kind,
            between,
            whole: true,
        };
        match band.cmp(&middle) {
            std::cmp::Ordering::Less => vec![one(CUT, between)],
            std::cmp::Ordering::Greater => vec![one(FILL, between)],
            std::cmp::Ordering::Equal => vec![one(CUT, below), one(FILL, above)],
        }
    });
    LayerFold::of(layers.collect(), edges.count(), &accuracies)
        .told(overlay, surfaces, accuracies, groups)
}

/// The same of the slices between depths that ascend, and of what is deeper than the last of them.
///
/// # Errors
///
/// When it is stopped by who watches.
pub fn slice_uncertainty(
    overlay: &Overlay<'_>,
    depths: &[f64],
    surfaces: [&Surface; 2],
    accuracies: [Accuracy; 2],
    groups: &[Vec<usize>],
) -> Result<Vec<Vec<BandUncertainty>>, OverlayError> {
    let layers = depths.iter().enumerate().flat_map(|(band, &from)| {
        let to = depths.get(band + 1).copied().unwrap_or(f64::INFINITY);
        [(CUT, [-to, -from]), (FILL, [from, to])].map(|(kind, between)| Layer {
            band,
            kind,
            between,
            whole: false,
        })
    });
    LayerFold::of(layers.collect(), depths.len(), &accuracies)
        .told(overlay, surfaces, accuracies, groups)
}

/// Cut or fill where the difference lies between two edges.
struct Layer {
    band: usize,
    kind: u32,
    between: [f64; 2],
    /// Whether ground counts with its whole volume, and not only with what lies between the edges.
    whole: bool,
}

struct LayerFold {
    /// Rising, and clear of each other.
    layers: Vec<Layer>,
    bands: usize,
    spread: Spread,
}

impl Fold for LayerFold {
    type Part = [Gathered; 2];

    fn part(&self) -> Self::Part {
        Self::Part::default()
    }

    fn piece(&self, part: &mut Self::Part, piece: &Piece<'_>) {
        let difference = |at: Place| piece.surveyed.at(at) - piece.reference.at(at);
        let (values, least, greatest) = piece.outline.values(difference);
        let within = |[low, high]: [f64; 2]| {
            if least >= high || greatest <= low {
                return Moments::default();
            }
            let mut ground: Polygon = *piece.outline;
            if low > least {
                ground = ground.part_above(&values, low);
            }
            if high < greatest {
                let (values, ..) = ground.values(|at| -difference(at));
                ground = ground.part_above(&values, -high);
            }
            Moments::of(&ground)
        };
        let standard = self.spread.standard([&piece.reference, &piece.surveyed]);
        let near = |edge: f64| within([edge - standard, edge + standard]);
        // Few of many layers are near.
        let first = (self.layers).partition_point(|layer| layer.between[1] + standard <= least);
        let near_ones = self.layers.iter().skip(first);
        for layer in near_ones.take_while(|layer| layer.between[0] - standard < greatest) {
            let [low, high] = layer.between;
            let mut moments = within(layer.between);
            if layer.whole && standard > 0.0 {
                // What rises over the lower edge of fill comes in, and what rises over its upper one leaves; of cut the other way round.
                let comes_in = if layer.kind == FILL { 1.0 } else { -1.0 };
                for (edge, sign) in [(low, comes_in), (high, -comes_in)] {
                    if edge.is_finite() && edge != 0.0 {
                        moments.add(near(edge).times(sign * edge.abs() / (2.0 * standard)));
                    }
                }
            }
            for (gathered, facet) in part.iter_mut().zip(piece.facets) {
                for &zone in piece.zones {
                    let zone = zone as usize * self.bands + layer.band;
                    gathered.add(facet, (zone as u32) << 1 | layer.kind, moments);
                }
            }
        }
    }

    fn join(&self, part: &mut Self::Part, next: Self::Part) {
        WeightFold::joined(part, next);
    }
}

impl LayerFold {
    fn of(mut layers: Vec<Layer>, bands: usize, accuracies: &[Accuracy; 2]) -> Self {
        layers.sort_by(|a, b| a.between[0].total_cmp(&b.between[0]));
        LayerFold {
            layers,
            bands,
            spread: Spread::of(accuracies),
        }
    }

    fn told(
        &self,
        overlay: &Overlay<'_>,
        surfaces: [&Surface; 2],
        accuracies: [Accuracy; 2],
        groups: &[Vec<usize>],
    ) -> Result<Vec<Vec<BandUncertainty>>, OverlayError> {
        let gathered = overlay.fold(self)?;
        let entries = WeightFold::entries(gathered, overlay.zone_count() * self.bands);
        let of_band = |group: &[usize], band: usize| {
            let zones: Vec<usize> = group.iter().map(|zone| zone * self.bands + band).collect();
            let one = |side: usize, counts: [f64; 2]| {
                let summed = Summed::over(surfaces[side], &Entries::of(&entries[side], &zones));
                let (points, all) = (summed.points(counts), summed.all(counts));
                parts_of(points, summed.places(), all, &accuracies[side])
            };
            let both = |counts: [f64; 2]| {
                BothSides {
                    reference: one(0, counts),
                    surveyed: one(1, counts),
                }
                .standard()
            };
            BandUncertainty {
                cut: both([1.0, 0.0]),
                fill: both([0.0, 1.0]),
            }
        };
        let bands = |group: &Vec<usize>| (0..self.bands).map(|band| of_band(group, band)).collect();
        Ok(groups.iter().map(bands).collect())
    }
}

#[cfg(test)]
mod tests;
