//! Points as they are taken, and what is made of them.

use std::path::PathBuf;

use dapedon_core::plan::Place;
use dapedon_core::points::{Keep, Thinner};
use dapedon_core::surface::Vertex;
use dapedon_formats::las::{CloudFacts, Shot};
use dapedon_formats::{RawGrid, RawSurface};

use super::classes::{Census, Classes, GROUND, listed};
use super::{CloudFound, CloudRules};
use crate::digits::count_in_words;
use crate::error::JobError;
use crate::finding::{Code, Finding};
use crate::input::InputError;
use crate::input::file::InputFile;
use crate::input::loaded::{self, LoadedSurface};
use crate::input::memory::Memory;

/// Points that are taken one by one at most.
const MOST: usize = 1 << 26;

/// Where points go that are taken.
enum Sink {
    Thinned(Thinner),
    Every(Vec<Vertex>),
}

/// Points as they are taken.
pub(super) struct PointReader<'r> {
    rules: &'r CloudRules,
    /// The side of the cells; none where every point is kept.
    cell: Option<f64>,
    sink: Sink,
    /// True from the first point of ground on, where ground is taken if there is any.
    by_ground: bool,
    census: Census,
    pub(super) too_many: bool,
}

impl Sink {
    fn new(cell: Option<f64>, rules: &CloudRules) -> Self {
        match cell {
            Some(cell) => Sink::Thinned(Thinner::new(cell, rules.keep)),
            None => Sink::Every(Vec::new()),
        }
    }

    /// How many points it has taken, and the plan area they are on.
    fn taken(&self) -> (u64, f64) {
        match self {
            Sink::Thinned(thinner) => (thinner.taken(), thinner.covered()),
            Sink::Every(points) => {
                let extent = loaded::extent(points);
                (points.len() as u64, extent.width() * extent.height())
            }
        }
    }
}

impl<'r> PointReader<'r> {
    pub(super) fn new(rules: &'r CloudRules, cell: Option<f64>) -> Self {
        PointReader {
            rules,
            cell,
            sink: Sink::new(cell, rules),
            by_ground: false,
            census: Census::EMPTY,
            too_many: false,
        }
    }

    /// The side of its cells.
    pub(super) fn cell(&self) -> Option<f64> {
        self.cell
    }

    /// How many points were taken, and the plan area they are on.
    pub(super) fn taken(&self) -> (u64, f64) {
        self.sink.taken()
    }

    pub(super) fn take(&mut self, shot: &Shot) {
        if shot.withheld {
            self.census.withheld += 1;
            return;
        }
        self.census.count(shot);
        if shot.class == GROUND && !self.by_ground && self.rules.classes == Classes::Usual {
            // What was taken so far was any class: ground alone holds from here on.
            self.by_ground = true;
            self.sink = Sink::new(self.cell, self.rules);
        }
        if !self.rules.classes.take(shot.class, self.by_ground) {
            return;
        }
        match &mut self.sink {
            Sink::Thinned(thinner) => thinner.add(shot.east, shot.north, shot.height),
            Sink::Every(points) if points.len() < MOST => {
                points.push(Vertex::new(shot.east, shot.north, shot.height));
            }
            Sink::Every(_) => self.too_many = true,
        }
    }

