//! Faces, filled areas and meshes.

use dapedon_core::surface::Vertex;

use super::fields::Fields;
use super::shape::Shape;
use super::{DrawingPosition, DxfError};

/// A face of three corners, or four: then two facets along the first and third.
pub(super) fn face(fields: &Fields) -> Shape {
    let mut vertices: Vec<Vertex> = (10..14).map(|code| fields.vertex(code)).collect();
    let mut facets = vec![[0, 1, 2]];
    if vertices[3] == vertices[2] || fields.get(13).is_none() {
        vertices.pop();
    } else {
        facets.push([0, 2, 3]);
    }
    Shape::Mesh { vertices, facets }
}

/// A filled area of three or four corners, whose last two are in the order of a bow tie.
pub(super) fn filled(fields: &Fields) -> Shape {
    let plane = fields.plane();
    let [a, b, c, d] = [10, 11, 12, 13].map(|code| plane.place(fields.vertex(code)));
    let mut facets = vec![[a, b, c]];
    if d != c && fields.get(13).is_some() {
        facets.push([b, d, c]);
    }
    Shape::Filled(facets)
}

/// A mesh of faces of any number of corners; each is split into a fan. None where it is drawn smoother than its faces.
pub(super) fn mesh(fields: &Fields, at: DrawingPosition) -> Result<Option<Shape>, DxfError> {
    if fields.or(91, 0.0) > 0.0 {
        return Ok(None);
    }
    let declared = fields.or(92, 0.0).max(0.0) as usize;
    let mut vertices: Vec<Vertex> = Vec::new();
    let mut list: Option<(usize, Vec<i64>)> = None;
    for &(code, number) in &fields.numbers {
        match (code, &mut list, vertices.last_mut()) {
            (10, None, _) => vertices.push(Vertex::new(number, 0.0, 0.0)),
            (20, None, Some(last)) => last.north = number,
            (30, None, Some(last)) => last.height = number,
            (93, None, _) => list = Some((number.max(0.0) as usize, Vec::new())),
            (90, Some((most, items)), _) if items.len() < *most => items.push(number as i64),
            _ => {}
        }
    }
    let (most, items) = list.unwrap_or_default();
    let count = |parts, found, expected| DxfError::Count {
        at,
        entity: "MESH",
        parts,
        found,
        expected,
    };
    if vertices.len() != declared {
        return Err(count("corners", vertices.len(), declared));
    }
    if items.len() != most {
        return Err(count("entries in its list of faces", items.len(), most));
    }
    let corners = vertices.len();
    let mut facets = Vec::new();
    let mut rest = items.as_slice();
    while let [count_of_face, after @ ..] = rest {
        let corners_of_face = usize::try_from(*count_of_face).unwrap_or(usize::MAX);
        let face = after
            .get(..corners_of_face)
            .ok_or_else(|| count("entries in its list of faces", after.len(), corners_of_face))?;
        let index = |&corner: &i64| {
            let found = usize::try_from(corner)
                .ok()
                .filter(|&corner| corner < corners);
            found
                .map(|corner| corner as u32)
                .ok_or(DxfError::UnknownCorner {
                    at,
                    corner,
                    corners,
                })
        };
        let face: Vec<u32> = face.iter().map(index).collect::<Result<_, _>>()?;
        facets.extend((2..face.len()).map(|i| [face[0], face[i - 1], face[i]]));
        rest = &after[corners_of_face..];
    }
    Ok(Some(Shape::Mesh { vertices, facets }))
}
