//! Bands of difference from the command line and in the bill.

use serde_json::Value;

use crate::site::{Site, number};

/// A plane of 20 by 10 that rises from 9 in the west to 11 in the east, against the level ground at 10.
const TILTED: &str = "point,east,north,height\n1,500000,6000000,9\n2,500020,6000000,11\n3,500020,6000010,11\n4,500000,6000010,9\n";
const JOB: &str = r##"
[job]
name = "made up"
unit = "m"
[surface.ground]
file = "ground.xml"
[surface.tilted]
file = "tilted.csv"
[zone.yard]
file = "zone.geojson#yard"
[bands.monthly]
edges = [-0.5, 0.5]
middle = 0.1
colours = ["#804020", "#c08060", "#dddddd", "#6080c0", "#204080"]
[bands.even]
step = 0.25
[[item]]
code = "1"
description = "fill"
unit = "m3"
measure = "fill"
reference = "ground"
surveyed = "tilted"
bands = "monthly"
"##;

fn site() -> Site {
    let site = Site::new();
    site.write("tilted.csv", TILTED);
    site
}

/// Area, cut, fill and running volume of each band of the first zone.
fn figures(bands: &Value) -> Vec<[f64; 4]> {
    let bands = bands["zones"][0]["bands"].as_array().unwrap().iter();
    let keys = ["area", "cut", "fill", "running_volume"];
    bands
        .map(|band| keys.map(|key| number(&band[key])))
        .collect()
}

#[track_caller]
fn same(found: &[[f64; 4]], expected: &[[f64; 4]]) {
    assert_eq!(found.len(), expected.len(), "{found:?}");
    for (found, expected) in found.iter().flatten().zip(expected.iter().flatten()) {
        assert!((found - expected).abs() < 1e-9, "{found} {expected}");
    }
}

/// From a to b above the level, in metres: 100 (b - a) of area, 50 (b² - a²) of volume.
fn between(a: f64, b: f64) -> [f64; 2] {
    [100.0 * (b - a), 50.0 * (b * b - a * a)]
}

#[test]
fn ground_is_reported_in_bands() {
    let site = site();
    let line = "volume ground.xml tilted.csv --json --unit m --bands";
    let by_edges = site.json(&format!("{line} -0.5,0.5 --tolerance 0.1"));
    let [[far, deep], [near, shallow], [still, both]] =
        [between(0.5, 1.0), between(0.1, 0.5), between(0.0, 0.1)];
    same(
        &figures(&by_edges["bands"]),
        &[
            [far, deep, 0.0, deep + shallow],
            [near, shallow, 0.0, shallow],
            [2.0 * still, both, both, 2.0 * both],
            [near, 0.0, shallow, shallow],
            [far, 0.0, deep, deep + shallow],
        ],
    );
    let by_step = site.json(&format!("{line} step=0.5"));
    let half = between(0.0, 0.5);
    same(
        &figures(&by_step["bands"]),
        &[
            [far, deep, 0.0, deep + half[1]],
            [half[0], half[1], 0.0, half[1]],
            [0.0; 4],
            [half[0], 0.0, half[1], half[1]],
            [far, 0.0, deep, deep + half[1]],
        ],
    );
    // Five bands or so to the greatest difference of 1.
    let proposed = site.json(&format!("{line} auto"));
    assert_eq!(figures(&proposed["bands"]).len(), 11);
    // One spike of 8 over a corner of a tenth of a metre makes no bands of its own: four times the mean is far less.
    site.write(
        "spike.csv",
        "point,east,north,height\n1,500000,6000000,10.5\n2,500020,6000000,10.5\n3,500020,6000010,10.5\n4,500000,6000010,10.5\n\
         5,500010,6000005,18\n6,500010.1,6000005,10.5\n7,500009.9,6000005,10.5\n8,500010,6000005.1,10.5\n9,500010,6000004.9,10.5\n",
    );
    let spiked = site.json("volume ground.xml spike.csv --json --unit m --bands auto");
    let last = spiked["bands"]["zones"][0]["bands"]
        .as_array()
        .unwrap()
        .last()
        .unwrap();
    assert!(
        number(&last["from"]) <= 2.5 && last["to"].is_null(),
        "{last}"
    );
    // In feet the bands have other edges, and the same ground.
    let feet = site.json(&format!(
        "{line} step=1.640419947506561680 --length-unit ft --volume-unit m3 --area-unit m2"
    ));
    let found = figures(&feet["bands"]);
    assert!((found[0][1] - deep).abs() < 1e-9, "{found:?}");
    insta::assert_snapshot!(
        site.succeed("volume ground.xml tilted.csv --bands -0.5,0.5 --tolerance 0.1 --unit m")
    );
}

