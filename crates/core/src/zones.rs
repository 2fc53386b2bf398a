//! Closed outlines that limit a measurement.

pub(crate) mod regions;
pub(crate) mod rings;
pub(crate) mod within;

pub use regions::{Region, regions, without_overlaps};
pub use within::WithinZone;

use spade::{ConstrainedDelaunayTriangulation, Point2, Triangulation, mitigate_underflow};

use crate::plan::cross;
use crate::plan::crossing::{self, Meeting};
use crate::plan::membership::EdgeRows;
use crate::plan::{Edge, Extent, Frame, Place, RELATIVE, Sum};
use crate::surface::FARTHEST;

/// A zone: closed outlines, with holes, under a name.
#[derive(Debug, Clone)]
pub struct Zone {
    name: String,
    rings: Vec<Vec<Place>>,
    edges: Vec<Edge>,
    triangles: Vec<[Place; 3]>,
    extent: Extent,
    area: f64,
}

/// The zones of a measurement, in one frame.
#[derive(Debug, Clone)]
pub struct Zones {
    frame: Frame,
    zones: Vec<Zone>,
}

/// Why outlines make no zone. Places are in grid coordinates, rings and corners count from one.
#[derive(Debug, Clone, PartialEq, thiserror::Error)]
#[non_exhaustive]
pub enum ZoneError {
    /// A ring does not end where it starts.
    #[error("ring {ring} is open: it starts at {} and ends at {}", spell(.from), spell(.to))]
    Open {
        /// Which ring.
        ring: usize,
        /// Where it starts.
        from: Place,
        /// Where it ends.
        to: Place,
    },
    /// A ring has too few corners to hold anything.
    #[error("ring {ring} has {corners} different corners, and an outline needs at least three")]
    TooFew {
        /// Which ring.
        ring: usize,
        /// How many different corners it has.
        corners: usize,
    },
    /// A coordinate is not finite or beyond [`FARTHEST`].
    #[error("ring {ring}, corner {corner}, has a coordinate beyond ±1 000 000 000")]
    OutOfRange {
        /// Which ring.
        ring: usize,
        /// Which corner.
        corner: usize,
    },
    /// Two edges cross.
    #[error("the outline crosses itself at {}", spell(.at))]
    Crosses {
        /// Where.
        at: Place,
    },
    /// The outlines hold no ground.
    #[error("the outline has no area: its corners are on one straight line")]
    NoGround,
    /// Two parts cover the same ground, or a ring turns over itself at a corner.
    #[error(
        "the outline overlaps itself: its rings add up to {rings:.3}, and the ground they cover is {ground:.3}"
    )]
    CoversTwice {
        /// The sum of the rings' areas, holes taken off.
        rings: f64,
        /// The area of the ground.
        ground: f64,
    },
}

fn spell(place: &Place) -> String {
    format!("east {:.3}, north {:.3}", place.east, place.north)
}

