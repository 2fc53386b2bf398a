//! Steps: each does one thing, with figures that can be meant.

use std::collections::{BTreeMap, BTreeSet};

use dapedon_core::derived::{Choice, Ends, Slopes};
use dapedon_core::surface::FARTHEST;
use dapedon_core::units::LengthUnit;
use toml::Spanned;

use super::super::entries::{
    EmbankmentEntry, EndsEntry, Name, Numbers, PlatformEntry, SideEntry, StepEntry, all,
};
use super::super::{BuildUpPlan, EmbankmentPlan, JobFileError, PlatformPlan, StepAction, StepPlan};
use super::JobFileText;

/// Broken slopes stand no farther than this from round ones by default, in metres.
const CHORD: f64 = 0.01;

/// The names that steps may use.
pub(super) struct KnownNames<'k> {
    pub(super) surfaces: &'k BTreeSet<&'k str>,
    pub(super) zones: &'k BTreeSet<&'k str>,
    pub(super) lines: &'k BTreeSet<&'k str>,
    pub(super) build_ups: &'k BTreeMap<String, BuildUpPlan>,
}

/// Checks a step.
pub(super) fn step(
    sheet: &JobFileText<'_>,
    spanned: &Spanned<StepEntry>,
    known: &KnownNames<'_>,
) -> Result<StepPlan, JobFileError> {
    let entry = spanned.get_ref();
    let span = || spanned.span();
    let number = |value: f64| match value.is_finite() && value.abs() <= FARTHEST {
        true => Ok(value),
        false => Err(sheet.fault(
            span(),
            format!("{value} is not a height or length"),
            "correct it",
        )),
    };
    let surface = |name: &Name| sheet.known(name, "surface", known.surfaces);
    let mut acts = Vec::new();
    for (amount, way, other) in [
        (entry.raise, "raise", "lower"),
        (entry.lower, "lower", "raise"),
    ] {
        let Some(amount) = amount else { continue };
        if number(amount)? < 0.0 {
            let what = format!("{way} = {amount} is negative");
            return Err(sheet.fault(span(), what, format!("use {other} = {}", -amount)));
        }
        acts.push(StepAction::Raise(if way == "raise" {
            amount
        } else {
            -amount
        }));
    }
    if let Some(level) = entry.level {
        acts.push(StepAction::Level(number(level)?));
    }
    if let Some(Numbers([east, north])) = entry.shift {
        acts.push(StepAction::Move([number(east)?, number(north)?]));
    }
    for (name, choice) in [
        (&entry.highest, Choice::Highest),
        (&entry.lowest, Choice::Lowest),
        (&entry.replace, Choice::Other),
    ] {
        if let Some(name) = name {
            acts.push(StepAction::Combine(choice, surface(name)?));
        }
    }
    let zones = all(&entry.zones);
    if let Some(side) = entry.keep {
        if zones.is_empty() {
            let what = "keep needs zones";
            return Err(sheet.fault(span(), what, "add zones = [\"...\"]"));
        }
        acts.push(StepAction::Keep(side == SideEntry::Inside));
    }
    if let Some(entry) = &entry.platform {
        acts.push(StepAction::Platform(platform(
            sheet, spanned, entry, known,
        )?));
    }
    if let Some(entry) = &entry.embankment {
        acts.push(StepAction::Embankment(embankment(
            sheet, spanned, entry, known,
        )?));
    }
    let named = all(&entry.build_up);
    if !named.is_empty() {
        let stop_at = entry.stop_at.as_ref();
        acts.push(build_up(
            sheet,
            &named,
            stop_at,
            entry.overlap.is_some(),
            known,
        )?);
    } else if let Some(stop) = &entry.stop_at {
        let what = "stop-at needs a build-up";
        return Err(sheet.fault(stop.span(), what, "add build-up = [\"...\"]"));
    }
    if entry.overlap.is_some() && named.is_empty() {
        let what = "overlap needs a build-up";
        return Err(sheet.fault(span(), what, "remove it, or add build-up = [\"...\"]"));
    }
    if let Some(name) = &entry.difference {
        acts.push(StepAction::Difference(surface(name)?));
    }
    let zones = zones
        .iter()
        .map(|name| sheet.known(name, "zone", known.zones));
    let zones = zones.collect::<Result<Vec<_>, _>>()?;
    match acts.len() {
        1 => Ok(StepPlan {
            act: acts.remove(0),
            zones,
            spot: sheet.spot(span()),
        }),
        0 => {
            let remedy = "use one of raise, lower, level, move, highest, lowest, take, keep, platform, embankment, build-up, difference";
            Err(sheet.fault(span(), "the step does nothing", remedy))
        }
        _ => {
            let remedy = "write them as separate steps, in their order: { ... }, { ... }";
            Err(sheet.fault(span(), "the step does more than one thing", remedy))
        }
    }
}

