//! Bands of difference: ground by how much it differs, with the whole volume over it.
//!
//! Depth slices ([`depths`](crate::quantities::depths)) cut the body at depths instead.

use crate::overlay::{Fold, Overlay, OverlayError, Piece};
use crate::plan::Sum;
use crate::plan::clip::{Integral, Polygon, Values};
use crate::quantities::Tolerance;

/// The edges of bands, rising, with a band in the middle of which the ground counts as unchanged.
#[derive(Debug, Clone, PartialEq)]
pub struct BandEdges {
    /// All edges, those of the middle band among them.
    bounds: Vec<f64>,
    /// How many lie below the middle band; its own lower edge is the last of them.
    below: usize,
}

/// Why edges make no bands.
#[derive(Debug, Clone, Copy, PartialEq, thiserror::Error)]
#[non_exhaustive]
pub enum BandEdgesError {
    /// An edge is no number that a difference can have.
    #[error("a band edge is not finite")]
    NotFinite,
    /// An edge is not above the one before it.
    #[error("the band edges do not rise: {after} follows {before}")]
    NotRising {
        /// The edge before.
        before: f64,
        /// The edge.
        after: f64,
    },
    /// An edge lies within the middle band.
    #[error("the band edge {edge} is within the middle band of ±{middle}")]
    WithinMiddle {
        /// The edge.
        edge: f64,
        /// How far the middle band reaches on both sides of zero.
        middle: f64,
    },
}

/// The ground whose difference lies between two edges.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Band {
    /// Its lower edge; none for the lowest band.
    pub from: Option<f64>,
    /// Its upper edge; none for the highest band.
    pub to: Option<f64>,
    /// Its plan area.
    pub area: f64,
    /// The volume below the reference over all of that ground.
    pub cut: f64,
    /// The volume above the reference over all of that ground.
    pub fill: f64,
}

impl BandEdges {
    /// Edges as they are given, and a middle band as wide as a tolerance on both sides of zero. An edge at zero belongs
    /// to the middle band, which without a tolerance holds what does not differ at all.
    ///
    /// # Errors
    ///
    /// When the edges do not rise, or one lies within the middle band.
    pub fn new(edges: &[f64], middle: Tolerance) -> Result<Self, BandEdgesError> {
        if edges.iter().any(|edge| !edge.is_finite()) {
            return Err(BandEdgesError::NotFinite);
        }
        if let Some(pair) = edges.windows(2).find(|pair| pair[0] >= pair[1]) {
            return Err(BandEdgesError::NotRising {
                before: pair[0],
                after: pair[1],
            });
        }
        let middle = middle.value();
        let within = |edge: &&f64| **edge != 0.0 && edge.abs() < middle;
        if let Some(&edge) = edges.iter().find(within) {
            return Err(BandEdgesError::WithinMiddle { edge, middle });
        }
        let beyond = |edge: &&f64| edge.abs() > middle && **edge != 0.0;
        let mut bounds: Vec<f64> = edges.iter().filter(beyond).copied().collect();
        let below = bounds.partition_point(|&edge| edge < 0.0);
        bounds.splice(below..below, [-middle, middle]);
        Ok(BandEdges {
            bounds,
            below: below + 1,
        })
    }

    /// How many bands there are.
    pub fn count(&self) -> usize {
        self.bounds.len() + 1
    }

    /// Which of the bands is the middle one.
    pub fn middle(&self) -> usize {
        self.below
    }

    /// Between which edges a band lies.
    pub fn between(&self, band: usize) -> [Option<f64>; 2] {
        let before = band.checked_sub(1);
        [
            before.and_then(|before| self.bounds.get(before).copied()),
            self.bounds.get(band).copied(),
        ]
    }

    /// Which band a difference lies in. On an edge it is the one nearer to zero, so that it does not matter which
    /// surface is the reference; a difference no farther from an edge than `same` is on it.
    pub fn of(&self, difference: f64, same: f64) -> usize {
        let [first, last] = self.reach(difference, difference, same);
        self.one(first, last, difference)
    }

    /// The first and the last band that differences between two values reach into; the other way round on an edge.
    fn reach(&self, least: f64, greatest: f64, same: f64) -> [usize; 2] {
        [
            self.bounds.partition_point(|&edge| edge <= least + same),
            self.bounds.partition_point(|&edge| edge < greatest - same),
        ]
    }

    /// The band of what lies on an edge, or between two; `first` may be behind `last`.
    fn one(&self, first: usize, last: usize, difference: f64) -> usize {
        match (last..=first).contains(&self.below) {
            true => self.below,
            false if difference > 0.0 => last,
            false => first,
        }
    }
}

