//! Elements row by row, each handed over as it is read.

use std::fmt;
use std::io::BufRead;
use std::marker::PhantomData;

use serde::de::{DeserializeSeed, Deserializer, MapAccess, SeqAccess, Visitor};
use serde::{Deserialize, de};
use serde_ply::{ElementDef, PlyReader};

use super::{PlyError, invalid};
use crate::guard::held;

/// A place.
#[derive(Deserialize)]
pub(super) struct Point {
    pub(super) x: f64,
    pub(super) y: f64,
    pub(super) z: f64,
}

/// The points of a face.
#[derive(Deserialize)]
pub(super) struct Face {
    #[serde(rename = "vertex_indices", alias = "vertex_index")]
    pub(super) corners: Vec<i64>,
}

/// A row that is passed over.
#[derive(Deserialize)]
struct Other {}

/// Hands over the rows of the next elements.
pub(super) fn each<R: BufRead, T: for<'de> Deserialize<'de>>(
    reader: &mut PlyReader<R>,
    element: &ElementDef,
    take: impl FnMut(T) -> Result<(), PlyError>,
) -> Result<(), PlyError> {
    let mut fault = None;
    let rows = Rows {
        take,
        fault: &mut fault,
        row: PhantomData,
    };
    let read = held(|| reader.deserialize_map(NextElements(rows)));
    if let Some(fault) = fault {
        return Err(fault);
    }
    match read {
        Some(Ok(())) => Ok(()),
        Some(Err(error)) if is_end(&error) => Err(PlyError::CutOff {
            element: element.name.clone(),
        }),
        Some(Err(error)) => Err(invalid(&error)),
        None => Err(PlyError::Invalid {
            why: "its parts contradict each other".into(),
        }),
    }
}

/// Passes over the rows of the next elements.
pub(super) fn skip<R: BufRead>(
    reader: &mut PlyReader<R>,
    element: &ElementDef,
) -> Result<(), PlyError> {
    each(reader, element, |_: Other| Ok(()))
}

/// The package says so in words only.
fn is_end(error: &serde_ply::DeserializeError) -> bool {
    let words = error.to_string();
    words.contains("fill whole buffer") || words.to_lowercase().contains("end of file")
}

/// The elements of one name, out of the map of all.
struct NextElements<S>(S);

impl<'de, S: DeserializeSeed<'de, Value = ()>> Visitor<'de> for NextElements<S> {
    type Value = ();

    fn expecting(&self, formatter: &mut fmt::Formatter<'_>) -> fmt::Result {
        formatter.write_str("elements")
    }

    fn visit_map<A: MapAccess<'de>>(self, mut map: A) -> Result<(), A::Error> {
        map.next_value_seed(self.0)
    }
}

/// Takes rows until one is not as it should be.
struct Rows<'f, T, F> {
    take: F,
    fault: &'f mut Option<PlyError>,
    row: PhantomData<T>,
}

impl<'de, T: Deserialize<'de>, F: FnMut(T) -> Result<(), PlyError>> DeserializeSeed<'de>
    for Rows<'_, T, F>
{
    type Value = ();

    fn deserialize<D: Deserializer<'de>>(self, rows: D) -> Result<(), D::Error> {
        rows.deserialize_seq(self)
    }
}

impl<'de, T: Deserialize<'de>, F: FnMut(T) -> Result<(), PlyError>> Visitor<'de>
    for Rows<'_, T, F>
{
    type Value = ();

    fn expecting(&self, formatter: &mut fmt::Formatter<'_>) -> fmt::Result {
        formatter.write_str("rows")
    }

    fn visit_seq<A: SeqAccess<'de>>(mut self, mut rows: A) -> Result<(), A::Error> {
        while let Some(row) = rows.next_element()? {
            if let Err(fault) = (self.take)(row) {
                *self.fault = Some(fault);
                return Err(de::Error::custom("a row is not as it should be"));
            }
        }
        Ok(())
    }
}
