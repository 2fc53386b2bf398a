//! Uncertainties of volumes, from stated accuracies: closed forms on a level survey of four points.

use crate::site::{Site, number};

/// Standard uncertainty of a volume over 16 by 10 between four points, whose heights are each off by one: of the two triangles of 80,
/// two corners have a third of both, the others a third of one.
fn heights_of_four() -> f64 {
    let third: f64 = 80.0 / 3.0;
    (2.0 * (2.0 * third).powi(2) + 2.0 * third * third).sqrt()
}

const DESIGN: &str = "volume ground.xml survey.csv --unit m --reference-accuracy design --json";

/// The survey in two zones.
fn halves(site: &Site) {
    let square = |west: i32, east: i32| [(west, 0), (east, 0), (east, 10), (west, 10), (west, 0)];
    let zones: [(&str, &[(i32, i32)]); 2] = [("west", &square(0, 8)), ("east", &square(8, 16))];
    site.zone("halves.geojson", &zones);
}

#[track_caller]
fn near(found: &serde_json::Value, expected: f64) {
    let found = found.as_f64().unwrap();
    assert!(
        (found - expected).abs() <= 1e-9 * expected.abs().max(1e-3),
        "{found} is not {expected}"
    );
}

#[test]
fn four_points_have_a_closed_form() {
    let site = Site::new();
    let json = site.json(&format!(
        "{DESIGN} --surveyed-accuracy height=0.02,common-height=0.01,plan=0.3,common-plan=0.5"
    ));
    let own = &json["uncertainty"]["zones"][0]["fill"];
    near(
        &own["surveyed"]["heights"]["value"],
        0.02 * heights_of_four(),
    );
    near(&own["surveyed"]["common_height"]["value"], 0.01 * 160.0);
    // It is level: where its points are does not matter.
    near(&own["surveyed"]["places"]["value"], 0.0);
    near(&own["surveyed"]["common_place"]["value"], 0.0);
    let standard = (0.02 * heights_of_four()).hypot(1.6);
    near(&own["standard"]["value"], standard);
    near(&json["zones"][0]["volume"]["fill"]["uncertainty"], standard);
    near(&json["zones"][0]["volume"]["net"]["uncertainty"], standard);
    near(&json["zones"][0]["volume"]["cut"]["uncertainty"], 0.0);
    assert_eq!(json["uncertainty"]["coverage_factor"], 2.0);
    assert_eq!(json["uncertainty"]["total"], serde_json::Value::Null);
    // The other way round it is cut that is as uncertain.
    let turned = site.json(
        "volume survey.csv ground.xml --unit m --surveyed-accuracy design --json \
         --reference-accuracy height=0.02,common-height=0.01",
    );
    near(
        &turned["zones"][0]["volume"]["cut"]["uncertainty"],
        standard,
    );
    let own = &turned["uncertainty"]["zones"][0]["cut"];
    near(&own["reference"]["common_height"]["value"], 1.6);
    near(&own["surveyed"]["common_height"]["value"], 0.0);
}

#[test]
fn zones_share_points_and_units_do_not_matter() {
    let site = Site::new();
    halves(&site);
    let line = format!("{DESIGN} --zone halves.geojson --surveyed-accuracy");
    let json = site.json(&format!("{line} height=0.02,common-height=0.01"));
    let part = |zone: &serde_json::Value, which: &str| number(&zone["fill"]["surveyed"][which]);
    let own = &json["uncertainty"];
    let total = &own["total"];
    let sum = |which: &str| {
        (0..2)
            .map(|zone| part(&own["zones"][zone], which))
            .sum::<f64>()
    };
    assert!((part(total, "common_height") - 1.6).abs() < 1e-9);
    assert!((sum("common_height") - 1.6).abs() < 1e-9);
    assert!((part(total, "heights") - 0.02 * heights_of_four()).abs() < 1e-9);
    let both = part(&own["zones"][0], "heights").hypot(part(&own["zones"][1], "heights"));
    assert!(
        part(total, "heights") > both,
        "points of both halves count once, with the sum of their weights"
    );

    // Accuracies are in the unit that is measured in; volumes in yards, of which the foot has its own.
    let feet = site.json(&format!(
        "{line} height=0.02,common-height=0.01 --length-unit ft --volume-unit m3"
    ));
    let foot = 0.3048;
    assert!((part(&feet["uncertainty"]["total"], "common_height") - 1.6 * foot).abs() < 1e-9);
    let usual = |unit: &str| {
        let json = site.json(&format!(
            "{line} gnss --length-unit {unit} --volume-unit m3"
        ));
        number(&json["uncertainty"]["total"]["fill"]["standard"])
    };
    assert!((usual("ft") - usual("m")).abs() < 1e-9);
}

