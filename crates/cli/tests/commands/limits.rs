//! Items that are paid up to a limit: what is within, beyond and left, and what is refused.

use serde_json::Value;

use crate::site::{Site, number};

/// Level ground over 40 by 20 m at the site's corner, or something else by column of two metres.
fn survey(height: impl Fn(f64) -> f64) -> String {
    let mut text = String::from("east,north,height\n");
    for column in 0..=20 {
        for north in [0, 20] {
            let e = 2.0 * f64::from(column);
            text += &format!("{},{},{:.4}\n", 500_000.0 + e, 6_000_000 + north, height(e));
        }
    }
    text
}

/// Ground at 10, a design at 9, and a dig that falls evenly from 10 in the west to 8 in the east.
fn site() -> Site {
    let site = Site::new();
    site.write("ground.csv", &survey(|_| 10.0));
    site.write("dug.csv", &survey(|e| 10.0 - 0.05 * e));
    site.write("heap.csv", &survey(|_| 10.4));
    let square = |west: i32, east: i32| [(west, 0), (east, 0), (east, 20), (west, 20), (west, 0)];
    let zones: [(&str, &[(i32, i32)]); 2] = [("west", &square(0, 24)), ("east", &square(24, 40))];
    site.zone("halves.geojson", &zones);
    site
}

fn job(site: &Site, item: &str) {
    site.write(
        "dapedon.toml",
        &format!(
            "[job]\nname = \"Yard\"\nunit = \"m\"\ncurrency = \"EUR\"\n\
             [surface.ground]\nfile = \"ground.csv\"\naccuracy = \"design\"\n\
             [surface.dug]\nfile = \"dug.csv\"\naccuracy = \"common-height=0.01\"\n\
             [surface.heap]\nfile = \"heap.csv\"\n\
             [surface.design]\nlevel = 9.0\n\
             [zone.halves]\nfile = \"halves.geojson\"\n\
             [[item]]\ncode = \"1\"\ndescription = \"Dig\"\nunit = \"m3\"\n{item}\n"
        ),
    );
}

const CUT: &str =
    "measure = \"cut\"\nreference = \"ground\"\nsurveyed = \"dug\"\nlimit = \"design\"\n";

fn item(site: &Site) -> Value {
    site.json("measure --json")["sections"][0]["items"][0].clone()
}

#[track_caller]
fn near(found: &Value, expected: f64) {
    let found = found["value"].as_f64().unwrap_or_else(|| number(found));
    assert!((found - expected).abs() < 1e-6, "{found} {expected}");
}

#[test]
fn a_dig_is_paid_to_its_limit_and_no_deeper() {
    let site = site();
    job(&site, &format!("{CUT}limit-tolerance = 0.25\nrate = 2.0"));
    let own = item(&site);
    // Two wedges of 20 m by 20 m: down to 9 in the west, past it in the east; one between 10 and 9 is left in the west.
    near(&own["unrounded"], 200.0 + 400.0);
    let cut = &own["to_limit"]["cut"];
    near(&cut["within"], 600.0);
    near(&cut["left"], 200.0);
    // Beyond, a wedge of 1 m at its end: of 0.25 m at the most over 15 m, and a wedge of 5 m by 0.25.
    near(
        &cut["in_tolerance"],
        (15.0 * 0.25 + 5.0 * 0.25 / 2.0) * 20.0,
    );
    near(
        &cut["beyond"],
        200.0 - (15.0 * 0.25 + 5.0 * 0.25 / 2.0) * 20.0,
    );
    near(&cut["beyond_area"], 400.0);
    near(&cut["farthest"]["by"], 1.0);
    near(&cut["farthest"]["at"]["east"], 500_040.0);
    assert_eq!(own["limit"]["surface"], "design");
    let codes: Vec<&str> = own["warnings"]
        .as_array()
        .unwrap()
        .iter()
        .map(|own| own["code"].as_str().unwrap())
        .collect();
    assert_eq!(codes, ["beyond-limit"]);
    // All heights 10 mm too high or too low over 800 m².
    near(&own["uncertainty"]["quantity"], 8.0);
    near(&own["uncertainty"]["amount"], 16.0);
    // What was done, and what was asked for, by two surfaces alone.
    let done = site.json("volume ground dug --json");
    near(&done["zones"][0]["volume"]["cut"], 800.0);
    let out = site.succeed("measure").replace('\n', " ");
    for words in [
        "Work to the limit",
        "paid up to \"design\"",
        "which is not paid",
        "dug below the limit by more than the tolerance",
    ] {
        assert!(out.contains(words), "{words}: {out}");
    }

    // With the tolerance paid, more is; and no more in zones together.
    job(
        &site,
        &format!("{CUT}limit-tolerance = 0.25\npay-tolerance = true\nzones = \"halves\""),
    );
    let paid = item(&site);
    near(
        &paid["unrounded"],
        600.0 + (15.0 * 0.25 + 5.0 * 0.25 / 2.0) * 20.0,
    );
    let rows = paid["rows"].as_array().unwrap();
    let sum = |part: &str| {
        rows.iter()
            .map(|row| number(&row["to_limit"]["cut"][part]["value"]))
            .sum::<f64>()
    };
    for (part, whole) in [("within", 600.0), ("left", 200.0)] {
        assert!((sum(part) - whole).abs() < 1e-6, "{part}");
    }
    near(&rows[0]["to_limit"]["cut"]["beyond"], 0.0);
    // In yards they are yards.
    job(
        &site,
        &CUT.replace("limit = ", "zones = \"halves\"\nlimit = "),
    );
    site.write(
        "dapedon.toml",
        &site
            .read("dapedon.toml")
            .replace("unit = \"m3\"", "unit = \"yd3\""),
    );
    near(&item(&site)["unrounded"], 600.0 / 0.764_554_857_984);
}

