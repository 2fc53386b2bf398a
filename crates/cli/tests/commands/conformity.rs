//! A built surface against its design: tolerances, clearance, slopes, guard bands, the worst places, and what is refused.

use crate::site::Site;

/// A survey of points two metres apart over 40 by 20 m, at the site's corner.
fn survey(height: impl Fn(f64, f64) -> f64) -> String {
    let mut text = String::from("point,east,north,height\n");
    for row in 0..=10 {
        for column in 0..=20 {
            let (e, n) = (2.0 * f64::from(column), 2.0 * f64::from(row));
            let (east, north, h) = (500_000.0 + e, 6_000_000.0 + n, height(e, n));
            text += &format!("P{}-{row},{east},{north},{h:.4}\n", column);
        }
    }
    text
}

/// A design that rises to the north, and what was built: from 50 mm below it in the west to 50 mm above it in the east.
fn site() -> Site {
    let site = Site::new();
    site.write("design.csv", &survey(|_, n| 20.0 + 0.01 * n));
    let wedge = |e: f64| 0.0025 * (e - 20.0);
    site.write("built.csv", &survey(|e, n| 20.0 + 0.01 * n + wedge(e)));
    site.write("wedge.csv", &survey(|e, _| 20.0 + wedge(e)));
    let halves: [(&str, &[(i32, i32)]); 2] = [
        ("west", &[(0, 0), (20, 0), (20, 20), (0, 20), (0, 0)]),
        ("east", &[(20, 0), (40, 0), (40, 20), (20, 20), (20, 0)]),
    ];
    site.zone("halves.geojson", &halves);
    site
}

const CHECK: &str = "conformity design.csv built.csv --unit m --above 0.02 --below 0.03 --json";
const SURE: &str = "--surveyed-accuracy height=0.005";

/// The result and the exit code.
fn found(site: &Site, line: &str) -> (serde_json::Value, i32) {
    let (code, out, err) = site.run(line);
    let result = serde_json::from_str(&out);
    (
        result.unwrap_or_else(|_| panic!("{line}: {out}{err}")),
        code,
    )
}

fn near(value: &serde_json::Value, expected: f64) {
    let value = value["value"].as_f64().or(value.as_f64()).unwrap();
    assert!((value - expected).abs() < 1e-6, "{value} and {expected}");
}

fn codes(result: &serde_json::Value) -> Vec<&str> {
    let all = result["warnings"].as_array().unwrap().iter();
    all.map(|finding| finding["code"].as_str().unwrap())
        .collect()
}

#[test]
fn a_wedge_is_within_above_and_below_as_it_is() {
    let (result, code) = found(&site(), CHECK);
    assert_eq!((code, &result["verdict"]), (1, &"does_not_conform".into()));
    let own = &result["zones"][0]["heights"];
    near(&own["within"], 400.0);
    near(&own["above"], 240.0);
    near(&own["below"], 160.0);
    near(&own["volume_above"], 12.0 * 0.03 / 2.0 * 20.0);
    near(&own["volume_below"], 8.0 * 0.02 / 2.0 * 20.0);
    near(&own["highest"], 0.05);
    near(&own["highest_at"]["east"], 500_040.0);
    near(&own["mean"], 0.0);
    // What was measured is told without a guard band, since nothing is known of the accuracy.
    assert_eq!(result["acceptance"], "simple");
    assert_eq!(codes(&result), ["accuracy-missing", "does-not-conform"]);
    let patches = &result["patches"];
    assert_eq!(patches["count"], 2);
    near(&patches["worst"][0]["beyond"], 0.03);
    assert_eq!(patches["worst"][0]["side"], "above");
    near(&patches["worst"][1]["area"], 160.0);
    // Eleven points a column: those on a limit are within.
    let points = &result["points"];
    let counts = ["compared", "within", "above", "below", "not_compared"];
    assert_eq!(
        counts.map(|key| points[key].as_u64().unwrap()),
        [231, 121, 66, 44, 0]
    );
    let worst = &points["worst"][0];
    assert_eq!(worst["point"], "P20-0");
    near(&worst["beyond"], 0.03);
    assert_eq!(points["worst"].as_array().unwrap().len(), 20);
}

