//! Two surveys compared on ground that nobody touched: whether one is shifted or tilted against the other, and what that does to the
//! volumes.

mod error;
mod findings;
mod model;
mod proposal;

use dapedon_core::overlay::{Overlay, OverlayError};
use dapedon_core::quantities::{
    BothSides, Spread, Tolerance, UncertaintyParts, WeighedVolumes, each_overlap, points_within,
    spread, spread_together, volumes, weighed_volumes,
};
use dapedon_core::surface::Surface;
use dapedon_core::zones::{Zone, Zones, without_overlaps};

use crate::accuracy::COVERAGE_FACTOR;
use crate::error::JobError;
use crate::quantities::measurement::{Extreme, Volumes};
use crate::quantities::uncertainty::Sureness;
use crate::surfaces::not_laid;
use crate::units::ReportUnits;
pub use error::UntouchedError;
pub(crate) use findings::findings;
pub use model::{
    ExpectedDifference, ProposedUntouched, Tilt, Untouched, UntouchedVerdict, UntouchedZone,
    WithoutShift,
};
pub(crate) use proposal::proposed;

/// Two surveys that are compared, and how accurate they are where that is known.
pub(crate) struct Surveys<'s> {
    pub(crate) surfaces: [&'s Surface; 2],
    pub(crate) sure: Option<&'s Sureness>,
    pub(crate) units: &'s ReportUnits,
}

/// Untouched zones at most: for each some kilobytes are kept with each part of the work.
const MOST: usize = 500;

/// Compares two surveys on untouched ground, which is none of what is `measured`; with the spread over all of it.
pub(crate) fn compared(
    surveys: &Surveys<'_>,
    untouched: &Zones,
    measured: Option<&Zones>,
) -> Result<(Untouched, Spread), JobError> {
    let count = untouched.zones().len();
    if count > MOST {
        return Err(UntouchedError::TooMany { count, most: MOST }.into());
    }
    apart_from(surveys, untouched, measured)?;
    let (zones, together) = rows(surveys, untouched)?;
    let whole = together.as_ref().or(zones.first());
    let Some((row, spread)) = whole else {
        return Err(UntouchedError::NoZone.into());
    };
    let (verdict, spread) = (row.verdict(), *spread);
    let found = Untouched {
        verdict,
        without: None,
        zones: zones.into_iter().map(|(row, _)| row).collect(),
        together: together.map(|(row, _)| row),
    };
    Ok((found, spread))
}

/// Nobody may have touched what is measured for payment.
fn apart_from(
    surveys: &Surveys<'_>,
    untouched: &Zones,
    measured: Option<&Zones>,
) -> Result<(), UntouchedError> {
    let own = untouched.zones();
    let others = measured.map_or(&[][..], Zones::zones);
    let all: Vec<_> = own.iter().chain(others).cloned().collect();
    let between = |[one, other]: [usize; 2]| one < own.len() && other >= own.len();
    let mut found = Ok(());
    each_overlap(
        &all,
        untouched.frame().precision(),
        between,
        |pair, area| {
            let [untouched, measured] = pair.map(|zone| all[zone].name().to_owned());
            let area = surveys.units.area_in_words(area);
            found = Err(UntouchedError::Measured {
                untouched,
                measured,
                area,
            });
            false
        },
    );
    found
}

type Row = (UntouchedZone, Spread);

/// How the surveys compare in each zone; and in all of them together, where they are several.
fn rows(surveys: &Surveys<'_>, untouched: &Zones) -> Result<(Vec<Row>, Option<Row>), JobError> {
    let (zones, ground) = (untouched.zones(), Ground::of(surveys, untouched)?);
    let mut each = Vec::new();
    for (index, spread) in spread(&ground.overlay)?.into_iter().enumerate() {
        let zone = &zones[index..=index];
        let name = zones[index].name().to_owned();
        let spread = spread.ok_or(UntouchedError::NotCovered { zone: name.clone() })?;
        let expected = ground.expected(surveys, &[index]);
        each.push((row(name, &spread, zone, expected, surveys), spread));
    }
    if each.len() < 2 {
        return Ok((each, None));
    }
    let apart = without_overlaps(untouched);
    let ground = Ground::of(surveys, &apart)?;
    let all: Vec<usize> = (0..apart.zones().len()).collect();
    let together = spread_together(&ground.overlay)?.map(|spread| {
        let expected = ground.expected(surveys, &all);
        let row = row("all together".into(), &spread, zones, expected, surveys);
        (row, spread)
    });
    Ok((each, together))
}

/// Two surveys laid over each other on some ground.
struct Ground<'g> {
    overlay: Overlay<'g>,
    /// How much their points count, where it is known how accurate both are.
    weighed: Option<WeighedVolumes<'g>>,
}

