//! Surfaces that are given by cross-sections along an alignment.
//!
//! Follows `CrossSects/CrossSect` with `CrossSectSurf` (lists of offset and height) and `DesignCrossSectSurf` (points of offset and height), with offsets to
//! the right where positive. Stations are internal ones, as those of a profile are.

use std::collections::BTreeMap;

use dapedon_core::alignment::Alignment;
use dapedon_core::points::{Line, LineKind};
use dapedon_core::surface::Vertex;

use crate::RawSurface;

/// A station may lie so far beyond an end of its alignment: what files round off, in their unit.
const HAIR: f64 = 0.001;

/// A surface that is given by cross-sections.
#[derive(Debug, Default)]
struct Sectioned {
    /// The sections in their order.
    sections: Vec<Section>,
    left_out: BTreeMap<&'static str, usize>,
}

/// What one section says of a surface: lists of offset and height, with gaps between them.
#[derive(Debug, Default)]
struct Section {
    /// The distance along the alignment.
    distance: f64,
    lists: Vec<Vec<[f64; 2]>>,
}

/// The cross-sections of an alignment, as they come by.
#[derive(Debug, Default)]
pub(super) struct CrossSections {
    surfaces: BTreeMap<String, Sectioned>,
    distance: f64,
    /// Why the section at hand, or the surface in it, is not read.
    is_skewed: bool,
    is_closed: bool,
    is_by_slope: bool,
    /// The surface at hand.
    name: Option<String>,
    /// The points of a design surface at hand.
    points: Vec<[f64; 2]>,
}

impl CrossSections {
    /// A section starts, so far from the start of its alignment.
    pub(super) fn begin(&mut self, distance: f64, is_skewed: bool) {
        (self.distance, self.is_skewed) = (distance, is_skewed);
    }

    /// A surface starts in the section at hand.
    pub(super) fn surface(&mut self, name: String, is_closed: bool) {
        (self.name, self.is_closed) = (Some(name), is_closed);
        self.is_by_slope = false;
    }

    /// Whether lists and points are those of a section.
    pub(super) fn are_open(&self) -> bool {
        self.name.is_some()
    }

    /// The points of the surface at hand are given by slope and distance.
    pub(super) fn by_slope(&mut self) {
        self.is_by_slope = true;
    }

    /// A list of offsets and heights.
    pub(super) fn list(&mut self, list: Vec<[f64; 2]>) {
        let Some(name) = self.name.as_ref().filter(|_| !list.is_empty()) else {
            return;
        };
        let surface = self.surfaces.entry(name.clone()).or_default();
        let unusable = [
            (self.is_skewed, "sections askew to their alignment"),
            (self.is_closed, "closed areas in cross-sections"),
            (self.is_by_slope, "sections given by slope and distance"),
        ];
        if let Some((_, why)) = unusable.into_iter().find(|(is, _)| *is) {
            *surface.left_out.entry(why).or_default() += 1;
            return;
        }
        match surface.sections.last_mut() {
            Some(section) if section.distance == self.distance => section.lists.push(list),
            _ => surface.sections.push(Section {
                distance: self.distance,
                lists: vec![list],
            }),
        }
    }

    /// A point of a design surface.
    pub(super) fn point(&mut self, point: [f64; 2]) {
        self.points.push(point);
    }

    /// The surface at hand ends.
    pub(super) fn end_surface(&mut self) {
        let points = std::mem::take(&mut self.points);
        self.list(points);
        self.name = None;
    }

    /// The surfaces over their alignment, each named behind it, with its sections as breaklines and the line through their ends as its edge.
    pub(super) fn over(self, alignment: &Alignment) -> Vec<RawSurface> {
        let surfaces = self.surfaces.into_iter();
        let named = surfaces.map(|(name, surface)| RawSurface {
            name: format!("{}/{name}", alignment.name()),
            ..surface.over(alignment)
        });
        named.collect()
    }
}

