//! Whether two files can be compared.

use std::borrow::Cow;

use dapedon_core::overlay::Overlay;
use dapedon_core::plan::{Extent, Frame};
use dapedon_core::quantities::{coverage, difference_map};
use dapedon_core::surface::{Outline, Surface, Tin, Vertex};
use dapedon_core::units::LengthUnit;
use dapedon_formats::{same_height_system, same_system};
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use super::Inspection;
use crate::error::mistake;
use crate::finding::{Code, Finding};
use crate::schema::Word;

/// Places along the longer side at which the difference is read, for its middle and spread only.
const READINGS: usize = 200;

/// What two surfaces have in common.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, JsonSchema)]
#[non_exhaustive]
pub struct PairFound {
    /// The files, in order.
    pub files: [String; 2],
    /// Their length units, as they say or were given.
    pub units: [Option<Word>; 2],
    /// Their coordinate systems, as they say.
    pub crs: [Option<String>; 2],
    /// The plan area of each, in squares of the first one's unit.
    pub areas: [f64; 2],
    /// The plan area that both cover.
    pub common_area: f64,
    /// The middle of the differences of height on what both cover, second less first.
    pub median_difference: Option<f64>,
    /// Half of the ground differs from that middle by no more than this.
    pub half_within: Option<f64>,
    /// What stands against comparing them, or should be looked at first.
    pub warnings: Vec<Finding>,
}

/// Compares two files of which each holds a surface; `None` where one does not.
pub fn pair(one: (&Inspection, &[Surface]), other: (&Inspection, &[Surface])) -> Option<PairFound> {
    let ([first], [second]) = (one.1, other.1) else {
        return None;
    };
    let (first, second) = (facets(first)?, facets(second)?);
    let units = [one.0.unit.clone(), other.0.unit.clone()];
    let crs = [one.0.crs.clone(), other.0.crs.clone()];
    let mut warnings = Vec::new();
    match &units {
        [Some(a), Some(b)] if a != b => {
            warnings.push(Finding::new(
                Code::UnitsDiffer,
                format!("the first is in {a}, the second in {b}: volume converts the second"),
            ));
        }
        [None, _] | [_, None] => {
            warnings.push(
                Finding::new(Code::NoUnit, "the length unit of one is not known")
                    .remedy("add --unit"),
            );
        }
        _ => {}
    }
    if let [Some(a), Some(b)] = &crs
        && !same_system(a, b)
    {
        warnings.push(Finding::new(
            Code::SystemsDiffer,
            format!("the first is in {a}, the second in {b}: volume refuses that"),
        ));
    }
    if let (Some(a), Some(b)) = (&one.0.height_system, &other.0.height_system)
        && !same_height_system(a, b)
    {
        warnings.push(Finding::new(
            Code::SystemsDiffer,
            format!("heights of the first are in {a}, of the second in {b}: volume refuses that"),
        ));
    }
    let unit = first.frame().unit();
    let frame = first.frame();
    let second = Surface::Tin(moved(&second, frame, unit)?);
    let first = Surface::Tin(first.into_owned());
    let covered = coverage(&Outline::of(&first), &Outline::of(&second), None)[0];
    let grid = |surface: &Surface| {
        let Extent { min, max } = surface.extent();
        Extent {
            min: frame.to_grid(min),
            max: frame.to_grid(max),
        }
    };
    let (mut middle_difference, mut spread) = (None, None);
    if covered.both > 0.0 {
        let differences = differences(&first, &second);
        if let Some((middle, half)) = middle(differences) {
            warnings.extend(
                mistake::of_heights(middle, half, unit)
                    .map(|words| Finding::new(Code::HeightsApart, words)),
            );
            (middle_difference, spread) = (Some(middle), Some(half));
        }
        let [first, second] = [one, other].map(|(found, _)| found.surfaces[0].heights);
        let feet = first
            .zip(second)
            .and_then(|(first, second)| mistake::of_units(first, second));
        warnings.extend(feet.map(|words| Finding::new(Code::UnitsDiffer, words)));
        let least = covered.both
            / (covered.both + covered.reference_only).min(covered.both + covered.surveyed_only);
        if least < 0.5 {
            warnings.push(Finding::new(
                Code::LittleShared,
                format!(
                    "they overlap on only {:.0} % of the smaller one",
                    100.0 * least
                ),
            ));
        }
    } else {
        let hint = mistake::of_places(&grid(&first), &grid(&second)).unwrap_or("");
        warnings.push(Finding::new(
            Code::LittleShared,
            format!("they do not overlap{hint}"),
        ));
    }
    Some(PairFound {
        files: [one.0.file.path.clone(), other.0.file.path.clone()],
        units,
        crs,
        areas: [
            covered.both + covered.reference_only,
            covered.both + covered.surveyed_only,
        ],
        common_area: covered.both,
        median_difference: middle_difference,
        half_within: spread,
        warnings,
    })
}

/// The facets of a surface that has an end.
pub(super) fn facets(surface: &Surface) -> Option<Cow<'_, Tin>> {
    match surface {
        Surface::Tin(tin) => Some(Cow::Borrowed(tin)),
        Surface::Grid(grid) => grid.to_tin().ok().map(Cow::Owned),
        Surface::Level(_) => None,
    }
}

/// The surface in another frame and unit.
pub(super) fn moved(tin: &Tin, frame: Frame, unit: LengthUnit) -> Option<Tin> {
    let own = tin.frame();
    let vertices = tin.vertices().iter().map(|v| {
        let grid = own.to_grid(v.place());
        let convert = |value: f64| own.unit().convert(value, unit);
        Vertex::new(convert(grid.east), convert(grid.north), convert(v.height))
    });
    Tin::from_facets(frame, vertices.collect(), tin.facets().to_vec()).ok()
}

/// Differences of height on a grid over what both cover.
fn differences(first: &Surface, second: &Surface) -> Vec<f64> {
    let extent = first.extent().intersection(&second.extent());
    let laid = Overlay::new(first, second, None);
    let map = laid.and_then(|laid| difference_map(&laid, extent, READINGS));
    let pixels = map.map_or(Vec::new(), |map| map.pixels);
    let read = pixels.iter().flatten();
    read.map(|pixel| f64::from(pixel.difference)).collect()
}

/// The middle of values, and how far half of them are from it.
fn middle(mut values: Vec<f64>) -> Option<(f64, f64)> {
    if values.is_empty() {
        return None;
    }
    let at = values.len() / 2;
    let middle = *values.select_nth_unstable_by(at, f64::total_cmp).1;
    for value in &mut values {
        *value = (*value - middle).abs();
    }
    let half = *values.select_nth_unstable_by(at, f64::total_cmp).1;
    Some((middle, half))
}
