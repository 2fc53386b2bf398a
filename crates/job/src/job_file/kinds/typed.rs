//! A quantity that is not measured.

use rust_decimal::Decimal;

use super::{AllowedUnits, ItemKind, Kind, KindKeys, MaterialDefaults};
use crate::job_file::JobFileError;
use crate::job_file::check::Checked;

/// A quantity that is not measured.
#[derive(Debug, Clone)]
pub(crate) struct Typed {
    quantity: Decimal,
    because: String,
}

pub(super) const SAID: KindKeys = KindKeys {
    word: "a typed-in quantity",
    keys: &["quantity", "reason"],
    check,
};

fn check(item: &Checked<'_>) -> Result<ItemKind, JobFileError> {
    let Some(quantity) = &item.entry.quantity else {
        return Err(item.fault("the item has no quantity", "add quantity = ..."));
    };
    let Some(because) = item
        .entry
        .reason
        .clone()
        .filter(|why| !why.trim().is_empty())
    else {
        let what = "the item has no reason for its typed-in quantity";
        return Err(item.fault(
            what,
            "add reason = \"...\": who counted it, and where it is recorded",
        ));
    };
    Ok(ItemKind::Typed(Typed {
        quantity: item.figure(quantity)?,
        because,
    }))
}

impl Kind for Typed {
    fn words(&self) -> String {
        "typed in".into()
    }

    fn told_in(&self, material: bool) -> AllowedUnits {
        match material {
            true => AllowedUnits::Volume,
            false => AllowedUnits::Anything,
        }
    }

    fn material(&self) -> MaterialDefaults {
        MaterialDefaults::Said("the state of the quantity is missing")
    }

    fn typed(&self) -> Option<(Decimal, &str)> {
        Some((self.quantity, &self.because))
    }
}
