//! Which of many triangles reach where.

use crate::plan::{Extent, Place};

/// Triangles fewer than this are asked one by one.
const MANY: usize = 48;

/// Triangles by the cells of the plan that they reach into.
#[derive(Debug)]
pub(super) struct Lookup<'t> {
    triangles: &'t [[Place; 3]],
    extent: Extent,
    columns: usize,
    rows: usize,
    cells: Vec<Vec<u32>>,
}

impl<'t> Lookup<'t> {
    /// `None` for few triangles, which are asked as quickly one by one.
    pub(super) fn of(triangles: &'t [[Place; 3]]) -> Option<Self> {
        if triangles.len() < MANY {
            return None;
        }
        let extent = Extent::of(triangles.iter().flatten().copied());
        let wanted = (2 * triangles.len()).min(1 << 20) as f64;
        let columns = (wanted * extent.width() / extent.height())
            .sqrt()
            .clamp(1.0, wanted);
        let rows = (wanted / columns).ceil() as usize;
        let columns = columns.ceil() as usize;
        let mut lookup = Lookup {
            triangles,
            extent,
            columns,
            rows,
            cells: vec![Vec::new(); columns * rows],
        };
        for (index, triangle) in triangles.iter().enumerate() {
            lookup.enter(index as u32, triangle);
        }
        Some(lookup)
    }

    /// A place in columns and rows.
    fn at(&self, place: Place) -> [f64; 2] {
        [
            (place.east - self.extent.min.east) / self.extent.width() * self.columns as f64,
            (place.north - self.extent.min.north) / self.extent.height() * self.rows as f64,
        ]
    }

    /// Enters a triangle row by row, from its westernmost to its easternmost place there.
    fn enter(&mut self, index: u32, triangle: &[Place; 3]) {
        // Wider than any rounding here.
        const SLACK: f64 = 1e-6;
        let corners = triangle.map(|corner| self.at(corner));
        let [low, high] = [f64::min as fn(f64, f64) -> f64, f64::max]
            .map(|of| of(of(corners[0][1], corners[1][1]), corners[2][1]));
        let clamp = |value: f64, count: usize| (value.max(0.0) as usize).min(count - 1);
        for row in clamp(low - SLACK, self.rows)..=clamp(high + SLACK, self.rows) {
            let (south, north) = (row as f64 - SLACK, row as f64 + 1.0 + SLACK);
            let (mut west, mut east) = (f64::INFINITY, f64::NEG_INFINITY);
            for side in 0..3 {
                let (a, b) = (corners[side], corners[(side + 1) % 3]);
                // Both ends of what of the side lies in the row.
                for north in [south, north, a[1]] {
                    let share = match b[1] == a[1] {
                        true => 0.0,
                        false => ((north - a[1]) / (b[1] - a[1])).clamp(0.0, 1.0),
                    };
                    let at = [a[0] + share * (b[0] - a[0]), a[1] + share * (b[1] - a[1])];
                    if at[1] >= south - SLACK && at[1] <= row as f64 + 1.0 + 2.0 * SLACK {
                        (west, east) = (west.min(at[0]), east.max(at[0]));
                    }
                }
            }
            if west > east {
                continue;
            }
            for column in clamp(west - SLACK, self.columns)..=clamp(east + SLACK, self.columns) {
                self.cells[row * self.columns + column].push(index);
            }
        }
    }

    /// The triangles that may meet an extent, ascending.
    pub(super) fn find(&self, extent: &Extent, found: &mut Vec<u32>) {
        found.clear();
        if !self.extent.meets(extent) {
            return;
        }
        let (low, high) = (self.at(extent.min), self.at(extent.max));
        let clamp = |value: f64, count: usize| (value.max(0.0) as usize).min(count - 1);
        let columns = clamp(low[0], self.columns)..=clamp(high[0], self.columns);
        for row in clamp(low[1], self.rows)..=clamp(high[1], self.rows) {
            for column in columns.clone() {
                found.extend_from_slice(&self.cells[row * self.columns + column]);
            }
        }
        found.sort_unstable();
        found.dedup();
        found.retain(|&triangle| Extent::of(self.triangles[triangle as usize]).meets(extent));
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn what_is_near_is_found() {
        // A fan of slivers and a heap of small triangles.
        let fan = (0..60).map(|i| {
            let (sin, cos) = (f64::from(i) * 0.1).sin_cos();
            let (next_sin, next_cos) = (f64::from(i + 1) * 0.1).sin_cos();
            [
                (0.0, 0.0),
                (9.0 * cos, 7.0 * sin),
                (9.0 * next_cos, 7.0 * next_sin),
            ]
        });
        let heap = (0..90).map(|i| {
            let (e, n) = (f64::from(i % 10) - 5.0, f64::from(i / 10) - 4.5);
            [(e, n), (e + 0.7, n), (e, n + 0.7)]
        });
        let triangles: Vec<_> = fan
            .chain(heap)
            .map(|t| t.map(|(e, n)| Place::new(e, n)))
            .collect();
        let lookup = Lookup::of(&triangles).unwrap();
        let mut found = Vec::new();
        for i in 0..400 {
            let (e, n) = (f64::from(i % 20) - 10.0, f64::from(i / 20) - 10.0);
            let extent = Extent::of([Place::new(e, n), Place::new(e + 0.3, n + 1.7)]);
            lookup.find(&extent, &mut found);
            let [a, c] = [extent.min, extent.max];
            let (b, d) = (Place::new(c.east, a.north), Place::new(a.east, c.north));
            for (index, triangle) in triangles.iter().enumerate() {
                let halves = [[a, b, c], [a, c, d]];
                let meets = halves.iter().any(|half| {
                    let whole = crate::plan::clip::Polygon::triangle(*half);
                    whole.within(triangle, &mut Default::default()).is_some()
                });
                assert!(
                    !meets || found.contains(&(index as u32)),
                    "{index} at {e} {n}"
                );
            }
        }
        assert!(Lookup::of(&triangles[..10]).is_none());
    }
}
