//! Cross-sections along a line, and the volumes between them.

use serde_json::Value;

use crate::site::{Site, number};

/// A bank on level ground at 10 that is the same all along a line to the north from 500100/6000000: 4 wide at the top and 2 high, slopes of 1:2,
/// from 10 south of the line's start to 10 north of its end.
fn prism(site: &Site) {
    let rows: Vec<String> = [-30, -6, -2, 2, 6, 30]
        .iter()
        .flat_map(|&offset: &i32| {
            let height = if offset.abs() == 2 { 12 } else { 10 };
            [-10, 110].map(|along| {
                format!(
                    "{},{},{height},row{offset}",
                    500_100 + offset,
                    6_000_000 + along
                )
            })
        })
        .collect();
    site.write(
        "bank.csv",
        &format!("east,north,height,code\n{}\n", rows.join("\n")),
    );
    site.write(
        "level.csv",
        "east,north,height\n500070,5999990,10\n500130,5999990,10\n500130,6000110,10\n500070,6000110,10\n",
    );
    site.write(
        "line.geojson",
        &line(&[[500_100.0, 6_000_000.0], [500_100.0, 6_000_100.0]]),
    );
    site.write(
        "back.geojson",
        &line(&[[500_100.0, 6_000_100.0], [500_100.0, 6_000_000.0]]),
    );
}

fn line(corners: &[[f64; 2]]) -> String {
    let corners: Vec<String> = corners.iter().map(|[e, n]| format!("[{e},{n}]")).collect();
    format!(
        r#"{{"type":"LineString","coordinates":[{}]}}"#,
        corners.join(",")
    )
}

const CODES: &str = "--codes row-30=breakline,row-6=breakline,row-2=breakline,row2=breakline,row6=breakline,row30=breakline";

fn bank(site: &Site, rest: &str) -> Value {
    site.json(&format!(
        "sections level.csv bank.csv --line line.geojson --unit m --json {CODES} {rest}"
    ))
}

fn volumes(json: &Value) -> [f64; 2] {
    ["cut", "fill"].map(|what| number(&json["total"][what]))
}

/// Sums of a few hundred products of lengths of a hundred: a billionth of the volume.
#[track_caller]
fn near(found: f64, expected: f64) {
    assert!(
        (found - expected).abs() <= 1e-9 * expected.abs().max(1.0),
        "{found} {expected}"
    );
}

#[test]
fn a_straight_bank_is_measured_without_error() {
    let site = Site::new();
    prism(&site);
    let found = bank(&site, "--every 30 --width 20");
    let sections = found["sections"].as_array().unwrap();
    let stations: Vec<&str> = sections
        .iter()
        .map(|s| s["station"].as_str().unwrap())
        .collect();
    assert_eq!(
        stations,
        ["0+000.00", "0+030.00", "0+060.00", "0+090.00", "0+100.00"]
    );
    for section in sections {
        near(number(&section["fill"]), 16.0);
        near(number(&section["cut"]), 0.0);
        near(number(&section["compared"]), 40.0);
        assert_eq!(section["heights"], serde_json::json!([10.0, 12.0]));
        near(number(&section["bearing"]), 0.0);
    }
    near(volumes(&found)[1], 1600.0);
    near(number(&found["exact"]["volume"]["fill"]), 1600.0);
    near(number(&found["stretches"][1]["exact"]["fill"]), 480.0);
    near(number(&found["stretches"][3]["running"]["net"]), 1600.0);
    assert_eq!(found["enough"]["within_one_percent"], true);
    assert_eq!(number(&found["enough"]["interval"]), 60.0);
    // Sides swapped, the line the other way, with a middle section, on one side, over a part.
    let swapped = site.json(&format!("sections bank.csv level.csv --line back.geojson --unit m --json --every 25 --width 20 {CODES}"));
    near(volumes(&swapped)[0], 1600.0);
    near(number(&swapped["sections"][0]["bearing"]), 180.0);
    near(
        volumes(&bank(
            &site,
            "--every 50 --width 20 --rule prismoidal --curve-correction",
        ))[1],
        1600.0,
    );
    near(
        volumes(&bank(&site, "--every 50 --left 0 --right 20"))[1],
        800.0,
    );
    near(
        volumes(&bank(
            &site,
            "--at 0+020,50 --from 0+010 --to 0+060 --width 20",
        ))[1],
        800.0,
    );
    // In feet the same.
    let feet = bank(
        &site,
        "--every 100 --width 60 --length-unit ft --volume-unit ft3",
    );
    near(volumes(&feet)[1], 1600.0 / 0.3048f64.powi(3));
    assert_eq!(feet["sections"][1]["station"], "1+00.00");
    // Another surface beside changes no figure.
    let beside = bank(&site, "--every 30 --width 20 --with ground.xml --corners");
    assert_eq!(beside["total"], found["total"]);
    let surfaces = beside["sections"][0]["surfaces"].as_array().unwrap();
    assert_eq!(surfaces.len(), 3);
    let corners: Vec<[f64; 2]> = serde_json::from_value(surfaces[1]["runs"][0].clone()).unwrap();
    let expected = [
        [-20.0, 10.0],
        [-6.0, 10.0],
        [-2.0, 12.0],
        [2.0, 12.0],
        [6.0, 10.0],
        [20.0, 10.0],
    ];
    assert_eq!(corners.len(), expected.len());
    for (corner, expected) in corners.iter().zip(expected) {
        assert!((corner[0] - expected[0]).abs() < 1e-7 && (corner[1] - expected[1]).abs() < 1e-7);
    }
    assert_eq!(surfaces[2]["runs"], serde_json::json!([]));
}

