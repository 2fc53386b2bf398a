//! Convex polygons in plan, and cutting them.

use crate::plan::Place;
use crate::plan::cross;

/// Three corners of a facet, cut by three edges of a zone's triangle, three of the other facet and
/// a level of difference, gain one corner each at most; the rest is room for rounding.
const CAPACITY: usize = 16;

/// A convex polygon, counter-clockwise, without an allocation of its own.
#[derive(Debug, Clone, Copy)]
pub struct Polygon {
    corners: [Place; CAPACITY],
    len: usize,
}

impl Default for Polygon {
    fn default() -> Self {
        Polygon {
            corners: [Place::new(0.0, 0.0); CAPACITY],
            len: 0,
        }
    }
}

impl Polygon {
    #[inline(always)]
    pub(crate) fn triangle(corners: [Place; 3]) -> Self {
        let mut polygon = Polygon::default();
        polygon.corners[..3].copy_from_slice(&corners);
        polygon.len = 3;
        polygon
    }

    /// Its corners.
    #[inline(always)]
    pub fn corners(&self) -> &[Place] {
        &self.corners[..self.len.min(CAPACITY)]
    }

    /// Its area.
    ///
    /// Half the cross products about the first corner (the shoelace formula, origin at a corner).
    pub fn area(&self) -> f64 {
        self.integrate(&[0.0; CAPACITY]).area
    }

    /// The values of a function at the corners, with the least and the greatest of them.
    #[inline(always)]
    pub(crate) fn values(&self, at: impl Fn(Place) -> f64) -> (Values, f64, f64) {
        let mut values = [0.0; CAPACITY];
        let (mut least, mut greatest) = (f64::INFINITY, f64::NEG_INFINITY);
        for (value, &corner) in values.iter_mut().zip(self.corners()) {
            *value = at(corner);
            least = if *value < least { *value } else { least };
            greatest = if *value > greatest { *value } else { greatest };
        }
        (values, least, greatest)
    }

    /// Area and integral of a linear function, given at the corners, over the whole.
    ///
    /// Over a triangle the integral is the area times the mean of the values at its corners.
    #[inline(always)]
    pub(crate) fn integrate(&self, values: &Values) -> Integral {
        let corners = self.corners();
        let (mut twice_area, mut six_integral) = (0.0, 0.0);
        for i in 2..corners.len() {
            let twice = cross(corners[0], corners[i - 1], corners[i]);
            twice_area += twice;
            six_integral += twice * (values[0] + values[i - 1] + values[i]);
        }
        Integral {
            area: twice_area / 2.0,
            integral: six_integral / 6.0,
        }
    }

    /// Area and integral of a linear function over the part where it exceeds `level`.
    #[inline(always)]
    pub(crate) fn integrate_above(&self, values: &Values, level: f64) -> Integral {
        let (mut part, mut part_values) = (Polygon::default(), [0.0; CAPACITY]);
        self.above(values, level, &mut part, Some(&mut part_values));
        part.integrate(&part_values)
    }

    /// The part where a linear function, given at the corners, is not below `level`.
    pub(crate) fn part_above(&self, values: &Values, level: f64) -> Polygon {
        let mut part = Polygon::default();
        self.above(values, level, &mut part, None);
        part
    }

    /// Makes `part` the part where a linear function is not below `level`, with the function's
    /// values at its corners.
    ///
    /// Sutherland and Hodgman, *Reentrant polygon clipping*, CACM 17 (1974), for one line. Which
    /// corners stay is as good as random, so corners are written first and kept by counting.
    #[inline(always)]
    fn above(
        &self,
        values: &Values,
        level: f64,
        part: &mut Polygon,
        mut kept: Option<&mut Values>,
    ) {
        let corners = self.corners();
        let mut len = 0;
        let mut put = |corner: Place, value: f64, keep: bool| {
            // Rounding can make a sliver that is not quite convex cross a line more than twice; a
            // corner past the capacity would belong to nothing that has an area.
            let at = len & (CAPACITY - 1);
            part.corners[at] = corner;
            if let Some(kept) = &mut kept {
                kept[at] = value;
            }
            len += usize::from(keep);
        };
        let mut before = corners.len().wrapping_sub(1) & (CAPACITY - 1);
        for (here, &corner) in corners.iter().enumerate() {
            let (from, to) = (values[before] - level, values[here] - level);
            let previous = self.corners[before];
            let t = from / (from - to);
            let east = previous.east + t * (corner.east - previous.east);
            let north = previous.north + t * (corner.north - previous.north);
            put(Place::new(east, north), level, from * to < 0.0);
            put(corner, values[here], to >= 0.0);
            before = here;
        }
        part.len = len;
    }