#[test]
fn a_guard_band_leaves_ground_in_doubt() {
    let site = site();
    let (result, code) = found(&site, &format!("{CHECK} {SURE}"));
    assert_eq!((code, &result["acceptance"]), (1, &"guard_band".into()));
    // No position is uncertain, so that slopes do not count: ±10 mm everywhere.
    near(&result["uncertainty"]["least"], 0.01);
    near(&result["uncertainty"]["greatest"], 0.01);
    let own = &result["zones"][0]["heights"];
    near(&own["shown_within"], 240.0);
    near(&own["shown_above"], 160.0);
    near(&own["shown_below"], 80.0);
    near(&own["in_doubt"], 320.0);
    near(&own["within"], 400.0);
    assert_eq!(codes(&result), ["does-not-conform"]);
    // Points beyond by no more than the uncertainty are in doubt.
    let worst = result["points"]["worst"].as_array().unwrap();
    assert!(worst.iter().all(|point| point["is_shown"] == true));

    // 30 % are shown to be within, and 30 % to be beyond.
    for (share, verdict, code) in [
        ("30%", "conforms", 0),
        ("31%", "not_shown", 1),
        ("70%", "not_shown", 1),
        ("71%", "does_not_conform", 1),
    ] {
        let (result, ended) = found(&site, &format!("{CHECK} {SURE} --share {share}"));
        assert_eq!(
            (&result["verdict"], ended),
            (&verdict.into(), code),
            "{share}"
        );
        let told = codes(&result).contains(&"conformity-not-shown");
        assert_eq!(told, verdict == "not_shown", "{share}");
    }
    let simple = format!("{CHECK} {SURE} --simple-acceptance");
    assert_eq!(found(&site, &format!("{simple} --share 50%")).1, 0);
    assert_eq!(found(&site, &format!("{simple} --share 51%")).1, 1);
}

#[test]
fn a_tolerance_narrower_than_the_uncertainty_is_said() {
    let (result, code) = found(&site(), &format!("{CHECK} --surveyed-accuracy height=0.02"));
    assert_eq!((code, &result["verdict"]), (1, &"not_shown".into()));
    assert_eq!(codes(&result), ["limits-fine", "conformity-not-shown"]);
    near(&result["zones"][0]["heights"]["shown_within"], 0.0);
}

#[test]
fn one_surface_lies_clear_below_another() {
    let site = site();
    // Its highest place is 150 mm below a level of 20.2: on the limit it is clear.
    let line = "conformity level=20.2 wedge.csv --unit m --json";
    let (result, code) = found(&site, &format!("{line} --clearance 0.15"));
    assert_eq!((code, &result["verdict"]), (0, &"conforms".into()));
    near(&result["limits"]["highest"], -0.15);
    let (result, code) = found(&site, &format!("{line} --clearance 0.16"));
    assert_eq!(code, 1);
    let own = &result["zones"][0]["heights"];
    near(&own["highest"], -0.15);
    near(&own["above"], 4.0 * 20.0);
    let (result, _) = found(&site, &format!("{line} --clearance 0.16 --below 0.24"));
    near(&result["zones"][0]["heights"]["within"], 32.0 * 20.0);
    let told = site
        .run("conformity level=20.2 wedge.csv --unit m --clearance 0.16")
        .1;
    assert!(told.contains("at least 0.160 m below the design"), "{told}");
}

#[test]
fn slopes_are_within_limits() {
    let site = site();
    site.write("batter.csv", &survey(|e, n| 20.0 + 0.3 * e + 0.4 * n));
    let line = "conformity level=0 batter.csv --unit m --json";
    assert_eq!(found(&site, &format!("{line} --steepest 1:2")).1, 0);
    assert_eq!(found(&site, &format!("{line} --flattest 50%")).1, 0);
    let (result, code) = found(&site, &format!("{line} --steepest 1:2.1"));
    assert_eq!(
        (code, codes(&result)),
        (1, vec!["accuracy-missing", "does-not-conform"])
    );
    let own = &result["zones"][0]["slopes"];
    near(&own["steeper"], 800.0);
    near(&own["steepest"], 0.5);
    assert!(result["zones"][0].get("heights").is_none() && result.get("points").is_none());
    // With 20 mm at points two metres apart the slope is uncertain by 2.0 or 3.4 %, by the diagonal.
    let (result, code) = found(
        &site,
        &format!("{line} --steepest 50.5% --surveyed-accuracy height=0.02"),
    );
    assert_eq!((code, &result["verdict"]), (1, &"not_shown".into()));
    let (_, code) = found(
        &site,
        &format!("{line} --steepest 54% --surveyed-accuracy height=0.02"),
    );
    assert_eq!(code, 0);
}

