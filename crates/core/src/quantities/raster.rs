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
    pub(crate) fn middles(&self, outline: &Polygon, mut visit: impl FnMut(u32, Place)) {
        let corners = outline.corners();
        let extent = Extent::of(corners.iter().copied());
        let from = self.corner.north - extent.max.north;
        for row in self.between(from, from + extent.height(), self.rows) {
            let north = self.corner.north - (row as f64 + 0.5) * self.cell;
            let Some([west, east]) = span(corners, north) else {
                continue;
            };
            let (from, to) = (west - self.corner.east, east - self.corner.east);
            for column in self.between(from, to, self.columns) {
                let at = Place::new(self.middle_of(column), north);
                visit((row * self.columns + column) as u32, at);
            }
        }
    }
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
