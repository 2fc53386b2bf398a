//! What a difference looks like: the bands of a map, each with its colour, and cut hatched besides.

use std::cmp::Ordering;

use dapedon_core::quantities::BandEdges;
use dapedon_job::{BandFigures, BandSide, ZoneBands};

use crate::colours::{CUT, FILL, Rgb, UNCHANGED, ramp};
use crate::raster::Coloured;

/// Colours on one side of zero where they pass into each other.
const FINE: usize = 30;

/// The bands of a map.
pub(super) struct BandColours<'b> {
    edges: &'b BandEdges,
    /// What is told of the bands that hold anything, from the lowest.
    told: &'b ZoneBands,
    /// The number of the first of them among all.
    first: usize,
    colours: Vec<Rgb>,
    /// Differences no farther apart are the same.
    same: f64,
    /// The greatest difference, where colours pass into each other.
    continuous: Option<f64>,
}

impl<'b> BandColours<'b> {
    /// The usual colours, or those of a job; `told` may begin at the second of all bands. Colours pass into each other where
    /// the reach of differences is given.
    pub(super) fn new(
        edges: &'b BandEdges,
        told: &'b ZoneBands,
        own: &[Rgb],
        same: f64,
        continuous: Option<[f64; 2]>,
    ) -> Self {
        let first = told.bands.first();
        let first = usize::from(first.is_some_and(|band| band.from.is_some()));
        let (below, above) = (edges.middle(), edges.count() - 1 - edges.middle());
        // The same depth is as dark on both sides.
        let deepest = below.max(above).saturating_sub(1).max(CUT.len() - 1) as f64;
        let usual = |band: usize| match band.cmp(&below) {
            Ordering::Less => ramp(&CUT, (below - 1 - band) as f64 / deepest),
            Ordering::Equal => UNCHANGED,
            Ordering::Greater => ramp(&FILL, (band - below - 1) as f64 / deepest),
        };
        let colour = |band: usize| {
            let own = band.checked_sub(first).and_then(|index| own.get(index));
            own.copied().unwrap_or_else(|| usual(band))
        };
        BandColours {
            edges,
            told,
            first,
            colours: (0..edges.count()).map(colour).collect(),
            same,
            continuous: continuous.map(|[min, max]| max.max(-min).max(f64::MIN_POSITIVE)),
        }
    }

    /// The bands for a legend, from the highest difference to the lowest, with the colour of each.
    pub(super) fn legend(&self) -> impl Iterator<Item = (&BandFigures, Rgb)> {
        let [from, to] = self.edges.between(self.edges.middle());
        let has_width = from < to;
        let told = self.told.bands.iter().enumerate().rev();
        let shown = told.filter(move |(_, band)| {
            band.side != BandSide::Middle || band.area.value > 0.0 || has_width
        });
        shown.map(|(index, band)| {
            let middle = match (band.from, band.to) {
                (Some(from), Some(to)) => Some((from.value + to.value) / 2.0),
                _ => None,
            };
            let colour = match (self.continuous, middle) {
                (Some(_), Some(middle)) => self.colours()[self.class(middle)],
                _ => self.colours[index + self.first],
            };
            (band, colour)
        })
    }
}

impl Coloured for BandColours<'_> {
    fn class(&self, difference: f64) -> usize {
        let band = self.edges.of(difference, self.same);
        let Some(greatest) = self.continuous else {
            return band;
        };
        let step = (difference.abs() / greatest * FINE as f64) as usize;
        let step = step.min(FINE - 1);
        match band.cmp(&self.edges.middle()) {
            Ordering::Less => FINE - 1 - step,
            Ordering::Equal => FINE,
            Ordering::Greater => FINE + 1 + step,
        }
    }

    fn colours(&self) -> Vec<Rgb> {
        if self.continuous.is_none() {
            return self.colours.clone();
        }
        let share = |step: usize| step as f64 / (FINE - 1) as f64;
        let cut = (0..FINE).rev().map(|step| ramp(&CUT, share(step)));
        let fill = (0..FINE).map(|step| ramp(&FILL, share(step)));
        cut.chain([UNCHANGED]).chain(fill).collect()
    }

    fn is_hatched(&self, class: usize) -> bool {
        match self.continuous {
            Some(_) => class < FINE,
            None => class < self.edges.middle(),
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use dapedon_core::quantities::Tolerance;

    #[test]
    fn the_same_depth_is_as_dark_on_both_sides() {
        let edges = BandEdges::new(&[-2.0, -1.0, 1.0], Tolerance::new(0.1).unwrap()).unwrap();
        let told = ZoneBands {
            zone: "all".into(),
            bands: Vec::new(),
        };
        let colours = BandColours::new(&edges, &told, &[], 1e-8, None);
        let of = |difference: f64| colours.colours()[colours.class(difference)];
        assert_eq!([of(-0.5), of(-1.5), of(-2.5)], [CUT[0], CUT[1], CUT[2]]);
        assert_eq!([of(0.05), of(0.5), of(7.0)], [UNCHANGED, FILL[0], FILL[1]]);
        assert!(colours.is_hatched(colours.class(-0.5)) && !colours.is_hatched(colours.class(0.5)));
        let own = [
            [1, 1, 1],
            [2, 2, 2],
            [3, 3, 3],
            [4, 4, 4],
            [5, 5, 5],
            [6, 6, 6],
        ];
        let named = BandColours::new(&edges, &told, &own, 1e-8, None);
        assert_eq!(named.colours()[named.class(-2.5)], [1, 1, 1]);
        let smooth = BandColours::new(&edges, &told, &[], 1e-8, Some([-4.0, 2.0]));
        let of = |difference: f64| smooth.colours()[smooth.class(difference)];
        assert_eq!([of(-4.0), of(0.0), of(-9.0)], [CUT[4], UNCHANGED, CUT[4]]);
        // Half as deep is halfway along the colours, but for a step.
        assert!(of(2.0)[0].abs_diff(FILL[2][0]) < 6);
    }
}
