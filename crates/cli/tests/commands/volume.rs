//! `volume` and `inspect` on files whose figures are plain: all areas and volumes are of boxes.

use crate::site::number;
use crate::site::{SURVEY, Site};

const PLAIN: &str = "volume ground.xml survey.csv --unit m";

#[track_caller]
fn near(found: &serde_json::Value, expected: f64) {
    let found = number(found);
    assert!(
        (found - expected).abs() <= 1e-9 * expected.abs().max(1.0),
        "{found} is not {expected}"
    );
}

#[test]
fn figures_of_a_box() {
    let site = Site::new();
    let json = site.json(&format!("{PLAIN} --json"));
    let all = &json["zones"][0];
    assert_eq!(
        (json["command"].as_str(), all["zone"].as_str()),
        (Some("volume"), Some("all"))
    );
    near(&all["volume"]["fill"], 240.0);
    near(&all["volume"]["cut"], 0.0);
    near(&all["volume"]["net"], 240.0);
    near(&all["area"]["compared"], 160.0);
    near(&all["area"]["fill"], 160.0);
    near(&all["area"]["reference_only"], 40.0);
    near(&all["area"]["surveyed_only"], 0.0);
    near(&all["difference"]["max"], 1.5);
    near(&all["difference"]["mean"], 1.5);
    assert_eq!(
        Site::warnings(&json)[0],
        "40.0 m² covered by only the reference, not compared"
    );
}

#[test]
fn zones_levels_and_swapped_sides() {
    let site = Site::new();
    let yard = site.json("volume survey.csv ground.xml --unit m --zone zone.geojson --json");
    near(&yard["zones"][0]["volume"]["cut"], 90.0);
    near(&yard["zones"][0]["volume"]["net"], -90.0);
    near(&yard["zones"][0]["closure"]["domain"], 60.0);
    assert!(yard["warnings"].as_array().unwrap().is_empty());
    let level = site.json("volume ground.xml#ground level=9.25 --json");
    near(&level["zones"][0]["volume"]["cut"], 150.0);
    let levels = site.json("volume level=1 level=3 --unit m --zone zone.geojson#yard --json");
    near(&levels["zones"][0]["volume"]["fill"], 120.0);
    let still = site.json(&format!("{PLAIN} --tolerance 1.5 --json"));
    near(&still["zones"][0]["area"]["unchanged"], 160.0);
    near(&still["zones"][0]["volume"]["unchanged"], 240.0);
    near(&still["zones"][0]["volume"]["net"], 0.0);
}

#[test]
fn units_are_converted_and_told_apart() {
    let site = Site::new();
    // The same survey in US survey feet: 3937/1200 feet to the metre.
    let feet = |metres: f64| metres * 3937.0 / 1200.0;
    let corners = [(0.0, 0.0), (16.0, 0.0), (16.0, 10.0), (0.0, 10.0)];
    let rows = corners.map(|(e, n)| {
        format!(
            "{:.9},{:.9},{:.9}\n",
            feet(500_000.0 + e),
            feet(6e6 + n),
            feet(11.5)
        )
    });
    site.write("feet.csv", &format!("east,north,height\n{}", rows.concat()));
    let metres = site.json("volume ground.xml feet.csv --unit us-ft --json");
    let volume = number(&metres["zones"][0]["volume"]["fill"]);
    // Coordinates of twenty million feet are spaced by four nanometres.
    assert!((volume - 240.0).abs() < 1e-5, "{volume}");
    let yards = site.json("volume feet.csv level=0 --unit us-ft --json");
    assert_eq!(
        yards["units"],
        serde_json::json!({"length": "us-ft", "area": "us-ft2", "volume": "us-yd3", "decimals": 1})
    );
    let cut = number(&yards["zones"][0]["volume"]["cut"]);
    let expected = feet(16.0) * feet(10.0) * feet(11.5) / 27.0;
    assert!((cut - expected).abs() < 1e-5, "{cut} is not {expected}");
    let acres = site.json(
        "volume ground.xml level=0 --length-unit ft --area-unit acre --volume-unit ft3 --json",
    );
    near(
        &acres["zones"][0]["area"]["compared"],
        200.0 / 4_046.856_422_4,
    );
    near(
        &acres["zones"][0]["volume"]["cut"],
        2000.0 / 0.3048f64.powi(3),
    );
}

