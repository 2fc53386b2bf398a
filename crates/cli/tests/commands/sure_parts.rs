//! How sure the parts of a volume are: bands, depth slices, sections, factors, what lies between points; and accuracies that stand in files.

use serde_json::Value;

use crate::site::{Site, number};

/// A survey of points two metres apart over 40 by 20 m, at the site's corner.
fn survey(height: impl Fn(f64, f64) -> f64) -> String {
    let mut text = String::from("east,north,height\n");
    for row in 0..=10 {
        for column in 0..=20 {
            let (e, n) = (2.0 * f64::from(column), 2.0 * f64::from(row));
            let (east, north, h) = (500_000.0 + e, 6_000_000.0 + n, height(e, n));
            text += &format!("{east},{north},{h:.4}\n");
        }
    }
    text
}

/// Level ground at 20, and a wedge on it that rises by 10 % to the east: 4 m high over 40 m.
fn site() -> Site {
    let site = Site::new();
    site.write("level.csv", &survey(|_, _| 20.0));
    site.write("wedge.csv", &survey(|e, _| 20.0 + 0.1 * e));
    site
}

const WEDGE: &str = "volume level.csv wedge.csv --unit m --reference-accuracy design --json";
const COMMON: &str = "--surveyed-accuracy common-height=0.01";

fn sure(figure: &Value) -> f64 {
    number(&figure["uncertainty"])
}

#[track_caller]
fn near(found: f64, expected: f64) {
    assert!(
        (found - expected).abs() <= 1e-6 * expected.abs().max(1.0),
        "{found} {expected}"
    );
}

#[test]
fn bands_and_slices_gain_and_lose_ground_at_their_edges() {
    let site = site();
    let found = site.json(&format!("{WEDGE} {COMMON} --bands 1,2 --by-depth 1"));
    let bands = &found["bands"];
    assert_eq!(bands["coverage_factor"], 2.0);
    let bands = bands["zones"][0]["bands"].as_array().unwrap();
    let fill: Vec<&Value> = bands.iter().filter(|band| band["side"] == "fill").collect();
    // A metre of height lies over 10 m by 20 m. Raised by 10 mm a band grows by its area, by what comes in at its lower edge with its height,
    // and loses what leaves at its upper edge.
    near(sure(&fill[0]["fill"]), 0.01 * (200.0 - 200.0));
    near(sure(&fill[1]["fill"]), 0.01 * (200.0 + 200.0 - 400.0));
    near(sure(&fill[2]["fill"]), 0.01 * (400.0 + 400.0));
    // A slice gains where its top is the ground.
    let slices = found["by_depth"][0]["fill"].as_array().unwrap();
    assert_eq!(slices.len(), 4);
    for slice in slices {
        near(sure(&slice["volume"]), 0.01 * 200.0);
    }
    // The other way round it is cut; and the same in feet.
    let turned = site.json("volume wedge.csv level.csv --unit m --surveyed-accuracy design --reference-accuracy common-height=0.01 --bands=-2,-1 --json");
    let cut = &turned["bands"]["zones"][0]["bands"][0];
    assert_eq!(cut["side"], "cut");
    near(sure(&cut["cut"]), 8.0);
    let feet = site.json(&format!(
        "{WEDGE} --surveyed-accuracy common-height=0.032808398950131233 --bands 3.28083989501312,6.56167979002625 --length-unit ft --volume-unit m3"
    ));
    let last = feet["bands"]["zones"][0]["bands"].as_array().unwrap();
    near(sure(&last.last().unwrap()["fill"]), 8.0);
    // Without accuracies there is nothing, and no column for it.
    let plain =
        site.json(&format!("{WEDGE} --bands 1,2").replace("--reference-accuracy design", ""));
    assert_eq!(
        plain["bands"]["zones"][0]["bands"][1]["fill"]["uncertainty"],
        Value::Null
    );
    let out = site.succeed(&format!("{WEDGE} {COMMON} --bands 1,2").replace("--json", ""));
    assert!(out.contains('±'), "{out}");
}

