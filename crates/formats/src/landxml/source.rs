//! What a surface is made from, where a file does not define its facets.

use dapedon_core::plan::Place;
use dapedon_core::points::{Line, LineKind};
use dapedon_core::surface::Vertex;
use quick_xml::events::BytesStart;

use super::LandXmlError;
use super::attributes::attribute;
use crate::{FlatOutline, RawSurface};

/// Source data, as it comes by.
#[derive(Default)]
pub(super) struct Source {
    /// What the list at hand is a list of.
    at: At,
    numbers: Vec<f64>,
    vertices: Vec<Vertex>,
    lines: Vec<Line>,
    outlines: Vec<FlatOutline>,
    elsewhere: usize,
    /// Lists that say no heights where heights are needed.
    flat: usize,
}

#[derive(Debug, Clone, Copy, PartialEq, Default)]
enum At {
    #[default]
    Points,
    Line(LineKind),
    Contour(f64),
}

impl Source {
    /// Notes the element that the next lists belong to.
    pub(super) fn open(
        &mut self,
        name: &str,
        element: &BytesStart<'_>,
        offset: u64,
    ) -> Result<(), LandXmlError> {
        self.at = match name {
            "Breakline" => At::Line(LineKind::Breakline),
            "Boundary" => {
                let kind = attribute(element, "bndType", offset)?.unwrap_or_default();
                At::Line(match kind.as_str() {
                    "" | "outer" => LineKind::Edge,
                    "void" => LineKind::Hole,
                    "island" => LineKind::Island,
                    _ => {
                        return Err(LandXmlError::Boundary {
                            offset,
                            found: kind,
                        });
                    }
                })
            }
            "Contour" => {
                let height = attribute(element, "elev", offset)?.unwrap_or_default();
                let parsed = fast_float2::parse(height.trim()).ok();
                At::Contour(parsed.filter(|h: &f64| h.is_finite()).ok_or(
                    LandXmlError::NotANumber {
                        offset,
                        found: height,
                    },
                )?)
            }
            "PointFile" => {
                self.elsewhere += 1;
                At::Points
            }
            _ => At::Points,
        };
        Ok(())
    }

    pub(super) fn number(&mut self, value: f64) {
        self.numbers.push(value);
    }

    /// Takes the numbers of a list in, `each` of them a place.
    pub(super) fn end_list(&mut self, each: usize) {
        let numbers = std::mem::take(&mut self.numbers);
        let place = |p: &[f64]| Place::new(p[1], p[0]);
        let vertices: Vec<Vertex> = match (each, self.at) {
            (3, _) => (numbers.chunks_exact(3))
                .map(|p| Vertex::new(p[1], p[0], p[2]))
                .collect(),
            (_, At::Contour(height)) => (numbers.chunks_exact(2))
                .map(|p| Vertex::new(p[1], p[0], height))
                .collect(),
            (_, At::Line(kind)) if kind.is_outline() => {
                let mut ring: Vec<Place> = numbers.chunks_exact(2).map(place).collect();
                if ring.first() != ring.last() {
                    ring.extend(ring.first().copied());
                }
                return self.outlines.push(FlatOutline { kind, ring });
            }
            _ => {
                self.flat += 1;
                return;
            }
        };
        let first = self.vertices.len() as u32;
        let kind = match self.at {
            At::Points => None,
            At::Line(kind) => Some(kind),
            At::Contour(_) => Some(LineKind::Breakline),
        };
        if let Some(kind) = kind {
            self.lines.push(Line {
                kind,
                points: (first..first + vertices.len() as u32).collect(),
            });
        }
        self.vertices.extend(vertices);
    }

    /// Gives a surface without facets what it is made from.
    pub(super) fn finish(self, surface: &mut RawSurface) {
        if surface.facets.is_some() {
            if !self.vertices.is_empty() {
                (surface.notes).push("source data not used: the file has the triangles".into());
            }
            return;
        }
        if self.elsewhere > 0 {
            let kind = "point files that it refers to";
            surface.left_out.insert(kind.into(), self.elsewhere);
        }
        if self.flat > 0 {
            surface
                .left_out
                .insert("lists without heights".into(), self.flat);
        }
        if !self.vertices.is_empty() {
            let outlines = self
                .lines
                .iter()
                .filter(|line| line.kind.is_outline())
                .count();
            surface.notes.push(format!(
                "triangulated from source data: {} points, {} breaklines, {} outlines",
                self.vertices.len(),
                self.lines.len() - outlines,
                outlines + self.outlines.len()
            ));
        }
        if self.vertices.is_empty() && !surface.vertices.is_empty() {
            surface
                .notes
                .push("triangulated from points: the file has no faces".into());
            return;
        }
        surface.vertices = self.vertices;
        surface.lines = self.lines;
        surface.outlines = self.outlines;
    }
}