#[test]
fn zones_are_judged_one_by_one() {
    let site = site();
    let line = format!("{CHECK} --zone halves.geojson");
    let (result, _) = found(&site, &format!("{line} --share 60%"));
    let zones = result["zones"].as_array().unwrap();
    // West of the middle 240 of 400 are within, east of it 160.
    assert_eq!(zones[0]["verdict"], "conforms");
    assert_eq!(zones[1]["verdict"], "does_not_conform");
    assert_eq!(result["verdict"], "does_not_conform");
    let total = &result["total"]["heights"];
    near(&total["within"], 400.0);
    near(&total["volume_above"], 3.6);
    near(&total["lowest"], -0.05);
    near(&total["mean"], 0.0);
    let place = result["warnings"].as_array().unwrap().last().unwrap()["place"].as_str();
    assert_eq!(place, Some("zone \"east\""));
}

#[test]
fn outlines_of_what_is_beyond_are_zones() {
    let site = site();
    let (result, _) = found(
        &site,
        &format!("{CHECK} --out beyond.geojson --csv all.csv --map map.svg --report page.html"),
    );
    let own = &result["zones"][0]["heights"];
    let measured = site.json("volume design.csv built.csv --unit m --zone beyond.geojson --json");
    let area = |zone: usize| {
        measured["zones"][zone]["area"]["compared"]["value"]
            .as_f64()
            .unwrap()
    };
    // What lies farthest beyond stands first: above by 30 mm, below by 20 mm.
    near(&own["above"], area(0));
    near(&own["below"], area(1));
    assert_eq!(measured["zones"][0]["zone"], "1 above");
    // 12 m from the limit to the edge rise to 50 mm: what is filled over them is the mean of 20 and 50 mm.
    near(&measured["zones"][0]["volume"]["fill"], 240.0 * 0.035);
    let page = site.read("page.html");
    for words in ["does not conform", "Worst places", "P20-0", "Above design"] {
        assert!(page.contains(words), "{words}");
    }
    assert!(
        site.read("map.svg")
            .contains("0.020 m above to 0.030 m below")
    );
    assert!(site.read("all.csv").contains("below the lowest"));
}

#[test]
fn units_and_threads_change_nothing() {
    let site = site();
    let (metres, _) = found(&site, CHECK);
    let feet = 0.3048;
    let line = format!(
        "conformity design.csv built.csv --unit m --length-unit ft --above {} --below {} --json",
        0.02 / feet,
        0.03 / feet
    );
    let (result, _) = found(&site, &line);
    let [own, other] = [&metres, &result].map(|of| &of["zones"][0]["heights"]);
    for key in ["above", "below", "within"] {
        let [own, other] = [own, other].map(|of| of[key]["value"].as_f64().unwrap());
        assert!(
            (own - other * feet * feet).abs() < 1e-5,
            "{key}: {own} and {other}"
        );
    }
    site.set("RAYON_NUM_THREADS", "1");
    let alone = site.run(CHECK).1;
    site.set("RAYON_NUM_THREADS", "3");
    assert_eq!(alone, site.run(CHECK).1);
}

