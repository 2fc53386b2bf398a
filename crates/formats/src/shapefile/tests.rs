use std::io::Cursor;

use dapedon_core::plan::Place;
use dapedon_core::units::LengthUnit;
use proptest::prelude::*;
use shapefile::dbase::{FieldName, FieldValue, Record as Row, TableWriterBuilder};
use shapefile::record::EsriShape;
use shapefile::{
    Multipatch, MultipointZ, NO_DATA, Patch, Point, PointZ, Polygon, PolygonRing, PolygonZ,
    PolylineZ, ShapeWriter,
};

use super::*;
use crate::CodeUses;
use crate::features::FeatureError;
use crate::features::Shape;

fn z(x: f64, y: f64, z: f64) -> PointZ {
    PointZ::new(x, y, z, NO_DATA)
}

fn shapes<S: EsriShape>(shapes: &[S]) -> Vec<u8> {
    let mut bytes = Cursor::new(Vec::new());
    let mut writer = ShapeWriter::new(&mut bytes);
    for shape in shapes {
        writer.write_shape(shape).unwrap();
    }
    writer.finalize().unwrap();
    drop(writer);
    bytes.into_inner()
}

fn table(names: &[&str]) -> Vec<u8> {
    let field = |name: &str| FieldName::try_from(name).unwrap();
    let mut bytes = Cursor::new(Vec::new());
    let mut writer = TableWriterBuilder::new()
        .add_character_field(field("NAME"), 20)
        .add_numeric_field(field("plot"), 10, 0)
        .build_with_dest(&mut bytes);
    for (index, name) in names.iter().enumerate() {
        let mut row = Row::default();
        row.insert("NAME".into(), FieldValue::Character(Some((*name).into())));
        row.insert(
            "plot".into(),
            FieldValue::Numeric(Some(10.0 + index as f64)),
        );
        writer.write_record(&row).unwrap();
    }
    writer.finalize().unwrap();
    drop(writer);
    bytes.into_inner()
}

/// A square with a hole and an island beside it, and another square.
fn yards() -> Vec<u8> {
    let square = |x: f64, y: f64, side: f64| {
        vec![
            Point::new(x, y),
            Point::new(x, y + side),
            Point::new(x + side, y + side),
            Point::new(x + side, y),
        ]
    };
    let first = Polygon::with_rings(vec![
        PolygonRing::Outer(square(0.0, 0.0, 10.0)),
        PolygonRing::Inner(square(2.0, 2.0, 3.0)),
        PolygonRing::Outer(square(20.0, 0.0, 5.0)),
    ]);
    shapes(&[
        first,
        Polygon::new(PolygonRing::Outer(square(50.0, 50.0, 2.0))),
    ])
}

const SYSTEM: &str = r#"PROJCS["Made up",GEOGCS["M",UNIT["degree",0.01745]],UNIT["metre",1],AUTHORITY["EPSG","31999"]]"#;

#[test]
fn areas_become_zones_by_an_attribute() {
    let dbf = table(&["yard", "bund"]);
    let beside = CompanionFiles {
        table: Some(&dbf),
        system: Some(SYSTEM),
        ..CompanionFiles::default()
    };
    let features = read(yards().as_slice(), beside).unwrap();
    assert_eq!(features.unit, Some(LengthUnit::Metre));
    assert_eq!(features.crs.as_deref(), Some("EPSG:31999"));
    assert_eq!(features.attributes(), ["NAME", "plot"]);
    let zones = features.zones(None, None).unwrap().zones;
    assert_eq!(
        (zones[0].name.as_str(), zones[1].name.as_str()),
        ("yard", "bund")
    );
    assert_eq!((zones[0].parts.len(), zones[0].parts[0].len()), (2, 2));
    assert_eq!(zones[0].parts[1][0][0], Place::new(20.0, 0.0));
    assert_eq!(
        features.zones(None, Some("PLOT")).unwrap().zones[1].name,
        "11"
    );
    let fault = features.zones(None, Some("owner")).unwrap_err();
    assert_eq!(
        fault.to_string(),
        "no feature has the attribute \"owner\"; the attributes are NAME, plot"
    );
}

#[test]
fn without_a_table_zones_are_numbered() {
    let features = read(yards().as_slice(), CompanionFiles::default()).unwrap();
    let zones = features.zones(None, None).unwrap();
    assert_eq!((zones.unnamed, zones.zones[1].name.as_str()), (2, "zone 2"));
    assert_eq!(features.notes.len(), 1);
}

