//! From entries to a job: every name known, every figure usable, no surface that needs itself.

mod bands;
mod calendar;
mod checks;
mod claims;
mod dates;
pub(super) mod items;
mod layers;
mod materials;
mod progress;
mod steps;
mod surfaces;
mod typical_sections;
mod zones_and_lines;

use std::collections::{BTreeMap, BTreeSet};
use std::ops::Range;
use std::path::{Path, PathBuf};

use dapedon_core::alignment::NamedChainage;
use dapedon_core::units::{LengthUnit, MassUnit, VolumeUnit};

use super::entries::{JobEntries, Name, ReadingEntries, ReadingEntry};
use crate::error::JobFileLine;

use super::{Job, JobFileError, nearest};
pub(super) use items::Checked;

use crate::input::{InputFile, Reading};
use crate::units::UnitCode;

/// The text of a job file, to point into.
pub(super) struct JobFileText<'t> {
    path: &'t Path,
    text: &'t str,
    unit: LengthUnit,
    /// The job says a currency, so that there may be costs.
    has_currency: bool,
}

impl JobFileText<'_> {
    fn spot(&self, span: Range<usize>) -> JobFileLine {
        JobFileLine::of(self.path, self.text, span)
    }

    pub(super) fn fault(
        &self,
        span: Range<usize>,
        what: impl Into<String>,
        remedy: impl Into<String>,
    ) -> JobFileError {
        JobFileError {
            spot: self.spot(span),
            what: what.into(),
            remedy: remedy.into(),
        }
    }

    /// A name that must be one of those known.
    pub(super) fn known(
        &self,
        name: &Name,
        kind: &str,
        names: &BTreeSet<&str>,
    ) -> Result<String, JobFileError> {
        let text = name.get_ref().as_str();
        if names.contains(text) {
            return Ok(text.into());
        }
        let remedy = match nearest(text, names.iter().copied()) {
            Some(near) => format!("use \"{near}\", or add a [{kind}.\"{text}\"]"),
            None if names.is_empty() => format!("add a [{kind}.\"{text}\"]"),
            None => {
                let names: Vec<String> = names.iter().map(|name| format!("\"{name}\"")).collect();
                format!(
                    "use one of {}, or add a [{kind}.\"{text}\"]",
                    names.join(", ")
                )
            }
        };
        Err(self.fault(
            name.span(),
            format!("there is no {kind} \"{text}\""),
            remedy,
        ))
    }

    /// A chainage.
    fn chainage(&self, text: &Option<Name>) -> Result<Option<NamedChainage>, JobFileError> {
        let Some(text) = text else { return Ok(None) };
        let read = text.get_ref().parse().map_err(|_| {
            let what = format!("\"{}\" is not a chainage", text.get_ref());
            self.fault(
                text.span(),
                what,
                "write it as in \"0+120\" or \"1+250.50\"",
            )
        });
        read.map(Some)
    }

    /// A file, as it is named from the job file's folder.
    fn file(&self, text: &str) -> PathBuf {
        self.path.parent().unwrap_or(Path::new("")).join(text)
    }

    /// A file, and the name after the last `#`, unless the whole is a file.
    fn file_and_name(&self, text: &str) -> (PathBuf, Option<String>) {
        match text.rsplit_once('#') {
            Some((path, name)) if !path.is_empty() && !self.file(text).exists() => {
                (self.file(path), Some(name.into()))
            }
            _ => (self.file(text), None),
        }
    }

    fn metres(&self, length: f64) -> f64 {
        self.unit.convert(length, LengthUnit::Metre)
    }
}

