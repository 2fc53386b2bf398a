//! The ground between two surfaces in a section, as outlines to be filled.

use super::section::SectionLine;

/// Ground between two surfaces in a section: all of it cut, or all of it fill.
#[derive(Debug, Clone, PartialEq)]
pub struct SectionPatch {
    /// True where the surveyed surface is above the reference.
    pub is_fill: bool,
    /// Offsets and heights of its corners: along the reference, and back along the surveyed surface.
    pub ring: Vec<[f64; 2]>,
}

/// A patch on the way.
struct Open {
    is_fill: bool,
    reference: Vec<[f64; 2]>,
    surveyed: Vec<[f64; 2]>,
}

impl SectionLine {
    /// What lies between it, as the reference, and a surveyed surface in the same cut: patches from the left to the right.
    pub fn patches(&self, surveyed: &SectionLine) -> Vec<SectionPatch> {
        let mut done = Vec::new();
        let mut open: Option<Open> = None;
        let mut add = |offsets: [f64; 2], own: [f64; 2], other: [f64; 2]| {
            let sum: f64 = (0..2).map(|end| other[end] - own[end]).sum();
            let last = open
                .as_ref()
                .and_then(|open| open.reference.last().copied());
            if sum == 0.0 {
                done.extend(open.take().map(Open::closed));
                return;
            }
            let is_fill = sum > 0.0;
            let goes_on = last.is_some_and(|[offset, _]| offset == offsets[0])
                && open.as_ref().is_some_and(|open| open.is_fill == is_fill);
            if !goes_on {
                done.extend(open.take().map(Open::closed));
            }
            let open = open.get_or_insert_with(|| Open {
                is_fill,
                reference: Vec::new(),
                surveyed: Vec::new(),
            });
            for (line, heights) in [(&mut open.reference, own), (&mut open.surveyed, other)] {
                for (offset, height) in offsets.into_iter().zip(heights) {
                    if line.last() != Some(&[offset, height]) {
                        line.push([offset, height]);
                    }
                }
            }
        };
        self.together(surveyed, |[from, to], own, other| {
            let (start, end) = (other[0] - own[0], other[1] - own[1]);
            if start * end < 0.0 {
                let share = start / (start - end);
                let at = from + share * (to - from);
                let height = own[0] + share * (own[1] - own[0]);
                add([from, at], [own[0], height], [other[0], height]);
                add([at, to], [height, own[1]], [height, other[1]]);
            } else {
                add([from, to], own, other);
            }
        });
        done.extend(open.map(Open::closed));
        done
    }
}

impl Open {
    fn closed(self) -> SectionPatch {
        let mut ring = self.reference;
        ring.extend(self.surveyed.into_iter().rev());
        SectionPatch {
            is_fill: self.is_fill,
            ring,
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::alignment::Course;
    use crate::plan::Place;
    use crate::quantities::{Cut, SectionPart};
    use proptest::prelude::*;

    fn line(corners: &[[f64; 2]]) -> SectionLine {
        let parts = corners.windows(2).map(|pair| SectionPart {
            offsets: [pair[0][0], pair[1][0]],
            heights: [pair[0][1], pair[1][1]],
        });
        SectionLine {
            parts: parts.collect(),
        }
    }

    fn area(ring: &[[f64; 2]]) -> f64 {
        let next = ring.iter().cycle().skip(1);
        let twice = ring
            .iter()
            .zip(next)
            .map(|(a, b)| a[0] * b[1] - b[0] * a[1]);
        twice.sum::<f64>().abs() / 2.0
    }

    proptest! {
        /// Patches hold what the areas of cut and fill are.
        #[test]
        fn patches_hold_the_areas(own in prop::collection::vec((0.1..3.0f64, -2.0..2.0f64), 3..12), other in prop::collection::vec((0.1..3.0f64, -2.0..2.0f64), 3..12)) {
            let of = |steps: &[(f64, f64)]| {
                let mut offset = -5.0;
                let corners: Vec<[f64; 2]> = steps.iter().map(|&(step, height)| { let at = [offset, height]; offset += step; at }).collect();
                line(&corners)
            };
            let (own, other) = (of(&own), of(&other));
            let cut = Cut { course: Course { place: Place::new(0.0, 0.0), direction: 0.0 }, spans: vec![[-5.0, 40.0]] };
            let areas = own.areas(&other, &cut);
            let sum = |is_fill: bool| -> f64 { own.patches(&other).iter().filter(|patch| patch.is_fill == is_fill).map(|patch| area(&patch.ring)).sum() };
            prop_assert!((sum(true) - areas.fill.area).abs() < 1e-9);
            prop_assert!((sum(false) - areas.cut.area).abs() < 1e-9);
        }
    }

    #[test]
    fn patches_begin_where_the_sign_changes() {
        let ground = line(&[[-4.0, 0.0], [4.0, 0.0]]);
        let built = line(&[[-4.0, -1.0], [0.0, 1.0], [2.0, 1.0], [4.0, 0.0]]);
        let found = ground.patches(&built);
        assert_eq!(found.len(), 2);
        assert_eq!(
            found[0].ring,
            [[-4.0, 0.0], [-2.0, 0.0], [-2.0, 0.0], [-4.0, -1.0]]
        );
        assert!(found[1].is_fill && (area(&found[1].ring) - 4.0).abs() < 1e-12);
    }
}
