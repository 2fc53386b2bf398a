//! Judging a built surface that lies over its design.

use dapedon_core::overlay::Overlay;
use dapedon_core::quantities::{
    PatchBeyond as CorePatch, PlaceUncertainty, Tolerance, conformity as within_limits, coverage,
    patches_beyond, slope_conformity, volumes,
};
use dapedon_core::surface::Outline;

use super::crossfall::Along;
use super::findings::findings;
use super::rows::{self, Judged};
use super::{ConformityLimits, DifferenceUncertainty, Judgement, LISTED, PatchesBeyond};
use crate::accuracy::{COVERAGE_FACTOR, StatedAccuracy, SurveyKind};
use crate::conformity_rules::{Acceptance, CrossfallRules, LimitRules};
use crate::error::JobError;
use crate::finding::Finding;
use crate::quantities::measurement::ZoneMeasurement;
use crate::quantities::scene::Scene;
use crate::quantities::uncertainty::Sureness;
use crate::quantities::uncertainty_notes::accuracy_notes;
use crate::site::SiteLine;
use crate::surfaces::{MadeSurface, apart};

/// Pieces of ground beyond a limit that are put together to patches at most: they take some 500 bytes each.
const MOST_PIECES: u64 = 500_000;

/// A design and what was built to it.
pub(crate) struct Held<'h, 'o> {
    pub(crate) made: [&'h MadeSurface; 2],
    pub(crate) overlay: &'h Overlay<'o>,
    pub(crate) scene: &'h Scene,
    /// What is allowed, in the unit measured in.
    pub(crate) limits: &'h LimitRules,
    pub(crate) acceptance: Acceptance,
    /// What is allowed of crossfalls, and their line.
    pub(crate) crossfall: Option<(&'h CrossfallRules, &'h SiteLine)>,
}

/// What was found.
pub(crate) struct Found {
    pub(crate) judged: Judgement,
    /// What was measured, zone by zone.
    pub(super) rows: Vec<ZoneMeasurement>,
    /// All patches beyond, the worst first.
    pub(super) patches: Vec<CorePatch>,
    /// Where both surfaces end.
    pub(super) outlines: [Outline; 2],
    /// What must be known of it.
    pub(crate) warnings: Vec<Finding>,
    pub(super) guard: PlaceUncertainty,
}

/// What is built to is exact, unless something else is said of it.
pub(crate) fn as_design(made: &mut MadeSurface, built: &MadeSurface) -> Result<(), JobError> {
    if made.side.accuracy.is_none() && built.side.accuracy.is_some() {
        let exact = StatedAccuracy::new(Some(SurveyKind::Design), [None; 5])?;
        let unit = made.surface.frame().unit();
        made.state_accuracy(&exact, unit)?;
    }
    Ok(())
}

/// Judges a built surface.
///
/// # Errors
///
/// When the limits contradict each other, or nothing is compared.
pub(crate) fn judged(of: &Held<'_, '_>) -> Result<Found, JobError> {
    let limits = of.limits.checked(of.crossfall.map(|(rules, _)| rules))?;
    let (overlay, scene) = (of.overlay, of.scene);
    let [from, to] = of.made.map(|made| &*made.surface);
    let zones = scene.zones.as_ref();
    let sure = Sureness::of(of.made);
    let known = sure.as_ref().map(place_uncertainty);
    let guard = known.unwrap_or(PlaceUncertainty::NONE);
    let heights = limits
        .heights
        .map(|own| within_limits(overlay, &own, &guard));
    let heights = heights.transpose()?;
    let measured = match &heights {
        Some(found) => found.iter().map(|zone| zone.measured).collect(),
        None => {
            let found = volumes(overlay, &[Tolerance::ZERO])?;
            found.into_iter().flatten().collect::<Vec<_>>()
        }
    };
    if measured.iter().all(|zone| zone.pieces == 0) {
        return Err(apart(from, to, zones));
    }
    let of_points = sure
        .as_ref()
        .map_or(0.0, |sure| COVERAGE_FACTOR * sure.accuracies[1].height);
    let slopes = (limits.slopes).map(|own| slope_conformity(overlay, to, &own, of_points));
    let slopes = slopes.transpose()?;
    let patches = (limits.heights).map(|own| patches_beyond(overlay, &own, MOST_PIECES));
    let patches = patches.transpose()?.flatten();

    let outlines = [Outline::of(from), Outline::of(to)];
    let areas = coverage(&outlines[0], &outlines[1], zones);
    let rows = scene.rows(&measured, &areas);
    let units = scene.units;
    let judged = Judged {
        share: of.limits.share,
        acceptance: match (&sure, of.acceptance) {
            (Some(_), asked) => asked,
            (None, _) => Acceptance::Simple,
        },
        units: &units,
        frame: scene.frame(),
    };
    let zone_rows = judged.zones(&rows, heights.as_deref(), slopes.as_deref());
    let uncertainty = known.map(|by| {
        let all = heights.iter().flatten().filter_map(|zone| zone.uncertainty);
        let all = all.reduce(|a, b| [a[0].min(b[0]), a[1].max(b[1])]);
        let [least, greatest] = all.unwrap_or([by.height; 2]);
        DifferenceUncertainty {
            coverage_factor: COVERAGE_FACTOR,
            least: units.length_of(least),
            greatest: units.length_of(greatest),
        }
    });
    let crossfalls = of.crossfall.map(|(rules, line)| {
        let along = Along {
            made: of.made,
            rules,
            line,
            zones,
            sure: sure.as_ref(),
            acceptance: judged.acceptance,
            share: of.limits.share,
            frame: scene.frame(),
            units: &units,
        };
        along.judged()
    });
    let crossfalls = crossfalls.transpose()?;
    let verdicts = zone_rows.iter().map(|zone| zone.verdict);
    let judgement = Judgement {
        limits: ConformityLimits::of(of.limits, &units),
        acceptance: judged.acceptance,
        verdict: rows::worst(verdicts.chain(crossfalls.iter().map(|own| own.verdict))),
        crossfalls,
        uncertainty,
        total: judged.total(&zone_rows),
        patches: patches.as_ref().map(|found| PatchesBeyond {
            count: found.len(),
            worst: (found.iter().take(LISTED))
                .map(|own| judged.patch(own))
                .collect(),
        }),
        zones: zone_rows,
    };
    let sides = of.made.map(|made| &made.side);
    let mut warnings = accuracy_notes(sides, sure.as_ref(), 0.0, &units);
    let is_told = sure.is_some() || !warnings.is_empty();
    warnings.extend(scene.warnings(&rows, &outlines));
    warnings.extend(findings(&judgement, is_told, zones.is_some()));
    Ok(Found {
        judged: judgement,
        rows,
        patches: patches.unwrap_or_default(),
        outlines,
        warnings,
        guard,
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
