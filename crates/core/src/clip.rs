//! Convex polygons in plan, and cutting them.

use crate::Place;
use crate::plan::cross;

/// Three corners of a facet, cut by three edges of a zone's triangle, three of the other facet and
/// two levels of difference, gain one corner each at most.
const CAPACITY: usize = 12;

/// A convex polygon, counter-clockwise, without an allocation of its own.
#[derive(Debug, Clone, Copy)]
pub struct Polygon {
    corners: [Place; CAPACITY],
    len: usize,
}

impl Polygon {
    pub(crate) const EMPTY: Polygon = Polygon {
        corners: [Place::new(0.0, 0.0); CAPACITY],
        len: 0,
    };

    #[inline]
    pub(crate) fn triangle(corners: [Place; 3]) -> Self {
        let mut polygon = Polygon::EMPTY;
        polygon.corners[..3].copy_from_slice(&corners);
        polygon.len = 3;
        polygon
    }

    /// Its corners.
    #[inline]
    pub fn corners(&self) -> &[Place] {
        &self.corners[..self.len]
    }

    #[inline]
    fn push(&mut self, corner: Place) {
        // Rounding can make a sliver that is not quite convex cross a line more than twice; a
        // corner past the capacity would belong to nothing that has an area.
        if self.len < CAPACITY {
            self.corners[self.len] = corner;
            self.len += 1;
        }
    }

    /// Its area.
    ///
    /// Half the cross products about the first corner (the shoelace formula, origin at a corner).
    #[inline]
    pub fn area(&self) -> f64 {
        let corners = self.corners();
        let fan = corners.windows(2).skip(1);
        fan.map(|pair| cross(corners[0], pair[0], pair[1]))
            .sum::<f64>()
            / 2.0
    }

    /// The values of a function at the corners, with the least and the greatest of them.
    #[inline(always)]
    pub(crate) fn values(&self, at: impl Fn(Place) -> f64) -> (Values, f64, f64) {
        let mut values = [0.0; CAPACITY];
        let (mut least, mut greatest) = (f64::INFINITY, f64::NEG_INFINITY);
        for (value, &corner) in values.iter_mut().zip(self.corners()) {
            *value = at(corner);
            least = least.min(*value);
            greatest = greatest.max(*value);
        }
        (values, least, greatest)
    }

    /// Area and integral of a linear function, given at the corners, over the whole.
    ///
    /// Over a triangle the integral is the area times the mean of the values at its corners.
    #[inline(always)]
    pub(crate) fn integrate(&self, values: &Values) -> Integral {
        let mut fan = Fan::default();
        for (&corner, &value) in self.corners().iter().zip(values) {
            fan.add(corner, value);
        }
        fan.integral()
    }

    /// Area and integral of a linear function over the part where it exceeds `level`.
    #[inline(always)]
    pub(crate) fn integrate_above(&self, values: &Values, level: f64) -> Integral {
        let mut fan = Fan::default();
        self.above(values, level, |corner, value| fan.add(corner, value));
        fan.integral()
    }

    /// Visits the corners of the part where a linear function is not below `level`.
    ///
    /// Sutherland and Hodgman, *Reentrant polygon clipping*, CACM 17 (1974), for one line.
    #[inline(always)]
    fn above(&self, values: &Values, level: f64, mut visit: impl FnMut(Place, f64)) {
        let corners = self.corners();
        let mut before = corners.len().wrapping_sub(1);
        for here in 0..corners.len() {
            let (from, to) = (values[before] - level, values[here] - level);
            if (from < 0.0 && to > 0.0) || (from > 0.0 && to < 0.0) {
                let t = from / (from - to);
                let (a, b) = (corners[before], corners[here]);
                let east = a.east + t * (b.east - a.east);
                visit(Place::new(east, a.north + t * (b.north - a.north)), level);
            }
            if to >= 0.0 {
                visit(corners[here], values[here]);
            }
            before = here;
        }
    }

    /// The part within a counter-clockwise triangle; `None` when nothing with an area is.
    #[inline(always)]
    pub(crate) fn within(&self, triangle: [Place; 3]) -> Option<Polygon> {
        let [a, b, c] = triangle;
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
        let mut part = *self;
        for (from, to, _) in sides.into_iter().filter(|(_, _, cuts)| *cuts) {
            let (side, _, greatest) = part.values(|p| cross(from, to, p));
            if greatest <= 0.0 {
                return None;
            }
            let mut kept = Polygon::EMPTY;
            part.above(&side, 0.0, |corner, _| kept.push(corner));
            part = kept;
        }
        Some(part)
    }
}

/// True when all corners of `b` lie beyond one edge of the counter-clockwise triangle `a`.
#[inline(always)]
pub(crate) fn beyond(a: &[Place; 3], b: &[Place; 3]) -> bool {
    let right = |from: Place, to: Place| b.iter().all(|&corner| cross(from, to, corner) <= 0.0);
    right(a[0], a[1]) || right(a[1], a[2]) || right(a[2], a[0])
}

/// An area, and the integral of a function over it.
#[derive(Debug, Clone, Copy, PartialEq, Default)]
pub(crate) struct Integral {
    pub(crate) area: f64,
    pub(crate) integral: f64,
}

/// Triangles from the first corner to each side that follows.
#[derive(Default)]
struct Fan {
    count: usize,
    first: (Place, f64),
    last: (Place, f64),
    twice_area: f64,
    six_integral: f64,
}

impl Fan {
    #[inline(always)]
    fn add(&mut self, corner: Place, value: f64) {
        if self.count == 0 {
            self.first = (corner, value);
        } else if self.count > 1 {
            let twice = cross(self.first.0, self.last.0, corner);
            self.twice_area += twice;
            self.six_integral += twice * (self.first.1 + self.last.1 + value);
        }
        self.last = (corner, value);
        self.count += 1;
    }

    #[inline(always)]
    fn integral(&self) -> Integral {
        Integral {
            area: self.twice_area / 2.0,
            integral: self.six_integral / 6.0,
        }
    }
}

/// Values at the corners of a [`Polygon`].
pub(crate) type Values = [f64; CAPACITY];

#[cfg(test)]
mod tests {
    use super::*;

    fn square() -> Polygon {
        let mut square = Polygon::EMPTY;
        for (e, n) in [(0.0, 0.0), (2.0, 0.0), (2.0, 2.0), (0.0, 2.0)] {
            square.push(Place::new(e, n));
        }
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
        assert!(square().within(beside).is_none());
        let corner = [(2.0, 2.0), (3.0, 2.0), (2.0, 3.0)].map(|(e, n)| Place::new(e, n));
        assert!(square().within(corner).is_none());
        let same = [(0.0, 0.0), (2.0, 0.0), (0.0, 2.0)].map(|(e, n)| Place::new(e, n));
        assert_eq!(square().within(same).unwrap().area(), 2.0);
    }
}
