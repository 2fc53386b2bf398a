//! What a careful colleague would ask about two surfaces before looking at the figure.

use dapedon_contract::State;
use dapedon_core::overlay::{Overlay, OverlayError};
use dapedon_core::plan::Place;
use dapedon_core::quantities::{PlanShift, bending, plan_shift};
use dapedon_core::surface::Surface;
use dapedon_core::units::{Foot, LengthUnit};
use dapedon_core::zones::{WithinZone, Zones};

use crate::digits::figure_in_words;
use crate::finding::{Code, Finding};
use crate::quantities::convert::Way;
use crate::quantities::measurement::{Volumes, ZoneMeasurement};
use crate::surfaces::{MadeSurface, SurfaceFacts};
use crate::units::ReportUnits;

/// What is odd about both sides of a measurement.
pub(crate) fn of_sides(sides: [&MadeSurface; 2]) -> Vec<Finding> {
    let alike = sides.into_iter().filter_map(heights_alike);
    let dates = dates_reversed(sides.map(|made| &made.side));
    let others = [same_file(sides), unit_suspected(sides)];
    alike
        .chain(dates)
        .chain(others.into_iter().flatten())
        .collect()
}

/// True for a surface as a file holds it, or as it follows from the file's points.
fn as_read(made: &MadeSurface) -> bool {
    let recipe = made.side.recipe.as_ref();
    !made.side.files().is_empty() && recipe.is_none_or(|recipe| recipe.all_steps().is_empty())
}

/// One file under two names.
fn same_file(sides: [&MadeSurface; 2]) -> Option<Finding> {
    let [from, to] = sides.map(|made| &made.side);
    let digests = |side: &SurfaceFacts| -> Vec<String> {
        side.files()
            .iter()
            .map(|file| file.sha256.clone())
            .collect()
    };
    let same = from.source != to.source && sides.into_iter().all(as_read);
    // A file may hold several surfaces.
    let named = [from, to].iter().any(|side| side.source.contains('#'));
    (same && !named && digests(from) == digests(to)).then(|| {
        let words = format!(
            "\"{}\" and \"{}\" are the same file: there is no difference",
            from.source, to.source
        );
        Finding::new(Code::SameSurface, words).remedy("name another file for one of them")
    })
}

/// Heights in metres on one side and in feet on the other, as one would read them by the wrong unit.
fn unit_suspected(sides: [&MadeSurface; 2]) -> Option<Finding> {
    /// Of the factor.
    const NEAR: f64 = 0.02;
    const FEET_IN_A_METRE: f64 = 1.0 / 0.3048;
    let [from, to] = sides.map(|made| made.surface.heights());
    let is = |ratio: f64, factor: f64| (ratio / factor - 1.0).abs() < NEAR;
    if from.0 < 1.0 || to.0 < 1.0 {
        // Near zero ratios say nothing.
        return None;
    }
    let off = [FEET_IN_A_METRE, 1.0 / FEET_IN_A_METRE]
        .into_iter()
        .find(|&factor| is(to.0 / from.0, factor) && is(to.1 / from.1, factor))?;
    let (larger, smaller) = match off > 1.0 {
        true => (&sides[1].side, &sides[0].side),
        false => (&sides[0].side, &sides[1].side),
    };
    let words = format!(
        "heights of \"{}\" are 3.28 times those of \"{}\": they look as if they were in feet",
        larger.source, smaller.source
    );
    let remedy = "check the vertical unit of both files (--unit, and the units in the files)";
    Some(Finding::new(Code::UnitSuspected, words).remedy(remedy))
}

/// Where two surfaces of files differ by the same everywhere: a datum, and no work.
pub(crate) fn same_everywhere(
    sides: [&MadeSurface; 2],
    whole: Option<&ZoneMeasurement>,
) -> Option<Finding> {
    /// Of the mean difference.
    const SAME: f64 = 0.02;
    /// In metres: less is what surveys differ by anyway.
    const LEAST: f64 = 0.05;
    let found = whole?.difference?;
    let (mean, unit) = (found.mean.value, found.mean.unit);
    let range = found.max.value - found.min.value;
    let rough = |made: &MadeSurface| {
        let (low, high) = made.surface.heights();
        high > low
    };
    let is_odd = range <= SAME * mean.abs() && unit.convert(mean.abs(), LengthUnit::Metre) > LEAST;
    let read = sides.into_iter().all(|made| as_read(made) && rough(made));
    (is_odd && read).then(|| {
        let way = if mean < 0.0 { "lower" } else { "higher" };
        let words = format!(
            "\"{}\" is {:.3} {} {way} than \"{}\" everywhere: heights above another datum, or in another unit",
            sides[1].side.source,
            mean.abs(),
            unit.symbol(),
            sides[0].side.source
        );
        Finding::new(Code::SameEverywhere, words).remedy("check the height systems of both files")
    })
}

