//! From entries to a job: every name known, every figure usable, no surface that needs itself.

mod bands;
pub(super) mod items;
mod layers;
mod materials;
mod steps;
mod surfaces;

use std::collections::{BTreeMap, BTreeSet};
use std::ops::Range;
use std::path::{Path, PathBuf};

use dapedon_core::quantities::SideOfLevel;
use dapedon_core::surface::FARTHEST;
use dapedon_core::units::{LengthUnit, MassUnit, VolumeUnit};

use super::entries::{
    JobEntries, LineEntry, Name, Numbers, ReadingEntries, ReadingEntry, ZoneEntry,
};
use crate::error::JobFileLine;

use super::{Job, JobFileError, LevelPlan, LinePlan, Shape, ZonePlan, ZoneShape, nearest};
pub(super) use items::Checked;
use toml::Spanned;

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
    let zones = each(&entries.zones, |name, entry| {
        zone(&sheet, name, entry, &surface_names)
    })?;
    let lines = each(&entries.lines, |name, entry| line(&sheet, name, entry))?;
    let factor_volume = entries.job.volume_unit;
    let factor_volume =
        factor_volume.map_or(VolumeUnit::usual(unit), |UnitCode(asked)| asked.on(unit));
    let build_ups = each(&entries.build_ups, |name, entry| {
        layers::build_up(&sheet, name, entry, &drawn)
    })?;
    let readings = readings(&sheet, &entries.readings)?;
    let surfaces = surfaces::surfaces(&sheet, &entries, &drawn, &build_ups, &readings)?;
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
    let line_names: BTreeSet<&str> = (entries.lines.keys())
        .map(|name| name.get_ref().as_str())
        .collect();
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
    Ok(Job {
        path: path.into(),
        file,
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

fn zone(
    sheet: &JobFileText<'_>,
    name: &Name,
    entry: &ZoneEntry,
    surfaces: &BTreeSet<&str>,
) -> Result<ZonePlan, JobFileError> {
    let spot = sheet.spot(name.span());
    if let Some(level) = at_level(sheet, name, entry, surfaces)? {
        let shape = ZoneShape::Level(level);
        return Ok(ZonePlan { shape, spot });
    }
    let corners = entry.corners.as_ref();
    if let Some(corners) = corners {
        let numbers = corners.get_ref().iter().flat_map(|corner| &corner.0);
        in_range(sheet, corners.span(), numbers)?;
    }
    let shape = shape(
        sheet,
        name,
        "zone",
        &entry.file,
        &entry.name_attribute,
        corners,
    )?;
    let shape = ZoneShape::Drawn(shape);
    Ok(ZonePlan { shape, spot })
}

/// The outline of a surface at a level, where that is what a zone is.
fn at_level(
    sheet: &JobFileText<'_>,
    name: &Name,
    entry: &ZoneEntry,
    surfaces: &BTreeSet<&str>,
) -> Result<Option<LevelPlan>, JobFileError> {
    let levels = (entry.below.as_ref(), entry.above.as_ref());
    let (level, side) = match (&entry.surface, levels, &entry.pool) {
        (None, (None, None), None) => return Ok(None),
        (Some(_), (Some(level), None), _) => (level, SideOfLevel::Below),
        (Some(_), (None, Some(level)), None) => (level, SideOfLevel::Above),
        _ => {
            let what =
                "the zone is incomplete: it is where a surface is below a level, or above one";
            let remedy = "add surface = \"...\" with one of below = ... and above = ...; use pool only with below";
            return Err(sheet.fault(name.span(), what, remedy));
        }
    };
    if entry.file.is_some() || entry.corners.is_some() {
        let what = "the zone has both an outline and a level";
        return Err(sheet.fault(name.span(), what, "keep one of them"));
    }
    in_range(sheet, level.span(), [level.get_ref()].into_iter())?;
    if let Some(pool) = &entry.pool {
        in_range(sheet, pool.span(), pool.get_ref().0.iter())?;
    }
    let Some(surface) = &entry.surface else {
        return Ok(None);
    };
    Ok(Some(LevelPlan {
        surface: sheet.known(surface, "surface", surfaces)?,
        level: *level.get_ref(),
        side,
        pool: entry.pool.as_ref().map(|pool| pool.get_ref().0),
    }))
}

fn line(sheet: &JobFileText<'_>, name: &Name, entry: &LineEntry) -> Result<LinePlan, JobFileError> {
    let corners = entry.corners.as_ref();
    if let Some(corners) = corners {
        let numbers = corners.get_ref().iter().flat_map(|corner| &corner.0);
        in_range(sheet, corners.span(), numbers)?;
    }
    if let Some(heights) = &entry.heights {
        let numbers = heights.get_ref().iter().flat_map(|pair| &pair.0);
        in_range(sheet, heights.span(), numbers)?;
        let rising = heights
            .get_ref()
            .windows(2)
            .all(|pair| pair[0].0[0] < pair[1].0[0]);
        if heights.get_ref().is_empty() || !rising {
            let what = "the distances of heights must ascend along the line";
            return Err(sheet.fault(
                heights.span(),
                what,
                "sort them, and give each distance once",
            ));
        }
    }
    Ok(LinePlan {
        shape: shape(
            sheet,
            name,
            "line",
            &entry.file,
            &entry.name_attribute,
            corners,
        )?,
        heights: entry
            .heights
            .as_ref()
            .map(|heights| heights.get_ref().iter().map(|pair| pair.0).collect()),
        spot: sheet.spot(name.span()),
    })
}

fn shape<const N: usize>(
    sheet: &JobFileText<'_>,
    name: &Name,
    kind: &str,
    file: &Option<Name>,
    name_attribute: &Option<String>,
    corners: Option<&Spanned<Vec<Numbers<N>>>>,
) -> Result<Shape<[f64; N]>, JobFileError> {
    match (file, corners) {
        (Some(file), None) => {
            let (path, name) = sheet.file_and_name(file.get_ref());
            Ok(Shape::File {
                path,
                name,
                name_attribute: name_attribute.clone(),
            })
        }
        (None, Some(corners)) => {
            let corners = corners.get_ref().iter().map(|corner| corner.0);
            Ok(Shape::Corners(corners.collect()))
        }
        (file, _) => {
            let what = match file {
                Some(_) => format!("the {kind} has both a file and corners"),
                None => format!("the {kind} has neither a file nor corners"),
            };
            Err(sheet.fault(
                name.span(),
                what,
                "add one of file = \"...\" and corners = [...]",
            ))
        }
    }
}

fn in_range<'v>(
    sheet: &JobFileText<'_>,
    span: Range<usize>,
    mut values: impl Iterator<Item = &'v f64>,
) -> Result<(), JobFileError> {
    match values.find(|value| value.is_nan() || value.abs() > FARTHEST) {
        None => Ok(()),
        Some(value) => {
            let what = format!("{value} is not a coordinate or height");
            Err(sheet.fault(span, what, "correct it"))
        }
    }
}