#[test]
fn what_cannot_be_is_refused() {
    let site = site();
    let line = "conformity design.csv built.csv --unit m";
    for (limits, words) in [
        ("", "no limit is given"),
        ("--share 90%", "no limit is given"),
        ("--above -0.02", "--clearance"),
        ("--above nan", "a height of zero or more"),
        ("--above 0.02 --clearance 0.1", "cannot be used with"),
        (
            "--clearance 0.2 --below 0.1",
            "0.1 below the design at most, and 0.2 below it at least",
        ),
        (
            "--steepest 1:3 --flattest 1:2",
            "is steeper than the steepest",
        ),
        ("--steepest 1:0", "is no slope"),
        ("--above 0.1 --share 0%", "is no share"),
        ("--above 0.1 --share 95", "is no share"),
        ("--steepest 1:2 --out beyond.geojson", "limits of height"),
        ("--above 0.1 --out beyond.txt", "beyond.txt"),
        ("--above 0.1 --out built.csv", "built.csv"),
    ] {
        let told = site.refuse(&format!("{line} {limits}")).replace('\n', " ");
        assert!(told.contains(words), "{limits}: {told}");
    }
    site.write(
        "far.csv",
        "east,north,height\n510000,6000000,20\n510010,6000000,20\n510000,6000010,20\n",
    );
    let told = site.refuse("conformity design.csv far.csv --unit m --above 0.02");
    assert!(told.contains("overlap"), "{told}");
}

/// A job that checks what was built with its bill.
fn job(checks: &str) -> String {
    format!(
        "[job]\nname = \"Yard\"\nunit = \"m\"\n[surface.design]\nfile = \"design.csv\"\naccuracy = \"design\"\n\
         [surface.built]\nfile = \"built.csv\"\naccuracy = {{ height = 0.005 }}\n\
         [zone.west]\nfile = \"halves.geojson#west\"\n[zone.east]\nfile = \"halves.geojson#east\"\n\
         [[item]]\ncode = \"1\"\ndescription = \"Fill\"\nmeasure = \"fill\"\nreference = \"design\"\nsurveyed = \"built\"\nunit = \"m3\"\n\
         [[item]]\ncode = \"2\"\ndescription = \"Dig\"\nmeasure = \"cut\"\nreference = \"design\"\nsurveyed = \"built\"\nunit = \"m3\"\n{checks}"
    )
}

#[test]
fn a_job_checks_what_was_built_with_its_bill() {
    let site = site();
    let check = "[[conformity]]\ndescription = \"West half\"\ndesign = \"design\"\nbuilt = \"built\"\nzones = \"west\"\nabove = 0.02\nbelow = 0.03\nshare = \"40%\"\n\
                 [[conformity]]\ndescription = \"All of it\"\ndesign = \"design\"\nbuilt = \"built\"\nabove = 0.02\nbelow = 0.03\n";
    site.write("dapedon.toml", &job(check));
    let (bill, code) = found(&site, "measure --json");
    assert_eq!(code, 1);
    let checks = bill["conformity"].as_array().unwrap();
    assert_eq!(checks[0]["verdict"], "conforms");
    assert_eq!(checks[1]["verdict"], "does_not_conform");
    // The same as the command finds.
    let (alone, _) = found(
        &site,
        "conformity design built --above 0.02 --below 0.03 --json",
    );
    for key in ["limits", "acceptance", "uncertainty", "zones", "patches"] {
        assert_eq!(checks[1][key], alone[key], "{key}");
    }
    let failed = codes(&bill);
    assert_eq!(failed, ["does-not-conform"]);
    assert_eq!(bill["warnings"][0]["place"], "conformity \"All of it\"");
    let told = site.run("measure").1;
    for words in [
        "West half, to design",
        "built conforms: it is shown to lie within the limits.",
    ] {
        assert!(told.contains(words), "{words}: {told}");
    }
    // An item alone is measured without the checks.
    let (one, code) = found(&site, "measure 1 --json");
    assert!(code == 0 && one.get("conformity").is_none());
    site.write(
        "dapedon.toml",
        &job(check
            .split("[[conformity]]")
            .nth(1)
            .map(|own| format!("[[conformity]]{own}"))
            .unwrap()
            .as_str()),
    );
    assert_eq!(found(&site, "measure --json").1, 0);
}

#[test]
fn a_check_of_the_job_that_cannot_be_is_refused() {
    let site = site();
    let start = "[[conformity]]\ndescription = \"Half\"\ndesign = \"design\"\nbuilt = \"built\"\n";
    for (keys, words) in [
        ("", "no limit is given"),
        ("above = -0.02", "a height of zero or more"),
        ("above = 0.02\nclearance = 0.1", "contradict each other"),
        ("clearance = 0.2\nbelow = 0.1", "0.2 below it at least"),
        ("steepest = \"steep\"", "is no slope"),
        ("above = 0.02\nshare = \"0%\"", "is no share"),
        ("above = 0.02\nzones = \"north\"", "north"),
        ("above = 0.02\ntolerance = 3", "tolerance"),
    ] {
        site.write("dapedon.toml", &job(&format!("{start}{keys}\n")));
        let told = site.refuse("measure").replace('\n', " ");
        assert!(
            told.contains(words) && told.contains("dapedon.toml"),
            "{keys}: {told}"
        );
    }
}

