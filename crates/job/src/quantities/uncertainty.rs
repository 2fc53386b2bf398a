//! How uncertain volumes are, from how accurate both surfaces are.

use dapedon_core::overlay::{Overlay, OverlayError};
use dapedon_core::quantities::{
    Accuracy, BetweenPoints, BothSides, GainByChance as CoreGain, Tolerance,
    UncertaintyParts as CoreParts, VolumeUncertainty, ZoneVolume, volumes, weighed_volumes,
};
use dapedon_core::surface::Surface;
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use crate::accuracy::COVERAGE_FACTOR;
use crate::figure::{Area, Volume};
use crate::surfaces::{MadeSurface, SurfaceFacts};
use crate::units::ReportUnits;

/// How uncertain the volumes of a measurement are. All its figures are standard uncertainties; with ± stand as many of them as
/// the coverage factor says.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, JsonSchema)]
#[non_exhaustive]
pub struct Uncertainty {
    /// How many standard uncertainties are shown with ±.
    pub coverage_factor: f64,
    /// The survey that both sides are made from, where it is one: its errors count once.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub errors_count_once: Option<String>,
    /// What a better survey would take off the uncertainty of the net of all zones together.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub better_surveys: Vec<BetterSurvey>,
    /// Zone by zone, in the order of the measurement's.
    pub zones: Vec<ZoneUncertainty>,
    /// Of the sum of the zones, when there are several: they share points.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub total: Option<ZoneUncertainty>,
}

impl Uncertainty {
    /// Adds what is left out between the points of one side: found of each zone and of their sum, with the errors of single heights in it where
    /// those are independent.
    pub(crate) fn add_between_points(
        &mut self,
        side: usize,
        independent: bool,
        found: &[BetweenPoints],
        units: &ReportUnits,
    ) {
        // Of a single zone there is no sum.
        let rows = self.zones.iter_mut().zip(found);
        let total = self.total.iter_mut().zip(found.last());
        for (row, found) in rows.chain(total) {
            for (own, found) in [&mut row.cut, &mut row.fill, &mut row.net]
                .into_iter()
                .zip(found)
            {
                own.add_between_points(side, independent, *found, units);
            }
        }
    }

    /// Finds anew what a better survey would take off.
    pub(crate) fn find_better_surveys(&mut self, sides: [&SurfaceFacts; 2]) {
        let whole = self.total.as_ref().or(self.zones.first());
        self.better_surveys = whole.map_or(Vec::new(), |own| BetterSurvey::of(&own.net, sides));
    }

    /// The standard uncertainties of cut, fill and net of all zones together.
    pub(crate) fn standard(&self) -> Option<[Volume; 3]> {
        let whole = self.total.as_ref().or(self.zones.first())?;
        Some([whole.cut, whole.fill, whole.net].map(|own| own.standard))
    }
}

/// By how much the standard uncertainty of a net falls with a better survey of one side.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct BetterSurvey {
    /// The surface.
    pub surface: String,
    /// With twice the points, where their errors are independent or it is known what lies between them.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub twice_the_points: Option<Volume>,
    /// With twice the points on slopes alone, steeper than 1 in 10, where there are some and some elsewhere.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub twice_the_points_on_slopes: Option<Volume>,
    /// With half the error of single points.
    pub half_the_error_of_points: Volume,
    /// With half the error that is common to all points.
    pub half_the_common_error: Volume,
}

