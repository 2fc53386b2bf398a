//! PLY: meshes and clouds of points, as text or in binary.
//!
//! Elements called `vertex` are points, by their properties `x`, `y` and `z`; elements called `face` are triangles between them, or
//! polygons that are split from their first corner. A file without faces is a cloud, which is handed on in batches. The format has no
//! unit and no coordinate system.

mod rows;

use std::io::{BufRead, Seek};

use dapedon_core::plan::{Extent, Place};
use dapedon_core::surface::{FARTHEST, Vertex};
use serde_ply::{ElementDef, PlyFormat, PlyProperty, PlyReader, PropertyType, ScalarType};

use crate::RawSurface;
use crate::las::{CloudFacts, Shot};
use rows::{Face, Point, each, skip};

/// Points that are handed on together.
const BATCH: usize = 1 << 15;
/// Elements with places.
const POINTS: &str = "vertex";
/// Elements that are polygons between points.
const FACES: &str = "face";
/// What a header ends with.
const END: &[u8] = b"end_header";
/// What the list of corners of a face is called.
const CORNERS: [&str; 2] = ["vertex_indices", "vertex_index"];

/// Why a PLY file could not be read.
#[derive(Debug, thiserror::Error, strum::IntoStaticStr)]
#[strum(serialize_all = "kebab-case")]
#[non_exhaustive]
pub enum PlyError {
    /// The file is not valid.
    #[error("the file is not valid: {why}")]
    Invalid {
        /// Why.
        why: String,
    },
    /// The file ends too early.
    #[error("the file is incomplete: it ends within the elements \"{element}\"")]
    CutOff {
        /// Which elements.
        element: String,
    },
    /// There are no points.
    #[error("the file has no elements \"{POINTS}\" with x, y and z; it has {}", shown(.found))]
    NoPoints {
        /// The elements it has.
        found: Vec<String>,
    },
    /// A face refers to a missing point.
    #[error("face {face} refers to point {named}, and the file has {there}, counted from 0")]
    NoVertex {
        /// The face, from one.
        face: usize,
        /// The point.
        named: i64,
        /// Points.
        there: usize,
    },
    /// A coordinate lies too far off.
    #[error("a coordinate of point {point} is beyond ±{FARTHEST}")]
    Far {
        /// The point, from one.
        point: u64,
    },
    /// No face has three corners.
    #[error("the file has no face of three corners or more ({points} points)")]
    NoFaces {
        /// Points.
        points: usize,
    },
    /// The faces come before the points.
    #[error("the faces stand before the points")]
    FacesFirst,
}

impl PlyError {
    /// What to do about it.
    pub fn remedy(&self) -> &'static str {
        use PlyError as E;
        match self {
            E::CutOff { .. } | E::NoVertex { .. } => "get the complete file",
            E::NoFaces { .. } => "export it with its triangles, or its points alone as a cloud",
            E::NoPoints { .. } => "export the mesh or cloud with its places",
            E::Invalid { .. } | E::Far { .. } | E::FacesFirst => {
                "export it again, or as OBJ or LAS"
            }
        }
    }
}

fn shown(found: &[String]) -> String {
    match found {
        [] => "none".into(),
        found => found.join(", "),
    }
}

dapedon_diagnostic::diagnostic!(PlyError, "ply");

/// True when the first bytes are those of such a file.
pub(crate) fn is_ply(head: &[u8]) -> bool {
    head.starts_with(b"ply\n") || head.starts_with(b"ply\r")
}

/// True where the header tells of faces.
pub(crate) fn has_faces(head: &[u8]) -> bool {
    let mut lines = head.split(|&byte| byte == b'\n').map(<[u8]>::trim_ascii);
    let header = lines.by_ref().take_while(|line| *line != b"end_header");
    let mut counts = header.filter_map(|line| {
        let line = std::str::from_utf8(line).ok()?;
        let mut words = line.split_ascii_whitespace();
        let is_face = words.next() == Some("element") && words.next() == Some(FACES);
        words.next().filter(|_| is_face)
    });
    counts.any(|count| !count.trim_start_matches('0').is_empty())
}

