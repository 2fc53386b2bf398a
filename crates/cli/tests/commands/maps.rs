//! Zones and lines from map files: GeoJSON, shapefiles and GeoPackages.

use crate::site::number;
use std::fs;
use std::io::Write;

use dapedon_core::plan::Place;
use dapedon_core::units::LengthUnit;
use dapedon_formats::{RawZone, shapefile};

use crate::site::Site;

fn ring(corners: &[(i32, i32)]) -> Vec<Place> {
    let closed = corners.iter().chain(corners.first());
    closed
        .map(|&(e, n)| Place::new(500_000.0 + f64::from(e), 6_000_000.0 + f64::from(n)))
        .collect()
}

/// Three plots: one with a hole and a second part, two that share a name in another attribute.
fn plots(site: &Site, unit: LengthUnit, crs: Option<&str>) {
    let zone = |name: &str, parts| RawZone {
        name: name.into(),
        parts,
        ..RawZone::default()
    };
    let outer = ring(&[(0, 0), (6, 0), (6, 6), (0, 6)]);
    let hole = ring(&[(2, 2), (2, 4), (4, 4), (4, 2)]);
    let beside = ring(&[(8, 0), (10, 0), (10, 5), (8, 5)]);
    let zones = [
        zone("north yard", vec![vec![outer, hole], vec![beside]]),
        zone(
            "Böschung",
            vec![vec![ring(&[(10, 6), (14, 6), (14, 10), (10, 10)])]],
        ),
        zone(
            "ramp",
            vec![vec![ring(&[(12, 0), (15, 0), (15, 4), (12, 4)])]],
        ),
    ];
    let written = shapefile::write(&zones, "plot", &["a1", "a2", "a2"], unit, crs).unwrap();
    for (ending, bytes) in [
        ("shp", written.shp),
        ("dbf", written.dbf),
        ("prj", written.prj),
        ("cpg", written.cpg),
    ] {
        fs::write(site.path().join(format!("plots.{ending}")), bytes).unwrap();
    }
}

fn areas(json: &serde_json::Value) -> Vec<(String, f64)> {
    let zones = json["zones"].as_array().unwrap().iter();
    // To the millionth: the corners are sums of large numbers.
    let area = |zone: &serde_json::Value| {
        let area = number(&zone["area"]["compared"]);
        (area * 1e6).round() / 1e6
    };
    zones
        .map(|zone| (zone["zone"].as_str().unwrap().into(), area(zone)))
        .collect()
}

const MEASURE: &str = "volume ground.xml survey.csv --unit m --json --zone";

#[test]
fn plots_of_a_shapefile_are_zones() {
    let site = Site::new();
    plots(&site, LengthUnit::Metre, None);
    let json = site.json(&format!("{MEASURE} plots.shp"));
    let expected = [("north yard", 42.0), ("Böschung", 16.0), ("ramp", 12.0)];
    let expected = expected.map(|(name, area)| (name.to_owned(), area));
    assert_eq!(areas(&json), expected);
    let files = json["zone_files"][0]["other_files"].as_array().unwrap();
    let ends: Vec<_> = files
        .iter()
        .map(|f| f["format"].as_str().unwrap())
        .collect();
    assert_eq!(ends, [".dbf", ".cpg", ".prj"]);
    site.succeed(&format!(
        "{} plots.shp --report report.html",
        MEASURE.replace("--json ", "")
    ));
    let report = site.read("report.html");
    for file in ["plots.dbf", "plots.cpg", "plots.prj"] {
        assert!(report.contains(&format!("with {file}")), "{file}");
    }
    // One by its name, and by another attribute; a name that two share is refused unless it is asked for
    // alone, and then too.
    assert_eq!(
        areas(&site.json(&format!("{MEASURE} plots.shp#ramp"))),
        expected[2..]
    );
    let by_plot = site.json(&format!("{MEASURE} plots.shp#a1 --name-attribute plot"));
    assert_eq!(areas(&by_plot), [("a1".to_owned(), 42.0)]);
    let twice = site.refuse(&format!("{MEASURE} plots.shp --name-attribute PLOT"));
    assert!(
        twice.contains("two zones have the name \"a2\"") && twice.contains("--name-attribute"),
        "{twice}"
    );
    let none = site.refuse(&format!("{MEASURE} plots.shp --name-attribute owner"));
    assert!(
        none.contains("no feature has the attribute \"owner\"; the attributes are NAME, plot"),
        "{none}"
    );
    let none = site.refuse(&format!("{MEASURE} plots.shp#quay"));
    assert!(
        none.contains("the file has no zone \"quay\"") && none.contains("\"ramp\""),
        "{none}"
    );
}

