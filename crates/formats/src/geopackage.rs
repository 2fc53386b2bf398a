//! GeoPackage (OGC 12-128): map features in the tables of one SQLite file, layer by layer.
//!
//! Layers of features are read with their attributes and coordinate system. Pictures and coverages in tiles are not; they are named
//! where a file holds nothing else.

mod geometry;

use std::collections::{BTreeMap, HashMap};
use std::io::{Read, Seek};

use crate::features::{Feature, Features, Shape};
use crate::sqlite::{Database, Field, Row, SqliteError, Value};
use crate::wkt::{self, System};
use geometry::Unread;

/// The table of what a file holds.
const CONTENTS: &str = "gpkg_contents";
/// The table of the columns with geometries.
const GEOMETRIES: &str = "gpkg_geometry_columns";
/// The table of coordinate systems.
const SYSTEMS: &str = "gpkg_spatial_ref_sys";

/// Why a GeoPackage could not be read.
#[derive(Debug, thiserror::Error, strum::IntoStaticStr)]
#[strum(serialize_all = "kebab-case")]
#[non_exhaustive]
pub enum GeoPackageError {
    /// The database cannot be read.
    #[error("the database cannot be read: {0}")]
    Database(#[from] SqliteError),
    /// The database is one of another application.
    #[error("the file is an SQLite database, but not of map features; its tables are {}", shown(.tables))]
    AnotherApplication {
        /// Its tables.
        tables: Vec<String>,
    },
    /// Another program has not finished writing.
    #[error("another program has not finished writing: {beside} lies beside it")]
    BeingWritten {
        /// The file that says so.
        beside: String,
    },
    /// There is no layer of features.
    #[error("the file has no layer of features; it has {}", shown(.found))]
    NoLayer {
        /// What it has.
        found: Vec<String>,
    },
    /// A geometry is not valid.
    #[error("the geometry of feature {feature} of the layer \"{layer}\" is not valid")]
    Geometry {
        /// The layer.
        layer: String,
        /// The feature, from one.
        feature: usize,
    },
}

impl GeoPackageError {
    /// What to do about it.
    pub fn remedy(&self) -> &'static str {
        use GeoPackageError as E;
        match self {
            E::Database(SqliteError::NoTable(_) | SqliteError::WithoutRowNumbers(_)) => {
                "export the layer to a file of its own"
            }
            E::Database(SqliteError::Io(_)) => "check that the file can be read",
            E::Database(_) => "get the complete file",
            E::AnotherApplication { .. } => "export the layers as GeoPackage, GeoJSON or shapefile",
            E::BeingWritten { .. } => "close it there, and then run this again",
            E::NoLayer { .. } => {
                "use a file with points, lines or areas; export heights as GeoTIFF"
            }
            E::Geometry { .. } => "export it again",
        }
    }
}

fn shown(found: &[String]) -> String {
    match found {
        [] => "nothing".into(),
        found => found.join(", "),
    }
}

dapedon_diagnostic::diagnostic!(GeoPackageError, "geopackage");

/// Endings of the files beside a database that hold what is not yet in it.
pub const UNWRITTEN: [&str; 2] = ["-wal", "-journal"];

/// A layer of features.
#[derive(Debug)]
struct Layer {
    table: String,
    geometry: String,
    system: i64,
}

/// An open GeoPackage.
#[derive(Debug)]
pub struct GeoPackage<R> {
    database: Database<R>,
    layers: Vec<Layer>,
}

pub(crate) use crate::sqlite::is_sqlite as is_geopackage;

impl<R: Read + Seek> GeoPackage<R> {
    /// Opens a file, and lists its layers.
    ///
    /// # Errors
    ///
    /// When it is no such file, is cut off, or has no layer of features.
    pub fn open(input: R) -> Result<Self, GeoPackageError> {
        let mut database = Database::open(input)?;
        if !database.has(CONTENTS) {
            let tables = database.tables().take(10).map(Into::into).collect();
            return Err(GeoPackageError::AnotherApplication { tables });
        }
        let mut features = Vec::new();
        let mut others = Vec::new();
        database.rows(CONTENTS, |row| {
            let name = row.text("table_name").unwrap_or_default().to_owned();
            match row.text("data_type") {
                Some("features") => features.push(name),
                kind => others.push(format!("{} ({})", name, kind.unwrap_or("unknown"))),
            }
        })?;
        let mut columns = HashMap::new();
        if database.has(GEOMETRIES) {
            database.rows(GEOMETRIES, |row| {
                if let (Some(table), Some(column)) =
                    (row.text("table_name"), row.text("column_name"))
                {
                    let system = row.integer("srs_id").unwrap_or_default();
                    columns.insert(table.to_lowercase(), (column.to_owned(), system));
                }
            })?;
        }
        let layers = features.into_iter().filter_map(|table| {
            let (geometry, system) = columns.remove(&table.to_lowercase())?;
            Some(Layer {
                table,
                geometry,
                system,
            })
        });
        let layers: Vec<Layer> = layers.collect();
        match layers.is_empty() {
            true => Err(GeoPackageError::NoLayer { found: others }),
            false => Ok(GeoPackage { database, layers }),
        }
    }

