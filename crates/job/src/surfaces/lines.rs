//! Lines of a job, from their files or corners.

use dapedon_core::alignment::{
    Alignment, ByDistance, ChainageError, NamedChainage, Profile, chainage_words,
};
use dapedon_core::surface::Vertex;
use dapedon_core::units::LengthUnit;

use crate::context::Context;
use crate::error::JobError;
use crate::finding::Finding;
use crate::input::lines::{AlignedLine, CHORD, Corner, PlanAndHeights};
use crate::input::{self, FilesRead, InputFile, LineSource};
use crate::job_file::{Job, LinePlan, LineShape, NameError, Shape};
use crate::surfaces::{LineError, SurfaceError, same_crs};

/// A line of the job, in grid coordinates.
pub(crate) struct JobLine {
    pub(crate) file: Option<InputFile>,
    pub(crate) systems: PlanAndHeights,
    /// Its corners, where all of them have heights; of curves those of their chords.
    pub(crate) corners: Option<Vec<Vertex>>,
    /// With its chainage and its heights, in the job's unit.
    pub(crate) line: Alignment,
    /// That it has several profiles, and the first is used, in words.
    pub(crate) several_profiles: Option<String>,
}

/// A line with its chainage and heights, in a unit: from a file, which `survey` is for where it says none, or of the job. One that is
/// laid on a surface has no heights here.
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
    let line = of_job(job, name, files)?;
    let [crs, _] = line.systems;
    Ok(AlignedLine {
        several_profiles: line.several_profiles,
        file: line.file,
        crs,
        line: line.line.converted(job.unit, unit),
    })
}

/// Reads a line of a job, in the job's unit, which files that carry none are in.
pub(crate) fn of_job(job: &Job, name: &str, files: &FilesRead) -> Result<JobLine, JobError> {
    let plan = job.lines.get(name);
    let known = || job.lines.keys().map(String::as_str);
    let plan = plan.ok_or_else(|| NameError::unknown("line", name, known()))?;
    read(job, plan, name, files).map_err(|error| error.in_job(&plan.spot))
}

fn read(job: &Job, plan: &LinePlan, name: &str, files: &FilesRead) -> Result<JobLine, JobError> {
    let unit = job.unit;
    let mut several_profiles = None;
    let (file, systems, corners, line) = match &plan.shape {
        LineShape::Parallel { to, offset } => {
            let beside = of_job(job, to, files)?;
            let chord = LengthUnit::Metre.convert(CHORD, unit);
            let line = beside.line.parallel(*offset, chord);
            let line = line.map_err(|source| LineError::NoParallel {
                line: to.clone(),
                offset: *offset,
                source,
            })?;
            several_profiles = beside.several_profiles;
            let corners = input::lines::corners(&line, chord);
            (beside.file, beside.systems, corners, line.with_name(name))
        }
        LineShape::Drawn(Shape::Corners(corners)) => {
            let corners = corners.iter().map(|&[e, n, h]| (e, n, Some(h)));
            let corners: Vec<Corner> = corners.collect();
            let line = input::lines::aligned(name, &corners);
            (None, [None, None], corners, line)
        }
        LineShape::Drawn(Shape::File {
            path,
            name,
            name_attribute,
        }) => {
            let attribute = name_attribute.as_deref();
            let found = input::lines::read(path, name.as_deref(), attribute, unit, files)?;
            let (file, systems) = (found.file.clone(), found.systems.clone());
            let corners = found.corners(unit);
            several_profiles = (plan.heights.is_none() && plan.laid_on.is_none())
                .then(|| found.several_profiles.clone())
                .flatten();
            (Some(file), systems, corners, found.aligned(unit).line)
        }
    };
    let (corners, line) = match (&plan.heights, &plan.laid_on) {
        (_, Some(_)) => (Vec::new(), line.with_profile(None)),
        (None, None) => (corners, line),
        (Some(heights), None) => {
            let heights = ByDistance::new(heights.clone());
            let heights = heights.ok_or(SurfaceError::LineWithoutHeights)?;
            let ends = [0.0, line.length()];
            let mut stops: Vec<f64> = heights.distances().chain(ends).collect();
            stops.retain(|at| (ends[0]..=ends[1]).contains(at));
            stops.sort_by(f64::total_cmp);
            let profile = Profile::through(stops.into_iter().map(|at| [at, heights.at(at)]));
            (along(&corners, &heights), line.with_profile(profile.ok()))
        }
    };
    let whole = corners
        .iter()
        .map(|&(e, n, height)| Some(Vertex::new(e, n, height?)));
    let corners: Option<Vec<Vertex>> = whole.collect();
    Ok(JobLine {
        several_profiles,
        file,
        systems,
        corners: corners.filter(|corners| !corners.is_empty()),
        line,
    })
}

/// The distance from the start of a line that a chainage names.
pub(crate) fn distance(
    line: &Alignment,
    named: NamedChainage,
    unit: LengthUnit,
) -> Result<f64, LineError> {
    let words = |chainage: f64| chainage_words(chainage, unit, 2);
    line.distance_of(named).map_err(|error| match error {
        ChainageError::Several {
            chainage,
            distances,
        } => LineError::TwoPlaces {
            chainage: words(chainage),
            distances: distances
                .iter()
                .map(|at| format!("{at:.2}"))
                .collect::<Vec<_>>()
                .join(" and "),
        },
        ChainageError::OffLine { chainage, range } => LineError::OffLine {
            chainage: words(chainage),
            from: words(range[0]),
            to: words(range[1]),
        },
        error => LineError::Chainage(error),
    })
}

/// The stretch of a line between two chainages, as distances from its start; to its ends where none is given.
pub(crate) fn stretch(
    line: &Alignment,
    between: &[Option<NamedChainage>; 2],
    unit: LengthUnit,
) -> Result<[f64; 2], LineError> {
    let at = |named: &NamedChainage| distance(line, *named, unit);
    let [from, to] = between;
    let from = from.as_ref().map(at).transpose()?.unwrap_or(0.0);
    let to = to.as_ref().map(at).transpose()?.unwrap_or(line.length());
    match from < to {
        true => Ok([from, to]),
        false => {
            let words = |distance: f64| chainage_words(line.chainage().of(distance), unit, 2);
            Err(LineError::Backwards {
                from: words(from),
                to: words(to),
            })
        }
    }
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

/// The line with heights by distances along it, linear between them and level beyond; with a corner wherever
/// they bend.
fn along(corners: &[Corner], heights: &ByDistance) -> Vec<Corner> {
    let mut made = Vec::new();
    let mut distance = 0.0;
    for (index, &(east, north, _)) in corners.iter().enumerate() {
        made.push((east, north, Some(heights.at(distance))));
        let Some(&(next_east, next_north, _)) = corners.get(index + 1) else {
            continue;
        };
        let length = libm::hypot(next_east - east, next_north - north);
        let within = |at: f64| at > distance && at < distance + length;
        for at in heights.distances().filter(|at| within(*at)) {
            let share = (at - distance) / length;
            made.push((
                east + share * (next_east - east),
                north + share * (next_north - north),
                Some(heights.at(at)),
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
        let made = along(
            &corners,
            &ByDistance::new(vec![[5.0, 1.0], [10.0, 2.0], [15.0, 4.0]]).unwrap(),
        );
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
