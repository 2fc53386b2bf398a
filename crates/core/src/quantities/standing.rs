//! Ground that rises above its surroundings: piles, found without an outline.

mod calm;
mod ground;
mod toe;

use rustc_hash::{FxHashMap, FxHashSet};

use calm::calmed;
use ground::ground_below;
use toe::{outside, share};

use crate::plan::membership::holds;
use crate::plan::{Extent, Frame, Place};
use crate::quantities::SideOfLevel;
use crate::quantities::level_area::{kept, sorted_parts};
use crate::surface::Plane;
use crate::surface::neighbours::{Neighbours, bits, rim_places};
use crate::surface::{Tin, Vertex};
use crate::zones::ring_edges;
use crate::zones::{in_grid, twice_area};

/// What counts as rising above the surroundings.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct PileRules {
    /// The height by which the top is to rise above the toe.
    pub by: f64,
    /// The plan area that it is to have at least.
    pub area: f64,
    /// The steepest rise, per unit of length, that still counts as the ground around.
    pub ground_slope: f64,
}

/// Ground that rises above its surroundings.
#[derive(Debug, Clone, PartialEq)]
pub struct FoundPile {
    /// Its outline along the toe, and the holes in it, closed, in grid coordinates.
    pub rings: Vec<Vec<Place>>,
    /// By how much its top rises above the plane through its toe, or its bottom lies below it.
    pub clear: f64,
    /// Its plan area.
    pub area: f64,
    /// It reaches to where the surface ends, and so may go on.
    pub at_end: bool,
}

/// Shares of the height that is asked for: noise up to here is ground.
const LEAST_NOISE: f64 = 0.02;
/// Corners of an outline stand so many spacings of the points apart at least.
const CORNERS: f64 = 0.2;
/// Noise is this many times the middle one of what rises from the ground.
const NOISE: f64 = 3.0;

/// What rises above its surroundings, from west to east: piles above them, or pits below.
///
/// The ground around is taken to be the highest surface below this one that nowhere rises more steeply than ground
/// does: from each corner it may rise by that slope along the edges of facets, and it lies nowhere above a corner.
/// What rises from it by more than the noise of the heights is what stands on it. Its outline is drawn a little outside
/// of where that begins, less than a spacing of the points: a toe that is drawn too far in takes the foot of the pile
/// for the ground, and one that is a little far out takes ground for ground. Of holes in it those are closed whose edge
/// stands as high as the top must, or that are smaller than what is sought.
/// Where heights scatter so much that the lowest ones are no ground any more, the outline is looked for on heights that are
/// calmed over their neighbours; what is measured within it later is the surface as it is.
/// See `docs/methods.md`, "Piles without an outline".
pub fn standing(tin: &Tin, side: SideOfLevel, clear: &PileRules) -> Vec<FoundPile> {
    match side {
        SideOfLevel::Above => risen(tin, clear),
        SideOfLevel::Below => risen(
            &tin.mapped(|v| Vertex::new(v.east, v.north, -v.height)),
            clear,
        ),
    }
}

fn risen(tin: &Tin, clear: &PileRules) -> Vec<FoundPile> {
    let near = Neighbours::of(tin);
    let spacing = spacing(tin);
    let calm = calmed(tin, &near, spacing);
    let tin = calm.as_ref().unwrap_or(tin);
    let mut over = ground_below(tin, &near, clear.ground_slope);
    for (value, vertex) in over.iter_mut().zip(tin.vertices()) {
        *value = vertex.height - *value;
    }
    let noise = noise(&over, clear.by);
    let outside = outside(tin, &near, &over, noise, spacing);
    let within = |vertex: u32| outside[vertex as usize] < 0.0;
    // Where nothing rises there is nothing to be found.
    let Ok(risen) = kept(tin, within, |from, to| share(tin, &outside, from, to)) else {
        return Vec::new();
    };
    let field = Field::of(tin, &risen, clear, spacing);
    // The largest come first.
    let parts = sorted_parts(&risen).into_iter();
    let large = parts.take_while(|part| twice_area(&part[0]) / 2.0 >= clear.area);
    let mut found: Vec<(f64, FoundPile)> = large.filter_map(|part| field.judged(part)).collect();
    found.sort_by(|a, b| a.0.total_cmp(&b.0));
    found.into_iter().map(|(_, standing)| standing).collect()
}

/// What parts of the surface are judged by.
struct Field<'f> {
    frame: Frame,
    clear: &'f PileRules,
    spacing: f64,
    /// The heights at the corners of what rises, by their places.
    heights: FxHashMap<[u64; 2], f64>,
    by_east: Vec<Vertex>,
    /// Where the surface ends.
    ends: FxHashSet<[u64; 2]>,
}

