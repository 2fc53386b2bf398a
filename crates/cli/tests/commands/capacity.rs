//! Basins on the command line: a pond that is known, the notes on it, and what mistakes get.

use crate::site::Site;
use crate::site::number;

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

/// 60 m2 of floor at 8: at 9 it holds 60, and full at 10, where it spills, 120; 30 m3 are half a metre deep. All
/// three ways agree on upright sides.
#[test]
fn a_pond_holds_what_its_shape_says() {
    let site = site();
    let out = site.succeed("capacity pond --pool 500005,6000005 --step 0.5 --volume 30 --csv pond.csv --curve pond.svg");
    insta::assert_snapshot!(out);
    let json =
        site.json("capacity pond --pool 500005,6000005 --step 0.5 --volume 30 --volume 500 --json");
    let close = |value: &serde_json::Value, expected: f64| {
        let value = number(value);
        assert!((value - expected).abs() < 1e-7, "{value} {expected}");
    };
    let levels = json["levels"].as_array().unwrap();
    assert_eq!(levels.len(), 5);
    for (row, depth) in levels.iter().zip([0.0, 0.5, 1.0, 1.5, 2.0]) {
        close(&row["level"], 8.0 + depth);
        for way in ["volume", "volume_by_average_end_area", "volume_by_conic"] {
            close(&row[way], 60.0 * depth);
        }
    }
    close(&json["spill"]["level"], 10.0);
    close(&json["answers"][0]["level"], 8.5);
    assert!(json["answers"][1].get("level").is_none());
    let text = site.read("pond.csv");
    assert_eq!(text.lines().count(), 6);
    assert!(site.read("pond.svg").contains("spill level 10.000"));
}

#[test]
fn freeboard_and_levels_are_kept_to() {
    let site = site();
    let levels = |options: &str| -> Vec<f64> {
        let json = site.json(&format!(
            "capacity pond --pool 500005,6000005 --json {options}"
        ));
        let rows = json["levels"].as_array().unwrap();
        rows.iter().map(|row| number(&row["level"])).collect()
    };
    assert_eq!(levels("--freeboard 0.75 --step 0.5"), [8.0, 8.5, 9.0, 9.25]);
    assert_eq!(
        levels("--from 8.25 --to 9.25 --step 0.5"),
        [8.25, 8.75, 9.25]
    );
    let down = site.succeed("capacity pond --pool 500005,6000005 --step 1 --top-down");
    let (high, low) = (
        down.find("  10.000 ").unwrap(),
        down.find("  8.000 ").unwrap(),
    );
    assert!(high < low, "{down}");
    // Above the edge it is reported, and warned of.
    // The zone ends at the foot of the pond's upright sides, which hold the water.
    let (_, over, _) = site.run("capacity pond --zone yard --to 11 --step 1");
    assert!(
        over.contains("▲ the basin spills at level 10.000"),
        "{over}"
    );
    assert!(over.contains("180.0"), "{over}");
}

#[test]
fn what_cannot_be_meant_is_refused() {
    let site = site();
    let far = [(900, 0), (910, 0), (910, 9), (900, 0)];
    site.zone("away.geojson", &[("away", &far)]);
    for (options, told) in [
        (
            "--from 9 --to 8.5",
            "the first level 9 is not below the last level 8.5",
        ),
        ("--to 7", "its lowest point is at 8"),
        ("--level nan", "\"nan\" is not a height"),
        ("--from inf", "\"inf\" is not a height"),
        ("--step 0", "a step of 0 is not a step between levels"),
        ("--step -1", "a step of -1"),
        ("--step 0.000001 --to 9", "gives more than 100 000 levels"),
        ("--pool 400000,6000005", "is outside the surface"),
        ("--pool 5", "invalid value '5'"),
        ("--volume 0", "0 is not a volume"),
        ("--freeboard=-1", "invalid value"),
        ("--zone other.geojson", "other.geojson"),
        ("--waterline 8=water.geojson", "the basin is dry at level 8"),
        (
            "--waterline 9=water.dxf",
            "the file ending is not a format for outlines",
        ),
        ("--waterline 9", "expected a level and a file"),
    ] {
        let found = site.refuse(&format!("capacity pond {options}"));
        assert!(found.contains(told), "{options}\n{found}");
    }
    let away = site.refuse("capacity pond --zone away.geojson");
    assert!(away.contains("the zones are outside the ground"), "{away}");
    let endless = site.refuse("capacity water");
    assert!(endless.contains("a level cannot be a basin"), "{endless}");
    let endless = site.refuse("capacity level=9 --zone zone.geojson --unit m");
    assert!(endless.contains("a level cannot be a basin"), "{endless}");
    let input = site.refuse("capacity pond --csv zone.geojson");
    assert!(input.contains("is an input"), "{input}");
}

