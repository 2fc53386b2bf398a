//! How dense a survey must be for a wanted uncertainty of a volume.

use dapedon_core::plan::round_up;
use dapedon_core::quantities::{PlannedSurvey, planned_survey};
use dapedon_core::zones::Zones;
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use crate::accuracy::{COVERAGE_FACTOR, StatedAccuracy, SurfaceAccuracy};
use crate::context::Context;
use crate::error::{JobError, job_error};
use crate::figure::{Area, Length, Volume};
use crate::finding::{Code, Finding};
use crate::input::{InputFile, Source, ZoneSource};
use crate::job_file::{Job, JobFacts};
use crate::quantities::uncertainty::UncertaintyParts;
use crate::schema::{Schema, Word};
use crate::site::Site;
use crate::surfaces::SurfaceFacts;
use crate::units::ReportUnits;
use crate::watch::Activity;

/// Spacings that are tried without being asked for, at most; and how many of them are finer than is needed.
const TRIED: usize = 16;
const FINER: usize = 2;
/// Points of a survey that is tried without being asked for, at most.
const POINTS: usize = 200_000;
/// Spacings that are shown where none can be enough.
const IN_VAIN: usize = 6;
/// Round spacings, as parts of a power of ten.
const ROUND: [f64; 6] = [10.0, 7.0, 5.0, 3.0, 2.0, 1.5];

/// The survey that is planned.
#[derive(Debug, Clone)]
pub struct SurveyPlanRequest {
    /// Ground of the shape that will be surveyed: a design, or an earlier survey.
    pub surface: Source,
    /// Where a volume is wanted.
    pub zones: Vec<ZoneSource>,
    /// How accurate points will be, in the unit measured in.
    pub accuracy: StatedAccuracy,
    /// The uncertainty that the volume is to have at 95 %, in the volume unit of the results.
    pub wanted: Option<f64>,
    /// Spacings to look at, in the unit measured in; round ones where there are none.
    pub spacings: Vec<f64>,
}

/// How uncertain the volume over some zones will be by the spacing of points.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, JsonSchema)]
#[non_exhaustive]
pub struct SurveyPlan {
    /// The command: `plan`.
    pub command: Word,
    /// The version of its schema.
    pub schema: Schema,
    /// The job whose names were used.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub job: Option<JobFacts>,
    /// The units of all figures.
    pub units: ReportUnits,
    /// Ground of the shape that will be surveyed.
    pub surface: SurfaceFacts,
    /// The zones, by their names.
    pub zones: Vec<String>,
    /// The files the zones come from.
    pub zone_files: Vec<InputFile>,
    /// The plan area of all zones.
    pub area: Area,
    /// How accurate points will be.
    pub accuracy: SurfaceAccuracy,
    /// How many standard uncertainties are shown with ±.
    pub coverage_factor: f64,
    /// The uncertainty that is wanted: expanded.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub wanted: Option<Volume>,
    /// The widest spacing that is enough, as all finer ones are that were looked at.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub spacing: Option<Length>,
    /// By spacing, from the widest.
    pub spacings: Vec<PlannedSpacing>,
    /// What the reader must know before trusting a figure.
    pub warnings: Vec<Finding>,
}

/// How uncertain the volume will be with some spacing: standard uncertainties.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct PlannedSpacing {
    /// From point to point on a grid.
    pub spacing: Length,
    /// Points in the zones.
    pub points: usize,
    /// All of it.
    pub standard: Volume,
    /// What makes it.
    pub parts: UncertaintyParts,
}

impl PlannedSpacing {
    fn of(found: &PlannedSurvey, units: &ReportUnits) -> Self {
        PlannedSpacing {
            spacing: units.length_of(found.spacing),
            points: found.points,
            standard: units.volume_of(found.standard()),
            parts: UncertaintyParts {
                between_points: Some(units.volume_of(found.between_points)),
                ..UncertaintyParts::of(&found.parts, units)
            },
        }
    }
}

