//! Which of many triangles reach where.

use crate::plan::cells::Cells;
use crate::plan::{Extent, Place};

/// Triangles fewer than this are asked one by one.
const MANY: usize = 48;

/// Triangles by the cells of the plan that they reach into.
#[derive(Debug)]
pub(super) struct Lookup<'t> {
    triangles: &'t [[Place; 3]],
    extent: Extent,
    cells: Cells,
    /// Cell by cell, those that reach into it.
    reaching: Vec<Vec<u32>>,
}

impl<'t> Lookup<'t> {
    /// `None` for few triangles, which are asked as quickly one by one.
    pub(super) fn of(triangles: &'t [[Place; 3]]) -> Option<Self> {
        if triangles.len() < MANY {
            return None;
        }
        let extent = Extent::of(triangles.iter().flatten().copied());
        let cells = Cells::over(&extent, (2 * triangles.len()).min(1 << 20) as f64);
        let mut reaching = vec![Vec::new(); cells.count()];
        for (number, triangle) in (0..).zip(triangles) {
            cells.reached(*triangle, |cell| reaching[cell].push(number));
        }
        Some(Lookup {
            triangles,
            extent,
            cells,
            reaching,
        })
    }

    /// The triangles that may meet an extent, ascending.
    pub(super) fn find(&self, extent: &Extent, found: &mut Vec<u32>) {
        found.clear();
        if !self.extent.meets(extent) {
            return;
        }
        let [columns, rows] = self.cells.under(extent);
        for row in rows {
            for column in columns.clone() {
                found.extend_from_slice(&self.reaching[self.cells.number(column, row)]);
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
