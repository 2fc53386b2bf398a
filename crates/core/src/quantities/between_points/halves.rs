//! The surface between half of its points: what a survey of half the density would have made of the same ground.

use rustc_hash::{FxHashMap, FxHashSet};

use crate::plan::Place;
use crate::plan::curve::position;
use crate::points::{Line, LineKind, PickUp, Rules, triangulate};
use crate::quantities::level_area::sorted_parts;
use crate::surface::neighbours::bits;
use crate::surface::{Tin, Vertex};
use crate::zones::twice_area;

/// The points of a surface in pairs of neighbours, one of which is left out in turn.
///
/// Points along the outline stay, so that the surface ends where it did; so do points that have no other to pair with. Points of breaklines are paired along
/// their line, which stays a line; the others along a curve that fills the plane.
#[derive(Debug)]
pub(super) struct HalfOfPoints<'t> {
    tin: &'t Tin,
    pairs: Vec<[u32; 2]>,
    lines: Vec<Line>,
}

/// Fewer pairs than this say nothing of how a surface is between its points.
const FEW: usize = 8;

impl<'t> HalfOfPoints<'t> {
    /// Of a surface that was made from points and breaklines, in local coordinates. None where it has few points, or lies in several parts.
    pub(super) fn of(tin: &'t Tin, breaklines: &[Vec<Place>]) -> Option<Self> {
        let mut numbers: FxHashMap<[u64; 2], u32> = FxHashMap::default();
        let mut stays: FxHashSet<u32> = FxHashSet::default();
        for (number, vertex) in (0u32..).zip(tin.vertices()) {
            // Two heights at one place are a step.
            if let Some(other) = numbers.insert(bits(vertex.place()), number) {
                stays.extend([number, other]);
            }
        }
        let parts = sorted_parts(tin);
        let [part] = &parts[..] else {
            return None;
        };
        let mut lines = Vec::new();
        for ring in part {
            let points: Option<Vec<u32>> = ring
                .iter()
                .map(|at| numbers.get(&bits(*at)).copied())
                .collect();
            let points = points?;
            stays.extend(&points);
            let kind = match twice_area(ring) < 0.0 {
                true => LineKind::Hole,
                false => LineKind::Edge,
            };
            lines.push(Line { kind, points });
        }
        let mut along: Vec<u32> = Vec::new();
        for line in breaklines {
            let points = line
                .iter()
                .filter_map(|at| numbers.get(&bits(*at)).copied());
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
        (pairs.len() >= FEW).then_some(HalfOfPoints { tin, pairs, lines })
    }

    /// The surface without one point of each pair, chosen by chance from the number of the split; with the others left out in place of them where
    /// `others` is set. None where no surface can be made of what is left.
    pub(super) fn surface(&self, split: u32, others: bool) -> Option<Tin> {
        let vertices = self.tin.vertices();
        let mut kept = vec![true; vertices.len()];
        for (pair, points) in (0u64..).zip(&self.pairs) {
            let first = chance(u64::from(split) << 40 | pair) != others;
            kept[points[usize::from(first)] as usize] = false;
        }
        let mut numbers = vec![u32::MAX; vertices.len()];
        let mut points = Vec::new();
        let frame = self.tin.frame();
        for ((vertex, number), _) in vertices
            .iter()
            .zip(&mut numbers)
            .zip(&kept)
            .filter(|(_, kept)| **kept)
        {
            *number = points.len() as u32;
            let at = frame.to_grid(vertex.place());
            points.push(Vertex::new(at.east, at.north, vertex.height));
        }
        let lines = self.lines.iter().map(|line| Line {
            kind: line.kind,
            points: (line.points.iter())
                .map(|&point| numbers[point as usize])
                .filter(|&number| number != u32::MAX)
                .collect(),
        });
        let lines = lines.filter(|line| line.points.len() > 1).collect();
        let made = triangulate(frame, &PickUp { points, lines }, &Rules::default());
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