#[test]
fn zones_limit_sections_and_the_strip() {
    let site = Site::new();
    prism(&site);
    // From the line to 4 right of it, and from 20 to 80 along it.
    let ring = [[0, 20], [4, 20], [4, 80], [0, 80], [0, 20]];
    let corners: Vec<String> = ring
        .iter()
        .map(|[e, n]| format!("[{},{}]", 500_100 + e, 6_000_000 + n))
        .collect();
    site.write(
        "part.geojson",
        &format!(
            r#"{{"type":"Polygon","coordinates":[[{}]]}}"#,
            corners.join(",")
        ),
    );
    // Half the top, and a slope from 2 to 1: 4 + 3.
    for width in ["", "--width 25"] {
        let found = bank(
            &site,
            &format!("--every 20 --from 20 --to 80 --zone part.geojson {width}"),
        );
        near(number(&found["sections"][1]["fill"]), 7.0);
        near(volumes(&found)[1], 420.0);
        near(number(&found["exact"]["volume"]["fill"]), 420.0);
    }
    // Beyond the zone there is no ground: said in place of an area of zero.
    let found = bank(&site, "--every 50 --zone part.geojson");
    assert_eq!(found["sections"][0].get("fill"), None);
    let table = site.succeed(&format!("sections level.csv bank.csv --line line.geojson --unit m --every 50 --zone part.geojson {CODES}"));
    assert!(table.contains("no ground"), "{table}");
}

#[test]
fn a_tip_shows_the_error_of_the_formula_and_how_to_mend_it() {
    let site = Site::new();
    // A pyramid with its tip at the start of a line of 30, 30 wide and 15 high at its end: areas by the square of the distance.
    site.write(
        "tip.csv",
        "east,north,height\n500100,6000000,10\n500085,6000030,10\n500100,6000030,25\n500115,6000030,10\n",
    );
    site.write(
        "level.csv",
        "east,north,height\n500070,5999990,10\n500130,5999990,10\n500130,6000110,10\n500070,6000110,10\n",
    );
    site.write(
        "line.geojson",
        &line(&[[500_100.0, 6_000_000.0], [500_100.0, 6_000_030.0]]),
    );
    let run = |rest: &str| {
        site.json(&format!(
            "sections level.csv tip.csv --line line.geojson --unit m --json --width 20 {rest}"
        ))
    };
    let exact = 225.0 * 30.0 / 3.0;
    let whole = run("--every 30");
    near(volumes(&whole)[1], 1.5 * exact);
    near(number(&whole["exact"]["volume"]["fill"]), exact);
    near(number(&whole["exact"]["share"]["fill"]), 0.5);
    near(volumes(&run("--every 30 --rule prismoidal"))[1], exact);
    // By halves the error falls to a quarter each time: 50, 12.5, 3.1 and 0.8 percent at 3.75.
    assert_eq!(number(&whole["enough"]["interval"]), 3.75);
    near(number(&whole["enough"]["share"]["fill"]), 0.5 / 64.0);
    let refined = run("--every 30 --refine");
    assert!(volumes(&refined)[1] < 1.1 * exact, "{refined}");
    let text = site
        .succeed("sections level.csv tip.csv --line line.geojson --unit m --width 12 --every 10");
    insta::assert_snapshot!(text);
}

