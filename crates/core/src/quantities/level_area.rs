//! The outlines at a level: where ground lies above it, or below.

use crate::derived::assembly::collect;
use crate::plan::Place;
use crate::surface::{Outline, Tin, TinError, Vertex};
use crate::zones::in_grid;
use crate::zones::rings::parts;

/// Which side of a level.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum SideOfLevel {
    /// Ground that is higher.
    Above,
    /// Ground that is lower: what would be under water.
    Below,
}

/// The ground on one side of a level, as the parts of a zone: outer rings and their holes, closed, in grid coordinates,
/// the largest part first. None where no ground is on that side.
///
/// Corners stand where the level meets the edges of facets; along vertical steps it is cut where they are.
///
/// ```
/// use dapedon_core::derived::*;
/// use dapedon_core::plan::*;
/// use dapedon_core::quantities::*;
/// use dapedon_core::surface::*;
/// use dapedon_core::units::*;
/// use dapedon_core::zones::*;
/// let frame = Frame::new(LengthUnit::Metre, [0.0, 0.0]);
/// // A pit of 6 by 6 with its deepest place 3 below the rim.
/// let corners = [(0.0, 0.0, 3.0), (6.0, 0.0, 3.0), (6.0, 6.0, 3.0), (0.0, 6.0, 3.0), (3.0, 3.0, 0.0)];
/// let vertices = corners.map(|(e, n, h)| Vertex::new(e, n, h)).to_vec();
/// let pit = Tin::from_facets(frame, vertices, vec![[0, 1, 4], [1, 2, 4], [2, 3, 4], [3, 0, 4]]).unwrap();
/// let shore = Zone::new("water", frame, level_area(&pit, 2.0, SideOfLevel::Below)).unwrap();
/// assert_eq!(shore.area(), 16.0);
/// ```
pub fn level_area(tin: &Tin, level: f64, side: SideOfLevel) -> Vec<Vec<Vec<Place>>> {
    let sign = match side {
        SideOfLevel::Above => 1.0,
        SideOfLevel::Below => -1.0,
    };
    let heights = tin.vertices().iter();
    let over: Vec<f64> = heights
        .map(|vertex| sign * (vertex.height - level))
        .collect();
    let value = |vertex: u32| over[vertex as usize];
    let inside = |vertex| value(vertex) > 0.0;
    let share = |from, to| value(from) / (value(from) - value(to));
    // Where nothing is on that side there are no pieces.
    let Ok(ground) = kept(tin, inside, share) else {
        return Vec::new();
    };
    let grid = |ring: Vec<Place>| in_grid(&ring, tin.frame());
    let found = sorted_parts(&ground).into_iter();
    found
        .map(|part| part.into_iter().map(grid).collect())
        .collect()
}

/// The parts of a surface, the largest first.
pub(crate) fn sorted_parts(ground: &Tin) -> Vec<Vec<Vec<Place>>> {
    let outline = Outline::of_tin(ground);
    let mut found = parts(outline.edges().unwrap_or_default());
    let size = |part: &Vec<Vec<Place>>| crate::zones::twice_area(&part[0]);
    found.sort_by(|a, b| size(b).total_cmp(&size(a)));
    found
}

