//! Items that count a figure between two surfaces.

use dapedon_contract::ContractError;
use dapedon_core::zones::Zone;

use super::ItemMeasurement;
use crate::bill::between_points::BetweenPointsAsked;
use crate::bill::grounds::ItemGround;
use crate::bill::inputs::BillInputs;
use crate::bill::model::ItemRow;
use crate::bill::passes::PassIndex;
use crate::bill::rows::{RowUnits, Rows, beyond, parted, written};
use crate::error::JobError;
use crate::figure::{Area, Volume};
use crate::finding::Finding;
use crate::job_file::{self, Counts, ItemPlan};
use crate::quantities::bands::Bands;
use crate::quantities::not_compared;
use crate::quantities::sanity::{same_everywhere, sides_swapped, state_unusual};
use crate::quantities::uncertainty_notes::gained_by_chance;
use crate::quantities::{UncertaintyOf, Way, ZoneMeasurement};
use crate::units::ReportUnits;

struct Between {
    ticket: PassIndex,
    counts: Counts,
    between_points: bool,
}

pub(super) fn ask(
    desk: &mut BillInputs<'_>,
    item: &ItemPlan,
    plan: &job_file::Between,
) -> Result<Box<dyn ItemMeasurement>, JobError> {
    let job_file::Between {
        sides,
        counts,
        tolerance,
        ground,
        bands,
        between_points,
        opinions: _,
        figure_only,
    } = plan;
    let numbers = [desk.number(&sides[0])?, desk.number(&sides[1])?];
    let ticket = desk
        .passes
        .ask(numbers, ground, *tolerance, bands.as_ref(), &item.spot);
    let counts = *counts;
    if !*figure_only {
        desk.passes.ask_uncertainty(ticket);
    }
    if *between_points {
        desk.ask_between_points(ticket);
    }
    Ok(Box::new(Between {
        ticket,
        counts,
        between_points: *between_points,
    }))
}

impl ItemMeasurement for Between {
    fn rows(
        &self,
        desk: &BillInputs<'_>,
        item: &ItemPlan,
        units: &RowUnits,
    ) -> Result<Rows, ContractError> {
        let area = |area: Area| units.counted_area(item, area);
        let volume = |volume: Volume| units.counted_volume(item, volume);
        let mut found = overlaid(desk, self.ticket, item, units, |z| match self.counts {
            Counts::Cut => volume(z.volume.cut),
            Counts::Fill => volume(z.volume.fill),
            Counts::Net => volume(z.volume.net),
            Counts::Area => area(z.area.compared),
            Counts::CutArea => area(z.area.cut),
            Counts::FillArea => area(z.area.fill),
        })?;
        let measured = found.rows.first().and_then(|row| row.measured.as_ref());
        let whole = found.total.as_ref().or(measured);
        let sides = desk.passes.0[self.ticket.pass].sides;
        let alike = same_everywhere(sides.map(|side| &desk.made[side].1), whole);
        let swapped = whole.and_then(|whole| match self.counts {
            Counts::Cut | Counts::CutArea => sides_swapped(Way::Cut, &whole.volume),
            Counts::Fill | Counts::FillArea => sides_swapped(Way::Fill, &whole.volume),
            Counts::Net | Counts::Area => None,
        });
        let uncertain = desk.passes.uncertainty(self.ticket);
        let gained = whole.zip(uncertain).and_then(|(whole, own)| {
            let counts = match self.counts {
                Counts::Cut => [true, false],
                Counts::Fill => [false, true],
                Counts::Net | Counts::Area | Counts::CutArea | Counts::FillArea => [false; 2],
            };
            gained_by_chance(&whole.volume, &own.volumes, counts)
        });
        let between = self.between(desk).into_iter();
        (found.warnings).extend(between.flat_map(|own| own.findings.iter().cloned()));
        found.warnings.extend(swapped);
        found.warnings.extend(gained);
        found.warnings.extend(alike);
        let stated = item.stuff.as_ref().and_then(|stuff| match self.counts {
            Counts::Cut => state_unusual(Way::Cut, stuff.measured),
            Counts::Fill => state_unusual(Way::Fill, stuff.measured),
            Counts::Net | Counts::Area | Counts::CutArea | Counts::FillArea => None,
        });
        found.warnings.extend(stated);
        Ok(found)
    }

