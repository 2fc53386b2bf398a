//! Second opinions: the same volumes found in other ways, and figures that somebody else states.

use crate::site::Site;

/// Points two metres apart over 40 by 20 m, in rows that are shifted against each other.
fn survey(height: impl Fn(f64, f64) -> f64) -> String {
    let mut text = String::from("east,north,height\n");
    for row in 0..=10 {
        for column in 0..=20 {
            let inner = row > 0 && row < 10 && column > 0 && column < 20;
            let shift = if inner && row % 2 == 1 { 0.7 } else { 0.0 };
            let (e, n) = (2.0 * f64::from(column) + shift, 2.0 * f64::from(row));
            let (east, north, h) = (500_000.0 + e, 6_000_000.0 + n, height(e, n));
            text += &format!("{east},{north},{h:.4}\n");
        }
    }
    text
}

fn site() -> Site {
    let site = Site::new();
    site.write("before.csv", &survey(|e, n| 20.0 + 0.02 * e + 0.01 * n));
    let bowl = |e: f64, n: f64| {
        1.5 * (1.0 - ((e - 20.0) / 15.0).powi(2) - ((n - 10.0) / 8.0).powi(2)).max(0.0)
    };
    site.write(
        "after.csv",
        &survey(|e, n| 20.0 + 0.02 * e + 0.01 * n - bowl(e, n) + 0.1 * (e / 9.0).sin()),
    );
    site.zone(
        "zones.geojson",
        &[
            ("west", &[(2, 2), (20, 2), (20, 18), (2, 18), (2, 2)]),
            ("east", &[(20, 2), (37, 3), (33, 17), (20, 18), (20, 2)]),
        ],
    );
    site
}

const COMMAND: &str = "volume before.csv after.csv --unit m --zone zones.geojson";

fn value(json: &serde_json::Value) -> f64 {
    json["value"].as_f64().unwrap()
}

#[test]
fn all_ways_agree_with_what_is_measured() {
    let site = site();
    let found = site.json(&format!("{COMMAND} --second-opinion --json"));
    let own = &found["second_opinions"];
    for name in ["cut", "fill", "net"] {
        let total = value(&found["total"]["volume"][name]);
        assert!((value(&own[name]) - total).abs() < 1e-9);
        let opinions = own["opinions"].as_array().unwrap();
        assert_eq!(opinions.len(), 4);
        for opinion in opinions {
            let figure = &opinion[name];
            let off = value(&figure["difference"]).abs();
            match opinion["method"].as_str().unwrap() {
                "grid" | "sections" => {
                    assert_eq!(figure["verdict"], "agrees", "{name} {opinion}");
                    assert!(off <= value(&figure["may_differ"]) + 1e-9);
                    assert!(
                        value(&figure["may_differ"]) < 0.01 * total.abs() + 0.2,
                        "{opinion}"
                    );
                }
                // Accuracies are not stated: nothing says what other triangles may do.
                _ => assert!(figure["verdict"] == "not_judged" && off < 2.0, "{opinion}"),
            }
        }
        // Coarser grids stray farther, around the volume.
        let sizes = own["grid"].as_array().unwrap();
        let width = |size: &serde_json::Value| value(&size[name][1]) - value(&size[name][0]);
        assert!(width(&sizes[0]) > 4.0 * width(&sizes[3]), "{sizes:?}");
        assert!(value(&sizes[0][name][0]) < total && total < value(&sizes[0][name][1]));
    }
    // In feet the same, by grids of another size.
    let feet = site.json(&format!(
        "{COMMAND} --second-opinion --length-unit ft --volume-unit m3 --json"
    ));
    let [one, other] =
        [&found, &feet].map(|json| value(&json["second_opinions"]["opinions"][0]["cut"]["value"]));
    assert!((one - other).abs() < 0.005 * one, "{one} {other}");
    // Sections know of no tolerance, and a level has no other triangles.
    let level = site.json("volume level=20.1 after.csv --unit m --tolerance 0.05 --second-opinion --grid-cell 0.25 --json");
    let methods = level["second_opinions"]["opinions"]
        .as_array()
        .unwrap()
        .iter();
    let methods: Vec<&str> = methods.map(|own| own["method"].as_str().unwrap()).collect();
    assert_eq!(methods, ["grid", "other_diagonals_of_surveyed"]);
    assert_eq!(value(&level["second_opinions"]["grid"][3]["cell"]), 0.5);
    // What is handed over with its triangles has no others.
    let handed = site.json("volume ground.xml level=10.5 --second-opinion --json");
    assert_eq!(
        handed["second_opinions"]["opinions"]
            .as_array()
            .unwrap()
            .len(),
        2
    );
}