#[test]
fn what_is_placed_where_digging_was_asked_for_is_beyond_and_leaves_the_digging() {
    let site = site();
    job(
        &site,
        "measure = \"net\"\nreference = \"ground\"\nsurveyed = \"heap\"\nlimit = \"design\"",
    );
    let own = item(&site);
    near(&own["unrounded"], 0.0);
    near(&own["to_limit"]["fill"]["beyond"], 320.0);
    near(&own["to_limit"]["cut"]["left"], 800.0);
    near(&own["to_limit"]["cut"]["within"], 0.0);
    // Fill is paid up to its limit in the same way.
    site.write("low.csv", &survey(|_| 8.0));
    job(
        &site,
        "measure = \"fill\"\nreference = \"low\"\nsurveyed = \"dug\"\nlimit = \"design\"",
    );
    site.write(
        "dapedon.toml",
        &format!(
            "{}[surface.low]\nfile = \"low.csv\"\n",
            site.read("dapedon.toml")
        ),
    );
    let own = item(&site);
    near(&own["unrounded"], 600.0);
    near(&own["to_limit"]["fill"]["beyond"], 200.0);
    near(&own["to_limit"]["fill"]["left"], 200.0);
    let words: Vec<String> = Site::warnings(&own);
    assert!(
        words
            .iter()
            .any(|word| word.contains("placed above the limit")),
        "{words:?}"
    );
}

#[test]
fn ground_without_a_limit_is_said_and_wrong_limits_are_refused() {
    let site = site();
    let mut half = String::from("east,north,height\n");
    for (east, north) in [(0, 0), (10, 0), (10, 20), (0, 20)] {
        half += &format!("{},{},9\n", 500_000 + east, 6_000_000 + north);
    }
    site.write("half.csv", &half);
    job(
        &site,
        &format!("{}zones = \"halves\"", CUT.replace("design", "half")),
    );
    site.write(
        "dapedon.toml",
        &format!(
            "{}[surface.half]\nfile = \"half.csv\"\n",
            site.read("dapedon.toml")
        ),
    );
    let own = item(&site);
    near(&own["unrounded"], 50.0);
    let words = Site::warnings(&own);
    assert!(
        words
            .iter()
            .any(|word| word.starts_with("600.0 m²") && word.contains("all three")),
        "{words:?}"
    );
    for (more, says) in [
        ("tolerance = 0.1", "tolerance has no effect"),
        ("bands = \"x\"", "bands has no effect"),
        ("second-opinion = true", "second-opinion has no effect"),
        ("between-points = true", "between-points has no effect"),
        ("limit-tolerance = -1.0", "not a tolerance"),
        ("pay-tolerance = true", "pay-tolerance has no effect"),
    ] {
        job(&site, &format!("{CUT}{more}"));
        let said = site.refuse("measure");
        assert!(
            said.contains(says) && said.contains("dapedon.toml"),
            "{said}"
        );
    }
    let plain = CUT.replace("limit = \"design\"\n", "");
    for (keys, says) in [
        (format!("{plain}limit-tolerance = 0.1"), "without a limit"),
        (CUT.replace("design", "dug"), "one of the surfaces"),
        (CUT.replace("design", "desing"), "design"),
        (CUT.replace("\"cut\"", "\"area\""), "counts an area"),
    ] {
        job(&site, &keys);
        assert!(site.refuse("measure").contains(says), "{keys}");
    }
    // A limit that lies elsewhere.
    let away = survey(|_| 9.0)
        .replace("6000000", "7000000")
        .replace("6000020", "7000020");
    site.write("away.csv", &away);
    job(&site, &CUT.replace("design", "away"));
    site.write(
        "dapedon.toml",
        &format!(
            "{}[surface.away]\nfile = \"away.csv\"\n",
            site.read("dapedon.toml")
        ),
    );
    assert!(site.refuse("measure").contains("overlap"));
}
