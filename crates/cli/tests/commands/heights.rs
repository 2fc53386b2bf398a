//! Heights in another unit than the plan, in every format that can say so.

use std::fs;
use std::io::Cursor;

use dapedon_core::plan::Place;
use dapedon_core::units::LengthUnit;
use dapedon_formats::las::{self, Shot};
use dapedon_formats::{RawGrid, geotiff};

use crate::site::{Site, number};

/// The keys of a GeoTIFF for the system and the unit of heights, and the number of none.
const SYSTEM: u16 = 4096;
const UNIT: u16 = 4099;
const OPEN: u16 = 32_767;
const FOOT: f64 = 0.3048;
const US_FOOT: f64 = 1200.0 / 3937.0;

/// Ground of 20 by 10 m that rises from 10 m by 1 in 10, its heights in a unit of so many metres.
fn height(east: f64, metres: f64) -> f64 {
    (10.0 + (east - 500_000.0) / 10.0) / metres
}

/// The ground as a GeoTIFF in metres, with values for two keys in place of those of its writer.
fn grid(site: &Site, name: &str, metres: f64, system: &str, keys: [(u16, u16); 2]) {
    let heights = (0..11 * 21).map(|i| height(500_000.0 + f64::from(i % 21), metres));
    let grid = RawGrid {
        corner: Place::new(500_000.0, 6_000_000.0),
        step: [1.0, 1.0],
        size: [21, 11],
        heights: heights.collect(),
    };
    let mut out = Cursor::new(Vec::new());
    let systems = [Some("EPSG:31999"), Some(system)];
    geotiff::write(&mut out, &grid, LengthUnit::Metre, systems).unwrap();
    let mut bytes = out.into_inner();
    for (key, value) in keys {
        let entry: Vec<u8> = [key, 0, 1].iter().flat_map(|n| n.to_le_bytes()).collect();
        let at = bytes.windows(6).position(|w| w == entry).unwrap();
        bytes[at + 6..at + 8].copy_from_slice(&value.to_le_bytes());
    }
    fs::write(site.path().join(name), bytes).unwrap();
}

/// The ground as LandXML, with what stands in the element of its units.
fn landxml(site: &Site, name: &str, metres: f64, units: &str) {
    let low = height(500_000.0, metres);
    let high = height(500_020.0, metres);
    site.write(
        name,
        &format!(
            "<LandXML><Units><Metric linearUnit=\"meter\" {units}/></Units><Surfaces><Surface name=\"g\"><Definition><Pnts>\
             <P id=\"1\">6000000 500000 {low}</P><P id=\"2\">6000000 500020 {high}</P><P id=\"3\">6000010 500020 {high}</P>\
             <P id=\"4\">6000010 500000 {low}</P></Pnts><Faces><F>1 2 3</F><F>1 3 4</F></Faces></Definition></Surface></Surfaces></LandXML>"
        ),
    );
}

/// The ground as a cloud on whole metres, its text of systems with that of heights appended.
fn cloud(site: &Site, name: &str, metres: f64, vertical: &str) {
    let shot = |i: u32| {
        let east = 500_000.0 + f64::from(i % 21);
        Shot {
            east,
            north: 6_000_000.0 + f64::from(i / 21),
            height: height(east, metres),
            class: 2,
            number: 1,
            returns: 1,
            withheld: false,
        }
    };
    let shots: Vec<Shot> = (0..21 * 11).map(shot).collect();
    let mut bytes = Vec::new();
    // The name of the system is as long as the text that takes its place.
    let text = format!("COMPD_CS[\"c\",LOCAL_CS[\"p\",UNIT[\"metre\",1]],{vertical}]");
    let room = text.len() - "LOCAL_CS[\"\",UNIT[\"metre\",1]]".len();
    let name_of = "x".repeat(room);
    las::write(&mut bytes, false, LengthUnit::Metre, Some(&name_of), &shots).unwrap();
    let at = bytes.windows(8).position(|w| w == b"LOCAL_CS").unwrap();
    bytes[at..at + text.len()].copy_from_slice(text.as_bytes());
    fs::write(site.path().join(name), bytes).unwrap();
}

/// What lies between level 9 and the ground: 200 m² by 2 m in the middle.
fn fill(site: &Site, line: &str) -> f64 {
    number(&site.json(&format!("{line} --json"))["zones"][0]["volume"]["fill"])
}

