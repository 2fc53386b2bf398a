//! Ground within a zone made anew from points and lines, which joins the surface around it along the zone's edge.

use rustc_hash::FxHashMap;

use crate::plan::places::Places;
use crate::plan::{Edge, Extent, Frame, Place, Precision, cross};
use crate::points::{Duplicates, Line, LineKind, PickUp, Rules, TriangulateError, triangulate};
use crate::surface::{FacetIndex, HeightAt, Surface, Tin, Vertex};
use crate::zones::{WithinZone, Zone};

/// What ground is made anew from, in local coordinates.
#[derive(Debug, Clone, Default)]
pub struct NewGround {
    /// Points.
    pub points: Vec<Vertex>,
    /// Breaklines.
    pub lines: Vec<Vec<Vertex>>,
}

/// Ground made anew.
#[derive(Debug, Clone)]
pub struct Regraded {
    /// The ground within the zone.
    pub surface: Tin,
    /// Points within the zone, those of lines with them.
    pub points: usize,
    /// Points outside the zone or on its edge, where the surface has its own heights: not used.
    pub outside: usize,
    /// Places on the edge of the zone that have the surface's heights.
    pub edge_points: usize,
    /// Where breaklines cross each other: the mean of both heights holds there.
    pub crossings: usize,
}

/// Why ground is not made anew. Places are in grid coordinates.
#[derive(Debug, Clone, PartialEq, thiserror::Error)]
#[non_exhaustive]
pub enum RegradeError {
    /// There is no point within the zone.
    #[error("no point or line is within the zone \"{zone}\"")]
    NothingWithin {
        /// The zone.
        zone: String,
    },
    /// The surface does not reach the edge of the zone.
    #[error("the surface does not reach the edge of the zone \"{zone}\" at east {:.2}, north {:.2}", .at.east, .at.north)]
    NoGround {
        /// The zone.
        zone: String,
        /// Where.
        at: Place,
    },
    /// The surface has two heights on the edge of the zone.
    #[error("the surface is upright at the edge of the zone \"{zone}\" at east {:.2}, north {:.2}", .at.east, .at.north)]
    Upright {
        /// The zone.
        zone: String,
        /// Where.
        at: Place,
    },
    /// One place within the zone has two heights.
    #[error("two heights at east {:.2}, north {:.2} within the zone \"{zone}\": {:.3} and {:.3}", .at.east, .at.north, .heights[0], .heights[1])]
    TwoHeights {
        /// The zone.
        zone: String,
        /// Where.
        at: Place,
        /// The two.
        heights: [f64; 2],
    },
    /// Points and lines make no surface.
    #[error(transparent)]
    Triangulate(#[from] TriangulateError),
}

/// Makes the ground within a zone anew from points and lines, triangulated together with the zone's edge, which has the surface's own heights
/// wherever the surface bends: so both meet without a step. Lines that leave the zone end at its edge, at the surface's height there.
///
/// # Errors
///
/// When nothing is within the zone, the surface does not reach its edge or is upright there, or points contradict each other.
///
/// ```
/// use dapedon_core::derived::{NewGround, regraded};
/// use dapedon_core::plan::{Frame, Place};
/// use dapedon_core::surface::{Level, Surface, Vertex};
/// use dapedon_core::units::LengthUnit;
/// use dapedon_core::zones::Zone;
/// let frame = Frame::new(LengthUnit::Metre, [0.0, 0.0]);
/// let ring = [(0.0, 0.0), (9.0, 0.0), (9.0, 9.0), (0.0, 9.0), (0.0, 0.0)].map(|(e, n)| Place::new(e, n));
/// let pit = Zone::new("pit", frame, vec![vec![ring.to_vec()]]).unwrap();
/// let level = Surface::Level(Level::new(frame, 5.0));
/// let bottom = NewGround { points: vec![Vertex::new(4.0, 4.0, 2.0)], lines: vec![] };
/// let made = regraded(&level, &pit, &bottom).unwrap();
/// assert_eq!((made.surface.facets().len(), made.edge_points), (4, 4));
/// ```
pub fn regraded(surface: &Surface, zone: &Zone, new: &NewGround) -> Result<Regraded, RegradeError> {
    let frame = surface.frame();
    let making = Making {
        frame,
        precision: frame.precision(),
        index: FacetIndex::of(surface),
        zone,
        within: WithinZone::of(zone, frame.precision()),
    };
    let edges = EdgesByCell::of(making.edges());
    let mut pick_up = PickUp::default();
    let mut outside = 0;
    let grid = |v: &Vertex| {
        let at = frame.to_grid(v.place());
        Vertex::new(at.east, at.north, v.height)
    };
    // Where lines end on an edge of the zone, by its number.
    let mut ends: FxHashMap<usize, Vec<Place>> = FxHashMap::default();
    let mut within_lines: Vec<[Vertex; 2]> = Vec::new();
    for line in &new.lines {
        for pair in line.windows(2) {
            within_lines.extend(making.parts_within([pair[0], pair[1]], &edges));
        }
        outside += line
            .iter()
            .filter(|v| !making.is_inside(v.place(), &edges))
            .count();
    }
    let inside = |v: &&Vertex| making.is_inside(v.place(), &edges);
    pick_up
        .points
        .extend(new.points.iter().filter(inside).map(grid));
    outside += new.points.len() - pick_up.points.len();
    for [from, to] in &within_lines {
        let first = pick_up.points.len() as u32;
        let mut add = |v: &Vertex| -> Result<(), RegradeError> {
            let on_edge = making.edge_at(v.place(), &edges);
            if let Some(edge) = on_edge {
                ends.entry(edge).or_default().push(v.place());
            }
            // On the edge the height is the surface's.
            let height = match on_edge {
                None => v.height,
                Some(_) => making.height(v.place())?,
            };
            pick_up.points.push(grid(&Vertex { height, ..*v }));
            Ok(())
        };
        add(from)?;
        add(to)?;
        pick_up.lines.push(Line {
            kind: LineKind::Breakline,
            points: vec![first, first + 1],
        });
    }
    let points = making.different(&pick_up.points, &edges)?;
    let given = pick_up.points.len();
    if points == 0 {
        return Err(RegradeError::NothingWithin {
            zone: zone.name().into(),
        });
    }
    let mut number = 0;
    for ring in zone.rings() {
        let first = pick_up.points.len() as u32;
        for _ in ring {
            let own = ends.remove(&number).unwrap_or_default();
            let along = making.along(edges.edges[number], &own)?;
            pick_up.points.extend(along.iter().map(grid));
            number += 1;
        }
        let last = pick_up.points.len() as u32;
        let origin = Place::new(0.0, 0.0);
        let next = ring.iter().cycle().skip(1);
        let twice: f64 = (ring.iter().zip(next))
            .map(|(a, b)| cross(origin, *a, *b))
            .sum();
        pick_up.lines.push(Line {
            kind: if twice > 0.0 {
                LineKind::Edge
            } else {
                LineKind::Hole
            },
            points: (first..last).chain([first]).collect(),
        });
    }
    let edge_points = pick_up.points.len() - given;
    let rules = Rules {
        // A line's end on the edge and the edge's own place there have one height but for rounding.
        duplicates: Duplicates::Last,
        ..Rules::default()
    };
    let made = triangulate(frame, &pick_up, &rules)?;
    Ok(Regraded {
        surface: made.tin,
        points,
        outside,
        edge_points,
        crossings: made.crossings.len(),
    })
}

/// What is at hand.
struct Making<'m> {
    frame: Frame,
    precision: Precision,
    index: FacetIndex<'m>,
    zone: &'m Zone,
    within: WithinZone<'m>,
}

