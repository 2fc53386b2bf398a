//! Entities: from their pairs to points, lines and meshes.

use std::io::BufRead;

use dapedon_core::surface::Vertex;

use super::arcs;
use super::fields::Fields;
use super::pairs::Pairs;
use super::shape::{Insertion, Shape};
use super::{DrawingPosition, DxfError, polyline};

/// An entity that is understood, on its layer.
#[derive(Debug, Clone)]
pub(super) struct Entity {
    pub(super) layer: String,
    /// What it is called in the trade.
    pub(super) kind: &'static str,
    pub(super) shape: Shape,
    pub(super) at: DrawingPosition,
}

/// What an entity came to.
pub(super) enum ReadEntity {
    Entity(Entity),
    /// A kind that is not understood, or drawn on paper.
    LeftOut(String, DrawingPosition),
    /// The end of the section or block.
    End,
}

/// Reads the next entity of a section or block.
pub(super) fn next<R: BufRead>(
    pairs: &mut Pairs<R>,
    fields: &mut Fields,
) -> Result<ReadEntity, DxfError> {
    loop {
        if let Some(found) = one(pairs, fields)? {
            return Ok(found);
        }
    }
}

/// One entity; `None` for what belongs to an entity that was skipped.
fn one<R: BufRead>(
    pairs: &mut Pairs<R>,
    fields: &mut Fields,
) -> Result<Option<ReadEntity>, DxfError> {
    pairs.next()?;
    if pairs.code != 0 {
        // What precedes the first entity of a block belongs to the block.
        return Err(DxfError::NotACode {
            at: pairs.at(),
            found: pairs.code.to_string(),
        });
    }
    if pairs.is(0, "ENDSEC") || pairs.is(0, "ENDBLK") {
        return Ok(Some(ReadEntity::End));
    }
    let at = pairs.at();
    fields.read(pairs)?;
    let layer = fields.layer.clone();
    let on_paper = fields.marks(67) == 1;
    let name = fields.kind.clone();
    let (kind, shape) = match name.as_str() {
        "POINT" => ("point", Shape::Point(fields.vertex(10))),
        "3DFACE" => ("face", face(fields)),
        "LINE" => (
            "line",
            Shape::Line(vec![fields.vertex(10), fields.vertex(11)]),
        ),
        "LWPOLYLINE" => ("polyline", polyline::light(fields, at)?),
        "POLYLINE" => polyline::heavy(pairs, fields, at)?,
        "ARC" | "CIRCLE" => round(fields, at)?,
        "INSERT" => ("inserted block", insert(fields)),
        "SEQEND" | "VERTEX" | "ATTRIB" => return Ok(None),
        _ => return Ok(Some(ReadEntity::LeftOut(name, at))),
    };
    if on_paper {
        return Ok(Some(ReadEntity::LeftOut(
            format!("{name} in paper space"),
            at,
        )));
    }
    Ok(Some(ReadEntity::Entity(Entity {
        layer,
        kind,
        shape,
        at,
    })))
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

fn round(fields: &Fields, at: DrawingPosition) -> Result<(&'static str, Shape), DxfError> {
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
    let vertices = arcs::arc(&fields.chords, centre, radius, start, sweep);
    let mut vertices = vertices.ok_or(DxfError::ManyChords { at })?;
    if !is_arc {
        // A circle ends where it starts, whatever the rounding of its last chord.
        vertices.pop();
        vertices.extend(vertices.first().copied());
    }
    let shape = Shape::Line(vertices.into_iter().map(|v| plane.place(v)).collect());
    Ok((if is_arc { "arc" } else { "circle" }, shape))
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
