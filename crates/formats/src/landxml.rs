//! LandXML surfaces: points and faces of a definition, in any version and under any prefix.
//!
//! Follows the LandXML 1.2 schema: `Units`, `Surfaces/Surface/Definition` with `Pnts/P` (northing
//! first) and `Faces/F`. A face marked `i="1"` is invisible and left out.

mod error;
mod ids;
mod write;

use std::io::BufRead;

use dapedon_core::{Foot, LengthUnit, Vertex};
use quick_xml::Reader;
use quick_xml::events::{BytesStart, Event};

use crate::RawSurface;
pub use error::LandXmlError;
use ids::Ids;
pub use write::write;

/// Reads one surface: the one named, or the only one there is.
///
/// # Errors
///
/// When the file is no LandXML or holds no such surface.
pub fn read(input: impl BufRead, wanted: Option<&str>) -> Result<RawSurface, LandXmlError> {
    let mut found = None;
    let mut names = Vec::new();
    // Without a name the first is kept; more of them are an error, so they are not.
    let keep = |name: &str, index: usize| wanted.map_or(index == 0, |wanted| wanted == name);
    each(input, keep, |surface| {
        names.push(surface.name.clone());
        if keep(&surface.name, names.len() - 1) && found.is_none() {
            found = Some(surface);
        }
    })?;
    match (found, wanted) {
        (None, Some(wanted)) if !names.is_empty() => Err(LandXmlError::NoSuchSurface {
            wanted: wanted.into(),
            names,
        }),
        (None, _) => Err(LandXmlError::NoSurface),
        (Some(_), None) if names.len() > 1 => Err(LandXmlError::Several { names }),
        (Some(surface), _) if surface.facets.is_none() => {
            Err(LandXmlError::NoFaces { name: surface.name })
        }
        (Some(surface), _) => Ok(surface),
    }
}

/// Visits every surface in turn, one held at a time. Of those that `keep` (by name and position)
/// turns down only the name is read.
///
/// # Errors
///
/// When the file is no LandXML.
pub fn each(
    input: impl BufRead,
    keep: impl Fn(&str, usize) -> bool,
    mut visit: impl FnMut(RawSurface),
) -> Result<(), LandXmlError> {
    let mut reader = Reader::from_reader(input);
    let mut parser = Parser::default();
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
        None => Ok(()),
    }
}

/// What the text of the element at hand is.
#[derive(Debug, Clone, Copy, PartialEq)]
enum Reads {
    Point,
    Face,
}

#[derive(Default)]
struct Parser {
    any: bool,
    /// The open elements down to the surface's points and faces, which are too many to note.
    open: Vec<String>,
    unit: Option<LengthUnit>,
    date: Option<String>,
    surface: RawSurface,
    keeps: bool,
    in_surface: bool,
    in_definition: bool,
    ids: Ids,
    reads: Option<Reads>,
    invisible: bool,
    started: u64,
    numbers: usize,
    values: [f64; 3],
    corners: [u64; 3],
}

impl Parser {
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
            "Surface" => {
                self.in_surface = true;
                self.ids = Ids::default();
                self.surface = RawSurface {
                    name: attribute(element, "name", offset)?.unwrap_or_default(),
                    unit: self.unit,
                    date: self.date.clone(),
                    ..RawSurface::default()
                };
            }
            "Definition" => self.in_definition = self.in_surface && self.keeps,
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
            if self.numbers < 3 {
                if self.reads == Some(Reads::Point) {
                    let value: f64 = fast_float2::parse(word).map_err(|_| wrong())?;
                    if !value.is_finite() {
                        return Err(wrong());
                    }
                    self.values[self.numbers] = value;
                } else {
                    self.corners[self.numbers] = integer(word).ok_or_else(wrong)?;
                }
            }
            self.numbers += 1;
            at += length;
        }
        Ok(())
    }

    fn end(&mut self, name: &str, visit: &mut impl FnMut(RawSurface)) -> Result<(), LandXmlError> {
        if let Some(reads) = self.reads.take() {
            return self.end_numbers(reads);
        }
        self.open.pop();
        match name {
            "Surface" => {
                self.in_surface = false;
                visit(std::mem::take(&mut self.surface));
            }
            "Definition" => self.in_definition = false,
            _ => {}
        }
        Ok(())
    }

    fn end_numbers(&mut self, reads: Reads) -> Result<(), LandXmlError> {
        let offset = self.started;
        if self.numbers != 3 {
            return Err(LandXmlError::Count {
                offset,
                element: if reads == Reads::Point { "P" } else { "F" },
                found: self.numbers,
                expected: 3,
            });
        }
        if reads == Reads::Point {
            let [north, east, height] = self.values;
            self.surface.vertices.push(Vertex::new(east, north, height));
            return Ok(());
        }
        let mut facet = [0; 3];
        for (corner, &id) in facet.iter_mut().zip(&self.corners) {
            *corner = self
                .ids
                .index(id)
                .ok_or(LandXmlError::UnknownPoint { offset, id })?;
        }
        if self.invisible {
            self.surface.invisible += 1;
        } else {
            self.surface.facets.get_or_insert_default().push(facet);
        }
        Ok(())
    }
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
