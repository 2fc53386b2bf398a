//! The area of a surface along its slope.

use super::{AllowedUnits, ItemKind, Kind, KindKeys, MaterialDefaults};
use crate::input::Source;
use crate::job_file::check::Checked;
use crate::job_file::{JobFileError, MeasuredZones};

/// The area of a surface along its slope.
#[derive(Debug, Clone)]
pub(crate) struct Sloping {
    pub(crate) surface: Source,
    pub(crate) ground: MeasuredZones,
}

pub(super) const SAID: KindKeys = KindKeys {
    word: "sloping-area",
    keys: &["surveyed", "zones", "plots"],
    check,
};

fn check(item: &Checked<'_>) -> Result<ItemKind, JobFileError> {
    Ok(ItemKind::Sloping(Sloping {
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

    fn ground(&self) -> Option<&MeasuredZones> {
        Some(&self.ground)
    }

    fn told_in(&self, _: bool) -> AllowedUnits {
        AllowedUnits::Area
    }

    fn material(&self) -> MaterialDefaults {
        MaterialDefaults::None
    }
}
