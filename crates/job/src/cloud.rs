//! Clouds of points, in one file or several, to the heights or points a surface is made of.

use std::collections::BTreeMap;
use std::fs::File;
use std::io::BufReader;
use std::path::{Path, PathBuf};

use dapedon_core::{Keep, LengthUnit, Thinner, Vertex};
use dapedon_formats::las::{About, Cloud, LasError, Shot};
use dapedon_formats::{Format, RawGrid, RawSurface};
use serde::Serialize;

use crate::input::Input;
use crate::load::Loaded;
use crate::{InputFile, JobError, Reading};

/// Points that are taken one by one at most.
const MOST: usize = 1 << 26;
/// Cells are chosen so that about this many points lie side by side in one.
const ABREAST: f64 = 3.0;
const GROUND: u8 = 2;
/// Points that are too low or too high to be anything.
const NOISE: [u8; 2] = [7, 18];

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

/// The classes that are taken of a cloud.
#[derive(Debug, Clone, PartialEq, Eq, Default)]
pub enum Classes {
    /// Ground where there is any, or else all but noise.
    #[default]
    Usual,
    /// All, noise too.
    All,
    /// These.
    These(Vec<u8>),
}

/// What a cloud is thinned to.
#[derive(Debug, Clone, Copy, PartialEq)]
pub enum Thin {
    /// Square cells, by the length of their sides.
    Cell(f64),
    /// Not at all: every point is kept.
    No,
}

/// Words for a list of classes that are none.
#[derive(Debug, Clone, PartialEq, thiserror::Error)]
#[error("\"{0}\" is no class; say ground, all, or numbers from 0 to 255 as in 2,8")]
pub struct ClassesError(String);

impl std::str::FromStr for Classes {
    type Err = ClassesError;

    fn from_str(text: &str) -> Result<Self, ClassesError> {
        match text {
            "all" => return Ok(Classes::All),
            "ground" => return Ok(Classes::These(vec![GROUND])),
            _ => {}
        }
        let class = |word: &str| word.trim().parse().map_err(|_| ClassesError(word.into()));
        let mut these: Vec<u8> = text.split(',').map(class).collect::<Result<_, _>>()?;
        these.sort_unstable();
        these.dedup();
        Ok(Classes::These(these))
    }
}

/// What a cloud holds.
#[derive(Debug, Clone, PartialEq, Serialize)]
pub struct CloudFound {
    /// The version of the format, and the point format.
    pub version: String,
    /// True where it is packed.
    pub packed: bool,
    /// The program that wrote it.
    pub made_with: String,
    /// Its points.
    pub points: u64,
    /// Points marked as deleted, which are never taken.
    pub withheld: u64,
    /// Points taken.
    pub taken: u64,
    /// The side of the cells it was looked at in.
    pub cell: f64,
    /// The area of the cells that hold a point taken.
    pub covered: f64,
    /// Points taken to a square of the length unit, over the cells that hold any.
    pub density: f64,
    /// Its classes.
    pub classes: Vec<ClassFound>,
    /// How many points are which return, the first first.
    pub returns: Vec<u64>,
}

/// A class of a cloud.
#[derive(Debug, Clone, PartialEq, Serialize)]
pub struct ClassFound {
    /// Its number.
    pub class: u8,
    /// What the standard means by it.
    pub name: &'static str,
    /// Its points.
    pub points: u64,
    /// Lowest and highest height.
    pub heights: [f64; 2],
}

/// Counts of what a cloud holds.
struct Census {
    classes: [u64; 256],
    heights: [[f64; 2]; 256],
    returns: [u64; 16],
    withheld: u64,
}

/// Where points go that are taken.
enum Sink {
    Thinned(Thinner),
    Every(Vec<Vertex>),
}

/// Points of ground and of any class go their own ways until it is known whether there is ground.
struct Taking<'r> {
    rules: &'r CloudRules,
    cell: Option<f64>,
    all: Option<Sink>,
    ground: Option<Sink>,
    census: Census,
    too_many: bool,
}

/// The files of a folder that are clouds, by their names.
pub(crate) fn in_folder(folder: &Path) -> Result<Vec<PathBuf>, JobError> {
    let fault = |source| JobError::Read {
        path: folder.into(),
        source,
    };
    let mut paths = Vec::new();
    for entry in std::fs::read_dir(folder).map_err(fault)? {
        let path = entry.map_err(fault)?.path();
        if Format::by_ending(&path) == Some(Format::Las) && path.is_file() {
            paths.push(path);
        }
    }
    paths.sort();
    match paths.is_empty() {
        true => Err(JobError::Folder {
            path: folder.into(),
        }),
        false => Ok(paths),
    }
}

