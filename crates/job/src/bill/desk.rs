//! All that items need, read, made and overlaid once.

use std::collections::HashSet;
use std::sync::Arc;

use dapedon_core::derived::{Treatment, zonewise};
use dapedon_core::quantities::Spill;
use dapedon_core::surface::{Outline, Surface};
use dapedon_core::zones::Zones;

use super::alone::{Alone, One};
use super::passes::{Passes, Ticket};
use super::rows::Found;
use super::{BillError, OverlayMade};
use crate::context::{Context, Doing};
use crate::error::JobError;
use crate::finding::{Code, Finding};
use crate::input::{BaseSource, Source, ZoneSource};
use crate::job_file::NameError;
use crate::job_file::{Counts, Ground, ItemPlan, Job, What};
use crate::quantities::{Scene, folds};
use crate::site::Site;
use crate::surfaces::{LayerQuantity, Made, facets, rest};
use crate::units::UnitsAsked;
use crate::zones::{ZoneOrigin, told_apart};

/// Where all that items need lies ready.
pub(crate) struct Desk<'j> {
    pub(crate) site: Site<'j>,
    pub(crate) made: Vec<(Source, Made)>,
    /// Where each of them ends.
    outlines: Vec<Outline>,
    pub(super) passes: Passes,
    pub(super) alone: Vec<MeasuredAlone>,
    /// All zones that any item names.
    pub(super) zones: Vec<ZoneSource>,
}

/// What was measured of one surface alone: of which one, on which ground, and above which base.
pub(super) struct MeasuredAlone {
    pub(super) surface: usize,
    ground: Ground,
    pub(super) base: Option<BaseSource>,
    pub(super) found: Alone,
}

/// Where an item finds what was measured for it.
pub(crate) enum Asked {
    /// Between two surfaces; of what a basin holds, where its water would have run over the edge.
    Overlay(Ticket, Counts, Option<Finding>),
    Alone(usize),
    Layers(Vec<LayerQuantity>),
    Typed,
}

impl<'j> Desk<'j> {
    pub(crate) fn open(
        context: &Context<'j>,
        job: &'j Job,
        items: &[&ItemPlan],
    ) -> Result<Self, JobError> {
        let mut sources: Vec<&Source> = Vec::new();
        for source in items.iter().flat_map(|item| item.what.sources()) {
            if !sources.contains(&source) {
                sources.push(source);
            }
        }
        let mut zones: Vec<ZoneSource> = Vec::new();
        for name in items.iter().flat_map(|item| item.what.zone_names()) {
            let zone = ZoneSource::Named(name.clone());
            if !zones.contains(&zone) {
                zones.push(zone);
            }
        }
        // A bill is told in the units of its job.
        let context = Context {
            units: UnitsAsked {
                length: Some(job.unit),
                ..UnitsAsked::default()
            },
            ..context.clone()
        };
        let mut site = Site::open(&context, &sources, &zones)?;
        let made = sources
            .into_iter()
            .map(|source| Ok((source.clone(), site.surface(source)?)));
        let made = made.collect::<Result<Vec<_>, JobError>>()?;
        let outlines = made.iter().map(|(_, made)| Outline::of(&made.surface));
        Ok(Desk {
            outlines: outlines.collect(),
            site,
            made,
            passes: Passes::default(),
            alone: Vec::new(),
            zones,
        })
    }

    fn number(&self, source: &Source) -> Result<usize, JobError> {
        let number = self.made.iter().position(|(known, _)| known == source);
        number.ok_or_else(|| {
            JobError::from(NameError::no_such_surface(
                &source.to_string(),
                self.site.making.stock.job,
            ))
        })
    }

    pub(super) fn surface(&self, number: usize) -> &Arc<Surface> {
        &self.made[number].1.surface
    }