impl Making<'_> {
    /// The edges of all rings, one after the other.
    fn edges(&self) -> Vec<Edge> {
        let of = |ring: &Vec<Place>| {
            let next = ring.iter().cycle().skip(1);
            let pairs = ring.iter().zip(next);
            pairs
                .map(|(&from, &to)| Edge { from, to })
                .collect::<Vec<_>>()
        };
        self.zone.rings().iter().flat_map(of).collect()
    }

    /// True within the zone and not on its edge.
    fn is_inside(&self, at: Place, edges: &EdgesByCell) -> bool {
        self.zone.extent().holds(&Extent::of([at]))
            && self.within.holds(at)
            && self.edge_at(at, edges).is_none()
    }

    /// The edge of the zone that a place is on.
    fn edge_at(&self, at: Place, edges: &EdgesByCell) -> Option<usize> {
        let near = self.precision.length();
        let around = [
            Place::new(at.east - near, at.north - near),
            Place::new(at.east + near, at.north + near),
        ];
        let mut found: Option<usize> = None;
        edges.near(&Extent::of(around), |number, edge| {
            if edge.distance(at) <= near {
                found = Some(found.map_or(number, |found| found.min(number)));
            }
        });
        found
    }

    /// How many different places some points, in grid coordinates, have within the zone; each has one height.
    fn different(&self, points: &[Vertex], edges: &EdgesByCell) -> Result<usize, RegradeError> {
        let mut known = Places::within(self.precision.length());
        let mut heights: FxHashMap<u32, f64> = FxHashMap::default();
        for point in points {
            let at = self.frame.to_local(point.east, point.north);
            if !self.is_inside(at, edges) {
                continue;
            }
            let first = *heights.entry(known.number(at)).or_insert(point.height);
            if (first - point.height).abs() > self.precision.length() {
                return Err(RegradeError::TwoHeights {
                    zone: self.zone.name().into(),
                    at: point.place(),
                    heights: [first, point.height],
                });
            }
        }
        Ok(heights.len())
    }

    fn height(&self, at: Place) -> Result<f64, RegradeError> {
        let zone = || self.zone.name().to_owned();
        let grid = || self.frame.to_grid(at);
        match self.index.at(at) {
            HeightAt::One { height, .. } => Ok(height),
            HeightAt::None => Err(RegradeError::NoGround {
                zone: zone(),
                at: grid(),
            }),
            HeightAt::Several { .. } => Err(RegradeError::Upright {
                zone: zone(),
                at: grid(),
            }),
        }
    }

    /// The places along an edge where the surface bends, and others on it, with the surface's heights; its end left out.
    fn along(&self, edge: Edge, others: &[Place]) -> Result<Vec<Vertex>, RegradeError> {
        let length = edge.length();
        let near = self.precision.length();
        let mut found: Vec<(f64, f64)> = Vec::new();
        let mut reached = 0.0;
        let place = |along: f64| edge.at(along / length);
        for part in self.index.along(edge.from, edge.to) {
            let [from, to] = part.between;
            if from > reached + near {
                break;
            }
            match found.last() {
                Some((at, height)) if (from - at).abs() <= near => {
                    if (height - part.heights[0]).abs() > self.precision.written() {
                        return Err(RegradeError::Upright {
                            zone: self.zone.name().into(),
                            at: self.frame.to_grid(place(from)),
                        });
                    }
                }
                _ => found.push((from, part.heights[0])),
            }
            found.push((to, part.heights[1]));
            reached = to;
        }
        if reached < length - near {
            return Err(RegradeError::NoGround {
                zone: self.zone.name().into(),
                at: self.frame.to_grid(place(reached)),
            });
        }
        let height = |along: f64| {
            let after = found
                .partition_point(|(at, _)| *at < along)
                .min(found.len() - 1);
            let before = after.saturating_sub(1);
            let ((a, low), (b, high)) = (found[before], found[after]);
            match b > a {
                true => low + (along - a) / (b - a) * (high - low),
                false => high,
            }
        };
        let mut all: Vec<(f64, f64)> = found.clone();
        for other in others {
            let along = libm::hypot(other.east - edge.from.east, other.north - edge.from.north);
            all.push((along, height(along)));
        }
        all.sort_by(|a, b| a.0.total_cmp(&b.0));
        all.dedup_by(|next, before| next.0 - before.0 <= near);
        // The next edge starts where this one ends.
        all.retain(|(along, _)| *along < length - near);
        let vertex = |(along, height): (f64, f64)| {
            let at = if along <= near {
                edge.from
            } else {
                place(along)
            };
            Vertex::new(at.east, at.north, height)
        };
        Ok(all.into_iter().map(vertex).collect())
    }

    /// The parts of a piece of a line that are within the zone.
    fn parts_within(&self, [from, to]: [Vertex; 2], edges: &EdgesByCell) -> Vec<[Vertex; 2]> {
        let near = self.precision.length();
        let (start, end) = (from.place(), to.place());
        let length = libm::hypot(end.east - start.east, end.north - start.north);
        if length <= near {
            return Vec::new();
        }
        let at = |share: f64| {
            Vertex::new(
                from.east + share * (to.east - from.east),
                from.north + share * (to.north - from.north),
                from.height + share * (to.height - from.height),
            )
        };
        let whole = Edge {
            from: start,
            to: end,
        };
        let mut stops = vec![0.0, 1.0];
        edges.near(&Extent::of([start, end]), |_, edge| {
            let (a, b) = (cross(start, end, edge.from), cross(start, end, edge.to));
            if (a < 0.0) != (b < 0.0) {
                stops.push(whole.share(edge.at(a / (a - b))));
            }
        });
        stops.retain(|share| (0.0..=1.0).contains(share));
        stops.sort_by(f64::total_cmp);
        let parts = stops.windows(2).filter(|pair| {
            let middle = at((pair[0] + pair[1]) / 2.0).place();
            (pair[1] - pair[0]) * length > near && self.within.holds(middle)
        });
        parts.map(|pair| [at(pair[0]), at(pair[1])]).collect()
    }
}