/// Where nearly as much is cut as filled, and a shift in plan explains it: the surveyed surface lies beside where it should.
pub(crate) fn shifted_in_plan(
    overlay: &Overlay<'_>,
    whole: Option<&ZoneMeasurement>,
    names: [&str; 2],
    unit: LengthUnit,
) -> Result<Option<Finding>, OverlayError> {
    /// The net, of cut and fill together: works are not as even.
    const EVEN: f64 = 0.1;
    /// The share of the variance of the difference.
    const EXPLAINS: f64 = 0.8;
    let Some(Volumes { cut, fill, net, .. }) = whole.map(|whole| whole.volume) else {
        return Ok(None);
    };
    let moved = cut.value + fill.value;
    if moved <= 0.0 || net.value.abs() > EVEN * moved {
        return Ok(None);
    }
    let found = plan_shift(overlay)?.filter(|found| found.explains > EXPLAINS);
    Ok(found.map(|found| {
        let symbol = unit.symbol();
        let way = |value: f64, [plus, minus]: [&'static str; 2]| {
            let side = if value < 0.0 { minus } else { plus };
            format!("{:.2} {symbol} {side}", value.abs())
        };
        let feet = two_kinds_of_feet(overlay, &found);
        let words = format!(
            "cut and fill are nearly equal, and {:.0} % of the difference is as if \"{}\" lay {} and {} of where \"{}\" has the same ground{}",
            100.0 * found.explains,
            names[1],
            way(found.east, ["east", "west"]),
            way(found.north, ["north", "south"]),
            names[0],
            match feet {
                true => ": by as much as US survey feet are longer than international feet at these coordinates",
                false => "",
            }
        );
        let remedy = if feet {
            "check in which kind of feet the coordinates of both are (--unit ft, --unit us-ft)"
        } else {
            "check control and coordinate systems of both surveys; the step move takes a shift off"
        };
        Finding::new(Code::PlanShift, words).remedy(remedy)
    }))
}

/// True where a shift is that between the two definitions of the foot: two millionths of the coordinates.
fn two_kinds_of_feet(overlay: &Overlay<'_>, found: &PlanShift) -> bool {
    /// Of the shift itself.
    const NEAR: f64 = 0.1;
    let [survey, international] = [Foot::UsSurvey, Foot::International].map(LengthUnit::Foot);
    let longer = survey.convert(1.0, international) - 1.0;
    let extent = overlay.extent();
    let middle = overlay.frame().to_grid(Place::new(
        (extent.min.east + extent.max.east) / 2.0,
        (extent.min.north + extent.max.north) / 2.0,
    ));
    let expected = libm::hypot(middle.east, middle.north) * longer;
    let own = libm::hypot(found.east, found.north);
    // Towards the origin, or away from it.
    let along = (found.east * middle.east + found.north * middle.north) * longer;
    let straight = along.abs() / (expected * own);
    (own / expected - 1.0).abs() < NEAR && straight > 1.0 - NEAR * NEAR
}

/// A state that the counted volume is not in, as a rule.
pub(crate) fn state_unusual(way: Way, state: State) -> Option<Finding> {
    let (counts, is, usual) = match (way, state) {
        (Way::Cut, State::Compacted) => ("cut", "compacted", "the ground it is dug from is bank"),
        (Way::Fill, State::Bank) => ("fill", "bank", "what is placed is loose or compacted"),
        _ => return None,
    };
    let words = format!("it counts {counts} and takes that volume as {is}: {usual} as a rule");
    let remedy = "check measured-state: swell and shrink go the other way by it";
    Some(Finding::new(Code::StateUnusual, words).remedy(remedy))
}

/// Where the ground bends so much from triangle to triangle that flat ones miss some of its volume: of a survey whose triangles were chosen among its
/// points, and of the ground that counts.
pub(crate) fn points_far_apart(
    made: &MadeSurface,
    other: &Surface,
    zones: Option<&Zones>,
    volume: &Volumes,
    units: &ReportUnits,
) -> Option<Finding> {
    /// Of the larger of cut and fill.
    const MUCH: f64 = 0.02;
    /// Less than so many standard uncertainties may as well be errors of heights.
    const SURE: f64 = 3.0;
    /// What heights err by where it is not stated, in metres.
    const USUAL: f64 = 0.05;
    let breaklines = made.chosen_triangles()?;
    let Surface::Tin(tin) = &*made.surface else {
        return None;
    };
    let frame = tin.frame();
    let zones = zones.map_or(&[][..], Zones::zones).iter();
    let within: Vec<WithinZone<'_>> = zones
        .map(|zone| WithinZone::of(zone, frame.precision()))
        .collect();
    let reach = other.extent();
    let counts = |place: Place| match within.is_empty() {
        true => {
            (reach.min.east..=reach.max.east).contains(&place.east)
                && (reach.min.north..=reach.max.north).contains(&place.north)
        }
        false => within.iter().any(|zone| zone.holds(place)),
    };
    let found = bending(tin, &breaklines, counts);
    let stated = made.side.accuracy.as_ref().map(|own| own.height.value);
    let usual = || LengthUnit::Metre.convert(USUAL, frame.unit());
    let noise = stated.filter(|own| *own > 0.0).unwrap_or_else(usual) * found.by_heights;
    let missed = units.volume_of(found.steady);
    let (larger, name) = match volume.cut.value > volume.fill.value {
        true => (volume.cut.value, "cut"),
        false => (volume.fill.value, "fill"),
    };
    let much = missed.value.abs() > MUCH * larger && larger > 0.0;
    (much && found.steady.abs() > SURE * noise).then(|| {
        let lies = if missed.value > 0.0 { "above" } else { "below" };
        let words = format!(
            "the ground bends between the points of \"{}\": as round as it is from triangle to triangle, it lies {lies} them by about {} {} in all, {:.0} % of the {name}",
            made.side.source,
            figure_in_words(missed.value.abs()),
            missed.unit.symbol(),
            100.0 * missed.value.abs() / larger
        );
        let remedy = "survey it denser, and with breaklines where the ground breaks; --between-points adds what is left out to the uncertainty";
        Finding::new(Code::PointsFarApart, words).remedy(remedy)
    })
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
