//! What a careful colleague would ask about two surfaces before looking at the figure.

use crate::finding::{Code, Finding};
use crate::quantities::convert::Way;
use crate::quantities::measurement::Volumes;
use crate::surfaces::{MadeSurface, SurfaceFacts};

/// What is odd about both sides of a measurement.
pub(crate) fn of_sides(sides: [&MadeSurface; 2]) -> Vec<Finding> {
    let alike = sides.into_iter().filter_map(heights_alike);
    let dates = dates_reversed(sides.map(|made| &made.side));
    alike.chain(dates).collect()
}

/// Where the reference was surveyed after the surveyed surface. A design that is handed over anew is later than what was dug to it.
fn dates_reversed([reference, surveyed]: [&SurfaceFacts; 2]) -> Option<Finding> {
    let day = |side: &SurfaceFacts| {
        let is_design = side.accuracy.as_ref().is_some_and(|own| own.is_exact());
        let date = side.survey_date.clone().filter(|date| is_day(date));
        date.filter(|_| !is_design)
    };
    let (from, to) = (day(reference)?, day(surveyed)?);
    (from > to).then(|| {
        let words = format!(
            "\"{}\" is from {from} and \"{}\" from {to}: the reference is the later one",
            reference.source, surveyed.source
        );
        Finding::new(Code::DatesReversed, words)
            .remedy("swap the two sides, check the dates in the files, or state the accuracy of a design as \"design\"")
    })
}

/// True for a day as in 2031-01-15: such days are in order as they are written.
fn is_day(text: &str) -> bool {
    let form = text.bytes().map(|byte| match byte {
        b'0'..=b'9' => b'0',
        other => other,
    });
    form.eq(*b"0000-00-00")
}

/// Points that a surface must be made of before it is odd that all their heights are alike.
const SEVERAL: usize = 16;

/// Where many surveyed points all have one height.
fn heights_alike(made: &MadeSurface) -> Option<Finding> {
    // What is handed over as a surface may be a level pad.
    let points = made.side.points.filter(|_| !made.handed_over)?;
    let (low, high) = made.surface.heights();
    (points >= SEVERAL && low == high).then(|| {
        let words = format!(
            "all {points} points of \"{}\" have the height {low}",
            made.side.source
        );
        let remedy = "check the column or the attribute that heights are read from";
        Finding::new(Code::HeightsAlike, words).remedy(remedy)
    })
}

/// What is counted, where hardly any of it is found but much of its opposite.
pub(crate) fn sides_swapped(way: Way, volume: &Volumes) -> Option<Finding> {
    /// Of the opposite.
    const HARDLY: f64 = 0.02;
    let (cut, fill) = ((volume.cut, "cut"), (volume.fill, "fill"));
    let ((own, counts), (other, opposite)) = match way {
        Way::Cut => (cut, fill),
        Way::Fill => (fill, cut),
    };
    (own.value < HARDLY * other.value).then(|| {
        // Without figures: an item says the same alone and in the bill, to the last digit, and these are not rounded as it is.
        let words = format!("it counts {counts}, and nearly all that is found is {opposite}");
        let remedy = format!("swap reference and surveyed, or count {opposite}");
        Finding::new(Code::SidesSwapped, words).remedy(remedy)
    })
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn days_are_known_by_their_form() {
        assert!(is_day("2031-01-15"));
        for other in [
            "",
            "2031-1-15",
            "15.01.2031",
            "2031-01-15T10:00",
            "20310115",
        ] {
            assert!(!is_day(other), "{other}");
        }
    }
}
