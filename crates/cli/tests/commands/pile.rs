//! Piles and pits on the command line: pyramids on a slope, the notes on them, and what mistakes get.

use crate::site::number;
use serde_json::Value;

use crate::site::Site;

/// Two pyramids of 6 by 6, one 3 and one 2 high, on ground of 32 by 16 that rises 1 in 16 to the east; a pit of the
/// same size, 1.5 deep, beside them.
const PYRAMIDS: [(f64, f64); 3] = [(8.0, 3.0), (24.0, 2.0), (40.0, -1.5)];

fn survey(heights: [f64; 3]) -> String {
    let mut points: Vec<(f64, f64, f64)> = Vec::new();
    for (e, n) in [(0.0, 0.0), (48.0, 0.0), (48.0, 16.0), (0.0, 16.0)] {
        points.push((e, n, 0.0));
    }
    for ((middle, _), height) in PYRAMIDS.iter().zip(heights) {
        for (e, n) in [(-3.0, 5.0), (3.0, 5.0), (3.0, 11.0), (-3.0, 11.0)] {
            points.push((middle + e, n, 0.0));
        }
        points.push((*middle, 8.0, height));
    }
    let rows = points.iter().enumerate().map(|(index, (e, n, rise))| {
        format!(
            "{},{},{},{}\n",
            index + 1,
            500_000.0 + e,
            6_000_000.0 + n,
            10.0 + e / 16.0 + rise
        )
    });
    format!("point,east,north,height\n{}", rows.collect::<String>())
}

type Ring = [(i32, i32); 5];

const FIRST: Ring = [(4, 4), (12, 4), (12, 12), (4, 12), (4, 4)];
const SECOND: Ring = [(20, 4), (28, 4), (28, 12), (20, 12), (20, 4)];
const PIT: Ring = [(36, 4), (44, 4), (44, 12), (36, 12), (36, 4)];

fn site() -> Site {
    let site = Site::new();
    site.write("heaps.csv", &survey(PYRAMIDS.map(|(_, height)| height)));
    // A month before, the first one was half as high, and the second one higher.
    site.write("before.csv", &survey([1.5, 2.5, -1.5]));
    site.zone("heaps.geojson", &[("north", &FIRST), ("south", &SECOND)]);
    site.zone("pit.geojson", &[("pit", &PIT)]);
    site
}

#[track_caller]
fn close(value: &Value, expected: f64) {
    let value = number(value);
    // Places are held to a hundredth of a micrometre, over outlines of some 30.
    assert!(
        (value - expected).abs() < 1e-6 * (1.0 + expected.abs()),
        "{value} {expected}"
    );
}

const HEAPS: &str = "pile heaps.csv --unit m --zone heaps.geojson";

#[test]
fn pyramids_on_a_slope_hold_a_third_of_their_box() {
    let site = site();
    let json = site.json(&format!("{HEAPS} --json"));
    for (pile, (middle, height)) in json["zones"].as_array().unwrap().iter().zip(PYRAMIDS) {
        let volume = 36.0 * height / 3.0;
        close(&pile["pile_volume"], volume);
        close(&pile["volume"]["fill"], volume);
        close(&pile["volume_below_base"], 0.0);
        close(&pile["plan_area"], 64.0);
        close(&pile["toe_length"], 32.0);
        close(&pile["max_height"], height);
        close(&pile["mean_height"], volume / 64.0);
        close(&pile["highest_level"], 10.0 + middle / 16.0 + height);
        // The ground about it, its sides to east and west, and those to north and south.
        let (rise, ground) = (height / 3.0, 1.0 / 16.0f64);
        let slope = |e: f64, n: f64| (1.0 + e * e + n * n).sqrt();
        let sides = 9.0 * (slope(ground + rise, 0.0) + slope(ground - rise, 0.0));
        let sloping = 28.0 * slope(ground, 0.0) + sides + 18.0 * slope(ground, rise);
        close(&pile["sloping_area"], sloping);
        let west = 10.0 + (middle - 4.0) / 16.0;
        close(&pile["toe_heights"]["lowest"], west);
        close(&pile["toe_heights"]["mean"], west + 0.25);
        close(&pile["toe_heights"]["highest"], west + 0.5);
        // The plane is the ground. A level at its lowest place adds half of 64 by 0.5.
        let by = |base: &str| {
            let mut bases = pile["volume_by_base"].as_array().unwrap().iter();
            bases.find(|own| own["base"] == base).unwrap()["pile_volume"].clone()
        };
        close(&by("toe"), volume);
        close(&by("plane"), volume);
        close(&by("lowest"), volume + 16.0);
        close(&pile["share"], volume / 60.0);
    }
    close(&json["total"]["pile_volume"], 60.0);
    close(&json["total"]["plan_area"], 128.0);
}

