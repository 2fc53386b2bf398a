//! What is in the way of a surface: heights that mean none, and coordinates that are no lengths.

use crate::finding::{Code, Finding};
use dapedon_core::plan::Extent;
use dapedon_core::points::PickUp;
use dapedon_core::surface::Vertex;
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

/// Heights of exactly zero where all others lie elsewhere: perhaps none was measured there.
pub(crate) fn zero_heights(vertices: &[Vertex]) -> Option<Finding> {
    let zeros = vertices.iter().filter(|v| v.height == 0.0).count();
    let others = vertices.iter().map(|v| v.height).filter(|&h| h != 0.0);
    let (low, high) = others.fold((f64::INFINITY, f64::NEG_INFINITY), |(low, high), h| {
        (low.min(h), high.max(h))
    });
    let away = low.min(high).abs().min(high.abs());
    let same_side = low > 0.0 || high < 0.0;
    (zeros > 0 && zeros < vertices.len() && same_side && away > high - low).then(|| {
        let words = format!(
            "{} height 0, all others are between {low:.2} and {high:.2}",
            match zeros {
                1 => "1 point has".to_owned(),
                many => format!("{many} points have"),
            }
        );
        Finding::new(Code::ZeroHeights, words).remedy("if 0 marks a missing height, add --nodata 0")
    })
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
