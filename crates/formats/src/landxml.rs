//! LandXML surfaces, survey points, alignments and outlines, in any version and under any prefix.
//!
//! Follows the LandXML 1.2 schema: `Units`, `CoordinateSystem`, `Surfaces/Surface/Definition` with
//! `Pnts/P` (northing first, or `pntRef` to a survey point) and `Faces/F`; where there is no definition `SourceData` with its points,
//! breaklines, contours and boundaries; `CgPoints/CgPoint`. A face marked `i="1"` is invisible and left
//! out; a face of a grid has four corners and is split along its first and third. Surfaces that are given by cross-sections of an
//! alignment are named `alignment/surface`.

mod attributes;
mod cross_sections;
mod error;
mod geometry;
mod ids;
mod named;
mod parser;
mod plan;
mod source;
mod write;
mod write_drawing;

use std::io::BufRead;

use quick_xml::Reader;
use quick_xml::events::Event;

use crate::{CodeUses, RawSurface, Utf8};
pub use error::LandXmlError;
use parser::Parser;
use plan::PlanReader;
pub use plan::{CHORD, Plan, StatedVolume, plan};
pub use write::{Head, write};
pub use write_drawing::write_drawing;

/// The name under which the survey points of a file can be asked for.
pub const POINTS: &str = "points";

/// Reads one surface: the one named, or the only one there is; one that is given by cross-sections, by its name or when there is no other; the
/// survey points, by their own name or when there is no surface. `take` says what the codes of survey points are taken as.
///
/// # Errors
///
/// When the file is no LandXML or holds no such surface.
pub fn read(
    input: impl BufRead,
    wanted: Option<&str>,
    take: &CodeUses,
) -> Result<RawSurface, LandXmlError> {
    let (mut found, mut points, mut sectioned) = (None, None, Vec::new());
    let mut names = Vec::new();
    // Without a name the first is kept; more of them are an error, so they are not.
    let keep = |name: &str, index: usize| wanted.map_or(index == 0, |wanted| wanted == name);
    each(input, take, keep, |surface| match surface.kind {
        Kind::Points => points = Some(surface),
        Kind::Sections => sectioned.push(surface),
        Kind::Surface => {
            names.push(surface.raw.name.clone());
            if keep(&surface.raw.name, names.len() - 1) && found.is_none() {
                found = Some(surface);
            }
        }
    })?;
    // Cross-sections of a surface that the file holds itself are asked for by their name.
    if names.is_empty() || wanted.is_some() {
        names.extend(sectioned.iter().map(|surface| surface.raw.name.clone()));
        let mut sectioned = sectioned.into_iter();
        found = found
            .or(sectioned.find(|surface| wanted.is_none_or(|wanted| wanted == surface.raw.name)));
    }
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
pub struct Contents {
    /// Which of the two it is.
    pub kind: Kind,
    /// The surface, or what it is made from.
    pub raw: RawSurface,
}

/// Surfaces, what cross-sections say of one, or survey points.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Kind {
    /// A surface.
    Surface,
    /// A surface that is given by cross-sections.
    Sections,
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
    take: &CodeUses,
    keep: impl Fn(&str, usize) -> bool,
    mut visit: impl FnMut(Contents),
) -> Result<(), LandXmlError> {
    let mut reader = Reader::from_reader(Utf8::of(input)?);
    let mut parser = Parser::new(take);
    let mut buffer = Vec::new();
    let mut surfaces = 0;
    // Alignments are read for their cross-sections alone: what is wrong with one that has none does not matter here.
    let mut alignments: Option<PlanReader> = None;
    let mut fault = None;
    let mut has_sections = false;
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
        if let Event::Start(element) = &event {
            match element.local_name().as_ref() {
                "Alignments" => {
                    alignments.get_or_insert_with(|| parser.alignments());
                }
                "CrossSects" => has_sections = true,
                _ => {}
            }
        }
        if parser.in_alignments()
            && let (Some(reader), None) = (&mut alignments, &fault)
        {
            fault = reader.take(&event, offset).err();
        }
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
            parser.release(&mut visit)?;
            if has_sections {
                if let Some(fault) = fault {
                    return Err(fault);
                }
                let reader = alignments.unwrap_or_default();
                for raw in reader.plan.sectioned {
                    visit(Contents {
                        kind: Kind::Sections,
                        raw: parser.in_its_system(raw),
                    });
                }
            }
            if let Some(points) = parser.survey_points() {
                visit(points);
            }
            Ok(())
        }
    }
}

#[cfg(test)]
mod tests;
