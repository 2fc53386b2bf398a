//! Files to raw surfaces and zones.

use std::fs::File;
use std::io::BufReader;
use std::path::Path;

use dapedon_core::plan::Extent;
use dapedon_core::units::LengthUnit;
use dapedon_formats::asc::{self};
use dapedon_formats::delimited::{self, Delimited};
use dapedon_formats::dxf::{self, Drawing, DxfError};
use dapedon_formats::features::FeatureError;
use dapedon_formats::landxml::{self, LandXmlError};
use dapedon_formats::{Format, RawSurface, RawZones, Utf8, locate};
use dapedon_formats::{geotiff, obj, ply};

use crate::error::JobError;
use crate::input::FilesRead;
use crate::input::InputError;
use crate::input::clean::looks_like_degrees;
use crate::input::cloud;
use crate::input::file::{self, Input, InputFile};
use crate::input::loaded::LoadedSurface;
use crate::input::maps::{Chosen, MapFile};
use crate::input::reading::Reading;
use crate::input::source::Source;

/// What is in the files of a source that has any.
pub(crate) fn source(source: &Source, reading: &Reading) -> Result<LoadedSurface, JobError> {
    match source {
        Source::File { path, name: None } if path.is_dir() => {
            Ok(cloud::read(&cloud::in_folder(path)?, reading)?.0)
        }
        Source::File { path, name } => surface(path, name.as_deref(), reading),
        Source::Files(paths) => Ok(cloud::read(paths, reading)?.0),
        Source::Level(_) | Source::Named(_) => Err(InputError::NotRead.into()),
    }
}

fn surface(path: &Path, name: Option<&str>, reading: &Reading) -> Result<LoadedSurface, JobError> {
    let mut input = Input::open(path, &reading.files)?;
    let (mut notes, mut with) = (Vec::new(), Vec::new());
    let mut surface = match input.format {
        format if cloud::is_read_as_one(format, path, reading) => {
            return Ok(cloud::read(&[path.into()], reading)?.0);
        }
        Format::LandXml => {
            let read = landxml::read(input.reader(), name, &reading.take);
            read.map_err(|error| landxml_fault(path, error))?
        }
        Format::Dxf => {
            let drawing = drawing(&mut input, path, reading)?;
            dxf::surface(drawing, name, &reading.take).map_err(|error| dxf_fault(path, error))?
        }
        Format::Delimited => {
            let read = delimited(&mut input, path, reading)?;
            notes.push(format!("columns: {}", read.reading));
            if read.decimal_comma {
                notes.push("decimal commas".into());
            }
            if read.comments > 0 {
                notes.push(format!("{} comment lines skipped", read.comments));
            }
            read.surface
        }
        format if format.is_map() => {
            let file = MapFile::open(&mut input, path, &reading.files)?;
            let Chosen {
                mut features,
                name,
                with: files,
            } = file.chosen(name)?;
            with = files;
            if let Some(attribute) = &reading.height_by {
                let taken = features.take_heights(attribute);
                taken.map_err(|error| feature_fault(path, error))?;
            }
            if let Some(name) = name {
                let named = reading.name_attribute.as_deref();
                features
                    .keep(name, named)
                    .map_err(|error| feature_fault(path, error))?;
            }
            let made = features.surface(&reading.take, reading.name_attribute.as_deref());
            made.map_err(|error| feature_fault(path, error))?
        }
        _ => {
            let (read, files) = plain(&mut input, path, &reading.files)?;
            with = files;
            read
        }
    };
    surface.make_visible();
    if surface.invisible > 0 {
        notes.push(format!(
            "invisible triangles skipped: {}",
            surface.invisible
        ));
    }
    let mut file = input.finish()?;
    file.other_files = with;
    Ok(LoadedSurface {
        file,
        surface,
        notes,
        findings: Vec::new(),
        outline: None,
    })
}

/// The outlines that a surface made from points ends at, in the unit of its file.
pub(crate) fn outline(
    reading: &Reading,
    unit: LengthUnit,
) -> Result<Option<(InputFile, RawZones)>, JobError> {
    let path = reading.outline.as_deref();
    path.map(|path| zones(path, None, reading, unit, unit))
        .transpose()
}

