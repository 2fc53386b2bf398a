//! A shapefile whose files are packed into one zip file, as maps are handed over.

use std::io::{Read, Seek};

use zip::ZipArchive;

use super::{CompanionFiles, ShapefileError, read};
use crate::features::Features;
use crate::guard::held;

/// Bytes that the shapes, and their table, may unpack to.
const MOST: u64 = 1 << 30;
/// Bytes that a text beside them may unpack to.
const TEXT: u64 = 1 << 20;

/// Reads the one shapefile in a zip file, in whatever folder it lies there.
///
/// # Errors
///
/// When it is no zip file, has no shapefile or several, or that cannot be read.
pub fn read_zipped(input: impl Read + Seek) -> Result<Features, ShapefileError> {
    let broken = || ShapefileError::Zip {
        why: "its parts contradict each other".into(),
    };
    held(|| unpacked(input)).ok_or_else(broken)?
}

fn unpacked(input: impl Read + Seek) -> Result<Features, ShapefileError> {
    let fault = |error: zip::result::ZipError| ShapefileError::Zip {
        why: error.to_string().to_lowercase(),
    };
    let mut archive = ZipArchive::new(input).map_err(fault)?;
    let all = archive.file_names().filter_map(Result::ok);
    let names: Vec<String> = all.filter(|name| is_own(name)).map(Into::into).collect();
    let shapes: Vec<&String> = names.iter().filter(|name| ends(name, "shp")).collect();
    let shape = match shapes.as_slice() {
        [] => return Err(ShapefileError::NoneInZip { found: names }),
        [one] => (*one).clone(),
        _ => {
            let found = shapes.into_iter().cloned().collect();
            return Err(ShapefileError::SeveralInZip { found });
        }
    };
    let stem = &shape[..shape.len() - "shp".len()];
    let mut part = |ending: &str| -> Result<Option<Vec<u8>>, ShapefileError> {
        let same = |name: &&String| {
            name.len() == shape.len() && ends(name, ending) && name.starts_with(stem)
        };
        let Some(name) = names.iter().find(same) else {
            return Ok(None);
        };
        let file = archive.by_name(name).map_err(fault)?;
        let mut bytes = Vec::new();
        // What it says of its size need not be so.
        let most = if matches!(ending, "shp" | "dbf") {
            MOST
        } else {
            TEXT
        };
        file.take(most + 1).read_to_end(&mut bytes)?;
        match bytes.len() as u64 > most {
            true => Err(ShapefileError::LargeInZip { name: name.clone() }),
            false => Ok(Some(bytes)),
        }
    };
    let shapes = part("shp")?.unwrap_or_default();
    let (table, encoding, system) = (part("dbf")?, part("cpg")?, part("prj")?);
    let text =
        |bytes: Option<Vec<u8>>| bytes.map(|bytes| String::from_utf8_lossy(&bytes).into_owned());
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

fn ends(name: &str, ending: &str) -> bool {
    name.rsplit_once('.')
        .is_some_and(|(_, own)| own.eq_ignore_ascii_case(ending))
}

/// False for what a system adds to the files that a person packs.
fn is_own(name: &str) -> bool {
    let file = name.rsplit('/').next().unwrap_or(name);
    !(name.starts_with("__MACOSX/") || file.starts_with("._") || file.is_empty())
}
