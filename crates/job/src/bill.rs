//! The bill: all items of a job, or some, in one pass over the surfaces they share.

mod between_points;
mod conformity;
mod error;
mod grounds;
mod inputs;
mod item;
mod kinds;
mod maps;
mod materials;
mod model;
mod opinions;
mod passes;
mod rows;
mod total_uncertainty;
mod untouched;

use dapedon_contract::{ContractError, FactorUnits, plus};
use dapedon_core::units::AreaUnit;
use rust_decimal::Decimal;

use crate::context::Context;
use crate::error::JobError;
use crate::finding::{Code, Finding};
use crate::job_file::{AcknowledgedPlan, ItemPlan, Job, NameError};
use crate::quantities::{Scene, SecondOpinions, ZoneMeasurement};
use crate::schema::Schema;
pub use conformity::BillConformity;
pub use error::BillError;
use inputs::BillInputs;
pub use model::{
    AmountUncertainty, Bill, BillItem, BillSection, FactorName, FactorOfItem, FarthestBeyond,
    FurtherCount, Hauled, ItemRow, ItemSections, ItemUncertainty, LimitFacts, MaterialBalance,
    MaterialFacts, MaterialOfItem, SurfacePair, ToLimit, VehicleFacts, WorkToLimit,
};
use rows::RowUnits;
pub use untouched::{BillUntouched, ItemChange};

/// What some items measure, ready to be drawn.
#[derive(Debug)]
pub struct ItemMap {
    /// Their codes.
    pub codes: Vec<String>,
    /// From this surface.
    pub reference: String,
    /// To this one.
    pub surveyed: String,
    /// Differences up to this size count as unchanged.
    pub tolerance: f64,
    /// What was measured there.
    pub rows: Vec<ZoneMeasurement>,
    /// The surfaces and zones.
    pub scene: Scene,
    /// True where it shows work against its limit.
    pub to_limit: bool,
    /// Places whose difference is written on it.
    pub spots: Vec<MapSpot>,
}

/// A place on a map, and the difference there.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct MapSpot {
    /// Easting and northing.
    pub at: [f64; 2],
    /// The difference, in the unit that is measured in.
    pub difference: f64,
}

/// Measures the items of a job that have some codes; all where none are named.
///
/// Each file is read once and each overlay made once, whatever the number of items that need it.
///
/// # Errors
///
/// When there is no job, a file cannot be used, or an item cannot be measured: with its line. There is no bill then,
/// rather than one with a gap.
pub fn bill(context: &Context<'_>, codes: &[String]) -> Result<(Bill, Vec<ItemMap>), JobError> {
    context.run(|| {
        let job = context.job.ok_or(NameError::NoJob)?;
        let items = chosen(job, codes)?;
        let whole = items.len() == job.items.len();
        bill_of(context, job, &items, whole)
    })
}

/// Measures items, which may be others than the job's own: all of them where it is `whole`, and then what is said of a
/// bill as a whole is found too.
pub(crate) fn bill_of(
    context: &Context<'_>,
    job: &Job,
    items: &[&ItemPlan],
    whole: bool,
) -> Result<(Bill, Vec<ItemMap>), JobError> {
    let mut desk = BillInputs::open(context, job, items)?;
    let tickets = items.iter().map(|item| kinds::ask(&mut desk, item));
    let tickets = tickets.collect::<Result<Vec<_>, _>>()?;
    desk.measure(context)?;

    let told_in = desk.site.making.units;
    let symbols = FactorUnits {
        volume: job.factor_volume.symbol(),
        area: AreaUnit::usual(job.unit).symbol(),
        mass: job.mass_unit.symbol(),
        decimals: told_in.decimals as u32,
    };
    let units = RowUnits {
        told: told_in,
        factors: job.factor_volume,
    };
    let mut measured = Vec::new();
    for (item, ticket) in items.iter().zip(&tickets) {
        let line = item::measured(job, item, (&**ticket, &desk), &symbols, &units);
        let line = line.and_then(|mut line| {
            let asked = (*item, &**ticket);
            let found = opinions::of(&desk, job, asked, &line, &units)?;
            line.findings
                .extend(found.iter().flat_map(SecondOpinions::findings));
            line.second_opinions = found;
            Ok(line)
        });
        measured.push(line.map_err(|error| error.in_job(&item.spot))?);
    }
    let (materials, vehicles) = materials::facts(job, items);
    let moved = match whole {
        true => materials::moved(job, items, &measured, &symbols)?,
        false => Vec::new(),
    };
    let untouched = match whole {
        true => untouched::all(&mut desk, job, items, &tickets, &measured)?,
        false => Vec::new(),
    };
    let (conformity, said) = match whole {
        true => conformity::all(&mut desk, job)?,
        false => (Vec::new(), Vec::new()),
    };
    let warnings = desk.warnings().into_iter().chain(said).collect();
    let mut warnings = context.acknowledged("", warnings);
    for item in &mut measured {
        let of = format!("item {}", item.code);
        item.warnings = context.acknowledged(&of, std::mem::take(&mut item.warnings));
    }
    if whole {
        let nothing = acknowledged_nothing(job, &warnings, &measured);
        warnings.extend(context.acknowledged("", nothing));
    }
    let overlays = desk.overlays(items, &tickets);
    let sheets = desk.sheets(items, &tickets);
    let used = desk.made.iter().map(|(_, made)| made.side.clone());
    let bill = Bill {
        command: "measure".into(),
        schema: Schema,
        job: job.facts(),
        units: told_in,
        factor_volume_unit: job.factor_volume,
        mass_unit: job.mass_unit.symbol().into(),
        currency: job.currency.clone(),
        amount: total(measured.iter().map(|item| item.amount))?,
        amount_uncertainty: total_uncertainty::of(&desk, &tickets, &measured)?,
        sections: sections(items, measured)?,
        materials,
        vehicles,
        material_balance: moved,
        untouched,
        conformity,
        overlays,
        surfaces: used.collect(),
        zone_files: desk.site.zone_files(&desk.zones),
        line_files: desk.line_files,
        warnings,
    };
    Ok((bill, sheets))
}