#[test]
fn figures_of_others_are_judged_and_explained() {
    let site = site();
    let found = site.json(&format!("{COMMAND} --json"));
    let [cut, fill] = ["cut", "fill"].map(|name| value(&found["total"]["volume"][name]));
    let west = value(&found["zones"][0]["volume"]["cut"]);
    let everywhere = value(
        &site.json("volume before.csv after.csv --unit m --json")["zones"][0]["volume"]["cut"],
    );
    let explained = |stated: String| {
        let json = site.json(&format!("{COMMAND} --stated {stated},by=payer --json"));
        let opinions = json["second_opinions"]["opinions"].as_array().unwrap();
        opinions.last().unwrap()["explanations"].to_string()
    };
    assert!(explained(format!("cut={fill:.1}")).contains("with the sides swapped"));
    assert!(explained(format!("cut={west:.2}")).contains("in \\\"west\\\" alone"));
    assert!(explained(format!("cut={everywhere:.2}")).contains("over all ground"));
    assert!(explained(format!("cut={:.1}", cut / 0.764_554_857_984)).contains("in yd³"));
    let area = value(&found["total"]["area"]["cut"]);
    assert!(explained(format!("cut={:.3}", cut + 0.05 * area)).contains("0.050 m lower"));
    let grid = format!(
        "{COMMAND} --stated cut={:.3} --grid-cell 0.5 --json",
        cut * 1.004
    );
    let grid = site.json(&grid)["second_opinions"]["opinions"].to_string();
    assert!(
        grid.contains("a grid of 8 m finds between")
            || grid.contains("a grid of 4 m finds between"),
        "{grid}"
    );
    assert_eq!(explained(format!("cut={}", 40.0 * cut)), "null");
    let out = site.succeed(&format!(
        "{COMMAND} --stated cut={},by=payer",
        (40.0 * cut).round()
    ));
    assert!(
        out.contains("Nothing that was tried explains the cut stated by payer."),
        "{out}"
    );
    // Two figures of one person are explained apart.
    let two =
        format!("{COMMAND} --stated cut={fill:.1},by=payer --stated cut={west:.2},by=payer --json");
    let two = site.json(&two);
    let two = two["second_opinions"]["opinions"].as_array().unwrap();
    let [one, other] = [4, 5].map(|at| two[at]["explanations"].to_string());
    assert!(one.contains("swapped") && !one.contains("alone"), "{one}");
    assert!(
        other.contains("alone") && !other.contains("swapped"),
        "{other}"
    );
    // With accuracies the difference is judged by the uncertainty.
    let sure = "--reference-accuracy design --surveyed-accuracy common-height=0.02";
    let verdict = |more: f64| {
        let line = format!("{COMMAND} {sure} --stated cut={:.4} --json", cut + more);
        let json = site.json(&line);
        let opinions = json["second_opinions"]["opinions"].as_array().unwrap();
        opinions.last().unwrap()["cut"]["verdict"]
            .as_str()
            .unwrap()
            .to_owned()
    };
    // 20 mm over the ground that is cut, twice.
    assert_eq!(verdict(0.9 * 0.04 * area), "agrees");
    assert_eq!(verdict(-1.1 * 0.04 * area), "differs");
}