impl Zone {
    /// A zone from its parts, each an outer ring and then its holes, in grid coordinates, each ring
    /// ending where it starts. Which way the rings turn does not matter.
    ///
    /// # Errors
    ///
    /// When a ring is open or too short, a number is out of range, or the outlines cross.
    ///
    /// ```
    /// use dapedon_core::plan::{Frame, Place};
    /// use dapedon_core::units::{LengthUnit};
    /// use dapedon_core::zones::{Zone};
    /// let ring = |min: f64, max: f64| {
    ///     let corners = [(min, min), (max, min), (max, max), (min, max), (min, min)];
    ///     corners.map(|(e, n)| Place::new(e, n)).to_vec()
    /// };
    /// let frame = Frame::new(LengthUnit::Metre, [0.0, 0.0]);
    /// let yard = Zone::new("yard", frame, vec![vec![ring(0.0, 10.0), ring(4.0, 6.0)]]).unwrap();
    /// assert_eq!(yard.area(), 96.0);
    /// ```
    pub fn new(
        name: impl Into<String>,
        frame: Frame,
        parts: Vec<Vec<Vec<Place>>>,
    ) -> Result<Self, ZoneError> {
        let mut rings = Vec::new();
        for part in parts {
            for (index, ring) in part.into_iter().enumerate() {
                let number = rings.len() + 1;
                let mut ring = close(number, ring)?;
                for place in &mut ring {
                    *place = frame.to_local(place.east, place.north);
                }
                // Outer rings counter-clockwise, holes clockwise: what the zone holds is on the left.
                if (twice_area(&ring) < 0.0) == (index == 0) {
                    ring.reverse();
                }
                rings.push(ring);
            }
        }
        let edges: Vec<Edge> = rings.iter().flat_map(|ring| ring_edges(ring)).collect();
        let mut crossed = None;
        // Touching is not crossing.
        crossing::each(&edges, |_, _, meeting| match meeting {
            Meeting::Cross(at) => {
                crossed = Some(at);
                false
            }
            Meeting::Touch(_) => true,
        });
        if let Some(at) = crossed {
            return Err(ZoneError::Crosses {
                at: frame.to_grid(at),
            });
        }
        let area = rings.iter().map(|ring| twice_area(ring)).sum::<f64>() / 2.0;
        let triangles = triangles(&rings, &edges);
        let mut ground = Sum::default();
        for &[a, b, c] in &triangles {
            ground += cross(a, b, c) / 2.0;
        }
        let ground = ground.value();
        if area <= 0.0 && ground <= 0.0 {
            return Err(ZoneError::NoGround);
        }
        if (area - ground).abs() > RELATIVE * ground.abs().max(area.abs()) {
            return Err(ZoneError::CoversTwice {
                rings: area,
                ground,
            });
        }
        Ok(Zone {
            name: name.into(),
            extent: Extent::of(rings.iter().flatten().copied()),
            rings,
            edges,
            triangles,
            area,
        })
    }

    /// Ground that is known already: its edges, which have it on their left, and its triangles.
    pub(crate) fn of_parts(edges: Vec<Edge>, triangles: Vec<[Place; 3]>) -> Self {
        let mut area = Sum::default();
        for &[a, b, c] in &triangles {
            area += cross(a, b, c) / 2.0;
        }
        Zone {
            name: String::new(),
            rings: Vec::new(),
            extent: Extent::of(edges.iter().map(|edge| edge.from)),
            edges,
            triangles,
            area: area.value(),
        }
    }

    /// The same ground under another name.
    pub fn named(self, name: impl Into<String>) -> Self {
        Zone {
            name: name.into(),
            ..self
        }
    }

    /// Its name.
    pub fn name(&self) -> &str {
        &self.name
    }

    /// Its rings in local coordinates, outer ones counter-clockwise, holes clockwise, the first
    /// corner not repeated.
    pub fn rings(&self) -> &[Vec<Place>] {
        &self.rings
    }

    /// Its parts, each an outer ring and then its holes, closed, in grid coordinates of the frame it was made in.
    pub fn parts(&self, frame: Frame) -> Vec<Vec<Vec<Place>>> {
        let mut parts: Vec<Vec<Vec<Place>>> = Vec::new();
        for ring in &self.rings {
            let closed = in_grid(ring, frame);
            match parts.last_mut() {
                Some(part) if twice_area(ring) < 0.0 => part.push(closed),
                _ => parts.push(vec![closed]),
            }
        }
        parts
    }

    /// The length of its outlines, those of holes with them.
    pub fn perimeter(&self) -> f64 {
        let mut length = Sum::default();
        for edge in &self.edges {
            length += edge.length();
        }
        length.value()
    }

    /// Its area.
    pub fn area(&self) -> f64 {
        self.area
    }

    /// Where it lies, in local coordinates.
    pub fn extent(&self) -> Extent {
        self.extent
    }

