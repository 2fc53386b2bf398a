//! Items that are not measured.

use dapedon_contract::ContractError;

use super::ItemMeasurement;
use crate::bill::inputs::BillInputs;
use crate::bill::rows::{RowUnits, Rows};
use crate::error::JobError;
use crate::job_file::ItemPlan;

pub(super) struct Typed;

pub(super) fn ask() -> Result<Box<dyn ItemMeasurement>, JobError> {
    Ok(Box::new(Typed))
}

impl ItemMeasurement for Typed {
    fn rows(&self, _: &BillInputs<'_>, _: &ItemPlan, _: &RowUnits) -> Result<Rows, ContractError> {
        Ok(Rows::default())
    }
}
