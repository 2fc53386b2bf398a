//! What must be known before a stated uncertainty is trusted.

use dapedon_core::units::LengthUnit;

use crate::accuracy::{COVERAGE_FACTOR, SurfaceAccuracy};
use crate::digits::figure_in_words;
use crate::finding::{Code, Finding};
use crate::quantities::measurement::ZoneMeasurement;
use crate::quantities::uncertainty::Sureness;
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