/// A zone of which the survey covers half: what is not surveyed is shown neither way.
#[test]
fn ground_that_is_not_surveyed_is_not_shown_to_conform() {
    let site = site();
    let wide: [(&str, &[(i32, i32)]); 1] =
        [("wide", &[(0, 0), (80, 0), (80, 20), (0, 20), (0, 0)])];
    site.zone("wide.geojson", &wide);
    let line = "conformity design.csv built.csv --unit m --above 0.1 --below 0.1 --zone wide.geojson --json";
    for sure in ["", SURE] {
        let (result, code) = found(&site, &format!("{line} {sure}"));
        assert_eq!(
            (code, &result["verdict"]),
            (1, &"not_shown".into()),
            "{sure}"
        );
        near(&result["zones"][0]["heights"]["within"], 800.0);
        near(&result["zones"][0]["not_compared"], 800.0);
        let last = result["warnings"].as_array().unwrap().last().unwrap();
        let words = last["message"].as_str().unwrap();
        assert!(
            words.contains("100.0 % of the ground that is surveyed"),
            "{words}"
        );
        assert!(
            words.contains("800.0 m² of the zone are not surveyed"),
            "{words}"
        );
        assert_eq!(
            found(&site, &format!("{line} {sure} --share 50%")).1,
            0,
            "{sure}"
        );
        // However the rest lies, it cannot be.
        let out = line.replace(
            "--above 0.1 --below 0.1",
            "--above 0 --below 0.1 --share 85%",
        );
        assert_eq!(
            found(&site, &format!("{out} {sure}")).0["verdict"],
            "does_not_conform"
        );
    }
    // In a bill too.
    let check = "[zone.wide]\nfile = \"wide.geojson\"\n[[conformity]]\ndescription = \"All\"\ndesign = \"design\"\nbuilt = \"built\"\nzones = \"wide\"\nabove = 0.1\n";
    site.write("dapedon.toml", &job(check));
    let (bill, code) = found(&site, "measure --json");
    assert_eq!(
        (code, &bill["conformity"][0]["verdict"]),
        (1, &"not_shown".into())
    );
    assert_eq!(codes(&bill), ["not-compared", "conformity-not-shown"]);
}

/// A road along a line to the east, which falls by 2.5 % to both sides; as built it falls by 2.1 % to the left, and to the right as it should, but for its
/// last ten metres, where it falls the other way.
fn road() -> Site {
    let site = Site::new();
    let away = |n: f64| (n - 10.0).abs();
    let rows = |height: &dyn Fn(f64, f64) -> f64| {
        let mut text = String::from("east,north,height,code\n");
        for column in 0..=20 {
            for n in [0.0, 4.0, 10.0, 16.0, 20.0] {
                let e = 2.0 * f64::from(column);
                let (east, north) = (500_000.0 + e, 6_000_000.0 + n);
                text += &format!("{east},{north},{:.5},r{n}\n", height(e, n));
            }
        }
        text
    };
    site.write("design.csv", &rows(&|_, n| 20.0 - 0.025 * away(n)));
    site.write(
        "built.csv",
        &rows(&|e, n| match (n > 10.0, e > 30.5) {
            (true, _) => 20.0 - 0.021 * away(n),
            (false, false) => 20.0 - 0.025 * away(n),
            (false, true) => 20.0 + 0.01 * away(n),
        }),
    );
    let line = r#"{"type":"LineString","coordinates":[[500000,6000010],[500040,6000010]]}"#;
    site.write("line.geojson", line);
    let whole: [(&str, &[(i32, i32)]); 1] =
        [("road", &[(1, 4), (39, 4), (39, 16), (1, 16), (1, 4)])];
    site.zone("road.geojson", &whole);
    let start: [(&str, &[(i32, i32)]); 1] =
        [("start", &[(1, 4), (29, 4), (29, 16), (1, 16), (1, 4)])];
    site.zone("start.geojson", &start);
    site
}