/// Reads the points of one or several files as one cloud.
pub(crate) fn read(paths: &[PathBuf], reading: &Reading) -> Result<(Loaded, CloudFound), JobError> {
    let mut files = Vec::new();
    let mut clouds = Vec::new();
    for path in paths {
        let input = Input::open(path)?;
        if input.format != Format::Las {
            return Err(JobError::WrongKind {
                path: path.clone(),
                holds: "no cloud",
                wanted: "clouds",
            });
        }
        files.push(input.finish()?);
        let file = File::open(path).map_err(|source| JobError::Read {
            path: path.clone(),
            source,
        })?;
        let opened = Cloud::open(BufReader::with_capacity(1 << 20, file));
        let cloud = opened.map_err(|error| fault(path, error))?;
        same_system(
            clouds.first().map(|(first, _)| first),
            cloud.about(),
            reading,
        )
        .map_err(|[first, other]| JobError::CloudsDiffer {
            first,
            other: format!("{other} ({})", path.display()),
        })?;
        clouds.push((cloud.about().clone(), cloud));
    }
    let abouts: Vec<About> = clouds.iter().map(|(about, _)| about.clone()).collect();
    let rules = &reading.cloud;
    let cell = match rules.thin {
        Some(Thin::Cell(cell)) => Some(cell),
        Some(Thin::No) => None,
        None => Some(suitable_cell(&abouts)),
    };
    let mut taking = Taking::new(rules, cell);
    for (path, (_, cloud)) in paths.iter().zip(clouds) {
        let read = cloud.each(|batch| batch.iter().for_each(|shot| taking.take(shot)));
        read.map_err(|error| fault(path, error))?;
        if taking.too_many {
            return Err(JobError::TooManyPoints { path: path.clone() });
        }
    }
    let file = one_file(files);
    taking.finish(file, &abouts, &reading.cloud)
}

fn fault(path: &Path, error: LasError) -> JobError {
    JobError::Las {
        path: path.into(),
        error,
    }
}

/// Units and coordinate systems of several files are the same.
fn same_system(first: Option<&About>, other: &About, reading: &Reading) -> Result<(), [String; 2]> {
    let Some(first) = first else { return Ok(()) };
    let said = |about: &About| {
        let unit = about.unit.map_or("no unit", LengthUnit::name);
        let crs = about.crs.as_deref().unwrap_or("no coordinate system");
        format!("{crs}, {unit}")
    };
    let same = first.unit == other.unit && (first.crs == other.crs || reading.any_crs);
    match same {
        true => Ok(()),
        false => Err([said(first), said(other)]),
    }
}

/// The first file, which brings the others along.
fn one_file(files: Vec<InputFile>) -> InputFile {
    let mut files = files.into_iter();
    let mut first = files.next().unwrap_or_default();
    first.with.extend(files);
    first
}

/// A round length that some points lie abreast in, by how many there are on how much ground.
fn suitable_cell(abouts: &[About]) -> f64 {
    let area = abouts.iter().map(|about| {
        let [west, south, east, north] = about.bounds;
        ((east - west) * (north - south)).max(0.0)
    });
    let points: u64 = abouts.iter().map(|about| about.points).sum();
    let wanted = ABREAST * (area.sum::<f64>() / points as f64).sqrt();
    let (low, high) = (1e-2, 1e3);
    let wanted = if wanted.is_finite() {
        wanted.clamp(low, high)
    } else {
        1.0
    };
    let tens = 10f64.powf(wanted.log10().floor());
    let round = [1.0, 2.0, 5.0, 10.0].map(|step| step * tens);
    // A thousandth over still counts, so that a length which is round stays what it is.
    let fits = round.into_iter().find(|round| *round >= wanted * 0.999);
    (fits.unwrap_or(wanted) * 1e6).round() / 1e6
}

impl<'r> Taking<'r> {
    fn new(rules: &'r CloudRules, cell: Option<f64>) -> Self {
        let mut taking = Taking {
            rules,
            cell,
            all: None,
            ground: None,
            census: Census {
                classes: [0; 256],
                heights: [[f64::INFINITY, f64::NEG_INFINITY]; 256],
                returns: [0; 16],
                withheld: 0,
            },
            too_many: false,
        };
        taking.all = Some(taking.sink());
        taking
    }

    fn sink(&self) -> Sink {
        match self.cell {
            Some(cell) => {
                Sink::Thinned(Thinner::new(cell, self.rules.keep, self.rules.triangulate))
            }
            None => Sink::Every(Vec::new()),
        }
    }

