//! Places, edges and extents in plan.

pub(crate) mod cells;
pub(crate) mod clip;
pub(crate) mod crossing;
pub(crate) mod curve;
pub(crate) mod frame;
pub(crate) mod groups;
pub(crate) mod membership;
pub(crate) mod places;
pub(crate) mod precision;
pub(crate) mod round;
pub(crate) mod side;
pub(crate) mod strips;
pub(crate) mod sum;
pub(crate) mod sweep;

pub use clip::Polygon;
pub use frame::Frame;
pub use precision::{Precision, RELATIVE};
pub use round::round_up;
pub use sum::Sum;

/// A place in plan, in the local frame unless stated otherwise.
#[derive(Debug, Clone, Copy, PartialEq, Default)]
pub struct Place {
    /// Towards east.
    pub east: f64,
    /// Towards north.
    pub north: f64,
}

impl Place {
    /// A place at `east`, `north`.
    pub const fn new(east: f64, north: f64) -> Self {
        Place { east, north }
    }
}

/// Twice the signed area of the triangle `a b c`: positive when counter-clockwise.
#[inline(always)]
pub(crate) fn cross(a: Place, b: Place, c: Place) -> f64 {
    (b.east - a.east) * (c.north - a.north) - (b.north - a.north) * (c.east - a.east)
}

/// A directed edge in plan; what it bounds lies on its left.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Edge {
    /// Where it starts.
    pub from: Place,
    /// Where it ends.
    pub to: Place,
}

impl Edge {
    pub(crate) fn length(&self) -> f64 {
        libm::hypot(
            self.to.east - self.from.east,
            self.to.north - self.from.north,
        )
    }

    /// The place at a share of it: its start at 0, its end at 1.
    pub(crate) fn at(&self, share: f64) -> Place {
        Place::new(
            self.from.east + share * (self.to.east - self.from.east),
            self.from.north + share * (self.to.north - self.from.north),
        )
    }

    /// How far a place is from it.
    pub(crate) fn distance(&self, place: Place) -> f64 {
        let near = self.at(self.share(place).clamp(0.0, 1.0));
        libm::hypot(place.east - near.east, place.north - near.north)
    }

    /// Where a place stands along it: 0 at its start, 1 at its end.
    pub(crate) fn share(&self, at: Place) -> f64 {
        let (east, north) = (
            self.to.east - self.from.east,
            self.to.north - self.from.north,
        );
        let along = (at.east - self.from.east) * east + (at.north - self.from.north) * north;
        along / (east * east + north * north)
    }
}

/// An upright rectangle in plan, borders included.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Extent {
    /// South-west corner.
    pub min: Place,
    /// North-east corner.
    pub max: Place,
}

impl Extent {
    /// The extent of nothing: every union with it is the other.
    pub const EMPTY: Extent = Extent {
        min: Place::new(f64::INFINITY, f64::INFINITY),
        max: Place::new(f64::NEG_INFINITY, f64::NEG_INFINITY),
    };

    /// The extent of everything.
    pub const EVERYWHERE: Extent = Extent {
        min: Place::new(f64::NEG_INFINITY, f64::NEG_INFINITY),
        max: Place::new(f64::INFINITY, f64::INFINITY),
    };

    /// The smallest extent that holds all `places`.
    ///
    /// ```
    /// use dapedon_core::plan::{Extent, Place};
    /// let extent = Extent::of([Place::new(1.0, 7.0), Place::new(3.0, 2.0)]);
    /// assert_eq!((extent.width(), extent.height()), (2.0, 5.0));
    /// ```
    pub fn of(places: impl IntoIterator<Item = Place>) -> Self {
        places.into_iter().fold(Extent::EMPTY, |extent, p| Extent {
            min: Place::new(extent.min.east.min(p.east), extent.min.north.min(p.north)),
            max: Place::new(extent.max.east.max(p.east), extent.max.north.max(p.north)),
        })
    }

    /// True when it holds no place at all.
    pub fn is_empty(&self) -> bool {
        self.min.east > self.max.east || self.min.north > self.max.north
    }

    /// From west to east.
    pub fn width(&self) -> f64 {
        self.max.east - self.min.east
    }

    /// From south to north.
    pub fn height(&self) -> f64 {
        self.max.north - self.min.north
    }

    /// Its middle.
    pub fn middle(&self) -> Place {
        Place::new(
            (self.min.east + self.max.east) / 2.0,
            (self.min.north + self.max.north) / 2.0,
        )
    }

    /// The smallest extent that holds both.
    pub fn union(&self, other: &Extent) -> Extent {
        Extent {
            min: Place::new(
                self.min.east.min(other.min.east),
                self.min.north.min(other.min.north),
            ),
            max: Place::new(
                self.max.east.max(other.max.east),
                self.max.north.max(other.max.north),
            ),
        }
    }

    /// What both hold; empty when they are apart.
    pub fn intersection(&self, other: &Extent) -> Extent {
        Extent {
            min: Place::new(
                self.min.east.max(other.min.east),
                self.min.north.max(other.min.north),
            ),
            max: Place::new(
                self.max.east.min(other.max.east),
                self.max.north.min(other.max.north),
            ),
        }
    }

    /// True when they share at least a place.
    #[inline]
    pub fn meets(&self, other: &Extent) -> bool {
        self.min.east <= other.max.east
            && other.min.east <= self.max.east
            && self.min.north <= other.max.north
            && other.min.north <= self.max.north
    }

    /// True when `other` lies in it entirely.
    pub fn holds(&self, other: &Extent) -> bool {
        self.intersection(other) == *other
    }
}