#[test]
fn accuracies_of_the_job_go_along_with_what_is_made_of_surfaces() {
    let site = Site::new();
    let job = |of_survey: &str, more: &str| {
        site.write(
            "dapedon.toml",
            &format!(
                "[job]\nname = \"Yard\"\nunit = \"m\"\n\
                 [surface.ground]\nfile = \"ground.xml\"\naccuracy = \"design\"\n\
                 [surface.survey]\nfile = \"survey.csv\"\n{of_survey}\n{more}"
            ),
        );
    };
    let common = |line: &str| {
        let json = site.json(&format!("volume {line} --json"));
        let net = &json["uncertainty"]["zones"][0]["net"];
        net["surveyed"]["common_height"]["value"].as_f64()
    };
    for stated in [
        "accuracy = \"common-height=0.01\"",
        "accuracy = { common-height = 0.01 }",
        "accuracy = { kind = \"gnss\", common-height = 0.01 }",
        "accuracy = \"gnss, common-height=0.01\"",
    ] {
        job(stated, "");
        assert!(
            (common("ground survey").unwrap() - 1.6).abs() < 1e-9,
            "{stated}"
        );
    }
    // The command line goes before it.
    let said = common("ground survey --surveyed-accuracy common-height=0.03").unwrap();
    assert!((said - 4.8).abs() < 1e-9);
    let made = "[surface.other]\nfile = \"survey.csv\"\naccuracy = \"common-height=0.05\"\n\
                [surface.none]\nfile = \"survey.csv\"\n\
                [surface.raised]\nstart = \"survey\"\nsteps = [{ raise = 1.0 }]\n\
                [surface.higher]\nstart = \"raised\"\nsteps = [{ highest = \"other\" }]\n\
                [surface.unsure]\nstart = \"raised\"\nsteps = [{ highest = \"none\" }]\n\
                [surface.sure]\nstart = \"unsure\"\naccuracy = \"common-height=0.02\"\n\
                [surface.flat]\nstart = \"survey\"\nsteps = [{ level = 20.0 }]\n";
    job("accuracy = \"common-height=0.01\"", made);
    let of = |name: &str| common(&format!("ground {name}"));
    for (name, expected) in [
        ("raised", 1.6),
        ("higher", 8.0),
        ("sure", 3.2),
        ("flat", 0.0),
    ] {
        assert!((of(name).unwrap() - expected).abs() < 1e-9, "{name}");
    }
    assert_eq!(of("unsure"), None);
}

