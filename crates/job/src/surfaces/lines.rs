//! Lines of a job, from their files or corners.

use dapedon_core::alignment::Alignment;
use dapedon_core::plan::Place;
use dapedon_core::surface::Vertex;
use dapedon_core::units::LengthUnit;

use crate::context::Context;
use crate::error::JobError;
use crate::finding::Finding;
use crate::input::lines::{AlignedLine, Corner, PlanAndHeights};
use crate::input::{self, FilesRead, InputFile, LineSource};
use crate::job_file::{LinePlan, NameError, Shape};
use crate::surfaces::{SurfaceError, same_crs};

/// A line of the job, in grid coordinates, with heights where it has any.
pub(crate) struct JobLine {
    pub(crate) file: Option<InputFile>,
    pub(crate) systems: PlanAndHeights,
    pub(crate) corners: Vec<Vertex>,
}

/// A line with its chainage, in a unit: from a file, which `survey` is for where it says none, or of the job.
///
/// # Errors
///
/// When there is none, or its file cannot be used.
pub(crate) fn with_chainage(
    context: &Context<'_>,
    source: &LineSource,
    survey: LengthUnit,
    unit: LengthUnit,
) -> Result<AlignedLine, JobError> {
    let files = &context.reading.files;
    let name = match source {
        LineSource::File { path, name } => {
            let usual = context.reading.unit_of_files().unwrap_or(survey);
            let attribute = context.reading.name_attribute.as_deref();
            let read = input::lines::read(path, name.as_deref(), attribute, usual, files)?;
            return Ok(read.aligned(unit));
        }
        LineSource::Named(name) => name,
    };
    let job = context.job.ok_or_else(|| NameError::NoJobFor {
        kind: "line",
        name: name.clone(),
    })?;
    let known = || job.lines.keys().map(String::as_str);
    let plan = job.lines.get(name);
    let plan = plan.ok_or_else(|| NameError::unknown("line", name, known()))?;
    let found = match &plan.shape {
        Shape::Corners(corners) => {
            let places = corners
                .iter()
                .map(|&[east, north, _]| Place::new(east, north));
            Ok(AlignedLine {
                file: None,
                crs: None,
                line: input::lines::aligned(name, places).converted(job.unit, unit),
            })
        }
        Shape::File {
            path,
            name,
            name_attribute,
        } => {
            let attribute = name_attribute.as_deref();
            let read = input::lines::read(path, name.as_deref(), attribute, job.unit, files);
            read.map(|read| read.aligned(unit))
        }
    };
    found.map_err(|error| error.in_job(&plan.spot))
}

/// Lines that are drawn over a map, in grid coordinates, and the files they are from.
#[derive(Debug, Clone, Default)]
pub struct DrawnLines {
    /// The lines.
    pub lines: Vec<Alignment>,
    /// Their files, each once.
    pub files: Vec<InputFile>,
    /// What must be known of them.
    pub warnings: Vec<Finding>,
}

impl DrawnLines {
    /// Reads the lines that the map of a measurement shows, in its unit; all in the system of the surfaces.
    ///
    /// # Errors
    ///
    /// When there is none of a name, a file cannot be used, or is in another system.
    pub fn of(
        context: &Context<'_>,
        survey: LengthUnit,
        unit: LengthUnit,
        plan: &Option<String>,
    ) -> Result<Self, JobError> {
        let mut drawn = DrawnLines::default();
        let sources = context.pictures.iter().flat_map(|map| &map.lines);
        for source in sources {
            let found = with_chainage(context, source, survey, unit)?;
            let (told, any) = (source.to_string(), context.reading.ignore_crs);
            let note = same_crs("a line", &told, &found.crs, plan, any)?;
            drawn.warnings.extend(note);
            let new = found.file.filter(|file| !drawn.files.contains(file));
            drawn.files.extend(new);
            drawn.lines.push(found.line);
        }
        Ok(drawn)
    }
}

/// Reads a line, in the job's unit, which files that carry none are in.
pub(crate) fn read(
    plan: &LinePlan,
    unit: LengthUnit,
    read: &FilesRead,
) -> Result<JobLine, JobError> {
    let (file, systems, corners) = match &plan.shape {
        Shape::Corners(corners) => {
            let corners = corners.iter().map(|&[e, n, h]| (e, n, Some(h)));
            (None, [None, None], corners.collect())
        }
        Shape::File {
            path,
            name,
            name_attribute,
        } => {
            let found =
                input::lines::read(path, name.as_deref(), name_attribute.as_deref(), unit, read)?;
            let corners = found.corners(unit);
            (Some(found.file), found.systems, corners)
        }
    };
    let corners = match &plan.heights {
        Some(heights) => along(&corners, heights),
        None => corners,
    };
    let whole = corners
        .iter()
        .map(|&(e, n, height)| Some(Vertex::new(e, n, height?)));
    let corners: Option<Vec<Vertex>> = whole.collect();
    let corners = corners
        .filter(|corners| !corners.is_empty())
        .ok_or(SurfaceError::LineWithoutHeights)?;
    Ok(JobLine {
        file,
        systems,
        corners,
    })
}

/// The line with heights by distances along it, linear between them and level beyond; with a corner wherever
/// they bend.
fn along(corners: &[Corner], heights: &[[f64; 2]]) -> Vec<Corner> {
    let height = |distance: f64| {
        let after = heights.partition_point(|[at, _]| *at <= distance);
        let before = after.checked_sub(1).map(|before| heights[before]);
        match (before, heights.get(after).copied()) {
            (Some([from, low]), Some([to, high])) => {
                low + (distance - from) / (to - from) * (high - low)
            }
            (Some([_, height]), None) | (None, Some([_, height])) => height,
            (None, None) => f64::NAN,
        }
    };
    let mut made = Vec::new();
    let mut distance = 0.0;
    for (index, &(east, north, _)) in corners.iter().enumerate() {
        made.push((east, north, Some(height(distance))));
        let Some(&(next_east, next_north, _)) = corners.get(index + 1) else {
            continue;
        };
        let length = libm::hypot(next_east - east, next_north - north);
        let within = |at: f64| at > distance && at < distance + length;
        for [at, own] in heights.iter().filter(|[at, _]| within(*at)) {
            let share = (at - distance) / length;
            made.push((
                east + share * (next_east - east),
                north + share * (next_north - north),
                Some(*own),
            ));
        }
        distance += length;
    }
    made
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn heights_stand_by_distance() {
        let corners = [(0.0, 0.0, None), (10.0, 0.0, None), (10.0, 10.0, Some(7.0))];
        let made = along(&corners, &[[5.0, 1.0], [10.0, 2.0], [15.0, 4.0]]);
        let expected = [
            (0.0, 0.0, 1.0),
            (5.0, 0.0, 1.0),
            (10.0, 0.0, 2.0),
            (10.0, 5.0, 4.0),
            (10.0, 10.0, 4.0),
        ];
        assert_eq!(made, expected.map(|(e, n, h)| (e, n, Some(h))));
    }
}
