//! What LandXML holds besides ground: alignments, and closed outlines of parcels and plan features.
//!
//! Follows `Alignments/Alignment` with `CoordGeom`, `StaEquation` and `Profile/ProfAlign`,
//! `Parcels/Parcel`, `PlanFeatures/PlanFeature` and `SurfVolumes/SurfVolume`. `CoordGeom` holds `Line`, `Curve`, `Spiral`
//! (clothoids, cubic parabolas, Bloss, cosine and sine curves) and `IrregularLine`; places stand in it or name a `CgPoint`.

use std::collections::HashMap;
use std::io::BufRead;

use dapedon_core::alignment::{
    Alignment, Chainage, Curve, Element, Equation, Growth, Profile, Turn, VerticalPoint,
};
use dapedon_core::plan::Place;
use dapedon_core::units::{Foot, LengthUnit, VolumeUnit};
use quick_xml::Reader;
use quick_xml::events::{BytesStart, Event};

use super::LandXmlError;
use super::attributes::{attribute, coordinate_system, height_system, unit};
use crate::{RawZone, RawZones, Utf8};

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
            Ok(Event::Start(element)) => {
                found.start(&element, offset)?;
                found.open.push(element.local_name().as_ref().into());
            }
            Ok(Event::Empty(element)) => {
                found.start(&element, offset)?;
                found.end(element.local_name().as_ref(), offset)?;
            }
            Ok(Event::Text(text)) => found
                .text
                .push_str(&String::from_utf8_lossy(text.as_bytes())),
            Ok(Event::End(element)) => {
                found.open.pop();
                found.end(element.local_name().as_ref(), offset)?;
            }
            Ok(Event::Eof) => return found.finish(offset),
            Ok(_) => {}
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
}

/// A geometry element at hand: its attributes, and the places within it by their role.
#[derive(Default)]
struct Geometry {
    attributes: HashMap<String, String>,
    places: HashMap<String, Place>,
    list: Vec<Place>,
}

#[derive(Default)]
struct PlanReader {
    plan: Plan,
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
        let (Some(geometry), Some(line)) = (self.geometry.take(), &mut self.line) else {
            return Ok(());
        };
        let element: &'static str = match name {
            "Line" => "Line",
            "Curve" => "Curve",
            "Spiral" => "Spiral",
            _ => "IrregularLine",
        };
        let place = |part: &'static str| {
            geometry
                .places
                .get(part)
                .copied()
                .ok_or(LandXmlError::Missing {
                    offset,
                    element,
                    part,
                })
        };
        let (from, to) = (place("Start")?, place("End")?);
        let turn = || match geometry.attributes.get("rot").map(String::as_str) {
            Some("cw") => Ok(Turn::Right),
            Some("ccw") => Ok(Turn::Left),
            _ => Err(LandXmlError::Missing {
                offset,
                element,
                part: "rot",
            }),
        };
        match element {
            "Line" => line.elements.push(Element::straight(from, to)),
            "Curve" => {
                let arc = Element::arc(from, to, place("Center")?, turn()?);
                line.elements.push(arc);
            }
            "Spiral" => {
                let kind = geometry
                    .attributes
                    .get("spiType")
                    .map_or("clothoid", String::as_str);
                // Those that have a published definition.
                let growth = match kind {
                    "clothoid" => Some(Growth::Even),
                    "bloss" => Some(Growth::Bloss),
                    "cosine" => Some(Growth::Cosine),
                    "sinusoid" => Some(Growth::Sine),
                    "cubic" => None,
                    _ => {
                        return Err(LandXmlError::Spiral {
                            offset,
                            found: kind.into(),
                        });
                    }
                };
                let (turn, pi) = (turn()?, place("PI")?);
                let said = |part: &'static str| {
                    let text = geometry.attributes.get(part);
                    text.map(String::as_str).ok_or(LandXmlError::Missing {
                        offset,
                        element,
                        part,
                    })
                };
                let curvature = |part: &'static str| match said(part)? {
                    "INF" => Ok::<f64, LandXmlError>(0.0),
                    radius => match number(radius, offset)? {
                        0.0 => Ok(0.0),
                        radius => Ok(turn.sign() / radius),
                    },
                };
                let towards =
                    |place: Place| libm::atan2(pi.north - place.north, pi.east - place.east);
                let ends = [curvature("radiusStart")?, curvature("radiusEnd")?];
                line.elements.push(match growth {
                    Some(growth) => {
                        let length = number(said("length")?, offset)?;
                        Element::transition(from, to, towards(from), ends, length, growth)
                    }
                    None => {
                        let is_out = ends[0] == 0.0;
                        // Between two arcs it has no straight end.
                        if !is_out && ends[1] != 0.0 {
                            return Err(LandXmlError::Spiral {
                                offset,
                                found: "cubic, between two arcs".into(),
                            });
                        }
                        let tangent = towards(if is_out { from } else { to });
                        Element::cubic_parabola(from, to, tangent, is_out)
                    }
                });
            }
            _ => {
                let mut places = vec![from];
                places.extend(
                    geometry
                        .list
                        .iter()
                        .copied()
                        .filter(|&p| p != from && p != to),
                );
                places.push(to);
                let straights = places
                    .windows(2)
                    .map(|pair| Element::straight(pair[0], pair[1]));
                line.elements.extend(straights);
            }
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
        (self.plan.alignments).push(Alignment::new(line.name, line.elements, chainage, profile));
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

fn number(text: &str, offset: u64) -> Result<f64, LandXmlError> {
    let parsed: Option<f64> = fast_float2::parse(text.trim()).ok();
    parsed
        .filter(|number| number.is_finite())
        .ok_or_else(|| LandXmlError::NotANumber {
            offset,
            found: text.into(),
        })
}