/// Reads the header, and what it says is checked.
fn open<R: BufRead>(mut input: R) -> Result<PlyReader<R>, PlyError> {
    // The package would take any file without line ends for one long line of a header.
    let head = input.fill_buf().map_err(|error| PlyError::Invalid {
        why: error.to_string(),
    })?;
    if !head.windows(END.len()).any(|word| word == END) {
        let why = "its header has no end".into();
        return Err(PlyError::Invalid { why });
    }
    let reader = PlyReader::from_reader(input).map_err(|error| invalid(&error))?;
    let elements = &reader.header().elem_defs;
    // Elements without properties have no bytes: their number could not be believed.
    if let Some(element) = elements
        .iter()
        .find(|element| element.properties.is_empty())
    {
        let why = format!("the elements \"{}\" have no properties", element.name);
        return Err(PlyError::Invalid { why });
    }
    let is_scalar = |element: &ElementDef, name| {
        let property = element.get_property(name);
        property.is_some_and(|own| matches!(own.property_type, PropertyType::Scalar(_)))
    };
    let has_places =
        |element: &ElementDef| ["x", "y", "z"].iter().all(|name| is_scalar(element, name));
    match reader.header().get_element(POINTS).is_some_and(has_places) {
        true => Ok(reader),
        false => Err(PlyError::NoPoints {
            found: elements
                .iter()
                .map(|element| element.name.clone())
                .collect(),
        }),
    }
}

fn invalid(error: &serde_ply::DeserializeError) -> PlyError {
    PlyError::Invalid {
        why: error.to_string().to_lowercase(),
    }
}

/// What the properties of places are stored in, with the note where that is coarse for where they lie.
fn rounding(properties: &[PlyProperty], extent: &Extent) -> Option<String> {
    let is_single = |property: &PlyProperty| {
        matches!(
            property.property_type,
            PropertyType::Scalar(ScalarType::F32)
        ) && ["x", "y"].contains(&property.name.as_str())
    };
    let ends = [extent.min, extent.max].map(|end| end.east.abs().max(end.north.abs()));
    let farthest = ends[0].max(ends[1]);
    let step = f64::from((farthest as f32).next_up()) - f64::from(farthest as f32);
    let is_coarse = step > 1e-3 && properties.iter().any(is_single);
    is_coarse.then(|| format!("places are stored in single precision: they are rounded to {step}"))
}

/// Reads a mesh.
///
/// # Errors
///
/// When the file is not valid or cut off, or a face refers to a missing point.
///
/// ```
/// let text = "ply\nformat ascii 1.0\nelement vertex 4\nproperty double x\nproperty double y\nproperty double z\n\
///             element face 1\nproperty list uchar int vertex_indices\nend_header\n0 0 5\n4 0 5\n4 3 6\n0 3 6\n4 0 1 2 3\n";
/// let mesh = dapedon_formats::ply::read(text.as_bytes()).unwrap();
/// assert_eq!(mesh.facets.unwrap(), [[0, 1, 2], [0, 2, 3]]);
/// ```
pub fn read(input: impl BufRead) -> Result<RawSurface, PlyError> {
    let mut reader = open(input)?;
    let mut made = RawSurface::default();
    let mut facets = Vec::new();
    let mut has_points = false;
    while let Some(element) = reader.current_element().cloned() {
        match element.name.as_str() {
            POINTS => {
                has_points = true;
                each(&mut reader, &element, |point: Point| {
                    let [x, y, z] = [point.x, point.y, point.z];
                    made.vertices.push(Vertex::new(x, y, z));
                    Ok(())
                })?;
                let places = made.vertices.iter().map(|v| Place::new(v.east, v.north));
                made.notes
                    .extend(rounding(&element.properties, &Extent::of(places)));
            }
            FACES if CORNERS.iter().any(|name| element.has_property(name)) => {
                if !has_points {
                    return Err(PlyError::FacesFirst);
                }
                let there = made.vertices.len();
                let mut number = 0;
                each(&mut reader, &element, |face: Face| {
                    number += 1;
                    let mut corners = Vec::with_capacity(face.corners.len());
                    for &named in &face.corners {
                        let index = u32::try_from(named).ok();
                        let known = index.filter(|&index| (index as usize) < there);
                        corners.push(known.ok_or(PlyError::NoVertex {
                            face: number,
                            named,
                            there,
                        })?);
                    }
                    match corners.as_slice() {
                        [first, rest @ ..] if rest.len() > 1 => {
                            facets.extend(rest.windows(2).map(|pair| [*first, pair[0], pair[1]]));
                        }
                        _ => {
                            let kind = "faces of fewer than three corners".to_owned();
                            *made.left_out.entry(kind).or_insert(0) += 1;
                        }
                    }
                    Ok(())
                })?;
            }
            _ => {
                let kind = format!("elements \"{}\"", element.name);
                *made.left_out.entry(kind).or_insert(0) += element.count;
                skip(&mut reader, &element)?;
            }
        }
    }
    if facets.is_empty() {
        return Err(PlyError::NoFaces {
            points: made.vertices.len(),
        });
    }
    made.facets = Some(facets);
    Ok(made)
}