/// The bytes of the file with one of some endings beside another one, which goes into the list.
pub(crate) fn companion(
    path: &Path,
    endings: &[&str],
    read: &FilesRead,
    files: &mut Vec<InputFile>,
) -> Result<Option<Vec<u8>>, JobError> {
    let cases = |ending: &&str| [ending.to_lowercase(), ending.to_uppercase()];
    let mut paths = (endings.iter().flat_map(cases)).map(|ending| path.with_extension(ending));
    let Some(path) = paths.find(|path| path.is_file()) else {
        return Ok(None);
    };
    let (file, bytes) = file::beside(&path, read)?;
    files.push(file);
    Ok(Some(bytes))
}

pub(crate) fn text(bytes: Option<Vec<u8>>) -> Option<String> {
    bytes.map(|bytes| String::from_utf8_lossy(&bytes).into_owned())
}

pub(crate) fn feature_fault(path: &Path, error: FeatureError) -> JobError {
    JobError::from(InputError::unreadable(path, error))
}

pub(crate) fn delimited(
    input: &mut Input,
    path: &Path,
    reading: &Reading,
) -> Result<Delimited, JobError> {
    let read = delimited::read(input.reader(), &reading.delimited());
    read.map_err(|error| JobError::from(InputError::unreadable(path, error)))
}

/// Every name that is to be taken as something is a code or layer of one of the files.
pub(crate) fn names_are_found<'r>(
    reading: &Reading,
    names: impl Iterator<Item = &'r Vec<String>> + Clone,
) -> Result<(), JobError> {
    let found = || names.clone().flatten();
    match reading.take.unknown(found().map(String::as_str)).first() {
        Some(name) => Err(InputError::NoSuchName {
            name: (*name).into(),
            found: found().take(20).cloned().collect(),
        }
        .into()),
        None => Ok(()),
    }
}

/// The surface of a format that holds nothing else, and is not told how it is read.
pub(crate) fn plain(
    input: &mut Input,
    path: &Path,
    read: &FilesRead,
) -> Result<(RawSurface, Vec<InputFile>), JobError> {
    let mut files = Vec::new();
    let mut surface = match input.format {
        Format::Asc => {
            let read = asc::read(input.reader());
            RawSurface {
                grid: Some(read.map_err(|error| InputError::unreadable(path, error))?),
                ..RawSurface::default()
            }
        }
        Format::GeoTiff => {
            let world = companion(path, &["tfw", "tifw", "wld"], read, &mut files)?;
            let read = geotiff::read(BufReader::new(input.rewound()?), text(world).as_deref());
            let read = read.map_err(|error| InputError::unreadable(path, error))?;
            RawSurface {
                unit: read.unit,
                height_unit: read.height_unit,
                unknown_unit: read.unknown_unit,
                crs: read.crs,
                height_system: read.height_system,
                notes: read.notes,
                grid: Some(read.grid),
                ..RawSurface::default()
            }
        }
        Format::Obj => {
            let read = obj::read(input.reader());
            read.map_err(|error| InputError::unreadable(path, error))?
        }
        Format::PlyMesh => {
            let read = ply::read(input.reader());
            read.map_err(|error| InputError::unreadable(path, error))?
        }
        _ => return Err(InputError::NotRead.into()),
    };
    if surface.grid.is_some() && surface.unit.is_none() && surface.crs.is_none() {
        let system = text(companion(path, &["prj"], read, &mut files)?);
        if system.is_some_and(|system| !surface.take_system(&system)) {
            return Err(InputError::Degrees { path: path.into() }.into());
        }
    }
    Ok((surface, files))
}

/// A drawing, in its own unit or as it is drawn where that is not believed.
pub(crate) fn drawing(
    input: &mut Input,
    path: &Path,
    reading: &Reading,
) -> Result<Drawing, JobError> {
    let read = match reading.forced_unit() {
        Some(_) => dxf::read_as_drawn(input.reader()),
        None => dxf::read(input.reader()),
    };
    read.map_err(|error| dxf_fault(path, error))
}

pub(crate) fn dxf_fault(path: &Path, error: DxfError) -> JobError {
    JobError::from(InputError::unreadable(path, error))
}

