//! `surface`: what is built, and that every format carries the same ground.

use crate::site::number;
use crate::site::{GROUND, Site};

/// A bank 2 high and 40 long on level ground at 10: toes 4 from the crest, points that Delaunay's rule
/// would join across it.
fn bank() -> String {
    let mut rows = String::from("point;north;east;height;code\n");
    let mut number = 0;
    let mut point = |e: f64, n: f64, h: f64, code: &str| {
        number += 1;
        let at = |value: f64| format!("{value:.3}").replace('.', ",");
        let (east, north) = (at(500_000.0 + e), at(6_000_000.0 + n));
        rows.push_str(&format!("{number};{north};{east};{};{code}\n", at(h)));
    };
    for (n, h, code) in [
        (0.0, 10.0, "toe1"),
        (4.0, 12.0, "crest"),
        (8.0, 10.0, "toe2"),
    ] {
        for e in [0.0, 40.0] {
            point(e, n, h, code);
        }
    }
    point(20.0, 3.75, 11.875, "spot");
    point(20.0, 4.25, 11.875, "spot");
    rows
}

#[track_caller]
fn fill(site: &Site, surface: &str) -> f64 {
    let line = format!("volume level=10 {surface} --unit m --json");
    let volume = &site.json(&line)["zones"][0]["volume"];
    assert_eq!(number(&volume["cut"]), 0.0);
    number(&volume["fill"])
}

#[test]
fn breaklines_by_code_keep_the_crest() {
    let site = Site::new();
    site.write("bank.csv", &bank());
    // A prism of half of 8 by 2 over 40.
    let kept = fill(&site, "bank.csv --codes crest,toe=breakline");
    assert!((kept - 320.0).abs() < 1e-9 * 320.0, "{kept}");
    // Two facets of 5 dip an eighth at one corner each.
    let flattened = 320.0 - 2.0 * 5.0 * 0.125 / 3.0;
    assert!((fill(&site, "bank.csv") - flattened).abs() < 1e-9 * 320.0);
}

#[test]
fn every_format_carries_the_same_ground() {
    let site = Site::new();
    site.write("bank.csv", &bank());
    let said = site.succeed(
        "surface bank.csv --unit m --codes crest,toe=breakline --out bank.xml --out bank.dxf --map bank.svg",
    );
    assert!(
        said.contains("with 3 breaklines") && said.contains("decimal commas"),
        "{said}"
    );
    let there = fill(&site, "bank.csv --codes crest,toe=breakline");
    for file in ["bank.xml", "bank.dxf"] {
        assert_eq!(fill(&site, file), there, "{file}");
    }
    // Points without their facets are another surface, and are written as such.
    site.succeed("surface bank.xml --out points.csv");
    assert_eq!(fill(&site, "points.csv"), fill(&site, "bank.csv"));
    assert!(site.read("bank.svg").contains("Height, 10.00 to 12.00 m"));
    let once = site.read("bank.dxf");
    site.succeed("surface bank.csv --unit m --codes crest,toe=breakline --out bank.dxf");
    assert_eq!(site.read("bank.dxf"), once);
}

#[test]
fn units_are_converted_on_the_way() {
    let site = Site::new();
    site.succeed("surface ground.xml --length-unit us-ft --out feet.xml --decimals 9");
    assert!(site.read("feet.xml").contains("USSurveyFoot"));
    let json = site.json("surface feet.xml --json");
    let area = number(&json["area"]);
    // 200 m² in US survey feet of 1200/3937 m.
    let expected = 200.0 * (3937.0f64 / 1200.0).powi(2);
    assert!((area / expected - 1.0).abs() < 1e-9, "{area}");
    assert_eq!(json["units"]["length"], "us-ft");
}

#[test]
fn outlines_cut_and_long_edges_go() {
    let site = Site::new();
    let mut points = String::from("east,north,height\n");
    for (e, n) in (0..400)
        .map(|i| (i % 20, i / 20))
        .filter(|&(e, _)| !(8..12).contains(&e))
    {
        points.push_str(&format!("{},{},5\n", 500_000 + e, 6_000_000 + n));
    }
    site.write("two.csv", &points);
    let area = |options: &str| {
        let json = site.json(&format!("surface two.csv --unit m --json {options}"));
        (
            number(&json["area"]),
            json["warnings"].as_array().unwrap().len(),
        )
    };
    // Two fields of 7 by 19, five apart, and the bridge between them.
    let (whole, warned) = area("");
    assert!((whole - 361.0).abs() < 1e-6 && warned == 1);
    let (parted, warned) = area("--max-edge 4");
    assert!((parted - 266.0).abs() < 1e-6 && warned == 0);
    site.zone(
        "cut.geojson",
        &[("limit", &[(2, 2), (6, 2), (6, 7), (2, 7), (2, 2)])],
    );
    let (cut, _) = area("--outline cut.geojson");
    assert!((cut - 20.0).abs() < 1e-6, "{cut}");
}

