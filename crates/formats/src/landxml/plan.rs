//! What LandXML holds besides ground: alignments, and closed outlines of parcels and plan features.
//!
//! Follows `Alignments/Alignment` with `CoordGeom`, `StaEquation` and `Profile/ProfAlign`,
//! `Parcels/Parcel`, `PlanFeatures/PlanFeature` and `SurfVolumes/SurfVolume`. `CoordGeom` holds `Line`, `Curve`, `Spiral`
//! (clothoids, cubic parabolas, Bloss, cosine and sine curves) and `IrregularLine`; places stand in it or name a `CgPoint`.

use std::collections::HashMap;
use std::io::BufRead;

use dapedon_core::alignment::{
    Alignment, Chainage, Curve, Element, Equation, Profile, VerticalPoint,
};
use dapedon_core::plan::Place;
use dapedon_core::units::{Foot, LengthUnit, VolumeUnit};
use quick_xml::Reader;
use quick_xml::events::{BytesStart, Event};

use super::LandXmlError;
use super::attributes::{attribute, coordinate_system, height_system, unit};
use super::cross_sections::CrossSections;
use super::geometry::{Geometry, number};
use crate::{RawSurface, RawZone, RawZones, Utf8};

/// Chords of arcs and spirals in outlines lie no farther than this from them, in the file's unit.
pub const CHORD: f64 = 0.001;

/// Alignments and outlines of a file.
#[derive(Debug, Default)]
pub struct Plan {
    /// The unit of their coordinates.
    pub unit: Option<LengthUnit>,
    /// The system of their heights.
    pub height_system: Option<String>,
    /// Volumes that the file states between its surfaces.
    pub stated_volumes: Vec<StatedVolume>,
    /// The alignments, each with the first of its profiles.
    pub alignments: Vec<Alignment>,
    /// All profiles of each alignment, by their names.
    pub profiles: Vec<Vec<(String, Profile)>>,
    /// The surfaces that cross-sections along them give.
    pub sectioned: Vec<RawSurface>,
    /// Parcels and closed plan features as zones; open ones are counted as skipped.
    pub zones: RawZones,
}

/// A volume between two surfaces, as who made the file worked it out.
#[derive(Debug, Clone, PartialEq)]
pub struct StatedVolume {
    /// The reference surface.
    pub reference: String,
    /// The surface compared with it.
    pub surveyed: String,
    /// The cut.
    pub cut: Option<f64>,
    /// The fill.
    pub fill: Option<f64>,
    /// The unit of both; none where it is not one of volume that is known here.
    pub unit: Option<VolumeUnit>,
}

/// Reads alignments and outlines.
///
/// # Errors
///
/// When the file is no LandXML, or what it holds of them cannot be understood.
pub fn plan(input: impl BufRead) -> Result<Plan, LandXmlError> {
    let mut reader = Reader::from_reader(Utf8::of(input)?);
    let mut buffer = Vec::new();
    let mut found = PlanReader::default();
    loop {
        buffer.clear();
        let offset = reader.buffer_position();
        match reader.read_event_into(&mut buffer) {
            Ok(Event::Eof) => return found.finish(offset),
            Ok(event) => found.take(&event, offset)?,
            // Every syntax error is something that the end of the file leaves open.
            Err(quick_xml::Error::Syntax(_)) if found.any => return found.finish(offset),
            Err(source) => {
                let offset = reader.error_position();
                return Err(LandXmlError::Xml { offset, source });
            }
        }
    }
}

/// The line that elements at hand belong to.
#[derive(Default)]
struct Line {
    name: String,
    start: f64,
    elements: Vec<Element>,
    equations: Vec<Equation>,
    /// Its profiles, by their names.
    profiles: Vec<(String, Vec<VerticalPoint>)>,
    cross_sections: CrossSections,
}

/// What of a file is no ground by itself, as it comes by.
#[derive(Default)]
pub(super) struct PlanReader {
    pub(super) plan: Plan,
    any: bool,
    open: Vec<String>,
    /// Survey points that places may name.
    points: HashMap<String, Place>,
    line: Option<Line>,
    geometry: Option<Geometry>,
    point_name: Option<String>,
    curve: Option<Curve>,
    volume_unit: Option<VolumeUnit>,
    text: String,
}

