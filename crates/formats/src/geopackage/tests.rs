use std::io::Cursor;

use dapedon_core::plan::Place;
use dapedon_core::units::LengthUnit;
use proptest::prelude::*;

use super::*;
use crate::CodeUses;

const PLAN: &[u8] = include_bytes!("../../tests/files/plan.gpkg");
const UTF16: &[u8] = include_bytes!("../../tests/files/plan-utf16.gpkg");

fn open(bytes: &[u8]) -> Result<GeoPackage<Cursor<&[u8]>>, GeoPackageError> {
    GeoPackage::open(Cursor::new(bytes))
}

fn all(bytes: &[u8]) -> Result<Vec<Features>, GeoPackageError> {
    let mut package = open(bytes)?;
    let layers = package.layers().len();
    (0..layers).map(|layer| package.features(layer)).collect()
}

fn value<'f>(feature: &'f Feature, name: &str) -> Option<&'f str> {
    let found = feature.attributes.iter().find(|(own, _)| own == name);
    found.map(|(_, value)| value.as_str())
}

#[test]
fn layers_have_attributes_a_unit_and_a_system() {
    let mut package = open(PLAN).unwrap();
    assert_eq!(package.layers(), ["plots", "contours", "spots"]);
    let plots = package.features(0).unwrap();
    assert_eq!(plots.crs.as_deref(), Some("EPSG:32633"));
    assert_eq!(plots.unit, Some(LengthUnit::Metre));
    let [overflow, yard, nothing] = plots.features.as_slice() else {
        panic!("{} plots", plots.features.len())
    };
    assert_eq!(value(overflow, "name"), Some("Überlauf"));
    assert_eq!(value(overflow, "worth"), Some("1.5"));
    assert_eq!(value(overflow, "note"), Some("long ".repeat(300).as_str()));
    assert_eq!(value(yard, "note"), None);
    assert_eq!(
        (value(nothing, "late"), value(nothing, "fid")),
        (Some("yes"), None)
    );
    assert_eq!(nothing.shape, Shape::Nothing);
    let Shape::Areas(parts) = &yard.shape else {
        panic!("no area")
    };
    assert_eq!((parts.len(), parts[0].len(), parts[0][1].len()), (1, 2, 5));
    assert_eq!(parts[0][0][1].place, Place::new(500_030.0, 5_400_000.0));
}

/// The points stand on a plane that is known, and each was written once.
#[test]
fn rows_of_many_pages_come_in_order_and_once() {
    let mut package = open(PLAN).unwrap();
    let spots = package.features(2).unwrap();
    assert_eq!(spots.features.len(), 206);
    let codes =
        (spots.features.iter()).map(|spot| value(spot, "code").unwrap().parse::<i64>().unwrap());
    assert_eq!(codes.min(), Some(-70_000));
    let made = spots.surface(&CodeUses::default(), None).unwrap();
    let mut places: Vec<[i64; 2]> = Vec::new();
    for v in &made.vertices {
        let (east, north) = (v.east - 5e5, v.north - 54e5);
        assert!((v.height - (100.0 + east / 10.0 + north / 20.0)).abs() < 1e-9);
        places.push([east as i64, north as i64]);
    }
    assert!(places.is_sorted(), "in the order of the rows");
    places.dedup();
    assert_eq!(places.len(), 206);
}

#[test]
fn text_in_two_bytes_a_letter_is_the_same() {
    assert_eq!(all(UTF16).unwrap(), all(PLAN).unwrap());
}

#[test]
fn what_is_no_such_file_is_said() {
    let fault = |bytes: &[u8]| all(bytes).unwrap_err().to_string();
    assert_eq!(
        fault(b"SQLite form"),
        "the database cannot be read: the file does not start like an SQLite database"
    );
    assert_eq!(
        fault(&PLAN[..90]),
        "the database cannot be read: the file is incomplete: it ends before page 1"
    );
    let cut = fault(&PLAN[..PLAN.len() - 512]);
    assert!(
        cut.contains("the file is incomplete: it ends before page"),
        "{cut}"
    );
    let mut other = PLAN.to_vec();
    let at = other
        .windows(13)
        .rposition(|letters| letters == CONTENTS.as_bytes());
    while let Some(at) = other
        .windows(13)
        .position(|letters| letters == CONTENTS.as_bytes())
    {
        other[at] = b'x';
    }
    assert!(at.is_some());
    assert_eq!(
        fault(&other),
        "the file is an SQLite database, but not of map features; its tables are gpkg_spatial_ref_sys, xpkg_contents, \
         gpkg_geometry_columns, plots, sqlite_sequence, contours, spots"
    );
}

/// A page that points at itself, or at one that was read, is noticed: the reader comes to an end.
#[test]
fn pages_that_point_at_each_other_come_to_an_end() {
    let size = 512;
    let mut rounds = 0;
    for page in 1..PLAN.len() / size {
        let start = page * size;
        if PLAN[start] != 5 {
            continue;
        }
        let mut bytes = PLAN.to_vec();
        let own = u32::try_from(page + 1).unwrap().to_be_bytes();
        bytes[start + 8..start + 12].copy_from_slice(&own);
        let fault = all(&bytes).unwrap_err().to_string();
        assert!(fault.ends_with("another page points at it too"), "{fault}");
        rounds += 1;
    }
    assert!(rounds > 0);
}

proptest! {
    /// Whatever happens to the bytes, the reader answers.
    #[test]
    fn mutated_files_never_panic(changes in prop::collection::vec((any::<prop::sample::Index>(), any::<u8>()), 1..30)) {
        let mut bytes = PLAN.to_vec();
        for (at, byte) in changes {
            let at = at.index(bytes.len());
            bytes[at] = byte;
        }
        let _ = all(&bytes);
    }
}