#[test]
fn odd_points_and_missing_heights() {
    let site = Site::new();
    let mut points = String::from("east,north,height\n");
    for (e, n) in (0..100).map(|i| (i % 10, i / 10)) {
        let height = match (e, n) {
            (4, 5) => "18.000".into(),
            (7, 2) => "0.000".into(),
            _ => format!("{:.3}", 31.0 + 0.01 * f64::from(e * n % 7)),
        };
        points.push_str(&format!("{},{},{height}\n", 500_000 + e, 6_000_000 + n));
    }
    site.write("odd.csv", &points);
    let surface = |options: &str| site.json(&format!("surface odd.csv --unit m --json {options}"));
    let plain = surface("");
    assert_eq!(plain["outliers"].as_array().unwrap().len(), 2);
    assert_eq!(plain["warnings"].as_array().unwrap().len(), 2);
    let without = surface("--nodata 0");
    assert_eq!(without["outliers"].as_array().unwrap().len(), 1);
    assert_eq!(
        (&without["outliers"][0]["height"], &without["vertices"]),
        (&18.0.into(), &99.into())
    );
    let clean = surface("--nodata 0 --drop-outliers");
    assert_eq!(
        (&clean["vertices"], &clean["warnings"]),
        (&98.into(), &serde_json::json!([]))
    );
    assert!(number(&clean["heights"][0]) > 30.0);
}

#[test]
fn one_place_with_two_heights_wants_a_rule() {
    let site = Site::new();
    site.write(
        "step.csv",
        "east,north,height\n0,0,1\n50,0,1\n0,50,1\n0,0,3\n",
    );
    let refused = site.refuse("surface step.csv --unit m");
    assert!(
        refused.contains("points 1 and 4") && refused.contains("--duplicates"),
        "{refused}"
    );
    let highest = site.json("surface step.csv --unit m --duplicates highest --json");
    assert_eq!(number(&highest["heights"][1]), 3.0);
    assert!(
        highest["notes"]
            .to_string()
            .contains("positions with several heights: the highest is used")
    );
}

#[test]
fn what_cannot_be_written_is_refused() {
    let site = Site::new();
    for (line, said) in [
        (
            "surface ground.xml --out ground.doc",
            "the file ending is not a format for surfaces",
        ),
        (
            "surface ground.xml --out ground.shp",
            "the file ending is not a format for surfaces",
        ),
        (
            "surface ground.xml --out ground.xml",
            "would be overwritten",
        ),
        ("surface level=4 --out a.xml", "a level has no edge"),
        (
            "surface survey.csv --out a.xml",
            "the file has no length unit",
        ),
        (
            "surface survey.csv --unit m --codes crest=breakline",
            "no code or layer has the name \"crest\"",
        ),
        (
            "surface survey.csv --unit m --codes crest=breakline --codes crest=edge",
            "given twice",
        ),
        (
            "surface survey.csv --unit m --codes a=line",
            "is not a use for \"a\"",
        ),
        (
            "surface ground.xml --nodata 10",
            "all heights are the no-data value 10",
        ),
    ] {
        let refused = site.refuse(line);
        assert!(refused.contains(said), "{line}\n{refused}");
    }
}

#[test]
fn degrees_and_other_systems_are_refused() {
    let site = Site::new();
    site.write(
        "degrees.csv",
        "east,north,height\n9.1234,52.5,61\n9.1240,52.5,62\n9.1237,52.503,61\n",
    );
    let refused = site.refuse("surface degrees.csv --unit m");
    assert!(refused.contains("look like degrees"), "{refused}");
    let with = |name: &str| {
        let system = format!("<CoordinateSystem name=\"{name}\"/><Surfaces>");
        GROUND.replace("<Surfaces>", &system)
    };
    site.write("a.xml", &with("Reach grid"));
    site.write("b.xml", &with("Valley grid"));
    let refused = site.refuse("volume a.xml b.xml");
    assert!(
        refused.contains("different coordinate systems") && refused.contains("--ignore-crs"),
        "{refused}"
    );
    let taken = site.succeed("volume a.xml b.xml --ignore-crs");
    assert!(
        taken.contains("Reach grid and Valley grid treated as the same"),
        "{taken}"
    );
    site.succeed("volume a.xml ground.xml");
}

