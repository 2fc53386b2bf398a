//! Sections: surfaces cut upright, square to a line, and the areas between two of them.

use rayon::prelude::*;

use crate::alignment::Course;
use crate::plan::{Place, Sum};
use crate::surface::FacetIndex;

/// Where a section is cut: square to a line, over stretches of it from offset to offset.
#[derive(Debug, Clone, PartialEq)]
pub struct Cut {
    /// The place on the line and its direction, in the coordinates of the surfaces' frame.
    pub course: Course,
    /// Where it is cut, as offsets: to the right of the line where positive. Rising, and apart from each other.
    pub spans: Vec<[f64; 2]>,
}

/// A surface in a section: a line of heights, with gaps where it does not reach, and steps where it is upright.
#[derive(Debug, Clone, PartialEq, Default)]
pub struct SectionLine {
    /// Its parts, by their offsets.
    pub parts: Vec<SectionPart>,
}

/// A straight part of a surface in a section.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct SectionPart {
    /// From which offset to which.
    pub offsets: [f64; 2],
    /// The heights there.
    pub heights: [f64; 2],
}

/// An area in a section, and its first moment about the line: the area times the offset of its middle.
#[derive(Debug, Clone, Copy, PartialEq, Default)]
pub struct SectionArea {
    /// The area.
    pub area: f64,
    /// The first moment; positive to the right of the line.
    pub moment: f64,
}

/// What lies between two surfaces in a section.
#[derive(Debug, Clone, Copy, PartialEq, Default)]
pub struct SectionAreas {
    /// Below the reference and above the surveyed surface.
    pub cut: SectionArea,
    /// Above the reference and below the surveyed surface.
    pub fill: SectionArea,
    /// The width where both are.
    pub compared: f64,
    /// The width where only the reference is.
    pub reference_only: f64,
    /// The width where only the surveyed surface is.
    pub surveyed_only: f64,
    /// The width where neither is.
    pub neither: f64,
}

impl Cut {
    /// The place at an offset.
    pub fn place(&self, offset: f64) -> Place {
        self.course.offset(offset)
    }

    /// Cuts a surface: its heights along the section, as its facets have them.
    ///
    /// ```
    /// use dapedon_core::alignment::Course;
    /// use dapedon_core::plan::{Frame, Place};
    /// use dapedon_core::quantities::Cut;
    /// use dapedon_core::surface::{FacetIndex, Surface, Tin, Vertex};
    /// use dapedon_core::units::LengthUnit;
    /// let frame = Frame::new(LengthUnit::Metre, [0.0, 0.0]);
    /// let corners = [(0.0, -4.0, 1.0), (8.0, -4.0, 1.0), (0.0, 4.0, 3.0)].map(|(e, n, h)| Vertex::new(e, n, h));
    /// let slope = Surface::Tin(Tin::from_facets(frame, corners.to_vec(), vec![[0, 1, 2]]).unwrap());
    /// // To the right of a line that runs east lies south.
    /// let cut = Cut { course: Course { place: Place::new(2.0, 0.0), direction: 0.0 }, spans: vec![[-1.0, 3.0]] };
    /// let line = cut.through(&FacetIndex::of(&slope));
    /// assert_eq!((line.height(-1.0), line.height(3.0)), (Some(2.25), Some(1.25)));
    /// ```
    pub fn through(&self, surface: &FacetIndex<'_>) -> SectionLine {
        let mut parts = Vec::new();
        for &[left, right] in &self.spans {
            let found = surface.along(self.place(left), self.place(right));
            parts.extend(found.into_iter().map(|found| SectionPart {
                offsets: found.between.map(|distance| left + distance),
                heights: found.heights,
            }));
        }
        SectionLine { parts }
    }

    /// How wide it is.
    pub fn width(&self) -> f64 {
        self.spans.iter().map(|[left, right]| right - left).sum()
    }
}