#[test]
fn heights_in_any_unit_give_the_same_volume() {
    let site = Site::new();
    // By the key of the unit; by the system alone; the key before the system.
    grid(
        &site,
        "key.tif",
        US_FOOT,
        "EPSG:5703",
        [(UNIT, 9003), (SYSTEM, 5703)],
    );
    grid(
        &site,
        "code.tif",
        US_FOOT,
        "EPSG:6360",
        [(UNIT, OPEN), (SYSTEM, 6360)],
    );
    grid(
        &site,
        "foot.tif",
        FOOT,
        "EPSG:8228",
        [(UNIT, OPEN), (SYSTEM, 8228)],
    );
    grid(
        &site,
        "metre.tif",
        1.0,
        "EPSG:5703",
        [(UNIT, OPEN), (SYSTEM, 5703)],
    );
    grid(
        &site,
        "both.tif",
        1.0,
        "EPSG:6360",
        [(UNIT, 9001), (SYSTEM, 6360)],
    );
    landxml(&site, "metre.xml", 1.0, "elevationUnit=\"meter\"");
    landxml(&site, "feet.xml", FOOT, "elevationUnit=\"feet\"");
    landxml(&site, "us.xml", US_FOOT, "elevationUnit=\"USSurveyFoot\"");
    for name in [
        "key.tif",
        "code.tif",
        "foot.tif",
        "metre.tif",
        "both.tif",
        "metre.xml",
        "feet.xml",
        "us.xml",
    ] {
        let found = fill(&site, &format!("volume level=9 {name}"));
        // A height of 12 m carries 2e-15 m; the unit's factor once more.
        assert!((found - 400.0).abs() < 1e-9, "{name}: {found}");
    }
    // Clouds are written to a thousandth of their unit.
    let us = "VERTCS[\"l\",UNIT[\"Foot_US\",0.3048006096012192]]";
    let by_code = "VERT_CS[\"l\",VERT_DATUM[\"d\",2005],AUTHORITY[\"EPSG\",\"8228\"]]";
    cloud(&site, "us.las", US_FOOT, us);
    cloud(&site, "code.las", FOOT, by_code);
    for name in ["us.las", "code.las"] {
        let found = fill(&site, &format!("volume level=9 {name} --thin none"));
        assert!((found - 400.0).abs() < 0.1, "{name}: {found}");
    }
    let said = site.succeed("volume level=9 code.tif");
    assert!(
        said.contains("heights converted from US survey foot to metre"),
        "{said}"
    );
    let said = site.succeed("inspect code.tif");
    assert!(said.contains("heights  10.000 to 12.000"), "{said}");
}

#[test]
fn heights_that_cannot_be_used_are_refused() {
    let site = Site::new();
    grid(
        &site,
        "depth.tif",
        1.0,
        "EPSG:5715",
        [(UNIT, OPEN), (SYSTEM, 5715)],
    );
    grid(
        &site,
        "fathom.tif",
        1.0,
        "EPSG:5703",
        [(UNIT, 9014), (SYSTEM, 5703)],
    );
    grid(
        &site,
        "unknown.tif",
        1.0,
        "EPSG:5999",
        [(UNIT, OPEN), (SYSTEM, 5999)],
    );
    landxml(&site, "miles.xml", 1.0, "elevationUnit=\"miles\"");
    cloud(
        &site,
        "down.las",
        1.0,
        "VERTCRS[\"l\",AXIS[\"depth\",down],LENGTHUNIT[\"metre\",1]]",
    );
    for (name, what) in [
        (
            "depth.tif",
            "the heights are depths, counted downwards (height system: EPSG:5715)",
        ),
        ("fathom.tif", "the unit EPSG:9014 is not supported"),
        ("miles.xml", "miles"),
        ("down.las", "counted downwards"),
    ] {
        let refused = site.refuse(&format!("volume level=9 {name}"));
        assert!(
            refused.contains(what) && refused.contains(name),
            "{refused}"
        );
    }
    let inspected = site.succeed("inspect depth.tif");
    assert!(inspected.contains("counted downwards"), "{inspected}");
    let warned = site.succeed("volume level=9 unknown.tif");
    assert!(
        warned.contains("the unit of the height system EPSG:5999 is not known: metre is assumed"),
        "{warned}"
    );
}

/// A grid beside a world file and a text of its system; a height that marks a missing one is found, and removed when given,
/// in the unit of the file.
#[test]
fn files_beside_a_grid_and_marks_of_missing_heights_count() {
    let site = Site::new();
    let rows = "ncols 3\nnrows 3\nxllcorner 0\nyllcorner 0\ncellsize 10\n\
                32.808398950131235 32.808398950131235 -32767\n32.808398950131235 32.808398950131235 32.808398950131235\n\
                32.808398950131235 32.808398950131235 32.808398950131235\n";
    site.write("g.asc", rows);
    let feet = "VERT_CS[\"l\",UNIT[\"foot\",0.3048]]";
    site.write(
        "g.prj",
        &format!("COMPD_CS[\"c\",PROJCS[\"p\",UNIT[\"metre\",1]],{feet}]"),
    );
    let found = site.json("volume level=9 g.asc --json");
    let all = found["surveyed"]["file"]["other_files"].to_string();
    assert!(all.contains("g.prj"), "{all}");
    assert!(
        found["warnings"].to_string().contains("--nodata=-32767"),
        "{found}"
    );
    let found = fill(&site, "volume level=9 g.asc --nodata -32767");
    // Three and a half cells of 10 by 10, each 1 m.
    assert!((found - 350.0).abs() < 1e-9, "{found}");
    let refused = site.refuse("volume level=9 g.asc --nodata -32767 --report g.prj");
    assert!(refused.contains("would be overwritten"), "{refused}");
    site.write("g.prj", "GEOGCS[\"W\",UNIT[\"degree\",0.0174532925199433]]");
    assert!(site.refuse("volume level=9 g.asc").contains("degrees"));
}