impl BetterSurvey {
    /// Of each side that errs. Twice the points leave half the square of what each has by itself; half the error leaves a quarter
    /// of it.
    fn of(net: &UncertaintyOf, sides: [&SurfaceFacts; 2]) -> Vec<Self> {
        let whole = net.standard.value;
        let off = |gone: f64| {
            net.standard
                .with(whole - (whole * whole - gone).max(0.0).sqrt())
        };
        let surveys = sides.into_iter().zip([&net.reference, &net.surveyed]);
        let surveys = surveys.filter_map(|(side, parts)| {
            let square =
                |one: Volume, other: Volume| one.value * one.value + other.value * other.value;
            let single = square(parts.heights, parts.places);
            let between = (parts.between_points).map_or(0.0, |own| own.value * own.value);
            let slopes = (parts.on_slopes).map_or(0.0, |own| own.value * own.value);
            let common = square(parts.common_height, parts.common_place);
            let independent =
                (side.accuracy.as_ref()).is_some_and(|own| own.correlation.value == 0.0);
            (single + common + between > 0.0).then(|| BetterSurvey {
                surface: side.source.clone(),
                // Of what lies between points at least half of the square goes, and more where the ground is smooth.
                twice_the_points: (independent || between > 0.0).then(|| {
                    let own = if independent { single } else { 0.0 };
                    off((own + between) / 2.0)
                }),
                // All of it is no advice, and nor is what lies between points: it is not known where.
                twice_the_points_on_slopes: (independent && between == 0.0)
                    .then_some(slopes)
                    .filter(|own| *own > 0.0 && *own < 0.95 * single)
                    .map(|own| off(own / 2.0)),
                half_the_error_of_points: off(single * 0.75),
                half_the_common_error: off(common * 0.75),
            })
        });
        surveys.collect()
    }
}

/// How uncertain the volumes of a zone are.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct ZoneUncertainty {
    /// Of the cut.
    pub cut: UncertaintyOf,
    /// Of the fill.
    pub fill: UncertaintyOf,
    /// Of fill less cut.
    pub net: UncertaintyOf,
    /// What cut and fill are too large by on average, beside that; nothing of piles and basins.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub by_chance: Option<GainByChance>,
}

/// What cut and fill gain by chance, where two surfaces are closer to each other than they are accurate. The net gains nothing.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct GainByChance {
    /// What the cut is too large by on average, at least.
    pub cut: Volume,
    /// What the fill is too large by on average, at least.
    pub fill: Volume,
    /// By how many times more, where nothing was moved.
    pub at_most_times: f64,
    /// The ground on which the surfaces are closer than the uncertainty of their difference.
    pub area: Area,
}

/// The standard uncertainty of a volume, and what makes it.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct UncertaintyOf {
    /// All of it.
    pub standard: Volume,
    /// From the reference.
    pub reference: UncertaintyParts,
    /// From the surveyed surface.
    pub surveyed: UncertaintyParts,
}

/// What the points of a surface add: standard uncertainties, whose squares add up.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct UncertaintyParts {
    /// Of heights, each by itself.
    pub heights: Volume,
    /// Of places, each by itself.
    pub places: Volume,
    /// Of all heights alike.
    pub common_height: Volume,
    /// Of all places alike.
    pub common_place: Volume,
    /// What the spacing of points leaves out, where that was measured.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub between_points: Option<Volume>,
    /// What of the heights and places is from points on slopes, steeper than 1 in 10, where errors of points are independent.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub on_slopes: Option<Volume>,
}

impl UncertaintyParts {
    /// All of them, in order.
    pub fn each(&self) -> [Volume; 5] {
        [
            self.heights,
            self.places,
            self.common_height,
            self.common_place,
            self.between_points.unwrap_or(self.heights.with(0.0)),
        ]
    }

    /// All of them together, in their unit.
    pub(crate) fn standard(&self) -> f64 {
        let squares = self.each().map(|part| part.value * part.value);
        squares.iter().sum::<f64>().sqrt()
    }

    pub(crate) fn of(parts: &CoreParts, units: &ReportUnits) -> Self {
        let told = |value: f64| units.volume_of(value);
        UncertaintyParts {
            heights: told(parts.height),
            places: told(parts.plan),
            common_height: told(parts.common_height),
            common_place: told(parts.common_plan),
            between_points: None,
            on_slopes: (parts.on_slopes > 0.0).then(|| told(parts.on_slopes)),
        }
    }
}

