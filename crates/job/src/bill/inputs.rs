//! All that items need, read, made and overlaid once.

use std::sync::Arc;

use dapedon_core::surface::{Outline, Surface};

use super::SurfacePair;
use super::between_points::BetweenPointsAsked;
use super::kinds::ItemMeasurement;
use super::kinds::pile::PilesAbove;
use super::kinds::sloping::Sloped;
use super::passes::{PassIndex, Passes};
use crate::context::Context;
use crate::error::JobError;
use crate::finding::Finding;
use crate::input::{InputFile, Source, ZoneSource};
use crate::job_file::{ItemPlan, Job, NameError};
use crate::quantities::sanity;
use crate::quantities::uncertainty::Sureness;
use crate::quantities::uncertainty_notes::accuracy_notes;
use crate::quantities::{Scene, folds};
use crate::site::Site;
use crate::surfaces::MadeSurface;
use crate::units::RequestedUnits;
use crate::watch::{Activity, Watch};

/// Where all that items need lies ready.
pub(crate) struct BillInputs<'j> {
    pub(crate) site: Site<'j>,
    pub(crate) made: Vec<(Source, MadeSurface)>,
    /// Where each of them ends.
    outlines: Vec<Outline>,
    /// What the spacing of points leaves out, where items ask for it.
    pub(super) between_points: Vec<BetweenPointsAsked>,
    pub(super) passes: Passes,
    /// What was measured along slopes, and of piles, each once.
    pub(super) sloped: Vec<Sloped>,
    pub(super) piled: Vec<PilesAbove>,
    /// All zones that any item names.
    pub(super) zones: Vec<ZoneSource>,
    /// The files of lines that sections stand along, each once.
    pub(super) line_files: Vec<InputFile>,
    pub(super) watch: Watch,
}

impl<'j> BillInputs<'j> {
    pub(crate) fn open(
        context: &Context<'j>,
        job: &'j Job,
        items: &[&ItemPlan],
    ) -> Result<Self, JobError> {
        let mut sources: Vec<&Source> = Vec::new();
        // What is checked of the job is checked with all of its items.
        let whole = items.len() == job.items.len();
        let checked = job.untouched.iter().filter(|_| whole);
        let held = job.conformity.iter().filter(|_| whole);
        let surfaces = items.iter().flat_map(|item| item.what.kind().surfaces());
        let limits = items
            .iter()
            .filter_map(|item| item.what.kind().paid_up_to());
        for source in surfaces
            .chain(limits)
            .chain(checked.clone().flat_map(|plan| &plan.sides))
            .chain(held.clone().flat_map(|plan| &plan.sides))
        {
            if !sources.contains(&source) {
                sources.push(source);
            }
        }
        let mut zones: Vec<ZoneSource> = Vec::new();
        let names = items.iter().flat_map(|item| item.what.zone_names());
        for name in names
            .chain(checked.flat_map(|plan| &plan.zones))
            .chain(held.flat_map(|plan| &plan.zones))
        {
            let zone = ZoneSource::Named(name.clone());
            if !zones.contains(&zone) {
                zones.push(zone);
            }
        }
        // A bill is reported in the units of its job.
        let context = Context {
            units: RequestedUnits {
                length: Some(job.unit),
                ..RequestedUnits::default()
            },
            ..context.clone()
        };
        let mut site = Site::open(&context, &sources, &zones)?;
        let made = sources
            .into_iter()
            .map(|source| Ok((source.clone(), site.surface(source)?)));
        let made = made.collect::<Result<Vec<_>, JobError>>()?;
        let outlines = made.iter().map(|(_, made)| Outline::of(&made.surface));
        Ok(BillInputs {
            outlines: outlines.collect(),
            site,
            made,
            passes: Passes::default(),
            between_points: Vec::new(),
            sloped: Vec::new(),
            piled: Vec::new(),
            line_files: Vec::new(),
            watch: context.watch.clone(),
            zones,
        })
    }

    pub(super) fn number(&self, source: &Source) -> Result<usize, JobError> {
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

    /// Asks for what the spacing of points leaves out of what is measured for a ticket.
    pub(super) fn ask_between_points(&mut self, ticket: PassIndex) {
        if self.between_points_of(ticket).is_none() {
            self.between_points.push(BetweenPointsAsked::of(ticket));
        }
    }

    /// What the spacing of points leaves out of what is measured for a ticket, where that was asked for.
    pub(super) fn between_points_of(&self, ticket: PassIndex) -> Option<&BetweenPointsAsked> {
        let mut asked = self.between_points.iter();
        asked.find(|own| own.ticket.measures_as(ticket))
    }

    /// Makes all overlays.
    pub(crate) fn measure(&mut self, context: &Context<'_>) -> Result<(), JobError> {
        let mut passes = std::mem::take(&mut self.passes);
        let of = passes.0.len();
        for (index, pass) in passes.0.iter_mut().enumerate() {
            let [reference, surveyed] = pass.sides.map(|side| &self.made[side]);
            let step = context.watch.next(Activity::Measuring {
                reference: reference.0.to_string(),
                surveyed: surveyed.0.to_string(),
                number: index + 1,
                of,
            })?;
            let sides = [&reference.1, &surveyed.1];
            self.site.making.warn(&sides);
            self.site.making.warnings.extend(sanity::of_sides(sides));
            let facts = sides.map(|made| &made.side);
            let units = self.site.making.units;
            let sure = Sureness::of(sides).filter(|_| pass.uncertain_asked);
            if pass.uncertain_asked {
                let notes = accuracy_notes(facts, sure.as_ref(), pass.finest_tolerance(), &units);
                self.site.making.warnings.extend(notes);
            }
            let outlines = pass.sides.map(|side| &self.outlines[side]);
            let scene = Scene::of(&self.site.making, sides.map(|made| &made.surface), None);
            let zones_of = |name: &str| self.site.making.zones_of(name);
            let names = facts.map(|side| side.source.as_str());
            let found = pass.measure(&scene, outlines, sure, (&step, names), zones_of);
            let shifted = step.unless_stopped(found)?;
            self.site.making.warnings.extend(shifted);
            let (zones, volume) = pass.whole(&units);
            for (made, other) in [(sides[0], sides[1]), (sides[1], sides[0])] {
                let other = &*other.surface;
                let found = sanity::points_far_apart(made, other, zones.as_ref(), &volume, &units);
                self.site.making.warnings.extend(found);
            }
        }
        self.passes = passes;
        let mut asked = std::mem::take(&mut self.between_points);
        for own in &mut asked {
            let step = self.watch.next(Activity::LeavingOutPoints)?;
            step.unless_stopped(own.measure(self))?;
        }
        self.between_points = asked;
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

    /// The overlays, and the items that each is for.
    pub(crate) fn overlays(
        &self,
        items: &[&ItemPlan],
        asked: &[Box<dyn ItemMeasurement>],
    ) -> Vec<SurfacePair> {
        let passes = self.passes.0.iter().enumerate();
        let overlays = passes.map(|(index, pass)| {
            let (pieces, closure) = pass.closure(&self.site.making.units);
            let [reference, surveyed] = pass.sides.map(|side| self.made[side].0.to_string());
            let own =
                |asked: &dyn ItemMeasurement| asked.overlay().is_some_and(|own| own.pass == index);
            let items = items.iter().zip(asked).filter(|(_, asked)| own(&***asked));
            SurfacePair {
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