/// The pond again, by its outline at a level: what lies in that zone is what the pond holds.
#[test]
fn the_outline_at_a_level_is_a_zone() {
    let site = site();
    site.succeed("capacity pond --pool 500005,6000005 --level 9.25 --waterline 9.25=water.geojson --waterline 8.5=low.shp");
    let found = site.json("volume pond level=9.25 --zone water.geojson --json");
    let zone = &found["zones"][0];
    assert_eq!(zone["zone"], "water at 9.25");
    assert!((number(&zone["volume"]["fill"]) - 75.0).abs() < 1e-6);
    assert!((number(&zone["area"]["compared"]) - 60.0).abs() < 1e-6);
    let low = site.json("volume pond level=8.5 --zone low.shp --json");
    assert!((number(&low["zones"][0]["volume"]["fill"]) - 30.0).abs() < 1e-6);
    let held = site.json("capacity pond --pool 500005,6000005 --level 9.25 --level 7 --json");
    let wanted = held["answers"].as_array().unwrap();
    assert!((number(&wanted[0]["volume"]) - 75.0).abs() < 1e-6);
    assert_eq!(number(&wanted[1]["volume"]), 0.0);
}

/// A frustum of a pyramid, 2 by 2 at level 10 and 8 by 8 at 13: 84 as a frustum, 102 by average end areas. Turned
/// round, in a file, with decimal commas and in acres it is the same.
#[test]
fn areas_that_were_typed_in_hold_what_the_formulas_say() {
    let site = Site::new();
    let out = site.succeed("capacity --areas 10=4,11=16,13=64 --unit m --volume 40 --level 12");
    insta::assert_snapshot!(out);
    let close = |value: &serde_json::Value, expected: f64| {
        let value = number(value);
        assert!((value - expected).abs() < 1e-9, "{value} {expected}");
    };
    let said = site.json("capacity --areas 10=4,13=64 --unit m --json");
    close(&said["levels"][1]["volume_by_conic"], 84.0);
    close(&said["levels"][1]["volume_by_average_end_area"], 102.0);
    assert!(said["levels"][1].get("volume").is_none());
    site.write("areas.csv", "level;area\n13;64,0\n10;4\n");
    let read =
        site.json("capacity --areas areas.csv --unit m --json --csv table.csv --curve curve.svg");
    assert_eq!(read["levels"], said["levels"]);
    assert_eq!(read["surface"]["file"]["path"], "areas.csv");
    assert_eq!(site.read("table.csv").lines().count(), 3);
    assert!(
        site.read("curve.svg")
            .contains("Volume of the basin by level")
    );
    // An acre is 43 560 square feet.
    let acres = site.json("capacity --areas 100=1,102=1 --unit ft --area-unit acre --volume-unit yd3 --freeboard 0.5 --json");
    close(&acres["levels"][1]["level"], 101.5);
    close(
        &acres["levels"][1]["volume_by_conic"],
        43_560.0 * 1.5 / 27.0,
    );
    for (areas, told) in [
        ("10=4", "only 1 level: a volume needs at least two levels"),
        (
            "10=4,11=3",
            "the area decreases upward, from 4 at level 10 to 3 at level 11",
        ),
        (
            "10=4,12=5,11=6",
            "pair 3: level 11 after level 12 is out of order",
        ),
        ("10=4,10=5", "pair 2"),
        ("10=-1,11=5", "area -1"),
        ("10=4,11", "expected levels with their areas"),
        ("missing.csv", "missing.csv"),
        ("10=4,11=5 --step 1", "cannot be used with"),
        ("10=4,11=5 --freeboard 2", "the basin is dry up to level"),
    ] {
        let found = site.refuse(&format!("capacity --areas {areas} --unit m"));
        assert!(found.contains(told), "{areas}\n{found}");
    }
    site.write("swapped.csv", "area,level\n4,10\n9,11\n8,12\n");
    let swapped = site.refuse("capacity --areas swapped.csv --unit m");
    assert!(swapped.contains("in: swapped.csv, line 4"), "{swapped}");
    assert!(swapped.contains("followed by its area"), "{swapped}");
    let unit = site.refuse("capacity --areas 10=4,11=5");
    assert!(unit.contains("the levels have no length unit"), "{unit}");
}