impl Sectioned {
    fn over(mut self, alignment: &Alignment) -> RawSurface {
        let mut made = RawSurface::default();
        let ends = [0.0, alignment.length()];
        self.sections
            .sort_by(|a, b| a.distance.total_cmp(&b.distance));
        let mut off_the_line = 0;
        // The points of each section, from the left to the right.
        let mut sections: Vec<Vec<u32>> = Vec::new();
        for section in self.sections {
            let near = section.distance.clamp(ends[0], ends[1]);
            let course = alignment.at(near);
            let course = course.filter(|_| (near - section.distance).abs() <= HAIR);
            let Some(course) = course else {
                off_the_line += 1;
                continue;
            };
            let mut across: Vec<(f64, u32)> = Vec::new();
            for list in section.lists {
                let first = made.vertices.len() as u32;
                for (index, &[offset, height]) in (first..).zip(&list) {
                    let place = course.offset(offset);
                    made.vertices
                        .push(Vertex::new(place.east, place.north, height));
                    across.push((offset, index));
                }
                made.lines.push(Line {
                    kind: LineKind::Breakline,
                    points: (first..first + list.len() as u32).collect(),
                });
            }
            across.sort_by(|a, b| a.0.total_cmp(&b.0));
            sections.push(across.into_iter().map(|(_, index)| index).collect());
        }
        // The edge runs along the right ends, over the last section, back along the left ends, and over the first.
        if let [first, between @ .., last] = sections.as_slice() {
            let right = between.iter().filter_map(|section| section.last());
            let left = between.iter().rev().filter_map(|section| section.first());
            let ring = first.iter().chain(right).chain(last.iter().rev());
            let mut points: Vec<u32> = ring.chain(left).chain(first.first()).copied().collect();
            points.dedup();
            let kind = LineKind::Edge;
            made.lines.push(Line { kind, points });
        }
        let count = sections.len();
        made.notes.push(format!(
            "triangulated between {count} cross-sections of \"{}\"",
            alignment.name()
        ));
        for (why, count) in self.left_out {
            made.left_out.insert(why.into(), count);
        }
        if off_the_line > 0 {
            let why = "sections at stations off the alignment";
            made.left_out.insert(why.into(), off_the_line);
        }
        made
    }
}

#[cfg(test)]
mod tests {
    use super::super::{Kind, LandXmlError, each, read};
    use super::*;
    use crate::CodeUses;

    /// A line from south to north at 100 east, from station 1000, with sections of a ground and a bed, and a surface beside them.
    fn file(sections: &str, surface: &str) -> String {
        format!(
            r#"<LandXML date="2031-05-06"><Units><Metric linearUnit="meter"/></Units><CgPoints><CgPoint name="a">0 100</CgPoint></CgPoints>
            <Surfaces>{surface}</Surfaces>
            <Alignments><Alignment name="dyke" staStart="1000" length="50"><CoordGeom><Line><Start>0 100</Start><End>50 100</End></Line></CoordGeom>
            <CrossSects>{sections}</CrossSects></Alignment></Alignments></LandXML>"#
        )
    }

    const TWO: &str = r#"<CrossSect sta="1010"><CrossSectSurf name="ground"><PntList2D>-5 3 0 4 6 5</PntList2D></CrossSectSurf>
        <DesignCrossSectSurf name="bed" side="left"><CrossSectPnt>-2 1</CrossSectPnt><CrossSectPnt>0 1.5</CrossSectPnt></DesignCrossSectSurf>
        <DesignCrossSectSurf name="bed" side="right"><CrossSectPnt>0 1.5</CrossSectPnt><CrossSectPnt>2 1</CrossSectPnt></DesignCrossSectSurf></CrossSect>
        <CrossSect sta="1030"><CrossSectSurf name="ground"><PntList2D>-5 3 -1 3</PntList2D><PntList2D>1 3 5 3</PntList2D></CrossSectSurf></CrossSect>"#;

    fn surface(text: &str, name: Option<&str>) -> Result<RawSurface, LandXmlError> {
        read(text.as_bytes(), name, &CodeUses::default())
    }

    #[test]
    fn sections_are_surfaces() {
        let text = file(TWO, "");
        let ground = surface(&text, Some("dyke/ground")).unwrap();
        assert_eq!(ground.vertices[0], Vertex::new(95.0, 10.0, 3.0));
        assert_eq!(ground.vertices[2], Vertex::new(106.0, 10.0, 5.0));
        assert_eq!(ground.vertices.len(), 7);
        let kinds: Vec<LineKind> = ground.lines.iter().map(|line| line.kind).collect();
        let along = LineKind::Breakline;
        assert_eq!(kinds, [along, along, along, LineKind::Edge]);
        // Over the first section, right ends on, over the last section and back.
        assert_eq!(ground.lines[3].points, [0, 1, 2, 6, 5, 4, 3, 0]);
        assert_eq!(ground.date.as_deref(), Some("2031-05-06"));
        let bed = surface(&text, Some("dyke/bed")).unwrap();
        assert_eq!(bed.vertices.len(), 4);
        assert_eq!(bed.vertices[0], Vertex::new(98.0, 10.0, 1.0));
        assert!(
            matches!(surface(&text, None), Err(LandXmlError::Several { names }) if names == ["dyke/bed", "dyke/ground"])
        );
    }

