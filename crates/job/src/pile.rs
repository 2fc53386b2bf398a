//! Piles and pits, each against its own base.

mod base;
mod error;
mod found;
mod materials;
mod model;
pub(crate) mod outlined;
mod total;
mod yard;

use std::rc::Rc;

use dapedon_core::{
    AreaUnit, LengthUnit, MassUnit, Outline, Surface, Tin, VolumeUnit, Zone, Zones, each_overlap,
};
use dapedon_formats::RawZone;

pub use base::BaseSource;
pub use error::PileError;
pub use found::Clearing;
pub use materials::PileMaterials;
pub use model::{ByBase, Pile, Piles, PilesTotal, Sought, ToeHeights, spread};

use crate::making::Made;
use crate::measurement::Units;
use crate::scene::folds;
use crate::sides::{Ask, Sides};
use crate::{Job, JobError, Reading, Scene, Source, ToldIn, ZoneSource};
use outlined::Outlined;
use total::total;
use yard::Yard;

/// The piles that are asked for.
#[derive(Debug, Clone)]
pub struct PileRequest<'j> {
    /// The job that names stand in.
    pub job: Option<&'j Job>,
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
    /// What the files do not say themselves.
    pub reading: Reading,
    /// The unit to measure in; without one, that of the surface.
    pub length_unit: Option<LengthUnit>,
    /// The unit of areas, for the foot of the survey.
    pub area_unit: Option<fn(LengthUnit) -> AreaUnit>,
    /// The unit of volumes, for the foot of the survey.
    pub volume_unit: Option<fn(LengthUnit) -> VolumeUnit>,
}

/// Where piles are.
#[derive(Debug, Clone, PartialEq)]
pub enum Outlines {
    /// Within these.
    Given(Vec<ZoneSource>),
    /// Where the surface stands clear.
    Found(Clearing),
}

