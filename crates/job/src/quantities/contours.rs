//! Contours of a surface, or of the difference between two.

use std::sync::Arc;

use dapedon_core::derived::difference;
use dapedon_core::plan::round_up;
use dapedon_core::quantities::{Contour, Tolerance, contours as lines, crossings};
use dapedon_core::surface::Surface;
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use crate::context::Context;
use crate::error::{JobError, job_error};
use crate::figure::Length;
use crate::finding::{Code, Finding};
use crate::input::{InputFile, Source};
use crate::job_file::{Job, JobFacts};
use crate::quantities::scene::Scene;
use crate::quantities::spots::MapGround;
use crate::schema::{Schema, Word};
use crate::site::{Site, no_end};
use crate::surfaces::{SurfaceFacts, facets, not_laid};
use crate::units::ReportUnits;
use crate::watch::Activity;

/// Levels at most.
const MOST_LEVELS: f64 = 5_000.0;
/// Corners of lines at most.
const MOST_CORNERS: u64 = 40_000_000;
/// Contours that are proposed over the whole range.
const PROPOSED: f64 = 20.0;
/// Each contour of so many is an index contour.
const INDEX: f64 = 5.0;

/// What to draw contours of.
#[derive(Debug, Clone)]
pub struct ContoursRequest {
    /// The surface.
    pub surface: Source,
    /// Another one: contours are of the difference from it to the surface.
    pub from: Option<Source>,
    /// The levels.
    pub levels: ContourLevels,
    /// From index contour to index contour; without, five intervals.
    pub index_interval: Option<f64>,
    /// Lines shorter than this are left out.
    pub min_length: Option<f64>,
}

/// At which levels contours are drawn. Heights are in the unit measured in.
#[derive(Debug, Clone, PartialEq)]
pub enum ContourLevels {
    /// At a round interval, some twenty over the whole range.
    Proposed,
    /// At all multiples of a height.
    Interval(f64),
    /// At these heights.
    At(Vec<f64>),
}

/// Contours, level by level.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, JsonSchema)]
#[non_exhaustive]
pub struct Contours {
    /// The command: `contours`.
    pub command: Word,
    /// The version of its schema.
    pub schema: Schema,
    /// The job whose names were used.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub job: Option<JobFacts>,
    /// The units of all figures.
    pub units: ReportUnits,
    /// The coordinate system.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub crs: Option<String>,
    /// The system of heights.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub height_system: Option<String>,
    /// The surface.
    pub surface: SurfaceFacts,
    /// The surface that differences are from, where contours are of a difference.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub from: Option<SurfaceFacts>,
    /// The files of lines that are drawn over its map.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub line_files: Vec<InputFile>,
    /// The lowest and the highest height, or difference.
    pub range: [Length; 2],
    /// From contour to contour; none where the levels were given.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub interval: Option<Length>,
    /// From index contour to index contour.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub index_interval: Option<Length>,
    /// Lines left out because they are shorter than the least length.
    pub left_out: usize,
    /// Level by level, from the lowest.
    pub levels: Vec<ContourLevel>,
    /// What the reader must know before trusting a figure.
    pub warnings: Vec<Finding>,
}

/// The contours of a level.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct ContourLevel {
    /// The level.
    pub level: Length,
    /// True for an index contour.
    pub is_index: bool,
    /// How many lines it has.
    pub lines: usize,
    /// How many of them are closed.
    pub closed: usize,
    /// Their length in plan.
    pub length: Length,
}

/// Contours that were found, ready to be drawn: which of the levels of the result each is at.
#[derive(Debug)]
pub struct FoundContours {
    /// The lines, in grid coordinates, with the number of their level.
    pub lines: Vec<(usize, Contour)>,
    /// The surface that they are on: the difference, where they are of one.
    pub surface: Arc<Surface>,
    /// The ground of a map of a difference, as far as one was asked for.
    pub map: MapGround,
}