#[test]
fn zones_together_are_as_sure_as_the_whole() {
    let site = site();
    let square = |west: i32, east: i32| [(west, 0), (east, 0), (east, 20), (west, 20), (west, 0)];
    let zones: [(&str, &[(i32, i32)]); 2] = [("west", &square(0, 13)), ("east", &square(13, 40))];
    site.zone("halves.geojson", &zones);
    let accuracy = "--surveyed-accuracy height=0.02,common-height=0.01";
    let parted = site.json(&format!(
        "{WEDGE} {accuracy} --bands 1,2 --by-depth 1 --zone halves.geojson"
    ));
    let whole = site.json(&format!("{WEDGE} {accuracy} --bands 1,2 --by-depth 1"));
    let bands = |json: &Value| -> Vec<f64> {
        let zones = json["bands"]["zones"].as_array().unwrap();
        let bands = zones.last().unwrap()["bands"].as_array().unwrap();
        bands.iter().map(|band| sure(&band["fill"])).collect()
    };
    for (one, other) in bands(&parted).iter().zip(bands(&whole)) {
        near(*one, other);
    }
    let slices = |json: &Value| -> Vec<f64> {
        let zones = json["by_depth"].as_array().unwrap();
        let slices = zones.last().unwrap()["fill"].as_array().unwrap();
        slices.iter().map(|slice| sure(&slice["volume"])).collect()
    };
    for (one, other) in slices(&parted).iter().zip(slices(&whole)) {
        near(*one, other);
    }
}

#[test]
fn sections_are_as_sure_as_the_widths_they_count() {
    let site = site();
    let line = r#"{"type":"LineString","coordinates":[[500005,6000010],[500035,6000010]]}"#;
    site.write("line.geojson", line);
    let command = "sections level.csv wedge.csv --unit m --line line.geojson --every 5 --width 6 --reference-accuracy design --json";
    for rule in ["average-end-area", "prismoidal"] {
        let found = site.json(&format!("{command} --rule {rule} {COMMON}"));
        // All heights 10 mm higher: over 12 m of width and 30 m of length.
        near(sure(&found["total"]["fill"]), 0.01 * 12.0 * 30.0);
        near(sure(&found["total"]["net"]), 0.01 * 12.0 * 30.0);
        near(sure(&found["total"]["cut"]), 0.0);
        let own = &found["uncertainty"]["net"]["surveyed"]["common_height"]["value"];
        near(number(own), 3.6);
    }
    // Few points are hit: single errors count for more than between the surfaces.
    let single = "--surveyed-accuracy height=0.02";
    let by_sections = sure(&site.json(&format!("{command} {single}"))["total"]["fill"]);
    site.zone(
        "strip.geojson",
        &[("strip", &[(5, 4), (35, 4), (35, 16), (5, 16), (5, 4)])],
    );
    let between = site.json(&format!("{WEDGE} {single} --zone strip.geojson"));
    let between = sure(&between["zones"][0]["volume"]["fill"]);
    assert!(
        by_sections > between && by_sections < 3.0 * between,
        "{by_sections} {between}"
    );
    let out = site.succeed(&format!("{command} {COMMON}").replace("--json", ""));
    assert!(out.contains("fill 720.0 ± 7.2 m³"), "{out}");
    // Nothing where one side is not known.
    let none =
        site.json(&command.replace("--reference-accuracy design", "--surveyed-accuracy gnss"));
    assert_eq!(none["uncertainty"], Value::Null);
    assert_eq!(
        Site::warnings(&none)
            .iter()
            .filter(|word| word.contains("accuracy"))
            .count(),
        1
    );
}

/// A job with items over the wedge.
fn job(site: &Site, more: &str) {
    site.write(
        "dapedon.toml",
        &format!(
            "[job]\nname = \"Yard\"\nunit = \"m\"\ncurrency = \"EUR\"\n\
             [surface.level]\nfile = \"level.csv\"\naccuracy = \"design\"\n\
             [surface.wedge]\nfile = \"wedge.csv\"\naccuracy = \"common-height=0.01\"\n\
             [line.middle]\nfile = \"line.geojson\"\n{more}"
        ),
    );
    let line = r#"{"type":"LineString","coordinates":[[500005,6000010],[500035,6000010]]}"#;
    site.write("line.geojson", line);
}

const FILL: &str =
    "measure = \"fill\"\nreference = \"level\"\nsurveyed = \"wedge\"\nunit = \"m3\"\n";

fn item(code: &str, keys: &str) -> String {
    format!("[[item]]\ncode = \"{code}\"\ndescription = \"Fill\"\n{FILL}{keys}\n")
}

