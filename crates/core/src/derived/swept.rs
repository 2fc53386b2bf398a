//! A typical section carried along a line with heights.

use std::collections::HashSet;

use super::top::{Ends, Top};
use crate::alignment::{Alignment, ByDistance};
use crate::plan::{Frame, cross};
use crate::surface::outline::unshared;
use crate::surface::{Tin, Vertex};

/// What is built across a line: breaks from the line outwards, on its left and on its right.
#[derive(Debug, Clone, PartialEq)]
pub struct TypicalSection {
    /// On the left, from the line outwards.
    pub left: Vec<SectionBreak>,
    /// On the right, from the line outwards.
    pub right: Vec<SectionBreak>,
}

/// A break of a typical section.
#[derive(Debug, Clone, PartialEq)]
pub struct SectionBreak {
    /// How far out it is.
    pub across: Across,
    /// How high it is.
    pub height: BreakHeight,
}

/// How far out a break is.
#[derive(Debug, Clone, PartialEq)]
pub enum Across {
    /// From the line.
    Offset(ByDistance),
    /// From the break before it.
    Width(ByDistance),
}

/// How high a break is.
#[derive(Debug, Clone, PartialEq)]
pub enum BreakHeight {
    /// Above the line.
    AboveLine(ByDistance),
    /// Below the break before it.
    Drop(ByDistance),
    /// Falling outwards from the break before it, by this for a unit of width.
    Fall(ByDistance),
}

/// Why a typical section makes no surface. Distances are from the start of the line.
#[derive(Debug, Clone, PartialEq, thiserror::Error)]
#[non_exhaustive]
pub enum SweptError {
    /// The section has no width anywhere.
    #[error("the section has no width")]
    NoWidth,
    /// The line has no heights there.
    #[error("the line has no height at {distance:.3} from its start")]
    NoHeight {
        /// Where.
        distance: f64,
    },
    /// A break is nearer to the line than the one before it.
    #[error(
        "break {number} is nearer to the line than the one before it at {distance:.3} from its start"
    )]
    Inwards {
        /// Which one, counted from the line outwards.
        number: usize,
        /// Where.
        distance: f64,
    },
    /// The outermost break stands under or over the one before it: no slope can start there.
    #[error(
        "the outermost break has a height and no width at {distance:.3} from the start of the line"
    )]
    UprightEdge {
        /// Where.
        distance: f64,
    },
    /// The line bends so sharply that sections cross.
    #[error(
        "the line bends too sharply for the width of the section at {distance:.3} from its start"
    )]
    Sharp {
        /// Where.
        distance: f64,
    },
    /// The line ends where it starts, and the section does not.
    #[error("the closed line has two heights or widths where it closes, {apart:.3} apart")]
    NotItselfAgain {
        /// How far apart they are.
        apart: f64,
    },
    /// More sections than a surface can be made of.
    #[error("the line needs {count} sections to keep to the chord tolerance")]
    TooMany {
        /// How many.
        count: usize,
    },
}

/// Breaks of all sections at most.
const MOST: usize = 2_000_000;

impl TypicalSection {
    /// The same in another unit; falls are the same in each.
    #[must_use]
    pub fn scaled(&self, scale: impl Fn(f64) -> f64) -> Self {
        let both = |given: &ByDistance| given.mapped(|[at, value]| [scale(at), scale(value)]);
        let by_distance = |given: &ByDistance| given.mapped(|[at, value]| [scale(at), value]);
        let one = |own: &SectionBreak| SectionBreak {
            across: match &own.across {
                Across::Offset(given) => Across::Offset(both(given)),
                Across::Width(given) => Across::Width(both(given)),
            },
            height: match &own.height {
                BreakHeight::AboveLine(given) => BreakHeight::AboveLine(both(given)),
                BreakHeight::Drop(given) => BreakHeight::Drop(both(given)),
                BreakHeight::Fall(given) => BreakHeight::Fall(by_distance(given)),
            },
        };
        TypicalSection {
            left: self.left.iter().map(one).collect(),
            right: self.right.iter().map(one).collect(),
        }
    }

    fn breaks(&self) -> impl Iterator<Item = &SectionBreak> {
        self.left.iter().chain(&self.right)
    }

    /// No break is farther out than this.
    fn reach(&self) -> f64 {
        let side = |breaks: &[SectionBreak]| {
            breaks
                .iter()
                .fold(0.0, |reach: f64, own| match &own.across {
                    Across::Offset(given) => reach.max(given.greatest()),
                    Across::Width(given) => reach + given.greatest(),
                })
        };
        side(&self.left).max(side(&self.right))
    }