/// Checks the text of a job file.
pub(super) fn job(path: &Path, text: &str, file: InputFile) -> Result<Job, JobFileError> {
    let entries: JobEntries = toml::from_str(text).map_err(|error| unread(path, text, &error))?;
    let unit = entries.job.unit.0;
    let sheet = JobFileText {
        path,
        text,
        unit,
        has_currency: entries.job.currency.is_some(),
    };
    let report = &entries.report;
    if let Some(decimals) = report
        .decimals
        .as_ref()
        .filter(|decimals| *decimals.get_ref() > 6)
    {
        let what = format!("{} decimals are too many", decimals.get_ref());
        return Err(sheet.fault(decimals.span(), what, "use 0 to 6"));
    }
    let area_unit = report.area_unit.map(|UnitCode(asked)| asked);
    let volume_unit = report.volume_unit.map(|UnitCode(asked)| asked);

    let zone_names: BTreeSet<&str> = entries
        .zones
        .keys()
        .map(|name| name.get_ref().as_str())
        .collect();
    // Surfaces are made with zones that were drawn; those at a level come after the surfaces.
    let drawn = entries
        .zones
        .iter()
        .filter(|(_, entry)| entry.surface.is_none());
    let drawn: BTreeSet<&str> = drawn.map(|(name, _)| name.get_ref().as_str()).collect();
    let surface_names: BTreeSet<&str> = entries
        .surfaces
        .keys()
        .map(|name| name.get_ref().as_str())
        .collect();
    let line_names: BTreeSet<&str> = (entries.lines.keys())
        .map(|name| name.get_ref().as_str())
        .collect();
    let zones = each(&entries.zones, |name, entry| {
        zones_and_lines::zone(&sheet, name, entry, &surface_names, &line_names)
    })?;
    let lines = each(&entries.lines, |name, entry| {
        zones_and_lines::line(&sheet, name, entry, &surface_names, &line_names)
    })?;
    zones_and_lines::in_no_circle(&sheet, &entries.lines, &lines)?;
    let factor_volume = entries.job.volume_unit;
    let factor_volume =
        factor_volume.map_or(VolumeUnit::usual(unit), |UnitCode(asked)| asked.on(unit));
    let build_ups = each(&entries.build_ups, |name, entry| {
        layers::build_up(&sheet, name, entry, &drawn)
    })?;
    let readings = readings(&sheet, &entries.readings)?;
    let surfaces = surfaces::surfaces(&sheet, &entries, &drawn, &build_ups, &readings, &lines)?;
    let bands = each(&entries.bands, |name, entry| {
        bands::bands(&sheet, name, entry)
    })?;
    let mass_unit = entries.job.mass_unit;
    let mass_unit = mass_unit.map_or(MassUnit::usual(unit), |UnitCode(unit)| unit);
    let decimals = report.decimals.as_ref().map(|decimals| *decimals.get_ref());
    let vehicles = each(&entries.vehicles, |name, entry| {
        materials::vehicle(&sheet, name, entry)
    })?;
    let materials = each(&entries.materials, |name, entry| {
        materials::material(&sheet, name, entry, &vehicles, mass_unit)
    })?;
    let known = items::Known {
        surfaces: &surfaces,
        zones: &zone_names,
        lines: &line_names,
        unit,
        build_ups: &build_ups,
        bands: &bands,
        materials: &materials,
        vehicles: &vehicles,
        mass: mass_unit,
        decimals: decimals.map_or(1, u32::from),
    };
    let items = items::items(&sheet, &entries.items, &known)?;
    let calendar = entries.calendar.as_ref();
    let calendar = calendar.map(|entry| calendar::calendar(&sheet, entry));
    let calendar = calendar.transpose()?.unwrap_or_default();
    let terms = claims::terms(&sheet, &entries.terms)?;
    let claimable = claims::Claimable {
        items: &items,
        surfaces: &surface_names,
    };
    let (claims, certificates) = claims::claims(&sheet, &entries, &claimable)?;
    let untouched = entries
        .untouched
        .iter()
        .map(|entry| checks::untouched(&sheet, entry, &surface_names, &zone_names));
    let untouched = untouched.collect::<Result<_, _>>()?;
    let conformity = (entries.conformity.iter())
        .map(|entry| checks::conformity(&sheet, entry, &surface_names, &zone_names, &line_names));
    let conformity = conformity.collect::<Result<_, _>>()?;
    let acknowledged = entries.acknowledged.iter();
    let acknowledged = acknowledged.map(|entry| checks::acknowledged(&sheet, entry));
    let acknowledged = acknowledged.collect::<Result<_, _>>()?;
    Ok(Job {
        path: path.into(),
        file,
        text: text.into(),
        name: entries.job.name,
        contract: entries.job.contract,
        parties: entries.job.parties,
        unit,
        coordinates: entries.job.coordinates,
        height_system: entries.job.height_system,
        currency: entries.job.currency,
        area_unit,
        volume_unit,
        factor_volume,
        mass_unit,
        decimals: decimals.map(usize::from),
        surfaces,
        readings,
        zones,
        lines,
        build_ups,
        bands,
        materials,
        vehicles,
        items,
        calendar,
        terms,
        claims,
        certificates,
        untouched,
        conformity,
        acknowledged,
    })
}