#[test]
fn uncertain_factors_count_once_in_all_items_that_follow_by_them() {
    let site = site();
    let clay = "[material.clay]\nswell = \"25%\"\nshrink = 0.9\ndensity = { bank = 2.0 }\n";
    let stuff = "material = \"clay\"\nmeasured-state = \"bank\"\n";
    let items = item("1", &format!("{stuff}paid-state = \"loose\"\nrate = 2.0"))
        + &item("2", &format!("{stuff}paid-state = \"loose\"\nrate = 4.0"))
        + &item(
            "3",
            &format!("{stuff}paid-state = \"compacted\"\nrate = 10.0"),
        );
    let own = |json: &Value, number: usize| json["sections"][0]["items"][number].clone();
    job(
        &site,
        &format!("{clay}uncertainty = {{ swell = \"5%\", shrink = 0.018 }}\n{items}"),
    );
    let found = site.json("measure --json");
    // 1600 m³ of 800 m², 8 m³ off; loose 2000 m³, of which 0.05/1.25 is uncertain; compacted 1440 m³, of which 0.018/0.9.
    let (loose, compacted): (f64, f64) = (2000.0 * 0.04, 1440.0 * 0.02);
    let first = own(&found, 0);
    near(number(&first["uncertainty"]["measured"]), 8.0);
    near(
        number(&first["uncertainty"]["quantity"]),
        10.0f64.hypot(loose),
    );
    near(
        number(&first["uncertainty"]["amount"]),
        2.0 * 10.0f64.hypot(loose),
    );
    near(number(&first["uncertainty"]["amount_from_surfaces"]), 20.0);
    assert_eq!(first["uncertainty"]["factors"][0]["factor"], "swell");
    near(
        number(&own(&found, 2)["uncertainty"]["quantity"]),
        7.2f64.hypot(compacted),
    );
    // The survey is in all three at once, the swell in two.
    let survey = 2.0 * 10.0 + 4.0 * 10.0 + 10.0 * 7.2;
    let factors = (6.0 * loose).hypot(10.0 * compacted);
    near(
        number(&found["amount_uncertainty"]["standard"]),
        f64::hypot(survey, factors),
    );
    let out = site.succeed("measure").replace('\n', " ");
    assert!(
        out.contains("swell of clay") && out.contains("Uncertain factors"),
        "{out}"
    );
    // Without it, as before; densities in percent of themselves.
    job(&site, &format!("{clay}{items}"));
    near(
        number(&own(&site.json("measure --json"), 0)["uncertainty"]["quantity"]),
        10.0,
    );
    let tonnes = item("1", stuff).replace("unit = \"m3\"", "unit = \"t\"");
    job(
        &site,
        &format!("{clay}uncertainty = {{ density = \"4%\" }}\n{tonnes}"),
    );
    let mass = own(&site.json("measure --json"), 0);
    near(
        number(&mass["uncertainty"]["quantity"]),
        16.0f64.hypot(0.04 * 3200.0),
    );
    for (wrong, says) in [
        ("swell = \"-1%\"", "no uncertainty of a swell"),
        ("swell = 5", "no uncertainty of a swell"),
        ("swell = \"nan\"", "no uncertainty of a swell"),
        ("density = \"60%\"", "no uncertainty of a density"),
        ("swel = 0.1", "not a key"),
    ] {
        job(
            &site,
            &format!("{clay}uncertainty = {{ {wrong} }}\n{items}"),
        );
        let said = site.refuse("measure");
        assert!(
            said.contains(says) && said.contains("dapedon.toml"),
            "{said}"
        );
    }
    job(
        &site,
        &format!("[material.clay]\nswell = 1.2\nuncertainty = {{ shrink = 0.1 }}\n{items}"),
    );
    assert!(site.refuse("measure").contains("no shrink"));
}

#[test]
fn items_by_sections_are_as_sure_as_their_sections() {
    let site = site();
    let by = "sections = { line = \"middle\", every = 5, width = 6 }\nrate = 3.0";
    job(&site, &(item("1", by) + &item("2", "rate = 3.0")));
    let found = site.json("measure --json");
    let own = &found["sections"][0]["items"][0]["uncertainty"];
    near(number(&own["quantity"]), 3.6);
    near(number(&own["amount"]), 10.8);
    // Both rest on one survey.
    near(
        number(&found["amount_uncertainty"]["standard"]),
        10.8 + 24.0,
    );
}