fn build_up(
    sheet: &JobFileText<'_>,
    named: &[Name],
    stop_at: Option<&Name>,
    first_holds: bool,
    known: &KnownNames<'_>,
) -> Result<StepAction, JobFileError> {
    let all: BTreeSet<&str> = known.build_ups.keys().map(String::as_str).collect();
    let names = named.iter().map(|name| sheet.known(name, "build-up", &all));
    let names = names.collect::<Result<Vec<_>, _>>()?;
    if let Some(stop) = stop_at {
        let layers = || {
            let plans = names.iter().filter_map(|name| known.build_ups.get(name));
            plans
                .flat_map(|plan| &plan.layers)
                .map(|layer| layer.name.as_str())
        };
        if !layers().any(|layer| layer == stop.get_ref()) {
            let what = format!("the build-up has no layer \"{}\"", stop.get_ref());
            let names: BTreeSet<&str> = layers().collect();
            let names: Vec<String> = names.iter().map(|name| format!("\"{name}\"")).collect();
            return Err(sheet.fault(
                stop.span(),
                what,
                format!("use one of {}", names.join(", ")),
            ));
        }
    }
    Ok(StepAction::BuildUp {
        names,
        stop_at: stop_at.map(|stop| stop.get_ref().clone()),
        first_holds,
    })
}

/// Slopes that can be meant.
fn slopes(
    sheet: &JobFileText<'_>,
    step: &Spanned<StepEntry>,
    [cut, fill]: [f64; 2],
    chord: Option<f64>,
) -> Result<Slopes, JobFileError> {
    let chord = chord.unwrap_or_else(|| LengthUnit::Metre.convert(CHORD, sheet.unit));
    for (key, value) in [
        ("cut-slope", cut),
        ("fill-slope", fill),
        ("chord-tolerance", chord),
    ] {
        if value <= 0.0 || !value.is_finite() {
            let what = format!("{key} = {value} is not above zero");
            let remedy = match key {
                "chord-tolerance" => {
                    "give the largest distance between the curved slope and its straight pieces"
                }
                _ => "give n of the slope 1:n",
            };
            return Err(sheet.fault(step.span(), what, remedy));
        }
    }
    Ok(Slopes { cut, fill, chord })
}

fn platform(
    sheet: &JobFileText<'_>,
    step: &Spanned<StepEntry>,
    entry: &PlatformEntry,
    known: &KnownNames<'_>,
) -> Result<PlatformPlan, JobFileError> {
    let numbers = [entry.level, entry.fall, entry.towards.unwrap_or(0.0)];
    let at = entry.at.into_iter().flat_map(|at| at.0);
    if let Some(value) = numbers
        .into_iter()
        .chain(at)
        .find(|value| value.is_nan() || value.abs() > FARTHEST)
    {
        return Err(sheet.fault(
            step.span(),
            format!("{value} is not a height or length"),
            "correct it",
        ));
    }
    let rise = match (entry.fall, entry.towards) {
        (0.0, _) => [0.0, 0.0],
        (fall, Some(towards)) => {
            let (sin, cos) = libm::sincos(towards.to_radians());
            [-fall * sin, -fall * cos]
        }
        (_, None) => {
            let what = "the platform has a fall and no direction";
            let remedy = "add the direction in degrees clockwise from north, as in towards = 90";
            return Err(sheet.fault(step.span(), what, remedy));
        }
    };
    Ok(PlatformPlan {
        outline: sheet.known(&entry.outline, "zone", known.zones)?,
        level: entry.level,
        rise,
        at: entry.at.map(|at| at.0),
        slopes: slopes(
            sheet,
            step,
            [entry.cut_slope, entry.fill_slope],
            entry.chord_tolerance,
        )?,
        until: until(sheet, &entry.until, known)?,
    })
}

fn embankment(
    sheet: &JobFileText<'_>,
    step: &Spanned<StepEntry>,
    entry: &EmbankmentEntry,
    known: &KnownNames<'_>,
) -> Result<EmbankmentPlan, JobFileError> {
    if entry.width <= 0.0 || !entry.width.is_finite() {
        let what = format!("width = {} is not above zero", entry.width);
        return Err(sheet.fault(step.span(), what, "give the top width"));
    }
    Ok(EmbankmentPlan {
        line: sheet.known(&entry.line, "line", known.lines)?,
        width: entry.width,
        slopes: slopes(
            sheet,
            step,
            [entry.cut_slope, entry.fill_slope],
            entry.chord_tolerance,
        )?,
        until: until(sheet, &entry.until, known)?,
        ends: match entry.ends {
            None | Some(EndsEntry::Sloping) => Ends::Sloping,
            Some(EndsEntry::Upright) => Ends::Upright,
        },
    })
}

fn until(
    sheet: &JobFileText<'_>,
    name: &Option<Name>,
    known: &KnownNames<'_>,
) -> Result<Option<String>, JobFileError> {
    let known = name
        .as_ref()
        .map(|name| sheet.known(name, "surface", known.surfaces));
    known.transpose()
}
