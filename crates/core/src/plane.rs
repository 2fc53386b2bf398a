//! The plane of a facet.

use crate::{Place, Vertex};

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

    /// The height at `place`.
    ///
    /// ```
    /// use dapedon_core::{Place, Plane, Vertex};
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
