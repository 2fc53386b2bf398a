//! What must be said of a surface that does not conform, or is not shown to.

use super::{ConformityVerdict, CrossfallAt, CrossfallsWithin, Judgement, ZoneConformity};
use crate::conformity_rules::Acceptance;
use crate::digits::figure_in_words;
use crate::figure::{Area, Length};
use crate::finding::{Code, Finding};

/// What must be said; `is_told` where the accuracy of both surfaces is known, or said not to be, `in_zones` where zones were named.
pub(super) fn findings(found: &Judgement, is_told: bool, in_zones: bool) -> Vec<Finding> {
    let mut all = Vec::new();
    if !is_told {
        let words = "it is not known how accurate the surfaces are: they are judged as measured";
        let remedy = "state it with the key accuracy, or --surveyed-accuracy for what was built";
        all.push(Finding::new(Code::AccuracyMissing, words).remedy(remedy));
    }
    all.extend(narrow(found));
    all.extend(
        found
            .crossfalls
            .as_ref()
            .and_then(|own| crossfalls(own, found.limits.share)),
    );
    for zone in &found.zones {
        let place = in_zones.then(|| format!("zone \"{}\"", zone.zone));
        all.extend(verdict(found, zone).map(|finding| finding.within(&place)));
    }
    all
}

/// Limits that are nearer to each other than the uncertainty on both sides.
fn narrow(found: &Judgement) -> Option<Finding> {
    let sure = found
        .uncertainty
        .filter(|_| found.acceptance == Acceptance::GuardBand)?;
    let (lowest, highest) = (found.limits.lowest?, found.limits.highest?);
    let width = highest.with(highest.value - lowest.value);
    (width.value < 2.0 * sure.least.value).then(|| {
        let words = format!(
            "the limits are {} apart, and a difference is uncertain by ±{}: no ground can be shown to conform",
            told(width),
            told(sure.least)
        );
        Finding::new(Code::LimitsFine, words)
            .remedy("survey more accurately, or agree on simple acceptance")
    })
}

fn told(figure: Length) -> String {
    format!("{:.3} {}", figure.value, figure.unit.symbol())
}

/// What follows for crossfalls, unless they conform.
fn crossfalls(own: &CrossfallsWithin, share: f64) -> Option<Finding> {
    let worst = own.places.iter().max_by(|a, b| {
        let off = |of: &CrossfallAt| of.difference().abs();
        off(a).total_cmp(&off(b))
    })?;
    let missing = match own.not_compared {
        0 => String::new(),
        count => format!(", and {count} are not surveyed"),
    };
    let wanted = match share {
        1.0 => String::new(),
        share => format!("; {} % are to be", 100.0 * share),
    };
    let words = format!(
        "{} of {} crossfalls are within {:.2} % of the design, {} are shown to be{missing}{wanted}; the farthest off is at {} {}, {:.2} % where the design has {:.2} %",
        own.within,
        own.compared,
        100.0 * own.allowed,
        own.shown_within,
        worst.station,
        worst.side.words(),
        100.0 * worst.built,
        100.0 * worst.design
    );
    match own.verdict {
        ConformityVerdict::Conforms => None,
        ConformityVerdict::NotShown => Some(
            Finding::new(Code::ConformityNotShown, words)
                .remedy("survey more accurately or more densely, or agree on simple acceptance"),
        ),
        ConformityVerdict::DoesNotConform => Some(Finding::new(Code::DoesNotConform, words)),
    }
}

/// What follows for a zone, unless it conforms.
fn verdict(found: &Judgement, zone: &ZoneConformity) -> Option<Finding> {
    let percent = |area: f64| format!("{:.1} %", 100.0 * area / zone.area.value);
    let wanted = match found.limits.share {
        1.0 => String::new(),
        share => format!("; {} % are to be", 100.0 * share),
    };
    // As it was judged.
    let shown = |within: Area, shown: Area| match found.acceptance {
        Acceptance::GuardBand => shown,
        Acceptance::Simple => within,
    };
    let mut said = Vec::new();
    let mut worst = ConformityVerdict::Conforms;
    if zone.area.value == 0.0 {
        return None;
    }
    if let Some(own) = zone
        .heights
        .filter(|own| own.verdict > ConformityVerdict::Conforms)
    {
        worst = worst.max(own.verdict);
        said.push(match own.verdict {
            ConformityVerdict::NotShown => format!(
                "{} of the ground that is surveyed are shown to be within the limits of height{wanted}",
                percent(shown(own.within, own.shown_within).value)
            ),
            _ => format!(
                "{} of the area are within the limits of height, {} above and {} below{wanted}",
                percent(own.within.value),
                percent(own.above.value),
                percent(own.below.value)
            ),
        });
    }
    if let Some(own) = zone
        .slopes
        .filter(|own| own.verdict > ConformityVerdict::Conforms)
    {
        worst = worst.max(own.verdict);
        said.push(match own.verdict {
            ConformityVerdict::NotShown => format!(
                "{} of the ground that is surveyed are shown to be within the limits of slope{wanted}",
                percent(shown(own.within, own.shown_within).value)
            ),
            _ => format!(
                "{} of the area are within the limits of slope, {} flatter and {} steeper{wanted}",
                percent(own.within.value),
                percent(own.flatter.value),
                percent(own.steeper.value)
            ),
        });
    }
    let missing = zone.not_compared.filter(|area| area.value > 0.0);
    said.extend(missing.map(|area| {
        format!(
            "{} {} of the zone are not surveyed",
            figure_in_words(area.value),
            area.unit.symbol()
        )
    }));
    let words = said.join("; ");
    match worst {
        ConformityVerdict::Conforms => None,
        ConformityVerdict::NotShown => Some(Finding::new(Code::ConformityNotShown, words).remedy(
            match missing {
                Some(_) => "survey all of the zone",
                None => "survey more accurately or more densely, or agree on simple acceptance",
            },
        )),
        ConformityVerdict::DoesNotConform => Some(Finding::new(Code::DoesNotConform, words)),
    }
}
