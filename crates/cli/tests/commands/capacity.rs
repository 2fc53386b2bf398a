//! Basins on the command line: a pond that is known, what is said of it, and what mistakes get.

use crate::site::Site;

/// Ground of 20 by 10 at 10; a pond of 10 by 6 in it, 2 deep with upright sides: the yard of the site.
const JOB: &str = "[job]
name = \"made up\"
unit = \"m\"

[surface.ground]
file = \"ground.xml\"

[surface.pond]
start = \"ground\"
steps = [{ lower = 2, zones = \"yard\" }]

[surface.water]
level = 3

[zone.yard]
file = \"zone.geojson#yard\"
";

fn site() -> Site {
    let site = Site::new();
    site.write("dapedon.toml", JOB);
    site
}

/// 60 m2 of floor at 8: at 9 it holds 60, and full at 10, where it runs over, 120; 30 m3 are half a metre deep. All
/// three ways agree on upright sides.
#[test]
fn a_pond_holds_what_its_shape_says() {
    let site = site();
    let out = site.succeed("capacity pond --pool 500005,6000005 --step 0.5 --volume 30 --csv pond.csv --curve pond.svg");
    insta::assert_snapshot!(out);
    let json =
        site.json("capacity pond --pool 500005,6000005 --step 0.5 --volume 30 --volume 500 --json");
    let close = |value: &serde_json::Value, expected: f64| {
        let value = value.as_f64().unwrap();
        assert!((value - expected).abs() < 1e-7, "{value} {expected}");
    };
    let levels = json["levels"].as_array().unwrap();
    assert_eq!(levels.len(), 5);
    for (row, depth) in levels.iter().zip([0.0, 0.5, 1.0, 1.5, 2.0]) {
        close(&row["level"], 8.0 + depth);
        for way in ["volume", "by_average_end_area", "by_conic"] {
            close(&row[way], 60.0 * depth);
        }
    }
    close(&json["runs_over"]["level"], 10.0);
    close(&json["wanted"][0]["level"], 8.5);
    assert!(json["wanted"][1].get("level").is_none());
    let text = site.read("pond.csv");
    assert_eq!(text.lines().count(), 6);
    assert!(site.read("pond.svg").contains("runs over at 10.000"));
}

#[test]
fn freeboard_and_levels_are_kept_to() {
    let site = site();
    let levels = |options: &str| -> Vec<f64> {
        let json = site.json(&format!(
            "capacity pond --pool 500005,6000005 --json {options}"
        ));
        let rows = json["levels"].as_array().unwrap();
        rows.iter()
            .map(|row| row["level"].as_f64().unwrap())
            .collect()
    };
    assert_eq!(levels("--freeboard 0.75 --step 0.5"), [8.0, 8.5, 9.0, 9.25]);
    assert_eq!(
        levels("--from 8.25 --to 9.25 --step 0.5"),
        [8.25, 8.75, 9.25]
    );
    let down = site.succeed("capacity pond --pool 500005,6000005 --step 1 --down");
    let (high, low) = (
        down.find("  10.000 ").unwrap(),
        down.find("  8.000 ").unwrap(),
    );
    assert!(high < low, "{down}");
    // Above the edge it is told, and warned of.
    let over = site.succeed("capacity pond --zone yard --to 11 --step 1");
    assert!(
        over.contains("warning: above 8.000 water runs over the edge"),
        "{over}"
    );
    assert!(over.contains("180.0"), "{over}");
}

#[test]
fn what_cannot_be_meant_is_refused() {
    let site = site();
    for (options, told) in [
        ("--from 9 --to 8.5", "the levels are to rise from 9 to 8.5"),
        ("--to 7", "the lowest place of the basin is at 8"),
        ("--step 0", "a step of 0 leads to no other level"),
        ("--step -1", "a step of -1"),
        (
            "--step 0.000001 --to 9",
            "more than a hundred thousand levels",
        ),
        ("--pool 400000,6000005", "lies beyond the surface"),
        ("--pool 5", "invalid value '5'"),
        ("--volume 0", "0 is no volume of water"),
        ("--freeboard=-1", "invalid value"),
        ("--zone other.geojson", "other.geojson"),
    ] {
        let found = site.refuse(&format!("capacity pond {options}"));
        assert!(found.contains(told), "{options}\n{found}");
    }
    let endless = site.refuse("capacity water");
    assert!(endless.contains("error: "), "{endless}");
    let input = site.refuse("capacity pond --csv zone.geojson");
    assert!(input.contains("is an input"), "{input}");
}
