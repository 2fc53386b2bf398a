//! Built surfaces of a job held against their designs.

use dapedon_core::overlay::Overlay;
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use super::inputs::BillInputs;
use crate::error::JobError;
use crate::finding::Finding;
use crate::input::ZoneSource;
use crate::job_file::{ConformityPlan, Job};
use crate::quantities::Scene;
use crate::quantities::conformity::{Held, Judgement, as_design, judged};
use crate::quantities::sanity;
use crate::surfaces::not_laid;

/// A built surface of the job held against its design.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, JsonSchema)]
#[non_exhaustive]
pub struct BillConformity {
    /// What is checked, in words.
    pub description: String,
    /// The design.
    pub design: String,
    /// What was built.
    pub built: String,
    /// What follows, and from what.
    #[serde(flatten)]
    pub judged: Judgement,
    /// The line of the job file it stands in.
    pub job_file_line: usize,
}

/// Judges all built surfaces of a job that are to be checked, and says what must be known of them.
pub(super) fn all(
    desk: &mut BillInputs<'_>,
    job: &Job,
) -> Result<(Vec<BillConformity>, Vec<Finding>), JobError> {
    let (mut all, mut said) = (Vec::new(), Vec::new());
    for plan in &job.conformity {
        let found = held(desk, plan);
        let (found, findings) = found.map_err(|error| error.in_job(&plan.spot))?;
        all.push(found);
        said.extend(findings);
    }
    Ok((all, said))
}

fn held(
    desk: &mut BillInputs<'_>,
    plan: &ConformityPlan,
) -> Result<(BillConformity, Vec<Finding>), JobError> {
    let [design, built] = &plan.sides;
    let built = &desk.made[desk.number(built)?].1;
    let mut design = desk.made[desk.number(design)?].1.clone();
    as_design(&mut design, built)?;
    desk.site.making.warn(&[&design, built]);
    let odd = sanity::of_sides([&design, built]);
    desk.site.making.warnings.extend(odd);
    let own = plan.zones.iter().cloned().map(ZoneSource::Named);
    let zones = desk.site.zones(&own.collect::<Vec<_>>())?;
    let along = plan.crossfall.as_ref();
    let along = along.map(|rules| Ok::<_, JobError>((rules, desk.site.line(&rules.line)?)));
    let along = along.transpose()?;
    let (from, to) = (&*design.surface, &*built.surface);
    let laid = Overlay::new(from, to, zones.as_ref());
    let overlay = laid.map_err(|error| not_laid(error, from, to, zones.as_ref()))?;
    let surfaces = [&design.surface, &built.surface];
    let scene = Scene::of(&desk.site.making, surfaces, zones.clone());
    let found = judged(&Held {
        made: [&design, built],
        overlay: &overlay,
        scene: &scene,
        limits: &plan.limits,
        acceptance: plan.acceptance,
        crossfall: along.as_ref().map(|(rules, line)| (*rules, line)),
    })?;
    let [design, built] = plan.sides.each_ref().map(ToString::to_string);
    let at = format!("conformity \"{}\"", plan.description);
    let told = BillConformity {
        description: plan.description.clone(),
        design,
        built,
        judged: found.judged,
        job_file_line: plan.spot.line,
    };
    let said = found.warnings.into_iter().map(|finding| finding.at(&at));
    Ok((told, said.collect()))
}
