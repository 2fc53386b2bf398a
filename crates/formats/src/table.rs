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
    /// ASCII grids: heights.
    Asc,
    /// GeoTIFF: heights.
    GeoTiff,
    /// LAS and LAZ: clouds of points.
    Las,
    /// E57: clouds of scanners.
    E57,
    /// OBJ: meshes.
    Obj,
    /// PLY with faces: meshes.
    PlyMesh,
    /// PLY without faces: clouds of points.
    PlyCloud,
    /// GeoJSON: features of maps.
    GeoJson,
    /// Shapefiles: features of maps.
    Shapefile,
    /// GeoPackage: features of maps, in layers.
    GeoPackage,
}

/// A row of the table.
struct Row {
    name: &'static str,
    endings: &'static [&'static str],
    reads: &'static str,
    writes: &'static str,
    /// What else is written in it than surfaces.
    draws: &'static str,
    leaves_out: &'static str,
    specification: &'static str,
}

impl Format {
    /// Every format, in the order help texts list them.
    pub const ALL: [Format; 13] = [
        Format::Delimited,
        Format::LandXml,
        Format::Dxf,
        Format::Asc,
        Format::GeoTiff,
        Format::Las,
        Format::E57,
        Format::Obj,
        Format::PlyMesh,
        Format::PlyCloud,
        Format::GeoJson,
        Format::Shapefile,
        Format::GeoPackage,
    ];

    /// All that the table states of it.
    const fn row(self) -> Row {
        match self {
            Format::Delimited => Row {
                name: "delimited text",
                endings: &["csv", "txt", "xyz", "pts"],
                reads: "points with number, east, north, height, code and note in any column order, and with accuracies of height and plan, `.xyz` and `.pts` thinned to cells with `--thin`; lines by code; comma, semicolon, tab or blanks; decimal point or comma; a first line with the number of points; UTF-8, UTF-16, Latin-1",
                writes: "the points of a surface",
                draws: "",
                leaves_out: "further columns; comment lines, counted",
                specification: "RFC 4180 for quotes",
            },
            Format::LandXml => Row {
                name: "LandXML",
                endings: &["xml", "landxml"],
                reads: "surfaces with points (or references to survey points) and faces, grids split along a diagonal, or source data (points, breaklines, contours, boundaries); survey points with codes; standard errors of points; closed parcels and plan features as zones; alignments of straights, arcs, clothoids, cubic parabolas, Bloss, cosine and sine curves with chainage equations and profiles; surfaces given by cross-sections of an alignment (`alignment/surface`); volumes stated between surfaces, checked by `inspect`; length unit; coordinate system",
                writes: "a surface, version 1.2",
                draws: "spots as survey points, contours as plan features with heights",
                leaves_out: "invisible faces, points in other files, survey points without a height, all counted; other spirals; cross-sections askew, closed, or by slope and distance; everything that is neither ground nor line",
                specification: "LandXML 1.0 to 1.2 schemas",
            },
            Format::Dxf => Row {
                name: "DXF",
                endings: &["dxf"],
                reads: "faces, polyface and polygon meshes, polylines of every kind with elevation and bulges, lines, arcs, circles, ellipses, splines, helices, meshes, filled areas, points, inserted blocks, heights written as text or attributes, by layer; text and binary; drawing unit; closed lines as zones; lines with their arcs",
                writes: "a surface as faces on one layer, text, R12",
                draws: "spots and contours as points, lines and words on layers",
                leaves_out: "smoothed meshes, splines without control points, all other entities, and paper space, counted by kind with the line of the first",
                specification: "the published DXF reference, R12 to 2018",
            },
            Format::Asc => Row {
                name: "ASCII grid",
                endings: &["asc"],
                reads: "heights by cell corner or centre, square or oblong cells, no-data value",
                writes: "a surface at the centres of square cells of `--cell`, or of its own grid",
                draws: "",
                leaves_out: "nothing",
                specification: "the published ASCII grid header",
            },
            Format::GeoTiff => Row {
                name: "GeoTIFF",
                endings: &["tif", "tiff"],
                reads: "heights in one band: strips and tiles; LZW, deflate, PackBits, ZSTD or no compression; every predictor; integers and floats; classic and BigTIFF; pixels as areas or points; no-data value, mask, alpha band, scale and offset; units, coordinate and height system; world file",
                writes: "the same, 64-bit floats, without compression",
                draws: "",
                leaves_out: "further pictures in the file; overviews",
                specification: "OGC GeoTIFF 1.1",
            },
            Format::Las => Row {
                name: "LAS cloud",
                endings: &["las", "laz"],
                reads: "points of versions 1.0 to 1.4, every point format, LAS and LAZ; by class; thinned to cells; units and coordinate system from keys or well-known text; several files as one",
                writes: "",
                draws: "",
                leaves_out: "deleted points and points of other classes, counted; colours, times, waveforms",
                specification: "ASPRS LAS 1.4 R15",
            },
            Format::E57 => Row {
                name: "E57 cloud",
                endings: &["e57"],
                reads: "the points of all scans, with Cartesian or spherical coordinates, each scan at its position; thinned to cells; metres; coordinate system from well-known text; several files as one",
                writes: "",
                draws: "",
                leaves_out: "points that are not valid, counted; intensities, colours, pictures",
                specification: "ASTM E2807",
            },
            Format::Obj => Row {
                name: "OBJ mesh",
                endings: &["obj"],
                reads: "vertices as east, north, height, and faces of three corners or more",
                writes: "a surface as vertices and faces",
                draws: "",
                leaves_out: "lines and points, counted; normals, textures, materials",
                specification: "the published description of OBJ, as text",
            },
            Format::PlyMesh => Row {
                name: "PLY mesh",
                endings: &["ply"],
                reads: "points as east, north, height, and faces of three corners or more; text and binary",
                writes: "",
                draws: "",
                leaves_out: "other elements, counted; colours, normals, textures",
                specification: "the published description of PLY 1.0",
            },
            Format::PlyCloud => Row {
                name: "PLY cloud",
                endings: &["ply"],
                reads: "the points of a file without faces; thinned to cells; several files as one; text and binary",
                writes: "",
                draws: "",
                leaves_out: "points whose coordinates are not numbers, counted; other elements; colours, normals, intensities",
                specification: "the published description of PLY 1.0",
            },
            Format::GeoJson => Row {
                name: "GeoJSON",
                endings: &["geojson", "json"],
                reads: "polygons with parts and holes as zones, named by any attribute; points and lines with heights; triangles with heights; the member `crs` of older files",
                writes: "a surface as triangles with heights",
                draws: "spots, contours, outlines",
                leaves_out: "geometry collections, and features without heights where a surface is needed, counted",
                specification: "RFC 7946, in the survey's grid",
            },
            Format::Shapefile => Row {
                name: "shapefile",
                endings: &["shp", "zip"],
                reads: "the same, from every shape type with multipatches; one or several packed as a zip file, named after `#`, or not packed; attributes from the `.dbf` in the encoding of the `.cpg` or of its language byte, otherwise UTF-8 or Latin-1; unit and coordinate system from the `.prj`",
                writes: "",
                draws: "spots, contours, outlines",
                leaves_out: "measures along lines; memo fields; shapes deleted in the table, counted",
                specification: "the published shapefile description, July 1998",
            },
            Format::GeoPackage => Row {
                name: "GeoPackage",
                endings: &["gpkg"],
                reads: "the same, layer by layer, named after `#`; attributes from the columns; unit and coordinate system from the file",
                writes: "",
                draws: "",
                leaves_out: "curves and collections of several kinds, counted; pictures and coverages in tiles; layers that are views",
                specification: "OGC 12-128, GeoPackage 1.0 to 1.4",
            },
        }
    }

