//! Steps: each does one thing, with figures that can be meant.

use std::collections::{BTreeMap, BTreeSet};

use dapedon_core::derived::{Choice, Ends, Slopes};
use dapedon_core::surface::FARTHEST;
use dapedon_core::units::LengthUnit;
use toml::Spanned;

use super::super::entries::{
    BenchEntry, EmbankmentEntry, EndsEntry, Name, Numbers, PlatformEntry, RegradeEntry, SideEntry,
    StepEntry, SweptEntry, all,
};
use super::super::{
    BuildUpPlan, DownTo, EmbankmentPlan, JobFileError, LinePlan, PlatformPlan, RegradePlan,
    StepAction, StepPlan, SweptPlan, TypicalSectionPlan,
};
use super::JobFileText;
use super::typical_sections::{SLOPE_REMEDY, side_slope};

/// Broken slopes stand no farther than this from round ones by default, in metres.
const CHORD: f64 = 0.01;

/// Finer than this nothing is written, in metres: a finer tolerance makes only more triangles.
const FINEST: f64 = 1e-5;

/// The names that steps may use.
pub(super) struct KnownNames<'k> {
    pub(super) surfaces: &'k BTreeSet<&'k str>,
    pub(super) zones: &'k BTreeSet<&'k str>,
    pub(super) lines: &'k BTreeMap<String, LinePlan>,
    pub(super) sections: &'k BTreeMap<String, TypicalSectionPlan>,
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
    if let Some(entry) = &entry.swept {
        acts.push(StepAction::Swept(swept(sheet, spanned, entry, known)?));
    }
    if let Some(entry) = &entry.regrade {
        if zones.is_empty() {
            let what = "regrade needs zones";
            return Err(sheet.fault(span(), what, "add zones = [\"...\"]"));
        }
        acts.push(StepAction::Regrade(regrade(sheet, spanned, entry, known)?));
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
    if let Some(name) = &entry.fit_to {
        if zones.is_empty() {
            let what = "fit-to needs zones that nobody touched";
            return Err(sheet.fault(name.span(), what, "add zones = [\"...\"]"));
        }
        acts.push(StepAction::Fit {
            to: surface(name)?,
            tilt: entry.tilt,
        });
    } else if entry.tilt {
        let what = "tilt needs fit-to";
        return Err(sheet.fault(span(), what, "remove it, or add fit-to = \"...\""));
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
            let remedy = "use one of raise, lower, level, move, highest, lowest, replace, keep, platform, embankment, swept, regrade, build-up, difference, fit-to";
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
        down_to: stop_at.map_or(DownTo::All, |stop| DownTo::TopOf(stop.get_ref().clone())),
        first_holds,
    })
}

/// Slopes that can be meant.
fn slopes(
    sheet: &JobFileText<'_>,
    step: &Spanned<StepEntry>,
    [cut, fill]: [(f64, Option<BenchEntry>); 2],
    tolerance: Option<f64>,
) -> Result<Slopes, JobFileError> {
    let side = |key: &str, (run, bench)| {
        side_slope(key, run, bench).map_err(|what| sheet.fault(step.span(), what, SLOPE_REMEDY))
    };
    Ok(Slopes {
        cut: side("cut", cut)?,
        fill: side("fill", fill)?,
        chord: chord(sheet, step, tolerance)?,
    })
}

