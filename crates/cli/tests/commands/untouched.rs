//! Two surveys compared on ground that nobody touched: shifts, tilts, what they do to volumes and items, and warnings that are acknowledged.

use crate::site::Site;

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

fn terrain(e: f64, n: f64) -> f64 {
    20.0 + 0.02 * e + 0.05 * n
}

/// A pit a metre deep over the middle of the west.
fn pit(e: f64, n: f64) -> f64 {
    let inside = (4.0..=12.0).contains(&e) && (6.0..=14.0).contains(&n);
    terrain(e, n) - if inside { 1.0 } else { 0.0 }
}

const ZONES: [(&str, &[(i32, i32)]); 3] = [
    ("pit", &[(1, 3), (17, 3), (17, 17), (1, 17), (1, 3)]),
    ("east", &[(22, 2), (38, 2), (38, 18), (22, 18), (22, 2)]),
    ("edge", &[(16, 2), (20, 2), (20, 18), (16, 18), (16, 2)]),
];

/// A site with a survey before, and one after that is shifted and tilted.
fn site(shift: f64, tilt: f64) -> Site {
    let site = Site::new();
    site.write("before.csv", &survey(terrain));
    site.write(
        "after.csv",
        &survey(|e, n| pit(e, n) + shift + tilt * (e - 30.0)),
    );
    site.zone("zones.geojson", &ZONES);
    site
}

const COMMAND: &str = "volume before.csv after.csv --unit m --zone zones.geojson#pit --untouched zones.geojson#east --json";
const SURE: &str =
    "--reference-accuracy height=0.005 --surveyed-accuracy height=0.005,common-height=0.01";

fn near(value: &serde_json::Value, expected: f64, within: f64) {
    let value = value.as_f64().unwrap();
    assert!((value - expected).abs() <= within, "{value} and {expected}");
}

#[test]
fn a_shift_is_found_judged_and_taken_off() {
    let found = site(0.04, 0.0).json(&format!("{COMMAND} {SURE}"));
    let own = &found["untouched"];
    assert_eq!(own["verdict"], "shift");
    let zone = &own["zones"][0];
    near(&zone["mean"]["value"], 0.04, 1e-9);
    near(&zone["area"]["value"], 256.0, 1e-6);
    // Points every two metres on and within the outline: 9 by 9.
    assert_eq!(
        (&zone["surveyed_points"], &zone["reference_points"]),
        (&81.into(), &81.into())
    );
    // The common error of 10 mm is that of the mean; independent points add next to nothing to it.
    near(&zone["expected"]["mean"]["value"], 0.01, 2e-4);
    near(&zone["expected"]["deviation"]["value"], 0.005, 1e-12);
    // Lowered by 40 mm the pit is as it was dug.
    let true_pit = site(0.0, 0.0).json(&format!("{COMMAND} {SURE}"));
    for what in ["cut", "fill", "net"] {
        let dug = true_pit["zones"][0]["volume"][what]["value"]
            .as_f64()
            .unwrap();
        near(&own["without"]["zones"][0][what]["value"], dug, 1e-6);
    }
    assert_eq!(true_pit["untouched"]["verdict"], "as_stated");
    assert!(true_pit["untouched"].get("without").is_none());
    let codes = found["warnings"]
        .as_array()
        .unwrap()
        .iter()
        .map(|own| own["code"].clone());
    assert!(
        codes
            .collect::<Vec<_>>()
            .contains(&"untouched-shift".into())
    );
    // What the common error explains is no shift, and what is not stated is not judged.
    let small = site(0.015, 0.0).json(&format!("{COMMAND} {SURE}"));
    assert_eq!(small["untouched"]["verdict"], "as_stated");
    let unstated = site(0.04, 0.0).json(COMMAND);
    assert_eq!(unstated["untouched"]["verdict"], "not_judged");
    near(
        &unstated["untouched"]["without"]["raised_by"]["value"],
        -0.04,
        1e-9,
    );
}