    /// The distances at which a figure of it is given.
    fn distances(&self) -> Vec<f64> {
        let figures = self.breaks().flat_map(|own| {
            let (Across::Offset(across) | Across::Width(across)) = &own.across;
            let (BreakHeight::AboveLine(height)
            | BreakHeight::Drop(height)
            | BreakHeight::Fall(height)) = &own.height;
            [across, height]
        });
        figures.flat_map(ByDistance::distances).collect()
    }
}

/// A break where it is in one section: how far out, and how far above the line.
type Placed = [f64; 2];

/// The breaks of one side at a distance.
fn placed(breaks: &[SectionBreak], distance: f64) -> Result<Vec<Placed>, SweptError> {
    let mut made: Vec<Placed> = Vec::with_capacity(breaks.len());
    for (index, own) in breaks.iter().enumerate() {
        let [before, height] = made.last().copied().unwrap_or_default();
        let offset = match &own.across {
            Across::Offset(given) => given.at(distance),
            Across::Width(given) => before + given.at(distance),
        };
        if offset < before {
            return Err(SweptError::Inwards {
                number: index + 1,
                distance,
            });
        }
        let height = match &own.height {
            BreakHeight::AboveLine(given) => given.at(distance),
            BreakHeight::Drop(given) => height - given.at(distance),
            BreakHeight::Fall(given) => height - given.at(distance) * (offset - before),
        };
        made.push([offset, height]);
    }
    match made.as_slice() {
        [.., [before, low], [last, high]] if before == last && low != high => {
            Err(SweptError::UprightEdge { distance })
        }
        [[offset, height]] if *offset == 0.0 && *height != 0.0 => {
            Err(SweptError::UprightEdge { distance })
        }
        _ => Ok(made),
    }
}

/// Where sections are set up so that chords keep to the line, its heights and the figures of the section; no two of them within `near`.
fn stops(
    line: &Alignment,
    section: &TypicalSection,
    between: [f64; 2],
    chord: f64,
    near: f64,
) -> Vec<f64> {
    let [from, to] = between;
    let of_line = line.stops(between, section.reach(), chord);
    let mut stops = section.distances();
    for piece in line.profile().iter().flat_map(|profile| profile.pieces()) {
        let [start, end] = piece.between;
        let bend = (piece.grades[1] - piece.grades[0]).abs();
        // A chord of a parabola stands bend / length * step² / 8 from it; a circle is as close to one as its grades are small.
        let step = (8.0 * chord * (end - start) / bend).sqrt();
        let parts = ((end - start) / step).ceil().clamp(1.0, 1e5);
        stops
            .extend((0..=parts as u32).map(|part| start + (end - start) * f64::from(part) / parts));
    }
    stops.retain(|&at| from <= at && at <= to);
    // Those of the line hold, to the bit: bends are found by them.
    let of_line = of_line.into_iter().map(|at| (at, true));
    let mut all: Vec<(f64, bool)> = of_line
        .chain(stops.into_iter().map(|at| (at, false)))
        .collect();
    all.sort_by(|a, b| a.0.total_cmp(&b.0));
    all.dedup_by(|next, before| {
        let is_same = next.0 - before.0 <= near;
        if is_same && next.1 && !before.1 {
            *before = *next;
        }
        is_same
    });
    all.into_iter().map(|(at, _)| at).collect()
}

