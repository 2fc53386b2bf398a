//! Whether a built surface lies within limits of its design.

mod places;
mod tables;

use dapedon_job::{
    Acceptance, Bill, Conformity, ConformityLimits, ConformityVerdict, Judgement, Length,
    ReportUnits, ZoneConformity,
};

use super::closure_words;
use super::uncertainty::stated;
use crate::number::grouped;
use crate::report::{Block, Headline, Input, Picture, Report, ShownOn};
use places::{by_points, worst_places};
use tables::{areas, crossfalls, differences, slopes};

/// What was found of a built surface, with pictures of it.
pub fn conformity(found: &Conformity, pictures: Vec<Picture>) -> Report {
    let held = Held {
        judged: &found.judged,
        units: found.units,
        built: &found.built.source,
    };
    let mut report = Report {
        lead: vec![format!(
            "Conformity of {} (built) to {} (design).",
            found.built.source, found.design.source
        )],
        job: found.job.clone(),
        headlines: headlines(&held),
        inputs: [("Design", &found.design), ("Built", &found.built)]
            .map(|(role, side)| Input::side(role, side))
            .into_iter()
            .chain(Input::zones(&found.zone_files))
            .chain(Input::lines(&found.line_files))
            .collect(),
        findings: found.warnings.clone(),
        ..Report::default()
    };
    said(&held, &mut report);
    report.pictures("Map", pictures);
    tables_of(&held, &mut report);
    if let Some(points) = &found.points {
        by_points(&held, points, &mut report);
    }
    if found.judged.uncertainty.is_some() {
        stated(
            [&found.design, &found.built],
            found.units.length,
            &mut report,
        );
    }
    report.add_on(ShownOn::Page, Block::heading("Measured from"));
    report.add_on(ShownOn::Page, Block::Inputs);
    report.add_on(ShownOn::Page, Block::heading("Method"));
    report.add_on(ShownOn::Page, Block::Paragraph(METHOD.into()));
    let pieces = found.measured.iter().map(|zone| zone.closure.pieces).sum();
    let closures = found.measured.iter().map(|zone| zone.closure.relative);
    let words = closure_words(pieces, closures.fold(0.0, f64::max), "");
    report.add(Block::Paragraph(words));
    report.add_on(ShownOn::Terminal, Block::Inputs);
    report
}

/// Adds it to the report of a bill.
pub(super) fn conformity_of_bill(bill: &Bill, report: &mut Report) {
    if bill.conformity.is_empty() {
        return;
    }
    report.heading("Conformity");
    for own in &bill.conformity {
        let held = Held {
            judged: &own.judged,
            units: bill.units,
            built: &own.built,
        };
        let words = format!("{}, to {}", own.description, own.design);
        report.add(Block::Heading { words, small: true });
        said(&held, report);
        tables_of(&held, report);
    }
}

/// A built surface held against its design.
struct Held<'h> {
    judged: &'h Judgement,
    units: ReportUnits,
    built: &'h str,
}

/// What follows, what is allowed, and how it is judged.
fn said(found: &Held<'_>, report: &mut Report) {
    report.add(Block::Paragraph(verdict(found)));
    let allowed = allowed(found).into_iter().chain([judged(found)]);
    report.add(Block::Lines(allowed.collect()));
}

/// Zone by zone, and the worst places.
fn tables_of(found: &Held<'_>, report: &mut Report) {
    let has_heights = found.judged.zones.iter().any(|zone| zone.heights.is_some());
    if has_heights {
        report.add(Block::Table(areas(found)));
        report.add(Block::Table(differences(found)));
    }
    if found.judged.zones.iter().any(|zone| zone.slopes.is_some()) {
        report.add(Block::Table(slopes(found)));
        report.add(Block::Paragraph(OF_FACETS.into()));
    }
    if let Some(own) = &found.judged.crossfalls {
        report.add(Block::Table(crossfalls(own)));
        report.add(Block::Paragraph(OF_CROSSFALLS.into()));
    }
    match &found.judged.patches {
        Some(patches) if patches.count > 0 => worst_places(found, patches, report),
        None if has_heights => report.add(Block::Paragraph(TOO_MANY.into())),
        _ => {}
    }
}

