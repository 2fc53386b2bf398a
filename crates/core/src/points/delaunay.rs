//! Surfaces from points and lines.

mod in_line;

use std::collections::HashMap;

use rayon::prelude::*;
use spade::handles::{FaceHandle, FixedFaceHandle, FixedVertexHandle, InnerTag};
use spade::{ConstrainedDelaunayTriangulation, Point2, Triangulation as _, mitigate_underflow};

use crate::plan::cross;
use crate::plan::membership::EdgeRows;
use crate::plan::{Edge, Frame, Place};
use crate::points::breaklines::{self, Crossing, along};
use crate::points::flat::FlatFaces;
use crate::points::repeated::ordered;
use crate::points::{FlatTriangles, LineKind, PickUp, Rules};
use crate::surface::tin::MOST;
use crate::surface::{Tin, TinError, Vertex};

/// Times that flat facets are relaxed.
const RELAXING: usize = 4;

/// A surface made from points and lines, and what was done to them on the way.
#[derive(Debug, Clone)]
pub struct Triangulated {
    /// The surface, out to its outlines, or else to the convex hull of the points.
    pub tin: Tin,
    /// Points given more than once at one place and height, counted each time but the first.
    pub merged: usize,
    /// Places given with several heights, settled by the rule.
    pub settled: usize,
    /// Where lines cross that were not given a point there.
    pub crossings: Vec<Crossing>,
    /// Facets with too long an edge, dropped.
    pub long: Dropped,
    /// Facets outside the outlines, dropped.
    pub outside: Dropped,
    /// Flat facets between points of one contour, dropped where that is the rule.
    pub flat: Dropped,
    /// Of them, those that are still flat after points were put between them.
    pub still_flat: Dropped,
    /// Points that were put between them.
    pub relaxing_points: usize,
}

/// Facets that were dropped, or are counted.
#[derive(Debug, Clone, Copy, PartialEq, Default)]
pub struct Dropped {
    /// How many.
    pub facets: usize,
    /// Their plan area.
    pub area: f64,
}

/// Why points make no surface.
#[derive(Debug, Clone, PartialEq, thiserror::Error)]
pub enum TriangulateError {
    /// A surface wants three different places.
    #[error("{found} different positions in plan, and a surface needs three")]
    TooFew {
        /// How many different places there are.
        found: usize,
    },
    /// More points than can be distinguished.
    #[error("{points} points are more than can be triangulated")]
    TooMany {
        /// How many points there are.
        points: usize,
    },
    /// The points stand in one line.
    #[error("all {points} points are on one straight line")]
    InOneLine {
        /// How many points there are.
        points: usize,
    },
    /// One place, two heights.
    #[error("points {} and {} have the same position and different heights, {} and {}", .first + 1, .second + 1, .heights[0], .heights[1])]
    TwoHeights {
        /// Index of the one.
        first: usize,
        /// Index of the other.
        second: usize,
        /// Their heights, in that order.
        heights: [f64; 2],
    },
    /// The outlines hold no facet, or every facet has too long an edge.
    #[error("no triangle is left: {} are outside the outlines, {} have an edge over the limit, {} are flat", .outside.facets, .long.facets, .flat.facets)]
    NothingLeft {
        /// Facets outside the outlines.
        outside: Dropped,
        /// Facets with too long an edge.
        long: Dropped,
        /// Flat facets.
        flat: Dropped,
    },
    /// A number is not finite or beyond [`FARTHEST`](crate::surface::FARTHEST).
    #[error("point {} has a coordinate or height beyond ±1 000 000 000", .point + 1)]
    OutOfRange {
        /// Index of the point.
        point: usize,
    },
}