    #[test]
    fn a_surface_of_the_file_comes_first() {
        let own = r#"<Surface name="tin"><Definition surfType="TIN"><Pnts><P id="1">0 0 1</P><P id="2">0 9 1</P><P id="3">9 0 1</P></Pnts><Faces><F>1 2 3</F></Faces></Definition></Surface>"#;
        let text = file(TWO, own);
        assert_eq!(surface(&text, None).unwrap().name, "tin");
        assert_eq!(
            surface(&text, Some("dyke/ground")).unwrap().vertices.len(),
            7
        );
        let wrong = surface(&text, Some("dyke/top"));
        assert!(
            matches!(wrong, Err(LandXmlError::NoSuchSurface { names, .. }) if names.len() == 3)
        );
        let mut kinds = Vec::new();
        each(
            text.as_bytes(),
            &CodeUses::default(),
            |_, _| true,
            |found| kinds.push(found.kind),
        )
        .unwrap();
        assert_eq!(
            kinds,
            [Kind::Surface, Kind::Sections, Kind::Sections, Kind::Points]
        );
    }

    #[test]
    fn what_cannot_be_placed_is_counted() {
        let more = r#"<CrossSect sta="1010"><CrossSectSurf name="g"><PntList2D>0 1 4 1</PntList2D></CrossSectSurf></CrossSect>
            <CrossSect sta="1020" angleSkew="30"><CrossSectSurf name="g"><PntList2D>0 1 4 1</PntList2D></CrossSectSurf></CrossSect>
            <CrossSect sta="1050.0005"><CrossSectSurf name="g"><PntList2D>0 1 4 1</PntList2D></CrossSectSurf></CrossSect>
            <CrossSect sta="1060"><CrossSectSurf name="g"><PntList2D>0 1 4 1</PntList2D></CrossSectSurf></CrossSect>
            <CrossSect sta="1030"><DesignCrossSectSurf name="g" closedArea="true"><CrossSectPnt>0 1</CrossSectPnt></DesignCrossSectSurf></CrossSect>
            <CrossSect sta="1040"><DesignCrossSectSurf name="g"><CrossSectPnt dataFormat="Slope Distance">2 1</CrossSectPnt></DesignCrossSectSurf></CrossSect>"#;
        let found = surface(&file(more, ""), None).unwrap();
        assert_eq!(found.vertices.len(), 4);
        let counts: Vec<usize> = found.left_out.values().copied().collect();
        assert_eq!(counts, [1, 1, 1, 1], "{:?}", found.left_out);
        assert_eq!(
            found.notes,
            ["triangulated between 2 cross-sections of \"dyke\""]
        );
        let odd = TWO.replace("-5 3 0 4 6 5", "-5 3 0 4 6");
        assert!(matches!(
            surface(&file(&odd, ""), None),
            Err(LandXmlError::Count { found: 5, .. })
        ));
        let nowhere = TWO.replace("sta=\"1010\"", "");
        assert!(matches!(
            surface(&file(&nowhere, ""), None),
            Err(LandXmlError::Missing { part: "sta", .. })
        ));
    }

    #[test]
    fn alignments_without_sections_do_not_stop_a_surface() {
        let own = r#"<Surface name="tin"><Definition surfType="TIN"><Pnts><P id="1">0 0 1</P><P id="2">0 9 1</P><P id="3">9 0 1</P></Pnts><Faces><F>1 2 3</F></Faces></Definition></Surface>"#;
        let text = file("", own).replace("<Start>0 100</Start>", "<Start>here</Start>");
        let without = text.replace("<CrossSects></CrossSects>", "");
        assert_eq!(surface(&without, None).unwrap().name, "tin");
        assert!(matches!(
            surface(&text, None),
            Err(LandXmlError::NotANumber { .. })
        ));
    }
}
