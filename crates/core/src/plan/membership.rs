//! Whether a place lies within closed outlines, decided exactly.

use crate::plan::cells::Rows;
use crate::plan::side::side;
use crate::plan::{Edge, Extent, Place};

/// True where closed outlines hold a place: a ray to the east passes an odd number of their edges. A place on an edge
/// lies on its north or east, so that outlines that share an edge hold each place once.
pub(crate) fn holds(edges: impl IntoIterator<Item = Edge>, at: Place) -> bool {
    let passed = edges.into_iter().filter(|edge| is_passed(*edge, at));
    passed.count() % 2 == 1
}

/// True where a ray from a place to the east passes an edge.
fn is_passed(edge: Edge, at: Place) -> bool {
    let rises = edge.from.north <= at.north && at.north < edge.to.north;
    let falls = edge.to.north <= at.north && at.north < edge.from.north;
    (rises && side(edge.from, edge.to, at) > 0.0) || (falls && side(edge.to, edge.from, at) > 0.0)
}

/// The edges of closed outlines, by the rows of the plan they pass, for many places to be asked about.
pub(crate) struct EdgeRows<'e> {
    rows: Rows,
    passing: Vec<Vec<&'e Edge>>,
}

impl<'e> EdgeRows<'e> {
    pub(crate) fn of(edges: &'e [Edge]) -> Self {
        let extent = Extent::of(edges.iter().map(|e| e.from));
        let bounds = [extent.min.north, extent.max.north];
        let rows = Rows::new(bounds, (edges.len() / 4).min(4096));
        let mut passing = vec![Vec::new(); rows.count()];
        for edge in edges {
            for row in rows.between(edge.from.north, edge.to.north) {
                passing[row].push(edge);
            }
        }
        EdgeRows { rows, passing }
    }

    /// True where they hold a place, as [`holds`] says.
    pub(crate) fn hold(&self, at: Place) -> bool {
        let passing = &self.passing[self.rows.of(at.north)];
        holds(passing.iter().copied().copied(), at)
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    fn ring(corners: &[Place]) -> Vec<Edge> {
        let next = corners.iter().cycle().skip(1);
        let edge = |(&from, &to): (&Place, &Place)| Edge { from, to };
        corners.iter().zip(next).map(edge).collect()
    }

    proptest! {
        /// Fans of triangles round a place, in coordinates that no double holds exactly: each place within the fan lies
        /// in one triangle and one alone, and places on what two share are no exception.
        #[test]
        fn triangles_side_by_side_hold_each_place_once(
            turns in prop::collection::vec(0.3f64..1.0, 5..12),
            origin in prop::array::uniform2(-1e6f64..1e6),
            along in 0.0f64..1.0,
            which in 0usize..11,
            away in prop::array::uniform2(-1.5f64..1.5),
        ) {
            let whole: f64 = turns.iter().sum();
            let middle = Place::new(origin[0], origin[1]);
            let mut angle = 0.0;
            let rim: Vec<Place> = turns.iter().map(|turn| {
                angle += turn / whole * std::f64::consts::TAU;
                Place::new(origin[0] + 2.0 * libm::cos(angle), origin[1] + 2.0 * libm::sin(angle))
            }).collect();
            let next = rim.iter().cycle().skip(1);
            let fan: Vec<Vec<Edge>> = rim.iter().zip(next).map(|(&a, &b)| ring(&[middle, a, b])).collect();
            let outer = ring(&rim);
            let spoke = rim[which % rim.len()];
            let on_a_spoke = Place::new(
                middle.east + along * (spoke.east - middle.east),
                middle.north + along * (spoke.north - middle.north),
            );
            let near = Place::new(middle.east + away[0], middle.north + away[1]);
            for at in [middle, on_a_spoke, near] {
                let within = fan.iter().filter(|triangle| holds(triangle.iter().copied(), at)).count();
                prop_assert_eq!(within, usize::from(holds(outer.iter().copied(), at)));
                let by_rows = fan.iter().filter(|triangle| EdgeRows::of(triangle).hold(at)).count();
                prop_assert_eq!(within, by_rows);
                prop_assert_eq!(holds(outer.iter().copied(), at), EdgeRows::of(&outer).hold(at));
            }
        }
    }
}
