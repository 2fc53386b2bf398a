//! What a careful colleague would ask: sides that look swapped, dates the wrong way round, heights all alike, offsets that explain everything,
//! outlines on a flank.

use crate::site::{GROUND, Site};

/// The codes of the warnings of a result.
fn codes(result: &serde_json::Value) -> Vec<String> {
    let all = result["warnings"].as_array().unwrap().iter();
    all.map(|found| found["code"].as_str().unwrap().to_owned())
        .collect()
}

#[test]
fn an_item_that_counts_the_opposite_is_asked_about() {
    let site = Site::new();
    let warnings = |measure: &str, sides: [&str; 2]| {
        site.write(
            "dapedon.toml",
            &format!(
                "[job]\nname = \"Yard\"\nunit = \"m\"\n\
                 [surface.ground]\nfile = \"ground.xml\"\n[surface.survey]\nfile = \"survey.csv\"\n\
                 [zone.yard]\nfile = \"zone.geojson\"\n\
                 [[item]]\ncode = \"1\"\ndescription = \"Dig\"\nmeasure = \"{measure}\"\nzones = \"yard\"\n\
                 reference = \"{}\"\nsurveyed = \"{}\"\nunit = \"m3\"\n",
                sides[0], sides[1]
            ),
        );
        let json = site.json("measure --json");
        codes(&json["sections"][0]["items"][0])
    };
    let (up, down) = (["ground", "survey"], ["survey", "ground"]);
    assert_eq!(warnings("cut", up), ["sides-swapped"]);
    assert_eq!(warnings("fill", down), ["sides-swapped"]);
    let none: [&str; 0] = [];
    assert_eq!(warnings("fill", up), none);
    assert_eq!(warnings("cut", down), none);
    assert_eq!(warnings("net", down), none);
    let out = site.succeed("measure");
    assert!(!out.contains("swap"), "{out}");
}

#[test]
fn a_reference_later_than_its_survey_is_asked_about() {
    let site = Site::new();
    site.write("later.xml", &GROUND.replace("2031-01-02", "2031-03-04"));
    site.write("odd.xml", &GROUND.replace("2031-01-02", "4 March 2031"));
    let found = |line: &str| {
        let all = codes(&site.json(&format!("volume {line} --json")));
        all.contains(&"dates-reversed".to_owned())
    };
    assert!(found("later.xml ground.xml"));
    assert!(!found("ground.xml later.xml"));
    assert!(!found("ground.xml ground.xml"));
    // What is no day, or is not known, says nothing.
    assert!(!found("odd.xml ground.xml"));
    assert!(!found("later.xml survey.csv --unit m"));
    // A design is handed over anew after what was dug to it.
    assert!(!found("later.xml ground.xml --reference-accuracy design"));
    let out = site.succeed("volume later.xml ground.xml");
    assert!(out.contains("is from 2031-03-04"), "{out}");
}

#[test]
fn surveyed_heights_that_are_all_alike_are_asked_about() {
    let site = Site::new();
    let points = |count: usize, last: f64| {
        let mut text = String::from("east,north,height\n");
        for index in 0..count {
            let height = if index + 1 == count { last } else { 12.0 };
            let (east, north) = (500_000 + index % 4 * 4, 6_000_000 + index / 4 * 2);
            text += &format!("{east},{north},{height}\n");
        }
        text
    };
    let found = |text: &str| {
        site.write("points.csv", text);
        let json = site.json("volume ground.xml points.csv --unit m --json");
        codes(&json).contains(&"heights-alike".to_owned())
    };
    assert!(found(&points(16, 12.0)));
    assert!(!found(&points(16, 12.001)));
    assert!(!found(&points(12, 12.0)));
}

/// A survey of points two metres apart over 40 by 40 m, at the site's corner.
fn survey(height: impl Fn(f64, f64) -> f64) -> String {
    let mut text = String::from("east,north,height\n");
    for row in 0..=20 {
        for column in 0..=20 {
            let (e, n) = (2.0 * f64::from(column), 2.0 * f64::from(row));
            let (east, north, h) = (500_000.0 + e, 6_000_000.0 + n, height(e, n));
            text += &format!("{east},{north},{h:.4}\n");
        }
    }
    text
}

