//! Mass haul along the line, from the volumes between sections.

use dapedon_core::alignment::{Alignment, NamedChainage, chainage_words};
use dapedon_core::quantities::{HaulStretch, MassHaul, mass_haul};
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use super::stretches::CutAndFill;
use crate::error::JobError;
use crate::figure::{Length, Volume};
use crate::surfaces::distance;
use crate::units::ReportUnits;

/// How earth is carried along the line.
#[derive(Debug, Clone, PartialEq)]
pub struct HaulRules {
    /// Compacted volume for a unit in the bank.
    pub shrink: f64,
    /// Up to this distance haul is in the price of the cut.
    pub free_haul: f64,
    /// Where a surplus leaves, or a shortfall enters; without, where the haul is least.
    pub access: Option<NamedChainage>,
}

/// The haul along a line. Volumes are compacted; volume times distance is in the units of both.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct LineHaul {
    /// Compacted volume for a unit in the bank.
    pub shrink: f64,
    /// Up to this distance haul is free.
    pub free_haul: Length,
    /// What is cut and filled between the same two sections, and is carried nowhere.
    pub in_place: Volume,
    /// What is carried along the line.
    pub carried: Volume,
    /// What is left over in all; a shortfall where negative.
    pub surplus: Volume,
    /// Where that leaves or enters the line.
    pub access: HaulPlace,
    /// The greatest sum of cut less fill on the way.
    pub highest: HaulOrdinate,
    /// The least.
    pub lowest: HaulOrdinate,
    /// All loops, in the order of the line.
    pub loops: Vec<LoopOfHaul>,
    /// Volume times distance, of all loops.
    pub haul: f64,
    /// The part of it beyond the free-haul distance.
    pub overhaul: f64,
    /// The diagram.
    pub diagram: Vec<HaulOrdinate>,
}

/// A place on the line.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct HaulPlace {
    /// Its chainage.
    pub chainage: f64,
    /// The same as the trade writes it.
    pub station: String,
    /// The distance from the start of the line.
    pub distance: f64,
}

/// The running sum of cut less fill at a place.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct HaulOrdinate {
    /// The place.
    #[serde(flatten)]
    pub at: HaulPlace,
    /// The sum.
    pub sum: Volume,
}

/// What is carried one way between two balance points.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct LoopOfHaul {
    /// The first balance point.
    pub from: HaulPlace,
    /// The next one.
    pub to: HaulPlace,
    /// Which way: `ahead` along the line, or `back`.
    pub direction: HaulDirection,
    /// How much.
    pub volume: Volume,
    /// How far, on the mean.
    pub mean_distance: Length,
    /// Volume times distance.
    pub haul: f64,
    /// The part of it beyond the free-haul distance.
    pub overhaul: f64,
}

/// Which way earth is carried.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[serde(rename_all = "kebab-case")]
pub enum HaulDirection {
    /// Along the line.
    Ahead,
    /// Against it.
    Back,
}

impl HaulDirection {
    /// In a word.
    pub fn words(self) -> &'static str {
        match self {
            HaulDirection::Ahead => "ahead",
            HaulDirection::Back => "back",
        }
    }
}

/// The haul between some distances, from the volumes of the stretches between them.
pub(super) fn haul(
    rules: &HaulRules,
    line: &Alignment,
    distances: &[f64],
    volumes: &[CutAndFill],
    units: &ReportUnits,
) -> Result<Option<LineHaul>, JobError> {
    let access = rules
        .access
        .map(|named| distance(line, named, units.length));
    let stretches = distances
        .windows(2)
        .zip(volumes)
        .map(|(pair, own)| HaulStretch {
            between: [pair[0], pair[1]],
            cut: rules.shrink * own.cut,
            fill: own.fill,
        });
    let stretches: Vec<HaulStretch> = stretches.collect();
    let found = mass_haul(&stretches, rules.free_haul, access.transpose()?);
    Ok(found.map(|found| told(rules, line, &found, units)))
}

fn told(rules: &HaulRules, line: &Alignment, found: &MassHaul, units: &ReportUnits) -> LineHaul {
    let place = |distance: f64| {
        let chainage = line.chainage().of(distance);
        HaulPlace {
            chainage,
            station: chainage_words(chainage, units.length, 2),
            distance,
        }
    };
    let volume = |cubic: f64| units.volume_of(cubic);
    // A volume in the unit of the report, times a length.
    let moment = |cubic: f64| volume(cubic).value;
    let ordinate = |at: &[f64; 2]| HaulOrdinate {
        at: place(at[0]),
        sum: volume(at[1]),
    };
    let extreme = |of: fn(&f64, &f64) -> std::cmp::Ordering| {
        let found = found.ordinates.iter().max_by(|a, b| of(&a[1], &b[1]));
        ordinate(found.unwrap_or(&[0.0, 0.0]))
    };
    let loops = found.loops.iter().map(|own| LoopOfHaul {
        from: place(own.between[0]),
        to: place(own.between[1]),
        direction: match own.is_ahead {
            true => HaulDirection::Ahead,
            false => HaulDirection::Back,
        },
        volume: volume(own.volume),
        mean_distance: units.length_of(if own.volume > 0.0 {
            own.moment / own.volume
        } else {
            0.0
        }),
        haul: moment(own.moment),
        overhaul: moment(own.beyond),
    });
    let sum = |of: fn(&dapedon_core::quantities::HaulLoop) -> f64| {
        found.loops.iter().map(of).sum::<f64>()
    };
    LineHaul {
        shrink: rules.shrink,
        free_haul: units.length_of(rules.free_haul),
        in_place: volume(found.in_place),
        carried: volume(sum(|own| own.volume)),
        surplus: volume(found.surplus),
        access: place(found.access),
        highest: extreme(|a, b| a.total_cmp(b)),
        lowest: extreme(|a, b| b.total_cmp(a)),
        loops: loops.collect(),
        haul: moment(sum(|own| own.moment)),
        overhaul: moment(sum(|own| own.beyond)),
        diagram: found.ordinates.iter().map(ordinate).collect(),
    }
}