#[test]
fn what_must_be_known_of_it_is_said() {
    let site = Site::new();
    let warnings = |line: &str| {
        let json = site.json(&format!("volume {line} --unit m --json"));
        let of = json["warnings"].as_array().unwrap().iter();
        let codes = of.map(|found| found["code"].as_str().unwrap().to_owned());
        codes
            .filter(|code| code != "not-compared")
            .collect::<Vec<_>>()
    };
    let sides = "ground.xml survey.csv";
    let none: [&str; 0] = [];
    // Nobody asked for it.
    assert_eq!(warnings(sides), none);
    assert_eq!(warnings("level=9 survey.csv"), none);
    assert_eq!(
        warnings("level=9 survey.csv --surveyed-accuracy gnss"),
        none
    );
    assert_eq!(
        warnings(&format!("{sides} --surveyed-accuracy gnss")),
        ["accuracy-missing"]
    );
    let both = "--reference-accuracy design --surveyed-accuracy";
    assert_eq!(warnings(&format!("{sides} {both} gnss")), none);
    assert_eq!(
        warnings(&format!("{sides} {both} height=0.9")),
        ["accuracy-coarse"]
    );
    assert_eq!(
        warnings(&format!("{sides} {both} gnss --tolerance 0.02")),
        ["tolerance-fine"]
    );
    assert_eq!(
        warnings(&format!("{sides} {both} gnss --tolerance 0.06")),
        none
    );
    let close = "level=11.48 survey.csv --surveyed-accuracy common-height=0.015";
    // The level is closer to the survey than that is accurate: cut counts that may well be none.
    assert_eq!(warnings(close), ["net-uncertain", "gained-by-chance"]);
}

/// A level is a height like any other: a water level that was read is not exact.
#[test]
fn a_level_may_be_uncertain() {
    let site = Site::new();
    let json = site.json(
        "volume level=9 survey.csv --unit m --reference-accuracy common-height=0.02 --surveyed-accuracy design --json",
    );
    near(&json["zones"][0]["volume"]["fill"]["uncertainty"], 3.2);
    near(
        &json["uncertainty"]["zones"][0]["fill"]["reference"]["common_height"]["value"],
        3.2,
    );
}

/// With no more than a hair of error, or as much as is taken, there are words for it all.
#[test]
fn tiny_accuracies_are_told() {
    let site = Site::new();
    for stated in [
        "height=1e-30",
        "height=1e-300",
        "height=1e-12",
        "common-height=2",
    ] {
        let out = site.succeed(&format!(
            "volume ground.xml survey.csv --unit m --reference-accuracy design --surveyed-accuracy {stated}"
        ));
        assert!(out.contains("Uncertainty"), "{out}");
    }
}

#[test]
fn the_help_lists_all_kinds_of_survey() {
    use strum::VariantArray;
    let help = Site::new().succeed("volume --help");
    for kind in dapedon_job::SurveyKind::VARIANTS {
        assert!(help.contains(kind.code()), "{}", kind.code());
    }
}

/// What a better survey takes off: half the error leaves a quarter of its square.
#[test]
fn better_surveys_are_what_remains_of_squares() {
    let site = Site::new();
    let of = |stated: &str| {
        let json = site.json(&format!("{DESIGN} --surveyed-accuracy {stated}"));
        let standard = number(&json["uncertainty"]["zones"][0]["net"]["standard"]);
        let better = json["uncertainty"]["better_surveys"].clone();
        assert_eq!(better.as_array().unwrap().len(), 1);
        (standard, better[0].clone())
    };
    let (whole, better) = of("height=0.02,common-height=0.01");
    assert_eq!(better["surface"], "survey.csv");
    let after = |stated: &str| whole - of(stated).0;
    near(
        &better["half_the_error_of_points"]["value"],
        after("height=0.01,common-height=0.01"),
    );
    near(
        &better["half_the_common_error"]["value"],
        after("height=0.02,common-height=0.005"),
    );
    let fewer = format!("height={},common-height=0.01", 0.02 / 2f64.sqrt());
    near(&better["twice_the_points"]["value"], after(&fewer));
    let (_, together) = of("height=0.02,correlation=5");
    assert_eq!(together["twice_the_points"], serde_json::Value::Null);
}

