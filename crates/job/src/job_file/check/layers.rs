//! Build-ups: layers whose thicknesses and counts can be meant.

use std::collections::BTreeSet;
use std::ops::Range;

use dapedon_contract::{CountedBy, LayerCount, decimal};
use dapedon_core::units::LengthUnit;
use toml::Spanned;

use super::super::entries::{BuildUpEntry, CountedEntry, LayerEntry, Name, ThicknessEntry, all};
use super::super::{BuildUpPlan, JobFileError, Layer};
use super::JobFileText;
use super::materials::can_be;

/// A layer is not thicker than this, in metres: more is a thickness in the wrong unit.
const THICKEST: f64 = 10.0;

/// Checks a build-up.
pub(super) fn build_up(
    sheet: &JobFileText<'_>,
    name: &Name,
    entry: &BuildUpEntry,
    zone_names: &BTreeSet<&str>,
) -> Result<BuildUpPlan, JobFileError> {
    let named = all(&entry.zones);
    if named.is_empty() {
        let what = "the build-up covers no zone";
        return Err(sheet.fault(name.span(), what, "add zones = [\"...\"]"));
    }
    let zones = named
        .iter()
        .map(|zone| sheet.known(zone, "zone", zone_names));
    let zones = zones.collect::<Result<Vec<_>, _>>()?;
    if entry.layers.is_empty() {
        let remedy =
            "list them from the top down, as in layers = [{ name = \"base\", thickness = 0.25 }]";
        return Err(sheet.fault(name.span(), "the build-up has no layers", remedy));
    }
    let mut layers: Vec<Layer> = Vec::new();
    for spanned in &entry.layers {
        let checked = layer(sheet, spanned)?;
        if layers.iter().any(|known| known.name == checked.name) {
            let what = format!("the build-up has the layer \"{}\" twice", checked.name);
            let remedy = "join them, or give them different names, as in \"base, lower\"";
            return Err(sheet.fault(spanned.span(), what, remedy));
        }
        layers.push(checked);
    }
    Ok(BuildUpPlan { zones, layers })
}

fn layer(sheet: &JobFileText<'_>, spanned: &Spanned<LayerEntry>) -> Result<Layer, JobFileError> {
    let entry = spanned.get_ref();
    let fault = |what: String, remedy: &str| Err(sheet.fault(spanned.span(), what, remedy));
    let thickness = match &entry.thickness {
        ThicknessEntry::Number(thickness) => *thickness,
        ThicknessEntry::Words(words) => match spoken(words) {
            Some((number, unit)) => match unit {
                Some(metres) => LengthUnit::Metre.convert(number * metres, sheet.unit),
                None => number,
            },
            None => {
                let what = format!("\"{words}\" is not a thickness");
                return fault(
                    what,
                    "use a number, or one with mm, cm, m, in or ft, as in \"150 mm\"",
                );
            }
        },
    };
    let symbol = sheet.unit.symbol();
    if thickness <= 0.0 || thickness.is_nan() {
        let what = format!("the layer \"{}\" is {thickness} {symbol} thick", entry.name);
        return fault(what, "give a thickness above zero");
    }
    if sheet.metres(thickness) > THICKEST {
        let what = format!("the layer \"{}\" is {thickness} {symbol} thick", entry.name);
        return fault(
            what,
            "thicknesses are in the job's unit; write others with their unit, as in \"150 mm\"",
        );
    }
    let counted = entry
        .counted
        .iter()
        .map(|entry| counted(sheet, spanned.span(), entry));
    Ok(Layer {
        name: entry.name.clone(),
        thickness,
        counted: counted.collect::<Result<_, _>>()?,
    })
}

fn counted(
    sheet: &JobFileText<'_>,
    span: Range<usize>,
    entry: &CountedEntry,
) -> Result<LayerCount, JobFileError> {
    let figure = |value: f64| {
        decimal(value).filter(|_| can_be(value)).ok_or_else(|| {
            let what = format!("the figure to count {} by is out of range", entry.unit);
            sheet.fault(span.clone(), what, "correct the figure")
        })
    };
    let by = match (entry.per_volume, entry.covers, entry.holds) {
        (Some(rate), None, None) => CountedBy::PerVolume(figure(rate)?),
        (None, Some(covers), None) => CountedBy::Covers(figure(covers)?),
        (None, None, Some(holds)) => CountedBy::Holds(figure(holds)?),
        _ => {
            let what = format!("{} need one way to be counted", entry.unit);
            let remedy = "use one of per-volume, covers and holds";
            return Err(sheet.fault(span, what, remedy));
        }
    };
    let cost = match entry.cost {
        None => None,
        Some(cost) => Some(decimal(cost).filter(|_| cost >= 0.0).ok_or_else(|| {
            let what = format!("the cost of {} is not an amount of money", entry.unit);
            sheet.fault(span, what, "correct the figure")
        })?),
    };
    Ok(LayerCount {
        unit: entry.unit.clone(),
        by,
        whole: entry.whole,
        cost,
    })
}

/// A number, and the length of its unit in metres where it has one.
fn spoken(words: &str) -> Option<(f64, Option<f64>)> {
    let words = words.trim();
    let end = words
        .find(|c: char| c.is_alphabetic())
        .unwrap_or(words.len());
    let number = words[..end].trim().parse().ok()?;
    let metres = match words[end..].trim() {
        "" => return Some((number, None)),
        "mm" => 0.001,
        "cm" => 0.01,
        "m" => 1.0,
        "in" => 0.0254,
        "ft" => 0.3048,
        _ => return None,
    };
    Some((number, Some(metres)))
}
