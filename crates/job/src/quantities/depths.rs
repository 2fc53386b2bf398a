//! Cut and fill by depth, in depth slices.

use dapedon_core::overlay::Overlay;
use dapedon_core::plan::RELATIVE;
use dapedon_core::quantities::{DeeperThan, ZoneVolume, depths, slice_uncertainty};
use dapedon_core::surface::Surface;
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use crate::error::{JobError, job_error};
use crate::figure::{Area, Length, Volume};
use crate::quantities::measurement::ZoneMeasurement;
use crate::quantities::scene::Scene;
use crate::quantities::uncertainty::{Sureness, few_enough};

/// Depth slices of a zone at most.
const MOST: f64 = 10_000.0;

/// Cut and fill of a zone, lift by lift.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct ZoneDepths {
    /// The zone.
    pub zone: String,
    /// Depth slices of the cut, from the surface down; to a level, from the highest slice down.
    pub cut: Vec<DepthSlice>,
    /// Depth slices of the fill, from the surface up; to a level, from the lowest slice up.
    pub fill: Vec<DepthSlice>,
}

/// What lies between two depths.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct DepthSlice {
    /// From this depth, or height.
    pub from: Length,
    /// To this one.
    pub to: Length,
    /// The lower and the upper level of it, where one side is a level.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub levels: Option<[Length; 2]>,
    /// The area where it is deeper than where the slice begins.
    pub area: Area,
    /// The volume of the slice.
    pub volume: Volume,
    /// The same with all depth slices before.
    pub running_total: Volume,
}

/// Which of the two.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
enum Way {
    Cut,
    Fill,
}