/// What is made from a survey differs from it as the job says: its errors count once.
#[test]
fn errors_of_one_survey_count_once() {
    let site = Site::new();
    site.write(
        "dapedon.toml",
        "[job]\nname = \"Yard\"\nunit = \"m\"\n\
         [surface.survey]\nfile = \"survey.csv\"\naccuracy = \"common-height=0.01\"\n\
         [surface.ground]\nfile = \"ground.xml\"\naccuracy = \"common-height=0.03\"\n\
         [surface.design]\nfile = \"ground.xml\"\naccuracy = \"design\"\n\
         [surface.flat]\nstart = \"survey\"\nsteps = [{ lowest = \"design\" }]\n\
         [surface.moved]\nstart = \"survey\"\nsteps = [{ move = [1, 0] }]\n\
         [surface.mixed]\nstart = \"survey\"\nsteps = [{ lowest = \"ground\" }]\n",
    );
    let own = |line: &str| {
        let json = site.json(&format!("volume {line} --json"));
        let shared = Site::warnings(&json)
            .iter()
            .any(|words| words.contains("share a survey"));
        let own = &json["uncertainty"];
        let once = own["errors_count_once"].as_str().map(str::to_owned);
        (number(&own["zones"][0]["net"]["standard"]), once, shared)
    };
    // Over 160 of level ground, common errors of 0.01.
    for line in ["survey flat", "flat survey", "survey survey"] {
        let (standard, once, shared) = own(line);
        let expected = if line == "survey survey" { 0.0 } else { 1.6 };
        assert!(
            (standard - expected).abs() < 1e-9 && !shared,
            "{line}: {standard}"
        );
        assert!(
            once.is_some_and(|source| source.ends_with("survey.csv")),
            "{line}"
        );
    }
    // Where they differ one side is the survey, the other the ground.
    let (standard, once, shared) = own("survey mixed");
    assert!(standard > 1.6f64.hypot(4.8) - 1e-9, "{standard}");
    assert_eq!((once, shared), (None, true));
    // Moved aside, a survey errs elsewhere.
    let (_, once, shared) = own("survey moved");
    assert_eq!((once, shared), (None, true));
    // Another survey shares nothing.
    let (standard, once, shared) = own("ground survey");
    assert!((standard - 1.6f64.hypot(4.8)).abs() < 1e-9);
    assert_eq!((once, shared), (None, false));
}

#[test]
fn accuracies_that_cannot_be_are_refused() {
    let site = Site::new();
    for (stated, words) in [
        ("height=20", "more than any survey is off by"),
        ("height=-0.01", "below zero or no number"),
        ("height=NaN", "below zero or no number"),
        ("height=2cm", "\"2cm\" is not a number"),
        ("heigth=0.02", "\"heigth\" is no kind of survey"),
        ("rover", "\"rover\" is no kind of survey"),
        ("correlation=5", "says nothing about heights or places"),
    ] {
        let error = site.refuse(&format!(
            "volume ground.xml survey.csv --unit m --reference-accuracy design --surveyed-accuracy {stated}"
        ));
        assert!(error.contains(words), "{stated}: {error}");
    }
    for (stated, words) in [
        ("accuracy = \"height=20\"", "more than any survey is off by"),
        ("accuracy = { height = -1 }", "below zero or no number"),
        ("accuracy = { kind = \"gps\" }", "expected a kind of survey"),
        ("accuracy = { hight = 1 }", "expected a kind of survey"),
        ("accuracy = 0.02", "expected a kind of survey"),
    ] {
        site.write(
            "dapedon.toml",
            &format!("[job]\nname = \"Yard\"\nunit = \"m\"\n[surface.survey]\nfile = \"survey.csv\"\n{stated}\n"),
        );
        let error = site.refuse("volume survey survey");
        assert!(error.contains(words), "{stated}: {error}");
        assert!(error.contains("accuracy ="), "the line is shown: {error}");
    }
}

#[test]
fn the_page_says_it_in_words() {
    let site = Site::new();
    halves(&site);
    let line = "volume ground.xml survey.csv --unit m --zone halves.geojson --reference-accuracy total-station --surveyed-accuracy gnss,plan=0.02";
    let out = site.succeed(line);
    let told = out.split("Uncertainty\n").nth(1).unwrap();
    insta::assert_snapshot!(told.split("\nReference ").next().unwrap());
}