#[test]
fn a_tilt_is_found_and_taken_off() {
    // 2 mm in a metre to the east, and 30 mm in the middle of the ground.
    let found = site(0.03, 0.002).json(&format!("{COMMAND} {SURE}"));
    let own = &found["untouched"];
    assert_eq!(own["verdict"], "tilt");
    near(&own["zones"][0]["tilt"]["rise_east"], 0.002, 1e-6);
    near(&own["zones"][0]["tilt"]["rise_north"], 0.0, 1e-6);
    // Evenly over 16 m: 2 mm times 16 through the root of twelve.
    near(
        &own["zones"][0]["tilt"]["deviation"]["value"],
        0.032 / 12f64.sqrt(),
        1e-5,
    );
    let dug = site(0.0, 0.0).json(&format!("{COMMAND} {SURE}"));
    let dug = dug["zones"][0]["volume"]["cut"]["value"].as_f64().unwrap();
    near(&own["without"]["zones"][0]["cut"]["value"], dug, 0.02);
    assert_eq!(own["without"]["tilt_removed"], true);
}

#[test]
fn noisy_points_are_told_from_a_shift() {
    let site = site(0.0, 0.0);
    // Every other point is 40 mm high, every other as much too low.
    let rough = |e: f64, n: f64| {
        if (e / 2.0 + n / 2.0) as i64 % 2 == 0 {
            0.04
        } else {
            -0.04
        }
    };
    site.write("after.csv", &survey(|e, n| pit(e, n) + rough(e, n)));
    let found = site.json(&format!("{COMMAND} {SURE}"));
    assert_eq!(found["untouched"]["verdict"], "noise");
    let out = site.succeed(&format!("{} {SURE}", COMMAND.replace(" --json", "")));
    assert!(
        out.replace('\n', " ").contains("less accurate than stated"),
        "{out}"
    );
}

#[test]
fn the_unit_and_the_order_of_sides_change_nothing() {
    let site = site(0.04, 0.001);
    let metres = site.json(&format!("{COMMAND} {SURE}"));
    let feet = site.json(
        &format!("{COMMAND} {SURE} --length-unit ft")
            .replace("height=0.005", "height=0.016404199475")
            .replace("common-height=0.01", "common-height=0.03280839895"),
    );
    let (own, other) = (&metres["untouched"], &feet["untouched"]);
    assert_eq!(own["verdict"], other["verdict"]);
    for what in ["mean", "deviation", "robust_deviation", "highest"] {
        let value = own["zones"][0][what]["value"].as_f64().unwrap();
        near(&other["zones"][0][what]["value"], value / 0.3048, 1e-5);
    }
    let swapped = COMMAND.replace("before.csv after.csv", "after.csv before.csv");
    let swapped = site.json(&format!("{swapped} --reference-accuracy height=0.005,common-height=0.01 --surveyed-accuracy height=0.005"));
    let value = own["zones"][0]["mean"]["value"].as_f64().unwrap();
    near(
        &swapped["untouched"]["zones"][0]["mean"]["value"],
        -value,
        1e-12,
    );
    assert_eq!(swapped["untouched"]["verdict"], own["verdict"]);
}

#[test]
fn ground_that_may_be_untouched_is_found_and_can_be_used() {
    let site = site(0.04, 0.0);
    let line = format!("{COMMAND} {SURE} --propose-untouched found.geojson");
    let line = line.replace("--untouched zones.geojson#east ", "");
    let found = site.json(&line);
    let ground = &found["proposed_untouched"]["ground"];
    near(&ground["mean"]["value"], 0.04, 1e-6);
    // All but the measured zone, and a cell along its edges.
    let area = ground["area"]["value"].as_f64().unwrap();
    assert!((450.0..576.0).contains(&area), "{area}");
    let again = site.json(&COMMAND.replace("zones.geojson#east", "found.geojson"));
    near(&again["untouched"]["zones"][0]["area"]["value"], area, 1e-6);
    let text = site.read("found.geojson");
    let numbers = text.split(|c: char| !c.is_ascii_digit() && c != '.');
    let decimals = numbers.filter_map(|number| Some(number.split_once('.')?.1.len()));
    assert!(decimals.max().unwrap() <= 3, "{text}");
    // Where all is dug unevenly there is none.
    site.write(
        "after.csv",
        &survey(|e, n| terrain(e, n) - 0.1 * e - 0.3 * (n / 3.0).sin()),
    );
    let none = site.json(&line.replace("found.geojson", "none.geojson"));
    assert!(none.get("proposed_untouched").is_none());
    assert!(none.to_string().contains("untouched-not-found"));
    assert!(!site.files().contains(&"none.geojson".to_owned()));
}