const METHOD: &str = "The triangles of both surfaces are intersected, and each piece is split where the difference of heights passes a limit, without sampling. With a guard band a piece is split again where the difference is so near to a limit that its uncertainty decides. The uncertainty of a difference is that of a point of each surface: of its height, and of its position where the ground slopes.";
const OF_FACETS: &str = "The slope of each triangle of the built surface. One between points that stand close together is uncertain, which the guard band takes into account.";
const OF_CROSSFALLS: &str = "A crossfall is the fall of the straight line that lies closest to a surface by least squares, on one side of the line over all of the width. It falls as the design falls where it is positive, and the other way where it is negative.";
const TOO_MANY: &str =
    "The ground beyond the limits falls into too many pieces to list its worst places.";

fn headlines(found: &Held<'_>) -> Vec<Headline> {
    let mut all = vec![Headline {
        label: "Verdict".into(),
        figure: in_a_word(found.judged.verdict).into(),
        words: String::new(),
    }];
    let Some(whole) = whole(found) else {
        return all;
    };
    if let Some(own) = whole.heights {
        let (area, of) = match found.judged.acceptance {
            Acceptance::GuardBand => (own.shown_within, "shown to be within the limits"),
            Acceptance::Simple => (own.within, "as measured"),
        };
        all.push(Headline {
            label: "Within the limits of height".into(),
            figure: percent(area.value / whole.area.value),
            words: of.into(),
        });
        let label = |side: &str| format!("Farthest {side} the design");
        all.extend(
            [
                farthest(&label("above"), own.highest),
                farthest(&label("below"), own.lowest * -1.0),
            ]
            .into_iter()
            .flatten(),
        );
    }
    all
}

/// How far it lies on one side of the design at most, where it does.
fn farthest(label: &str, figure: Length) -> Option<Headline> {
    (figure.value > 0.0).then(|| Headline {
        label: label.into(),
        figure: told(figure),
        words: String::new(),
    })
}

fn whole<'h>(found: &Held<'h>) -> Option<&'h ZoneConformity> {
    found.judged.total.as_ref().or(found.judged.zones.first())
}

fn told(figure: Length) -> String {
    format!("{} {}", grouped(figure.value, 3), figure.unit.symbol())
}

/// A share of a whole, never rounded up to all of it or down to nothing.
fn percent(share: f64) -> String {
    let shown = match share {
        share if share < 1.0 => (1000.0 * share).round().min(999.0) / 10.0,
        _ => 100.0,
    };
    let shown = if share > 0.0 { shown.max(0.1) } else { shown };
    format!("{shown:.1} %")
}

fn in_a_word(verdict: ConformityVerdict) -> &'static str {
    match verdict {
        ConformityVerdict::Conforms => "conforms",
        ConformityVerdict::NotShown => "not shown to conform",
        ConformityVerdict::DoesNotConform => "does not conform",
    }
}

/// What follows, in a sentence.
fn verdict(found: &Held<'_>) -> String {
    let zones = match found.judged.zones.len() {
        1 => String::new(),
        all => {
            let conform = found.judged.zones.iter();
            let conform = conform.filter(|zone| zone.verdict == ConformityVerdict::Conforms);
            format!(" {} of {all} zones conform.", conform.count())
        }
    };
    let built = found.built;
    let words = match (found.judged.verdict, found.judged.acceptance) {
        (ConformityVerdict::Conforms, Acceptance::GuardBand) => {
            "conforms: it is shown to lie within the limits."
        }
        (ConformityVerdict::Conforms, Acceptance::Simple) => {
            "conforms: it lies within the limits as measured."
        }
        (ConformityVerdict::NotShown, _) => {
            "is not shown to conform: too much lies so near to a limit that the uncertainty of the measurement decides."
        }
        (ConformityVerdict::DoesNotConform, Acceptance::GuardBand) => {
            "does not conform: it is shown to lie beyond the limits."
        }
        (ConformityVerdict::DoesNotConform, Acceptance::Simple) => {
            "does not conform: it lies beyond the limits as measured."
        }
    };
    format!("{built} {words}{zones}")
}

