//! Flat triangles between points of one contour, and points that relax them.
//!
//! Where a contour bends around a valley, a ridge or a summit, triangles may join three of its own points. They are level, and the
//! ground is not. Triangles joined to each other across edges that are no lines are a region. Its ways out, the mouths, lead to
//! triangles with a corner at another height. Points are put in the middles of the edges that lead from the far ends of a region to its
//! mouths, which is along the valley or the ridge; their heights run from that of the contour to that of the corner beyond the mouth.
//! The derivation is in `docs/methods.md`, "Flat triangles".

use std::cmp::Reverse;
use std::collections::{BinaryHeap, HashMap};

use spade::handles::{DirectedEdgeHandle, FaceHandle, FixedFaceHandle, InnerTag, OUTER_FACE};
use spade::{ConstrainedDelaunayTriangulation, Point2, Triangulation as _};

use crate::plan::Place;
use crate::surface::Vertex;

type Net = ConstrainedDelaunayTriangulation<Point2<f64>>;
type Face<'n> = FaceHandle<'n, InnerTag, Point2<f64>, (), spade::CdtEdge<()>, ()>;
type Directed<'n> = DirectedEdgeHandle<'n, Point2<f64>, (), spade::CdtEdge<()>, ()>;

/// Which faces of a net are level, with three corners on level lines.
pub(super) struct FlatFaces {
    /// By the number of a face; empty where none is.
    faces: Vec<bool>,
}

impl FlatFaces {
    pub(super) fn of(net: &Net, points: &[Vertex]) -> Self {
        if net.num_constraints() == 0 {
            return FlatFaces { faces: Vec::new() };
        }
        let height = |index: usize| points[index].height;
        let mut on_contour = vec![false; points.len()];
        let lines = (net.undirected_edges()).filter(|edge| edge.is_constraint_edge());
        let mut any = false;
        for line in lines {
            let [from, to] = line.vertices().map(|end| end.index());
            if height(from) == height(to) {
                (on_contour[from], on_contour[to], any) = (true, true, true);
            }
        }
        let mut faces = Vec::new();
        if any {
            faces.resize(net.num_all_faces(), false);
            for face in net.inner_faces() {
                let [a, b, c] = face.vertices().map(|corner| corner.index());
                let is_level = height(a) == height(b) && height(b) == height(c);
                faces[face.index()] = is_level && on_contour[a] && on_contour[b] && on_contour[c];
            }
        }
        FlatFaces { faces }
    }

    pub(super) fn hold(&self, face: &Face<'_>) -> bool {
        self.faces.get(face.index()).copied().unwrap_or(false)
    }

    /// The points that relax them: where, and at which height.
    pub(super) fn relaxing(&self, net: &Net, points: &[Vertex]) -> Vec<(Place, f64)> {
        let mut found = Vec::new();
        let mut seen = vec![false; self.faces.len()];
        for face in net.inner_faces().filter(|face| self.hold(face)) {
            if std::mem::replace(&mut seen[face.index()], true) {
                continue;
            }
            let mut faces = vec![face.fix()];
            let mut at = 0;
            while let Some(&next) = faces.get(at) {
                at += 1;
                for edge in net.face(next).adjacent_edges() {
                    if let Some(beyond) = self.beyond(edge)
                        && !std::mem::replace(&mut seen[beyond.index()], true)
                    {
                        faces.push(beyond);
                    }
                }
            }
            let region = Region::of(self, net, points, &faces);
            match region.mouths.is_empty() {
                true => found.extend(region.summit(net, points, &faces)),
                false => found.extend(region.along()),
            }
        }
        found
    }

    /// The flat face on the other side of an edge that is no line.
    fn beyond(&self, edge: Directed<'_>) -> Option<FixedFaceHandle<InnerTag>> {
        let other = edge.rev().face().as_inner()?;
        (!edge.is_constraint_edge() && self.hold(&other)).then(|| other.fix())
    }
}

/// An edge within a region, or at a mouth of it.
struct Crossed {
    /// Its middle.
    middle: Place,
    /// Half its length.
    half: f64,
    /// The edges that share a face of the region with it.
    next: Vec<usize>,
    /// Where lengths along the region are taken.
    on_axis: Place,
    /// How far the end of the region is, behind the face of which it is the only way out.
    end: Option<f64>,
}