const CODES: &str = "--codes r0,r4,r10,r16,r20=breakline";

#[test]
fn crossfalls_are_held_against_those_of_the_design() {
    let site = road();
    let check = |rest: &str| {
        found(
            &site,
            &format!(
                "conformity design.csv built.csv --unit m {CODES} --crossfall line.geojson --json {rest}"
            ),
        )
    };
    let (result, code) = check("--crossfall-within 0.5% --zone start.geojson --crossfall-every 5");
    assert_eq!(
        (code, &result["verdict"]),
        (0, &"conforms".into()),
        "{result}"
    );
    let own = &result["crossfalls"];
    // Chainages 5, 10 to 25, on both sides; at 0 there is no ground within the zone.
    assert_eq!((&own["compared"], &own["within"]), (&10.into(), &10.into()));
    let places = own["places"].as_array().unwrap();
    for place in places {
        near(&place["design"], 0.025);
        let expected = if place["side"] == "left" {
            0.021
        } else {
            0.025
        };
        near(&place["built"], expected);
        near(&place["width"], 6.0);
        assert_eq!(place["uncertainty"], serde_json::Value::Null);
    }
    assert_eq!(places[0]["station"], "0+005.00");
    near(&places[0]["at"]["east"], 500_005.0);

    // Tighter, the left side fails; with all of the road the right one does too, where it falls the other way.
    let (result, code) = check("--crossfall-within 0.3% --zone start.geojson --crossfall-every 5");
    assert_eq!(
        (code, &result["verdict"], &result["crossfalls"]["within"]),
        (1, &"does_not_conform".into(), &5.into())
    );
    let (result, code) = check("--crossfall-within 0.5% --zone road.geojson --crossfall-every 5");
    assert_eq!((code, &result["verdict"]), (1, &"does_not_conform".into()));
    let wrong = result["crossfalls"]["places"].as_array().unwrap().iter();
    let wrong: Vec<_> = wrong
        .filter(|place| place["verdict"] != "conforms")
        .collect();
    assert_eq!(wrong.len(), 1, "{wrong:?}");
    near(&wrong[0]["built"], -0.01);
    let words = Site::warnings(&result);
    assert!(
        words
            .iter()
            .any(|word| word.contains("13 of 14 crossfalls") && word.contains("-1.00 %")),
        "{words:?}"
    );
    // Nine of ten are enough where that was agreed.
    let (_, code) =
        check("--crossfall-within 0.5% --zone road.geojson --crossfall-every 5 --share 90%");
    assert_eq!(code, 0);

    // The line the other way round: left is right, and nothing else changes.
    let back = r#"{"type":"LineString","coordinates":[[500040,6000010],[500000,6000010]]}"#;
    site.write("line.geojson", back);
    let (result, _) = check("--crossfall-within 0.5% --zone start.geojson --crossfall-every 5");
    for place in result["crossfalls"]["places"].as_array().unwrap() {
        near(
            &place["built"],
            if place["side"] == "right" {
                0.021
            } else {
                0.025
            },
        );
    }
}