impl UncertaintyOf {
    pub(crate) fn both(sides: &BothSides, units: &ReportUnits) -> Self {
        UncertaintyOf {
            standard: units.volume_of(sides.standard()),
            reference: UncertaintyParts::of(&sides.reference, units),
            surveyed: UncertaintyParts::of(&sides.surveyed, units),
        }
    }

    /// Adds what is left out between the points of one side, in cubes of the length unit, with the errors of single heights in it where those are
    /// independent.
    pub(crate) fn add_between_points(
        &mut self,
        side: usize,
        independent: bool,
        found: f64,
        units: &ReportUnits,
    ) {
        let parts = match side {
            0 => &mut self.reference,
            _ => &mut self.surveyed,
        };
        let heights = if independent {
            parts.heights.value
        } else {
            0.0
        };
        let found = units.volume_of(found).value;
        let between = (found * found - heights * heights).max(0.0).sqrt();
        parts.between_points = Some(self.standard.with(between));
        self.standard.value = libm::hypot(self.standard.value, between);
    }

    /// Of the sum of volumes that share surveys and hardly any points: what points have by themselves adds up by its squares, what they have
    /// in common as it is.
    pub(crate) fn together<'u>(all: impl Iterator<Item = &'u Self>) -> Option<Self> {
        let sides = |own: &UncertaintyOf| [own.reference, own.surveyed];
        let sum = |a: Volume, b: Volume| a.with(a.value + b.value);
        let squares = |a: Volume, b: Volume| a.with(libm::hypot(a.value, b.value));
        let either = |a: Option<Volume>, b: Option<Volume>| match (a, b) {
            (Some(a), Some(b)) => Some(squares(a, b)),
            (one, other) => one.or(other),
        };
        let parts = |a: UncertaintyParts, b: UncertaintyParts| UncertaintyParts {
            heights: squares(a.heights, b.heights),
            places: squares(a.places, b.places),
            common_height: sum(a.common_height, b.common_height),
            common_place: sum(a.common_place, b.common_place),
            between_points: either(a.between_points, b.between_points),
            on_slopes: either(a.on_slopes, b.on_slopes),
        };
        { all }.copied().reduce(|a, b| {
            let ([a_from, a_to], [b_from, b_to]) = (sides(&a), sides(&b));
            let [reference, surveyed] = [parts(a_from, b_from), parts(a_to, b_to)];
            let all = reference.each().into_iter().chain(surveyed.each());
            let standard = all.fold(a.standard.with(0.0), squares);
            UncertaintyOf {
                standard,
                reference,
                surveyed,
            }
        })
    }
}

impl ZoneUncertainty {
    pub(crate) fn of(found: &VolumeUncertainty, units: &ReportUnits) -> Self {
        let of = |sides: &BothSides| UncertaintyOf::both(sides, units);
        ZoneUncertainty {
            cut: of(&found.cut),
            fill: of(&found.fill),
            net: of(&found.net),
            by_chance: (found.by_chance.area > 0.0).then(|| GainByChance {
                cut: units.volume_of(found.by_chance.cut),
                fill: units.volume_of(found.by_chance.fill),
                at_most_times: CoreGain::AT_MOST,
                area: units.area_of(found.by_chance.area),
            }),
        }
    }
}

/// True where bands or slices of so many surfaces' triangles are not too many to find how uncertain each is: what counts of each triangle in each of them is
/// held in memory.
pub(crate) fn few_enough(surfaces: [&Surface; 2], zones: usize, bands: usize) -> bool {
    /// Some 40 bytes each, as far as triangles reach into bands.
    const MOST: usize = 40_000_000;
    /// Zones and bands are numbered together.
    const NUMBERED: usize = 1 << 30;
    let facets = surfaces.map(|surface| surface.facets().max(1));
    let all = facets[0].max(facets[1]).saturating_mul(bands);
    all <= MOST && zones.saturating_mul(bands) < NUMBERED
}