#[test]
fn a_curve_is_corrected_for() {
    let site = Site::new();
    // A quarter turn to the left of radius 50; ground at 10, level at 12: 2 high from 10 left to 20 right.
    site.write(
        "line.xml",
        r#"<LandXML><Units><Metric linearUnit="meter"/></Units><Alignments><Alignment name="arc" length="78.53981633974483" staStart="1000">
<CoordGeom><Curve rot="ccw" radius="50"><Start>6000000 500000</Start><Center>6000050 500000</Center><End>6000050 500050</End></Curve></CoordGeom></Alignment></Alignments></LandXML>"#,
    );
    site.write(
        "level.csv",
        "east,north,height\n499900,5999900,10\n500200,5999900,10\n500200,6000200,10\n499900,6000200,10\n",
    );
    let run = |rest: &str| {
        site.json(&format!("sections level.csv level=12 --line line.xml --unit m --json --left 10 --right 20 {rest}"))
    };
    let (plain, corrected) = (run("--every 10"), run("--every 10 --curve-correction"));
    let length = 25.0 * std::f64::consts::PI;
    near(volumes(&plain)[1], 60.0 * length);
    // The middle of the area is 5 outside of the line.
    near(volumes(&corrected)[1], 60.0 * length * 55.0 / 50.0);
    // The strip has chords a fifth of a millimetre off its curves.
    let exact = number(&corrected["exact"]["volume"]["fill"]);
    assert!(
        (exact / volumes(&corrected)[1] - 1.0).abs() < 1e-5,
        "{exact}"
    );
    assert_eq!(plain["sections"][1]["station"], "1+010.00");
    // Wider than the curve's radius, sections cross on its inner side.
    let crossed = site.json("sections level.csv level=12 --line line.xml --unit m --json --left 60 --right 5 --every 10");
    let said = Site::warnings(&crossed).join("\n");
    assert!(
        said.contains("pairs of sections cross")
            && said.contains("10.00 m before their end on the left"),
        "{said}"
    );
    assert_eq!(crossed.get("exact"), None);
}

#[test]
fn what_is_missing_is_said() {
    let site = Site::new();
    prism(&site);
    let found = bank(&site, "--every 50 --left 20 --right 45");
    let said = Site::warnings(&found).join("\n");
    assert!(
        said.contains("level.csv does not reach over the width of 3 of 3 sections"),
        "{said}"
    );
    assert!(said.contains("15.00 m on the right"), "{said}");
    near(number(&found["sections"][0]["not_compared"]), 15.0);
    // A surface with itself: nothing, and said.
    let same = site.json(
        "sections level.csv level.csv --unit m --json --line line.geojson --every 50 --width 5",
    );
    assert!(Site::warnings(&same).join("\n").contains("are the same"));
    assert_eq!(same.get("enough"), None);
    // A line that bends, and one that crosses itself.
    let corners = [
        [500_090.0, 6_000_010.0],
        [500_110.0, 6_000_010.0],
        [500_110.0, 6_000_030.0],
        [500_100.0, 6_000_000.0],
    ];
    site.write("knot.geojson", &line(&corners));
    let found = site.json(&format!("sections level.csv bank.csv --line knot.geojson --unit m --json --every 50 --width 2 {CODES}"));
    let said = Site::warnings(&found).join("\n");
    assert!(
        said.contains("the line crosses itself at east 500103.33, north 6000010.00"),
        "{said}"
    );
    assert!(
        said.contains("the line bends at 2 places without a curve"),
        "{said}"
    );
}

#[test]
fn bad_requests_get_one_clear_error() {
    let site = Site::new();
    prism(&site);
    site.write(
        "jump.xml",
        r#"<LandXML><Units><Metric linearUnit="meter"/></Units><Alignments><Alignment name="jump" length="100" staStart="0">
<CoordGeom><Line><Start>6000000 500100</Start><End>6000100 500100</End></Line></CoordGeom>
<StaEquation staAhead="40" staBack="60" staInternal="60"/></Alignment></Alignments></LandXML>"#,
    );
    for (line, rest, words) in [
        ("line.geojson", "--every 0.001 --width 5", "at most 20000"),
        (
            "line.geojson",
            "--every 10 --width 1e300",
            "wider than any site",
        ),
        (
            "line.geojson",
            "--every 10 --width 5 --sheets s.svg --exaggeration 1e9",
            "0.1 to 100 times",
        ),
        (
            "line.geojson",
            "--every 0.01 --width 20 --memory 1MB",
            "do not fit into",
        ),
        (
            "line.geojson",
            "--at 0+200 --width 5",
            "which runs from 0+000.00 to 0+100.00",
        ),
        (
            "line.geojson",
            "--every 10 --width 5 --from 50 --to 40",
            "has no length",
        ),
        ("line.geojson", "--every 10 --width 0", "'0'"),
        ("line.geojson", "--every 10 --left 3", "--right"),
        ("line.geojson", "--every 10", "--width"),
        ("line.geojson", "--width 5", "--every"),
        ("line.geojson", "--at 1+2 --width 5", "expected a chainage"),
        (
            "line.geojson",
            "--every 10 --left 0 --right 0",
            "no section has both surfaces",
        ),
        (
            "jump.xml",
            "--at 0+050 --width 5",
            "more than once, because of an equation: 50.00 and 70.00",
        ),
        ("zone.geojson", "--every 10 --width 5", "line"),
        ("none.geojson", "--every 10 --width 5", "none.geojson"),
    ] {
        let (code, out, refused) = site.run(&format!(
            "sections level.csv bank.csv --unit m {CODES} --line {line} {rest}"
        ));
        assert!(code == 2 && out.is_empty(), "{line} {rest}: {refused}");
        assert!(refused.contains(words), "{line} {rest}: {refused}");
    }
}

