//! Items that count a figure between two surfaces.

use dapedon_contract::ContractError;
use dapedon_core::plan::RELATIVE;
use dapedon_core::units::AreaUnit;
use dapedon_core::zones::Zone;

use super::Asked;
use crate::bill::desk::Desk;
use crate::bill::grounds::Laid;
use crate::bill::model::ItemRow;
use crate::bill::passes::Ticket;
use crate::bill::rows::{RowUnits, Rows, beyond, parted, written};
use crate::error::JobError;
use crate::finding::{Code, Finding};
use crate::job_file::{self, Counts, ItemPlan};
use crate::quantities::ZoneMeasurement;
use crate::units::figure_in_words;

struct Between {
    ticket: Ticket,
    counts: Counts,
}

pub(super) fn ask(
    desk: &mut Desk<'_>,
    item: &ItemPlan,
    plan: &job_file::Between,
) -> Result<Box<dyn Asked>, JobError> {
    let job_file::Between {
        sides,
        counts,
        tolerance,
        ground,
    } = plan;
    let numbers = [desk.number(&sides[0])?, desk.number(&sides[1])?];
    let ticket = desk.passes.ask(numbers, ground, *tolerance, &item.spot);
    let counts = *counts;
    Ok(Box::new(Between { ticket, counts }))
}

impl Asked for Between {
    fn rows(
        &self,
        desk: &Desk<'_>,
        item: &ItemPlan,
        units: &RowUnits,
    ) -> Result<Rows, ContractError> {
        let area = |area: f64| units.counted_area(item, area);
        let volume = |volume: f64| units.counted_volume(item, volume);
        overlaid(desk, self.ticket, item, units, |z| match self.counts {
            Counts::Cut => volume(z.volume.cut),
            Counts::Fill => volume(z.volume.fill),
            Counts::Net => volume(z.volume.net),
            Counts::Area => area(z.area.compared),
            Counts::CutArea => area(z.area.cut),
            Counts::FillArea => area(z.area.fill),
        })
    }

    fn overlay(&self) -> Option<Ticket> {
        Some(self.ticket)
    }
}

/// Rows of what lies between two surfaces, of which a figure counts.
pub(super) fn overlaid(
    desk: &Desk<'_>,
    ticket: Ticket,
    item: &ItemPlan,
    units: &RowUnits,
    figure: impl Fn(&ZoneMeasurement) -> f64,
) -> Result<Rows, ContractError> {
    let (laid, regions) = desk.passes.found(ticket);
    let (area_unit, unit) = (units.told.area, units.told.length);
    let row = |name: &str, own: &[usize], zone: Option<&Zone>, times: usize| {
        let mut measured = ZoneMeasurement::sum(name, own.iter().map(|&region| &regions[region]));
        if laid.drawn.is_none() {
            // Ground around both surfaces is no part of anything.
            measured.area.neither = None;
        }
        let figure = figure(&measured) * times as f64;
        Ok(ItemRow {
            zone: name.into(),
            figure,
            written: written(item, figure)?,
            plan_area: zone.map(|zone| area_unit.from_square(zone.area(), unit)),
            perimeter: zone.map(Zone::perimeter),
            measured: Some(measured),
        })
    };
    let mut found = parted(laid, item, units, row)?;
    let own = laid.counted.iter().map(|&region| &regions[region]);
    found.total = (found.rows.len() > 1).then(|| ZoneMeasurement::sum("total", own));
    found.warnings.extend(alone(laid, regions, area_unit));
    found.notes.extend(beyond(laid, area_unit, unit));
    Ok(found)
}

/// Ground of an item that only one of the surfaces covers, or neither.
fn alone(laid: &Laid, regions: &[ZoneMeasurement], area_unit: AreaUnit) -> Vec<Finding> {
    let own: Vec<&ZoneMeasurement> = (laid.counted.iter())
        .map(|&region| &regions[region])
        .collect();
    let sum = |of: fn(&ZoneMeasurement) -> f64| own.iter().map(|region| of(region)).sum::<f64>();
    let neither = match &laid.drawn {
        Some(_) => sum(|z| z.area.neither.unwrap_or_default()),
        None => 0.0,
    };
    let found = [
        (sum(|z| z.area.reference_only), "only the reference"),
        (sum(|z| z.area.surveyed_only), "only the surveyed surface"),
        (neither, "neither surface"),
    ];
    let found = found
        .into_iter()
        .filter(|(area, _)| *area > 0.0 && area.is_finite());
    let mut said: Vec<Finding> = found
        .map(|(area, what)| {
            let area = figure_in_words(area);
            let words = format!(
                "{area} {} covered by {what}, not compared",
                area_unit.symbol()
            );
            Finding::new(Code::NotCompared, words)
        })
        .collect();
    // Over all of it: of a region that is only rounding the pieces never add up.
    let closure = ZoneMeasurement::sum("all", own).closure;
    if closure.relative > RELATIVE {
        let (area, domain, symbol) = (closure.area, closure.domain, area_unit.symbol());
        let words =
            format!("the pieces add up to {area} {symbol}, their domain is {domain} {symbol}");
        said.push(Finding::new(Code::Closure, words));
    }
    said
}
