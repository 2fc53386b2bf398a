//! Clouds of points, in one file or several, to the heights or points a surface is made of.

mod classes;
mod open;
mod reader;

use std::io::Read;
use std::path::{Path, PathBuf};

use dapedon_core::plan::{Extent, Place};
use dapedon_core::points::Keep;
use dapedon_core::units::LengthUnit;
use dapedon_formats::las::CloudFacts;
use dapedon_formats::{Format, same_height_system, same_system};
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

pub use classes::{ClassFound, Classes, ClassesError};
use open::OpenCloud;
use reader::PointReader;

use crate::error::JobError;
use crate::input::InputError;
use crate::input::clean::looks_like_degrees;
use crate::input::file::{Input, InputFile};
use crate::input::loaded::LoadedSurface;
use crate::input::reading::Reading;
use crate::input::source::joined;

/// Bytes in which a header tells what a file holds.
const HEAD: u64 = 1 << 14;
/// Cells are chosen so that about this many points lie side by side in one.
const ABREAST: f64 = 3.0;
/// Endings of text that holds bare points, as scanners write it.
const BARE: [&str; 2] = ["xyz", "pts"];
/// What a cloud in text is called.
const TEXT: &str = "text cloud";
/// A cloud is read again where its cells turn out so many times too large.
const CLOSER: f64 = 4.0;

/// How clouds are taken.
#[derive(Debug, Clone, PartialEq, Default)]
pub struct CloudRules {
    /// Points of which classes.
    pub classes: Classes,
    /// The cells they are thinned to; without, some that suit how dense the cloud is.
    pub thin: Option<Thin>,
    /// The height that a cell keeps.
    pub keep: Keep,
    /// What was thinned becomes a triangulation, not a grid.
    pub triangulate: bool,
}

/// What a cloud is thinned to.
#[derive(Debug, Clone, Copy, PartialEq)]
pub enum Thin {
    /// Square cells, by the length of their sides.
    Cell(f64),
    /// Not at all: every point is kept.
    No,
}

/// What a cloud holds.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct CloudFound {
    /// The version of the format, and the point format.
    pub version: String,
    /// True where it is packed.
    pub packed: bool,
    /// The program that wrote it.
    pub written_by: String,
    /// Its points.
    pub points: u64,
    /// Points marked as deleted, which are never taken.
    pub points_deleted: u64,
    /// Points taken.
    pub points_used: u64,
    /// The side of the cells it was thinned to, if it was.
    pub cell: Option<f64>,
    /// The area of the cells that hold a point taken.
    pub area_with_points: f64,
    /// Points taken to a square of the length unit, over the cells that hold any.
    pub density: f64,
    /// Its classes.
    pub classes: Vec<ClassFound>,
    /// How many points are which return, the first first.
    pub returns: Vec<u64>,
}

/// The files of a cloud in several: joined by plus signs, or in a folder.
pub(crate) fn several(path: &Path) -> Result<Option<Vec<PathBuf>>, JobError> {
    match path.is_dir() {
        true => in_folder(path).map(Some),
        false => Ok(path.to_str().and_then(joined)),
    }
}

/// The files of a folder that are clouds, by their names.
pub(crate) fn in_folder(folder: &Path) -> Result<Vec<PathBuf>, JobError> {
    let fault = |source| {
        JobError::from(InputError::Read {
            path: folder.into(),
            source,
        })
    };
    let mut paths = Vec::new();
    for entry in std::fs::read_dir(folder).map_err(fault)? {
        let path = entry.map_err(fault)?.path();
        if path.is_file() && is_cloud(&path) {
            paths.push(path);
        }
    }
    paths.sort();
    match paths.is_empty() {
        true => Err(InputError::Folder {
            path: folder.into(),
        }
        .into()),
        false => Ok(paths),
    }
}

/// True for a cloud by its ending; where that may be one or a mesh, by its first bytes.
fn is_cloud(path: &Path) -> bool {
    match Format::by_ending(path) {
        Some(Format::PlyMesh) => {
            let mut head = Vec::new();
            let file = std::fs::File::open(path);
            let read = file.and_then(|file| file.take(HEAD).read_to_end(&mut head));
            read.is_ok() && Format::of(path, &head) == Some(Format::PlyCloud)
        }
        format => format.is_some_and(Format::is_cloud),
    }
}