/// Words of a sheet: left, top, right and bottom in units of the drawing, and what they say.
fn words(svg: &str) -> Vec<([f64; 4], String)> {
    let value = |tag: &str, name: &str| -> Option<f64> {
        let (_, rest) = tag.split_once(&format!(" {name}=\""))?;
        rest.split('"').next()?.parse().ok()
    };
    let texts = svg.split("<text").skip(1).map(|rest| {
        let (tag, rest) = rest.split_once('>').unwrap();
        let said = rest.split("</text>").next().unwrap().to_owned();
        let [x, y, size] = ["x", "y", "font-size"].map(|name| value(tag, name).unwrap());
        // Letters of the font are about six tenths of its size wide; figures stand 0.73 of it high.
        let (wide, high) = (0.6 * size * said.chars().count() as f64, 0.73 * size);
        let left = match tag {
            tag if tag.contains("\"middle\"") => x - wide / 2.0,
            tag if tag.contains("\"end\"") => x - wide,
            _ => x,
        };
        ([left, y - high / 2.0, left + wide, y + high / 2.0], said)
    });
    texts.collect()
}

#[test]
fn sheets_hold_all_sections_and_nothing_overlaps() {
    let site = Site::new();
    prism(&site);
    site.write(
        "steep.csv",
        "east,north,height\n500070,5999990,10\n500130,5999990,250\n500130,6000110,250\n500070,6000110,10\n",
    );
    for (surfaces, rest) in [
        ("level.csv bank.csv", "--every 5 --width 15"),
        (
            "level.csv bank.csv",
            "--every 20 --width 15 --paper a4 --upright --scale 1:200",
        ),
        (
            "level.csv bank.csv",
            "--every 25 --width 15 --paper a1 --with steep.csv --exaggeration 2",
        ),
        // Too high for the sheet at the scale: broken, with a datum for each stretch.
        ("level.csv steep.csv", "--every 50 --width 25 --scale 200"),
    ] {
        let line = format!(
            "sections {surfaces} --unit m {CODES} --line line.geojson {rest} --sheets sheet.svg"
        );
        let codes = match surfaces.contains("bank") {
            true => line.clone(),
            false => line.replace(CODES, ""),
        };
        let found = site.json(&format!("{codes} --json"));
        let printed = site.succeed(&codes);
        let names: Vec<String> = site
            .files()
            .into_iter()
            .filter(|name| name.starts_with("sheet-"))
            .collect();
        assert!(names.len() > 1, "{rest}: {names:?}");
        let mut stations = 0;
        for name in &names {
            assert!(printed.contains(&format!("Written: {name}")), "{printed}");
            let svg = site.read(name);
            let (_, view) = svg.split_once("viewBox=\"0 0 ").unwrap();
            let size: Vec<f64> = view
                .split('"')
                .next()
                .unwrap()
                .split(' ')
                .map(|n| n.parse().unwrap())
                .collect();
            let words = words(&svg);
            stations += words
                .iter()
                .filter(|(_, said)| said.starts_with("0+") && said.len() == 8)
                .count();
            for (index, (one, said)) in words.iter().enumerate() {
                assert!(
                    one[0] >= 0.0 && one[1] >= 0.0 && one[2] <= size[0] && one[3] <= size[1],
                    "{name}: {said} leaves the sheet"
                );
                for (other, also) in &words[index + 1..] {
                    let meet = one[0] < other[2]
                        && other[0] < one[2]
                        && one[1] < other[3]
                        && other[1] < one[3];
                    assert!(!meet, "{rest}: {name}: \"{said}\" and \"{also}\" overlap");
                }
            }
            std::fs::remove_file(site.path().join(name)).unwrap();
        }
        assert_eq!(
            stations,
            found["sections"].as_array().unwrap().len(),
            "{rest}"
        );
    }
}

