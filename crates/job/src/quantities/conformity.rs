//! Conformity: whether a built surface lies within limits of its design, with the uncertainty of the measurement as a guard band.

mod error;
mod findings;
mod limits;
mod model;
mod points;
mod rows;

use dapedon_core::overlay::Overlay;
use dapedon_core::quantities::{
    PatchBeyond as CorePatch, PlaceUncertainty, SideOfLevel, Tolerance,
    conformity as within_limits, coverage, patches_beyond, slope_conformity, volumes,
};
use dapedon_core::surface::Outline;
use dapedon_formats::RawZone;

use crate::accuracy::{COVERAGE_FACTOR, StatedAccuracy, SurveyKind};
use crate::context::Context;
use crate::error::JobError;
use crate::finding::Code;
use crate::input::{Source, ZoneSource};
use crate::job_file::Job;
use crate::quantities::measurement::Extreme;
use crate::quantities::sanity;
use crate::quantities::scene::Scene;
use crate::quantities::uncertainty::Sureness;
use crate::quantities::uncertainty_notes::accuracy_notes;
use crate::schema::Schema;
use crate::site::Site;
use crate::surfaces::{apart, not_laid};
use crate::watch::Activity;

pub use error::ConformityError;
pub use limits::{LimitRules, Share, Slope};
pub use model::{
    Acceptance, BeyondSide, Conformity, ConformityLimits, ConformityVerdict, DifferenceUncertainty,
    HeightsWithin, PatchBeyond, PatchesBeyond, PointBeyond, PointsBeyond, SlopesWithin,
    ZoneConformity,
};
use rows::Judged;

