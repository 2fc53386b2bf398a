//! Tops that side slopes start from: platforms, and the crests of embankments.

use std::collections::HashSet;

use libm::hypot;

use crate::derived::assembly::collect;
use crate::overlay::OverlayError;
use crate::plan::cross;
use crate::plan::{Frame, Place};
use crate::surface::{Tin, Vertex};
use crate::zones::Zone;

/// A top, and the edges of it that have no slope.
#[derive(Debug, Clone)]
pub struct Top {
    surface: Tin,
    upright: HashSet<[u32; 2]>,
}

/// How an embankment ends.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Ends {
    /// With slopes, as along its sides.
    Sloping,
    /// Cut off square to its line.
    Upright,
}

/// Why a line makes no crest. Places are in grid coordinates.
#[derive(Debug, Clone, PartialEq, thiserror::Error)]
#[non_exhaustive]
pub enum CrestError {
    /// The line has no length.
    #[error("the line has no length")]
    NoLength,
    /// The width is no length above zero.
    #[error("the top width must be above zero")]
    NoWidth,
    /// The line ends where it starts, at another height.
    #[error("the closed line has two heights where it closes, {apart:.3} apart")]
    NotLevelWithItself {
        /// How far apart the two are.
        apart: f64,
    },
    /// The line bends so sharply that the inner sides of the top cross.
    #[error("the line bends too sharply for the top width at east {:.1}, north {:.1}", .at.east, .at.north)]
    Sharp {
        /// Where.
        at: Place,
    },
}

impl Top {
    /// The ground of a zone at the heights of a function, which is asked at the corners of its outline.
    ///
    /// # Errors
    ///
    /// When the zone holds no ground.
    pub fn platform(
        frame: Frame,
        zone: &Zone,
        height: impl Fn(Place) -> f64,
    ) -> Result<Self, OverlayError> {
        let raised = |at: Place| Vertex::new(at.east, at.north, height(at));
        let pieces = zone
            .triangles()
            .iter()
            .map(|triangle| triangle.map(raised).to_vec());
        let surface = collect(frame, pieces).map_err(|_| OverlayError::Apart)?;
        Ok(Top {
            surface,
            upright: HashSet::new(),
        })
    }

    /// A crest of a width along a line, given in local coordinates, level across.
    ///
    /// At bends both sides meet on the line that halves the angle, at the height of the line there: between two bends
    /// each half of the top is a plane through the line and its side, level across at the bends and nearly so between
    /// them. A line that ends where it starts is closed: it has no ends, and bends there as elsewhere.
    ///
    /// # Errors
    ///
    /// When the line bends too sharply for the width.
    pub fn crest(
        frame: Frame,
        line: &[Vertex],
        width: f64,
        ends: Ends,
    ) -> Result<Self, CrestError> {
        if width.is_nan() || width <= 0.0 || width.is_infinite() {
            return Err(CrestError::NoWidth);
        }
        let mut line = line.to_vec();
        line.dedup_by(|next, before| next.place() == before.place());
        if line.len() < 2 {
            return Err(CrestError::NoLength);
        }
        // How far rounding may have opened a line that was drawn closed.
        let [first, end] = [line[0], line[line.len() - 1]];
        let written = frame.precision().written();
        let closed =
            line.len() > 3 && hypot(end.east - first.east, end.north - first.north) <= written;
        if closed {
            let apart = (end.height - first.height).abs();
            if apart > written {
                return Err(CrestError::NotLevelWithItself { apart });
            }
            line.pop();
        }
        let count = line.len();
        let last = count - 1;
        let way = |from: Vertex, to: Vertex| {
            let (e, n) = (to.east - from.east, to.north - from.north);
            let length = hypot(e, n);
            [e / length, n / length]
        };
        let mut vertices = Vec::with_capacity(3 * line.len());
        for (index, &at) in line.iter().enumerate() {
            let (before, after) = match closed {
                true => (
                    way(line[(index + last) % count], at),
                    way(at, line[(index + 1) % count]),
                ),
                false => (
                    way(line[index.max(1) - 1], line[index.max(1)]),
                    way(line[index.min(last - 1)], line[index.min(last - 1) + 1]),
                ),
            };
            // To the left, along the line that halves the angle, so far that both sides keep their width.
            let sum = [-(before[1] + after[1]), before[0] + after[0]];
            let square = sum[0] * sum[0] + sum[1] * sum[1];
            if square < 0.25 {
                return Err(CrestError::Sharp {
                    at: frame.to_grid(at.place()),
                });
            }
            let left = sum.map(|part| part * width / square);
            let beside = |sign: f64| {
                Vertex::new(
                    at.east + sign * left[0],
                    at.north + sign * left[1],
                    at.height,
                )
            };
            vertices.extend([beside(1.0), at, beside(-1.0)]);
        }
        let steps = if closed { count } else { last };
        let mut facets = Vec::with_capacity(4 * steps);
        for step in 0..steps {
            let corner = |at: usize| [0, 1, 2].map(|side| (3 * (at % count) + side) as u32);
            let [left, middle, right] = corner(step);
            let [next_left, next_middle, next_right] = corner(step + 1);
            let quads = [
                [right, next_right, next_middle, middle],
                [middle, next_middle, next_left, left],
            ];
            for [a, b, c, d] in quads {
                facets.extend([[a, b, c], [a, c, d]]);
            }
        }
        let turns = |facet: &&[u32; 3]| {
            let [a, b, c] = facet.map(|v| Vertex::place(vertices[v as usize]));
            cross(a, b, c) <= 0.0
        };
        if let Some(&[a, _, _]) = facets.iter().find(turns) {
            let at = vertices[a as usize].place();
            return Err(CrestError::Sharp {
                at: frame.to_grid(at),
            });
        }
        let end = 3 * last as u32;
        let upright = match ends {
            Ends::Sloping => HashSet::new(),
            Ends::Upright if closed => HashSet::new(),
            Ends::Upright => HashSet::from([[0, 1], [1, 2], [end + 2, end + 1], [end + 1, end]]),
        };
        let surface = Tin::of_local(frame, vertices, facets).map_err(|_| CrestError::NoLength)?;
        Ok(Top { surface, upright })
    }

    /// A surface as a top, and the edges of it that have no slope.
    pub(super) fn of(surface: Tin, upright: HashSet<[u32; 2]>) -> Self {
        Top { surface, upright }
    }

    /// Its surface.
    pub fn surface(&self) -> &Tin {
        &self.surface
    }

    /// True where no slope starts.
    pub(crate) fn is_upright(&self, edge: [u32; 2]) -> bool {
        self.upright.contains(&edge)
    }
}