#[test]
fn sheets_are_true_to_scale_in_pictures_and_drawings() {
    let site = Site::new();
    prism(&site);
    let line = format!(
        "sections level.csv bank.csv --unit m {CODES} --line line.geojson --at 0+050 --from 45 --to 55 --width 20 --scale 1:250 --sheets"
    );
    site.succeed(&format!(
        "{line} sheet.dxf --sheets sheet.png --dpi 50 --report page.html"
    ));
    assert!(
        site.read("page.html")
            .contains("Long-section, 0+045.00 to 0+055.00")
    );
    assert!(site.files().iter().any(|name| name == "sheet-1.png"));
    let dxf = site.read("sheet.dxf");
    // The crest of the bank is 4 wide on the ground: offsets in the drawing are those of the ground.
    let bank: Vec<&str> = dxf
        .split("POLYLINE\n8\nSURFACE_BANK_CSV\n")
        .skip(1)
        .collect();
    assert!(!bank.is_empty(), "{dxf}");
    let corner = |vertex: &str| -> [f64; 2] {
        let lines: Vec<&str> = vertex.lines().collect();
        ["10", "20"].map(|code| {
            let at = lines.iter().position(|line| *line == code).unwrap();
            lines[at + 1].parse().unwrap()
        })
    };
    let corners: Vec<[f64; 2]> = bank[0]
        .split("SEQEND")
        .next()
        .unwrap()
        .split("VERTEX")
        .skip(1)
        .map(corner)
        .collect();
    let steps: Vec<[f64; 2]> = corners
        .windows(2)
        .map(|pair| [pair[1][0] - pair[0][0], pair[1][1] - pair[0][1]])
        .collect();
    let expected = [
        [14.0, 0.0],
        [4.0, 2.0],
        [4.0, 0.0],
        [4.0, -2.0],
        [14.0, 0.0],
    ];
    assert_eq!(steps.len(), expected.len(), "{steps:?}");
    for (step, expected) in steps.iter().zip(expected) {
        // Written to a tenth of a millimetre.
        assert!(
            (step[0] - expected[0]).abs() < 2e-4 && (step[1] - expected[1]).abs() < 2e-4,
            "{step:?}"
        );
    }
    let refused = site.refuse(&format!("{line} sheet.pdf"));
    assert!(
        refused.contains("use the ending .svg, .png or .dxf"),
        "{refused}"
    );
    let refused = site.refuse(
        &line
            .replace("1:250", "1:20")
            .replace("--sheets", "--sheets sheet.svg"),
    );
    assert!(
        refused.contains("does not fit the paper at 1:20; it fits at 1:"),
        "{refused}"
    );
}

/// A job that pays the bank of [`prism`] by sections.
fn job(site: &Site, rest: &str) {
    site.write(
        "dapedon.toml",
        &format!(
            r#"[job]
name = "bank"
unit = "m"
currency = "EUR"

[reading.coded]
codes = ["row-30,row-6,row-2,row2,row6,row30=breakline"]

[surface.level]
file = "level.csv"

[surface.bank]
file = "bank.csv"
as = "coded"

[line.axis]
file = "line.geojson"

[material.clay]
swell = 1.25
shrink = 0.9

[[item]]
code = "1"
description = "Place the bank"
unit = "m3"
measure = "fill"
reference = "level"
surveyed = "bank"
{rest}
"#
        ),
    );
}

