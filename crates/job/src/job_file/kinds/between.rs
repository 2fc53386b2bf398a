//! A figure between two surfaces.

use dapedon_core::quantities::Tolerance;
use toml::Spanned;

use super::by_sections;
use super::opinions::ItemOpinions;
use super::to_limit;
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
    /// Whether what the spacing of points leaves out is part of its uncertainty.
    pub(crate) between_points: bool,
    /// The second opinions that are asked for.
    pub(crate) opinions: Option<ItemOpinions>,
    /// Only the figure is needed, and not how uncertain it is.
    pub(crate) figure_only: bool,
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
            "surveys",
            "design",
            "started",
            "zones",
            "plots",
            "tolerance",
            "bands",
            "sections",
            "limit",
            "limit-tolerance",
            "pay-tolerance",
            "between-points",
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
        item.surface(&item.surveyed()?, "surveyed")?,
    ];
    if sides[0] == sides[1] {
        let what = "the item compares a surface with itself";
        return Err(item.fault(what, "use another surface for one of them"));
    }
    if let Some(limit) = &entry.limit {
        return to_limit::check(item, counts, sides, limit);
    }
    let others = [
        (
            "limit-tolerance",
            entry.limit_tolerance.as_ref().map(Spanned::span),
        ),
        (
            "pay-tolerance",
            entry.pay_tolerance.as_ref().map(Spanned::span),
        ),
    ];
    if let Some((key, Some(span))) = others.into_iter().find(|(_, span)| span.is_some()) {
        let what = format!("{key} has no effect without a limit");
        return Err(item.sheet.fault(span, what, "add limit = \"...\""));
    }
    let opinions = ItemOpinions::of(item)?;
    if let (Some(_), Counts::Area | Counts::CutArea | Counts::FillArea) = (&opinions, counts) {
        let what = "second opinions are of cut, fill or net, and the item counts an area";
        return Err(item.fault(what, "remove them, or change measure"));
    }
    let asked = entry.between_points.as_ref();
    let between_points = asked.is_some_and(|asked| *asked.get_ref());
    if let (Some(asked), Counts::Area | Counts::CutArea | Counts::FillArea) = (asked, counts) {
        let what = "what lies between points is left out of volumes, and the item counts an area";
        let remedy = "remove it, or change measure";
        return Err(item.sheet.fault(asked.span(), what, remedy));
    }
    if let Some(sections) = &entry.sections {
        if let Some(asked) = asked {
            let what = "what lies between points is of the volume between the surfaces, and the item counts by sections";
            return Err(item.sheet.fault(asked.span(), what, "remove it"));
        }
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
        between_points,
        opinions,
        figure_only: false,
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

    fn opinions(&self) -> Option<(&ItemOpinions, Counts)> {
        Some((self.opinions.as_ref()?, self.counts))
    }
}