#[test]
fn zones_have_their_own_bands_and_a_total() {
    let site = site();
    site.zone(
        "two.geojson",
        &[
            ("west", &[(0, 0), (10, 0), (10, 10), (0, 10), (0, 0)]),
            ("east", &[(10, 0), (20, 0), (20, 10), (10, 10), (10, 0)]),
        ],
    );
    let found = site.json(
        "volume ground.xml tilted.csv --json --unit m --bands step=0.5 --zone two.geojson --csv bands.csv",
    );
    let zones = found["bands"]["zones"].as_array().unwrap();
    let names: Vec<&str> = zones.iter().map(|z| z["zone"].as_str().unwrap()).collect();
    assert_eq!(names, ["west", "east", "total"]);
    let whole = site.json("volume ground.xml tilted.csv --json --unit m --bands step=0.5");
    let total = serde_json::json!({ "zones": [zones[2]] });
    same(&figures(&total), &figures(&whole["bands"]));
    let csv = site.read("bands.csv");
    assert!(
        csv.contains("west, cut") && csv.contains("to difference"),
        "{csv}"
    );
}

#[test]
fn bands_of_a_job_have_names() {
    let site = site();
    site.write("dapedon.toml", JOB);
    let named = site.json("volume ground tilted --json --bands monthly");
    let typed = site.json("volume ground tilted --json --bands -0.5,0.5 --middle-band 0.1");
    assert_eq!(named["bands"]["name"], "monthly");
    assert_eq!(named["bands"]["zones"], typed["bands"]["zones"]);
    assert_eq!(named["bands"]["colours"][4], "#204080");
    let feet = site.json(
        "volume ground tilted --json --bands monthly --length-unit ft --volume-unit m3 --area-unit m2",
    );
    let pairs = figures(&feet["bands"]).into_iter().flatten();
    for (foot, own) in pairs.zip(figures(&named["bands"]).into_iter().flatten()) {
        // Coordinates of twenty million feet carry less than those of six million metres.
        assert!((foot - own).abs() < 1e-7, "{foot} {own}");
    }
    let bill = site.json("measure --json");
    let item = &bill["sections"][0]["items"][0];
    same(&figures(&item["bands"]), &figures(&named["bands"]));
    let explained = site.succeed("measure --explain");
    assert!(
        explained.contains("Bands of difference \"monthly\""),
        "{explained}"
    );
}

#[test]
fn bands_that_cannot_be_are_refused() {
    let site = site();
    let line = "volume ground.xml tilted.csv --unit m --bands";
    for (typed, code, words) in [
        ("1,0.5", "bands/edges", "do not rise: 0.5 follows 1"),
        (
            "-0.05,1 --tolerance 0.1",
            "bands/edges",
            "within the middle band of ±0.1",
        ),
        (
            "step=0.0001",
            "bands/many-bands",
            "use a step of 0.002 or more",
        ),
        (
            "monthly",
            "name/no-job-for",
            "bands \"monthly\" would be in one",
        ),
    ] {
        let refused = site.refuse(&format!("{line} {typed}"));
        assert!(
            refused.contains(&format!("code: {code}")) && refused.contains(words),
            "{typed}: {refused}"
        );
    }
    for (typed, words) in [
        ("step=0", "expected a height above zero after step="),
        ("1,x,2", "edges as in -1,-0.5,0.5,1"),
        ("nan,1", "edges as in"),
    ] {
        let (code, _, refused) = site.run(&format!("{line} {typed}"));
        assert_eq!(code, 2);
        assert!(refused.contains(words), "{typed}: {refused}");
    }
    let bad = |old: &str, new: &str, words: &str| {
        site.write("dapedon.toml", &JOB.replace(old, new));
        let refused = site.refuse("measure");
        assert!(refused.contains(words), "{new}: {refused}");
    };
    bad("[-0.5, 0.5]", "[0.5, -0.5]", "do not rise");
    bad("[-0.5, 0.5]", "[-0.5, 0.05]", "within the middle band");
    bad(
        "middle = 0.1",
        "middle = -0.1",
        "is not the height of a middle band",
    );
    bad("step = 0.25", "step = 0.0", "is not the height of a band");
    bad("step = 0.25", "", "neither edges nor a step");
    bad("\"#dddddd\", ", "", "4 colours for 5 bands");
    bad("#dddddd", "grey", "is not a colour");
    bad(
        "bands = \"monthly\"",
        "bands = \"weekly\"",
        "there is no bands \"weekly\"",
    );
    bad(
        "measure = \"fill\"\nreference = \"ground\"",
        "measure = \"capacity\"\nlevel = 10.0\nzones = \"yard\"",
        "bands has no effect",
    );
}
