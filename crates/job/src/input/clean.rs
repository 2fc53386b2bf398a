//! What is in the way of a surface: heights that mean none, and coordinates that are no lengths.

use crate::finding::{Code, Finding};
use dapedon_core::plan::Extent;
use dapedon_core::points::PickUp;
use dapedon_core::surface::{FARTHEST, Surface, Vertex};
use dapedon_formats::RawSurface;

/// Drops points at a height that means none, and facets and lines' corners that use them.
pub(crate) fn drop_height(surface: &mut RawSurface, height: f64) -> usize {
    let before = surface.vertices.len();
    let mut pick_up = PickUp {
        points: std::mem::take(&mut surface.vertices),
        lines: std::mem::take(&mut surface.lines),
    };
    let new = drop_points(&mut pick_up, |v| v.height != height);
    if let Some(facets) = &mut surface.facets {
        facets.retain_mut(|facet| {
            let kept = facet.map(|v| new[v as usize]);
            let whole = kept.iter().all(|&v| v != u32::MAX);
            if whole {
                *facet = kept;
            }
            whole
        });
    }
    surface.vertices = pick_up.points;
    surface.lines = pick_up.lines;
    let mut dropped = before - surface.vertices.len();
    for cell in surface.grid.iter_mut().flat_map(|grid| &mut grid.heights) {
        if *cell == height {
            *cell = f64::NAN;
            dropped += 1;
        }
    }
    dropped
}

/// Drops points, and tells where the others have gone.
pub(crate) fn drop_points(pick_up: &mut PickUp, keep: impl Fn(&Vertex) -> bool) -> Vec<u32> {
    let mut new = vec![u32::MAX; pick_up.points.len()];
    let (mut index, mut kept) = (0, 0);
    pick_up.points.retain(|v| {
        let stays = keep(v);
        if stays {
            new[index] = kept;
            kept += 1;
        }
        index += 1;
        stays
    });
    for line in &mut pick_up.lines {
        line.points.retain_mut(|point| {
            *point = new[*point as usize];
            *point != u32::MAX
        });
    }
    new
}

/// Heights that files use where none was measured.
const MARKS: [f64; 7] = [
    0.0,
    -999.0,
    -9999.0,
    -32_767.0,
    -32_768.0,
    -99_999.0,
    f32::MIN as f64,
];

/// Heights that are one of these marks, where all others lie far from it: perhaps none was measured there.
pub(crate) fn missing_heights(heights: impl Iterator<Item = f64>, what: &str) -> Option<Finding> {
    let mut marked = [0usize; MARKS.len()];
    let (mut low, mut high) = (f64::INFINITY, f64::NEG_INFINITY);
    for height in heights.filter(|height| !height.is_nan()) {
        match MARKS.iter().position(|&mark| mark == height) {
            Some(mark) => marked[mark] += 1,
            None => (low, high) = (low.min(height), high.max(height)),
        }
    }
    let is_far = |mark: f64| mark < low - (high - low) || mark > high + (high - low);
    let found = (0..MARKS.len()).find(|&index| marked[index] > 0 && is_far(MARKS[index]))?;
    // Without others, or with ones that no survey has, there is nothing to compare with.
    if low > high || low.abs().max(high.abs()) > FARTHEST {
        return None;
    }
    let (mark, count) = (MARKS[found], marked[found]);
    let words = match count {
        1 => format!("1 {what} has height {mark}, all others are between {low:.2} and {high:.2}"),
        _ => format!(
            "{count} {what}s have height {mark}, all others are between {low:.2} and {high:.2}"
        ),
    };
    let remedy = format!("if {mark} marks a missing height, add --nodata={mark}");
    Some(Finding::new(Code::MissingHeights, words).remedy(remedy))
}

/// Ground is this steep only where its plan is in degrees, and its heights are not: one in a thousand is more than a hundred.
const STEEP: f64 = 50.0;
/// Triangles or steps between cells whose slope is looked at.
const SLOPES: usize = 1000;

/// True for a surface whose coordinates are on the globe, and so steep in the middle of its slopes that they must be degrees:
/// those that reach farther than [`looks_like_degrees`] sees.
pub(crate) fn is_steep_as_degrees(surface: &Surface) -> bool {
    let (frame, extent) = (surface.frame(), surface.extent());
    let [min, max] = [extent.min, extent.max].map(|at| frame.to_grid(at));
    let on_globe = [min.east, max.east].iter().all(|east| east.abs() <= 180.0)
        && [min.north, max.north]
            .iter()
            .all(|north| north.abs() <= 90.0);
    if !on_globe {
        return false;
    }
    let mut slopes: Vec<f64> = match surface {
        Surface::Tin(tin) => {
            let step = tin.facets().len().div_ceil(SLOPES).max(1);
            (0..tin.facets().len())
                .step_by(step)
                .filter_map(|facet| slope(tin.corners(facet)))
                .collect()
        }
        Surface::Grid(grid) => {
            let (heights, [columns, _]) = (grid.heights(), grid.size());
            let step = heights.len().div_ceil(SLOPES).max(1);
            let beside = (0..heights.len())
                .step_by(step)
                .filter(|at| (at + 1) % columns != 0);
            let rise = beside
                .filter_map(|at| Some((heights.get(at + 1)? - heights[at]).abs() / grid.step()[0]));
            rise.filter(|slope| !slope.is_nan()).collect()
        }
        Surface::Level(_) => Vec::new(),
    };
    if slopes.is_empty() {
        return false;
    }
    let middle = slopes.len() / 2;
    *slopes.select_nth_unstable_by(middle, f64::total_cmp).1 > STEEP
}

/// The steepest rise of a facet, per length in plan; `None` where it has no area.
fn slope([a, b, c]: [Vertex; 3]) -> Option<f64> {
    let from = |v: Vertex| [v.east - a.east, v.north - a.north, v.height - a.height];
    let ([ue, un, uh], [ve, vn, vh]) = (from(b), from(c));
    let area = ue * vn - un * ve;
    let [east, north] = [(uh * vn - un * vh) / area, (ue * vh - uh * ve) / area];
    let slope = libm::hypot(east, north);
    slope.is_finite().then_some(slope)
}

/// True for coordinates that can only be degrees: within those of the globe, and all of them closer
/// together than one.
pub(crate) fn looks_like_degrees(extent: &Extent, places: usize) -> bool {
    let on_globe = |a: f64, b: f64| a.abs().max(b.abs()) <= 180.0;
    places >= 3
        && on_globe(extent.min.east, extent.max.east)
        && on_globe(extent.min.north, extent.max.north)
        && extent.width() < 1.0
        && extent.height() < 1.0
}
