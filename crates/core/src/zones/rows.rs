//! Edges by the rows they pass, to tell quickly whether a place lies within outlines.

use crate::plan::cross;
use crate::plan::{Edge, Extent, Place};

/// The edges of closed outlines, by the rows of the plan they pass.
pub(crate) struct Rows<'e> {
    from: f64,
    per_unit: f64,
    rows: Vec<Vec<&'e Edge>>,
}

impl<'e> Rows<'e> {
    pub(crate) fn of(edges: &'e [Edge]) -> Self {
        let extent = Extent::of(edges.iter().map(|e| e.from));
        let count = (edges.len() / 4).clamp(1, 4096);
        let mut rows = Rows {
            from: extent.min.north,
            per_unit: count as f64 / extent.height(),
            rows: vec![Vec::new(); count],
        };
        for edge in edges {
            let ends = [rows.row(edge.from.north), rows.row(edge.to.north)];
            for row in ends[0].min(ends[1])..=ends[0].max(ends[1]) {
                rows.rows[row].push(edge);
            }
        }
        rows
    }

    fn row(&self, north: f64) -> usize {
        (((north - self.from) * self.per_unit) as usize).min(self.rows.len() - 1)
    }

    /// Even-odd: a ray to the east passes an odd number of edges.
    pub(crate) fn hold(&self, place: Place) -> bool {
        let passes = |edge: &&&Edge| {
            let rises = edge.from.north <= place.north && place.north < edge.to.north;
            let falls = edge.to.north <= place.north && place.north < edge.from.north;
            let left = cross(edge.from, edge.to, place) > 0.0;
            (rises && left) || (falls && !left)
        };
        self.rows[self.row(place.north)]
            .iter()
            .filter(passes)
            .count()
            % 2
            == 1
    }
}
