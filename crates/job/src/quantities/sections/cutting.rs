//! Cutting surfaces at stations.

use dapedon_core::alignment::Alignment;
use dapedon_core::plan::{Frame, Place, Precision};
use dapedon_core::quantities::{Cut, SectionArea, SectionAreas, SectionLine, cut_through};
use dapedon_core::surface::FacetIndex;
use dapedon_core::units::LengthUnit;
use dapedon_core::zones::{WithinZone, Zones};

use super::SectionsError;
use crate::input::Memory;

/// What a part of a surface in a section takes, also while it is joined and told.
const PART_BYTES: u64 = 200;
/// Beside an upright face areas are taken at this distance, in metres.
const BESIDE: f64 = 1e-4;
/// Areas beside each other that differ by less than this share are one.
const ALIKE: f64 = 1e-3;
/// An upright face is where areas change by so many times what they change over the next step.
const JUMP: f64 = 10.0;
/// Sections that are cut before it is asked what they take.
const AT_A_TIME: usize = 256;

/// A station, cut.
pub(super) struct CutSection {
    pub(super) distance: f64,
    pub(super) cut: Cut,
    /// Just before it, where a surface is upright there; at the first section just behind it.
    pub(super) areas: SectionAreas,
    /// Just behind it, where that is something else.
    pub(super) ahead: Option<SectionAreas>,
    /// All surfaces in it: the reference, the surveyed one, and the others.
    pub(super) lines: Vec<SectionLine>,
}

impl CutSection {
    /// Its left and its right end, in the coordinates of the frame; those of its reach, where it is outside all zones.
    pub(super) fn ends(&self, reach: [f64; 2]) -> [Place; 2] {
        let spans = (self.cut.spans.first(), self.cut.spans.last());
        let [left, right] = match spans {
            (Some(first), Some(last)) => [first[0], last[1]],
            _ => reach,
        };
        [self.cut.place(left), self.cut.place(right)]
    }
}

/// What is cut, and how far to each side.
pub(super) struct Cutter<'s> {
    pub(super) line: &'s Alignment,
    pub(super) frame: Frame,
    pub(super) surfaces: Vec<FacetIndex<'s>>,
    /// How far to the left and to the right; the left is negative.
    pub(super) reach: [f64; 2],
    within: Vec<WithinZone<'s>>,
}

impl<'s> Cutter<'s> {
    pub(super) fn new(
        line: &'s Alignment,
        frame: Frame,
        surfaces: Vec<FacetIndex<'s>>,
        reach: [f64; 2],
        zones: Option<&'s Zones>,
    ) -> Self {
        let zones = zones.map_or(&[][..], Zones::zones).iter();
        let precision = frame.precision();
        Cutter {
            line,
            frame,
            surfaces,
            reach,
            within: zones.map(|zone| WithinZone::of(zone, precision)).collect(),
        }
    }

    /// Cuts all surfaces at some distances, as far as memory holds their lines.
    pub(super) fn at(
        &self,
        distances: &[f64],
        memory: Memory,
    ) -> Result<Vec<CutSection>, SectionsError> {
        let most = memory.holds(PART_BYTES);
        let (mut sections, mut parts) = (Vec::new(), 0u64);
        for some in distances.chunks(AT_A_TIME) {
            let cut = self.of(some, &self.surfaces);
            let lines = cut.iter().flat_map(|section| &section.lines);
            parts += lines.map(|line| line.parts.len() as u64).sum::<u64>();
            if parts > most {
                return Err(SectionsError::TooLarge {
                    sections: distances.len(),
                    memory,
                });
            }
            sections.extend(cut);
        }
        let areas: Vec<SectionAreas> = sections.iter().map(|section| section.areas).collect();
        let both = self.both_sides(distances, &areas);
        for (number, (section, [before, behind])) in sections.iter_mut().zip(both).enumerate() {
            let own = section.areas;
            let side = if number == 0 { behind } else { before };
            section.areas = side;
            section.ahead =
                (number > 0 && number + 1 < areas.len() && behind != before).then_some(behind);
            // It is drawn as it is on that side: on the face itself the heights of both are mixed.
            let step = if number == 0 {
                self.step()
            } else {
                -self.step()
            };
            if side != own
                && let Some(beside) = self.of(&[section.distance + step], &self.surfaces).pop()
            {
                section.lines = beside.lines;
            }
        }
        Ok(sections)
    }