/// Heights of cells of 2, from `height` at their middles.
fn ascii_grid(columns: i32, rows: i32, height: impl Fn(f64, f64) -> f64) -> String {
    let mut text = format!(
        "ncols {columns}\nnrows {rows}\nxllcorner 500000\nyllcorner 6000000\ncellsize 2\nNODATA_value -9999\n"
    );
    for j in (0..rows).rev() {
        let middle = |i: i32| f64::from(2 * i + 1);
        let row: Vec<String> = (0..columns)
            .map(|i| height(middle(i), middle(j)).to_string())
            .collect();
        text.push_str(&(row.join(" ") + "\n"));
    }
    text
}

#[test]
fn a_grid_is_a_surface_like_any_other() {
    let site = Site::new();
    site.write(
        "plane.asc",
        &ascii_grid(11, 6, |e, n| 10.0 + 0.5 * e + 0.25 * n),
    );
    // Between the middles of the outer cells: 20 by 10 from (1, 1), the middle at (11, 6).
    let expected = 200.0 * (5.5 + 1.5);
    let found = fill(&site, "plane.asc");
    assert!((found - expected).abs() < 1e-9 * expected, "{found}");
    let said = site.succeed(
        "surface plane.asc --unit m --out plane.dxf --out plane.xml --out again.asc --cell 2",
    );
    assert!(said.contains("100 triangles"), "{said}");
    for file in ["plane.dxf", "plane.xml"] {
        let written = fill(&site, file);
        assert!(
            (written - expected).abs() < 1e-9 * expected,
            "{file} {written}"
        );
    }
    // The middles of the outer cells stand on the surface's border.
    let again = site.json("surface again.asc --unit m --json");
    assert!(number(&again["area"]) >= 18.0 * 8.0);
    // The cell at (1, 3) has that height, on the border: two cells lose a facet of 2 by 2 / 2 each.
    let holed = site.json("surface plane.asc --unit m --nodata 11.25 --max-edge 1 --json");
    assert!((number(&holed["area"]) - 196.0).abs() < 1e-9);
    assert!(
        holed["notes"].to_string().contains("kept as delivered"),
        "{holed}"
    );
    let looked = site.succeed("inspect plane.asc --unit m");
    assert!(looked.contains("66 cells, 100 triangles"), "{looked}");
    let pair = site.json("inspect plane.asc plane.dxf --unit m --json");
    assert!((number(&pair["pair"]["common_area"]) - 200.0).abs() < 1e-6);
}

#[test]
fn a_surface_is_read_at_cells() {
    let site = Site::new();
    site.succeed("surface ground.xml --out ground.asc --out ground.tif --cell 0.5");
    let picture = site.json("surface ground.tif --json");
    assert_eq!(
        picture["heights"][0],
        serde_json::json!({"value": 10.0, "unit": "m"})
    );
    assert!((number(&picture["area"]) - 19.5 * 9.5).abs() < 1e-9);
    assert!(site.succeed("inspect ground.tif").contains("GeoTIFF"));
    let back = site.json("surface ground.asc --unit m --json");
    // Level ground of 20 by 10, between the middles of its outer cells.
    assert!((number(&back["area"]) - 19.5 * 9.5).abs() < 1e-9);
    let heights = [0, 1].map(|index| number(&back["heights"][index]));
    assert_eq!(heights, [10.0, 10.0]);
    for (line, said) in [
        ("surface ground.xml --out a.asc", "a grid needs a cell size"),
        (
            "surface ground.xml --out a.asc --cell 1e-9",
            "does not fit into 2GB",
        ),
        (
            "surface ground.xml --out a.asc --cell 0",
            "expected a length above zero",
        ),
        (
            "volume ground.xml survey.csv --unit m --zone hole.asc",
            "zones are needed here",
        ),
        ("volume ground.xml hole.asc", "the file has no length unit"),
        (
            "volume ground.xml hole.asc --unit m",
            "no grid cell has three heights",
        ),
        (
            "volume ground.xml short.asc --unit m",
            "the file has 5 heights",
        ),
    ] {
        site.write("cut.tif", "II*\0\u{8}\0\0\0\u{9}");
        site.write("hole.asc", &ascii_grid(3, 3, |_, _| -9999.0));
        site.write(
            "short.asc",
            "ncols 3\nnrows 2\nxllcorner 0\nyllcorner 0\ncellsize 1\n1 2 3 4 5\n",
        );
        let refused = site.refuse(line);
        assert!(refused.contains(said), "{line}\n{refused}");
    }
}

