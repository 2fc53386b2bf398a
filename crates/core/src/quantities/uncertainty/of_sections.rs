//! How uncertain a volume by sections is: a sum of areas, each of which is linear in the heights along its section.

use super::point_sums::Summed;
use super::weights::{CUT, Entry, FILL, Moments};
use super::{Accuracy, BothSides, GainByChance, VolumeUncertainty, parts};
use crate::quantities::Cut;
use crate::surface::{FacetIndex, FacetOnLine};

/// A section, and how much a volume grows with its areas.
#[derive(Debug, Clone, PartialEq)]
pub struct CountedCut {
    /// The section.
    pub cut: Cut,
    /// With each unit of its area.
    pub length: f64,
    /// With each unit of its first moment about the line.
    pub turned: f64,
}

/// How uncertain cut, fill and net by sections are, where both surfaces are so accurate: what their points add, not what lies between the
/// sections.
///
/// A section hits few points, so its areas are more uncertain than the ground around them; together they share what all points have in common.
///
/// ```
/// use dapedon_core::alignment::Course;
/// use dapedon_core::plan::{Frame, Place};
/// use dapedon_core::quantities::{Accuracy, CountedCut, Cut, section_uncertainty};
/// use dapedon_core::surface::{FacetIndex, Grid, Level, Surface};
/// use dapedon_core::units::LengthUnit;
/// // A section of 10 through fill of 2, which counts over 5: with all heights 10 mm off it is 0.5 m³.
/// let frame = Frame::new(LengthUnit::Metre, [0.0, 0.0]);
/// let flat = Grid::new(frame, frame.to_local(0.0, 0.0), [1.0, 1.0], [11, 11], vec![2.0; 121]).unwrap();
/// let [level, flat] = [Surface::Level(Level::new(frame, 0.0)), Surface::Grid(flat)];
/// let course = Course { place: Place::new(5.0, 5.0), direction: 0.0 };
/// let cut = Cut { course, spans: vec![[-5.0, 5.0]] };
/// let counted = [CountedCut { cut, length: 5.0, turned: 0.0 }];
/// let survey = Accuracy { common_height: 0.01, ..Accuracy::EXACT };
/// let found = section_uncertainty([&FacetIndex::of(&level), &FacetIndex::of(&flat)], &counted, [Accuracy::EXACT, survey]);
/// assert!((found.fill.standard() - 0.5).abs() < 1e-12);
/// ```
pub fn section_uncertainty(
    surfaces: [&FacetIndex<'_>; 2],
    cuts: &[CountedCut],
    accuracies: [Accuracy; 2],
) -> VolumeUncertainty {
    let mut entries: [Vec<Entry>; 2] = Default::default();
    for counted in cuts {
        counted.gather(surfaces, &mut entries);
    }
    let one = |side: usize| {
        let summed = Summed::over(surfaces[side].surface(), &[&entries[side]]);
        parts(&summed, &accuracies[side])
    };
    let (reference, surveyed) = rayon::join(|| one(0), || one(1));
    let [cut, fill, net] = [0, 1, 2].map(|kind| BothSides {
        reference: reference[kind],
        surveyed: surveyed[kind],
    });
    VolumeUncertainty {
        cut,
        fill,
        net,
        by_chance: GainByChance::default(),
    }
}

impl CountedCut {
    fn gather(&self, surfaces: [&FacetIndex<'_>; 2], entries: &mut [Vec<Entry>; 2]) {
        for &[left, right] in &self.cut.spans {
            let (from, to) = (self.cut.place(left), self.cut.place(right));
            let [reference, surveyed] = surfaces.map(|surface| surface.along(from, to));
            together(&reference, &surveyed, |between, facets, [start, end]| {
                let crossing = between[0] + (between[1] - between[0]) * (start / (start - end));
                let parts = match start * end < 0.0 {
                    true => [
                        ([between[0], crossing], start),
                        ([crossing, between[1]], end),
                    ],
                    false => [(between, start + end), ([between[1]; 2], 0.0)],
                };
                for (part, difference) in parts {
                    if part[1] <= part[0] {
                        continue;
                    }
                    let kind = if difference > 0.0 { FILL } else { CUT };
                    let moments = self.counts(left, part);
                    for (entries, facet) in entries.iter_mut().zip(facets) {
                        entries.push(Entry::new(facet, kind, moments));
                    }
                }
            });
        }
    }

    /// What a stretch of the section counts, from one distance from its left end to another: what is linear on it, times how much it
    /// counts there, is integrated by Simpson's rule, without an error.
    fn counts(&self, left: f64, [from, to]: [f64; 2]) -> Moments {
        let mut moments = Moments::default();
        for (at, share) in [
            (from, 1.0 / 6.0),
            ((from + to) / 2.0, 4.0 / 6.0),
            (to, 1.0 / 6.0),
        ] {
            let offset = left + at;
            let weight = (to - from) * share * (self.length + self.turned * offset);
            moments.add(Moments::at(weight, self.cut.place(offset)));
        }
        moments
    }
}

/// Visits the stretches over which both surfaces have one facet each: where they are, the two facets, and the differences at their ends.
fn together(
    reference: &[FacetOnLine],
    surveyed: &[FacetOnLine],
    mut visit: impl FnMut([f64; 2], [u32; 2], [f64; 2]),
) {
    let (mut i, mut j) = (0, 0);
    let mut passed = f64::NEG_INFINITY;
    while let (Some(a), Some(b)) = (reference.get(i), surveyed.get(j)) {
        let from = a.between[0].max(b.between[0]).max(passed);
        let to = a.between[1].min(b.between[1]);
        if to > from {
            visit(
                [from, to],
                [a.facet, b.facet],
                [from, to].map(|at| b.height(at) - a.height(at)),
            );
            passed = to;
        }
        match a.between[1] <= b.between[1] {
            true => i += 1,
            false => j += 1,
        }
    }
}

#[cfg(test)]
mod tests;