impl Top {
    /// A typical section carried along a line with heights, from one distance to another, in a local frame.
    ///
    /// Between two sections each part is a strip of two facets. Sections stand so close that chords are no farther than `chord` from
    /// curves, in plan and in height, and wherever a figure of the section is given or the line bends; there they stand on the line
    /// that halves the angle. A break that stands over the one before it is an upright face. A line that ends where it starts is
    /// closed. Side slopes start from the outermost breaks, and from both ends where they slope.
    ///
    /// # Errors
    ///
    /// When the line has no heights there, breaks go inwards, or the line bends too sharply.
    pub fn swept(
        frame: Frame,
        line: &Alignment,
        section: &TypicalSection,
        between: [f64; 2],
        ends: Ends,
        chord: f64,
    ) -> Result<Self, SweptError> {
        let precision = frame.precision();
        let near = precision.written();
        let distances = stops(line, section, between, chord, near);
        let across = 1 + section.left.len() + section.right.len();
        if distances.len().saturating_mul(across) > MOST {
            return Err(SweptError::TooMany {
                count: distances.len(),
            });
        }
        let is_whole = between[0] <= 0.0 && between[1] >= line.length();
        let apart = |a: Vertex, b: Vertex| {
            libm::hypot(b.east - a.east, b.north - a.north).max((b.height - a.height).abs())
        };
        let ends_meet = || {
            let (first, last) = (line.at(0.0)?.place, line.at(line.length())?.place);
            Some(libm::hypot(last.east - first.east, last.north - first.north) <= near)
        };
        let closed = is_whole && distances.len() > 3 && ends_meet().unwrap_or(false);
        let bends = line.bends();
        let mut rows: Vec<Vec<Vertex>> = Vec::with_capacity(distances.len());
        for (index, &distance) in distances.iter().enumerate() {
            let no_height = SweptError::NoHeight { distance };
            let height = line.height(distance, near).ok_or(no_height.clone())?;
            let mitred = match closed && (index == 0 || index + 1 == distances.len()) {
                // Both ends stand on the line that halves the angle between them.
                true => line.closing(),
                false => line.mitred(distance, &bends),
            };
            let mitred = mitred.ok_or(no_height)?;
            let [left, right] = [
                placed(&section.left, distance)?,
                placed(&section.right, distance)?,
            ];
            let vertex = |[offset, rise]: Placed| {
                let at = mitred.offset(offset);
                let at = frame.to_local(at.east, at.north);
                Vertex::new(at.east, at.north, height + rise)
            };
            let lefts = left.iter().rev().map(|&[offset, rise]| [-offset, rise]);
            let rights = right.iter().copied();
            let across = lefts.chain([[0.0, 0.0]]).chain(rights);
            rows.push(across.map(vertex).collect());
        }
        if closed && let (Some(first), Some(last)) = (rows.first(), rows.last()) {
            let steps = first.iter().zip(last).map(|(a, b)| apart(*a, *b));
            let apart = steps.fold(0.0, f64::max);
            if apart > near {
                return Err(SweptError::NotItselfAgain { apart });
            }
            rows.pop();
        }
        strips(frame, &rows, &distances, closed, ends)
    }
}

/// The facets between sections, and the edges that slopes do not start from.
fn strips(
    frame: Frame,
    rows: &[Vec<Vertex>],
    distances: &[f64],
    closed: bool,
    ends: Ends,
) -> Result<Top, SweptError> {
    let mut vertices: Vec<Vertex> = Vec::new();
    let mut columns: Vec<Vec<u32>> = Vec::with_capacity(rows.len());
    for row in rows {
        let mut own = Vec::with_capacity(row.len());
        for (column, &vertex) in row.iter().enumerate() {
            // Breaks without a width or height between them are one.
            if column == 0 || vertices.last() != Some(&vertex) {
                vertices.push(vertex);
            }
            own.push((vertices.len() - 1) as u32);
        }
        columns.push(own);
    }
    let mut facets: Vec<[u32; 3]> = Vec::new();
    let mut rim: HashSet<[u32; 2]> = HashSet::new();
    let mut sloping = |a: u32, b: u32| {
        rim.insert([a, b]);
        rim.insert([b, a]);
    };
    let stretches = if closed {
        rows.len()
    } else {
        rows.len().saturating_sub(1)
    };
    for stretch in 0..stretches {
        let (here, next) = (&columns[stretch], &columns[(stretch + 1) % columns.len()]);
        for (pair, beyond) in here.windows(2).zip(next.windows(2)) {
            let ([left, right], [next_left, next_right]) =
                ([pair[0], pair[1]], [beyond[0], beyond[1]]);
            for facet in [[left, right, next_left], [right, next_right, next_left]] {
                let [a, b, c] = facet.map(|at| vertices[at as usize].place());
                // Upright, or nothing: breaks at one place.
                if a == b || b == c || c == a {
                    continue;
                }
                if cross(a, b, c) <= 0.0 {
                    return Err(SweptError::Sharp {
                        distance: distances[stretch],
                    });
                }
                facets.push(facet);
            }
        }
        for side in [(here.first(), next.first()), (here.last(), next.last())] {
            if let (Some(&a), Some(&b)) = side {
                sloping(a, b);
            }
        }
    }
    if !closed && ends == Ends::Sloping {
        for row in [columns.first(), columns.last()].into_iter().flatten() {
            row.windows(2).for_each(|pair| sloping(pair[0], pair[1]));
        }
    }
    let surface = Tin::of_local(frame, vertices, facets).map_err(|_| SweptError::NoWidth)?;
    let edges = unshared(&surface).into_iter();
    let upright = edges.filter(|edge| !rim.contains(edge)).collect();
    Ok(Top::of(surface, upright))
}