/// Looks how uncertain a volume will be with points at several spacings.
///
/// # Errors
///
/// When a file cannot be used, or no spacing makes a survey of the zones.
pub fn survey_plan(
    context: &Context<'_>,
    request: &SurveyPlanRequest,
) -> Result<SurveyPlan, JobError> {
    context.run(|| {
        let mut site = Site::open(context, &[&request.surface], &request.zones)?;
        let zones = site.zones(&request.zones)?.ok_or(SurveyPlanError::NoZone)?;
        let made = site.surface(&request.surface)?;
        let units = site.making.units;
        let accuracy = request.accuracy.resolved([units.length; 2], None)?;
        let wanted = request
            .wanted
            .map(|wanted| Volume::new(wanted, units.volume));
        let step = context.watch.next(Activity::Measuring {
            reference: request.surface.to_string(),
            surveyed: "the planned survey".into(),
            number: 1,
            of: 1,
        })?;
        let enough = |own: &PlannedSpacing| {
            wanted.is_some_and(|wanted| COVERAGE_FACTOR * own.standard.value <= wanted.value)
        };
        let mut found: Vec<PlannedSpacing> = Vec::new();
        let mut finer = 0;
        for spacing in spacings(request, &zones) {
            let own = planned_survey(&made.surface, &zones, spacing, &accuracy.numbers());
            let own = step.unless_stopped(own.map_err(JobError::from))?;
            let Some(own) = own else { continue };
            found.push(PlannedSpacing::of(&own, &units));
            if request.spacings.is_empty() {
                finer = match found.last().is_some_and(enough) {
                    true => finer + 1,
                    false => 0,
                };
                let common = found.last().map_or(0.0, common);
                let in_vain = wanted.is_some_and(|wanted| common > wanted.value);
                let points = found.last().map_or(0, |own| own.points);
                let most = if in_vain { IN_VAIN } else { TRIED };
                if finer > FINER || found.len() >= most || points > POINTS {
                    break;
                }
            }
        }
        if found.is_empty() {
            return Err(SurveyPlanError::NoSurvey.into());
        }
        let fine = found.iter().rev().take_while(|own| enough(own)).last();
        let spacing = fine.map(|own| own.spacing);
        let mut warnings = std::mem::take(&mut site.making.warnings);
        warnings.extend(site.zone_notes(&request.zones));
        if let (Some(wanted), None) = (wanted, spacing) {
            warnings.push(not_reached(wanted, &found));
        }
        Ok(SurveyPlan {
            command: "plan".into(),
            schema: Schema,
            job: context.job.map(Job::facts),
            units,
            surface: made.side,
            zones: zones
                .zones()
                .iter()
                .map(|zone| zone.name().into())
                .collect(),
            zone_files: site.zone_files(&request.zones),
            area: units.area_of(zones.zones().iter().map(|zone| zone.area()).sum()),
            accuracy,
            coverage_factor: COVERAGE_FACTOR,
            wanted,
            spacing,
            spacings: found,
            warnings: context.acknowledged("", warnings),
        })
    })
}

/// The spacings to look at, from the widest: those that are asked for, or round ones from half of the zones' shorter side down.
fn spacings(request: &SurveyPlanRequest, zones: &Zones) -> Vec<f64> {
    if !request.spacings.is_empty() {
        let mut asked = request.spacings.clone();
        asked.sort_by(|a, b| b.total_cmp(a));
        asked.dedup();
        return asked;
    }
    let extent = zones.extent();
    let widest = extent.width().min(extent.height()) / 2.0;
    let power = libm::log10(round_up(widest)).ceil() as i32;
    let all = (0..=8).flat_map(|down| ROUND.map(|part| part * 10f64.powi(power - 1 - down)));
    all.filter(|&spacing| spacing <= widest)
        .take(3 * TRIED)
        .collect()
}

/// What all points have in common: expanded, and the same with any spacing.
fn common(own: &PlannedSpacing) -> f64 {
    let [_, _, height, place, _] = own.parts.each();
    COVERAGE_FACTOR * libm::hypot(height.value, place.value)
}

/// Where no spacing is enough: what is left by the finest.
fn not_reached(wanted: Volume, found: &[PlannedSpacing]) -> Finding {
    let symbol = wanted.unit.symbol();
    let common = found.last().map_or(0.0, common);
    if common >= wanted.value {
        let words = format!(
            "what all points have in common makes ±{common:.1} {symbol} with any spacing, more than the ±{:.1} {symbol} that are wanted",
            wanted.value
        );
        return Finding::new(Code::PlanNotReached, words)
            .remedy("plan a better setup and datum, or check against ground that nobody touches");
    }
    let words = format!(
        "no spacing that was looked at is enough for ±{:.1} {symbol}",
        wanted.value
    );
    Finding::new(Code::PlanNotReached, words).remedy("look at finer ones with --spacing")
}

/// Why there is no plan.
#[derive(Debug, thiserror::Error, strum::IntoStaticStr)]
#[strum(serialize_all = "kebab-case")]
#[non_exhaustive]
pub enum SurveyPlanError {
    /// No zone is given.
    #[error("no zone is given")]
    NoZone,
    /// No spacing makes a survey of the zones.
    #[error("no spacing makes a survey of the zones on this surface")]
    NoSurvey,
}

impl SurveyPlanError {
    fn remedy(&self) -> String {
        match self {
            SurveyPlanError::NoZone => "say where a volume is wanted, with --zone".into(),
            SurveyPlanError::NoSurvey => {
                "use zones on the surface, and spacings that are smaller than they are but make a million points at most".into()
            }
        }
    }
}

dapedon_diagnostic::diagnostic!(SurveyPlanError, "plan");
job_error!(SurveyPlanError);
