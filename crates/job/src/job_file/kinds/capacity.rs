//! What a basin holds up to a level.

use dapedon_core::surface::FARTHEST;

use super::opinions::ItemOpinions;
use super::{AllowedUnits, Counts, ItemKind, Kind, KindKeys, MaterialDefaults};
use crate::input::Source;
use crate::job_file::check::Checked;
use crate::job_file::{JobFileError, MeasuredZones};

/// What a basin holds: between its bed and a level.
#[derive(Debug, Clone)]
pub(crate) struct Capacity {
    sides: [Source; 2],
    pub(crate) level: f64,
    pub(crate) ground: MeasuredZones,
    /// Whether what the spacing of points leaves out is part of its uncertainty.
    pub(crate) between_points: bool,
    opinions: Option<ItemOpinions>,
}

pub(super) const SAID: KindKeys = KindKeys {
    word: "a capacity",
    keys: &[
        "surveyed",
        "zones",
        "level",
        "between-points",
        ItemOpinions::KEYS[0],
        ItemOpinions::KEYS[1],
        ItemOpinions::KEYS[2],
    ],
    check,
};

fn check(item: &Checked<'_>) -> Result<ItemKind, JobFileError> {
    let entry = item.entry;
    let Some(level) = &entry.level else {
        return Err(item.fault("the item has no level", "add level = ..."));
    };
    if level.get_ref().is_nan() || level.get_ref().abs() > FARTHEST {
        let what = format!("{} is not a height", level.get_ref());
        return Err(item.sheet.fault(level.span(), what, "correct it"));
    }
    let bed = item.surface(&entry.surveyed, "surveyed")?;
    let level = *level.get_ref();
    Ok(ItemKind::Capacity(Capacity {
        sides: [bed, Source::Level(level)],
        level,
        between_points: (entry.between_points.as_ref()).is_some_and(|asked| *asked.get_ref()),
        opinions: ItemOpinions::of(item)?,
        ground: item.within_zones("a basin")?,
    }))
}

impl Capacity {
    /// Takes another surface for its bed.
    pub(super) fn measure_to(&mut self, bed: Source) {
        self.sides[0] = bed;
        if let Some(opinions) = &mut self.opinions {
            opinions.stated.clear();
        }
    }
}

impl Kind for Capacity {
    fn words(&self) -> String {
        "capacity".into()
    }

    fn surfaces(&self) -> &[Source] {
        &self.sides
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
        MaterialDefaults::None
    }
}
