//! One element after the other: what of LandXML is ground.

use dapedon_core::surface::Vertex;
use dapedon_core::units::LengthUnit;
use quick_xml::events::BytesStart;

use super::attributes::{
    AccuracyOfPoint, attribute, both, coordinate_system, find, height_system, height_unit, integer,
    lossy, point_accuracy, point_id, unit,
};
use super::ids::Ids;
use super::named::{NamedPoints, Reference};
use super::plan::PlanReader;
use super::source::Source;
use super::{Contents, Kind, LandXmlError, POINTS};
use crate::HeightUnit;
use crate::codes::Codes;
use crate::{CodeUse, CodeUses, RawSurface};

/// Open elements over the units of the file.
const FILE_UNITS: usize = 2;
/// The element that alignments stand in.
const ALIGNMENTS: &str = "Alignments";
/// The attribute that names a survey point.
const REFERENCE: &str = "pntRef";

/// What the text of the element at hand is.
#[derive(Debug, Clone, Copy, PartialEq)]
pub(super) enum Reads {
    Point,
    Face,
    /// A list of places with two numbers each.
    List2D,
    /// With three.
    List3D,
    SurveyPoint,
}

pub(super) struct Parser<'t> {
    pub(super) any: bool,
    /// The open elements down to the surface's points and faces, which are too many to note.
    pub(super) open: Vec<String>,
    unit: Option<LengthUnit>,
    height_unit: Option<HeightUnit>,
    /// The units outside an element that has some of its own: to how many open elements they come back.
    outer: Option<(usize, Option<LengthUnit>, Option<HeightUnit>)>,
    crs: Option<String>,
    height_system: Option<String>,
    date: Option<String>,
    pub(super) surface: RawSurface,
    source: Source,
    points: RawSurface,
    codes: Codes<'t>,
    code: String,
    /// The name of the survey point at hand.
    name: String,
    named: NamedPoints,
    /// The survey point that the point at hand is.
    reference: Option<String>,
    references: Vec<Reference>,
    /// Surfaces that wait for survey points further on, and those after them.
    held: Vec<(Contents, Vec<Reference>)>,
    is_grid: bool,
    pub(super) keeps: bool,
    /// How accurate the survey point at hand is.
    accuracies: AccuracyOfPoint,
    in_surface: bool,
    in_definition: bool,
    in_source: bool,
    ids: Ids,
    pub(super) reads: Option<Reads>,
    invisible: bool,
    started: u64,
    numbers: usize,
    values: [f64; 3],
    corners: [u64; 4],
}

impl<'t> Parser<'t> {
    pub(super) fn new(take: &'t CodeUses) -> Self {
        Parser {
            any: false,
            open: Vec::new(),
            unit: None,
            height_unit: None,
            outer: None,
            crs: None,
            height_system: None,
            date: None,
            surface: RawSurface::default(),
            source: Source::default(),
            points: RawSurface::default(),
            codes: Codes::new(take),
            code: String::new(),
            name: String::new(),
            named: NamedPoints::default(),
            reference: None,
            references: Vec::new(),
            held: Vec::new(),
            is_grid: false,
            keeps: false,
            accuracies: AccuracyOfPoint::default(),
            in_surface: false,
            in_definition: false,
            in_source: false,
            ids: Ids::default(),
            reads: None,
            invisible: false,
            started: 0,
            numbers: 0,
            values: [0.0; 3],
            corners: [0; 4],
        }
    }

    pub(super) fn start(
        &mut self,
        element: &BytesStart<'_>,
        offset: u64,
    ) -> Result<(), LandXmlError> {
        let name = element.local_name();
        let name = name.as_ref();
        self.started = offset;
        if self.in_definition && (name == "P" || name == "F") {
            return self.start_numbers(element, name, offset);
        }
        if !self.any {
            self.any = true;
            if name != "LandXML" {
                return Err(LandXmlError::NotLandXml {
                    offset,
                    found: name.into(),
                });
            }
            self.date = attribute(element, "date", offset)?;
        }
        match name {
            "Metric" | "Imperial" => {
                // Units below those of the file hold within the element they stand in.
                if self.open.len() > FILE_UNITS {
                    let around = self.open.len() - 1;
                    self.outer
                        .get_or_insert((around, self.unit, self.height_unit));
                }
                self.unit = unit(element, offset)?;
                self.height_unit = height_unit(element, offset)?;
                if self.in_surface {
                    self.surface.unit = self.unit;
                    self.surface.height_unit = self.height_unit;
                }
            }
            "CoordinateSystem" => {
                self.crs = coordinate_system(element, offset)?;
                self.height_system = height_system(element, offset)?;
            }
            "CgPoint" => {
                [self.code, self.name] = both(element, ["code", "name"], offset)?;
                self.accuracies = point_accuracy(element, offset)?;
                self.reads = Some(Reads::SurveyPoint);
                self.numbers = 0;
                return Ok(());
            }
            "Surface" => {
                self.in_surface = true;
                self.ids = Ids::default();
                self.source = Source::default();
                self.surface = RawSurface {
                    crs: self.crs.clone(),
                    height_system: self.height_system.clone(),
                    name: attribute(element, "name", offset)?.unwrap_or_default(),
                    unit: self.unit,
                    height_unit: self.height_unit,
                    date: self.date.clone(),
                    ..RawSurface::default()
                };
            }
            "Definition" => {
                self.in_definition = self.in_surface && self.keeps;
                let kind = attribute(element, "surfType", offset)?.unwrap_or_default();
                self.is_grid = kind.eq_ignore_ascii_case("grid");
            }
            "SourceData" => self.in_source = self.in_surface && self.keeps,
            "PntList2D" | "PntList3D" if self.in_source => {
                self.numbers = 0;
                self.reads = Some(match name {
                    "PntList2D" => Reads::List2D,
                    _ => Reads::List3D,
                });
                return Ok(());
            }
            _ if self.in_source => self.source.open(name, element, offset)?,
            "Faces" if self.in_definition => {
                self.surface.facets.get_or_insert_default();
            }
            _ => {}
        }
        self.open.push(name.into());
        Ok(())
    }

