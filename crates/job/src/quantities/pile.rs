//! Piles and pits, each against its own base.

pub(crate) mod between_points;
mod error;
pub(crate) mod flank;
mod found;
mod materials;
mod model;
pub(crate) mod outlined;
mod survey;
mod total;
pub(crate) mod uncertain;

use std::sync::Arc;

use dapedon_core::plan::Precision;
use dapedon_core::quantities::each_overlap;
use dapedon_core::surface::{Outline, Surface, Tin};
use dapedon_core::units::MassUnit;
use dapedon_core::zones::{Zone, Zones};
use dapedon_formats::RawZone;

pub use error::PileError;
pub use found::PileSearch;
pub use materials::PileMaterials;
pub use model::{Pile, Piles, PilesTotal, SearchRules, ToeHeights, VolumeByBase, spread};

use crate::accuracy::{COVERAGE_FACTOR, StatedAccuracy};
use crate::context::Context;
use crate::error::JobError;
use crate::input::{BaseSource, Source, ZoneSource};
use crate::job_file::Job;
use crate::quantities::between_points::{no_uncertainty, not_known};
use crate::quantities::scene::{Scene, folds};
use crate::schema::Schema;
use crate::site::{Site, no_end};
use crate::surfaces::MadeSurface;
use crate::watch::Activity;
use between_points::LeftOut;
use flank::on_flank;
use outlined::Outlined;
use survey::PileSurvey;
use total::total;

/// The piles that are asked for.
#[derive(Debug, Clone)]
pub struct PileRequest {
    /// The surface they are part of.
    pub surface: Source,
    /// Where they are.
    pub outlines: Outlines,
    /// What counts lies below the base.
    pub pit: bool,
    /// What they are taken to stand on; the first one counts, the others are compared with it.
    pub bases: Vec<BaseSource>,
    /// The bases must be comparable.
    pub compare: bool,
    /// The survey before.
    pub previous: Option<Source>,
    /// What they are made of.
    pub materials: PileMaterials,
    /// How accurate the surface is, in the unit measured in, in place of what the job says.
    pub accuracy: Option<StatedAccuracy>,
    /// What the spacing of points leaves out is measured, as part of the uncertainty.
    pub between_points: bool,
}

/// Where piles are.
#[derive(Debug, Clone, PartialEq)]
pub enum Outlines {
    /// Within these.
    Given(Vec<ZoneSource>),
    /// Where the surface rises above its surroundings.
    Found(PileSearch),
}

