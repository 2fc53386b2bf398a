//! What flat triangles leave out of ground that bends from one to the next: seen in the survey itself, without measuring anything again.

use rustc_hash::{FxHashMap, FxHashSet};

use crate::plan::{Place, cross};
use crate::surface::Tin;
use crate::surface::across::Across;
use crate::surface::neighbours::bits;

/// What flat triangles leave out of a surface that bends.
#[derive(Debug, Clone, Copy, PartialEq, Default)]
pub struct Bending {
    /// The volume under the bending ground above the one under its triangles; below zero where it is a hollow.
    pub volume: f64,
    /// The plan area of the triangles that were asked; not of those at an outline or a breakline.
    pub area: f64,
    /// What of the volume the triangles around have too: of round ground all of it or nearly so, of edges without a breakline nothing.
    pub steady: f64,
    /// How uncertain the volume is for each unit of error of single heights.
    pub by_heights: f64,
}

/// What a triangle tells of how the ground bends.
#[derive(Debug, Clone, Copy)]
struct Bend {
    /// How far the ground lies above it on average.
    mean: f64,
    /// The sum of the squares of its edges.
    edges: f64,
    area: f64,
}

/// What flat triangles leave out, over those whose middle is somewhere that counts. `breaklines` are those of the triangulation, in local
/// coordinates: the ground does not bend over them, it breaks.
///
/// Over a triangle, ground of the second degree that passes through its three corners and the three corners across its edges is asked: where
/// `λ` are the shares of the corners, its height over the triangle is `c₁ λ₂λ₃ + c₂ λ₃λ₁ + c₃ λ₁λ₂`, which is known at the three corners across, and whose mean over the
/// triangle is `(c₁ + c₂ + c₃) / 12`. See `docs/methods.md`, "Points too far apart".
///
/// ```
/// use dapedon_core::plan::Frame;
/// use dapedon_core::quantities::bending;
/// use dapedon_core::surface::{Grid, Tin};
/// use dapedon_core::units::LengthUnit;
/// // A dome of 10 - (e² + n²) / 100: its triangles of 2 by 2, with the squares of their edges, are (4 + 4 + 8) / 1200 too low on average.
/// let frame = Frame::new(LengthUnit::Metre, [0.0, 0.0]);
/// let heights = (0..121).map(|at| {
///     let (e, n) = (2.0 * f64::from(at % 11) - 10.0, 2.0 * f64::from(at / 11) - 10.0);
///     10.0 - (e * e + n * n) / 100.0
/// });
/// let grid = Grid::new(frame, frame.to_local(-10.0, -10.0), [2.0, 2.0], [11, 11], heights.collect()).unwrap();
/// let found = bending(&grid.to_tin().unwrap(), &[], |_| true);
/// assert!((found.volume / found.area - 16.0 / 1200.0).abs() < 1e-9);
/// assert!(found.steady > 0.6 * found.volume);
/// ```
pub fn bending(tin: &Tin, breaklines: &[Vec<Place>], counts: impl Fn(Place) -> bool) -> Bending {
    let breaks = breaks(tin, breaklines);
    let across = Across::of(tin);
    let mut weights = vec![0.0; tin.vertices().len()];
    let mut found = Bending::default();
    let mut bends: Vec<Option<Bend>> = vec![None; tin.facets().len()];
    for (number, facet) in (0u32..).zip(tin.facets()) {
        let [a, b, c] = tin.corners(number as usize).map(|corner| corner.place());
        let middle = Place::new(
            (a.east + b.east + c.east) / 3.0,
            (a.north + b.north + c.north) / 3.0,
        );
        if !counts(middle) {
            continue;
        }
        // The corner across the edge from a corner to the next.
        let beyond = [0, 1, 2].map(|side| {
            let (from, to) = (facet[side], facet[(side + 1) % 3]);
            if breaks.contains(&[from.min(to), from.max(to)]) {
                return None;
            }
            let other = tin.facets().get(across.edge(number, side)? as usize)?;
            other.iter().copied().find(|corner| !facet.contains(corner))
        });
        let [Some(over_ab), Some(over_bc), Some(over_ca)] = beyond else {
            continue;
        };
        let twice = cross(a, b, c);
        let shares = |at: Place| {
            let [first, second] = [cross(b, c, at) / twice, cross(c, a, at) / twice];
            [first, second, 1.0 - first - second]
        };
        let vertices = tin.vertices();
        let outer = [over_bc, over_ca, over_ab];
        let shares = outer.map(|corner| {
            vertices
                .get(corner as usize)
                .map_or([0.0; 3], |own| shares(own.place()))
        });
        let products = shares.map(|[a, b, c]| [b * c, c * a, a * b]);
        let Some(gains) = gains(products) else {
            continue;
        };
        let each = twice / 24.0;
        found.area += twice / 2.0;
        let mut missed = 0.0;
        for ((corner, shares), gain) in outer.into_iter().zip(shares).zip(gains) {
            // By how much the corner across is above the plane of the triangle.
            let own = each * gain;
            let others = facet
                .iter()
                .zip(shares)
                .map(|(&corner, share)| (corner, -own * share));
            for (corner, own) in others.chain([(corner, own)]) {
                let height = vertices.get(corner as usize).map_or(0.0, |own| own.height);
                missed += own * height;
                if let Some(weight) = weights.get_mut(corner as usize) {
                    *weight += own;
                }
            }
        }
        let square = |p: Place, q: Place| (p.east - q.east).powi(2) + (p.north - q.north).powi(2);
        if let Some(bend) = bends.get_mut(number as usize) {
            *bend = Some(Bend {
                mean: missed / (twice / 2.0),
                edges: square(a, b) + square(b, c) + square(c, a),
                area: twice / 2.0,
            });
        }
    }
    for (number, own) in (0u32..).zip(&bends) {
        let Some(own) = own else { continue };
        let around = [0, 1, 2].map(|side| {
            across
                .edge(number, side)
                .and_then(|other| *bends.get(other as usize)?)
        });
        let all = [Some(*own), around[0], around[1], around[2]];
        let round = |bend: Option<Bend>| bend.map_or(0.0, |own| own.mean / own.edges);
        let all = all.map(round);
        let least = all
            .iter()
            .map(|own| own.abs())
            .fold(f64::INFINITY, f64::min);
        let alike = all.iter().all(|own| *own > 0.0) || all.iter().all(|own| *own < 0.0);
        if alike {
            found.steady += least.copysign(own.mean) * own.edges * own.area;
        }
    }
    for (weight, vertex) in weights.iter().zip(tin.vertices()) {
        found.volume += weight * vertex.height;
        found.by_heights += weight * weight;
    }
    found.by_heights = found.by_heights.sqrt();
    found
}