/// The bill carries it to what is paid: through swell and the rate, with zones that share points as one.
#[test]
fn items_of_the_bill_are_as_uncertain_as_what_they_count() {
    let site = Site::new();
    halves(&site);
    let job = |accuracy: &str| {
        site.write(
            "dapedon.toml",
            &format!(
                "[job]\nname = \"Yard\"\nunit = \"m\"\ncurrency = \"EUR\"\n\
                 [surface.ground]\nfile = \"ground.xml\"\naccuracy = \"design\"\n\
                 [surface.survey]\nfile = \"survey.csv\"\n{accuracy}\n\
                 [zone.halves]\nfile = \"halves.geojson\"\n\
                 [material.gravel]\nswell = 1.25\n\
                 [[item]]\ncode = \"1\"\ndescription = \"Fill\"\nmeasure = \"fill\"\nreference = \"ground\"\nsurveyed = \"survey\"\n\
                 zones = \"halves\"\nunit = \"m3\"\nmaterial = \"gravel\"\nmeasured-state = \"bank\"\npaid-state = \"loose\"\nrate = 4\n\
                 [[item]]\ncode = \"2\"\ndescription = \"Area\"\nmeasure = \"area\"\nreference = \"ground\"\nsurveyed = \"survey\"\nunit = \"m2\"\n"
            ),
        );
    };
    job("accuracy = \"height=0.02,common-height=0.01\"");
    let json = site.json("measure --json");
    let items = &json["sections"][0]["items"];
    let own = &items[0]["uncertainty"];
    let standard = (0.02 * heights_of_four()).hypot(1.6);
    near(&own["measured"], standard);
    near(&own["quantity"], 1.25 * standard);
    near(&own["amount"], 5.0 * standard);
    near(&own["from"]["surveyed"]["common_height"]["value"], 1.6);
    assert_eq!(items[1]["uncertainty"], serde_json::Value::Null);
    let out = site.succeed("measure");
    assert!(
        out.contains("all heights alike in \"survey\"")
            || out.contains("the height of each point in \"survey\""),
        "{out}"
    );
    near(&json["amount_uncertainty"]["standard"], 5.0 * standard);
    assert_eq!(json["warnings"], serde_json::json!([]));
    job("");
    let json = site.json("measure --json");
    assert_eq!(json["warnings"][0]["code"], "accuracy-missing");
    assert_eq!(json["amount_uncertainty"], serde_json::Value::Null);
    assert_eq!(
        json["sections"][0]["items"][0]["uncertainty"],
        serde_json::Value::Null
    );
    assert!(!site.succeed("measure").contains("Uncertainty"));
}

/// Two items that share a survey err together: what is common adds up, what a point has by itself counts once in both.
#[test]
fn the_total_of_a_bill_counts_shared_surveys_as_shared() {
    let site = Site::new();
    halves(&site);
    let item = |code: &str, measure: &str, sides: [&str; 2], zone: &str, rate: f64| {
        format!(
            "[[item]]\ncode = \"{code}\"\ndescription = \"Item\"\nmeasure = \"{measure}\"\nreference = \"{}\"\nsurveyed = \"{}\"\n\
             zones = \"{zone}\"\nunit = \"m3\"\nrate = {rate}\n",
            sides[0], sides[1]
        )
    };
    let standard = |items: &[String]| {
        site.write(
            "dapedon.toml",
            &format!(
                "[job]\nname = \"Yard\"\nunit = \"m\"\ncurrency = \"EUR\"\n\
                 [surface.ground]\nfile = \"ground.xml\"\naccuracy = \"design\"\n\
                 [surface.survey]\nfile = \"survey.csv\"\naccuracy = \"height=0.02,common-height=0.01\"\n\
                 [zone.west]\nfile = \"halves.geojson#west\"\n[zone.east]\nfile = \"halves.geojson#east\"\n{}",
                items.concat()
            ),
        );
        number(&site.json("measure --json")["amount_uncertainty"]["standard"])
    };
    let whole = (0.02 * heights_of_four()).hypot(1.6);
    let (up, down) = (["ground", "survey"], ["survey", "ground"]);
    let near = |found: f64, expected: f64| {
        assert!(
            (found - expected).abs() < 1e-9 * (1.0 + expected),
            "{found} is not {expected}"
        );
    };
    near(
        standard(&[
            item("1", "fill", up, "west", 4.0),
            item("2", "fill", up, "east", 4.0),
        ]),
        4.0 * whole,
    );
    // Measured the other way round it is cut, and errs in the same way.
    near(
        standard(&[
            item("1", "fill", up, "west", 4.0),
            item("2", "cut", down, "east", 4.0),
        ]),
        4.0 * whole,
    );
    // Net of the other way round falls as the fill rises: together nothing is left to err.
    near(
        standard(&[
            item("1", "fill", up, "west", 4.0),
            item("2", "net", down, "west", 4.0),
        ]),
        0.0,
    );
    // One ground, two rates.
    near(
        standard(&[
            item("1", "fill", up, "west", 1.0),
            item("2", "fill", up, "east", 1.0),
            item("3", "net", up, "west", 2.0),
            item("4", "net", up, "east", 2.0),
        ]),
        3.0 * whole,
    );
}

