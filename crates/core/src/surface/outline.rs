//! The outline of a surface: the edges it does not share with itself.

use std::cmp::Ordering;

use crate::plan::{Edge, Place};
use crate::surface::{Surface, Tin};

/// Where a surface ends, in plan: outer edges, the edges of holes, and those along which it folds
/// over itself. The surface lies on the left of each edge.
#[derive(Debug, Clone, PartialEq)]
pub enum Outline {
    /// It ends along these edges, which form closed chains.
    Edges(Vec<Edge>),
    /// It does not end.
    Endless,
}

impl Outline {
    /// The outline of `surface`.
    pub fn of(surface: &Surface) -> Self {
        match surface {
            Surface::Tin(tin) => Outline::of_tin(tin),
            Surface::Grid(grid) => Outline::Edges(grid.outline()),
            Surface::Level(_) => Outline::Endless,
        }
    }

    /// The outline of `tin`.
    ///
    /// An edge walked once each way cancels: first by the vertices it joins, then, among the few
    /// left, by their places, so that the two lips of a vertical step cancel too.
    pub fn of_tin(tin: &Tin) -> Self {
        Outline::along(tin, &unshared(tin))
    }

    /// The outline along edges that facets do not share by their vertices.
    pub(crate) fn along(tin: &Tin, unshared: &[[u32; 2]]) -> Self {
        let place = |vertex: u32| tin.vertices()[vertex as usize].place();
        let edge = |&[from, to]: &[u32; 2]| Edge {
            from: place(from),
            to: place(to),
        };
        let mut edges: Vec<Edge> = unshared.iter().map(edge).collect();
        edges.sort_unstable_by(|a, b| order(upright(a).0, upright(b).0));
        let mut outline = Vec::new();
        for run in edges.chunk_by(|a, b| upright(a).0 == upright(b).0) {
            let net: i32 = run.iter().map(|edge| upright(edge).1).sum();
            let (from, to) = upright(&run[0]).0;
            let edge = if net > 0 {
                Edge { from, to }
            } else {
                Edge { from: to, to: from }
            };
            outline.extend(std::iter::repeat_n(edge, net.unsigned_abs() as usize));
        }
        Outline::Edges(outline)
    }

    pub(crate) fn edges(&self) -> Option<&[Edge]> {
        match self {
            Outline::Edges(edges) => Some(edges),
            Outline::Endless => None,
        }
    }
}

/// The edges of facets, by their vertices, that no other facet with the same two walks the other way.
pub(crate) fn unshared(tin: &Tin) -> Vec<[u32; 2]> {
    const BACKWARDS: u32 = 1 << 31;
    let sides = |facet: &[u32; 3]| {
        let [a, b, c] = *facet;
        [(a, b), (b, c), (c, a)].map(|(from, to)| {
            if from < to {
                (from, to)
            } else {
                (to, from | BACKWARDS)
            }
        })
    };
    let mut starts = vec![0u32; tin.vertices().len() + 1];
    for (low, _) in tin.facets().iter().flat_map(sides) {
        starts[low as usize + 1] += 1;
    }
    for vertex in 1..starts.len() {
        starts[vertex] += starts[vertex - 1];
    }
    let mut highs = vec![0u32; 3 * tin.facets().len()];
    for (low, high) in tin.facets().iter().flat_map(sides) {
        highs[starts[low as usize] as usize] = high;
        starts[low as usize] += 1;
    }

    let mut edges = Vec::new();
    let mut from = 0;
    for (low, &end) in starts[..tin.vertices().len()].iter().enumerate() {
        let around = &mut highs[from..end as usize];
        from = end as usize;
        around.sort_unstable_by_key(|high| high & !BACKWARDS);
        for run in around.chunk_by(|a, b| (a ^ b) & !BACKWARDS == 0) {
            let back = run.iter().filter(|&&high| high & BACKWARDS != 0).count();
            let forth = run.len() - back;
            let (low, high) = (low as u32, run[0] & !BACKWARDS);
            let (edge, count) = match forth > back {
                true => ([low, high], forth - back),
                false => ([high, low], back - forth),
            };
            edges.extend(std::iter::repeat_n(edge, count));
        }
    }
    edges
}

/// The ends of an edge in a fixed order, and which way it runs between them.
fn upright(edge: &Edge) -> ((Place, Place), i32) {
    if order((edge.from, edge.to), (edge.to, edge.from)) == Ordering::Less {
        ((edge.from, edge.to), 1)
    } else {
        ((edge.to, edge.from), -1)
    }
}

fn order(a: (Place, Place), b: (Place, Place)) -> Ordering {
    // Adding zero makes one zero of the two.
    let key = |(p, q): (Place, Place)| [p.east, p.north, q.east, q.north].map(|v| v + 0.0);
    let (a, b) = (key(a), key(b));
    (a.iter().zip(&b))
        .map(|(a, b)| a.total_cmp(b))
        .find(|o| o.is_ne())
        .unwrap_or(Ordering::Equal)
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::plan::Frame;
    use crate::surface::Vertex;
    use crate::units::LengthUnit;

    /// Two squares side by side at different heights: four vertices stand at two places.
    fn step() -> Tin {
        let vertices = [
            (0.0, 0.0, 1.0),
            (5.0, 0.0, 1.0),
            (5.0, 5.0, 1.0),
            (0.0, 5.0, 1.0),
            (5.0, 0.0, 3.0),
            (9.0, 0.0, 3.0),
            (9.0, 5.0, 3.0),
            (5.0, 5.0, 3.0),
        ];
        let vertices = vertices.map(|(e, n, h)| Vertex::new(e, n, h)).to_vec();
        let facets = vec![[0, 1, 2], [0, 2, 3], [4, 5, 6], [4, 6, 7]];
        Tin::from_facets(Frame::new(LengthUnit::Metre, [0.0, 0.0]), vertices, facets).unwrap()
    }

    #[test]
    fn a_step_is_not_an_end() {
        let outline = Outline::of_tin(&step());
        let edges = outline.edges().unwrap();
        assert_eq!(edges.len(), 6);
        assert!(
            edges
                .iter()
                .all(|e| !(e.from.east == 5.0 && e.to.east == 5.0))
        );
        let turned: f64 = edges
            .iter()
            .map(|e| e.from.east * e.to.north - e.to.east * e.from.north)
            .sum();
        assert_eq!(turned / 2.0, 45.0);
    }
}