/// Where a region opens to a corner at another height.
struct Mouth {
    edge: usize,
    height: f64,
    distance: f64,
}

/// Flat faces that are joined to each other.
struct Region {
    height: f64,
    edges: Vec<Crossed>,
    mouths: Vec<Mouth>,
}

impl Region {
    fn of(
        flat: &FlatFaces,
        net: &Net,
        points: &[Vertex],
        faces: &[FixedFaceHandle<InnerTag>],
    ) -> Self {
        let mut region = Region {
            height: f64::NAN,
            edges: Vec::new(),
            mouths: Vec::new(),
        };
        let mut numbers: HashMap<usize, usize> = HashMap::new();
        for &face in faces {
            let face = net.face(face);
            region.height = points[face.vertices()[0].index()].height;
            let mut ways_out = Vec::new();
            let mut sides = 0;
            for edge in face.adjacent_edges() {
                if edge.is_constraint_edge() {
                    sides += 1;
                    continue;
                }
                let rim = flat.beyond(edge).is_none();
                let corner = (edge.rev().opposite_vertex())
                    .map(|corner| (place(corner.position()), points[corner.index()].height));
                let mouth = corner.filter(|(_, height)| rim && *height != region.height);
                // Nothing is known of what lies beyond the edge of the net.
                if rim && mouth.is_none() {
                    continue;
                }
                let number = *numbers
                    .entry(edge.as_undirected().fix().index())
                    .or_insert_with(|| {
                        region.edges.push(Crossed::of(edge));
                        region.edges.len() - 1
                    });
                if let Some((corner, height)) = mouth {
                    region.mouths.push(Mouth {
                        edge: number,
                        height,
                        distance: distance(region.edges[number].middle, corner),
                    });
                }
                ways_out.push((number, edge));
            }
            for &(from, _) in &ways_out {
                let others = ways_out.iter().map(|(to, _)| *to);
                let others = others.filter(|to| *to != from);
                region.edges[from].next.extend(others);
            }
            if let (&[(number, edge)], 2) = (ways_out.as_slice(), sides)
                && let Some(apex) = edge.opposite_vertex()
            {
                let own = &mut region.edges[number];
                let end = distance(own.middle, place(apex.position()));
                own.end = Some(own.end.map_or(end, |known: f64| known.max(end)));
            }
        }
        region.straighten();
        region
    }

    /// Middles of edges lie to the left and to the right of the axis by turns: where lengths are taken, half of that is taken off.
    fn straighten(&mut self) {
        for number in 0..self.edges.len() {
            let own = &self.edges[number];
            if let &[before, after] = own.next.as_slice() {
                let [before, after] = [before, after].map(|next| self.edges[next].middle);
                let mean = |own: f64, before: f64, after: f64| (2.0 * own + before + after) / 4.0;
                let on_axis = Place::new(
                    mean(own.middle.east, before.east, after.east),
                    mean(own.middle.north, before.north, after.north),
                );
                self.edges[number].on_axis = on_axis;
            }
        }
    }

    /// How far two edges are along the region.
    fn apart(&self, one: usize, other: usize) -> f64 {
        distance(self.edges[one].on_axis, self.edges[other].on_axis)
    }