fn rolling(e: f64, n: f64) -> f64 {
    40.0 + 0.5 * libm::sin(e / 5.0) + 0.3 * libm::cos(n / 6.0) + 0.02 * n
}

#[test]
fn offsets_that_explain_everything_are_asked_about() {
    let site = Site::new();
    site.write("before.csv", &survey(rolling));
    site.write("datum.csv", &survey(|e, n| rolling(e, n) + 0.347));
    site.write("feet.csv", &survey(|e, n| rolling(e, n) / 0.3048));
    site.write("dug.csv", &survey(|e, n| rolling(e, n) - (e / 40.0)));
    site.write("copy.csv", &survey(rolling));
    let found = |to: &str| codes(&site.json(&format!("volume before.csv {to} --unit m --json")));
    assert_eq!(found("datum.csv"), ["same-everywhere"]);
    assert_eq!(found("feet.csv"), ["unit-suspected"]);
    assert_eq!(found("copy.csv"), ["same-surface"]);
    let none: [&str; 0] = [];
    assert_eq!(found("dug.csv"), none);
    // A step that raises a surface is no datum.
    site.write(
        "dapedon.toml",
        "[job]\nname = \"Yard\"\nunit = \"m\"\n[surface.before]\nfile = \"before.csv\"\n\
         [surface.raised]\nstart = \"before\"\nsteps = [{ raise = 0.3 }]\n",
    );
    assert_eq!(codes(&site.json("volume before raised --json")), none);
    let told = site
        .succeed("volume before.csv datum.csv --unit m")
        .replace('\n', " ");
    assert!(told.contains("0.347 m higher"), "{told}");
}

#[test]
fn an_outline_over_the_flank_of_a_pile_is_asked_about() {
    let site = Site::new();
    let pile = |e: f64, n: f64| (6.0 - 0.6 * libm::hypot(e - 20.0, n - 20.0)).max(0.0);
    site.write("pile.csv", &survey(|e, n| 40.0 + 0.02 * n + pile(e, n)));
    site.write("pit.csv", &survey(|e, n| 40.0 + 0.02 * n - pile(e, n)));
    // On a hillside that is as steep as a flank, a pile with its foot along the outline.
    site.write("hill.csv", &survey(|e, n| 40.0 + 0.5 * n + pile(e, n)));
    let around: &[(i32, i32)] = &[(8, 8), (32, 8), (32, 32), (8, 32), (8, 8)];
    let tight: &[(i32, i32)] = &[(15, 15), (25, 15), (25, 25), (15, 25), (15, 15)];
    site.zone("outlines.geojson", &[("around", around), ("tight", tight)]);
    let found = |line: &str| {
        let all = codes(&site.json(&format!("pile {line} --unit m --json")));
        all.contains(&"outline-on-flank".to_owned())
    };
    assert!(found("pile.csv --zone outlines.geojson#tight"));
    assert!(found("pit.csv --pit --zone outlines.geojson#tight"));
    for fine in ["pile.csv", "pit.csv --pit", "hill.csv"] {
        assert!(
            !found(&format!("{fine} --zone outlines.geojson#around")),
            "{fine}"
        );
    }
    assert!(!found("pile.csv"));
}

