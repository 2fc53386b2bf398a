//! What must be known before a stated uncertainty is trusted.

use dapedon_core::units::LengthUnit;

use crate::accuracy::{COVERAGE_FACTOR, SurfaceAccuracy};
use crate::digits::figure_in_words;
use crate::finding::{Code, Finding};
use crate::quantities::measurement::{Volumes, ZoneMeasurement};
use crate::quantities::uncertainty::{Sureness, ZoneUncertainty};
use crate::surfaces::SurfaceFacts;
use crate::units::ReportUnits;

/// Where the net may as well be the other way.
pub(crate) fn net_uncertain(whole: Option<&ZoneMeasurement>) -> Option<Finding> {
    let net = whole?.volume.net;
    let expanded = COVERAGE_FACTOR * net.uncertainty?;
    (net.value != 0.0 && net.value.abs() < expanded).then(|| {
        let words = format!(
            "the net, {} {symbol}, is less than its uncertainty, ±{} {symbol}: it is not sure whether there is more cut or more fill",
            figure_in_words(net.value),
            figure_in_words(expanded),
            symbol = net.unit.symbol()
        );
        let remedy = "look at cut and fill apart, or survey more accurately";
        Finding::new(Code::NetUncertain, words).remedy(remedy)
    })
}

/// What must be known of the accuracy of both sides before the uncertainty is trusted.
pub(crate) fn accuracy_notes(
    sides: [&SurfaceFacts; 2],
    sure: Option<&Sureness>,
    tolerance: f64,
    units: &ReportUnits,
) -> Vec<Finding> {
    let known = sides.map(|side| side.accuracy.as_ref());
    let [reference, surveyed] = match known {
        [None, None] => return Vec::new(),
        [Some(reference), Some(surveyed)] => [reference, surveyed],
        // A level says nothing of how the other side was surveyed.
        [Some(known), None] | [None, Some(known)] if known.stated.is_none() => return Vec::new(),
        [known, _] => {
            let missing = sides[usize::from(known.is_some())];
            let words = format!(
                "the accuracy of \"{}\" is not stated: no uncertainty is given",
                missing.source
            );
            let remedy = "state it with the key accuracy, --reference-accuracy or --surveyed-accuracy; \"design\" for a surface that is exact";
            return vec![Finding::new(Code::AccuracyMissing, words).remedy(remedy)];
        }
    };
    let mut found = Vec::new();
    for (side, own) in sides.iter().zip([reference, surveyed]) {
        found.extend(coarse(side, own));
        found.extend(common_unknown(side, own));
    }
    if sure.is_some_and(|sure| sure.partly_shared) {
        let words = format!(
            "\"{}\" and \"{}\" share a survey: its errors count as if the sides were independent, so the volume is surer than is stated",
            sides[0].source, sides[1].source
        );
        found.push(Finding::new(Code::AccuracyShared, words));
    }
    let of_a_difference =
        COVERAGE_FACTOR * libm::hypot(reference.of_a_height(), surveyed.of_a_height());
    if tolerance > 0.0 && tolerance < of_a_difference {
        let symbol = units.length.symbol();
        let words = format!(
            "the tolerance, {tolerance} {symbol}, is smaller than the uncertainty of a difference at a point, ±{of_a_difference:.3} {symbol}: errors of points count as cut and fill"
        );
        found.push(
            Finding::new(Code::ToleranceFine, words).remedy("use a larger tolerance, or none"),
        );
    }
    found
}

/// Where some of a table have no uncertainty, because there are too many for so many triangles.
pub(crate) fn left_out(of: &str, count: usize) -> Option<Finding> {
    (count > 0).then(|| {
        let words = format!(
            "there are too many {of} for the uncertainty of each, on surfaces of so many triangles"
        );
        let remedy = format!("ask for fewer {of}, or thin the surfaces");
        Finding::new(Code::UncertaintyLeftOut, words).remedy(remedy)
    })
}

/// Where what is counted is too large by chance, and by more than hardly anything: of cut and fill, what counts.
pub(crate) fn gained_by_chance(
    volume: &Volumes,
    uncertainty: &ZoneUncertainty,
    counts: [bool; 2],
) -> Option<Finding> {
    /// Of the figure itself, and of the larger of cut and fill.
    const MUCH: [f64; 2] = [0.05, 0.002];
    let own = uncertainty.by_chance.as_ref()?;
    let larger = volume.cut.value.max(volume.fill.value);
    let figures = [
        ("cut", volume.cut, own.cut),
        ("fill", volume.fill, own.fill),
    ];
    let too_large = figures
        .into_iter()
        .zip(counts)
        .filter(|((_, figure, gain), counts)| {
            *counts && gain.value > MUCH[0] * figure.value && gain.value > MUCH[1] * larger
        });
    let words = too_large.map(|((name, figure, gain), _)| {
        let symbol = gain.unit.symbol();
        format!(
            "the {name} of {} {symbol} is too large by at least {} {symbol}",
            figure_in_words(figure.value),
            figure_in_words(gain.value)
        )
    });
    let words: Vec<String> = words.collect();
    (!words.is_empty()).then(|| {
        let words = format!(
            "on {} {} the surfaces are closer than the uncertainty of their difference, and errors there count as cut or as fill: {}, and by up to {:.1} times that where nothing was moved",
            figure_in_words(own.area.value),
            own.area.unit.symbol(),
            words.join(" and "),
            own.at_most_times
        );
        let remedy = "leave such ground out with a tolerance, measure within zones of the work, or use the net, which gains nothing";
        Finding::new(Code::GainedByChance, words).remedy(remedy)
    })
}

/// Where a file states the accuracy of its points, and nobody what they have in common.
fn common_unknown(side: &SurfaceFacts, own: &SurfaceAccuracy) -> Option<Finding> {
    let from_file = side.accuracy_in_file.is_some() && !own.is_exact();
    (from_file && own.common_height.value == 0.0).then(|| {
        let places = match own.plan.value > 0.0 {
            true => "",
            false => ", and how accurate their places are",
        };
        let words = format!(
            "the accuracy of \"{}\" is that of its points, from its file: what all of them have in common, setup and datum{places}, is not in it",
            side.source
        );
        let remedy = "state it with the key accuracy, --reference-accuracy or --surveyed-accuracy, as common-height=0.01 or a kind of survey";
        Finding::new(Code::CommonErrorUnknown, words).remedy(remedy)
    })
}

/// Where a height is less accurate than that of any survey for volumes.
fn coarse(side: &SurfaceFacts, own: &SurfaceAccuracy) -> Option<Finding> {
    /// In metres.
    const COARSE: f64 = 0.3;
    let unit = own.height.unit;
    let metres = unit.convert(own.of_a_height(), LengthUnit::Metre);
    (metres > COARSE).then(|| {
        let words = format!(
            "heights of \"{}\" are accurate to {:.3} {} only",
            side.source,
            own.of_a_height(),
            unit.symbol()
        );
        let remedy = "check the unit of its accuracy";
        Finding::new(Code::AccuracyCoarse, words).remedy(remedy)
    })
}
