//! Files of other kinds, recognised to say what they are and what to ask for instead.

use std::path::Path;

use crate::Format;

/// A kind of file that is not read.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct Foreign {
    /// What it is.
    pub what: &'static str,
    /// What to ask for instead.
    pub remedy: &'static str,
}

const DRAWING: &str = "export it as DXF";
const MODEL: &str = "export its terrain as LandXML or DXF";
const MESH: &str = "export the mesh as OBJ";
const MAP: &str = "export it as a shapefile or GeoJSON in the grid of the survey";
const DOCUMENT: &str = "ask for the data behind it: LandXML, DXF or a points file";
const PACKED: &str = "unpack it, and give the file in it";
const TABLE: &str = "save the sheet as CSV";

/// Marks at the start of a file.
const MARKS: &[(&[u8], &str, &str)] = &[
    (b"AC10", "a binary drawing (DWG)", DRAWING),
    (
        b"\xd0\xcf\x11\xe0",
        "a binary office document or drawing",
        DOCUMENT,
    ),
    (b"ISO-10303-21", "a building model (IFC or STEP)", MODEL),
    (b"%PDF", "a PDF document", DOCUMENT),
    (b"\x1f\x8b", "a packed file (gzip)", PACKED),
    (b"7z\xbc\xaf", "a packed file (7z)", PACKED),
    (b"Rar!", "a packed file (RAR)", PACKED),
    (b"\x89PNG", "a picture (PNG)", DOCUMENT),
    (b"\xff\xd8\xff", "a picture (JPEG)", DOCUMENT),
    (b"GIF8", "a picture (GIF)", DOCUMENT),
    (b"glTF", "a mesh (glTF)", MESH),
    (b"Kaydara FBX", "a mesh (FBX)", MESH),
    (b"fgb\x03", "map features (FlatGeobuf)", MAP),
    (b"{\\rtf", "a text document (RTF)", DOCUMENT),
];

/// Elements that files in XML start with, other than those of LandXML.
const ROOTS: &[(&str, &str, &str)] = &[
    ("kml", "map features (KML), in degrees", MAP),
    ("gml", "map features (GML)", MAP),
    ("FeatureCollection", "map features (GML)", MAP),
    (
        "gpx",
        "tracks of a satellite receiver (GPX), in degrees",
        MAP,
    ),
    ("svg", "a picture (SVG)", DOCUMENT),
    ("html", "a web page", DOCUMENT),
    ("!DOCTYPE html", "a web page", DOCUMENT),
    ("COLLADA", "a mesh (COLLADA)", MESH),
    ("ifcXML", "a building model (IFC)", MODEL),
    ("CityModel", "a city model (CityGML)", MODEL),
];

/// Endings of files that have no mark of their own.
const ENDINGS: &[(&str, &str, &str)] = &[
    ("stl", "a mesh without a unit (STL)", MESH),
    ("3ds", "a mesh (3DS)", MESH),
    ("xls", "a spreadsheet", TABLE),
    ("doc", "a text document", DOCUMENT),
    ("bmp", "a picture (BMP)", DOCUMENT),
    ("dgn", "a binary drawing (DGN)", DRAWING),
];

/// Packed files, by their endings: several kinds are zip files inside.
const ZIPPED: &[(&str, &str, &str)] = &[
    ("xlsx", "a spreadsheet", TABLE),
    ("ods", "a spreadsheet", TABLE),
    ("docx", "a text document", DOCUMENT),
    ("odt", "a text document", DOCUMENT),
    ("kmz", "map features (KML), in degrees", MAP),
    ("ifczip", "a building model (IFC)", MODEL),
];