/// Cuts surfaces at many places, in parallel: for each cut the lines of all surfaces.
pub fn cut_through(surfaces: &[FacetIndex<'_>], cuts: &[Cut]) -> Vec<Vec<SectionLine>> {
    let lines = |cut: &Cut| {
        surfaces
            .iter()
            .map(|surface| cut.through(surface))
            .collect()
    };
    cuts.par_iter().map(lines).collect()
}

impl SectionPart {
    fn height(&self, offset: f64) -> f64 {
        let ([from, to], [low, high]) = (self.offsets, self.heights);
        low + (high - low) * ((offset - from) / (to - from))
    }

    fn slope(&self) -> f64 {
        (self.heights[1] - self.heights[0]) / (self.offsets[1] - self.offsets[0])
    }
}

impl SectionLine {
    /// The height at an offset; `None` where the surface does not reach, of two at a step the one to the right.
    pub fn height(&self, offset: f64) -> Option<f64> {
        let after = self.parts.partition_point(|part| part.offsets[0] <= offset);
        let here = self.parts.get(..after)?.last()?;
        (offset <= here.offsets[1]).then(|| here.height(offset))
    }

    /// The same line with straight parts that go on in each other joined: heights nowhere differ by more than `same`.
    pub fn joined(&self, same: f64) -> SectionLine {
        let mut parts: Vec<SectionPart> = Vec::new();
        for &part in &self.parts {
            match parts.last_mut() {
                Some(before) if goes_on(before, &part, same) => {
                    before.offsets[1] = part.offsets[1];
                    before.heights[1] = part.heights[1];
                }
                _ => parts.push(part),
            }
        }
        SectionLine { parts }
    }

    /// How much of a cut it does not reach over: to the left of the line, and to its right.
    pub fn missing(&self, cut: &Cut) -> [f64; 2] {
        let side = |low: f64, high: f64| {
            let within = |[from, to]: [f64; 2]| [from.clamp(low, high), to.clamp(low, high)];
            let wide = |[from, to]: [f64; 2]| to - from;
            let width: f64 = cut.spans.iter().map(|span| wide(within(*span))).sum();
            let parts = self.parts.iter().map(|part| within(part.offsets));
            (width - covered(parts)).max(0.0)
        };
        [side(f64::NEG_INFINITY, 0.0), side(0.0, f64::INFINITY)]
    }

    /// Its corners, run by run: a new run begins behind a gap.
    pub fn runs(&self, same: f64) -> Vec<Vec<[f64; 2]>> {
        let mut runs: Vec<Vec<[f64; 2]>> = Vec::new();
        let mut reached = f64::NEG_INFINITY;
        for part in &self.parts {
            let ([from, to], [low, high]) = (part.offsets, part.heights);
            if from > reached + same {
                runs.push(vec![[from, low]]);
            } else if let Some(run) = runs.last_mut()
                && run.last().is_none_or(|last| (last[1] - low).abs() > same)
            {
                run.push([from, low]);
            }
            if let Some(run) = runs.last_mut() {
                run.push([to, high]);
            }
            reached = to;
        }
        runs
    }

    /// Its lowest and its highest height.
    pub fn heights(&self) -> Option<[f64; 2]> {
        let all = self.parts.iter().flat_map(|part| part.heights);
        all.fold(None, |reach, height| {
            let [low, high] = reach.unwrap_or([height; 2]);
            Some([height.min(low), height.max(high)])
        })
    }

    /// Over how much of the cut it is.
    pub fn covered(&self) -> f64 {
        covered(self.parts.iter().map(|part| part.offsets))
    }

    /// The areas between it, as the reference, and a surveyed surface in the same cut.
    ///
    /// Both are straight between the corners of either; each such part is split where the difference is zero, and integrated:
    /// no sampling.
    pub fn areas(&self, surveyed: &SectionLine, cut: &Cut) -> SectionAreas {
        let mut sums = Sums::default();
        let (own, other) = (&self.parts, &surveyed.parts);
        self.together(surveyed, |offsets, own, other| {
            sums.take(offsets, [other[0] - own[0], other[1] - own[1]]);
        });
        // Rounding leaves a little where there is nothing.
        let least = 1e-9 * cut.width();
        let compared = sums.compared.value();
        if compared <= least {
            sums = Sums::default();
        }
        let [reference_only, surveyed_only] =
            [own, other].map(|parts| covered(parts.iter().map(|part| part.offsets)) - compared);
        let neither = cut.width() - compared - reference_only - surveyed_only;
        let width = |width: f64| if width > least { width } else { 0.0 };
        SectionAreas {
            cut: sums.cut.told(-1.0),
            fill: sums.fill.told(1.0),
            compared: width(compared),
            reference_only: width(reference_only),
            surveyed_only: width(surveyed_only),
            neither: width(neither),
        }
    }
}

impl SectionLine {
    /// Visits the stretches over which both this line and another one are straight: their offsets, and the heights of each.
    pub(super) fn together(
        &self,
        other: &SectionLine,
        mut visit: impl FnMut([f64; 2], [f64; 2], [f64; 2]),
    ) {
        let (mut i, mut j) = (0, 0);
        // What is passed is not visited again where a surface lies over itself.
        let mut passed = f64::NEG_INFINITY;
        while let (Some(a), Some(b)) = (self.parts.get(i), other.parts.get(j)) {
            let from = a.offsets[0].max(b.offsets[0]).max(passed);
            let to = a.offsets[1].min(b.offsets[1]);
            if to > from {
                let heights = |part: &SectionPart| [part.height(from), part.height(to)];
                visit([from, to], heights(a), heights(b));
                passed = to;
            }
            match a.offsets[1] <= b.offsets[1] {
                true => i += 1,
                false => j += 1,
            }
        }
    }
}

/// True where a part goes on straight in the next one.
fn goes_on(before: &SectionPart, next: &SectionPart, same: f64) -> bool {
    let meet = (next.offsets[0] - before.offsets[1]).abs() <= same
        && (next.heights[0] - before.heights[1]).abs() <= same;
    // Joined, the line runs straight from the start of the first to the end of the second.
    let length = next.offsets[1] - before.offsets[0];
    let bend = (next.slope() - before.slope()).abs() * length;
    meet && bend <= same
}

/// The width that stretches cover, rising by their starts; once where they lie over each other.
fn covered(stretches: impl Iterator<Item = [f64; 2]>) -> f64 {
    let mut width = Sum::default();
    let mut passed = f64::NEG_INFINITY;
    for [from, to] in stretches {
        let from = from.max(passed);
        if to > from {
            width += to - from;
            passed = to;
        }
    }
    width.value()
}

/// Areas and moments on the way.
#[derive(Default)]
struct Sums {
    cut: AreaSums,
    fill: AreaSums,
    compared: Sum,
}

#[derive(Default)]
struct AreaSums {
    area: Sum,
    moment: Sum,
}

impl AreaSums {
    /// Takes the area below a straight line from one difference to another.
    fn take(&mut self, [from, to]: [f64; 2], [start, end]: [f64; 2]) {
        let width = to - from;
        let area = width * (start + end) / 2.0;
        self.area += area;
        self.moment += from * area + width * width * (start / 6.0 + end / 3.0);
    }

    fn told(&self, sign: f64) -> SectionArea {
        SectionArea {
            area: (sign * self.area.value()).max(0.0),
            moment: sign * self.moment.value(),
        }
    }
}

impl Sums {
    fn take(&mut self, [from, to]: [f64; 2], [start, end]: [f64; 2]) {
        self.compared += to - from;
        let mut side = |between: [f64; 2], differences: [f64; 2]| match differences[0]
            + differences[1]
            > 0.0
        {
            true => self.fill.take(between, differences),
            false => self.cut.take(between, differences),
        };
        if start * end < 0.0 {
            let crossing = from + (to - from) * (start / (start - end));
            side([from, crossing], [start, 0.0]);
            side([crossing, to], [0.0, end]);
        } else {
            side([from, to], [start, end]);
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::alignment::{Alignment, Chainage, Element};
    use crate::overlay::Overlay;
    use crate::plan::Frame;
    use crate::quantities::{Tolerance, volumes};
    use crate::surface::{Level, Surface, Tin, Vertex};
    use crate::units::LengthUnit;
    use crate::zones::{Zone, Zones};
    use proptest::prelude::*;

    fn frame() -> Frame {
        Frame::new(LengthUnit::Metre, [0.0, 0.0])
    }

    fn line(corners: &[[f64; 2]]) -> SectionLine {
        let parts = corners.windows(2).map(|pair| SectionPart {
            offsets: [pair[0][0], pair[1][0]],
            heights: [pair[0][1], pair[1][1]],
        });
        SectionLine {
            parts: parts
                .filter(|part| part.offsets[1] > part.offsets[0])
                .collect(),
        }
    }

    fn cut(left: f64, right: f64) -> Cut {
        let course = Course {
            place: Place::new(0.0, 0.0),
            direction: 0.0,
        };
        Cut {
            course,
            spans: vec![[left, right]],
        }
    }

    #[test]
    fn areas_and_moments_of_a_bank_with_a_ditch() {
        // A bank 4 wide at the top and 2 high, slopes of 1:2; to its right a ditch 1 deep with upright walls.
        let ground = line(&[[-10.0, 0.0], [10.0, 0.0]]);
        let built = line(&[
            [-10.0, 0.0],
            [-6.0, 0.0],
            [-2.0, 2.0],
            [2.0, 2.0],
            [6.0, 0.0],
            [7.0, 0.0],
            [7.0, -1.0],
            [9.0, -1.0],
            [9.0, 0.0],
            [10.0, 0.0],
        ]);
        let areas = ground.areas(&built, &cut(-10.0, 10.0));
        assert_eq!((areas.fill.area, areas.cut.area), (16.0, 2.0));
        assert!(areas.fill.moment.abs() < 1e-12 && (areas.cut.moment - 16.0).abs() < 1e-12);
        assert_eq!((areas.compared, areas.neither), (20.0, 0.0));
        // The other way round cut and fill change places.
        let back = built.areas(&ground, &cut(-10.0, 10.0));
        assert_eq!((back.cut, back.fill), (areas.fill, areas.cut));
        // A difference that changes its sign within a part: a triangle on each side.
        let tilted = line(&[[-3.0, -1.0], [6.0, 2.0]]);
        let areas = ground.areas(&tilted, &cut(-3.0, 6.0));
        assert!((areas.cut.area - 1.5).abs() < 1e-12 && (areas.fill.area - 6.0).abs() < 1e-12);
        // Their middles lie a third of the way in from the deep ends.
        assert!(
            (areas.cut.moment + 1.5 * 2.0).abs() < 1e-12
                && (areas.fill.moment - 6.0 * 4.0).abs() < 1e-12
        );
    }

    #[test]
    fn where_a_surface_ends_is_told() {
        let ground = line(&[[-5.0, 1.0], [5.0, 1.0]]);
        let mut short = line(&[[-2.0, 3.0], [1.0, 3.0]]);
        short.parts.extend(line(&[[4.0, 3.0], [6.0, 3.0]]).parts);
        let cut = cut(-6.0, 6.0);
        let areas = ground.areas(&short, &cut);
        assert_eq!((areas.fill.area, areas.compared), (8.0, 4.0));
        assert_eq!(
            (areas.reference_only, areas.surveyed_only, areas.neither),
            (6.0, 1.0, 1.0)
        );
        assert_eq!(short.missing(&cut), [4.0, 3.0]);
        assert_eq!(ground.missing(&cut), [1.0, 1.0]);
        assert_eq!(short.runs(1e-9).len(), 2);
        assert_eq!((short.height(0.0), short.height(2.0)), (Some(3.0), None));
        // Straight parts that go on in each other are one.
        let joined = line(&[[0.0, 0.0], [1.0, 1.0], [3.0, 3.0], [4.0, 3.0]]).joined(1e-9);
        assert_eq!(
            joined.runs(1e-9),
            [vec![[0.0, 0.0], [3.0, 3.0], [4.0, 3.0]]]
        );
        // A step stays upright.
        let step = line(&[[0.0, 0.0], [1.0, 0.0], [1.0, 2.0], [2.0, 2.0]]);
        assert_eq!(
            step.joined(1e-9).runs(1e-9),
            [vec![[0.0, 0.0], [1.0, 0.0], [1.0, 2.0], [2.0, 2.0]]]
        );
        assert_eq!(step.heights(), Some([0.0, 2.0]));
    }

    /// A surface that is the same all along a straight line: heights by offset, over a length, in some direction.
    fn prism(corners: &[[f64; 2]], direction: f64, length: f64) -> Surface {
        let course = |along: f64| Course {
            place: Place::new(along * direction.cos(), along * direction.sin()),
            direction,
        };
        let (start, end) = (course(-5.0), course(length + 5.0));
        let mut vertices = Vec::new();
        for [offset, height] in corners {
            for course in [start, end] {
                let at = course.offset(*offset);
                vertices.push(Vertex::new(at.east, at.north, *height));
            }
        }
        let strips = 0..u32::try_from(corners.len() - 1).unwrap();
        let facets = strips.flat_map(|strip| {
            let first = 2 * strip;
            [[first, first + 2, first + 3], [first, first + 3, first + 1]]
        });
        Surface::Tin(Tin::from_facets(frame(), vertices, facets.collect()).unwrap())
    }

    fn profile() -> impl Strategy<Value = Vec<[f64; 2]>> {
        let steps = prop::collection::vec((0.4..3.0f64, -2.0..2.0f64), 8..16);
        steps.prop_map(|steps| {
            let mut offset = -8.0;
            let corners = steps.into_iter().map(|(step, height)| {
                let corner = [offset, height];
                offset += step;
                corner
            });
            corners.collect()
        })
    }

    proptest! {
        #![proptest_config(ProptestConfig::with_cases(64))]

        /// Second method: of surfaces that are the same all along a line the volume of the overlay over a strip is the area of
        /// any section times its length. A part in a billion of the volume and of a strip as high as wide: cancellation.
        #[test]
        fn the_area_of_a_prism_is_its_volume_by_length(ground in profile(), built in profile(), direction in 0.1..6.2f64, length in 5.0..40.0f64, width in 2.0..7.0f64) {
            let [one, other] = [&ground, &built].map(|corners| prism(corners, direction, length));
            let end = Place::new(length * direction.cos(), length * direction.sin());
            let line = Alignment::new("line", vec![Element::straight(Place::new(0.0, 0.0), end)], Chainage::from(0.0), None);
            let ring = line.strip([0.0, length], [-width, width], 0.001);
            let zones = Zones::new(frame(), vec![Zone::new("strip", frame(), vec![vec![ring]]).unwrap()]);
            let Ok(overlay) = Overlay::new(&one, &other, Some(&zones)) else { return Ok(()) };
            let measured = volumes(&overlay, &[Tolerance::ZERO]).unwrap()[0][0];
            let indexes = [FacetIndex::of(&one), FacetIndex::of(&other)];
            for share in [0.0, 0.37, 1.0] {
                let cut = Cut { course: line.at(share * line.length()).unwrap(), spans: vec![[-width, width]] };
                let lines = &cut_through(&indexes, std::slice::from_ref(&cut))[0];
                let areas = lines[0].areas(&lines[1], &cut);
                let near = |area: f64, volume: f64| (area * length - volume).abs() < 1e-9 * (volume + width * length);
                prop_assert!(near(areas.cut.area, measured.volume.cut), "{} {}", areas.cut.area * length, measured.volume.cut);
                prop_assert!(near(areas.fill.area, measured.volume.fill));
                prop_assert!(near(areas.compared, measured.area.compared));
            }
        }

        /// Swapped, shifted and split, areas and moments follow.
        #[test]
        fn areas_follow_what_is_done_to_the_lines(ground in profile(), built in profile(), by in -50.0..50.0f64, up in -5.0..5.0f64, share in 0.1..0.9f64) {
            let shifted = |corners: &[[f64; 2]]| line(&corners.iter().map(|[o, h]| [o + by, h + up]).collect::<Vec<_>>());
            let whole = cut(-8.0, 20.0);
            let areas = line(&ground).areas(&line(&built), &whole);
            let swapped = line(&built).areas(&line(&ground), &whole);
            let same = |a: f64, b: f64| (a - b).abs() < 1e-9;
            prop_assert!(same(areas.cut.area, swapped.fill.area) && same(areas.fill.moment, swapped.cut.moment));
            let moved = shifted(&ground).areas(&shifted(&built), &cut(-8.0 + by, 20.0 + by));
            prop_assert!(same(moved.fill.area, areas.fill.area));
            prop_assert!(same(moved.fill.moment, areas.fill.moment + by * areas.fill.area));
            // Surfaces cut in two parts hold in both what they hold in one.
            let at = -8.0 + share * 10.0;
            let parts = [[-8.0, at], [at, 20.0]].map(|[from, to]| {
                let clip = |corners: &[[f64; 2]]| SectionLine {
                    parts: line(corners).parts.iter().filter_map(|part| {
                        let offsets = part.offsets.map(|offset| offset.clamp(from, to));
                        (offsets[1] > offsets[0]).then(|| SectionPart { offsets, heights: offsets.map(|o| part.height(o)) })
                    }).collect(),
                };
                clip(&ground).areas(&clip(&built), &cut(from, to))
            });
            prop_assert!(same(parts[0].cut.area + parts[1].cut.area, areas.cut.area));
            prop_assert!(same(parts[0].fill.moment + parts[1].fill.moment, areas.fill.moment));
        }
    }

    #[test]
    fn levels_are_cut_too() {
        let surface = Surface::Level(Level::new(frame(), 4.0));
        let found = cut(-3.0, 2.0).through(&FacetIndex::of(&surface));
        assert_eq!(found.runs(1e-9), [vec![[-3.0, 4.0], [2.0, 4.0]]]);
    }
}
