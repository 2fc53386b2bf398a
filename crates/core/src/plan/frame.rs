//! The frame that coordinates are held in.

use crate::plan::Extent;
use crate::units::LengthUnit;

/// The survey's length unit, and the origin taken off its grid coordinates.
///
/// At a grid coordinate of six million a double resolves a nanometre, but the square of that
/// coordinate only a few millimetres². With the origin taken off, products keep full precision. The
/// origin is a whole number of units, so taking it off a coordinate of that size is exact.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Frame {
    unit: LengthUnit,
    origin: [f64; 2],
}

impl Frame {
    /// A frame at `origin` (east, north), rounded to whole units.
    pub fn new(unit: LengthUnit, origin: [f64; 2]) -> Self {
        let origin = origin.map(f64::round);
        Frame { unit, origin }
    }

    /// The frame whose origin lies in the middle of `extent`, given in grid coordinates.
    pub fn around(unit: LengthUnit, extent: Extent) -> Self {
        let middle = extent.middle();
        Frame::new(unit, [middle.east, middle.north])
    }

    /// The length unit of coordinates and heights.
    pub fn unit(&self) -> LengthUnit {
        self.unit
    }

    /// The grid coordinates (east, north) of the local origin.
    pub fn origin(&self) -> [f64; 2] {
        self.origin
    }

    /// Grid coordinates to local.
    pub fn to_local(&self, east: f64, north: f64) -> crate::plan::Place {
        crate::plan::Place::new(east - self.origin[0], north - self.origin[1])
    }

    /// Local coordinates to grid.
    pub fn to_grid(&self, place: crate::plan::Place) -> crate::plan::Place {
        crate::plan::Place::new(place.east + self.origin[0], place.north + self.origin[1])
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::plan::Place;

    #[test]
    fn taking_the_origin_off_loses_nothing() {
        let extent = Extent::of([
            Place::new(500_000.25, 6_000_000.5),
            Place::new(500_900.0, 6_001_000.0),
        ]);
        let frame = Frame::around(LengthUnit::Metre, extent);
        for (east, north) in [(500_123.456, 6_000_789.012), (500_000.001, 6_000_000.001)] {
            let there = frame.to_local(east, north);
            let back = frame.to_grid(there);
            assert_eq!((back.east, back.north), (east, north));
        }
    }
}
