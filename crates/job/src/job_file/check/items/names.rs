//! The surfaces and zones that an item names.

use std::collections::BTreeSet;

use toml::Spanned;

use super::super::super::entries::{Name, OneOrMany, all};
use super::super::super::{JobFileError, MeasuredZones};
use super::Checked;
use crate::band_rules::BandRules;
use crate::input::Source;

impl Checked<'_> {
    pub(in crate::job_file) fn surface(
        &self,
        name: &Option<Name>,
        key: &str,
    ) -> Result<Source, JobFileError> {
        let names: BTreeSet<&str> = self.known.surfaces.keys().map(String::as_str).collect();
        match name {
            Some(name) => Ok(Source::Named(self.sheet.known(name, "surface", &names)?)),
            None => {
                let what = format!("the item has no {key} surface");
                Err(self.fault(what, format!("add {key} = \"...\"")))
            }
        }
    }

    pub(in crate::job_file) fn named(
        &self,
        entry: &Option<Spanned<OneOrMany>>,
    ) -> Result<Vec<String>, JobFileError> {
        let mut names: Vec<String> = Vec::new();
        for name in all(entry) {
            let known = self.sheet.known(&name, "zone", self.known.zones)?;
            if names.contains(&known) {
                let what = format!("the zone \"{known}\" is listed twice");
                return Err(self.sheet.fault(name.span(), what, "give it once"));
            }
            names.push(known);
        }
        Ok(names)
    }

    /// A line of the job.
    pub(in crate::job_file) fn line(&self, name: &Name) -> Result<String, JobFileError> {
        self.sheet.known(name, "line", self.known.lines)
    }

    /// The bands that its ground is reported in.
    pub(in crate::job_file) fn bands(&self) -> Result<Option<BandRules>, JobFileError> {
        let Some(name) = &self.entry.bands else {
            return Ok(None);
        };
        let names: BTreeSet<&str> = self.known.bands.keys().map(String::as_str).collect();
        let known = self.sheet.known(name, "bands", &names)?;
        Ok(self.known.bands.get(&known).cloned())
    }

    pub(in crate::job_file) fn ground(&self) -> Result<MeasuredZones, JobFileError> {
        Ok(MeasuredZones {
            zones: self.named(&self.entry.zones)?,
            plots: self.named(&self.entry.plots)?,
        })
    }

    pub(in crate::job_file) fn within_zones(
        &self,
        what: &str,
    ) -> Result<MeasuredZones, JobFileError> {
        let ground = self.ground()?;
        match ground.zones.is_empty() && ground.plots.is_empty() {
            true => Err(self.fault(
                format!("{what} needs zones to limit it"),
                "add zones = \"...\"",
            )),
            false => Ok(ground),
        }
    }
}