/// Pieces of ground beyond a limit that are put together to patches at most: they take some 500 bytes each.
const MOST_PIECES: u64 = 500_000;
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
    /// How it is judged.
    pub acceptance: Acceptance,
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
        let limits = request.limits.checked()?;
        let sources = [&request.design, &request.built];
        let mut site = Site::open(context, &sources, &request.zones)?;
        let zones = site.zones(&request.zones)?;
        let mut made = [site.surface(sources[0])?, site.surface(sources[1])?];
        let unit = site.making.units.length;
        for (made, stated) in made.iter_mut().zip(&request.accuracies) {
            if let Some(stated) = stated {
                made.side.accuracy = Some(stated.resolved([unit; 2])?);
            }
        }
        // What is built to is exact, unless something else is said of it.
        let exact = StatedAccuracy::new(Some(SurveyKind::Design), [None; 5])?;
        if made[0].side.accuracy.is_none() && made[1].side.accuracy.is_some() {
            made[0].side.accuracy = Some(exact.resolved([unit; 2])?);
        }
        site.making.warn(&[&made[0], &made[1]]);
        let odd = sanity::of_sides([&made[0], &made[1]]);
        let sure = Sureness::of([&made[0], &made[1]]);
        let guard = sure.as_ref().map(place_uncertainty);
        let units = site.making.units;
        let zones = zones.as_ref();
        let [from, to] = [&*made[0].surface, &*made[1].surface];
        let step = context.watch.next(Activity::Measuring {
            reference: sources[0].to_string(),
            surveyed: sources[1].to_string(),
            number: 1,
            of: 1,
        })?;
        let watch = |share| step.at(share);
        let laid = Overlay::new(from, to, zones);
        let overlay = laid.map_err(|error| not_laid(error, from, to, zones))?;
        let overlay = overlay.watched(&watch);
        let by = guard.unwrap_or(PlaceUncertainty::NONE);
        let heights = limits.heights.map(|own| within_limits(&overlay, &own, &by));
        let heights = step.unless_stopped(heights.transpose())?;
        let measured = match &heights {
            Some(found) => found.iter().map(|zone| zone.measured).collect(),
            None => {
                let found = step.unless_stopped(volumes(&overlay, &[Tolerance::ZERO]))?;
                found.into_iter().flatten().collect::<Vec<_>>()
            }
        };
        if measured.iter().all(|zone| zone.pieces == 0) {
            return Err(apart(from, to, zones));
        }
        let of_points = sure
            .as_ref()
            .map_or(0.0, |sure| COVERAGE_FACTOR * sure.accuracies[1].height);
        let slopes = (limits.slopes).map(|own| slope_conformity(&overlay, to, &own, of_points));
        let slopes = step.unless_stopped(slopes.transpose())?;
        let patches = limits
            .heights
            .map(|own| patches_beyond(&overlay, &own, MOST_PIECES));
        let patches = step.unless_stopped(patches.transpose())?.flatten();

        let outlines = [Outline::of(from), Outline::of(to)];
        let areas = coverage(&outlines[0], &outlines[1], zones);
        let mut scene = Scene::of(
            &site.making,
            [&made[0].surface, &made[1].surface],
            zones.cloned(),
        );
        scene.breaklines = made[1].breaklines.clone();
        scene.rules = limits.heights.as_ref().map(limits::bands);
        let rows = scene.rows(&measured, &areas);
        let judged = Judged {
            share: request.limits.share,
            acceptance: match (&sure, request.acceptance) {
                (Some(_), asked) => asked,
                (None, _) => Acceptance::Simple,
            },
            units: &units,
            frame: scene.frame(),
        };
        let zone_rows = judged.zones(&rows, heights.as_deref(), slopes.as_deref());
        let total = judged.total(&zone_rows);
        let listed = patches.as_ref().map(|found| PatchesBeyond {
            count: found.len(),
            worst: found
                .iter()
                .take(LISTED)
                .map(|own| judged.patch(own))
                .collect(),
        });
        let points = limits
            .heights
            .map(|own| points::beyond(context, &request.built, &made, zones, &own, &by, &units));
        let points = points.transpose()?.flatten();
        if let Some(map) = &context.pictures {
            let kept = scene.keep_drawn(&overlay, &rows, 0.0, map.room);
            step.unless_stopped(kept)?;
        }
        let mut warnings = std::mem::take(&mut site.making.warnings);
        warnings.extend(odd);
        let sides = [&made[0].side, &made[1].side];
        warnings.extend(accuracy_notes(sides, sure.as_ref(), 0.0, &units));
        warnings.extend(site.zone_notes(&request.zones));
        warnings.extend(scene.warnings(&rows, &outlines));
        scene.ends = Some(outlines);
        let uncertainty = guard.map(|_| {
            let all = heights.iter().flatten().filter_map(|zone| zone.uncertainty);
            let all = all.reduce(|a, b| [a[0].min(b[0]), a[1].max(b[1])]);
            let [least, greatest] = all.unwrap_or([by.height; 2]);
            DifferenceUncertainty {
                coverage_factor: COVERAGE_FACTOR,
                least: units.length_of(least),
                greatest: units.length_of(greatest),
            }
        });
        let [design, built] = made.map(|made| made.side);
        let found = Conformity {
            command: "conformity".into(),
            schema: Schema,
            job: context.job.map(Job::facts),
            units,
            design,
            built,
            limits: request.limits.told(&units),
            acceptance: judged.acceptance,
            verdict: rows::worst(zone_rows.iter().map(|zone| zone.verdict)),
            uncertainty,
            zone_files: site.zone_files(&request.zones),
            line_files: std::mem::take(&mut site.making.drawn.files),
            zones: zone_rows,
            total,
            patches: listed,
            points,
            measured: rows,
            warnings: Vec::new(),
        };
        let is_told =
            sure.is_some() || warnings.iter().any(|own| own.code == Code::AccuracyMissing);
        warnings.extend(findings::findings(&found, is_told, zones.is_some()));
        let outlined = patches.iter().flatten().enumerate().map(outline);
        Ok((
            Conformity {
                warnings: context.acknowledged("", warnings),
                ..found
            },
            scene,
            outlined.collect(),
        ))
    })
}

/// How uncertain a difference at a place is: the height of a point of each side counts in full, as it does at the point itself.
fn place_uncertainty(sure: &Sureness) -> PlaceUncertainty {
    let both = sure
        .accuracies
        .map(|own| libm::hypot(own.height, own.common_height));
    let plan = sure
        .accuracies
        .map(|own| libm::hypot(own.plan, own.common_plan));
    PlaceUncertainty {
        height: COVERAGE_FACTOR * libm::hypot(both[0], both[1]),
        plan: plan.map(|own| COVERAGE_FACTOR * own),
    }
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
