//! The same points triangulated otherwise: with the other diagonal wherever two triangles could as well have it.

use rustc_hash::{FxHashMap, FxHashSet};

use crate::plan::{Place, cross};
use crate::surface::neighbours::bits;
use crate::surface::{Surface, Tin, TinError};

impl Surface {
    /// The surface with the other diagonal in pairs of triangles that make a convex quadrilateral, each triangle in one pair at most. Edges along `breaklines`
    /// stay, and so do vertical steps. None for a level, which has no triangles, where no pair can be turned, and for more than eight million triangles.
    ///
    /// # Errors
    ///
    /// When a grid has more cells than triangles can be numbered.
    ///
    /// ```
    /// use dapedon_core::plan::Frame;
    /// use dapedon_core::surface::{Surface, Tin, Vertex};
    /// use dapedon_core::units::LengthUnit;
    /// // A square with one corner up: over one diagonal a sixth of the cube is under it, over the other a third.
    /// let frame = Frame::new(LengthUnit::Metre, [0.0, 0.0]);
    /// let corners = [(0.0, 0.0, 0.0), (1.0, 0.0, 0.0), (1.0, 1.0, 1.0), (0.0, 1.0, 0.0)];
    /// let corners = corners.map(|(e, n, h)| Vertex::new(e, n, h)).to_vec();
    /// let one = Surface::Tin(Tin::from_facets(frame, corners, vec![[0, 1, 3], [1, 2, 3]]).unwrap());
    /// let other = one.with_other_diagonals(&[]).unwrap().unwrap();
    /// let Surface::Tin(other) = other else { unreachable!() };
    /// assert_eq!(other.facets(), [[0, 1, 2], [2, 3, 0]]);
    /// ```
    pub fn with_other_diagonals(
        &self,
        breaklines: &[Vec<Place>],
    ) -> Result<Option<Surface>, TinError> {
        if self.facets() > MOST {
            return Ok(None);
        }
        let tin = match self {
            Surface::Tin(tin) => turned(tin, breaklines)?,
            Surface::Grid(grid) => turned(&grid.to_tin()?, breaklines)?,
            Surface::Level(_) => None,
        };
        Ok(tin.map(Surface::Tin))
    }
}

/// Triangles at most: each takes some hundred bytes.
const MOST: usize = 8_000_000;

/// A pair of triangles that share an edge: which they are, and the corner of each that is not on it.
#[derive(Clone, Copy)]
struct Beside {
    facet: usize,
    apex: u32,
}

fn turned(tin: &Tin, breaklines: &[Vec<Place>]) -> Result<Option<Tin>, TinError> {
    let ends = breaklines.iter().flat_map(|line| line.windows(2));
    let kept = ends.map(|ends| sorted([bits(ends[0]), bits(ends[1])]));
    let kept: FxHashSet<[[u64; 2]; 2]> = kept.collect();
    let place = |vertex: u32| tin.vertices()[vertex as usize].place();
    let mut open: FxHashMap<[u32; 2], Beside> = FxHashMap::default();
    let mut facets = tin.facets().to_vec();
    let mut done = vec![false; facets.len()];
    let mut any = false;
    for (index, &[a, b, c]) in tin.facets().iter().enumerate() {
        for (from, to, apex) in [(a, b, c), (b, c, a), (c, a, b)] {
            let Some(other) = open.remove(&sorted([from, to])) else {
                let own = Beside { facet: index, apex };
                open.insert(sorted([from, to]), own);
                continue;
            };
            let along = sorted([bits(place(from)), bits(place(to))]);
            if done[index] || done[other.facet] || kept.contains(&along) {
                continue;
            }
            // Counter-clockwise: the near apex, from, the far apex, to.
            let corners = [apex, from, other.apex, to];
            if !is_convex(corners.map(place)) {
                continue;
            }
            facets[index] = [apex, from, other.apex];
            facets[other.facet] = [other.apex, to, apex];
            (done[index], done[other.facet], any) = (true, true, true);
        }
    }
    match any {
        true => Tin::of_local(tin.frame(), tin.vertices().to_vec(), facets).map(Some),
        false => Ok(None),
    }
}

