//! Entities: from their pairs to points, lines and meshes.

use std::io::BufRead;

use dapedon_core::Vertex;

use super::arcs;
use super::pairs::Pairs;
use super::place::Placing;
use super::{DxfError, Spot};
use crate::codes::plain;

/// An entity that is understood, on its layer.
#[derive(Debug, Clone)]
pub(super) struct Entity {
    pub(super) layer: String,
    /// What it is called in the trade.
    pub(super) kind: &'static str,
    pub(super) shape: Shape,
    pub(super) at: Spot,
}

/// What an entity is.
#[derive(Debug, Clone)]
pub(super) enum Shape {
    Point(Vertex),
    Line {
        vertices: Vec<Vertex>,
        closed: bool,
        /// True when the format gives all of it one height.
        level: bool,
    },
    Mesh {
        vertices: Vec<Vertex>,
        facets: Vec<[u32; 3]>,
    },
    Insert {
        block: Vec<u8>,
        placing: Box<Insertion>,
        columns: u32,
        rows: u32,
    },
}

/// How a block is inserted: once its base is known, a placing.
#[derive(Debug, Clone, Copy)]
pub(super) struct Insertion {
    scale: [f64; 3],
    degrees: f64,
    to: [f64; 3],
    step: [f64; 2],
    plane: Placing,
}

impl Insertion {
    /// The placing of the block whose base is `base`, in one of the columns and rows.
    pub(super) fn placing(&self, base: [f64; 3], column: u32, row: u32) -> Placing {
        let aside = [
            f64::from(column) * self.step[0],
            f64::from(row) * self.step[1],
            0.0,
        ];
        let turn = Placing::inserted([0.0; 3], [1.0; 3], self.degrees, self.to);
        let at = turn.place(Vertex::new(aside[0], aside[1], 0.0));
        let to = [at.east, at.north, self.to[2]];
        self.plane
            .after(&Placing::inserted(base, self.scale, self.degrees, to))
    }
}

/// What an entity came to.
pub(super) enum Found {
    Entity(Entity),
    /// A kind that is not understood, or drawn on paper.
    LeftOut(String, Spot),
    /// The end of the section or block.
    End,
}

/// The numbers and words of one entity, in the order of the file.
#[derive(Default)]
pub(super) struct Fields {
    kind: String,
    layer: String,
    name: Vec<u8>,
    numbers: Vec<(i32, f64)>,
}

impl Fields {
    /// Reads the pairs of an entity whose name is at hand.
    fn read<R: BufRead>(&mut self, pairs: &mut Pairs<R>) -> Result<(), DxfError> {
        self.kind.clear();
        self.kind
            .push_str(&String::from_utf8_lossy(pairs.text().trim_ascii()));
        self.layer.clear();
        self.name.clear();
        self.numbers.clear();
        loop {
            pairs.next()?;
            match pairs.code {
                0 => {
                    pairs.put_back();
                    return Ok(());
                }
                2 => self.name = pairs.text().trim_ascii().to_ascii_uppercase(),
                8 => self.layer.push_str(&plain(pairs.text())),
                10..=59 | 66..=79 | 90 | 210 | 220 | 230 => {
                    let number = pairs.number(&self.kind)?;
                    self.numbers.push((pairs.code, number));
                }
                _ => {}
            }
        }
    }

    fn get(&self, code: i32) -> Option<f64> {
        let found = self.numbers.iter().find(|&&(found, _)| found == code);
        found.map(|&(_, number)| number)
    }

    fn or(&self, code: i32, otherwise: f64) -> f64 {
        self.get(code).unwrap_or(otherwise)
    }

    /// A whole number that is a set of marks.
    fn marks(&self, code: i32) -> u32 {
        self.or(code, 0.0) as u32
    }

    /// The place whose east has group code `code`.
    fn vertex(&self, code: i32) -> Vertex {
        Vertex::new(
            self.or(code, 0.0),
            self.or(code + 10, 0.0),
            self.or(code + 20, 0.0),
        )
    }

    fn plane(&self) -> Placing {
        Placing::drawn_along([self.or(210, 0.0), self.or(220, 0.0), self.or(230, 1.0)])
    }
}

/// Reads the next entity of a section or block.
pub(super) fn next<R: BufRead>(
    pairs: &mut Pairs<R>,
    fields: &mut Fields,
) -> Result<Found, DxfError> {
    loop {
        if let Some(found) = one(pairs, fields)? {
            return Ok(found);
        }
    }
}

