//! The area of a surface along its slope.

use super::{Kind, OfMaterial, Said, ToldIn, What};
use crate::input::Source;
use crate::job_file::check::Checked;
use crate::job_file::{Ground, JobFileError};

/// The area of a surface along its slope.
#[derive(Debug, Clone)]
pub(crate) struct Sloping {
    pub(crate) surface: Source,
    pub(crate) ground: Ground,
}

pub(super) const SAID: Said = Said {
    word: "sloping-area",
    keys: &["surveyed", "zones", "plots"],
    check,
};

fn check(item: &Checked<'_>) -> Result<What, JobFileError> {
    Ok(What::Sloping(Sloping {
        surface: item.surface(&item.entry.surveyed, "surveyed")?,
        ground: item.within_zones("an area along the slope")?,
    }))
}

impl Kind for Sloping {
    fn words(&self) -> String {
        "area along the slope".into()
    }

    fn surfaces(&self) -> &[Source] {
        std::slice::from_ref(&self.surface)
    }

    fn ground(&self) -> Option<&Ground> {
        Some(&self.ground)
    }

    fn told_in(&self, _: bool) -> ToldIn {
        ToldIn::Area
    }

    fn material(&self) -> OfMaterial {
        OfMaterial::None
    }
}
