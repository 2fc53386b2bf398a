//! The table of formats.

use std::path::Path;

/// A file format.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Format {
    /// Delimited text: points.
    Delimited,
    /// LandXML: surfaces.
    LandXml,
    /// DXF drawings: surfaces and zones.
    Dxf,
    /// GeoJSON: zones.
    GeoJson,
}

impl Format {
    /// Every format, in the order help texts list them.
    pub const ALL: [Format; 4] = [
        Format::Delimited,
        Format::LandXml,
        Format::Dxf,
        Format::GeoJson,
    ];

    /// The name people read.
    pub const fn name(self) -> &'static str {
        match self {
            Format::Delimited => "delimited text",
            Format::LandXml => "LandXML",
            Format::Dxf => "DXF",
            Format::GeoJson => "GeoJSON",
        }
    }

    /// The endings of its file names.
    pub const fn endings(self) -> &'static [&'static str] {
        match self {
            Format::Delimited => &["csv", "txt", "xyz", "pts", "asc"],
            Format::LandXml => &["xml", "landxml"],
            Format::Dxf => &["dxf"],
            Format::GeoJson => &["geojson", "json"],
        }
    }

    /// True where surfaces are written in it.
    pub const fn writes_surfaces(self) -> bool {
        !matches!(self, Format::GeoJson)
    }

    /// The format that a file of this name is written in.
    pub fn by_ending(path: &Path) -> Option<Self> {
        let ending = path.extension()?.to_str()?.to_ascii_lowercase();
        let known = |format: &Format| format.endings().contains(&ending.as_str());
        Format::ALL.into_iter().find(known)
    }

    /// The format of a file, by its first bytes where they tell, or else by its ending.
    pub fn of(path: &Path, head: &[u8]) -> Option<Self> {
        let head = head
            .strip_prefix(b"\xef\xbb\xbf")
            .unwrap_or(head)
            .trim_ascii_start();
        match head.first() {
            Some(b'<') => return Some(Format::LandXml),
            Some(b'{') => return Some(Format::GeoJson),
            _ if crate::dxf::is_binary(head) => return Some(Format::Dxf),
            _ => {}
        }
        Format::by_ending(path)
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn bytes_tell_before_endings_do() {
        let of = |name: &str, head: &[u8]| Format::of(Path::new(name), head);
        assert_eq!(of("a.csv", b"\xef\xbb\xbf <LandXML"), Some(Format::LandXml));
        assert_eq!(of("a.txt", b"{\"type\""), Some(Format::GeoJson));
        assert_eq!(of("a.CSV", b"1,2,3"), Some(Format::Delimited));
        assert_eq!(of("a.xml", b"1,2,3"), Some(Format::LandXml));
        assert_eq!(of("a.dxf", b"  0\nSECTION"), Some(Format::Dxf));
        assert_eq!(of("a.bin", b"\x00\x01"), None);
    }
}
