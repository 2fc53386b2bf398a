//! LandXML surfaces, survey points, alignments and outlines, in any version and under any prefix.
//!
//! Follows the LandXML 1.2 schema: `Units`, `CoordinateSystem`, `Surfaces/Surface/Definition` with
//! `Pnts/P` (northing first) and `Faces/F`; where there is no definition `SourceData` with its points,
//! breaklines, contours and boundaries; `CgPoints/CgPoint`. A face marked `i="1"` is invisible and left
//! out; a face of a grid has four corners and is parted along its first and third.

mod error;
mod ids;
mod plan;
mod source;
mod write;

use std::io::BufRead;

use dapedon_core::{Foot, LengthUnit, Vertex};
use quick_xml::Reader;
use quick_xml::events::{BytesStart, Event};

use crate::codes::Codes;
use crate::{RawSurface, Take, Taken, Utf8};
pub use error::LandXmlError;
use ids::Ids;
pub use plan::{CHORD, Plan, plan};
use source::Source;
pub use write::{Head, write};

/// The name under which the survey points of a file can be asked for.
pub const POINTS: &str = "points";

/// Reads one surface: the one named, or the only one there is; the survey points, by their own name
/// or when there is no surface. `take` says what the codes of survey points are taken as.
///
/// # Errors
///
/// When the file is no LandXML or holds no such surface.
pub fn read(
    input: impl BufRead,
    wanted: Option<&str>,
    take: &Take,
) -> Result<RawSurface, LandXmlError> {
    let (mut found, mut points) = (None, None);
    let mut names = Vec::new();
    // Without a name the first is kept; more of them are an error, so they are not.
    let keep = |name: &str, index: usize| wanted.map_or(index == 0, |wanted| wanted == name);
    each(input, take, keep, |surface| match surface.kind {
        Kind::Points => points = Some(surface),
        Kind::Surface => {
            names.push(surface.raw.name.clone());
            if keep(&surface.raw.name, names.len() - 1) && found.is_none() {
                found = Some(surface);
            }
        }
    })?;
    if found.is_none() && (names.is_empty() || wanted == Some(POINTS)) {
        found = points.filter(|_| wanted.is_none_or(|wanted| wanted == POINTS));
    }
    match (found, wanted) {
        (None, Some(wanted)) if !names.is_empty() => Err(LandXmlError::NoSuchSurface {
            wanted: wanted.into(),
            names,
        }),
        (None, _) => Err(LandXmlError::NoSurface),
        (Some(_), None) if names.len() > 1 => Err(LandXmlError::Several { names }),
        (Some(surface), _) if surface.raw.vertices.is_empty() => Err(LandXmlError::NothingIn {
            name: surface.raw.name,
        }),
        (Some(surface), _) => Ok(surface.raw),
    }
}

/// What a file holds of ground.
#[derive(Debug, Clone)]
pub struct Found {
    /// Which of the two it is.
    pub kind: Kind,
    /// The surface, or what it is made from.
    pub raw: RawSurface,
}

/// Surfaces, or survey points.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Kind {
    /// A surface.
    Surface,
    /// The survey points of the file.
    Points,
}