/// How much the sum of three unknowns grows with each of three sums of them, whose factors are the rows; none where they hardly tell the
/// unknowns apart.
fn gains(rows: [[f64; 3]; 3]) -> Option<[f64; 3]> {
    /// Of the greatest that the determinant can be.
    const HARDLY: f64 = 1e-3;
    let [a, b, c] = rows;
    let product =
        |[a, b, c]: [f64; 3], [d, e, f]: [f64; 3]| [b * f - c * e, c * d - a * f, a * e - b * d];
    let dot = |a: [f64; 3], b: [f64; 3]| a.iter().zip(b).map(|(a, b)| a * b).sum::<f64>();
    let columns = [product(b, c), product(c, a), product(a, b)];
    let determinant = dot(a, columns[0]);
    let most = [a, b, c]
        .map(|row| dot(row, row).sqrt())
        .iter()
        .product::<f64>();
    (determinant.abs() > HARDLY * most)
        .then(|| columns.map(|column| column.iter().sum::<f64>() / determinant))
}

/// The edges that breaklines run along.
fn breaks(tin: &Tin, breaklines: &[Vec<Place>]) -> FxHashSet<[u32; 2]> {
    let numbered: FxHashMap<[u64; 2], u32> = match breaklines.is_empty() {
        true => FxHashMap::default(),
        false => (0u32..)
            .zip(tin.vertices())
            .map(|(number, vertex)| (bits(vertex.place()), number))
            .collect(),
    };
    let mut found = FxHashSet::default();
    for line in breaklines {
        let points: Vec<u32> = line
            .iter()
            .filter_map(|&at| numbered.get(&bits(at)).copied())
            .collect();
        for pair in points.windows(2) {
            found.insert([pair[0].min(pair[1]), pair[0].max(pair[1])]);
        }
    }
    found
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::plan::Frame;
    use crate::points::{PickUp, Rules, triangulate};
    use crate::quantities::chance::Chance;
    use crate::surface::Vertex;
    use crate::units::LengthUnit;
    use proptest::prelude::*;

    /// Random points over 20 by 20, triangulated.
    fn surveyed(count: usize, seed: u64, height: impl Fn(f64, f64) -> f64) -> Tin {
        let mut chance = Chance(seed);
        let mut pick_up = PickUp::default();
        for _ in 0..count {
            let (e, n) = (20.0 * chance.even(), 20.0 * chance.even());
            pick_up.points.push(Vertex::new(e, n, height(e, n)));
        }
        let frame = Frame::new(LengthUnit::Metre, [0.0, 0.0]);
        triangulate(frame, &pick_up, &Rules::default()).unwrap().tin
    }

    proptest! {
        #![proptest_config(ProptestConfig::with_cases(24))]

        /// Ground of the second degree is what is asked: its volume is told to rounding, triangle by triangle.
        #[test]
        fn ground_of_the_second_degree_is_known(seed in 0u64..1000, k in prop::array::uniform3(-0.05..0.05f64), lean in -1.0..1.0f64) {
            let height = |e: f64, n: f64| 3.0 + lean * e - 0.5 * n + k[0] * e * e + k[1] * e * n + k[2] * n * n;
            let tin = surveyed(120, seed, height);
            let inner = |at: Place| (4.0..16.0).contains(&at.east) && (4.0..16.0).contains(&at.north);
            // The mean of a function of the second degree is that at the middles of the edges.
            let (mut expected, mut area) = (0.0, 0.0);
            for number in 0..tin.facets().len() {
                let corners = tin.corners(number);
                let [a, b, c] = corners.map(|corner| corner.place());
                let own = cross(a, b, c) / 2.0;
                let middle = Place::new((a.east + b.east + c.east) / 3.0, (a.north + b.north + c.north) / 3.0);
                if inner(middle) {
                    area += own;
                    for (one, other) in [(0, 1), (1, 2), (2, 0)] {
                        let (p, q) = (corners[one], corners[other]);
                        expected += own / 3.0 * (height((p.east + q.east) / 2.0, (p.north + q.north) / 2.0) - (p.height + q.height) / 2.0);
                    }
                }
            }
            let found = bending(&tin, &[], inner);
            // Some triangles have neighbours that do not tell how they bend; what they miss is less than their area times a metre.
            let unasked = area - found.area;
            prop_assert!(unasked < 0.1 * area);
            prop_assert!((found.volume - expected).abs() < 1e-9 + unasked, "{found:?} {expected}");
            // What is steady is part of it, where the ground bends one way.
            let one_way = 4.0 * k[0] * k[2] > k[1] * k[1];
            prop_assert!(!one_way || (found.steady.abs() <= found.volume.abs() + 1e-9 && found.steady * found.volume >= 0.0), "{found:?}");
        }
    }

    #[test]
    fn planes_do_not_bend_and_noise_is_told_as_noise() {
        let plane = surveyed(400, 3, |e, n| 0.3 * e - 0.2 * n);
        assert!(bending(&plane, &[], |_| true).volume.abs() < 1e-10);
        let mut squares = 0.0;
        let mut stated = 0.0;
        for seed in 0..200 {
            let mut chance = Chance(seed + 1000);
            let vertices = plane.vertices().iter();
            let noisy = vertices.map(|v| Vertex {
                height: v.height + 0.02 * chance.normal(),
                ..*v
            });
            let noisy =
                Tin::from_facets(plane.frame(), noisy.collect(), plane.facets().to_vec()).unwrap();
            let found = bending(&noisy, &[], |_| true);
            squares += found.volume * found.volume / 200.0;
            stated = 0.02 * found.by_heights;
        }
        // 200 draws tell a spread to 5 %.
        let ratio = squares.sqrt() / stated;
        assert!((ratio - 1.0).abs() < 0.15, "{ratio}");
    }

    /// A ridge with a breakline along it breaks, and does not bend; without one it looks as if it bent.
    #[test]
    fn ground_breaks_at_breaklines() {
        let ridge = Tin::from_facets(
            Frame::new(LengthUnit::Metre, [0.0, 0.0]),
            (0..25)
                .map(|at| {
                    let (e, n) = (f64::from(at % 5), f64::from(at / 5));
                    Vertex::new(e, n, -(e - 2.0).abs())
                })
                .collect(),
            (0..16)
                .flat_map(|cell: u32| {
                    let a = cell / 4 * 5 + cell % 4;
                    [[a, a + 1, a + 6], [a, a + 6, a + 5]]
                })
                .collect(),
        )
        .unwrap();
        let line: Vec<Place> = (0..5).map(|n| Place::new(2.0, f64::from(n))).collect();
        let without = bending(&ridge, &[], |_| true);
        assert!(
            without.volume > 0.1 && without.steady.abs() < 1e-12,
            "{without:?}"
        );
        let with = bending(&ridge, &[line], |_| true);
        assert!(with.volume.abs() < 1e-12 && with.area > 0.0, "{with:?}");
    }
}
