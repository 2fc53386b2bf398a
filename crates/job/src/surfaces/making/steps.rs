//! Steps, done.

use std::sync::Arc;

use dapedon_core::derived::{
    Bench, Choice, RunOut, SideSlope, Slopes, Top, Treatment, combined, difference, run_out,
    within, zonewise,
};
use dapedon_core::plan::Place;
use dapedon_core::quantities::each_overlap;
use dapedon_core::quantities::{Tolerance, coverage, ground_areas, volume};
use dapedon_core::surface::{Outline, Surface};
use dapedon_core::zones::{Zone, Zones};

use super::{Making, Raised};
use crate::error::JobError;
use crate::input::InputError;
use crate::input::{InputFile, ZoneSource};
use crate::job_file::{BuildUpPlan, DownTo, PlatformPlan, StepAction, StepPlan};
use crate::surfaces::build_up::{Covering, LayerUnits, areas, quantities};
use crate::surfaces::recipe::{Change, LayerQuantity, Step};
use crate::surfaces::{MadeSurface, SurfaceError};
use crate::zones::{KnownZone, told_apart};

impl Making<'_> {
    /// Does a step, and says what was done.
    pub(super) fn step(
        &mut self,
        step: &StepPlan,
        surface: &Arc<Surface>,
        bare: bool,
    ) -> Result<(Surface, Step), JobError> {
        let mut done = Step {
            action: step.act.words(self.job_unit()),
            zones: step.zones.clone(),
            job_file_line: step.spot.line,
            other_surface: None,
            notes: Vec::new(),
            change: None,
            layers: Vec::new(),
            files: self.files_of(step),
        };
        let other = match step.act.other() {
            Some(name) => Some(self.named(name, bare)?),
            None => None,
        };
        done.other_surface = (other.as_ref()).and_then(|other| other.side.recipe.clone());
        let laid = match step.act.laid_on() {
            Some(name) => Some(self.named(name, bare)?),
            None => None,
        };
        let recipe = laid.as_ref().and_then(|laid| laid.side.recipe.clone());
        for file in recipe.iter().flat_map(|recipe| recipe.files()) {
            if !done.files.contains(file) {
                done.files.push(file.clone());
            }
        }
        let zones = match step.zones.is_empty() {
            true => None,
            false => Some(self.zones(&step.zones)?),
        };
        // What changes heights does so on the surface that is there; what brings another surface puts that where its
        // zones are, beyond the own one too.
        let brings = matches!(
            step.act,
            StepAction::Combine(..)
                | StepAction::Move(_)
                | StepAction::Platform(_)
                | StepAction::Embankment(_)
                | StepAction::Swept(_)
        );
        if let Some(zones) = zones.as_ref().filter(|_| !brings) {
            self.on_surface(surface, zones, &mut done.notes)?;
        }
        let others = Others {
            other: other.as_ref(),
            laid: laid.as_ref().map(|laid| &*laid.surface),
        };
        let made = self.act(step, surface, &others, zones.as_ref(), &mut done)?;
        if let Some(zones) = zones.as_ref().filter(|_| brings) {
            self.on_surface(&made, zones, &mut done.notes)?;
        }
        if self.changes {
            done.change = self.change(surface, &made);
        }
        Ok((made, done))
    }

    fn act(
        &self,
        step: &StepPlan,
        surface: &Surface,
        others: &Others<'_>,
        zones: Option<&Zones>,
        done: &mut Step,
    ) -> Result<Surface, JobError> {
        let none = Zones::new(self.frame, Vec::new());
        // A change of heights, where the zones are or everywhere.
        let changed = |to: Treatment| match zones {
            Some(zones) => zonewise(surface, zones, |within| match within {
                [] => Treatment::Keep,
                _ => to,
            }),
            None => zonewise(surface, &none, |_| to),
        };
        let limited = |made: Surface| match zones {
            Some(zones) => within(&made, surface, zones),
            None => Ok(made),
        };
        let other = || {
            let other = others.other.map(|other| &*other.surface);
            other.ok_or(JobError::from(InputError::NotRead))
        };
        let made = match &step.act {
            StepAction::Raise(by) if zones.is_none() => Ok(surface.raised(self.convert(*by))),
            StepAction::Raise(by) => changed(Treatment::Raise(self.convert(*by))),
            StepAction::Level(height) => changed(Treatment::Level(self.convert(*height))),
            StepAction::Move(by) => limited(surface.moved(by.map(|by| self.convert(by)))),
            StepAction::Combine(choice, _) => {
                combined(surface, other()?, *choice).and_then(limited)
            }
            StepAction::Keep(inside) => zonewise(surface, zones.unwrap_or(&none), |within| {
                match within.is_empty() == *inside {
                    true => Treatment::Drop,
                    false => Treatment::Keep,
                }
            }),
            StepAction::Difference(_) => difference(other()?, surface).and_then(limited),
            StepAction::Fit { tilt, .. } => {
                return self.fit(surface, other()?, zones.unwrap_or(&none), *tilt, done);
            }
            StepAction::Platform(plan) => {
                let body = self.platform(plan, other().unwrap_or(surface))?;
                self.run_out_note(&body, done);
                combined(surface, &Surface::Tin(body.surface), Choice::Other).and_then(limited)
            }
            StepAction::Embankment(plan) => {
                let ground = other().unwrap_or(surface);
                let body = self.embankment(plan, ground, others.laid, done)?;
                self.run_out_note(&body, done);
                combined(surface, &Surface::Tin(body.surface), Choice::Other).and_then(limited)
            }
            StepAction::Swept(plan) => {
                let ground = other().unwrap_or(surface);
                let body = self.swept(plan, ground, others.laid, done)?;
                self.run_out_note(&body, done);
                combined(surface, &Surface::Tin(body.surface), Choice::Other).and_then(limited)
            }
            StepAction::Regrade(plan) => {
                let zones = zones.unwrap_or(&none);
                return self.regrade(plan, surface, others.other, zones, done);
            }
            StepAction::BuildUp {
                names,
                down_to,
                first_holds,
            } => {
                let limits = zones.map_or(&[][..], Zones::zones);
                let plan = Lowering {
                    names,
                    down_to,
                    first_holds: *first_holds,
                };
                return self.build_up(&plan, surface, limits, done);
            }
        };
        made.map_err(|error| match error {
            dapedon_core::overlay::OverlayError::Apart => JobError::from(SurfaceError::NothingLeft),
            dapedon_core::overlay::OverlayError::Unbounded => JobError::from(SurfaceError::Endless),
            error => error.into(),
        })
    }

    /// Lowers by build-ups, each within its zones.
    fn build_up(
        &self,
        plan: &Lowering<'_>,
        surface: &Surface,
        limits: &[Zone],
        done: &mut Step,
    ) -> Result<Surface, JobError> {
        let job = self.stock.job;
        let build_ups: Vec<(&String, &BuildUpPlan)> = (plan.names.iter())
            .filter_map(|name| Some((name, job?.build_ups.get(name)?)))
            .collect();
        // All zones in order, with the build-up each belongs to; then those that limit the step.
        let (mut known, mut owners) = (Vec::new(), Vec::new());
        for (index, (_, build_up)) in build_ups.iter().enumerate() {
            for name in &build_up.zones {
                for zone in self.zones_of(name)? {
                    owners.push(index);
                    known.push(zone);
                }
            }
        }
        let names: Vec<(String, String)> = (known.iter())
            .map(|known| (known.zone.name().to_owned(), known.of.clone()))
            .collect();
        let names = told_apart(&names);
        let mut zones: Vec<Zone> = known.iter().map(|known| known.zone.clone()).collect();
        if !plan.first_holds {
            self.no_overlap(&build_ups, &zones, &owners)?;
        }
        let count = zones.len();
        self.on_surface(
            surface,
            &Zones::new(self.frame, zones.clone()),
            &mut done.notes,
        )?;
        zones.extend(limits.iter().cloned());
        let zones = Zones::new(self.frame, zones);
        let depth = |owner: usize| -> f64 {
            let layers = build_ups[owner].1.down_to(plan.down_to);
            layers.iter().map(|layer| layer.thickness).sum()
        };
        let owner = |within: &[u32]| {
            let inside = limits.is_empty() || within.iter().any(|&zone| zone as usize >= count);
            let first = within
                .first()
                .map(|&zone| zone as usize)
                .filter(|&zone| zone < count);
            first.filter(|_| inside).map(|zone| owners[zone])
        };
        let made = zonewise(surface, &zones, |within| match owner(within) {
            Some(owner) => Treatment::Raise(-self.convert(depth(owner))),
            None => Treatment::Keep,
        });
        let made = made.map_err(|error| match error {
            dapedon_core::overlay::OverlayError::Unbounded => JobError::from(SurfaceError::Endless),
            error => error.into(),
        })?;
        let units = LayerUnits {
            from: self.job_unit(),
            factors: self
                .stock
                .job
                .map_or(self.units.volume, |job| job.factor_volume),
            told: self.units,
        };
        let limit = (!limits.is_empty()).then_some(count);
        for (zone, area) in areas(surface, &zones, limit)? {
            let (name, build_up) = build_ups[owners[zone]];
            let covering = Covering {
                name,
                layers: build_up.down_to(plan.down_to),
            };
            let within = (names[zone].as_str(), &known[zone].origin);
            let layers: Vec<LayerQuantity> = quantities(&covering, within, area, &units)?;
            done.layers.extend(layers);
        }
        Ok(made)
    }

    /// Zones of different build-ups do not overlap.
    fn no_overlap(
        &self,
        build_ups: &[(&String, &BuildUpPlan)],
        zones: &[Zone],
        owners: &[usize],
    ) -> Result<(), JobError> {
        let different = |[one, other]: [usize; 2]| owners[one] != owners[other];
        let mut found = None;
        each_overlap(zones, self.frame.precision(), different, |pair, area| {
            found = Some((pair, area));
            false
        });
        match found {
            None => Ok(()),
            Some((pair, area)) => Err(SurfaceError::BuildUpsOverlap {
                build_ups: pair.map(|zone| build_ups[owners[zone]].0.clone()),
                area: self.area(area),
            }
            .into()),
        }
    }

    /// Zones lie on the surface: a note where they do not wholly, an error where nothing of one does.
    fn on_surface(
        &self,
        surface: &Surface,
        zones: &Zones,
        notes: &mut Vec<String>,
    ) -> Result<(), JobError> {
        let found = match ground_areas(surface, zones) {
            Err(dapedon_core::overlay::OverlayError::Apart) => {
                vec![Default::default(); zones.zones().len()]
            }
            found => found?,
        };
        for (zone, found) in zones.zones().iter().zip(found) {
            let nothing = self.frame.precision().area(&zone.extent());
            if found.plan <= nothing {
                return Err(SurfaceError::ZoneBeyond {
                    zone: zone.name().into(),
                    area: self.area(zone.area()),
                }
                .into());
            }
            if zone.area() - found.plan > nothing {
                notes.push(format!(
                    "{} of the zone \"{}\" are outside the surface, of {}",
                    self.area(zone.area() - found.plan),
                    zone.name(),
                    self.area(zone.area()),
                ));
            }
        }
        Ok(())
    }

    /// An area in words.
    fn area(&self, area: f64) -> String {
        self.units.area_in_words(area)
    }

    /// Slopes of the job, in the unit at hand.
    pub(super) fn slopes(&self, slopes: Slopes) -> Slopes {
        let side = |side: SideSlope| SideSlope {
            run: side.run,
            bench: side.bench.map(|bench| Bench {
                every: self.convert(bench.every),
                width: self.convert(bench.width),
                fall: bench.fall,
            }),
        };
        Slopes {
            cut: side(slopes.cut),
            fill: side(slopes.fill),
            chord: self.convert(slopes.chord),
        }
    }

    fn platform(&self, plan: &PlatformPlan, ground: &Surface) -> Result<RunOut, JobError> {
        Ok(run_out(&self.top(plan)?, ground, self.slopes(plan.slopes))?)
    }

    fn top(&self, plan: &PlatformPlan) -> Result<Top, JobError> {
        let zones = self.zones_of(&plan.outline)?;
        let [KnownZone { zone, .. }] = &zones[..] else {
            return Err(SurfaceError::SeveralZones {
                name: plan.outline.clone(),
                count: zones.len(),
            }
            .into());
        };
        let at = match plan.at {
            Some(at) => {
                let [east, north] = at.map(|value| self.convert(value));
                self.frame.to_local(east, north)
            }
            None => zone.extent().middle(),
        };
        let raised = match &self.raised {
            Some((Raised::Platform(name), by)) if *name == plan.outline => *by,
            _ => 0.0,
        };
        let level = self.convert(plan.level) + raised;
        let rise = plan.rise;
        let height = |place: Place| {
            level + rise[0] * (place.east - at.east) + rise[1] * (place.north - at.north)
        };
        Ok(Top::platform(self.frame, zone, height)?)
    }

    /// By how much a platform stands over the ground within its outline, at least and at most.
    pub(crate) fn over_ground(
        &self,
        plan: &PlatformPlan,
        ground: &Surface,
    ) -> Result<[f64; 2], JobError> {
        let top = Surface::Tin(self.top(plan)?.surface().clone());
        let measured = volume(ground, &top, None, Tolerance::ZERO)?[0].difference;
        Ok(measured.map_or([0.0, 0.0], |found| {
            [found.min.difference, found.max.difference]
        }))
    }

    fn run_out_note(&self, body: &RunOut, done: &mut Step) {
        let symbol = self.frame.unit().symbol();
        for (reach, what) in body.reach.into_iter().zip(["cut", "fill"]) {
            if reach > 0.0 {
                done.notes
                    .push(format!("slopes in {what} run out to {reach:.2} {symbol}"));
            }
        }
        if body.crossing > 0.0 {
            done.notes.push(format!(
                "slopes in cut and in fill overlap on {}: the fill is placed on the cut there",
                self.area(body.crossing)
            ));
        }
    }

    /// What a step changed.
    fn change(&self, before: &Surface, after: &Surface) -> Option<Change> {
        let measured = volume(before, after, None, Tolerance::ZERO).ok()?[0];
        let covered = coverage(&Outline::of(before), &Outline::of(after), None)[0];
        let extent = before.extent().intersection(&after.extent());
        let nothing = self.frame.precision().area(&extent);
        let area = |value: f64| match value > nothing {
            true => self.units.area_of(value),
            false => self.units.area_of(0.0),
        };
        Some(Change {
            area_changed: area(measured.area.cut + measured.area.fill),
            volume_added: self.units.volume_of(measured.volume.fill),
            volume_removed: self.units.volume_of(measured.volume.cut),
            area_added: area(covered.surveyed_only),
            area_removed: match matches!(before, Surface::Level(_)) {
                true => self.units.area_of(0.0),
                false => area(covered.reference_only),
            },
        })
    }

    /// The files of the zones and lines that a step needs.
    fn files_of(&self, step: &StepPlan) -> Vec<InputFile> {
        let job = self.stock.job;
        let mut names: Vec<&String> = step.zones.iter().collect();
        let mut lines: Vec<&String> = Vec::new();
        match &step.act {
            StepAction::Platform(plan) => names.push(&plan.outline),
            StepAction::Embankment(plan) => lines.push(&plan.line),
            StepAction::Swept(plan) => lines.push(&plan.line),
            StepAction::Regrade(plan) => lines.extend(&plan.lines),
            StepAction::BuildUp {
                names: build_ups, ..
            } => {
                let plans = build_ups.iter().filter_map(|name| job?.build_ups.get(name));
                names.extend(plans.flat_map(|plan| &plan.zones));
            }
            _ => {}
        }
        let zones = names.into_iter().filter_map(|name| {
            self.stock
                .zones
                .get(&ZoneSource::Named(name.clone()))?
                .file
                .clone()
        });
        let mut files: Vec<InputFile> = Vec::new();
        let lines = lines.into_iter();
        let lines = lines.filter_map(|name| self.stock.lines.get(name)?.file.clone());
        for file in zones.chain(lines) {
            if !files.contains(&file) {
                files.push(file);
            }
        }
        files
    }
}

/// The other surfaces of a step.
struct Others<'o> {
    /// The one that it is done with.
    other: Option<&'o MadeSurface>,
    /// The one that its line is laid on.
    laid: Option<&'o Surface>,
}

/// A step that lowers by build-ups.
struct Lowering<'l> {
    names: &'l [String],
    down_to: &'l DownTo,
    first_holds: bool,
}