#[test]
fn items_have_what_lies_between_points_where_they_ask_for_it() {
    let site = site();
    let dome = |e: f64, n: f64| 26.0 - 0.01 * ((e - 20.0).powi(2) + (n - 10.0).powi(2));
    // A little off the grid, so that there is one triangulation.
    let mut text = String::from("east,north,height\n");
    for row in 0..=10 {
        for column in 0..=20 {
            let inner = |at: i32, last: i32| f64::from(u8::from(at > 0 && at < last));
            let (e, n) = (
                2.0 * f64::from(column)
                    + 0.3 * inner(column, 20) * libm::sin(f64::from(row * 7 + column * 3)),
                2.0 * f64::from(row)
                    + 0.3 * inner(row, 10) * libm::cos(f64::from(row * 5 + column * 11)),
            );
            text += &format!(
                "{:.4},{:.4},{:.4}\n",
                500_000.0 + e,
                6_000_000.0 + n,
                dome(e, n)
            );
        }
    }
    site.write("wedge.csv", &text);
    job(
        &site,
        &(item("1", "between-points = true\nrate = 1.0") + &item("2", "rate = 1.0")),
    );
    let found = site.json("measure --json");
    let own = |item: usize, key: &str| {
        let from = &found["sections"][0]["items"][item]["uncertainty"]["from"];
        from["surveyed"][key]["value"].as_f64()
    };
    let between = own(0, "between_points").unwrap();
    let volume = site.json("volume level wedge --between-points --json");
    let part = &volume["uncertainty"]["zones"][0]["fill"]["surveyed"]["between_points"];
    near(between, number(&part["value"]));
    assert_eq!(own(1, "between_points"), None);
    let quantity =
        |item: usize| number(&found["sections"][0]["items"][item]["uncertainty"]["quantity"]);
    near(quantity(0), 8.0f64.hypot(between));
    near(quantity(1), 8.0);
    near(
        number(&found["amount_uncertainty"]["standard"]),
        16.0f64.hypot(between),
    );
    let out = site.succeed("measure").replace('\n', " ");
    assert!(out.contains("in it for item 1, and for no other"), "{out}");
    // Alone an item says the same.
    let alone = site.json("measure 1 --json");
    assert_eq!(
        alone["sections"][0]["items"][0]["uncertainty"],
        found["sections"][0]["items"][0]["uncertainty"]
    );

    let area = item("1", "between-points = true")
        .replace("\"fill\"", "\"area\"")
        .replace("m3", "m2");
    job(&site, &area);
    assert!(site.refuse("measure").contains("counts an area"));
    job(
        &site,
        &item(
            "1",
            "between-points = true\nsections = { line = \"middle\", every = 5, width = 6 }",
        ),
    );
    assert!(site.refuse("measure").contains("by sections"));
}

