//! Surfaces from scattered points.

use spade::{DelaunayTriangulation, Point2, Triangulation, mitigate_underflow};

use crate::{Extent, Frame, Tin, TinError, Vertex, curve};

/// A surface made from points, and what was done to them on the way.
#[derive(Debug, Clone)]
pub struct Triangulated {
    /// The surface, out to the convex hull of the points.
    pub tin: Tin,
    /// Points given more than once at one place and height, counted each time but the first.
    pub merged: usize,
}

/// Why points make no surface.
#[derive(Debug, Clone, PartialEq, thiserror::Error)]
pub enum TriangulateError {
    /// A surface wants three different places.
    #[error("{found} different places, and a surface needs three")]
    TooFew {
        /// How many different places there are.
        found: usize,
    },
    /// The points stand in one line.
    #[error("all {points} points stand in one line")]
    InOneLine {
        /// How many points there are.
        points: usize,
    },
    /// One place, two heights.
    #[error("points {} and {} stand at one place with heights {} and {}", .first + 1, .second + 1, .heights[0], .heights[1])]
    TwoHeights {
        /// Index of the one.
        first: usize,
        /// Index of the other.
        second: usize,
        /// Their heights, in that order.
        heights: [f64; 2],
    },
    /// A number is not finite or beyond [`FARTHEST`](crate::FARTHEST).
    #[error("point {} has a coordinate or height that no survey has, beyond a thousand million", .point + 1)]
    OutOfRange {
        /// Index of the point.
        point: usize,
    },
}

/// The Delaunay triangulation of points given in grid coordinates.
///
/// Vertices and facets are put in an order that keeps neighbours close, whatever the order of the
/// points: everything measured later walks over them faster.
///
/// # Errors
///
/// When the points make no surface; see [`TriangulateError`].
///
/// ```
/// use dapedon_core::{Frame, LengthUnit, Vertex, triangulate};
/// let points = [(0.0, 0.0), (4.0, 0.0), (4.0, 4.0), (0.0, 4.0), (4.0, 4.0)];
/// let points = points.map(|(e, n)| Vertex::new(e, n, 7.0)).to_vec();
/// let made = triangulate(Frame::new(LengthUnit::Metre, [0.0, 0.0]), points).unwrap();
/// assert_eq!((made.tin.area(), made.merged), (16.0, 1));
/// ```
pub fn triangulate(frame: Frame, points: Vec<Vertex>) -> Result<Triangulated, TriangulateError> {
    if let Some(point) = points.iter().position(|v| !v.is_in_range()) {
        return Err(TriangulateError::OutOfRange { point });
    }
    let given = points.len();
    let mut points = merge_repeated(points)?;
    if points.len() < 3 {
        return Err(TriangulateError::TooFew {
            found: points.len(),
        });
    }

    let extent = Extent::of(points.iter().map(|v| v.place()));
    points.sort_by_cached_key(|v| curve::position(v.place(), &extent));

    // The hull of grid coordinates in one line is decided on the extent taken off, where products
    // are exact enough.
    let places = points.iter().map(|v| {
        let local = frame.to_local(v.east, v.north);
        mitigate_underflow(Point2::new(local.east, local.north))
    });
    let delaunay = DelaunayTriangulation::<Point2<f64>>::bulk_load_stable(places.collect())
        .map_err(|_| TriangulateError::OutOfRange { point: 0 })?;
    let mut facets: Vec<[u32; 3]> = delaunay
        .inner_faces()
        .map(|face| face.vertices().map(|v| v.fix().index() as u32))
        .collect();
    drop(delaunay);
    facets.sort_unstable_by_key(|facet| (facet.iter().min().copied(), *facet));

    let count = points.len();
    match Tin::from_facets(frame, points, facets) {
        Ok(tin) => Ok(Triangulated {
            tin,
            merged: given - count,
        }),
        Err(TinError::NoFacets { .. }) => Err(TriangulateError::InOneLine { points: count }),
        Err(
            TinError::OutOfRange { vertex: point } | TinError::UnknownVertex { facet: point, .. },
        ) => Err(TriangulateError::OutOfRange { point }),
    }
}

