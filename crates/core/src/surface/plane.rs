//! The plane of a facet.

use crate::plan::precision::CANCELLED;
use crate::plan::{Place, Sum};
use crate::surface::Vertex;

/// A plane of heights, held at one of its points so that steep and far facets lose no precision.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Plane {
    anchor: Place,
    height: f64,
    /// Rise per unit towards east.
    pub slope_east: f64,
    /// Rise per unit towards north.
    pub slope_north: f64,
}

impl Plane {
    /// The level plane at `height`.
    pub const fn level(height: f64) -> Self {
        Plane {
            anchor: Place::new(0.0, 0.0),
            height,
            slope_east: 0.0,
            slope_north: 0.0,
        }
    }

    /// The plane through three vertices that do not stand in one line in plan.
    ///
    /// Cramer's rule on the two edge vectors that leave the first vertex.
    pub fn through(a: Vertex, b: Vertex, c: Vertex) -> Self {
        let (be, bn, bh) = (b.east - a.east, b.north - a.north, b.height - a.height);
        let (ce, cn, ch) = (c.east - a.east, c.north - a.north, c.height - a.height);
        let scale = 1.0 / (be * cn - bn * ce);
        Plane {
            anchor: a.place(),
            height: a.height,
            slope_east: (bh * cn - ch * bn) * scale,
            slope_north: (ch * be - bh * ce) * scale,
        }
    }

    /// The plane that fits some lines with the least squares of its height above them, each unit of their length in
    /// plan alike, however they are divided; none where they stand in one line.
    ///
    /// The normal equations of the fit, about the middle of the lines, with the integrals along each line in place of
    /// sums over points: of a product of two linear functions that is its length times
    /// (2 ab + 2 a'b' + ab' + a'b) / 6. See `docs/methods.md`, "Bases".
    pub(crate) fn fitted(lines: &[[Vertex; 2]]) -> Option<Self> {
        let length =
            |[from, to]: &[Vertex; 2]| libm::hypot(to.east - from.east, to.north - from.north);
        let mut sums = [Sum::ZERO; 4];
        for line @ [from, to] in lines {
            let half = length(line) / 2.0;
            sums[0] += length(line);
            sums[1] += half * (from.east + to.east);
            sums[2] += half * (from.north + to.north);
            sums[3] += half * (from.height + to.height);
        }
        let whole = sums[0].value();
        let [east, north, height] = [1, 2, 3].map(|of: usize| sums[of].value() / whole);
        // ee, en, nn, eh, nh about the middle.
        let mut products = [Sum::ZERO; 5];
        for line in lines {
            let [a, b] = line.map(|end| [end.east - east, end.north - north, end.height - height]);
            let pairs = [(0, 0), (0, 1), (1, 1), (0, 2), (1, 2)];
            for (sum, (i, j)) in products.iter_mut().zip(pairs) {
                let both = 2.0 * (a[i] * a[j] + b[i] * b[j]) + a[i] * b[j] + b[i] * a[j];
                *sum += length(line) * both / 6.0;
            }
        }
        let [ee, en, nn, eh, nh] = products.map(|sum| sum.value());
        let determinant = ee * nn - en * en;
        // Of lines in one line the determinant is nothing but rounding.
        (determinant > CANCELLED * ee * nn).then(|| Plane {
            anchor: Place::new(east, north),
            height,
            slope_east: (eh * nn - nh * en) / determinant,
            slope_north: (nh * ee - eh * en) / determinant,
        })
    }

    /// The height at `place`.
    ///
    /// ```
    /// use dapedon_core::surface::Plane;
    /// use dapedon_core::plan::{Place};
    /// use dapedon_core::surface::{Vertex};
    /// let roof = Plane::through(
    ///     Vertex::new(0.0, 0.0, 1.0),
    ///     Vertex::new(2.0, 0.0, 2.0),
    ///     Vertex::new(0.0, 4.0, 1.0),
    /// );
    /// assert_eq!(roof.at(Place::new(4.0, 9.0)), 3.0);
    /// ```
    #[inline]
    pub fn at(&self, place: Place) -> f64 {
        self.height
            + self.slope_east * (place.east - self.anchor.east)
            + self.slope_north * (place.north - self.anchor.north)
    }
}
