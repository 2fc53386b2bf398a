//! Items that count what a basin holds up to a level.

use dapedon_contract::ContractError;
use dapedon_core::derived::{Treatment, zonewise};
use dapedon_core::quantities::{Spill, Tolerance};
use dapedon_core::zones::Zones;

use super::ItemMeasurement;
use super::between::overlaid;
use crate::bill::inputs::BillInputs;
use crate::bill::passes::PassIndex;
use crate::bill::rows::{RowUnits, Rows};
use crate::error::JobError;
use crate::figure::Volume;
use crate::finding::{Code, Finding};
use crate::job_file::{self, ItemPlan, Kind, MeasuredZones};
use crate::quantities::UncertaintyOf;
use crate::surfaces::{facets, rest};

struct Capacity {
    ticket: PassIndex,
    /// Where its water would have spill the edge.
    over: Option<Finding>,
    between_points: bool,
}

pub(super) fn ask(
    desk: &mut BillInputs<'_>,
    item: &ItemPlan,
    plan: &job_file::Capacity,
) -> Result<Box<dyn ItemMeasurement>, JobError> {
    let sides = plan.surfaces();
    let numbers = [desk.number(&sides[0])?, desk.number(&sides[1])?];
    let none = Tolerance::ZERO;
    let ticket = desk
        .passes
        .ask(numbers, &plan.ground, none, None, &item.spot);
    desk.passes.ask_uncertainty(ticket);
    let over = runs_over(desk, numbers[0], plan.level, &plan.ground)?;
    if plan.between_points {
        desk.ask_between_points(ticket);
    }
    Ok(Box::new(Capacity {
        ticket,
        over,
        between_points: plan.between_points,
    }))
}

impl ItemMeasurement for Capacity {
    fn rows(
        &self,
        desk: &BillInputs<'_>,
        item: &ItemPlan,
        units: &RowUnits,
    ) -> Result<Rows, ContractError> {
        let held = |volume: Volume| units.counted_volume(item, volume);
        let mut found = overlaid(desk, self.ticket, item, units, |z| held(z.volume.fill))?;
        found.findings.extend(self.over.clone());
        if self.between_points {
            let own = desk.between_points_of(self.ticket).into_iter();
            (found.warnings).extend(own.flat_map(|own| own.findings.iter().cloned()));
        }
        Ok(found)
    }

    fn overlay(&self) -> Option<PassIndex> {
        Some(self.ticket)
    }

    fn uncertainty(&self, desk: &BillInputs<'_>) -> Option<UncertaintyOf> {
        let own = match self.between_points {
            true => desk.between_points_of(self.ticket)?.found.as_ref()?.fill,
            false => desk.passes.uncertainty(self.ticket)?.volumes.fill,
        };
        // Of a design that is exact there is nothing to tell.
        Some(own).filter(|own| own.standard.value > 0.0)
    }

    fn volume_counts(&self) -> Option<[f64; 2]> {
        Some([0.0, 1.0])
    }
}

/// Where water up to a level would have spill the edge of some ground, if it would: what is counted above that
/// is not held.
fn runs_over(
    desk: &BillInputs<'_>,
    number: usize,
    level: f64,
    ground: &MeasuredZones,
) -> Result<Option<Finding>, JobError> {
    let frame = desk.site.making.frame;
    let mut zones = Vec::new();
    for name in ground.names() {
        let known = desk.site.making.zones_of(name)?;
        zones.extend(known.into_iter().map(|known| known.zone));
    }
    let zones = Zones::new(frame, zones);
    let within = zonewise(desk.surface(number), &zones, |within| match within {
        [] => Treatment::Drop,
        _ => Treatment::Keep,
    });
    // Ground off the surface is reported where it is measured.
    let Ok(within) = within else { return Ok(None) };
    let rest = rest(desk.surface(number), &zones);
    let spill = Spill::lowest(&facets(&within)?, rest.as_ref());
    let over = spill.filter(|spill| spill.is_below(level));
    Ok(over.map(|spill| {
        let at = frame.to_grid(spill.at);
        let words = format!(
            "level {level} is above the spill level {:.3}, near east {:.1}, north {:.1}: the volume above it is not held",
            spill.level, at.east, at.north
        );
        Finding::new(Code::AboveEdge, words)
    }))
}