pub(crate) fn landxml_fault(path: &Path, error: LandXmlError) -> JobError {
    let place = |offset| {
        let text = Utf8::of(BufReader::new(File::open(path).ok()?)).ok()?;
        locate(text, offset).ok()
    };
    JobError::from(InputError::Unreadable {
        path: path.into(),
        at: error.offset().and_then(place),
        error: Box::new(error),
    })
}

/// What to say of a file whose unit is overridden.
pub(crate) fn overridden(stated: Option<String>, unit: LengthUnit) -> Option<String> {
    let stated = stated.filter(|stated| stated != unit.name())?;
    Some(format!(
        "unit of the file: {stated}. {} used instead, as asked for",
        unit.name()
    ))
}

/// The zones of a file, or the one of them that is named, in the unit `to`. A file that says no unit
/// is in the one that was given for such files, or else in that of the survey.
pub(crate) fn zones(
    path: &Path,
    name: Option<&str>,
    reading: &Reading,
    survey: LengthUnit,
    to: LengthUnit,
) -> Result<(InputFile, RawZones), JobError> {
    let (file, mut found) = raw_zones(path, name, reading)?;
    found.make_visible();
    if let Some(unit) = reading.forced_unit() {
        let stated = found
            .unknown_unit
            .take()
            .or(found.unit.map(|unit| unit.name().into()));
        found.notes.extend(overridden(stated, unit));
        found.unit = Some(unit);
    }
    if let (None, Some(unit)) = (found.unit, found.unknown_unit.take()) {
        let path = path.into();
        return Err(InputError::UnknownUnit { path, unit }.into());
    }
    let corners = || {
        found
            .zones
            .iter()
            .flat_map(|zone| zone.parts.iter().flatten().flatten())
    };
    if looks_like_degrees(&Extent::of(corners().copied()), corners().count()) {
        return Err(InputError::Degrees { path: path.into() }.into());
    }
    found
        .notes
        .extend(reading.unit_unused(found.unit).map(|unused| unused.message));
    let own = found.unit.or(reading.unit_of_files()).unwrap_or(survey);
    if own != to {
        found.convert(own, to);
    }
    Ok((file, found))
}

fn raw_zones(
    path: &Path,
    mut name: Option<&str>,
    reading: &Reading,
) -> Result<(InputFile, RawZones), JobError> {
    let mut input = Input::open(path, &reading.files)?;
    let mut with = Vec::new();
    let mut found = match input.format {
        format if format.is_map() => {
            let file = MapFile::open(&mut input, path, &reading.files)?;
            let chosen = file.chosen(name)?;
            (with, name) = (chosen.with, chosen.name);
            let features = chosen.features;
            // Others may share a name that nobody asks for. One that is not there is reported below, with those that
            // are numbered.
            let zones = features.zones(name, reading.name_attribute.as_deref());
            zones.map_err(|error| feature_fault(path, error))?
        }
        Format::Dxf => {
            let drawing = drawing(&mut input, path, reading)?;
            let found = dxf::zones(&drawing, name);
            let found = found.map_err(|error| dxf_fault(path, error))?;
            return Ok((input.finish()?, found));
        }
        Format::LandXml => {
            let plan = landxml::plan(input.reader());
            let plan = plan.map_err(|error| landxml_fault(path, error))?;
            if plan.zones.zones.is_empty() {
                return Err(InputError::WrongKind {
                    path: path.into(),
                    holds: "no closed parcel or plan feature",
                    wanted: "zones",
                }
                .into());
            }
            plan.zones
        }
        _ => {
            return Err(InputError::WrongKind {
                path: path.into(),
                holds: "surfaces",
                wanted: "zones",
            }
            .into());
        }
    };
    if let Some(name) = name {
        let names = || {
            found
                .zones
                .iter()
                .map(|zone| format!("\"{}\"", zone.name))
                .collect()
        };
        if !found.zones.iter().any(|zone| zone.name == *name) {
            return Err(InputError::NoSuchZone {
                path: path.into(),
                name: name.into(),
                names: names(),
            }
            .into());
        }
        found.zones.retain(|zone| zone.name == *name);
    }
    let mut file = input.finish()?;
    file.other_files = with;
    Ok((file, found))
}