fn sorted<T: Ord>([a, b]: [T; 2]) -> [T; 2] {
    if a <= b { [a, b] } else { [b, a] }
}

/// Thinner than this share of its square a triangle is not made.
const THIN: f64 = 1e-3;

/// True where every corner of a ring turns left, by enough that no thin triangle comes of it.
fn is_convex(ring: [Place; 4]) -> bool {
    (0..4).all(|at| {
        let [a, b, c] = [0, 1, 2].map(|next| ring[(at + next) % 4]);
        let square = |p: Place, q: Place| {
            let (east, north) = (q.east - p.east, q.north - p.north);
            east * east + north * north
        };
        cross(a, b, c) > THIN * square(a, b).max(square(b, c))
    })
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::plan::Frame;
    use crate::quantities::{Tolerance, volume};
    use crate::surface::{Grid, Level};
    use crate::units::LengthUnit;

    fn frame() -> Frame {
        Frame::new(LengthUnit::Metre, [0.0, 0.0])
    }

    fn net(surface: &Surface) -> f64 {
        let level = Surface::Level(Level::new(frame(), 0.0));
        volume(&level, surface, None, Tolerance::ZERO).unwrap()[0]
            .volume
            .net
    }

    #[test]
    fn a_grid_is_divided_the_other_way() {
        // A saddle: a cell is a product, which its two diagonals cut on either side of its own mean.
        let heights = |e: f64, n: f64| e * n;
        let nodes = (0..49).map(|node| heights(f64::from(node % 7), f64::from(node / 7)));
        let grid = Grid::new(
            frame(),
            Place::new(0.0, 0.0),
            [1.0; 2],
            [7, 7],
            nodes.collect(),
        );
        let grid = Surface::Grid(grid.unwrap());
        let other = grid.with_other_diagonals(&[]).unwrap().unwrap();
        assert_eq!(other.facets(), 72);
        // The integral of the product lies midway: each diagonal is off by a twelfth of a cell, over 36 cells.
        let exact = 18.0 * 18.0;
        let (one, two) = (net(&grid) - exact, net(&other) - exact);
        assert!(
            (one + two).abs() < 1e-9 && (one.abs() - 36.0 / 12.0).abs() < 1e-9,
            "{one} {two}"
        );
        // Turned back it is as it was.
        let again = other.with_other_diagonals(&[]).unwrap().unwrap();
        assert!((net(&again) - net(&grid)).abs() < 1e-9);
    }

    #[test]
    fn breaklines_and_what_is_not_convex_stay() {
        let corners = [
            (0.0, 0.0, 0.0),
            (1.0, 0.0, 0.0),
            (1.0, 1.0, 1.0),
            (0.0, 1.0, 0.0),
        ];
        let corners = corners.map(|(e, n, h)| crate::surface::Vertex::new(e, n, h));
        let square =
            Tin::from_facets(frame(), corners.to_vec(), vec![[0, 1, 2], [0, 2, 3]]).unwrap();
        let square = Surface::Tin(square);
        let along = vec![corners[0].place(), corners[2].place()];
        assert!(square.with_other_diagonals(&[along]).unwrap().is_none());
        let across = vec![corners[0].place(), corners[1].place()];
        assert!(square.with_other_diagonals(&[across]).unwrap().is_some());
        let mut dart = corners;
        (dart[1].east, dart[1].north) = (0.45, 0.5);
        let dart = Tin::from_facets(frame(), dart.to_vec(), vec![[0, 1, 3], [1, 2, 3]]).unwrap();
        assert!(
            Surface::Tin(dart)
                .with_other_diagonals(&[])
                .unwrap()
                .is_none()
        );
        let level = Surface::Level(Level::new(frame(), 0.0));
        assert!(level.with_other_diagonals(&[]).unwrap().is_none());
    }
}
