//! Square pixels over the plan, and which of them a piece covers.

use crate::plan::{Extent, Place, Polygon};

/// Square pixels, row by row from the north-west corner.
pub(crate) struct Raster {
    pub(crate) columns: usize,
    pub(crate) rows: usize,
    pub(crate) cell: f64,
    pub(crate) corner: Place,
}

impl Raster {
    fn middle_of(&self, column: usize) -> f64 {
        self.corner.east + (column as f64 + 0.5) * self.cell
    }

    /// Pixels whose middles lie between two distances from the raster's border.
    fn between(&self, from: f64, to: f64, count: usize) -> std::ops::Range<usize> {
        let first = (from / self.cell - 0.5).ceil().max(0.0) as usize;
        let last = (to / self.cell - 0.5).floor();
        let end = if last < 0.0 {
            0
        } else {
            (last as usize + 1).min(count)
        };
        first..end.max(first)
    }

    /// Visits the pixels whose middles lie in a convex outline.
    pub(crate) fn middles(&self, outline: &Polygon, visit: impl FnMut(u32, Place)) {
        self.middles_near(outline, 0.0, visit);
    }

    /// The same with those that are no farther outside than `near`: of outlines that share an edge none loses what lies on it to rounding.
    pub(crate) fn middles_near(
        &self,
        outline: &Polygon,
        near: f64,
        mut visit: impl FnMut(u32, Place),
    ) {
        let corners = outline.corners();
        let extent = Extent::of(corners.iter().copied());
        let from = self.corner.north - extent.max.north;
        for row in self.between(from - near, from + extent.height() + near, self.rows) {
            let north = self.corner.north - (row as f64 + 0.5) * self.cell;
            let Some([west, east]) = span_near(corners, north, near) else {
                continue;
            };
            let (from, to) = (west - self.corner.east, east - self.corner.east);
            let (from, to) = (from - near, to + near);
            for column in self.between(from, to, self.columns) {
                let at = Place::new(self.middle_of(column), north);
                visit((row * self.columns + column) as u32, at);
            }
        }
    }
}

/// From where to where a convex outline reaches along a northing, or one as near as that.
fn span_near(corners: &[Place], north: f64, near: f64) -> Option<[f64; 2]> {
    if near == 0.0 {
        return span(corners, north);
    }
    let spans = [north - near, north, north + near].map(|north| span(corners, north));
    let join = |a: [f64; 2], b: [f64; 2]| [a[0].min(b[0]), a[1].max(b[1])];
    spans.into_iter().flatten().reduce(join)
}

/// From where to where a convex outline reaches along a northing.
fn span(corners: &[Place], north: f64) -> Option<[f64; 2]> {
    let (mut west, mut east) = (f64::INFINITY, f64::NEG_INFINITY);
    let mut before = *corners.last()?;
    for &here in corners {
        if (before.north <= north) != (here.north <= north) {
            let share = (north - before.north) / (here.north - before.north);
            let at = before.east + share * (here.east - before.east);
            (west, east) = (west.min(at), east.max(at));
        }
        before = here;
    }
    (west <= east).then_some([west, east])
}

#[cfg(test)]
mod tests {
    use super::*;

    /// Middles on the edge that two triangles share, which lie in neither of them by rounding.
    fn lost(near: f64) -> usize {
        let raster = Raster {
            columns: 64,
            rows: 64,
            cell: 0.37,
            corner: Place::new(0.1, 25.3),
        };
        let middle = |column: usize, row: usize| {
            let north = raster.corner.north - (row as f64 + 0.5) * raster.cell;
            Place::new(raster.middle_of(column), north)
        };
        let mut lost = 0;
        for case in 0..400 {
            // An edge through a middle and the one five columns and two or three rows on, beyond both by odd lengths.
            let (column, row) = (10 + case % 40, 12 + case / 10);
            let [from, to] = [middle(column, row), middle(column + 5, row + 2 + case % 2)];
            let (east, north) = (to.east - from.east, to.north - from.north);
            let on = |share: f64, aside: f64| {
                let at = from.east + share * east - aside * north;
                Place::new(at, from.north + share * north + aside * east)
            };
            let share = 0.1 + case as f64 / 777.0;
            let [a, b] = [on(-share, 0.0), on(1.0 + share / 3.0, 0.0)];
            let (left, right) = (on(0.4, 0.9), on(0.6, -0.8));
            let mut found = Vec::new();
            for triangle in [[a, b, left], [b, a, right]] {
                let outline = Polygon::triangle(triangle);
                raster.middles_near(&outline, near, |index, _| found.push(index));
            }
            let both = [(column, row), (column + 5, row + 2 + case % 2)];
            let own = both.map(|(column, row)| (row * raster.columns + column) as u32);
            lost += own.iter().filter(|index| !found.contains(index)).count();
        }
        lost
    }

    #[test]
    fn nothing_on_a_shared_edge_is_lost() {
        assert_eq!(lost(1e-9), 0);
        // Where it is not looked for nearby, rounding loses some.
        assert!(lost(0.0) > 0);
    }
}