    fn take(&mut self, shot: &Shot) {
        if shot.withheld {
            self.census.withheld += 1;
            return;
        }
        let class = usize::from(shot.class);
        self.census.classes[class] += 1;
        let [low, high] = &mut self.census.heights[class];
        (*low, *high) = (low.min(shot.height), high.max(shot.height));
        self.census.returns[usize::from(shot.number & 15)] += 1;
        let taken = match &self.rules.classes {
            Classes::All => true,
            Classes::These(these) => these.contains(&shot.class),
            Classes::Usual if shot.class == GROUND => {
                if self.ground.is_none() {
                    self.ground = Some(self.sink());
                    self.all = None;
                }
                true
            }
            Classes::Usual => self.ground.is_none() && !NOISE.contains(&shot.class),
        };
        match self.ground.as_mut().or(self.all.as_mut()) {
            Some(Sink::Thinned(thinner)) if taken => {
                thinner.add(shot.east, shot.north, shot.height);
            }
            Some(Sink::Every(points)) if taken => match points.len() < MOST {
                true => points.push(Vertex::new(shot.east, shot.north, shot.height)),
                false => self.too_many = true,
            },
            _ => {}
        }
    }

    /// What was taken, as what a surface is made of.
    fn finish(
        self,
        file: InputFile,
        abouts: &[About],
        rules: &CloudRules,
    ) -> Result<(Loaded, CloudFound), JobError> {
        let path = PathBuf::from(&file.path);
        let by_ground = self.ground.is_some();
        let Some(sink) = self.ground.or(self.all) else {
            return Err(JobError::NoEnd);
        };
        let census = self.census;
        let points: u64 = abouts.iter().map(|about| about.points).sum();
        let (taken, covered) = match &sink {
            Sink::Thinned(thinner) => (thinner.taken(), thinner.covered()),
            Sink::Every(points) => (points.len() as u64, spread(points)),
        };
        if taken == 0 {
            return Err(JobError::NoSuchClass {
                path,
                found: census.spelled(),
            });
        }
        let first = &abouts[0];
        let mut surface = RawSurface {
            unit: first.unit,
            crs: first.crs.clone(),
            date: first.date.clone(),
            notes: first.notes.clone(),
            ..RawSurface::default()
        };
        let unit = first
            .unit
            .map_or(String::new(), |unit| format!(" {}", unit.symbol()));
        let many = match abouts.len() {
            1 => String::new(),
            files => format!(" of {files} files"),
        };
        let which = match &rules.classes {
            Classes::All => "points of all classes".to_owned(),
            Classes::These(these) => format!("points of {}", listed(these)),
            Classes::Usual if by_ground => {
                "points of class 2, ground, as it has some; --class all takes all".into()
            }
            Classes::Usual => {
                "points of all classes but noise, as none is classified as ground".into()
            }
        };
        let (some, all) = (spaced(taken), spaced(points));
        surface
            .notes
            .push(format!("{some} of {all} points{many} taken: {which}"));
        let left = census.left_out(rules, by_ground);
        surface.left_out.extend(left);
        match sink {
            Sink::Thinned(thinner) => {
                let cell = thinner.cell();
                let chosen = match rules.thin {
                    None => ", chosen by how dense it is; --thin sets them",
                    Some(_) => "",
                };
                let keep = match rules.keep {
                    Keep::Lowest => "lowest",
                    Keep::Mean => "mean",
                    Keep::Median => "median",
                    Keep::Highest => "highest",
                };
                let a_cell = taken as f64 / (covered / (cell * cell));
                surface.notes.push(format!(
                    "thinned to the {keep} height in cells of {cell}{unit}, {a_cell:.1} points to a cell{chosen}"
                ));
                if rules.triangulate {
                    surface.vertices = thinner.points();
                } else {
                    let cells = thinner.cells().map_err(|error| JobError::ManyCells {
                        path,
                        columns: error.columns,
                        rows: error.rows,
                    })?;
                    surface.grid = Some(RawGrid {
                        corner: cells.corner,
                        step: [cell; 2],
                        size: cells.size,
                        heights: cells.heights,
                    });
                }
            }
            Sink::Every(points) => {
                surface
                    .notes
                    .push("not thinned: every point is kept".into());
                surface.vertices = points;
            }
        }
        let found = CloudFound {
            version: format!(
                "{}.{}, point format {}",
                first.version.0, first.version.1, first.format
            ),
            packed: first.packed,
            made_with: first.made_with.clone(),
            points,
            withheld: census.withheld,
            taken,
            cell: self.cell.unwrap_or(0.0),
            covered,
            density: taken as f64 / covered,
            classes: census.found(),
            returns: census.returns(),
        };
        let loaded = Loaded {
            file,
            surface,
            notes: Vec::new(),
        };
        Ok((loaded, found))
    }
}

