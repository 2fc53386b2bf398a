//! A volume between two surfaces, from sections along a line.

use dapedon_contract::State;
use dapedon_core::alignment::NamedChainage;
use dapedon_core::units::LengthUnit;
use toml::Spanned;

use super::between::Counts;
use super::{AllowedUnits, ItemKind, Kind, MaterialDefaults};
use crate::input::{LineSource, Source};
use crate::job_file::check::Checked;
use crate::job_file::entries::{SectionRuleEntry, SectionsEntry};
use crate::job_file::{JobFileError, MaterialUse};
use crate::section_rules::{SectionRule, SectionRules};

/// A volume between two surfaces, from sections along a line.
#[derive(Debug, Clone)]
pub(crate) struct BySections {
    pub(crate) counts: Counts,
    pub(crate) sides: [Source; 2],
    /// The zones that limit sections.
    pub(crate) zones: Vec<String>,
    pub(crate) rules: SectionRules,
    unit: LengthUnit,
}

/// Makes a plan of the sections of an item that counts cut, fill or net.
pub(super) fn check(
    item: &Checked<'_>,
    counts: Counts,
    sides: [Source; 2],
    entry: &Spanned<SectionsEntry>,
) -> Result<ItemKind, JobFileError> {
    let fault = |what: &str, remedy: &str| item.sheet.fault(entry.span(), what, remedy);
    if !counts.is_volume() {
        return Err(fault(
            "sections give volumes, no areas in plan",
            "measure cut, fill or net, or remove sections",
        ));
    }
    let own = &item.entry;
    let others = [
        ("plots", own.plots.as_ref().map(Spanned::span)),
        ("tolerance", own.tolerance.as_ref().map(Spanned::span)),
        ("bands", own.bands.as_ref().map(Spanned::span)),
    ];
    if let Some((key, Some(span))) = others.into_iter().find(|(_, span)| span.is_some()) {
        let what = format!("{key} has no effect where sections are counted");
        return Err(item
            .sheet
            .fault(span, what, "remove it, or remove sections"));
    }
    let zones = item.named(&own.zones)?;
    let said = entry.get_ref();
    let line = item.line(&said.line)?;
    let is_length = |value: f64| value.is_finite() && value > 0.0;
    if !is_length(said.every) {
        return Err(fault(
            "the interval of the sections is not above zero",
            "write it as in every = 20",
        ));
    }
    let widths = match (said.width, said.left, said.right) {
        (Some(width), None, None) => Some([width; 2]),
        (None, Some(left), Some(right)) => Some([left, right]),
        (None, None, None) if !zones.is_empty() => None,
        (None, None, None) => {
            return Err(fault(
                "nothing says how wide the sections are",
                "add width, or left and right, or zones to the item",
            ));
        }
        _ => {
            return Err(fault(
                "the width of the sections is given twice, or on one side only",
                "give width, or left and right",
            ));
        }
    };
    if widths.is_some_and(|[left, right]| !(left >= 0.0 && right >= 0.0 && is_length(left + right)))
    {
        return Err(fault(
            "a width of the sections is not a width",
            "use figures of zero or more",
        ));
    }
    let chainage = |text: &Option<String>| -> Result<Option<NamedChainage>, JobFileError> {
        let Some(text) = text else { return Ok(None) };
        let read = text.parse().map_err(|_| {
            fault(
                &format!("\"{text}\" is not a chainage"),
                "write it as in \"0+120\" or \"1+250.50\"",
            )
        });
        read.map(Some)
    };
    Ok(ItemKind::BySections(BySections {
        counts,
        sides,
        zones,
        rules: SectionRules {
            line: LineSource::Named(line),
            every: Some(said.every),
            geometry_points: !said.round_only,
            at: Vec::new(),
            refine: false,
            between: [chainage(&said.from)?, chainage(&said.to)?],
            widths,
            rule: match said.rule {
                SectionRuleEntry::AverageEndArea => SectionRule::AverageEndArea,
                SectionRuleEntry::Prismoidal => SectionRule::Prismoidal,
            },
            curve_correction: said.curve_correction,
        },
        unit: item.known.unit,
    }))
}

impl Kind for BySections {
    fn words(&self) -> String {
        let what = match self.counts {
            Counts::Fill => "fill",
            Counts::Net => "net, fill less cut",
            _ => "cut",
        };
        format!("{what}, {}", self.rules.words(self.unit))
    }

    fn surfaces(&self) -> &[Source] {
        &self.sides
    }

    fn limits(&self) -> &[String] {
        &self.zones
    }

    fn told_in(&self, _: bool) -> AllowedUnits {
        AllowedUnits::Volume
    }

    fn material(&self) -> MaterialDefaults {
        self.counts.material()
    }
}

impl Counts {
    /// True for a volume, and not an area.
    pub(crate) fn is_volume(self) -> bool {
        matches!(self, Counts::Cut | Counts::Fill | Counts::Net)
    }

    /// What the material of a figure is taken to be.
    pub(super) fn material(self) -> MaterialDefaults {
        match self {
            Counts::Cut => MaterialDefaults::Usual(State::Bank, MaterialUse::Dug),
            Counts::Fill => MaterialDefaults::Usual(State::Compacted, MaterialUse::Placed),
            Counts::Net => MaterialDefaults::Said(
                "net mixes compacted fill with bank cut, and has no single state",
            ),
            Counts::Area | Counts::CutArea | Counts::FillArea => MaterialDefaults::None,
        }
    }
}
