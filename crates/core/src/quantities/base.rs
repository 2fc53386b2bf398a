//! The base of a pile or a pit, which nobody surveyed.

mod toe;
mod weights;

use crate::overlay::OverlayError;
use crate::points::TriangulateError;
pub use toe::Toe;
pub use weights::weighed_above_base;

/// What a pile is taken to stand on, found from the heights along its outline.
///
/// ```
/// use dapedon_core::derived::*;
/// use dapedon_core::plan::*;
/// use dapedon_core::quantities::*;
/// use dapedon_core::surface::*;
/// use dapedon_core::units::*;
/// use dapedon_core::zones::*;
/// let frame = Frame::new(LengthUnit::Metre, [0.0, 0.0]);
/// // A pyramid of 6 by 6 and 3 high on ground that falls to the north.
/// let corners = [(0.0, 0.0, 2.0), (6.0, 0.0, 2.0), (6.0, 6.0, 1.0), (0.0, 6.0, 1.0), (3.0, 3.0, 4.5)];
/// let vertices = corners.map(|(e, n, h)| Vertex::new(e, n, h)).to_vec();
/// let facets = vec![[0, 1, 4], [1, 2, 4], [2, 3, 4], [3, 0, 4]];
/// let pile = Surface::Tin(Tin::from_facets(frame, vertices, facets).unwrap());
/// let ring = [(0.0, 0.0), (6.0, 0.0), (6.0, 6.0), (0.0, 6.0), (0.0, 0.0)].map(|(e, n)| Place::new(e, n));
/// let outline = Zone::new("pile", frame, vec![vec![ring.to_vec()]]).unwrap();
///
/// let toe = Toe::of(&pile, &outline).unwrap();
/// let above = |base: Base| {
///     let base = Surface::Tin(toe.base(base).unwrap());
///     volume(&base, &pile, None, Tolerance::ZERO).unwrap()[0].volume.fill
/// };
/// assert!((above(Base::Toe) - 36.0).abs() < 1e-9);
/// assert!((above(Base::Plane) - 36.0).abs() < 1e-9);
/// // Half a unit lower on the whole: 18 more.
/// assert!((above(Base::Lowest) - 54.0).abs() < 1e-9);
/// ```
#[derive(Debug, Clone, Copy, PartialEq)]
pub enum Base {
    /// A surface through the toe: triangulated between the heights along the outline, so that base and ground meet
    /// all along it.
    Toe,
    /// The plane that fits the heights along the outline with the least squares, each unit of its length alike.
    Plane,
    /// A level at the lowest height along the outline.
    Lowest,
    /// A level at the mean height along the outline, each unit of its length alike.
    Mean,
}