#[test]
fn a_limit_makes_the_exit_code() {
    let site = site();
    let found = site.json(&format!("{COMMAND} --json"));
    let cut = value(&found["total"]["volume"]["cut"]);
    let line = |cut: f64| format!("{COMMAND} --stated cut={cut:.3},by=payer --agree-within 2%");
    let out = site.succeed(&line(cut * 1.019));
    assert!(out.contains("within the limit"), "{out}");
    let (code, out, _) = site.run(&line(cut * 1.021));
    assert_eq!(code, 1);
    assert!(
        out.contains("▲ the cut as payer states it is") && out.contains("2.0 % is allowed"),
        "{out}"
    );
    for (options, said) in [
        ("--stated cut=much", "is not a volume"),
        ("--stated cut=-4", "never negative"),
        ("--stated by=me", "no figure is stated"),
        ("--agree-within 3", "use a share"),
        ("--agree-within -1%", "use a share"),
        ("--grid-cell 0", "above zero"),
        ("--grid-cell 0.001", "too many"),
        ("--grid-cell 1e-9", "too many"),
    ] {
        let error = site.refuse(&format!("{COMMAND} {options}"));
        assert!(error.contains(said), "{options}: {error}");
    }
}

fn job(keys: &str, measure: &str) -> String {
    format!(
        "[job]\nname = \"Yard\"\nunit = \"m\"\n[surface.before]\nfile = \"before.csv\"\naccuracy = \"total-station\"\n\
         [surface.after]\nfile = \"after.csv\"\naccuracy = \"total-station\"\n\
         [zone.west]\nfile = \"zones.geojson#west\"\n[zone.east]\nfile = \"zones.geojson#east\"\n\
         [material.clay]\nswell = 1.25\nshrink = 0.9\n\
         [[item]]\ncode = \"1\"\ndescription = \"Dig\"\nmeasure = \"{measure}\"\nzones = [\"west\", \"east\"]\n\
         reference = \"before\"\nsurveyed = \"after\"\nunit = \"m3\"\nmaterial = \"clay\"\n{keys}"
    )
}

#[test]
fn items_have_second_opinions_of_what_counts() {
    let site = site();
    site.write("dapedon.toml", &job("second-opinion = true\n", "cut"));
    let bill = site.json("measure --json");
    let item = &bill["sections"][0]["items"][0];
    let own = &item["second_opinions"];
    assert!((value(&own["cut"]) - item["unrounded"].as_f64().unwrap()).abs() < 1e-9);
    assert_eq!(own["opinions"][0]["cut"]["verdict"], "agrees");
    let out = site.succeed("measure");
    assert!(
        out.contains("Second opinions") && out.contains("by a grid"),
        "{out}"
    );
    let cut = value(&own["cut"]);
    // The same alone and beside an item that divides its ground otherwise.
    let other = "second-opinion = true\n[[item]]\ncode = \"2\"\ndescription = \"Dig\"\nmeasure = \"cut\"\nzones = \"middle\"\n\
                 reference = \"before\"\nsurveyed = \"after\"\nunit = \"m3\"\n[zone.middle]\nfile = \"middle.geojson\"\n";
    site.zone(
        "middle.geojson",
        &[("middle", &[(10, 5), (30, 6), (25, 15), (9, 12), (10, 5)])],
    );
    site.write("dapedon.toml", &job(other, "cut"));
    let [both, alone] = ["measure --json", "measure 1 --json"].map(|line| {
        let json = site.json(line);
        let own = &json["sections"][0]["items"][0]["second_opinions"];
        [
            &own["opinions"][0]["cut"]["value"],
            &own["grid"][0]["cut"][0],
        ]
        .map(value)
    });
    for (both, alone) in both.into_iter().zip(alone) {
        assert!((both - alone).abs() < 1e-6, "{both} {alone}");
    }
    // What is paid is loose: a figure that is as much as the bank volume is explained by that.
    let keys = format!(
        "paid-state = \"loose\"\nstated = [{{ by = \"payer\", quantity = {:.1} }}]\n",
        cut
    );
    site.write("dapedon.toml", &job(&keys, "cut"));
    let bill = site.json("measure --json");
    let found = &bill["sections"][0]["items"][0]["second_opinions"];
    let stated = found["opinions"].as_array().unwrap().last().unwrap();
    assert!((value(&stated["cut"]["value"]) - cut / 1.25).abs() < 0.06);
    let keys = format!(
        "stated = [{{ by = \"payer\", quantity = {:.1} }}]\n",
        cut * 1.25
    );
    site.write("dapedon.toml", &job(&keys, "cut"));
    let json = site.json("measure --json").to_string();
    assert!(json.contains("as loose volume of clay it is"), "{json}");
    let out = site.succeed("measure");
    assert!(
        out.contains("What would explain the cut stated by payer"),
        "{out}"
    );
    // Beyond a limit the item fails.
    site.write(
        "dapedon.toml",
        &job(&format!("{keys}agree-within = \"5%\"\n"), "cut"),
    );
    assert_eq!(site.run("measure").0, 1);
    for (keys, measure, said) in [
        (
            "second-opinion = true\n",
            "cut-area",
            "the item counts an area",
        ),
        ("agree-within = \"much\"\n", "cut", "not a percentage"),
        (
            "stated = [{ by = \" \", quantity = 3 }]\n",
            "cut",
            "nobody is named",
        ),
        (
            "stated = [{ by = \"payer\", quantity = nan }]\n",
            "cut",
            "out of range",
        ),
        ("second-opinion = true\n", "pile", "no effect"),
    ] {
        let text = job(keys, measure).replace(if measure == "cut-area" { "m3" } else { "§" }, "m2");
        site.write("dapedon.toml", &text);
        let error = site.refuse("measure");
        assert!(error.contains(said), "{keys} {measure}: {error}");
    }
}