impl<'g> Ground<'g> {
    fn of(surveys: &Surveys<'g>, zones: &'g Zones) -> Result<Self, JobError> {
        let [from, to] = surveys.surfaces;
        let laid = Overlay::new(from, to, Some(zones));
        let overlay = laid.map_err(|error| match error {
            OverlayError::Apart => {
                let names = zones.zones().iter().map(|zone| zone.name());
                let zone = names.collect::<Vec<_>>().join("\", \"");
                JobError::from(UntouchedError::NotCovered { zone })
            }
            other => not_laid(other, from, to, Some(zones)),
        })?;
        let weighed = match surveys.sure {
            Some(sure) => Some(weighed_volumes(
                &overlay,
                Tolerance::ZERO,
                surveys.surfaces,
                sure.accuracies,
            )?),
            None => None,
        };
        Ok(Ground { overlay, weighed })
    }

    /// What the stated accuracy lets expect over some of its zones.
    fn expected(&self, surveys: &Surveys<'_>, zones: &[usize]) -> Option<ExpectedDifference> {
        let (weighed, sure) = (self.weighed.as_ref()?, surveys.sure?);
        let area = zones.iter().map(|&zone| weighed.zones[zone].area.compared);
        let net = weighed.uncertainty(zones).net;
        Some(expected(&net, area.sum(), sure, surveys.units))
    }
}

/// What the stated accuracy lets expect of a mean difference over some area, and of single places.
fn expected(
    net: &BothSides,
    area: f64,
    sure: &Sureness,
    units: &ReportUnits,
) -> ExpectedDifference {
    let points = |side: &UncertaintyParts| libm::hypot(side.height, side.plan);
    let single = sure.accuracies.map(|own| {
        // Between independent points a height is the mean of three, more or less: over a triangle the squares of their shares come to a
        // half. Points that err together keep their error.
        let share = if own.correlation > 0.0 { 1.0 } else { 0.5 };
        share * own.height * own.height
    });
    ExpectedDifference {
        coverage_factor: COVERAGE_FACTOR,
        mean: units.length_of(net.standard() / area),
        mean_from_points: units
            .length_of(libm::hypot(points(&net.reference), points(&net.surveyed)) / area),
        deviation: units.length_of(single.iter().sum::<f64>().sqrt()),
    }
}

fn row(
    zone: String,
    spread: &Spread,
    zones: &[Zone],
    expected: Option<ExpectedDifference>,
    surveys: &Surveys<'_>,
) -> UntouchedZone {
    let (units, frame) = (surveys.units, surveys.surfaces[0].frame());
    let length = |value: f64| units.length_of(value);
    let place = |at| {
        let at = frame.to_grid(at);
        Extreme {
            east: at.east,
            north: at.north,
        }
    };
    let [reference_points, surveyed_points] =
        (surveys.surfaces).map(|surface| points_within(surface, zones));
    UntouchedZone {
        zone,
        area: units.area_of(spread.area),
        reference_points,
        surveyed_points,
        mean: length(spread.mean),
        deviation: length(spread.deviation),
        median: length(spread.median),
        robust_deviation: length(spread.robust),
        lowest: length(spread.min.difference),
        lowest_at: place(spread.min.at),
        highest: length(spread.max.difference),
        highest_at: place(spread.max.at),
        tilt: spread.plane.map(|plane| Tilt {
            middle: place(plane.middle),
            rise_east: plane.rise[0],
            rise_north: plane.rise[1],
            deviation: length(plane.lean),
            deviation_without: length(plane.deviation),
        }),
        expected,
    }
}

/// The measurement again with the surveyed surface moved back to the reference, unless they agree.
pub(crate) fn without_shift(
    surveys: &Surveys<'_>,
    (found, spread): (&Untouched, &Spread),
    zones: Option<&Zones>,
    tolerance: Tolerance,
) -> Result<Option<WithoutShift>, JobError> {
    if !found.is_shifted() {
        return Ok(None);
    }
    let [from, to] = surveys.surfaces;
    let tilted = (spread.plane).filter(|_| found.verdict == UntouchedVerdict::Tilt);
    let moved = match tilted {
        Some(plane) => to.leaned(plane.middle, -spread.mean, plane.rise.map(|rise| -rise)),
        None => Some(to.raised(-spread.mean)),
    };
    let Some(moved) = moved else {
        return Ok(None);
    };
    let laid = Overlay::new(from, &moved, zones);
    let overlay = laid.map_err(|error| not_laid(error, from, &moved, zones))?;
    let again = volumes(&overlay, &[tolerance])?;
    let told = |value: f64| surveys.units.volume_of(value);
    let zones = again.iter().flatten().map(|zone| Volumes {
        cut: told(zone.volume.cut),
        fill: told(zone.volume.fill),
        net: told(zone.volume.net),
        unchanged: told(zone.volume.unchanged),
    });
    let zones: Vec<Volumes> = zones.collect();
    Ok(Some(WithoutShift {
        raised_by: surveys.units.length_of(-spread.mean),
        tilt_removed: tilted.is_some(),
        total: Volumes::sum(zones.iter(), surveys.units),
        zones,
    }))
}