/// From the top down the steps are those of the levels above, and what is left runs down from nothing.
#[test]
fn a_basin_is_emptied_from_the_top() {
    let site = site();
    let down = site.succeed("capacity pond --pool 500005,6000005 --step 0.5 --top-down");
    insta::assert_snapshot!(down);
}

/// A zone of the job is the outline of a surface at a level: of the pond, and of the ground that stands out of it.
#[test]
fn a_zone_is_the_outline_at_a_level() {
    let site = site();
    let zone = |lines: &str| {
        site.write(
            "dapedon.toml",
            &format!("{JOB}\n[zone.water]\nsurface = \"pond\"\n{lines}\n"),
        );
    };
    let fill = |expected: [f64; 2]| {
        let json = site.json("volume pond level=9.5 --zone water --json");
        let zone = &json["zones"][0];
        assert_eq!(zone["zone"], "water");
        for (figure, expected) in [&zone["volume"]["fill"], &zone["volume"]["cut"]]
            .iter()
            .zip(expected)
        {
            assert!((number(figure) - expected).abs() < 1e-6, "{zone}");
        }
    };
    zone("below = 9.5");
    fill([90.0, 0.0]);
    zone("below = 9.5\npool = [500005, 6000005]");
    fill([90.0, 0.0]);
    // The ground about it, 20 by 10 less 10 by 6, half a metre above the level.
    zone("above = 9.5");
    fill([0.0, 70.0]);
    for (lines, told, line) in [
        (
            "below = 7",
            "no part of \"pond\" is below 7",
            "[zone.water]",
        ),
        (
            "above = 11",
            "no part of \"pond\" is above 11",
            "[zone.water]",
        ),
        (
            "below = 9\npool = [5, 5]",
            "east 5, north 5 is outside",
            "[zone.water]",
        ),
        (
            "below = 9\nabove = 8",
            "the zone is incomplete",
            "[zone.water]",
        ),
        (
            "above = 9\npool = [500005, 6000005]",
            "the zone is incomplete",
            "[zone.water]",
        ),
        ("", "the zone is incomplete", "[zone.water]"),
        ("below = nan", "nan", "below = nan"),
        (
            "below = 9\ncorners = [[0, 0], [1, 0], [1, 1]]",
            "both an outline and a level",
            "[zone.water]",
        ),
        // No surface is made with it: it comes after the surfaces.
        (
            "below = 9\n[surface.lower]\nstart = \"ground\"\nsteps = [{ lower = 1, zones = \"water\" }]",
            "water",
            "zones = \"water\"",
        ),
    ] {
        zone(lines);
        let found = site.refuse("volume pond level=9.5 --zone water");
        assert!(
            found.contains(told) && found.contains(line),
            "{lines}\n{found}"
        );
    }
}

