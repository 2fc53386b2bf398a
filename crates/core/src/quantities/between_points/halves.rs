//! The surface between half of its points: what a survey of half the density would have made of the same ground.

use rustc_hash::FxHashSet;

use crate::plan::Place;
use crate::plan::curve::position;
use crate::points::outline_lines::Outlined;
use crate::points::{Line, LineKind, PickUp, Rules, triangulate};
use crate::surface::Tin;

/// The points of a surface in pairs of neighbours, one of which is left out in turn.
///
/// Points along the outline stay, so that the surface ends where it did; so do points that have no other to pair with. Points of breaklines are paired along
/// their line, which stays a line; the others along a curve that fills the plane.
#[derive(Debug)]
pub(super) struct HalfOfPoints<'t> {
    tin: &'t Tin,
    pairs: Vec<[u32; 2]>,
    /// All of the points, and the lines that stay.
    whole: PickUp,
}

/// Fewer pairs than this say nothing of how a surface is between its points.
const FEW: usize = 8;

impl<'t> HalfOfPoints<'t> {
    /// Of a surface that was made from points and breaklines, in local coordinates. None where it has few points, or lies in several parts.
    pub(super) fn of(tin: &'t Tin, breaklines: &[Vec<Place>]) -> Option<Self> {
        let outlined = Outlined::of(tin)?;
        let mut stays: FxHashSet<u32> = FxHashSet::default();
        for (number, vertex) in (0u32..).zip(tin.vertices()) {
            // Two heights at one place are a step.
            match outlined.number(vertex.place()) {
                Some(other) if other != number => stays.extend([number, other]),
                _ => {}
            }
        }
        let outline = &outlined.pick_up.lines;
        stays.extend(outline.iter().flat_map(|line| &line.points));
        let mut lines = Vec::new();
        let mut along: Vec<u32> = Vec::new();
        for line in breaklines {
            let points = line.iter().filter_map(|&at| outlined.number(at));
            let points: Vec<u32> = points.collect();
            // The ends of a line are where they are for a reason.
            if let [first, .., last] = points[..] {
                stays.extend([first, last]);
            }
            along.extend(&points);
            let kind = LineKind::Breakline;
            lines.push(Line { kind, points });
        }
        let mut done = stays;
        let mut free = |number: &u32| done.insert(*number);
        let along: Vec<u32> = along.into_iter().filter(&mut free).collect();
        let all = 0..tin.vertices().len() as u32;
        let mut others: Vec<u32> = all.filter(&mut free).collect();
        let extent = tin.extent();
        let at = |number: u32| tin.vertices()[number as usize].place();
        others.sort_by_cached_key(|&number| position(at(number), &extent));
        let pairs = [along, others];
        let pairs = pairs.iter().flat_map(|points| points.as_chunks::<2>().0);
        let pairs: Vec<[u32; 2]> = pairs.copied().collect();
        let PickUp {
            points,
            lines: mut all,
        } = outlined.pick_up;
        all.append(&mut lines);
        let whole = PickUp { points, lines: all };
        (pairs.len() >= FEW).then_some(HalfOfPoints { tin, pairs, whole })
    }

    /// The surface without one point of each pair, chosen by chance from the number of the split; with the others left out in place of them where
    /// `others` is set. None where no surface can be made of what is left.
    pub(super) fn surface(&self, split: u32, others: bool) -> Option<Tin> {
        let mut kept = vec![true; self.whole.points.len()];
        for (pair, points) in (0u64..).zip(&self.pairs) {
            let first = chance(u64::from(split) << 40 | pair) != others;
            kept[points[usize::from(first)] as usize] = false;
        }
        // The number of each point among those that are kept, as far as it is one of them.
        let mut count = 0;
        let numbers = kept.iter().map(|&kept| {
            count += u32::from(kept);
            kept.then_some(count.wrapping_sub(1))
        });
        let numbers: Vec<Option<u32>> = numbers.collect();
        let points = self.whole.points.iter().zip(&kept);
        let points = points.filter(|(_, kept)| **kept).map(|(point, _)| *point);
        let lines = self.whole.lines.iter().map(|line| Line {
            kind: line.kind,
            points: (line.points.iter())
                .filter_map(|&point| numbers[point as usize])
                .collect(),
        });
        let half = PickUp {
            points: points.collect(),
            lines: lines.filter(|line| line.points.len() > 1).collect(),
        };
        let made = triangulate(self.tin.frame(), &half, &Rules::default());
        made.ok().map(|made| made.tin)
    }
}

/// A bit that looks like chance: of a number mixed well (G. Steele, D. Lea, C. Flood, *Fast splittable pseudorandom number generators*, OOPSLA 2014).
fn chance(number: u64) -> bool {
    let mut mixed = number.wrapping_add(0x9e37_79b9_7f4a_7c15);
    mixed = (mixed ^ (mixed >> 30)).wrapping_mul(0xbf58_476d_1ce4_e5b9);
    mixed = (mixed ^ (mixed >> 27)).wrapping_mul(0x94d0_49bb_1331_11eb);
    (mixed ^ (mixed >> 31)) & 1 == 1
}
