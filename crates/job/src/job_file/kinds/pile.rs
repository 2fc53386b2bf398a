//! What lies above a base, outline by outline.

use dapedon_contract::State;
use toml::Spanned;

use super::opinions::ItemOpinions;
use super::{AllowedUnits, Counts, ItemKind, Kind, KindKeys, MaterialDefaults};
use crate::input::{BaseSource, Source};
use crate::job_file::check::Checked;
use crate::job_file::entries::BaseEntry;
use crate::job_file::{JobFileError, MaterialUse, MeasuredZones};

/// What lies above a base, outline by outline.
#[derive(Debug, Clone)]
pub(crate) struct Pile {
    pub(crate) surface: Source,
    pub(crate) ground: MeasuredZones,
    /// Whether what the spacing of points leaves out is part of its uncertainty.
    pub(crate) between_points: bool,
    pub(super) opinions: Option<ItemOpinions>,
    pub(crate) base: BaseSource,
}

pub(super) const SAID: KindKeys = KindKeys {
    word: "a pile",
    keys: &[
        "surveyed",
        "zones",
        "base",
        "between-points",
        ItemOpinions::KEYS[0],
        ItemOpinions::KEYS[1],
        ItemOpinions::KEYS[2],
    ],
    check,
};

fn check(item: &Checked<'_>) -> Result<ItemKind, JobFileError> {
    let entry = item.entry;
    Ok(ItemKind::Pile(Pile {
        surface: item.surface(&entry.surveyed, "surveyed")?,
        between_points: (entry.between_points.as_ref()).is_some_and(|asked| *asked.get_ref()),
        opinions: ItemOpinions::of(item)?,
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

    fn ground(&self) -> Option<&MeasuredZones> {
        Some(&self.ground)
    }

    fn opinions(&self) -> Option<(&ItemOpinions, Counts)> {
        Some((self.opinions.as_ref()?, Counts::Fill))
    }

    fn told_in(&self, _: bool) -> AllowedUnits {
        AllowedUnits::Volume
    }

    fn material(&self) -> MaterialDefaults {
        MaterialDefaults::Usual(State::Loose, MaterialUse::Nothing)
    }
}