/// Reads the points of one or several files as one cloud.
pub(crate) fn read(
    paths: &[PathBuf],
    reading: &Reading,
) -> Result<(LoadedSurface, CloudFound), JobError> {
    let mut cell = match reading.cloud.thin {
        Some(Thin::Cell(cell)) => Cell::Given(cell),
        Some(Thin::No) => Cell::None,
        None => Cell::Suitable(None),
    };
    loop {
        let pass = Pass::read(paths, reading, cell)?;
        match (cell, pass.closer_cell()) {
            (Cell::Suitable(Some(known)), Some(closer)) if closer < known => {
                cell = Cell::Suitable(Some(closer));
            }
            (Cell::Suitable(None), Some(closer)) if pass.is_much_too_large(closer) => {
                cell = Cell::Suitable(Some(closer));
            }
            _ => return pass.taking.finish(pass.file, &pass.abouts, reading.memory),
        }
    }
}

/// The side of cells.
#[derive(Debug, Clone, Copy)]
enum Cell {
    /// No cells: every point is kept.
    None,
    Given(f64),
    /// From the density; known better after a first pass.
    Suitable(Option<f64>),
}

/// All points of some files, read once.
struct Pass<'r> {
    abouts: Vec<CloudFacts>,
    file: InputFile,
    taking: PointReader<'r>,
}

impl<'r> Pass<'r> {
    fn read(paths: &[PathBuf], reading: &'r Reading, cell: Cell) -> Result<Self, JobError> {
        let (mut inputs, mut clouds, mut abouts) = (Vec::new(), Vec::new(), Vec::new());
        for path in paths {
            let mut input = Input::open(path, &reading.files)?;
            if !is_read_as_one(input.format, path, reading) {
                return Err(InputError::WrongKind {
                    path: path.clone(),
                    holds: "no cloud",
                    wanted: "clouds",
                }
                .into());
            }
            let cloud = OpenCloud::of(&mut input, path, reading)?;
            inputs.push(input);
            agree(abouts.first(), cloud.about(), reading).map_err(|[first, other]| {
                JobError::from(InputError::CloudsDiffer {
                    first,
                    other: format!("{other} ({})", path.display()),
                })
            })?;
            let [west, south, east, north] = cloud.about().bounds;
            let extent = Extent::of([Place::new(west, south), Place::new(east, north)]);
            let points = usize::try_from(cloud.about().points).unwrap_or(usize::MAX);
            if looks_like_degrees(&extent, points) {
                return Err(InputError::Degrees { path: path.clone() }.into());
            }
            abouts.push(cloud.about().clone());
            clouds.push(cloud);
        }
        let side = match cell {
            Cell::None => None,
            Cell::Given(side) | Cell::Suitable(Some(side)) => Some(side),
            Cell::Suitable(None) => Some(suitable_cell(area(&abouts), points(&abouts))),
        };
        let mut taking = PointReader::new(&reading.cloud, side);
        for ((path, cloud), about) in paths.iter().zip(clouds).zip(&mut abouts) {
            let notes = cloud.each(path, |batch| {
                batch.iter().for_each(|shot| taking.take(shot));
            })?;
            about.notes.extend(notes);
            if taking.too_many {
                return Err(InputError::TooManyPoints { path: path.clone() }.into());
            }
        }
        let files = inputs.into_iter().map(Input::finish);
        let file = one_file(files.collect::<Result<_, _>>()?);
        Ok(Pass {
            abouts,
            file,
            taking,
        })
    }

    /// The cell that suits the ground that the points lie on, which may be a small part of their extent: a stray point far
    /// away, or a corridor across it, makes the density look low.
    fn closer_cell(&self) -> Option<f64> {
        let (_, covered) = self.taking.taken();
        let closer = suitable_cell(covered, points(&self.abouts));
        self.taking.cell().map(|_| closer)
    }

    /// True where a second reading is worth its time.
    fn is_much_too_large(&self, closer: f64) -> bool {
        let cell = self.taking.cell();
        cell.is_some_and(|cell| closer <= cell / CLOSER)
    }
}

/// True for a file that is read as a cloud: of a format of clouds, or a text of bare points that is to be thinned.
pub(crate) fn is_read_as_one(format: Format, path: &Path, reading: &Reading) -> bool {
    let ending = path
        .extension()
        .and_then(|ending| ending.to_str())
        .unwrap_or_default();
    let is_bare = BARE.iter().any(|bare| ending.eq_ignore_ascii_case(bare));
    let is_thinned = matches!(reading.cloud.thin, Some(Thin::Cell(_)));
    format.is_cloud() || (format == Format::Delimited && is_bare && is_thinned)
}