    pub(crate) fn edges(&self) -> &[Edge] {
        &self.edges
    }

    pub(crate) fn triangles(&self) -> &[[Place; 3]] {
        &self.triangles
    }
}

impl Zones {
    /// The zones of a measurement, made in `frame`.
    pub fn new(frame: Frame, zones: Vec<Zone>) -> Self {
        Zones { frame, zones }
    }

    /// The frame they are held in.
    pub fn frame(&self) -> Frame {
        self.frame
    }

    /// The zones, in the order given.
    pub fn zones(&self) -> &[Zone] {
        &self.zones
    }

    /// The extent of all of them.
    pub fn extent(&self) -> Extent {
        let extents = self.zones.iter().map(Zone::extent);
        extents.fold(Extent::EMPTY, |all, extent| all.union(&extent))
    }
}

/// A ring closed, in grid coordinates.
pub(crate) fn in_grid(ring: &[Place], frame: Frame) -> Vec<Place> {
    let closed = ring.iter().chain(ring.first());
    closed.map(|&place| frame.to_grid(place)).collect()
}

/// Takes the repeated corners out of a closed ring.
fn close(number: usize, mut ring: Vec<Place>) -> Result<Vec<Place>, ZoneError> {
    let in_range = |p: &Place| p.east.abs() <= FARTHEST && p.north.abs() <= FARTHEST;
    if let Some(corner) = ring.iter().position(|p| !in_range(p)) {
        return Err(ZoneError::OutOfRange {
            ring: number,
            corner: corner + 1,
        });
    }
    let (Some(&from), Some(&to)) = (ring.first(), ring.last()) else {
        return Err(ZoneError::TooFew {
            ring: number,
            corners: 0,
        });
    };
    if from != to {
        return Err(ZoneError::Open {
            ring: number,
            from,
            to,
        });
    }
    ring.dedup();
    ring.pop();
    if ring.len() < 3 {
        return Err(ZoneError::TooFew {
            ring: number,
            corners: ring.len().max(1),
        });
    }
    Ok(ring)
}

pub(crate) fn ring_edges(ring: &[Place]) -> impl Iterator<Item = Edge> + '_ {
    let next = ring.iter().cycle().skip(1);
    ring.iter().zip(next).map(|(&from, &to)| Edge { from, to })
}

pub(crate) fn twice_area(ring: &[Place]) -> f64 {
    let mut sum = Sum::default();
    for pair in ring.windows(2).skip(1) {
        sum += cross(ring[0], pair[0], pair[1]);
    }
    sum.value()
}