#[test]
fn crossfalls_have_a_guard_band_and_what_is_common_does_not_lean() {
    let site = road();
    let check = |rest: &str| {
        let line = format!(
            "conformity design.csv built.csv --unit m {CODES} --crossfall line.geojson --zone start.geojson --crossfall-within 0.5% --json {rest}"
        );
        found(&site, &line)
    };
    let (result, code) = check("--surveyed-accuracy common-height=0.2");
    assert_eq!(code, 0);
    assert!(
        result["crossfalls"]["places"][0]["uncertainty"]
            .as_f64()
            .unwrap()
            < 1e-9
    );
    // Single heights of 4 mm over 6 m: the left side may as well be beyond.
    let (result, code) = check("--surveyed-accuracy height=0.004");
    assert_eq!(
        (code, &result["verdict"]),
        (1, &"not_shown".into()),
        "{result}"
    );
    let by = |side: &str| {
        let places = result["crossfalls"]["places"].as_array().unwrap().iter();
        let place = places.clone().find(|place| place["side"] == side).unwrap();
        (
            place["verdict"].clone(),
            place["uncertainty"].as_f64().unwrap(),
        )
    };
    let (left, right) = (by("left"), by("right"));
    assert_eq!(
        (&left.0, &right.0),
        (&"not_shown".into(), &"conforms".into())
    );
    // Between two points of a row, at the kerb and at the line: the closest line leans by their difference over 6 m.
    assert!(
        left.1 > 2.0 * 0.004 * 2f64.sqrt() / 6.0 * 0.6
            && left.1 < 2.0 * 0.004 * 2f64.sqrt() / 6.0 * 1.05,
        "{left:?}"
    );
    let (_, code) = check("--surveyed-accuracy height=0.004 --simple-acceptance");
    assert_eq!(code, 0);
    let out = site.run(&format!("conformity design.csv built.csv --unit m {CODES} --crossfall line.geojson --zone start.geojson --crossfall-within 0.5% --surveyed-accuracy height=0.004")).1;
    assert!(
        out.contains("Crossfall, %") && out.contains("in 0.5") || out.contains("within 0.5"),
        "{out}"
    );
}

#[test]
fn crossfalls_of_the_job_are_part_of_the_bill_and_need_a_line_a_zone_and_a_limit() {
    let site = road();
    let job = |keys: &str| {
        site.write(
            "dapedon.toml",
            &format!(
                "[job]\nname = \"Road\"\nunit = \"m\"\n\
                 [surface.design]\nfile = \"design.csv\"\n[surface.built]\nfile = \"built.csv\"\n\
                 [zone.road]\nfile = \"road.geojson\"\n[line.axis]\nfile = \"line.geojson\"\n\
                 [[item]]\ncode = \"1\"\ndescription = \"Fill\"\nmeasure = \"fill\"\nreference = \"design\"\nsurveyed = \"built\"\nunit = \"m3\"\n\
                 [[conformity]]\ndescription = \"Crossfall\"\ndesign = \"design\"\nbuilt = \"built\"\n{keys}"
            ),
        );
    };
    job(
        "zones = \"road\"\ncrossfall = \"axis\"\ncrossfall-every = 5\ncrossfall-within = \"0.5%\"\n",
    );
    let (code, out, _) = site.run("measure --json");
    let bill: serde_json::Value = serde_json::from_str(&out).unwrap();
    assert_eq!(code, 1);
    assert_eq!(bill["conformity"][0]["crossfalls"]["compared"], 14);
    assert_eq!(bill["conformity"][0]["verdict"], "does_not_conform");
    for (keys, says) in [
        (
            "crossfall = \"axis\"\ncrossfall-within = \"0.5%\"",
            "no zone is named",
        ),
        ("zones = \"road\"\ncrossfall = \"axis\"", "not said how far"),
        (
            "zones = \"road\"\ncrossfall-within = \"0.5%\"",
            "no line is named",
        ),
        (
            "zones = \"road\"\nabove = 0.1\ncrossfall-every = 5",
            "no line is named",
        ),
        (
            "zones = \"road\"\ncrossfall = \"axes\"\ncrossfall-within = \"0.5%\"",
            "axis",
        ),
        (
            "zones = \"road\"\ncrossfall = \"axis\"\ncrossfall-every = 0\ncrossfall-within = \"0.5%\"",
            "every 0",
        ),
    ] {
        job(keys);
        let said = site.refuse("measure");
        assert!(
            said.contains(says) && said.contains("dapedon.toml"),
            "{said}"
        );
    }
    let line = "conformity design.csv built.csv --unit m --crossfall line.geojson";
    assert!(site.refuse(line).contains("--crossfall-within"));
    assert!(
        site.refuse(&format!("{line} --crossfall-within 1%"))
            .contains("--zone")
    );
    assert!(
        site.refuse("conformity design.csv built.csv --unit m --crossfall-within 1%")
            .contains("--crossfall")
    );
    site.zone(
        "aside.geojson",
        &[("aside", &[(0, 40), (10, 40), (10, 50), (0, 50), (0, 40)])],
    );
    let said = site.refuse(&format!(
        "{line} --crossfall-within 1% --zone aside.geojson"
    ));
    assert!(said.contains("zone") || said.contains("compare"), "{said}");
}
