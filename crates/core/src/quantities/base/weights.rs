//! How much volumes above a base grow with each point of the surface, through its toe too.

use super::toe::length;
use super::{Base, BaseError, Toe};
use crate::overlay::volume::{Tolerance, ZoneVolume};
use crate::overlay::{Overlay, OverlayError};
use crate::plan::{Place, Sum};
use crate::quantities::uncertainty::{Accuracy, PointWeights, weighed_volumes};
use crate::surface::{FacetIndex, HeightAt, Surface, Vertex};
use crate::zones::Zones;

/// So far a place is moved, as a share of the toe's length, to leave a vertical step.
const ASIDE: f64 = 1e-6;

/// The volumes between a base and the surface that it was found from, and by how much cut, and by how much fill, grow with each point of the
/// surface: where it counts by itself, and where it lifts the toe and with it the base.
///
/// A base is linear in the heights of the toe, and those are linear in the heights of points. What all heights have in common cancels. See
/// `docs/methods.md`, "Uncertainty of a volume".
///
/// # Errors
///
/// When the heights along the outline make no base, or it cannot be laid under the surface.
pub fn weighed_above_base(
    surface: &Surface,
    toe: &Toe,
    base: Base,
    zones: &Zones,
) -> Result<(ZoneVolume, [PointWeights; 2]), BaseError> {
    let tin = toe.base(base)?;
    let places: Vec<Place> = tin.vertices().iter().map(|vertex| vertex.place()).collect();
    let below = Surface::Tin(tin);
    let overlay = Overlay::new(&below, surface, Some(zones))?;
    let weighed = weighed_volumes(
        &overlay,
        Tolerance::ZERO,
        [&below, surface],
        [Accuracy::EXACT; 2],
    )?;
    let all: Vec<usize> = (0..weighed.zones.len()).collect();
    let index = FacetIndex::of(surface);
    let through = weighed.reference_weights(&all).map(|weights| {
        let lifted = weights.heights().filter_map(|(number, weight)| {
            let place = places.get(number as usize)?;
            Some((*place, weight))
        });
        let counts = toe.counts(base, lifted);
        at_places(surface, &index, toe, counts)
    });
    let mut own = weighed.surveyed_weights(&all);
    for (own, through) in own.iter_mut().zip(&through) {
        own.add(through, 1.0);
    }
    let measured = weighed.zones.first().copied();
    let measured = measured.ok_or(BaseError::Overlay(OverlayError::Apart))?;
    Ok((measured, own))
}

/// What counts at places of a surface, as the points around count for it.
fn at_places(
    surface: &Surface,
    index: &FacetIndex<'_>,
    toe: &Toe,
    counts: Vec<(Place, f64)>,
) -> PointWeights {
    let aside = ASIDE * toe.length();
    let mut gains = Vec::new();
    for (at, weight) in counts {
        let around = [
            (0.0, 0.0),
            (aside, 0.0),
            (-aside, 0.0),
            (0.0, aside),
            (0.0, -aside),
        ];
        let facets = around.into_iter().filter_map(|(east, north)| {
            match index.at(Place::new(at.east + east, at.north + north)) {
                HeightAt::One { facet, .. } => Some(facet),
                HeightAt::None | HeightAt::Several { .. } => None,
            }
        });
        let Some(facet) = { facets }.next() else {
            continue;
        };
        gains.extend(PointWeights::at(surface, facet, at, weight));
    }
    PointWeights::summed(gains)
}

impl Toe {
    /// By how much something grows with heights along the toe, that grows so much with heights of a base at some places.
    fn counts(&self, base: Base, lifted: impl Iterator<Item = (Place, f64)>) -> Vec<(Place, f64)> {
        let whole = |lifted: &mut dyn Iterator<Item = (Place, f64)>| {
            lifted.map(|(_, weight)| weight).sum::<f64>()
        };
        let mut lifted = lifted;
        match base {
            Base::Toe => lifted.collect(),
            Base::Lowest => {
                let ends = self.stretches.iter().flatten();
                let lowest =
                    ends.reduce(|low, end| if end.height < low.height { end } else { low });
                let weight = whole(&mut lifted);
                lowest
                    .map(|end| (end.place(), weight))
                    .into_iter()
                    .collect()
            }
            Base::Mean => {
                let share = whole(&mut lifted) / self.length();
                let half = |stretch: &[Vertex; 2]| share * length(stretch) / 2.0;
                let ends = self.stretches.iter();
                ends.flat_map(|stretch| stretch.map(|end| (end.place(), half(stretch))))
                    .collect()
            }
            Base::Plane => self.counts_in_plane(lifted),
        }
    }

    /// The same of the plane that fits the toe ([`Plane::fitted`]): its mean height and its slopes are sums over the ends of the stretches.
    fn counts_in_plane(&self, lifted: impl Iterator<Item = (Place, f64)>) -> Vec<(Place, f64)> {
        let mut middle = [Sum::ZERO; 2];
        for stretch in &self.stretches {
            let half = length(stretch) / 2.0;
            middle[0] += half * (stretch[0].east + stretch[1].east);
            middle[1] += half * (stretch[0].north + stretch[1].north);
        }
        let whole = self.length();
        let [east, north] = middle.map(|sum| sum.value() / whole);
        let from_middle = |at: Place| [at.east - east, at.north - north];
        let both = |[a, b]: [[f64; 2]; 2], i: usize, j: usize| {
            (2.0 * (a[i] * a[j] + b[i] * b[j]) + a[i] * b[j] + b[i] * a[j]) / 6.0
        };
        let [mut ee, mut en, mut nn] = [0.0; 3];
        for stretch in &self.stretches {
            let ends = stretch.map(|end| from_middle(end.place()));
            let length = length(stretch);
            ee += length * both(ends, 0, 0);
            en += length * both(ends, 0, 1);
            nn += length * both(ends, 1, 1);
        }
        let determinant = ee * nn - en * en;
        // What is lifted grows with the height in the middle, and with both slopes.
        let [mut level, mut by_east, mut by_north] = [0.0; 3];
        for (at, weight) in lifted {
            let [e, n] = from_middle(at);
            level += weight;
            by_east += weight * e;
            by_north += weight * n;
        }
        // The slopes are the inverse of the products times the sums with heights.
        let with_east = (by_east * nn - by_north * en) / determinant;
        let with_north = (by_north * ee - by_east * en) / determinant;
        let mut counts = Vec::with_capacity(2 * self.stretches.len());
        for stretch in &self.stretches {
            let length = length(stretch);
            let [a, b] = stretch.map(|end| from_middle(end.place()));
            for (end, [own, other]) in stretch.iter().zip([[a, b], [b, a]]) {
                let moment = |axis: usize| length * (2.0 * own[axis] + other[axis]) / 6.0;
                let weight =
                    level * length / (2.0 * whole) + with_east * moment(0) + with_north * moment(1);
                counts.push((end.place(), weight));
            }
        }
        counts
    }
}

#[cfg(test)]
mod tests;