#[test]
fn an_item_may_be_paid_by_sections() {
    let site = Site::new();
    prism(&site);
    job(
        &site,
        "material = \"clay\"\nsections = { line = \"axis\", every = 30, width = 20 }\nrate = 2",
    );
    let bill = site.json("measure --json");
    let item = &bill["sections"][0]["items"][0];
    assert_eq!(
        (&item["quantity"], &item["amount"]),
        (&"1600.0".into(), &"3200.00".into()),
        "{item}"
    );
    assert_eq!(item["rows"][0]["zone"], "axis");
    let sections = &item["by_sections"];
    assert_eq!(sections["sections"], 5);
    near(number(&sections["volume"]["fill"]), 1600.0);
    near(number(&sections["exact"]["fill"]), 1600.0);
    assert_eq!(bill["line_files"][0]["path"], "line.geojson");
    // The same item from its corners to the tip: too much by the formula, and the volume between the surfaces beside it.
    let told = site.succeed("measure 1 --explain");
    assert!(
        told.contains(
            "fill, sections along axis every 30 m, 20 m to each side, by average end area"
        ),
        "{told}"
    );
    assert!(
        told.contains("5 sections; between the surfaces over the same strip 1 600"),
        "{told}"
    );
    // Nothing changes with what else is measured, and a part of the line is a part of the volume.
    job(
        &site,
        "sections = { line = \"axis\", every = 50, left = 20, right = 0, from = \"0+010\", to = \"0+060\", rule = \"prismoidal\" }",
    );
    let half = site.json("measure --json");
    assert_eq!(half["sections"][0]["items"][0]["quantity"], "400.0");
    for (rest, words) in [
        (
            "sections = { line = \"axle\", every = 20, width = 5 }",
            "axle",
        ),
        (
            "sections = { line = \"axis\", every = 0, width = 5 }",
            "not above zero",
        ),
        ("sections = { line = \"axis\", every = 20 }", "how wide"),
        (
            "sections = { line = \"axis\", every = 20, width = 5, left = 3 }",
            "given twice",
        ),
        (
            "sections = { line = \"axis\", every = 20, width = 5, to = \"far\" }",
            "not a chainage",
        ),
        (
            "sections = { line = \"axis\", every = 20, width = 5, to = \"0+500\" }",
            "which runs from",
        ),
        (
            "sections = { line = \"axis\", every = 20, width = 5 }\ntolerance = 0.1",
            "tolerance has no effect",
        ),
        (
            "sections = { line = \"axis\", every = 20, width = 5, rule = \"guess\" }",
            "prismoidal",
        ),
    ] {
        job(&site, rest);
        let refused = site.refuse("measure");
        assert!(
            refused.contains(words) && refused.contains("dapedon.toml"),
            "{rest}: {refused}"
        );
    }
}

#[test]
fn what_is_cut_is_carried_to_where_it_is_filled() {
    let site = Site::new();
    prism(&site);
    // From 1 below the level at the start of the line to 1 above it at its end.
    site.write(
        "tilted.csv",
        "east,north,height\n500070,5999990,8.8\n500130,5999990,8.8\n500130,6000110,11.2\n500070,6000110,11.2\n",
    );
    let line = "sections level.csv tilted.csv --unit m --line line.geojson --every 10 --width 20 --mass-haul";
    let found = site.json(&format!("{line} --json --free-haul 50"));
    let haul = &found["mass_haul"];
    // 40 wide: cut falls from 40 m² to nothing in the middle, and fill rises to as much: 1000 each. Where the areas cross zero is a station.
    near(number(&haul["carried"]), 1000.0);
    assert!(number(&haul["surplus"]).abs() < 1e-9);
    let loops = haul["loops"].as_array().unwrap();
    assert_eq!((loops.len(), &loops[0]["direction"]), (1, &"ahead".into()));
    // The running sum at the stations is 360, 640, 840, 960, 1000 and back: the area below it in straight parts.
    near(number(&haul["haul"]), 66_000.0);
    near(number(&loops[0]["mean_distance"]), 66.0);
    assert_eq!(haul["highest"]["station"], "0+050.00");
    let overhaul = number(&haul["overhaul"]);
    assert!(
        overhaul > 0.25 * 66_000.0 && overhaul < 0.5 * 66_000.0,
        "{overhaul}"
    );
    // Of half as much cut the rest comes from outside, at the end of the fill by the shortest way, or where it is told to.
    let short = site.json(&format!("{line} --json --shrink 50%"));
    near(number(&short["mass_haul"]["surplus"]), -500.0);
    let told = site.json(&format!("{line} --json --shrink 50% --access 0+000"));
    assert_eq!(told["mass_haul"]["access"]["station"], "0+000.00");
    assert!(number(&told["mass_haul"]["haul"]) > number(&short["mass_haul"]["haul"]));
    insta::assert_snapshot!(site.succeed(&format!("{line} --free-haul 50 --shrink 0.9")));
    site.succeed(&format!("{line} --report page.html --sheets haul.svg"));
    assert!(site.read("page.html").contains("carried ahead"));
    for (rest, words) in [
        ("--access 5+000", "which runs from"),
        ("--shrink 2", "shrink"),
        ("--free-haul -1", "not a width"),
    ] {
        let refused = site.refuse(&format!("{line} {rest}"));
        assert!(refused.contains(words), "{rest}: {refused}");
    }
    let refused = site.refuse(&line.replace("--mass-haul", "--shrink 0.9"));
    assert!(refused.contains("--mass-haul"), "{refused}");
}