/// Edges by the cells of the plan that they reach into, so that not all are asked for each place.
struct EdgesByCell {
    edges: Vec<Edge>,
    south_west: Place,
    cell: f64,
    /// The last cell along an axis.
    most: f64,
    cells: FxHashMap<[i32; 2], Vec<usize>>,
}

impl EdgesByCell {
    /// About as many cells as edges.
    fn of(edges: Vec<Edge>) -> Self {
        let extent = Extent::of(edges.iter().flat_map(|edge| [edge.from, edge.to]));
        let along = (edges.len() as f64).sqrt().max(1.0);
        let cell = (extent.width().max(extent.height()) / along).max(f64::MIN_POSITIVE);
        let mut made = EdgesByCell {
            south_west: extent.min,
            cell,
            most: along.ceil() + 1.0,
            cells: FxHashMap::default(),
            edges: Vec::new(),
        };
        for (number, edge) in edges.iter().enumerate() {
            for key in made.keys(&Extent::of([edge.from, edge.to])) {
                made.cells.entry(key).or_default().push(number);
            }
        }
        made.edges = edges;
        made
    }

    /// The cells of an extent, as far as there are edges.
    fn keys(&self, extent: &Extent) -> impl Iterator<Item = [i32; 2]> + use<> {
        let number = |value: f64, from: f64| {
            // Beyond the edges there are no cells.
            ((value - from) / self.cell).floor().clamp(-1.0, self.most) as i32
        };
        let (low, high) = (extent.min, extent.max);
        let easts =
            number(low.east, self.south_west.east)..=number(high.east, self.south_west.east);
        let norths =
            number(low.north, self.south_west.north)..=number(high.north, self.south_west.north);
        easts.flat_map(move |east| norths.clone().map(move |north| [east, north]))
    }

    /// Visits the edges that may reach into an extent, each once.
    fn near(&self, extent: &Extent, mut visit: impl FnMut(usize, &Edge)) {
        let keys = self.keys(extent);
        let listed = keys.filter_map(|key| self.cells.get(&key)).flatten();
        let mut numbers: Vec<usize> = listed.copied().collect();
        numbers.sort_unstable();
        numbers.dedup();
        for number in numbers {
            if let Some(edge) = self.edges.get(number) {
                visit(number, edge);
            }
        }
    }
}
