//! What is checked of a job, and the findings that are acknowledged.

use std::collections::BTreeSet;

use toml::Spanned;

use super::super::entries::{AcknowledgedEntry, UntouchedEntry, all};
use super::super::{AcknowledgedPlan, JobFileError, UntouchedPlan, nearest};
use super::JobFileText;
use crate::finding::{Code, Severity};
use crate::input::Source;

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
    })
}