#[test]
fn accuracies_in_text_are_believed_unless_told_otherwise() {
    let site = site();
    let with = |columns: &str, values: [&str; 2]| {
        let text = survey(|_, _| 22.0);
        let mut rows = text.lines();
        let mut told = format!("{},{columns}\n", rows.next().unwrap());
        for (index, row) in rows.enumerate() {
            told += &format!("{row},{}\n", values[index % 2]);
        }
        site.write("told.csv", &told);
    };
    let accuracy = |more: &str| {
        let json = site.json(&format!(
            "volume level.csv told.csv --unit m --reference-accuracy design {more} --json"
        ));
        let own = json["surveyed"]["accuracy"].clone();
        (
            own["height"]["value"].as_f64(),
            own["plan"]["value"].as_f64(),
            own["common_height"]["value"].as_f64(),
            json,
        )
    };
    with("height-accuracy,plan-accuracy", ["0.03,0.02", "0.04,0.02"]);
    let (height, plan, common, json) = accuracy("");
    // 116 of 231 points have the first one.
    let mean = ((116.0 * 0.03f64.powi(2) + 115.0 * 0.04f64.powi(2)) / 231.0).sqrt();
    near(height.unwrap(), mean);
    near(plan.unwrap(), 0.02);
    assert_eq!(common, Some(0.0));
    assert!(
        Site::warnings(&json)
            .iter()
            .any(|word| word.contains("common")),
        "{json}"
    );
    assert_eq!(
        json["surveyed"]["accuracy_in_file"]["height"]["points"],
        231
    );
    near(
        number(&json["surveyed"]["accuracy_in_file"]["height"]["greatest"]["value"]),
        0.04,
    );
    // What is stated goes before it, and the usual values of a kind come after it.
    assert_eq!(
        accuracy("--surveyed-accuracy height=0.1,common-height=0.01").0,
        Some(0.1)
    );
    let (height, plan, common, json) = accuracy("--surveyed-accuracy gnss");
    near(height.unwrap(), mean);
    near(plan.unwrap(), 0.02);
    assert_eq!(common, Some(0.015));
    assert!(
        !Site::warnings(&json)
            .iter()
            .any(|word| word.contains("common")),
        "{json}"
    );
    let exact = accuracy("--surveyed-accuracy design");
    assert_eq!(exact.0, Some(0.0));
    // In feet they are feet.
    let feet = site.json(
        "volume level.csv told.csv --unit m --length-unit ft --reference-accuracy design --json",
    );
    near(
        number(&feet["surveyed"]["accuracy"]["height"]["value"]),
        mean / 0.3048,
    );
    // Other names of the columns, gaps, and what no survey is.
    with("vrms,hrms", ["0.03,", "x,-1"]);
    let (height, plan, ..) = accuracy("");
    near(height.unwrap(), 0.03);
    assert_eq!(plan, Some(0.0));
    // Nothing that was measured is exact.
    with("sigma_z", ["0", "0.0"]);
    assert_eq!(accuracy("").0, None);
    with("sigma_z", ["30", "40"]);
    let (height, .., json) = accuracy("");
    assert_eq!(height, None);
    assert!(
        Site::warnings(&json)
            .iter()
            .any(|word| word.contains("not believed")),
        "{json}"
    );
    let (height, ..) = accuracy("--surveyed-accuracy gnss");
    near(height.unwrap(), 0.02);
    let (height, ..) = accuracy("--columns east,north,height,skip");
    assert_eq!(height, None);
    let (height, ..) =
        accuracy("--columns east,north,height,height-accuracy --surveyed-accuracy gnss");
    near(height.unwrap(), 0.02);
}

#[test]
fn standard_errors_of_landxml_points_are_believed() {
    let site = site();
    let point = |name: &str, n: i32, e: i32, errors: &str| {
        format!(
            "<CgPoint name=\"{name}\" {errors}>{} {} 22</CgPoint>",
            6_000_000 + n,
            500_000 + e
        )
    };
    let errors = "elevationStdError=\"0.03\" northingStdError=\"0.01\" eastingStdError=\"0.01\"";
    let points = point("a", 0, 0, errors)
        + &point("b", 0, 40, errors)
        + &point("c", 20, 40, errors)
        + &point("d", 20, 0, "");
    let file = |body: &str| {
        format!(
            "<LandXML version=\"1.2\"><Units><Metric linearUnit=\"meter\"/></Units>{body}</LandXML>"
        )
    };
    site.write(
        "points.xml",
        &file(&format!("<CgPoints>{points}</CgPoints>")),
    );
    let line =
        |name: &str| format!("volume level.csv {name} --unit m --reference-accuracy design --json");
    let own = site.json(&line("points.xml"))["surveyed"].clone();
    near(number(&own["accuracy"]["height"]["value"]), 0.03);
    near(number(&own["accuracy"]["plan"]["value"]), 0.01);
    assert_eq!(own["accuracy_in_file"]["height"]["points"], 3);
    let corner = |id: i32, n: i32, e: i32| {
        format!(
            "<P id=\"{id}\" elevationStdError=\"0.05\">{} {} 22</P>",
            6_000_000 + n,
            500_000 + e
        )
    };
    let pnts: String = [corner(1, 0, 0), corner(2, 0, 40), corner(3, 20, 0)].concat();
    let surface = format!(
        "<Surfaces><Surface name=\"s\"><Definition surfType=\"TIN\"><Pnts>{pnts}</Pnts><Faces><F>1 2 3</F></Faces></Definition></Surface></Surfaces>"
    );
    site.write("surface.xml", &file(&surface));
    let own = site.json(&line("surface.xml"))["surveyed"].clone();
    near(number(&own["accuracy"]["height"]["value"]), 0.05);
    assert_eq!(own["accuracy_in_file"].get("plan"), None);
}
