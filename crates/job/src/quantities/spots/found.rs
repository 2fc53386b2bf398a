//! What was found at places.

use dapedon_core::alignment::Beside;
use dapedon_core::plan::{Place, Sum};
use dapedon_core::surface::HeightAt;
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use super::places::{Asked, AskedSpot};
use super::{SpotsError, SpotsRequest, reaches, without_difference};
use crate::error::JobError;
use crate::figure::Length;
use crate::finding::Finding;
use crate::input::InputFile;
use crate::job_file::JobFacts;
use crate::quantities::line_facts::LineFacts;
use crate::quantities::scene::Scene;
use crate::schema::{Schema, Word};
use crate::surfaces::SurfaceFacts;
use crate::units::ReportUnits;

/// Heights and differences at places.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, JsonSchema)]
#[non_exhaustive]
pub struct Spots {
    /// The command: `spots`.
    pub command: Word,
    /// The version of its schema.
    pub schema: Schema,
    /// The job whose names were used.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub job: Option<JobFacts>,
    /// The units of all figures.
    pub units: ReportUnits,
    /// The coordinate system.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub crs: Option<String>,
    /// The system of heights.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub height_system: Option<String>,
    /// From this side.
    pub reference: SurfaceFacts,
    /// To each of these.
    pub surveyed: Vec<SurfaceFacts>,
    /// Differences up to this size, in the length unit, count as unchanged.
    pub tolerance: Length,
    /// Where heights were read, in words.
    pub places: String,
    /// The line that places are reported along.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub line: Option<LineFacts>,
    /// The file that the places are from.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub points_file: Option<InputFile>,
    /// The files the zones come from.
    pub zone_files: Vec<InputFile>,
    /// The files of lines that are drawn over its map.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub line_files: Vec<InputFile>,
    /// Places of a grid over all ground that are on no pair of surfaces, and not listed.
    pub outside: usize,
    /// What the differences come to, for each surveyed surface.
    pub summary: Vec<SpotSummary>,
    /// The places, in their order.
    pub spots: Vec<Spot>,
    /// What the reader must know before trusting a figure.
    pub warnings: Vec<Finding>,
}

/// What the differences to a surveyed surface come to.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct SpotSummary {
    /// The surveyed surface.
    pub surveyed: String,
    /// How many places have a difference.
    pub compared: usize,
    /// How many have none: outside a surface, or where one steps.
    pub not_compared: usize,
    /// The lowest difference.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub lowest: Option<Length>,
    /// The highest difference.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub highest: Option<Length>,
    /// The mean of all differences.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub mean: Option<Length>,
    /// How many are within the tolerance, as a share of those compared.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub within_tolerance: Option<f64>,
}

/// A place. Coordinates, heights and differences are in the length unit.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct Spot {
    /// Its name in its file, or its number.
    pub number: String,
    /// The zone it is in.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub zone: Option<String>,
    /// Its chainage along the line.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub chainage: Option<f64>,
    /// How far it stands to the right of the line; to its left where negative.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub offset: Option<f64>,
    /// Of a point of a file: other places of the line that it is square to, farther off, as chainage and offset.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub also_beside: Vec<[f64; 2]>,
    /// Easting.
    pub east: f64,
    /// Northing.
    pub north: f64,
    /// The height of the reference.
    pub reference: SpotHeight,
    /// The height of each surveyed surface.
    pub surveyed: Vec<SpotHeight>,
    /// Surveyed less reference, for each surveyed surface; none outside a surface, or where one steps.
    pub difference: Vec<Option<f64>>,
    /// The same in a word.
    pub state: Vec<SpotState>,
}

/// What a surface is at a place: a height, the two heights of a step, or nothing.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize, JsonSchema)]
#[serde(untagged)]
pub enum SpotHeight {
    /// Its height.
    Height(f64),
    /// It steps there.
    Step {
        /// The lowest height.
        low: f64,
        /// The highest height.
        high: f64,
    },
    /// It does not reach there.
    Outside,
}

