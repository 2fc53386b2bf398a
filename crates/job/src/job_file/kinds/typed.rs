//! A quantity that is not measured.

use rust_decimal::Decimal;

use super::{Kind, OfMaterial, Said, ToldIn, What};
use crate::job_file::JobFileError;
use crate::job_file::check::Checked;

/// A quantity that is not measured.
#[derive(Debug, Clone)]
pub(crate) struct Typed {
    quantity: Decimal,
    because: String,
}

pub(super) const SAID: Said = Said {
    word: "a typed-in quantity",
    keys: &["quantity", "because"],
    check,
};

fn check(item: &Checked<'_>) -> Result<What, JobFileError> {
    let Some(quantity) = &item.entry.quantity else {
        return Err(item.fault("nothing says the quantity", "add quantity = ..."));
    };
    let Some(because) = item
        .entry
        .because
        .clone()
        .filter(|why| !why.trim().is_empty())
    else {
        let what = "nothing says why the quantity is typed in";
        return Err(item.fault(
            what,
            "add because = \"...\": who counted it, and where it is written down",
        ));
    };
    Ok(What::Typed(Typed {
        quantity: item.figure(quantity)?,
        because,
    }))
}

impl Kind for Typed {
    fn words(&self) -> String {
        "typed in".into()
    }

    fn told_in(&self, material: bool) -> ToldIn {
        match material {
            true => ToldIn::Volume,
            false => ToldIn::Anything,
        }
    }

    fn material(&self) -> OfMaterial {
        OfMaterial::Said("nothing says in which state the quantity was found")
    }

    fn typed(&self) -> Option<(Decimal, &str)> {
        Some((self.quantity, &self.because))
    }
}
