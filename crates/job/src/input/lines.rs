//! Lines from files: alignments, lines of drawings and of maps.

use std::path::Path;

use dapedon_core::alignment::{Alignment, Chainage, Element, Profile};
use dapedon_core::plan::Place;
use dapedon_core::surface::Vertex;
use dapedon_core::units::LengthUnit;
use dapedon_formats::features::Shape as Drawn;
use dapedon_formats::{CodeUses, Format, delimited, dxf, landxml};

use crate::error::JobError;
use crate::input::maps::MapFile;
use crate::input::{FilesRead, Input, InputError, InputFile, load};

/// Chords of arcs and spirals stand no farther than this from them, in metres.
pub(crate) const CHORD: f64 = 0.001;

/// The systems that the places of a file are in, and its heights.
pub(crate) type PlanAndHeights = [Option<String>; 2];

/// A corner of a line, with its height if it has one.
pub(crate) type Corner = (f64, f64, Option<f64>);

/// A line as a file holds it.
pub(crate) struct ReadLine {
    pub(crate) file: InputFile,
    pub(crate) systems: PlanAndHeights,
    /// The unit of its numbers.
    unit: LengthUnit,
    /// Its name in the file.
    pub(crate) name: String,
    /// That it has several profiles, and the first is used, in words.
    pub(crate) several_profiles: Option<String>,
    drawn: DrawnLine,
}

enum DrawnLine {
    /// Straights, arcs and spirals with their chainage.
    Aligned(Box<Alignment>),
    /// Corners alone.
    Corners(Vec<Corner>),
}

/// A line with its chainage, in grid coordinates.
pub(crate) struct AlignedLine {
    pub(crate) file: Option<InputFile>,
    pub(crate) crs: Option<String>,
    pub(crate) line: Alignment,
    /// That it has several profiles, and the first is used, in words.
    pub(crate) several_profiles: Option<String>,
}

impl ReadLine {
    /// It with its chainage, in a unit; from zero where the file has none.
    pub(crate) fn aligned(self, to: LengthUnit) -> AlignedLine {
        let line = match &self.drawn {
            DrawnLine::Aligned(line) => line.converted(self.unit, to),
            DrawnLine::Corners(corners) => aligned(&self.name, corners).converted(self.unit, to),
        };
        let [crs, _] = self.systems;
        AlignedLine {
            several_profiles: self.several_profiles,
            file: Some(self.file),
            crs,
            line,
        }
    }

    /// Its corners in a unit, of curves those of their chords.
    pub(crate) fn corners(&self, to: LengthUnit) -> Vec<Corner> {
        let mut line = match &self.drawn {
            DrawnLine::Aligned(line) => corners(line, LengthUnit::Metre.convert(CHORD, self.unit)),
            DrawnLine::Corners(corners) => corners.clone(),
        };
        let convert = |value: f64| self.unit.convert(value, to);
        for (east, north, height) in &mut line {
            (*east, *north, *height) = (convert(*east), convert(*north), height.map(convert));
        }
        line
    }
}

/// Straights from corner to corner, with the chainage from zero, and heights where all corners have one.
pub(crate) fn aligned(name: &str, corners: &[Corner]) -> Alignment {
    let mut corners = corners.to_vec();
    corners.dedup_by(|next, before| (next.0, next.1) == (before.0, before.1));
    let place = |&(east, north, _): &Corner| Place::new(east, north);
    let straights = corners.windows(2);
    let straights = straights.map(|pair| Element::straight(place(&pair[0]), place(&pair[1])));
    let line = Alignment::new(name, straights.collect(), Chainage::from(0.0), None);
    let mut along = 0.0;
    let mut heights = Vec::with_capacity(corners.len());
    for (index, corner) in corners.iter().enumerate() {
        heights.push(corner.2.map(|height| [along, height]));
        along += line.elements().get(index).map_or(0.0, Element::length);
    }
    let heights: Option<Vec<[f64; 2]>> = heights.into_iter().collect();
    line.with_profile(heights.and_then(|heights| Profile::through(heights).ok()))
}

/// A line of a drawing: one with arcs keeps them.
fn of_drawing(layer: &str, line: &dxf::DrawnLine) -> DrawnLine {
    // A drawing in plan has zero for all heights.
    let has_heights = line.places.iter().any(|v| v.height != 0.0);
    if line.arcs.is_empty() {
        let height = |v: &Vertex| has_heights.then_some(v.height);
        let corners = line.places.iter().map(|v| (v.east, v.north, height(v)));
        return DrawnLine::Corners(corners.collect());
    }
    let (elements, last) = line.elements();
    let (elements, heights): (Vec<Element>, Vec<f64>) = elements.into_iter().unzip();
    let line = Alignment::new(layer, elements, Chainage::from(0.0), None);
    let distances = line.joints().iter().copied().chain([line.length()]);
    let heights = distances.zip(heights.into_iter().chain(last));
    let profile = Profile::through(heights.map(|(distance, height)| [distance, height]));
    let profile = profile.ok().filter(|_| has_heights);
    DrawnLine::Aligned(Box::new(line.with_profile(profile)))
}