/// A ditch of a metre along three breaklines, whose points stand farther apart along them than the ditch is wide.
#[test]
fn breaklines_are_left_out_for_comparison_and_judge_nothing() {
    let site = Site::new();
    let mut text = String::from("east,north,height,code\n");
    for (at, height, code) in [
        (0, 10.0, "a"),
        (9, 10.0, "s1"),
        (10, 9.0, "s2"),
        (11, 10.0, "s3"),
        (20, 10.0, "a"),
    ] {
        for row in 0..6 {
            // Each line is taken the other way from the one before, at other places.
            let north = 6.0 * f64::from(row) + if row % 5 == 0 { 0.0 } else { f64::from(at % 3) };
            text += &format!("{},{},{height},{code}\n", 500_000 + at, 6_000_000.0 + north);
        }
    }
    site.write("ditch.csv", &text);
    let line =
        "volume level=10 ditch.csv --unit m --codes s=breakline --second-opinion --agree-within 1%";
    let (code, out, error) = site.run(&format!("{line} --json"));
    let found: serde_json::Value = serde_json::from_str(&out).unwrap_or_else(|_| panic!("{error}"));
    let own = &found["second_opinions"];
    assert!((value(&own["cut"]) - 30.0).abs() < 1e-6, "{own}");
    let opinions = own["opinions"].as_array().unwrap().iter();
    let without = opinions
        .clone()
        .find(|own| own["method"] == "no_breaklines_of_surveyed");
    let figure = &without.unwrap()["cut"];
    // The ditch is bridged here and there and holds less, and no check fails for that.
    assert!(value(&figure["value"]) < 29.0, "{figure}");
    assert_eq!(figure["verdict"], "not_judged");
    assert!(figure.get("may_differ").is_none());
    let beyond = |own: &serde_json::Value| own["cut"]["verdict"] == "beyond_limit";
    assert_eq!(code == 1, opinions.clone().any(beyond), "{own}");
    assert!(
        opinions
            .clone()
            .all(|own| own["method"] != "no_breaklines_of_reference")
    );
    let told = site.run(line).1.replace('\n', " ");
    assert!(
        told.contains("without the breaklines of \"ditch.csv\""),
        "{told}"
    );
    assert!(told.contains("for comparison"), "{told}");
}