    /// How far beside an upright face areas are taken: farther than rounding, and no distance that matters.
    fn step(&self) -> f64 {
        LengthUnit::Metre.convert(BESIDE, self.frame.unit())
    }

    /// The areas at some distances, just before and just behind each: two different ones where a surface is upright across the section, or
    /// ends there.
    pub(super) fn ends_at(&self, distances: &[f64]) -> Vec<[SectionAreas; 2]> {
        self.both_sides(distances, &self.areas_at(distances))
    }

    fn both_sides(&self, distances: &[f64], areas: &[SectionAreas]) -> Vec<[SectionAreas; 2]> {
        let step = self.step();
        let length = self.line.length();
        let bends: Vec<f64> = self.line.bends().iter().map(|bend| bend.distance).collect();
        let mut both: Vec<[SectionAreas; 2]> = areas.iter().map(|own| [*own; 2]).collect();
        for (side, step) in [-step, step].into_iter().enumerate() {
            let on_line = |at: &f64| (0.0..=length).contains(&(at + 2.0 * step));
            // At a bend a section is square to the line ahead, and one before it would be turned.
            let is_turned =
                |at: &f64| step < 0.0 && bends.iter().any(|bend| (bend - at).abs() <= -step);
            let asked: Vec<usize> = (0..distances.len().min(areas.len()))
                .filter(|&number| on_line(&distances[number]) && !is_turned(&distances[number]))
                .collect();
            let beside = |numbers: &[usize], times: f64| {
                let at = numbers
                    .iter()
                    .map(|&number| distances[number] + times * step);
                self.areas_at(&at.collect::<Vec<f64>>())
            };
            let near = beside(&asked, 1.0);
            // Most are as they are on the face itself.
            let differ: Vec<(usize, SectionAreas)> = (asked.into_iter().zip(near))
                .filter(|(number, near)| differs(&areas[*number], near, 0.0))
                .collect();
            let numbers: Vec<usize> = differ.iter().map(|(number, _)| *number).collect();
            let farther = beside(&numbers, 2.0);
            for ((number, near), farther) in differ.into_iter().zip(farther) {
                let grows = change(&near, &farther);
                if differs(&areas[number], &near, JUMP * grows) {
                    both[number][side] = on_the_face(&areas[number], &near, &farther);
                }
            }
        }
        both
    }

    /// The areas between the first two surfaces alone.
    pub(super) fn areas_at(&self, distances: &[f64]) -> Vec<SectionAreas> {
        let two = self.surfaces.get(..2).unwrap_or_default();
        let areas = |some: &[f64]| self.of(some, two).into_iter().map(|section| section.areas);
        // Their lines are not kept.
        distances.chunks(AT_A_TIME).flat_map(areas).collect()
    }