/// Acknowledged warnings that are nowhere in a whole bill: they went away, or were never meant so.
fn acknowledged_nothing(job: &Job, warnings: &[Finding], items: &[BillItem]) -> Vec<Finding> {
    let nothing = |plan: &&AcknowledgedPlan| {
        let mut all = warnings.iter();
        let mut of_items = items.iter().flat_map(|item| {
            let of = format!("item {}", item.code);
            item.warnings.iter().map(move |found| (of.clone(), found))
        });
        !matches!(
            plan.code,
            // What is found of claims and of progress is in no bill.
            Code::AcknowledgedNothing
                | Code::BelowPaid
                | Code::PeriodsDiffer
                | Code::RateChanged
                | Code::SurveyAfterPeriod
        ) && !all.any(|found| plan.is_of("", found))
            && !of_items.any(|(of, found)| plan.is_of(&of, found))
    };
    let told = job.acknowledged.iter().filter(nothing).map(|plan| {
        let about = (plan.about.as_ref()).map_or(String::new(), |about| format!(" about \"{about}\""));
        let words = format!(
            "line {} of the job file acknowledges the warning {}{about}, and the bill has none",
            plan.spot.line, plan.code
        );
        let remedy = "remove it, or correct what it is about; of a warning of another command acknowledge this one too";
        Finding::new(Code::AcknowledgedNothing, words).remedy(remedy)
    });
    told.collect()
}

/// The items of some codes, in the order of the bill.
fn chosen<'j>(job: &'j Job, codes: &[String]) -> Result<Vec<&'j ItemPlan>, JobError> {
    if job.items.is_empty() {
        let path = job.path.clone();
        return Err(BillError::NoItems { path }.into());
    }
    let known = || job.items.iter().map(|item| item.code.as_str());
    for code in codes {
        if !known().any(|known| known == code) {
            return Err(NameError::unknown("item", code, known()).into());
        }
    }
    let items = job.items.iter();
    Ok(items
        .filter(|item| codes.is_empty() || codes.contains(&item.code))
        .collect())
}

/// The sum of what there is; none where there is nothing.
fn total(amounts: impl Iterator<Item = Option<Decimal>>) -> Result<Option<Decimal>, ContractError> {
    amounts.flatten().try_fold(None, |sum, amount| {
        Ok(Some(sum.map_or(Ok(amount), |sum| plus(sum, amount))?))
    })
}

/// Items by their sections, in the order these first come.
fn sections(
    items: &[&ItemPlan],
    measured: Vec<BillItem>,
) -> Result<Vec<BillSection>, ContractError> {
    let mut sections: Vec<BillSection> = Vec::new();
    for (plan, item) in items.iter().zip(measured) {
        let known = sections
            .iter()
            .position(|section| section.section == plan.section);
        let index = known.unwrap_or_else(|| {
            sections.push(BillSection {
                section: plan.section.clone(),
                items: Vec::new(),
                amount: None,
            });
            sections.len() - 1
        });
        sections[index].items.push(item);
    }
    for section in &mut sections {
        section.amount = total(section.items.iter().map(|item| item.amount))?;
    }
    Ok(sections)
}