/// One entity; `None` for what belongs to an entity that was left out.
fn one<R: BufRead>(pairs: &mut Pairs<R>, fields: &mut Fields) -> Result<Option<Found>, DxfError> {
    pairs.next()?;
    if pairs.code != 0 {
        // What precedes the first entity of a block belongs to the block.
        return Err(DxfError::NotACode {
            at: pairs.at(),
            found: pairs.code.to_string(),
        });
    }
    if pairs.is(0, "ENDSEC") || pairs.is(0, "ENDBLK") {
        return Ok(Some(Found::End));
    }
    let at = pairs.at();
    fields.read(pairs)?;
    let layer = fields.layer.clone();
    let on_paper = fields.marks(67) == 1;
    let name = fields.kind.clone();
    let (kind, shape) = match name.as_str() {
        "POINT" => ("point", Shape::Point(fields.vertex(10))),
        "3DFACE" => ("face", face(fields)),
        "LINE" => ("line", line(vec![fields.vertex(10), fields.vertex(11)])),
        "LWPOLYLINE" => ("polyline", light_polyline(fields, at)?),
        "POLYLINE" => polyline(pairs, fields, at)?,
        "ARC" | "CIRCLE" => round(fields),
        "INSERT" => ("inserted block", insert(fields)),
        "SEQEND" | "VERTEX" | "ATTRIB" => return Ok(None),
        _ => return Ok(Some(Found::LeftOut(name, at))),
    };
    if on_paper {
        return Ok(Some(Found::LeftOut(format!("{name} on paper"), at)));
    }
    Ok(Some(Found::Entity(Entity {
        layer,
        kind,
        shape,
        at,
    })))
}

fn line(vertices: Vec<Vertex>) -> Shape {
    Shape::Line {
        vertices,
        closed: false,
        level: false,
    }
}

/// A face of three corners, or four: then two facets along the first and third.
fn face(fields: &Fields) -> Shape {
    let mut vertices: Vec<Vertex> = (10..14).map(|code| fields.vertex(code)).collect();
    let mut facets = vec![[0, 1, 2]];
    if vertices[3] == vertices[2] || fields.get(13).is_none() {
        vertices.pop();
    } else {
        facets.push([0, 2, 3]);
    }
    Shape::Mesh { vertices, facets }
}

fn round(fields: &Fields) -> (&'static str, Shape) {
    let (centre, radius) = (fields.vertex(10), fields.or(40, 0.0));
    let is_arc = fields.kind == "ARC";
    let (start, sweep) = if is_arc {
        let (start, end) = (fields.or(50, 0.0), fields.or(51, 360.0));
        (
            start.to_radians(),
            (end - start).rem_euclid(360.0).to_radians(),
        )
    } else {
        (0.0, std::f64::consts::TAU)
    };
    let plane = fields.plane();
    let mut vertices = arcs::arc(centre, radius, start, sweep);
    if !is_arc {
        // A circle ends where it starts, whatever the rounding of its last chord.
        vertices.pop();
        vertices.extend(vertices.first().copied());
    }
    let shape = Shape::Line {
        vertices: vertices.into_iter().map(|v| plane.place(v)).collect(),
        closed: !is_arc,
        level: true,
    };
    (if is_arc { "arc" } else { "circle" }, shape)
}

fn insert(fields: &Fields) -> Shape {
    let count = |code| fields.or(code, 1.0).clamp(1.0, 32_767.0) as u32;
    let to = fields.vertex(10);
    let scale = fields.or(41, 1.0);
    Shape::Insert {
        block: fields.name.clone(),
        placing: Box::new(Insertion {
            scale: [scale, fields.or(42, scale), fields.or(43, scale)],
            degrees: fields.or(50, 0.0),
            to: [to.east, to.north, to.height],
            step: [fields.or(44, 0.0), fields.or(45, 0.0)],
            plane: fields.plane(),
        }),
        columns: count(70),
        rows: count(71),
    }
}

/// Corners with the bulge that leads on from each, made one line.
fn bulging(corners: &[(Vertex, f64)], closed: bool, plane: Placing) -> Vec<Vertex> {
    let Some(&(first, _)) = corners.first() else {
        return Vec::new();
    };
    let mut vertices = vec![first];
    for pair in corners.windows(2) {
        arcs::bulge(&mut vertices, pair[0].0, pair[1].0, pair[0].1);
    }
    if let (true, Some(&(last, bulge))) = (closed, corners.last()) {
        arcs::bulge(&mut vertices, last, first, bulge);
    }
    vertices.iter().map(|&v| plane.place(v)).collect()
}

fn light_polyline(fields: &Fields, at: Spot) -> Result<Shape, DxfError> {
    let height = fields.or(38, 0.0);
    let mut corners: Vec<(Vertex, f64)> = Vec::new();
    for &(code, number) in &fields.numbers {
        match (code, corners.last_mut()) {
            (10, _) => corners.push((Vertex::new(number, 0.0, height), 0.0)),
            (20, Some((corner, _))) => corner.north = number,
            (42, Some((_, bulge))) => *bulge = number,
            _ => {}
        }
    }
    if let Some(expected) = fields.get(90)
        && expected != corners.len() as f64
    {
        return Err(DxfError::Count {
            at,
            entity: "LWPOLYLINE",
            parts: "corners",
            found: corners.len(),
            expected: expected.max(0.0) as usize,
        });
    }
    let closed = fields.marks(70) & 1 == 1;
    Ok(Shape::Line {
        vertices: bulging(&corners, closed, fields.plane()),
        closed,
        level: true,
    })
}

