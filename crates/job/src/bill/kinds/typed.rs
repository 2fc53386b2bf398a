//! Items that are not measured.

use dapedon_contract::ContractError;

use super::Asked;
use crate::bill::desk::Desk;
use crate::bill::rows::{RowUnits, Rows};
use crate::error::JobError;
use crate::job_file::ItemPlan;

pub(super) struct Typed;

pub(super) fn ask() -> Result<Box<dyn Asked>, JobError> {
    Ok(Box::new(Typed))
}

impl Asked for Typed {
    fn rows(&self, _: &Desk<'_>, _: &ItemPlan, _: &RowUnits) -> Result<Rows, ContractError> {
        Ok(Rows::default())
    }
}