#[test]
fn a_state_that_is_the_other_way_is_asked_about() {
    let site = Site::new();
    let warnings = |measure: &str, state: &str, sides: [&str; 2]| {
        site.write(
            "dapedon.toml",
            &format!(
                "[job]\nname = \"Yard\"\nunit = \"m\"\n[surface.ground]\nfile = \"ground.xml\"\n\
                 [surface.survey]\nfile = \"survey.csv\"\n[zone.yard]\nfile = \"zone.geojson\"\n\
                 [material.clay]\nswell = 1.25\nshrink = 0.9\n\
                 [[item]]\ncode = \"1\"\ndescription = \"Dig\"\nmeasure = \"{measure}\"\nzones = \"yard\"\n\
                 reference = \"{}\"\nsurveyed = \"{}\"\nunit = \"m3\"\nmaterial = \"clay\"\n\
                 measured-state = \"{state}\"\npaid-state = \"loose\"\n",
                sides[0], sides[1]
            ),
        );
        codes(&site.json("measure --json")["sections"][0]["items"][0])
    };
    let (up, down) = (["ground", "survey"], ["survey", "ground"]);
    assert_eq!(warnings("fill", "bank", up), ["state-unusual"]);
    assert_eq!(warnings("cut", "compacted", down), ["state-unusual"]);
    let none: [&str; 0] = [];
    assert_eq!(warnings("fill", "compacted", up), none);
    assert_eq!(warnings("fill", "loose", up), none);
    assert_eq!(warnings("cut", "bank", down), none);
}

#[test]
fn items_are_asked_about_as_the_commands_are() {
    let site = Site::new();
    let pile = |e: f64, n: f64| (6.0 - 0.6 * libm::hypot(e - 20.0, n - 20.0)).max(0.0);
    site.write("before.csv", &survey(|e, n| rolling(e, n) + pile(e, n)));
    site.write(
        "datum.csv",
        &survey(|e, n| rolling(e, n) + pile(e, n) + 0.347),
    );
    let tight: &[(i32, i32)] = &[(15, 15), (25, 15), (25, 25), (15, 25), (15, 15)];
    site.zone("tight.geojson", &[("tight", tight)]);
    site.write(
        "dapedon.toml",
        "[job]\nname = \"Yard\"\nunit = \"m\"\n[surface.before]\nfile = \"before.csv\"\n\
         [surface.after]\nfile = \"datum.csv\"\n[zone.tight]\nfile = \"tight.geojson\"\n\
         [[item]]\ncode = \"1\"\ndescription = \"Fill\"\nmeasure = \"fill\"\nreference = \"before\"\n\
         surveyed = \"after\"\nunit = \"m3\"\n\
         [[item]]\ncode = \"2\"\ndescription = \"Stock\"\nmeasure = \"pile\"\nsurveyed = \"before\"\n\
         zones = \"tight\"\nunit = \"m3\"\n",
    );
    let bill = site.json("measure --json");
    let items = &bill["sections"][0]["items"];
    assert_eq!(codes(&items[0]), ["same-everywhere"]);
    assert_eq!(codes(&items[1]), ["outline-on-flank"]);
}

/// Points two metres apart over 40 by 20 m, with numbers that look like chance.
fn scattered(seed: u64, height: impl Fn(f64, f64) -> f64, by: f64) -> String {
    let mut state = seed;
    let mut chance = || {
        state = state
            .wrapping_mul(6_364_136_223_846_793_005)
            .wrapping_add(1_442_695_040_888_963_407);
        (state >> 33) as f64 / f64::from(1u32 << 31) - 0.5
    };
    let mut text = String::from("east,north,height\n");
    for row in 0..=10 {
        for column in 0..=20 {
            let (e, n) = (2.0 * f64::from(column), 2.0 * f64::from(row));
            let h = height(e, n) + by * (chance() + chance() + chance());
            text += &format!("{},{},{h:.4}\n", 500_000.0 + e, 6_000_000.0 + n);
        }
    }
    text
}