/// Keeps the first of points at one place and height; refuses one place with two heights.
fn merge_repeated(points: Vec<Vertex>) -> Result<Vec<Vertex>, TriangulateError> {
    let mut order: Vec<u32> = (0..points.len() as u32).collect();
    let at = |i: u32| &points[i as usize];
    order.sort_unstable_by(|&i, &j| {
        let (p, q) = (at(i), at(j));
        (p.east.total_cmp(&q.east))
            .then(p.north.total_cmp(&q.north))
            .then(i.cmp(&j))
    });
    let mut repeated = vec![false; points.len()];
    let mut conflict: Option<(u32, u32)> = None;
    for run in order.chunk_by(|&i, &j| at(i).place() == at(j).place()) {
        for &later in &run[1..] {
            if at(later).height == at(run[0]).height {
                repeated[later as usize] = true;
            } else if conflict.is_none_or(|(_, second)| later < second) {
                conflict = Some((run[0], later));
            }
        }
    }
    if let Some((first, second)) = conflict {
        return Err(TriangulateError::TwoHeights {
            first: first as usize,
            second: second as usize,
            heights: [at(first).height, at(second).height],
        });
    }
    let mut kept = points;
    let mut index = 0;
    kept.retain(|_| {
        index += 1;
        !repeated[index - 1]
    });
    Ok(kept)
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::LengthUnit;

    fn made(points: &[(f64, f64, f64)]) -> Result<Triangulated, TriangulateError> {
        let points: Vec<Vertex> = points
            .iter()
            .map(|&(e, n, h)| Vertex::new(e, n, h))
            .collect();
        let extent = Extent::of(points.iter().map(|p| p.place()));
        triangulate(Frame::around(LengthUnit::Metre, extent), points)
    }

    #[test]
    fn points_that_make_no_surface_say_why() {
        let two = [(1.0, 1.0, 0.0), (2.0, 2.0, 0.0), (1.0, 1.0, 0.0)];
        assert_eq!(
            made(&two).unwrap_err(),
            TriangulateError::TooFew { found: 2 }
        );
        let line: Vec<_> = (0..9)
            .map(|i| {
                (
                    500_000.0 + 0.1 * f64::from(i),
                    6e6 + 0.3 * f64::from(i),
                    1.0,
                )
            })
            .collect();
        assert_eq!(
            made(&line).unwrap_err(),
            TriangulateError::InOneLine { points: 9 }
        );
        let step = [
            (0.0, 0.0, 1.0),
            (5.0, 0.0, 1.0),
            (0.0, 5.0, 1.0),
            (5.0, 0.0, 2.0),
        ];
        let refused = TriangulateError::TwoHeights {
            first: 1,
            second: 3,
            heights: [1.0, 2.0],
        };
        assert_eq!(made(&step).unwrap_err(), refused);
        let broken = [(0.0, 0.0, 1.0), (5.0, 0.0, f64::INFINITY), (0.0, 5.0, 1.0)];
        assert_eq!(
            made(&broken).unwrap_err(),
            TriangulateError::OutOfRange { point: 1 }
        );
        assert_eq!(
            made(&[]).unwrap_err(),
            TriangulateError::TooFew { found: 0 }
        );
    }

    #[test]
    fn the_hull_is_covered_once() {
        let points: Vec<_> = (1..=400)
            .map(|i| {
                let (a, b) = (f64::from(i) * 0.754_877_666, f64::from(i) * 0.569_840_290);
                (
                    500_000.0 + 100.0 * a.fract(),
                    6e6 + 50.0 * b.fract(),
                    a.sin(),
                )
            })
            .chain([
                (500_000.0, 6e6, 0.5),
                (500_100.0, 6e6, 0.5),
                (500_100.0, 6_000_050.0, 0.5),
                (500_000.0, 6_000_050.0, 0.5),
            ])
            .collect();
        let tin = made(&points).unwrap().tin;
        // Coordinates of six million carry about a nanometre, along a hull 300 long.
        assert!((tin.area() - 5000.0).abs() < 1e-6);
    }
}