#[test]
fn tables_can_be_read_aloud() {
    let site = Site::new();
    site.zone(
        "two.geojson",
        &[
            ("west", &[(0, 0), (8, 0), (8, 10), (0, 10), (0, 0)]),
            ("east", &[(8, 0), (20, 0), (20, 10), (8, 10), (8, 0)]),
        ],
    );
    insta::assert_snapshot!(site.succeed(&format!("{PLAIN} --zone two.geojson --tolerance 0.02")));
    insta::assert_snapshot!(site.succeed("inspect ground.xml survey.csv two.geojson"));
}

#[test]
fn json_keeps_its_shape() {
    let site = Site::new();
    let json = site.json("volume survey.csv level=10 --unit m --zone zone.geojson --json");
    insta::assert_json_snapshot!(json);
    let inspected = site.json("inspect survey.csv --json");
    insta::assert_json_snapshot!(inspected);
}

#[test]
fn maps_and_reports_are_written_the_same_each_time() {
    let site = Site::new();
    let line = format!("{PLAIN} --zone zone.geojson --map map.svg --report page.html --title Yard");
    site.succeed(&line);
    let (map, page) = (site.read("map.svg"), site.read("page.html"));
    let files = site.files();
    site.succeed(&line);
    assert_eq!(
        (site.read("map.svg"), site.read("page.html")),
        (map.clone(), page.clone())
    );
    assert_eq!(site.files(), files);
    assert!(
        map.starts_with("<svg")
            && map.contains(">yard</text>")
            && map.contains("data:image/png;base64,")
    );
    assert!(page.contains("<h1>Yard</h1>") && page.contains(map.trim_end()));
    let digest = dapedon_job::digest(SURVEY.as_bytes());
    assert!(page.contains(&digest));
    assert!(
        !page.contains("http://")
            || page.matches("http://").count()
                == page.matches("http://www.w3.org/2000/svg").count()
    );
}

#[test]
fn words_from_files_cannot_break_the_page() {
    let site = Site::new();
    site.zone(
        "odd.geojson",
        &[("<script>&", &[(2, 2), (12, 2), (12, 8), (2, 2)])],
    );
    site.succeed(&format!(
        "{PLAIN} --zone odd.geojson --report page.html --map map.svg"
    ));
    assert!(
        !site.read("page.html").contains("<script>") && !site.read("map.svg").contains("<script>")
    );
}

#[test]
fn what_is_doubtful_is_said() {
    let site = Site::new();
    let folded = crate::site::GROUND.replace(
        "<F>1 3 4</F>",
        "<F>1 3 4</F><F>1 2 4</F><F i=\"1\">1 2 3</F><F>1 1 2</F>",
    );
    site.write("folded.xml", &folded);
    let json = site.json("volume folded.xml level=10 --json");
    let warning = &Site::warnings(&json)[0];
    assert!(
        warning.starts_with("the reference surface overlaps itself on 100.000 m²"),
        "{warning}"
    );
    let notes = json["reference"]["notes"].to_string();
    assert!(
        notes.contains("invisible triangles skipped: 1")
            && notes.contains("triangles without plan area skipped: 1")
    );
    site.zone(
        "over.geojson",
        &[
            ("a", &[(0, 0), (8, 0), (8, 8), (0, 0)]),
            ("b", &[(4, 0), (8, 0), (8, 4), (4, 4), (4, 0)]),
            ("far", &[(90, 0), (98, 0), (98, 8), (90, 0)]),
        ],
    );
    let json = site.json(&format!("{PLAIN} --zone over.geojson --json"));
    let warnings = Site::warnings(&json).join("\n");
    assert!(
        warnings.contains("zones \"a\" and \"b\" overlap on 16.0 m²: the total counts it twice"),
        "{warnings}"
    );
    assert!(warnings.contains("zone \"far\": nothing was compared"));
    assert!(json["zones"][2]["difference"].is_null());
}

#[test]
fn threads_do_not_touch_the_figures() {
    let site = Site::new();
    site.succeed("demo reach");
    let line =
        "volume reach/ground.xml reach/survey-march.csv --unit m --zone reach/zones.geojson --json";
    let with = |threads: &str| {
        let mut command = assert_cmd::Command::cargo_bin("dapedon").unwrap();
        let output = command
            .current_dir(site.path())
            .env("RAYON_NUM_THREADS", threads)
            .args(line.split(' '))
            .output();
        output.unwrap().stdout
    };
    let one = with("1");
    assert!(!one.is_empty());
    assert!(with("2") == one && with("5") == one);
}

