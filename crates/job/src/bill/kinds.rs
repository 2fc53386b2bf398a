//! The kinds of items: a file for each, with what it asks for and how its rows come from what was measured.

mod between;
mod capacity;
mod layer;
pub(super) mod pile;
pub(super) mod sloping;
mod typed;

use dapedon_contract::ContractError;

use super::desk::Desk;
use super::passes::Ticket;
use super::rows::{RowUnits, Rows};
use crate::error::JobError;
use crate::job_file::{ItemPlan, What};
use crate::surfaces::LayerQuantity;

/// What was asked for an item.
pub(super) trait Asked {
    /// Its rows, from what was measured.
    fn rows(
        &self,
        desk: &Desk<'_>,
        item: &ItemPlan,
        units: &RowUnits,
    ) -> Result<Rows, ContractError>;

    /// Where it finds what lies between two surfaces.
    fn overlay(&self) -> Option<Ticket> {
        None
    }

    /// Which piles of the desk it counts.
    fn piles(&self) -> Option<usize> {
        None
    }

    /// The layers that it counts, zone by zone.
    fn layers(&self) -> &[LayerQuantity] {
        &[]
    }
}

/// Asks for what an item needs.
pub(super) fn ask(desk: &mut Desk<'_>, item: &ItemPlan) -> Result<Box<dyn Asked>, JobError> {
    let asked = match &item.what {
        What::Between(plan) => between::ask(desk, item, plan),
        What::Capacity(plan) => capacity::ask(desk, item, plan),
        What::Sloping(plan) => sloping::ask(desk, plan),
        What::Pile(plan) => pile::ask(desk, plan),
        What::Layer(plan) => layer::ask(desk, plan),
        What::Typed(_) => typed::ask(),
    };
    asked.map_err(|error| error.in_job(&item.spot))
}