/// The ground within rings whose edges do not cross, as triangles.
fn triangles(rings: &[Vec<Place>], edges: &[Edge]) -> Vec<[Place; 3]> {
    let point = |p: &Place| mitigate_underflow(Point2::new(p.east, p.north));
    let points: Vec<Point2<f64>> = rings.iter().flatten().map(point).collect();
    let mut borders = Vec::with_capacity(points.len());
    let mut start = 0;
    for ring in rings {
        let count = ring.len();
        borders.extend((0..count).map(|i| [start + i, start + (i + 1) % count]));
        start += count;
    }
    // Edges that do not cross are never in conflict; coordinates were found finite before.
    let made =
        ConstrainedDelaunayTriangulation::<Point2<f64>>::try_bulk_load_cdt(points, borders, |_| {});
    let Ok(made) = made else {
        return Vec::new();
    };
    let rows = EdgeRows::of(edges);
    made.inner_faces()
        .map(|face| face.positions().map(|p| Place::new(p.x, p.y)))
        .filter(|&[a, b, c]| {
            let middle = Place::new(
                (a.east + b.east + c.east) / 3.0,
                (a.north + b.north + c.north) / 3.0,
            );
            rows.hold(middle)
        })
        .collect()
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::units::LengthUnit;

    const ORIGIN: [f64; 2] = [500_000.0, 6_000_000.0];

    fn ring(corners: &[(f64, f64)]) -> Vec<Place> {
        corners
            .iter()
            .map(|&(e, n)| Place::new(ORIGIN[0] + e, ORIGIN[1] + n))
            .collect()
    }

    fn zone(parts: Vec<Vec<Vec<Place>>>) -> Result<Zone, ZoneError> {
        Zone::new("test", Frame::new(LengthUnit::Metre, ORIGIN), parts)
    }

    fn square(min: f64, max: f64) -> Vec<Place> {
        ring(&[(min, min), (max, min), (max, max), (min, max), (min, min)])
    }

    #[test]
    fn parts_and_holes_hold_what_they_should() {
        let mut hole = square(2.0, 4.0);
        hole.reverse();
        let touching = ring(&[(10.0, 10.0), (12.0, 10.0), (12.0, 12.0), (10.0, 10.0)]);
        let both = zone(vec![vec![square(0.0, 10.0), hole], vec![touching]]).unwrap();
        assert_eq!(both.area(), 98.0);
        let sum: f64 = both
            .triangles()
            .iter()
            .map(|&[a, b, c]| cross(a, b, c) / 2.0)
            .sum();
        assert!((sum - 98.0).abs() < 1e-12);
    }

    #[test]
    fn parts_may_share_an_edge() {
        let left = ring(&[(0.0, 0.0), (5.0, 0.0), (5.0, 5.0), (0.0, 5.0), (0.0, 0.0)]);
        let right = ring(&[(5.0, 0.0), (9.0, 0.0), (9.0, 2.0), (5.0, 2.0), (5.0, 0.0)]);
        assert_eq!(zone(vec![vec![left], vec![right]]).unwrap().area(), 33.0);
    }

    #[test]
    fn faults_name_their_place() {
        let open = ring(&[(0.0, 0.0), (5.0, 0.0), (5.0, 5.0)]);
        let refused = zone(vec![vec![open.clone()]]).unwrap_err();
        assert_eq!(
            refused,
            ZoneError::Open {
                ring: 1,
                from: open[0],
                to: open[2]
            }
        );

        let bow = ring(&[(0.0, 0.0), (4.0, 4.0), (4.0, 0.0), (0.0, 4.0), (0.0, 0.0)]);
        let at = Place::new(ORIGIN[0] + 2.0, ORIGIN[1] + 2.0);
        assert_eq!(
            zone(vec![vec![bow]]).unwrap_err(),
            ZoneError::Crosses { at }
        );

        let through = ring(&[
            (0.0, 0.0),
            (2.0, 2.0),
            (4.0, 4.0),
            (4.0, 0.0),
            (2.0, 2.0),
            (0.0, 4.0),
            (0.0, 0.0),
        ]);
        assert!(matches!(
            zone(vec![vec![through]]),
            Err(ZoneError::CoversTwice { .. })
        ));
        let nested = zone(vec![vec![square(0.0, 9.0)], vec![square(2.0, 3.0)]]);
        assert!(matches!(nested, Err(ZoneError::CoversTwice { .. })));

        let spike = ring(&[(0.0, 0.0), (5.0, 0.0), (0.0, 0.0)]);
        assert_eq!(
            zone(vec![vec![spike]]).unwrap_err(),
            ZoneError::TooFew {
                ring: 1,
                corners: 2
            }
        );
        let line = ring(&[(0.0, 0.0), (5.0, 5.0), (2.0, 2.0), (0.0, 0.0)]);
        assert_eq!(zone(vec![vec![line]]).unwrap_err(), ZoneError::NoGround);
        let nan = ring(&[(0.0, 0.0), (f64::NAN, 0.0), (1.0, 1.0), (0.0, 0.0)]);
        assert_eq!(
            zone(vec![vec![nan]]).unwrap_err(),
            ZoneError::OutOfRange { ring: 1, corner: 2 }
        );
    }
}