#[test]
fn ground_that_is_paid_on_or_not_covered_is_refused() {
    let site = site(0.0, 0.0);
    let error = site.refuse(&COMMAND.replace("#east", "#edge"));
    assert!(
        error.contains("overlap on 14.0 m²") && error.contains("no work is paid on"),
        "{error}"
    );
    site.zone(
        "away.geojson",
        &[(
            "away",
            &[(900, 0), (910, 0), (910, 10), (900, 10), (900, 0)],
        )],
    );
    let error = site.refuse(&COMMAND.replace("zones.geojson#east", "away.geojson"));
    assert!(error.contains("away"), "{error}");
    site.zone(
        "small.geojson",
        &[("small", &[(30, 10), (33, 10), (33, 13), (30, 13), (30, 10)])],
    );
    let found = site.json(&COMMAND.replace("zones.geojson#east", "small.geojson"));
    assert!(found.to_string().contains("untouched-few"));
    // Several zones are shown one by one and together, without shared ground counted twice.
    site.zone(
        "two.geojson",
        &[
            ("one", &[(22, 2), (32, 2), (32, 18), (22, 18), (22, 2)]),
            ("two", &[(28, 2), (38, 2), (38, 18), (28, 18), (28, 2)]),
        ],
    );
    let found = site.json(&COMMAND.replace("zones.geojson#east", "two.geojson"));
    near(
        &found["untouched"]["together"]["area"]["value"],
        256.0,
        1e-6,
    );
}

fn job(step: &str, extra: &str) -> String {
    format!(
        "[job]\nname = \"Yard\"\nunit = \"m\"\n\
         [surface.before]\nfile = \"before.csv\"\naccuracy = {{ height = 0.005 }}\n\
         [surface.after]\nfile = \"after.csv\"\naccuracy = {{ height = 0.005, common-height = 0.01 }}\n\
         [surface.corrected]\nstart = \"after\"\nsteps = [{{ {step}, zones = \"east\" }}]\n\
         [zone.pit]\nfile = \"zones.geojson#pit\"\n[zone.east]\nfile = \"zones.geojson#east\"\n\
         [[item]]\ncode = \"1\"\ndescription = \"Dig\"\nmeasure = \"cut\"\nzones = \"pit\"\n\
         reference = \"before\"\nsurveyed = \"after\"\nunit = \"m3\"\n\
         [[item]]\ncode = \"2\"\ndescription = \"Dig\"\nmeasure = \"fill\"\nzones = \"pit\"\n\
         reference = \"after\"\nsurveyed = \"before\"\nunit = \"m3\"\n\
         [[untouched]]\nzones = \"east\"\nreference = \"before\"\nsurveyed = \"after\"\n{extra}"
    )
}