/// Readings by their names, each of which knows its own.
fn readings(
    sheet: &JobFileText<'_>,
    entries: &BTreeMap<Name, ReadingEntry>,
) -> Result<BTreeMap<String, Reading>, JobFileError> {
    each(entries, |name, entry| {
        Ok(Reading {
            named: Some(name.get_ref().clone()),
            ..surfaces::reading(sheet, entry)?
        })
    })
}

/// Checks a file of readings alone.
pub(super) fn readings_alone(
    path: &Path,
    text: &str,
) -> Result<BTreeMap<String, Reading>, JobFileError> {
    let entries: ReadingEntries =
        toml::from_str(text).map_err(|error| unread(path, text, &error))?;
    let sheet = JobFileText {
        path,
        text,
        unit: LengthUnit::Metre,
        has_currency: false,
    };
    readings(&sheet, &entries.readings)
}

/// Checks all entries of a kind.
fn each<E, P>(
    entries: &BTreeMap<Name, E>,
    check: impl Fn(&Name, &E) -> Result<P, JobFileError>,
) -> Result<BTreeMap<String, P>, JobFileError> {
    let checked = entries
        .iter()
        .map(|(name, entry)| Ok((name.get_ref().clone(), check(name, entry)?)));
    checked.collect()
}

/// What is no TOML, or has a key or value that means nothing.
fn unread(path: &Path, text: &str, error: &toml::de::Error) -> JobFileError {
    let message = error.message().trim();
    let spot = JobFileLine::of(path, text, error.span().unwrap_or(0..0));
    // As serde words it: unknown field `lowr`, expected one of `raise`, `lower`
    let quoted: Vec<&str> = message.split('`').skip(1).step_by(2).collect();
    if let (true, [unknown, known @ ..]) = (message.starts_with("unknown field"), &quoted[..]) {
        let remedy = match nearest(unknown, known.iter().copied()) {
            Some(near) => format!("use {near}"),
            None => format!("use one of {}", known.join(", ")),
        };
        let what = format!("\"{unknown}\" is not a key here");
        return JobFileError { spot, what, remedy };
    }
    if let (true, [unknown, known @ ..]) = (message.starts_with("unknown variant"), &quoted[..]) {
        let what = format!("\"{unknown}\" is not a value for this key");
        let remedy = format!("use one of {}", known.join(", "));
        return JobFileError { spot, what, remedy };
    }
    if let (true, [missing]) = (message.starts_with("missing field"), &quoted[..]) {
        return JobFileError {
            spot,
            what: format!("the key {missing} is missing"),
            remedy: format!("add {missing} = ..."),
        };
    }
    if let Some((found, expected)) = wrong_type(message) {
        return JobFileError {
            spot,
            what: format!("found {found}, expected {expected}"),
            remedy: format!("write {expected}"),
        };
    }
    let twice = message.starts_with("duplicate key");
    let what = match twice {
        true => "this name is used twice".into(),
        false => message.lines().collect::<Vec<_>>().join("; "),
    };
    let remedy = match twice {
        true => "give one of them another name, or join the two",
        false => "correct it here; dapedon init writes a first job file",
    };
    JobFileError {
        spot,
        what,
        remedy: remedy.into(),
    }
}

/// What was found and what is expected, of serde's "invalid type: string \"much\", expected f64".
fn wrong_type(message: &str) -> Option<(String, &'static str)> {
    let (found, expected) = message
        .strip_prefix("invalid type: ")?
        .rsplit_once(", expected ")?;
    let (kind, value) = found.split_once(' ').unwrap_or((found, ""));
    let value = value.trim_start_matches("point ").replace('`', "");
    let found = match kind {
        "string" => format!("the text {value}"),
        "integer" | "floating" => format!("the number {value}"),
        "boolean" => value,
        "sequence" => "a list".into(),
        "map" => "a table".into(),
        _ => return None,
    };
    let expected = match expected {
        "a string" | "string" => "a text in quotes",
        "a boolean" => "true or false",
        "a sequence" => "a list in [ ]",
        "f64" | "usize" | "u32" => "a number",
        _ if expected.starts_with("struct ") || expected == "a map" => "a table in { }",
        _ => return None,
    };
    Some((found, expected))
}
