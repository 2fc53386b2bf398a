//! Conformity: whether a built surface lies within limits of its design, with the uncertainty of the measurement as a guard band.

mod crossfall;
mod findings;
mod judging;
mod map_bands;
mod model;
mod points;
mod rows;

use dapedon_core::overlay::Overlay;
use dapedon_core::quantities::{PatchBeyond as CorePatch, SideOfLevel};
use dapedon_formats::RawZone;

use crate::accuracy::StatedAccuracy;
use crate::conformity_rules::{Acceptance, ConformityError, CrossfallRules, LimitRules};
use crate::context::Context;
use crate::error::JobError;
use crate::input::{Source, ZoneSource};
use crate::job_file::Job;
use crate::quantities::measurement::Extreme;
use crate::quantities::sanity;
use crate::quantities::scene::Scene;
use crate::schema::Schema;
use crate::site::Site;
use crate::surfaces::not_laid;
use crate::watch::Activity;

pub(crate) use judging::{Held, as_design, judged};
pub(crate) use map_bands::bands as bands_of_limits;
pub use model::{
    BeyondSide, Conformity, ConformityLimits, ConformityVerdict, CrossfallAt, CrossfallsWithin,
    DifferenceUncertainty, HeightsWithin, Judgement, PatchBeyond, PatchesBeyond, PointBeyond,
    PointsBeyond, SideOfLine, SlopesWithin, ZoneConformity,
};

/// Patches and points that are listed at most.
const LISTED: usize = 20;

/// What is to conform, and to what.
#[derive(Debug, Clone)]
pub struct ConformityRequest {
    /// The design.
    pub design: Source,
    /// What was built.
    pub built: Source,
    /// Within these zones.
    pub zones: Vec<ZoneSource>,
    /// What is allowed, in the unit measured in.
    pub limits: LimitRules,
    /// What is allowed of crossfalls, in the unit measured in.
    pub crossfall: Option<CrossfallRules>,
    /// How it is judged.
    pub acceptance: Acceptance,
    /// Outlines of the ground beyond the limits are wanted.
    pub outlined: bool,
    /// How accurate the design and the built surface are, in place of what the job says.
    pub accuracies: [Option<StatedAccuracy>; 2],
}

/// Judges a built surface, and hands back the surfaces for drawing and the outlines of what lies beyond, the worst first.
///
/// # Errors
///
/// When a file cannot be used, the two sides cannot be compared, or the limits contradict each other.
pub fn conformity(
    context: &Context<'_>,
    request: &ConformityRequest,
) -> Result<(Conformity, Scene, Vec<RawZone>), JobError> {
    context.run(|| {
        let limits = request.limits.checked(request.crossfall.as_ref())?;
        let sources = [&request.design, &request.built];
        let mut site = Site::open(context, &sources, &request.zones)?;
        let zones = site.zones(&request.zones)?;
        let mut made = [site.surface(sources[0])?, site.surface(sources[1])?];
        let units = site.making.units;
        for (made, stated) in made.iter_mut().zip(&request.accuracies) {
            if let Some(stated) = stated {
                made.state_accuracy(stated, units.length)?;
            }
        }
        let [design, built] = &mut made;
        as_design(design, built)?;
        site.making.warn(&[&made[0], &made[1]]);
        let odd = sanity::of_sides([&made[0], &made[1]]);
        let along = request.crossfall.as_ref();
        let along = along.map(|rules| Ok::<_, JobError>((rules, site.line(&rules.line)?)));
        let along = along.transpose()?;
        let [from, to] = [&*made[0].surface, &*made[1].surface];
        let step = context.watch.next(Activity::Measuring {
            reference: sources[0].to_string(),
            surveyed: sources[1].to_string(),
            number: 1,
            of: 1,
        })?;
        let watch = |share| step.at(share);
        let laid = Overlay::new(from, to, zones.as_ref());
        let overlay = laid.map_err(|error| not_laid(error, from, to, zones.as_ref()))?;
        let overlay = overlay.watched(&watch);
        let mut scene = Scene::of(
            &site.making,
            [&made[0].surface, &made[1].surface],
            zones.clone(),
        );
        scene.breaklines = made[1].breaklines.clone();
        scene.rules = limits.heights.as_ref().map(map_bands::bands);
        let found = judged(&Held {
            made: [&made[0], &made[1]],
            overlay: &overlay,
            scene: &scene,
            limits: &request.limits,
            acceptance: request.acceptance,
            crossfall: along.as_ref().map(|(rules, line)| (*rules, line)),
        });
        let found = step.unless_stopped(found)?;
        if request.outlined && found.judged.patches.is_none() {
            return Err(match limits.heights {
                Some(_) => ConformityError::ManyPieces,
                None => ConformityError::NoHeights,
            }
            .into());
        }
        let points = limits.heights.map(|own| {
            let (zones, by) = (zones.as_ref(), &found.guard);
            points::beyond(context, &request.built, &made, zones, &own, by, &units)
        });
        let points = points.transpose()?.flatten();
        if let Some(map) = &context.pictures {
            let kept = scene.keep_drawn(&overlay, &found.rows, 0.0, map.room);
            step.unless_stopped(kept)?;
        }
        let mut warnings = std::mem::take(&mut site.making.warnings);
        warnings.extend(odd);
        warnings.extend(site.zone_notes(&request.zones));
        warnings.extend(found.warnings);
        scene.ends = Some(found.outlines);
        let outlined = found.patches.iter().enumerate().map(outline).collect();
        let [design, built] = made.map(|made| made.side);
        let conformity = Conformity {
            command: "conformity".into(),
            schema: Schema,
            job: context.job.map(Job::facts),
            units,
            design,
            built,
            judged: found.judged,
            zone_files: site.zone_files(&request.zones),
            line_files: std::mem::take(&mut site.making.drawn.files),
            points,
            measured: found.rows,
            warnings: context.acknowledged("", warnings),
        };
        Ok((conformity, scene, outlined))
    })
}

/// A patch as a zone, with the name it has in tables.
fn outline((index, patch): (usize, &CorePatch)) -> RawZone {
    RawZone {
        name: format!("{} {}", index + 1, side(patch.side).words()),
        parts: patch.parts.clone(),
        ..RawZone::default()
    }
}

fn side(of: SideOfLevel) -> BeyondSide {
    match of {
        SideOfLevel::Above => BeyondSide::Above,
        SideOfLevel::Below => BeyondSide::Below,
    }
}
