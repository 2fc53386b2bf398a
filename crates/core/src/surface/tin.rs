//! A surface of planar triangular facets.

use crate::plan::cross;
use crate::plan::{Extent, Frame, Place};

/// The farthest a coordinate or height may be from zero, in any unit: beyond every grid on Earth, and
/// near enough that products of coordinates keep their digits.
pub const FARTHEST: f64 = 1e9;

/// A point on a surface.
#[derive(Debug, Clone, Copy, PartialEq, Default)]
pub struct Vertex {
    /// Towards east.
    pub east: f64,
    /// Towards north.
    pub north: f64,
    /// Above datum.
    pub height: f64,
}

impl Vertex {
    /// A vertex at `east`, `north`, `height`.
    pub const fn new(east: f64, north: f64, height: f64) -> Self {
        Vertex {
            east,
            north,
            height,
        }
    }

    /// True when its numbers are finite and within [`FARTHEST`].
    pub fn is_in_range(self) -> bool {
        // A comparison with what is not a number is false.
        self.east.abs() <= FARTHEST && self.north.abs() <= FARTHEST && self.height.abs() <= FARTHEST
    }

    /// Where it stands in plan.
    #[inline]
    pub const fn place(self) -> Place {
        Place::new(self.east, self.north)
    }
}

/// Indexed vertices and facets: the trade's triangulated irregular network.
///
/// Facets are counter-clockwise in plan and have a plan area. Two vertices may stand at one place
/// with different heights, so a vertical step is two edges that meet in plan and nothing between.
#[derive(Debug, Clone)]
pub struct Tin {
    frame: Frame,
    vertices: Vec<Vertex>,
    facets: Vec<[u32; 3]>,
    extent: Extent,
    tidied: Tidied,
}

/// What was done to handed-over facets to make a surface of them.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default)]
pub struct Tidied {
    /// Facets without a plan area, dropped: vertical ones, and those thinner than the resolution.
    pub thin: usize,
    /// Clockwise facets, turned round.
    pub reversed: usize,
}

/// Why facets make no surface.
#[derive(Debug, Clone, PartialEq, thiserror::Error)]
#[non_exhaustive]
pub enum TinError {
    /// A facet names a vertex that is not there.
    #[error("triangle {facet} refers to point {vertex}, and there are {vertices} points")]
    UnknownVertex {
        /// Index of the facet.
        facet: usize,
        /// The vertex it names.
        vertex: u32,
        /// How many there are.
        vertices: usize,
    },
    /// A coordinate or height is not finite or beyond [`FARTHEST`].
    #[error("point {} has a coordinate or height beyond ±1 000 000 000", .vertex + 1)]
    OutOfRange {
        /// Index of the vertex.
        vertex: usize,
    },
    /// More vertices or facets than can be distinguished.
    #[error("a surface of {vertices} points and {facets} triangles is too large")]
    TooMany {
        /// How many vertices there are.
        vertices: usize,
        /// How many facets there are.
        facets: usize,
    },
    /// No facet has a plan area.
    #[error("none of the {thin} triangles has a plan area")]
    NoFacets {
        /// How many facets were dropped.
        thin: usize,
    },
}

/// Vertices or facets of a surface, at most, and nodes of a grid: three for each facet, and twice as many with a mark, still
/// count in 32 bits.
pub(crate) const MOST: usize = 1 << 30;

fn few_enough(vertices: usize, facets: usize) -> Result<(), TinError> {
    match vertices.max(facets) < MOST {
        true => Ok(()),
        false => Err(TinError::TooMany { vertices, facets }),
    }
}

impl Tin {
    /// A surface from vertices in grid coordinates and facets that index them.
    ///
    /// Clockwise facets are turned round and facets without a plan area dropped; both are counted
    /// in [`Tin::tidied`]. Everything else is kept as delivered.
    ///
    /// # Errors
    ///
    /// When a facet names an unknown vertex, a number is out of range, or no facet is left.
    pub fn from_facets(
        frame: Frame,
        mut vertices: Vec<Vertex>,
        facets: Vec<[u32; 3]>,
    ) -> Result<Self, TinError> {
        if let Some(vertex) = vertices.iter().position(|v| !v.is_in_range()) {
            return Err(TinError::OutOfRange { vertex });
        }
        for vertex in &mut vertices {
            let local = frame.to_local(vertex.east, vertex.north);
            (vertex.east, vertex.north) = (local.east, local.north);
        }
        Tin::of_local(frame, vertices, facets)
    }