/// How accurate both sides are, as they count against each other.
#[derive(Debug, Clone, PartialEq)]
pub(crate) struct Sureness {
    pub(crate) accuracies: [Accuracy; 2],
    /// The one survey that both sides are made from: where they differ the job says how, so that one of them adds no errors
    /// of its own.
    pub(crate) counted_once: Option<String>,
    /// Errors of a survey are in both sides, beside others.
    pub(crate) partly_shared: bool,
}

impl Sureness {
    /// Of two sides, where it is known how accurate both are.
    pub(crate) fn of(sides: [&MadeSurface; 2]) -> Option<Self> {
        let [Some(reference), Some(surveyed)] = sides.map(|made| made.side.accuracy.as_ref())
        else {
            return None;
        };
        let [from, to] = sides.map(|made| &made.errors_of);
        let shared = from.intersection(to).next();
        let mut accuracies = [reference.numbers(), surveyed.numbers()];
        let exact = accuracies.contains(&Accuracy::EXACT);
        let counted_once = shared.filter(|_| from.len() == 1 && to.len() == 1 && !exact);
        if counted_once.is_some() {
            // Where their accuracies were stated differently, the worse counts.
            let worse = usize::from(surveyed.of_a_height() > reference.of_a_height());
            accuracies[1 - worse] = Accuracy::EXACT;
        }
        Some(Sureness {
            accuracies,
            counted_once: counted_once.cloned(),
            partly_shared: shared.is_some() && counted_once.is_none() && !exact,
        })
    }

    /// True where a side adds errors.
    pub(crate) fn errs(&self, side: usize) -> bool {
        self.accuracies[side] != Accuracy::EXACT
    }
}

/// The volumes of an overlay; with how uncertain they are, where it is known how accurate both surfaces are.
pub(crate) fn measured(
    overlay: &Overlay<'_>,
    tolerance: Tolerance,
    surfaces: [&Surface; 2],
    sides: [&SurfaceFacts; 2],
    sure: Option<&Sureness>,
    units: &ReportUnits,
) -> Result<(Vec<ZoneVolume>, Option<Uncertainty>), OverlayError> {
    let Some(sure) = sure else {
        let found = volumes(overlay, &[tolerance])?;
        return Ok((found.into_iter().flatten().collect(), None));
    };
    let found = weighed_volumes(overlay, tolerance, surfaces, sure.accuracies)?;
    let all: Vec<usize> = (0..found.zones.len()).collect();
    let of = |zones: &[usize]| ZoneUncertainty::of(&found.uncertainty(zones), units);
    let zones: Vec<ZoneUncertainty> = all.iter().map(|&zone| of(&[zone])).collect();
    let total = (all.len() > 1).then(|| of(&all));
    let whole = total.as_ref().or(zones.first());
    let uncertainty = Uncertainty {
        coverage_factor: COVERAGE_FACTOR,
        errors_count_once: sure.counted_once.clone(),
        better_surveys: whole.map_or(Vec::new(), |own| BetterSurvey::of(&own.net, sides)),
        zones,
        total,
    };
    Ok((found.zones, Some(uncertainty)))
}

#[cfg(test)]
mod tests {
    use super::*;
    use dapedon_core::plan::{Frame, Place};
    use dapedon_core::surface::Grid;
    use dapedon_core::units::LengthUnit;

    #[test]
    fn what_is_held_in_memory_has_a_bound() {
        let frame = Frame::new(LengthUnit::Metre, [0.0, 0.0]);
        let corner = Place::new(0.0, 0.0);
        // 18 triangles.
        let grid = Grid::new(frame, corner, [1.0, 1.0], [4, 4], vec![0.0; 16]).unwrap();
        let two = [&Surface::Grid(grid.clone()), &Surface::Grid(grid)];
        assert!(few_enough(two, 1, 2_000_000));
        assert!(!few_enough(two, 1, 3_000_000));
        assert!(few_enough(two, 500, 1000) && !few_enough(two, 2_000_000, 1000));
        assert!(!few_enough(two, usize::MAX, usize::MAX));
    }
}
