//! Lines of a job, from their files or corners.

use std::path::Path;

use dapedon_core::surface::Vertex;
use dapedon_core::units::LengthUnit;
use dapedon_formats::features::Shape as Drawn;
use dapedon_formats::{Format, dxf, landxml};

use crate::error::JobError;
use crate::input::InputError;
use crate::input::maps::MapFile;
use crate::input::{FilesRead, Input, InputFile, load};
use crate::job_file::{LinePlan, Shape};
use crate::surfaces::SurfaceError;

/// Chords of arcs and spirals stand no farther than this from them, in metres.
const CHORD: f64 = 0.001;

/// The systems that the places of a file are in, and its heights.
pub(crate) type PlanAndHeights = [Option<String>; 2];

/// A line of the job, in grid coordinates, with heights where it has any.
pub(crate) struct JobLine {
    pub(crate) file: Option<InputFile>,
    pub(crate) systems: PlanAndHeights,
    pub(crate) corners: Vec<Vertex>,
}

/// A corner of a line, with its height if it has one.
type Corner = (f64, f64, Option<f64>);

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
            let (file, systems, corners) =
                from_file(path, name.as_deref(), name_attribute.as_deref(), unit, read)?;
            (Some(file), systems, corners)
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

fn from_file(
    path: &Path,
    name: Option<&str>,
    name_attribute: Option<&str>,
    unit: LengthUnit,
    read: &FilesRead,
) -> Result<(InputFile, PlanAndHeights, Vec<Corner>), JobError> {
    let mut input = Input::open(path, read)?;
    let mut systems = [None, None];
    let (own, mut lines, with) = match input.format {
        Format::LandXml => {
            let plan = landxml::plan(input.reader());
            let plan = plan.map_err(|error| load::landxml_fault(path, error))?;
            let own = plan.unit.unwrap_or(unit);
            systems = [plan.zones.crs.clone(), plan.height_system.clone()];
            let chord = LengthUnit::Metre.convert(CHORD, own);
            let lines = plan
                .alignments
                .iter()
                .map(|line| (line.name().to_owned(), corners(line, chord)));
            (own, lines.collect::<Vec<_>>(), Vec::new())
        }
        Format::Dxf => {
            let drawing =
                dxf::read(input.reader()).map_err(|error| load::dxf_fault(path, error))?;
            let of = |(layer, lines): (String, Vec<Vec<Vertex>>)| {
                let corners = |line: Vec<Vertex>| {
                    line.iter()
                        .map(|v| (v.east, v.north, Some(v.height)))
                        .collect()
                };
                lines
                    .into_iter()
                    .map(move |line| (layer.clone(), corners(line)))
                    .collect::<Vec<_>>()
            };
            let layers = drawing
                .layers
                .into_iter()
                .map(|(name, layer)| (name, layer.lines));
            (
                drawing.unit.unwrap_or(unit),
                layers.flat_map(of).collect(),
                Vec::new(),
            )
        }
        format if format.is_map() => {
            let chosen = MapFile::open(&mut input, path, read)?.chosen(name)?;
            let mut features = chosen.features;
            let usable = features.in_lengths();
            usable.map_err(|error| load::feature_fault(path, error))?;
            if let Some(name) = chosen.name {
                let kept = features.keep(name, name_attribute);
                kept.map_err(|error| load::feature_fault(path, error))?;
            }
            let own = features.unit.unwrap_or(unit);
            systems = [features.crs.clone(), features.height_system.clone()];
            let mut lines = Vec::new();
            for feature in features.features {
                if let Drawn::Lines(drawn) = feature.shape {
                    let corner = |c: &dapedon_formats::features::Corner| {
                        (c.place.east, c.place.north, c.height)
                    };
                    let drawn = drawn.iter().map(|line| line.iter().map(corner).collect());
                    lines.extend(drawn.map(|line| (name.unwrap_or_default().to_owned(), line)));
                }
            }
            (own, lines, chosen.with)
        }
        _ => {
            return Err(InputError::WrongKind {
                path: path.into(),
                holds: "surfaces",
                wanted: "lines",
            }
            .into());
        }
    };
    if let Some(name) = name {
        lines.retain(|(own, _)| own == name);
    }
    let Ok([(_, mut line)]) = <[_; 1]>::try_from(lines).map_err(|lines| lines.len()) else {
        return Err(SurfaceError::NotOneLine {
            path: path.into(),
            name: name.map(Into::into),
        }
        .into());
    };
    let convert = |value: f64| own.convert(value, unit);
    for (east, north, height) in &mut line {
        (*east, *north, *height) = (convert(*east), convert(*north), height.map(convert));
    }
    let mut file = input.finish()?;
    file.other_files = with;
    Ok((file, systems, line))
}

/// The corners of an alignment: chords of its curves in plan, and where its heights bend.
fn corners(line: &dapedon_core::alignment::Alignment, chord: f64) -> Vec<Corner> {
    let places = line.places(chord);
    let mut distances = vec![0.0];
    for pair in places.windows(2) {
        let step = libm::hypot(pair[1].east - pair[0].east, pair[1].north - pair[0].north);
        distances.push(distances[distances.len() - 1] + step);
    }
    // Chords are a little shorter than the curve: distances are stretched to its length.
    let stretch = line.length() / distances[distances.len() - 1].max(f64::MIN_POSITIVE);
    let height = |distance: f64| line.profile().and_then(|profile| profile.height(distance));
    let mut corners = Vec::new();
    for (index, (place, distance)) in places.iter().zip(&distances).enumerate() {
        let distance = distance * stretch;
        corners.push((place.east, place.north, height(distance)));
        let Some((next, end)) = places.get(index + 1).zip(distances.get(index + 1)) else {
            continue;
        };
        // Heights may bend along a straight: a corner each metre or so where they do.
        let end = end * stretch;
        let parts = ((end - distance) / (1000.0 * chord))
            .ceil()
            .clamp(1.0, 10_000.0);
        let straight =
            |share: f64| Some(height(distance)? + share * (height(end)? - height(distance)?));
        let bends = (1..parts as u32).any(|part| {
            let share = f64::from(part) / parts;
            match (height(distance + share * (end - distance)), straight(share)) {
                (Some(own), Some(straight)) => (own - straight).abs() > chord,
                _ => false,
            }
        });
        if bends {
            corners.extend((1..parts as u32).map(|part| {
                let share = f64::from(part) / parts;
                let at = |from: f64, to: f64| from + share * (to - from);
                (
                    at(place.east, next.east),
                    at(place.north, next.north),
                    height(at(distance, end)),
                )
            }));
        }
    }
    corners
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
