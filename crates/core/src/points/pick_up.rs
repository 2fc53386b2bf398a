//! What a surface is made from.

use std::collections::HashSet;

use crate::surface::Vertex;

/// Points, and lines between them.
#[derive(Debug, Clone, Default)]
pub struct PickUp {
    /// The points, in grid coordinates.
    pub points: Vec<Vertex>,
    /// The lines between them.
    pub lines: Vec<Line>,
}

/// A line between points.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Line {
    /// What it means.
    pub kind: LineKind,
    /// The points it joins, as indices.
    pub points: Vec<u32>,
}

/// What a line means. All of them are breaklines; an outline is closed whether or not its last point
/// is its first.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash)]
pub enum LineKind {
    /// Facets may not cross it.
    Breakline,
    /// The outline that the surface ends at.
    Edge,
    /// The outline of a hole.
    Hole,
    /// The outline of ground within a hole.
    Island,
}

/// How a surface is made from a pick-up.
#[derive(Debug, Clone, Copy, PartialEq, Default)]
pub struct Rules {
    /// Facets with a longer edge, breaklines aside, are dropped.
    pub max_edge: Option<f64>,
    /// What holds where one place is given with several heights.
    pub duplicates: Duplicates,
    /// What becomes of flat triangles between points of one contour.
    pub flat: FlatTriangles,
}

/// What becomes of triangles whose corners are points of level lines at one height, as where a contour bends around a valley.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default)]
pub enum FlatTriangles {
    /// They stay.
    #[default]
    Keep,
    /// They are dropped.
    Drop,
    /// Points are put between them, along the valley or ridge.
    Relax,
}

/// What holds where one place is given with several heights.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default)]
pub enum Duplicates {
    /// There is no surface then.
    #[default]
    Refuse,
    /// The height given first.
    First,
    /// The height given last.
    Last,
    /// The lowest height.
    Lowest,
    /// The highest height.
    Highest,
    /// The mean of the heights.
    Mean,
}

impl PickUp {
    /// True where the lines look like contours: nearly all of them are level, at three heights or more.
    pub fn is_contoured(&self) -> bool {
        let level = |line: &&Line| {
            let mut heights = line
                .points
                .iter()
                .filter_map(|&point| self.points.get(point as usize));
            let first = heights.next().map(|v| v.height);
            heights.all(|v| Some(v.height) == first)
        };
        let level: Vec<&Line> = self.lines.iter().filter(level).collect();
        let heights = level
            .iter()
            .filter_map(|line| self.points.get(*line.points.first()? as usize));
        let heights: HashSet<u64> = heights.map(|v| v.height.to_bits()).collect();
        10 * level.len() >= 9 * self.lines.len() && heights.len() >= 3
    }
}

impl From<Vec<Vertex>> for PickUp {
    fn from(points: Vec<Vertex>) -> Self {
        PickUp {
            points,
            lines: Vec::new(),
        }
    }
}

impl LineKind {
    /// True where it bounds ground.
    pub const fn is_outline(self) -> bool {
        !matches!(self, LineKind::Breakline)
    }
}