/// Marks of a polyline and its vertices.
mod mark {
    pub(super) const CLOSED: u32 = 1;
    pub(super) const SPATIAL: u32 = 8;
    pub(super) const MESH: u32 = 16;
    pub(super) const CLOSED_ACROSS: u32 = 32;
    pub(super) const POLYFACE: u32 = 64;
    /// Of a vertex: a control point of a spline, which the line does not pass.
    pub(super) const CONTROL: u32 = 16;
    /// Of a vertex: a corner of a mesh.
    pub(super) const CORNER: u32 = 64;
    /// Of a vertex: a face of a polyface mesh, where it is no corner.
    pub(super) const FACE: u32 = 128;
}

fn polyline<R: BufRead>(
    pairs: &mut Pairs<R>,
    fields: &mut Fields,
    at: Spot,
) -> Result<(&'static str, Shape), DxfError> {
    let marks = fields.marks(70);
    let plane = fields.plane();
    let height = fields.or(30, 0.0);
    let (across, along) = (fields.or(71, 0.0) as usize, fields.or(72, 0.0) as usize);
    let mut corners: Vec<(Vertex, f64)> = Vec::new();
    let mut facets = Vec::new();
    loop {
        pairs.next()?;
        if pairs.is(0, "SEQEND") {
            fields.read(pairs)?;
            break;
        }
        if !pairs.is(0, "VERTEX") {
            // Nothing says that it ends but that something else begins.
            pairs.put_back();
            break;
        }
        let spot = pairs.at();
        fields.read(pairs)?;
        let own = fields.marks(70);
        if marks & mark::POLYFACE != 0 && own & mark::FACE != 0 && own & mark::CORNER == 0 {
            facets.extend(polyface(fields, corners.len(), spot)?);
        } else if own & mark::CONTROL == 0 {
            corners.push((fields.vertex(10), fields.or(42, 0.0)));
        }
    }
    let places = || corners.iter().map(|&(v, _)| v).collect::<Vec<_>>();
    if marks & mark::POLYFACE != 0 {
        return Ok((
            "polyface mesh",
            Shape::Mesh {
                vertices: places(),
                facets,
            },
        ));
    }
    if marks & mark::MESH != 0 {
        if across * along != corners.len() {
            return Err(DxfError::Count {
                at,
                entity: "a polygon mesh",
                parts: "corners",
                found: corners.len(),
                expected: across * along,
            });
        }
        let closed = [marks & mark::CLOSED != 0, marks & mark::CLOSED_ACROSS != 0];
        let facets = polygon_mesh(across, along, closed);
        return Ok((
            "polygon mesh",
            Shape::Mesh {
                vertices: places(),
                facets,
            },
        ));
    }
    let closed = marks & mark::CLOSED != 0;
    if marks & mark::SPATIAL != 0 {
        let mut vertices = places();
        if closed {
            vertices.extend(vertices.first().copied());
        }
        let shape = Shape::Line {
            vertices,
            closed,
            level: false,
        };
        return Ok(("3D polyline", shape));
    }
    for (corner, _) in &mut corners {
        corner.height = height;
    }
    let shape = Shape::Line {
        vertices: bulging(&corners, closed, plane),
        closed,
        level: true,
    };
    Ok(("polyline", shape))
}

/// The facets of one face of a polyface mesh; a corner whose edge is hidden has a minus.
fn polyface(fields: &Fields, corners: usize, at: Spot) -> Result<Vec<[u32; 3]>, DxfError> {
    let mut face = Vec::with_capacity(4);
    for corner in (71..=74).filter_map(|code| fields.get(code)) {
        let corner = corner.abs() as i64;
        if corner == 0 {
            continue;
        }
        if corner as usize > corners {
            return Err(DxfError::UnknownCorner {
                at,
                corner,
                corners,
            });
        }
        face.push(corner as u32 - 1);
    }
    let fan = (2..face.len()).map(|i| [face[0], face[i - 1], face[i]]);
    Ok(fan.collect())
}

/// The facets of rows of corners; each field is parted along its first and third corner.
fn polygon_mesh(across: usize, along: usize, closed: [bool; 2]) -> Vec<[u32; 3]> {
    let fields = |count: usize, closed: bool| if closed { count } else { count.max(1) - 1 };
    let corner = |i: usize, j: usize| ((i % across) * along + j % along) as u32;
    let mut facets = Vec::new();
    for i in 0..fields(across, closed[0]) {
        for j in 0..fields(along, closed[1]) {
            let [a, b, c, d] =
                [(i, j), (i + 1, j), (i + 1, j + 1), (i, j + 1)].map(|(i, j)| corner(i, j));
            facets.extend([[a, b, c], [a, c, d]]);
        }
    }
    facets
}