    /// A surface from vertices in local coordinates, which are in range.
    pub(crate) fn of_local(
        frame: Frame,
        vertices: Vec<Vertex>,
        mut facets: Vec<[u32; 3]>,
    ) -> Result<Self, TinError> {
        few_enough(vertices.len(), facets.len())?;
        for (index, facet) in facets.iter().enumerate() {
            if let Some(&vertex) = facet.iter().find(|&&v| v as usize >= vertices.len()) {
                return Err(TinError::UnknownVertex {
                    facet: index,
                    vertex,
                    vertices: vertices.len(),
                });
            }
        }

        let resolution = frame.precision().length();
        let mut tidied = Tidied::default();
        let mut extent = Extent::EMPTY;
        facets.retain_mut(|facet| {
            let corners = facet.map(|v| vertices[v as usize].place());
            match turn(corners, resolution) {
                Turn::None => {
                    tidied.thin += 1;
                    return false;
                }
                Turn::Clockwise => {
                    tidied.reversed += 1;
                    facet.swap(1, 2);
                }
                Turn::CounterClockwise => {}
            }
            extent = extent.union(&Extent::of(corners));
            true
        });
        if facets.is_empty() {
            return Err(TinError::NoFacets { thin: tidied.thin });
        }
        Ok(Tin {
            frame,
            vertices,
            facets,
            extent,
            tidied,
        })
    }

    /// The same facets between vertices put elsewhere, none of which may turn over.
    pub(crate) fn mapped(&self, to: impl Fn(Vertex) -> Vertex) -> Tin {
        let vertices: Vec<Vertex> = self.vertices.iter().map(|&v| to(v)).collect();
        let corners = self.facets.iter().flatten();
        Tin {
            frame: self.frame,
            extent: Extent::of(corners.map(|&v| vertices[v as usize].place())),
            vertices,
            facets: self.facets.clone(),
            tidied: self.tidied,
        }
    }

    /// The frame its coordinates are held in.
    pub fn frame(&self) -> Frame {
        self.frame
    }

    /// Its vertices, in local coordinates.
    pub fn vertices(&self) -> &[Vertex] {
        &self.vertices
    }

    /// Its facets, counter-clockwise, as indices of vertices.
    pub fn facets(&self) -> &[[u32; 3]] {
        &self.facets
    }

    /// The corners of one facet.
    #[inline]
    pub fn corners(&self, facet: usize) -> [Vertex; 3] {
        self.facets[facet].map(|v| self.vertices[v as usize])
    }

    /// Where its facets lie, in local coordinates.
    pub fn extent(&self) -> Extent {
        self.extent
    }

    /// The lowest and highest height of its facets.
    pub fn heights(&self) -> (f64, f64) {
        let heights = self
            .facets
            .iter()
            .flatten()
            .map(|&v| self.vertices[v as usize].height);
        heights.fold((f64::INFINITY, f64::NEG_INFINITY), |(low, high), h| {
            (low.min(h), high.max(h))
        })
    }

    /// The plan area of its facets; where they fold over each other, counted each time.
    pub fn area(&self) -> f64 {
        let mut twice = crate::plan::Sum::default();
        for facet in 0..self.facets.len() {
            let [a, b, c] = self.corners(facet).map(Vertex::place);
            twice += cross(a, b, c);
        }
        twice.value() / 2.0
    }

    /// The area of its facets as they slope, along the ground.
    pub fn true_area(&self) -> f64 {
        true_area((0..self.facets.len()).map(|facet| self.corners(facet)))
    }

    /// What was done to the facets when the surface was made.
    pub fn tidied(&self) -> Tidied {
        self.tidied
    }
}

enum Turn {
    CounterClockwise,
    Clockwise,
    None,
}