    fn overlay(&self) -> Option<PassIndex> {
        Some(self.ticket)
    }

    fn uncertainty(&self, desk: &BillInputs<'_>) -> Option<UncertaintyOf> {
        let plain = || Some(&desk.passes.uncertainty(self.ticket)?.volumes);
        let own = match self.between(desk) {
            Some(own) => own.found.as_ref(),
            None => plain(),
        }?;
        match self.counts {
            Counts::Cut => Some(own.cut),
            Counts::Fill => Some(own.fill),
            Counts::Net => Some(own.net),
            // Areas change by whole pieces of ground: nothing linear is known of them.
            Counts::Area | Counts::CutArea | Counts::FillArea => None,
        }
    }

    fn volume_counts(&self) -> Option<[f64; 2]> {
        match self.counts {
            Counts::Cut => Some([1.0, 0.0]),
            Counts::Fill => Some([0.0, 1.0]),
            Counts::Net => Some([-1.0, 1.0]),
            Counts::Area | Counts::CutArea | Counts::FillArea => None,
        }
    }

    fn bands<'d>(&self, desk: &'d BillInputs<'_>) -> Option<&'d Bands> {
        desk.passes.bands(self.ticket)
    }
}

impl Between {
    /// What the spacing of points leaves out, where it is asked for.
    fn between<'d>(&self, desk: &'d BillInputs<'_>) -> Option<&'d BetweenPointsAsked> {
        let own = desk.between_points_of(self.ticket);
        own.filter(|_| self.between_points)
    }
}

/// Rows of what lies between two surfaces, of which a figure counts.
pub(super) fn overlaid(
    desk: &BillInputs<'_>,
    ticket: PassIndex,
    item: &ItemPlan,
    units: &RowUnits,
    figure: impl Fn(&ZoneMeasurement) -> f64,
) -> Result<Rows, ContractError> {
    let (laid, regions) = desk.passes.found(ticket);
    let told = &units.told;
    let row = |name: &str, own: &[usize], zone: Option<&Zone>, times: usize| {
        let mut measured =
            ZoneMeasurement::sum(name, own.iter().map(|&region| &regions[region]), told);
        if laid.drawn.is_none() {
            // Ground around both surfaces is no part of anything.
            measured.area.neither = None;
        }
        let figure = figure(&measured) * times as f64;
        Ok(ItemRow {
            zone: name.into(),
            unrounded: figure,
            rounded: written(item, figure)?,
            plan_area: zone.map(|zone| told.area_of(zone.area())),
            perimeter: zone.map(|zone| told.length_of(zone.perimeter())),
            measured: Some(measured),
            to_limit: None,
        })
    };
    let mut found = parted(laid, item, units, row)?;
    let own = laid.counted.iter().map(|&region| &regions[region]);
    found.total = (found.rows.len() > 1).then(|| ZoneMeasurement::sum("total", own, told));
    found.warnings.extend(alone(laid, regions, told));
    found.notes.extend(beyond(laid, told.area, told.length));
    Ok(found)
}

/// Ground of an item that only one of the surfaces covers, or neither.
fn alone(laid: &ItemGround, regions: &[ZoneMeasurement], told: &ReportUnits) -> Vec<Finding> {
    let own = laid.counted.iter().map(|&region| &regions[region]);
    // Over all of it: of a region that is only rounding the pieces never add up.
    let mut all = ZoneMeasurement::sum("all", own, told);
    if laid.drawn.is_none() {
        all.area.neither = None;
    }
    let found = all
        .not_compared()
        .filter(|(area, _)| area.value.is_finite());
    let mut said: Vec<Finding> = found.map(|(area, who)| not_compared(area, who)).collect();
    said.extend(all.closure.finding());
    said
}