    fn of(&self, distances: &[f64], surfaces: &[FacetIndex<'s>]) -> Vec<CutSection> {
        let cut = |&distance: &f64| Some((distance, self.cut(distance)?));
        let (distances, cuts): (Vec<f64>, Vec<Cut>) = distances.iter().filter_map(cut).unzip();
        let lines = cut_through(surfaces, &cuts);
        let sections = distances.into_iter().zip(cuts).zip(lines);
        sections
            .map(|((distance, cut), lines)| {
                let areas = match lines.as_slice() {
                    [reference, surveyed, ..] => reference.areas(surveyed, &cut),
                    _ => SectionAreas::default(),
                };
                CutSection {
                    distance,
                    cut,
                    areas,
                    ahead: None,
                    lines,
                }
            })
            .collect()
    }

    /// The cut at a distance, as far as it is within the zones.
    pub(super) fn cut(&self, distance: f64) -> Option<Cut> {
        let mut course = self.line.at(distance)?;
        course.place = self.frame.to_local(course.place.east, course.place.north);
        let whole = Cut {
            course,
            spans: vec![self.reach],
        };
        if self.within.is_empty() {
            return Some(whole);
        }
        let spans = within(&whole, self.reach, &self.within, self.frame.precision());
        Some(Cut { spans, ..whole })
    }
}

/// How much cut and fill change from one section to another, both together.
fn change(one: &SectionAreas, other: &SectionAreas) -> f64 {
    (one.cut.area - other.cut.area).abs() + (one.fill.area - other.fill.area).abs()
}

/// True where areas differ by more than a share of themselves, and by more than this.
fn differs(one: &SectionAreas, other: &SectionAreas, more_than: f64) -> bool {
    let whole = |of: &SectionAreas| of.cut.area + of.fill.area;
    change(one, other) > (ALIKE * whole(one).max(whole(other))).max(more_than)
}

/// The areas on the face, from those at one step beside it and at two.
fn on_the_face(own: &SectionAreas, near: &SectionAreas, farther: &SectionAreas) -> SectionAreas {
    let area = |near: SectionArea, farther: SectionArea| SectionArea {
        area: (2.0 * near.area - farther.area).max(0.0),
        moment: 2.0 * near.moment - farther.moment,
    };
    SectionAreas {
        cut: area(near.cut, farther.cut),
        fill: area(near.fill, farther.fill),
        ..*own
    }
}

/// The stretches of a cut that are in one of some zones.
fn within(
    cut: &Cut,
    [left, right]: [f64; 2],
    zones: &[WithinZone<'_>],
    precision: Precision,
) -> Vec<[f64; 2]> {
    let (from, to) = (cut.place(left), cut.place(right));
    let mut offsets = vec![left, right];
    let along = |share: f64| left + share * (right - left);
    for ring in zones.iter().flat_map(|within| within.zone().rings()) {
        let next = ring.iter().cycle().skip(1);
        for (&one, &other) in ring.iter().zip(next) {
            offsets.extend(crossings([from, to], [one, other], precision).map(along));
        }
    }
    offsets.sort_by(f64::total_cmp);
    let mut spans: Vec<[f64; 2]> = Vec::new();
    for pair in offsets.windows(2) {
        let [start, end] = [pair[0], pair[1]];
        let middle = cut.place((start + end) / 2.0);
        if end - start <= precision.length() || !zones.iter().any(|zone| zone.holds(middle)) {
            continue;
        }
        match spans.last_mut() {
            Some(last) if start - last[1] <= precision.length() => last[1] = end,
            _ => spans.push([start, end]),
        }
    }
    spans
}

/// Where an edge meets a cut, as shares of the cut: where it crosses it, and its ends as far as they lie on it.
fn crossings(
    [from, to]: [Place; 2],
    [one, other]: [Place; 2],
    precision: Precision,
) -> impl Iterator<Item = f64> {
    let (east, north) = (to.east - from.east, to.north - from.north);
    let length = libm::hypot(east, north);
    let aside =
        |at: Place| ((at.north - from.north) * east - (at.east - from.east) * north) / length;
    let share = |at: Place| {
        ((at.east - from.east) * east + (at.north - from.north) * north) / (length * length)
    };
    let (a, b) = (aside(one), aside(other));
    let near = |aside: f64, at: Place| (aside.abs() <= precision.length()).then(|| share(at));
    let crossed = ((a < 0.0) != (b < 0.0)).then(|| {
        let along = a / (a - b);
        share(Place::new(
            one.east + along * (other.east - one.east),
            one.north + along * (other.north - one.north),
        ))
    });
    let found = [crossed, near(a, one), near(b, other)]
        .into_iter()
        .flatten();
    found.filter(|share| (0.0..=1.0).contains(share))
}