/// The pond of the site spills at 10. Any request above that is marked: in the table, of wanted levels and volumes,
/// of outlines, of zones that are a pool's outline, and in the bill, with a threshold that it meets.
#[test]
fn what_lies_above_the_edge_is_not_held() {
    let site = site();
    let pool = "capacity pond --pool 500005,6000005 --step 0.5";
    let (code, out, err) = site.run(&format!("{pool} --to 11 --level 10.25 --csv pond.csv"));
    assert_eq!((code, err.as_str()), (1, ""), "{out}");
    assert!(
        out.contains("▲ 11.000") && !out.contains("▲ 10.000"),
        "{out}"
    );
    assert!(out.contains("▲ At level 10.250 m"), "{out}");
    assert!(out.contains("▲ the basin spills at level 10.000"), "{out}");
    assert!(
        site.read("pond.csv")
            .lines()
            .last()
            .unwrap()
            .ends_with(",yes")
    );
    let (code, out, _) = site.run(&format!("{pool} --to 11 --volume 125 --level 10 --json"));
    assert_eq!(code, 1);
    let json: serde_json::Value = serde_json::from_str(&out).unwrap();
    let above = |entry: &serde_json::Value| entry.get("above_spill_level").is_some();
    let levels: Vec<bool> = json["levels"]
        .as_array()
        .unwrap()
        .iter()
        .map(above)
        .collect();
    assert_eq!(levels, [false, false, false, false, false, true, true]);
    assert!(above(&json["answers"][0]) && !above(&json["answers"][1]));
    // At the very edge it is held.
    site.succeed(&format!("{pool} --level 10 --waterline 10=shore.geojson"));
    let refused = site.refuse(&format!("{pool} --waterline 10.01=higher.geojson"));
    assert!(
        refused.contains("is above the spill level 10.000: the waterline is open"),
        "{refused}"
    );

    let item = |level: f64, zone: &str| {
        format!(
            "[[item]]\ncode = \"1\"\ndescription = \"water\"\nunit = \"m3\"\nmeasure = \"capacity\"\nsurveyed = \"pond\"\nlevel = {level}\nzones = \"{zone}\"\nat-least = 50\n"
        )
    };
    site.write(
        "dapedon.toml",
        &format!("{JOB}{}{}", zone_below(10.5), item(9.0, "water")),
    );
    // Whatever is measured in, it is reported in the figures of the job.
    for line in [
        "measure",
        "volume pond level=9 --zone water --length-unit ft",
    ] {
        let refused = site.refuse(line);
        assert!(
            refused.contains("level 10.5 is above the spill level 10.000: the waterline is open"),
            "{line}: {refused}"
        );
    }
    // The upright sides of the pond stand around its own zone; the ground ends at 10.
    site.zone(
        "all.geojson",
        &[("all", &[(0, 0), (20, 0), (20, 10), (0, 10), (0, 0)])],
    );
    let all = "[zone.all]\nfile = \"all.geojson\"\n";
    for (level, zone, code) in [
        (9.0, "water", 0),
        (9.5, "all", 0),
        (10.5, "all", 1),
        (9.5, "yard", 0),
        (10.5, "yard", 1),
    ] {
        site.write(
            "dapedon.toml",
            &format!("{JOB}{}{all}{}", zone_below(9.0), item(level, zone)),
        );
        let (found, out, err) = site.run("measure");
        assert_eq!((found, err.as_str()), (code, ""), "{level} {zone} {out}");
        assert_eq!(out.contains("spill level"), code == 1, "{out}");
    }
}

fn zone_below(level: f64) -> String {
    format!("[zone.water]\nsurface = \"pond\"\nbelow = {level}\npool = [500005, 6000005]\n")
}