/// The Delaunay triangulation of points, with lines that facets may not cross.
///
/// Lines that cross are split where they do, at the mean of their heights. Vertices and facets are
/// put in an order that keeps neighbours close, whatever the order of the points: everything measured
/// later walks over them faster.
///
/// # Errors
///
/// When the points make no surface; see [`TriangulateError`].
///
/// ```
/// use dapedon_core::plan::{Frame};
/// use dapedon_core::points::{Rules, triangulate};
/// use dapedon_core::surface::{Vertex};
/// use dapedon_core::units::{LengthUnit};
/// let points = [(0.0, 0.0), (4.0, 0.0), (4.0, 4.0), (0.0, 4.0), (4.0, 4.0)];
/// let points = points.map(|(e, n)| Vertex::new(e, n, 7.0)).to_vec();
/// let frame = Frame::new(LengthUnit::Metre, [0.0, 0.0]);
/// let made = triangulate(frame, &points.into(), &Rules::default()).unwrap();
/// assert_eq!((made.tin.area(), made.merged), (16.0, 1));
/// ```
///
/// # Panics
///
/// When a line names a point that is not there.
pub fn triangulate(
    frame: Frame,
    pick_up: &PickUp,
    rules: &Rules,
) -> Result<Triangulated, TriangulateError> {
    if let Some(point) = pick_up.points.iter().position(|v| !v.is_in_range()) {
        return Err(TriangulateError::OutOfRange { point });
    }
    if pick_up.points.len() >= MOST {
        return Err(TriangulateError::TooMany {
            points: pick_up.points.len(),
        });
    }
    let ordered = ordered(&pick_up.points, rules.duplicates)?;
    let mut points = ordered.points;
    let given = points.len();
    if given < 3 {
        return Err(TriangulateError::TooFew { found: given });
    }

    // The hull of grid coordinates in one line is decided on the extent taken off, where products
    // are exact enough.
    let mut places: Vec<Place> = (points.iter())
        .map(|v| frame.to_local(v.east, v.north))
        .collect();
    let joined = |line: &[u32], closes: bool| {
        let end = line.first().copied().filter(|_| closes);
        let line = line.iter().copied().chain(end);
        line.map(|point| ordered.moved[point as usize] as usize)
            .collect::<Vec<_>>()
    };
    let mut outlines = Outlines::default();
    let mut pieces = Vec::new();
    for line in &pick_up.lines {
        let line_points = joined(&line.points, line.kind.is_outline());
        pieces.extend(line_points.windows(2).map(|pair| [pair[0], pair[1]]));
        outlines.add(line.kind, line_points.iter().map(|&point| places[point]));
    }
    let split = breaklines::split(frame, &mut points, &mut places, pieces);
    let mut net = Triangulation::of(frame, &mut points, &places, split.pieces)?;

    let mut sorted = net.facets(&points, &outlines, rules);
    let (flat, mut relaxing_points) = (sorted.flat, 0);
    if rules.flat == FlatTriangles::Relax && flat.facets > 0 {
        relaxing_points = net.relax(frame, &mut points)?;
        sorted = net.facets(&points, &outlines, rules);
    }
    drop(net);
    let Sorted {
        facets,
        outside,
        long,
        flat: still_flat,
    } = sorted;
    if facets.is_empty() && outside.facets + long.facets + flat.facets > 0 {
        return Err(TriangulateError::NothingLeft {
            outside,
            long,
            flat,
        });
    }
    let is_dropped = rules.flat == FlatTriangles::Drop;
    let dropped = outside.facets + long.facets + if is_dropped { flat.facets } else { 0 };
    let (points, facets) = match dropped {
        0 => (points, facets),
        _ => used(points, facets),
    };
    match Tin::from_facets(frame, points, facets) {
        Ok(tin) => Ok(Triangulated {
            tin,
            merged: ordered.merged,
            settled: ordered.settled,
            crossings: split.crossings,
            long,
            outside,
            flat,
            still_flat,
            relaxing_points,
        }),
        Err(TinError::TooMany { .. }) => Err(TriangulateError::TooMany { points: given }),
        Err(TinError::NoFacets { .. }) => Err(TriangulateError::InOneLine { points: given }),
        Err(
            TinError::OutOfRange { vertex: point } | TinError::UnknownVertex { facet: point, .. },
        ) => Err(TriangulateError::OutOfRange { point }),
    }
}

/// The triangulated net, out to the convex hull.
struct Triangulation {
    net: ConstrainedDelaunayTriangulation<Point2<f64>>,
}