/// A chord tolerance above zero; the usual one where none is given.
fn chord(
    sheet: &JobFileText<'_>,
    step: &Spanned<StepEntry>,
    given: Option<f64>,
) -> Result<f64, JobFileError> {
    let chord = given.unwrap_or_else(|| LengthUnit::Metre.convert(CHORD, sheet.unit));
    let finest = LengthUnit::Metre.convert(FINEST, sheet.unit);
    match chord.is_finite() {
        true if chord >= finest => Ok(chord),
        true if chord > 0.0 => Err(sheet.fault(
            step.span(),
            format!("chord-tolerance = {chord} is finer than coordinates are written"),
            "use 0.001 or more",
        )),
        _ => Err(sheet.fault(
            step.span(),
            format!("chord-tolerance = {chord} is not above zero"),
            "give the largest distance between the curved slope and its straight pieces",
        )),
    }
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
            [
                (entry.cut_slope, entry.cut_bench),
                (entry.fill_slope, entry.fill_bench),
            ],
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
    let (line, laid_on) = line(sheet, &entry.line, known)?;
    Ok(EmbankmentPlan {
        line,
        laid_on,
        width: entry.width,
        slopes: slopes(
            sheet,
            step,
            [
                (entry.cut_slope, entry.cut_bench),
                (entry.fill_slope, entry.fill_bench),
            ],
            entry.chord_tolerance,
        )?,
        until: until(sheet, &entry.until, known)?,
        ends: match entry.ends {
            None | Some(EndsEntry::Sloping) => Ends::Sloping,
            Some(EndsEntry::Upright) => Ends::Upright,
        },
    })
}

/// A line of the job, and the surface it is laid on.
fn line(
    sheet: &JobFileText<'_>,
    name: &Name,
    known: &KnownNames<'_>,
) -> Result<(String, Option<String>), JobFileError> {
    let names: BTreeSet<&str> = known.lines.keys().map(String::as_str).collect();
    let name = sheet.known(name, "line", &names)?;
    let laid_on = known.lines.get(&name).and_then(|line| line.laid_on.clone());
    Ok((name, laid_on))
}

fn swept(
    sheet: &JobFileText<'_>,
    step: &Spanned<StepEntry>,
    entry: &SweptEntry,
    known: &KnownNames<'_>,
) -> Result<SweptPlan, JobFileError> {
    let names: BTreeSet<&str> = known.sections.keys().map(String::as_str).collect();
    let name = sheet.known(&entry.section, "typical-section", &names)?;
    let section = known.sections.get(&name).cloned().ok_or_else(|| {
        sheet.fault(
            entry.section.span(),
            "there is no such typical section",
            "add it",
        )
    })?;
    let (line, laid_on) = line(sheet, &entry.line, known)?;
    Ok(SweptPlan {
        name,
        section,
        line,
        laid_on,
        between: [sheet.chainage(&entry.from)?, sheet.chainage(&entry.to)?],
        until: until(sheet, &entry.until, known)?,
        ends: match entry.ends {
            Some(EndsEntry::Sloping) => Ends::Sloping,
            None | Some(EndsEntry::Upright) => Ends::Upright,
        },
        chord: chord(sheet, step, entry.chord_tolerance)?,
    })
}

fn regrade(
    sheet: &JobFileText<'_>,
    step: &Spanned<StepEntry>,
    entry: &RegradeEntry,
    known: &KnownNames<'_>,
) -> Result<RegradePlan, JobFileError> {
    let lines = all(&entry.lines);
    let lines = lines.iter().map(|name| {
        let (name, laid_on) = line(sheet, name, known)?;
        match laid_on {
            None => Ok(name),
            Some(surface) => Err(sheet.fault(
                step.span(),
                format!("the line \"{name}\" is laid on \"{surface}\""),
                "use a line with heights of its own",
            )),
        }
    });
    let plan = RegradePlan {
        points: entry.points.iter().map(|point| point.0).collect(),
        lines: lines.collect::<Result<_, _>>()?,
        surface: until(sheet, &entry.surface, known)?,
    };
    let figures = plan.points.iter().flatten();
    if let Some(value) = { figures }.find(|value| value.is_nan() || value.abs() > FARTHEST) {
        let what = format!("{value} is not a coordinate or height");
        return Err(sheet.fault(step.span(), what, "correct it"));
    }
    if plan.points.is_empty() && plan.lines.is_empty() && plan.surface.is_none() {
        return Err(sheet.fault(
            step.span(),
            "regrade has nothing to make the ground from",
            "add points, lines or a surface",
        ));
    }
    Ok(plan)
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