#[test]
fn surfaces_that_are_closer_than_they_are_accurate_are_asked_about() {
    let site = Site::new();
    // The sum of three has half the spread of one: 0.08 makes a standard deviation of 0.04.
    site.write("one.csv", &scattered(1, |_, _| 20.0, 0.08));
    site.write("other.csv", &scattered(2, |_, _| 20.0, 0.08));
    site.write("higher.csv", &scattered(3, |_, _| 20.5, 0.08));
    let accuracy =
        "--reference-accuracy height=0.04 --surveyed-accuracy height=0.04 --unit m --json";
    let found = site.json(&format!("volume one.csv other.csv {accuracy}"));
    assert!(
        codes(&found).contains(&"gained-by-chance".into()),
        "{found}"
    );
    let own = &found["uncertainty"]["zones"][0]["by_chance"];
    let [cut, fill] = ["cut", "fill"].map(|of| own[of]["value"].as_f64().unwrap());
    // Nothing was moved: of what is measured as cut, all is chance, and between once and so many times what is said.
    let most = own["at_most_times"].as_f64().unwrap();
    let measured = found["zones"][0]["volume"]["cut"]["value"]
        .as_f64()
        .unwrap();
    assert!(
        (cut - fill).abs() < 1e-9 && cut < measured && measured < 1.2 * most * cut,
        "{cut} {measured}"
    );
    assert!((own["area"]["value"].as_f64().unwrap() - 800.0).abs() < 20.0);
    // Half a metre of fill is not, and with a tolerance hardly anything is counted.
    let clear = site.json(&format!("volume one.csv higher.csv {accuracy}"));
    assert!(!codes(&clear).contains(&"gained-by-chance".into()));
    assert_eq!(clear["uncertainty"]["zones"][0].get("by_chance"), None);
    // Items say it too, of what they count.
    let job = |measure: &str| {
        site.write(
            "dapedon.toml",
            &format!(
                "[job]\nname = \"Yard\"\nunit = \"m\"\n\
                 [surface.one]\nfile = \"one.csv\"\naccuracy = \"height=0.04\"\n\
                 [surface.other]\nfile = \"other.csv\"\naccuracy = \"height=0.04\"\n\
                 [[item]]\ncode = \"1\"\ndescription = \"Dig\"\nmeasure = \"{measure}\"\n\
                 reference = \"one\"\nsurveyed = \"other\"\nunit = \"m3\"\n"
            ),
        );
        codes(&site.json("measure --json")["sections"][0]["items"][0])
    };
    assert_eq!(job("cut"), ["gained-by-chance"]);
    assert!(!job("net").contains(&"gained-by-chance".into()));
}

#[test]
fn points_too_far_apart_for_the_shape_are_asked_about() {
    let site = Site::new();
    let dome = |e: f64, n: f64| 22.0 - 0.02 * ((e - 20.0).powi(2) + (n - 10.0).powi(2)) / 5.0;
    let sharp =
        |e: f64, n: f64| 20.0 + 1.2 * libm::sin(e / 1.6).powi(2) * libm::sin(n / 1.6).powi(2);
    site.write("dome.csv", &scattered(1, dome, 0.0));
    site.write("sharp.csv", &scattered(1, sharp, 0.0));
    site.write(
        "round.csv",
        &scattered(
            1,
            |e, n| 20.0 + 0.02 * (e - 20.0).powi(2) + 0.02 * (n - 10.0).powi(2),
            0.0,
        ),
    );
    site.write("noise.csv", &scattered(1, |_, _| 20.2, 0.05));
    let found = |line: &str| site.json(&format!("volume {line} --unit m --json"));
    let asked = |line: &str| codes(&found(line)).contains(&"points-far-apart".into());
    // A bowl of 0.02 (e² + n²): triangles of 2 by 2 lie 0.02 (2² + 2²) / 12 above it, 10.7 m³ over 800 m².
    let bowl = found("level=20.3 round.csv");
    let volume = &bowl["zones"][0]["volume"];
    let larger = volume["fill"]["value"].as_f64().unwrap();
    assert!(larger > 2000.0 && !codes(&bowl).contains(&"points-far-apart".into()));
    assert!(!asked("level=20 dome.csv") && !asked("level=20 noise.csv"));
    // In a zone where hardly anything is counted the same bend is much of it.
    site.zone(
        "small.geojson",
        &[("small", &[(14, 4), (26, 4), (26, 16), (14, 16), (14, 4)])],
    );
    let small = found("level=20 round.csv --zone small.geojson");
    let words = Site::warnings(&small);
    assert!(
        words
            .iter()
            .any(|word| word.contains("lies below them by about")),
        "{words:?}"
    );
    // Where it is measured it need not be guessed.
    assert!(!asked(
        "level=20 round.csv --zone small.geojson --between-points --reference-accuracy design --surveyed-accuracy gnss"
    ));
}

