//! Bands of difference: ground by how much it differs, with the whole volume over it.

use dapedon_core::overlay::Overlay;
use dapedon_core::quantities::{
    Band, BandEdges, BandUncertainty, Tolerance, band_uncertainty, bands,
};
use dapedon_core::surface::Surface;
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use crate::accuracy::COVERAGE_FACTOR;
use crate::band_rules::{BandRules, BandsError, Colour};
use crate::error::JobError;
use crate::figure::{Area, Length, Volume};
use crate::quantities::measurement::{Measurement, ZoneMeasurement};
use crate::quantities::uncertainty::{Sureness, few_enough};
use crate::units::ReportUnits;

/// Ground by how much it differs.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct Bands {
    /// The name that the edges have in the job.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub name: Option<String>,
    /// How far the middle band reaches on both sides of zero.
    pub middle: Length,
    /// How many standard uncertainties are shown with ±, where it is known how uncertain the volumes are.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub coverage_factor: Option<f64>,
    /// The colours of the job for its bands, from the lowest to the highest.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub colours: Vec<Colour>,
    /// Zone by zone; with the last of them all zones, where there are several.
    pub zones: Vec<ZoneBands>,
}

/// The bands of a zone.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct ZoneBands {
    /// The zone.
    pub zone: String,
    /// Its bands, from the lowest difference to the highest.
    pub bands: Vec<BandFigures>,
}

/// On which side of zero a band lies.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[serde(rename_all = "kebab-case")]
pub enum BandSide {
    /// Below the middle band.
    Cut,
    /// The middle band.
    Middle,
    /// Above the middle band.
    Fill,
}

/// The ground whose difference lies between two edges, and the whole volume over it.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct BandFigures {
    /// On which side of zero it lies.
    pub side: BandSide,
    /// Its lower edge; none where it has no end.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub from: Option<Length>,
    /// Its upper edge; none where it has no end.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub to: Option<Length>,
    /// Its plan area.
    pub area: Area,
    /// Its area as a share of the compared area of the zone.
    pub share: f64,
    /// Below the reference, over all of its ground.
    pub cut: Volume,
    /// Above the reference, over all of its ground.
    pub fill: Volume,
    /// Its area with that of all bands between it and the middle band.
    pub running_area: Area,
    /// Its volume with that of all bands between it and the middle band.
    pub running_volume: Volume,
}

/// The edges that suit what was measured, in the unit that was measured in.
pub(crate) fn edges<'r>(
    rules: &BandRules,
    tolerance: f64,
    units: &ReportUnits,
    rows: impl IntoIterator<Item = &'r ZoneMeasurement>,
) -> Result<BandEdges, BandsError> {
    let (mut reach, mut volume, mut area) = ([0.0f64; 2], 0.0, 0.0);
    for row in rows {
        if let Some(found) = row.difference {
            reach = [reach[0].min(found.min.value), reach[1].max(found.max.value)];
        }
        volume += row.volume.cut.value + row.volume.fill.value;
        area += row.area.cut.value + row.area.fill.value;
    }
    // Volume over area is a height, once both are in units of the length.
    let height = units.volume_of(1.0).value / units.area_of(1.0).value;
    let mean = if area > 0.0 {
        volume / area / height
    } else {
        0.0
    };
    let rules = rules.within(units.length);
    let middle = rules.middle.map_or(tolerance, Tolerance::value);
    rules.edges(middle, reach, mean)
}

/// The bands of a measurement.
pub(crate) fn measured(
    rules: &BandRules,
    edges: &BandEdges,
    overlay: &Overlay<'_>,
    units: &ReportUnits,
    rows: &[ZoneMeasurement],
) -> Result<Bands, JobError> {
    Ok(of_rows(rules, edges, units, rows, &bands(overlay, edges)?))
}

/// Bands that were measured, by the rows of zones.
pub(crate) fn of_rows(
    rules: &BandRules,
    edges: &BandEdges,
    units: &ReportUnits,
    rows: &[ZoneMeasurement],
    found: &[Vec<Band>],
) -> Bands {
    let names = rows.iter().map(|row| row.zone.as_str());
    Bands::of(rules, edges, units, names.zip(found))
}