    /// The part within a counter-clockwise triangle; `None` when nothing with an area is.
    #[inline(always)]
    pub(crate) fn within<'p>(
        &'p self,
        triangle: &[Place; 3],
        room: &'p mut Room,
    ) -> Option<&'p Polygon> {
        let [a, b, c] = *triangle;
        // Most pairs that are apart are so along an edge: ask all three before cutting at any.
        let mut sides = [(a, b, false), (b, c, false), (c, a, false)];
        for (from, to, cuts) in &mut sides {
            let (mut any_left, mut any_right) = (false, false);
            for &corner in self.corners() {
                let side = cross(*from, *to, corner);
                any_left |= side > 0.0;
                any_right |= side < 0.0;
            }
            if !any_left {
                return None;
            }
            *cuts = any_right;
        }
        let mut part = self;
        let cut = sides.into_iter().filter(|(_, _, cuts)| *cuts);
        for ((from, to, _), kept) in cut.zip(room) {
            let (side, _, greatest) = part.values(|p| cross(from, to, p));
            if greatest <= 0.0 {
                return None;
            }
            part.above(&side, 0.0, kept, None);
            part = kept;
        }
        Some(part)
    }
}

/// True when all corners of `b` are outside one edge of the counter-clockwise triangle `a`.
#[inline(always)]
pub(crate) fn beyond(a: &[Place; 3], b: &[Place; 3]) -> bool {
    let right = |from: Place, to: Place| {
        let side = b.map(|corner| cross(from, to, corner) <= 0.0);
        side[0] & side[1] & side[2]
    };
    right(a[0], a[1]) || right(a[1], a[2]) || right(a[2], a[0])
}

/// An area, and the integral of a function over it.
#[derive(Debug, Clone, Copy, PartialEq, Default)]
pub(crate) struct Integral {
    pub(crate) area: f64,
    pub(crate) integral: f64,
}

impl std::ops::Sub for Integral {
    type Output = Integral;

    #[inline(always)]
    fn sub(self, part: Integral) -> Integral {
        Integral {
            // Rounding may leave a little less than nothing.
            area: (self.area - part.area).max(0.0),
            integral: self.integral - part.integral,
        }
    }
}

/// Where the three cuts of [`Polygon::within`] are kept.
pub(crate) type Room = [Polygon; 3];

/// Values at the corners of a [`Polygon`].
pub(crate) type Values = [f64; CAPACITY];

#[cfg(test)]
mod tests {
    use super::*;

    fn square() -> Polygon {
        let mut square = Polygon::default();
        let corners = [(0.0, 0.0), (2.0, 0.0), (2.0, 2.0), (0.0, 2.0)];
        square.corners[..4].copy_from_slice(&corners.map(|(e, n)| Place::new(e, n)));
        square.len = 4;
        square
    }

    #[test]
    fn a_level_parts_a_square() {
        // Height east + 2 north - 2 over the square: the shares above and below zero are equal.
        let (values, least, greatest) = square().values(|p| p.east + 2.0 * p.north - 2.0);
        assert_eq!((least, greatest), (-2.0, 4.0));
        let whole = square().integrate(&values);
        assert_eq!((whole.area, whole.integral), (4.0, 4.0));
        let above = square().integrate_above(&values, 0.0);
        let below = square().integrate_above(&values.map(|v| -v), 0.0);
        assert_eq!((above.area, below.area), (3.0, 1.0));
        // Below zero lies the triangle (0,0) (2,0) (0,1): area 1, mean 2/3.
        assert!((below.integral - 2.0 / 3.0).abs() < 1e-15);
        assert!((above.integral - below.integral - 4.0).abs() < 1e-15);
    }

    #[test]
    fn touching_is_not_meeting() {
        let beside = [(2.0, 0.0), (4.0, 0.0), (2.0, 2.0)].map(|(e, n)| Place::new(e, n));
        assert!(square().within(&beside, &mut Room::default()).is_none());
        let corner = [(2.0, 2.0), (3.0, 2.0), (2.0, 3.0)].map(|(e, n)| Place::new(e, n));
        assert!(square().within(&corner, &mut Room::default()).is_none());
        let same = [(0.0, 0.0), (2.0, 0.0), (0.0, 2.0)].map(|(e, n)| Place::new(e, n));
        assert_eq!(
            square().within(&same, &mut Room::default()).unwrap().area(),
            2.0
        );
    }
}