#[test]
fn an_acknowledged_warning_that_is_not_there_is_said() {
    let site = Site::new();
    let job = |more: &str| {
        site.write(
            "dapedon.toml",
            &format!(
                "[job]\nname = \"Yard\"\nunit = \"m\"\n\
                 [surface.ground]\nfile = \"ground.xml\"\n[surface.survey]\nfile = \"survey.csv\"\n\
                 [[item]]\ncode = \"1\"\ndescription = \"Dig\"\nmeasure = \"cut\"\n\
                 reference = \"ground\"\nsurveyed = \"survey\"\nunit = \"m3\"\n\
                 [[item]]\ncode = \"2\"\ndescription = \"Fill\"\nmeasure = \"fill\"\n\
                 reference = \"ground\"\nsurveyed = \"survey\"\nunit = \"m3\"\n{more}"
            ),
        );
    };
    let entry = |code: &str, about: &str| {
        format!("[[acknowledged]]\nfinding = \"{code}\"\n{about}\nreason = \"known\"\n")
    };
    job(&entry("sides-swapped", "about = \"item 1\""));
    assert!(!codes(&site.json("measure --json")).contains(&"acknowledged-nothing".into()));
    job(&entry("sides-swapped", "about = \"item 2\""));
    let found = site.json("measure --json");
    let words = Site::warnings(&found);
    assert!(
        words
            .iter()
            .any(|word| word.contains("about \"item 2\"") && word.contains("line 22")),
        "{words:?}"
    );
    // A part of the bill says nothing of the rest.
    assert!(!codes(&site.json("measure 2 --json")).contains(&"acknowledged-nothing".into()));
    // It can be acknowledged itself.
    job(&(entry("plan-shift", "") + &entry("acknowledged-nothing", "")));
    let found = site.json("measure --json");
    let own = found["warnings"]
        .as_array()
        .unwrap()
        .iter()
        .find(|own| own["code"] == "acknowledged-nothing");
    assert_eq!(own.unwrap()["acknowledged"], "known");
}

#[test]
fn a_shift_between_two_kinds_of_feet_is_told_as_one() {
    let site = Site::new();
    // Hills on a grid of feet, far from the origin: by two millionths of 400 000 and 600 000 they lie 0.8 and 1.2 aside.
    let hills = |e: f64, n: f64| 20.0 + 3.0 * libm::sin(e / 9.0) * libm::cos(n / 7.0);
    let grid = |factor: f64| {
        let mut text = String::from("east,north,height\n");
        for row in 0..=40 {
            for column in 0..=40 {
                let (e, n) = (2.0 * f64::from(column), 2.0 * f64::from(row));
                let (east, north) = (factor * (400_000.0 + e), factor * (600_000.0 + n));
                text += &format!("{east:.4},{north:.4},{:.4}\n", hills(e, n));
            }
        }
        text
    };
    site.write("one.csv", &grid(1.0));
    site.write("longer.csv", &grid(1.000_002));
    site.write("aside.csv", &grid(1.000_001));
    let said = |name: &str| {
        let found = site.json(&format!("volume one.csv {name} --unit ft --json"));
        let words = Site::warnings(&found);
        let own = words
            .iter()
            .find(|word| word.contains("has the same ground"));
        own.unwrap_or_else(|| panic!("{words:?}")).clone()
    };
    assert!(said("longer.csv").contains("US survey feet"));
    assert!(!said("aside.csv").contains("feet are longer"));
    // Items are asked in the same way.
    site.write(
        "dapedon.toml",
        "[job]\nname = \"Yard\"\nunit = \"ft\"\n[surface.one]\nfile = \"one.csv\"\n[surface.longer]\nfile = \"longer.csv\"\n\
         [[item]]\ncode = \"1\"\ndescription = \"Dig\"\nmeasure = \"cut\"\nreference = \"one\"\nsurveyed = \"longer\"\nunit = \"yd3\"\n",
    );
    let bill = site.json("measure --json");
    assert!(
        codes(&bill).contains(&"plan-shift".into()),
        "{:?}",
        codes(&bill)
    );
}