/// Finds contours, and hands back their lines.
///
/// # Errors
///
/// When a file cannot be used, the levels are too many, or none is within the range of the surface.
pub fn contours(
    context: &Context<'_>,
    request: &ContoursRequest,
) -> Result<(Contours, FoundContours), JobError> {
    context.run(|| {
        let sources: Vec<&Source> = request.from.iter().chain([&request.surface]).collect();
        let opened = Site::open(context, &sources, &[]);
        let mut site = opened.map_err(|error| no_end(error, ContoursError::NoEnd))?;
        let made = site.surface(&request.surface)?;
        let from = request
            .from
            .as_ref()
            .map(|from| site.surface(from))
            .transpose()?;
        let step = context.watch.next(Activity::DrawingContours)?;
        let surface = match &from {
            None => made.surface.clone(),
            Some(from) => {
                site.making.warn(&[from, &made]);
                let (one, other) = (&*from.surface, &*made.surface);
                let found = difference(one, other);
                Arc::new(found.map_err(|error| not_laid(error, one, other, None))?)
            }
        };
        if matches!(*surface, Surface::Level(_)) {
            return Err(ContoursError::NoEnd.into());
        }
        let tin = facets(&surface)?;
        let (low, high) = tin.heights();
        let (levels, interval) = levels(&request.levels, [low, high])?;
        let corners = crossings(&tin, &levels);
        if corners > MOST_CORNERS {
            return Err(ContoursError::ManyCorners {
                levels: levels.len(),
                corners,
            }
            .into());
        }
        let found = lines(&tin, &levels);
        step.unless_stopped(Ok::<(), JobError>(()))?;
        let index_interval = request
            .index_interval
            .or(interval.map(|interval| INDEX * interval));
        let units = site.making.units;
        let mut told: Vec<ContourLevel> = (levels.iter())
            .map(|&level| ContourLevel {
                level: units.length_of(level),
                is_index: index_interval.is_some_and(|index| is_multiple(level, index)),
                lines: 0,
                closed: 0,
                length: units.length_of(0.0),
            })
            .collect();
        let least = request.min_length.unwrap_or(0.0);
        let (mut kept, mut left_out) = (Vec::new(), 0);
        for line in found {
            let length = line.length();
            let number = levels.partition_point(|&level| level < line.level);
            match told.get_mut(number) {
                Some(own) if length >= least => {
                    own.lines += 1;
                    own.closed += usize::from(line.is_closed);
                    own.length.value += length;
                    kept.push((number, line));
                }
                _ => left_out += 1,
            }
        }
        let sides = [
            from.as_ref().map_or(&made.surface, |from| &from.surface),
            &made.surface,
        ];
        let mut scene = Scene::of(&site.making, sides, None);
        scene.breaklines = made.breaklines.clone();
        let rows = match (&context.pictures, &from) {
            (Some(map), Some(_)) => scene.measured_for_map(Tolerance::ZERO, map.room)?,
            _ => Vec::new(),
        };
        let mut warnings = std::mem::take(&mut site.making.warnings);
        warnings.extend(outside(&request.levels, [low, high], units.length.symbol()));
        let contours = Contours {
            command: "contours".into(),
            schema: Schema,
            job: context.job.map(Job::facts),
            units,
            crs: site.systems.plan.clone(),
            height_system: site.systems.heights.clone(),
            surface: made.side,
            from: from.map(|from| from.side),
            line_files: std::mem::take(&mut site.making.drawn.files),
            range: [low, high].map(|height| units.length_of(height)),
            interval: interval.map(|interval| units.length_of(interval)),
            index_interval: index_interval.map(|interval| units.length_of(interval)),
            left_out,
            levels: told,
            warnings: context.acknowledged("", warnings),
        };
        let found = FoundContours {
            lines: kept,
            surface,
            map: MapGround { rows, scene },
        };
        Ok((contours, found))
    })
}

/// True for a multiple of an interval, but for rounding.
fn is_multiple(level: f64, interval: f64) -> bool {
    let count = level / interval;
    (count - count.round()).abs() < 1e-6
}