    /// The names of its layers.
    pub fn layers(&self) -> Vec<String> {
        self.layers
            .iter()
            .map(|layer| layer.table.clone())
            .collect()
    }

    /// The features of a layer, by its place in the list; none beyond its end.
    ///
    /// # Errors
    ///
    /// When a page of the file, or a geometry, is not valid.
    pub fn features(&mut self, layer: usize) -> Result<Features, GeoPackageError> {
        let Some(layer) = self.layers.get(layer) else {
            return Ok(Features::default());
        };
        let system = system(&mut self.database, layer.system)?;
        let mut found = Features::within(system);
        let mut unread: BTreeMap<&str, usize> = BTreeMap::new();
        let mut broken = None;
        self.database.rows(&layer.table, |row| {
            let read = match row.value(&layer.geometry) {
                Some(Value::Bytes(bytes)) => geometry::shape(bytes),
                _ => Ok(Shape::Nothing),
            };
            let shape = read.unwrap_or_else(|why| {
                match why {
                    Unread::Kind(kind) => *unread.entry(kind).or_insert(0) += 1,
                    Unread::NotValid => {
                        broken.get_or_insert(found.features.len() + 1);
                    }
                }
                Shape::Nothing
            });
            found.features.push(Feature {
                attributes: attributes(&row, &layer.geometry),
                shape,
            });
        })?;
        if let Some(feature) = broken {
            return Err(GeoPackageError::Geometry {
                layer: layer.table.clone(),
                feature,
            });
        }
        let notes = unread
            .into_iter()
            .map(|(kind, count)| format!("{count} {kind} not read"));
        found.notes.extend(notes);
        Ok(found)
    }
}

/// What a row says besides its geometry. The number of the row is none of it: programs choose it.
fn attributes(row: &Row<'_>, geometry: &str) -> Vec<(String, String)> {
    let attribute = |(name, field): (&str, Field<'_>)| {
        let Field::Value(value) = field else {
            return None;
        };
        let text = match value {
            Value::Integer(number) => number.to_string(),
            Value::Real(number) => number.to_string(),
            Value::Text(text) => text.clone(),
            Value::Null | Value::Bytes(_) => return None,
        };
        (!name.eq_ignore_ascii_case(geometry)).then(|| (name.to_owned(), text))
    };
    row.fields().filter_map(attribute).collect()
}

/// The coordinate system of a number that the file gives it. Minus one and zero stand for one that is not known.
fn system<R: Read + Seek>(database: &mut Database<R>, number: i64) -> Result<System, SqliteError> {
    let mut found = System::default();
    if number <= 0 {
        found.is_geographic = number == 0;
        return Ok(found);
    }
    if !database.has(SYSTEMS) {
        return Ok(found);
    }
    database.rows(SYSTEMS, |row| {
        if row.integer("srs_id") != Some(number) {
            return;
        }
        // A newer kind of text stands in a column of its own.
        let texts = ["definition_12_063", "definition"].into_iter();
        let text = texts
            .filter_map(|column| row.text(column))
            .find(|text| text.contains(['[', '(']));
        found = text.map(wkt::system).unwrap_or_default();
        let is_registered =
            (row.text("organization")).is_some_and(|by| by.eq_ignore_ascii_case("EPSG"));
        let code = row.integer("organization_coordsys_id");
        if let (true, Some(code), false) = (is_registered, code, found.is_geographic) {
            found.name = Some(format!("EPSG:{code}"));
            found.note = None;
        }
    })?;
    Ok(found)
}

#[cfg(test)]
mod tests;
