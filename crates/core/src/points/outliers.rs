//! Heights far from what their neighbours say.

use crate::surface::Tin;

/// Ground that stands steeper than this above or below all its neighbours is no ground: no soil
/// rests at more than 45°.
const STEEPEST: f64 = 1.0;
/// And it stands out by more than this many times the usual difference between neighbours.
const MANY: f64 = 6.0;

/// A point whose height is far from what its neighbours say.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Outlier {
    /// The vertex.
    pub vertex: u32,
    /// How far it stands above its neighbours; below them where negative.
    pub amount: f64,
}

/// Finds vertices that stand out alone, by the amount they do, the greatest first.
///
/// A vertex is odd when it stands above all its neighbours, or below them all, one of them left aside
/// where there are five or more, by more than six times the middle difference between neighbours,
/// and steeper than 45°. The amount is the distance to the nearest of the heights it was held
/// against.
pub fn odd_points(tin: &Tin) -> Vec<Outlier> {
    let vertices = tin.vertices();
    let sides = |&[a, b, c]: &[u32; 3]| [[a, b], [b, c], [c, a]];
    let edges = || tin.facets().iter().flat_map(sides);
    let height = |vertex: u32| vertices[vertex as usize].height;

    let mut differences: Vec<f64> = edges()
        .map(|[from, to]| (height(to) - height(from)).abs())
        .collect();
    let middle = differences.len() / 2;
    let usual = *differences.select_nth_unstable_by(middle, f64::total_cmp).1;

    // The neighbours of each vertex, one list after the other.
    let mut starts = vec![0u32; vertices.len() + 1];
    for [from, to] in edges() {
        starts[from as usize + 1] += 1;
        starts[to as usize + 1] += 1;
    }
    for vertex in 0..vertices.len() {
        starts[vertex + 1] += starts[vertex];
    }
    let mut next = starts.clone();
    let mut neighbours = vec![0u32; starts[vertices.len()] as usize];
    for [from, to] in edges() {
        for [one, other] in [[from, to], [to, from]] {
            let at = &mut next[one as usize];
            neighbours[*at as usize] = other;
            *at += 1;
        }
    }

    let mut found = Vec::new();
    let mut above: Vec<(f64, f64)> = Vec::new();
    for vertex in 0..vertices.len() {
        let (from, to) = (starts[vertex] as usize, starts[vertex + 1] as usize);
        let around = &mut neighbours[from..to];
        around.sort_unstable();
        let here = vertices[vertex];
        above.clear();
        above.extend(around.chunk_by(|a, b| a == b).map(|run| {
            let there = vertices[run[0] as usize];
            let distance = libm::hypot(there.east - here.east, there.north - here.north);
            (here.height - there.height, distance)
        }));
        if above.len() < 3 {
            continue;
        }
        above.sort_unstable_by(|a, b| a.0.total_cmp(&b.0));
        let aside = usize::from(above.len() >= 5);
        let stands_out = |&(amount, distance): &(f64, f64)| {
            amount > MANY * usual && amount > STEEPEST * distance
        };
        let turned = |&(amount, distance): &(f64, f64)| stands_out(&(-amount, distance));
        let amount = if above[aside..].iter().all(stands_out) {
            above[aside].0
        } else if above[..above.len() - aside].iter().all(turned) {
            above[above.len() - aside - 1].0
        } else {
            continue;
        };
        found.push(Outlier {
            vertex: vertex as u32,
            amount,
        });
    }
    found.sort_by(|a, b| (b.amount.abs().total_cmp(&a.amount.abs())).then(a.vertex.cmp(&b.vertex)));
    found
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::plan::Frame;
    use crate::points::{PickUp, Rules, triangulate};
    use crate::surface::Vertex;
    use crate::units::LengthUnit;

    /// A bank at 1 in 2 with a crest, points two apart, and what `change` makes of each height.
    fn bank(change: impl Fn(i32, i32) -> f64) -> Tin {
        let points = (0..20).flat_map(|i| (0..20).map(move |j| (i, j)));
        let points = points.map(|(i, j)| {
            let (e, n) = (
                2.0 * f64::from(i),
                2.0 * f64::from(j) + 0.02 * f64::from(i * i % 7),
            );
            let bank = 10.0 - 0.5 * (e - 18.0).abs() + 0.03 * f64::from((i * j) % 5);
            Vertex::new(e, n, bank + change(i, j))
        });
        let frame = Frame::new(LengthUnit::Metre, [0.0, 0.0]);
        let pick_up = PickUp::from(points.collect::<Vec<_>>());
        triangulate(frame, &pick_up, &Rules::default()).unwrap().tin
    }

    #[test]
    fn banks_and_crests_are_not_odd() {
        assert_eq!(odd_points(&bank(|_, _| 0.0)), []);
    }

    #[test]
    fn a_spike_and_a_pit_are_odd() {
        let tin = bank(|i, j| match (i, j) {
            (5, 5) => 30.0,
            (14, 11) => -12.0,
            _ => 0.0,
        });
        let found = odd_points(&tin);
        let places: Vec<_> = found
            .iter()
            .map(|odd| tin.vertices()[odd.vertex as usize].east)
            .collect();
        assert_eq!(places, [10.0, 28.0]);
        // Against neighbours two away on a bank of 1 in 2.
        assert!(
            (29.0..30.0).contains(&found[0].amount) && (-12.0..-10.0).contains(&found[1].amount)
        );
    }

    #[test]
    fn a_wrong_height_next_to_a_wrong_height_is_still_odd() {
        let tin = bank(|i, j| {
            if i == 9 && (j == 8 || j == 9) {
                -10.0
            } else {
                0.0
            }
        });
        assert_eq!(odd_points(&tin).len(), 2);
    }
}