/// The levels over a range, rising, and their interval if they have one.
fn levels(
    asked: &ContourLevels,
    [low, high]: [f64; 2],
) -> Result<(Vec<f64>, Option<f64>), ContoursError> {
    let interval = match asked {
        ContourLevels::At(levels) => {
            let mut levels = levels.clone();
            levels.sort_by(f64::total_cmp);
            levels.dedup();
            return match levels.iter().any(|level| (low..=high).contains(level)) {
                true => Ok((levels, None)),
                false => Err(ContoursError::Outside { low, high }),
            };
        }
        ContourLevels::Proposed => round_up((high - low) / PROPOSED),
        ContourLevels::Interval(interval) => *interval,
    };
    let (first, last) = ((low / interval).ceil(), (high / interval).floor());
    let count = last - first + 1.0;
    if count > MOST_LEVELS {
        return Err(ContoursError::ManyLevels {
            interval,
            count,
            enough: round_up((high - low) / MOST_LEVELS),
        });
    }
    if count < 1.0 {
        return Err(ContoursError::Flat {
            interval,
            low,
            high,
        });
    }
    let all = 0..count as u32;
    let levels = all.map(|index| (first + f64::from(index)) * interval);
    Ok((levels.collect(), Some(interval)))
}

/// Levels that were asked for and are not within the range.
fn outside(asked: &ContourLevels, [low, high]: [f64; 2], symbol: &str) -> Option<Finding> {
    let ContourLevels::At(levels) = asked else {
        return None;
    };
    let off = levels.iter().filter(|level| !(low..=high).contains(*level));
    let off: Vec<String> = off.map(ToString::to_string).collect();
    (!off.is_empty()).then(|| {
        let words = format!(
            "no contour at {} {symbol}: the range is {low:.3} to {high:.3} {symbol}",
            off.join(", ")
        );
        Finding::new(Code::LevelsOutside, words)
    })
}

/// Why there are no contours.
#[derive(Debug, thiserror::Error, strum::IntoStaticStr)]
#[strum(serialize_all = "kebab-case")]
#[non_exhaustive]
pub enum ContoursError {
    /// A level has no contours.
    #[error("a level has no contours: it is the same height everywhere")]
    NoEnd,
    /// No level is within the range of the surface.
    #[error("no level is within the range of the surface, {low:.3} to {high:.3}")]
    Outside {
        /// Its lowest height.
        low: f64,
        /// Its highest height.
        high: f64,
    },
    /// No multiple of the interval is within the range of the surface.
    #[error("no multiple of {interval} is within the range of the surface, {low:.3} to {high:.3}")]
    Flat {
        /// The interval.
        interval: f64,
        /// Its lowest height.
        low: f64,
        /// Its highest height.
        high: f64,
    },
    /// The interval gives too many levels.
    #[error("an interval of {interval} makes {count:.0} levels; at most 5000 are drawn")]
    ManyLevels {
        /// The interval.
        interval: f64,
        /// How many levels it makes.
        count: f64,
        /// An interval that would do.
        enough: f64,
    },
    /// The lines have too many corners.
    #[error("{levels} levels cross {corners} edges of triangles; at most 40 million are drawn")]
    ManyCorners {
        /// How many levels there are.
        levels: usize,
        /// How many corners the lines have.
        corners: u64,
    },
}

impl ContoursError {
    fn remedy(&self) -> String {
        match self {
            ContoursError::NoEnd => "give a surface with an end".into(),
            ContoursError::Outside { .. } => "give --levels within it, or --interval".into(),
            ContoursError::Flat { .. } => "use a smaller --interval, or --levels".into(),
            ContoursError::ManyLevels { enough, .. } => {
                format!("use an interval of {enough} or more")
            }
            ContoursError::ManyCorners { .. } => "use a larger interval".into(),
        }
    }
}

dapedon_diagnostic::diagnostic!(ContoursError, "contours");
job_error!(ContoursError);