    /// The name people read.
    pub const fn name(self) -> &'static str {
        self.row().name
    }

    /// The endings of its file names.
    pub const fn endings(self) -> &'static [&'static str] {
        self.row().endings
    }

    /// What is read from it.
    pub const fn reads(self) -> &'static str {
        self.row().reads
    }

    /// What is written in it; nothing where that is empty.
    pub const fn writes(self) -> &'static str {
        self.row().writes
    }

    /// What is written in it besides surfaces: points, lines and outlines; nothing where that is empty.
    pub const fn draws(self) -> &'static str {
        self.row().draws
    }

    /// True where points and lines are written in it.
    pub const fn writes_drawings(self) -> bool {
        !self.draws().is_empty()
    }

    /// What it may hold that is not used.
    pub const fn leaves_out(self) -> &'static str {
        self.row().leaves_out
    }

    /// The open specification that is followed.
    pub const fn specification(self) -> &'static str {
        self.row().specification
    }

    /// True where surfaces are written in it.
    pub const fn writes_surfaces(self) -> bool {
        !self.writes().is_empty()
    }

    /// True where it holds clouds of points.
    pub const fn is_cloud(self) -> bool {
        matches!(self, Format::Las | Format::E57 | Format::PlyCloud)
    }

    /// True where it holds features of maps.
    pub const fn is_map(self) -> bool {
        matches!(
            self,
            Format::GeoJson | Format::Shapefile | Format::GeoPackage
        )
    }

    /// True where heights of cells are written in it.
    pub const fn has_cells(self) -> bool {
        matches!(self, Format::Asc | Format::GeoTiff)
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
            // An XML file in UTF-16, after its mark.
            Some(0xff | 0xfe) if head.iter().skip(2).find(|&&byte| byte != 0) == Some(&b'<') => {
                return Some(Format::LandXml);
            }
            Some(b'<') => return Some(Format::LandXml),
            Some(b'{') => return Some(Format::GeoJson),
            _ if crate::las::is_cloud(head) => return Some(Format::Las),
            _ if crate::e57::is_e57(head) => return Some(Format::E57),
            _ if crate::shapefile::is_shapefile(head) || head.starts_with(b"PK\x03\x04") => {
                return Some(Format::Shapefile);
            }
            _ if crate::ply::is_ply(head) => {
                return Some(match crate::ply::has_faces(head) {
                    true => Format::PlyMesh,
                    false => Format::PlyCloud,
                });
            }
            _ if crate::geopackage::is_geopackage(head) => return Some(Format::GeoPackage),
            _ if crate::geotiff::is_tiff(head) => return Some(Format::GeoTiff),
            _ if crate::asc::is_grid(head) => return Some(Format::Asc),
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
        assert_eq!(of("a.txt", b"NCOLS 3"), Some(Format::Asc));
        assert_eq!(of("a.bin", b"LASF\0"), Some(Format::Las));
        assert_eq!(of("a.bin", b"II*\0\x08"), Some(Format::GeoTiff));
        assert_eq!(of("a.dxf", b"  0\nSECTION"), Some(Format::Dxf));
        assert_eq!(of("a.bin", b"\xff\xfe<\0?\0"), Some(Format::LandXml));
        assert_eq!(of("a.bin", b"\x00\x01"), None);
    }
}