/// A count with its thousands parted.
fn spaced(count: u64) -> String {
    let digits = count.to_string();
    let groups = digits.as_bytes().rchunks(3).rev();
    let groups: Vec<_> = groups.map(String::from_utf8_lossy).collect();
    groups.join(" ")
}

/// The area of the extent of some points.
fn spread(points: &[Vertex]) -> f64 {
    let extent = crate::load::extent(points);
    extent.width() * extent.height()
}

impl Census {
    fn found(&self) -> Vec<ClassFound> {
        let counted = (0..=255u8).filter(|&class| self.classes[usize::from(class)] > 0);
        let found = counted.map(|class| ClassFound {
            class,
            name: name(class),
            points: self.classes[usize::from(class)],
            heights: self.heights[usize::from(class)],
        });
        found.collect()
    }

    fn spelled(&self) -> Vec<String> {
        let each = |found: &ClassFound| format!("{} ({})", found.class, found.name);
        self.found().iter().map(each).collect()
    }

    /// Points by return, without trailing nothing; a return of zero is counted as the first.
    fn returns(&self) -> Vec<u64> {
        let mut returns = self.returns[1..].to_vec();
        returns[0] += self.returns[0];
        while returns.len() > 1 && returns.last() == Some(&0) {
            returns.pop();
        }
        returns
    }

    fn left_out(&self, rules: &CloudRules, by_ground: bool) -> BTreeMap<String, usize> {
        let taken = |class: u8| match &rules.classes {
            Classes::All => true,
            Classes::These(these) => these.contains(&class),
            Classes::Usual if by_ground => class == GROUND,
            Classes::Usual => !NOISE.contains(&class),
        };
        let mut left: BTreeMap<String, usize> = (self.found().into_iter())
            .filter(|found| !taken(found.class))
            .map(|found| {
                let kind = format!("points of class {}, {}", found.class, found.name);
                (kind, found.points as usize)
            })
            .collect();
        if self.withheld > 0 {
            left.insert("points marked as deleted".into(), self.withheld as usize);
        }
        left
    }
}

fn listed(classes: &[u8]) -> String {
    let each = classes
        .iter()
        .map(|&class| format!("{class}, {}", name(class)));
    let word = if classes.len() == 1 {
        "class"
    } else {
        "classes"
    };
    format!("{word} {}", each.collect::<Vec<_>>().join("; "))
}

/// What the standard means by a class.
fn name(class: u8) -> &'static str {
    match class {
        0 => "never classified",
        1 => "unclassified",
        2 => "ground",
        3 => "low vegetation",
        4 => "medium vegetation",
        5 => "high vegetation",
        6 => "building",
        7 => "low noise",
        8 => "model key point",
        9 => "water",
        10 => "rail",
        11 => "road surface",
        12 => "overlap",
        13 => "wire guard",
        14 => "wire conductor",
        15 => "transmission tower",
        16 => "wire connector",
        17 => "bridge deck",
        18 => "high noise",
        19..=63 => "reserved",
        64.. => "the maker's own",
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    fn about(points: u64, side: f64) -> About {
        About {
            version: (1, 4),
            format: 6,
            packed: false,
            points,
            bounds: [0.0, 0.0, side, side],
            unit: None,
            crs: None,
            made_with: String::new(),
            date: None,
            notes: Vec::new(),
        }
    }

    #[test]
    fn cells_suit_how_dense_a_cloud_is() {
        // Points 1/6 apart: three abreast take half a unit.
        assert_eq!(suitable_cell(&[about(360_000, 100.0)]), 0.5);
        assert_eq!(suitable_cell(&[about(100_000, 100.0)]), 1.0);
        assert_eq!(
            suitable_cell(&[about(10_000, 100.0), about(10_000, 100.0)]),
            5.0
        );
        assert_eq!(suitable_cell(&[about(10, 0.0)]), 0.01);
        assert_eq!(suitable_cell(&[about(10, f64::NAN)]), 0.01);
        assert_eq!(suitable_cell(&[about(10, f64::INFINITY)]), 1.0);
    }

    #[test]
    fn thousands_are_parted() {
        let parted = [0, 999, 1000, 1_234_567].map(spaced);
        assert_eq!(parted, ["0", "999", "1 000", "1 234 567"]);
    }

    #[test]
    fn classes_are_read_as_typed() {
        assert_eq!("all".parse(), Ok(Classes::All));
        assert_eq!("ground".parse(), Ok(Classes::These(vec![2])));
        assert_eq!("8, 2,8".parse(), Ok(Classes::These(vec![2, 8])));
        for text in ["", "2,", "256", "-1", "grounds"] {
            let parsed: Result<Classes, _> = text.parse();
            assert!(parsed.is_err(), "{text}");
        }
    }
}
