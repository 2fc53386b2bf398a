//! Closed outlines that limit a measurement.

use std::cmp::Ordering;

use robust::{Coord, orient2d};
use spade::{ConstrainedDelaunayTriangulation, Point2, Triangulation, mitigate_underflow};

use crate::plan::cross;
use crate::{Edge, Extent, FARTHEST, Frame, Place, Sum};

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
    #[error("ring {ring} has {corners} different corners, and an outline needs three")]
    TooFew {
        /// Which ring.
        ring: usize,
        /// How many different corners it has.
        corners: usize,
    },
    /// A coordinate is not finite or beyond [`FARTHEST`].
    #[error(
        "ring {ring}, corner {corner}, has a coordinate that no survey has, beyond a thousand million"
    )]
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
    #[error("the outline holds no ground: its corners stand in one line")]
    NoGround,
    /// Two parts cover the same ground, or a ring turns over itself at a corner.
    #[error(
        "the outline covers ground twice, or turns over itself at a corner: its rings hold {rings:.3}, the ground they cover is {ground:.3}"
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
    /// use dapedon_core::{Frame, LengthUnit, Place, Zone};
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
        if let Some(at) = crossing(&edges) {
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
        if (area - ground).abs() > 1e-9 * ground.abs().max(area.abs()) {
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

    /// Its name.
    pub fn name(&self) -> &str {
        &self.name
    }

    /// Its rings in local coordinates, outer ones counter-clockwise, holes clockwise, the first
    /// corner not repeated.
    pub fn rings(&self) -> &[Vec<Place>] {
        &self.rings
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

fn ring_edges(ring: &[Place]) -> impl Iterator<Item = Edge> + '_ {
    let next = ring.iter().cycle().skip(1);
    ring.iter().zip(next).map(|(&from, &to)| Edge { from, to })
}

fn twice_area(ring: &[Place]) -> f64 {
    let mut sum = Sum::default();
    for pair in ring.windows(2).skip(1) {
        sum += cross(ring[0], pair[0], pair[1]);
    }
    sum.value()
}

/// Where two edges cross, decided exactly; touching is not crossing.
fn crossing(edges: &[Edge]) -> Option<Place> {
    let mut order: Vec<(Extent, &Edge)> = edges
        .iter()
        .map(|e| (Extent::of([e.from, e.to]), e))
        .collect();
    order.sort_by(|(a, _), (b, _)| {
        a.min
            .east
            .partial_cmp(&b.min.east)
            .unwrap_or(Ordering::Equal)
    });
    for (index, (extent, edge)) in order.iter().enumerate() {
        let reached = order[index + 1..]
            .iter()
            .take_while(|(e, _)| e.min.east <= extent.max.east);
        for (_, other) in reached.filter(|(e, _)| e.meets(extent)) {
            if edges_cross(edge, other) {
                return Some(meeting(edge, other));
            }
        }
    }
    None
}

fn edges_cross(a: &Edge, b: &Edge) -> bool {
    let side = |e: &Edge, p: Place| {
        let at = |p: Place| Coord {
            x: p.east,
            y: p.north,
        };
        orient2d(at(e.from), at(e.to), at(p))
    };
    let apart = |s: f64, t: f64| (s > 0.0 && t < 0.0) || (s < 0.0 && t > 0.0);
    apart(side(a, b.from), side(a, b.to)) && apart(side(b, a.from), side(b, a.to))
}

fn meeting(a: &Edge, b: &Edge) -> Place {
    let (from, to) = (cross(b.from, b.to, a.from), cross(b.from, b.to, a.to));
    let t = from / (from - to);
    Place::new(
        a.from.east + t * (a.to.east - a.from.east),
        a.from.north + t * (a.to.north - a.from.north),
    )
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
    let rows = Rows::of(edges);
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

/// Edges by the rows they pass, to tell quickly whether a place lies within.
struct Rows<'e> {
    from: f64,
    per_unit: f64,
    rows: Vec<Vec<&'e Edge>>,
}

impl<'e> Rows<'e> {
    fn of(edges: &'e [Edge]) -> Self {
        let extent = Extent::of(edges.iter().map(|e| e.from));
        let count = (edges.len() / 4).clamp(1, 4096);
        let mut rows = Rows {
            from: extent.min.north,
            per_unit: count as f64 / extent.height(),
            rows: vec![Vec::new(); count],
        };
        for edge in edges {
            let ends = [rows.row(edge.from.north), rows.row(edge.to.north)];
            for row in ends[0].min(ends[1])..=ends[0].max(ends[1]) {
                rows.rows[row].push(edge);
            }
        }
        rows
    }

    fn row(&self, north: f64) -> usize {
        (((north - self.from) * self.per_unit) as usize).min(self.rows.len() - 1)
    }

    /// Even-odd: a ray to the east passes an odd number of edges.
    fn hold(&self, place: Place) -> bool {
        let passes = |edge: &&&Edge| {
            let rises = edge.from.north <= place.north && place.north < edge.to.north;
            let falls = edge.to.north <= place.north && place.north < edge.from.north;
            let left = cross(edge.from, edge.to, place) > 0.0;
            (rises && left) || (falls && !left)
        };
        self.rows[self.row(place.north)]
            .iter()
            .filter(passes)
            .count()
            % 2
            == 1
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::LengthUnit;

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