    /// What was taken, as what a surface is made of.
    pub(super) fn finish(
        mut self,
        file: InputFile,
        abouts: &[CloudFacts],
        memory: Memory,
    ) -> Result<(LoadedSurface, CloudFound), JobError> {
        let path = PathBuf::from(&file.path);
        let far = match &mut self.sink {
            Sink::Thinned(thinner) => thinner.drop_far(),
            Sink::Every(_) => Vec::new(),
        };
        let (taken, covered) = self.sink.taken();
        if taken == 0 {
            return Err(InputError::NoSuchClass {
                path,
                found: self.census.spelled(),
            }
            .into());
        }
        let first = &abouts[0];
        let mut surface = RawSurface {
            unit: first.unit,
            height_unit: first.height_unit,
            unknown_unit: first.unknown_unit.clone(),
            is_depth: first.is_depth,
            crs: first.crs.clone(),
            height_system: first.height_system.clone(),
            date: first.date.clone(),
            notes: first.notes.clone(),
            left_out: self.census.left_out(&self.rules.classes, self.by_ground),
            ..RawSurface::default()
        };
        // Text does not say how many it has.
        let points = abouts
            .iter()
            .map(|about| about.points)
            .sum::<u64>()
            .max(self.census.all());
        surface
            .notes
            .extend(self.notes(abouts, [taken, points], covered));
        let found = CloudFound {
            version: first.version.clone(),
            packed: first.packed,
            written_by: first.made_with.clone(),
            points,
            points_deleted: self.census.withheld,
            points_used: taken,
            cell: self.cell,
            area_with_points: covered,
            density: taken as f64 / covered,
            classes: self.census.found(),
            returns: self.census.returns(),
        };
        match self.sink {
            Sink::Every(points) => surface.vertices = points,
            Sink::Thinned(thinner) if self.rules.triangulate => surface.vertices = thinner.points(),
            Sink::Thinned(thinner) => {
                let cell = thinner.cell();
                // A height, where it stands, and the height that is carried.
                let most = memory.holds(24);
                let cells = thinner.cells(most).map_err(|error| {
                    JobError::from(InputError::ManyCells {
                        path,
                        columns: error.columns,
                        rows: error.rows,
                        memory,
                    })
                })?;
                surface.grid = Some(RawGrid {
                    corner: cells.corner,
                    step: [cell; 2],
                    size: cells.size,
                    heights: cells.heights,
                });
            }
        }
        surface.make_visible();
        let loaded = LoadedSurface {
            file,
            surface,
            notes: Vec::new(),
            findings: far_points(&far)
                .into_iter()
                .chain(scanner_frame(abouts))
                .collect(),
            outline: None,
        };
        Ok((loaded, found))
    }

    /// Which points were taken, and what was made of them, in words.
    fn notes(&self, abouts: &[CloudFacts], [taken, points]: [u64; 2], covered: f64) -> [String; 2] {
        let many = match abouts.len() {
            1 => String::new(),
            files => format!(" of {files} files"),
        };
        let which = match &self.rules.classes {
            Classes::All => "points of all classes".to_owned(),
            Classes::These(these) => format!("points of {}", listed(these)),
            Classes::Usual if self.by_ground => {
                "points of class 2, ground; --classes all uses all points".into()
            }
            Classes::Usual => {
                "points of all classes except noise: none is classified as ground".into()
            }
        };
        let (some, all) = (count_in_words(taken), count_in_words(points));
        let which = format!("{some} of {all} points{many} used: {which}");
        let Some(cell) = self.cell else {
            return [which, "not thinned, every point is used".into()];
        };
        let chosen = match self.rules.thin {
            None => ", from the point density; --thin sets the size",
            Some(_) => "",
        };
        let keep = match self.rules.keep {
            Keep::Lowest => "lowest",
            Keep::Mean => "mean",
            Keep::Median => "median",
            Keep::Highest => "highest",
        };
        let unit = (abouts[0].unit).map_or(String::new(), |unit| format!(" {}", unit.symbol()));
        let a_cell = taken as f64 * cell * cell / covered;
        let thinned = format!(
            "thinned to the {keep} height in cells of {cell}{unit}, {a_cell:.1} points to a cell{chosen}"
        );
        [which, thinned]
    }
}

/// What to say of points that lie far from all others, and are not used.
fn far_points(far: &[(Place, u64)]) -> Option<Finding> {
    let (first, _) = far.first()?;
    let count: u64 = far.iter().map(|(_, points)| points).sum();
    let (points, are) = if count == 1 {
        ("point", "is")
    } else {
        ("points", "are")
    };
    let words = format!(
        "{} {points} far from all others {are} not used; first near east {:.0}, north {:.0}",
        count_in_words(count),
        first.east,
        first.north
    );
    let remedy = "check the cloud: if that is ground, measure it as a file of its own";
    Some(Finding::new(Code::FarPoints, words).remedy(remedy))
}

/// What to say of scans without a position.
fn scanner_frame(abouts: &[CloudFacts]) -> Option<Finding> {
    abouts.iter().any(|about| about.is_in_scanner_frame).then(|| {
        let words = "the scans have no position: their coordinates are those of the scanner, not of a grid";
        let remedy = "export the cloud registered to the survey's grid, or compare it only with itself and with levels";
        Finding::new(Code::ScannerFrame, words).remedy(remedy)
    })
}