/// Which way a facet turns in plan; none when it is thinner than the resolution.
fn turn([a, b, c]: [Place; 3], resolution: f64) -> Turn {
    let square = |p: Place, q: Place| (q.east - p.east).powi(2) + (q.north - p.north).powi(2);
    let longest = square(a, b).max(square(b, c)).max(square(c, a));
    let twice = cross(a, b, c);
    if twice * twice <= resolution * resolution * longest {
        Turn::None
    } else if twice > 0.0 {
        Turn::CounterClockwise
    } else {
        Turn::Clockwise
    }
}

/// The area of facets as they slope: half the length of the cross product of two of their sides.
pub(crate) fn true_area(facets: impl Iterator<Item = [Vertex; 3]>) -> f64 {
    let mut twice = crate::plan::Sum::default();
    for [a, b, c] in facets {
        let from_a = |v: Vertex| [v.east - a.east, v.north - a.north, v.height - a.height];
        let (p, q) = (from_a(b), from_a(c));
        let across = [
            p[1] * q[2] - p[2] * q[1],
            p[2] * q[0] - p[0] * q[2],
            p[0] * q[1] - p[1] * q[0],
        ];
        twice += (across[0].powi(2) + across[1].powi(2) + across[2].powi(2)).sqrt();
    }
    twice.value() / 2.0
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::units::LengthUnit;

    fn frame() -> Frame {
        Frame::new(LengthUnit::Metre, [500_000.0, 6_000_000.0])
    }

    fn vertex(east: f64, north: f64, height: f64) -> Vertex {
        Vertex::new(500_000.0 + east, 6_000_000.0 + north, height)
    }

    #[test]
    fn more_than_can_be_told_apart_is_refused() {
        assert_eq!(few_enough(MOST - 1, MOST - 1), Ok(()));
        let (vertices, facets) = (8, MOST);
        assert_eq!(
            few_enough(vertices, facets),
            Err(TinError::TooMany { vertices, facets })
        );
        assert!(few_enough(MOST, 8).is_err());
        // Three for each facet, and a bit for a mark.
        assert!(u32::try_from(3 * MOST).is_ok() && MOST < 1 << 31);
    }

    #[test]
    fn handed_over_facets_are_tidied_and_counted() {
        let vertices = vec![
            vertex(0.0, 0.0, 1.0),
            vertex(4.0, 0.0, 2.0),
            vertex(4.0, 3.0, 3.0),
            vertex(4.0, 3.0, 9.0),
            vertex(2.0, 1.5, 0.0),
        ];
        let facets = vec![[0, 2, 1], [1, 2, 3], [0, 4, 2], [0, 0, 1]];
        let tin = Tin::from_facets(frame(), vertices, facets).unwrap();
        assert_eq!(
            tin.tidied(),
            Tidied {
                thin: 3,
                reversed: 1
            }
        );
        assert_eq!(tin.facets(), [[0, 1, 2]]);
        assert_eq!(tin.area(), 6.0);
        assert_eq!(tin.heights(), (1.0, 3.0));
        // A 3-4-5 triangle that rises 1 in 4 east and 1 in 3 north: half of |(-3, -4, 12)|.
        assert_eq!(tin.true_area(), 6.5);
    }

    #[test]
    fn what_cannot_be_a_surface_says_why() {
        let corners = || {
            vec![
                vertex(0.0, 0.0, 0.0),
                vertex(1.0, 0.0, 0.0),
                vertex(0.0, 1.0, 0.0),
            ]
        };
        let unknown = Tin::from_facets(frame(), corners(), vec![[0, 1, 3]]).unwrap_err();
        assert_eq!(
            unknown,
            TinError::UnknownVertex {
                facet: 0,
                vertex: 3,
                vertices: 3
            }
        );
        let mut broken = corners();
        broken[1].height = f64::NAN;
        let not_finite = Tin::from_facets(frame(), broken, vec![[0, 1, 2]]).unwrap_err();
        assert_eq!(not_finite, TinError::OutOfRange { vertex: 1 });
        let flat = Tin::from_facets(frame(), corners(), vec![[0, 1, 1]]).unwrap_err();
        assert_eq!(flat, TinError::NoFacets { thin: 1 });
    }
}