    fn start_numbers(
        &mut self,
        element: &BytesStart<'_>,
        name: &str,
        offset: u64,
    ) -> Result<(), LandXmlError> {
        self.numbers = 0;
        if name == "F" {
            self.reads = Some(Reads::Face);
            self.invisible = !element.attributes_raw().is_empty()
                && find(element, "i", offset)?.is_some_and(|mark| mark.trim() == "1");
            return Ok(());
        }
        self.reads = Some(Reads::Point);
        let id = point_id(element, offset)?;
        point_accuracy(element, offset)?.add_to(&mut self.surface.accuracies);
        // Nearly all points have no more than a number.
        self.reference = match element.attributes_raw().contains(REFERENCE) {
            true => attribute(element, REFERENCE, offset)?,
            false => None,
        };
        if !self.ids.push(id) {
            return Err(LandXmlError::PointTwice { offset, id });
        }
        Ok(())
    }

    pub(super) fn text(&mut self, text: &[u8], offset: u64) -> Result<(), LandXmlError> {
        let blank = |byte: &u8| byte.is_ascii_whitespace();
        let mut at = 0;
        while let Some(skip) = text[at..].iter().position(|byte| !blank(byte)) {
            at += skip;
            let length = text[at..].iter().position(blank).unwrap_or(text.len() - at);
            let word = &text[at..at + length];
            let wrong = || LandXmlError::NotANumber {
                offset: offset + at as u64,
                found: lossy(word),
            };
            let number = || {
                let value: Option<f64> = fast_float2::parse(word).ok();
                value.filter(|value| value.is_finite()).ok_or_else(wrong)
            };
            match self.reads {
                Some(Reads::Face) if self.numbers < 4 => {
                    self.corners[self.numbers] = integer(word).ok_or_else(wrong)?;
                }
                Some(Reads::Point | Reads::SurveyPoint) if self.numbers < 3 => {
                    self.values[self.numbers] = number()?;
                }
                Some(Reads::List2D | Reads::List3D) => self.source.number(number()?),
                _ => {}
            }
            self.numbers += 1;
            at += length;
        }
        Ok(())
    }

    pub(super) fn end(
        &mut self,
        name: &str,
        visit: &mut impl FnMut(Contents),
    ) -> Result<(), LandXmlError> {
        // Points and faces hold numbers only; a survey point may hold other elements.
        if let Some(reads) = self.reads
            && (matches!(reads, Reads::Point | Reads::Face)
                || matches!(name, "PntList2D" | "PntList3D" | "CgPoint"))
        {
            self.reads = None;
            return self.end_numbers(reads);
        }
        self.open.pop();
        match name {
            "Surface" => {
                self.in_surface = false;
                let mut raw = std::mem::take(&mut self.surface);
                std::mem::take(&mut self.source).finish(&mut raw);
                let references = std::mem::take(&mut self.references);
                let contents = Contents {
                    kind: Kind::Surface,
                    raw,
                };
                match references.is_empty() && self.held.is_empty() {
                    true => visit(contents),
                    false => self.held.push((contents, references)),
                }
            }
            "Definition" => self.in_definition = false,
            "SourceData" => self.in_source = false,
            _ => {}
        }
        if let Some((_, unit, height_unit)) =
            self.outer.take_if(|(around, ..)| self.open.len() < *around)
        {
            (self.unit, self.height_unit) = (unit, height_unit);
        }
        Ok(())
    }