#[test]
fn a_map_shows_where_sections_are_cut() {
    let site = Site::new();
    prism(&site);
    let line = format!(
        "sections level.csv bank.csv --unit m {CODES} --line line.geojson --every 25 --width 20"
    );
    let told = site.json(&format!("{line} --json --map map.svg"));
    assert_eq!(told["total"], site.json(&format!("{line} --json"))["total"]);
    let svg = site.read("map.svg");
    let lines: Vec<&str> = svg
        .lines()
        .filter(|line| line.contains("#5a1f6b") && line.starts_with("<path"))
        .collect();
    assert_eq!((lines.len(), lines[0].matches('M').count()), (1, 5));
    for said in [
        ">0+050.00<",
        "Sections along line.geojson",
        "Fill, to 2.00 m",
    ] {
        assert!(svg.contains(said), "{said}");
    }
    // The amounts of the legend are those of the strip.
    let texts = svg
        .split("</text>")
        .filter_map(|part| part.rsplit('>').next());
    let amounts = texts.filter_map(|said| {
        let volume = said.split_once("m², ")?.1.strip_suffix("m³")?;
        let figures: String = volume
            .chars()
            .filter(|c| c.is_ascii_digit() || *c == '.')
            .collect();
        figures.parse::<f64>().ok()
    });
    let sum: f64 = amounts.sum();
    assert!((sum - 1600.0).abs() < 0.5, "{sum}");
    site.succeed(&format!("{line} --map map.png"));
}

/// A trench with upright ends, and sections that fall on them: areas just before and just behind, so that the volume has no error.
#[test]
fn sections_on_upright_faces_have_two_areas() {
    let site = Site::new();
    prism(&site);
    site.write(
        "dapedon.toml",
        r#"
[job]
name = "Trench"
unit = "m"
[surface.level]
file = "level.csv"
[zone.trench]
corners = [[500095, 6000020], [500105, 6000020], [500105, 6000060], [500095, 6000060]]
[surface.trench]
start = "level"
steps = [{ lower = 2, zones = "trench" }]
[surface.short]
start = "level"
steps = [{ raise = 1 }, { keep = "inside", zones = "trench" }]
[line.middle]
corners = [[500100, 6000000, 10], [500100, 6000100, 10]]
"#,
    );
    let measured = |surfaces: &str, rest: &str| {
        site.json(&format!(
            "sections {surfaces} --line middle --width 10 --json {rest}"
        ))
    };
    for rest in [
        "--every 20",
        "--every 20 --rule prismoidal",
        "--at 0+020,0+060",
        "--every 20 --curve-correction",
    ] {
        let found = measured("level trench", rest);
        near(volumes(&found)[0], 800.0);
        let both = measured("trench level", rest);
        near(volumes(&both)[1], 800.0);
    }
    let found = measured("level trench", "--every 20");
    let sections = found["sections"].as_array().unwrap();
    let at = |station: &str| sections.iter().find(|s| s["station"] == station).unwrap();
    near(number(&at("0+020.00")["cut"]), 0.0);
    near(number(&at("0+020.00")["ahead"]["cut"]), 20.0);
    near(number(&at("0+060.00")["cut"]), 20.0);
    near(number(&at("0+060.00")["ahead"]["cut"]), 0.0);
    assert!(at("0+040.00").get("ahead").is_none());
    // At both ends there is one side only.
    let part = measured("level trench", "--every 20 --from 0+020 --to 0+060");
    near(volumes(&part)[0], 800.0);
    assert!(
        part["sections"]
            .as_array()
            .unwrap()
            .iter()
            .all(|s| s.get("ahead").is_none())
    );
    let told = site.succeed("sections level trench --line middle --width 10 --every 20");
    assert!(
        told.contains("at an upright face areas just before and just behind it"),
        "{told}"
    );
    // A surface that ends at a section.
    let short = measured("level short", "--every 20 --from 0+020 --to 0+060");
    near(volumes(&short)[1], 400.0);
}

