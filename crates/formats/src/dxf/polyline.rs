//! Polylines: lines with bulges, and meshes.

use std::io::BufRead;

use dapedon_core::surface::Vertex;

use super::arcs;
use super::fields::Fields;
use super::pairs::Pairs;
use super::place::Placing;
use super::shape::Shape;
use super::{DrawingPosition, DrawnLine, DxfError};

/// Corners with the bulge that leads on from each, made one line.
fn bulging(
    chords: &arcs::Chords,
    corners: &[(Vertex, f64)],
    closed: bool,
    plane: Placing,
) -> Option<DrawnLine> {
    let Some(&(first, _)) = corners.first() else {
        return Some(DrawnLine::default());
    };
    let mut line = DrawnLine::from(vec![first]);
    let mut on = |from: Vertex, to: Vertex, bulge: f64| {
        let begins = line.places.len() - 1;
        arcs::bulge(chords, &mut line.places, from, to, bulge)?;
        let ends = line.places.len() - 1;
        if ends > begins + 1 {
            line.arcs.push([begins, ends]);
        }
        Some(())
    };
    for pair in corners.windows(2) {
        on(pair[0].0, pair[1].0, pair[0].1)?;
    }
    if let (true, Some(&(last, bulge))) = (closed, corners.last()) {
        on(last, first, bulge)?;
    }
    Some(line.placed(|v| plane.place(v)))
}

pub(super) fn light(fields: &Fields, at: DrawingPosition) -> Result<Shape, DxfError> {
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
    let line = bulging(&fields.chords, &corners, closed, fields.plane());
    Ok(Shape::Line(line.ok_or(DxfError::ManyChords { at })?))
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

pub(super) fn heavy<R: BufRead>(
    pairs: &mut Pairs<R>,
    fields: &mut Fields,
    at: DrawingPosition,
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
        return Ok(("3D polyline", Shape::Line(vertices.into())));
    }
    for (corner, _) in &mut corners {
        corner.height = height;
    }
    let line = bulging(&fields.chords, &corners, closed, plane);
    Ok((
        "polyline",
        Shape::Line(line.ok_or(DxfError::ManyChords { at })?),
    ))
}

/// The facets of one face of a polyface mesh; a corner whose edge is hidden has a minus.
fn polyface(
    fields: &Fields,
    corners: usize,
    at: DrawingPosition,
) -> Result<Vec<[u32; 3]>, DxfError> {
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

/// The facets of rows of corners; each field is split along its first and third corner.
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