    fn end_numbers(&mut self, reads: Reads) -> Result<(), LandXmlError> {
        let offset = self.started;
        let count = |element: &'static str, expected: usize| LandXmlError::Count {
            offset,
            element,
            found: self.numbers,
            expected,
        };
        match reads {
            Reads::Point => {
                if let (Some(point), 0) = (self.reference.take(), self.numbers) {
                    self.references.push(Reference {
                        vertex: self.surface.vertices.len(),
                        point,
                        offset,
                    });
                    self.values = [0.0; 3];
                } else if self.numbers != 3 {
                    return Err(count("P", 3));
                }
                let [north, east, height] = self.values;
                self.surface.vertices.push(Vertex::new(east, north, height));
                Ok(())
            }
            Reads::Face => self.end_face(),
            Reads::List2D | Reads::List3D => {
                let (element, each) = match reads {
                    Reads::List2D => ("PntList2D", 2),
                    _ => ("PntList3D", 3),
                };
                if !self.numbers.is_multiple_of(each) {
                    return Err(count(element, self.numbers.next_multiple_of(each)));
                }
                self.source.end_list(each);
                Ok(())
            }
            Reads::SurveyPoint => match self.numbers {
                // A reference to a point that is given elsewhere.
                0 => Ok(()),
                2 => {
                    let kind = "survey points without a height".into();
                    *self.points.left_out.entry(kind).or_insert(0) += 1;
                    Ok(())
                }
                3 => {
                    let [north, east, height] = self.values;
                    self.named.add(&self.name, Vertex::new(east, north, height));
                    let index = self.points.vertices.len() as u32;
                    if self.codes.point(self.code.as_bytes(), index) == Some(CodeUse::Skip) {
                        let kind = "points with a code to skip".into();
                        *self.points.left_out.entry(kind).or_insert(0) += 1;
                    } else {
                        self.accuracies.add_to(&mut self.points.accuracies);
                        self.points.vertices.push(Vertex::new(east, north, height));
                    }
                    Ok(())
                }
                _ => Err(count("CgPoint", 3)),
            },
        }
    }

    fn end_face(&mut self) -> Result<(), LandXmlError> {
        let offset = self.started;
        let expected = if self.is_grid { 4 } else { 3 };
        if self.numbers != expected && self.numbers != 3 {
            return Err(LandXmlError::Count {
                offset,
                element: "F",
                found: self.numbers,
                expected,
            });
        }
        let mut corners = [0; 4];
        for (corner, &id) in corners.iter_mut().zip(&self.corners[..self.numbers]) {
            *corner = self
                .ids
                .index(id)
                .ok_or(LandXmlError::UnknownPoint { offset, id })?;
        }
        let [a, b, c, d] = corners;
        if self.invisible {
            self.surface.invisible += self.numbers - 2;
            return Ok(());
        }
        let facets = self.surface.facets.get_or_insert_default();
        facets.push([a, b, c]);
        if self.numbers == 4 {
            facets.push([a, c, d]);
        }
        Ok(())
    }

    /// Hands over the surfaces that wait for survey points, once the whole file is read.
    pub(super) fn release(&mut self, visit: &mut impl FnMut(Contents)) -> Result<(), LandXmlError> {
        let held = std::mem::take(&mut self.held);
        if held.is_empty() {
            return Ok(());
        }
        let places = self.named.by_name();
        for (mut contents, references) in held {
            for reference in references {
                let place = places.get(reference.point.as_str());
                contents.raw.vertices[reference.vertex] =
                    *place.ok_or(LandXmlError::NoSuchPoint {
                        offset: reference.offset,
                        name: reference.point,
                    })?;
            }
            visit(contents);
        }
        Ok(())
    }

    /// Whether the element at hand is within alignments.
    pub(super) fn in_alignments(&self) -> bool {
        let above = self.open.get(FILE_UNITS - 1);
        above.is_some_and(|name| name == ALIGNMENTS)
    }

    /// A reader of alignments that knows the survey points so far.
    pub(super) fn alignments(&self) -> PlanReader {
        let points = self.named.by_name();
        PlanReader::among(points.into_iter().map(|(name, at)| (name, at.place())))
    }

    /// A surface in the units and systems of the file.
    pub(super) fn in_its_system(&self, surface: RawSurface) -> RawSurface {
        RawSurface {
            unit: self.unit,
            height_unit: self.height_unit,
            crs: self.crs.clone(),
            height_system: self.height_system.clone(),
            date: self.date.clone(),
            ..surface
        }
    }

    /// The survey points, once the whole file is read.
    pub(super) fn survey_points(self) -> Option<Contents> {
        let (lines, codes) = self.codes.finish();
        let any = !self.points.vertices.is_empty() || !self.points.left_out.is_empty();
        let mut notes = Vec::new();
        let names = codes.iter().map(|(code, _)| code.clone()).collect();
        if !codes.is_empty() {
            let codes: Vec<String> = (codes.iter().take(20))
                .map(|(code, count)| format!("{code} ({count})"))
                .collect();
            notes.push(format!("codes: {}", codes.join(", ")));
        }
        any.then(|| Contents {
            kind: Kind::Points,
            raw: RawSurface {
                name: POINTS.into(),
                unit: self.unit,
                height_unit: self.height_unit,
                crs: self.crs,
                height_system: self.height_system,
                date: self.date,
                accuracies: self.points.accuracies,
                lines,
                names,
                notes,
                ..self.points
            },
        })
    }
}