impl Triangulation {
    /// Joins `places`, along `pieces` of lines. Points that are added on the way, where pieces cross
    /// by a rounding, are added to `points`.
    fn of(
        frame: Frame,
        points: &mut Vec<Vertex>,
        places: &[Place],
        pieces: Vec<[usize; 2]>,
    ) -> Result<Self, TriangulateError> {
        let point = |p: &Place| mitigate_underflow(Point2::new(p.east, p.north));
        let mut conflicts = Vec::new();
        let out_of_range = |_| TriangulateError::OutOfRange { point: 0 };
        let mut line_broken;
        let (places, mut net) = match in_line::begins_in_one_line(places) {
            false => {
                let net = ConstrainedDelaunayTriangulation::<Point2<f64>>::try_bulk_load_cdt(
                    places.iter().map(point).collect(),
                    pieces,
                    |piece| conflicts.push(piece),
                );
                (places, net.map_err(out_of_range)?)
            }
            true => {
                let given = points.len();
                line_broken = places.to_vec();
                let Some(off) = in_line::first_off(&line_broken) else {
                    return Err(TriangulateError::InOneLine { points: given });
                };
                // Where most points stand in one line a net that is begun with them takes the square of their number.
                line_broken.swap(2, off);
                points.swap(2, off);
                let other = |index: usize| match index {
                    2 => off,
                    index if index == off => 2,
                    index => index,
                };
                let mut net = ConstrainedDelaunayTriangulation::<Point2<f64>>::new();
                for place in &line_broken {
                    net.insert(point(place)).map_err(out_of_range)?;
                }
                for piece in pieces {
                    let [from, to] = piece.map(|end| FixedVertexHandle::from_index(other(end)));
                    if from != to
                        && net.try_add_constraint(from, to).is_empty()
                        && !net.exists_constraint(from, to)
                    {
                        conflicts.push([from, to].map(|end| end.index()));
                    }
                }
                (&line_broken[..], net)
            }
        };
        if net.num_vertices() < points.len() {
            // A line crosses another where a point stands already: that one holds.
            let key = |p: Point2<f64>| [p.x.to_bits(), p.y.to_bits()];
            let mut standing = HashMap::new();
            for (place, &vertex) in places.iter().zip(points.iter()) {
                standing.entry(key(point(place))).or_insert(vertex);
            }
            *points = net
                .vertices()
                .map(|v| standing[&key(v.position())])
                .collect();
        }
        for [from, to] in conflicts {
            let [from, to] = [from, to].map(FixedVertexHandle::from_index);
            let ends = [from, to].map(|end| net.vertex(end).position());
            let edge = Edge {
                from: Place::new(ends[0].x, ends[0].y),
                to: Place::new(ends[1].x, ends[1].y),
            };
            let heights = [points[from.index()].height, points[to.index()].height];
            let before = net.num_vertices();
            net.add_constraint_and_split(from, to, |p| p);
            for index in before..net.num_vertices() {
                let added = net.vertex(FixedVertexHandle::from_index(index));
                let place = Place::new(added.position().x, added.position().y);
                let height = heights[0] + along(&edge, place) * (heights[1] - heights[0]);
                let grid = frame.to_grid(place);
                points.push(Vertex::new(grid.east, grid.north, height));
            }
        }
        Ok(Triangulation { net })
    }

    /// The facets that stay, and those that do not.
    fn facets(&self, points: &[Vertex], outlines: &Outlines, rules: &Rules) -> Sorted {
        let inside = outlines.sieve(self);
        let flat = FlatFaces::of(&self.net, points);
        let mut sorted = Sorted {
            facets: Vec::with_capacity(self.net.num_inner_faces()),
            outside: Dropped::default(),
            long: Dropped::default(),
            flat: Dropped::default(),
        };
        for face in self.net.inner_faces() {
            let is_inside = inside.as_ref().is_none_or(|inside| inside[face.index()]);
            if !is_inside {
                sorted.outside.add(face.area());
                continue;
            }
            if rules.max_edge.is_some_and(|most| is_long(&face, most)) {
                sorted.long.add(face.area());
                continue;
            }
            if flat.hold(&face) {
                sorted.flat.add(face.area());
                if rules.flat == FlatTriangles::Drop {
                    continue;
                }
            }
            let corners = face.vertices().map(|v| v.fix().index() as u32);
            sorted.facets.push(corners);
        }
        let key = |facet: &[u32; 3]| (facet.iter().min().copied(), *facet);
        sorted.facets.par_sort_unstable_by_key(key);
        sorted
    }

    /// Puts points between flat facets, which are added to `points`; how many. Facets that come about on the way may be flat again, so
    /// that is done some times over.
    fn relax(&mut self, frame: Frame, points: &mut Vec<Vertex>) -> Result<usize, TriangulateError> {
        let given = points.len();
        for _ in 0..RELAXING {
            let before = points.len();
            for (place, height) in FlatFaces::of(&self.net, points).relaxing(&self.net, points) {
                let point = mitigate_underflow(Point2::new(place.east, place.north));
                let inserted = self.net.insert(point);
                inserted.map_err(|_| TriangulateError::OutOfRange { point: given })?;
                // One that stands there already keeps its height.
                if self.net.num_vertices() > points.len() {
                    let grid = frame.to_grid(place);
                    points.push(Vertex::new(grid.east, grid.north, height));
                }
            }
            if points.len() == before {
                break;
            }
        }
        match points.len() >= MOST {
            true => Err(TriangulateError::TooMany {
                points: points.len(),
            }),
            false => Ok(points.len() - given),
        }
    }
}

/// The facets that stay, and those that do not.
struct Sorted {
    facets: Vec<[u32; 3]>,
    outside: Dropped,
    long: Dropped,
    /// They are among those that stay, unless they are to be dropped.
    flat: Dropped,
}

