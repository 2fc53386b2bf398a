//! The surveys of an item in time.

use std::collections::BTreeSet;

use super::super::entries::Name;
use super::super::{Between, Counts, ItemKind, JobFileError, ProgressPlan, ToLimit};
use super::Checked;
use super::dates::date;
use crate::input::Source;

impl Checked<'_> {
    /// The survey that an item is measured to: the last of several, where none is named.
    pub(in crate::job_file) fn surveyed(&self) -> Result<Option<Name>, JobFileError> {
        let entry = self.entry;
        let Some(listed) = &entry.surveys else {
            return Ok(entry.surveyed.clone());
        };
        match listed.get_ref().last() {
            Some(last) => Ok(Some(entry.surveyed.as_ref().unwrap_or(last).clone())),
            None => {
                let remedy = "name one, or remove surveys";
                Err(self
                    .sheet
                    .fault(listed.span(), "no survey is listed", remedy))
            }
        }
    }

    /// How an item is followed in time.
    pub(super) fn progress(&self, what: &ItemKind) -> Result<Option<ProgressPlan>, JobFileError> {
        let entry = self.entry;
        let Some(listed) = &entry.surveys else {
            let design = entry.design.as_ref().map(|own| ("design", own.span()));
            let started = entry.started.as_ref().map(|own| ("started", own.span()));
            return match design.or(started) {
                None => Ok(None),
                Some((key, span)) => {
                    let what = format!("{key} has no effect without surveys");
                    Err(self.sheet.fault(span, what, "add surveys = [...]"))
                }
            };
        };
        let fault = |what: &str, remedy: &str| Err(self.sheet.fault(listed.span(), what, remedy));
        let (counts, [reference, _]) = match what {
            ItemKind::Between(Between { counts, sides, .. })
            | ItemKind::ToLimit(ToLimit { counts, sides, .. }) => (*counts, sides),
            _ => {
                let remedy = "remove sections, or remove surveys";
                return fault(
                    "progress is measured between the surfaces, and the item counts by sections",
                    remedy,
                );
            }
        };
        let names: BTreeSet<&str> = self.known.surfaces.keys().map(String::as_str).collect();
        let mut surveys: Vec<String> = Vec::new();
        let started = entry.started.as_ref();
        let started = started.map(|day| date(self.sheet, day)).transpose()?;
        for name in listed.get_ref() {
            let known = self.sheet.known(name, "surface", &names)?;
            if *reference == Source::Named(known.clone()) {
                let what = format!("\"{known}\" is the reference of the item");
                return Err(self
                    .sheet
                    .fault(name.span(), what, "list only surveys of the work"));
            }
            if surveys.contains(&known) {
                let what = format!("the survey \"{known}\" is listed twice");
                return Err(self.sheet.fault(name.span(), what, "list it once"));
            }
            surveys.push(known);
        }
        Ok(Some(ProgressPlan {
            surveys,
            design: self.design(what, counts, reference)?,
            started,
            spot: self.sheet.spot(listed.span()),
        }))
    }

    /// The design that an item is to reach.
    fn design(
        &self,
        what: &ItemKind,
        counts: Counts,
        reference: &Source,
    ) -> Result<Option<Source>, JobFileError> {
        let Some(named) = &self.entry.design else {
            return Ok(match (what, counts) {
                // Cut and fill up to a limit are two quantities: neither is the share of the other.
                (ItemKind::ToLimit(_), Counts::Net) | (ItemKind::Between(_), _) => None,
                (what, _) => what.kind().paid_up_to().cloned(),
            });
        };
        let fault = |what: &str, remedy: &str| Err(self.sheet.fault(named.span(), what, remedy));
        if counts == Counts::Net {
            let what = "a design is of cut or of fill, and the item counts net";
            return fault(what, "measure cut and fill as items of their own");
        }
        if what.kind().paid_up_to().is_some() {
            return fault("the limit of the item is its design", "remove design");
        }
        let design = self.surface(&self.entry.design, "design")?;
        let surveys = self.entry.surveys.as_ref();
        let mut surveys = surveys.into_iter().flat_map(|own| own.get_ref());
        if design == *reference || surveys.any(|own| Source::Named(own.get_ref().clone()) == design)
        {
            let what = "the design is one of the surfaces that are measured against it";
            return fault(what, "name the surface that the work is to reach");
        }
        Ok(Some(design))
    }
}