/// What a file is that is none of the formats that are read, by its first bytes and its ending.
///
/// ```
/// use std::path::Path;
/// use dapedon_formats::foreign;
/// let found = foreign(Path::new("plan.dwg"), b"AC1032").unwrap();
/// assert_eq!(found.what, "a binary drawing (DWG)");
/// assert_eq!(foreign(Path::new("points.csv"), b"1,2,3"), None);
/// ```
pub fn foreign(path: &Path, head: &[u8]) -> Option<Foreign> {
    let ending = path
        .extension()
        .and_then(|ending| ending.to_str())
        .unwrap_or_default()
        .to_ascii_lowercase();
    let made = |&(_, what, remedy): &(&str, &'static str, &'static str)| Foreign { what, remedy };
    let by = |table: &'static [(&str, &'static str, &'static str)]| {
        table.iter().find(|(known, ..)| *known == ending).map(made)
    };
    // An old sheet or drawing has the mark of its container.
    if head.starts_with(b"\xd0\xcf\x11\xe0")
        && let Some(found) = by(ENDINGS)
    {
        return Some(found);
    }
    if let Some((_, what, remedy)) = MARKS.iter().find(|(mark, ..)| head.starts_with(mark)) {
        return Some(Foreign { what, remedy });
    }
    if head.starts_with(b"PK\x03\x04") {
        // A map is read as it is packed.
        if Format::by_ending(path) == Some(Format::Shapefile) {
            return None;
        }
        return by(ZIPPED).or(Some(Foreign {
            what: "a packed file (zip)",
            remedy: PACKED,
        }));
    }
    root(head).or_else(|| by(ENDINGS))
}

/// By the first element of an XML file.
fn root(head: &[u8]) -> Option<Foreign> {
    let text = String::from_utf8_lossy(&head[..head.len().min(4096)]);
    let mut rest = text.trim_start_matches('\u{feff}').trim_start();
    loop {
        rest = rest.strip_prefix('<')?;
        // The declaration and remarks come before it.
        let end = match rest {
            _ if rest.starts_with('?') => "?>",
            _ if rest.starts_with("!--") => "-->",
            _ => break,
        };
        rest = rest.split_once(end)?.1.trim_start();
    }
    let name = rest.split(['>', '/']).next()?;
    let plain = name.split_whitespace().next()?;
    let local = plain.rsplit(':').next()?;
    let found = ROOTS.iter().find(|(root, ..)| {
        local.eq_ignore_ascii_case(root) || name.starts_with(root) && root.starts_with('!')
    });
    found.map(|&(_, what, remedy)| Foreign { what, remedy })
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn other_files_are_known_for_what_they_are() {
        for (name, head, what) in [
            ("a.dxf", &b"AC1027\0"[..], "a binary drawing (DWG)"),
            ("a.xlsx", b"PK\x03\x04", "a spreadsheet"),
            ("a.pack", b"PK\x03\x04", "a packed file (zip)"),
            ("a.xls", b"\xd0\xcf\x11\xe0", "a spreadsheet"),
            (
                "a.xml",
                b"<?xml version=\"1.0\"?>\n<!-- made up --><kml xmlns=\"x\">",
                "map features (KML), in degrees",
            ),
            ("a.xml", b"<gml:FeatureCollection>", "map features (GML)"),
            ("a.html", b"<!DOCTYPE html><html>", "a web page"),
            ("a.stl", b"solid heap", "a mesh without a unit (STL)"),
            ("a.txt", b"%PDF-1.7", "a PDF document"),
        ] {
            assert_eq!(
                foreign(Path::new(name), head).map(|found| found.what),
                Some(what),
                "{name}"
            );
        }
    }

    #[test]
    fn what_is_read_is_not_foreign() {
        for (name, head) in [
            ("a.xml", &b"<?xml version=\"1.0\"?><LandXML>"[..]),
            ("a.xml", b"<"),
            ("a.xml", b"<?xml"),
            ("a.geojson", b"{\"type\":\"FeatureCollection\"}"),
            ("a.csv", b"kml,2,3"),
            ("a.las", b"LASF"),
            ("a.dxf", b"  0\nSECTION"),
        ] {
            assert_eq!(foreign(Path::new(name), head), None, "{name}");
        }
        for format in Format::ALL {
            for ending in format.endings() {
                assert_eq!(foreign(Path::new(&format!("a.{ending}")), b""), None);
            }
        }
    }
}
