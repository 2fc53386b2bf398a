//! What must be known of two surveys that do not agree on untouched ground.

use super::{Untouched, UntouchedVerdict, UntouchedZone};
use crate::figure::Length;
use crate::finding::{Code, Finding};

/// Points that a zone needs from each survey, so that its mean says something.
const FEW: usize = 10;

/// What must be known, of two surveys by their names.
pub(crate) fn findings(found: &Untouched, [reference, surveyed]: [&str; 2]) -> Vec<Finding> {
    let Some(whole) = found.whole() else {
        return Vec::new();
    };
    let place = format!("untouched ground \"{}\"", whole.zone);
    let mut all: Vec<Finding> = found.zones.iter().filter_map(few).collect();
    let higher = match whole.mean.value < 0.0 {
        true => "lower",
        false => "higher",
    };
    let told = |figure: Length| format!("{:.3} {}", figure.value.abs(), figure.unit.symbol());
    let shift = format!(
        "\"{surveyed}\" is {} {higher} than \"{reference}\" on average",
        told(whole.mean)
    );
    let remedy = "check setups, datum and control of both surveys; to take it off, give the survey the step fit-to";
    let said = match (found.verdict, whole.expected, whole.tilt) {
        (UntouchedVerdict::Shift, Some(expected), _) => {
            let words = format!(
                "{shift}, more than their stated accuracy explains, ±{} at 95 %: it counts as cut or fill wherever they are compared",
                told(expected.mean * expected.coverage_factor)
            );
            Some(Finding::new(Code::UntouchedShift, words).remedy(remedy))
        }
        (UntouchedVerdict::Tilt, _, Some(tilt)) => {
            let rise = libm::hypot(tilt.rise_east, tilt.rise_north);
            let words = format!(
                "\"{surveyed}\" leans against \"{reference}\" by {:.2} in 1000, more than their stated accuracy explains, and {shift}",
                1000.0 * rise
            );
            Some(Finding::new(Code::UntouchedTilt, words).remedy(remedy))
        }
        (UntouchedVerdict::Noise, Some(expected), _) => {
            let words = format!(
                "differences spread by {}, and by {} as the accuracy is stated: the surveys are less accurate than that, or the ground is rougher than their points show",
                told(whole.robust_deviation),
                told(expected.deviation)
            );
            let remedy = "state the accuracy that was reached, or choose smoother ground";
            Some(Finding::new(Code::UntouchedNoise, words).remedy(remedy))
        }
        _ => None,
    };
    all.extend(said.map(|finding| finding.at(&place)));
    all
}

fn few(zone: &UntouchedZone) -> Option<Finding> {
    let points = zone.reference_points.min(zone.surveyed_points);
    (points < FEW).then(|| {
        let words = format!(
            "{} points of the reference and {} of the surveyed surface are in it: too few to find a shift by",
            zone.reference_points, zone.surveyed_points
        );
        let finding = Finding::new(Code::UntouchedFew, words);
        let finding = finding.remedy("choose larger ground");
        finding.at(format!("untouched ground \"{}\"", zone.zone))
    })
}