#[test]
fn a_bill_compares_its_surveys_and_says_what_items_would_change_by() {
    let site = site(0.04, 0.0);
    site.write("dapedon.toml", &job("fit-to = \"before\"", ""));
    let bill = site.json("measure --json");
    let own = &bill["untouched"][0];
    assert_eq!(own["compared"]["verdict"], "shift");
    // 40 mm over the ground that is cut.
    let item = &bill["sections"][0]["items"][0];
    let area = item["rows"][0]["measured"]["area"]["cut"]["value"]
        .as_f64()
        .unwrap();
    near(&own["items"][0]["change"]["value"], 0.04 * area, 1e-9);
    // The same figure measured the other way round changes by as much.
    near(&own["items"][1]["change"]["value"], 0.04 * area, 1e-9);
    let out = site.succeed("measure");
    assert!(
        out.contains("warning: untouched ground \"east\"")
            && out.contains("Without the shift of \"after\""),
        "{out}"
    );
    // One item alone is not asked about the surveys of others.
    assert!(site.json("measure 1 --json").get("untouched").is_none());
    // With the step the surveys agree.
    let line = "volume before corrected --zone pit --untouched east --json";
    let found = site.json(line);
    near(&found["untouched"]["zones"][0]["mean"]["value"], 0.0, 1e-9);
    assert_eq!(found["untouched"]["verdict"], "as_stated");
    let out = site.succeed("volume before corrected --zone pit");
    assert!(
        out.replace('\n', " ")
            .contains("lowered by 0.0400 m, from 256.0 m²"),
        "{out}"
    );
    site.write(
        "after.csv",
        &survey(|e, n| pit(e, n) + 0.04 + 0.003 * (n - 10.0)),
    );
    site.write("dapedon.toml", &job("fit-to = \"before\", tilt = true", ""));
    let found = site.json(line);
    near(
        &found["untouched"]["zones"][0]["deviation"]["value"],
        0.0,
        1e-6,
    );
}

#[test]
fn warnings_are_acknowledged_with_a_reason() {
    let site = site(0.04, 0.0);
    let acknowledged = |finding: &str, more: &str| {
        format!("[[acknowledged]]\nfinding = \"{finding}\"\n{more}reason = \"benchmark wrong\"\n")
    };
    let fit = "fit-to = \"before\"";
    site.write(
        "dapedon.toml",
        &job(fit, &acknowledged("untouched-shift", "about = \"east\"\n")),
    );
    let out = site.succeed("measure");
    assert!(
        out.contains("acknowledged: untouched ground") && out.contains("reason: benchmark wrong"),
        "{out}"
    );
    assert!(!out.contains("warning:"), "{out}");
    let json = site.json("measure --json");
    assert_eq!(json["warnings"][0]["acknowledged"], "benchmark wrong");
    site.succeed("measure --report page.html");
    assert!(site.read("page.html").contains("<b>Acknowledged</b>"));
    // It holds for what it is about alone.
    site.write(
        "dapedon.toml",
        &job(fit, &acknowledged("untouched-shift", "about = \"west\"\n")),
    );
    assert!(
        site.succeed("measure")
            .contains("warning: untouched ground")
    );
    for (entry, said) in [
        (
            acknowledged("untouched-shft", ""),
            "use \"untouched-shift\"",
        ),
        (acknowledged("off-contract", ""), "a check that fails"),
        (acknowledged("closure", "about = \" \"\n"), "about is empty"),
        (
            "[[acknowledged]]\nfinding = \"closure\"\n".into(),
            "the key reason is missing",
        ),
        (
            "[[untouched]]\nzones = \"east\"\nreference = \"after\"\nsurveyed = \"after\"\n".into(),
            "compared with itself",
        ),
        (
            "[[untouched]]\nzones = []\nreference = \"after\"\nsurveyed = \"before\"\n".into(),
            "no zone is named",
        ),
        (
            "[[untouched]]\nzones = \"pit\"\nreference = \"before\"\nsurveyed = \"after\"\n".into(),
            "overlap on",
        ),
    ] {
        site.write("dapedon.toml", &job(fit, &entry));
        let error = site.refuse("measure");
        assert!(
            error.contains(said) && error.contains("in: dapedon.toml, line"),
            "{entry}: {error}"
        );
    }
    for step in ["raise = 1, tilt = true", "fit-to = \"nowhere\""] {
        site.write("dapedon.toml", &job(step, ""));
        site.refuse("measure");
    }
    let without = job(fit, "").replace(", zones = \"east\" }", " }");
    site.write("dapedon.toml", &without);
    assert!(site.refuse("measure").contains("fit-to needs zones"));
}