/// A dome that a coarse survey cuts the top off of.
fn dome(spacing: i32) -> String {
    let mut text = String::from("east,north,height\n");
    for row in 0..=(60 / spacing) {
        for column in 0..=(60 / spacing) {
            let (e, n) = (f64::from(column * spacing), f64::from(row * spacing));
            let height = 14.0 - 0.004 * ((e - 30.0).powi(2) + (n - 30.0).powi(2));
            let (east, north) = (500_000.0 + e, 6_000_000.0 + n);
            text += &format!("{east},{north},{height:.4}\n");
        }
    }
    text
}

#[test]
fn what_lies_between_points_is_measured_and_counts() {
    let site = Site::new();
    site.write("coarse.csv", &dome(6));
    site.write("fine.csv", &dome(1));
    let line = "volume level=5 coarse.csv --unit m --surveyed-accuracy height=0.01 --json";
    let without = site.json(line);
    let with = site.json(&format!("{line} --between-points"));
    let truth = site.json("volume level=5 fine.csv --unit m --json");
    let fill = |found: &serde_json::Value| found["zones"][0]["volume"]["fill"].clone();
    let missed = number(&fill(&truth)) - number(&fill(&with));
    let standard = |found: &serde_json::Value| number(&fill(found)["uncertainty"]);
    // What the heights of points make is far less than what the survey misses; with what lies between them it is within ±.
    assert!(2.0 * standard(&without) < 0.5 * missed, "{missed}");
    assert!(
        2.0 * standard(&with) > missed && standard(&with) < 2.0 * missed,
        "{missed}"
    );
    let part = &with["uncertainty"]["zones"][0]["fill"]["surveyed"]["between_points"];
    let sum = libm::hypot(number(part), standard(&without));
    assert!((sum - standard(&with)).abs() < 1e-9 * sum);
    assert_eq!(
        with["zones"][0]["volume"]["fill"]["value"],
        without["zones"][0]["volume"]["fill"]["value"]
    );
    let told = site
        .succeed(&line.replace("--json", "--between-points"))
        .replace('\n', " ");
    assert!(told.contains("what lies between its points"), "{told}");
    assert!(told.contains("leaving out half of the points"), "{told}");

    // Where nothing can be measured, that is said.
    let unknown = |line: &str| {
        let found = site.json(line);
        let mut all = found["warnings"].as_array().unwrap().iter();
        all.any(|own| own["code"] == "between-points-unknown")
    };
    assert!(unknown(
        "volume level=5 coarse.csv --unit m --between-points --json"
    ));
    site.succeed("surface coarse.csv --unit m --out coarse.xml");
    assert!(unknown(
        "volume level=5 coarse.xml --surveyed-accuracy height=0.01 --between-points --json"
    ));
    assert!(!unknown(&format!("{line} --between-points")));
}