#[test]
fn nothing_but_text_leaves_for_a_file() {
    let site = Site::new();
    let out = site.succeed(PLAIN);
    assert!(!out.contains('\u{1b}'), "colour codes in a file");
    let (_, _, error) = site.run("volume ground.xml nowhere.csv");
    assert!(!error.contains('\u{1b}'));
    assert_eq!(site.run("volume ground.xml").0, 2);
    assert_eq!(site.run("--help").0, 0);
}

#[test]
fn zones_are_converted_to_the_unit_measured_in() {
    let site = Site::new();
    // 10 by 6, 1.5 higher: 90 m³, whatever the units of files and figures.
    let volume = |line: &str| {
        let line = format!("volume ground.xml survey.csv --unit m --volume-unit m3 --json {line}");
        number(&site.json(&line)["zones"][0]["volume"]["fill"])
    };
    let close = |found: f64| assert!((found - 90.0).abs() < 1e-6, "{found}");
    close(volume("--zone zone.geojson"));
    close(volume("--zone zone.geojson --length-unit us-ft"));
    // The same outline as a drawing in millimetres, and in feet.
    let corners = [(2.0, 2.0), (12.0, 2.0), (12.0, 8.0), (2.0, 8.0)];
    for (unit, per_metre) in [(4, 1000.0), (2, 1.0 / 0.3048), (21, 3937.0 / 1200.0)] {
        let corners: Vec<String> = (corners.iter())
            .map(|(e, n)| {
                let (e, n) = ((500_000.0 + e) * per_metre, (6_000_000.0 + n) * per_metre);
                format!("10\n{e}\n20\n{n}\n")
            })
            .collect();
        site.write("limit.dxf", &format!(
            "0\nSECTION\n2\nHEADER\n9\n$INSUNITS\n70\n{unit}\n0\nENDSEC\n0\nSECTION\n2\nENTITIES\n\
             0\nLWPOLYLINE\n8\nYARD\n90\n4\n70\n1\n{}0\nENDSEC\n0\nEOF\n",
            corners.concat()
        ));
        close(volume("--zone limit.dxf"));
        close(volume("--zone limit.dxf --length-unit ft"));
    }
}

/// Ground of 20 by 10 dug to a wedge and filled beside it, in depth slices: each is what lies between two depths, their sum
/// what was measured.
#[test]
fn cut_and_fill_are_told_in_lifts() {
    let site = Site::new();
    // From 2 above the ground in the west, through it in the middle, to 2 below it in the east.
    site.write(
        "wedge.csv",
        "point,east,north,height\n1,500000,6000000,12\n2,500020,6000000,8\n3,500020,6000010,8\n4,500000,6000010,12\n",
    );
    let out =
        site.succeed("volume ground.xml wedge.csv --unit m --by-depth 0.75 --report wedge.html");
    let table = out
        .split("Depth slices")
        .nth(1)
        .unwrap()
        .split("Computed from")
        .next()
        .unwrap();
    insta::assert_snapshot!(table);
    assert!(site.read("wedge.html").contains("Depth slices"));
    let json = site.json("volume ground.xml wedge.csv --unit m --by-depth 0.75 --json");
    let zone = &json["by_depth"][0];
    for way in ["cut", "fill"] {
        let lifts = zone[way].as_array().unwrap();
        assert_eq!(lifts.len(), 3);
        for lift in lifts {
            // Of a wedge of 10 by 10 that is 2 deep, as far as d is deep: d from its crest on, 10 wide.
            let number = |key: &str| number(&lift[key]);
            let left = |depth: f64| (2.0 - depth) * (2.0 - depth) / 0.2 / 2.0 * 10.0;
            let (from, to) = (number("from"), number("to"));
            assert!(
                (number("volume") - left(from) + left(to)).abs() < 1e-9,
                "{lift}"
            );
            assert!(
                (number("running_total") - left(0.0) + left(to)).abs() < 1e-9,
                "{lift}"
            );
            assert!(
                (number("area") - (2.0 - from) / 0.2 * 10.0).abs() < 1e-9,
                "{lift}"
            );
            assert!(lift.get("levels").is_none());
        }
    }
    // To a level the depth slices are known by their levels; what counts as unchanged is in none of them.
    let level = site.json("volume wedge.csv level=10 --unit m --by-depth 1 --tolerance 0.5 --json");
    let cut = &level["by_depth"][0]["cut"];
    let levels = [0, 1].map(|index| number(&cut[0]["levels"][index]));
    assert_eq!(levels, [11.0, 12.0]);
    let sum: f64 = cut
        .as_array()
        .unwrap()
        .iter()
        .map(|lift| number(&lift["volume"]))
        .sum();
    assert!((sum - number(&level["zones"][0]["volume"]["cut"])).abs() < 1e-9);
    let fill = &level["by_depth"][0]["fill"];
    let levels = [0, 1].map(|index| number(&fill[0]["levels"][index]));
    assert_eq!(levels, [8.0, 9.0]);
    // From the bottom up: of a wedge of 10 by 10 that is 2 deep a quarter lies below its middle.
    assert!(
        (number(&fill[0]["running_total"]) - 25.0).abs() < 1e-9,
        "{fill}"
    );
    site.zone(
        "halves.geojson",
        &[
            ("west", &[(0, 0), (6, 0), (6, 10), (0, 10), (0, 0)]),
            ("east", &[(6, 0), (20, 0), (20, 10), (6, 10), (6, 0)]),
        ],
    );
    let zones = site
        .json("volume wedge.csv level=10 --unit m --by-depth 0.75 --zone halves.geojson --json");
    let total = zones["by_depth"][2]["cut"].as_array().unwrap();
    let levels = [0, 1].map(|index| number(&total[0]["levels"][index]));
    assert_eq!(levels, [11.5, 12.0]);
    assert!((number(&total[2]["running_total"]) - 100.0).abs() < 1e-9);
    for (lift, told) in [
        ("0", "expected a length above zero"),
        ("-1", "unexpected argument"),
        ("0.0001", "are more than 10 000"),
    ] {
        let found = site.refuse(&format!(
            "volume ground.xml wedge.csv --unit m --by-depth {lift}"
        ));
        assert!(found.contains(told), "{lift}\n{found}");
    }
    let thin = site.refuse("volume ground.xml wedge.csv --unit m --by-depth 0.1 --tolerance 0.2");
    assert!(thin.contains("thinner than the tolerance"), "{thin}");
}

