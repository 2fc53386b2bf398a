//! Shapefiles whose files are packed into one zip file, as maps are handed over.

use std::collections::HashMap;
use std::io::{Read, Seek};

use zip::ZipArchive;

use super::{CompanionFiles, ShapefileError, read};
use crate::features::Features;
use crate::guard::held;

/// Bytes that all shapes and tables of a file may unpack to.
const MOST: u64 = 1 << 30;
/// Bytes that a text beside them may unpack to.
const TEXT: u64 = 1 << 20;

/// A zip file with shapefiles, in whatever folders they lie there.
pub struct ZippedShapefiles<R> {
    archive: ZipArchive<R>,
    names: Vec<String>,
    shapes: Vec<String>,
    /// Bytes that may still be unpacked, all layers together.
    left: u64,
}

fn broken() -> ShapefileError {
    ShapefileError::Zip {
        why: "its parts contradict each other".into(),
    }
}

fn fault(error: &zip::result::ZipError) -> ShapefileError {
    ShapefileError::Zip {
        why: error.to_string().to_lowercase(),
    }
}

impl<R: Read + Seek> ZippedShapefiles<R> {
    /// Opens a zip file, and lists the shapefiles in it.
    ///
    /// # Errors
    ///
    /// When it is no zip file, or has no shapefile.
    pub fn open(input: R) -> Result<Self, ShapefileError> {
        let archive = held(|| ZipArchive::new(input)).ok_or_else(broken)?;
        let archive = archive.map_err(|error| fault(&error))?;
        let all = archive.file_names().filter_map(Result::ok);
        let names: Vec<String> = all.filter(|name| is_own(name)).map(Into::into).collect();
        let is_shape = |name: &&String| ends(name, "shp");
        let shapes: Vec<String> = names.iter().filter(is_shape).cloned().collect();
        match shapes.is_empty() {
            true => Err(ShapefileError::NoneInZip { found: names }),
            false => Ok(ZippedShapefiles {
                archive,
                names,
                shapes,
                left: MOST,
            }),
        }
    }

    /// The names of its shapefiles, without ending, and without folder where that is clear.
    pub fn layers(&self) -> Vec<String> {
        let file = |path: &str| path.rsplit('/').next().unwrap_or(path).to_owned();
        let files: Vec<String> = self.shapes.iter().map(|path| file(stem(path))).collect();
        let mut times: HashMap<&str, usize> = HashMap::new();
        for name in &files {
            *times.entry(name).or_default() += 1;
        }
        let is_clear = |name: &String| times.get(name.as_str()) == Some(&1);
        let each = self.shapes.iter().zip(&files);
        each.map(|(path, name)| match is_clear(name) {
            true => name.clone(),
            false => stem(path).to_owned(),
        })
        .collect()
    }

    /// The features of a shapefile, by its place in the list; none beyond its end.
    ///
    /// # Errors
    ///
    /// When it cannot be read, or unpacks to more than is read.
    pub fn features(&mut self, layer: usize) -> Result<Features, ShapefileError> {
        held(|| self.unpacked(layer)).ok_or_else(broken)?
    }

    fn unpacked(&mut self, layer: usize) -> Result<Features, ShapefileError> {
        let Some(shape) = self.shapes.get(layer) else {
            return Ok(Features::default());
        };
        let mut part = |ending: &str| -> Result<Option<Vec<u8>>, ShapefileError> {
            let same = |name: &&String| ends(name, ending) && stem(name) == stem(shape);
            let Some(name) = self.names.iter().find(same) else {
                return Ok(None);
            };
            let file = self.archive.by_name(name).map_err(|error| fault(&error))?;
            // What it says of its size need not be so.
            let most = if matches!(ending, "shp" | "dbf") {
                self.left
            } else {
                TEXT.min(self.left)
            };
            let mut bytes = Vec::new();
            file.take(most + 1).read_to_end(&mut bytes)?;
            self.left = self.left.saturating_sub(bytes.len() as u64);
            match bytes.len() as u64 > most {
                true => Err(ShapefileError::LargeInZip {
                    name: name.clone(),
                    most: MOST >> 20,
                }),
                false => Ok(Some(bytes)),
            }
        };
        let shapes = part("shp")?.unwrap_or_default();
        let (table, encoding, system) = (part("dbf")?, part("cpg")?, part("prj")?);
        let text = |bytes: Option<Vec<u8>>| {
            bytes.map(|bytes| String::from_utf8_lossy(&bytes).into_owned())
        };
        let (encoding, system) = (text(encoding), text(system));
        let beside = CompanionFiles {
            table: table.as_deref(),
            encoding: encoding.as_deref(),
            system: system.as_deref(),
        };
        let mut found = read(shapes.as_slice(), beside)?;
        found.notes.insert(0, format!("{shape} in the zip file"));
        Ok(found)
    }
}

/// A name without its ending.
fn stem(name: &str) -> &str {
    name.rsplit_once('.').map_or(name, |(stem, _)| stem)
}

fn ends(name: &str, ending: &str) -> bool {
    name.rsplit_once('.')
        .is_some_and(|(_, own)| own.eq_ignore_ascii_case(ending))
}

/// False for what a system adds to the files that a person packs.
fn is_own(name: &str) -> bool {
    let file = name.rsplit('/').next().unwrap_or(name);
    !(name.starts_with("__MACOSX/") || file.starts_with("._") || file.is_empty())
}
