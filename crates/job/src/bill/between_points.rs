//! What the spacing of points leaves out of items, where they ask for it.

use dapedon_core::quantities::volume;

use super::inputs::BillInputs;
use super::passes::PassIndex;
use crate::accuracy::COVERAGE_FACTOR;
use crate::error::JobError;
use crate::finding::Finding;
use crate::quantities::between_points::{Measured, added};
use crate::quantities::{Uncertainty, ZoneUncertainty};

/// The uncertainty of what some items count, with what the spacing of points leaves out.
pub(crate) struct BetweenPointsAsked {
    pub(super) ticket: PassIndex,
    /// Once it is measured; none where it is not known how accurate both surfaces are.
    pub(super) found: Option<ZoneUncertainty>,
    pub(super) findings: Vec<Finding>,
}

impl BetweenPointsAsked {
    pub(super) fn of(ticket: PassIndex) -> Self {
        BetweenPointsAsked {
            ticket,
            found: None,
            findings: Vec::new(),
        }
    }

    /// Measures it, once the volumes are known.
    pub(super) fn measure(&mut self, desk: &BillInputs<'_>) -> Result<(), JobError> {
        let pass = &desk.passes.0[self.ticket.pass];
        let made = pass.sides.map(|side| &desk.made[side].1);
        let surfaces = made.map(|made| &*made.surface);
        let zones = desk.passes.counted(self.ticket);
        let tolerance = desk.passes.tolerance(self.ticket);
        let chosen = made.map(|made| made.chosen_triangles());
        let mut uncertainty = desk.passes.uncertainty(self.ticket).map(|own| Uncertainty {
            coverage_factor: COVERAGE_FACTOR,
            errors_count_once: None,
            better_surveys: Vec::new(),
            zones: Vec::new(),
            total: Some(own.volumes),
        });
        let full = volume(surfaces[0], surfaces[1], zones.as_ref(), tolerance)?;
        let measured = Measured {
            surfaces,
            sides: made.map(|made| &made.side),
            breaklines: chosen
                .each_ref()
                .map(|own| own.as_deref().map(Vec::as_slice)),
            zones: zones.as_ref(),
            tolerance,
            full: &full,
        };
        let units = &desk.site.making.units;
        self.findings = added(&measured, pass.sure.as_ref(), uncertainty.as_mut(), units)?;
        self.found = uncertainty.and_then(|own| own.total);
        Ok(())
    }
}
