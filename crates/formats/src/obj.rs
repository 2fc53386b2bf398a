//! OBJ meshes: vertices and faces as text.
//!
//! `v` lines are vertices as east, north, height; `f` lines are faces of three corners or more, counted
//! from one, or from the last vertex backwards where negative; further numbers after a slash are not
//! used. Other lines are.

mod write;

use std::collections::BTreeMap;
use std::io::BufRead;

use dapedon_core::surface::Vertex;

use crate::{Position, RawSurface, Utf8, read_line};
pub use write::write;

/// Why a mesh could not be read.
#[derive(Debug, thiserror::Error, strum::IntoStaticStr)]
#[strum(serialize_all = "kebab-case")]
#[non_exhaustive]
pub enum ObjError {
    /// A value is not a number.
    #[error("\"{found}\" is not a number, and {expected} is expected")]
    NotANumber {
        /// Where.
        at: Position,
        /// What stands there.
        found: String,
        /// What should.
        expected: &'static str,
    },
    /// A line has fewer than three numbers.
    #[error("{what} needs three numbers")]
    TooFew {
        /// Where.
        at: Position,
        /// A vertex or a face.
        what: &'static str,
    },
    /// A face refers to a missing vertex.
    #[error("a face refers to vertex {named}, and {there} are defined before it")]
    NoVertex {
        /// Where.
        at: Position,
        /// The number.
        named: i64,
        /// Vertices up to there.
        there: usize,
    },
    /// The file has no face.
    #[error("the file has no face ({vertices} vertices)")]
    NoFaces {
        /// Vertices.
        vertices: usize,
    },
    /// The file cannot be read.
    #[error("{0}")]
    Io(#[from] std::io::Error),
}

impl ObjError {
    /// Where it was found.
    pub fn at(&self) -> Option<Position> {
        match self {
            ObjError::NotANumber { at, .. }
            | ObjError::TooFew { at, .. }
            | ObjError::NoVertex { at, .. } => Some(*at),
            ObjError::NoFaces { .. } | ObjError::Io(_) => None,
        }
    }

    /// What to do about it.
    pub fn remedy(&self) -> &'static str {
        match self {
            ObjError::NotANumber { .. } | ObjError::TooFew { .. } => {
                "correct the file at that place, or export it again"
            }
            ObjError::NoVertex { .. } => "get the complete file",
            ObjError::NoFaces { .. } => "use a mesh with faces, or its points as delimited text",
            ObjError::Io(_) => "check that the file can be read",
        }
    }
}

dapedon_diagnostic::diagnostic!(ObjError, "obj", at);