/// The bands of a measurement, from the lowest difference to the highest, zone by zone.
///
/// Pieces are split at the edges and integrated, without sampling. The middle band holds what [`volumes`](crate::quantities::volumes)
/// calls unchanged where it is as wide as the tolerance; the bands below it then add up to the cut, those above it to the fill.
///
/// # Errors
///
/// When it is stopped by who watches.
///
/// ```
/// use dapedon_core::overlay::Overlay;
/// use dapedon_core::plan::*;
/// use dapedon_core::quantities::*;
/// use dapedon_core::surface::*;
/// use dapedon_core::units::*;
/// let frame = Frame::new(LengthUnit::Metre, [0.0, 0.0]);
/// // A wedge of 10 by 4 that rises from 0 to 2.
/// let corners = [(0.0, 0.0, 0.0), (10.0, 0.0, 2.0), (10.0, 4.0, 2.0), (0.0, 4.0, 0.0)];
/// let vertices = corners.map(|(e, n, h)| Vertex::new(e, n, h)).to_vec();
/// let wedge = Surface::Tin(Tin::from_facets(frame, vertices, vec![[0, 1, 2], [0, 2, 3]]).unwrap());
/// let level = Surface::Level(Level::new(frame, 0.0));
/// let overlay = Overlay::new(&level, &wedge, None).unwrap();
/// let edges = BandEdges::new(&[1.0], Tolerance::ZERO).unwrap();
/// let found = &bands(&overlay, &edges).unwrap()[0];
/// let [shallow, deep] = [found[2], found[3]];
/// assert!((shallow.area - 20.0).abs() < 1e-9 && (shallow.fill - 10.0).abs() < 1e-9);
/// assert!((deep.area - 20.0).abs() < 1e-9 && (deep.fill - 30.0).abs() < 1e-9);
/// ```
pub fn bands(overlay: &Overlay<'_>, edges: &BandEdges) -> Result<Vec<Vec<Band>>, OverlayError> {
    let fold = BandFold::of(overlay, edges);
    Ok(fold.told(overlay.fold(&fold)?))
}

/// Sums by bands over the pieces of an overlay.
pub(super) struct BandFold<'e> {
    edges: &'e BandEdges,
    zones: usize,
    /// Differences no farther apart are the same: the rounding of a number.
    same: f64,
}

/// What is summed over the ground of a band.
#[derive(Debug, Clone, Copy, Default)]
pub(super) struct BandSums {
    area: Sum,
    cut: Sum,
    fill: Sum,
}

/// A part of a piece, in one band.
struct Part {
    band: usize,
    area: f64,
    cut: f64,
    fill: f64,
}

impl<'e> BandFold<'e> {
    pub(super) fn of(overlay: &Overlay<'_>, edges: &'e BandEdges) -> Self {
        BandFold {
            edges,
            zones: overlay.zone_count(),
            same: overlay.frame().precision().length(),
        }
    }

    /// The bands of each zone, from its sums.
    pub(super) fn told(&self, found: Vec<Vec<BandSums>>) -> Vec<Vec<Band>> {
        let band = |(number, sums): (usize, BandSums)| {
            let [from, to] = self.edges.between(number);
            Band {
                from,
                to,
                area: sums.area.value(),
                cut: sums.cut.value(),
                fill: sums.fill.value(),
            }
        };
        let told = |sums: Vec<BandSums>| sums.into_iter().enumerate().map(band).collect();
        found.into_iter().map(told).collect()
    }

    /// Parts a piece at the edges.
    fn parts(
        &self,
        outline: &Polygon,
        values: &Values,
        [least, greatest]: [f64; 2],
        mut put: impl FnMut(&Part),
    ) {
        let whole = outline.integrate(values);
        if whole.area <= 0.0 {
            return;
        }
        let [first, last] = self.edges.reach(least, greatest, self.same);
        if last <= first {
            let band = self.edges.one(first, last, greatest + least);
            return put(&self.part(band, whole, || outline.integrate_above(values, 0.0)));
        }
        let mut above = whole;
        for band in first..=last {
            let next = match self.edges.bounds.get(band).filter(|_| band < last) {
                Some(&edge) => outline.integrate_above(values, edge),
                None => Integral::default(),
            };
            let rises = || outline.integrate_above(values, 0.0) - next;
            put(&self.part(band, above - next, rises));
            above = next;
        }
    }

    /// A part in one band, and what of it rises above zero, which only the middle one is on both sides of.
    fn part(&self, band: usize, whole: Integral, rises: impl FnOnce() -> Integral) -> Part {
        let [cut, fill] = match band.cmp(&self.edges.middle()) {
            std::cmp::Ordering::Less => [-whole.integral, 0.0],
            std::cmp::Ordering::Greater => [0.0, whole.integral],
            std::cmp::Ordering::Equal => {
                let fill = rises().integral.max(0.0);
                [fill - whole.integral, fill]
            }
        };
        Part {
            band,
            area: whole.area,
            // Rounding may leave a little less than nothing.
            cut: cut.max(0.0),
            fill: fill.max(0.0),
        }
    }
}

impl Fold for BandFold<'_> {
    type Part = Vec<Vec<BandSums>>;

    fn part(&self) -> Self::Part {
        vec![vec![BandSums::default(); self.edges.count()]; self.zones]
    }

    fn piece(&self, part: &mut Self::Part, piece: &Piece<'_>) {
        let outline = &piece.outline;
        let difference = |at| piece.surveyed.at(at) - piece.reference.at(at);
        let (values, least, greatest) = outline.values(difference);
        self.parts(outline, &values, [least, greatest], |found| {
            for &zone in piece.zones {
                let sums = &mut part[zone as usize][found.band];
                sums.area += found.area;
                sums.cut += found.cut;
                sums.fill += found.fill;
            }
        });
    }

    fn join(&self, part: &mut Self::Part, next: Self::Part) {
        for (own, next) in part.iter_mut().flatten().zip(next.into_iter().flatten()) {
            own.area += next.area;
            own.cut += next.cut;
            own.fill += next.fill;
        }
    }
}