impl Bands {
    /// Adds how uncertain the volume of each band is, unless there are too many, of groups of zones in the order of its rows.
    pub(crate) fn add_uncertainty(
        &mut self,
        edges: &BandEdges,
        overlay: &Overlay<'_>,
        surfaces: [&Surface; 2],
        sure: &Sureness,
        units: &ReportUnits,
        groups: &[Vec<usize>],
    ) -> Result<(), JobError> {
        if !few_enough(surfaces, overlay.zone_count(), edges.count()) {
            return Ok(());
        }
        let found = band_uncertainty(overlay, edges, surfaces, sure.accuracies, groups)?;
        self.coverage_factor = Some(COVERAGE_FACTOR);
        for (zone, found) in self.zones.iter_mut().zip(found) {
            // The lowest band has no lower edge; where it is not the first, it was left out.
            let lowest = zone.bands.first().is_none_or(|band| band.from.is_none());
            let found = found.into_iter().skip(usize::from(!lowest));
            for (band, BandUncertainty { cut, fill }) in zone.bands.iter_mut().zip(found) {
                band.cut.uncertainty = Some(units.volume_of(cut).value);
                band.fill.uncertainty = Some(units.volume_of(fill).value);
            }
        }
        Ok(())
    }

    /// Bands that were measured, by the names of zones; those at the ends that hold nothing anywhere are left out.
    pub(crate) fn of<'b>(
        rules: &BandRules,
        edges: &BandEdges,
        units: &ReportUnits,
        zones: impl Iterator<Item = (&'b str, &'b Vec<Band>)>,
    ) -> Self {
        let zones: Vec<(&str, &Vec<Band>)> = zones.collect();
        let is_bare = |band: usize| zones.iter().all(|(_, bands)| bands[band].area == 0.0);
        let last = edges.count() - 1;
        let from = usize::from(edges.middle() > 0 && is_bare(0));
        let to = last - usize::from(edges.middle() < last && is_bare(last));
        let middle = edges.between(edges.middle())[1].unwrap_or_default();
        let told = |(zone, bands): &(&str, &Vec<Band>)| ZoneBands {
            zone: (*zone).to_owned(),
            bands: figures(bands, edges, units, from..=to),
        };
        let mut all: Vec<ZoneBands> = zones.iter().map(told).collect();
        if zones.len() > 1 {
            let sum = summed(zones.iter().map(|(_, bands)| *bands));
            all.push(told(&("total", &sum)));
        }
        let colours = rules.colours.iter().copied().skip(from);
        Bands {
            name: rules.name.clone(),
            middle: units.length_of(middle),
            coverage_factor: None,
            colours: colours.take(to + 1 - from).collect(),
            zones: all,
        }
    }
}

/// The same bands of several zones.
pub(crate) fn summed<'b>(zones: impl Iterator<Item = &'b Vec<Band>>) -> Vec<Band> {
    let mut sum: Vec<Band> = Vec::new();
    for bands in zones {
        match sum.is_empty() {
            true => sum.clone_from(bands),
            false => sum.iter_mut().zip(bands).for_each(|(sum, band)| {
                sum.area += band.area;
                sum.cut += band.cut;
                sum.fill += band.fill;
            }),
        }
    }
    sum
}

/// Bands in the units of a report, with what adds up from the middle outwards.
fn figures(
    bands: &[Band],
    edges: &BandEdges,
    units: &ReportUnits,
    shown: std::ops::RangeInclusive<usize>,
) -> Vec<BandFigures> {
    let compared: f64 = bands.iter().map(|band| band.area).sum();
    let middle = edges.middle();
    let figure = |number: usize| {
        let band = &bands[number];
        let (side, between) = match number.cmp(&middle) {
            std::cmp::Ordering::Less => (BandSide::Cut, &bands[number..middle]),
            std::cmp::Ordering::Equal => (BandSide::Middle, &bands[middle..=middle]),
            std::cmp::Ordering::Greater => (BandSide::Fill, &bands[middle + 1..=number]),
        };
        let running = |of: fn(&Band) -> f64| between.iter().map(of).sum::<f64>();
        BandFigures {
            side,
            from: band.from.map(|edge| units.length_of(edge)),
            to: band.to.map(|edge| units.length_of(edge)),
            area: units.area_of(band.area),
            share: if compared > 0.0 {
                band.area / compared
            } else {
                0.0
            },
            cut: units.volume_of(band.cut),
            fill: units.volume_of(band.fill),
            running_area: units.area_of(running(|band| band.area)),
            running_volume: units.volume_of(running(|band| band.cut + band.fill)),
        }
    };
    shown.map(figure).collect()
}

impl Measurement {
    /// The bands of all that was measured.
    pub fn whole_bands(&self) -> Option<&ZoneBands> {
        self.bands.as_ref()?.zones.last()
    }
}
