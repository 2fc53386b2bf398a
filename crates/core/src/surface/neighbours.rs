//! Which corners of a surface stand next to each other.

use rustc_hash::{FxHashMap, FxHashSet};

use crate::plan::places::Places;
use crate::plan::{Frame, Place};
use crate::surface::{Outline, Tin};

/// The corners that stand next to each corner: along an edge of a facet, or at the same place across a vertical step.
pub(crate) struct Neighbours {
    starts: Vec<u32>,
    all: Vec<u32>,
}

impl Neighbours {
    pub(crate) fn of(tin: &Tin) -> Self {
        let sides = |&[a, b, c]: &[u32; 3]| [(a, b), (b, c), (c, a), (b, a), (c, b), (a, c)];
        let along = tin.facets().iter().flat_map(sides);
        // Corners at one place, each with the next one there: the lips of a vertical step.
        let mut last: FxHashMap<[u64; 2], u32> = FxHashMap::default();
        let mut steps = Vec::new();
        for (vertex, corner) in (0u32..).zip(tin.vertices()) {
            if let Some(other) = last.insert(bits(corner.place()), vertex) {
                steps.extend([(vertex, other), (other, vertex)]);
            }
        }
        let mut starts = vec![0u32; tin.vertices().len() + 1];
        for (from, _) in along.clone().chain(steps.iter().copied()) {
            starts[from as usize + 1] += 1;
        }
        for vertex in 1..starts.len() {
            starts[vertex] += starts[vertex - 1];
        }
        let mut all = vec![0u32; starts[starts.len() - 1] as usize];
        let mut next = starts.clone();
        for (from, to) in along.chain(steps.iter().copied()) {
            all[next[from as usize] as usize] = to;
            next[from as usize] += 1;
        }
        Neighbours { starts, all }
    }

    pub(crate) fn of_vertex(&self, vertex: u32) -> &[u32] {
        let [from, to] = [vertex, vertex + 1].map(|vertex| self.starts[vertex as usize] as usize);
        &self.all[from..to]
    }
}

/// What tells places apart.
pub(crate) fn bits(place: Place) -> [u64; 2] {
    // Zero has two signs, and one place.
    [place.east + 0.0, place.north + 0.0].map(f64::to_bits)
}

/// The corners that stand where a surface ends.
pub(crate) fn rim(tin: &Tin) -> impl Iterator<Item = u32> {
    let ends = rim_places(tin);
    let all = 0..tin.vertices().len() as u32;
    all.filter(move |&vertex| ends.contains(&bits(tin.vertices()[vertex as usize].place())))
}

/// How high ground stands around a part of a surface, at the places where both end.
pub(crate) struct Around {
    places: Places,
    heights: Vec<f64>,
}

impl Around {
    /// The heights of the rest of a surface; nothing stands around where there is none.
    pub(crate) fn of(rest: Option<&Tin>, frame: Frame) -> Self {
        let mut around = Around {
            places: Places::within(frame.precision().worked_out()),
            heights: Vec::new(),
        };
        let Some(rest) = rest else { return around };
        for vertex in rim(rest) {
            let vertex = rest.vertices()[vertex as usize];
            let number = around.places.number(vertex.place()) as usize;
            match around.heights.get_mut(number) {
                Some(height) => *height = height.max(vertex.height),
                None => around.heights.push(vertex.height),
            }
        }
        around
    }

    /// The height there, or that of the ground around where it is higher.
    pub(crate) fn over(&mut self, place: Place, height: f64) -> f64 {
        let number = self.places.number(place) as usize;
        if number >= self.heights.len() {
            // A place that was not known is known from now on.
            self.heights.resize(number + 1, f64::NEG_INFINITY);
        }
        height.max(self.heights[number])
    }
}

/// Where they stand. A slit that rounding leaves where edges meet is no end.
pub(crate) fn rim_places(tin: &Tin) -> FxHashSet<[u64; 2]> {
    let outline = Outline::of_tin(tin);
    let edges = outline.edges().unwrap_or_default();
    let mut places = Places::within(tin.frame().precision().worked_out());
    let mut net: FxHashMap<(u32, u32), i32> = FxHashMap::default();
    let numbered: Vec<(u32, u32)> = (edges.iter())
        .map(|edge| (places.number(edge.from), places.number(edge.to)))
        .collect();
    for &(from, to) in &numbered {
        let way = if from < to { 1 } else { -1 };
        *net.entry((from.min(to), from.max(to))).or_default() += way;
    }
    let ends = |&(from, to): &(u32, u32)| from != to && net[&(from.min(to), from.max(to))] != 0;
    let open = edges
        .iter()
        .zip(&numbered)
        .filter(|(_, ends_of)| ends(ends_of));
    open.flat_map(|(edge, _)| [bits(edge.from), bits(edge.to)])
        .collect()
}