impl<'f> Field<'f> {
    fn of(tin: &Tin, risen: &Tin, clear: &'f PileRules, spacing: f64) -> Self {
        let heights = risen.vertices().iter();
        let heights = heights.map(|vertex| (bits(vertex.place()), vertex.height));
        let mut by_east = risen.vertices().to_vec();
        by_east.sort_by(|a, b| a.east.total_cmp(&b.east));
        Field {
            frame: tin.frame(),
            clear,
            spacing,
            heights: heights.collect(),
            by_east,
            ends: rim_places(tin),
        }
    }

    /// A part that rises above its surroundings, and its middle towards east.
    fn judged(&self, part: Vec<Vec<Place>>) -> Option<(f64, FoundPile)> {
        let plane = Plane::fitted(&self.lines(&part[0]))?;
        let above = |vertex: &Vertex| vertex.height - plane.at(vertex.place());
        let extent = Extent::of(part[0].iter().copied());
        let first = self
            .by_east
            .partition_point(|vertex| vertex.east < extent.min.east);
        let own = self.by_east[first..].iter();
        let own = own.take_while(|vertex| vertex.east <= extent.max.east);
        let own = own.filter(|vertex| holds(ring_edges(&part[0]), vertex.place()));
        let top = own.map(above).fold(f64::NEG_INFINITY, f64::max);
        if top < self.clear.by {
            return None;
        }
        let stays = |ring: &Vec<Place>| {
            let edge = self.lines(ring);
            let rim = edge.iter().map(|[from, _]| above(from)).sum::<f64>() / edge.len() as f64;
            -twice_area(ring) / 2.0 >= self.clear.area && rim < self.clear.by
        };
        let at_end = part[0].iter().any(|&at| self.ends.contains(&bits(at)));
        let rings = part.into_iter().enumerate();
        let rings = rings.filter(|(index, ring)| *index == 0 || stays(ring));
        let rings: Vec<Vec<Place>> = rings
            .map(|(_, ring)| sparse(ring, CORNERS * self.spacing))
            .collect();
        let area = rings.iter().map(|ring| twice_area(ring)).sum::<f64>() / 2.0;
        Some((
            extent.middle().east,
            FoundPile {
                rings: rings.iter().map(|ring| in_grid(ring, self.frame)).collect(),
                clear: top,
                area,
                at_end,
            },
        ))
    }

    /// The sides of a ring, with the heights there.
    fn lines(&self, ring: &[Place]) -> Vec<[Vertex; 2]> {
        let lifted = |at: &Place| {
            let height = self.heights.get(&bits(*at)).copied().unwrap_or_default();
            Vertex::new(at.east, at.north, height)
        };
        let next = ring.iter().cycle().skip(1);
        ring.iter()
            .zip(next)
            .map(|(a, b)| [lifted(a), lifted(b)])
            .collect()
    }
}

fn length(tin: &Tin, from: u32, to: u32) -> f64 {
    let [from, to] = [from, to].map(|vertex| tin.vertices()[vertex as usize]);
    libm::hypot(to.east - from.east, to.north - from.north)
}

/// The middle length of an edge.
fn spacing(tin: &Tin) -> f64 {
    let sides = |&[a, b, c]: &[u32; 3]| [(a, b), (b, c), (c, a)];
    let edges = tin.facets().iter().flat_map(sides);
    let mut lengths: Vec<f64> = edges.map(|(from, to)| length(tin, from, to)).collect();
    let middle = lengths.len() / 2;
    *lengths.select_nth_unstable_by(middle, f64::total_cmp).1
}

/// A ring without corners that stand too near to the one before; the whole ring where hardly any would be left.
fn sparse(ring: Vec<Place>, apart: f64) -> Vec<Place> {
    let far = |a: &Place, b: &Place| libm::hypot(b.east - a.east, b.north - a.north) >= apart;
    let mut kept: Vec<Place> = Vec::with_capacity(ring.len());
    for place in &ring {
        if kept.last().is_none_or(|last| far(last, place)) {
            kept.push(*place);
        }
    }
    while kept.len() > 1 && !far(&kept[0], &kept[kept.len() - 1]) {
        kept.pop();
    }
    if kept.len() < 4 { ring } else { kept }
}

/// How much heights scatter about the ground: what rises less than half of what is sought is ground for the most part.
fn noise(over: &[f64], by: f64) -> f64 {
    let mut low: Vec<f64> = over.iter().copied().filter(|&v| v < by / 2.0).collect();
    let middle = match low.len() {
        0 => 0.0,
        count => *low.select_nth_unstable_by(count / 2, f64::total_cmp).1,
    };
    (NOISE * middle).max(LEAST_NOISE * by)
}