    /// Points along a region with mouths. Behind an edge, the region goes on for `s` to its farthest end; before it, it is `d` to the
    /// nearest corner beyond a mouth, at the height `m`. Its middle is at `h + (m - h) s / (s + d)`, with `h` that of the contour.
    fn along(&self) -> Vec<(Place, f64)> {
        let mut before: Vec<Option<(f64, f64, Option<usize>)>> = vec![None; self.edges.len()];
        let mut ahead = BinaryHeap::new();
        for (number, mouth) in self.mouths.iter().enumerate() {
            ahead.push((
                Reverse(Length(mouth.distance)),
                Reverse(mouth.edge),
                number,
                None,
            ));
        }
        let mut order = Vec::new();
        while let Some((Reverse(Length(far)), Reverse(edge), mouth, from)) = ahead.pop() {
            if before[edge].is_some() {
                continue;
            }
            before[edge] = Some((far, self.mouths[mouth].height, from));
            order.push(edge);
            for &next in &self.edges[edge].next {
                if before[next].is_none() {
                    ahead.push((
                        Reverse(Length(far + self.apart(edge, next))),
                        Reverse(next),
                        mouth,
                        Some(edge),
                    ));
                }
            }
        }
        let mut behind: Vec<f64> = (self.edges.iter())
            .map(|edge| edge.end.unwrap_or(0.0))
            .collect();
        let mut found = Vec::new();
        for &edge in order.iter().rev() {
            let Some((far, height, from)) = before[edge] else {
                continue;
            };
            let own = behind[edge];
            if let Some(from) = from {
                behind[from] = behind[from].max(own + self.apart(edge, from));
            }
            if own > 0.0 {
                let share = own / (own + far);
                let raised = self.height + (height - self.height) * share;
                found.push((self.edges[edge].middle, raised));
            }
        }
        found
    }

    /// Points of a region that its contour closes off: the slope outside goes on inwards, up to half the step to the next height.
    fn summit(
        &self,
        net: &Net,
        points: &[Vertex],
        faces: &[FixedFaceHandle<InnerTag>],
    ) -> Vec<(Place, f64)> {
        let (mut slope, mut sides) = (0.0, 0.0);
        let mut step = f64::INFINITY;
        let mut signs = [false; 2];
        for edge in faces
            .iter()
            .flat_map(|&face| net.face(face).adjacent_edges())
        {
            if edge.rev().face().fix() == OUTER_FACE {
                // It ends where the net does, and is no summit.
                return Vec::new();
            }
            let Some(corner) = edge
                .rev()
                .opposite_vertex()
                .filter(|_| edge.is_constraint_edge())
            else {
                continue;
            };
            let rise = self.height - points[corner.index()].height;
            if rise == 0.0 {
                continue;
            }
            signs[usize::from(rise > 0.0)] = true;
            let off = edge.distance_2(corner.position()).sqrt();
            slope += rise / off;
            sides += 1.0;
            step = step.min(rise.abs());
        }
        // Higher ground on one side and lower on the other is no summit.
        if signs[0] == signs[1] {
            return Vec::new();
        }
        let slope = slope / sides;
        let raised = |half: f64| self.height + (slope * half).clamp(-step / 2.0, step / 2.0);
        let within = self
            .edges
            .iter()
            .map(|edge| (edge.middle, raised(edge.half)));
        let mut found: Vec<_> = within.collect();
        if let (true, &[face]) = (found.is_empty(), faces) {
            let [a, b, c] = net.face(face).positions().map(place);
            let middle = Place::new(
                (a.east + b.east + c.east) / 3.0,
                (a.north + b.north + c.north) / 3.0,
            );
            let around = distance(a, b) + distance(b, c) + distance(c, a);
            found.push((middle, raised(2.0 * net.face(face).area() / around)));
        }
        found
    }
}

impl Crossed {
    fn of(edge: Directed<'_>) -> Self {
        let [from, to] = [edge.from(), edge.to()].map(|end| place(end.position()));
        let middle = Place::new((from.east + to.east) / 2.0, (from.north + to.north) / 2.0);
        Crossed {
            middle,
            half: distance(from, to) / 2.0,
            next: Vec::new(),
            on_axis: middle,
            end: None,
        }
    }
}

/// A length, in the order of lengths.
#[derive(PartialEq)]
struct Length(f64);

impl Eq for Length {}

impl PartialOrd for Length {
    fn partial_cmp(&self, other: &Self) -> Option<std::cmp::Ordering> {
        Some(self.cmp(other))
    }
}

impl Ord for Length {
    fn cmp(&self, other: &Self) -> std::cmp::Ordering {
        self.0.total_cmp(&other.0)
    }
}

fn place(point: Point2<f64>) -> Place {
    Place::new(point.x, point.y)
}

fn distance(one: Place, other: Place) -> f64 {
    libm::hypot(one.east - other.east, one.north - other.north)
}