    /// Asks for what an item needs.
    pub(crate) fn ask(&mut self, item: &ItemPlan) -> Result<Asked, JobError> {
        match &item.what {
            What::Between {
                sides,
                counts,
                tolerance,
                ground,
            } => {
                let numbers = [self.number(&sides[0])?, self.number(&sides[1])?];
                let ticket = self.passes.ask(numbers, ground, *tolerance, &item.spot);
                let over = match (counts, &sides[1]) {
                    (Counts::Capacity, Source::Level(level)) => self
                        .runs_over(numbers[0], *level, ground)
                        .map_err(|error| error.in_job(&item.spot))?,
                    _ => None,
                };
                Ok(Asked::Overlay(ticket, *counts, over))
            }
            What::Sloping { surface, ground } => self.alone(surface, ground, None, item),
            What::Pile {
                surface,
                ground,
                base,
            } => self.alone(surface, ground, Some(base), item),
            What::Layer {
                surface,
                build_up,
                layer,
                zones,
            } => {
                let number = self.number(surface)?;
                let layers = self.layers(number, build_up.as_deref(), layer, zones);
                let layers = layers.map_err(|error| JobError::from(error).in_job(&item.spot))?;
                Ok(Asked::Layers(layers))
            }
            What::Typed { .. } => Ok(Asked::Typed),
        }
    }

    /// Makes all overlays.
    pub(crate) fn measure(&mut self, context: &Context<'_>) -> Result<(), JobError> {
        let mut passes = std::mem::take(&mut self.passes);
        let of = passes.0.len();
        for (index, pass) in passes.0.iter_mut().enumerate() {
            let [reference, surveyed] = pass.sides.map(|side| &self.made[side]);
            context.next(Doing::Measuring {
                reference: &reference.0,
                surveyed: &surveyed.0,
                number: index + 1,
                of,
            })?;
            let sides = [&reference.1, &surveyed.1];
            self.site.making.warn(&sides);
            let outlines = pass.sides.map(|side| &self.outlines[side]);
            let scene = Scene::of(&self.site.making, sides.map(|made| &made.surface), None);
            pass.measure(&scene, outlines, |name| self.site.making.zones_of(name))?;
        }
        self.passes = passes;
        Ok(())
    }

    /// What must be known of all of it.
    pub(crate) fn warnings(&mut self) -> Vec<Finding> {
        let mut warnings: Vec<Finding> = Vec::new();
        let mut add = |warning: Finding| {
            if !warnings.contains(&warning) {
                warnings.push(warning);
            }
        };
        std::mem::take(&mut self.site.making.warnings)
            .into_iter()
            .for_each(&mut add);
        self.site
            .zone_notes(&self.zones)
            .into_iter()
            .for_each(&mut add);
        let making = &self.site.making;
        for ((source, _), outline) in self.made.iter().zip(&self.outlines) {
            let name = format!("\"{source}\"");
            folds(outline, &name, making.frame, &making.units)
                .into_iter()
                .for_each(&mut add);
        }
        warnings
    }

    /// What was measured for an item.
    pub(crate) fn found<'f>(&'f self, asked: &'f Asked) -> Found<'f> {
        match asked {
            Asked::Overlay(ticket, counts, over) => {
                let (laid, regions) = self.passes.found(*ticket);
                Found::Overlaid {
                    counts: *counts,
                    over: over.as_ref(),
                    laid,
                    regions,
                }
            }
            Asked::Alone(index) => match &self.alone[*index].found {
                Alone::Sloping(laid, sloping) => Found::Sloping { laid, sloping },
                Alone::Piles(piles) => Found::Piles {
                    piles: piles
                        .iter()
                        .map(|pile| (&pile.zone, &pile.measured))
                        .collect(),
                },
            },
            Asked::Layers(layers) => Found::Layers { layers },
            Asked::Typed => Found::Typed,
        }
    }

    /// What is measured of one surface alone, once: piles above a base, or its area along the slope.
    fn alone(
        &mut self,
        surface: &Source,
        ground: &Ground,
        base: Option<&BaseSource>,
        item: &ItemPlan,
    ) -> Result<Asked, JobError> {
        let number = self.number(surface)?;
        let known = self.alone.iter().position(|known| {
            known.surface == number && known.ground == *ground && known.base.as_ref() == base
        });
        if let Some(known) = known {
            return Ok(Asked::Alone(known));
        }
        let one = One {
            making: &self.site.making,
            surface: self.surface(number),
        };
        let found = match base {
            Some(base) => one.piles(ground, base),
            None => one.sloping(ground),
        };
        self.alone.push(MeasuredAlone {
            surface: number,
            ground: ground.clone(),
            base: base.cloned(),
            found: found.map_err(|error| error.in_job(&item.spot))?,
        });
        Ok(Asked::Alone(self.alone.len() - 1))
    }