#[test]
fn heights_make_surfaces() {
    let made = |bytes: &[u8]| {
        let features = read(bytes, CompanionFiles::default()).unwrap();
        features.surface(&CodeUses::default(), None).unwrap()
    };
    let ring = |h: f64| {
        vec![
            z(0.0, 0.0, h),
            z(0.0, 3.0, h),
            z(4.0, 0.0, h),
            z(0.0, 0.0, h),
        ]
    };
    let facets = made(&shapes(&[PolygonZ::new(PolygonRing::Outer(ring(5.0)))]));
    assert_eq!(
        (facets.facets.map(|f| f.len()), facets.vertices.len()),
        (Some(1), 3)
    );
    let corners = [
        z(0.0, 0.0, 1.0),
        z(2.0, 0.0, 1.0),
        z(0.0, 2.0, 1.0),
        z(2.0, 2.0, 2.0),
    ];
    let patches = Multipatch::with_parts(vec![
        Patch::TriangleStrip(corners.to_vec()),
        Patch::TriangleFan(
            [
                z(9.0, 9.0, 1.0),
                z(12.0, 9.0, 1.0),
                z(12.0, 12.0, 1.0),
                z(9.0, 12.0, 1.0),
            ]
            .to_vec(),
        ),
    ]);
    let patches = made(&shapes(&[patches]));
    assert_eq!(
        (patches.facets.map(|f| f.len()), patches.vertices.len()),
        (Some(4), 8)
    );
    let line = PolylineZ::with_parts(vec![corners[..2].to_vec(), corners[2..].to_vec()]);
    let lines = made(&shapes(&[line]));
    assert_eq!((lines.lines.len(), lines.vertices.len()), (2, 4));
    let points = made(&shapes(&[MultipointZ::new(corners.to_vec())]));
    assert_eq!((points.facets, points.vertices.len()), (None, 4));
}

#[test]
fn what_is_deleted_in_the_table_is_left_out() {
    let mut dbf = table(&["yard", "bund"]);
    let first = usize::from(u16::from_le_bytes([dbf[8], dbf[9]]));
    dbf[first] = b'*';
    let beside = CompanionFiles {
        table: Some(&dbf),
        ..CompanionFiles::default()
    };
    let zones = read(yards().as_slice(), beside)
        .unwrap()
        .zones(None, None)
        .unwrap()
        .zones;
    assert_eq!((zones.len(), zones[0].name.as_str()), (1, "bund"));
}

#[test]
fn faults_say_what_and_where() {
    let fault = |bytes: &[u8], table: Option<&[u8]>, system: Option<&str>| {
        let beside = CompanionFiles {
            table,
            system,
            ..CompanionFiles::default()
        };
        let error = read(bytes, beside).unwrap_err();
        assert!(!error.remedy().is_empty());
        error.to_string()
    };
    let whole = yards();
    assert_eq!(
        fault(b"II*\0", None, None),
        "the file does not start like a shapefile"
    );
    assert_eq!(
        fault(&whole[..60], None, None),
        "the file is incomplete: it ends in shape 1"
    );
    assert_eq!(
        fault(&whole[..whole.len() - 9], None, None),
        "the file is incomplete: it ends in shape 2"
    );
    let with = |at: usize, value: i32| {
        let mut bytes = whole.clone();
        bytes[at..at + 4].copy_from_slice(&value.to_le_bytes());
        bytes
    };
    // Counts of the first record: its content starts at 108.
    assert_eq!(
        fault(&with(148, 1_000_000_000), None, None),
        "shape 1 is not valid: 3 parts and 1000000000 points in 296 bytes"
    );
    assert_eq!(
        fault(&with(156, 12), None, None),
        "shape 1 is not valid: its parts are out of order"
    );
    let dbf = table(&["yard"]);
    assert_eq!(
        fault(&whole, Some(&dbf), None),
        "the file has 2 shapes, and its attribute table (.dbf) 1 rows"
    );
    assert!(fault(&whole, Some(&dbf[..dbf.len() - 9]), None).contains("incomplete"));
    let degrees = CompanionFiles {
        system: Some(r#"GEOGCS["W",UNIT["degree",0.0174]]"#),
        ..CompanionFiles::default()
    };
    let read = read(whole.as_slice(), degrees).unwrap();
    assert_eq!(read.zones(None, None), Err(FeatureError::Degrees));
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(400))]

    /// Whatever happens to the bytes of either file, the reader answers.
    #[test]
    fn mutated_bytes_never_panic(
        changes in prop::collection::vec((any::<prop::sample::Index>(), any::<u8>()), 1..12),
        in_table in any::<bool>(),
        kind in 0usize..3,
    ) {
        let line = PolylineZ::with_parts(vec![vec![z(0.0, 0.0, 1.0), z(2.0, 0.0, 1.0)], vec![z(0.0, 1.0, 1.0), z(2.0, 1.0, 1.0)]]);
        let mut bytes = match kind {
            0 => yards(),
            1 => shapes(&[line.clone(), line]),
            _ => shapes(&[z(1.0, 2.0, 3.0), z(1.0, 2.0, 4.0)]),
        };
        let mut dbf = table(&["yard", "bund"]);
        let changed = if in_table { &mut dbf } else { &mut bytes };
        for (at, byte) in changes {
            let at = at.index(changed.len());
            changed[at] = byte;
        }
        let beside = CompanionFiles { table: Some(&dbf), ..CompanionFiles::default() };
        if let Ok(features) = read(bytes.as_slice(), beside) {
            let _ = features.zones(None, None);
            let _ = features.surface(&CodeUses::default(), None);
        }
    }
}

