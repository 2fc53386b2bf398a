//! A figure between two surfaces.

use dapedon_core::quantities::Tolerance;
use rust_decimal::Decimal;
use toml::Spanned;

use super::by_sections;
use super::{AllowedUnits, ItemKind, Kind, KindKeys, MaterialDefaults};
use crate::band_rules::BandRules;
use crate::input::Source;
use crate::job_file::check::Checked;
use crate::job_file::entries::MeasureEntry;
use crate::job_file::{JobFileError, MeasuredZones};

/// A figure between two surfaces.
#[derive(Debug, Clone)]
pub(crate) struct Between {
    pub(crate) counts: Counts,
    pub(crate) sides: [Source; 2],
    pub(crate) tolerance: Tolerance,
    pub(crate) ground: MeasuredZones,
    /// Bands that its ground is reported in.
    pub(crate) bands: Option<BandRules>,
    /// The second opinions that are asked for.
    pub(crate) opinions: Option<ItemOpinions>,
}

/// Second opinions of an item.
#[derive(Debug, Clone, PartialEq)]
pub(crate) struct ItemOpinions {
    /// Quantities that others state, and who does.
    pub(crate) stated: Vec<(String, Decimal)>,
    /// The share that any of them may differ by.
    pub(crate) limit: Option<Decimal>,
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

pub(super) const fn said(word: &'static str) -> KindKeys {
    KindKeys {
        word,
        keys: &[
            "reference",
            "surveyed",
            "zones",
            "plots",
            "tolerance",
            "bands",
            "sections",
            "second-opinion",
            "stated",
            "agree-within",
        ],
        check,
    }
}

fn check(item: &Checked<'_>) -> Result<ItemKind, JobFileError> {
    use MeasureEntry as C;
    let entry = item.entry;
    let counts = match entry.measure.get_ref() {
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
            let what = format!("{} is not a tolerance", tolerance.get_ref());
            let remedy = "use a height of zero or more";
            item.sheet.fault(tolerance.span(), what, remedy)
        })?,
    };
    let sides = [
        item.surface(&entry.reference, "reference")?,
        item.surface(&entry.surveyed, "surveyed")?,
    ];
    if sides[0] == sides[1] {
        let what = "the item compares a surface with itself";
        return Err(item.fault(what, "use another surface for one of them"));
    }
    let opinions = opinions(item, counts)?;
    if let Some(sections) = &entry.sections {
        if opinions.is_some() {
            let what = "second opinions are of the volume between the surfaces, and the item counts by sections";
            return Err(item.fault(
                what,
                "remove them: that volume is shown beside the sections",
            ));
        }
        return by_sections::check(item, counts, sides, sections);
    }
    Ok(ItemKind::Between(Between {
        counts,
        sides,
        tolerance,
        ground: item.ground()?,
        bands: item.bands()?,
        opinions,
    }))
}

/// The second opinions that an item asks for.
fn opinions(item: &Checked<'_>, counts: Counts) -> Result<Option<ItemOpinions>, JobFileError> {
    let entry = item.entry;
    let asked = entry.second_opinion.as_ref();
    let asked = asked.is_some_and(|asked| *asked.get_ref());
    let stated = entry.stated.as_ref().map_or(&[][..], |all| all.get_ref());
    if !asked && stated.is_empty() && entry.agree_within.is_none() {
        return Ok(None);
    }
    if let Counts::Area | Counts::CutArea | Counts::FillArea = counts {
        let what = "second opinions are of cut, fill or net, and the item counts an area";
        return Err(item.fault(what, "remove them, or change measure"));
    }
    let stated = stated.iter().map(|stated| {
        let quantity = item.figure(&stated.quantity)?;
        match stated.by.trim() {
            "" => {
                let what = "nobody is named who states the quantity";
                let span = Spanned::span(&stated.quantity);
                Err(item.sheet.fault(span, what, "add by = \"...\""))
            }
            by => Ok((by.to_owned(), quantity)),
        }
    });
    let limit = entry.agree_within.as_ref().map(|text| item.share(text));
    Ok(Some(ItemOpinions {
        stated: stated.collect::<Result<_, _>>()?,
        limit: limit.transpose()?,
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

    fn ground(&self) -> Option<&MeasuredZones> {
        Some(&self.ground)
    }

    fn told_in(&self, _: bool) -> AllowedUnits {
        match self.counts {
            Counts::Cut | Counts::Fill | Counts::Net => AllowedUnits::Volume,
            Counts::Area | Counts::CutArea | Counts::FillArea => AllowedUnits::Area,
        }
    }

    fn material(&self) -> MaterialDefaults {
        self.counts.material()
    }

    fn tolerance(&self) -> f64 {
        self.tolerance.value()
    }
}