/// What happened at a place.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[serde(rename_all = "kebab-case")]
pub enum SpotState {
    /// The surveyed surface is lower.
    Cut,
    /// It is higher.
    Fill,
    /// It is neither, within the tolerance.
    Unchanged,
    /// One of the two steps there.
    Step,
    /// One of the two does not reach there.
    Outside,
}

impl SpotState {
    /// In words.
    pub fn words(self) -> &'static str {
        match self {
            SpotState::Cut => "cut",
            SpotState::Fill => "fill",
            SpotState::Unchanged => "unchanged",
            SpotState::Step => "on a step",
            SpotState::Outside => "outside",
        }
    }
}

impl SpotHeight {
    /// The height, where there is just one.
    pub fn height(self) -> Option<f64> {
        match self {
            SpotHeight::Height(height) => Some(height),
            SpotHeight::Step { .. } | SpotHeight::Outside => None,
        }
    }
}

impl From<HeightAt> for SpotHeight {
    fn from(found: HeightAt) -> Self {
        match found {
            HeightAt::None => SpotHeight::Outside,
            HeightAt::One { height, .. } => SpotHeight::Height(height),
            HeightAt::Several { low, high } => SpotHeight::Step { low, high },
        }
    }
}

/// All that was found.
pub(super) struct Found {
    pub(super) places: String,
    pub(super) line: Option<LineFacts>,
    pub(super) points_file: Option<InputFile>,
    pub(super) outside: usize,
    pub(super) summary: Vec<SpotSummary>,
    pub(super) spots: Vec<Spot>,
    pub(super) warnings: Vec<Finding>,
}

/// What the heights of the surfaces, the reference first, come to at each place.
pub(super) fn found(
    asked: Asked,
    heights: &[Vec<HeightAt>],
    request: &SpotsRequest,
    scene: &Scene,
) -> Result<Found, JobError> {
    let of = |surface: usize, spot: usize| heights[surface][spot];
    let is_reached = |spot: usize| {
        reaches(&of(0, spot)) && (1..heights.len()).any(|surface| reaches(&of(surface, spot)))
    };
    let all = asked.spots.len();
    let listed: Vec<usize> = (0..all)
        .filter(|&spot| !asked.only_reached || is_reached(spot))
        .collect();
    if !(0..all).any(is_reached) {
        let first = scene.frame().to_grid(asked.spots[0].at);
        let of = match reaches(&of(0, 0)) {
            true => "the surveyed surface",
            false => "the reference",
        };
        return Err(SpotsError::NoneReached {
            places: all,
            east: first.east,
            north: first.north,
            of: of.into(),
        }
        .into());
    }
    let tolerance = request
        .tolerance
        .value()
        .max(scene.frame().precision().length());
    let zone_name = |zone: usize| {
        let zones = scene.zones.as_ref()?.zones();
        zones.get(zone).map(|zone| zone.name().to_owned())
    };
    let state = |reference: SpotHeight, surveyed: SpotHeight| match (reference, surveyed) {
        (SpotHeight::Outside, _) | (_, SpotHeight::Outside) => SpotState::Outside,
        (SpotHeight::Height(from), SpotHeight::Height(to)) => match to - from {
            difference if difference > tolerance => SpotState::Fill,
            difference if difference < -tolerance => SpotState::Cut,
            _ => SpotState::Unchanged,
        },
        _ => SpotState::Step,
    };
    let also = |place: Place, is_beside: bool| -> Vec<[f64; 2]> {
        let line = asked
            .line
            .as_ref()
            .filter(|_| is_beside && asked.points_file.is_some());
        let all = line.map(|line| (&line.line, line.line.all_beside(place)));
        all.into_iter()
            .flat_map(|(line, all)| {
                let told = |own: Beside| [line.chainage().of(own.distance), own.offset];
                all.into_iter().skip(1).map(told).collect::<Vec<_>>()
            })
            .collect()
    };
    let spot = |(number, spot): (usize, usize)| {
        let AskedSpot {
            name,
            at,
            zone,
            beside,
        } = &asked.spots[spot];
        let place = scene.frame().to_grid(*at);
        let reference = SpotHeight::from(of(0, spot));
        let surveyed: Vec<SpotHeight> = (1..heights.len())
            .map(|surface| of(surface, spot).into())
            .collect();
        let difference = |surveyed: &SpotHeight| Some(surveyed.height()? - reference.height()?);
        let chainage = asked.line.as_ref().zip(*beside);
        Spot {
            number: name.clone().unwrap_or_else(|| (number + 1).to_string()),
            zone: zone.and_then(zone_name),
            chainage: chainage.map(|(line, beside)| line.line.chainage().of(beside.distance)),
            offset: beside.map(|beside| beside.offset),
            also_beside: also(place, beside.is_some()),
            east: place.east,
            north: place.north,
            reference,
            difference: surveyed.iter().map(difference).collect(),
            state: surveyed.iter().map(|&own| state(reference, own)).collect(),
            surveyed,
        }
    };
    let spots: Vec<Spot> = listed.iter().copied().enumerate().map(spot).collect();
    let summary = request.surveyed.iter().enumerate();
    let summary = summary.map(|(number, source)| summed(&spots, number, source.to_string(), scene));
    let line = asked.line.map(|line| LineFacts::of(line, &scene.units));
    Ok(Found {
        places: asked.words,
        line,
        points_file: asked.points_file,
        outside: all - spots.len(),
        summary: summary.collect(),
        warnings: warnings(&spots, request),
        spots,
    })
}