type Face<'n> = FaceHandle<'n, InnerTag, Point2<f64>, (), spade::CdtEdge<()>, ()>;

/// True when an edge that is no line is longer than `most`.
fn is_long(face: &Face<'_>, most: f64) -> bool {
    let edges = face.adjacent_edges();
    edges
        .iter()
        .any(|edge| edge.length_2() > most * most && !edge.is_constraint_edge())
}

impl Dropped {
    fn add(&mut self, area: f64) {
        self.facets += 1;
        self.area += area;
    }
}

/// The outlines that bound a surface.
#[derive(Default)]
struct Outlines {
    edges: Vec<Edge>,
    holes: Vec<Edge>,
    islands: Vec<Edge>,
}

impl Outlines {
    fn add(&mut self, kind: LineKind, places: impl Iterator<Item = Place>) {
        let edges = match kind {
            LineKind::Breakline => return,
            LineKind::Edge => &mut self.edges,
            LineKind::Hole => &mut self.holes,
            LineKind::Island => &mut self.islands,
        };
        let places: Vec<Place> = places.collect();
        edges.extend(places.windows(2).map(|pair| Edge {
            from: pair[0],
            to: pair[1],
        }));
    }

    /// For each face of the net, whether it lies within the outlines; `None` when there are none.
    ///
    /// Outlines are lines of the net, so faces that are joined across other edges lie on one side of
    /// all of them: one face of each such region is asked.
    fn sieve(&self, net: &Triangulation) -> Option<Vec<bool>> {
        if self.edges.is_empty() && self.holes.is_empty() {
            return None;
        }
        let [edges, holes, islands] =
            [&self.edges, &self.holes, &self.islands].map(|edges| EdgeRows::of(edges));
        let holds = |at: Place| {
            (self.edges.is_empty() || edges.hold(at)) && (!holes.hold(at) || islands.hold(at))
        };
        let net = &net.net;
        let mut answers: Vec<Option<bool>> = vec![None; net.num_all_faces()];
        let mut stack: Vec<FixedFaceHandle<InnerTag>> = Vec::new();
        let mut region = Vec::new();
        for face in net.inner_faces() {
            if answers[face.index()].is_some() {
                continue;
            }
            region.clear();
            stack.push(face.fix());
            // Marked as it is put on the stack; the answer follows when the region is known.
            answers[face.index()] = Some(false);
            let mut widest = (f64::NEG_INFINITY, Place::default());
            while let Some(next) = stack.pop() {
                let next = net.face(next);
                region.push(next.index());
                let [a, b, c] = next.positions().map(|p| Place::new(p.x, p.y));
                let area = cross(a, b, c);
                if area > widest.0 {
                    let middle = Place::new(
                        (a.east + b.east + c.east) / 3.0,
                        (a.north + b.north + c.north) / 3.0,
                    );
                    widest = (area, middle);
                }
                let open = next
                    .adjacent_edges()
                    .into_iter()
                    .filter(|e| !e.is_constraint_edge());
                for beyond in open.filter_map(|edge| edge.rev().face().as_inner()) {
                    if answers[beyond.index()].is_none() {
                        answers[beyond.index()] = Some(false);
                        stack.push(beyond.fix());
                    }
                }
            }
            let inside = holds(widest.1);
            for &face in &region {
                answers[face] = Some(inside);
            }
        }
        Some(
            answers
                .into_iter()
                .map(|answer| answer == Some(true))
                .collect(),
        )
    }
}

/// Points that facets use, and the facets that name them.
fn used(points: Vec<Vertex>, mut facets: Vec<[u32; 3]>) -> (Vec<Vertex>, Vec<[u32; 3]>) {
    let mut new = vec![u32::MAX; points.len()];
    for &corner in facets.iter().flatten() {
        new[corner as usize] = 0;
    }
    let mut kept = Vec::new();
    for (point, new) in points.into_iter().zip(&mut new) {
        if *new == 0 {
            *new = kept.len() as u32;
            kept.push(point);
        }
    }
    for corner in facets.iter_mut().flatten() {
        *corner = new[*corner as usize];
    }
    (kept, facets)
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::plan::Extent;
    use crate::units::LengthUnit;

    fn made(points: &[(f64, f64, f64)]) -> Result<Triangulated, TriangulateError> {
        let points: Vec<Vertex> = points
            .iter()
            .map(|&(e, n, h)| Vertex::new(e, n, h))
            .collect();
        let extent = Extent::of(points.iter().map(|p| p.place()));
        let frame = Frame::around(LengthUnit::Metre, extent);
        triangulate(frame, &points.into(), &Rules::default())
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