#[test]
fn units_and_systems_of_map_files_count() {
    let site = Site::new();
    plots(&site, LengthUnit::Metre, Some("EPSG:31999"));
    fs::write(
        site.path().join("ground.xml"),
        crate::site::GROUND.replace(
            "<Surfaces>",
            "<CoordinateSystem epsgCode=\"31998\"/><Surfaces>",
        ),
    )
    .unwrap();
    let refused = site.refuse(&format!("{MEASURE} plots.shp"));
    assert!(
        refused.contains("zones in EPSG:31999, surfaces in EPSG:31998"),
        "{refused}"
    );
    site.succeed(&format!("{MEASURE} plots.shp --ignore-crs"));
    // Degrees, by what the .prj says and by how they look.
    site.write("plots.prj", "GEOGCS[\"made up\",UNIT[\"degree\",0.01745]]");
    let refused = site.refuse(&format!("{MEASURE} plots.shp"));
    assert!(
        refused.contains("the coordinates are latitude and longitude in degrees (.prj)"),
        "{refused}"
    );
    let looked = site.json("inspect plots.shp --json");
    let file = &looked["files"][0];
    assert_eq!(file["warnings"][0]["code"], "degrees", "{file}");
    assert_eq!(file["features"]["kinds"]["areas"], 3);
    site.write(
        "degrees.geojson",
        r#"{"type":"Polygon","coordinates":[[[9.1,52.1],[9.1004,52.1],[9.1004,52.1003],[9.1,52.1]]]}"#,
    );
    let refused = site.refuse(&format!("{MEASURE} degrees.geojson"));
    assert!(
        refused.contains("the coordinates look like degrees"),
        "{refused}"
    );
    // No table: zones are numbered, and a warning says so.
    fs::remove_file(site.path().join("plots.dbf")).unwrap();
    fs::remove_file(site.path().join("plots.prj")).unwrap();
    let json = site.json(&format!("{MEASURE} plots.shp"));
    assert_eq!(areas(&json)[2].0, "zone 3");
    assert!(
        json["warnings"]
            .to_string()
            .contains("no attribute table (.dbf) beside it")
    );
    // A table of another export.
    plots(&site, LengthUnit::Metre, None);
    let table = fs::read(site.path().join("plots.dbf")).unwrap();
    fs::write(site.path().join("plots.dbf"), &table[..table.len() - 40]).unwrap();
    let refused = site.refuse(&format!("{MEASURE} plots.shp"));
    assert!(
        refused.contains("the attribute table (.dbf) cannot be read"),
        "{refused}"
    );
}

#[test]
fn inspect_says_what_map_files_hold() {
    let site = Site::new();
    plots(&site, LengthUnit::Metre, Some("EPSG:31999"));
    insta::assert_snapshot!(site.succeed("inspect plots.shp"));
    let json = site.json("inspect plots.shp --json");
    let attributes = json["files"][0]["attributes"].as_array().unwrap();
    assert_eq!(
        (attributes.len(), attributes[1]["name"].as_str()),
        (2, Some("plot"))
    );
}

#[test]
fn lines_with_heights_are_ground() {
    let site = Site::new();
    // A bank 2 high along 40: toes 4 to either side of its crest, and the limit drawn without heights.
    let line = |name: &str, n: f64, h: f64| {
        format!(
            r#"{{"type":"Feature","properties":{{"name":"{name}"}},"geometry":{{"type":"LineString","coordinates":[[500000,{0},{h}],[500040,{0},{h}]]}}}}"#,
            6_000_000.0 + n
        )
    };
    let limit = r#"{"type":"Feature","properties":{"name":"limit"},"geometry":{"type":"Polygon","coordinates":[[[500010,6000000],[500030,6000000],[500030,6000008],[500010,6000008],[500010,6000000]]]}}"#;
    let features = [
        line("toe", 0.0, 10.0),
        line("crest", 4.0, 12.0),
        line("toe", 8.0, 10.0),
        limit.into(),
    ];
    site.write(
        "bank.geojson",
        &format!(
            r#"{{"type":"FeatureCollection","features":[{}]}}"#,
            features.join(",")
        ),
    );
    let fill = |options: &str| {
        let json = site.json(&format!(
            "volume level=10 bank.geojson --unit m --json {options}"
        ));
        number(&json["zones"][0]["volume"]["fill"])
    };
    // A prism: half of 8 by 2, times its length.
    assert!((fill("") - 8.0 * 40.0).abs() < 1e-9);
    assert!((fill("--codes crest,toe=breakline,limit=edge") - 8.0 * 20.0).abs() < 1e-9);
    let unknown = site.refuse("volume level=10 bank.geojson --unit m --codes brow=breakline");
    assert!(
        unknown.contains("no code or layer has the name \"brow\"; the names are crest, limit, toe"),
        "{unknown}"
    );
    let flat = site.refuse("volume level=10 zone.geojson --unit m");
    assert!(
        flat.contains("has heights to make a surface from"),
        "{flat}"
    );
}