/// A cloud whose header has been read.
pub struct PlyCloud<R> {
    reader: PlyReader<R>,
    facts: CloudFacts,
}

impl<R: BufRead + Seek> PlyCloud<R> {
    /// Reads the header; and all points once, since no header says where they lie.
    ///
    /// # Errors
    ///
    /// When the file is not valid or cut off.
    pub fn open(mut input: R) -> Result<Self, PlyError> {
        let mut extent = Extent::EMPTY;
        let mut points = 0;
        let first = open(&mut input)?;
        let (format, properties) = (first.header().format, properties(&first));
        walk(first, |batch| {
            points += batch.len() as u64;
            let places = batch.iter().filter(|shot| !shot.withheld);
            let places = places.map(|shot| Place::new(shot.east, shot.north));
            extent = extent.union(&Extent::of(places));
        })?;
        input.rewind().map_err(|error| PlyError::Invalid {
            why: error.to_string(),
        })?;
        let stored = match format {
            PlyFormat::Ascii => "text",
            PlyFormat::BinaryLittleEndian | PlyFormat::BinaryBigEndian => "binary",
        };
        let facts = CloudFacts {
            version: format!("1.0, {stored}"),
            points,
            bounds: [
                extent.min.east,
                extent.min.north,
                extent.max.east,
                extent.max.north,
            ],
            notes: rounding(&properties, &extent).into_iter().collect(),
            ..CloudFacts::default()
        };
        Ok(PlyCloud {
            reader: open(input)?,
            facts,
        })
    }

    /// What is known of it.
    pub fn about(&self) -> &CloudFacts {
        &self.facts
    }

    /// Hands over all points, batch by batch. Points without a place are marked as deleted.
    ///
    /// # Errors
    ///
    /// When the file is cut off or not valid, or a point lies where none can.
    pub fn each(self, take: impl FnMut(&[Shot])) -> Result<(), PlyError> {
        walk(self.reader, take)
    }
}

fn properties<R: BufRead>(reader: &PlyReader<R>) -> Vec<PlyProperty> {
    let points = reader.header().get_element(POINTS);
    points
        .map(|points| points.properties.clone())
        .unwrap_or_default()
}

/// Hands over the points of a cloud, batch by batch.
fn walk<R: BufRead>(
    mut reader: PlyReader<R>,
    mut take: impl FnMut(&[Shot]),
) -> Result<(), PlyError> {
    let mut batch = Vec::with_capacity(BATCH);
    let mut number = 0;
    while let Some(element) = reader.current_element().cloned() {
        if element.name != POINTS {
            skip(&mut reader, &element)?;
            continue;
        }
        each(&mut reader, &element, |point: Point| {
            number += 1;
            let place = [point.x, point.y, point.z];
            let is_place = place.iter().all(|along| !along.is_nan());
            if is_place && place.iter().any(|along| along.abs() > FARTHEST) {
                return Err(PlyError::Far { point: number });
            }
            batch.push(Shot::bare(is_place.then_some(place)));
            if batch.len() == BATCH {
                take(&batch);
                batch.clear();
            }
            Ok(())
        })?;
        // What stands behind the points is of no use.
        break;
    }
    take(&batch);
    Ok(())
}

#[cfg(test)]
mod tests;