/// A level in the middle takes a wedge off the lower half of the ground and leaves one on the upper: 64 by 0.25, half
/// of it, halved again. The base that is named first counts.
#[test]
fn a_base_that_is_named_counts() {
    let site = site();
    let json = site.json(
        "pile heaps.csv --unit m --zone heaps.geojson#north --base mean --base level=9 --json",
    );
    let pile = &json["zones"][0];
    assert_eq!(
        (&json["base"], json.get("total")),
        (&Value::from("mean"), None)
    );
    let net = number(&pile["pile_volume"]) - number(&pile["volume_below_base"]);
    close(&Value::from(net), 36.0);
    // Left and right of the pile the ground below the level is a wedge of 4 by 8, but for where the pile stands.
    assert!(number(&pile["volume_below_base"]) > 2.0 && number(&pile["volume_below_base"]) < 4.0);
    close(&pile["volume_by_base"][1]["pile_volume"], 36.0 + 64.0 * 1.5);
    assert_eq!(pile["volume_by_base"][1]["base"], "level=9");
    let same = site.json("pile heaps.csv --unit m --zone heaps.geojson --base before.csv --json");
    assert_eq!(same["base_surfaces"][0]["source"], "before.csv");
    close(&same["zones"][0]["pile_volume"], 18.0);
    close(&same["zones"][1]["volume_below_base"], 6.0);
}

#[test]
fn a_pit_is_what_lies_below_its_base() {
    let site = site();
    let out = site.succeed("pile heaps.csv --unit m --zone pit.geojson --pit");
    insta::assert_snapshot!(out);
    let json = site.json(
        "pile heaps.csv --unit m --zone pit.geojson --pit --state bank --density bank=2 --json",
    );
    let pit = &json["zones"][0];
    close(&pit["pile_volume"], 18.0);
    close(&pit["volume"]["cut"], 18.0);
    close(&pit["highest_level"], 10.0 + 40.0 / 16.0 - 1.5);
    assert_eq!(pit["mass"], "36.0");
    assert_eq!(pit["material"]["state"], "bank");
}

#[test]
fn what_changed_and_what_it_weighs_is_told() {
    let site = site();
    let line = "--compare-bases --previous before.csv --density loose=1.5";
    let out = site.succeed(&format!(
        "{HEAPS} {line} --csv heaps.out.csv --map heaps.svg --report heaps.html"
    ));
    insta::assert_snapshot!(out);
    let json = site.json(&format!("{HEAPS} {line} --json"));
    let zones = &json["zones"];
    close(&zones[0]["change"]["fill"], 18.0);
    close(&zones[0]["change"]["cut"], 0.0);
    close(&zones[1]["change"]["cut"], 6.0);
    close(&json["total"]["change"]["net"], 12.0);
    assert_eq!(zones[0]["mass"], "54.0");
    assert_eq!(json["total"]["mass"], "90.0");
    let text = site.read("heaps.out.csv");
    let heading: Vec<&str> = text.lines().next().unwrap().split(',').collect();
    assert_eq!(
        (heading[0], heading[4], heading.len()),
        ("pile", "volume m3", 33)
    );
    assert_eq!(text.lines().count(), 4);
    let page = site.read("heaps.html");
    for words in [
        "Volume by base",
        "Above base, to 3.00 m",
        "18.0 more",
        "90.0",
    ] {
        assert!(page.contains(words), "{words}");
    }
    assert!(site.read("heaps.svg").contains("edge of base"));
}

