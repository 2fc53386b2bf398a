//! A surface as read, and where it lies.

use dapedon_core::plan::{Extent, Place};
use dapedon_core::surface::Vertex;
use dapedon_core::units::LengthUnit;
use dapedon_formats::{RawGrid, RawSurface, RawZone, RawZones};

use crate::finding::Finding;
use crate::input::file::InputFile;

/// A surface as read, and the file it came from.
pub(crate) struct LoadedSurface {
    pub(crate) file: InputFile,
    pub(crate) surface: RawSurface,
    /// What was understood or skipped on the way.
    pub(crate) notes: Vec<String>,
    /// What must be known of it before a figure is trusted.
    pub(crate) findings: Vec<Finding>,
    /// The outlines that a surface made from its points ends at, and the file they are from.
    pub(crate) outline: Option<(InputFile, RawZones)>,
}

impl LoadedSurface {
    /// Converts what was read to another unit.
    pub(crate) fn convert(&mut self, from: LengthUnit, to: LengthUnit) {
        if from == to {
            return;
        }
        let convert = |value: f64| from.convert(value, to);
        for v in &mut self.surface.vertices {
            *v = Vertex::new(convert(v.east), convert(v.north), convert(v.height));
        }
        if let Some(grid) = &mut self.surface.grid {
            grid.corner = Place::new(convert(grid.corner.east), convert(grid.corner.north));
            grid.step = grid.step.map(convert);
            grid.heights
                .iter_mut()
                .for_each(|height| *height = convert(*height));
        }
        for place in self.surface.outlines.iter_mut().flat_map(|o| &mut o.ring) {
            *place = Place::new(convert(place.east), convert(place.north));
        }
        let stated = &mut self.surface.accuracies;
        stated.height.times(convert(1.0));
        stated.plan.times(convert(1.0));
        if let Some((_, outline)) = &mut self.outline {
            outline.convert(from, to);
        }
        (self.notes).push(format!("converted from {} to {}", from.name(), to.name()));
    }
}

/// Where a raw surface lies.
pub(crate) fn surface_extent(surface: &RawSurface) -> Extent {
    match &surface.grid {
        Some(grid) => grid_extent(grid),
        None => extent(&surface.vertices),
    }
}

/// Where the nodes of a raw grid lie.
pub(crate) fn grid_extent(grid: &RawGrid) -> Extent {
    let far = |axis: usize| grid.step[axis] * (grid.size[axis] - 1) as f64;
    let corner = grid.corner;
    Extent::of([
        corner,
        Place::new(corner.east + far(0), corner.north + far(1)),
    ])
}

/// Where raw vertices lie.
pub(crate) fn extent(vertices: &[Vertex]) -> Extent {
    Extent::of(vertices.iter().map(|v| v.place()))
}

/// Where a raw zone lies.
pub(crate) fn zone_extent(zone: &RawZone) -> Extent {
    let places = zone.parts.iter().flatten().flatten();
    Extent::of(places.map(|p| Place::new(p.east, p.north)))
}