/// Points cannot hold a vertical step: that is said when it is written, and not only when it is read back.
#[test]
fn steps_are_reported_where_points_are_written() {
    let site = Site::new();
    site.write(
        "dapedon.toml",
        "[job]\nname = \"made up\"\nunit = \"m\"\n[zone.yard]\nfile = \"zone.geojson\"\n[surface.dug]\nfile = \"ground.xml\"\nsteps = [{ lower = 1, zones = \"yard\" }]\n",
    );
    let json = site.json("surface dug --out dug.csv --out dug.xml --json");
    let found = &json["warnings"][0];
    assert_eq!(found["code"], "steps-as-points", "{json}");
    // The corners of the yard, and where the diagonal of the ground crosses its edges.
    assert!(
        found["message"]
            .as_str()
            .unwrap()
            .starts_with("6 places have two heights"),
        "{found}"
    );
    let refused = site.refuse("surface dug.csv --unit m");
    assert!(
        refused.contains("the same position and different heights"),
        "{refused}"
    );
    let json = site.json("volume ground.xml dug.xml --json");
    let cut = crate::site::number(&json["zones"][0]["volume"]["cut"]);
    assert!((cut - 60.0).abs() < 1e-9, "{cut}");
    let json = site.json("surface dug --out again.xml --json");
    assert_eq!(json["warnings"], serde_json::json!([]));
}

/// The keys of a written grid say the unit and the systems in a way that is read back, here and elsewhere: a plan without a
/// code of its own kind with its unit, and no unit of heights without a system of heights.
#[test]
fn written_grids_keep_unit_and_systems() {
    let site = Site::new();
    let ground = |unit: &str, system: &str| {
        let unit = format!("<Imperial linearUnit=\"{unit}\"/>");
        let made = GROUND.replace("<Metric linearUnit=\"meter\"/>", &unit);
        made.replace("<Surfaces>", &format!("{system}<Surfaces>"))
    };
    for (unit, code, system) in [
        ("foot", "ft", ""),
        ("USSurveyFoot", "us-ft", ""),
        (
            "USSurveyFoot",
            "us-ft",
            "<CoordinateSystem epsgCode=\"2229\"/>",
        ),
        (
            "USSurveyFoot",
            "us-ft",
            "<CoordinateSystem epsgCode=\"2229\" verticalCoordinateSystemName=\"EPSG:6360\"/>",
        ),
        (
            "foot",
            "ft",
            "<CoordinateSystem verticalCoordinateSystemName=\"EPSG:8228\"/>",
        ),
    ] {
        site.write("in.xml", &ground(unit, system));
        let before = site.json("surface in.xml --cell 1 --out out.tif --json");
        let after = site.json("inspect out.tif --json");
        let file = &after["files"][0];
        assert_eq!(file["unit"], code, "{system}");
        assert_eq!(file["crs"], before["crs"], "{system}");
        assert_eq!(
            file["height_system"].as_str(),
            before["height_system"].as_str(),
            "{system}"
        );
        let bytes = std::fs::read(site.path().join("out.tif")).unwrap();
        let key = |number: u16| {
            let entry: Vec<u8> = [number, 0, 1]
                .iter()
                .flat_map(|n| n.to_le_bytes())
                .collect();
            let at = bytes.windows(6).position(|window| window == entry)?;
            Some(u16::from_le_bytes([bytes[at + 6], bytes[at + 7]]))
        };
        assert_eq!(
            key(1024),
            Some(if system.contains("epsgCode") {
                1
            } else {
                32_767
            }),
            "{system}"
        );
        assert_eq!(key(4099).is_some(), system.contains("vertical"), "{system}");
    }
}
