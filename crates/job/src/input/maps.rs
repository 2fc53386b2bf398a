//! Map files: one layer of features, or several in one file.

use std::io::{BufRead, BufReader};
use std::path::Path;

use dapedon_formats::features::{self, Features};
use dapedon_formats::geopackage::{self, GeoPackage, GeoPackageError};
use dapedon_formats::shapefile::{self, ZippedShapefiles};
use dapedon_formats::{Format, geojson};

use super::load::{companion, feature_fault, text};
use crate::error::JobError;
use crate::input::file::{Input, InputFile, Watched};
use crate::input::{FilesRead, InputError};

/// A map file whose layers are known.
pub(crate) struct MapFile<'p> {
    path: &'p Path,
    holds: Holds,
    /// The files that lie beside it.
    pub(crate) with: Vec<InputFile>,
}

enum Holds {
    One(Box<Features>),
    Zipped(ZippedShapefiles<BufReader<Watched>>),
    Package(Box<GeoPackage<BufReader<Watched>>>),
}

/// The features that are meant, and by which name of theirs.
pub(crate) struct Chosen<'n> {
    pub(crate) features: Features,
    pub(crate) name: Option<&'n str>,
    pub(crate) with: Vec<InputFile>,
}

impl<'p> MapFile<'p> {
    pub(crate) fn open(
        input: &mut Input,
        path: &'p Path,
        read: &FilesRead,
    ) -> Result<Self, JobError> {
        let mut with = Vec::new();
        let is_packed = is_packed(input);
        let holds = match input.format {
            Format::GeoJson => {
                let read = geojson::read(input.reader());
                let read = read.map_err(|error| InputError::unreadable(path, error))?;
                Holds::One(Box::new(read))
            }
            Format::GeoPackage => {
                unwritten(path)?;
                let package = GeoPackage::open(BufReader::new(input.rewound()?));
                let package = package.map_err(|error| InputError::unreadable(path, error))?;
                Holds::Package(Box::new(package))
            }
            _ if is_packed => {
                let zipped = ZippedShapefiles::open(BufReader::new(input.rewound()?));
                Holds::Zipped(zipped.map_err(|error| InputError::unreadable(path, error))?)
            }
            _ => {
                let mut beside = |ending: &str| companion(path, &[ending], read, &mut with);
                let (table, encoding, system) = (beside("dbf")?, beside("cpg")?, beside("prj")?);
                let (encoding, system) = (text(encoding), text(system));
                let read = shapefile::read(
                    input.reader(),
                    shapefile::CompanionFiles {
                        table: table.as_deref(),
                        encoding: encoding.as_deref(),
                        system: system.as_deref(),
                    },
                );
                let read = read.map_err(|error| InputError::unreadable(path, error))?;
                Holds::One(Box::new(read))
            }
        };
        Ok(MapFile { path, holds, with })
    }

    /// The names of its layers; none of a file that is one.
    pub(crate) fn layers(&self) -> Vec<String> {
        match &self.holds {
            Holds::One(_) => Vec::new(),
            Holds::Zipped(zipped) => zipped.layers(),
            Holds::Package(package) => package.layers(),
        }
    }

    /// The features of a layer.
    pub(crate) fn features(&mut self, layer: usize) -> Result<Features, JobError> {
        let path = self.path;
        Ok(match &mut self.holds {
            Holds::One(features) => std::mem::take(features.as_mut()),
            Holds::Zipped(zipped) => {
                let read = zipped.features(layer);
                read.map_err(|error| InputError::unreadable(path, error))?
            }
            Holds::Package(package) => {
                let read = package.features(layer);
                read.map_err(|error| InputError::unreadable(path, error))?
            }
        })
    }

    /// The features of the layer that a name means.
    pub(crate) fn chosen(mut self, name: Option<&str>) -> Result<Chosen<'_>, JobError> {
        let layers = self.layers();
        let (layer, name) = match layers.is_empty() {
            true => (0, name),
            false => {
                let found = features::layer(&layers, name);
                found.map_err(|error| feature_fault(self.path, error))?
            }
        };
        let mut features = self.features(layer)?;
        if layers.len() > 1 {
            features.notes.insert(0, format!("layer {}", layers[layer]));
        }
        Ok(Chosen {
            features,
            name,
            with: self.with,
        })
    }
}

fn is_packed(input: &mut Input) -> bool {
    let mut reader = input.reader();
    let head = reader.fill_buf();
    head.is_ok_and(|head| head.starts_with(b"PK"))
}

/// Refuses a database that another program has not finished writing: what is not yet in it would be missed.
fn unwritten(path: &Path) -> Result<(), JobError> {
    for ending in geopackage::UNWRITTEN {
        let mut name = path.file_name().unwrap_or_default().to_owned();
        name.push(ending);
        let holds_some = |about: std::fs::Metadata| about.len() > 0;
        if path.with_file_name(&name).metadata().is_ok_and(holds_some) {
            let beside = name.to_string_lossy().into_owned();
            let error = GeoPackageError::BeingWritten { beside };
            return Err(InputError::unreadable(path, error).into());
        }
    }
    Ok(())
}