/// Reads a mesh; faces of more than three corners are split from their first one.
///
/// # Errors
///
/// When a line makes no sense, or there is no face.
///
/// ```
/// let text = "v 0 0 5\nv 4 0 5\nv 4 3 6\nv 0 3 6\nf 1 2 3 4\n";
/// let mesh = dapedon_formats::obj::read(text.as_bytes()).unwrap();
/// assert_eq!(mesh.facets.unwrap(), [[0, 1, 2], [0, 2, 3]]);
/// ```
pub fn read(input: impl BufRead) -> Result<RawSurface, ObjError> {
    let mut input = Utf8::of(input)?;
    let mut vertices: Vec<Vertex> = Vec::new();
    let mut facets: Vec<[u32; 3]> = Vec::new();
    let mut left_out: BTreeMap<String, usize> = BTreeMap::new();
    let mut bytes = Vec::new();
    let mut line = 0;
    let mut corners = Vec::new();
    loop {
        bytes.clear();
        if read_line(&mut input, &mut bytes)? == 0 {
            break;
        }
        line += 1;
        let mut words = bytes
            .split(u8::is_ascii_whitespace)
            .filter(|word| !word.is_empty());
        let fault = |column: usize, word: &[u8], expected| ObjError::NotANumber {
            at: Position {
                line,
                column: column as u64 + 2,
            },
            found: crate::codes::plain(word),
            expected,
        };
        let at = Position { line, column: 1 };
        match words.next() {
            Some(b"v") => {
                let mut numbers = [0.0; 3];
                for (column, number) in numbers.iter_mut().enumerate() {
                    let word = words.next().ok_or(ObjError::TooFew {
                        at,
                        what: "a vertex",
                    })?;
                    let parsed: Option<f64> = fast_float2::parse(word).ok();
                    let parsed = parsed.filter(|number| number.is_finite());
                    *number = parsed.ok_or_else(|| fault(column, word, "a coordinate"))?;
                }
                vertices.push(Vertex::new(numbers[0], numbers[1], numbers[2]));
            }
            Some(b"f") => {
                corners.clear();
                for (column, word) in words.enumerate() {
                    let number = word.split(|&byte| byte == b'/').next().unwrap_or(word);
                    let named = std::str::from_utf8(number).ok();
                    let named: Option<i64> = named.and_then(|number| number.parse().ok());
                    let named = named.ok_or_else(|| fault(column, word, "a vertex"))?;
                    let there = vertices.len();
                    let index = match named {
                        0.. => named - 1,
                        _ => there as i64 + named,
                    };
                    let known = usize::try_from(index).ok().filter(|&index| index < there);
                    let index = known.ok_or(ObjError::NoVertex { at, named, there })?;
                    corners.push(index as u32);
                }
                if corners.len() < 3 {
                    return Err(ObjError::TooFew { at, what: "a face" });
                }
                facets.extend(corners[1..].windows(2).map(|w| [corners[0], w[0], w[1]]));
            }
            Some(kind @ (b"l" | b"p")) => {
                let kind = if kind == b"l" {
                    "lines"
                } else {
                    "single points"
                };
                *left_out.entry(kind.into()).or_insert(0) += 1;
            }
            _ => {}
        }
    }
    if facets.is_empty() {
        return Err(ObjError::NoFaces {
            vertices: vertices.len(),
        });
    }
    Ok(RawSurface {
        vertices,
        facets: Some(facets),
        left_out,
        ..RawSurface::default()
    })
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    const MESH: &str = "# made up\no bund\nv 0 0 5\nv 4.5 0 5e0\nvn 0 0 1\nv 4 3 6.25 0.5 0.5 0.5\n\
        f 1/1/1 2//1 3\nl 1 2\nv 0 3 -6\nf -4 -2 -1\n";

    #[test]
    fn faces_name_their_vertices() {
        let mesh = read(MESH.as_bytes()).unwrap();
        assert_eq!(mesh.vertices.len(), 4);
        assert_eq!(mesh.vertices[2], Vertex::new(4.0, 3.0, 6.25));
        assert_eq!(mesh.facets.unwrap(), [[0, 1, 2], [0, 2, 3]]);
        assert_eq!(mesh.left_out["lines"], 1);
    }

    #[test]
    fn faults_say_what_and_where() {
        let fault = |from: &str, to: &str| {
            let error = read(MESH.replacen(from, to, 1).as_bytes()).unwrap_err();
            assert!(!error.remedy().is_empty());
            (error.to_string(), error.at().map(|at| (at.line, at.column)))
        };
        assert_eq!(
            fault("4.5 0 5e0", "4,5 0 5"),
            (
                "\"4,5\" is not a number, and a coordinate is expected".into(),
                Some((4, 2))
            )
        );
        assert_eq!(fault("v 0 0 5", "v 0 0").0, "a vertex needs three numbers");
        assert_eq!(fault("v 0 0 5", "v 0 nan 5").1, Some((3, 3)));
        assert_eq!(
            fault("f -4 -2 -1", "f 1 2 5"),
            (
                "a face refers to vertex 5, and 4 are defined before it".into(),
                Some((10, 1))
            )
        );
        assert_eq!(
            fault("f -4", "f 0").0,
            "a face refers to vertex 0, and 4 are defined before it"
        );
        assert_eq!(fault("f -4 -2 -1", "f 1 2").0, "a face needs three numbers");
        assert_eq!(
            read(b"v 0 0 1\n".as_slice()).unwrap_err().to_string(),
            "the file has no face (1 vertices)"
        );
    }

    #[test]
    fn what_is_written_reads_back() {
        let mesh = read(MESH.as_bytes()).unwrap();
        let facets = mesh.facets.unwrap();
        let mut bytes = Vec::new();
        write(&mut bytes, "bund", &mesh.vertices, &facets, 3).unwrap();
        let back = read(bytes.as_slice()).unwrap();
        assert_eq!((back.vertices, back.facets), (mesh.vertices, Some(facets)));
    }

    proptest! {
        /// Whatever happens to the bytes, the reader answers.
        #[test]
        fn mutated_bytes_never_panic(changes in prop::collection::vec((any::<prop::sample::Index>(), any::<u8>()), 1..12)) {
            let mut bytes = MESH.as_bytes().to_vec();
            for (at, byte) in changes {
                let at = at.index(bytes.len());
                bytes[at] = byte;
            }
            let _ = read(bytes.as_slice());
        }
    }
}