/// True for what a file read as a cloud is called.
pub(crate) fn is_called_one(name: &str) -> bool {
    name == TEXT
        || Format::ALL
            .iter()
            .any(|format| format.is_cloud() && format.name() == name)
}

/// Units and coordinate systems of several files are the same.
fn agree(
    first: Option<&CloudFacts>,
    other: &CloudFacts,
    reading: &Reading,
) -> Result<(), [String; 2]> {
    let Some(first) = first else { return Ok(()) };
    let said = |about: &CloudFacts| {
        let unit = about.unit.map_or("no unit", LengthUnit::name);
        let crs = about.crs.as_deref().unwrap_or("no coordinate system");
        match &about.height_system {
            Some(heights) => format!("{crs}, heights in {heights}, {unit}"),
            None => format!("{crs}, {unit}"),
        }
    };
    let both =
        |one: &Option<String>, other: &Option<String>, is_same: fn(&str, &str) -> bool| match (
            one, other,
        ) {
            (Some(one), Some(other)) => is_same(one, other),
            (one, other) => one == other,
        };
    let one_system = both(&first.crs, &other.crs, same_system)
        && both(
            &first.height_system,
            &other.height_system,
            same_height_system,
        );
    let one_unit = (first.unit, first.height_unit) == (other.unit, other.height_unit);
    let same = one_unit && (one_system || reading.ignore_crs);
    match same {
        true => Ok(()),
        false => Err([said(first), said(other)]),
    }
}

/// The first file, which brings the others along.
fn one_file(files: Vec<InputFile>) -> InputFile {
    let mut files = files.into_iter().map(|mut file: InputFile| {
        if file.format == Format::Delimited.name() {
            file.format = TEXT.into();
        }
        file
    });
    let mut first = files.next().unwrap_or_default();
    first.other_files.extend(files);
    first
}

/// The area of the bounds of some files.
fn area(abouts: &[CloudFacts]) -> f64 {
    let area = abouts.iter().map(|about| {
        let [west, south, east, north] = about.bounds;
        ((east - west) * (north - south)).max(0.0)
    });
    area.sum()
}

/// The points of some files.
fn points(abouts: &[CloudFacts]) -> u64 {
    abouts.iter().map(|about| about.points).sum()
}

/// A round length that some points lie abreast in, by how many there are on how much ground.
fn suitable_cell(area: f64, points: u64) -> f64 {
    let wanted = ABREAST * (area / points as f64).sqrt();
    let (low, high) = (1e-2, 1e3);
    let wanted = if wanted.is_finite() {
        wanted.clamp(low, high)
    } else {
        1.0
    };
    let tens = libm::pow(10f64, libm::log10(wanted).floor());
    let round = [1.0, 2.0, 5.0, 10.0].map(|step| step * tens);
    // A thousandth over still counts, so that a length which is round stays what it is.
    let fits = round.into_iter().find(|round| *round >= wanted * 0.999);
    (fits.unwrap_or(wanted) * 1e6).round() / 1e6
}

#[cfg(test)]
mod tests {
    use super::*;

    fn about(points: u64, side: f64) -> CloudFacts {
        CloudFacts {
            points,
            bounds: [0.0, 0.0, side, side],
            ..CloudFacts::default()
        }
    }

    fn suitable(abouts: &[CloudFacts]) -> f64 {
        suitable_cell(area(abouts), points(abouts))
    }

    #[test]
    fn cells_suit_how_dense_a_cloud_is() {
        // Points 1/6 apart: three abreast take half a unit.
        assert_eq!(suitable(&[about(360_000, 100.0)]), 0.5);
        assert_eq!(suitable(&[about(100_000, 100.0)]), 1.0);
        assert_eq!(suitable(&[about(10_000, 100.0), about(10_000, 100.0)]), 5.0);
        assert_eq!(suitable(&[about(10, 0.0)]), 0.01);
        assert_eq!(suitable(&[about(10, f64::NAN)]), 0.01);
        assert_eq!(suitable(&[about(10, f64::INFINITY)]), 1.0);
    }
}
