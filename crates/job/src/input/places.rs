//! Places from files: the points of a text, a map, a drawing, with their names.

use std::path::Path;

use dapedon_core::plan::{Extent, Place};
use dapedon_core::units::LengthUnit;
use dapedon_formats::features::Shape;
use dapedon_formats::{Format, delimited};

use crate::error::JobError;
use crate::input::clean::looks_like_degrees;
use crate::input::load::feature_fault;
use crate::input::maps::MapFile;
use crate::input::{Input, InputError, InputFile, Reading, Source, load};

/// The attribute that names points by default.
const NAME: &str = "name";

/// Places as a file holds them, in its own unit.
pub(crate) struct ReadPlaces {
    pub(crate) file: InputFile,
    pub(crate) crs: Option<String>,
    pub(crate) unit: Option<LengthUnit>,
    /// Each with its name, if it has one.
    pub(crate) places: Vec<(Option<String>, Place)>,
}

/// True where the points of a file may have names.
pub(crate) fn may_have_names(path: &Path, reading: &Reading) -> Result<bool, JobError> {
    let format = Input::open(path, &reading.files)?.format;
    Ok(format == Format::Delimited || format.is_map())
}

/// Reads the places of a file, or those of a name in it.
pub(crate) fn read(
    path: &Path,
    name: Option<&str>,
    reading: &Reading,
) -> Result<ReadPlaces, JobError> {
    let mut input = Input::open(path, &reading.files)?;
    let mut read = match input.format {
        Format::Delimited => {
            let options = delimited::Options {
                places_only: true,
                ..reading.delimited()
            };
            let mut places = Vec::new();
            let read = delimited::each(input.reader(), &options, |point| {
                places.push((point.name(), Place::new(point.at.east, point.at.north)));
            });
            read.map_err(|error| InputError::unreadable(path, error))?;
            ReadPlaces {
                file: input.finish()?,
                crs: None,
                unit: None,
                places,
            }
        }
        format if format.is_map() => {
            let chosen = MapFile::open(&mut input, path, &reading.files)?.chosen(name)?;
            let mut features = chosen.features;
            let naming = reading.name_attribute.as_deref();
            features
                .in_lengths()
                .map_err(|error| feature_fault(path, error))?;
            if let Some(name) = chosen.name {
                features
                    .keep(name, naming)
                    .map_err(|error| feature_fault(path, error))?;
            }
            let naming = naming.unwrap_or(NAME);
            let mut places = Vec::new();
            for feature in &features.features {
                let Shape::Points(points) = &feature.shape else {
                    continue;
                };
                let mut attributes = feature.attributes.iter();
                let own = attributes.find(|(key, _)| key.eq_ignore_ascii_case(naming));
                let own = own.map(|(_, value)| value.clone());
                places.extend(points.iter().map(|point| (own.clone(), point.place)));
            }
            let mut file = input.finish()?;
            file.other_files = chosen.with;
            ReadPlaces {
                file,
                crs: features.crs,
                unit: features.unit,
                places,
            }
        }
        _ => {
            let source = Source::File {
                path: path.into(),
                name: name.map(Into::into),
            };
            let loaded = load::source(&source, reading)?;
            let vertices = loaded.surface.vertices.iter();
            ReadPlaces {
                places: vertices.map(|at| (None, at.place())).collect(),
                file: loaded.file,
                crs: loaded.surface.crs,
                unit: loaded.surface.unit,
            }
        }
    };
    if let Some(forced) = reading.forced_unit() {
        read.unit = Some(forced);
    }
    if read.places.is_empty() {
        return Err(InputError::WrongKind {
            path: path.into(),
            holds: "no points",
            wanted: "points",
        }
        .into());
    }
    let extent = Extent::of(read.places.iter().map(|(_, place)| *place));
    match looks_like_degrees(&extent, read.places.len()) {
        true => Err(InputError::Degrees { path: path.into() }.into()),
        false => Ok(read),
    }
}