#[test]
fn a_shape_of_no_kind_is_none() {
    let mut bytes = shapes(&[z(1.0, 2.0, 3.0)]);
    bytes[108..112].copy_from_slice(&0i32.to_le_bytes());
    let features = read(bytes.as_slice(), CompanionFiles::default()).unwrap();
    assert_eq!(features.features[0].shape, Shape::Nothing);
}

#[test]
fn what_is_written_reads_back() {
    let features = read(yards().as_slice(), CompanionFiles::default()).unwrap();
    let mut zones = features.zones(None, None).unwrap().zones;
    zones[0].name = "Lagerfläche".into();
    let written = write(
        &zones,
        "material",
        &["clay", "gravel"],
        LengthUnit::Metre,
        None,
    )
    .unwrap();
    let beside = CompanionFiles {
        table: Some(&written.dbf),
        encoding: Some("UTF-8"),
        system: std::str::from_utf8(&written.prj).ok(),
    };
    let back = read(written.shp.as_slice(), beside).unwrap();
    assert_eq!(back.unit, Some(LengthUnit::Metre));
    let found = back.zones(None, None).unwrap().zones;
    for ((found, zone), material) in found.iter().zip(&zones).zip(["clay", "gravel"]) {
        assert_eq!((&found.name, &found.parts), (&zone.name, &zone.parts));
        let named = ("material".to_owned(), material.to_owned());
        assert!(found.attributes.contains(&named), "{found:?}");
    }
    assert_eq!(
        back.zones(None, Some("material")).unwrap().zones[1].name,
        "gravel"
    );
    let again = write(
        &zones,
        "material",
        &["clay", "gravel"],
        LengthUnit::Metre,
        None,
    );
    assert_eq!(again.unwrap(), written);
}

/// The same name in every encoding that a table can be in: by the file beside it, its language byte, or neither.
#[test]
fn names_are_read_in_the_encoding_of_the_table() {
    let table = |letters: &[u8], language: u8| {
        let mut dbf = table(&["B@schung @st", "bund"]);
        let first = usize::from(u16::from_le_bytes([dbf[8], dbf[9]]));
        let row = dbf[first..].iter().map(|&byte| {
            if byte == b'@' {
                letters.to_vec()
            } else {
                vec![byte]
            }
        });
        // A field keeps its width: each letter of two bytes takes a blank away.
        let mut rows: Vec<u8> = row.flatten().collect();
        let blanks = rows.windows(2).position(|pair| pair == b"  ").unwrap();
        rows.drain(blanks..blanks + 2 * (letters.len() - 1));
        dbf.truncate(first);
        dbf.extend(rows);
        dbf[29] = language;
        dbf
    };
    let read = |dbf: &[u8], encoding: Option<&str>| {
        let beside = CompanionFiles {
            table: Some(dbf),
            encoding,
            ..CompanionFiles::default()
        };
        let found = read(yards().as_slice(), beside).unwrap();
        let name = found.zones(None, None).unwrap().zones[0].name.clone();
        (name, found.notes)
    };
    let name = "Böschung öst".to_owned();
    let latin = "no encoding stated for the attribute table: Latin-1 assumed".to_owned();
    for (letters, language, encoding, notes) in [
        (&b"\xf6"[..], 0, Some("1252"), None),
        (b"\xf6", 0x57, None, None),
        (b"\x94", 0x01, None, None),
        (b"\x94", 0x02, None, None),
        (b"\xc3\xb6", 0, None, None),
        (b"\xc3\xb6", 0, Some("UTF-8"), None),
        (b"\xf6", 0, None, Some(latin)),
    ] {
        let found = read(&table(letters, language), encoding);
        assert_eq!(
            found,
            (name.clone(), notes.into_iter().collect()),
            "{letters:?} {language}"
        );
    }
}