    /// Where water up to a level would have run over the edge of some ground, if it would: what is counted above that
    /// is not held.
    fn runs_over(
        &self,
        number: usize,
        level: f64,
        ground: &Ground,
    ) -> Result<Option<Finding>, JobError> {
        let frame = self.site.making.frame;
        let mut zones = Vec::new();
        for name in ground.names() {
            let known = self.site.making.zones_of(name)?;
            zones.extend(known.into_iter().map(|known| known.zone));
        }
        let zones = Zones::new(frame, zones);
        let within = zonewise(self.surface(number), &zones, |within| match within {
            [] => Treatment::Drop,
            _ => Treatment::Keep,
        });
        // Ground off the surface is told where it is measured.
        let Ok(within) = within else { return Ok(None) };
        let rest = rest(self.surface(number), &zones);
        let spill = Spill::lowest(&facets(&within)?, rest.as_ref());
        let over = spill.filter(|spill| spill.is_below(level));
        Ok(over.map(|spill| {
            let at = frame.to_grid(spill.at);
            let words = format!(
                "level {level} lies above {:.3}, where water runs over the edge near east {:.1}, north {:.1}: what is above \
                 that is not held",
                spill.level, at.east, at.north
            );
            Finding::new(Code::AboveEdge, words)
        }))
    }

    /// A layer that a surface lies below, zone by zone.
    fn layers(
        &self,
        number: usize,
        build_up: Option<&str>,
        layer: &str,
        zones: &[String],
    ) -> Result<Vec<LayerQuantity>, BillError> {
        let recipe = self.made[number].1.side.recipe.as_ref();
        let origins = self.origins(zones);
        let wanted = |own: &&LayerQuantity| {
            own.layer == layer
                && build_up.is_none_or(|build_up| build_up == own.build_up)
                && (zones.is_empty() || origins.contains(&own.origin))
        };
        let layers = recipe.map_or(Vec::new(), |recipe| recipe.layers());
        let mut layers: Vec<LayerQuantity> = layers.into_iter().filter(wanted).cloned().collect();
        let names: Vec<(String, String)> = (layers.iter())
            .map(|layer| (layer.zone.clone(), layer.build_up.clone()))
            .collect();
        for (layer, name) in layers.iter_mut().zip(told_apart(&names)) {
            layer.zone = name;
        }
        match layers.is_empty() {
            true => Err(BillError::NoSuchLayer {
                layer: layer.into(),
            }),
            false => Ok(layers),
        }
    }

    /// Where the zones come from that some names of the job stand for.
    fn origins(&self, names: &[String]) -> HashSet<ZoneOrigin> {
        let zones = &self.site.making.stock.zones;
        let found = names.iter().filter_map(|name| {
            let read = zones.get(&ZoneSource::Named(name.clone()))?;
            Some(read.known(name).map(|(_, origin)| origin))
        });
        found.flatten().collect()
    }

    pub(crate) fn overlays(&self, items: &[&ItemPlan], asked: &[Asked]) -> Vec<OverlayMade> {
        let passes = self.passes.0.iter().enumerate();
        let overlays = passes.map(|(index, pass)| {
            let (pieces, closure) = pass.closure();
            let [reference, surveyed] = pass.sides.map(|side| self.made[side].0.to_string());
            let items = items.iter().zip(asked).filter(|(_, asked)| match asked {
                Asked::Overlay(ticket, ..) => ticket.pass == index,
                Asked::Alone(_) | Asked::Layers(_) | Asked::Typed => false,
            });
            OverlayMade {
                reference,
                surveyed,
                items: items.map(|(item, _)| item.code.clone()).collect(),
                pieces,
                closure,
            }
        });
        overlays.collect()
    }
}