/// Points and contours drawn in plan: looked into, and ground by an attribute of theirs.
#[test]
fn heights_are_taken_from_an_attribute() {
    let site = Site::new();
    let feature = |i: i32| {
        let (north, elev) = (6_000_000 + i * 10, 10 + i);
        format!(
            r#"{{"type":"Feature","properties":{{"ELEV":{elev},"kind":"index"}},"geometry":{{"type":"LineString","coordinates":[[500000,{north}],[500020,{north}]]}}}}"#
        )
    };
    let all: Vec<String> = (0..4).map(feature).collect();
    let collection =
        |features: &str| format!(r#"{{"type":"FeatureCollection","features":[{features}]}}"#);
    site.write("contours.geojson", &collection(&all.join(",")));
    let looked = site.json("inspect contours.geojson --json");
    let file = &looked["files"][0];
    assert_eq!(file["features"]["kinds"]["lines"], 4, "{file}");
    assert_eq!(file["features"]["with_heights"], 0);
    assert_eq!(
        file["attributes"][0]["samples"],
        serde_json::json!(["10", "11", "12"])
    );
    let remedy = file["warnings"][0]["remedy"].as_str().unwrap();
    assert!(remedy.contains("--height-by ELEV"), "{remedy}");
    let refused = site.refuse("surface contours.geojson --unit m");
    assert!(refused.contains("--height-by ELEV"), "{refused}");
    // A plane from 10 to 13 over 20 by 30.
    let json = site.json("volume level=10 contours.geojson --unit m --height-by elev --json");
    let fill = number(&json["zones"][0]["volume"]["fill"]);
    assert!((fill - 900.0).abs() < 1e-9, "{fill}");
    let refused = site.refuse("surface contours.geojson --unit m --height-by kind");
    assert!(refused.contains("1: \"index\""), "{refused}");
    let refused = site.refuse("surface contours.geojson --unit m --height-by rl");
    assert!(
        refused.contains("the attributes with numbers are ELEV"),
        "{refused}"
    );
}

#[test]
fn other_files_are_named_with_what_to_ask_for() {
    let site = Site::new();
    for (name, text, said) in [
        ("plan.dwg", "AC1032", "a binary drawing (DWG)"),
        ("plan.xml", "<kml/>", "map features (KML)"),
        ("plan.pdf", "%PDF-1.4", "a PDF document"),
        ("heap.stl", "solid heap", "a mesh without a unit (STL)"),
    ] {
        site.write(name, text);
        let refused = site.refuse(&format!("inspect {name}"));
        assert!(
            refused.contains(said) && refused.contains("code: input/foreign"),
            "{refused}"
        );
    }
}

/// A file with the layers plots, contours and spots; the points stand on the plane 100 + east/10 + north/20 over 40 by 20.
const PLAN: &[u8] = include_bytes!("../../../formats/tests/files/plan.gpkg");

#[test]
fn layers_of_a_geopackage_are_ground_and_zones() {
    let site = Site::new();
    fs::write(site.path().join("plan.gpkg"), PLAN).unwrap();
    insta::assert_snapshot!(site.succeed("inspect plan.gpkg"));
    // The plane over a rectangle is its height in the middle, times the area; the hole of the yard lies at 24 and 4.
    let plane = |east: f64, north: f64| east / 10.0 + north / 20.0;
    let overflow = 200.0 * plane(5.0, 10.0);
    let yard = 200.0 * plane(25.0, 10.0) - 16.0 * plane(24.0, 4.0);
    let fills = |line: &str| -> Vec<(String, f64)> {
        let json = site.json(line);
        let zones = json["zones"].as_array().unwrap().iter();
        let zones = zones.map(|zone| {
            let name = zone["zone"].as_str().unwrap().to_owned();
            (name, number(&zone["volume"]["fill"]))
        });
        zones.collect()
    };
    let same = |found: &[(String, f64)], expected: &[(&str, f64)]| {
        assert_eq!(found.len(), expected.len(), "{found:?}");
        for (found, expected) in found.iter().zip(expected) {
            assert_eq!(found.0, expected.0);
            assert!(
                (found.1 - expected.1).abs() < 1e-6,
                "{found:?} {expected:?}"
            );
        }
    };
    let both = fills("volume level=100 plan.gpkg#spots --zone plan.gpkg#plots --json");
    same(&both, &[("Überlauf", overflow), ("yard", yard)]);
    let one = fills("volume level=100 plan.gpkg#spots --zone plan.gpkg#plots/yard --json");
    same(&one, &[("yard", yard)]);
    // Contours rise by one in ten, whatever the north.
    let contours = "volume level=100 plan.gpkg#contours --height-by elev --zone plan.gpkg#plots/Überlauf --json";
    same(&fills(contours), &[("Überlauf", 200.0 * 0.5)]);
}

#[test]
fn a_geopackage_that_cannot_be_read_is_refused_with_what_to_do() {
    let site = Site::new();
    fs::write(site.path().join("plan.gpkg"), PLAN).unwrap();
    for (line, said) in [
        (
            "surface plan.gpkg",
            "the file has 3 layers: plots, contours, spots",
        ),
        ("surface plan.gpkg", "FILE#plots"),
        (
            "surface plan.gpkg#fences",
            "no layer is called \"fences\"; the layers are plots, contours, spots",
        ),
        (
            "surface plan.gpkg#plots",
            "none of the 3 features has heights",
        ),
        (
            "volume level=100 plan.gpkg#spots --zone plan.gpkg#plots/pond",
            "pond",
        ),
    ] {
        let refused = site.refuse(line);
        assert!(refused.contains(said), "{line}: {refused}");
    }
    site.write("plan.gpkg-wal", "not yet written");
    let refused = site.refuse("surface plan.gpkg#spots");
    assert!(
        refused.contains("plan.gpkg-wal lies beside it") && refused.contains("close it there"),
        "{refused}"
    );
    fs::remove_file(site.path().join("plan.gpkg-wal")).unwrap();
    fs::write(site.path().join("plan.gpkg"), &PLAN[..9000]).unwrap();
    let refused = site.refuse("surface plan.gpkg#spots");
    assert!(refused.contains("get the complete file"), "{refused}");
}

/// Several shapefiles in one zip file are layers, by their names.
#[test]
fn shapefiles_in_one_zip_file_are_layers() {
    let site = Site::new();
    plots(&site, LengthUnit::Metre, Some("EPSG:31999"));
    let mut writer = zip::ZipWriter::new(std::io::Cursor::new(Vec::new()));
    for (layer, ending) in ["plots", "again"]
        .into_iter()
        .flat_map(|layer| ["shp", "dbf", "prj", "cpg"].map(|ending| (layer, ending)))
    {
        let bytes = fs::read(site.path().join(format!("plots.{ending}"))).unwrap();
        let options = zip::write::SimpleFileOptions::default();
        writer
            .start_file(format!("maps/{layer}.{ending}"), options)
            .unwrap();
        writer.write_all(&bytes).unwrap();
    }
    let packed = writer.finish().unwrap().into_inner();
    fs::write(site.path().join("maps.zip"), packed).unwrap();
    let line = "volume level=0 level=1 --unit m --json --name-attribute name --zone";
    let named = areas(&site.json(&format!("{line} maps.zip#again")));
    assert_eq!(named, areas(&site.json(&format!("{line} plots.shp"))));
    let one = areas(&site.json(&format!("{line} maps.zip#plots/ramp")));
    assert_eq!(one, [("ramp".to_owned(), 12.0)]);
    let refused = site.refuse(&format!("{line} maps.zip").replace(" --json", ""));
    assert!(
        refused.contains("the file has 2 layers: plots, again"),
        "{refused}"
    );
}

/// A valley with straight sides, drawn as contours: 0.3 |e| + 0.1 n, 2 wide.
#[test]
fn flat_triangles_between_contours_are_relaxed() {
    let site = Site::new();
    let contour = |height: i32| {
        let apex = 10 * height;
        let corner = |e: i32, n: i32| format!("[{},{}]", 500_000 + e, 6_000_000 + n);
        let line = [corner(-1, apex - 3), corner(0, apex), corner(1, apex - 3)];
        format!(
            r#"{{"type":"Feature","properties":{{"elev":{height}}},"geometry":{{"type":"LineString","coordinates":[{}]}}}}"#,
            line.join(",")
        )
    };
    let mut features: Vec<String> = (0..6).map(contour).collect();
    features.push(r#"{"type":"Feature","properties":{"elev":-0.3},"geometry":{"type":"Point","coordinates":[500000,5999997]}}"#.into());
    let all = features.join(",");
    site.write(
        "contours.geojson",
        &format!(r#"{{"type":"FeatureCollection","features":[{all}]}}"#),
    );
    let line = "volume level=-1 contours.geojson --unit m --height-by elev --json";
    let json = |more: &str| site.json(&format!("{line}{more}"));
    let fill = |json: &serde_json::Value| number(&json["zones"][0]["volume"]["fill"]);
    // For each e, 1.0 above the level and the ground, over n from -3 to 50 - 3 |e|; Simpson's rule is exact here.
    let across = |e: f64| {
        let high = 50.0 - 3.0 * e;
        (1.0 + 0.3 * e) * (high + 3.0) + 0.05 * (high * high - 9.0)
    };
    let truth = 2.0 * (across(0.0) + 4.0 * across(0.5) + across(1.0)) / 6.0;
    let kept = json("");
    let warned = kept["warnings"].to_string();
    assert!(
        warned.contains("5 flat triangles between points of one contour, 15.0 m²"),
        "{warned}"
    );
    assert!((fill(&kept) - truth).abs() > 1.0);
    let relaxed = json(" --flat-triangles relax");
    assert!(
        (fill(&relaxed) - truth).abs() < 1e-9,
        "{} {truth}",
        fill(&relaxed)
    );
    assert!(!relaxed["warnings"].to_string().contains("flat"));
    // What is removed is level, at 1 to 5, over 3 each, and 1 above the level.
    let dropped = json(" --flat-triangles drop");
    let removed = 3.0 * (15.0 + 5.0);
    assert!((fill(&kept) - fill(&dropped) - removed).abs() < 1e-9);
    let said = site.succeed(&line.replace(" --json", " --flat-triangles relax"));
    assert!(
        said.contains("relaxed with 5 points between them"),
        "{said}"
    );
    site.write(
        "dapedon.toml",
        "[job]\nname = \"valley\"\nunit = \"m\"\n\n[surface.ground]\nfile = \"contours.geojson\"\nheight-by = \"elev\"\nflat-triangles = \"relax\"\n",
    );
    let of_job = site.json("volume level=-1 ground --json --job dapedon.toml");
    assert_eq!(fill(&of_job), fill(&relaxed));
}

/// Lengths on maps of the web are no lengths; zones that share a name can be looked into.
#[test]
fn maps_of_the_web_are_refused_and_equal_names_are_shown() {
    let site = Site::new();
    let ring = "[[0,0],[30,0],[30,40],[0,40],[0,0]]";
    let plot = format!(
        r#"{{"type":"Feature","properties":{{"name":"yard"}},"geometry":{{"type":"Polygon","coordinates":[{ring}]}}}}"#
    );
    let corner = |e: i32, n: i32| {
        format!(
            r#"{{"type":"Feature","properties":{{}},"geometry":{{"type":"Point","coordinates":[{e},{n},{}]}}}}"#,
            5 + e / 10
        )
    };
    let spots = [corner(0, 0), corner(30, 0), corner(30, 40), corner(0, 40)].join(",");
    let collection = |features: &str| {
        format!(
            r#"{{"type":"FeatureCollection","crs":{{"type":"name","properties":{{"name":"urn:ogc:def:crs:EPSG::3857"}}}},"features":[{features}]}}"#
        )
    };
    site.write("spots.geojson", &collection(&spots));
    site.write("plots.geojson", &collection(&format!("{plot},{plot}")));
    let line = "volume level=0 spots.geojson --unit m";
    let refused = site.refuse(line);
    assert!(
        refused.contains("EPSG:3857 stretches lengths")
            && refused.contains("code: surface/web-mercator"),
        "{refused}"
    );
    let taken = site.json(&format!("{line} --ignore-crs --json"));
    assert_eq!(taken["warnings"][0]["code"], "web-mercator");
    let codes = |name: &str| -> Vec<String> {
        let json = site.json(&format!("inspect {name} --unit m --json"));
        let found = json["files"][0]["warnings"].as_array().unwrap().iter();
        found
            .map(|found| found["code"].as_str().unwrap().into())
            .collect()
    };
    assert_eq!(codes("spots.geojson"), ["web-mercator"]);
    assert_eq!(codes("plots.geojson"), ["unreadable", "web-mercator"]);
}
