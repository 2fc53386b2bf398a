//! Surveys of a bill compared on ground that nobody touched, and what their shift would do to each item.

use dapedon_core::zones::Zones;
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use super::inputs::BillInputs;
use super::kinds::ItemMeasurement;
use super::model::BillItem;
use crate::error::JobError;
use crate::figure::{Area, Volume};
use crate::input::{Source, ZoneSource};
use crate::job_file::{ItemPlan, Job, UntouchedPlan};
use crate::quantities::uncertainty::Sureness;
use crate::quantities::untouched::{self, Surveys, Untouched};
use crate::zones::KnownZone;

/// Two surveys of the job, compared on ground that nobody touched.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, JsonSchema)]
#[non_exhaustive]
pub struct BillUntouched {
    /// The earlier survey.
    pub reference: String,
    /// The later one.
    pub surveyed: String,
    /// How they compare.
    pub compared: Untouched,
    /// What items would change by without the shift, to first order. None where the surveys agree.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub items: Vec<ItemChange>,
    /// The line of the job file it stands in.
    pub job_file_line: usize,
}

/// What an item would change by.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, JsonSchema)]
#[non_exhaustive]
pub struct ItemChange {
    /// The item.
    pub code: String,
    /// By how much what is measured would grow.
    pub change: Volume,
}

/// Compares all surveys of a job that are to be compared, once all items have been measured.
pub(super) fn all(
    desk: &mut BillInputs<'_>,
    job: &Job,
    plans: &[&ItemPlan],
    asked: &[Box<dyn ItemMeasurement>],
    measured: &[BillItem],
) -> Result<Vec<BillUntouched>, JobError> {
    let items = plans.iter().zip(asked).zip(measured);
    let items = items.map(|((plan, asked), item)| (*plan, &**asked, item));
    let items: Vec<_> = items.collect();
    let found = job.untouched.iter().map(|plan| {
        let found = compared(desk, plan, &items);
        found.map_err(|error| error.in_job(&plan.spot))
    });
    found.collect()
}

/// Compares the surveys of a plan; `items` have been measured.
fn compared(
    desk: &mut BillInputs<'_>,
    plan: &UntouchedPlan,
    items: &[(&ItemPlan, &dyn ItemMeasurement, &BillItem)],
) -> Result<BillUntouched, JobError> {
    let units = desk.site.making.units;
    let [from, to] = &plan.sides;
    let made = [desk.number(from)?, desk.number(to)?].map(|number| &desk.made[number].1);
    let sure = Sureness::of(made);
    let surveys = Surveys {
        surfaces: made.map(|made| &*made.surface),
        sure: sure.as_ref(),
        units: &units,
    };
    let own: Vec<ZoneSource> = plan.zones.iter().map(|name| named(name)).collect();
    let own = desk.site.zones(&own)?;
    let own = own.ok_or(untouched::UntouchedError::NoZone)?;
    let paid_on = paid_on(desk, items, to)?;
    let (found, _) = untouched::compared(&surveys, &own, Some(&paid_on))?;
    let names = plan.sides.each_ref().map(ToString::to_string);
    let warnings = untouched::findings(&found, names.each_ref().map(String::as_str));
    let changes = items.iter().filter_map(|(plan, asked, item)| {
        let raised_by = -found.whole().filter(|_| found.is_shifted())?.mean.value;
        let change = change(plan, *asked, item, to, raised_by)?;
        Some(ItemChange {
            code: item.code.clone(),
            change: units.volume_of(change),
        })
    });
    let changes = changes.collect();
    desk.site.making.warnings.extend(warnings);
    let [reference, surveyed] = names;
    Ok(BillUntouched {
        reference,
        surveyed,
        compared: found,
        items: changes,
        job_file_line: plan.spot.line,
    })
}

fn named(name: &str) -> ZoneSource {
    ZoneSource::Named(name.to_owned())
}

/// The zones of all items that are measured from or to a survey, each once.
fn paid_on(
    desk: &BillInputs<'_>,
    items: &[(&ItemPlan, &dyn ItemMeasurement, &BillItem)],
    survey: &Source,
) -> Result<Zones, JobError> {
    let mut known: Vec<KnownZone> = Vec::new();
    for (item, ..) in items {
        if !item.what.kind().surfaces().contains(survey) {
            continue;
        }
        for name in item.what.zone_names() {
            for zone in desk.site.making.known(&named(name))? {
                if known.iter().all(|other| other.origin != zone.origin) {
                    known.push(zone);
                }
            }
        }
    }
    let zones = known.into_iter().map(|known| known.zone);
    Ok(Zones::new(desk.site.making.frame, zones.collect()))
}

/// By how much what an item counts grows where a survey is raised, to first order.
fn change(
    plan: &ItemPlan,
    asked: &dyn ItemMeasurement,
    item: &BillItem,
    survey: &Source,
    raised_by: f64,
) -> Option<f64> {
    let [cut, fill] = asked.volume_counts()?;
    let side = plan
        .what
        .kind()
        .surfaces()
        .iter()
        .position(|side| side == survey)?;
    let first = item.rows.first().and_then(|row| row.measured.as_ref());
    let area = item.total.as_ref().or(first)?.area;
    let square = |area: Area| area.value / area.unit.from_square(1.0, item.tolerance.unit);
    let grows = fill * square(area.fill) - cut * square(area.cut);
    Some(if side == 0 { -grows } else { grows } * raised_by)
}