/// Measures piles, or pits, and hands back what they are drawn from, and their outlines.
///
/// # Errors
///
/// When a file cannot be used, there are no piles, or one has no base.
pub fn pile(request: &PileRequest<'_>) -> Result<(Piles, Scene, Vec<RawZone>), JobError> {
    let level = Source::Level(0.0);
    let given: &[ZoneSource] = match &request.outlines {
        Outlines::Given(zones) => zones,
        Outlines::Found(_) => &[],
    };
    let surfaces = request.bases.iter().filter_map(|base| match base {
        BaseSource::Surface(source) => Some(source.clone()),
        _ => None,
    });
    let more: Vec<Source> = surfaces.chain(request.previous.clone()).collect();
    let Sides {
        mut making,
        made: [made, _],
        mut more,
        zones,
        attributes,
        zone_files,
        zone_notes,
        unit,
        survey,
        ..
    } = Sides::of(&Ask {
        job: request.job,
        sources: [&request.surface, &level],
        more: &more,
        zones: given,
        reading: &request.reading,
        length_unit: request.length_unit,
        area_unit: request.area_unit,
        volume_unit: request.volume_unit,
    })?;
    if matches!(*made.surface, Surface::Level(_)) {
        return Err(PileError::Level.into());
    }
    let mut warnings = std::mem::take(&mut making.warnings);
    warnings.extend(zone_notes);
    let (outlines, sought) = match &request.outlines {
        Outlines::Found(clearing) => {
            let (zones, sought, notes) = found::found(
                &made.surface,
                clearing,
                &making,
                request.pit,
                request.reading.memory,
            )?;
            warnings.extend(notes);
            (zones, Some(sought))
        }
        Outlines::Given(_) => {
            let zones = zones.map_or(Vec::new(), |zones| zones.zones().to_vec());
            (zones, None)
        }
    };
    apart(&outlines)?;
    let names: Vec<&str> = outlines.iter().map(Zone::name).collect();
    request.materials.check(&names, &attributes)?;

    let previous = request.previous.as_ref().and_then(|_| more.pop());
    let yard = Yard {
        request,
        scene: Scene::of(&making, [&made.surface, &made.surface], None),
        survey,
        making: &making,
        bases: bases(request, more),
        previous: previous.as_ref(),
    };
    let outline = Outline::of(&made.surface);
    warnings.extend(folds(
        &outline,
        "the surface",
        making.frame,
        making.area_unit,
    ));
    let mut piles = Vec::new();
    let mut below = Vec::new();
    for (index, zone) in outlines.iter().enumerate() {
        let none = Vec::new();
        let said = attributes.get(index).unwrap_or(&none);
        let outlined = Outlined::of(&made.surface, zone.clone());
        let (pile, base) = yard.pile(&outlined, said)?;
        warnings.extend(yard.warnings(&pile));
        piles.push(pile);
        below.push(base);
    }
    let held: f64 = piles.iter().map(|pile| pile.held).sum();
    for pile in &mut piles {
        pile.share = if held > 0.0 { pile.held / held } else { 0.0 };
    }
    let zones = Zones::new(making.frame, outlines);
    let reference = together(&yard.bases[0], &below, &made.surface);
    let scene = Scene::of(&making, [&reference, &made.surface], Some(zones));
    let raw = raw(&scene);
    let base = yard.bases[0].0.clone();
    let mass_unit = (request.job).map_or(MassUnit::usual(survey), |job| job.mass_unit);
    Ok((
        Piles {
            command: "pile",
            job: request.job.map(Job::facts),
            units: Units {
                length: unit.code().into(),
                area: making.area_unit.code(),
                volume: making.volume_unit.code(),
            },
            mass_unit: mass_unit.symbol(),
            pit: request.pit,
            base: base.to_string(),
            base_words: base.words(request.pit),
            base_surfaces: (yard.bases.iter())
                .filter_map(|(_, made)| made.as_ref().map(|made| made.side.clone()))
                .collect(),
            previous: previous.as_ref().map(|made| made.side.clone()),
            surface: made.side,
            zone_files,
            sought,
            total: (piles.len() > 1).then(|| total(&piles)),
            zones: piles,
            warnings,
            told_in: ToldIn {
                length: unit,
                area: making.area_unit,
                volume: making.volume_unit,
                decimals: scene.decimals,
            },
        },
        scene,
        raw,
    ))
}

/// The bases that are asked for, then those that they are compared with, each with what it was made to.
fn bases(request: &PileRequest<'_>, made: Vec<Made>) -> Vec<(BaseSource, Option<Made>)> {
    let mut made = made.into_iter();
    let mut bases: Vec<(BaseSource, Option<Made>)> = Vec::new();
    for base in &request.bases {
        let own = match base {
            BaseSource::Surface(_) => made.next(),
            _ => None,
        };
        bases.push((base.clone(), own));
    }
    for base in BaseSource::OF_TOE {
        if !bases.iter().any(|(known, _)| *known == base) {
            bases.push((base, None));
        }
    }
    bases
}

/// No two of them share ground.
pub(crate) fn apart(outlines: &[Zone]) -> Result<(), PileError> {
    let mut found = None;
    each_overlap(
        outlines,
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
    (_, made): &(BaseSource, Option<Made>),
    below: &[Rc<Surface>],
    surface: &Rc<Surface>,
) -> Rc<Surface> {
    let tins = below.iter().filter_map(|base| match &**base {
        Surface::Tin(tin) => Some(tin),
        _ => None,
    });
    match (made, Tin::side_by_side(tins)) {
        (Some(made), _) => made.surface.clone(),
        (None, Some(tin)) => Rc::new(Surface::Tin(tin)),
        (None, None) => surface.clone(),
    }
}

/// The outlines as a file holds them.
fn raw(scene: &Scene) -> Vec<RawZone> {
    let frame = scene.frame();
    let zones = scene.zones.iter().flat_map(|zones| zones.zones());
    zones.map(|zone| RawZone::of(zone, frame)).collect()
}