impl PlanReader {
    /// One for the alignments of a file whose survey points are known already.
    pub(super) fn among<'n>(points: impl IntoIterator<Item = (&'n str, Place)>) -> Self {
        let points = points.into_iter();
        PlanReader {
            any: true,
            points: points.map(|(name, place)| (name.into(), place)).collect(),
            ..PlanReader::default()
        }
    }

    /// Takes one event in.
    pub(super) fn take(&mut self, event: &Event<'_>, offset: u64) -> Result<(), LandXmlError> {
        match event {
            Event::Start(element) => {
                self.start(element, offset)?;
                self.open.push(element.local_name().as_ref().into());
            }
            Event::Empty(element) => {
                self.start(element, offset)?;
                self.end(element.local_name().as_ref(), offset)?;
            }
            Event::Text(text) => self
                .text
                .push_str(&String::from_utf8_lossy(text.as_bytes())),
            Event::End(element) => {
                self.open.pop();
                self.end(element.local_name().as_ref(), offset)?;
            }
            _ => {}
        }
        Ok(())
    }

    fn start(&mut self, element: &BytesStart<'_>, offset: u64) -> Result<(), LandXmlError> {
        self.text.clear();
        let name = element.local_name();
        let name = name.as_ref();
        if !std::mem::replace(&mut self.any, true) && name != "LandXML" {
            return Err(LandXmlError::NotLandXml {
                offset,
                found: name.into(),
            });
        }
        let said = |key: &str| attribute(element, key, offset);
        match name {
            "Metric" | "Imperial" => self.plan.unit = unit(element, offset)?,
            "CoordinateSystem" => {
                self.plan.zones.crs = coordinate_system(element, offset)?;
                self.plan.height_system = height_system(element, offset)?;
            }
            "SurfVolumes" => {
                let foot = match self.plan.unit {
                    Some(LengthUnit::Foot(foot)) => foot,
                    _ => Foot::International,
                };
                self.volume_unit = match said("volUnit")?.as_deref() {
                    Some("cubicMeter") => Some(VolumeUnit::CubicMetre),
                    Some("cubicFeet") => Some(VolumeUnit::CubicFoot(foot)),
                    Some("cubicYard") => Some(VolumeUnit::CubicYard(foot)),
                    _ => None,
                };
            }
            "SurfVolume" => {
                let volume = |key: &str| -> Result<Option<f64>, LandXmlError> {
                    said(key)?.map(|text| number(&text, offset)).transpose()
                };
                self.plan.stated_volumes.push(StatedVolume {
                    reference: said("surfBase")?.unwrap_or_default(),
                    surveyed: said("surfCompare")?.unwrap_or_default(),
                    cut: volume("volCut")?,
                    fill: volume("volFill")?,
                    unit: self.volume_unit,
                });
            }
            "CgPoint" => self.point_name = said("name")?,
            "Alignment" | "Parcel" | "PlanFeature" => {
                self.line = Some(Line {
                    name: said("name")?.unwrap_or_default(),
                    start: match said("staStart")? {
                        Some(text) => number(&text, offset)?,
                        None => 0.0,
                    },
                    ..Line::default()
                });
            }
            "ProfAlign" => {
                let name = said("name")?.unwrap_or_default();
                if let Some(line) = &mut self.line {
                    line.profiles.push((name, Vec::new()));
                }
            }
            "Line" | "Curve" | "Spiral" | "IrregularLine" | "Chain" if self.line.is_some() => {
                let mut geometry = Geometry::default();
                for key in ["rot", "length", "radiusStart", "radiusEnd", "spiType"] {
                    if let Some(value) = said(key)? {
                        geometry.attributes.insert(key.into(), value);
                    }
                }
                self.geometry = Some(geometry);
            }
            "Start" | "End" | "Center" | "PI" => {
                if let (Some(reference), Some(geometry)) = (said("pntRef")?, &mut self.geometry) {
                    let place = self.points.get(&reference).copied();
                    let place = place.ok_or(LandXmlError::NoSuchPoint {
                        offset,
                        name: reference,
                    })?;
                    geometry.places.insert(name.into(), place);
                }
            }
            "CrossSect" => {
                if let Some(line) = &mut self.line {
                    let station = said("sta")?.ok_or(LandXmlError::Missing {
                        offset,
                        element: "CrossSect",
                        part: "sta",
                    })?;
                    let skew = said("angleSkew")?.map(|text| number(&text, offset));
                    let is_skewed = skew.transpose()?.is_some_and(|angle| angle != 0.0);
                    let distance = number(&station, offset)? - line.start;
                    line.cross_sections.begin(distance, is_skewed);
                }
            }
            "CrossSectSurf" | "DesignCrossSectSurf" => {
                if let Some(line) = &mut self.line {
                    let is_closed = said("closedArea")?.is_some_and(|said| said == "true");
                    let name = said("name")?.unwrap_or_default();
                    line.cross_sections.surface(name, is_closed);
                }
            }
            "CrossSectPnt" => {
                let format = said("dataFormat")?;
                if let (Some(line), Some("Slope Distance")) = (&mut self.line, format.as_deref()) {
                    line.cross_sections.by_slope();
                }
            }
            "StaEquation" => {
                if let Some(line) = &mut self.line {
                    let numbers = ["staBack", "staAhead", "staInternal"].map(said);
                    let [back, ahead, internal] = numbers;
                    let (Some(ahead), Some(internal)) = (ahead?, internal?) else {
                        return Err(LandXmlError::Missing {
                            offset,
                            element: "StaEquation",
                            part: "staAhead and staInternal",
                        });
                    };
                    let internal = number(&internal, offset)?;
                    line.equations.push(Equation {
                        distance: internal - line.start,
                        back: match back? {
                            Some(back) => number(&back, offset)?,
                            None => internal,
                        },
                        ahead: number(&ahead, offset)?,
                    });
                }
            }
            "ParaCurve" | "UnsymParaCurve" | "CircCurve" => {
                let length = |key: &str| -> Result<f64, LandXmlError> {
                    let text = said(key)?.ok_or(LandXmlError::Missing {
                        offset,
                        element: "a vertical curve",
                        part: "length or radius",
                    })?;
                    number(&text, offset)
                };
                let curve = match name {
                    "ParaCurve" => Curve::Parabola([length("length")? / 2.0; 2]),
                    "UnsymParaCurve" => {
                        Curve::Parabola([length("lengthIn")?, length("lengthOut")?])
                    }
                    _ => Curve::Circle(length("radius")?),
                };
                self.curve = Some(curve);
            }
            _ => {}
        }
        Ok(())
    }

    fn end(&mut self, name: &str, offset: u64) -> Result<(), LandXmlError> {
        match name {
            "CgPoint" => {
                if let (Some(name), Some(place)) = (self.point_name.take(), self.place(offset)?) {
                    self.points.insert(name, place);
                }
            }
            "Start" | "End" | "Center" | "PI" => {
                if let Some(place) = self.place(offset)?
                    && let Some(geometry) = &mut self.geometry
                {
                    geometry.places.insert(name.into(), place);
                }
            }
            "PntList2D" | "PntList3D" if self.geometry.is_some() => {
                let numbers = self.numbers(offset)?;
                let each = if name == "PntList2D" { 2 } else { 3 };
                let places = numbers.chunks_exact(each).map(|p| Place::new(p[1], p[0]));
                if let Some(geometry) = &mut self.geometry {
                    geometry.list.extend(places);
                }
            }
            "PntList2D" | "CrossSectPnt" => {
                let numbers = self.numbers(offset)?;
                if let Some(line) = self
                    .line
                    .as_mut()
                    .filter(|line| line.cross_sections.are_open())
                {
                    let (pairs, rest) = numbers.as_chunks::<2>();
                    if !rest.is_empty() {
                        return Err(LandXmlError::Count {
                            offset,
                            element: "a cross-section",
                            found: numbers.len(),
                            expected: numbers.len() + 1,
                        });
                    }
                    match name {
                        "PntList2D" => line.cross_sections.list(pairs.to_vec()),
                        _ => {
                            for &point in pairs {
                                line.cross_sections.point(point);
                            }
                        }
                    }
                }
            }
            "CrossSectSurf" | "DesignCrossSectSurf" => {
                if let Some(line) = &mut self.line {
                    line.cross_sections.end_surface();
                }
            }
            "Line" | "Curve" | "Spiral" | "IrregularLine" | "Chain" => {
                self.end_element(name, offset)?;
            }
            "PVI" | "ParaCurve" | "UnsymParaCurve" | "CircCurve" => {
                let curve = self.curve.take().unwrap_or(Curve::None);
                let numbers = self.numbers(offset)?;
                if let Some(line) = self.line.as_mut() {
                    let &[station, height] = numbers.as_slice() else {
                        return Err(LandXmlError::Count {
                            offset,
                            element: "PVI",
                            found: numbers.len(),
                            expected: 2,
                        });
                    };
                    let point = VerticalPoint {
                        distance: station - line.start,
                        height,
                        curve,
                    };
                    match line.profiles.last_mut() {
                        Some((_, summits)) => summits.push(point),
                        None => line.profiles.push((String::new(), vec![point])),
                    }
                }
            }
            "Alignment" => {
                if let Some(line) = self.line.take() {
                    self.end_alignment(line, offset)?;
                }
            }
            "Parcel" | "PlanFeature" => {
                if let Some(line) = self.line.take() {
                    self.end_outline(line);
                }
            }
            _ => {}
        }
        self.text.clear();
        Ok(())
    }

    /// What was found, if the file was whole.
    fn finish(mut self, offset: u64) -> Result<Plan, LandXmlError> {
        match self.open.pop() {
            Some(element) => Err(LandXmlError::CutOff { offset, element }),
            None if !self.any => Err(LandXmlError::NoElement),
            None => {
                self.plan.zones.unit = self.plan.unit;
                Ok(self.plan)
            }
        }
    }

    fn numbers(&self, offset: u64) -> Result<Vec<f64>, LandXmlError> {
        self.text
            .split_ascii_whitespace()
            .map(|word| number(word, offset))
            .collect()
    }

    /// The place that the text at hand holds; none where it holds nothing.
    fn place(&self, offset: u64) -> Result<Option<Place>, LandXmlError> {
        match self.numbers(offset)?.as_slice() {
            [] => Ok(None),
            [north, east] | [north, east, _] => Ok(Some(Place::new(*east, *north))),
            numbers => Err(LandXmlError::Count {
                offset,
                element: "a place",
                found: numbers.len(),
                expected: 2,
            }),
        }
    }

    fn end_element(&mut self, name: &str, offset: u64) -> Result<(), LandXmlError> {
        if let (Some(geometry), Some(line)) = (self.geometry.take(), &mut self.line) {
            line.elements.extend(geometry.elements(name, offset)?);
        }
        Ok(())
    }

    fn end_alignment(&mut self, line: Line, offset: u64) -> Result<(), LandXmlError> {
        let mut profiles = Vec::new();
        for (name, summits) in line.profiles {
            if summits.is_empty() {
                continue;
            }
            let made = Profile::new(summits).map_err(|source| LandXmlError::Profile {
                offset,
                name: line.name.clone(),
                source,
            })?;
            profiles.push((name, made));
        }
        let profile = profiles.first().map(|(_, profile)| profile.clone());
        self.plan.profiles.push(profiles);
        let chainage = Chainage::new(line.start, line.equations);
        let alignment = Alignment::new(line.name, line.elements, chainage, profile);
        let sectioned = line.cross_sections.over(&alignment);
        self.plan.sectioned.extend(sectioned);
        self.plan.alignments.push(alignment);
        Ok(())
    }

    /// A parcel or feature is a zone where it ends at its start.
    fn end_outline(&mut self, line: Line) {
        let alignment = Alignment::new(line.name, line.elements, Chainage::from(0.0), None);
        let mut ring = alignment.places(CHORD);
        let near = |a: Place, b: Place| libm::hypot(b.east - a.east, b.north - a.north) <= CHORD;
        let closed = match (ring.first(), ring.last()) {
            (Some(&first), Some(&last)) => ring.len() > 3 && near(first, last),
            _ => false,
        };
        let zones = &mut self.plan.zones;
        if !closed {
            zones.left_out += 1;
            return;
        }
        ring.pop();
        ring.extend(ring.first().copied());
        let name = match alignment.name() {
            "" => {
                zones.unnamed += 1;
                format!("zone {}", zones.zones.len() + 1)
            }
            name => name.to_owned(),
        };
        zones.zones.push(RawZone {
            name,
            feature: zones.zones.len().to_string(),
            parts: vec![vec![ring]],
            ..RawZone::default()
        });
    }
}