/// Why a pile has no base.
#[derive(Debug, Clone, PartialEq, thiserror::Error)]
#[non_exhaustive]
pub enum BaseError {
    /// The surface does not lie under all of the outline.
    #[error(
        "{missing:.3} of the outline's {length:.3} are outside the surface and have no heights"
    )]
    LeavesSurface {
        /// The length without heights.
        missing: f64,
        /// The length of the outline.
        length: f64,
    },
    /// The surface and the outline cannot be laid over each other.
    #[error(transparent)]
    Overlay(#[from] OverlayError),
    /// The heights along the outline make no surface.
    #[error("no surface can be made from the heights along the outline: {0}")]
    Triangulate(#[from] TriangulateError),
    /// No base fits the heights along the outline.
    #[error("the outline is too narrow to fit a base to its heights")]
    TooNarrow,
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::plan::{Frame, Place};
    use crate::points::{PickUp, Rules, triangulate};
    use crate::quantities::{Tolerance, volume};
    use crate::surface::{Level, Surface, Tin, Vertex};
    use crate::units::LengthUnit;
    use crate::zones::{Zone, Zones};

    const ORIGIN: [f64; 2] = [500_000.0, 6_000_000.0];

    fn frame() -> Frame {
        Frame::new(LengthUnit::Metre, ORIGIN)
    }

    fn at(east: f64, north: f64) -> Place {
        Place::new(ORIGIN[0] + east, ORIGIN[1] + north)
    }

    fn zone(corners: &[(f64, f64)]) -> Zone {
        let ring = corners.iter().chain(&corners[..1]);
        let ring = ring.map(|&(e, n)| at(e, n)).collect();
        Zone::new("pile", frame(), vec![vec![ring]]).unwrap()
    }

    /// A cone of 24 sides on a slope, as points of a field around it.
    fn cone(radius: f64, height: f64, slope: f64) -> Surface {
        let ground = |e: f64, n: f64| 20.0 + slope * e - slope / 2.0 * n;
        let mut points = vec![(0.0, 0.0, ground(0.0, 0.0) + height)];
        for side in 0..24 {
            let (sin, cos) = (f64::from(side) * std::f64::consts::TAU / 24.0).sin_cos();
            let (e, n) = (radius * cos, radius * sin);
            points.push((e, n, ground(e, n)));
            points.push((2.0 * e, 2.0 * n, ground(2.0 * e, 2.0 * n)));
        }
        let points = points.into_iter().map(|(e, n, h)| {
            let place = at(e, n);
            Vertex::new(place.east, place.north, h)
        });
        let pick_up = PickUp::from(points.collect::<Vec<_>>());
        Surface::Tin(
            triangulate(frame(), &pick_up, &Rules::default())
                .unwrap()
                .tin,
        )
    }

    /// A prism of 24 sides has the area 12 r² sin 15°; the cone over it a third of that times its height. The
    /// outline is wide of the toe, where the ground is a plane, so that the base is that plane.
    #[test]
    fn a_cone_on_a_slope_stands_on_that_slope() {
        let pile = cone(5.0, 4.0, 0.125);
        let outline = zone(&[(-6.0, -6.5), (7.0, -6.0), (6.5, 6.0), (-6.0, 7.0)]);
        let base = Surface::Tin(Toe::of(&pile, &outline).unwrap().base(Base::Toe).unwrap());
        let zones = Zones::new(frame(), vec![outline]);
        let measured = volume(&base, &pile, Some(&zones), Tolerance::ZERO).unwrap()[0];
        let area = 12.0 * 25.0 * (std::f64::consts::PI / 12.0).sin();
        // Places are held to a nanometre at these coordinates, which over a toe of 30 m is some 1e-7 of 100 m³.
        assert!(
            (measured.volume.fill - area * 4.0 / 3.0).abs() < 1e-6,
            "{measured:?}"
        );
        assert!(measured.volume.cut < 1e-6);
    }

    /// On flat ground the base is level, whatever the shape of the outline: a second way to the same volume.
    #[test]
    fn on_flat_ground_the_base_is_a_level() {
        let pile = cone(5.0, 3.0, 0.0);
        let bent = [
            (-7.0, -7.0),
            (7.0, -6.0),
            (7.0, 7.0),
            (6.0, 7.0),
            (6.0, 6.0),
            (-7.0, 6.5),
        ];
        let outline = zone(&bent);
        let base = Surface::Tin(Toe::of(&pile, &outline).unwrap().base(Base::Toe).unwrap());
        let zones = Zones::new(frame(), vec![outline]);
        let level = Surface::Level(Level::new(frame(), 20.0));
        let [from_toe, from_level] = [&base, &level].map(|from| {
            let measured = volume(from, &pile, Some(&zones), Tolerance::ZERO).unwrap()[0];
            (measured.volume.fill, measured.area.compared)
        });
        assert!((from_toe.0 - from_level.0).abs() < 1e-7);
        assert!((from_toe.1 - from_level.1).abs() < 1e-7);
    }

    /// A square of 10 about a point 2 inside the west edge of the ground: 8 of 10 along north and south are on it,
    /// and none along the west.
    #[test]
    fn an_outline_beyond_the_surface_is_told_by_how_much() {
        let corners = [(0.0, 0.0), (40.0, 0.0), (40.0, 40.0), (0.0, 40.0)];
        let corners = corners.map(|(e, n)| {
            let place = at(e, n);
            Vertex::new(place.east, place.north, 1.0)
        });
        let tin = Tin::from_facets(frame(), corners.to_vec(), vec![[0, 1, 2], [0, 2, 3]]);
        let ground = Surface::Tin(tin.unwrap());
        let outline = zone(&[(-2.0, 5.0), (8.0, 5.0), (8.0, 15.0), (-2.0, 15.0)]);
        let BaseError::LeavesSurface { missing, length } = Toe::of(&ground, &outline).unwrap_err()
        else {
            panic!("of the outline");
        };
        assert!(
            (missing - 14.0).abs() < 1e-6 && (length - 40.0).abs() < 1e-6,
            "{missing} {length}"
        );
    }
}
