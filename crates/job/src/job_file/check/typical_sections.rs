//! Typical sections: breaks that say how far out and how high they are, once each.

use std::collections::BTreeMap;

use dapedon_core::alignment::NamedChainage;
use dapedon_core::derived::{Bench, SideSlope};
use dapedon_core::surface::FARTHEST;
use toml::Spanned;

use super::super::entries::{
    BenchEntry, ByChainageEntry, ChainageEntry, Name, SectionBreakEntry, TypicalSectionEntry,
};
use super::super::{BreakHeightPlan, BreakPlan, ByChainage, JobFileError, TypicalSectionPlan};
use super::JobFileText;

/// Checks all typical sections.
pub(super) fn all(
    sheet: &JobFileText<'_>,
    entries: &BTreeMap<Name, TypicalSectionEntry>,
) -> Result<BTreeMap<String, TypicalSectionPlan>, JobFileError> {
    super::each(entries, |name, entry| typical_section(sheet, name, entry))
}

fn typical_section(
    sheet: &JobFileText<'_>,
    name: &Name,
    entry: &TypicalSectionEntry,
) -> Result<TypicalSectionPlan, JobFileError> {
    let sided = entry.left.first().or(entry.right.first());
    if let (Some(own), false) = (sided, entry.both.is_empty()) {
        let what = "breaks are given for both sides, and for one of them";
        return Err(sheet.fault(own.span(), what, "use both, or left and right"));
    }
    let breaks = |own: &[Spanned<SectionBreakEntry>]| {
        let of_both = entry.both.iter().chain(own);
        of_both
            .map(|entry| section_break(sheet, entry))
            .collect::<Result<Vec<_>, _>>()
    };
    let (left, right) = (breaks(&entry.left)?, breaks(&entry.right)?);
    if left.is_empty() && right.is_empty() {
        let what = "the typical section has no breaks";
        let remedy = "add them, as in both = [{ width = 3.5, fall = 0.025 }]";
        return Err(sheet.fault(name.span(), what, remedy));
    }
    let side = |key: &str, slope, bench: &Option<BenchEntry>| {
        side_slope(key, slope, *bench).map_err(|what| sheet.fault(name.span(), what, SLOPE_REMEDY))
    };
    Ok(TypicalSectionPlan {
        left,
        right,
        cut: side("cut", entry.cut_slope, &entry.cut_bench)?,
        fill: side("fill", entry.fill_slope, &entry.fill_bench)?,
    })
}

/// What a slope should be.
pub(super) const SLOPE_REMEDY: &str =
    "give n of the slope 1:n, and benches as in { every = 5, width = 2 }";

/// A slope that can be meant, with its benches.
pub(super) fn side_slope(
    key: &str,
    run: f64,
    bench: Option<BenchEntry>,
) -> Result<SideSlope, String> {
    let is_length = |value: f64| value > 0.0 && value <= FARTHEST;
    if !is_length(run) {
        return Err(format!("{key}-slope = {run} is not above zero"));
    }
    let bench = bench.map(|own| {
        if !(is_length(own.every) && is_length(own.width)) {
            return Err(format!(
                "{key}-bench has no height between benches, or no width"
            ));
        }
        // A bench that rises as fast as the slope falls would never get down.
        match own.fall.is_finite() && own.every + own.width * own.fall > 0.0 {
            true => Ok(Bench {
                every: own.every,
                width: own.width,
                fall: own.fall,
            }),
            false => Err(format!(
                "{key}-bench: its crossfall of {} is too steep",
                own.fall
            )),
        }
    });
    Ok(SideSlope {
        run,
        bench: bench.transpose()?,
    })
}

fn section_break(
    sheet: &JobFileText<'_>,
    spanned: &Spanned<SectionBreakEntry>,
) -> Result<BreakPlan, JobFileError> {
    let entry = spanned.get_ref();
    let fault = |what: &str, remedy: &str| sheet.fault(spanned.span(), what, remedy);
    let figure = |given: &ByChainageEntry| by_chainage(sheet, spanned, given);
    let (is_offset, across) = match (&entry.width, &entry.offset) {
        (Some(width), None) => (false, figure(width)?),
        (None, Some(offset)) => (true, figure(offset)?),
        _ => {
            return Err(fault(
                "the break has no width, or a width and an offset",
                "give a width from the break before it, or an offset from the line",
            ));
        }
    };
    if across.figures().any(|figure| figure < 0.0) {
        return Err(fault(
            "the break has a width below zero",
            "breaks go from the line outwards, on either side with a positive width",
        ));
    }
    let height = match (&entry.fall, &entry.drop, &entry.height) {
        (Some(fall), None, None) => BreakHeightPlan::Fall(figure(fall)?),
        (None, Some(drop), None) => BreakHeightPlan::Drop(figure(drop)?),
        (None, None, Some(height)) => BreakHeightPlan::AboveLine(figure(height)?),
        _ => {
            return Err(fault(
                "the break has no height, or more than one",
                "give one of fall, drop and height; fall = 0 is level",
            ));
        }
    };
    Ok(BreakPlan {
        is_offset,
        across,
        height,
    })
}

fn by_chainage(
    sheet: &JobFileText<'_>,
    spanned: &Spanned<SectionBreakEntry>,
    given: &ByChainageEntry,
) -> Result<ByChainage, JobFileError> {
    let fault = |what: String, remedy: &str| Err(sheet.fault(spanned.span(), what, remedy));
    let is_usable = |value: f64| value.is_finite() && value.abs() <= FARTHEST;
    let table = match given {
        ByChainageEntry::Fixed(value) if is_usable(*value) => return Ok(ByChainage::Fixed(*value)),
        ByChainageEntry::Fixed(value) => {
            return fault(format!("{value} is not a figure"), "correct it");
        }
        ByChainageEntry::Table(table) => table,
    };
    if table.is_empty() {
        return fault(
            "a table without figures".into(),
            "write it as in [[\"0+100\", 3.5], [\"0+150\", 4.5]]",
        );
    }
    let mut read: Vec<(NamedChainage, f64)> = Vec::with_capacity(table.len());
    for (chainage, value) in table {
        if !is_usable(*value) {
            return fault(format!("{value} is not a figure"), "correct it");
        }
        let named = match chainage {
            ChainageEntry::Number(value) if is_usable(*value) => Some(NamedChainage {
                value: *value,
                side: None,
            }),
            ChainageEntry::Number(_) => None,
            ChainageEntry::Text(text) => text.parse().ok(),
        };
        match named {
            Some(named) => read.push((named, *value)),
            None => {
                let told = match chainage {
                    ChainageEntry::Number(value) => value.to_string(),
                    ChainageEntry::Text(text) => format!("\"{text}\""),
                };
                return fault(
                    format!("{told} is not a chainage"),
                    "write it as in \"0+120\" or \"1+250.50\"",
                );
            }
        }
    }
    Ok(ByChainage::Table(read))
}

impl ByChainage {
    /// Its figures, without their chainages.
    fn figures(&self) -> impl Iterator<Item = f64> + '_ {
        let (fixed, table) = match self {
            ByChainage::Fixed(value) => (Some(*value), &[][..]),
            ByChainage::Table(table) => (None, table.as_slice()),
        };
        fixed
            .into_iter()
            .chain(table.iter().map(|(_, value)| *value))
    }
}
