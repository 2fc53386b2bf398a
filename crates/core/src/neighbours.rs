//! Which corners of a surface stand next to each other.

use rustc_hash::{FxHashMap, FxHashSet};

use crate::{Outline, Place, Tin};

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

/// Where they stand.
pub(crate) fn rim_places(tin: &Tin) -> FxHashSet<[u64; 2]> {
    let outline = Outline::of_tin(tin);
    let edges = outline.edges().unwrap_or_default().iter();
    edges.map(|edge| bits(edge.from)).collect()
}