/// What the differences to one surface come to.
fn summed(spots: &[Spot], number: usize, surveyed: String, scene: &Scene) -> SpotSummary {
    let differences: Vec<f64> = spots
        .iter()
        .filter_map(|spot| spot.difference[number])
        .collect();
    let mut sum = Sum::default();
    differences.iter().for_each(|&difference| sum += difference);
    let compared = differences.len();
    let least = differences.iter().copied().reduce(f64::min);
    let greatest = differences.iter().copied().reduce(f64::max);
    let still = spots
        .iter()
        .filter(|spot| spot.state[number] == SpotState::Unchanged)
        .count();
    let told = |length: f64| scene.units.length_of(length);
    let share = |count: f64| (compared > 0).then(|| count / compared as f64);
    SpotSummary {
        surveyed,
        compared,
        not_compared: spots.len() - compared,
        lowest: least.map(told),
        highest: greatest.map(told),
        mean: share(sum.value()).map(told),
        within_tolerance: share(still as f64),
    }
}

/// Places without a difference, by why they have none.
fn warnings(spots: &[Spot], request: &SpotsRequest) -> Vec<Finding> {
    let mut said = Vec::new();
    let mut say = |words: String, is_off: &dyn Fn(&Spot) -> bool| {
        let mut off = spots.iter().filter(|spot| is_off(spot));
        if let Some(first) = off.next() {
            let count = off.count() + 1;
            let at = [first.east, first.north];
            said.push(without_difference(count, spots.len(), &words, at));
        }
    };
    let is_step = |height: &SpotHeight| matches!(height, SpotHeight::Step { .. });
    say(
        format!("outside {} (reference)", request.reference),
        &|spot| spot.reference == SpotHeight::Outside,
    );
    say(
        format!("where {} (reference) steps", request.reference),
        &|spot| is_step(&spot.reference),
    );
    for (number, source) in request.surveyed.iter().enumerate() {
        say(format!("outside {source} (surveyed)"), &|spot| {
            spot.surveyed[number] == SpotHeight::Outside
        });
        say(format!("where {source} (surveyed) steps"), &|spot| {
            is_step(&spot.surveyed[number])
        });
    }
    said
}
