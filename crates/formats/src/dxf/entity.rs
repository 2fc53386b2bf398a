//! Entities: from their pairs to points, lines and meshes.

use std::io::BufRead;

use super::fields::Fields;
use super::pairs::Pairs;
use super::shape::{Insertion, Shape};
use super::text::{unescaped, unformatted};
use super::{DrawingPosition, DrawnLine, DxfError, arcs, curves, mesh, numbers, polyline};

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
        "3DFACE" => ("face", mesh::face(fields)),
        "SOLID" | "TRACE" => ("filled area", mesh::filled(fields)),
        "MESH" => match mesh::mesh(fields, at)? {
            Some(shape) => ("mesh", shape),
            None => return left_out("MESH drawn smooth", at),
        },
        "LINE" => (
            "line",
            Shape::Line(vec![fields.vertex(10), fields.vertex(11)].into()),
        ),
        "LWPOLYLINE" => ("polyline", polyline::light(fields, at)?),
        "POLYLINE" => polyline::heavy(pairs, fields, at)?,
        "ARC" | "CIRCLE" => round(fields, at)?,
        "ELLIPSE" => ("ellipse", Shape::Line(curves::ellipse(fields, at)?.into())),
        "SPLINE" | "HELIX" => match curves::spline(fields, at)? {
            Some(line) => (
                if name == "HELIX" { "helix" } else { "spline" },
                Shape::Line(line.into()),
            ),
            None => return left_out(&format!("{name} without control points"), at),
        },
        "TEXT" => ("text", text(fields, &unescaped(&fields.text))),
        "MTEXT" => ("text", text(fields, &unformatted(&fields.text))),
        "INSERT" => ("inserted block", insert(pairs, fields)?),
        "SEQEND" | "VERTEX" | "ATTRIB" | "ATTDEF" => return Ok(None),
        _ => return left_out(&name, at),
    };
    if on_paper {
        return left_out(&format!("{name} in paper space"), at);
    }
    Ok(Some(ReadEntity::Entity(Entity {
        layer,
        kind,
        shape,
        at,
    })))
}

fn left_out(kind: &str, at: DrawingPosition) -> Result<Option<ReadEntity>, DxfError> {
    Ok(Some(ReadEntity::LeftOut(kind.into(), at)))
}

/// A text at the place where it begins, or that it is aligned to.
fn text(fields: &Fields, words: &str) -> Shape {
    let is_aligned = fields.kind == "TEXT"
        && (fields.marks(72) > 0 || fields.marks(73) > 0)
        && fields.get(11).is_some();
    let at = fields.vertex(if is_aligned { 11 } else { 10 });
    let at = match fields.kind.as_str() {
        "TEXT" => fields.plane().place(at),
        _ => at,
    };
    Shape::Text {
        at,
        reach: numbers::reach(fields.or(40, 0.0)),
        value: numbers::number(words),
    }
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
    let line = DrawnLine {
        arcs: vec![[0, vertices.len() - 1]],
        places: vertices.into_iter().map(|v| plane.place(v)).collect(),
    };
    let shape = Shape::Line(line);
    Ok((if is_arc { "arc" } else { "circle" }, shape))
}

/// An inserted block with the attributes that follow it.
fn insert<R: BufRead>(pairs: &mut Pairs<R>, fields: &mut Fields) -> Result<Shape, DxfError> {
    let count = |code| fields.or(code, 1.0).clamp(1.0, 32_767.0) as u32;
    let (columns, rows) = (count(70), count(71));
    let to = fields.vertex(10);
    let scale = fields.or(41, 1.0);
    let block = fields.name.clone();
    let placing = Box::new(Insertion {
        scale: [scale, fields.or(42, scale), fields.or(43, scale)],
        degrees: fields.or(50, 0.0),
        to: [to.east, to.north, to.height],
        step: [fields.or(44, 0.0), fields.or(45, 0.0)],
        plane: fields.plane(),
    });
    let mut attributes = Vec::new();
    if fields.marks(66) == 1 {
        loop {
            pairs.next()?;
            if !pairs.is(0, "ATTRIB") {
                pairs.put_back();
                break;
            }
            fields.read(pairs)?;
            attributes.push((
                unescaped(&fields.name).to_uppercase(),
                unescaped(&fields.text),
            ));
        }
    }
    Ok(Shape::Insert {
        block,
        placing,
        columns,
        rows,
        height: numbers::height_of(&attributes),
    })
}