/// Measures piles, or pits, and hands back what they are drawn from, and their outlines.
///
/// # Errors
///
/// When a file cannot be used, there are no piles, or one has no base.
pub fn pile(
    context: &Context<'_>,
    request: &PileRequest,
) -> Result<(Piles, Scene, Vec<RawZone>), JobError> {
    context.run(|| {
        let given: &[ZoneSource] = match &request.outlines {
            Outlines::Given(zones) => zones,
            Outlines::Found(_) => &[],
        };
        let surfaces = request.bases.iter().filter_map(|base| match base {
            BaseSource::Surface(source) => Some(source),
            _ => None,
        });
        let needed: Vec<&Source> = [&request.surface]
            .into_iter()
            .chain(surfaces)
            .chain(&request.previous)
            .collect();
        let opened = Site::open(context, &needed, given);
        let mut site = opened.map_err(|error| no_end(error, PileError::Level))?;
        let mut made = site.surface(&request.surface)?;
        if let Some(stated) = &request.accuracy {
            let unit = site.making.units.length;
            made.state_accuracy(stated, unit)?;
        }
        let bases = bases(&mut site, request)?;
        let previous = (request.previous.as_ref()).map(|source| site.surface(source));
        let previous = previous.transpose()?;
        site.making.warn(&[&made]);
        if matches!(*made.surface, Surface::Level(_)) {
            return Err(PileError::Level.into());
        }
        let mut warnings = std::mem::take(&mut site.making.warnings);
        warnings.extend(site.zone_notes(given));
        let attributes = site.attributes(given);
        let (making, survey) = (&site.making, site.survey);
        let (outlines, sought) = match &request.outlines {
            Outlines::Found(clearing) => {
                let (zones, sought, notes) = found::found(
                    &made.surface,
                    clearing,
                    making,
                    request.pit,
                    context.reading.memory,
                )?;
                warnings.extend(notes);
                (zones, Some(sought))
            }
            Outlines::Given(zones) => {
                let zones = site.zones(zones)?;
                let zones = zones.map_or(Vec::new(), |zones| zones.zones().to_vec());
                (zones, None)
            }
        };
        apart(&outlines, making.frame.precision())?;
        let names: Vec<&str> = outlines.iter().map(Zone::name).collect();
        request.materials.check(&names, &attributes)?;

        let left_out = match request.between_points {
            true => {
                let own = |(base, made): &(BaseSource, Option<MadeSurface>)| {
                    (base.clone(), made.as_ref().map(|made| made.surface.clone()))
                };
                let bases: Vec<_> = bases.iter().map(own).collect();
                let step = context.watch.next(Activity::LeavingOutPoints)?;
                let found = step.unless_stopped(LeftOut::of(&made, &outlines, &bases))?;
                if found.is_none() {
                    warnings.push(match made.side.accuracy {
                        Some(_) => not_known(&made.side),
                        None => no_uncertainty(),
                    });
                }
                found
            }
            false => None,
        };
        let yard = PileSurvey {
            left_out,
            context,
            request,
            scene: Scene::of(making, [&made.surface, &made.surface], None),
            survey,
            making,
            surface: &made,
            bases,
            previous: previous.as_ref(),
        };
        let outline = Outline::of(&made.surface);
        warnings.extend(folds(&outline, "the surface", making.frame, &making.units));
        let mut piles = Vec::new();
        let mut below = Vec::new();
        for (index, zone) in outlines.iter().enumerate() {
            let none = Vec::new();
            let said = attributes.get(index).unwrap_or(&none);
            let outlined = Outlined::of(&made.surface, zone.clone());
            let (pile, base) = yard.pile(index, &outlined, said)?;
            warnings.extend(yard.warnings(&pile));
            if sought.is_none() {
                warnings.extend(on_flank(&made.surface, &outlined, request.pit));
            }
            piles.push(pile);
            below.push(base);
        }
        let held: f64 = piles.iter().map(|pile| pile.pile_volume.value).sum();
        for pile in &mut piles {
            pile.share = if held > 0.0 {
                pile.pile_volume.value / held
            } else {
                0.0
            };
        }
        let zones = Zones::new(making.frame, outlines);
        let reference = together(&yard.bases[0], &below, &made.surface);
        let mut scene = Scene::of(making, [&reference, &made.surface], Some(zones));
        scene.breaklines = made.breaklines.clone();
        let raw = raw(&scene);
        let base = yard.bases[0].0.clone();
        let mass_unit = (context.job).map_or(MassUnit::usual(survey), |job| job.mass_unit);
        Ok((
            Piles {
                command: "pile".into(),
                schema: Schema,
                job: context.job.map(Job::facts),
                units: making.units,
                mass_unit: mass_unit.symbol().into(),
                pit: request.pit,
                base: base.to_string(),
                base_description: base.words(request.pit),
                base_surfaces: (yard.bases.iter())
                    .filter_map(|(_, made)| made.as_ref().map(|made| made.side.clone()))
                    .collect(),
                previous: previous.as_ref().map(|made| made.side.clone()),
                coverage_factor: (made.side.accuracy.as_ref())
                    .filter(|own| !own.is_exact())
                    .map(|_| COVERAGE_FACTOR),
                surface: made.side,
                zone_files: site.zone_files(given),
                line_files: making.drawn.files.clone(),
                search: sought,
                total: (piles.len() > 1)
                    .then(|| total(&piles, &making.units))
                    .transpose()?,
                zones: piles,
                warnings: context.acknowledged("", warnings),
            },
            scene,
            raw,
        ))
    })
}

/// The bases that are asked for, then those that they are compared with, each with what it was made to.
fn bases(
    site: &mut Site<'_>,
    request: &PileRequest,
) -> Result<Vec<(BaseSource, Option<MadeSurface>)>, JobError> {
    let mut bases: Vec<(BaseSource, Option<MadeSurface>)> = Vec::new();
    for base in &request.bases {
        let own = match base {
            BaseSource::Surface(source) => Some(site.surface(source)?),
            _ => None,
        };
        bases.push((base.clone(), own));
    }
    for base in BaseSource::OF_TOE {
        if !bases.iter().any(|(known, _)| *known == base) {
            bases.push((base, None));
        }
    }
    Ok(bases)
}

/// No two of them share ground.
pub(crate) fn apart(outlines: &[Zone], precision: Precision) -> Result<(), PileError> {
    let mut found = None;
    each_overlap(
        outlines,
        precision,
        |_| true,
        |pair, _| {
            found = Some(pair.map(|index| outlines[index].name().to_owned()));
            false
        },
    );
    match found {
        None => Ok(()),
        Some(names) => Err(PileError::Overlap { names }),
    }
}

/// The bases of all piles as one surface, to be drawn.
fn together(
    (_, made): &(BaseSource, Option<MadeSurface>),
    below: &[Arc<Surface>],
    surface: &Arc<Surface>,
) -> Arc<Surface> {
    let tins = below.iter().filter_map(|base| match &**base {
        Surface::Tin(tin) => Some(tin),
        _ => None,
    });
    match (made, Tin::side_by_side(tins)) {
        (Some(made), _) => made.surface.clone(),
        (None, Some(tin)) => Arc::new(Surface::Tin(tin)),
        (None, None) => surface.clone(),
    }
}

/// The outlines as a file holds them.
fn raw(scene: &Scene) -> Vec<RawZone> {
    let frame = scene.frame();
    let zones = scene.zones.iter().flat_map(|zones| zones.zones());
    zones.map(|zone| RawZone::of(zone, frame)).collect()
}
