//! A figure between two surfaces.

use dapedon_contract::State;
use dapedon_core::quantities::Tolerance;

use super::{Kind, OfMaterial, Said, ToldIn, What};
use crate::input::Source;
use crate::job_file::check::Checked;
use crate::job_file::entries::CountsEntry;
use crate::job_file::{Ground, JobFileError, Moves};

/// A figure between two surfaces.
#[derive(Debug, Clone)]
pub(crate) struct Between {
    pub(crate) counts: Counts,
    pub(crate) sides: [Source; 2],
    pub(crate) tolerance: Tolerance,
    pub(crate) ground: Ground,
}

/// Which figure counts.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(crate) enum Counts {
    Cut,
    Fill,
    Net,
    Area,
    CutArea,
    FillArea,
}

pub(super) const fn said(word: &'static str) -> Said {
    Said {
        word,
        keys: &["reference", "surveyed", "zones", "plots", "tolerance"],
        check,
    }
}

fn check(item: &Checked<'_>) -> Result<What, JobFileError> {
    use CountsEntry as C;
    let entry = item.entry;
    let counts = match entry.counts.get_ref() {
        C::Fill => Counts::Fill,
        C::Net => Counts::Net,
        C::Area => Counts::Area,
        C::CutArea => Counts::CutArea,
        C::FillArea => Counts::FillArea,
        _ => Counts::Cut,
    };
    let tolerance = match &entry.tolerance {
        None => Tolerance::ZERO,
        Some(tolerance) => Tolerance::new(*tolerance.get_ref()).ok_or_else(|| {
            let what = format!("{} is no tolerance", tolerance.get_ref());
            let remedy = "say a height of zero or more";
            item.sheet.fault(tolerance.span(), what, remedy)
        })?,
    };
    let sides = [
        item.surface(&entry.reference, "reference")?,
        item.surface(&entry.surveyed, "surveyed")?,
    ];
    if sides[0] == sides[1] {
        let what = "the item measures from a surface to itself";
        return Err(item.fault(what, "name another surface for one of them"));
    }
    Ok(What::Between(Between {
        counts,
        sides,
        tolerance,
        ground: item.ground()?,
    }))
}

impl Kind for Between {
    fn words(&self) -> String {
        let words = match self.counts {
            Counts::Cut => "cut",
            Counts::Fill => "fill",
            Counts::Net => "net, fill less cut",
            Counts::Area => "plan area compared",
            Counts::CutArea => "plan area of cut",
            Counts::FillArea => "plan area of fill",
        };
        words.into()
    }

    fn surfaces(&self) -> &[Source] {
        &self.sides
    }

    fn ground(&self) -> Option<&Ground> {
        Some(&self.ground)
    }

    fn told_in(&self, _: bool) -> ToldIn {
        match self.counts {
            Counts::Cut | Counts::Fill | Counts::Net => ToldIn::Volume,
            Counts::Area | Counts::CutArea | Counts::FillArea => ToldIn::Area,
        }
    }

    fn material(&self) -> OfMaterial {
        match self.counts {
            Counts::Cut => OfMaterial::Usual(State::Bank, Moves::Dug),
            Counts::Fill => OfMaterial::Usual(State::Compacted, Moves::Placed),
            Counts::Net => OfMaterial::Said(
                "net sets what is placed against what is dug, which are volumes in different states",
            ),
            Counts::Area | Counts::CutArea | Counts::FillArea => OfMaterial::None,
        }
    }

    fn tolerance(&self) -> f64 {
        self.tolerance.value()
    }
}