/// What of a surface lies about some of its vertices: along each edge from one of them to one that is not, the share of
/// the edge that is reported.
///
/// # Errors
///
/// When no vertex is among them.
pub(crate) fn kept(
    tin: &Tin,
    inside: impl Fn(u32) -> bool,
    share: impl Fn(u32, u32) -> f64,
) -> Result<Tin, TinError> {
    // From the inside out, so that both facets along an edge find the same place.
    let ends = |a: u32, b: u32| {
        let (from, to) = if inside(a) { (a, b) } else { (b, a) };
        let share = share(from, to);
        let [from, to] = [from, to].map(|vertex| tin.vertices()[vertex as usize]);
        if share == 1.0 {
            return to;
        }
        let at = |from: f64, to: f64| from + share * (to - from);
        Vertex::new(
            at(from.east, to.east),
            at(from.north, to.north),
            at(from.height, to.height),
        )
    };
    let piece = |&[a, b, c]: &[u32; 3]| {
        let mut corners = Vec::with_capacity(4);
        for (from, to) in [(a, b), (b, c), (c, a)] {
            if inside(from) {
                corners.push(tin.vertices()[from as usize]);
            }
            if inside(from) != inside(to) {
                corners.push(ends(from, to));
            }
        }
        corners
    };
    let pieces = tin.facets().iter().map(piece);
    collect(tin.frame(), pieces.filter(|piece| piece.len() > 2))
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::derived::{Treatment, zonewise};
    use crate::plan::Frame;
    use crate::points::{PickUp, Rules, triangulate};
    use crate::quantities::Basin;
    use crate::surface::Surface;
    use crate::units::LengthUnit;
    use crate::zones::{Zone, Zones};
    use proptest::prelude::*;

    const ORIGIN: [f64; 2] = [500_000.0, 6_000_000.0];

    fn frame() -> Frame {
        Frame::new(LengthUnit::Metre, ORIGIN)
    }

    fn triangulated(points: impl Iterator<Item = (f64, f64, f64)>) -> Tin {
        let points = points.map(|(e, n, h)| Vertex::new(ORIGIN[0] + e, ORIGIN[1] + n, h));
        let pick_up = PickUp::from(points.collect::<Vec<_>>());
        let rules = Rules::default();
        triangulate(frame(), &pick_up, &rules).unwrap().tin
    }

    /// A pond of 4 by 4 with vertical sides, 2 deep in ground at 10: at 9 its water ends at the sides.
    #[test]
    fn water_ends_at_upright_sides() {
        let ground = triangulated(
            [(0.0, 0.0), (12.0, 0.0), (12.0, 12.0), (0.0, 12.0)]
                .into_iter()
                .map(|(e, n)| (e, n, 10.0)),
        );
        let ring = [(4.0, 4.0), (8.0, 4.0), (8.0, 8.0), (4.0, 8.0), (4.0, 4.0)];
        let ring = ring.map(|(e, n)| Place::new(ORIGIN[0] + e, ORIGIN[1] + n));
        let pond = Zone::new("pond", frame(), vec![vec![ring.to_vec()]]).unwrap();
        let zones = Zones::new(frame(), vec![pond]);
        let dug = zonewise(&Surface::Tin(ground), &zones, |zones| match zones {
            [] => Treatment::Keep,
            _ => Treatment::Raise(-2.0),
        });
        let Surface::Tin(dug) = dug.unwrap() else {
            panic!("facets")
        };
        let water = Zone::new("water", frame(), level_area(&dug, 9.0, SideOfLevel::Below)).unwrap();
        assert!((water.area() - 16.0).abs() < 1e-9);
        let dry = Zone::new("dry", frame(), level_area(&dug, 9.0, SideOfLevel::Above)).unwrap();
        assert!((dry.area() - 128.0).abs() < 1e-9);
        assert!(level_area(&dug, 7.0, SideOfLevel::Below).is_empty());
    }

    proptest! {
        #![proptest_config(ProptestConfig::with_cases(96))]

        /// Whatever the ground and the level: a zone, as large as the water that the facets hold, and what is left
        /// beside it is the rest.
        #[test]
        fn outlines_hold_what_the_facets_do(
            heights in prop::collection::vec(-6i32..7, 49),
            level in -5i32..6,
        ) {
            // On whole levels, so that it often runs through corners and along edges.
            let points = heights.iter().enumerate().map(|(index, height)| {
                let shift = 0.25 * (index % 3) as f64;
                (2.0 * (index % 7) as f64, 2.0 * (index / 7) as f64 + shift, f64::from(*height))
            });
            let tin = triangulated(points);
            let level = f64::from(level);
            let water = Basin::of(&tin).at(&[level])[0];
            let area = |side: SideOfLevel| match level_area(&tin, level, side) {
                parts if parts.is_empty() => 0.0,
                parts => Zone::new("water", frame(), parts).unwrap().area(),
            };
            let (below, above) = (area(SideOfLevel::Below), area(SideOfLevel::Above));
            // New corners are held to a hundredth of a micrometre along outlines of some hundred.
            prop_assert!((below - water.area).abs() < 1e-5, "{below} {water:?}");
            let rest = tin.area() - water.area - water.level_ground;
            prop_assert!((above - rest).abs() < 1e-5, "{above} {rest}");
        }
    }
}
