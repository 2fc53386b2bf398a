//! A volume between two surfaces, as far as a limit lets it be paid.

use dapedon_core::quantities::Tolerance;
use toml::Spanned;

use super::between::Counts;
use super::opinions::ItemOpinions;
use super::{AllowedUnits, ItemKind, Kind, MaterialDefaults};
use crate::input::Source;
use crate::job_file::check::Checked;
use crate::job_file::{JobFileError, MeasuredZones};

/// A volume between two surfaces, as far as a limit lets it be paid.
#[derive(Debug, Clone)]
pub(crate) struct ToLimit {
    pub(crate) counts: Counts,
    /// The reference, and the surveyed surface.
    pub(crate) sides: [Source; 2],
    /// The surface that work is paid up to.
    pub(crate) limit: Source,
    /// What is allowed beyond it.
    pub(crate) tolerance: Tolerance,
    /// Whether work within the tolerance is paid.
    pub(crate) pays_tolerance: bool,
    pub(crate) ground: MeasuredZones,
    /// Only the figures are needed, and neither a map nor how uncertain they are.
    pub(crate) figure_only: bool,
}

/// Makes a plan of an item that has a limit.
pub(super) fn check(
    item: &Checked<'_>,
    counts: Counts,
    sides: [Source; 2],
    limit: &Spanned<String>,
) -> Result<ItemKind, JobFileError> {
    let entry = item.entry;
    let fault = |what: &str, remedy: &str| item.sheet.fault(limit.span(), what, remedy);
    if !counts.is_volume() {
        let remedy = "measure cut, fill or net, or remove limit";
        return Err(fault(
            "a limit is one of volumes, and the item counts an area",
            remedy,
        ));
    }
    let others = [
        ("tolerance", entry.tolerance.as_ref().map(Spanned::span)),
        ("bands", entry.bands.as_ref().map(Spanned::span)),
        ("sections", entry.sections.as_ref().map(Spanned::span)),
        (
            "between-points",
            entry.between_points.as_ref().map(Spanned::span),
        ),
    ];
    let others = others.into_iter().chain(ItemOpinions::spans(item));
    if let Some((key, Some(span))) = others.into_iter().find(|(_, span)| span.is_some()) {
        let what = format!("{key} has no effect where work is counted up to a limit");
        return Err(item.sheet.fault(span, what, "remove it, or remove limit"));
    }
    let named = item.surface(&Some(limit.clone()), "limit")?;
    if sides.contains(&named) {
        let remedy = "use the surface that work is paid up to: the design";
        return Err(fault("the limit is one of the surfaces it limits", remedy));
    }
    let tolerance = match &entry.limit_tolerance {
        None => Tolerance::ZERO,
        Some(tolerance) => Tolerance::new(*tolerance.get_ref()).ok_or_else(|| {
            let what = format!("{} is not a tolerance", tolerance.get_ref());
            let remedy = "use a height of zero or more";
            item.sheet.fault(tolerance.span(), what, remedy)
        })?,
    };
    if let (Some(pays), None) = (&entry.pay_tolerance, &entry.limit_tolerance) {
        let what = "pay-tolerance has no effect without a tolerance beyond the limit";
        return Err(item
            .sheet
            .fault(pays.span(), what, "add limit-tolerance = ..."));
    }
    Ok(ItemKind::ToLimit(ToLimit {
        counts,
        sides,
        limit: named,
        tolerance,
        pays_tolerance: (entry.pay_tolerance.as_ref()).is_some_and(|pays| *pays.get_ref()),
        ground: item.ground()?,
        figure_only: false,
    }))
}

impl Kind for ToLimit {
    fn words(&self) -> String {
        let counts = match self.counts {
            Counts::Fill => "fill",
            Counts::Net => "net, fill less cut,",
            _ => "cut",
        };
        let tolerance = match self.pays_tolerance {
            true => " and its tolerance",
            false => "",
        };
        format!("{counts} up to the limit \"{}\"{tolerance}", self.limit)
    }

    fn surfaces(&self) -> &[Source] {
        &self.sides
    }

    fn paid_up_to(&self) -> Option<&Source> {
        Some(&self.limit)
    }

    fn ground(&self) -> Option<&MeasuredZones> {
        Some(&self.ground)
    }

    fn told_in(&self, _: bool) -> AllowedUnits {
        AllowedUnits::Volume
    }

    fn material(&self) -> MaterialDefaults {
        self.counts.material()
    }
}