/// Two layers over a formation: each an area of its own, of thickness times width, wherever its zone reaches.
#[test]
fn cross_sections_of_a_file_are_a_surface() {
    let site = Site::new();
    // A quarter turn to the left of radius 50, with ten sections: flat at 12 from 5 left to 8 right, and a bank on a straight behind it.
    let quarter = 25.0 * std::f64::consts::PI;
    let flat = |index: i32| {
        let station = 1000.0 + quarter * f64::from(index) / 9.0;
        format!(
            r#"<CrossSect sta="{station}"><CrossSectSurf name="deck"><PntList2D>-5 12 0 12 8 12</PntList2D></CrossSectSurf></CrossSect>"#
        )
    };
    let bank = |station: f64| {
        format!(
            r#"<CrossSect sta="{station}"><DesignCrossSectSurf name="bank"><CrossSectPnt>-7 10</CrossSectPnt><CrossSectPnt>-1 13</CrossSectPnt><CrossSectPnt>1 13</CrossSectPnt><CrossSectPnt>7 10</CrossSectPnt></DesignCrossSectSurf></CrossSect>"#
        )
    };
    let sections: String = (0..10)
        .map(flat)
        .chain([quarter + 1005.0, quarter + 1018.0].map(bank))
        .collect();
    site.write(
        "road.xml",
        &format!(
            r#"<LandXML><Units><Metric linearUnit="meter"/></Units><Alignments><Alignment name="road" length="{}" staStart="1000">
<CoordGeom><Curve rot="ccw" radius="50"><Start>6000000 500000</Start><Center>6000050 500000</Center><End>6000050 500050</End></Curve>
<Line><Start>6000050 500050</Start><End>6000070 500050</End></Line></CoordGeom><CrossSects>{sections}</CrossSects></Alignment></Alignments></LandXML>"#,
            quarter + 20.0
        ),
    );
    let fill = |name: &str| {
        let json = site.json(&format!(
            "volume level=10 road.xml#road/{name} --unit m --json"
        ));
        let said = Site::warnings(&json).join("\n");
        assert!(!said.contains("cross"), "{said}");
        number(&json["zones"][0]["volume"]["fill"])
    };
    // Between two sections there is a plane: nine triangles less nine smaller ones.
    let sines = 9.0 * (std::f64::consts::FRAC_PI_2 / 9.0).sin();
    near(
        fill("deck"),
        2.0 * (58.0 * 58.0 - 45.0 * 45.0) / 2.0 * sines,
    );
    near(fill("bank"), 13.0 * 3.0 * (2.0 + 14.0) / 2.0);
    let told = site.succeed("inspect road.xml");
    assert!(
        told.contains("road/deck") && told.contains("road/bank"),
        "{told}"
    );
    let said = site.refuse("volume level=10 road.xml --unit m");
    assert!(
        said.contains("road/bank") && said.contains("road/deck"),
        "{said}"
    );
}

#[test]
fn layers_are_cut_too() {
    let site = Site::new();
    prism(&site);
    site.write(
        "dapedon.toml",
        r#"
[job]
name = "Layers"
unit = "m"
[surface.level]
file = "level.csv"
[line.middle]
corners = [[500100, 6000000, 10], [500100, 6000100, 10]]
[zone.lane]
line = "middle"
left = -3
right = 2
from = "0+020"
to = "0+080"
[zone.edge]
line = "middle"
left = 2
right = 4
[build-up.lane]
zones = "lane"
layers = [{ name = "paving", thickness = 0.1 }, { name = "stone", thickness = 0.4 }]
[build-up.edge]
zones = "edge"
layers = [{ name = "stone", thickness = 0.2 }]
[surface.formation]
start = "level"
steps = [{ build-up = ["lane", "edge"] }]
"#,
    );
    let run = |rest: &str| {
        site.json(&format!(
            "sections level formation --line middle --width 10 --every 20 --layers --json {rest}"
        ))
    };
    let found = run("");
    let layers = found["layers"].as_array().unwrap();
    let names: Vec<&str> = layers
        .iter()
        .map(|l| l["layer"].as_str().unwrap())
        .collect();
    assert_eq!(names, ["paving", "stone"]);
    let area = |layer: usize, section: usize| number(&layers[layer]["areas"][section]);
    near(area(0, 2), 0.5);
    near(area(1, 2), 2.0 + 0.4);
    near(area(1, 0), 0.4);
    // The lane begins and ends upright, at sections.
    for what in ["volume", "exact"] {
        near(number(&layers[0][what]), 60.0 * 0.5);
        near(number(&layers[1][what]), 60.0 * 2.0 + 100.0 * 0.4);
    }
    near(volumes(&found)[0], 30.0 + 160.0);
    let told = site.succeed(
        "sections level formation --line middle --width 10 --every 20 --layers --sheets layers.svg --csv layers.csv",
    );
    assert!(told.contains("Volumes of the layers"), "{told}");
    assert!(
        site.read("layers-1.svg").contains("under stone")
            || site.read("layers.svg").contains("under stone")
    );
    assert!(site.read("layers.csv").contains("area of paving"));
    let none = site.refuse("sections level level --line middle --width 10 --every 20 --layers");
    assert!(
        none.contains("neither surface goes below a build-up"),
        "{none}"
    );
}
