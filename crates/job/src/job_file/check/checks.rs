//! What is checked of a job, and the findings that are acknowledged.

use std::collections::BTreeSet;

use toml::Spanned;

use super::super::entries::{AcknowledgedEntry, ConformityEntry, Name, UntouchedEntry, all};
use super::super::{AcknowledgedPlan, ConformityPlan, JobFileError, UntouchedPlan, nearest};
use super::JobFileText;
use crate::conformity_rules::{Acceptance, CrossfallRules, LimitRules, Share, Slope};
use crate::finding::{Code, Severity};
use crate::input::{LineSource, Source};

/// Checks ground that nobody touched.
pub(super) fn untouched(
    sheet: &JobFileText<'_>,
    spanned: &Spanned<UntouchedEntry>,
    surfaces: &BTreeSet<&str>,
    zones: &BTreeSet<&str>,
) -> Result<UntouchedPlan, JobFileError> {
    let entry = spanned.get_ref();
    let named = all(&Some(entry.zones.clone()));
    if named.is_empty() {
        let what = "no zone is named";
        return Err(sheet.fault(entry.zones.span(), what, "add zones = [\"...\"]"));
    }
    let [reference, surveyed] = [&entry.reference, &entry.surveyed];
    if reference.get_ref() == surveyed.get_ref() {
        let what = "a survey is compared with itself";
        return Err(sheet.fault(surveyed.span(), what, "name another survey"));
    }
    let surface = |name| Ok(Source::Named(sheet.known(name, "surface", surfaces)?));
    let zones = named.iter().map(|name| sheet.known(name, "zone", zones));
    Ok(UntouchedPlan {
        zones: zones.collect::<Result<_, _>>()?,
        sides: [surface(reference)?, surface(surveyed)?],
        spot: sheet.spot(spanned.span()),
    })
}

/// Interval of sections for crossfalls, where none is said.
const EVERY: f64 = 10.0;

/// Checks what a built surface is held against.
pub(super) fn conformity(
    sheet: &JobFileText<'_>,
    spanned: &Spanned<ConformityEntry>,
    surfaces: &BTreeSet<&str>,
    zones: &BTreeSet<&str>,
    lines: &BTreeSet<&str>,
) -> Result<ConformityPlan, JobFileError> {
    let entry = spanned.get_ref();
    let named = all(&entry.zones);
    let surface = |name| Ok(Source::Named(sheet.known(name, "surface", surfaces)?));
    let zones = named.iter().map(|name| sheet.known(name, "zone", zones));
    let height = |value: &Option<Spanned<f64>>, key: &str| match value {
        Some(value) if !(value.get_ref().is_finite() && *value.get_ref() >= 0.0) => {
            let what = format!("{key} is {}", value.get_ref());
            let remedy =
                "give a height of zero or more; for what must lie below the design use clearance";
            Err(sheet.fault(value.span(), what, remedy))
        }
        value => Ok(value.as_ref().map(|value| *value.get_ref())),
    };
    let slope = |value: &Option<Name>| -> Result<Option<f64>, JobFileError> {
        let read = value.as_ref().map(|value| {
            let slope = value.get_ref().parse::<Slope>();
            slope.map_err(|what| sheet.fault(value.span(), what, "as in \"1:2\" or \"50%\""))
        });
        Ok(read.transpose()?.map(|slope| slope.0))
    };
    let share = entry.share.as_ref().map(|value| {
        let share = value.get_ref().parse::<Share>();
        share.map_err(|what| sheet.fault(value.span(), what, "as in \"95%\""))
    });
    if let (Some(above), Some(_)) = (&entry.above, &entry.clearance) {
        let what = "above and clearance contradict each other";
        return Err(sheet.fault(above.span(), what, "keep one of them"));
    }
    let limits = LimitRules {
        above: height(&entry.above, "above")?,
        below: height(&entry.below, "below")?,
        clearance: height(&entry.clearance, "clearance")?,
        flattest: slope(&entry.flattest)?,
        steepest: slope(&entry.steepest)?,
        share: share.transpose()?.map_or(1.0, |share| share.0),
    };
    let crossfall = match (&entry.crossfall, &entry.crossfall_within) {
        (Some(line), Some(within)) => {
            if named.is_empty() {
                let what = "crossfalls are taken as far to both sides of the line as a zone reaches, and no zone is named";
                return Err(sheet.fault(line.span(), what, "add zones = [\"...\"]"));
            }
            let every = entry.crossfall_every.as_ref();
            let known = sheet.known(line, "line", lines)?;
            Some(CrossfallRules {
                line: LineSource::Named(known),
                every: every.map_or(EVERY, |every| *every.get_ref()),
                within: slope(&Some(within.clone()))?.unwrap_or_default(),
            })
        }
        (Some(line), None) => {
            let what = "it is not said how far crossfalls may differ from those of the design";
            return Err(sheet.fault(line.span(), what, "add crossfall-within = \"0.5%\""));
        }
        (None, Some(within)) => {
            let what = "no line is named along which crossfalls are taken";
            return Err(sheet.fault(within.span(), what, "add crossfall = \"...\""));
        }
        (None, None) => None,
    };
    if let (Some(every), None) = (&entry.crossfall_every, &entry.crossfall) {
        let what = "no line is named along which crossfalls are taken";
        return Err(sheet.fault(every.span(), what, "add crossfall = \"...\""));
    }
    if let Err(error) = limits.checked(crossfall.as_ref()) {
        let remedy = "give above, below, clearance, flattest, steepest or crossfall, in order";
        return Err(sheet.fault(entry.description.span(), error.to_string(), remedy));
    }
    Ok(ConformityPlan {
        description: entry.description.get_ref().clone(),
        zones: zones.collect::<Result<_, _>>()?,
        sides: [surface(&entry.design)?, surface(&entry.built)?],
        limits,
        crossfall,
        acceptance: match entry.simple_acceptance {
            true => Acceptance::Simple,
            false => Acceptance::GuardBand,
        },
        spot: sheet.spot(spanned.span()),
    })
}

/// Checks the acknowledgement of a finding.
pub(super) fn acknowledged(
    sheet: &JobFileText<'_>,
    spanned: &Spanned<AcknowledgedEntry>,
) -> Result<AcknowledgedPlan, JobFileError> {
    let entry = spanned.get_ref();
    let text = entry.finding.get_ref();
    let code: Code = text.parse().map_err(|()| {
        let known = Code::ALL.iter().map(|code| code.code());
        let remedy = match nearest(text, known) {
            Some(near) => format!("use \"{near}\""),
            None => "use a code of docs/findings.md".into(),
        };
        sheet.fault(
            entry.finding.span(),
            format!("there is no finding \"{text}\""),
            remedy,
        )
    })?;
    if code.severity() == Severity::Failed {
        let what = format!("\"{text}\" is a check that fails, not a warning");
        let remedy = "change what the check asks for, such as within, at-least or at-most";
        return Err(sheet.fault(entry.finding.span(), what, remedy));
    }
    let said = |name: &Spanned<String>, key: &str| match name.get_ref().trim() {
        "" => {
            let remedy = format!("say it in words, as in {key} = \"...\"");
            Err(sheet.fault(name.span(), format!("{key} is empty"), remedy))
        }
        text => Ok(text.to_owned()),
    };
    let about = entry.about.as_ref().map(|about| said(about, "about"));
    Ok(AcknowledgedPlan {
        code,
        about: about.transpose()?,
        reason: said(&entry.reason, "reason")?,
        spot: sheet.spot(spanned.span()),
    })
}
