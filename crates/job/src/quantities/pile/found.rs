//! Piles without outlines.

use dapedon_core::plan::{Extent, Place};
use dapedon_core::quantities::{PileRules, SideOfLevel, sampled, standing};
use dapedon_core::surface::{Grid, Surface, Tin, Vertex};
use dapedon_core::units::LengthUnit;
use dapedon_core::zones::Zone;

use super::{PileError, SearchRules};
use crate::error::JobError;
use crate::finding::{Code, Finding};
use crate::input::Memory;
use crate::quantities::build::CELL_BYTES;
use crate::surfaces::SurfaceError;
use crate::surfaces::{Making, facets};

/// What counts as a pile, in the units measured in; by default, what suits a yard.
#[derive(Debug, Clone, Copy, PartialEq, Default)]
pub struct PileSearch {
    /// The height by which a top rises above its toe.
    pub by: Option<f64>,
    /// The plan area.
    pub area: Option<f64>,
    /// Ground around is no steeper than 1 in so much.
    pub ground_slope: Option<f64>,
}

/// Decimals of the corners of outlines that were found: what is exported is what was measured.
const DECIMALS: i32 = 3;

impl PileSearch {
    /// What is asked for, in lengths and their squares.
    pub(super) fn clear(&self, unit: LengthUnit, square: f64) -> PileRules {
        let (by, area) = match unit {
            LengthUnit::Metre => (1.0, 10.0),
            LengthUnit::Foot(_) => (3.0, 100.0),
        };
        PileRules {
            by: self.by.unwrap_or(by),
            area: self.area.map_or(area, |area| area / square),
            ground_slope: 1.0 / self.ground_slope.unwrap_or(5.0),
        }
    }
}

/// The outlines of what rises above its surroundings, numbered from west to east, and what was looked for. Where the surface ends
/// within one, it is skipped, with a warning.
pub(super) fn found(
    surface: &Surface,
    clearing: &PileSearch,
    making: &Making<'_>,
    pit: bool,
    memory: Memory,
) -> Result<(Vec<Zone>, SearchRules, Vec<Finding>), JobError> {
    let unit = making.frame.unit();
    let units = making.units;
    let clear = clearing.clear(unit, units.area_of(1.0).value);
    let sought = SearchRules {
        min_height: units.length_of(clear.by),
        min_area: units.area_of(clear.area),
        ground_slope: 1.0 / clear.ground_slope,
        cell: None,
    };
    let (noun, side) = match pit {
        true => ("pit", SideOfLevel::Below),
        false => ("pile", SideOfLevel::Above),
    };
    let (tin, cell) = evenly(surface, clear.area, memory)?;
    let cell = cell.map(|cell| units.length_of(cell));
    let sought = SearchRules { cell, ..sought };
    let (mut zones, mut warnings) = (Vec::new(), Vec::new());
    for found in standing(&tin, side, &clear) {
        let name = format!("{noun} {}", zones.len() + 1);
        if found.at_end {
            let middle = Extent::of(found.rings[0].iter().copied()).middle();
            warnings.push(Finding::new(Code::AtTheEnd, format!(
                "a {noun} near east {:.0}, north {:.0} is not measured: it touches the edge of the survey",
                middle.east, middle.north
            )));
            continue;
        }
        let rounded = found.rings.iter().map(|ring| rounded(ring)).collect();
        // Corners that stand so close that they cross once rounded stay as they are.
        let zone = Zone::new(name.clone(), tin.frame(), vec![rounded]);
        let zone = zone.or_else(|_| Zone::new(name.clone(), tin.frame(), vec![found.rings]));
        zones.push(zone.map_err(|error| SurfaceError::JobZone { name, error })?);
    }
    match zones.is_empty() {
        true => Err(PileError::NothingFound {
            left_out: warnings.len(),
            pit,
            clear: clear.by,
            length: unit.symbol(),
            area: sought.min_area.value,
            area_unit: units.area.symbol(),
        }
        .into()),
        false => Ok((zones, sought, warnings)),
    }
}

/// The surface with points that stand so close and so evenly that a pile is seen by them; else as it is read at cells,
/// and their side: a sixth of the side of a square of the least area, or more where that would be too many cells.
fn evenly(surface: &Surface, area: f64, memory: Memory) -> Result<(Tin, Option<f64>), JobError> {
    let tin = facets(surface)?;
    if matches!(surface, Surface::Grid(_)) {
        return Ok((tin, None));
    }
    let cell = nice((area.sqrt() / 6.0).max((tin.area() / MANY).sqrt()));
    let wide = (0..tin.facets().len()).map(|facet| {
        let [a, b, c] = tin.corners(facet);
        let side = |p: Vertex, q: Vertex| libm::hypot(q.east - p.east, q.north - p.north);
        let longest = side(a, b).max(side(b, c)).max(side(c, a));
        let twice =
            (b.east - a.east) * (c.north - a.north) - (b.north - a.north) * (c.east - a.east);
        if longest > 3.0 * cell {
            twice / 2.0
        } else {
            0.0
        }
    });
    if wide.sum::<f64>() < 0.1 * tin.area() {
        return Ok((tin, None));
    }
    let read = sampled(surface, cell, memory.holds(CELL_BYTES))?;
    let read = read.ok_or(crate::quantities::BuildError::TooManyCells { cell, memory })?;
    let grid = Grid::new(tin.frame(), read.corner, [cell; 2], read.size, read.heights);
    // Of a surface too narrow for cells the facets are all there is.
    match grid.map(|grid| grid.to_tin()) {
        Ok(Ok(read)) => Ok((read, Some(cell))),
        _ => Ok((tin, None)),
    }
}

/// Cells that are read at most.
const MANY: f64 = 4e6;

/// The next smaller of 1, 2, 5 and their tens.
fn nice(length: f64) -> f64 {
    let ten = libm::pow(10f64, libm::log10(length).floor());
    let digit = length / ten;
    let whole = [5.0, 2.0]
        .into_iter()
        .find(|whole| digit >= *whole)
        .unwrap_or(1.0);
    whole * ten
}

fn rounded(ring: &[Place]) -> Vec<Place> {
    let ten = 10f64.powi(DECIMALS);
    let round = |value: f64| (value * ten).round() / ten;
    let places = ring.iter();
    let mut places: Vec<Place> = places
        .map(|place| Place::new(round(place.east), round(place.north)))
        .collect();
    places.dedup();
    places
}