/// Visits every surface in turn, one held at a time, and last the survey points if there are any. Of
/// surfaces that `keep` (by name and position) turns down only the name is read.
///
/// # Errors
///
/// When the file is no LandXML.
pub fn each(
    input: impl BufRead,
    take: &Take,
    keep: impl Fn(&str, usize) -> bool,
    mut visit: impl FnMut(Found),
) -> Result<(), LandXmlError> {
    let mut reader = Reader::from_reader(Utf8::of(input)?);
    let mut parser = Parser::new(take);
    let mut buffer = Vec::new();
    let mut surfaces = 0;
    loop {
        buffer.clear();
        let offset = reader.buffer_position();
        let event = match reader.read_event_into(&mut buffer) {
            Ok(event) => event,
            // Every syntax error is a tag, comment or section that the end of the file leaves open.
            Err(quick_xml::Error::Syntax(_)) if parser.any => {
                return Err(LandXmlError::CutOff {
                    offset: reader.buffer_position(),
                    element: parser.open.pop().unwrap_or_default(),
                });
            }
            Err(source) => {
                let offset = reader.error_position();
                return Err(LandXmlError::Xml { offset, source });
            }
        };
        match event {
            Event::Start(element) => {
                parser.start(&element, offset)?;
                if element.local_name().as_ref() == "Surface" {
                    parser.keeps = keep(&parser.surface.name, surfaces);
                    surfaces += 1;
                }
            }
            Event::Empty(element) => {
                parser.start(&element, offset)?;
                parser.end(element.local_name().as_ref(), &mut visit)?;
            }
            Event::Text(text) if parser.reads.is_some() => parser.text(text.as_bytes(), offset)?,
            Event::End(element) => parser.end(element.local_name().as_ref(), &mut visit)?,
            Event::Eof => break,
            _ => {}
        }
    }
    match parser.open.pop() {
        Some(element) => Err(LandXmlError::CutOff {
            offset: reader.buffer_position(),
            element,
        }),
        None if !parser.any => Err(LandXmlError::NoElement),
        None => {
            if let Some(points) = parser.survey_points() {
                visit(points);
            }
            Ok(())
        }
    }
}

/// What the text of the element at hand is.
#[derive(Debug, Clone, Copy, PartialEq)]
enum Reads {
    Point,
    Face,
    /// A list of places with two numbers each.
    List2D,
    /// With three.
    List3D,
    SurveyPoint,
}

struct Parser<'t> {
    any: bool,
    /// The open elements down to the surface's points and faces, which are too many to note.
    open: Vec<String>,
    unit: Option<LengthUnit>,
    crs: Option<String>,
    date: Option<String>,
    surface: RawSurface,
    source: Source,
    points: RawSurface,
    codes: Codes<'t>,
    code: String,
    is_grid: bool,
    keeps: bool,
    in_surface: bool,
    in_definition: bool,
    in_source: bool,
    ids: Ids,
    reads: Option<Reads>,
    invisible: bool,
    started: u64,
    numbers: usize,
    values: [f64; 3],
    corners: [u64; 4],
}