/// A zip file of some named parts.
fn packed(parts: &[(&str, &[u8])]) -> Vec<u8> {
    let mut writer = zip::ZipWriter::new(Cursor::new(Vec::new()));
    for (name, bytes) in parts {
        writer
            .start_file(*name, zip::write::SimpleFileOptions::default())
            .unwrap();
        std::io::Write::write_all(&mut writer, bytes).unwrap();
    }
    writer.finish().unwrap().into_inner()
}

#[test]
fn a_packed_shapefile_is_the_same_one() {
    let (shp, dbf) = (yards(), table(&["yard", "bund"]));
    let prj = SYSTEM.as_bytes();
    let zip = packed(&[
        ("__MACOSX/plots/._plots.shp", b"x"),
        ("plots/plots.SHP", &shp),
        ("plots/plots.dbf", &dbf),
        ("plots/plots.prj", prj),
        ("plots/other.dbf", b"x"),
        ("readme.txt", b"made up"),
    ]);
    let beside = CompanionFiles {
        table: Some(&dbf),
        system: Some(SYSTEM),
        ..CompanionFiles::default()
    };
    let mut plain = read(shp.as_slice(), beside).unwrap();
    plain
        .notes
        .insert(0, "plots/plots.SHP in the zip file".into());
    let mut zipped = ZippedShapefiles::open(Cursor::new(zip)).unwrap();
    assert_eq!(zipped.layers(), ["plots"]);
    assert_eq!(zipped.features(0).unwrap(), plain);
}

/// What follows the end that the header states is no shape; an end within a shape is none.
#[test]
fn the_end_that_the_header_states_counts() {
    let shp = yards();
    let beside = CompanionFiles::default();
    let whole = read(shp.as_slice(), beside).unwrap();
    let longer = [shp.as_slice(), b"xyz"].concat();
    let found = read(longer.as_slice(), beside).unwrap();
    assert_eq!(found.features, whole.features);
    assert_eq!(
        found.notes[0],
        "bytes after the end that the header states skipped"
    );
    let mut wrong = longer;
    wrong[24..28].copy_from_slice(&60_u32.to_be_bytes());
    assert!(matches!(
        read(wrong.as_slice(), beside),
        Err(ShapefileError::CutOff { .. })
    ));
}

fn read_zipped(bytes: &[u8]) -> Result<Features, ShapefileError> {
    ZippedShapefiles::open(Cursor::new(bytes))?.features(0)
}

#[test]
fn zip_files_without_one_shapefile_are_refused() {
    let shp = yards();
    let fault = |parts: &[(&str, &[u8])]| read_zipped(&packed(parts)).unwrap_err().to_string();
    assert_eq!(
        fault(&[("a.csv", b"1")]),
        "the zip file has no shapefile; it has a.csv"
    );
    assert_eq!(fault(&[]), "the zip file has no shapefile; it has nothing");
    let several = packed(&[("n/a.shp", &shp), ("s/a.shp", &shp), ("s/b.shp", &shp)]);
    let several = ZippedShapefiles::open(Cursor::new(several)).unwrap();
    assert_eq!(several.layers(), ["n/a", "s/a", "b"]);
    let whole = packed(&[("a.shp", &shp)]);
    for cut in [10, whole.len() / 2, whole.len() - 5] {
        assert!(matches!(
            read_zipped(&whole[..cut]),
            Err(ShapefileError::Zip { .. })
        ));
    }
}

proptest! {
    /// Whatever happens to the bytes, the reader answers.
    #[test]
    fn mutated_zip_files_never_panic(changes in prop::collection::vec((any::<prop::sample::Index>(), any::<u8>()), 1..20)) {
        let (shp, dbf) = (yards(), table(&["yard", "bund"]));
        let mut bytes = packed(&[("a.shp", &shp), ("a.dbf", &dbf)]);
        for (at, byte) in changes {
            let at = at.index(bytes.len());
            bytes[at] = byte;
        }
        let _ = read_zipped(&bytes);
    }
}
