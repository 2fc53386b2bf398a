//! Where things are put: the planes entities are drawn in, and inserted blocks.

use dapedon_core::surface::Vertex;

/// A mapping of space that keeps lines straight.
#[derive(Debug, Clone, Copy, PartialEq)]
pub(super) struct Placing {
    /// Where the axes go, one after the other.
    axes: [[f64; 3]; 3],
    origin: [f64; 3],
}

impl Placing {
    pub(super) const SAME: Placing = Placing {
        axes: [[1.0, 0.0, 0.0], [0.0, 1.0, 0.0], [0.0, 0.0, 1.0]],
        origin: [0.0; 3],
    };

    /// The plane of an entity that is drawn along `normal`: its axes follow the format's rule for
    /// any normal (the arbitrary axis algorithm).
    pub(super) fn drawn_along(normal: [f64; 3]) -> Self {
        let length = dot(normal, normal).sqrt();
        if normal == [0.0, 0.0, 1.0] || length.is_nan() || length <= 0.0 {
            return Placing::SAME;
        }
        let normal = normal.map(|v| v / length);
        const CLOSE: f64 = 1.0 / 64.0;
        let beside = if normal[0].abs() < CLOSE && normal[1].abs() < CLOSE {
            [0.0, 1.0, 0.0]
        } else {
            [0.0, 0.0, 1.0]
        };
        let first = across(beside, normal);
        let length = dot(first, first).sqrt();
        let first = first.map(|v| v / length);
        Placing {
            axes: [first, across(normal, first), normal],
            origin: [0.0; 3],
        }
    }

    /// Moves `from` to the origin, stretches, turns by `degrees` and moves to `to`.
    pub(super) fn inserted(from: [f64; 3], scale: [f64; 3], degrees: f64, to: [f64; 3]) -> Self {
        let (sin, cos) = libm::sincos(degrees.to_radians());
        let axes = [
            [scale[0] * cos, scale[0] * sin, 0.0],
            [-scale[1] * sin, scale[1] * cos, 0.0],
            [0.0, 0.0, scale[2]],
        ];
        let mut placing = Placing { axes, origin: to };
        let moved = placing.apply(from);
        placing.origin = [0, 1, 2].map(|i| 2.0 * to[i] - moved[i]);
        placing
    }

    /// This one after `first`.
    pub(super) fn after(&self, first: &Placing) -> Self {
        let turn = |v: [f64; 3]| [0, 1, 2].map(|i| (0..3).map(|k| self.axes[k][i] * v[k]).sum());
        Placing {
            axes: first.axes.map(turn),
            origin: self.apply(first.origin),
        }
    }

    /// The direction that is square to `along` in the plane, to its left.
    pub(super) fn across(&self, along: Vertex) -> Vertex {
        let [east, north, height] = across(self.axes[2], [along.east, along.north, along.height]);
        Vertex::new(east, north, height)
    }

    fn apply(&self, at: [f64; 3]) -> [f64; 3] {
        [0, 1, 2].map(|i| self.origin[i] + (0..3).map(|k| self.axes[k][i] * at[k]).sum::<f64>())
    }

    pub(super) fn place(&self, v: Vertex) -> Vertex {
        if *self == Placing::SAME {
            return v;
        }
        let [east, north, height] = self.apply([v.east, v.north, v.height]);
        Vertex::new(east, north, height)
    }
}

fn dot(a: [f64; 3], b: [f64; 3]) -> f64 {
    a[0] * b[0] + a[1] * b[1] + a[2] * b[2]
}

fn across(a: [f64; 3], b: [f64; 3]) -> [f64; 3] {
    [
        a[1] * b[2] - a[2] * b[1],
        a[2] * b[0] - a[0] * b[2],
        a[0] * b[1] - a[1] * b[0],
    ]
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn blocks_are_moved_stretched_and_turned() {
        let placing = Placing::inserted([1.0, 1.0, 0.0], [2.0, 3.0, 1.0], 90.0, [10.0, 20.0, 5.0]);
        let at = placing.place(Vertex::new(2.0, 1.0, 1.0));
        // One east of the base, twice as far, turned to north.
        for (found, expected) in [(at.east, 10.0), (at.north, 22.0), (at.height, 6.0)] {
            assert!((found - expected).abs() < 1e-12);
        }
        let twice = placing.after(&placing).place(Vertex::new(2.0, 1.0, 1.0));
        assert_eq!(twice, placing.place(at));
    }

    #[test]
    fn a_plane_seen_from_below_is_mirrored() {
        let below = Placing::drawn_along([0.0, 0.0, -1.0]);
        let at = below.place(Vertex::new(3.0, 4.0, 5.0));
        assert_eq!((at.east, at.north, at.height), (-3.0, 4.0, -5.0));
    }
}