/// What is allowed.
fn allowed(found: &Held<'_>) -> Vec<String> {
    let limits = &found.judged.limits;
    let on = match limits.share {
        1.0 => "everywhere".into(),
        share => format!("on {} of the area of each zone", percent(share)),
    };
    let heights = heights_allowed(limits).map(|words| format!("Allowed: {words}, {on}."));
    let slope = |slope: f64| {
        let percent = grouped(100.0 * slope, 2);
        match slope > 0.0 {
            true => format!("{percent} % (1:{:.2})", 1.0 / slope),
            false => format!("{percent} %"),
        }
    };
    let slopes = match (limits.flattest, limits.steepest) {
        (Some(flattest), Some(steepest)) => Some(format!(
            "slopes from {} to {}",
            slope(flattest),
            slope(steepest)
        )),
        (Some(flattest), None) => Some(format!("slopes no flatter than {}", slope(flattest))),
        (None, Some(steepest)) => Some(format!("slopes no steeper than {}", slope(steepest))),
        (None, None) => None,
    };
    let slopes = slopes.map(|words| format!("Allowed: {words}, {on}."));
    let crossfalls = found.judged.crossfalls.as_ref().map(|own| {
        let of = match limits.share {
            1.0 => "at every place".into(),
            share => format!("at {} of all places", percent(share)),
        };
        format!(
            "Allowed: crossfalls along {} within {} % of those of the design, {of}.",
            own.line.line,
            grouped(100.0 * own.allowed, 2)
        )
    });
    heights
        .into_iter()
        .chain(slopes)
        .chain(crossfalls)
        .collect()
}

fn heights_allowed(limits: &ConformityLimits) -> Option<String> {
    let below = limits.lowest.map(|own| own * -1.0);
    Some(match (limits.highest, below) {
        (Some(above), None) if above.value < 0.0 => {
            format!("at least {} below the design", told(above * -1.0))
        }
        (Some(above), Some(below)) if above.value < 0.0 => format!(
            "between {} and {} below the design",
            told(above * -1.0),
            told(below)
        ),
        (Some(above), Some(below)) => format!(
            "up to {} above and {} below the design",
            told(above),
            told(below)
        ),
        (Some(above), None) => format!(
            "up to {} above the design, and any depth below",
            told(above)
        ),
        (None, Some(below)) => format!(
            "up to {} below the design, and any height above",
            told(below)
        ),
        (None, None) => return None,
    })
}

/// What is allowed of heights, in a few words; nothing where there are no limits for them.
pub fn limits_of_height(found: &Conformity) -> String {
    let side = |limit: Length| match limit.value < 0.0 {
        true => format!("{} below", told(limit * -1.0)),
        false => format!("{} above", told(limit)),
    };
    let both = [found.judged.limits.highest, found.judged.limits.lowest];
    let both: Vec<String> = both.into_iter().flatten().map(side).collect();
    both.join(" to ")
}

/// How it is judged.
fn judged(found: &Held<'_>) -> String {
    let sure = found.judged.uncertainty.map(|own| {
        let [least, greatest] = [own.least, own.greatest].map(told);
        let range = match least == greatest {
            true => format!("±{least}"),
            false => format!("±{least} to ±{greatest}, by the slope of the ground,"),
        };
        format!(
            "A difference is uncertain by {range} at 95 % (k = {})",
            own.coverage_factor
        )
    });
    match (found.judged.acceptance, sure) {
        (Acceptance::GuardBand, Some(words)) => format!(
            "{words}. Ground is shown to conform where it lies within the limits by more than that, and shown not to where it lies beyond them by more; the rest is in doubt."
        ),
        (_, Some(words)) => {
            format!("{words}. By simple acceptance it is judged as measured all the same.")
        }
        (_, None) => "Judged as measured: it is not known how accurate both surfaces are.".into(),
    }
}