/// What zones come to in depth slices of a height; with the last of them all zones, where there are several.
///
/// # Errors
///
/// When there would be too many, or a depth slice is thinner than what counts as unchanged.
pub(crate) fn by_depth(
    step: f64,
    tolerance: f64,
    scene: &Scene,
    (overlay, sure): (&Overlay<'_>, Option<&Sureness>),
    measured: &[ZoneVolume],
    rows: &[ZoneMeasurement],
) -> Result<Vec<ZoneDepths>, JobError> {
    if step < tolerance {
        return Err(DepthsError::ThinSlices { step, tolerance }.into());
    }
    let deepest = measured.iter().filter_map(|zone| zone.difference);
    let deepest = deepest.fold(0.0f64, |most, found| {
        most.max(found.max.difference).max(-found.min.difference)
    });
    if deepest / step > MOST {
        return Err(DepthsError::ManySlices {
            step,
            depth: deepest,
        }
        .into());
    }
    // A lift of nothing but rounding is none.
    let count = (deepest / step - RELATIVE).ceil().max(0.0) as u32;
    let steps: Vec<f64> = (0..=count).map(|index| f64::from(index) * step).collect();
    let found = depths(overlay, &steps)?;
    let zones = rows.iter().zip(measured).zip(&found);
    let mut all: Vec<ZoneDepths> = zones
        .map(|((row, measured), beyond)| ZoneDepths {
            zone: row.zone.clone(),
            cut: lifts(scene, Way::Cut, measured, beyond),
            fill: lifts(scene, Way::Fill, measured, beyond),
        })
        .collect();
    if all.len() > 1 {
        let total = ZoneDepths {
            zone: "total".into(),
            cut: summed(all.iter().map(|zone| &zone.cut)),
            fill: summed(all.iter().map(|zone| &zone.fill)),
        };
        all.push(total);
    }
    if let Some(sure) = sure {
        add_uncertainty(&mut all, &steps, scene, overlay, sure)?;
    }
    Ok(all)
}

/// Adds how uncertain each slice is, unless there are too many, of each zone and of all of them.
fn add_uncertainty(
    zones: &mut [ZoneDepths],
    steps: &[f64],
    scene: &Scene,
    overlay: &Overlay<'_>,
    sure: &Sureness,
) -> Result<(), JobError> {
    let all: Vec<usize> = (0..overlay.zone_count()).collect();
    let mut groups: Vec<Vec<usize>> = all.iter().map(|&zone| vec![zone]).collect();
    if zones.len() > 1 {
        groups.push(all);
    }
    let surfaces = [&*scene.reference, &*scene.surveyed];
    if !few_enough(surfaces, overlay.zone_count(), steps.len()) {
        return Ok(());
    }
    let found = slice_uncertainty(overlay, steps, surfaces, sure.accuracies, &groups)?;
    let told = |standard: f64| Some(scene.units.volume_of(standard).value);
    for (zone, found) in zones.iter_mut().zip(found) {
        for (&from, own) in steps.iter().zip(found) {
            let begins = scene.units.length_of(from);
            let here = |slice: &&mut DepthSlice| slice.from == begins;
            for slice in zone.cut.iter_mut().filter(here) {
                slice.volume.uncertainty = told(own.cut);
            }
            for slice in zone.fill.iter_mut().filter(here) {
                slice.volume.uncertainty = told(own.fill);
            }
        }
    }
    Ok(())
}

fn lifts(scene: &Scene, way: Way, measured: &ZoneVolume, beyond: &[DeeperThan]) -> Vec<DepthSlice> {
    let area = |square: f64| scene.units.area_of(square);
    let volume = |cubic: f64| scene.units.volume_of(cubic);
    let of = |beyond: &DeeperThan| match way {
        Way::Cut => (beyond.cut_area, beyond.cut),
        Way::Fill => (beyond.fill_area, beyond.fill),
    };
    // What is unchanged is in none of them: as the whole was measured.
    let (whole, difference) = match way {
        Way::Cut => (
            (measured.area.cut, measured.volume.cut),
            measured.difference.map(|d| -d.min.difference),
        ),
        Way::Fill => (
            (measured.area.fill, measured.volume.fill),
            measured.difference.map(|d| d.max.difference),
        ),
    };
    let deepest = difference.unwrap_or_default();
    let mut lifts = Vec::new();
    for (index, two) in beyond.windows(2).enumerate() {
        let [from, to] = [two[0].depth, two[1].depth];
        if from >= deepest - RELATIVE * (to - from) {
            break;
        }
        let (over, held) = if index == 0 { whole } else { of(&two[0]) };
        let below = of(&two[1]).1;
        let to = to.min(deepest);
        lifts.push(DepthSlice {
            from: scene.units.length_of(from),
            to: scene.units.length_of(to),
            levels: levels(scene, way, [from, to])
                .map(|levels| levels.map(|height| scene.units.length_of(height))),
            area: area(over),
            volume: volume(held - below),
            running_total: volume(whole.1 - below),
        });
    }
    // To a level one digs from the top down, and fills from the bottom up.
    if matches!(*scene.surveyed, Surface::Level(_)) {
        lifts.reverse();
        run(&mut lifts);
    }
    lifts
}

/// Each with all depth slices before.
fn run(lifts: &mut [DepthSlice]) {
    let mut running = 0.0;
    for lift in lifts {
        running += lift.volume.value;
        lift.running_total.value = running;
    }
}

/// The levels between which a depth slice lies, where one side is a level.
fn levels(scene: &Scene, way: Way, [from, to]: [f64; 2]) -> Option<[f64; 2]> {
    let height = match (&*scene.reference, &*scene.surveyed) {
        (Surface::Level(level), _) | (_, Surface::Level(level)) => level.height(),
        _ => return None,
    };
    let is_reference = matches!(*scene.reference, Surface::Level(_));
    // Cut lies above what was dug to, fill below what was filled to.
    let upward = (way == Way::Cut) != is_reference;
    Some(match upward {
        true => [height + from, height + to],
        false => [height - to, height - from],
    })
}

/// The depth slices of all zones, one by one, in the order of the zones' own.
fn summed<'l>(zones: impl Iterator<Item = &'l Vec<DepthSlice>>) -> Vec<DepthSlice> {
    let mut all: Vec<DepthSlice> = Vec::new();
    let mut upside_down = false;
    for lifts in zones {
        upside_down |= lifts.len() > 1 && lifts[0].from.value > lifts[1].from.value;
        for lift in lifts {
            match all.iter_mut().find(|sum| sum.from == lift.from) {
                None => all.push(*lift),
                Some(sum) => {
                    if lift.to.value > sum.to.value {
                        (sum.to, sum.levels) = (lift.to, lift.levels);
                    }
                    sum.area.value += lift.area.value;
                    sum.volume.value += lift.volume.value;
                }
            }
        }
    }
    all.sort_by(|a, b| match upside_down {
        true => b.from.value.total_cmp(&a.from.value),
        false => a.from.value.total_cmp(&b.from.value),
    });
    run(&mut all);
    all
}

/// Why cut and fill cannot be reported by depth.
#[derive(Debug, thiserror::Error, strum::IntoStaticStr)]
#[strum(serialize_all = "kebab-case")]
#[non_exhaustive]
pub enum DepthsError {
    /// Depth slices are thinner than the tolerance.
    #[error("depth slices of {step} are thinner than the tolerance of {tolerance}")]
    ThinSlices {
        /// Their height.
        step: f64,
        /// The tolerance.
        tolerance: f64,
    },
    /// The step gives too many depth slices.
    #[error("depth slices of {step} down to {depth:.3} are more than 10 000")]
    ManySlices {
        /// Their height.
        step: f64,
        /// The greatest depth.
        depth: f64,
    },
}

impl DepthsError {
    fn remedy(&self) -> &'static str {
        match self {
            DepthsError::ThinSlices { .. } => "use thicker slices, or a smaller --tolerance",
            DepthsError::ManySlices { .. } => "use thicker slices",
        }
    }
}

dapedon_diagnostic::diagnostic!(DepthsError, "depths");
job_error!(DepthsError);
