//! What a basin holds up to a level.

use dapedon_core::surface::FARTHEST;

use super::{Kind, OfMaterial, Said, ToldIn, What};
use crate::input::Source;
use crate::job_file::check::Checked;
use crate::job_file::{Ground, JobFileError};

/// What a basin holds: between its bed and a level.
#[derive(Debug, Clone)]
pub(crate) struct Capacity {
    sides: [Source; 2],
    pub(crate) level: f64,
    pub(crate) ground: Ground,
}

pub(super) const SAID: Said = Said {
    word: "a capacity",
    keys: &["surveyed", "zones", "level"],
    check,
};

fn check(item: &Checked<'_>) -> Result<What, JobFileError> {
    let entry = item.entry;
    let Some(level) = &entry.level else {
        return Err(item.fault("nothing says up to which level", "add level = ..."));
    };
    if level.get_ref().is_nan() || level.get_ref().abs() > FARTHEST {
        let what = format!("{} is no height of a survey", level.get_ref());
        return Err(item.sheet.fault(level.span(), what, "mend it"));
    }
    let bed = item.surface(&entry.surveyed, "surveyed")?;
    let level = *level.get_ref();
    Ok(What::Capacity(Capacity {
        sides: [bed, Source::Level(level)],
        level,
        ground: item.within_zones("a basin")?,
    }))
}

impl Kind for Capacity {
    fn words(&self) -> String {
        "capacity".into()
    }

    fn surfaces(&self) -> &[Source] {
        &self.sides
    }

    fn ground(&self) -> Option<&Ground> {
        Some(&self.ground)
    }

    fn told_in(&self, _: bool) -> ToldIn {
        ToldIn::Volume
    }

    fn material(&self) -> OfMaterial {
        OfMaterial::None
    }
}
