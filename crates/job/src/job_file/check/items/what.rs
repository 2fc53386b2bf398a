//! What an item measures: what counts, between what, and where.

use std::collections::BTreeSet;

use dapedon_core::quantities::Tolerance;
use dapedon_core::surface::FARTHEST;
use toml::Spanned;

use super::super::super::entries::{BaseEntry, CountsEntry, Name, OneOrMany, all};
use super::super::super::{Act, Counts, Ground, JobFileError, Start, What};
use super::Checked;
use crate::input::{BaseSource, Source};

impl Checked<'_> {
    pub(super) fn what(&self) -> Result<What, JobFileError> {
        use CountsEntry as C;
        let entry = self.entry;
        let counts = match entry.counts.get_ref() {
            C::Cut => Counts::Cut,
            C::Fill => Counts::Fill,
            C::Net => Counts::Net,
            C::Area => Counts::Area,
            C::CutArea => Counts::CutArea,
            C::FillArea => Counts::FillArea,
            C::Capacity => {
                let level = entry.level.as_ref().ok_or_else(|| {
                    self.fault("nothing says up to which level", "add level = ...")
                })?;
                if level.get_ref().is_nan() || level.get_ref().abs() > FARTHEST {
                    let what = format!("{} is no height of a survey", level.get_ref());
                    return Err(self.sheet.fault(level.span(), what, "mend it"));
                }
                return Ok(What::Capacity {
                    sides: [
                        self.surface(&entry.surveyed, "surveyed")?,
                        Source::Level(*level.get_ref()),
                    ],
                    ground: self.within_zones("a basin")?,
                });
            }
            C::SlopingArea => {
                return Ok(What::Sloping {
                    surface: self.surface(&entry.surveyed, "surveyed")?,
                    ground: self.within_zones("an area along the slope")?,
                });
            }
            C::Pile => {
                return Ok(What::Pile {
                    surface: self.surface(&entry.surveyed, "surveyed")?,
                    ground: self.within_zones("a pile")?,
                    base: match entry.base.as_ref().map(Spanned::get_ref) {
                        None | Some(BaseEntry::Toe) => BaseSource::Toe,
                        Some(BaseEntry::Plane) => BaseSource::Plane,
                        Some(BaseEntry::Lowest) => BaseSource::Lowest,
                        Some(BaseEntry::Mean) => BaseSource::Mean,
                    },
                });
            }
            C::Layer => return self.layer(),
            C::Typed => return self.typed(),
        };
        let tolerance = match &entry.tolerance {
            None => Tolerance::ZERO,
            Some(tolerance) => Tolerance::new(*tolerance.get_ref()).ok_or_else(|| {
                let what = format!("{} is no tolerance", tolerance.get_ref());
                self.sheet
                    .fault(tolerance.span(), what, "say a height of zero or more")
            })?,
        };
        let sides = [
            self.surface(&entry.reference, "reference")?,
            self.surface(&entry.surveyed, "surveyed")?,
        ];
        if sides[0] == sides[1] {
            let what = "the item measures from a surface to itself";
            return Err(self.fault(what, "name another surface for one of them"));
        }
        Ok(What::Between {
            counts,
            sides,
            tolerance,
            ground: self.ground()?,
        })
    }

    fn surface(&self, name: &Option<Name>, key: &str) -> Result<Source, JobFileError> {
        let names: BTreeSet<&str> = self.known.surfaces.keys().map(String::as_str).collect();
        match name {
            Some(name) => Ok(Source::Named(self.sheet.known(name, "surface", &names)?)),
            None => {
                let what = format!("nothing says which surface is the {key} one");
                Err(self.fault(what, format!("add {key} = \"...\"")))
            }
        }
    }

    fn named(&self, entry: &Option<Spanned<OneOrMany>>) -> Result<Vec<String>, JobFileError> {
        let mut names: Vec<String> = Vec::new();
        for name in all(entry) {
            let known = self.sheet.known(&name, "zone", self.known.zones)?;
            if names.contains(&known) {
                let what = format!("the zone \"{known}\" is named twice");
                return Err(self.sheet.fault(name.span(), what, "name it once"));
            }
            names.push(known);
        }
        Ok(names)
    }

    fn ground(&self) -> Result<Ground, JobFileError> {
        Ok(Ground {
            zones: self.named(&self.entry.zones)?,
            plots: self.named(&self.entry.plots)?,
        })
    }

    fn within_zones(&self, what: &str) -> Result<Ground, JobFileError> {
        let ground = self.ground()?;
        match ground.zones.is_empty() && ground.plots.is_empty() {
            true => Err(self.fault(
                format!("nothing says where {what} ends"),
                "add zones = \"...\"",
            )),
            false => Ok(ground),
        }
    }

    fn layer(&self) -> Result<What, JobFileError> {
        let entry = self.entry;
        let surface = self.surface(&entry.surveyed, "surveyed")?;
        let Some(layer) = &entry.layer else {
            return Err(self.fault("nothing says which layer", "add layer = \"...\""));
        };
        let mut below = Vec::new();
        if let Source::Named(name) = &surface {
            self.build_ups_below(name, &mut below);
        }
        let names: BTreeSet<&str> = below.iter().copied().collect();
        let build_up = match &entry.build_up {
            None => None,
            Some(name) => Some(self.sheet.known(name, "build-up", &names)?),
        };
        let own = |name: &&&str| build_up.as_deref().is_none_or(|own| own == **name);
        let layers: BTreeSet<&str> = (names.iter().filter(own))
            .filter_map(|name| self.known.build_ups.get(*name))
            .flat_map(|plan| plan.layers.iter().map(|layer| layer.name.as_str()))
            .collect();
        if layers.is_empty() {
            let what = format!("\"{surface}\" does not lie below a build-up");
            let remedy = "name a surface that does: the layers are those that it goes below";
            return Err(self.fault(what, remedy));
        }
        Ok(What::Layer {
            layer: self.sheet.known(layer, "layer", &layers)?,
            surface,
            build_up,
            zones: self.named(&entry.zones)?,
        })
    }

    /// The build-ups that a surface lies below, however far round.
    fn build_ups_below<'k>(&'k self, surface: &str, found: &mut Vec<&'k str>) {
        let Some(plan) = self.known.surfaces.get(surface) else {
            return;
        };
        if let Start::Surface(start) = &plan.start {
            self.build_ups_below(start, found);
        }
        for step in &plan.steps {
            if let Act::BuildUp { names, .. } = &step.act {
                found.extend(names.iter().map(String::as_str));
            }
        }
    }

    fn typed(&self) -> Result<What, JobFileError> {
        let Some(quantity) = &self.entry.quantity else {
            return Err(self.fault("nothing says the quantity", "add quantity = ..."));
        };
        let Some(because) = self
            .entry
            .because
            .clone()
            .filter(|why| !why.trim().is_empty())
        else {
            let what = "nothing says why the quantity is typed in";
            return Err(self.fault(
                what,
                "add because = \"...\": who counted it, and where it is written down",
            ));
        };
        Ok(What::Typed {
            quantity: self.figure(quantity)?,
            because,
        })
    }
}