/// Materials come from the job: for all, for one, or from an attribute of the outlines.
#[test]
fn materials_are_those_of_the_job() {
    let site = site();
    site.write(
        "dapedon.toml",
        "[job]\nname = \"made up\"\nunit = \"m\"\n\n[surface.heaps]\nfile = \"heaps.csv\"\n\n\
         [material.sand]\ndensity = { loose = 1.5 }\n\n[material.clay]\nswell = \"25%\"\ndensity = { bank = 2.0 }\n",
    );
    let names = |line: &str| -> Vec<String> {
        let json = site.json(&format!("pile heaps --zone heaps.geojson {line} --json"));
        let zones = json["zones"].as_array().unwrap().iter();
        zones
            .map(|pile| {
                pile["material"]["material"]
                    .as_str()
                    .unwrap_or("none")
                    .to_owned()
            })
            .collect()
    };
    assert_eq!(names("--material sand"), ["sand", "sand"]);
    assert_eq!(
        names("--material sand --material south=clay"),
        ["sand", "clay"]
    );
    assert_eq!(names("--material south=clay"), ["none", "clay"]);
    // Loose clay of 24 was 19.2 in the bank, at 2 t.
    let json = site.json("pile heaps --zone heaps.geojson --material clay --json");
    assert_eq!(json["zones"][1]["mass"], "38.4");
    let text = site
        .read("heaps.geojson")
        .replace(r#""name":"south""#, r#""name":"south","Kind":"clay""#);
    site.write("heaps.geojson", &text);
    assert_eq!(
        names("--material-attribute kind --material sand"),
        ["sand", "clay"]
    );
}

#[test]
fn what_cannot_be_measured_is_refused() {
    let site = site();
    site.write(
        "dapedon.toml",
        "[job]\nname = \"made up\"\nunit = \"m\"\n\n[material.sand]\nswell = \"10%\"\n",
    );
    site.zone(
        "off.geojson",
        &[("north", &[(-4, 4), (12, 4), (12, 12), (-4, 12), (-4, 4)])],
    );
    site.zone(
        "away.geojson",
        &[(
            "north",
            &[(-40, 4), (-30, 4), (-30, 12), (-40, 12), (-40, 4)],
        )],
    );
    site.zone(
        "cross.geojson",
        &[("north", &[(4, 4), (12, 12), (12, 4), (4, 12), (4, 4)])],
    );
    site.zone(
        "both.geojson",
        &[
            ("north", &FIRST),
            ("south", &[(10, 4), (28, 4), (28, 12), (10, 12), (10, 4)]),
        ],
    );
    for (options, told) in [
        (
            "--zone off.geojson",
            "16.000 of the outline's 48.000 are outside the surface and have no heights",
        ),
        ("--zone away.geojson", "the zones are outside the ground"),
        ("--zone cross.geojson", "crosses itself"),
        (
            "--zone both.geojson",
            "the outlines of the piles \"north\" and \"south\" overlap",
        ),
        (
            "--zone heaps.geojson --material gravel",
            "the job has no material \"gravel\"",
        ),
        (
            "--zone heaps.geojson --material west=sand",
            "there is no such pile",
        ),
        (
            "--zone heaps.geojson --material-attribute kind",
            "no outline has the attribute \"kind\"",
        ),
        ("--zone heaps.geojson --base level=high", "is not a height"),
        ("--zone heaps.geojson --base missing.csv", "missing.csv"),
        ("--zone heaps.geojson --min-height 1", "cannot be used with"),
        (
            "--zone heaps.geojson --outlines heaps.dxf",
            "the file ending is not a format for outlines",
        ),
        (
            "--zone heaps.geojson --outlines heaps.geojson",
            "is an input",
        ),
        (
            "--zone heaps.geojson --density loose=1900",
            "is not a density of soil or rock",
        ),
        (
            "--min-height 50",
            "nothing is above its surroundings by 50 m on 10 m²",
        ),
        ("--min-height 0", "expected a length above zero"),
    ] {
        let found = site.refuse(&format!("pile heaps.csv --unit m {options}"));
        assert!(found.contains(told), "{options}\n{found}");
    }
    site.write(
        "far.csv",
        "point,east,north,height\n1,500900,6000000,9\n2,500909,6000000,9\n3,500909,6000009,9\n",
    );
    let far = site.refuse("pile heaps.csv --unit m --zone heaps.geojson --base far.csv");
    assert!(far.contains("error: the two surfaces"), "{far}");
    let level = site.refuse("pile level=5 --unit m --zone heaps.geojson");
    assert!(level.contains("a level cannot have piles"), "{level}");
    let level = site.refuse("pile level=3 --unit m");
    assert!(level.contains("a level cannot have piles"), "{level}");
    // By a surface that reaches far enough the outline may leave the survey, with a warning.
    let json = site.json("pile heaps.csv --unit m --zone off.geojson --base level=10 --json");
    assert_eq!(
        Site::warnings(&json)[0],
        "north: 32.0 m² of the outline are outside the surface and not measured"
    );
    let compared =
        site.refuse("pile heaps.csv --unit m --zone off.geojson --base level=10 --compare-bases");
    assert!(
        compared.contains("outside the surface and have no heights"),
        "{compared}"
    );
}

/// Ground that was not surveyed before is a warning, and not counted as unchanged.
#[test]
fn an_earlier_survey_need_not_reach_everywhere() {
    let site = site();
    // Level at the foot of the first pile, and no farther than through its middle.
    site.write(
        "half.csv",
        "point,east,north,height\n1,500000,6000000,10\n2,500008,6000000,10.5\n3,500008,6000016,10.5\n4,500000,6000016,10\n",
    );
    let json = site.json(&format!("{HEAPS} --previous half.csv --json"));
    close(&json["zones"][0]["change"]["fill"], 18.0);
    assert!(json["zones"][1].get("change").is_none() && json["total"].get("change").is_none());
    assert_eq!(
        Site::warnings(&json),
        [
            "north: the earlier survey does not cover 32.0 m² of the outline: the change there is not known",
            "south: the earlier survey does not cover 64.0 m² of the outline: the change there is not known",
        ]
    );
}

/// Out along a line and back again an outline holds nothing, and needs no ground.
#[test]
fn a_spike_in_an_outline_is_no_matter() {
    let site = site();
    site.zone(
        "spike.geojson",
        &[(
            "north",
            &[
                (4, 4),
                (12, 4),
                (12, 12),
                (15, 12),
                (12, 12),
                (4, 12),
                (4, 4),
            ],
        )],
    );
    let json = site.json("pile heaps.csv --unit m --zone spike.geojson --json");
    close(&json["zones"][0]["pile_volume"], 36.0);
    close(&json["zones"][0]["volume_by_base"][1]["pile_volume"], 36.0);
}

/// Points that stand far apart are no matter: the surface between them is read at cells. Outlines of what is found are
/// on the ground, so that the volumes are those of the pyramids.
#[test]
fn pyramids_of_few_points_are_found() {
    let site = site();
    let json = site.json("pile heaps.csv --unit m --json");
    assert_eq!(number(&json["search"]["cell"]), 0.5);
    let zones = json["zones"].as_array().unwrap();
    assert_eq!(zones.len(), 2);
    for (pile, (_, height)) in zones.iter().zip(PYRAMIDS) {
        let held = number(&pile["pile_volume"]);
        assert!((held / (12.0 * height) - 1.0).abs() < 0.002, "{pile}");
        // 6 by 6, and less than two cells more on each side.
        let area = number(&pile["plan_area"]);
        assert!(area > 36.0 && area < 64.0, "{pile}");
    }
    let pit = site.json("pile heaps.csv --unit m --pit --json");
    assert!((number(&pit["zones"][0]["pile_volume"]) - 18.0).abs() < 0.05);
    // A shapefile of outlines, with what they are made of, measures the same.
    site.succeed(
        "pile heaps.csv --unit m --outlines found.shp --density loose=1.5 --material sand",
    );
    let again = site.json("pile heaps.csv --unit m --zone found.shp --json");
    assert_eq!(again["zones"][0]["pile_volume"], zones[0]["pile_volume"]);
    let words = site.succeed("pile heaps.csv --unit m");
    assert!(
        words.contains("no steeper than 1:5, searched in cells of 0.5 m"),
        "{words}"
    );
}