/// Ground that neither surface covers ends where a zone does: without zones it has no end, and is not told.
#[test]
fn neither_is_told_within_zones_alone() {
    let site = Site::new();
    let area =
        |line: &str| site.json(&format!("{PLAIN} {line} --json"))["zones"][0]["area"].clone();
    assert!(area("").get("neither").is_none());
    assert!(!site.succeed(PLAIN).contains("neither"));
    site.zone(
        "far.geojson",
        &[("far", &[(10, 0), (30, 0), (30, 10), (10, 10), (10, 0)])],
    );
    assert_eq!(number(&area("--zone far.geojson")["neither"]), 100.0);
    assert!(
        site.succeed(&format!("{PLAIN} --zone far.geojson"))
            .contains("neither")
    );
}

/// Two hundred zones over each other are 19 900 pairs: five are named, the others counted.
#[test]
fn many_zones_that_overlap_are_a_few_lines() {
    let site = Site::new();
    let names: Vec<String> = (0..200).map(|index| format!("z{index}")).collect();
    let ring = [(2, 2), (12, 2), (12, 8), (2, 8), (2, 2)];
    let zones: Vec<(&str, &[(i32, i32)])> = names
        .iter()
        .map(|name| (name.as_str(), &ring[..]))
        .collect();
    site.zone("many.geojson", &zones);
    let json = site.json(&format!("{PLAIN} --zone many.geojson --json"));
    let warnings = Site::warnings(&json);
    assert_eq!(warnings.len(), 6, "{warnings:?}");
    assert_eq!(
        warnings[0],
        "zones \"z0\" and \"z1\" overlap on 60.0 m²: the total counts it twice"
    );
    assert_eq!(
        warnings[5],
        "19 895 more pairs of zones overlap, on 1 193 700.0 m² together: the total counts it twice"
    );
}

/// Whatever is worth a line is a figure above zero in it.
#[test]
fn small_areas_are_told_with_the_digits_they_have() {
    let site = Site::new();
    site.write(
        "sliver.csv",
        "east,north,height\n500000,6000000,11\n500019.999,6000000,11\n500019.999,6000010,11\n500000,6000010,11\n",
    );
    let out = site.succeed("volume ground.xml sliver.csv --unit m");
    assert!(
        out.contains("warning: 0.010 m² covered by only the reference"),
        "{out}"
    );
}