/// Reads the one line of a file, or the one of a name; a file that says no unit is in `usual`.
pub(crate) fn read(
    path: &Path,
    name: Option<&str>,
    name_attribute: Option<&str>,
    usual: LengthUnit,
    read: &FilesRead,
) -> Result<ReadLine, JobError> {
    let mut input = Input::open(path, read)?;
    let mut systems = [None, None];
    let mut several = None;
    let (own, mut lines, with) = match input.format {
        Format::LandXml => {
            let plan = landxml::plan(input.reader());
            let plan = plan.map_err(|error| load::landxml_fault(path, error))?;
            let own = plan.unit.unwrap_or(usual);
            systems = [plan.zones.crs.clone(), plan.height_system.clone()];
            let mut lines = Vec::new();
            for (line, profiles) in plan.alignments.into_iter().zip(plan.profiles) {
                let own = line.name().to_owned();
                // One of several profiles is named behind its line.
                for (profile, heights) in &profiles {
                    if name.is_some_and(|name| *name == format!("{own}/{profile}")) {
                        let line = line.clone().with_profile(Some(heights.clone()));
                        let name = format!("{own}/{profile}");
                        lines.push((name, DrawnLine::Aligned(Box::new(line))));
                    }
                }
                if name.is_none_or(|name| name == own) && profiles.len() > 1 {
                    let names = profiles.iter().map(|(name, _)| format!("\"{name}\""));
                    several = Some(names.collect::<Vec<_>>());
                }
                lines.push((own, DrawnLine::Aligned(Box::new(line))));
            }
            (own, lines, Vec::new())
        }
        Format::Dxf => {
            let drawing =
                dxf::read(input.reader()).map_err(|error| load::dxf_fault(path, error))?;
            let of = |(layer, lines): (String, Vec<dxf::DrawnLine>)| {
                let lines = lines.into_iter();
                let lines = lines.map(move |line| (layer.clone(), of_drawing(&layer, &line)));
                lines.collect::<Vec<_>>()
            };
            let layers = drawing
                .layers
                .into_iter()
                .map(|(name, layer)| (name, layer.lines));
            (
                drawing.unit.unwrap_or(usual),
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
            let own = features.unit.unwrap_or(usual);
            systems = [features.crs.clone(), features.height_system.clone()];
            let mut lines = Vec::new();
            for feature in features.features {
                if let Drawn::Lines(drawn) = feature.shape {
                    let corner = |c: &dapedon_formats::features::Corner| {
                        (c.place.east, c.place.north, c.height)
                    };
                    let drawn = drawn
                        .iter()
                        .map(|line| DrawnLine::Corners(line.iter().map(corner).collect()));
                    lines.extend(drawn.map(|line| (name.unwrap_or_default().to_owned(), line)));
                }
            }
            (own, lines, chosen.with)
        }
        // Its points in their order are one line.
        Format::Delimited => {
            let options = delimited::Options {
                roles: None,
                take: CodeUses::default(),
                places_only: true,
            };
            let mut corners: Vec<Corner> = Vec::new();
            let found = delimited::each(input.reader(), &options, |point| {
                let Vertex {
                    east,
                    north,
                    height,
                } = point.at;
                corners.push((east, north, (!height.is_nan()).then_some(height)));
            });
            found.map_err(|error| InputError::unreadable(path, error))?;
            let line = (
                name.unwrap_or_default().to_owned(),
                DrawnLine::Corners(corners),
            );
            (usual, vec![line], Vec::new())
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
    let Ok([(own_name, drawn)]) = <[_; 1]>::try_from(lines).map_err(|lines| lines.len()) else {
        return Err(InputError::NotOneLine {
            path: path.into(),
            name: name.map(Into::into),
        }
        .into());
    };
    let mut file = input.finish()?;
    file.other_files = with;
    Ok(ReadLine {
        several_profiles: several.map(|names| {
            format!(
                "the line has {} profiles: {}; the first is used",
                names.len(),
                names.join(", ")
            )
        }),
        file,
        systems,
        unit: own,
        name: own_name,
        drawn,
    })
}

/// The corners of an alignment: chords of its curves in plan, and where its heights bend.
pub(crate) fn corners(line: &Alignment, chord: f64) -> Vec<Corner> {
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
