//! The toe of a pile: the heights of the ground along its outline.

use rustc_hash::{FxHashMap, FxHashSet};

use super::{Base, BaseError};
use crate::derived::mask;
use crate::plan::cross;
use crate::plan::precision::FOLLOWED;
use crate::plan::{Edge, Place, Sum};
use crate::points::{Duplicates, Line, LineKind, PickUp, Rules, triangulate};
use crate::surface::Plane;
use crate::surface::neighbours::bits;
use crate::surface::outline::unshared;
use crate::surface::{Surface, Tin, Vertex};
use crate::zones::Zone;
use crate::zones::twice_area;

/// The heights that a surface has along an outline.
#[derive(Debug, Clone)]
pub struct Toe {
    ground: Tin,
    within: Vec<[Place; 3]>,
    pub(super) stretches: Vec<[Vertex; 2]>,
    /// The corners along it, ring by ring, in grid coordinates.
    corners: PickUp,
}

impl Toe {
    /// The heights along an outline: at its corners and wherever it crosses an edge of a facet.
    ///
    /// # Errors
    ///
    /// When the surface does not lie under all of the outline.
    pub fn of(surface: &Surface, outline: &Zone) -> Result<Self, BaseError> {
        let frame = surface.frame();
        let ground = mask(surface, outline)?;
        let rim = unshared(&ground);
        // How far a corner of the ground may stand from the outline it was cut along.
        let near = frame.precision().worked_out();
        let mut corners = PickUp::default();
        let mut stretches = Vec::new();
        let mut length = Sum::ZERO;
        let edges = outline.edges().iter();
        let walked: FxHashSet<[[u64; 2]; 2]> =
            edges.map(|edge| [bits(edge.from), bits(edge.to)]).collect();
        for (index, ring) in outline.rings().iter().enumerate() {
            let first = corners.points.len() as u32;
            for (&from, &to) in ring.iter().zip(ring.iter().cycle().skip(1)) {
                let side = Edge { from, to };
                // Out and back again there is no ground on either side.
                if walked.contains(&[bits(to), bits(from)]) {
                    continue;
                }
                let along = Along::of(&ground, &rim, side, near);
                length += side.length();
                stretches.extend(along.stretches);
                let points = along.points.into_iter().map(|vertex| {
                    let Place { east, north } = frame.to_grid(vertex.place());
                    Vertex::new(east, north, vertex.height)
                });
                corners.points.extend(points);
            }
            let kind = match twice_area(ring) < 0.0 {
                true => LineKind::Hole,
                false if index == 0 => LineKind::Edge,
                false => LineKind::Island,
            };
            let points = (first..corners.points.len() as u32).collect();
            corners.lines.push(Line { kind, points });
        }
        let toe = Toe {
            ground,
            within: outline.triangles().to_vec(),
            stretches,
            corners,
        };
        let length = length.value();
        let missing = length - toe.length();
        match missing > FOLLOWED * length {
            true => Err(BaseError::LeavesSurface { missing, length }),
            false => Ok(toe),
        }
    }

    /// The ground within the outline.
    pub fn ground(&self) -> &Tin {
        &self.ground
    }

    /// The lowest height along it.
    pub fn lowest(&self) -> f64 {
        let heights = self.stretches.iter().flatten().map(|end| end.height);
        heights.fold(f64::INFINITY, f64::min)
    }

    /// The highest height along it.
    pub fn highest(&self) -> f64 {
        let heights = self.stretches.iter().flatten().map(|end| end.height);
        heights.fold(f64::NEG_INFINITY, f64::max)
    }

    /// The mean height along it, each unit of its length alike, however many corners it has.
    pub fn mean(&self) -> f64 {
        let mut sum = Sum::ZERO;
        for stretch in &self.stretches {
            sum += length(stretch) * (stretch[0].height + stretch[1].height) / 2.0;
        }
        sum.value() / self.length()
    }

    /// A base, which ends at the outline.
    ///
    /// # Errors
    ///
    /// When the heights along the outline make no surface.
    pub fn base(&self, base: Base) -> Result<Tin, BaseError> {
        let level = |height: f64| self.lifted(|_| height);
        match base {
            Base::Toe => self.triangulated(),
            Base::Plane => {
                let plane = Plane::fitted(&self.stretches).ok_or(BaseError::TooNarrow)?;
                self.lifted(|at| plane.at(at))
            }
            Base::Lowest => level(self.lowest()),
            Base::Mean => level(self.mean()),
        }
    }

    /// The base meets the ground all along the outline. Where the ground steps along it, the mean of both heights
    /// is taken.
    fn triangulated(&self) -> Result<Tin, BaseError> {
        let rules = Rules {
            duplicates: Duplicates::Mean,
            ..Rules::default()
        };
        let frame = self.ground.frame();
        Ok(triangulate(frame, &self.corners, &rules)?.tin)
    }

    /// Heights within the outline, and nowhere else.
    fn lifted(&self, height: impl Fn(Place) -> f64) -> Result<Tin, BaseError> {
        let lifted = self.within.iter().flatten();
        let lifted = lifted.map(|&at| Vertex::new(at.east, at.north, height(at)));
        let mut numbers: FxHashMap<[u64; 2], u32> = FxHashMap::default();
        let mut vertices = Vec::new();
        let corners = lifted.map(|vertex| {
            *numbers.entry(bits(vertex.place())).or_insert_with(|| {
                vertices.push(vertex);
                vertices.len() as u32 - 1
            })
        });
        let corners: Vec<u32> = corners.collect();
        let (facets, _) = corners.as_chunks::<3>();
        let made = Tin::of_local(self.ground.frame(), vertices, facets.to_vec());
        made.map_err(|_| BaseError::TooNarrow)
    }

    pub(super) fn length(&self) -> f64 {
        let mut sum = Sum::ZERO;
        for stretch in &self.stretches {
            sum += length(stretch);
        }
        sum.value()
    }
}

pub(super) fn length([from, to]: &[Vertex; 2]) -> f64 {
    libm::hypot(to.east - from.east, to.north - from.north)
}

/// What of the rim of the ground lies along one side of an outline.
struct Along {
    /// The corners there, from its start on, its end left to the next side.
    points: Vec<Vertex>,
    /// What of the side has ground within, as stretches between two corners.
    stretches: Vec<[Vertex; 2]>,
}

impl Along {
    fn of(ground: &Tin, rim: &[[u32; 2]], side: Edge, near: f64) -> Self {
        let length = side.length();
        let vertex = |index: u32| ground.vertices()[index as usize];
        let on_side = |at: Place| {
            let share = side.share(at);
            let aside = cross(side.from, side.to, at) / length;
            (aside.abs() <= near && (-near..=length + near).contains(&(share * length)))
                .then_some(share)
        };
        let (mut shares, mut stretches) = (Vec::new(), Vec::new());
        for ends in rim {
            let [a, b] = ends.map(vertex);
            if let (Some(from), Some(to)) = (on_side(a.place()), on_side(b.place())) {
                shares.extend([(from, a), (to, b)]);
                stretches.push([a, b]);
            }
        }
        shares.sort_by(|(a, _), (b, _)| a.total_cmp(b));
        shares.dedup();
        let before_end = |share: f64| (1.0 - share) * length > near;
        let points = shares.into_iter().filter(|&(share, _)| before_end(share));
        Along {
            points: points.map(|(_, vertex)| vertex).collect(),
            stretches,
        }
    }
}