impl<'t> Parser<'t> {
    fn new(take: &'t Take) -> Self {
        Parser {
            any: false,
            open: Vec::new(),
            unit: None,
            crs: None,
            date: None,
            surface: RawSurface::default(),
            source: Source::default(),
            points: RawSurface::default(),
            codes: Codes::new(take),
            code: String::new(),
            is_grid: false,
            keeps: false,
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

    fn start(&mut self, element: &BytesStart<'_>, offset: u64) -> Result<(), LandXmlError> {
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
            "Metric" | "Imperial" => self.unit = unit(element, offset)?,
            "CoordinateSystem" => self.crs = coordinate_system(element, offset)?,
            "CgPoint" => {
                self.code = attribute(element, "code", offset)?.unwrap_or_default();
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
                    name: attribute(element, "name", offset)?.unwrap_or_default(),
                    unit: self.unit,
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
        if !self.ids.push(id) {
            return Err(LandXmlError::PointTwice { offset, id });
        }
        Ok(())
    }

    fn text(&mut self, text: &[u8], offset: u64) -> Result<(), LandXmlError> {
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

    fn end(&mut self, name: &str, visit: &mut impl FnMut(Found)) -> Result<(), LandXmlError> {
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
                visit(Found {
                    kind: Kind::Surface,
                    raw,
                });
            }
            "Definition" => self.in_definition = false,
            "SourceData" => self.in_source = false,
            _ => {}
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
                if self.numbers != 3 {
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
                    let index = self.points.vertices.len() as u32;
                    if self.codes.point(self.code.as_bytes(), index) == Some(Taken::Nothing) {
                        let kind = "points whose code is taken as nothing".into();
                        *self.points.left_out.entry(kind).or_insert(0) += 1;
                    } else {
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

    /// The survey points, once the whole file is read.
    fn survey_points(self) -> Option<Found> {
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
        any.then(|| Found {
            kind: Kind::Points,
            raw: RawSurface {
                name: POINTS.into(),
                unit: self.unit,
                crs: self.crs,
                date: self.date,
                lines,
                names,
                notes,
                ..self.points
            },
        })
    }
}

/// The coordinate system by its number, or else by its name.
fn coordinate_system(
    element: &BytesStart<'_>,
    offset: u64,
) -> Result<Option<String>, LandXmlError> {
    let said = |text: Option<String>| text.filter(|text| !text.trim().is_empty());
    if let Some(code) = said(attribute(element, "epsgCode", offset)?) {
        return Ok(Some(format!(
            "EPSG:{}",
            code.trim().trim_start_matches("EPSG:")
        )));
    }
    for name in ["ogcWktCode", "name", "desc"] {
        if let Some(text) = said(attribute(element, name, offset)?) {
            return Ok(Some(text.trim().into()));
        }
    }
    Ok(None)
}

fn unit(element: &BytesStart<'_>, offset: u64) -> Result<Option<LengthUnit>, LandXmlError> {
    let Some(word) = attribute(element, "linearUnit", offset)? else {
        return Ok(None);
    };
    match word.as_str() {
        "meter" | "metre" => Ok(Some(LengthUnit::Metre)),
        "foot" => Ok(Some(LengthUnit::Foot(Foot::International))),
        "USSurveyFoot" => Ok(Some(LengthUnit::Foot(Foot::UsSurvey))),
        _ => Err(LandXmlError::Unit {
            offset,
            found: word,
        }),
    }
}

/// The number of a point, which is nearly always its only attribute.
fn point_id(element: &BytesStart<'_>, offset: u64) -> Result<u64, LandXmlError> {
    let only = element
        .attributes_raw()
        .strip_prefix(" id=\"")
        .and_then(|raw| raw.strip_suffix('"'));
    if let Some(id) = only.and_then(|raw| integer(raw.as_bytes())) {
        return Ok(id);
    }
    let id = find(element, "id", offset)?.ok_or(LandXmlError::NoId { offset })?;
    integer(id.trim().as_bytes()).ok_or_else(|| LandXmlError::NotANumber {
        offset,
        found: id.into_owned(),
    })
}

fn find<'e>(
    element: &'e BytesStart<'_>,
    name: &str,
    offset: u64,
) -> Result<Option<std::borrow::Cow<'e, str>>, LandXmlError> {
    for attribute in element.attributes().with_checks(false) {
        let attribute = attribute.map_err(|source| LandXmlError::Attribute { offset, source })?;
        if attribute.key.local_name().as_ref() == name {
            return Ok(Some(attribute.value));
        }
    }
    Ok(None)
}

/// An attribute's text, its entities resolved where they are well-formed.
fn attribute(
    element: &BytesStart<'_>,
    name: &str,
    offset: u64,
) -> Result<Option<String>, LandXmlError> {
    let value = find(element, name, offset)?;
    Ok(
        value.map(|value| match quick_xml::escape::unescape(&value) {
            Ok(plain) => plain.into_owned(),
            Err(_) => value.into_owned(),
        }),
    )
}

fn integer(word: &[u8]) -> Option<u64> {
    if word.is_empty() || word.len() > 19 {
        return None;
    }
    word.iter().try_fold(0u64, |value, byte| {
        byte.is_ascii_digit()
            .then(|| value * 10 + u64::from(byte - b'0'))
    })
}

fn lossy(bytes: &[u8]) -> String {
    String::from_utf8_lossy(bytes).into_owned()
}

#[cfg(test)]
mod tests;
