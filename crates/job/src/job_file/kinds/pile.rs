//! What lies above a base, outline by outline.

use dapedon_contract::State;
use toml::Spanned;

use super::{Kind, OfMaterial, Said, ToldIn, What};
use crate::input::{BaseSource, Source};
use crate::job_file::check::Checked;
use crate::job_file::entries::BaseEntry;
use crate::job_file::{Ground, JobFileError, Moves};

/// What lies above a base, outline by outline.
#[derive(Debug, Clone)]
pub(crate) struct Pile {
    pub(crate) surface: Source,
    pub(crate) ground: Ground,
    pub(crate) base: BaseSource,
}

pub(super) const SAID: Said = Said {
    word: "a pile",
    keys: &["surveyed", "zones", "base"],
    check,
};

fn check(item: &Checked<'_>) -> Result<What, JobFileError> {
    let entry = item.entry;
    Ok(What::Pile(Pile {
        surface: item.surface(&entry.surveyed, "surveyed")?,
        ground: item.within_zones("a pile")?,
        base: match entry.base.as_ref().map(Spanned::get_ref) {
            None | Some(BaseEntry::Toe) => BaseSource::Toe,
            Some(BaseEntry::Plane) => BaseSource::Plane,
            Some(BaseEntry::Lowest) => BaseSource::Lowest,
            Some(BaseEntry::Mean) => BaseSource::Mean,
        },
    }))
}

impl Kind for Pile {
    fn words(&self) -> String {
        format!("pile above {}", self.base.words(false))
    }

    fn surfaces(&self) -> &[Source] {
        std::slice::from_ref(&self.surface)
    }

    fn ground(&self) -> Option<&Ground> {
        Some(&self.ground)
    }

    fn told_in(&self, _: bool) -> ToldIn {
        ToldIn::Volume
    }

    fn material(&self) -> OfMaterial {
        OfMaterial::Usual(State::Loose, Moves::Nothing)
    }
}
