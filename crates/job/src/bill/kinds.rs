//! The kinds of items: a file for each, with what it asks for and how its rows come from what was measured.

mod between;
mod by_sections;
mod capacity;
mod layer;
pub(super) mod pile;
pub(super) mod sloping;
mod to_limit;
mod typed;

use dapedon_contract::ContractError;

use super::ItemMap;
use super::inputs::BillInputs;
use super::passes::PassIndex;
use super::rows::{RowUnits, Rows};
use crate::error::JobError;
use crate::job_file::{ItemKind, ItemPlan};
use crate::quantities::UncertaintyOf;
use crate::quantities::bands::Bands;
use crate::surfaces::LayerQuantity;

/// What was asked for an item.
pub(super) trait ItemMeasurement {
    /// Its rows, from what was measured.
    fn rows(
        &self,
        desk: &BillInputs<'_>,
        item: &ItemPlan,
        units: &RowUnits,
    ) -> Result<Rows, ContractError>;

    /// Where it finds what lies between two surfaces.
    fn overlay(&self) -> Option<PassIndex> {
        None
    }

    /// The bands that its ground is reported in.
    fn bands<'d>(&self, _desk: &'d BillInputs<'_>) -> Option<&'d Bands> {
        None
    }

    /// How uncertain what it counts is, where that is known.
    fn uncertainty(&self, _desk: &BillInputs<'_>) -> Option<UncertaintyOf> {
        None
    }

    /// How often cut and fill count in it, where it is their volume that counts.
    fn volume_counts(&self) -> Option<[f64; 2]> {
        None
    }

    /// Which piles of the desk it counts.
    fn piles(&self) -> Option<usize> {
        None
    }

    /// The numbers of its two surfaces, where it is measured by itself and not with others in one overlay.
    fn by_itself(&self) -> Option<[usize; 2]> {
        None
    }

    /// A map of its own.
    fn sheet(&self, _desk: &BillInputs<'_>, _item: &ItemPlan) -> Option<ItemMap> {
        None
    }

    /// The layers that it counts, zone by zone.
    fn layers(&self) -> &[LayerQuantity] {
        &[]
    }
}

/// Asks for what an item needs.
pub(super) fn ask(
    desk: &mut BillInputs<'_>,
    item: &ItemPlan,
) -> Result<Box<dyn ItemMeasurement>, JobError> {
    let asked = match &item.what {
        ItemKind::Between(plan) => between::ask(desk, item, plan),
        ItemKind::BySections(plan) => by_sections::ask(desk, plan),
        ItemKind::Capacity(plan) => capacity::ask(desk, item, plan),
        ItemKind::Sloping(plan) => sloping::ask(desk, plan),
        ItemKind::ToLimit(plan) => to_limit::ask(desk, plan),
        ItemKind::Pile(plan) => pile::ask(desk, plan),
        ItemKind::Layer(plan) => layer::ask(desk, plan),
        ItemKind::Typed(_) => typed::ask(),
    };
    asked.map_err(|error| error.in_job(&item.spot))
}
